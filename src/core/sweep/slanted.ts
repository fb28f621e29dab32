import type { Terrain } from '../terrain/terrain.js';
import { PAX, PAY, PJY, PVX, PVY, PX, PY, RATE, T, U, vxAt, vyAt, xAt, yAt } from './path.js';
import { better, type Hitbox } from './ties.js';

/**
 * A slanted edge against a body. Along the edge's normal n the body's foremost point is one of its corners, so the
 * gap is n·(o(t) + corner − a), and the touch is its first root with n·v < 0 at which that corner lies over the
 * edge. With constant acceleration the root is closed; otherwise the piece is cut where the gap turns round, and each
 * part is bracketed.
 */
export function slantedTouch(
  p: Float64Array,
  terrain: Terrain,
  e: number,
  best: number,
  box: Hitbox,
  at: Float64Array,
): number {
  const nx = terrain.nx[e]!;
  const ny = terrain.ny[e]!;
  const cornerX = nx > 0 ? -box.half : box.half;
  const cornerY = ny > 0 ? 0 : box.height;
  const ax = terrain.x1[e]! - cornerX;
  const ay = terrain.y1[e]! - cornerY;
  const gap = nx * (p[PX]! - ax) + ny * (p[PY]! - ay);
  if (gap < -2 * box.touch) return best;
  const t = p[RATE]! > 0 || p[PJY] !== 0 ? bracketed(p, nx, ny, ax, ay, p[T]!) : closed(p, nx, ny, gap);
  if (!(t <= p[T]! && t <= at[0]!)) return best;
  // Is the corner over the edge at that moment? Measured along the edge, from its start.
  const alongX = ny;
  const alongY = -nx;
  const length = alongX * (terrain.x2[e]! - terrain.x1[e]!) + alongY * (terrain.y2[e]! - terrain.y1[e]!);
  const place = alongX * (xAt(p, t) - ax) + alongY * (yAt(p, t) - ay);
  return place >= -box.touch && place <= length + box.touch ? better(p, terrain, e, best, t, at) : best;
}

/** First root of a quadratic gap that is closing there; Infinity where there is none. */
function closed(p: Float64Array, nx: number, ny: number, gap: number): number {
  const v = nx * p[PVX]! + ny * p[PVY]!;
  const a = nx * p[PAX]! + ny * p[PAY]!;
  if (gap <= 0) {
    // Touching: stopped at once if moving in, or after the gap has opened and closed again.
    if (v < 0 || (v === 0 && a < 0)) return 0;
    return a < 0 ? (2 * v) / -a : Infinity;
  }
  const square = v * v - 2 * a * gap;
  if (square < 0) return Infinity;
  const root = Math.sqrt(square);
  // The closing root is (−v − root)/a; written so that nothing cancels.
  if (v <= 0) return root - v > 0 ? (2 * gap) / (root - v) : Infinity;
  return a < 0 ? (v + root) / -a : Infinity;
}

/**
 * The same for eased and ramped pieces. The acceleration of the gap is an exponential plus a line, which turns round
 * at most once; so the acceleration is 0 at most twice, the speed at most three times, and between those moments
 * the gap has one root at most.
 */
function bracketed(p: Float64Array, nx: number, ny: number, ax: number, ay: number, end: number): number {
  const gap = (t: number): number => nx * (xAt(p, t) - ax) + ny * (yAt(p, t) - ay);
  const speed = (t: number): number => nx * vxAt(p, t) + ny * vyAt(p, t);
  const acceleration = (t: number): number =>
    nx * (p[RATE]! > 0 ? -p[RATE]! * (vxAt(p, t) - p[U]!) : p[PAX]!) + ny * (p[PAY]! + t * p[PJY]!);
  const jerk = (t: number): number =>
    nx * (p[RATE]! > 0 ? p[RATE]! * p[RATE]! * (vxAt(p, t) - p[U]!) : 0) + ny * p[PJY]!;
  const turns = zeros(speed, zeros(acceleration, zeros(jerk, [0, end])));
  for (let i = 1; i < turns.length; i++) {
    const from = turns[i - 1]!;
    const to = turns[i]!;
    if (gap(from) <= 0 && gap(to) < gap(from)) return from;
    if (gap(from) > 0 && gap(to) <= 0) return root(gap, from, to);
  }
  return Infinity;
}

/** The zeros of `f`, which is monotone between the given moments; with the first and the last of them. */
function zeros(f: (t: number) => number, moments: readonly number[]): number[] {
  const found = [moments[0]!];
  for (let i = 1; i < moments.length; i++) {
    const from = moments[i - 1]!;
    const to = moments[i]!;
    if (f(from) > 0 !== f(to) > 0) found.push(root(f(from) > 0 ? f : (t) => -f(t), from, to));
  }
  found.push(moments[moments.length - 1]!);
  return found;
}

/** The root of a function that falls from above 0 to 0 or below. */
function root(f: (t: number) => number, low: number, high: number): number {
  for (let i = 0; i < 80; i++) {
    const middle = low + (high - low) / 2;
    if (f(middle) > 0) low = middle;
    else high = middle;
  }
  return high;
}
