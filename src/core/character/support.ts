import { TIP } from '../sweep/slanted.js';
import { NORMAL_X, NORMAL_Y, WHEN } from '../sweep/ties.js';
import { FLOOR } from '../terrain/terrain.js';
import { NOW, type Body } from './body.js';
import { bump } from './bump.js';
import { leaveFrame, intoFrame, isMoving } from './frame.js';
import { BELOW, FEET, FOUND_EDGE, FOUND_END, SLOPE, at, findGround, here, isGround } from './ground.js';
import { restoreByGround } from './rights.js';
import { hasRoom, inTheWay, obstacle } from './room.js';
import { stepUp } from './step.js';
import { nudge, touchWall } from './walls.js';
import { X, Y, VX, VY, SUPPORT, EDGE, WALL, PHASE, JUMPING, AIRBORNE, COYOTE, LEFT_AT, HIGHEST, RAMP, EASING, GRIP, LOCK_FOR, STRIDE, FOOTFALLS, END, FRAME, WALL_LOW, WALL_HIGH, FACE, PIT, STEP, STEPPED, NONE, GROUND, ON_GROUND, FALL } from './state.js'; // prettier-ignore

/** Stands on a stretch of ground: its height is copied, so that feet at rest are the ground's own. */
export function stand(body: Body, edge: number, end = 0): void {
  const { s } = body;
  intoFrame(body, body.terrain.set[edge]!);
  s[SUPPORT] = GROUND;
  s[EDGE] = edge;
  s[END] = end;
  s[PIT] = 0;
  s[FACE] = -1;
  s[PHASE] = ON_GROUND;
  here(body);
  s[Y] = at[FEET]! + 0;
  // A wall beside it that is no higher than a step is met anew: it is one.
  const { motion, hull } = body;
  if (s[WALL]! >= 0 && s[WALL_HIGH]! + hull.side <= s[Y]! + motion.step + motion.touch) s[WALL] = -1;
  s[HIGHEST] = s[Y]!;
  s[JUMPING] = 0;
  s[RAMP] = 0;
  s[STRIDE] = 0;
  s[FOOTFALLS] = 0;
  s[GRIP] = -1;
  restoreByGround(body);
}

/** Stands on whatever holds the feet up where they are. @returns whether anything does */
export function standHere(body: Body): boolean {
  if (!findGround(body, body.s[X]!, body.s[Y]!, HERE)) return false;
  stand(body, at[FOUND_EDGE]!, at[FOUND_END]!);
  return true;
}

/** Goes on standing, on what was just found: the same ground by another number. */
export function standOnSame(body: Body): void {
  const { s } = body;
  const [edge, end] = [at[FOUND_EDGE]!, at[FOUND_END]!];
  intoFrame(body, body.terrain.set[edge]!);
  s[EDGE] = edge;
  s[END] = end;
}

/** Goes on to what was just found, from ground that rose by so much for each unit across. */
export function goOnto(body: Body, before: number): void {
  standOnSame(body);
  here(body);
  body.s[Y] = at[FEET]! + 0;
  keepSpeed(body, before, at[SLOPE]!);
}

const HERE = { way: 0, down: 0 } as const;
const onward = { way: 0, down: 0 };

/** At the end of a stretch of ground: on to the next one, down a step, or into the air. */
export function leaveSupport(body: Body, way: number): void {
  const { s, motion, hull } = body;
  here(body);
  const before = at[SLOPE]!;
  const wasAt = s[X]!;
  const wasY = s[Y]!;
  onward.way = way;
  onward.down = motion.step;
  // Down a step a cut corner has to pass the edge as well.
  const past = (hull.side + motion.touch) * way;
  if (hull.side > 0 && onStepAhead(body, way) && hasRoom(body, s[X]!, s[Y]!, past, 0)) {
    s[X] = s[X]! + past;
    s[WALL] = -1;
  }
  if (findGround(body, s[X]!, s[Y]!, onward)) {
    const drop = at[BELOW]!;
    if (drop > motion.touch) clearEnd(body, way);
    if (drop <= motion.touch || hasRoom(body, s[X]!, s[Y]!, 0, -drop)) {
      goOnto(body, before);
      if (drop > motion.touch) tellStep(body, -drop);
      return;
    }
  }
  here(body);
  if (crossesGap(body, way)) return;
  here(body);
  if (stopsAtCrevice(body, way)) return;
  clearEnd(body, way);
  s[Y] = wasY + (s[X]! - wasAt) * before;
  body.tell('leave');
  leaveFrame(body, false, way);
  // What stopped it only because it stood is met anew.
  if (s[WALL_LOW] === -Infinity) s[WALL] = -1;
  s[SUPPORT] = NONE;
  s[EDGE] = -1;
  s[PHASE] = FALL;
  s[COYOTE] = 1;
  s[LEFT_AT] = s[AIRBORNE] = body.clock[NOW]!;
}

