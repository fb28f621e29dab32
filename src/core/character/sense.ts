import { overlap } from '../sweep/touch.js';
import { senseZones } from './zones.js';
import { TIP } from '../sweep/slanted.js';
import { FLOOR, WALL_LEFT, WALL_RIGHT } from '../terrain/terrain.js';
import { NOW, type Body } from './body.js';
import { coyoteOpen, grip, letGoOfWall, restoreByGround, wallCoyoteOpen } from './rights.js';
import {
  FEET,
  FOUND_EDGE,
  FOUND_END,
  SLOPE,
  at,
  findGround,
  here,
  isDropping,
  isGround,
  surfaceUnder,
} from './ground.js';
import { NORMAL_X, NORMAL_Y, WHEN } from '../sweep/ties.js';
import { hasRoom, inTheWay, obstacle } from './room.js';
import { stepUp } from './step.js';
import {
  AIRBORNE, COYOTE, DROPPED, EASING, EDGE, END, FACE, FACE_NX, FACE_NY, FACING, FALL, FOOTFALLS, GRIP, GRIP_SIDE, GROUND, HEIGHT, HIGHEST, JUMPING,
  LEFT_AT, LOCK_FOR, NONE, ON_GROUND, ON_LEDGE, PHASE, PIT, RAMP, STEP, STEPPED, STRIDE, SUPPORT, SURFACE, VX, VY, WALL, WALL_COYOTE, WALL_HIGH, WALL_LOW,
  WALL_SIDE, X, Y,
} from './state.js'; // prettier-ignore

/** Closes what has run out, and feels for walls. Supports are remembered, and end at moments that the path was cut for. */
export function sense(body: Body): void {
  const { s, motion } = body;
  if (body.level.zones.length > 0) senseZones(body);
  if (body.level.surfaces.length > 1) senseSurface(body);
  body.near.ignored = s[DROPPED]! - 1;
  if (s[DROPPED]! > 0 && !isDropping(body, s[DROPPED]! - 1)) {
    s[DROPPED] = 0;
    body.near.ignored = -1;
  }
  if (s[COYOTE] === 1 && !coyoteOpen(body)) s[COYOTE] = 0;
  if (!motion.walls) return;
  if (s[WALL_COYOTE] === 1 && !wallCoyoteOpen(body)) s[WALL_COYOTE] = 0;
  if (s[SUPPORT] === GROUND || s[SUPPORT] === ON_LEDGE) {
    s[GRIP] = -1;
    return;
  }
  if (s[WALL]! < 0 && s[FACE]! < 0 && s[VX] === 0) feelForWall(body);
  const wall = s[WALL]! >= 0 ? s[WALL]! : s[FACE]! >= 0 && Math.abs(s[FACE_NY]!) <= motion.lean ? s[FACE]! : -1;
  if (wall >= 0 && isGrippable(body, wall) && besideWall(body, wall) >= s[HEIGHT]! / 2 - motion.touch / 2) {
    s[GRIP_SIDE] = s[WALL]! >= 0 ? s[WALL_SIDE]! : s[FACE_NX]! < 0 ? 1 : -1;
    grip(body, runOf(body, wall));
  } else letGoOfWall(body);
}

/** Tells when the body comes to stand on another surface. In the air it keeps the last. */
function senseSurface(body: Body): void {
  const { s, level } = body;
  if (s[SUPPORT] !== GROUND) return;
  const surface = surfaceUnder(body);
  if (surface === s[SURFACE]) return;
  s[SURFACE] = surface;
  body.tell('surface').surface = level.surfaces[surface]!.name;
}

function isGrippable({ terrain }: Body, wall: number): boolean {
  return !terrain.styles[terrain.style[wall]!]!.noWall;
}

/** How much of a body's height is beside a wall, or a face that leans, units. */
function besideWall({ s, terrain }: Body, wall: number): number {
  if (wall === s[WALL]) return overlap(s[Y]!, s[Y]! + s[HEIGHT]!, s[WALL_LOW]!, s[WALL_HIGH]!);
  const low = Math.min(terrain.y1[wall]!, terrain.y2[wall]!);
  const high = Math.max(terrain.y1[wall]!, terrain.y2[wall]!);
  return overlap(s[Y]!, s[Y]! + s[HEIGHT]!, low, high);
}

