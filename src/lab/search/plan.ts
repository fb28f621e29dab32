import type { Tuning } from '../../core/index.js';
import { TuningError } from '../../core/index.js';
import { isKey, unknownKey } from '../entries.js';
import { tuningAt, type VariedKey } from '../vary.js';

/**
 * A level or an input of a plan, by the name under which whoever does its jobs finds it.
 * @example
 * ```ts
 * const plan = searchPlan({ build: 'mine', tuning: brindle, keys: [{ key: 'jump.height', values: [2, 3] }], promises: [{ name: 'out', level: 'yard', to: 'exit', answer: 'yes' }] });
 * ```
 */
export type InputName = string;

/** What is played, where it is not only reckoned. */
export interface PlannedScene {
  level: InputName;
  input: InputName;
}

/** Something that is promised of every row: plain data. */
export type PlannedPromise = { name: string } & (
  | { measure: string; least?: number; most?: number; scene?: PlannedScene }
  | { gap: number; least?: number; most?: number }
  | { sameAt: readonly number[]; scene: PlannedScene }
  | (PlannedSurvey & ({ to: string; answer: 'yes' | 'no' } | { to: string; tightest: number } | { deadEnds: number }))
);

/** What a survey is about. */
export interface PlannedSurvey {
  level: InputName;
  /** Another tuning than that of the plan: the keys of a row are set in it as well. */
  tuning?: Tuning;
  at?: string;
  avoid?: readonly string[];
  /** Named shapes that are switched off (`false`). */
  shapes?: Readonly<Record<string, boolean>>;
  /** Events of the core that it may spend. */
  spend?: number;
}

/** What is searched: plain data, the same wherever its jobs are done. */
export interface SearchPlan {
  version: 1;
  /** What does the jobs: rows of another build are not of this plan. */
  build: string;
  tuning: Tuning;
  /** Every combination of their values is a row, or a sample of them. */
  keys: readonly VariedKey[];
  /** How many rows there are, and whether they are a sample. */
  rows: number;
  sample: boolean;
  /** Ticks per second, for windows in ticks and for what is played. */
  rate: number;
  promises: readonly PlannedPromise[];
  /** Modules of abilities of the game's own, by their hashes. */
  abilities: readonly string[];
}

/**
 * The most rows of a plan, keys, and values of a key.
 * @example
 * ```ts
 * SEARCH_LIMITS.rows // 100000
 * ```
 */
export const SEARCH_LIMITS = { rows: 100_000, keys: 16, values: 10_000, promises: 1_000, spend: 2_000_000 } as const;

/** The smallest primes: a base for each key. */
const BASES = [2, 3, 5, 7, 11, 13, 17, 19, 23, 29, 31, 37, 41, 43, 47, 53] as const;

/** What a plan is made of. */
export interface PlanOptions extends Pick<SearchPlan, 'tuning' | 'keys' | 'promises'> {
  build: string;
  /** So many of the combinations, spread evenly; all of them unless given, or where there are no more. */
  sample?: number;
  rate?: number;
  abilities?: readonly string[];
}

/**
 * Plans a search.
 * @throws RangeError where there are too few or too many keys, values, rows or promises; TuningError where a key is unknown
 * @example
 * ```ts
 * const plan = searchPlan({ build: 'mine', tuning: brindle, keys: [{ key: 'jump.height', values: [2, 3] }], promises: [{ name: 'clears two', measure: 'apexHeight', least: 2 }] });
 * ```
 */
