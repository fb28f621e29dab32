import { NY, SLANT } from './touches.js';
import { SLACK } from '../tolerance.js';
import type { Body } from './body.js';
import { NOW } from './clock.js';
import { AIR_SPENT, COUNTED_WALL, COYOTE, GRIP, GROUND, JUMPING, LAUNCHED, LEDGE_GAVE, LEFT_AT, LEFT_WALL_AT, ON_LEDGE, SUPPORT, WALL_COYOTE, WALL_GAVE, WALL_USED } from './layout.js'; // prettier-ignore

/**
 * Jump rights: what grants, restores and spends them, all in this file.
 *
 * What a press of jump would start now is the first of these that is granted: from a ledge, from the ground, from the
 * ground a moment after leaving it, from a wall, from a wall a moment after leaving it, in the air.
 */
export type JumpSource = 'ledge' | 'ground' | 'coyote' | 'wall' | 'wallCoyote' | 'air' | '';

export function jumpSource(body: Body, now = body.clock[NOW]!): JumpSource {
  const { s, motion } = body;
  if (s[SUPPORT] === ON_LEDGE) return motion.jumpOff ? '' : 'ledge';
  const fromGround = !motion.jumpOff || motion.charges;
  if (s[SUPPORT] === GROUND) return fromGround ? 'ground' : '';
  if (fromGround && motion.slopeJump && s[SLANT]! >= 0 && s[SLANT + NY]! > 0) return 'ground';
  if (fromGround && coyoteOpen(body, now)) return 'coyote';
  if (motion.walls && s[WALL_USED]! < motion.wallJumps) {
    if (s[GRIP]! >= 0) return 'wall';
    if (wallCoyoteOpen(body, now)) return 'wallCoyote';
  }
  return airJumpsLeft(body) > 0 && now >= airReady(body) - SLACK ? 'air' : '';
}

/** Whether a jump in the air would still count as one from the ground. */
export function coyoteOpen({ s, clock, motion }: Body, now = clock[NOW]!): boolean {
  return s[COYOTE] === 1 && now - s[LEFT_AT]! <= motion.coyote + SLACK;
}

/** Whether a jump away from a wall that was left would still count as one from it. */
export function wallCoyoteOpen({ s, clock, motion }: Body, now = clock[NOW]!): boolean {
  return s[WALL_COYOTE] === 1 && now - s[LEFT_WALL_AT]! <= motion.wallCoyote + SLACK;
}

/** Air jumps that are left; endless ones always leave one. */
export function airJumpsLeft({ s, motion }: Body): number {
  const left = motion.airLaunch.length - s[AIR_SPENT]!;
  if (motion.airLaunch.length === 0) return 0;
  return motion.airEndless && left < 1 ? 1 : left > 0 ? left : 0;
}

/** From which moment the next air jump is allowed: endless ones keep their distance from the jump before. */
export function airReady({ s, motion }: Body): number {
  return motion.airEndless && s[JUMPING] === 1 && s[AIR_SPENT]! > 0 ? s[LAUNCHED]! + motion.airSpacing : -Infinity;
}

/** Jumps that presses could start from here without touching the ground. */
export function jumpsLeft(body: Body, now: number): number {
  const source = jumpSource(body, now);
  return (source === '' || source === 'air' ? 0 : 1) + airJumpsLeft(body);
}

/** The ground restores everything. */
export function restoreByGround(body: Body): void {
  const { s, motion } = body;
  s[COYOTE] = 0;
  s[WALL_COYOTE] = 0;
  s[COUNTED_WALL] = -1;
  s[WALL_USED] = 0;
  s[WALL_GAVE] = 0;
  s[LEDGE_GAVE] = 0;
  if (motion.airByGround) s[AIR_SPENT] = 0;
}

/**
 * Gives the air jumps back: a ledge once per contact with the ground, a wall while it still grants a jump, once for each
 * that it grants; a zone that says so, on coming into it. (Else leaving a wall by an air jump and coming back would climb it for ever.)
 */
export function restoreAir(body: Body, by: 'ledge' | 'wall' | 'zone'): void {
  const { s, motion } = body;
  if (by === 'zone') {
    if (motion.airByZone) s[AIR_SPENT] = 0;
    return;
  }
  if (by === 'ledge') {
    if (motion.airByLedge && s[LEDGE_GAVE] === 0) s[AIR_SPENT] = 0;
    s[LEDGE_GAVE] = 1;
  } else if (motion.airByWall && s[WALL_USED]! < motion.wallJumps && s[WALL_GAVE]! <= s[WALL_USED]!) {
    s[AIR_SPENT] = 0;
    s[WALL_GAVE] = s[WALL_USED]! + 1;
  }
}

/** A wall is held on to. Another one than the last counts its jumps from none. */
export function grip(body: Body, wall: number): void {
  const { s } = body;
  if (s[GRIP] === wall) return;
  s[GRIP] = wall;
  if (s[COUNTED_WALL] !== wall) {
    s[COUNTED_WALL] = wall;
    s[WALL_USED] = 0;
    s[WALL_GAVE] = 0;
  }
  restoreAir(body, 'wall');
}

/** A wall is let go of: for a moment a press still counts as a jump from it. */
export function letGoOfWall({ s, clock }: Body): void {
  if (s[GRIP]! < 0) return;
  s[GRIP] = -1;
  s[WALL_COYOTE] = 1;
  s[LEFT_WALL_AT] = clock[NOW]!;
}

/** A wall is no longer held on to, and grants nothing more. */
export function forgetGrip({ s }: Body): void {
  s[GRIP] = -1;
  s[WALL_COYOTE] = 0;
}

/** A jump spends what it used, and ends the windows. */
export function spend(body: Body, by: string): void {
  const { s } = body;
  if (by === 'air') s[AIR_SPENT]! += 1;
  if (by === 'wall' || by === 'wallCoyote') s[WALL_USED]! += 1;
  s[COYOTE] = 0;
  forgetGrip(body);
}
