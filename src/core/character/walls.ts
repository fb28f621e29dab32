import { MVX, MVY, MX, MY } from '../terrain/moving.js';
import { TIP } from '../sweep/slanted.js';
import { overlap } from '../sweep/touch.js';
import { WALL_LEFT, WALL_RIGHT } from '../terrain/terrain.js';
import type { Body } from './body.js';
import { FRAME, VX, VY, X, Y, FACING, WALL, WALL_NX, WALL_NY, WALL_X, HEIGHT, WALL_SIDE, WALL_LOW, WALL_HIGH } from './state.js'; // prettier-ignore

export function isGrippable({ terrain }: Body, wall: number): boolean {
  return !terrain.styles[terrain.style[wall]!]!.noWall;
}

/** How much of a body's height is beside a wall, or a face that leans, units. */
export function besideWall({ s, terrain, nears }: Body, wall: number): number {
  const y = s[Y]! - nears[terrain.set[wall]!]!.motion[MY]!;
  if (wall === s[WALL]) return overlap(y, y + s[HEIGHT]!, s[WALL_LOW]!, s[WALL_HIGH]!);
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

/** Takes note of an edge that stops the body on one side. */
export function touchWall({ s, terrain, hull }: Body, edge: number, side: number): void {
  const { y1, y2 } = terrain;
  s[WALL] = edge;
  s[WALL_SIDE] = side;
  s[WALL_X] = terrain.x1[edge] === terrain.x2[edge] ? terrain.x2[edge]! : Infinity;
  s[WALL_NX] = -side;
  s[WALL_NY] = 0;
  s[WALL_LOW] = y1[edge]! < y2[edge]! ? y1[edge]! : y2[edge]!;
  // The upright side begins above the cut corner.
  s[WALL_HIGH] = (y1[edge]! < y2[edge]! ? y2[edge]! : y1[edge]!) - hull.side;
}

/** What stops the body on its side is only the tip at an edge's end: that ends where the sweep no longer meets it. */
export function endAtTip({ s, terrain, hull }: Body, edge: number): void {
  const margin = hull.touch - hull.touch / (2 * TIP);
  s[WALL_X] = terrain.x2[edge]!;
  s[WALL_LOW] = terrain.y2[edge]! - margin;
  s[WALL_HIGH] = terrain.y2[edge]! + margin - hull.side;
}

/** Past the end of the wall that it touched, the body is free to move on, unless another wall stands there. */
export function leaveWall(body: Body): void {
  const { s, motion } = body;
  const wall = s[WALL]!;
  const side = s[WALL_SIDE]!;
  const low = s[WALL_LOW]! + body.nears[body.terrain.set[wall]!]!.motion[MY]!;
  for (let i = 0; i < 64 && besideWall(body, wall) > motion.touch; i++) s[Y] = nudge(s[Y]!, s[Y]! > low);
  // Beside what moves the place is measured anew each time, which costs more than the last bit.
  if (body.terrain.set[wall]! > 0 || s[FRAME] !== 0) {
    const up = s[VY]! > body.nears[body.terrain.set[wall]!]!.motion[MVY]!;
    s[Y] = s[Y]! + (up ? motion.touch : -motion.touch) / 64;
  }
  s[WALL] = -1;
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

/** Speeds closer than this share of them are one. */
export const RESTS = 1e-9;

/** The smallest step that is sure to change a coordinate. */
export function nudge(value: number, up: boolean): number {
  const step = Math.abs(value) * 2.220446049250313e-16 + 1e-300;
  return up ? value + step : value - step;
}
