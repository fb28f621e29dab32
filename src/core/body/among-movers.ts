import { ABOVE, BESIDE, IN_THE_AIR, SLANT, forget } from '../state/touches.js';
import { IN_A_ROW, MANY, MANY_TIME, MOST_PRESSED } from '../tolerance.js';
import { cutAtPlaces, layUntil } from './drive.js';
import { meet } from '../abilities/acting.js';
import { arrive } from '../contact/arrive.js';
import { crush, isCaught, senseMovers } from '../contact/crush.js';
import { mayFly } from '../contact/fall-away.js';
import { rank } from '../contact/rank.js';
import { tellAboard } from '../contact/riding.js';
import { HOLDS, MVX, MVY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { HIT, MANY_COUNT, MANY_FROM, NOW, PRESSED_AT, PRESSED_COUNT, ROW_COUNT } from '../state/clock.js';
import { isAround, isMet, placeSets } from '../state/frame.js';
import { EDGE, FRAME, GROUND, SUPPORT, VX, VY, X, Y } from '../state/layout.js';
import { PX, PY, cutAt } from '../sweep/path.js';
import { TOUCH_LENGTH, WHEN } from '../sweep/ties.js';
import { updatePose } from './poses.js';

/** What a piece of motion takes besides where a level has movers. */

const found = new Float64Array(TOUCH_LENGTH);

/** What moves is where it is now, and may have left the body behind, or hold it. */
export function senseMoving(body: Body): void {
  placeSets(body);
  senseMovers(body);
  forgetFar(body);
}

/** What carries the body may fall away. */
export function carryOn(body: Body): void {
  mayFly(body);
  tellAboard(body);
}

/** What is not near any more does not touch the body. */
function forgetFar(body: Body): void {
  const { s, terrain } = body;
  for (let i = 0; i < IN_THE_AIR.length; i++) {
    const e = s[IN_THE_AIR[i]!]!;
    const set = e < 0 ? 0 : terrain.set[e]!;
    if (set > 0 && set !== s[FRAME] && (!isAround(body, set) || !isMet(body, set))) forget(s, IN_THE_AIR[i]!);
  }
}

/** Crushed and told so: it stays where it is until it is clear, and only listens. What comes into its way now crushes it too. */
export function stayPut(body: Body): void {
  const { s, path, clock } = body;
  path.fill(0);
  path[PX] = s[X]!;
  path[PY] = s[Y]!;
  s[VX] = s[VY] = 0;
  body.again = false;
  // No ability acts, so none shows anything.
  body.showing = -1;
  updatePose(body);
  layUntil(body, body.frame[HOLDS]!);
  cutAtPlaces(body);
  const edge = rank(body, found);
  if (edge < 0) return;
  cutAt(path, found[WHEN]!);
  clock[HIT] = edge;
}

/** A touch, judged where everything that moves is at that moment. */
export function meetMoving(body: Body, edge: number, nx: number, ny: number): void {
  const { s, terrain } = body;
  const set = terrain.set[edge]!;
  if (!body.met.includes(edge)) {
    body.met.copyWithin(1, 0);
    body.met[0] = edge;
  }
  if (set === s[FRAME]) {
    if (!meet(body, nx, ny, 0)) arrive(body, edge, nx, ny);
    return;
  }
  const { motion } = body.nears[set]!;
  const against = nx * motion[MVX]! + ny * motion[MVY]!;
  // What turns at that very moment may go the other way by now.
  const speed = nx * s[VX]! + ny * s[VY]! - against;
  if (speed > 1e-12 * (Math.abs(against) + Math.abs(s[VX]!) + Math.abs(s[VY]!))) return;
  if (!meet(body, nx, ny, against)) arrive(body, edge, nx, ny);
}

/**
 * From one moving thing to another and back, ever faster, a body comes to no end between the two long before its pieces are as short as those
 * that end a motion: it is pressed between them.
 * @returns whether that has been seen to
 */
export function comesToNoEnd(body: Body): boolean {
  const { clock } = body;
  if (clock[NOW]! - clock[MANY_FROM]! > MANY_TIME) {
    clock[MANY_FROM] = clock[NOW]!;
    clock[MANY_COUNT] = 0;
    return false;
  }
  if (++clock[MANY_COUNT]! < MANY) return false;
  clock[MANY_COUNT] = 0;
  return isPressedByMover(body);
}

/**
 * Several touches at one moment, each by less than `touch`, may together have brought the body into something that moves by more: it is pressed
 * between that and what else it has met.
 * @returns whether that has been seen to
 */
export function isPressedInto(body: Body): boolean {
  if (body.clock[MANY_COUNT] === 0 && body.clock[ROW_COUNT] === 0) return false;
  return isCaught(body) && isPressedByMover(body);
}

/** Touches that never end, between two things that come together: the body is pressed between them. @returns whether a mover has to do with it */
export function isPressedByMover(body: Body): boolean {
  const { s, met, terrain, clock, moving } = body;
  if (moving === undefined) return false;
  // It may go on like that with one after the other, but not for ever.
  if (clock[NOW]! - clock[PRESSED_AT]! > IN_A_ROW) clock[PRESSED_COUNT] = 0;
  clock[PRESSED_AT] = clock[NOW]!;
  if (++clock[PRESSED_COUNT]! > MOST_PRESSED) return false;
  // Of what was met in a row, and what else the body touches: what comes at it most, and what is most against that.
  const touching = [...met, s[SUPPORT] === GROUND ? s[EDGE]! : -1, s[ABOVE]!, s[BESIDE]!, s[SLANT]!].filter(
    (e) => e >= 0,
  );
  let edge = -1;
  let most = -Infinity;
  for (const e of touching) {
    const set = terrain.set[e]!;
    if (set === 0 || moving.waitsAt(set, clock[NOW]!)) continue;
    const { motion } = body.nears[set]!;
    const comes = terrain.nx[e]! * motion[MVX]! + terrain.ny[e]! * motion[MVY]!;
    if (comes > most) [most, edge] = [comes, e];
  }
  if (edge < 0) return false;
  let other = -1;
  let least = Infinity;
  for (const e of touching) {
    const alike = terrain.nx[e]! * terrain.nx[edge]! + terrain.ny[e]! * terrain.ny[edge]!;
    if (terrain.set[e] !== terrain.set[edge] && alike < least) [least, other] = [alike, e];
  }
  met.fill(-1);
  clock[ROW_COUNT] = 0;
  crush(body, edge, other);
  return true;
}
