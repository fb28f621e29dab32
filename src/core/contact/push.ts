import { slopeHere } from './ground.js';
import { BESIDE, HIGH, LOW, NX, NY, SIDE } from '../state/touches.js';
import { MAX, MAY, MVX, MVY, MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { EASING, EDGE, FRAME, GROUND, LOCK_FOR, PIT, PUSHED, SUPPORT, VX, VY, X, Y } from '../state/layout.js'; // prettier-ignore
import { CEILING, WALL_LEFT, WALL_RIGHT } from '../terrain/terrain.js';
import { bump } from './bump.js';
import { crush } from './crush.js';
import { LEANS, RESTS } from '../tolerance.js';
import { besideWall, endAtTip, touchWall } from './sides.js';
import { stepUp } from './step.js';

/**
 * The speed and the acceleration across with which the body keeps in touch with a surface that moves.
 * @param need where the two are stored
 */
export function following(
  { nears, terrain }: Body,
  edge: number,
  nx: number,
  ny: number,
  slope: number,
  need: Float64Array,
): void {
  const { motion } = nears[terrain.set[edge]!]!;
  if (ny === 0) {
    need[0] = motion[MVX]!;
    need[1] = motion[MAX]!;
    return;
  }
  const along = nx + ny * slope;
  need[0] = (nx * motion[MVX]! + ny * motion[MVY]!) / along + 0;
  need[1] = (nx * motion[MAX]! + ny * motion[MAY]!) / along + 0;
}

const pushed = new Float64Array(2);
const pressed = new Float64Array(2);

/**
 * On the ground, something that moves relative to it has met the body: it pushes it along, if it leans that way and there is room, or crushes it.
 * A body that runs into it is stopped by it, and goes as it goes.
 */
export function pushOnGround(body: Body, edge: number, nx: number, ny: number): void {
  const { s, terrain } = body;
  const need = pushed;
  const slope = slopeHere(body);
  const along = nx + ny * slope;
  const { motion } = body.nears[terrain.set[edge]!]!;
  const comes = nx * motion[MVX]! + ny * motion[MVY]!;
  // What only stands in the way, or goes out of it, presses nobody.
  const corner = s[PIT] === 1 || (nx !== 0 && ny !== 0) ? -1 : atCorner(body, edge, slope);
  if (corner >= 0) {
    if (terrain.kind[corner] !== CEILING) comeOut(body, corner, slope);
    pushOnGround(body, corner, terrain.nx[corner]!, terrain.ny[corner]!);
    return;
  }
  if (s[PIT] === 1 || along === 0 || (Math.abs(along) < LEANS && comes > 0)) {
    crush(body, edge, s[EDGE]!);
    return;
  }
  const side = along < 0 ? 1 : -1;
  following(body, edge, nx, ny, slope, need);
  const speed = need[0]!;
  const kind = terrain.kind[edge]!;
  const upright = (kind === WALL_LEFT || kind === WALL_RIGHT) && ny === 0;
  if (upright && stepUp(body, edge, side)) return;
  if (isBetween(body, edge, speed, side, slope)) return;
  if (s[VX]! * side > 0) bump(body, edge, side > 0 ? 'right' : 'left', Math.abs(s[VX]! - speed));
  tellPushed(body, edge, side, speed);
  s[VX] = speed;
  s[VY] = slope * speed + 0;
  s[EASING] = 0;
  s[LOCK_FOR] = 0;
  touchWall(body, edge, side);
  s[BESIDE + NX] = nx;
  s[BESIDE + NY] = ny;
  if (upright) return;
  if (ny === 0) endAtTip(body, edge);
  else {
    s[BESIDE + LOW] = -Infinity;
    s[BESIDE + HIGH] = Infinity;
  }
}

/**
 * At the corner between a level underside and a side, on ground that rises past it, which of the two is in the way follows from how they move on: beside
 * what goes up faster than its side would take the body, the body goes under it. Else it would be let go of by the one and stopped by the other, ever anew.
 * @returns the other of the two, where that is in the way instead; else −1
 */
function atCorner({ terrain, s, hull, nears }: Body, edge: number, slope: number): number {
  if (slope === 0) return -1;
  const { motion } = nears[terrain.set[edge]!]!;
  const under = slope * motion[MVX]! < motion[MVY]!;
  const near = 2 * hull.touch;
  if (terrain.kind[edge] === CEILING) {
    const x = s[X]! - motion[MX]!;
    const over = slope > 0 ? x + hull.half - terrain.x2[edge]! : terrain.x1[edge]! - (x - hull.half);
    const side = slope > 0 ? terrain.next[edge]! : terrain.prev[edge]!;
    const upright = side >= 0 && terrain.kind[side] === (slope > 0 ? WALL_LEFT : WALL_RIGHT);
    return upright && !under && over <= near ? side : -1;
  }
  if (terrain.kind[edge] !== (slope > 0 ? WALL_LEFT : WALL_RIGHT)) return -1;
  const roof = slope > 0 ? terrain.prev[edge]! : terrain.next[edge]!;
  if (!under || roof < 0 || terrain.kind[roof] !== CEILING) return -1;
  return s[Y]! + hull.height - motion[MY]! - terrain.y1[roof]! <= near ? roof : -1;
}

/** Comes out from under the end of an underside by the little that it is over it: right beside the side there. */
function comeOut({ s, terrain, hull, nears }: Body, side: number, slope: number): void {
  const x = terrain.x2[side]! + nears[terrain.set[side]!]!.motion[MX]! + (slope > 0 ? -hull.half : hull.half);
  s[Y] = s[Y]! + (x - s[X]!) * slope;
  s[X] = x;
}

/** Whether the body is pressed between what it has met on one side, and what it touches on the other, which come closer: then it is crushed. */
export function isBetween(body: Body, edge: number, speed: number, side: number, slope: number): boolean {
  const { s, terrain } = body;
  const need = pressed;
  const wall = s[BESIDE]!;
  if (wall < 0 || s[BESIDE + SIDE] !== -side || wall === edge) return false;
  const set = terrain.set[wall]!;
  if (set === terrain.set[edge] || (s[SUPPORT] !== GROUND && besideWall(body, wall) <= 0)) return false;
  if (Math.abs(s[BESIDE + NX]! + s[BESIDE + NY]! * slope) < LEANS) return false;
  following(body, wall, s[BESIDE + NX]!, s[BESIDE + NY]!, slope, need);
  if ((need[0]! - speed) * -side >= -RESTS * (Math.abs(speed) + Math.abs(need[0]!))) return false;
  crush(body, edge, wall);
  return true;
}

/** Told once, as long as it pushes. */
export function tellPushed(body: Body, edge: number, side: number, speed: number): void {
  const { s, terrain, level } = body;
  const set = terrain.set[edge]!;
  if (set === 0 || set === s[FRAME] || speed * side >= 0 || s[PUSHED] === 1 + set) return;
  s[PUSHED] = 1 + set;
  const told = body.tell('pushed');
  told.mover = level.movers[set - 1]!.name;
  told.side = side > 0 ? 'right' : 'left';
}
