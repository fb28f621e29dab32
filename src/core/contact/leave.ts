import { say } from './what.js';
import { BESIDE, LOW, SLANT, forget } from '../state/touches.js';
import { CLEARS, TIP } from '../tolerance.js';
import type { Body } from '../state/body.js';
import { DRIFTS, FACE_ENDS, NOW, SUPPORT_ENDS, WALL_ENDS } from '../state/clock.js';
import { isMoving } from '../state/frame.js';
import { AIRBORNE, BAND, COUNTED_WALL, COYOTE, EDGE, END, FALL, FRAME, GROUND, HELD, HIGHEST, JUMPING, KEPT, KEY, LAUNCHED, LEFT_AT, LOCK_FOR, NONE, PHASE, PIT, RAMP, RAN, SUPPORT, VX, VY, X, Y } from '../state/layout.js'; // prettier-ignore
import { spend } from '../state/rights.js';
import { NORMAL_X, NORMAL_Y, TOUCH_LENGTH, WHEN } from '../sweep/ties.js';
import { FLOOR } from '../terrain/terrain.js';
import { bump } from './bump.js';
import { BELOW, FEET, FOUND_EDGE, SLOPE, findGround, here, isGround, ownSpeed, slopeHere, stretch } from './ground.js';
import { turnsBack } from './footing.js';
import { borrow, leaveFrame } from './riding.js';
import { hasRoom, inTheWay } from './room.js';
import { blockOnGround, leaveWall, nudge, rememberFace } from './sides.js';
import { goOnto, tellStep } from './stance.js';
import { stepUp } from './step.js';
const onward = { way: 0, down: 0 };

/**
 * Gives up what has ended with the piece.
 * @param t how long the piece lasted, s
 * @param way the way that the body went across: −1, 0 or 1
 */
export function leaveWhatEnded(body: Body, t: number, way: number): void {
  const { s, clock } = body;
  if (/* rule: a slide ends with its face */ t >= clock[FACE_ENDS]!) {
    rememberFace(body);
    forget(s, SLANT);
  }
  if (/* rule: ground is left where it ends */ t >= clock[SUPPORT_ENDS]!) leaveSupport(body, way);
  if (t >= clock[WALL_ENDS]! && s[BESIDE]! >= 0) leaveWall(body);
}

/** The ground that goes on from where it ends; and what is in the way there. */
const found = stretch();
const obstacle = new Float64Array(TOUCH_LENGTH);

/** At the end of a stretch of ground: on to the next one, down a step, or into the air. */
function leaveSupport(body: Body, way: number): void {
  const { s, motion, hull } = body;
  const before = slopeHere(body);
  const wasAt = s[X]!;
  const wasY = s[Y]!;
  onward.way = way;
  onward.down = motion.step;
  // Down a step a cut corner has to pass the edge as well.
  const past = (hull.side + motion.touch) * way;
  if (hull.side > 0 && onStepAhead(body, way) && hasRoom(body, s[X]!, s[Y]!, past, 0)) {
    s[X] = s[X]! + past;
    forget(s, BESIDE);
  }
  if (findGround(body, s[X]!, s[Y]!, onward, found)) {
    const drop = found[BELOW]!;
    if (drop <= motion.touch && turnsBack(body, found[FOUND_EDGE]!, found[SLOPE]!, way)) {
      s[VX] = 0;
      return;
    }
    if (drop > motion.touch) clearEnd(body, way);
    if (drop <= motion.touch || hasRoom(body, s[X]!, s[Y]!, 0, -drop)) {
      goOnto(body, found, before);
      if (drop > motion.touch) tellStep(body, -drop);
      return;
    }
  }
  if (crossesGap(body, way)) return;
  if (stopsAtCrevice(body, way)) return;
  s[RAN] = ownSpeed(body);
  clearEnd(body, way);
  s[Y] = wasY + (s[X]! - wasAt) * before;
  say(body, body.tell('leave'), s[EDGE]!);
  leaveFrame(body, false, way);
  // What stopped it only because it stood is met anew.
  if (s[BESIDE + LOW] === -Infinity) forget(s, BESIDE);
  // What the ground has carried off it against its will is past the end: else it would be back at once, and off again, without end.
  const least = motion.cap * CLEARS;
  if (body.clock[DRIFTS]! * way > 0 && s[VX]! * way < least) s[VX] = least * way;
  s[SUPPORT] = NONE;
  s[EDGE] = -1;
  s[PHASE] = FALL;
  s[COYOTE] = 1;
  s[LEFT_AT] = s[AIRBORNE] = body.clock[NOW]!;
}

