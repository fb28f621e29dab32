import { NOW, type Body } from '../character/body.js';
import { floorUnder, stand } from '../character/sense.js';
import {
  COUNTED_WALL,
  CORNERED,
  DEAF,
  EDGE,
  FACING,
  FALL,
  FALLING,
  FIRST,
  GRIP,
  GRIP_SIDE,
  GROUND,
  HELD_ACTIONS,
  HIGHEST,
  LANDED,
  LIPPED,
  PHASE,
  POSE,
  POSE_SINCE,
  SUPPORT,
  TUNED,
  USED_PRESS,
  WALL,
  WANT,
  WANT_SINCE,
  WAS_X,
  WAS_Y,
  WISH,
  X,
  Y,
} from '../character/state.js';
import { overlap } from '../sweep/touch.js';
import type { CompiledLevel } from '../terrain/compile.js';
import { CEILING, FLOOR } from '../terrain/terrain.js';

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
    for (const value of at)
      if (!(Math.abs(value) <= 67108864))
        throw new RangeError(`at is ${at.join(', ')}; it must be two numbers within ±67108864`);
    return { x: at[0], y: at[1] };
  }
  const spawn = level.spawns.get(at);
  if (!spawn)
    throw new RangeError(`there is no spawn ${at}; the level has ${[...level.spawns.keys()].join(', ') || 'none'}`);
  return spawn;
}

/** What stays when a body is put somewhere else: how it faces, what is held, which tuning applies. */
const KEPT_NUMBERS: readonly number[] = [FACING, FIRST, WISH, DEAF, TUNED];

/**
 * Puts a body somewhere, at rest and with all its rights, as if it had just come.
 * @param what how to call the place in a message
 * @throws RangeError where it would be inside something solid; the body then stays as it was
 */
export function putAt(body: Body, spot: Spot, what: string): void {
  const { s, ySign, near } = body;
  const before = s.slice();
  for (let i = 0; i < HELD_ACTIONS; i++) if (!KEPT_NUMBERS.includes(i)) s[i] = 0;
  for (const { base, ability } of body.installed) s.fill(0, base, base + ability.size);
  for (const at of body.pressAt) if (at >= 0) s[at] = -1;
  s[X] = s[WAS_X] = spot.x + 0;
  s[Y] = s[WAS_Y] = s[HIGHEST] = spot.y * ySign + 0;
  if (spot.facing !== undefined) s[FACING] = spot.facing;
  s[EDGE] = s[WALL] = s[GRIP] = s[COUNTED_WALL] = -1;
  s[GRIP_SIDE] = 1;
  s[LANDED] = s[CORNERED] = s[LIPPED] = -Infinity;
  s[USED_PRESS] = -2;
  s[POSE_SINCE] = s[WANT_SINCE] = body.clock[NOW]!;
  body.setHeight(body.motion.height);
  near.forget();
  near.ignored = -1;
  const floor = floorUnder(body, -1);
  if (isInside(body)) {
    s.set(before);
    throw new RangeError(
      `${what}: a body ${body.motion.width} wide and ${body.motion.height} high does not fit there without being inside something solid`,
    );
  }
  if (floor >= 0) {
    stand(body, floor);
    s[WAS_Y] = s[Y]!;
  }
  if (s[SUPPORT] !== GROUND) {
    s[PHASE] = FALL;
    s[POSE] = s[WANT] = FALLING;
  }
}

/** Whether an edge passes through a body, or what is above it is the top of something. */
export function isInside({ s, motion, near, hull }: Body): boolean {
  const { half, touch } = motion;
  const { height } = hull;
  const x = s[X]!;
  const y = s[Y]!;
  const { terrain } = near;
  const { x1, y1, x2, y2, kind } = terrain;
  let inside = false;
  let above = -1;
  const found = terrain.index?.search(x - half, y, x + half, Infinity) ?? [];
  for (let e = terrain.boundsFrom; e < terrain.count; e++) found.push(e);
  for (const e of found) {
    if (terrain.oneWay[e] === 1) continue;
    const level = kind[e] === FLOOR || kind[e] === CEILING;
    const across = overlap(x - half, x + half, Math.min(x1[e]!, x2[e]!), Math.max(x1[e]!, x2[e]!));
    const up = overlap(y, y + height, Math.min(y1[e]!, y2[e]!), Math.max(y1[e]!, y2[e]!));
    if (level) inside ||= across > touch && y1[e]! > y + touch && y1[e]! < y + height - touch;
    else inside ||= up > touch && x1[e]! > x - half + touch && x1[e]! < x + half - touch;
    // The nearest level edge above the middle of the feet.
    const over =
      level && across > touch && Math.min(x1[e]!, x2[e]!) <= x && Math.max(x1[e]!, x2[e]!) >= x && y1[e]! > y + touch;
    if (over && (above < 0 || y1[e]! < y1[above]!)) above = e;
  }
  return inside || (above >= 0 && kind[above] === FLOOR);
}
