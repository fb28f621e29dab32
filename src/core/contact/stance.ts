import { say } from './what.js';
import { BESIDE, HIGH, OPPOSITE, SLANT, forget } from '../state/touches.js';
import { MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { intoFrame } from '../state/frame.js';
import { EASING, EDGE, END, FOOTFALLS, FRAME, GRIP, GROUND, HIGHEST, JUMPING, LANDED, LANDING, LOCK_FOR, ON_GROUND, PHASE, PIT, RAMP, STEP, STEPPED, STRIDE, SUPPORT, VX, VY, X, Y } from '../state/layout.js'; // prettier-ignore
import { restoreByGround } from '../state/rights.js';
import { FEET, FOUND_EDGE, FOUND_END, SLOPE, type Stretch, findGround, here, stretch } from './ground.js';

export function standBetween(body: Body, edge: number, other: number): void {
  const { s } = body;
  const told = say(body, body.tell('touchdown'), edge);
  told.speed = s[LANDING] = -s[VY]! + 0;
  told.fallen = s[HIGHEST]! > s[Y]! ? s[HIGHEST]! - s[Y]! : 0;
  s[VX] = s[VY] = 0;
  s[EASING] = 0;
  s[LOCK_FOR] = 0;
  s[LANDED] = body.clock[NOW]!;
  s[SUPPORT] = GROUND;
  s[PIT] = 1;
  s[OPPOSITE] = other >= 0 && body.terrain.set[other] !== s[FRAME] ? other : -1;
  s[EDGE] = edge;
  s[END] = 0;
  forget(s, SLANT);
  s[PHASE] = ON_GROUND;
  s[HIGHEST] = s[Y]!;
  s[JUMPING] = 0;
  s[RAMP] = 0;
  s[STRIDE] = s[FOOTFALLS] = 0;
  s[GRIP] = -1;
  restoreByGround(body);
}

const ground = stretch();

/** Stands on a stretch of ground: its height is copied, so that feet at rest are the ground's own. */
export function stand(body: Body, edge: number, end = 0): void {
  const { s } = body;
  intoFrame(body, body.terrain.set[edge]!);
  s[SUPPORT] = GROUND;
  s[EDGE] = edge;
  s[END] = end;
  s[PIT] = 0;
  forget(s, SLANT);
  s[PHASE] = ON_GROUND;
  here(body, ground);
  s[Y] = ground[FEET]! + 0;
  // A wall beside it that is no higher than a step is met anew: it is one.
  const { motion, hull, nears, terrain } = body;
  const up =
    s[BESIDE]! < 0 ? Infinity : s[BESIDE + HIGH]! + hull.side + nears[terrain.set[s[BESIDE]!]!]!.motion[MY]! - s[Y]!;
  if (up <= motion.step + motion.touch) forget(s, BESIDE);
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
  if (!findGround(body, body.s[X]!, body.s[Y]!, HERE, ground)) return false;
  stand(body, ground[FOUND_EDGE]!, ground[FOUND_END]!);
  return true;
}

/** Goes on standing, on what was just found: the same ground by another number. */
export function standOnSame(body: Body, found: Stretch): void {
  const { s } = body;
  const edge = found[FOUND_EDGE]!;
  const end = found[FOUND_END]!;
  intoFrame(body, body.terrain.set[edge]!);
  s[EDGE] = edge;
  s[END] = end;
}

/** Goes on to what was just found, from ground that rose by so much for each unit across. */
export function goOnto(body: Body, found: Stretch, before: number): void {
  standOnSame(body, found);
  here(body, ground);
  body.s[Y] = ground[FEET]! + 0;
  keepSpeed(body, before, ground[SLOPE]!);
}

const HERE = { way: 0, down: 0 } as const;

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
