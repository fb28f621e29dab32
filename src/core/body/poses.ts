import { BESIDE } from '../state/touches.js';
import { SLACK } from '../tolerance.js';
import type { Body } from '../state/body.js';
import { NOW, POSE_AT, POSE_NOW } from '../state/clock.js';
import type { Motion } from '../tuning/motion.js';
import { APEX, AT_APEX, BRAKE, FALLING, GROUND, IDLE, JUMPING, LAND, LANDED, LAUNCHED, PHASE, POSE, POSE_SINCE, POSE_WAS, POSE_WAS_SINCE, type PoseName, RISING, RUNNING, SHOWS_FOR, SHOWS_FROM, SLIDE, SLIP, SUPPORT, TURN, VX, VY, WANT, WANT_SINCE, WISH } from '../state/layout.js'; // prettier-ignore

/**
 * How far through a pose, 0 to 1: what a clip that fits the motion is played by.
 * @param time seconds spent in it
 * @param strides run since the body last stood still
 * @param s the state that it is a pose of
 * @param now the moment, s of stage time
 */
export function posePhase(
  motion: Motion,
  pose: PoseName,
  time: number,
  strides: number,
  s: Float64Array,
  now: number,
): number {
  if (pose === 'run' || pose === 'crouch') return strides - Math.floor(strides);
  if (pose === 'land') return share(time, motion.poseLand);
  // What is shown is what is wanted: else it still shows what was before.
  return s[SHOWS_FOR]! > 0 && s[WANT] === s[POSE] ? share(now - s[SHOWS_FROM]!, s[SHOWS_FOR]!) : 0;
}

function share(time: number, whole: number): number {
  return time <= 0 ? 0 : time < whole ? time / whole : 1;
}

/**
 * Which pose to show. A takeoff and a touchdown show at once, and so does what follows the landing pose; any other
 * change is shown once it has lasted `pose.settle` seconds, so that flickers never are.
 */
export function updatePose(body: Body): void {
  body.clock[POSE_NOW] = body.clock[NOW]!;
  choosePose(body);
  planPose(body);
}

/** The moment has come at which the pose may change by itself. */
export function waitedForPose(body: Body): void {
  body.clock[POSE_NOW] = body.clock[POSE_AT]!;
  choosePose(body);
  planPose(body);
}

/** When the pose may change though nothing else does: what is wanted has been for long enough, or the landing is over. */
function planPose({ s, motion, clock }: Body): void {
  clock[POSE_AT] = Infinity;
  if (s[WANT] !== s[POSE]) clock[POSE_AT] = s[WANT_SINCE]! + motion.poseSettle;
  else if (s[WANT] === LAND && s[LANDED]! + motion.poseLand > s[POSE_SINCE]!)
    clock[POSE_AT] = s[LANDED]! + motion.poseLand;
}

function choosePose(body: Body): void {
  const { s, motion, clock } = body;
  const now = clock[POSE_NOW]!;
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

function show({ s }: Body, pose: number, since: number): void {
  s[POSE_WAS] = s[POSE]!;
  s[POSE_WAS_SINCE] = s[POSE_SINCE]!;
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
  if (wish === 0 || (v === 0 && s[BESIDE]! >= 0)) {
    if (body.clock[POSE_NOW]! - s[LANDED]! < body.motion.poseLand - SLACK) return LAND;
    return v === 0 ? IDLE : BRAKE;
  }
  return wish * v < 0 ? TURN : RUNNING;
}
