import { overlap } from '../sweep/touch.js';
import { FLOOR, WALL_LEFT, WALL_RIGHT } from '../terrain/terrain.js';
import { NOW, type Body } from './body.js';
import { coyoteOpen, grip, letGoOfWall, restoreByGround, wallCoyoteOpen } from './rights.js';
import {
  AIRBORNE,
  COYOTE,
  DROPPED,
  EDGE,
  FACING,
  FALL,
  FOOTFALLS,
  GRIP,
  GRIP_SIDE,
  GROUND,
  HEIGHT,
  HIGHEST,
  JUMPING,
  LEFT_AT,
  NONE,
  ON_GROUND,
  ON_LEDGE,
  PHASE,
  RAMP,
  STRIDE,
  SUPPORT,
  VX,
  WALL,
  WALL_COYOTE,
  X,
  Y,
} from './state.js';

/** Closes what has run out, and feels for walls. Supports are remembered, and end at moments that the path was cut for. */
export function sense(body: Body): void {
  const { s, motion } = body;
  if (s[DROPPED]! > 0 && Math.abs(s[Y]! - body.terrain.y1[s[DROPPED]! - 1]!) > motion.touch) s[DROPPED] = 0;
  body.near.ignored = s[DROPPED]! - 1;
  if (s[COYOTE] === 1 && !coyoteOpen(body)) s[COYOTE] = 0;
  if (!motion.walls) return;
  if (s[WALL_COYOTE] === 1 && !wallCoyoteOpen(body)) s[WALL_COYOTE] = 0;
  if (s[SUPPORT] === GROUND || s[SUPPORT] === ON_LEDGE) {
    s[GRIP] = -1;
    return;
  }
  if (s[WALL]! < 0 && s[VX] === 0) s[WALL] = wallTouched(body);
  const wall = s[WALL]!;
  if (wall >= 0 && besideWall(body, wall) >= s[HEIGHT]! / 2 - motion.touch / 2) {
    s[GRIP_SIDE] = body.terrain.kind[wall] === WALL_LEFT ? 1 : -1;
    grip(body, runOf(body, wall));
  } else letGoOfWall(body);
}

/** How much of a body's height is beside a wall, units. */
function besideWall({ s, terrain }: Body, wall: number): number {
  const low = Math.min(terrain.y1[wall]!, terrain.y2[wall]!);
  const high = Math.max(terrain.y1[wall]!, terrain.y2[wall]!);
  return overlap(s[Y]!, s[Y]! + s[HEIGHT]!, low, high);
}

/** The lowest edge of an upright run of joined edges: one number for the whole wall. */
function runOf({ terrain }: Body, wall: number): number {
  const { kind, x1, prev, next } = terrain;
  // One that faces left runs up, so the edge below it is the one before.
  const below = kind[wall] === WALL_LEFT ? prev : next;
  for (;;) {
    const lower = below[wall]!;
    if (lower < 0 || kind[lower] !== kind[wall] || x1[lower] !== x1[wall]) return wall;
    wall = lower;
  }
}

/** A wall that touches a body at rest, beside more than `touch` of its height, or −1; on both sides, the way faced. */
function wallTouched(body: Body): number {
  const { s } = body;
  const first = s[FACING]! > 0 ? WALL_LEFT : WALL_RIGHT;
  const wall = wallAt(body, first, -1);
  return wall >= 0 ? wall : wallAt(body, first === WALL_LEFT ? WALL_RIGHT : WALL_LEFT, -1);
}

/**
 * The floor that would hold the body up where it is, or −1: level with the feet to within `touch`, under more than
 * `touch` of the body; of several, the one nearest the middle of the feet.
 */
