import { apexOf, arcPieces, type VerticalMotion } from '../../core/index.js';
import { verticalOf, type UpKey, type UpValues } from './flight.js';
import { cut, placeAt, speedAt, type Piece } from './pieces.js';
import { middleOf, type Track } from './track.js';

/** A number with its standard deviation. */
export interface Sure {
  value: number;
  error: number;
}

/** A time at a wall: it is run or flown into, and nothing moves across as long as it lasts. */
export interface AtWall {
  capture: number;
  /** s */
  from: number;
  to: number;
  /** Where the body is then, and on which side the wall: units, −1 or 1. */
  x: number;
  side: -1 | 1;
  /** When it is left at once, and how fast: a jump off it, if it is in the air. */
  kick: { time: number; timeError: number; out: Sure | undefined } | undefined;
  /** How fast it is slid down, where that is even: units/s. */
  slides: Sure[];
}

/** Motion across that is cut into pieces. */
export interface AcrossCut {
  pieces: Piece[];
  noise: number;
}

/** What is known of motion up and down. */
interface UpNumbers {
  keys: readonly UpKey[];
  values: readonly number[];
  fixed: UpValues;
}

/** Slower than this share of the run is standing, faster than this is going. */
const STANDS = 0.12;
const GOES = 0.3;
/** How long a stop may take, s: at once, or so long; it is looked at for so long before and after, from so early on, in steps. */
const STOPS = [0, 0.04, 0.07, 0.1, 0.14, 0.2, 0.3] as const;
const BEFORE = 0.2;
const WIDEST = 0.1;
const FINELY = 0.002;
/** What is better by so many variances is so. */
const BETTER = 16;
/** A jump off a wall goes its own way for about so long, s. */
const LOCKED = 0.15;
/** It goes on evenly where it changes by a smaller share. */
const BENDS = 0.35;
/** What turns round stands for less, s. */
const LONG = 0.2;
/** Speeds up before and after are taken over so long, s. */
const SOON = 0.07;
/** A piece of fewer samples says nothing of its speed; what changes it by a larger share does not go evenly. */
const FEWEST = 4;
const EVENLY = 0.1;
/** An even fall of so many samples is a slide. */
const SLIDES = 6;
/** What stays where it is for longer stands, s: slower than this share of a jump's speed. */
const STOOD = 0.15;
const CREEPS = 0.03;
/** From a jump off a wall on its motion is taken for so long, s; it adds at least this share of a jump's speed. */
const AFTER = 0.12;
const KICKS = 0.3;

/** Where a motion across stops at once, as a wall stops it, while letting go takes its time. */
export function wallsIn(track: Track, capture: number, across: AcrossCut, up: AcrossCut, speed: number): AtWall[] {
  const { time } = track;
  const { pieces, noise } = across;
  const stands = (piece: Piece | undefined): boolean => {
    if (!piece) return false;
    const [begin, end] = [time[piece.from]!, time[piece.until - 1]!];
    return Math.abs(speedAt(piece, (begin + end) / 2)) < Math.max(STANDS * speed, (2 * noise) / Math.max(1e-3, end - begin));
  };
  const stops: { at: number; last: number; sums: number[] }[] = [];
  for (let i = 1; i < pieces.length; i++) {
    if (!stands(pieces[i]) || stands(pieces[i - 1])) continue;
    let last = i;
    while (stands(pieces[last + 1])) last++;
    const sums = STOPS.map((lasts) => stopIn(track, pieces[i]!.from, lasts, noise).sum);
    if (Number.isFinite(sums[0])) stops.push({ at: i, last, sums });
  }
  // How long letting go takes, as most stops say.
  const usual = middleOf(stops.map(({ sums }) => sums.indexOf(Math.min(...sums))));
  const launch = Math.max(0, ...up.pieces.filter(({ from, until }) => until - from >= FEWEST).map((piece) => speedAt(piece, time[piece.from]!)));
  return stops.flatMap(({ at, last, sums }): AtWall[] => {
    const piece = pieces[at]!;
    const [stop, next] = [stopIn(track, piece.from, 0, noise), pieces[last + 1]];
    const side = stop.speed > 0 ? 1 : -1;
    const end = time[pieces[last]!.until - 1]!;
    const kick = next && kickAt(track, next, stop.x, side, { noise, speed, launch });
    const to = kick?.time ?? end;
    // What stops slowly, as far as that shows, slides down none.
    const slides = sums[0]! - Math.min(...sums) < BETTER ? slidesIn(track, up, stop.time, to, launch) : [];
    // Where most stop at once, and in the middle of a turn, only what slides or jumps off is known for a wall.
    const isSudden = usual > 0 && sums[usual]! - sums[0]! > BETTER && end - stop.time > LONG;
    if (!isSudden && slides.length === 0 && !kick) return [];
    return [{ capture, from: stop.time, to, x: stop.x, side, kick, slides }];
  });
} // prettier-ignore

