import { topOfWall } from './sides.js';
import { MX } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { FOOTFALLS, RIDGE_AT, STRIDE, VX, X, Y } from '../state/layout.js';
import { RIDGE, RIDGE_SPEED, RIDGES_APART } from '../tolerance.js';
import { BELOW, FOUND_EDGE, FOUND_END, SLOPE, findGround, slopeHere, stretch } from './ground.js';
import { hasRoom } from './room.js';
import { keepSpeed, stand, tellStep } from './stance.js';

/** Where the ground on top of a wall is looked for: nearest to its upper end, whatever its slope. */
const TOP = { way: 0, down: 0 };

const found = stretch();

/**
 * A step: running against an upright side whose top is ground, at most `slope.step` above the ground left. The body is moved up, where
 * there is room, and goes on at its speed.
 * @param side −1 or 1
 * @returns whether it was
 */
export function stepUp(body: Body, wall: number, side: number): boolean {
  const { s, motion } = body;
  const { touch } = motion;
  const top = topOfWall(body, wall);
  const up = top - s[Y]!;
  const isStep = motion.step > 0 && up <= motion.step + touch;
  if (!(up > 0 && (isStep || isRidge(body, up)))) return false;
  const x = s[X]!;
  // Just so far over the edge that it holds the flat of the feet.
  const over = (body.hull.side + 2 * touch) * side;
  const room = touch * (2 + 2 * motion.steepest);
  if (/* rule: steps need headroom */ !hasRoom(body, x, s[Y]!, 0, up + room) || !hasRoom(body, x, top + room, over, 0))
    return false;
  TOP.down = 2 * room;
  if (!findGround(body, x + over, top + room, TOP, found) || Math.abs(found[BELOW]! - room) > room) return false;
  const rise = up + room - found[BELOW]!;
  const edge = found[FOUND_EDGE]!;
  const end = found[FOUND_END]!;
  const strides = s[STRIDE]!;
  const steps = s[FOOTFALLS]!;
  const slope = found[SLOPE]!;
  const before = slopeHere(body);
  if (!isStep) s[RIDGE_AT] = x + body.frame[MX]!;
  s[X] = x + over;
  stand(body, edge, end);
  s[STRIDE] = strides;
  s[FOOTFALLS] = steps;
  keepSpeed(body, before, slope);
  tellStep(body, rise);
  return true;
}

/** Whether what is so far above the feet is so low that it stops nobody. */
function isRidge({ s, motion, frame }: Body, up: number): boolean {
  const { width, touch } = motion;
  return up <= width * RIDGE + touch && Math.abs(s[X]! + frame[MX]! - s[RIDGE_AT]!) >= width * RIDGES_APART;
}

/**
 * The same in the air: the feet are set on the ridge where there is room, and the body goes on as it went.
 * @param side −1 or 1
 */
export function passRidge(body: Body, wall: number, side: number): boolean {
  const { s, motion } = body;
  const top = topOfWall(body, wall);
  const up = top - s[Y]!;
  if (!(up > 0 && isRidge(body, up) && Math.abs(s[VX]!) > RIDGE_SPEED * motion.ground.speed)) return false;
  const over = (body.hull.side + 2 * motion.touch) * side;
  if (!hasRoom(body, s[X]!, s[Y]!, 0, up) || !hasRoom(body, s[X]!, top, over, 0)) return false;
  TOP.down = motion.touch;
  if (!findGround(body, s[X]! + over, top, TOP, found)) return false;
  s[RIDGE_AT] = s[X]! + body.frame[MX]!;
  s[X] = s[X]! + over;
  s[Y] = top;
  return true;
}