export function floorUnder(body: Body, but: number): number {
  const { s, motion, near } = body;
  const { half, touch } = motion;
  const x = s[X]!;
  const y = s[Y]!;
  near.cover(x - half - touch, y - touch, x + half + touch, y + s[HEIGHT]! + touch);
  const { starts, ids, fixed, low, high } = near;
  let best = -1;
  let nearest = Infinity;
  for (let i = starts[FLOOR]!; i < starts[FLOOR + 1]!; i++) {
    if (ids[i] === but || ids[i] === near.ignored || Math.abs(y - fixed[i]!) > touch) continue;
    if (overlap(x - half, x + half, low[i]!, high[i]!) <= touch) continue;
    const off = x < low[i]! ? low[i]! - x : x > high[i]! ? x - high[i]! : 0;
    if (off < nearest) {
      nearest = off;
      best = ids[i]!;
    }
  }
  return best;
}

/** Stands on a floor: its height is copied, so that feet at rest are the floor's own coordinate. */
export function stand(body: Body, floor: number): void {
  const { s, terrain } = body;
  s[SUPPORT] = GROUND;
  s[EDGE] = floor;
  s[PHASE] = ON_GROUND;
  s[Y] = terrain.y1[floor]!;
  s[HIGHEST] = s[Y]!;
  s[JUMPING] = 0;
  s[RAMP] = 0;
  s[STRIDE] = 0;
  s[FOOTFALLS] = 0;
  s[GRIP] = -1;
  restoreByGround(body);
}

/** At the end of a floor: on to the next one, or into the air. */
export function leaveSupport(body: Body): void {
  const { s, terrain, motion } = body;
  const left = s[EDGE]!;
  // No more than `touch` over the edge, whatever rounding made of it: else it would catch the body again.
  while (overlap(s[X]! - motion.half, s[X]! + motion.half, terrain.x1[left]!, terrain.x2[left]!) > motion.touch) {
    const middle = (terrain.x1[left]! + terrain.x2[left]!) / 2;
    s[X] = nudge(s[X]!, s[X]! > middle);
  }
  const floor = floorUnder(body, left);
  if (floor >= 0) {
    s[EDGE] = floor;
    s[Y] = terrain.y1[floor]!;
    return;
  }
  body.tell('leave');
  s[SUPPORT] = NONE;
  s[EDGE] = -1;
  s[PHASE] = FALL;
  s[COYOTE] = 1;
  s[LEFT_AT] = s[AIRBORNE] = body.clock[NOW]!;
}

/** Past the end of the wall that it touched, the body is free to move on, unless another wall stands there. */
export function leaveWall(body: Body): void {
  const { s, terrain, motion } = body;
  const wall = s[WALL]!;
  const low = Math.min(terrain.y1[wall]!, terrain.y2[wall]!);
  while (besideWall(body, wall) > motion.touch) s[Y] = nudge(s[Y]!, s[Y]! > low);
  s[WALL] = wallAt(body, terrain.kind[wall]!, wall);
}

/** The lowest wall of a kind that the body touches, beside more than `touch` of its height, or −1. */
function wallAt(body: Body, kind: number, but: number): number {
  const { s, motion, near } = body;
  const { half, touch } = motion;
  const side = s[X]! + (kind === WALL_LEFT ? half : -half);
  near.cover(s[X]! - half - touch, s[Y]!, s[X]! + half + touch, s[Y]! + s[HEIGHT]!);
  const { starts, ids, fixed, low, high } = near;
  let best = -1;
  let lowest = Infinity;
  for (let i = starts[kind]!; i < starts[kind + 1]!; i++) {
    if (ids[i] === but || Math.abs(fixed[i]! - side) > touch) continue;
    if (overlap(s[Y]!, s[Y]! + s[HEIGHT]!, low[i]!, high[i]!) <= touch || low[i]! >= lowest) continue;
    lowest = low[i]!;
    best = ids[i]!;
  }
  return best;
}

/** The smallest step that is sure to change a coordinate. */
function nudge(value: number, up: boolean): number {
  const step = Math.abs(value) * 2.220446049250313e-16 + 1e-300;
  return up ? value + step : value - step;
}
