import { SLACK } from '../tolerance.js';
import { JUMP } from '../input/intents.js';
import type { Body } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { HELD, HELD_ACTIONS, JUMPING, KEPT, KEY, LAUNCHED, LET_GO, RELEASED, VY } from '../state/layout.js';

/** Letting go of the key early makes a jump lower, whichever it is: latched until the next takeoff. */
export function letGo(body: Body): void {
  const { s, clock, motion } = body;
  if (s[JUMPING] !== 1 || s[KEY] === RELEASED || s[KEY] === KEPT) return;
  if (s[KEY] === HELD && s[HELD_ACTIONS + JUMP] === 0) s[KEY] = LET_GO;
  if (s[KEY] === LET_GO && clock[NOW]! - s[LAUNCHED]! >= motion.minHold - SLACK) {
    s[KEY] = RELEASED;
    if (s[VY]! <= 0 || motion.cutTo === 1) return;
    s[VY] = s[VY]! * motion.cutTo;
    // What the speed that is left makes possible (a glide, a wall, a lip) begins at this moment.
    body.again = true;
  }
}
