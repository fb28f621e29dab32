import type { Matrix } from 'ml-matrix';
import type { UpKey } from './flight.js';
import { seenIn } from './seen.js';
import { covarianceFor } from './squares.js';
import type { Segment, Unexplained } from './supports.js';
import type { Track } from './track.js';
import { airJumps } from './up/air-jumps.js';
import { areCharged, chargedJumps, woundUp, type WoundUp } from './up/charged.js';
import { falls, fastestFall } from './up/falls.js';
import { fullJumps, sorted } from './up/full-jumps.js';
import { knowsKeys } from './up/known-keys.js';
import { oddOnes, releases } from './up/releases.js';
import { Search, type Flown } from './up/search.js';
import { shortJumps, taps } from './up/short-jumps.js';

/** What was found of motion up and down. */
export interface UpFit {
  keys: UpKey[];
  values: number[];
  /** Of the logarithms of the values. */
  covariance: Matrix;
  flown: Flown[];
  segments: Segment[];
  unexplained: (Unexplained & { capture: number })[];
  /** The fastest fall that was seen, units/s. */
  fastest: number;
  /** How many of the shortest hops are alike, so that there is none lower; 0 where that does not show. */
  lowest: number;
  /** Whether jumps from the ground are wound up, so that `jump.height` is that of the highest; and how, where it shows. */
  charged: boolean;
  woundUp: WoundUp | undefined;
}

/** Fitted takeoffs are nearer to those that were seen, s. */
const NEAR = 0.1;

/**
 * The numbers of motion up and down: one after the other those that the flights ask for.
 * @param charges whether jumps are wound up in the tuning to start from
 */
export function fitUp(tracks: readonly Track[], charges = false): UpFit {
  const search = new Search(tracks.map(seenIn));
  const jumps = search.all.filter(({ flight }) => flight.hops[0]!.by === 'jump');
  let lowest = 0;
  if (jumps.length > 0) {
    const { full, short, slow, legs } = sorted(search, jumps);
    fullJumps(search, full);
    search.knowsKeys = knowsKeys(search, full);
    falls(search);
    const lower = [...short, ...slow];
    if (areCharged(search, lower, charges)) chargedJumps(search, lower);
    else {
      for (const one of slow) search.refuse(one, 'it leaves the ground more slowly than others, as a jump does that is charged');
      if (short.length > 0) shortJumps(search, short);
    }
    airJumps(search, jumps.filter(({ flight }) => flight.hops.length > 1), legs);
    fastestFall(search);
    releases(search);
    oddOnes(search);
    lowest = taps(search);
  }
  const { best: { squares, flown }, unexplained, fastest, charged } = search;
  return {
    keys: squares.shared.length > 0 ? search.keys : [],
    values: squares.shared,
    covariance: covarianceFor(squares, flown.map(({ part }) => part), search.seen.some(({ bare }) => bare)),
    flown,
    segments: search.segments.map((one) => exactly(search, one)),
    unexplained,
    fastest,
    lowest,
    charged,
    woundUp: woundUp(search),
  };
} // prettier-ignore

/** A flight from its takeoff to its landing, as it was fitted. */
function exactly({ best: { flown }, used, values }: Search, segment: Segment): Segment {
  const i = flown.findIndex(({ capture }, k) => capture === segment.capture && Math.abs(used[k]!.flight.hops[0]!.time - segment.from) < NEAR); // prettier-ignore
  if (i < 0) return segment;
  const { part } = flown[i]!;
  const [from, to] = [part.hops(part.own, values)[0]!.time, part.lands(part.own, values)];
  return { ...segment, from, to: Number.isFinite(to) ? to : segment.to };
}
