import { levenbergMarquardt } from 'ml-levenberg-marquardt';
import {
  GOALS,
  TuningError,
  apexOf,
  arcPieces,
  compileTuning,
  stateAt,
  type Motion,
  type Tuning,
} from '../core/index.js';

/** The numbers of a jump that goes along a drawn curve. */
export interface SketchedJump {
  /** Units, s and a multiplier; the fall only where enough of it was drawn. */
  height: number;
  riseTime: number;
  falling: number | undefined;
  /** How far the curve is from the jump: root of the mean square of heights, units. */
  rms: number;
  tuning: Tuning;
}

/** No curve of fewer points, or lower than this, tiles, is a jump. */
const FEWEST = 5;
const LOWEST = 0.1;
/** So much of the height has to be fallen again, for the fall to be told. */
const FALLEN = 0.4;
/** At most so many points are looked at. */
const LOOKED = 160;

/**
 * The jump that goes along a curve that somebody has drawn: its height, how long it rises, and how fast it falls, at the tuning's run speed, everything else being as it is.
 * By least squares of heights over the way across (Levenberg and Marquardt), on the closed form that the core moves by.
 * @param points through which it was drawn, units, from the takeoff on; y up
 * @throws RangeError where the curve is no jump; TuningError
 * @example
 * ```ts
 * fitSketch([[0, 0], [1, 2], [2, 3], [3, 2], [4, 0]], brindle)
 * ```
 */
export function fitSketch(points: readonly (readonly [number, number])[], tuning: Tuning): SketchedJump {
  const motion = compileTuning(tuning);
  if (motion.jumpOff) throw new RangeError('the tuning does not jump');
  const { full } = motion;
  const speed = motion.ground.speed;
  const drawn = forward(points);
  const [top, at] = drawn.reduce(([most, when], [x, y]) => (y > most ? [y, x] : [most, when]), [-Infinity, 0]);
  if (drawn.length < FEWEST) throw new RangeError('the curve is too short: draw it from the takeoff on, sideways');
  if (!(top > LOWEST * full.tile && at > 0)) throw new RangeError('the curve is no jump: it has to go up first');
  const falls = drawn.at(-1)![1] < top * (1 - FALLEN);
  const { lowestHop, ...jump } = full.jump;
  const rest = Object.fromEntries(Object.entries(jump).filter(([name]) => !(GOALS as readonly string[]).includes(name)));
  const made = ([height, riseTime, falling]: readonly number[]): Tuning => ({
    ...tuning,
    jump: { ...rest, height: height!, riseTime: riseTime!, ...(lowestHop === undefined ? {} : { lowestHop: Math.min(lowestHop, height!) }) },
    ...(falls ? { gravity: { ...(tuning.gravity as object), falling: falling! } } : {}),
  });
  const compiled = (values: readonly number[]): Motion | undefined => {
    try {
      return compileTuning(made(values));
    } catch (error) {
      if (!(error instanceof TuningError)) throw error;
      return undefined;
    }
  };
  const heights = (values: readonly number[]): ((x: number) => number) => {
    const now = compiled(values);
    if (!now) return () => 1e3;
    const pieces = arcPieces(now, now.launch);
    return (x) => stateAt(pieces, x / speed).y;
  };
  const riseTime = Math.max(0.02, at / speed);
  const start = [top, riseTime, full.gravity.falling].slice(0, falls ? 3 : 2);
  const { parameterValues } = levenbergMarquardt(
    { x: drawn.map(([x]) => x), y: drawn.map(([, y]) => y) },
    (values) => heights(values),
    { initialValues: start, minValues: [0.05 * full.tile, 0.02, 0.1].slice(0, start.length), maxValues: [100 * full.tile, 5, 20].slice(0, start.length), gradientDifference: 1e-4, centralDifference: true, damping: 1e-2, maxIterations: 60, errorTolerance: 1e-12 },
  );
  // What only got worse is left as it was drawn.
  const miss = (values: readonly number[]): number => {
    const height = heights(values);
    return Math.sqrt(drawn.reduce((sum, [x, y]) => sum + (height(x) - y) ** 2, 0) / drawn.length);
  };
  const best = miss(parameterValues) <= miss(start) ? parameterValues : start;
  const found = compiled(best);
  if (!found) throw new RangeError('no jump of this tuning goes along that curve');
  return { height: apexOf(arcPieces(found, found.launch)).y, riseTime: best[1]!, falling: best[2], rms: miss(best), tuning: made(best) };
} // prettier-ignore

/** What of a curve goes on the way that it goes as a whole, from its first point; seen as if to the right. */
function forward(points: readonly (readonly [number, number])[]): (readonly [number, number])[] {
  const [x0, y0] = points[0] ?? [0, 0];
  const way = (points.at(-1)?.[0] ?? x0) < x0 ? -1 : 1;
  const found: (readonly [number, number])[] = [];
  let last = -Infinity;
  for (const [x, y] of points) {
    const at = (x - x0) * way;
    if (!(at > last) || !Number.isFinite(at + y)) continue;
    found.push([at, y - y0]);
    last = at;
  }
  const every = Math.ceil(found.length / LOOKED);
  return found.filter((_, i) => i % every === 0 || i === found.length - 1);
}
