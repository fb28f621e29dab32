import { JUMP } from '../../input/intents.js';
import { NOW, type Body } from '../body.js';
import {
  COYOTE, EDGE, GROUND, HELD, HELD_ACTIONS, HIGHEST, JUMPING, KEY, LAUNCHED, LEFT_AT, LET_GO, NONE, PRESS, PRESSED,
  RAMP, RELEASED, SLACK, SUPPORT, VY, Y,
} from '../state.js'; // prettier-ignore

/** One press, one jump: from the ground, or for a moment after leaving an edge. Letting go early makes it lower. */
export function jump(body: Body): void {
  const { s, motion } = body;
  if (s[PRESS] === 1) {
    const waited = body.clock[NOW]! - s[PRESSED]!;
    if (waited > motion.buffer + SLACK) s[PRESS] = 0;
    else if (s[SUPPORT] === GROUND) takeoff(body, 'ground', waited > SLACK);
    else if (coyoteOpen(body)) takeoff(body, 'coyote', waited > SLACK);
  }
  if (s[JUMPING] === 1 && s[KEY] !== RELEASED) {
    if (s[KEY] === HELD && s[HELD_ACTIONS + JUMP] === 0) s[KEY] = LET_GO;
    if (s[KEY] === LET_GO && body.clock[NOW]! - s[LAUNCHED]! >= motion.minHold - SLACK) {
      s[KEY] = RELEASED;
      if (s[VY]! > 0) s[VY] = s[VY]! * motion.cutTo;
    }
  }
}

/** Whether a jump in the air would still count as one from the ground. */
export function coyoteOpen(body: Body): boolean {
  return body.s[COYOTE] === 1 && body.clock[NOW]! - body.s[LEFT_AT]! <= body.motion.coyote + SLACK;
}

/** Jumps that a press could start now. */
export function jumpsLeft(body: Body): number {
  return body.s[SUPPORT] === GROUND || coyoteOpen(body) ? 1 : 0;
}

function takeoff(body: Body, by: 'ground' | 'coyote', buffered: boolean): void {
  const { s } = body;
  const told = body.tell('takeoff');
  told.by = by;
  told.buffered = buffered;
  s[VY] = body.motion.launch;
  s[SUPPORT] = NONE;
  s[EDGE] = -1;
  s[JUMPING] = 1;
  s[KEY] = HELD;
  s[LAUNCHED] = body.clock[NOW]!;
  s[PRESS] = 0;
  s[COYOTE] = 0;
  s[HIGHEST] = s[Y]!;
  s[RAMP] = 0;
}
