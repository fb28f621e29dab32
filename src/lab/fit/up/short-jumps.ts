import type { UpKey, UpValues } from '../flight.js';
import { heldFor, tapsOf } from '../holds.js';
import type { SeenFlight } from '../seen.js';
import { badnessOf, settle } from '../squares.js';
import { heldOf } from './known-keys.js';
import { SHORTER, type Search } from './search.js';

/** What letting go may do, with values to begin from. */
const RELEASES: readonly { key: UpKey; starts: readonly number[] }[] = [
  { key: 'gravity.released', starts: [1.3, 2, 3.2, 5, 8, 16] },
  { key: 'gravity.cutTo', starts: [0.1, 0.2, 0.4, 0.6, 0.8] },
];

/** By what letting go does: another gravity, or a share of the speed. */
export function shortJumps(search: Search, short: readonly SeenFlight[]): void {
  const start = search.values;
  const used = [...search.used, ...short];
  const hold = (values: UpValues): void => {
    for (const one of short) one.flight.hops[0]!.held = heldOf(search, one, one.flight.hops[0]!) ?? heldFor(values, one.apex);
  };
  const ways = RELEASES.map(({ key, starts }) => {
    const keys: UpKey[] = [...search.keys, key];
    const tried = starts.map((value) => {
      const shared = [...start, value];
      hold(search.valuesOf(keys, shared));
      let sum = 0;
      for (const one of short) {
        const part = search.partOf(one, keys);
        settle(part, shared);
        sum += badnessOf(part, shared);
      }
      return { shared, sum };
    });
    const { shared } = tried.reduce((one, other) => (other.sum < one.sum ? other : one));
    hold(search.valuesOf(keys, shared));
    const solved = search.solve(used, keys, shared);
    return { keys, solved, held: short.map(({ flight }) => flight.hops[0]!.held) };
  });
  const way = ways.reduce((one, other) => (other.solved.squares.badness < one.solved.squares.badness ? other : one));
  short.forEach(({ flight }, i) => (flight.hops[0]!.held = way.held[i]));
  search.take(used, way.keys, way.solved);
  search.settleHops();
} // prettier-ignore

/**
 * The shortest hops: how short they can be. Where keys were captured, what is held for less acts as if it was held for so long; else where many are alike.
 * @returns how many of them are as short as can be
 */
export function taps(search: Search): number {
  if (!RELEASES.some(({ key }) => search.keys.includes(key))) return 0;
  search.settleHops();
  const keys: UpKey[] = [...search.keys, 'tap'];
  const known = search.used.flatMap(({ flight }) => flight.hops.flatMap(({ held }) => (typeof held === 'object' ? [held.known] : [])));
  if (known.length > 0) {
    const least = Math.min(...known);
    const tries = [0.5, 1.02, 1.5, 2.5].map((share) => search.alone(search.used, ['tap'], [Math.max(1e-3, share * least)]));
    const tap = tries.reduce((one, two) => (two.badness < one.badness ? two : one));
    const other = search.solve(search.used, keys, [...search.values, ...tap.shared]);
    const tapped = known.filter((one) => one < other.squares.shared.at(-1)!).length;
    if (tapped > 0 && search.best.squares.badness - other.squares.badness > SHORTER * search.variance) {
      search.take(search.used, keys, other);
      return tapped;
    }
  }
  const tapped = tapsOf(search.best.flown, search.values);
  if (tapped.length === 0) return 0;
  const held = tapped.reduce((sum, hop) => sum + (hop.held as number), 0) / tapped.length;
  for (const hop of tapped) hop.held = 'tap';
  search.take(search.used, keys, search.solve(search.used, keys, [...search.values, Math.max(held, 1e-3)]));
  return tapped.length;
} // prettier-ignore