/** A stop that takes some time, by least squares: a steady speed, as evenly down to none, and from then on rest. Its sum of squares is in variances. */
function stopIn({ time, x }: Track, at: number, lasts: number, noise: number): { sum: number; time: number; speed: number; x: number } {
  const [from, until] = [time.findIndex((moment) => moment > time[at]! - BEFORE), time.findIndex((moment) => moment > time[at]! + BEFORE)];
  const to = until < 0 ? time.length : until;
  let best = { sum: Infinity, time: NaN, speed: 0, x: 0 };
  if (to - from < FEWEST) return best;
  for (let begin = time[at]! - 2 * WIDEST; begin < time[at]! + WIDEST / 2; begin += FINELY) {
    // Places are a line of how far it still has to go at a speed of 1.
    let [n, a, aa, b, ab, bb] = [0, 0, 0, 0, 0, 0];
    for (let i = from; i < to; i++) {
      const t = time[i]! - begin;
      const rest = t < 0 ? t - lasts / 2 : t < lasts ? -((lasts - t) ** 2) / (2 * lasts) : 0;
      [n, a, aa, b, ab, bb] = [n + 1, a + rest, aa + rest * rest, b + x[i]!, ab + rest * x[i]!, bb + x[i]! * x[i]!];
    }
    const speed = (n * ab - a * b) / (n * aa - a * a);
    const place = (b - speed * a) / n;
    const sum = (bb - speed * ab - place * b) / (noise * noise);
    if (sum < best.sum) best = { sum, time: begin, speed, x: place };
  }
  return best;
} // prettier-ignore

/** A jump off a wall: it goes away across at once, and up. */
function kickAt({ time, x: places, y }: Track, next: Piece, x: number, side: -1 | 1, { noise, speed, launch }: { noise: number; speed: number; launch: number }): AtWall['kick'] {
  const begin = time[next.from]!;
  const v = speedAt(next, begin);
  if (next.until - next.from < FEWEST || !(-side * v > GOES * speed)) return undefined;
  const leaves = begin + (x - placeAt(next, begin)) / v;
  const slope = (from: number, to: number): number => {
    const [i, k] = [time.findIndex((moment) => moment > from), time.findLastIndex((moment) => moment < to)];
    return k > i && i >= 0 ? (y[k]! - y[i]!) / (time[k]! - time[i]!) : NaN;
  };
  if (Math.abs(leaves - begin) > WIDEST / 2 || !(slope(leaves, leaves + SOON) - slope(leaves - SOON, leaves) > KICKS * launch)) return undefined;
  // As long as a jump off a wall goes its own way, or nearly so long: a parabola.
  const until = time.findIndex((moment, i) => i > next.from && moment > begin + LOCKED);
  const to = until < 0 ? time.length : until;
  const count = to - next.from;
  if (count < FEWEST) return undefined;
  const [first] = cut(time.subarray(next.from, to), places.subarray(next.from, to), noise, Infinity).pieces;
  const out = -side * speedAt(first!, leaves);
  const lasts = time[to - 1]! - begin;
  // Of the slope of a parabola at its end. Keys that ask for another way bend it at once: then it does not tell how it began.
  const bends = Math.abs(2 * first!.half * lasts) > BENDS * out;
  return { time: leaves, timeError: noise / Math.abs(v), out: bends ? undefined : { value: out, error: (noise * Math.sqrt(192 / count)) / lasts } };
} // prettier-ignore

