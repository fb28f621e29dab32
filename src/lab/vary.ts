import { TuningError, compileTuning, type Ability, type Motion, type Tuning } from '../core/index.js';
import { arcs, type Arcs } from './curves.js';
import { isKey, unknownKey, withValue } from './entries.js';
import { sheet, type Measure } from './sheet.js';

/** A key and the values that it takes in turn. */
export interface VariedKey {
  /** Its dotted name, such as `jump.height`; of a list the entry, counted from 1: `airJumps.heights.1`. */
  key: string;
  values: readonly number[];
}

/** What one choice of values amounts to. */
export interface VariedPoint {
  /** A value for each key. */
  values: number[];
  motion: Motion | undefined;
  measures: Measure[];
  /** Why there is no such tuning, where there is none. */
  why: string;
}

/** How measures follow one number, or two. */
export interface Varied {
  keys: readonly VariedKey[];
  points: VariedPoint[];
  /** The measures that change, with one value for each point (null where there is no such tuning, or it has no such measure). */
  changing: { id: string; name: string; unit: Measure['unit']; values: (number | null)[] }[];
}

/**
 * The most points that are looked at in one call.
 * @example
 * ```ts
 * MOST_POINTS // 10000
 * ```
 */
export const MOST_POINTS = 10_000;

/**
 * Varies one or two keys: how does each measure follow?
 * @param options settings, each of which may be left out
 * @param options.rate ticks per second, for windows in ticks
 * @throws RangeError where there are not one or two keys, or too many points; TuningError where a key is unknown
 * @example
 * ```ts
 * vary(brindle, [{ key: 'gravity.falling', values: [1, 1.5, 2] }]).changing
 * ```
 */
export function vary(
  tuning: Tuning,
  keys: readonly VariedKey[],
  { rate = 60, abilities = [] }: { rate?: number; abilities?: readonly Ability[] } = {},
): Varied {
  return varied(
    keys,
    choicesOf(keys).map((values) => varyPoint(tuning, keys, values, rate, abilities)),
  );
}

/**
 * The values that keys take in turn: of two, the second is the slower, each of its values is a line of the first one's.
 * @throws RangeError where there are not one or two keys, or too many points; TuningError where a key is unknown
 * @example
 * ```ts
 * choicesOf([{ key: 'jump.height', values: [2, 3, 4] }]) // [[2], [3], [4]]
 * ```
 */
export function choicesOf(keys: readonly VariedKey[]): number[][] {
  if (keys.length < 1 || keys.length > 2) throw new RangeError(`one or two keys are varied, not ${keys.length}`);
  for (const { key } of keys) if (!isKey(key)) throw new TuningError(key, unknownKey(key));
  const [first, second] = keys;
  if (first!.key === second?.key) throw new RangeError(`${first!.key} is varied twice`);
  const count = first!.values.length * (second?.values.length ?? 1);
  if (!(count >= 1 && count <= MOST_POINTS))
    throw new RangeError(`${count} points are looked at; it must be 1 to ${MOST_POINTS}`);
  return (second?.values ?? [undefined]).flatMap((other) =>
    first!.values.map((value) => (other === undefined ? [value] : [value, other])),
  );
}

/**
 * The tuning with those values. @throws TuningError where a key is unknown
 * @example
 * ```ts
 * tuningAt(brindle, [{ key: 'jump.height', values: [] }], [3])
 * ```
 */
export function tuningAt(tuning: Tuning, keys: readonly VariedKey[], values: readonly number[]): Tuning {
  return keys.reduce((now, { key }, i) => withValue(now, key, values[i]), tuning);
}

/**
 * What points show together.
 * @example
 * ```ts
 * const keys = [{ key: 'run.speed', values: [6, 7] }];
 * varied(keys, choicesOf(keys).map((values) => varyPoint(brindle, keys, values, 60)));
 * ```
 */
export function varied(keys: readonly VariedKey[], points: VariedPoint[]): Varied {
  return { keys, points, changing: changingOf(points) };
}

/**
 * One choice of values.
 * @example
 * ```ts
 * varyPoint(brindle, [{ key: 'run.speed', values: [6, 7] }], [6], 60).measures
 * ```
 */
export function varyPoint(
  tuning: Tuning,
  keys: readonly VariedKey[],
  values: number[],
  rate: number,
  abilities: readonly Ability[] = [],
): VariedPoint {
  try {
    const motion = compileTuning(tuningAt(tuning, keys, values));
    return { values, motion, measures: sheet(motion, { rate, abilities }), why: '' };
  } catch (error) {
    if (!(error instanceof TuningError)) throw error;
    return { values, motion: undefined, measures: [], why: error.message };
  }
}

function changingOf(points: readonly VariedPoint[]): Varied['changing'] {
  const ids = [...new Set(points.flatMap(({ measures }) => measures.map(({ id }) => id)))];
  return ids.flatMap((id) => {
    const found = points.map(({ measures }) => measures.find((measure) => measure.id === id));
    const { name, unit } = found.find((measure) => measure !== undefined)!;
    const values = found.map((measure) => measure?.value ?? null);
    const known = values.filter((value): value is number => value !== null && Number.isFinite(value));
    const [low, high] = [Math.min(...known), Math.max(...known)];
    const changes = high - low > 1e-9 * Math.max(Math.abs(low), Math.abs(high));
    return changes || known.length < values.filter((_, i) => points[i]!.motion).length
      ? [{ id, name, unit, values }]
      : [];
  });
}

/**
 * The arcs of the varied tunings, named by their values: as many as a figure shows, evenly chosen.
 * @example
 * ```ts
 * family(vary(brindle, [{ key: 'jump.height', values: [2, 3, 4] }]))
 * ```
 */
export function family({ keys, points }: Varied, most = 6): Arcs[] {
  const there = points.filter(({ motion }) => motion !== undefined);
  const count = Math.min(most, there.length);
  return Array.from({ length: count }, (_, i) => {
    const { values, motion } = there[count === 1 ? 0 : Math.floor((i * (there.length - 1)) / (count - 1) + 0.5)]!;
    return arcs(values.map((value, k) => `${keys[k]!.key.split('.').pop()} ${Number(value.toPrecision(4))}`).join(', '), motion!);
  }); // prettier-ignore
}
