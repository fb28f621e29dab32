import type { Terrain } from '../terrain/terrain.js';
import { vxAt, vyAt, xAt, yAt } from './path.js';

/** What a sweep found: the moment (s from the path's start) and the normal of the touch. */
export const WHEN = 0;
export const NORMAL_X = 1;
export const NORMAL_Y = 2;
export const TOUCH_LENGTH = 3;

/** Takes a touch if it is earlier than the best so far, or at the same moment and preferred by the rule for ties. */
export function better(
  p: Float64Array,
  terrain: Terrain,
  e: number,
  best: number,
  t: number,
  nx: number,
  ny: number,
  found: Float64Array,
): number {
  if (t > found[WHEN]!) return best;
  if (best >= 0 && t === found[WHEN]! && !preferred(p, terrain, e, best, t, nx, ny, found)) return best;
  found[WHEN] = t;
  found[NORMAL_X] = nx;
  found[NORMAL_Y] = ny;
  return e;
}

/** The most opposing normal first, then floors and ceilings before walls, then the edge nearest the middle of the feet. */
function preferred(
  p: Float64Array,
  terrain: Terrain,
  e: number,
  best: number,
  t: number,
  nx: number,
  ny: number,
  found: Float64Array,
): boolean {
  const vx = vxAt(p, t);
  const vy = vyAt(p, t);
  const now = nx * vx + ny * vy;
  const before = found[NORMAL_X]! * vx + found[NORMAL_Y]! * vy;
  if (now !== before) return now < before;
  const level = Math.abs(ny) - Math.abs(found[NORMAL_Y]!);
  if (level !== 0) return level > 0;
  const nearer = fromFeet(p, terrain, e, t) - fromFeet(p, terrain, best, t);
  return nearer !== 0 ? nearer < 0 : comesFirst(terrain, e, best, vx);
}

/**
 * Of two edges that nothing else tells apart, the one on the way that the body goes; else one that has a name; else the left, lower, shorter one. Never by their numbers: these depend on
 * how a level came to be as it is.
 */
export function comesFirst({ x1, y1, x2, y2, style, styles }: Terrain, e: number, other: number, vx: number): boolean {
  const across = x1[e]! + x2[e]! - (x1[other]! + x2[other]!);
  if (vx !== 0 && across !== 0) return across > 0 === vx > 0;
  const [one, two] = [styles[style[e]!]!, styles[style[other]!]!];
  if (one.shape >= 0 !== two.shape >= 0) return one.shape >= 0;
  if (one.surface !== two.surface) return one.surface > two.surface;
  if (across !== 0) return across < 0;
  const up = y1[e]! + y2[e]! - (y1[other]! + y2[other]!);
  if (up !== 0) return up < 0;
  return x1[e]! !== x1[other]! ? x1[e]! < x1[other]! : y1[e]! < y1[other]!;
}

/** How far an edge is from the middle of the feet at a moment, across and up added together. */
function fromFeet(p: Float64Array, terrain: Terrain, e: number, t: number): number {
  const { x1, y1, x2, y2 } = terrain;
  return outside(xAt(p, t), x1[e]!, x2[e]!) + outside(yAt(p, t), y1[e]!, y2[e]!);
}

/** How far a coordinate is outside a span, whichever way round that is given. */
function outside(value: number, a: number, b: number): number {
  const low = a < b ? a : b;
  const high = a < b ? b : a;
  return value < low ? low - value : value > high ? value - high : 0;
}
