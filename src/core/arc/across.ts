import { LN10, exp, ln, shed } from '../elementary.js';

/** How speed across follows what the keys ask: the constants of one medium (ground or air). */
export interface AcrossRule {
  /** Top speed, units/s. */
  speed: number;
  eased: boolean;
  /** Rest to top, top to rest with no key, top to rest against the key, s. */
  upIn: number;
  stopIn: number;
  turnIn: number;
  /** Hold a speed above the top while the key agrees. */
  keep: boolean;
}

export function acrossRule(
  times: { speed: number; upIn: number; stopIn: number; turnIn: number },
  run: { feel: 'steady' | 'eased'; overspeed: 'bleed' | 'keep' },
): AcrossRule {
  return {
    speed: times.speed,
    eased: run.feel === 'eased',
    upIn: times.upIn,
    stopIn: times.stopIn,
    turnIn: times.turnIn,
    keep: run.overspeed === 'keep',
  };
}

/** A stretch of motion across: constant acceleration `a`, or the difference `d` to `u` dying away at `rate`. */
export interface AcrossPiece {
  start: number;
  time: number;
  x: number;
  v: number;
  a: number;
  u: number;
  d: number;
  rate: number;
}

/** How many of its times an eased difference takes until it is nothing. */
export const EASE_TIMES = 3;

/** Which of the three times applies, for speed `v` and target `u`: 0 nothing to do, 1 up, 2 stop, 3 turn. */
export function manner(v: number, u: number, top: number, keep: boolean): 0 | 1 | 2 | 3 {
  if (v === u) return 0;
  if (u === 0) return 2;
  if (v * u < 0) return 3;
  if (u > 0 ? v < u : v > u) return 1;
  return keep && Math.abs(v) > top ? 0 : 2;
}

/** How long an eased turn takes until rest. */
export function easedTurn(v: number, u: number, rate: number): number {
  return ln((u - v) / u) / rate;
}

/**
 * The closed form of motion across with the keys unchanged, from speed `v` towards `u`.
 * @param rule undefined: no steering, the speed stays
 * @example
 * ```ts
 * acrossPieces(motion.ground, 7.5, 0) // letting go at 7.5 units/s
 * ```
 */
export function acrossPieces(rule: AcrossRule | undefined, v: number, u: number): AcrossPiece[] {
  const pieces: AcrossPiece[] = [];
  let x = 0;
  let start = 0;
  const add = (time: number, a: number, d: number, rate: number, end: number): void => {
    if (time > 0) pieces.push({ start, time, x, v, a, u, d, rate });
    x += travelled({ v, a, u, d, rate }, time);
    v = end;
    start += time;
  };
  for (let turns = 0; rule && turns < 2; turns++) {
    const how = manner(v, u, rule.speed, rule.keep);
    // At a constant rate, a top speed of 0 leaves nothing to speed up or brake with.
    if (how === 0 || (rule.speed === 0 && !rule.eased)) break;
    const time = how === 1 ? rule.upIn : how === 2 ? rule.stopIn : rule.turnIn;
    const end = how === 3 ? 0 : u;
    if (time === 0) v = end;
    else if (rule.eased) {
      const rate = LN10 / time;
      const rest = how === 3 ? easedTurn(v, u, rate) : Infinity;
      if (rest < EASE_TIMES * time) add(rest, 0, v - u, rate, 0);
      else add(EASE_TIMES * time, 0, v - u, rate, u);
    } else add((Math.abs(end - v) * time) / rule.speed, ((end > v ? 1 : -1) * rule.speed) / time, 0, 0, end);
  }
  pieces.push({ start, time: Infinity, x, v, a: 0, u: v, d: 0, rate: 0 });
  return pieces;
}

/** Distance covered in a piece after `t` seconds. */
function travelled(piece: Pick<AcrossPiece, 'v' | 'a' | 'u' | 'd' | 'rate'>, t: number): number {
  if (piece.rate > 0) return piece.u * t + (piece.d * shed(piece.rate * t)) / piece.rate;
  return piece.v * t + (piece.a * t * t) / 2;
}

/**
 * Distance and speed at a moment.
 * @example
 * ```ts
 * acrossAt(acrossPieces(motion.ground, 0, 7.5), 0.1).v
 * ```
 */
export function acrossAt(pieces: readonly AcrossPiece[], time: number): { x: number; v: number } {
  let piece = pieces[0]!;
  for (const next of pieces) if (next.start <= time) piece = next;
  const t = time - piece.start;
  return {
    x: piece.x + travelled(piece, t),
    v: piece.rate > 0 ? piece.u + piece.d * exp(-piece.rate * t) : piece.v + piece.a * t,
  };
}

/**
 * How long a body launched at `speed` with the key held takes to cover a distance across; Infinity if it never does.
 * @example
 * ```ts
 * timeAcross(motion.air, 7.5, 4) // four units, in the air
 * ```
 */
export function timeAcross(rule: AcrossRule | undefined, speed: number, distance: number): number {
  const pieces = acrossPieces(rule, speed, rule ? rule.speed : speed);
  const last = pieces[pieces.length - 1]!;
  if (last.x <= distance) return last.v > 0 ? last.start + (distance - last.x) / last.v : Infinity;
  let low = 0;
  let high = last.start;
  for (let i = 0; i < 100; i++) {
    const middle = low + (high - low) / 2;
    if (acrossAt(pieces, middle).x < distance) low = middle;
    else high = middle;
  }
  return high;
}
