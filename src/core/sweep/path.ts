import { exp, shed } from '../elementary.js';

/**
 * One piece of motion: what the body's origin does from the present moment for at most `T` seconds. Numbers in a
 * flat array, so that handing them on allocates nothing.
 *
 * Across: x + vx·t + ax·t²/2, or when RATE > 0 the difference D to the speed U dying away: U·t + D·(1 − e^(−RATE·t))/RATE.
 * Up: y + vy·t + ay·t²/2 + jy·t³/6.
 *
 * On a slope y follows x, LINK up for each unit across. (With constant acceleration the polynomial of y says so already.)
 *
 * Within a piece neither speed changes its sign, so each coordinate moves one way only.
 *
 * `locate` evaluates the path at the moment AT and leaves place and velocity in AT_X, AT_VX, AT_Y, AT_VY.
 */
export const T = 0;
export const PX = 1;
export const PVX = 2;
export const PAX = 3;
export const U = 4;
export const D = 5;
export const RATE = 6;
export const PY = 7;
export const PVY = 8;
export const PAY = 9;
export const PJY = 10;
export const AT = 11;
export const AT_X = 12;
export const AT_VX = 13;
export const AT_Y = 14;
export const AT_VY = 15;
export const LINK = 16;
/**
 * Seen from something that moves, see `relative.ts`: with RATE > 0 there is EAX·t²/2 across besides, and where DY is not 0, y is
 * UY·t + PAY·t²/2 + DY·(1 − e^(−RATE·t))/RATE. Else all three are 0.
 */
export const EAX = 17;
export const UY = 18;
export const DY = 19;
export const PATH_LENGTH = 20;

/** Evaluates the path at the moment AT. Numbers stay in the array: handing them over would allocate. */
export function locate(p: Float64Array): void {
  const t = p[AT]!;
  p[AT_Y] = p[PY]! + t * (p[PVY]! + t * (p[PAY]! / 2 + (t * p[PJY]!) / 6));
  p[AT_VY] = p[PVY]! + t * (p[PAY]! + (t * p[PJY]!) / 2);
  if (p[RATE]! > 0) {
    const gone = shed(p[RATE]! * t);
    p[AT_X] = p[PX]! + (p[U]! * t + (p[D]! * gone) / p[RATE]!);
    p[AT_VX] = p[U]! + p[D]! * exp(-p[RATE]! * t);
    if (p[EAX] !== 0) {
      p[AT_X]! += (t * t * p[EAX]!) / 2;
      p[AT_VX]! += t * p[EAX]!;
    }
    if (p[DY] !== 0) {
      p[AT_Y] = yAt(p, t);
      p[AT_VY] = vyAt(p, t);
    }
    if (p[LINK] !== 0) {
      p[AT_Y] = p[PY]! + p[LINK]! * (p[AT_X]! - p[PX]!);
      p[AT_VY] = p[LINK]! * p[AT_VX]!;
    }
  } else {
    p[AT_X] = p[PX]! + t * (p[PVX]! + (t * p[PAX]!) / 2);
    p[AT_VX] = p[PVX]! + t * p[PAX]!;
  }
}

/** Ends a path at a moment, if that comes before its end. */
export function cutAt(p: Float64Array, t: number): void {
  if (!(t < p[T]!)) return;
  p[T] = p[AT] = t;
  locate(p);
}

export function xAt(p: Float64Array, t: number): number {
  if (p[RATE]! > 0) {
    const x = p[PX]! + (p[U]! * t + (p[D]! * shed(p[RATE]! * t)) / p[RATE]!);
    return p[EAX] === 0 ? x : x + (t * t * p[EAX]!) / 2;
  }
  return p[PX]! + t * (p[PVX]! + (t * p[PAX]!) / 2);
}

export function vxAt(p: Float64Array, t: number): number {
  return p[RATE]! > 0 ? p[U]! + t * p[EAX]! + p[D]! * exp(-p[RATE]! * t) : p[PVX]! + t * p[PAX]!;
}

export function yAt(p: Float64Array, t: number): number {
  if (p[DY] !== 0) return p[PY]! + (t * (p[UY]! + (t * p[PAY]!) / 2) + (p[DY]! * shed(p[RATE]! * t)) / p[RATE]!);
  if (p[LINK] !== 0 && p[RATE]! > 0) return p[PY]! + p[LINK]! * (xAt(p, t) - p[PX]!);
  return p[PY]! + t * (p[PVY]! + t * (p[PAY]! / 2 + (t * p[PJY]!) / 6));
}

