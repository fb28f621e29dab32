import { BESIDE, HIGH, LOW, NX, NY, PLANE, SIDE, SLANT, forget } from '../state/touches.js';
import { PLACE_ROUNDING, RESTS, TIP } from '../tolerance.js';
import { MVX, MVY, MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { EASING, FACED_X, FACED_Y, FACING, FRAME, HEIGHT, LOCK_FOR, NONE, SUPPORT, VX, VY, WISH, X, Y } from '../state/layout.js'; // prettier-ignore
import { overlap } from '../sweep/touch.js';
import { type Terrain, WALL_LEFT, WALL_RIGHT } from '../terrain/terrain.js';

/** Keeps where the body last was on a face. */
export function rememberFace({ s }: Body): void {
  if (s[SLANT]! < 0) return;
  s[FACED_X] = s[X]!;
  s[FACED_Y] = s[Y]!;
}

/** The side of the body takes the wall's coordinate, unless it overlaps the wall already: up to `touch`, that is never corrected. */
export function copySide({ s, terrain, motion, nears }: Body, edge: number, side: number, x: number): void {
  const beside = x + nears[terrain.set[edge]!]!.motion[MX]! - side * motion.half;
  const over = (s[X]! - beside) * side;
  if (over < motion.touch / 1024 + Math.abs(beside) * PLACE_ROUNDING) s[X] = beside;
  else if (over > motion.touch) s[X] = beside + side * motion.touch;
}

/** A body that is pushed along stays right beside what pushes it. */
export function keepBeside(body: Body): void {
  const { s } = body;
  const x = s[BESIDE + PLANE]!;
  if (s[BESIDE]! < 0 || s[BESIDE + NY] !== 0 || x === Infinity) return;
  // What it is not beside at all it has left.
  const { motion, terrain, nears } = body;
  const beside = x + nears[terrain.set[s[BESIDE]!]!]!.motion[MX]! - s[BESIDE + SIDE]! * motion.half;
  if (Math.abs(s[X]! - beside) > motion.width / 64) forget(s, BESIDE);
  else copySide(body, s[BESIDE]!, s[BESIDE + SIDE]!, x);
}

/** The body stands, and as long as it does it cannot get past what is on one side. */
export function blockOnGround(body: Body, edge: number, side: number): void {
  const { s } = body;
  s[VX] = s[VY] = 0;
  s[EASING] = 0;
  s[LOCK_FOR] = 0;
  touchWall(body, edge, side);
  s[BESIDE + LOW] = -Infinity;
  s[BESIDE + HIGH] = Infinity;
}

export function isGrippable({ terrain }: Body, wall: number): boolean {
  return !terrain.styles[terrain.style[wall]!]!.noWall;
}

/** The upper end of a wall, as its own set has it, units. */
export function upperEnd({ y1, y2 }: Terrain, wall: number): number {
  return y1[wall]! > y2[wall]! ? y1[wall]! : y2[wall]!;
}

/** The same, seen from what the body is measured from. */
export function topOfWall({ terrain, nears }: Body, wall: number): number {
  return upperEnd(terrain, wall) + nears[terrain.set[wall]!]!.motion[MY]!;
}

/** How much of a body's height is beside a wall, or a face that leans, units. */
export function besideWall({ s, terrain, nears }: Body, wall: number): number {
  const y = s[Y]! - nears[terrain.set[wall]!]!.motion[MY]!;
  if (wall === s[BESIDE]) return overlap(y, y + s[HEIGHT]!, s[BESIDE + LOW]!, s[BESIDE + HIGH]!);
  const low = Math.min(terrain.y1[wall]!, terrain.y2[wall]!);
  const high = Math.max(terrain.y1[wall]!, terrain.y2[wall]!);
  return overlap(y, y + s[HEIGHT]!, low, high);
}

/** The lowest edge of a run of joined edges that can all be held on to: one number for the whole wall. */
export function runOf({ terrain, motion }: Body, wall: number): number {
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
export function feelForWall(body: Body): void {
  const way = body.s[FACING]! > 0 ? 1 : -1;
  if (!touchWallAt(body, way, -1)) touchWallAt(body, -way, -1);
}

/** The same on one side alone, of a body at rest across that falls: the side that it could be helped over, were it steered there. @returns whether there is one */
export function feelBeside(body: Body): boolean {
  return isHeldBeside(body) && body.s[VX] === 0 && touchWallAt(body, body.s[WISH]! > 0 ? 1 : -1, -1);
}

/** Whether the body falls where it cannot be steered, beside whatever is there, and presses to one side. */
export function isHeldBeside({ s, motion }: Body): boolean {
  return motion.airLocked && motion.lip > 0 && s[SUPPORT] === NONE && s[BESIDE]! < 0 && s[WISH] !== 0;
}

/** Takes note of an edge that stops the body on one side. */
export function touchWall({ s, terrain, hull }: Body, edge: number, side: number): void {
  const { y1, y2 } = terrain;
  s[BESIDE] = edge;
  s[BESIDE + SIDE] = side;
  s[BESIDE + PLANE] = terrain.x1[edge] === terrain.x2[edge] ? terrain.x2[edge]! : Infinity;
  s[BESIDE + NX] = -side;
  s[BESIDE + NY] = 0;
  s[BESIDE + LOW] = y1[edge]! < y2[edge]! ? y1[edge]! : y2[edge]!;
  // The upright side begins above the cut corner.
  s[BESIDE + HIGH] = (y1[edge]! < y2[edge]! ? y2[edge]! : y1[edge]!) - hull.side;
}

/** What stops the body on its side is only the tip at an edge's end: that ends where the sweep no longer meets it. */
export function endAtTip({ s, terrain, hull }: Body, edge: number): void {
  const margin = hull.touch - hull.touch / (2 * TIP);
  s[BESIDE + PLANE] = terrain.x2[edge]!;
  s[BESIDE + LOW] = terrain.y2[edge]! - margin;
  s[BESIDE + HIGH] = terrain.y2[edge]! + margin - hull.side;
}

/** Past the end of the wall that it touched, the body is free to move on, unless another wall stands there. */
export function leaveWall(body: Body): void {
  const { s, motion } = body;
  const wall = s[BESIDE]!;
  const side = s[BESIDE + SIDE]!;
  const low = s[BESIDE + LOW]! + body.nears[body.terrain.set[wall]!]!.motion[MY]!;
  for (let i = 0; i < 64 && besideWall(body, wall) > motion.touch; i++) s[Y] = nudge(s[Y]!, s[Y]! > low);
  // Beside what moves the place is measured anew each time, which costs more than the last bit.
  if (body.terrain.set[wall]! > 0 || s[FRAME] !== 0) {
    const up = s[VY]! > body.nears[body.terrain.set[wall]!]!.motion[MVY]!;
    s[Y] = s[Y]! + (up ? motion.touch : -motion.touch) / 64;
  }
  forget(s, BESIDE);
  touchWallAt(body, side, wall);
}

/** Takes note of the lowest wall on a side that the body touches, beside more than `touch` of its height, and is at rest against. */
function touchWallAt(body: Body, way: number, but: number): boolean {
  const { s, motion, hull, sets, setCount } = body;
  const { half, touch } = motion;
  const kind = way > 0 ? WALL_LEFT : WALL_RIGHT;
  let best = -1;
  let lowest = Infinity;
  for (let k = 0; k < setCount; k++) {
    const near = sets[k]!;
    const m = near.motion;
    if (Math.abs(s[VX]! - m[MVX]!) > RESTS * Math.abs(m[MVX]!)) continue;
    const x = s[X]! - m[MX]!;
    const y = s[Y]! - m[MY]!;
    const side = x + way * half;
    near.cover(x - half - touch, y, x + half + touch, y + s[HEIGHT]!);
    const { starts, ids, fixed, low, high } = near;
    for (let i = starts[kind]!; i < starts[kind + 1]!; i++) {
      if (ids[i] === but || Math.abs(fixed[i]! - side) > touch) continue;
      if (overlap(y, y + s[HEIGHT]!, low[i]!, high[i]! - hull.side) <= touch || low[i]! + m[MY]! >= lowest) continue;
      lowest = low[i]! + m[MY]!;
      best = ids[i]!;
    }
  }
  if (best < 0) return false;
  touchWall(body, best, way);
  return true;
}

/** The smallest step that is sure to change a coordinate. */
export function nudge(value: number, up: boolean): number {
  const step = Math.abs(value) * 2.220446049250313e-16 + 1e-300;
  return up ? value + step : value - step;
}
