/** One body's places over time, from the first to the last: s and units, y up. */
export interface Track {
  time: Float64Array;
  x: Float64Array;
  y: Float64Array;
  /** What was held at each, where that was captured. */
  keys: ReadonlyMap<string, Float64Array> | undefined;
}

/** Places that are exact are taken to be off by so much, units. */
const LEAST_NOISE = 1e-3;
/** Of what is off evenly between two lines the standard deviation is 0.29 of their distance: more than so much of it is noise besides. */
const BARE = 0.33;
/** Median of absolute deviations to standard deviation, of the normal distribution. */
export const NORMAL = 1.4826;

/** The middle one of some values by their order; NaN of none. */
export function middleOf(values: ArrayLike<number>): number {
  return Float64Array.from(values).sort()[values.length >> 1] ?? NaN;
}

/** Some of a track's samples. */
function pick({ time, x, y, keys }: Track, which: (i: number) => boolean): Track {
  const some = (of: Float64Array): Float64Array => of.filter((_, i) => which(i));
  return { time: some(time), x: some(x), y: some(y), keys: keys && new Map([...keys].map(([name, held]) => [name, some(held)])) }; // prettier-ignore
}

/** A sample that is off by more standard deviations is one of the capture's errors, if what is around it goes on by itself, to within so many. */
const FAR = 7;
const NEAR = 5;

/** What a sample misses of the cubic through its two neighbours on either side, some left out, as a standard deviation of its own would; NaN at the ends. */
function missOf(time: Float64Array, values: Float64Array, i: number, without: ReadonlySet<number>): number {
  const around: number[] = [];
  for (let k = i - 1; k >= 0 && around.length < 2; k--) if (!without.has(k)) around.push(k);
  for (let k = i + 1; k < time.length && around.length < 4; k++) if (!without.has(k)) around.push(k);
  if (around.length < 4) return NaN;
  let [guess, spread] = [0, 1];
  for (const k of around) {
    let weight = 1;
    for (const other of around) if (other !== k) weight *= (time[i]! - time[other]!) / (time[k]! - time[other]!);
    guess += weight * values[k]!;
    spread += weight * weight;
  }
  return (values[i]! - guess) / Math.sqrt(spread);
} // prettier-ignore

const NONE: ReadonlySet<number> = new Set();

/**
 * How far places are off, as a standard deviation: from what a cubic through each one's four neighbours misses, where something moves. A motion of constant acceleration misses nothing.
 */
export function noiseOf(time: Float64Array, values: Float64Array): number {
  const off: number[] = [];
  for (let i = 2; i + 2 < values.length; i++)
    if ([i - 2, i - 1, i + 1, i + 2].some((k) => values[k] !== values[i])) off.push(Math.abs(missOf(time, values, i, NONE)));
  const [line, seen] = [lineOf(values), NORMAL * (middleOf(off) || 0)];
  // What lies on lines and shows no other noise is off by the same again and again: by half of their distance, at worst.
  return Math.max(LEAST_NOISE, seen, seen < BARE * line ? line / 2 : 0);
} // prettier-ignore

/** A track without what cannot be: places far off those around them, and such as stand still for a sample in the middle of a motion, as where a frame is shown twice. */
export function cleaned(track: Track): { track: Track; strays: number } {
  const { time, x, y } = track;
  const strays = new Set<number>();
  const noises = [noiseOf(time, x), noiseOf(time, y)];
  const still = (i: number, k: number): boolean => x[i] === x[k] && y[i] === y[k];
  const moves = (i: number, k: number): boolean => Math.abs(x[i]! - x[k]!) > 4 * noises[0]! || Math.abs(y[i]! - y[k]!) > 4 * noises[1]!;
  for (let i = 2; i + 1 < time.length; i++) if (still(i, i - 1) && moves(i - 1, i - 2) && moves(i + 1, i)) strays.add(i);
  [x, y].forEach((values, a) => {
    const noise = noises[a]!;
    const off = Array.from(values.keys(), (i) => ({ i, miss: Math.abs(missOf(time, values, i, strays)) / noise })).filter(({ miss }) => miss > FAR);
    for (const { i } of off.sort((one, other) => other.miss - one.miss)) {
      if (strays.has(i) || !(Math.abs(missOf(time, values, i, strays)) > FAR * noise)) continue;
      const without = new Set([...strays, i]);
      const around = [i - 2, i - 1, i + 1, i + 2].filter((k) => !without.has(k) && k >= 0 && k < time.length);
      if (around.every((k) => !(Math.abs(missOf(time, values, k, without)) > NEAR * noise))) strays.add(i);
    }
  });
  return { track: pick(track, (i) => !strays.has(i)), strays: strays.size };
} // prettier-ignore

/** Whether places are whole pixels and no noise besides: then what is left says nothing of how far they are off. */
export function isBare(values: Float64Array, noise: number): boolean {
  return noise === lineOf(values) / 2;
}

/** How far apart the lines are that all places lie on, as of whole pixels; 0 where they lie on none. */
function lineOf(values: Float64Array): number {
  const sorted = [...new Set(values)].sort((one, other) => one - other);
  const gaps = sorted.slice(1).map((value, i) => value - sorted[i]!);
  const least = gaps.reduce((one, other) => Math.min(one, other), Infinity);
  if (!(least > 1e-4) || gaps.length < 4) return 0;
  return gaps.every((gap) => Math.abs(gap / least - Math.floor(gap / least + 0.5)) < 1e-3) ? least : 0;
}

/** At both ends of a stretch that stays the same it may move already, so many samples. */
const ENDS = 3;

/** How much each sample tells: of whole pixels those that stay the same in a row are all off by the same, and tell no more than one; but for the ends, where it sets off or stops. */
export function priorOf(values: Float64Array): Float64Array {
  const prior = new Float64Array(values.length).fill(1);
  if (lineOf(values) === 0) return prior;
  for (let from = 0, i = 1; i <= values.length; i++)
    if (i === values.length || values[i] !== values[from]) {
      const inner = i - from - 2 * ENDS;
      if (inner > 1) prior.fill(1 / inner, from + ENDS, i - ENDS);
      from = i;
    }
  return prior;
}

/** The most common time between two samples, s. */
export function frameOf(time: Float64Array): number {
  return middleOf(time.subarray(1).map((moment, i) => moment - time[i]!)) || 1;
}
