import { TOUCH_LENGTH } from '../sweep/ties.js';
import { slopeHere } from './ground.js';
import { ABOVE, BESIDE, NY, SIDE, SLANT, forget } from '../state/touches.js';
import type { Body } from '../state/body.js';
import { X, Y } from '../state/layout.js';
import { inTheWay } from './room.js';

/**
 * A body of another size touches other things: what stood in its way may be out of it now, and what is overhead may be nearer or farther. What still
 * does is met again at once.
 */
export function feelAnew(body: Body): void {
  const { s } = body;
  if (s[BESIDE]! >= 0 && !isInTheWay(body, s[BESIDE + SIDE]!)) forget(s, BESIDE);
  if (s[SLANT]! >= 0 && s[SLANT + NY]! < 0) forget(s, SLANT);
  forget(s, ABOVE);
}

const obstacle = new Float64Array(TOUCH_LENGTH);

/** Whether anything keeps the body from going to one side, along the ground where it stands. */
function isInTheWay(body: Body, side: number): boolean {
  const { s, motion } = body;
  const by = 2 * side * motion.touch;
  return inTheWay(body, s[X]!, s[Y]!, by, slopeHere(body) * by, obstacle) >= 0;
}
