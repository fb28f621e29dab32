import type { Matrix } from 'ml-matrix';
import type { UpKey, UpValues } from './flight.js';
import { seenIn } from './seen.js';
import { covarianceFor } from './squares.js';
import type { Segment, Unexplained } from './supports.js';
import type { Track } from './track.js';
import type { AcrossCut, AtWall } from './walls.js';
import { airJumps } from './up/air-jumps.js';
import { areCharged, chargedJumps, woundUp, type WoundUp } from './up/charged.js';
import { cutJumps } from './up/cut-jumps.js';
import { falls, fastestFall } from './up/falls.js';
import { fullJumps, sorted } from './up/full-jumps.js';
import { knowsKeys } from './up/known-keys.js';
import { awayFromWalls, oddOnes, releases } from './up/releases.js';
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
  /** What is as in the tuning to start from, as no jump was held long enough to tell. */
  fixed: UpValues;
  woundUp: WoundUp | undefined;
}

/** Fitted takeoffs are nearer to those that were seen, s. */
const NEAR = 0.1;

/** What may be taken from the tuning to start from where the flights do not tell it. */
export interface UpStart {
  /** Whether jumps are wound up. */
  charges: boolean;
  /** Its apex band. */
  band: UpValues;
}

/** The numbers of motion up and down: one after the other those that the flights ask for. */
export function fitUp(tracks: readonly Track[], cuts: readonly AcrossCut[], walls: readonly AtWall[], start?: UpStart): UpFit {
  const search = new Search(tracks.map((track, i) => seenIn(track, i, cuts[i]!)));
  awayFromWalls(search, walls);
  const fromGround = search.all.filter(({ flight }) => flight.hops[0]!.by === 'jump');
  // Where all of them come a little late these are all there are.
  const jumps = fromGround.length > 0 ? fromGround : search.all.filter(({ flight: { hops } }) => hops.length === 2 && hops[1]!.by === 'jump');
  let lowest = 0;
  if (jumps.length > 0) {
    const { full, short, slow, legs } = sorted(search, jumps);
    fullJumps(search, full);
    search.knowsKeys = knowsKeys(search, full);
    const lower = [...short, ...slow];
    if (areCharged(search, lower, start?.charges === true)) chargedJumps(search, lower);
    else {
      for (const one of slow) search.refuse(one, 'it leaves the ground more slowly than others, as a jump does that is charged');
      const isCut = cutJumps(search, [...full, ...short], start?.band);
      if (!isCut && short.length > 0) shortJumps(search, short);
    }
    falls(search);
    airJumps(search, jumps.filter(({ flight: { hops } }) => hops.some(({ by }) => by === 'air')), legs);
    cutJumps(search, search.used.filter(({ flight: { hops } }) => hops[0]!.by === 'jump' && hops[0]!.rises === undefined), start?.band);
    fastestFall(search);
    releases(search);
    oddOnes(search, walls);
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
    fixed: search.fixed,
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
