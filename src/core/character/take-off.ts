import { NOW, type Body } from './body.js';
import { SLOPE, at, here } from './ground.js';
import { borrow, leaveFrame } from './frame.js';
import { rememberFace } from './faced.js';
import { spend } from './rights.js';
import {
  AIRBORNE,
  BAND,
  COUNTED_WALL,
  EDGE,
  FACE,
  FALL,
  FRAME,
  GROUND,
  HELD,
  HIGHEST,
  JUMPING,
  KEPT,
  KEY,
  LAUNCHED,
  LOCK_FOR,
  NONE,
  PHASE,
  PIT,
  RAMP,
  SUPPORT,
  VX,
  VY,
  WALL,
  WALL_LOW,
  Y,
} from './state.js';

/** Sets a body off upwards, and spends the right that it used. */
export function takeOff(body: Body, speed: number, by: string, kept: boolean): void {
  const { s, motion, clock } = body;
  if (motion.launchNormal && s[SUPPORT] === GROUND && s[PIT] === 0) {
    // At a right angle to the slope: the launch speed is that of the whole jump.
    here(body);
    const slope = at[SLOPE]!;
    const length = Math.sqrt(1 + slope * slope);
    s[VX] = s[VX]! - (speed * slope) / length + 0;
    s[VY] = speed / length;
  } else s[VY] = speed;
  intoAir(body);
  // What moves lends its velocity: what carried the body, or the wall that it jumps off.
  const wall = s[FRAME] === 0 && (by === 'wall' || by === 'wallCoyote') ? s[COUNTED_WALL]! : -1;
  leaveFrame(body, true);
  if (wall >= 0) borrow(body, body.terrain.set[wall]!);
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
  intoAir(body);
  leaveFrame(body, false);
  s[SUPPORT] = NONE;
  s[EDGE] = -1;
  s[PHASE] = FALL;
  s[AIRBORNE] = clock[NOW]!;
  s[JUMPING] = 0;
  s[RAMP] = 0;
}

/** What held only because the body stood holds no longer. */
function intoAir(body: Body): void {
  const { s } = body;
  rememberFace(body);
  s[PIT] = 0;
  s[FACE] = -1;
  if (s[WALL_LOW] === -Infinity) s[WALL] = -1;
}
