import { NOW, type Body } from './body.js';
import { AIR_SPENT, COYOTE, GROUND, JUMPING, LAUNCHED, LEFT_AT, SLACK, SUPPORT } from './state.js';

/**
 * What a press of jump would start now. In this order: from the ground, from the ground a moment after leaving it, in
 * the air. (What restores air jumps is in `stand`.)
 */
export type JumpSource = 'ground' | 'coyote' | 'air' | '';

export function jumpSource(body: Body): JumpSource {
  if (body.s[SUPPORT] === GROUND) return 'ground';
  if (coyoteOpen(body)) return 'coyote';
  return airJumpsLeft(body) > 0 && body.clock[NOW]! >= airReady(body) - SLACK ? 'air' : '';
}

/** Whether a jump in the air would still count as one from the ground. */
export function coyoteOpen({ s, clock, motion }: Body): boolean {
  return s[COYOTE] === 1 && clock[NOW]! - s[LEFT_AT]! <= motion.coyote + SLACK;
}

/** Air jumps that are left; endless ones always leave one. */
export function airJumpsLeft({ s, motion }: Body): number {
  const left = motion.airLaunch.length - s[AIR_SPENT]!;
  return motion.airEndless && left < 1 ? 1 : left > 0 ? left : 0;
}

/** From which moment the next air jump is allowed: endless ones keep their distance from the jump before. */
export function airReady({ s, motion }: Body): number {
  return motion.airEndless && s[JUMPING] === 1 && s[AIR_SPENT]! > 0 ? s[LAUNCHED]! + motion.airSpacing : -Infinity;
}

/** Jumps that presses could start from here without touching the ground. */
export function jumpsLeft(body: Body): number {
  return (body.s[SUPPORT] === GROUND || coyoteOpen(body) ? 1 : 0) + airJumpsLeft(body);
}
