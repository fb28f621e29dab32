import { releaseAt, type SeenFlight } from '../seen.js';
import { ownErrors } from '../squares.js';
import { knowsKeys } from './known-keys.js';
import type { Search } from './search.js';

/** How high a jump is by how long it was wound up: each with its standard deviation, and from how many jumps. */
export interface WoundUp {
  lowest: Known;
  fullIn: Known;
}

interface Known {
  value: number;
  error: number;
  stretches: number;
}

/** So many jumps at heights of their own are no chance, if most of the lower ones are such; what was cut short is none by so much of the highest. */
const SEVERAL = 3;
const MOST = 0.8;
const CLEARLY = 0.85;
/** A flight that misses by more than so many times what others do is none of them. */
const MISSES = 2.5;
/** What was held for up to this share of the time that it takes to be full says how height grows. */
const BEFORE_FULL = 0.98;

/**
 * Whether jumps are wound up: lower ones rise as full ones of less speed do, and not as such that were cut short.
 * @param known whether they are in the tuning to start from: then one such jump is as good as several
 */
export function areCharged(search: Search, lower: readonly SeenFlight[], known: boolean): boolean {
  const alike = lower.filter((one) => {
    const hops = one.flight.hops.map((hop, i) => (i === 0 ? { ...hop, rises: one.apex } : hop));
    return search.metWith(one, hops) < MISSES * search.variance * (one.flight.until - one.flight.from);
  });
  const clearly = alike.filter(({ apex }) => apex < CLEARLY * search.values[0]!);
  return alike.length >= MOST * lower.length && (known || clearly.length >= SEVERAL);
}

/** Jumps that are wound up: each of those below the highest is as high as it is. */
export function chargedJumps(search: Search, lower: readonly SeenFlight[]): void {
  for (const { flight, apex } of lower) flight.hops[0]!.rises = apex;
  search.charged = true;
  search.again([...search.used, ...lower]);
  search.settleHops();
  search.knowsKeys = knowsKeys(search, search.used);
}

/** How height grows with the time that a key was held, where that was captured: a line, by least squares. */
export function woundUp({ best: { flown, squares }, used, knowsKeys: known, charged }: Search): WoundUp | undefined {
  if (!charged || !known) return undefined;
  const points = flown.flatMap(({ part, flight: { lands } }, i) => {
    const hop = part.hops(part.own, squares.shared)[0]!;
    const held = releaseAt(used[i]!.track, hop.time)?.held;
    const at = Number.isNaN(lands) ? 2 : 3;
    return hop.rises === undefined || held === undefined ? [] : [{ held, rises: hop.rises, error: ownErrors(part, squares.shared)[at]! }];
  });
  if (points.length < SEVERAL) return undefined;
  // Weighted sums of a line.
  const sum = (of: (point: (typeof points)[number]) => number): number => points.reduce((total, point) => total + of(point) / point.error ** 2, 0);
  const [n, x, xx, y, xy] = [sum(() => 1), sum(({ held }) => held), sum(({ held }) => held ** 2), sum(({ rises }) => rises), sum(({ held, rises }) => held * rises)];
  const spread = n * xx - x * x;
  const slope = (n * xy - x * y) / spread;
  const lowest = (y - slope * x) / n;
  const fullIn = (squares.shared[0]! - lowest) / slope;
  // What was held for longer than it takes, and is not full, was misread.
  if (!(spread > 0 && slope > 0 && lowest > 0) || points.some(({ held }) => held * BEFORE_FULL > fullIn)) return undefined;
  // As far off as they are from the line, if that is further than each says of itself.
  const off = Math.max(1, sum(({ held, rises }) => (rises - lowest - slope * held) ** 2) / Math.max(1, points.length - 2));
  // (highest − lowest) / slope changes with both, which change together.
  const [ofLowest, ofSlope, together] = [(off * xx) / spread, (off * n) / spread, (-off * x) / spread];
  const both = (ofLowest + fullIn * fullIn * ofSlope + 2 * fullIn * together) / slope ** 2;
  const stretches = points.length;
  return { lowest: { value: lowest, error: Math.sqrt(ofLowest), stretches }, fullIn: { value: fullIn, error: Math.sqrt(Math.max(0, both)), stretches } };
} // prettier-ignore
