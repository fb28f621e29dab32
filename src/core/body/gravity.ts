import type { Body } from '../state/body.js';
import { UP_PHASE, UP_RATE, UP_SET, UP_TO, Y_ENDS, Y_END_SPEED } from '../state/clock.js';
import { APEX, BAND, CAP, FALL, GROUND, JUMPING, KEY, ON_GROUND, ON_RAMP, PHASE, RAMP, RELEASE, RELEASED, RISE, SUPPORT, VY, Y } from '../state/layout.js'; // prettier-ignore
import { LINK, PAY, PJY, PVY, PY } from '../sweep/path.js';

/**
 * Which gravity, when: the first phase that matches, its acceleration, and the speed at which it ends.
 * Standing is a state of its own, without gravity.
 */
export function verticalMotion(body: Body): void {
  const { s, path, clock, motion } = body;
  const v = s[VY]!;
  path[PY] = s[Y]!;
  path[LINK] = 0;
  path[PVY] = v;
  path[PAY] = 0;
  path[PJY] = 0;
  clock[Y_ENDS] = Infinity;
  const g = body.zoneGravity;
  body.fallingNow = motion.falling * g;
  if (s[SUPPORT] === GROUND) {
    s[PHASE] = ON_GROUND;
    return;
  }
  if (clock[UP_SET] !== 0) {
    towards(body, v);
    return;
  }
  const jumping = s[JUMPING] === 1;
  const held = jumping && s[KEY] !== RELEASED;
  // Terminal speed is that in the medium.
  const cap = motion.cap - body.currentY;
  const band = s[BAND]!;
  let phase: number;
  let acceleration: number;
  let end: number;
  if (v > 0) {
    const above = v > band;
    phase = jumping && !held ? RELEASE : held && !above ? APEX : RISE;
    acceleration =
      phase === RELEASE
        ? above
          ? motion.releasedAbove
          : motion.releasedBand
        : phase === APEX
          ? motion.apex
          : motion.rising;
    end = jumping && above ? band : 0;
    if (cap < 0 && -cap > end) {
      towardsCap(body, v, -cap, acceleration * g, motion.falling * g, phase);
      return;
    }
  } else if (held && v > -band && v > -cap && cap > 0) {
    phase = APEX;
    acceleration = motion.apex;
    end = -(band < cap ? band : cap);
  } else if (v === -cap) {
    s[PHASE] = CAP;
    return;
  } else if (v > -cap && s[RAMP]! < motion.rampOver) {
    onRamp(body, v, cap);
    return;
  } else {
    // Faster than the cap, which then brakes, is possible only where the cap has dropped.
    phase = v < -cap ? CAP : FALL;
    acceleration = v < -cap ? -motion.falling : motion.rampOver > 0 ? motion.rampTo : motion.falling;
    end = -cap;
  }
  s[PHASE] = phase;
  path[PAY] = -acceleration * g;
  clock[Y_ENDS] = (v - end) / (acceleration * g);
  clock[Y_END_SPEED] = end;
}

/** In a medium that rises faster than the body falls in it: the speed goes to that, from either side. */
function towardsCap({ s, path, clock }: Body, v: number, to: number, down: number, up: number, phase: number): void {
  s[PHASE] = v === to ? CAP : phase;
  if (v === to) return;
  path[PAY] = v > to ? -down : up;
  clock[Y_ENDS] = Math.abs(v - to) / (v > to ? down : up);
  clock[Y_END_SPEED] = to;
}

/** An ability brings the speed to another, at a rate. */
function towards({ s, path, clock }: Body, v: number): void {
  const to = clock[UP_TO]!;
  const rate = clock[UP_RATE]!;
  s[PHASE] = clock[UP_PHASE]!;
  if (v === to || rate === 0) return;
  // Where the speed changes its sign the piece ends.
  const end = v * to < 0 ? 0 : to;
  path[PAY] = to > v ? rate : -rate;
  clock[Y_ENDS] = Math.abs(end - v) / rate;
  clock[Y_END_SPEED] = end;
}

/** Falling gravity that changes evenly: constant jerk, until the ramp or the cap is reached. */
function onRamp({ s, path, clock, motion, zoneGravity }: Body, v: number, cap: number): void {
  const rate = ((motion.rampTo - motion.falling) / motion.rampOver) * zoneGravity;
  const now = motion.falling * zoneGravity + rate * s[RAMP]!;
  const left = motion.rampOver - s[RAMP]!;
  s[PHASE] = ON_RAMP;
  path[PAY] = -now;
  path[PJY] = -rate;
  const square = now * now + 2 * rate * (v + cap);
  const toCap = square < 0 ? Infinity : (2 * (v + cap)) / (now + Math.sqrt(square));
  if (toCap <= left) {
    clock[Y_ENDS] = toCap;
    clock[Y_END_SPEED] = -cap;
  } else {
    clock[Y_ENDS] = left;
    clock[Y_END_SPEED] = v - left * (now + (left * rate) / 2);
  }
}