export function searchPlan({ build, tuning, keys, promises, sample, rate = 60, abilities = [] }: PlanOptions): SearchPlan {
  if (!(keys.length >= 1 && keys.length <= SEARCH_LIMITS.keys)) throw new RangeError(`${keys.length} keys are searched; it must be 1 to ${SEARCH_LIMITS.keys}`);
  if (!(promises.length >= 1 && promises.length <= SEARCH_LIMITS.promises)) throw new RangeError(`there are ${promises.length} promises; it must be 1 to ${SEARCH_LIMITS.promises}`);
  for (const [i, { key, values }] of keys.entries()) {
    if (!isKey(key)) throw new TuningError(key, unknownKey(key));
    if (keys.findIndex((other) => other.key === key) < i) throw new RangeError(`${key} is searched twice`);
    if (!(values.length >= 1 && values.length <= SEARCH_LIMITS.values)) throw new RangeError(`${key} has ${values.length} values; it must be 1 to ${SEARCH_LIMITS.values}`);
  }
  if (sample !== undefined && !(Number.isInteger(sample) && sample >= 1)) throw new RangeError(`sample is ${sample}; it must be a whole number of at least 1`);
  const all = keys.reduce((product, { values }) => product * values.length, 1);
  const isSample = sample !== undefined && sample < all;
  const rows = isSample ? sample : all;
  if (rows > SEARCH_LIMITS.rows) throw new RangeError(`${rows} rows are searched; it must be at most ${SEARCH_LIMITS.rows}: fewer values, or a sample of so many`);
  return { version: 1, build, tuning, keys: keys.map(({ key, values }) => ({ key, values: [...values] })), rows, sample: isSample, rate, promises, abilities: [...abilities] };
} // prettier-ignore

/** How far a whole number lies in [0, 1) when its digits in a base are turned round the point. */
function turned(whole: number, base: number): number {
  let [share, rest, place] = [0, whole, 1 / base];
  while (rest > 0) {
    share += (rest % base) * place;
    rest = Math.floor(rest / base);
    place /= base;
  }
  return share;
}

/** Which values each row has: made once for a plan. */
export type RowValues = (row: number) => number[];

/**
 * Which values each row of a plan has, in the order of its keys. Of all combinations the first key is the fastest. A sample takes those that the points of a
 * sequence by J. H. Halton fall on (Numerische Mathematik 2, 1960: one prime base a key), each once.
 * @example
 * ```ts
 * rowValues(searchPlan({ build: 'mine', tuning: brindle, keys: [{ key: 'jump.height', values: [2, 3] }], promises: [{ name: 'clears two', measure: 'apexHeight', least: 2 }] }))(1) // [3]
 * ```
 */
export function rowValues({ keys, rows, sample }: Pick<SearchPlan, 'keys' | 'rows' | 'sample'>): RowValues {
  const valuesAt = (which: number): number[] =>
    keys.map(({ values }) => {
      const value = values[which % values.length]!;
      which = Math.floor(which / values.length);
      return value;
    });
  if (!sample) return valuesAt;
  const taken = new Set<number>();
  for (let point = 1; taken.size < rows; point++) {
    let [which, step] = [0, 1];
    keys.forEach(({ values }, i) => {
      which += step * Math.floor(turned(point, BASES[i]!) * values.length);
      step *= values.length;
    });
    // Where nearly all are taken, the next that is free is as good.
    if (point > POINTS * rows) while (taken.has(which)) which = (which + 1) % step;
    taken.add(which);
  }
  const chosen = [...taken];
  return (row) => valuesAt(chosen[row]!);
} // prettier-ignore

/** So many points a row are looked at. */
const POINTS = 16;

/**
 * What a row sets: a value for each key.
 * @example
 * ```ts
 * rowSet({ keys: [{ key: 'jump.height', values: [2, 3] }] }, [3]) // { 'jump.height': 3 }
 * ```
 */
export function rowSet({ keys }: Pick<SearchPlan, 'keys'>, values: readonly number[]): Record<string, number> {
  return Object.fromEntries(keys.map(({ key }, i) => [key, values[i]!]));
}

/**
 * A tuning with the values of a row. @throws TuningError where there can be no such tuning
 * @example
 * ```ts
 * rowTuning(brindle, { keys: [{ key: 'jump.height', values: [2, 3] }] }, [3])
 * ```
 */
export function rowTuning(tuning: Tuning, { keys }: Pick<SearchPlan, 'keys'>, values: readonly number[]): Tuning {
  return tuningAt(tuning, keys, values);
}
