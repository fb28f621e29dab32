import { acrossAt, acrossPieces, ln, type AcrossPiece, type AcrossRule, type Motion } from '../../core/index.js';

/** A key is let go of for so long at least, s. */
const LEAST = 1e-6;

/** How the feet go across at the most, to the right and to the left, from a takeoff: whatever keys are held, they are between the two at every moment. */
export interface Across {
  right: readonly AcrossPiece[];
  left: readonly AcrossPiece[];
  /** So long all keys are let go before the left one is pressed, s: stopping may be quicker than turning. */
  letGo: number;
}

/** @param speed at the takeoff, to the right, units/s */
export function acrossFrom({ air, airLocked }: Motion, speed: number): Across {
  const rule = airLocked ? undefined : air;
  const letGo = rule === undefined ? 0 : stopsFirst(rule, speed);
  return { right: acrossPieces(rule, speed, rule ? rule.speed : speed), left: leftFrom(rule, speed, letGo), letGo };
}

/** To the left from a speed to the right; all keys are let go first for so long. */
function leftFrom(rule: AcrossRule | undefined, speed: number, letGo: number): AcrossPiece[] {
  if (rule === undefined) return acrossPieces(undefined, speed, speed);
  if (letGo === 0) return acrossPieces(rule, speed, -rule.speed);
  const stopping = acrossPieces(rule, speed, 0);
  const first = stopping.filter(({ start }) => start < letGo).map((piece) => ({ ...piece, time: Math.min(piece.time, letGo - piece.start) }));
  const at = acrossAt(stopping, letGo);
  return [...first, ...acrossPieces(rule, at.v, -rule.speed).map((piece) => ({ ...piece, start: piece.start + letGo, x: piece.x + at.x }))];
} // prettier-ignore

/** For how long letting go slows down more than turning does, s. */
function stopsFirst({ eased, speed, stopIn, turnIn }: AcrossRule, from: number): number {
  if (from <= 0 || !(stopIn < turnIn)) return 0;
  // At a constant rate until it stands.
  if (!eased) return speed > 0 ? Math.max((from * stopIn) / speed, LEAST) : 0;
  if (stopIn === 0) return LEAST;
  // What dies away does so at a rate of the difference: to 0 it is less than to the speed to the left, but it may die away faster.
  const [stop, turn] = [ln(10) / stopIn, ln(10) / turnIn];
  const even = (turn * speed) / (stop - turn);
  return even < from ? ln(from / Math.max(even, from * 1e-3)) / stop : 0;
}
