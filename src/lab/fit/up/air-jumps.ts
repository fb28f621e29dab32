import type { UpKey } from '../flight.js';
import { airHeight } from '../holds.js';
import type { SeenFlight } from '../seen.js';
import { middleOf } from '../track.js';
import { BETTER, SHORTER, type Search } from './search.js';

const AIRS = ['airJumps.heights.0', 'airJumps.heights.1', 'airJumps.heights.2'] as const;
/** Jumps in the air are at least this share as high as those from the ground. */
const LOWEST = 0.08;
/** A flight that misses by more than so many times what others do has a cause. */
const MISSES = 2.5;

/** Jumps in the air: all of one height, unless they tell otherwise. */
export function airJumps(search: Search, several: readonly SeenFlight[], legs: ReadonlyMap<SeenFlight, SeenFlight>): void {
  if (several.length === 0) return;
  for (const one of several) {
    const leg = legs.get(one);
    if (!leg || !search.used.includes(leg)) continue;
    one.flight.hops[0] = leg.flight.hops[0]!;
    search.used = search.used.filter((other) => other !== leg);
  }
  // What goes as well without had none.
  const really = several.filter((one) => {
    const hops = one.flight.hops.slice(0, 1);
    if (search.metWith(one, hops) / (one.flight.until - one.flight.from) > MISSES * search.variance) return true;
    one.flight.hops = hops;
    return false;
  });
  const used = [...search.used, ...several];
  if (really.length === 0) return search.again(used);
  // By themselves first, all else as it is; they may fall so far that they become no faster.
  const height = airHeight(really, middleOf(search.seen.map(({ rising }) => rising)));
  const [plain, capped] = [search.alone(really, [AIRS[0]], [height]), search.alone(really, [AIRS[0], 'gravity.fallSpeed'], [height, 0.97 * search.fastest])];
  const isCapped = !search.keys.includes('gravity.fallSpeed') && plain.badness - capped.badness > BETTER * search.variance;
  const before = { keys: search.keys, values: search.values };
  const keys: UpKey[] = [...search.keys, AIRS[0], ...(isCapped ? ['gravity.fallSpeed' as const] : [])];
  search.take(used, keys, search.solve(used, keys, [...search.values, ...(isCapped ? capped : plain).shared], { each: true }));
  // So low a jump is none: a flight that was misread.
  if (search.values[keys.indexOf(AIRS[0])]! < LOWEST * search.values[0]!) {
    for (const one of really) one.flight.hops = one.flight.hops.slice(0, 1);
    search.keys = before.keys;
    return search.take(used, before.keys, search.solve(used, before.keys, before.values));
  }
  // What goes as well with one fewer had one fewer.
  for (const one of really)
    for (let i = one.flight.hops.length - 1; i > 0; i--) {
      const fewer = one.flight.hops.filter((_, k) => k !== i);
      if (search.metWith(one, fewer) - search.metWith(one, one.flight.hops) < SHORTER * search.variance) one.flight.hops = fewer;
    }
  search.again(used);
  const most = Math.min(AIRS.length, Math.max(...really.map(({ flight }) => flight.hops.filter(({ by }) => by === 'air').length)));
  for (let count = 2; count <= most; count++) {
    const more: UpKey[] = [...search.keys, AIRS[count - 1]!];
    const other = search.solve(used, more, [...search.values, search.values[search.keys.indexOf(AIRS[0])]!]);
    if (search.best.squares.badness - other.squares.badness > BETTER * search.variance) search.take(used, more, other);
  }
} // prettier-ignore
