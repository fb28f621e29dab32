import type { Terrain } from '../terrain/terrain.js';
import { vxAt, vyAt, xAt } from './path.js';

/** The body a sweep moves: its origin is the middle of its feet. */
export interface Hitbox {
  readonly half: number;
  readonly height: number;
  readonly touch: number;
}

/** Takes the edge if it is met earlier, or at the same moment and by the rule for ties. */
export function better(
  p: Float64Array,
  terrain: Terrain,
  e: number,
  best: number,
  t: number,
  at: Float64Array,
): number {
  if (t > at[0]!) return best;
  if (t < at[0]! || best < 0) {
    at[0] = t;
    return e;
  }
  const { nx, ny } = terrain;
  const vx = vxAt(p, t);
  const vy = vyAt(p, t);
  const now = nx[e]! * vx + ny[e]! * vy;
  const before = nx[best]! * vx + ny[best]! * vy;
  if (now !== before) return now < before ? e : best;
  const level = Math.abs(ny[e]!) - Math.abs(ny[best]!);
  if (level !== 0) return level > 0 ? e : best;
  const x = xAt(p, t);
  return offMiddle(terrain, e, x) < offMiddle(terrain, best, x) ? e : best;
}

function offMiddle(terrain: Terrain, e: number, x: number): number {
  const a = terrain.x1[e]!;
  const b = terrain.x2[e]!;
  const low = a < b ? a : b;
  const high = a < b ? b : a;
  return x < low ? low - x : x > high ? x - high : 0;
}