/** The lowest edge of a run of joined edges that can all be held on to: one number for the whole wall. */
function runOf({ terrain, motion }: Body, wall: number): number {
  const { nx, ny, prev, next } = terrain;
  // One that faces left runs up, so the edge below it is the one before.
  const left = nx[wall]! < 0;
  const below = left ? prev : next;
  for (;;) {
    const lower = below[wall]!;
    if (lower < 0 || nx[lower]! < 0 !== left || Math.abs(ny[lower]!) > motion.lean) return wall;
    wall = lower;
  }
}

/** Takes note of a wall that touches a body at rest, beside more than `touch` of its height; on both sides, the way faced. */
function feelForWall(body: Body): void {
  const way = body.s[FACING]! > 0 ? 1 : -1;
  if (!touchWallAt(body, way, -1)) touchWallAt(body, -way, -1);
}

/** Takes note of an edge that stops the body on one side. */
export function touchWall({ s, terrain, hull }: Body, edge: number, side: number): void {
  const { y1, y2 } = terrain;
  s[WALL] = edge;
  s[WALL_SIDE] = side;
  s[WALL_LOW] = y1[edge]! < y2[edge]! ? y1[edge]! : y2[edge]!;
  // The upright side begins above the cut corner.
  s[WALL_HIGH] = (y1[edge]! < y2[edge]! ? y2[edge]! : y1[edge]!) - hull.side;
}

/** Stands on a stretch of ground: its height is copied, so that feet at rest are the ground's own. */
export function stand(body: Body, edge: number, end = 0): void {
  const { s } = body;
  s[SUPPORT] = GROUND;
  s[EDGE] = edge;
  s[END] = end;
  s[PIT] = 0;
  // On the ground what is beside it is met anew: it may be a step.
  s[FACE] = s[WALL] = -1;
  s[PHASE] = ON_GROUND;
  here(body);
  s[Y] = at[FEET]! + 0;
  s[HIGHEST] = s[Y]!;
  s[JUMPING] = 0;
  s[RAMP] = 0;
  s[STRIDE] = 0;
  s[FOOTFALLS] = 0;
  s[GRIP] = -1;
  restoreByGround(body);
}

/** Stands on whatever holds the feet up where they are. @returns whether anything does */
export function standHere(body: Body): boolean {
  if (!findGround(body, body.s[X]!, body.s[Y]!, HERE)) return false;
  stand(body, at[FOUND_EDGE]!, at[FOUND_END]!);
  return true;
}

/** Goes on standing, on what was just found: the same ground by another number. */
export function standOnSame({ s }: Body): void {
  s[EDGE] = at[FOUND_EDGE]!;
  s[END] = at[FOUND_END]!;
}

const HERE = { way: 0, down: 0 } as const;
const onward = { way: 0, down: 0 };

/** At the end of a stretch of ground: on to the next one, down a step, or into the air. */
export function leaveSupport(body: Body, way: number): void {
  const { s, motion, hull } = body;
  here(body);
  const before = at[SLOPE]!;
  const wasAt = s[X]!;
  const wasY = s[Y]!;
  onward.way = way;
  onward.down = motion.step;
  // Down a step a cut corner has to pass the edge as well.
  const past = (hull.side + motion.touch) * way;
  if (hull.side > 0 && onStepAhead(body, way) && hasRoom(body, s[X]!, s[Y]!, past, 0)) s[X] = s[X]! + past;
  if (findGround(body, s[X]!, s[Y]!, onward)) {
    const drop = s[Y]! - at[FEET]!;
    if (drop > motion.touch) clearEnd(body, way);
    if (drop <= motion.touch || hasRoom(body, s[X]!, s[Y]!, 0, -drop)) {
      s[EDGE] = at[FOUND_EDGE]!;
      s[END] = at[FOUND_END]!;
      here(body);
      s[Y] = at[FEET]! + 0;
      if (drop > motion.touch) tellStep(body, -drop);
      keepSpeed(body, before, at[SLOPE]!);
      return;
    }
  }
  here(body);
  if (crossesGap(body, way)) return;
  here(body);
  if (stopsAtCrevice(body, way)) return;
  clearEnd(body, way);
  s[Y] = wasY + (s[X]! - wasAt) * before;
  body.tell('leave');
  s[SUPPORT] = NONE;
  s[EDGE] = -1;
  s[PHASE] = FALL;
  s[COYOTE] = 1;
  s[LEFT_AT] = s[AIRBORNE] = body.clock[NOW]!;
}

