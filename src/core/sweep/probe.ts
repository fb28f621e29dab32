import type { Terrain } from '../terrain/terrain.js';
import type { CompiledLevel } from '../terrain/world.js';
import { hullOf } from './hull.js';
import { Near } from './near.js';
import { AT, PATH_LENGTH, PAX, PAY, PVX, PVY, PX, PY, T, locate } from './path.js';
import { NORMAL_X, NORMAL_Y, TOUCH_LENGTH, WHEN } from './ties.js';
import { firstTouch } from './touch.js';

/** A body to move, and how: all in the level's own axes. */
export interface Probe {
  /** Hitbox, units; `bevel` cuts its lower corners. */
  width: number;
  height: number;
  bevel?: number;
  /** Middle of the feet at the start. */
  at: readonly [number, number];
  /** Velocity, units/s, and acceleration, units/s². */
  velocity: readonly [number, number];
  acceleration?: readonly [number, number];
  /** How long to move, s. */
  seconds: number;
}

export interface Obstacle {
  /** When it is met, s from the start. */
  time: number;
  /** Middle of the feet at that moment. */
  x: number;
  y: number;
  /** Unit normal of what was met, pointing back at the body. */
  normal: readonly [number, number];
}

/**
 * What a body would meet first on a path of constant acceleration; undefined where its way is free. It changes nothing:
 * for thrown things, for bots that look ahead, for "would it fit there?". Edges the body is behind of do not count.
 * @throws RangeError naming the argument that is out of range
 */
export function probe(
  level: CompiledLevel,
  { width, height, bevel = 0, at, velocity, acceleration = [0, 0], seconds }: Probe,
): Obstacle | undefined {
  for (const [name, value, least] of [
    ['width', width, 0],
    ['height', height, 0],
    ['seconds', seconds, 0],
  ] as const) {
    if (!(value > least && value < Infinity)) throw new RangeError(`${name} is ${value}; it must be above ${least}`);
  }
  if (!(bevel >= 0 && bevel < width / 2 && bevel < height))
    throw new RangeError(`bevel is ${bevel}; it must be at least 0, and less than half the width and the height`);
  for (const [name, pair] of [
    ['at', at],
    ['velocity', velocity],
    ['acceleration', acceleration],
  ] as const) {
    if (!pair.every(Number.isFinite)) throw new RangeError(`${name} is ${pair.join(', ')}; it must be two numbers`);
  }
  const up = level.yPoints === 'up' ? 1 : -1;
  const terrain: Terrain = level.terrain;
  const hull = hullOf(width, height, bevel);
  const near = new Near(terrain, width + height);
  near.bevelled = bevel > 0;
  const path = new Float64Array(PATH_LENGTH);
  const found = new Float64Array(TOUCH_LENGTH);
  let [x, y] = [at[0], at[1] * up];
  let [vx, vy] = [velocity[0], velocity[1] * up];
  const ax = acceleration[0];
  const ay = acceleration[1] * up;
  // A piece may not turn round in either direction: it is cut where a speed is 0.
  const cuts = [-vx / ax, -vy / ay].filter((t) => t > 0 && t < seconds).sort((a, b) => a - b);
  let start = 0;
  for (const end of [...cuts, seconds]) {
    path[PX] = x;
    path[PY] = y;
    path[PVX] = start === -velocity[0] / ax ? 0 : vx;
    path[PVY] = start === (-velocity[1] * up) / ay ? 0 : vy;
    path[PAX] = ax;
    path[PAY] = ay;
    path[T] = path[AT] = end - start;
    locate(path);
    const edge = firstTouch(path, near, hull, found);
    const t = edge < 0 ? end - start : found[WHEN]!;
    [x, y] = [x + t * (path[PVX]! + (t * ax) / 2), y + t * (path[PVY]! + (t * ay) / 2)];
    if (edge >= 0)
      return { time: start + t, x: x + 0, y: y * up + 0, normal: [found[NORMAL_X]! + 0, found[NORMAL_Y]! * up + 0] };
    [vx, vy] = [velocity[0] + ax * end, velocity[1] * up + ay * end];
    start = end;
  }
  return undefined;
}
