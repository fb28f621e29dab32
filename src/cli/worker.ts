import {
  Expander,
  varyPoint,
  type Batch,
  type Expanded,
  type Search,
  type VariedKey,
  type VariedPoint,
} from 'apperin/lab';
import type { Tuning } from 'apperin';

/** What other threads do of long work: nothing here depends on which of them does it. */

let known: { name: string; expander: Expander } | undefined;

export function expand({ search, batch }: { search: Search; batch: Batch }): Expanded {
  const name = JSON.stringify(search);
  if (known?.name !== name) known = { name, expander: new Expander(search) };
  return known.expander.expand(batch);
}

export interface VaryTask {
  tuning: Tuning;
  keys: readonly VariedKey[];
  points: readonly number[][];
  rate: number;
}

export function varyPoints({ tuning, keys, points, rate }: VaryTask): Omit<VariedPoint, 'motion'>[] {
  return points.map((values) => {
    const { measures, why } = varyPoint(tuning, keys, values, rate);
    return { values, measures, why };
  });
}
