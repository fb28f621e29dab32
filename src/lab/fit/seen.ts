import type { Flight, Hop } from './flight.js';
import { speedAt, type Piece } from './pieces.js';
import { flightsOf, supportsOf, type Segment, type Unexplained } from './supports.js';
import { frameOf, isBare, middleOf, type Track } from './track.js';

/** A flight of a capture, and what can be seen of it without any numbers. */
export interface SeenFlight {
  track: Track;
  capture: number;
  noise: number;
  flight: Flight;
  /** How fast it leaves the ground, units/s. */
  speed: number;
  /** How high it rises above that. */
  apex: number;
}

/** What can be seen of a capture. */
export interface Seen {
  noise: number;
  /** Whether heights are whole pixels, and there is no noise besides. */
  bare: boolean;
  flights: SeenFlight[];
  segments: Segment[];
  unexplained: (Unexplained & { capture: number })[];
  /** Accelerations of rises and falls, magnitudes: units/s². */
  rising: number;
  falling: number;
  /** The fastest fall, units/s. */
  fastest: number;
}

/** An apex is seen where so many samples lie after it. */
const SEEN = 3;
/** Keys act at the moments of samples where takeoffs follow them so evenly, s; a press belongs to a takeoff that is so near, s. */
const EVENLY = 0.0035;
const SOON = 0.1;

export function seenIn(track: Track, capture: number, { pieces, noise }: { pieces: Piece[]; noise: number }): Seen {
  const { time, y } = track;
  const supports = supportsOf(pieces, time, y, noise);
  const { flights, unexplained } = flightsOf(pieces, supports, time, y, noise);
  const flying = pieces.filter((piece) => !supports.some(({ from, until }) => piece.from >= from && piece.until <= until) && piece.until - piece.from >= 5 && piece.half < 0);
  const slope = (piece: Piece): number => speedAt(piece, (time[piece.from]! + time[piece.until - 1]!) / 2);
  const [up, down] = [flying.filter((piece) => slope(piece) > 0), flying.filter((piece) => slope(piece) < 0)];
  const rising = middleOf(up.map(({ half }) => -2 * half)) || 1;
  const frame = frameOf(time);
  return {
    noise,
    bare: isBare(y, noise),
    flights: flights.map((flight) => {
      const [first] = flight.hops;
      const piece = up.find(({ from, until }) => time[from]! <= first!.time + 2 * frame && time[until - 1]! > first!.time);
      return { track, capture, noise, flight, speed: piece ? speedAt(piece, first!.time) : Infinity, apex: apexSeen(track, flight) };
    }),
    segments: flights.map(({ hops, from, until, lands }) => ({ capture, kind: 'flight', from: hops[0]!.time, to: landing(time, y, hops[0]!.time, from, until, lands) })),
    unexplained: unexplained.map((one) => ({ ...one, capture })),
    rising,
    falling: middleOf(down.map(({ half }) => -2 * half)) || rising,
    fastest: flying.reduce((most, piece) => Math.max(most, -speedAt(piece, time[piece.until - 1]!)), 0),
  };
} // prettier-ignore

/** When the key of a hop was pressed, and for how long it was held, where keys were captured: samples. */
export function pressOf({ time, keys }: Track, at: number): { time: number; held: number | undefined } | undefined {
  const jump = keys?.get('jump');
  if (!jump) return undefined;
  let press = -1;
  for (let i = 1; i < time.length && time[i]! < at + SOON; i++) if (jump[i]! > 0 && jump[i - 1]! === 0) press = i;
  if (press < 0 || Math.abs(time[press]! - at) > SOON) return undefined;
  const release = jump.findIndex((held, i) => i > press && held === 0);
  return { time: time[press]!, held: release < 0 ? undefined : time[release]! - time[press]! };
}

/** When the key that a jump was wound up with was let go of, and for how long it was held, where keys were captured: samples. */
export function releaseAt({ time, keys }: Track, at: number): { time: number; held: number } | undefined {
  const jump = keys?.get('jump');
  if (!jump) return undefined;
  let release = -1;
  for (let i = 1; i < time.length && time[i]! < at + SOON; i++) if (jump[i]! === 0 && jump[i - 1]! > 0) release = i;
  if (release < 0 || Math.abs(time[release]! - at) > SOON) return undefined;
  let press = release - 1;
  while (press > 0 && jump[press - 1]! > 0) press--;
  return { time: time[release]!, held: time[release]! - time[press]! };
}

/** Whether keys act at the moments of samples: takeoffs follow their presses by always the same time. */
export function isEven(late: readonly number[]): boolean {
  if (late.length < 3) return false;
  const middle = middleOf(late);
  const off = late.map((one) => Math.abs(one - middle)).sort((one, other) => one - other);
  return off[Math.floor(off.length * 0.7)]! < EVENLY;
}

/** About when it lands: the first of the last samples that are as high as what it came to. */
function landing(
  time: Float64Array,
  y: Float64Array,
  start: number,
  from: number,
  until: number,
  lands: number,
): number {
  let i = until - 1;
  if (Number.isNaN(lands)) return time[i]!;
  while (i > from && time[i]! > start && Math.abs(y[i]! - lands) <= Math.abs(y[i - 1]! - lands) + 0.02) i--;
  return time[i]!;
}

/** The first part of a flight of several, up to the next, where its apex is seen. */
export function firstLeg(one: SeenFlight): SeenFlight | undefined {
  const { flight, track } = one;
  const { time, y } = track;
  const [first, next] = flight.hops as [Hop, Hop];
  let until = flight.from;
  while (until < flight.until && time[until]! < next.time - 1e-9) until++;
  // One sample may lie after it.
  until--;
  let apex = flight.from;
  for (let i = flight.from; i < until; i++) if (y[i]! > y[apex]!) apex = i;
  if (until - apex < SEEN || time[apex]! <= first.time) return undefined;
  const leg = { ...flight, until, lands: NaN, hops: [{ ...first }] };
  return { ...one, flight: leg, apex: apexSeen(track, leg) };
}

/** How high it rose, as it was seen: the third highest sample, which is no outlier, and as high at an apex. */
function apexSeen({ y }: Track, { from, until, stood }: Flight): number {
  const heights = Array.from(y.subarray(from, until)).sort((one, other) => other - one);
  return heights[Math.min(2, heights.length - 1)]! - stood;
}
