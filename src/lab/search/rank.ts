import type { SearchRow } from './job.js';

/** What is cared for: a measure, as much or as little of it as can be, or as near to a value. */
export interface Wish {
  measure: string;
  towards: 'most' | 'least' | number;
}

/** A row among others. */
export interface Ranked {
  row: SearchRow;
  /** How many promises hold. */
  holds: number;
  /** 0 to 1: how far it comes towards what is wished, of all that keep as many promises, each wish alike; null without wishes. */
  score: number | null;
}

/**
 * How many promises hold in a row.
 * @example
 * ```ts
 * holdsOf({ row: 0, set: {}, measures: {}, promises: [], spent: { events: 0 } }) // 0
 * ```
 */
export const holdsOf = ({ promises }: SearchRow): number => promises.filter(({ answer }) => answer === 'holds').length;

/**
 * Rows, the best first: those that keep the most promises; of these what comes the nearest to the wishes. Each wish counts from 0, for the worst among rows that keep as many
 * promises, to 1, for the best, and the score is their mean. Rows without a measure that is wished come last among their like.
 * @throws RangeError where no row has such a measure
 * @example
 * ```ts
 * ranked([], [{ measure: 'reach', towards: 'most' }])
 * ```
 */
export function ranked(rows: readonly SearchRow[], wishes: readonly Wish[] = []): Ranked[] {
  for (const { measure } of wishes)
    if (rows.length > 0 && !rows.some(({ measures }) => measure in measures)) throw new RangeError(`no row has a measure ${measure}; there are ${Object.keys(rows.find(({ measures }) => Object.keys(measures).length > 0)?.measures ?? {}).join(', ')}`);
  const groups = new Map<number, SearchRow[]>();
  for (const row of rows) groups.set(holdsOf(row), [...(groups.get(holdsOf(row)) ?? []), row]);
  return [...groups]
    .sort(([one], [other]) => other - one)
    .flatMap(([holds, some]) => {
      const scored = scoresOf(some, wishes);
      return some
        .map((row, i): Ranked => ({ row, holds, score: scored[i]! }))
        .sort((one, other) => (other.score ?? -1) - (one.score ?? -1) || one.row.row - other.row.row);
    });
} // prettier-ignore

function scoresOf(rows: readonly SearchRow[], wishes: readonly Wish[]): (number | null)[] {
  if (wishes.length === 0) return rows.map(() => null);
  const shares = wishes.map(({ measure, towards }) => {
    // The more the better.
    const worth = rows.map(({ measures }) => {
      const value = measures[measure];
      if (value === null || value === undefined) return undefined;
      return towards === 'most' ? value : towards === 'least' ? -value : -Math.abs(value - towards);
    });
    const known = worth.filter((one) => one !== undefined);
    const [low, high] = known.reduce(([least, most], one) => [Math.min(least, one), Math.max(most, one)], [Infinity, -Infinity]);
    return worth.map((one) => (one === undefined ? undefined : high > low ? (one - low) / (high - low) : 1));
  });
  return rows.map((_, i) => {
    const mine = shares.map((some) => some[i]);
    return mine.some((one) => one === undefined) ? null : mine.reduce<number>((sum, one) => sum + one!, 0) / wishes.length;
  });
} // prettier-ignore
