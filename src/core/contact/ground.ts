import { AS_FAST, TIP } from '../tolerance.js';
import { MVY, MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { EDGE, END, FACING, GROUND, HEIGHT, PIT, RAN, SUPPORT, VX, X } from '../state/layout.js';
import { type Hull, foremost } from '../sweep/hull.js';
import type { Near } from '../sweep/near.js';
import { endsBelow } from '../sweep/slanted.js';
import { LINE } from '../terrain/edges.js';
import { FLOOR, SLANTED, type Terrain, WALL_LEFT } from '../terrain/terrain.js';

/**
 * What a body can stand on, and where its feet are then. While it stands, the place of its feet is a function of x alone: along a slope
 * with the corner that comes first, level with its underside on a floor or on the corner between two slopes.
 *
 * A stretch of it is described in a record of the caller's: the height of the feet, units up for each unit across, and from where to where it goes on.
 */
export type Stretch = Float64Array;
export const stretch = (): Stretch => new Float64Array(10);
export const FEET = 0;
export const SLOPE = 1;
export const FROM = 2;
export const UNTIL = 3;
/** What `findGround` found. */
export const FOUND_EDGE = 4;
export const FOUND_END = 5;
/** How far below the feet it was found, units. */
export const BELOW = 6;
/** How far it is from the middle of the feet, and twice where its own middle is. */
const OFF = 7;
const MIDDLE = 8;
/** How fast it moves up, seen from where the body is measured, units/s. */
const LIFTS = 9;

/** Units up for each unit across. */
export function slopeOf({ x1, y1, x2, y2 }: Terrain, e: number): number {
  return (y2[e]! - y1[e]!) / (x2[e]! - x1[e]!);
}

/** Whether an edge is ground that this body can stand on. */
export function isGround({ terrain, motion }: Body, e: number): boolean {
  if (terrain.kind[e] === FLOOR) return true;
  return (
    terrain.kind[e] === SLANTED &&
    terrain.ny[e]! > 0 &&
    /* rule: steep ground is no ground */ Math.abs(slopeOf(terrain, e)) <= motion.steepest
  );
}

/** Whether the upper end of a slanted edge is the top of what it belongs to, so that an underside can rest on it. */
function topsOut({ y1, y2, prev, next }: Terrain, e: number): boolean {
  // One that faces up is followed on the left, and goes on to the right: what comes then falls away, or is level.
  if (y2[e]! > y1[e]!) return next[e]! < 0 || y2[next[e]!]! <= y1[next[e]!]!;
  return prev[e]! < 0 || y1[prev[e]!]! <= y2[prev[e]!]!;
}

/** Whether the upper end of an edge that faces sideways or down is a tip, with nothing on it but the corner. */
function isTip({ x1, y1, x2, y2, next, ny, form }: Terrain, e: number): boolean {
  const f = next[e]!;
  if (!(y2[e]! > y1[e]!) || f < 0 || !(y2[f]! < y1[f]!) || ny[f]! > 0) return false;
  const turn = (x2[e]! - x1[e]!) * (y2[f]! - y1[f]!) - (y2[e]! - y1[e]!) * (x2[f]! - x1[f]!);
  return turn < 0 || (turn === 0 && form[e] === LINE);
}

/** Describes a stretch of ground for a body at x. */
export function describe(body: Body, e: number, end: number, x: number, at: Stretch): void {
  const { terrain, hull, motion } = body;
  const { x1, y1, x2, y2, kind, before, after } = terrain;
  const { flat } = hull;
  const { touch } = motion;
  if (end !== 0) {
    describeCorner(body, e, end, x, at);
    return;
  }
  if (kind[e] === FLOOR) {
    at[FEET] = y1[e]!;
    at[SLOPE] = 0;
    // What supports is nearest the middle: where ground goes on, it takes over in the middle.
    at[FROM] = takesOver(body, before[e]!, -1) ? x1[e]! : x1[e]! - flat + touch;
    at[UNTIL] = takesOver(body, after[e]!, 1) ? x2[e]! : x2[e]! + flat - touch;
    return;
  }
  const slope = slopeOf(terrain, e);
  const i = foremost(hull, terrain.nx[e]!, terrain.ny[e]!);
  const cx = hull.corners[i]!;
  const up = slope > 0;
  // Measured from its upper end, so that mirror images stay mirror images.
  const topX = up ? x2[e]! : x1[e]!;
  const topY = up ? y2[e]! : y1[e]!;
  at[FEET] = topY + slope * (x + cx - topX) - hull.corners[i + 1]!;
  at[SLOPE] = slope;
  at[FROM] = x1[e]! - cx;
  at[UNTIL] = x2[e]! - cx;
  if (hull.side > 0 && isParallel(hull, terrain.nx[e]!, terrain.ny[e]!)) {
    // A cut corner lies on it with its whole length.
    at[FROM] = up ? x1[e]! - hull.half : x1[e]! + flat;
    at[UNTIL] = up ? x2[e]! - flat : x2[e]! + hull.half;
  }
  const lower = up ? before[e]! : after[e]!;
  if (goesOn(body, lower)) return;
  // Where it ends in the air, it is left where the sweep no longer meets it.
  const margin = endsBelow(terrain, e) ? -touch / (2 * TIP * Math.sqrt(1 + slope * slope)) : 2 * touch;
  if (up) at[FROM]! -= margin;
  else at[UNTIL]! += margin;
}

/** Whether a cut corner of the body is parallel to a surface, as the sweep sees it. */
export function isParallel({ side, touch }: Hull, nx: number, ny: number): boolean {
  return Math.abs(side * ny - side * Math.abs(nx)) <= touch / 1024;
}

/** Whether the ground beyond a floor's end takes over as soon as the middle of the feet is past it. What rises from there is met before. */
function takesOver(body: Body, e: number, way: number): boolean {
  const { y1, y2 } = body.terrain;
  return goesOn(body, e) && (y2[e]! - y1[e]!) * way <= 0;
}

/** While only solid ground is looked for. */
let oneWayIsNone = false;

/** Whether ground goes on with an edge: not if that is dropped through, or not there for this body. */
function goesOn(body: Body, e: number): boolean {
  const { near, terrain } = body;
  if (e < 0 || !isGround(body, e) || ((near.ignores !== 0 || near.off.length > 0) && !near.isThere(e))) return false;
  return terrain.oneWay[e] === 0 || (!oneWayIsNone && !near.isDropped(terrain.piece[e]!));
}

/** The underside, or a cut corner, on the corner at an edge's start or end. */
function describeCorner(body: Body, e: number, end: number, x: number, at: Stretch): void {
  const { terrain, hull, motion } = body;
  const { x1, y1, x2, y2, before, after } = terrain;
  const { flat, half } = hull;
  const vx = end > 0 ? x2[e]! : x1[e]!;
  const vy = end > 0 ? y2[e]! : y1[e]!;
  const other = end > 0 ? after[e]! : before[e]!;
  const left = end > 0 ? e : other;
  const right = end > 0 ? other : e;
  // Ground that rises from it is no part of the top: one-way ground that the body is below.
  const leftGoes = goesOn(body, left) && y1[left]! <= vy;
  const rightGoes = goesOn(body, right) && y2[right]! <= vy;
  if (end === 2 || end === -2) {
    // A cut corner rolls over it, on the way to ground that is steeper than the cut.
    const rises = end > 0 ? 1 : -1;
    at[FEET] = vy + (rises * (x - vx) + flat);
    at[SLOPE] = rises;
    at[FROM] = rises > 0 ? vx - half : vx + flat;
    at[UNTIL] = rises > 0 ? vx - flat : vx + half;
    return;
  }
  at[FEET] = vy;
  at[SLOPE] = 0;
  at[FROM] = vx - (leftGoes ? flat : flat - motion.touch / (2 * TIP));
  at[UNTIL] = vx + (rightGoes ? flat : flat - motion.touch / (2 * TIP));
  // In the middle the one hands over to the other.
  if (leftGoes && rightGoes) {
    if (end > 0) at[UNTIL] = vx;
    else at[FROM] = vx;
  }
}

/** Describes what the body stands on, where it is. */
export function here(body: Body, into: Stretch): void {
  const { s } = body;
  describe(body, s[EDGE]!, s[END]!, s[X]!, into);
}

/** The ground's slope where the body stands; 0 in the air, and between two faces. */
export function slopeHere(body: Body): number {
  const { s } = body;
  if (s[SUPPORT] !== GROUND || s[PIT] === 1 || isLevel(body)) return 0;
  here(body, under);
  return under[SLOPE]!;
}

const under = stretch();

/** Whether what the body stands on is level, known without describing it. */
export function isLevel({ s, terrain }: Body): boolean {
  const end = s[END]!;
  return end === 0 ? terrain.kind[s[EDGE]!] === FLOOR : end === 1 || end === -1;
}

/** How far the ground is below the middle of the feet of a body that stands at (x, y); 0 else. */
export function gapUnder({ s, terrain }: Body, x: number, y: number): number {
  if (s[SUPPORT] !== GROUND || s[PIT] === 1) return 0;
  const e = s[EDGE]!;
  if (terrain.kind[e] !== SLANTED) return 0;
  const [left, right] =
    terrain.x1[e]! < terrain.x2[e]! ? [terrain.x1[e]!, terrain.x2[e]!] : [terrain.x2[e]!, terrain.x1[e]!];
  const at = x < left ? left : x > right ? right : x;
  const gap = y - (terrain.y1[e]! + slopeOf(terrain, e) * (at - terrain.x1[e]!));
  return gap > 0 ? gap : 0;
}

/** The number of the surface that the body stands on; 0 where it is plain. */
export function surfaceUnder(body: Body): number {
  return body.s[SUPPORT] === GROUND ? surfaceOf(body, body.s[EDGE]!) : 0;
}

/** That of an edge. */
export function surfaceOf({ terrain }: Body, edge: number): number {
  return terrain.styles[terrain.style[edge]!]!.surface;
}

/** How fast the body goes along the ground on its own feet; in the air as it did when it left it, units/s. */
export function ownSpeed(body: Body): number {
  const { s, level } = body;
  if (s[SUPPORT] !== GROUND) return s[RAN]!;
  if (s[PIT] === 1) return 0;
  const slope = slopeHere(body);
  const along = Math.sqrt(1 + slope * slope);
  return Math.abs(s[VX]! * along - level.surfaces[surfaceUnder(body)]!.flow);
}

/** What `findGround` looks for. */
interface Wanted {
  /** The way it goes: −1, 1, or 0 for where it is. */
  way: number;
  /** How far below the feet, units. */
  down: number;
  /** Leaves out one-way ground. */
  solidOnly?: boolean;
}

/**
 * The ground that holds a body whose feet are at (x, y), or up to `down` below; of several the highest, then that which moves up fastest, then that which rises
 * most on the way, then that nearest to the middle of the feet.
 * @param best where it is described, measured from the set of edges it belongs to
 * @returns whether there is any
 */
export function findGround(body: Body, x: number, y: number, wanted: Wanted, best: Stretch): boolean {
  best[FOUND_EDGE] = -1;
  oneWayIsNone = wanted.solidOnly === true;
  const { sets, setCount } = body;
  for (let i = 0; i < setCount; i++) {
    const { motion } = sets[i]!;
    findIn(body, sets[i]!, x - motion[MX]!, y - motion[MY]!, wanted, best);
  }
  oneWayIsNone = false;
  return best[FOUND_EDGE]! >= 0;
}

/** The same among the edges of one set, which sees the feet at (x, y). */
function findIn(
  body: Body,
  near: Near,
  x: number,
  y: number,
  { way, down, solidOnly = false }: Wanted,
  best: Stretch,
): void {
  const { motion, terrain, s } = body;
  const { half, touch } = motion;
  near.cover(x - half - touch, y - down - touch, x + half + touch, y + s[HEIGHT]! + touch);
  const isBevelled = body.hull.side > 0;
  const { starts, ids, fixed, low, high } = near;
  const { oneWay, piece, kind, y1, y2 } = terrain;
  for (let i = starts[SLANTED]!; i < starts[WALL_LEFT + 1]!; i++) {
    const e = ids[i]!;
    if (low[i]! > x + half + touch || high[i]! < x - half - touch) {
      // Of walls the span is upright.
      if (kind[e] !== WALL_LEFT) continue;
    }
    if (near.isDropped(piece[e]!) || (solidOnly && oneWay[e] === 1)) continue;
    if (kind[e] === FLOOR) {
      if (fixed[i]! > y + touch || fixed[i]! < y - down - touch) continue;
      consider(body, e, 0, x, y, near, way, down, best);
      continue;
    }
    if (kind[e] === SLANTED) {
      const top = y2[e]! > y1[e]! ? y2[e]! : y1[e]!;
      if (top < y - down - touch) continue;
      if (terrain.ny[e]! > 0) {
        if (isGround(body, e)) consider(body, e, 0, x, y, near, way, down, best);
        if (topsOut(terrain, e)) {
          const end = y2[e]! > y1[e]! ? 1 : -1;
          consider(body, e, end, x, y, near, way, down, best);
          if (isBevelled && isGround(body, e) && Math.abs(slopeOf(terrain, e)) > 1)
            consider(body, e, 2 * end, x, y, near, way, down, best);
        }
        continue;
      }
    } else if (kind[e] !== WALL_LEFT) continue;
    if (isTip(terrain, e)) consider(body, e, 1, x, y, near, way, down, best);
  }
}

/** What is being considered. */
const at = stretch();

function consider(
  body: Body,
  e: number,
  end: number,
  x: number,
  y: number,
  near: Near,
  way: number,
  down: number,
  best: Stretch,
): void {
  const { motion, terrain, s } = body;
  const { touch } = motion;
  describe(body, e, end, x, at);
  if (way > 0 ? at[UNTIL]! - x <= touch : way < 0 && x - at[FROM]! <= touch) return;
  // To within rounding: how far a body may stand over an end is in the stretch already.
  if (x < at[FROM]! - touch / 1024 || x > at[UNTIL]! + touch / 1024) return;
  const feet = at[FEET]!;
  const slope = at[SLOPE]!;
  // Where a floor ends by `touch` over its edge, a cut corner lies by as much higher on a slope that begins there: half of it to spare.
  if (feet > y + 1.5 * touch || feet < y - down - touch) return;
  // Ground that falls away too steeply is not followed.
  if (slope * way < -motion.follow) return;
  const from = terrain.x1[e]!;
  const to = terrain.x2[e]!;
  at[OFF] = end !== 0 ? Math.abs(x - (end > 0 ? to : from)) : x < from ? from - x : x > to ? x - to : 0;
  at[MIDDLE] = from + to + 2 * near.motion[MX]!;
  at[BELOW] = y - feet;
  at[LIFTS] = near.motion[MVY]!;
  if (best[FOUND_EDGE]! >= 0) {
    const higher = best[BELOW]! - at[BELOW]!;
    if (higher < -touch) return;
    if (higher <= touch) {
      // Of two at one height, that which is about to be the higher.
      const lifts = at[LIFTS]! - best[LIFTS]!;
      const alike = Math.abs(lifts) <= AS_FAST * motion.cap;
      if (!alike && lifts < 0) return;
      const rises = (slope - best[SLOPE]!) * way;
      if (alike && rises < 0) return;
      if (alike && rises === 0) {
        const farther = at[OFF]! - best[OFF]!;
        if (farther > 0) return;
        if (farther === 0) {
          // As near as each other: an edge before a corner, then the one on the way faced.
          const edgeBefore = best[FOUND_END] === 0;
          if (edgeBefore && end !== 0) return;
          if (edgeBefore === (end === 0) && (at[MIDDLE]! - best[MIDDLE]!) * s[FACING]! <= 0) return;
        }
      }
    }
  }
  at[FOUND_EDGE] = e;
  at[FOUND_END] = end;
  best.set(at);
}