/** Over a gap exactly as wide as the body: for a moment neither side holds it, but it does not fall. */
function crossesGap(body: Body, way: number): boolean {
  const { s, motion } = body;
  if (way === 0 || at[SLOPE] !== 0) return false;
  const over = way * motion.touch * (s[END] === 0 ? 3 : 2 / TIP);
  if (!findGround(body, s[X]! + over, s[Y]!, onward) || at[SLOPE] !== 0) return false;
  if (Math.abs(at[BELOW]!) > motion.touch || !hasRoom(body, s[X]!, s[Y]!, over, 0)) return false;
  s[X] = s[X]! + over;
  goOnto(body, 0);
  return true;
}

/** Whether the ground goes on lower down, by no more than a step. */
function onStepAhead(body: Body, way: number): boolean {
  const { s, motion, hull } = body;
  const x = s[X]! + (hull.side + motion.touch) * way;
  return (
    !(findGround(body, s[X]!, s[Y]!, onward) && at[BELOW]! <= motion.touch) &&
    findGround(body, x, s[Y]!, onward) &&
    at[BELOW]! > motion.touch
  );
}

/**
 * Where the body would come off its ground only to be held at once by a steep face on the other side, it stops: there is no room to fall.
 */
function stopsAtCrevice(body: Body, way: number): boolean {
  const { s, motion } = body;
  if (way === 0) return false;
  // Rounding may bring the end of a slope before what stands there.
  const slope = at[SLOPE]! * way;
  const ahead = slope === 0 ? -1 : inTheWay(body, s[X]!, s[Y]!, way * motion.touch, slope * motion.touch);
  const opposes = obstacle[NORMAL_X]! * way + obstacle[NORMAL_Y]! * slope < 0;
  // (What moves past is none: it is met as such.)
  if (ahead >= 0 && !isMoving(body, ahead) && opposes && obstacle[NORMAL_X]! * way < 0 && !isOntoGround(body, ahead)) {
    if (obstacle[NORMAL_Y] === 0 && stepUp(body, ahead, way)) return true;
    if (s[VX] !== 0) bump(body, way > 0 ? 'right' : 'left', Math.abs(s[VX]!));
    blockOnGround(body, ahead, way);
    return true;
  }
  const near = 3 * motion.touch;
  let edge = inTheWay(body, s[X]!, s[Y]!, way * near, -near);
  // Beside a wall it would come down on what is there.
  if (edge >= 0 && obstacle[NORMAL_X] === -way)
    edge = inTheWay(body, s[X]! + way * near * obstacle[WHEN]!, s[Y]!, 0, -near);
  if (
    edge < 0 ||
    isMoving(body, edge) ||
    obstacle[NORMAL_X]! * way >= 0 ||
    !(obstacle[NORMAL_Y]! > 0) ||
    isOntoGround(body, edge)
  )
    return false;
  s[X] = s[X]! - 2 * way * motion.touch;
  here(body);
  s[Y] = at[FEET]! + 0;
  if (s[VX] !== 0) bump(body, way > 0 ? 'right' : 'left', Math.abs(s[VX]!));
  blockOnGround(body, edge, way);
  return true;
}

/** Whether what was found in the way is ground met with the feet, and not with a cut corner. */
function isOntoGround(body: Body, edge: number): boolean {
  return isGround(body, edge) && obstacle[NORMAL_X] === body.terrain.nx[edge];
}

/** The body stands, and as long as it does it cannot get past what is on one side. */
export function blockOnGround(body: Body, edge: number, side: number): void {
  const { s } = body;
  s[VX] = s[VY] = 0;
  s[EASING] = 0;
  s[LOCK_FOR] = 0;
  touchWall(body, edge, side);
  s[WALL_LOW] = -Infinity;
  s[WALL_HIGH] = Infinity;
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

/** From one slope to another: measured along the ground, the speed stays. */
export function keepSpeed({ s, motion }: Body, before: number, after: number): void {
  if (before !== after && motion.along) s[VX] = s[VX]! * Math.sqrt((1 + before * before) / (1 + after * after));
  s[VY] = after * s[VX]! + 0;
}

/** Notes a step, for pictures that go over it smoothly. */
export function tellStep({ s, clock, motion }: Body, up: number): void {
  s[STEP] = stepLag(s, clock[NOW]!, motion.ground.speed) + up;
  s[STEPPED] = clock[NOW]!;
}

/** How far a picture that goes over a step at top speed still has to go, units up. */
export function stepLag(s: Float64Array, now: number, speed: number): number {
  const left = Math.abs(s[STEP]!) - speed * (now - s[STEPPED]!);
  return left > 0 ? (s[STEP]! > 0 ? left : -left) : 0;
}
