import { leaveWhatEnded } from '../contact/leave.js';
import { cutWhereTouchesEnd } from '../contact/ends.js';
import { SLANT } from '../state/touches.js';
import { sumStrides } from './strides.js';
import { cutWhereThrough } from '../contact/drop.js';
import { FOREVER, LONGEST, SAME_MOMENT, SLACK, SPEED_ROUNDING } from '../tolerance.js';
import { cutWhereClear } from '../contact/clear.js';
import { cutWhereFree } from '../contact/crush.js';
import { FEET, SLOPE, here, stretch } from '../contact/ground.js';
import { keepBeside } from '../contact/sides.js';
import { JUMP } from '../input/intents.js';
import type { Body } from '../state/body.js';
import {
  ENDS_AT,
  FACE_ENDS,
  LOOK_AT,
  NOW,
  SUPPORT_ENDS,
  WALL_ENDS,
  X_ENDS,
  X_END_SPEED,
  Y_ENDS,
  Y_END_SPEED,
} from '../state/clock.js';
import { keepReach, mayBeMet, placeSets } from '../state/frame.js';
import { COYOTE, EASING, FRAME, GROUND, HIGHEST, JUMPING, KEY, LAUNCHED, LEFT_AT, LEFT_WALL_AT, LET_GO, NONE, ON_RAMP, PHASE, PIT, PRESSES, RAMP, SUPPORT, VX, VY, WALL_COYOTE, X, Y } from '../state/layout.js'; // prettier-ignore
import { airReady } from '../state/rights.js';
import { AT, AT_VX, AT_VY, AT_X, AT_Y, PAX, PAY, PJY, PVX, PVY, RATE, T, locate, wayX } from '../sweep/path.js'; // prettier-ignore
import { crossBorders, cutAtBorders } from './borders.js';
import { cutWhereZonesChange } from './zones.js';

/** Finds out how long the path of this piece stays valid. */
export function layUntilItEnds(body: Body): void {
  const { path, clock } = body;
  let time = Infinity;
  if (clock[X_ENDS]! < time) time = clock[X_ENDS]!;
  if (clock[Y_ENDS]! < time) time = clock[Y_ENDS]!;
  if (clock[FACE_ENDS]! < time) time = clock[FACE_ENDS]!;
  clock[SUPPORT_ENDS] = Infinity;
  clock[WALL_ENDS] = Infinity;
  layUntil(body, time);
  cutWhereTouchesEnd(body);
  if (body.dropped[0]! >= 0) cutWhereThrough(body);
  cutAtPlaces(body);
  // What ends later is not reached in this piece.
  if (path[T]! < clock[SUPPORT_ENDS]!) clock[SUPPORT_ENDS] = Infinity;
  if (path[T]! < clock[WALL_ENDS]!) clock[WALL_ENDS] = Infinity;
  if (path[T]! < clock[FACE_ENDS]!) clock[FACE_ENDS] = Infinity;
}

/**
 * Ends the piece when anything ends it that does not depend on where the body is: windows and timers, movers that wait or are apart. What moves is looked
 * at again after a while, so that what is in its way is near.
 * @param time until when its own drive lasts, s
 */
export function layUntil(body: Body, time: number): void {
  const { s, path, clock, motion, timers } = body;
  const now = clock[NOW]!;
  let ends = isStill(body) ? FOREVER : LONGEST;
  if (time < ends) ends = time;
  if (clock[LOOK_AT]! - now < ends) ends = clock[LOOK_AT]! - now;
  if (s[JUMPING] === 1 && s[KEY] === LET_GO && s[LAUNCHED]! + motion.minHold - now < ends)
    ends = s[LAUNCHED]! + motion.minHold - now;
  if (ends < 0) ends = 0;
  if (s[PRESSES + JUMP]! >= 0) ends = untilJump(body, ends);
  for (let i = 0; i < timers.length; i++) {
    const until = s[timers[i]!]! - now;
    if (until > SLACK && until < ends) ends = until;
  }
  path[T] = path[AT] = body.again ? 0 : ends;
  locate(path);
  if (body.moving !== undefined) {
    keepReach(body);
    cutWhereFree(body);
    cutWhereClear(body);
  }
}

