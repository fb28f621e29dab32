import { SLACK } from '../tolerance.js';
import type { Body } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { APEX, AT_APEX, BRAKE, FALLING, FOOTFALLS, GROUND, IDLE, JUMPING, LAND, LANDED, LAUNCHED, PHASE, POSE, POSE_SINCE, type PoseName, RISING, RUNNING, SHOWS_FOR, SHOWS_FROM, SLIDE, SLIP, STRIDE, SUPPORT, TURN, VX, VY, WALL, WANT, WANT_SINCE, WAS_STRIDES, WISH } from '../state/layout.js'; // prettier-ignore

/** Strides run since the body last stood still; 0 where there is no stride. */
export function stridesRun(s: Float64Array, halfStride: number): number {
  return halfStride < Infinity ? (s[FOOTFALLS]! + s[STRIDE]! / halfStride) / 2 : 0;
}

/** Keeps them for drawing between ticks: stored, not handed over, so that nothing is boxed. */
export function keepStrides(s: Float64Array, halfStride: number): void {
  s[WAS_STRIDES] = halfStride < Infinity ? (s[FOOTFALLS]! + s[STRIDE]! / halfStride) / 2 : 0;
}

/**
 * How far through a pose, 0 to 1: what a clip that fits the motion is played by.
 * @param time seconds spent in it
 * @param strides run since the body last stood still
 * @param ago how long ago what is drawn is, s
 */
export function posePhase(body: Body, pose: PoseName, time: number, strides: number, ago: number): number {
  const { s, clock, motion } = body;
  if (pose === 'run' || pose === 'crouch') return strides - Math.floor(strides);
  if (pose === 'land') return share(time, motion.poseLand);
  // What is shown is what is wanted: else it still shows what was before.
  return s[SHOWS_FOR]! > 0 && s[WANT] === s[POSE] ? share(clock[NOW]! - ago - s[SHOWS_FROM]!, s[SHOWS_FOR]!) : 0;
}

function share(time: number, whole: number): number {
  return time <= 0 ? 0 : time < whole ? time / whole : 1;
}

/**
 * Which pose to show. A takeoff and a touchdown show at once, and so does what follows the landing pose; any other
 * change is shown once it has lasted `pose.settle` seconds, so that flickers never are.
 */
export function updatePose(body: Body): void {
  const { s, motion, clock } = body;
  const now = clock[NOW]!;
  if (s[WANT] !== s[POSE] && now - s[WANT_SINCE]! >= motion.poseSettle - SLACK)
    show(body, s[WANT]!, s[WANT_SINCE]! + motion.poseSettle);
  const want = wanted(body);
  if (want === s[WANT]) return;
  const before = s[WANT]!;
  s[WANT] = want;
  if (want === LAND) show(body, LAND, s[LANDED]!);
  else if (want === RISING && s[JUMPING] === 1 && s[LAUNCHED]! >= s[WANT_SINCE]!) show(body, RISING, s[LAUNCHED]!);
  else if (before === LAND) {
    const over = s[LANDED]! + motion.poseLand;
    show(body, want, over < now ? over : now);
  } else s[WANT_SINCE] = now;
}

/** At a tick's end: what is only waited for may have come. */
export function waitForPose(body: Body): void {
  const { s } = body;
  if (s[WANT] !== s[POSE] || s[WANT] === LAND) updatePose(body);
}

function show({ s }: Body, pose: number, since: number): void {
  s[POSE] = pose;
  s[POSE_SINCE] = since;
  s[WANT_SINCE] = since;
}

function wanted(body: Body): number {
  const { s } = body;
  if (body.showing >= 0) return body.showing;
  if (s[PHASE] === SLIP) return SLIDE;
  if (s[SUPPORT] !== GROUND) return s[PHASE] === APEX ? AT_APEX : s[VY]! > 0 ? RISING : FALLING;
  const wish = s[WISH]!;
  const v = s[VX]!;
  if (wish === 0 || (v === 0 && s[WALL]! >= 0)) {
    if (body.clock[NOW]! - s[LANDED]! < body.motion.poseLand - SLACK) return LAND;
    return v === 0 ? IDLE : BRAKE;
  }
  return wish * v < 0 ? TURN : RUNNING;
}
