import { AT_ONCE } from '../tolerance.js';
import { exp, ln } from '../elementary.js';
import { D, DY, EAX, LINK, PAX, PAY, PJY, PVX, PVY, PX, PY, RATE, T, U, UY, timeToX, wayX, xAt, yAt } from './path.js'; // prettier-ignore

/** The moments found last, ascending, s from the path's start. */
export const roots = new Float64Array(12);

const marks = new Float64Array(12);
const ROUNDS = 64;

/**
 * All moments in (0, T] at which the gap along a direction is nothing: gap + n·(o(t) − o(0)) = 0. Left in `roots`.
 *
 * With constant acceleration both roots of the quadratic in their cancellation-free form. Else the speed across dies away
 * exponentially or gravity changes evenly: the zeros of each derivative part the piece into stretches in which the one before it
 * goes one way, and each is bracketed.
 * @param gap at the path's start, units
 * @returns how many
 */
export function rootsOfGap(p: Float64Array, nx: number, ny: number, gap: number): number {
  return zeros(p, nx, ny, gap, 0);
}

/** When a gap stops opening and begins to close: the first such moment in (0, T), or Infinity. */
export function turnOfGap(p: Float64Array, nx: number, ny: number): number {
  const end = p[T]!;
  if (p[RATE] === 0 && p[PJY] === 0) {
    const a = nx * p[PAX]! + ny * p[PAY]!;
    const t = -(nx * p[PVX]! + ny * p[PVY]!) / a;
    return a < 0 && t > 0 && t < end ? t : Infinity;
  }
  if (p[LINK] !== 0) return Infinity;
  const count = zeros(p, nx, ny, 0, 1);
  for (let i = 0; i < count; i++) {
    const t = roots[i]!;
    if (t > 0 && t < end && valueOf(p, nx, ny, 0, 2, t) < 0) return t;
  }
  return Infinity;
}

/** The moments at which a path turns round, across or up, in (0, T), ascending; left in `roots`. @returns how many */
export function turnsOf(p: Float64Array): number {
  let count = 0;
  const simple = p[RATE] === 0;
  if (simple || (p[EAX] === 0 && p[D] === 0)) {
    const t = simple ? -p[PVX]! / p[PAX]! : NaN;
    if (t > AT_ONCE && t < p[T]!) turns[count++] = t;
  } else count = addTurns(p, wayX(p) < 0 ? -1 : 1, 0, count);
  if (p[PJY] === 0 && p[DY] === 0) {
    const t = -p[PVY]! / p[PAY]!;
    if (t > AT_ONCE && t < p[T]!) turns[count++] = t;
  } else count = addTurns(p, 0, 1, count);
  // A few numbers, in order.
  for (let i = 0; i < count; i++) {
    let k = i;
    for (; k > 0 && roots[k - 1]! > turns[i]!; k--) roots[k] = roots[k - 1]!;
    roots[k] = turns[i]!;
  }
  return count;
}

const turns = new Float64Array(12);

function addTurns(p: Float64Array, nx: number, ny: number, count: number): number {
  const found = zeros(p, nx, ny, 0, 1);
  for (let i = 0; i < found; i++) if (roots[i]! > AT_ONCE && roots[i]! < p[T]!) turns[count++] = roots[i]!;
  return count;
}

/** The zeros of a gap or, with `lowest` 1, of its first derivative, among other moments. */
function zeros(p: Float64Array, nx: number, ny: number, gap: number, lowest: number): number {
  const end = p[T]!;
  if (p[RATE] === 0 && p[PJY] === 0) {
    const v = nx * p[PVX]! + ny * p[PVY]!;
    const a = nx * p[PAX]! + ny * p[PAY]!;
    return quadratic(gap, v, a, end);
  }
  if (p[LINK] !== 0) {
    // On a slope the body moves along one line, one way.
    const along = nx + ny * p[LINK]!;
    const way = wayX(p);
    const distance = along === 0 ? NaN : (-gap / along) * way;
    if (!(distance > 0 && distance <= (xAt(p, end) - p[PX]!) * way)) return 0;
    roots[0] = timeToX(p, distance, way);
    return 1;
  }
  let count = 0;
  marks[count++] = 0;
  const bend = p[RATE]! > 0 ? (-ny * p[PJY]!) / ((nx * p[D]! + ny * p[DY]!) * p[RATE]! * p[RATE]!) : 0;
  if (bend > 0 && bend < 1) {
    const t = -ln(bend) / p[RATE]!;
    if (t < end) marks[count++] = t;
  }
  marks[count++] = end;
  for (let order = 2; order >= 0; order--) {
    let found = 0;
    let from = marks[0]!;
    let before = valueOf(p, nx, ny, gap, order, from);
    if (order > 0) roots[found++] = 0;
    for (let i = 1; i < count; i++) {
      const to = marks[i]!;
      const after = valueOf(p, nx, ny, gap, order, to);
      if (before < 0 !== after < 0) roots[found++] = bisect(p, nx, ny, gap, order, from, to, before < 0);
      from = to;
      before = after;
    }
    if (order === lowest && order === 0) return found;
    roots[found++] = end;
    if (order === lowest) return found;
    for (let i = 0; i < found; i++) marks[i] = roots[i]!;
    count = found;
  }
  return 0;
}

function quadratic(gap: number, v: number, a: number, end: number): number {
  if (a === 0) {
    const t = -gap / v;
    if (!(t > 0 && t <= end)) return 0;
    roots[0] = t;
    return 1;
  }
  const square = v * v - 2 * a * gap;
  if (!(square >= 0)) return 0;
  const q = -(v + (v < 0 ? -1 : 1) * Math.sqrt(square));
  const one = q / a;
  const other = q === 0 ? one : (2 * gap) / q;
  const low = one < other ? one : other;
  const high = one < other ? other : one;
  let count = 0;
  if (low > 0 && low <= end) roots[count++] = low;
  if (high > low && high > 0 && high <= end) roots[count++] = high;
  return count;
}

/** The gap, or its first or second derivative, at a moment. */
function valueOf(p: Float64Array, nx: number, ny: number, gap: number, order: number, t: number): number {
  if (order === 0) return gap + nx * (xAt(p, t) - p[PX]!) + ny * (yAt(p, t) - p[PY]!);
  const fading = p[RATE]! > 0 ? exp(-p[RATE]! * t) : 0;
  if (order === 1) {
    const vx = p[RATE]! > 0 ? p[U]! + t * p[EAX]! + p[D]! * fading : p[PVX]! + t * p[PAX]!;
    const vy = p[DY] === 0 ? p[PVY]! + t * (p[PAY]! + (t * p[PJY]!) / 2) : p[UY]! + t * p[PAY]! + p[DY]! * fading;
    return nx * vx + ny * vy;
  }
  const ax = p[RATE]! > 0 ? p[EAX]! - p[D]! * p[RATE]! * fading : p[PAX]!;
  const ay = p[DY] === 0 ? p[PAY]! + t * p[PJY]! : p[PAY]! - p[DY]! * p[RATE]! * fading;
  return nx * ax + ny * ay;
}

function bisect(
  p: Float64Array,
  nx: number,
  ny: number,
  gap: number,
  order: number,
  from: number,
  to: number,
  below: boolean,
): number {
  for (let i = 0; i < ROUNDS; i++) {
    const middle = from + (to - from) / 2;
    if (valueOf(p, nx, ny, gap, order, middle) < 0 === below) from = middle;
    else to = middle;
  }
  return to;
}
