import type { Hop } from '../flight.js';
import { missOf } from '../squares.js';
import { middleOf } from '../track.js';
import { SHORTER, type Search } from './search.js';

/** A flight that misses by so many times as much as the others has another cause; what misses by less, in variances, has none. */
const ODD = 5;
const FINE = 4;

/** Keys that were let go of after all. @param starts when, in rise times */
export function releases(search: Search, starts: readonly number[] = [0.75, 1.12]): void {
  search.settleHops();
  let changed = false;
  const rise = search.values[1]!;
  const { variance } = search;
  for (const one of search.used)
    one.flight.hops.forEach((hop, i) => {
      // What was wound up counts as held throughout.
      if (hop.held !== undefined || !(hop.by === 'air' || (hop.by === 'jump' && !search.charged))) return;
      const badness = (held: Hop['held']): number => search.metWith(one, one.flight.hops.map((other, k) => (k === i ? { ...hop, held } : other))); // prettier-ignore
      const before = badness(undefined);
      const tried = starts.map((start) => ({ held: start * rise, sum: badness(start * rise) }));
      const best = tried.reduce((least, other) => (other.sum < least.sum ? other : least));
      if (before - best.sum < SHORTER * variance) return;
      hop.held = best.held;
      changed = true;
    });
  if (changed) search.again();
}

/** What has another cause. */
export function oddOnes(search: Search): void {
  for (let round = 0; round < 2; round++) {
    const each = search.best.flown.map(({ part }) => missOf(part, search.values));
    const usual = middleOf(each);
    const odd = search.used.filter((_, i) => each[i]! > Math.max(ODD * usual, FINE));
    if (odd.length === 0 || odd.length > search.used.length / 2) return;
    for (const one of odd) search.refuse(one, 'no tuning moves like that and like the rest');
    search.settleHops();
    search.again(search.used.filter((one) => !odd.includes(one)));
  }
} // prettier-ignore