/** Over a gap exactly as wide as the body: for a moment neither side holds it, but it does not fall. */
function crossesGap(body: Body, way: number): boolean {
  const { s, motion } = body;
  if (way === 0 || at[SLOPE] !== 0) return false;
  const over = way * motion.touch * (s[END] === 0 ? 3 : 2 / TIP);
  if (!findGround(body, s[X]! + over, s[Y]!, onward) || at[SLOPE] !== 0) return false;
  if (Math.abs(at[FEET]! - s[Y]!) > motion.touch || !hasRoom(body, s[X]!, s[Y]!, over, 0)) return false;
  s[X] = s[X]! + over;
  s[EDGE] = at[FOUND_EDGE]!;
  s[END] = at[FOUND_END]!;
  s[Y] = at[FEET]! + 0;
  return true;
}

/** Whether the ground goes on lower down, by no more than a step. */
function onStepAhead(body: Body, way: number): boolean {
  const { s, motion, hull } = body;
  const x = s[X]! + (hull.side + motion.touch) * way;
  return (
    !(findGround(body, s[X]!, s[Y]!, onward) && s[Y]! - at[FEET]! <= motion.touch) &&
    findGround(body, x, s[Y]!, onward) &&
    s[Y]! - at[FEET]! > motion.touch
  );
}

/**
 * Where the body would come off its ground only to be held at once by a steep face on the other side, it stops: there is no room to fall.
 */
function stopsAtCrevice(body: Body, way: number): boolean {
  const { s, motion } = body;
  if (way === 0) return false;
  // Rounding may bring the end of a slope before what stands there.
  const slope = at[SLOPE]! * way;
  const ahead = slope === 0 ? -1 : inTheWay(body, s[X]!, s[Y]!, way * motion.touch, slope * motion.touch);
  const opposes = obstacle[NORMAL_X]! * way + obstacle[NORMAL_Y]! * slope < 0;
  if (ahead >= 0 && opposes && obstacle[NORMAL_X]! * way < 0 && !isOntoGround(body, ahead)) {
    if (obstacle[NORMAL_Y] === 0 && stepUp(body, ahead, way)) return true;
    if (s[VX] !== 0) bump(body, way > 0 ? 'right' : 'left', Math.abs(s[VX]!));
    blockOnGround(body, ahead, way);
    return true;
  }
  const near = 3 * motion.touch;
  let edge = inTheWay(body, s[X]!, s[Y]!, way * near, -near);
  // Beside a wall it would come down on what is there.
  if (edge >= 0 && obstacle[NORMAL_X] === -way)
    edge = inTheWay(body, s[X]! + way * near * obstacle[WHEN]!, s[Y]!, 0, -near);
  if (edge < 0 || obstacle[NORMAL_X]! * way >= 0 || !(obstacle[NORMAL_Y]! > 0) || isOntoGround(body, edge))
    return false;
  s[X] = s[X]! - 2 * way * motion.touch;
  here(body);
  s[Y] = at[FEET]! + 0;
  if (s[VX] !== 0) bump(body, way > 0 ? 'right' : 'left', Math.abs(s[VX]!));
  blockOnGround(body, edge, way);
  return true;
}

/** Whether what was found in the way is ground met with the feet, and not with a cut corner. */
function isOntoGround(body: Body, edge: number): boolean {
  return isGround(body, edge) && obstacle[NORMAL_X] === body.terrain.nx[edge];
}

