import { say } from './what.js';
import { OPPOSITE } from '../state/touches.js';
import { FALLS_MORE } from '../tolerance.js';
import { ownSpeed } from './ground.js';
import { MAY, MVX, MVY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { intoFrame, isMoving } from '../state/frame.js';
import { COYOTE, EDGE, FRAME, GROUND, LEFT_AT, PIT, RAN, SUPPORT, VX, VY } from '../state/layout.js';
import { leaveAny } from './leave.js';

/**
 * What carries the body may fall away faster than the body itself would: then it flies. A jump of the velocity, as where a route turns at once, throws
 * nothing off. And a body held between two things falls as soon as these move apart.
 */
export function mayFly(body: Body): void {
  const { s, frame, moving, motion, clock } = body;
  if (s[SUPPORT] !== GROUND) return;
  const carrier = s[FRAME]!;
  if (s[PIT] === 1 && s[OPPOSITE]! >= 0) {
    if (isMoving(body, s[OPPOSITE]!)) {
      leaveAny(body);
      return;
    }
  }
  if (carrier === 0) return;
  const falling = motion.falling * body.zoneGravity;
  if (moving!.movers[carrier - 1]!.route) {
    if (frame[MAY]! >= -falling * FALLS_MORE) return;
    fly(body);
  } else if (moving!.isThrown(carrier, clock[NOW]!, falling)) {
    const wx = frame[MVX]!;
    const wy = frame[MVY]!;
    fly(body);
    // As it was carried in the tick before.
    moving!.went(carrier);
    s[VX] = s[VX]! + (moving!.at[MVX]! - wx);
    s[VY] = s[VY]! + (moving!.at[MVY]! - wy);
  }
}

/** With all that it has, and a moment in which a press is still a jump from the ground. */
function fly(body: Body): void {
  const { s, clock } = body;
  say(body, body.tell('leave'), s[EDGE]!);
  s[RAN] = ownSpeed(body);
  intoFrame(body, 0);
  leaveAny(body);
  s[COYOTE] = 1;
  s[LEFT_AT] = clock[NOW]!;
}