/** How fast it goes down evenly in a time. What has stood before is carried down. */
function slidesIn({ time }: Track, { pieces, noise }: AcrossCut, from: number, to: number, launch: number): Sure[] {
  const stood = pieces.find((piece) => {
    const [begin, end] = [Math.max(from, time[piece.from]!), Math.min(to, time[piece.until - 1]!)];
    return end - begin > STOOD && Math.abs(speedAt(piece, begin)) < CREEPS * launch && Math.abs(speedAt(piece, end)) < CREEPS * launch;
  });
  const until = stood ? Math.max(from, time[stood.from]!) : to;
  return pieces.flatMap((piece) => {
    const [begin, end] = [time[piece.from]!, time[piece.until - 1]!];
    const count = piece.until - piece.from;
    const value = -speedAt(piece, (begin + end) / 2);
    if (count < SLIDES || begin < from || end > to || begin > until || !(value * (end - begin) > 4 * noise) || Math.abs(2 * piece.half * (end - begin)) > EVENLY * value) return [];
    return [{ value, error: (noise * Math.sqrt(12 / count)) / (end - begin) }];
  });
} // prettier-ignore

/** What is known of walls: how fast they are slid down, and how jumps off them go; from how many. */
export type WallFit = Partial<
  Record<'wall.slideSpeed' | 'wall.jump.height' | 'wall.jump.out', Sure & { stretches: number }>
>;

/**
 * Puts together what each time at a wall says.
 * @param start how things move in the tuning to start from, if there is one and nothing else tells it
 */
export function fitWalls(tracks: readonly Track[], walls: readonly AtWall[], { keys, values, fixed }: UpNumbers, ups: readonly AcrossCut[], start: VerticalMotion | undefined): WallFit {
  const found: WallFit = {};
  const say = (key: keyof WallFit, each: readonly Sure[]): void => {
    const sure = together(each);
    if (sure) found[key] = { ...sure, stretches: each.length };
  };
  say('wall.slideSpeed', walls.flatMap(({ slides }) => slides));
  if (keys.length === 0 && !start) return found;
  const motion = keys.length === 0 ? start! : verticalOf({ ...fixed, ...Object.fromEntries(keys.map((key, i) => [key, values[i]!])) });
  const kicks = walls.flatMap(({ capture, kick }) => {
    if (!kick) return [];
    const { time, y } = tracks[capture]!;
    const { noise } = ups[capture]!;
    // The speed up at that moment: with the gravity of a rise, by least squares, up to the band of the apex.
    const rises: { t: number; y: number }[] = [];
    for (let i = time.findIndex((moment) => moment > kick.time); i >= 0 && i < time.length && time[i]! < kick.time + AFTER; i++) {
      const t = time[i]! - kick.time;
      rises.push({ t, y: y[i]! + (motion.rising * t * t) / 2 });
    }
    const { length } = rises;
    const [t, h] = [rises.reduce((sum, one) => sum + one.t, 0) / length, rises.reduce((sum, one) => sum + one.y, 0) / length];
    const spread = rises.reduce((sum, one) => sum + (one.t - t) ** 2, 0);
    const v = rises.reduce((sum, one) => sum + (one.t - t) * (one.y - h), 0) / spread;
    if (!(length >= FEWEST && v > KICKS * motion.launch)) return [];
    const error = Math.sqrt((noise * noise) / spread + (motion.rising * kick.timeError) ** 2);
    const height = apexOf(arcPieces(motion, v)).y;
    return [{ out: kick.out, height: { value: height, error: Math.max((v * error) / motion.rising, 1e-6) } }];
  });
  say('wall.jump.height', kicks.map(({ height }) => height));
  say('wall.jump.out', kicks.flatMap(({ out }) => out ?? []));
  return found;
} // prettier-ignore

/** A weighted mean, as far off as what it is of is from one another. */
function together(each: readonly Sure[]): Sure | undefined {
  if (each.length === 0) return undefined;
  const weight = each.reduce((sum, { error }) => sum + 1 / error ** 2, 0);
  const value = each.reduce((sum, one) => sum + one.value / one.error ** 2, 0) / weight;
  const off = each.reduce((sum, one) => sum + ((one.value - value) / one.error) ** 2, 0) / Math.max(1, each.length - 1);
  return { value, error: Math.sqrt(Math.max(1, off) / weight) };
}
