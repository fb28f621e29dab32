import { BESIDE, SIDE } from '../state/touches.js';
import { SAME_SPEED, SLACK } from '../tolerance.js';
import { isPinched } from '../contact/crush.js';
import { type AcrossRule, EASE_TIMES, easedTurn, manner } from '../arc/across.js';
import { DRIFT, GRIP_SHARE, RATES, SCALE, footing, footingHere, isSentBack } from '../contact/footing.js';
import { LN10 } from '../elementary.js';
import { WALK } from '../input/intents.js';
import type { Body } from '../state/body.js';
import { isClaimed } from '../state/claims.js';
import { ACROSS_RATE, ACROSS_SET, ACROSS_TO, ASK, DRIFTS, NOW, TOP, X_ENDS, X_END_SPEED } from '../state/clock.js';
import { EASE_END, EASE_RATE, EASE_TO, EASING, FRAME, GROUND, HELD_ACTIONS, LOCK_FOR, LOCK_FROM, LOCK_SINCE, SUPPORT, VX, X } from '../state/layout.js'; // prettier-ignore
import { D, PAX, PVX, PX, RATE, U } from '../sweep/path.js';
import { faceWish } from './intents.js';

/** Left, right, stop: the motion across for as long as nothing changes. */
export function run(body: Body): void {
  const { s, path, clock, motion } = body;
  const pinched = body.moving !== undefined && isPinched(body);
  const mayRun = !pinched && (body.claimed === 0 || !isClaimed(body, 'run'));
  if (pinched) s[VX] = 0;
  const grounded = s[SUPPORT] === GROUND;
  path[PX] = s[X]!;
  path[PAX] = 0;
  path[RATE] = 0;
  under[DRIFT] = 0;
  clock[X_ENDS] = Infinity;
  if (clock[ACROSS_SET] !== 0) {
    s[EASING] = 0;
    steadily(body, clock[ACROSS_TO]!, clock[ACROSS_RATE]!);
  } else if (mayRun && (grounded || !motion.airLocked)) {
    const rule = grounded ? motion.ground : motion.air;
    const top = clock[TOP]! >= 0 ? clock[TOP]! : rule.speed;
    footingHere(body, under);
    const target = clock[ASK]! * top * (s[HELD_ACTIONS + WALK]! > 0 ? motion.walk : 1) * under[SCALE]!;
    if (s[LOCK_FOR]! > 0 && clock[NOW]! - s[LOCK_SINCE]! >= s[LOCK_FOR]! - SLACK) endLock(body);
    if (s[LOCK_FOR]! > 0) regain(body, rule, target + under[DRIFT]!);
    else steer(body, rule, target);
  } else s[EASING] = 0;
  clock[DRIFTS] = under[DRIFT]!;
  path[PVX] = s[VX]!;
}

/** What is underfoot, as of the last run. */
const under = footing();

/** Towards what the keys ask, in the manner of the ground or the air. */
function steer(body: Body, rule: AcrossRule, target: number): void {
  const { s, path, clock } = body;
  const drift = under[DRIFT]!;
  const grip = under[GRIP_SHARE]!;
  const top = rule.speed * under[SCALE]!;
  if (s[VX] === 0 && isSentBack(body, Math.sign(target + drift))) {
    s[EASING] = 0;
    return;
  }
  for (;;) {
    const v = s[VX]! - drift;
    // What it was brought up to, relative to the ground, is met: taken apart again the sum may be another by a rounding.
    const how = s[VX] === target + drift ? 0 : manner(v, target, top, rule.keep);
    if (how === 0 || blocked(body, how === 2 ? v < 0 : target > 0)) {
      s[EASING] = 0;
      break;
    }
    const time = how === 1 ? rule.upIn : how === 2 ? rule.stopIn : rule.turnIn;
    const end = how === 3 ? 0 : target;
    if (time === 0) {
      // At once; after a turn the other way is still to come.
      s[VX] = end + drift;
      continue;
    }
    if (rule.eased) ease(body, how, target, time / grip);
    else {
      const rate = (rule.speed * under[RATES]! * grip) / time;
      // Where the speed changes its sign the piece ends, whatever it is relative to.
      const to = end + drift;
      const rest = s[VX]! * to < 0 ? 0 : to;
      clock[X_ENDS] = Math.abs(rest - s[VX]!) / rate;
      clock[X_END_SPEED] = rest;
      path[PAX] = end > v ? rate : -rate;
    }
    break;
  }
}

