import { NOW, type Body } from './body.js';
import { spend } from './rights.js';
import {
  AIRBORNE,
  BAND,
  EDGE,
  FALL,
  HELD,
  HIGHEST,
  JUMPING,
  KEPT,
  KEY,
  LAUNCHED,
  LOCK_FOR,
  NONE,
  PHASE,
  RAMP,
  SUPPORT,
  VY,
  Y,
} from './state.js';

/** Sets a body off upwards, and spends the right that it used. */
export function takeOff(body: Body, speed: number, by: string, kept: boolean): void {
  const { s, motion, clock } = body;
  s[VY] = speed;
  spend(body, by);
  if (by !== 'air') s[HIGHEST] = s[Y]!;
  s[BAND] = motion.band < speed ? motion.band : speed;
  if (s[SUPPORT] !== NONE) s[AIRBORNE] = clock[NOW]!;
  s[SUPPORT] = NONE;
  s[EDGE] = -1;
  s[PHASE] = FALL;
  s[JUMPING] = 1;
  s[KEY] = kept ? KEPT : HELD;
  s[LAUNCHED] = clock[NOW]!;
  s[RAMP] = 0;
  s[LOCK_FOR] = 0;
}

/** Into the air without a jump. */
export function leaveAny(body: Body): void {
  const { s, clock } = body;
  if (s[SUPPORT] === NONE) return;
  s[SUPPORT] = NONE;
  s[EDGE] = -1;
  s[PHASE] = FALL;
  s[AIRBORNE] = clock[NOW]!;
  s[JUMPING] = 0;
  s[RAMP] = 0;
}