export function vyAt(p: Float64Array, t: number): number {
  if (p[DY] !== 0) return p[UY]! + t * p[PAY]! + p[DY]! * exp(-p[RATE]! * t);
  if (p[LINK] !== 0 && p[RATE]! > 0) return p[LINK]! * vxAt(p, t);
  return p[PVY]! + t * (p[PAY]! + (t * p[PJY]!) / 2);
}

/** The way x goes in this piece: −1, 0 or 1. */
export function wayX(p: Float64Array): number {
  const v = p[PVX]!;
  if (v !== 0) return v > 0 ? 1 : -1;
  const a = p[RATE]! > 0 ? pull(p[EAX]!, p[D]!, p[RATE]!) : p[PAX]!;
  return a > 0 ? 1 : a < 0 ? -1 : 0;
}

/** The acceleration a − d·rate of what dies away; where the two are alike but for rounding, the sign of what comes after them: d·rate². */
function pull(a: number, d: number, rate: number): number {
  const both = a - d * rate;
  return Math.abs(both) > 1e-13 * Math.abs(a) ? both : d * rate * rate;
}

/** The way y goes in this piece: −1, 0 or 1. */
export function wayY(p: Float64Array): number {
  let v = p[PVY]!;
  if (v === 0) v = p[DY] === 0 ? p[PAY]! : pull(p[PAY]!, p[DY]!, p[RATE]!);
  if (v === 0) v = p[PJY]!;
  return v > 0 ? 1 : v < 0 ? -1 : 0;
}

/**
 * When x has gone `distance` (at least 0) its way. The caller knows that it does within the piece.
 * For constant acceleration 2s/(v + √(v² + 2as)): no cancellation, since v ≥ 0 along the way.
 */
export function timeToX(p: Float64Array, distance: number, way: number): number {
  if (distance <= 0) return 0;
  if (p[RATE]! > 0) return iterateX(p, distance, way);
  const v = p[PVX]! * way;
  const square = v * v + 2 * p[PAX]! * way * distance;
  const t = (2 * distance) / (v + (square > 0 ? Math.sqrt(square) : 0));
  return t < p[T]! ? t : p[T]!;
}

/** When y has gone `distance` (at least 0) its way. The caller knows that it does within the piece. */
export function timeToY(p: Float64Array, distance: number, way: number): number {
  if (distance <= 0) return 0;
  if (p[LINK] !== 0 && p[RATE]! > 0) return timeToX(p, distance / Math.abs(p[LINK]!), wayX(p));
  if (p[PJY] !== 0 || p[DY] !== 0) return iterateY(p, distance, way);
  const v = p[PVY]! * way;
  const square = v * v + 2 * p[PAY]! * way * distance;
  const t = (2 * distance) / (v + (square > 0 ? Math.sqrt(square) : 0));
  return t < p[T]! ? t : p[T]!;
}

const ROUNDS = 60;

/** Newton's steps kept inside a shrinking bracket, a fixed number of times. */
function iterateX(p: Float64Array, distance: number, way: number): number {
  let low = 0;
  let high = p[T]!;
  let t = high / 2;
  for (let i = 0; i < ROUNDS; i++) {
    const left = distance - (xAt(p, t) - p[PX]!) * way;
    if (left > 0) low = t;
    else high = t;
    t += left / (vxAt(p, t) * way);
    if (!(t > low && t < high)) t = low + (high - low) / 2;
  }
  return t;
}

function iterateY(p: Float64Array, distance: number, way: number): number {
  let low = 0;
  let high = p[T]!;
  let t = high / 2;
  for (let i = 0; i < ROUNDS; i++) {
    const left =
      distance - (p[DY] === 0 ? t * (p[PVY]! + t * (p[PAY]! / 2 + (t * p[PJY]!) / 6)) : yAt(p, t) - p[PY]!) * way;
    if (left > 0) low = t;
    else high = t;
    t += left / (vyAt(p, t) * way);
    if (!(t > low && t < high)) t = low + (high - low) / 2;
  }
  return t;
}
