import { JUMP } from '../../input/intents.js';
import { NOW, type Body } from '../body.js';
import { jumpSource, type JumpSource } from '../rights.js';
import {
  AIR_SPENT,
  BAND,
  COYOTE,
  EDGE,
  HELD,
  HELD_ACTIONS,
  HIGHEST,
  JUMPING,
  KEY,
  LAUNCHED,
  LET_GO,
  NONE,
  PRESS,
  PRESSED,
  RAMP,
  RELEASED,
  SLACK,
  SUPPORT,
  VY,
  Y,
} from '../state.js';

/** One press, one jump, from whatever grants it. Letting go early makes it lower. */
export function jump(body: Body): void {
  const { s, clock, motion } = body;
  if (s[PRESS] === 1) {
    const waited = clock[NOW]! - s[PRESSED]!;
    if (waited > motion.buffer + SLACK) s[PRESS] = 0;
    else {
      const source = jumpSource(body);
      if (source !== '') takeoff(body, source, waited > SLACK);
    }
  }
  if (s[JUMPING] === 1 && s[KEY] !== RELEASED) {
    if (s[KEY] === HELD && s[HELD_ACTIONS + JUMP] === 0) s[KEY] = LET_GO;
    if (s[KEY] === LET_GO && clock[NOW]! - s[LAUNCHED]! >= motion.minHold - SLACK) {
      s[KEY] = RELEASED;
      if (s[VY]! > 0) s[VY] = s[VY]! * motion.cutTo;
    }
  }
}

function takeoff(body: Body, by: Exclude<JumpSource, ''>, buffered: boolean): void {
  const { s, motion } = body;
  const told = body.tell('takeoff');
  told.by = by;
  told.buffered = buffered;
  const { airLaunch } = motion;
  const spent = s[AIR_SPENT]!;
  // The rising speed is set, never added to; endless jumps repeat the last height.
  s[VY] = by === 'air' ? airLaunch[spent < airLaunch.length ? spent : airLaunch.length - 1]! : motion.launch;
  if (by === 'air') s[AIR_SPENT] = spent + 1;
  else s[HIGHEST] = s[Y]!;
  s[BAND] = motion.band < s[VY]! ? motion.band : s[VY]!;
  s[SUPPORT] = NONE;
  s[EDGE] = -1;
  s[JUMPING] = 1;
  s[KEY] = HELD;
  s[LAUNCHED] = body.clock[NOW]!;
  s[PRESS] = 0;
  s[COYOTE] = 0;
  s[RAMP] = 0;
}
