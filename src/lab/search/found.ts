import { LOST, type SearchRow } from './job.js';
import type { SearchPlan } from './plan.js';
import type { VariedKey } from '../vary.js';

/** What a file of a search begins with. */
export interface SearchHead {
  version: 1;
  /** The hash of the plan, and what does its jobs. */
  plan: string;
  build: string;
  /** How many rows there are in all. */
  rows: number;
  /** Which of them are here: `2/16`; all where it is null. */
  shard: string | null;
  keys: readonly VariedKey[];
  promises: readonly string[];
}

/** What was found: rows in any order, or sorted. */
export interface FoundRows {
  head: SearchHead;
  rows: SearchRow[];
}

/** One part of several: rows of which the number leaves the rest k − 1 by n. */
export interface Shard {
  part: number;
  of: number;
}

/**
 * The head of a file of a search.
 * @example
 * ```ts
 * headOf(searchPlan({ build: 'mine', tuning: brindle, keys: [{ key: 'jump.height', values: [2, 3] }], promises: [{ name: 'clears two', measure: 'apexHeight', least: 2 }] }), 'hash')
 * ```
 */
export function headOf(plan: SearchPlan, hash: string, shard?: Shard): SearchHead {
  const { build, rows, keys, promises } = plan;
  return { version: 1, plan: hash, build, rows, shard: shard ? `${shard.part}/${shard.of}` : null, keys, promises: promises.map(({ name }) => name) };
} // prettier-ignore

/**
 * Whether a row is of a part.
 * @example
 * ```ts
 * isIn({ part: 1, of: 4 }, 8) // true
 * ```
 */
export const isIn = (shard: Shard | undefined, row: number): boolean =>
  shard === undefined || row % shard.of === shard.part - 1;

/** Parts as one. */
export interface Merged extends FoundRows {
  /** Rows that no part has, or that were lost in every one. */
  missing: number[];
}

/**
 * Parts of a search, in any order, as the whole of it: the same as if it had been done at once.
 * @throws RangeError where there is none, where they are of different plans or builds, or say different things of a row
 * @example
 * ```ts
 * mergeFound([found]).missing // rows that are in no part
 * ```
 */
export function mergeFound(parts: readonly FoundRows[]): Merged {
  const first = parts[0]?.head;
  if (first === undefined) throw new RangeError('there is no part to merge');
  const rows = new Map<number, SearchRow>();
  for (const { head, rows: some } of parts) {
    const other = (['plan', 'build', 'rows'] as const).find((key) => head[key] !== first[key]);
    if (other !== undefined) throw new RangeError(`parts are of different searches: ${other} is ${first[other]} in one and ${head[other]} in another`);
    for (const row of some) {
      const known = rows.get(row.row);
      if (known !== undefined && known.error !== LOST && row.error !== LOST && JSON.stringify(known) !== JSON.stringify(row)) throw new RangeError(`two parts say different things of row ${row.row}`);
      if (known === undefined || known.error === LOST) rows.set(row.row, row);
    }
  }
  const sorted = [...rows.values()].sort((one, other) => one.row - other.row);
  const missing = Array.from({ length: first.rows }, (_, row) => row).filter((row) => !rows.has(row) || rows.get(row)!.error === LOST);
  return { head: { ...first, shard: null }, rows: sorted, missing };
} // prettier-ignore

/**
 * Numbers of rows in words: `3, 5 to 9, 12`.
 * @example
 * ```ts
 * rangesOf([1, 2, 3, 7]) // '1 to 3, 7'
 * ```
 */
export function rangesOf(rows: readonly number[]): string {
  const ranges: [number, number][] = [];
  for (const row of rows) {
    const last = ranges.at(-1);
    if (last && last[1] === row - 1) last[1] = row;
    else ranges.push([row, row]);
  }
  return ranges.map(([from, to]) => (from === to ? `${from}` : `${from} to ${to}`)).join(', ');
}