/** The body stands, and as long as it does it cannot get past what is on one side. */
export function blockOnGround(body: Body, edge: number, side: number): void {
  const { s } = body;
  s[VX] = s[VY] = 0;
  s[EASING] = 0;
  s[LOCK_FOR] = 0;
  touchWall(body, edge, side);
  s[WALL_LOW] = -Infinity;
  s[WALL_HIGH] = Infinity;
}

/** A body that meets something slower than this share of the terminal speed was there already. */
const FAINT = 1e-5;

export function bump(body: Body, side: 'head' | 'left' | 'right', speed: number): void {
  if (speed < FAINT * body.motion.cap) return;
  const told = body.tell('bump');
  told.side = side;
  told.speed = speed;
}

/** No more than `touch` over the end, whatever rounding made of it: else it would catch the body again. */
function clearEnd({ s, terrain, motion, hull }: Body, way: number): void {
  const left = s[EDGE]!;
  const end = s[END]!;
  if (end === 0 && terrain.kind[left] !== FLOOR) return;
  const corner =
    end === 0 ? (way > 0 ? terrain.x2[left]! : terrain.x1[left]!) : end > 0 ? terrain.x2[left]! : terrain.x1[left]!;
  const least = end === 0 ? motion.touch : motion.touch / TIP;
  for (let i = 0; i < 64 && hull.flat - (s[X]! - corner) * way > least; i++) s[X] = nudge(s[X]!, way > 0);
}

/** From one slope to another: measured along the ground, the speed stays. */
export function keepSpeed({ s, motion }: Body, before: number, after: number): void {
  if (before === after) return;
  if (motion.along) s[VX] = s[VX]! * Math.sqrt((1 + before * before) / (1 + after * after));
  s[VY] = after * s[VX]! + 0;
}

/** Notes a step, for pictures that go over it smoothly. */
export function tellStep({ s, clock, motion }: Body, up: number): void {
  s[STEP] = stepLag(s, clock[NOW]!, motion.ground.speed) + up;
  s[STEPPED] = clock[NOW]!;
}

/** How far a picture that goes over a step at top speed still has to go, units up. */
export function stepLag(s: Float64Array, now: number, speed: number): number {
  const left = Math.abs(s[STEP]!) - speed * (now - s[STEPPED]!);
  return left > 0 ? (s[STEP]! > 0 ? left : -left) : 0;
}

/** Past the end of the wall that it touched, the body is free to move on, unless another wall stands there. */
export function leaveWall(body: Body): void {
  const { s, motion } = body;
  const wall = s[WALL]!;
  const side = s[WALL_SIDE]!;
  for (let i = 0; i < 64 && besideWall(body, wall) > motion.touch; i++) s[Y] = nudge(s[Y]!, s[Y]! > s[WALL_LOW]!);
  s[WALL] = -1;
  touchWallAt(body, side, wall);
}

/** Takes note of the lowest wall on a side that the body touches, beside more than `touch` of its height. */
function touchWallAt(body: Body, way: number, but: number): boolean {
  const { s, motion, near, hull } = body;
  const { half, touch } = motion;
  const kind = way > 0 ? WALL_LEFT : WALL_RIGHT;
  const side = s[X]! + way * half;
  near.cover(s[X]! - half - touch, s[Y]!, s[X]! + half + touch, s[Y]! + s[HEIGHT]!);
  const { starts, ids, fixed, low, high } = near;
  let best = -1;
  let lowest = Infinity;
  for (let i = starts[kind]!; i < starts[kind + 1]!; i++) {
    if (ids[i] === but || Math.abs(fixed[i]! - side) > touch) continue;
    if (overlap(s[Y]!, s[Y]! + s[HEIGHT]!, low[i]!, high[i]! - hull.side) <= touch || low[i]! >= lowest) continue;
    lowest = low[i]!;
    best = ids[i]!;
  }
  if (best < 0) return false;
  touchWall(body, best, way);
  return true;
}

/** The smallest step that is sure to change a coordinate. */
function nudge(value: number, up: boolean): number {
  const step = Math.abs(value) * 2.220446049250313e-16 + 1e-300;
  return up ? value + step : value - step;
}
