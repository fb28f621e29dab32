import { say } from './what.js';
import { BESIDE, NY, SIDE, forget } from '../state/touches.js';
import { HELP_APART, SLACK } from '../tolerance.js';
import { feelBeside, isHeldBeside, topOfWall } from './sides.js';
import { MVY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { FRAME, GROUND, HIGHEST, LANDED, LANDING, LIPPED, ON_LEDGE, SUPPORT, VY, WISH, X, Y } from '../state/layout.js'; // prettier-ignore
import { FLOOR, WALL_LEFT, WALL_RIGHT } from '../terrain/terrain.js';
import { hasRoom } from './room.js';
import { stand } from './stance.js';
import { stepUp } from './step.js';

/**
 * Lip assist: near the top of its arc a body moves into a side whose top is only a little above the feet. It is lifted
 * onto it, if there is room, and keeps its speed across.
 * @param wall the side it moves into
 * @returns whether the body now stands on top
 */
export function liftOnto(body: Body, wall: number): boolean {
  const { s, motion, terrain, clock } = body;
  if (
    motion.lip === 0 ||
    s[SUPPORT] === GROUND ||
    s[SUPPORT] === ON_LEDGE ||
    clock[NOW]! - s[LIPPED]! < HELP_APART - SLACK
  )
    return false;
  // Past what moves its speed is that past it.
  if (Math.abs(s[VY]! - body.nears[terrain.set[wall]!]!.motion[MVY]!) > motion.lipSpeed + SLACK) return false;
  const { kind } = terrain;
  if (kind[wall] !== WALL_LEFT && kind[wall] !== WALL_RIGHT) return false;
  const way = kind[wall] === WALL_LEFT ? 1 : -1;
  const top = topOfWall(body, wall);
  const up = top - s[Y]!;
  const floor = topOf(body, wall, way);
  if (floor < 0 || !(up > 0 && up <= motion.lip + motion.touch)) return false;
  // Just so far over the edge that it holds the flat of the feet.
  const over = (body.hull.side + 2 * motion.touch) * way;
  if (!hasRoom(body, s[X]!, s[Y]!, 0, up) || !hasRoom(body, s[X]!, top, over, 0)) return false;
  const told = body.tell('lip');
  told.side = way > 0 ? 'right' : 'left';
  told.moved = up;
  const landing = say(body, body.tell('touchdown'), floor);
  landing.speed = s[LANDING] = s[VY]! < 0 ? -s[VY]! : 0;
  landing.fallen = s[HIGHEST]! > top ? s[HIGHEST]! - top : 0;
  s[X] = s[X]! + over;
  s[VY] = 0;
  forget(s, BESIDE);
  s[LIPPED] = s[LANDED] = clock[NOW]!;
  stand(body, floor);
  return true;
}

/** The level ground on top of a wall, or −1. */
export function topOf({ terrain }: Body, wall: number, way: number): number {
  const floor = way > 0 ? terrain.next[wall]! : terrain.prev[wall]!;
  return floor >= 0 && terrain.kind[floor] === FLOOR ? floor : -1;
}

/**
 * The same for a body beside a side that it presses into, as soon as that may be: what moved may have come to rest no higher than a step.
 */
export function pressOnto(body: Body): boolean {
  const { s, terrain } = body;
  if (isHeldBeside(body)) feelBeside(body);
  const wall = s[BESIDE]!;
  if (wall < 0 || s[WISH] === 0 || s[WISH]! > 0 !== s[BESIDE + SIDE]! > 0) return false;
  if (s[SUPPORT] !== GROUND) return liftOnto(body, wall);
  // What does not move was met as high as it is; what still goes up or down is waited for.
  const set = terrain.set[wall]!;
  if (set === s[FRAME] || body.nears[set]!.motion[MVY] !== 0) return false;
  const kind = terrain.kind[wall]!;
  return (kind === WALL_LEFT || kind === WALL_RIGHT) && s[BESIDE + NY] === 0 && stepUp(body, wall, s[BESIDE + SIDE]!);
}
