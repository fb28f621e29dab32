import { NOW, type Body } from './body.js';
import {
  APEX, AT_APEX, BRAKE, FALLING, GROUND, IDLE, JUMPING, LAND, LANDED, LAUNCHED, PHASE, POSE, POSE_SINCE, RISING, RUNNING, SLACK, SLIDE, SLIP,
  SUPPORT, TURN, VX, VY, WALL, WANT, WANT_SINCE, WISH,
} from './state.js'; // prettier-ignore

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
  else if (want === RISING && s[JUMPING] === 1) show(body, RISING, s[LAUNCHED]!);
  else if (before === LAND) {
    const over = s[LANDED]! + motion.poseLand;
    show(body, want, over < now ? over : now);
  } else s[WANT_SINCE] = now;
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
