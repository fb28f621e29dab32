import { listOf } from '../nearest.js';
import { forgetAll } from '../state/touches.js';
import { forgetDropped } from '../contact/drop.js';
import { startFreeing } from '../body/push-out.js';
import { isInside } from '../contact/inside.js';
import { standHere } from '../contact/stance.js';
import type { Body } from '../state/body.js';
import { ENTANGLED, NOW } from '../state/clock.js';
import { placeSets } from '../state/frame.js';
import { ABOARD, BOXES_OFF, CORNERED, COUNTED_WALL, DEAF, EDGE, FACED_X, FACING, FALL, FALLING, FIRST, FROZEN, FROZEN_SINCE, GRIP, GRIP_SIDE, GROUND, HELD_ACTIONS, HIGHEST, IGNORES, LANDED, LIPPED, MOVER_SLOTS, OPPOSED_BY, PHASE, POSE, POSE_SINCE, RIDGE_AT, SUPPORT, TEMPO, TUNED, USED_PRESS, VX, VY, WANT, WANT_SINCE, WISH, X, Y } from '../state/layout.js'; // prettier-ignore
import type { CompiledLevel } from '../terrain/world.js';
import { FARTHEST } from '../tuning/keys.js';
import { showValue } from '../tuning/words.js';

/** Where a character is put: middle of the feet, in the level's own axes. */
export interface Spot {
  x: number;
  y: number;
  /** Left out: as before. */
  facing?: number;
}

/**
 * @param at a spawn's name, or the middle of the feet in the level's own axes
 * @throws RangeError where there is no such spawn, or no such place
 */
export function spotOf(level: CompiledLevel, at: string | readonly [number, number]): Spot {
  if (typeof at !== 'string') {
    checkPair('at', at, "a spawn's name, or ");
    for (const value of at)
      if (!(Math.abs(value) <= FARTHEST))
        throw new RangeError(`at is ${at.join(', ')}; it must be two numbers within ±${FARTHEST}`);
    return { x: at[0], y: at[1] };
  }
  const spawn = level.spawns.get(at);
  if (!spawn) throw new RangeError(`there is no spawn ${at}; the level has ${listOf([...level.spawns.keys()], at)}`);
  return spawn;
}

/**
 * @param or what else it may be
 * @throws RangeError where something is not a list of two numbers
 */
export function checkPair(name: string, pair: unknown, or = ''): void {
  const is = Array.isArray(pair) ? `[${pair.join(', ')}]` : showValue(pair);
  if (!Array.isArray(pair) || pair.length !== 2 || pair.some((one) => typeof one !== 'number'))
    throw new RangeError(`${name} is ${is}; it must be ${or}two numbers within ±${FARTHEST}`);
}

/** What stays when a body is put somewhere else: how it faces, what is held, which tuning applies. */
const KEPT_NUMBERS: readonly number[] = [
  FACING,
  FIRST,
  WISH,
  DEAF,
  TUNED,
  IGNORES,
  OPPOSED_BY,
  BOXES_OFF,
  FROZEN,
  FROZEN_SINCE,
  TEMPO,
];

/**
 * Puts a body somewhere, at rest and with all its rights, as if it had just come. Where that is inside something solid, it is pushed out.
 */
export function putAt(body: Body, spot: Spot): void {
  const { s, ySign, nears } = body;
  const aboard = s[ABOARD]!;
  s.fill(0, body.moversAt, body.moversAt + MOVER_SLOTS * body.level.movers.length);
  body.clock[ENTANGLED] = 0;
  for (let i = 0; i < HELD_ACTIONS; i++) if (!KEPT_NUMBERS.includes(i)) s[i] = 0;
  for (const { base, ability } of body.installed) s.fill(0, base, base + ability.size);
  for (const at of body.pressAt) if (at >= 0) s[at] = -1;
  s[X] = spot.x + 0;
  s[Y] = s[HIGHEST] = spot.y * ySign + 0;
  if (spot.facing !== undefined) s[FACING] = spot.facing;
  forgetAll(s);
  s[EDGE] = s[GRIP] = s[COUNTED_WALL] = -1;
  s[GRIP_SIDE] = 1;
  s[FACED_X] = s[RIDGE_AT] = s[LANDED] = s[CORNERED] = s[LIPPED] = -Infinity;
  s[USED_PRESS] = -2;
  s[POSE_SINCE] = s[WANT_SINCE] = body.clock[NOW]!;
  // What it was aboard of, it is told to have left.
  s[ABOARD] = aboard;
  body.setHeight(body.motion.height);
  forgetDropped(body);
  nears[0]!.forget();
  placeSets(body);
  if (isInside(body, s[X]!, s[Y]!)) startFreeing(body);
  else if (standHere(body)) {
    // At rest on what may move.
    s[VX] = s[VY] = 0;
  }
  if (s[SUPPORT] !== GROUND) {
    s[PHASE] = FALL;
    s[POSE] = s[WANT] = FALLING;
  }
}
