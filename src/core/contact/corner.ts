import { TOUCH_LENGTH } from '../sweep/ties.js';
import { BESIDE, forget } from '../state/touches.js';
import { HELP_APART, SLACK } from '../tolerance.js';
import type { Body } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { CORNERED, FACING, WISH, X, Y } from '../state/layout.js';
import { hasRoom, inTheWay } from './room.js';

/** Undersides in a row that are tried on one side. */
const TRIES = 8;
const obstacle = new Float64Array(TOUCH_LENGTH);

/**
 * Corner correction: the head has met an underside, and a little to one side it could rise past. The body is moved
 * there, by at most `grace.corner` and never through anything, and keeps its speed. Never against a held key.
 * @param edge the underside met
 * @returns whether the body was moved, so that the rise goes on
 */
export function slipPast(body: Body, edge: number): boolean {
  const { s, motion, clock } = body;
  if (motion.corner === 0 || clock[NOW]! - s[CORNERED]! < HELP_APART - SLACK) return false;
  const x = s[X]!;
  const right = s[WISH]! < 0 ? NaN : freePlace(body, edge, 1);
  const left = s[WISH]! > 0 ? NaN : freePlace(body, edge, -1);
  // Of two places as near as each other, the one on the way faced.
  const farther = right - x - (x - left);
  const toRight = Math.abs(farther) <= motion.touch ? s[FACING]! > 0 : farther < 0;
  const place = Number.isNaN(left) || toRight ? right : left;
  if (Number.isNaN(place)) return false;
  const told = body.tell('corner');
  told.side = place > x ? 'right' : 'left';
  told.moved = Math.abs(place - x);
  s[X] = place;
  forget(s, BESIDE);
  s[CORNERED] = clock[NOW]!;
  return true;
}

/** The nearest place on one side from which the body could rise on by more than `touch`; NaN where there is none. */
function freePlace(body: Body, edge: number, way: number): number {
  const { s, motion, terrain } = body;
  const { half, touch } = motion;
  const x = s[X]!;
  const y = s[Y]!;
  for (let tries = 0; edge >= 0 && tries < TRIES; tries++) {
    // Undersides run from right to left.
    const place = way > 0 ? terrain.x1[edge]! + half : terrain.x2[edge]! - half;
    if ((place - x) * way > motion.corner + touch) return NaN;
    edge = inTheWay(body, place, y, 0, 2 * touch, obstacle);
    if (edge < 0) return hasRoom(body, x, y, place - x, 0) ? place : NaN;
  }
  return NaN;
}