/** At a constant rate, until the speed is reached or the body turns round. */
function steadily({ s, path, clock }: Body, to: number, rate: number): void {
  const v = s[VX]!;
  if (v === to || rate === 0) return;
  const end = v * to < 0 ? 0 : to;
  clock[X_ENDS] = Math.abs(end - v) / rate;
  clock[X_END_SPEED] = end;
  path[PAX] = to > v ? rate : -rate;
}

/**
 * Steering that returns: within the lock the target goes evenly from the speed at its start to what the keys ask, and is
 * chased at the turning rate, which is constant here whatever the run's feel.
 */
function regain(body: Body, rule: AcrossRule, asked: number): void {
  const { s, clock } = body;
  s[EASING] = 0;
  const from = s[LOCK_FROM]!;
  const time = s[LOCK_FOR]!;
  const since = clock[NOW]! - s[LOCK_SINCE]!;
  const slope = (asked - from) / time;
  const target = from + slope * since;
  const most = rule.turnIn > 0 ? rule.speed / rule.turnIn : Infinity;
  const left = time - since;
  const behind = target - s[VX]!;
  const close = Math.abs(behind) <= SAME_SPEED * (Math.abs(target) + Math.abs(s[VX]!) + Math.abs(from));
  if (blocked(body, target > 0)) {
    clock[X_ENDS] = left;
    clock[X_END_SPEED] = 0;
    return;
  }
  if ((close || most === Infinity) && Math.abs(slope) <= most) {
    if (most === Infinity) s[VX] = target;
    piece(body, slope, left, asked);
    return;
  }
  const way = close ? (slope > 0 ? 1 : -1) : behind > 0 ? 1 : -1;
  const gain = most - slope * way;
  const caught = close || gain <= 0 ? Infinity : (behind * way) / gain;
  const lasts = caught < left ? caught : left;
  piece(body, way * most, lasts, s[VX]! + way * most * lasts);
}

/** A stretch of constant acceleration, cut where the speed changes its sign. */
function piece({ s, path, clock }: Body, acceleration: number, time: number, end: number): void {
  const v = s[VX]!;
  path[PAX] = acceleration;
  const turns = v * end < 0;
  clock[X_ENDS] = turns ? -v / acceleration : time;
  clock[X_END_SPEED] = turns ? 0 : end;
}

/** Steering is back: a body that was turned to a wall's far side faces the way that is pressed. */
function endLock(body: Body): void {
  body.s[LOCK_FOR] = 0;
  faceWish(body);
}

/** At rest against the wall that stopped the body, and asked to go on that way. */
function blocked({ s, terrain }: Body, right: boolean): boolean {
  return (
    /* rule: a wall that stops a body blocks it */ s[VX] === 0 &&
    s[BESIDE]! >= 0 &&
    right === s[BESIDE + SIDE]! > 0 &&
    terrain.set[s[BESIDE]!] === s[FRAME]
  );
}

/**
 * The difference to the target dies away; after three of its times it is nothing. The moment at which that will be is
 * kept from the start of the change, so that cutting it into pieces does not move it.
 */
function ease(body: Body, how: 0 | 1 | 2 | 3, target: number, time: number): void {
  const { s, path, clock } = body;
  const rate = LN10 / time;
  const to = target + under[DRIFT]!;
  if (s[EASING] !== 1 || s[EASE_TO] !== to || s[EASE_RATE] !== rate) {
    s[EASING] = 1;
    s[EASE_TO] = to;
    s[EASE_RATE] = rate;
    s[EASE_END] = clock[NOW]! + EASE_TIMES * time;
  }
  path[U] = to;
  path[D] = s[VX]! - to;
  path[RATE] = rate;
  const done = s[EASE_END]! - clock[NOW]!;
  // Where the speed changes its sign the piece ends: relative to the ground, and to the world.
  let rest = how === 3 ? easedTurn(s[VX]! - under[DRIFT]!, target, rate) : Infinity;
  let speed = under[DRIFT]!;
  if (s[VX]! * to < 0) {
    const still = easedTurn(s[VX]!, to, rate);
    if (still < rest) {
      rest = still;
      speed = 0;
    }
  }
  clock[X_ENDS] = rest < done ? rest : done > 0 ? done : 0;
  clock[X_END_SPEED] = rest < done ? speed : to;
}
