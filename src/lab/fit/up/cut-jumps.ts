import type { Flight, UpKey, UpValues } from '../flight.js';
import type { SeenFlight } from '../seen.js';
import { missOf } from '../squares.js';
import { middleOf } from '../track.js';
import { heldOf } from './known-keys.js';
import { BETTER, SHORTER, type Search, type Solved } from './search.js';

/** What misses by more, in variances, is not met. */
const POOR = 4;
/** When keys may have been let go of, in rise times; and what that may do, to begin from. */
const HELD = [0.45, 0.65, 0.8, 0.95, 1.12] as const;
const RELEASED = [1.5, 2.5, 4, 8] as const;
/** So many jumps are looked at one by one. */
const MOST = 24;

/**
 * Jumps of which not even the highest may have been held throughout: each with a time of its own for which it was, where the highest are not met as full ones.
 * @param band the apex band of the tuning to start from, for what the jumps themselves do not tell
 * @returns whether they are met so
 */
export function cutJumps(search: Search, jumps: readonly SeenFlight[], band: UpValues | undefined): boolean {
  const { best, keys, used } = search;
  const airs = keys.filter((key) => key.startsWith('airJumps'));
  const heights = airs.map((key) => search.values[keys.indexOf(key)]!);
  if (jumps.length === 0 || jumps.length > MOST || keys.includes('gravity.released') || keys.includes('gravity.cutTo') || isMet(search, jumps)) return false;
  const holds = jumps.map(({ flight }) => flight.hops[0]!.held);
  const plain: UpKey[] = ['jump.height', 'jump.riseTime', 'gravity.falling', ...airs];
  const start = [...search.values.slice(0, 3), ...heights];
  const ways: { keys: UpKey[]; start: number[]; fixed: UpValues }[] = [
    ...(band ? [{ keys: plain, start, fixed: band }] : []),
    { keys: plain, start, fixed: {} },
    { keys: [...plain, 'gravity.apex', 'gravity.apexSpeed'], start: [...start, 0.6, (0.4 * start[0]!) / start[1]!], fixed: {} },
  ];
  const tried = ways.map((way) => {
    search.fixed = way.fixed;
    const solved = RELEASED.map((released) => solvedWith(search, jumps, [...way.keys, 'gravity.released'], [...way.start, released]));
    return { ...way, ...solved.reduce((one, other) => (other.solved.squares.badness < one.solved.squares.badness ? other : one)) };
  });
  // The first that does nearly as well as any needs the least.
  const least = Math.min(...tried.map(({ solved }) => solved.squares.badness));
  const variance = Math.max(0.5, least / Math.max(1, tried[0]!.solved.squares.samples));
  const way = tried.find(({ solved }) => solved.squares.badness - least < BETTER * variance)!;
  const hops = (of: readonly Flight['hops'][0]['held'][]): void => jumps.forEach(({ flight }, i) => (flight.hops[0]!.held = of[i]));
  const before = (hops(holds), (search.fixed = {}), search.solve(jumps, keys, search.values).squares.badness);
  if (before - way.solved.squares.badness < BETTER * jumps.length * variance) {
    search.take(used, keys, best);
    return false;
  }
  hops(way.held);
  search.fixed = way.fixed;
  search.take([...jumps], [...way.keys, 'gravity.released'], way.solved);
  search.settleHops();
  const others = used.filter((one) => !jumps.includes(one));
  if (others.length > 0) search.again([...jumps, ...others]);
  return true;
} // prettier-ignore

/** Whether jumps are met, as far as they were flown. */
function isMet({ best: { flown }, values }: Search, jumps: readonly SeenFlight[]): boolean {
  const each = flown.filter(({ flight }) => jumps.some((one) => one.flight === flight)).map(({ part }) => missOf(part, values));
  return middleOf(each) < POOR;
} // prettier-ignore

/** Jumps solved with a time of its own for which each was held, of several the one that meets it best. */
function solvedWith(search: Search, jumps: readonly SeenFlight[], keys: UpKey[], start: readonly number[]): { solved: Solved; held: Flight['hops'][0]['held'][] } {
  let shared = start;
  let solved: Solved | undefined;
  for (let round = 0; round < 2; round++) {
    search.keys = keys;
    search.best = { ...search.best, squares: { ...search.best.squares, shared: [...shared] } };
    for (const one of jumps) {
      const [hop, ...others] = one.flight.hops;
      const known = heldOf(search, one, hop!);
      const tried = [undefined, ...(known === undefined ? HELD.map((at) => at * shared[1]!) : [known])].map((held) => ({ held, sum: search.metWith(one, [{ ...hop!, held }, ...others]) }));
      // That it was held throughout needs no number of its own.
      const best = tried.reduce((least, other) => (other.sum < least.sum ? other : least));
      hop!.held = tried[0]!.sum - best.sum < SHORTER ? undefined : best.held;
    }
    solved = search.solve(jumps, keys, shared);
    shared = solved.squares.shared;
  }
  return { solved: solved!, held: jumps.map(({ flight }) => flight.hops[0]!.held) };
} // prettier-ignore
