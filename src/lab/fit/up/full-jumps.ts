import type { UpKey } from '../flight.js';
import { firstLeg, type SeenFlight } from '../seen.js';
import { middleOf } from '../track.js';
import { releases } from './releases.js';
import { BETTER, type Search } from './search.js';

/** What leaves the ground with less than this share of the speed is no jump that was cut short. */
const SLOWER = 0.8;
/** Jumps within this share of the highest are as high, or within so many standard deviations. */
const AS_HIGH = 0.02;
const ALIKE = 6;

/** Jumps by what they are; `legs` are the parts of them up to a first jump in the air. */
export interface Sorted {
  /** The highest of which there are several. */
  full: SeenFlight[];
  /** Lower ones that leave the ground as fast; and those that do so more slowly. */
  short: SeenFlight[];
  slow: SeenFlight[];
  legs: Map<SeenFlight, SeenFlight>;
}

/** Jumps by how high they are, and how fast they leave the ground. */
export function sorted(search: Search, jumps: readonly SeenFlight[]): Sorted {
  const legs = new Map(jumps.flatMap((one) => {
    const leg = one.flight.hops.length === 1 ? one : firstLeg(one);
    return leg ? [[one, leg] as const] : [];
  }));
  const first = legs.size > 0 ? [...legs.values()] : [...jumps];
  const off = (one: SeenFlight, top: number): number => Math.abs(one.apex - top) / Math.max(AS_HIGH * top, ALIKE * one.noise);
  const alike = (top: number): number => first.filter((one) => off(one, top) < 1).length;
  const tops = first.map(({ apex }) => apex).sort((one, other) => other - one);
  const top = tops.find((one) => alike(one) >= Math.min(2, Math.ceil(tops.length / 4))) ?? tops[0]!;
  const full = first.filter((one) => off(one, top) < 1);
  const speed = middleOf(full.map((one) => one.speed));
  const lower = first.filter((one) => !full.includes(one) && one.apex < top);
  const [short, slow] = [lower.filter((one) => one.speed > SLOWER * speed), lower.filter((one) => !(one.speed > SLOWER * speed))];
  for (const one of first) if (!full.includes(one) && !lower.includes(one)) search.refuse(one, 'it rises higher than a jump');
  return { full, short, slow, legs };
} // prettier-ignore

/** With an apex band and without. */
export function fullJumps(search: Search, full: SeenFlight[]): void {
  const height = middleOf(full.map(({ apex }) => apex));
  const speed = middleOf(full.map((one) => (Number.isFinite(one.speed) ? one.speed : NaN)).filter((one) => !Number.isNaN(one))) || Math.sqrt(2 * height * search.seen[0]!.rising);
  const [rising, falling] = [middleOf(search.seen.map((one) => one.rising)), middleOf(search.seen.map((one) => one.falling))];
  const plain = search.keys;
  search.take(full, plain, search.solve(full, plain, [height, (2 * height) / speed, Math.min(Math.max(falling / rising, 0.3), 5)]));
  const banded: UpKey[] = [...plain, 'gravity.apex', 'gravity.apexSpeed'];
  const start = search.values;
  for (const [share, wide] of [[0.6, 0.2], [0.7, 0.35], [0.8, 0.1]] as const) {
    const isPlain = search.keys === plain;
    const other = search.solve(full, banded, [...start, share, wide * speed], isPlain ? {} : { rival: search.best.squares.badness });
    const variance = Math.max(other.squares.sum / Math.max(1, other.squares.samples - 4 * full.length), 0.5);
    if (search.best.squares.badness - other.squares.badness > (isPlain ? BETTER * variance : 0)) search.take(full, banded, other);
  }
  // A band ends where the key is let go of on the way down.
  if (search.keys !== plain) releases(search, [1.12]);
} // prettier-ignore