/** Whether nothing ever happens to the body by itself: it does not move, and neither does what may come near. */
function isStill(body: Body): boolean {
  const { path, s } = body;
  if (path[PVX] !== 0 || path[PVY] !== 0 || path[PAX] !== 0 || path[PAY] !== 0 || path[PJY] !== 0 || path[RATE] !== 0)
    return false;
  return body.moving === undefined || (s[FRAME] === 0 && !mayBeMet(body));
}

/** Ends the piece where it comes into a zone, or out of one, or to a border of the level. */
export function cutAtPlaces(body: Body): void {
  cutWhereZonesChange(body);
  if (body.bordered) cutAtBorders(body);
}

/**
 * A waiting press acts as soon as a jump is allowed: the next endless one, or what comes after a window that has closed
 * (an ability that kept the window's jump from starting may let another start).
 */
function untilJump(body: Body, time: number): number {
  const { s, clock, motion } = body;
  const now = clock[NOW]!;
  const oldest = s[PRESSES + JUMP]! + motion.buffer + SLACK;
  const soonest = (at: number): void => {
    if (at > now && at - now < time && at <= oldest) time = at - now;
  };
  // A press that waits for the next endless one waits as long as that takes.
  const ready = airReady(body);
  const latest = s[PRESSES + JUMP]! + Math.max(motion.buffer, motion.airSpacing) + SLACK;
  if (ready > now + SLACK && ready - now < time && ready <= latest) time = ready - now;
  if (s[COYOTE] === 1) soonest(s[LEFT_AT]! + motion.coyote + 2 * SLACK);
  if (s[WALL_COYOTE] === 1) soonest(s[LEFT_WALL_AT]! + motion.wallCoyote + 2 * SLACK);
  return time;
}

/** It is the moment at which the piece ends. */
export function passTime(body: Body): void {
  const { clock } = body;
  clock[NOW] = clock[ENDS_AT]!;
  placeSets(body);
}

const ground = stretch();

/** Moves to where the path was located, and takes on exactly what ends there. */
export function advance(body: Body): void {
  const { s, path, clock } = body;
  const t = path[AT]!;
  // The path may have rounded a speed away that a body in the air has.
  const rose = path[PVY]! > 0 || (s[VY]! > 0 && s[SUPPORT] === NONE && s[FRAME] === 0);
  sumStrides(body);
  // Adding 0 turns −0 into 0.
  s[X] = path[AT_X]! + 0;
  s[Y] = path[AT_Y]! + 0;
  // An end that something else has come upon by a rounding is one with it.
  const now = t + SAME_MOMENT;
  if (now >= clock[X_ENDS]!) {
    s[VX] = clock[X_END_SPEED]! + 0;
    s[EASING] = 0;
  } else s[VX] = path[AT_VX]! + 0;
  s[VY] = (now >= clock[Y_ENDS]! ? clock[Y_END_SPEED]! : path[AT_VY]!) + 0;
  if (s[PHASE] === ON_RAMP) s[RAMP] = s[RAMP]! + t;
  if (s[Y]! > s[HIGHEST]!) s[HIGHEST] = s[Y]!;
  passTime(body);
  if (body.pushedAlong) keepBeside(body);
  // Along a face that has stopped moving, what is left of a speed is rounding.
  if (body.moving !== undefined && s[SLANT]! >= 0 && Math.abs(s[VY]!) < SPEED_ROUNDING * body.motion.cap) s[VY] = 0;
  if (s[VY] === 0 && rose && path[PAY]! < 0 && s[SUPPORT] !== GROUND) body.tell('apex');
  const way = wayX(path);
  if (s[SUPPORT] === GROUND && s[PIT] === 0 && path[PVY] !== 0) {
    here(body, ground);
    s[Y] = ground[FEET]! + 0;
    s[VY] = ground[SLOPE]! * s[VX]! + 0;
  }
  leaveWhatEnded(body, t, way);
  if (body.bordered) crossBorders(body);
}