/** Over a gap exactly as wide as the body: for a moment neither side holds it, but it does not fall. */
function crossesGap(body: Body, way: number): boolean {
  const { s, motion } = body;
  if (way === 0 || slopeHere(body) !== 0) return false;
  const over = way * motion.touch * (s[END] === 0 ? 3 : 2 / TIP);
  if (!findGround(body, s[X]! + over, s[Y]!, onward, found) || found[SLOPE] !== 0) return false;
  if (Math.abs(found[BELOW]!) > motion.touch || !hasRoom(body, s[X]!, s[Y]!, over, 0)) return false;
  s[X] = s[X]! + over;
  goOnto(body, found, 0);
  return true;
}

/** Whether the ground goes on lower down, by no more than a step. */
function onStepAhead(body: Body, way: number): boolean {
  const { s, motion, hull } = body;
  const x = s[X]! + (hull.side + motion.touch) * way;
  return (
    !(findGround(body, s[X]!, s[Y]!, onward, found) && found[BELOW]! <= motion.touch) &&
    findGround(body, x, s[Y]!, onward, found) &&
    found[BELOW]! > motion.touch
  );
}

/**
 * Where the body would come off its ground only to be held at once by a steep face on the other side, it stops: there is no room to fall.
 */
function stopsAtCrevice(body: Body, way: number): boolean {
  const { s, motion } = body;
  if (way === 0) return false;
  // Rounding may bring the end of a slope before what stands there.
  const slope = slopeHere(body) * way;
  const ahead = slope === 0 ? -1 : inTheWay(body, s[X]!, s[Y]!, way * motion.touch, slope * motion.touch, obstacle);
  const opposes = obstacle[NORMAL_X]! * way + obstacle[NORMAL_Y]! * slope < 0;
  // (What moves past is none: it is met as such.)
  if (
    ahead >= 0 &&
    !isMoving(body, ahead) &&
    opposes &&
    obstacle[NORMAL_X]! * way < 0 &&
    !isOntoGround(body, ahead, obstacle[NORMAL_X]!)
  ) {
    if (obstacle[NORMAL_Y] === 0 && stepUp(body, ahead, way)) return true;
    if (s[VX] !== 0) bump(body, ahead, way > 0 ? 'right' : 'left', Math.abs(s[VX]!));
    blockOnGround(body, ahead, way);
    return true;
  }
  const near = 3 * motion.touch;
  let edge = inTheWay(body, s[X]!, s[Y]!, way * near, -near, obstacle);
  // Beside a wall it would come down on what is there.
  if (edge >= 0 && obstacle[NORMAL_X] === -way)
    edge = inTheWay(body, s[X]! + way * near * obstacle[WHEN]!, s[Y]!, 0, -near, obstacle);
  if (
    edge < 0 ||
    isMoving(body, edge) ||
    obstacle[NORMAL_X]! * way >= 0 ||
    !(obstacle[NORMAL_Y]! > 0) ||
    isOntoGround(body, edge, obstacle[NORMAL_X]!)
  )
    return false;
  s[X] = s[X]! - 2 * way * motion.touch;
  here(body, found);
  s[Y] = found[FEET]! + 0;
  if (s[VX] !== 0) bump(body, edge, way > 0 ? 'right' : 'left', Math.abs(s[VX]!));
  blockOnGround(body, edge, way);
  return true;
}

/** Whether what was found in the way is ground met with the feet, and not with a cut corner. */
function isOntoGround(body: Body, edge: number, nx: number): boolean {
  return isGround(body, edge) && nx === body.terrain.nx[edge];
}

/** No more than `touch` over the end, whatever rounding made of it: else it would catch the body again. */
function clearEnd({ s, terrain, motion, hull }: Body, way: number): void {
  const left = s[EDGE]!;
  const end = s[END]!;
  if (end === 0 && terrain.kind[left] !== FLOOR) return;
  const corner =
    end === 0 ? (way > 0 ? terrain.x2[left]! : terrain.x1[left]!) : end > 0 ? terrain.x2[left]! : terrain.x1[left]!;
  const least = end === 0 ? motion.touch : motion.touch / TIP;
  for (let i = 0; i < 64 && hull.flat - (s[X]! - corner) * way > least; i++) s[X] = nudge(s[X]!, way > 0);
  // Off what moves the place is measured anew, which costs more than the last bit.
  if (s[FRAME] !== 0) s[X] = s[X]! + (way * motion.touch) / 64;
}

/** Sets a body off upwards, and spends the right that it used. */
export function takeOff(body: Body, speed: number, by: string, kept: boolean): void {
  const { s, motion, clock } = body;
  if (motion.launchNormal && s[SUPPORT] === GROUND && s[PIT] === 0) {
    // At a right angle to the slope: the launch speed is that of the whole jump.
    const slope = slopeHere(body);
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
  forget(s, SLANT);
  if (s[BESIDE + LOW] === -Infinity) forget(s, BESIDE);
}
