import { overlap } from '../sweep/touch.js';
import { FLOOR, WALL_LEFT } from '../terrain/terrain.js';
import { NOW, type Body } from './body.js';
import { coyoteOpen } from './rights.js';
import {
  AIR_SPENT,
  COYOTE,
  EDGE,
  GROUND,
  HIGHEST,
  JUMPING,
  LEFT_AT,
  NONE,
  ON_GROUND,
  PHASE,
  FALL,
  RAMP,
  SUPPORT,
  WALL,
  X,
  Y,
} from './state.js';

/** Closes what has run out. Support and walls are remembered, and end at moments that the path was cut for. */
export function sense(body: Body): void {
  const { s } = body;
  if (s[COYOTE] === 1 && !coyoteOpen(body)) s[COYOTE] = 0;
}

/**
 * The floor that would hold the body up where it is, or −1: level with the feet to within `touch`, under more than
 * `touch` of the body; of several, the one nearest the middle of the feet.
 */
export function floorUnder(body: Body, but: number): number {
  const { s, motion, near } = body;
  const { half, height, touch } = motion;
  const x = s[X]!;
  const y = s[Y]!;
  near.ask(x - half - touch, y - touch, x + half + touch, y + height + touch);
  const { starts, ids, fixed, low, high } = near;
  let best = -1;
  let nearest = Infinity;
  for (let i = starts[FLOOR]!; i < starts[FLOOR + 1]!; i++) {
    if (ids[i] === but || Math.abs(y - fixed[i]!) > touch) continue;
    if (overlap(x - half, x + half, low[i]!, high[i]!) <= touch) continue;
    const off = x < low[i]! ? low[i]! - x : x > high[i]! ? x - high[i]! : 0;
    if (off < nearest) {
      nearest = off;
      best = ids[i]!;
    }
  }
  return best;
}

/** Stands on a floor: its height is copied, so that feet at rest are the floor's own coordinate. */
export function stand({ s, terrain, motion }: Body, floor: number): void {
  s[SUPPORT] = GROUND;
  s[EDGE] = floor;
  s[PHASE] = ON_GROUND;
  s[Y] = terrain.y1[floor]!;
  s[HIGHEST] = s[Y]!;
  s[JUMPING] = 0;
  s[COYOTE] = 0;
  s[RAMP] = 0;
  if (motion.airByGround) s[AIR_SPENT] = 0;
}

/** At the end of a floor: on to the next one, or into the air. */
export function leaveSupport(body: Body): void {
  const { s, terrain, motion } = body;
  const left = s[EDGE]!;
  // No more than `touch` over the edge, whatever rounding made of it: else it would catch the body again.
  while (overlap(s[X]! - motion.half, s[X]! + motion.half, terrain.x1[left]!, terrain.x2[left]!) > motion.touch) {
    const middle = (terrain.x1[left]! + terrain.x2[left]!) / 2;
    s[X] = nudge(s[X]!, s[X]! > middle);
  }
  const floor = floorUnder(body, left);
  if (floor >= 0) {
    s[EDGE] = floor;
    s[Y] = terrain.y1[floor]!;
    return;
  }
  body.tell('leave');
  s[SUPPORT] = NONE;
  s[EDGE] = -1;
  s[PHASE] = FALL;
  s[COYOTE] = 1;
  s[LEFT_AT] = body.clock[NOW]!;
}

/** Past the end of the wall it pressed against, the body is free to move on, unless another wall stands there. */
export function leaveWall(body: Body): void {
  const { s, terrain, motion } = body;
  const wall = s[WALL]!;
  const low = Math.min(terrain.y1[wall]!, terrain.y2[wall]!);
  const high = Math.max(terrain.y1[wall]!, terrain.y2[wall]!);
  while (overlap(s[Y]!, s[Y]! + motion.height, low, high) > motion.touch) s[Y] = nudge(s[Y]!, s[Y]! > low);
  s[WALL] = wallBeside(body, wall);
}

/** Another wall that the body touches on the same side, beside more than `touch` of its height, or −1. */
function wallBeside(body: Body, but: number): number {
  const { s, motion, near, terrain } = body;
  const { half, height, touch } = motion;
  const kind = terrain.kind[but]!;
  const side = s[X]! + (kind === WALL_LEFT ? half : -half);
  const { starts, ids, fixed, low, high } = near;
  let best = -1;
  let lowest = Infinity;
  for (let i = starts[kind]!; i < starts[kind + 1]!; i++) {
    if (ids[i] === but || Math.abs(fixed[i]! - side) > touch) continue;
    if (overlap(s[Y]!, s[Y]! + height, low[i]!, high[i]!) <= touch || low[i]! >= lowest) continue;
    lowest = low[i]!;
    best = ids[i]!;
  }
  return best;
}

/** The smallest step that is sure to change a coordinate. */
function nudge(value: number, up: boolean): number {
  const step = Math.abs(value) * 2.220446049250313e-16 + 1e-300;
  return up ? value + step : value - step;
}
