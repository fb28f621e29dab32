import { exp, ln } from '../elementary.js';
import { D, LINK, PAX, PAY, PJY, PVX, PVY, PX, PY, RATE, T, U, timeToX, wayX, xAt, yAt } from './path.js';

/** The moments found last, ascending, s from the path's start. */
export const roots = new Float64Array(8);

const marks = new Float64Array(8);
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
  const bend = p[RATE]! > 0 ? (-ny * p[PJY]!) / (nx * p[D]! * p[RATE]! * p[RATE]!) : 0;
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
    const vx = p[RATE]! > 0 ? p[U]! + p[D]! * fading : p[PVX]! + t * p[PAX]!;
    return nx * vx + ny * (p[PVY]! + t * (p[PAY]! + (t * p[PJY]!) / 2));
  }
  const ax = p[RATE]! > 0 ? -p[D]! * p[RATE]! * fading : p[PAX]!;
  return nx * ax + ny * (p[PAY]! + t * p[PJY]!);
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
