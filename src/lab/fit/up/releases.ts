import type { Hop } from '../flight.js';
import type { SeenFlight } from '../seen.js';
import { missOf } from '../squares.js';
import { middleOf } from '../track.js';
import type { AtWall } from '../walls.js';
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

/** What is not explained of a time at a wall. */
export const AT_WALL = 'it is at a wall: of that only the speed of a slide and jumps off it are told';
/** So many samples of a flight before it is at a wall say something. */
const LEG = 24;

const isAt = ({ capture, track, flight }: SeenFlight, wall: AtWall): boolean =>
  wall.capture === capture && wall.from < track.time[flight.until - 1]! && wall.to > flight.hops[0]!.time;

/** A flight along a wall falls freely up to there only: not where it slides down, or jumps off. */
export function awayFromWalls(search: Search, walls: readonly AtWall[]): void {
  search.all = search.all.flatMap((one) => {
    const wall = walls.find((other) => isAt(one, other) && (other.slides.length > 0 || (other.kick && one.flight.hops.length > 1)));
    if (!wall) return [one];
    const { flight, track } = one;
    const { time, y } = track;
    // What rises along a wall does so as if there was none.
    let until = flight.from;
    while (until < flight.until && (time[until]! < wall.from || y[until]! > y[until - 1]! || time[until]! <= flight.hops[0]!.time)) until++;
    search.unexplained.push({ capture: one.capture, from: time[until - 1]!, to: time[flight.until - 1]!, why: AT_WALL });
    const hops = flight.hops.filter((hop) => hop.time < time[until - 1]!);
    return until - flight.from < LEG ? [] : [{ ...one, flight: { ...flight, until, lands: NaN, hops } }];
  });
} // prettier-ignore

/** What has another cause. */
export function oddOnes(search: Search, walls: readonly AtWall[]): void {
  for (let round = 0; round < 2; round++) {
    const each = search.best.flown.map(({ part }) => missOf(part, search.values));
    const usual = middleOf(each);
    const odd = search.used.filter((_, i) => each[i]! > Math.max(ODD * usual, FINE));
    const atWall = odd.filter((one) => walls.some((wall) => isAt(one, wall)));
    if (odd.length === 0 || odd.length - atWall.length > search.used.length / 2) return;
    for (const one of odd) search.refuse(one, atWall.includes(one) ? 'it meets a wall' : 'no tuning moves like that and like the rest');
    search.settleHops();
    search.again(search.used.filter((one) => !odd.includes(one)));
  }
} // prettier-ignore
