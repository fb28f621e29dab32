import type { Flight, Hop } from './flight.js';
import { placeAt, speedAt, type Piece } from './pieces.js';
import { middleOf } from './track.js';

/** A stretch of time that the motion does not explain, and what it looks like. */
export interface Unexplained {
  from: number;
  to: number;
  why: string;
}

/** A stretch of a capture. */
export interface Segment {
  /** Which capture, from 0. */
  capture: number;
  kind: 'rest' | 'run' | 'flight';
  from: number;
  to: number;
}

/** A time of standing or running on level ground: samples, and how high. */
export interface Support {
  from: number;
  until: number;
  y: number;
}

/** What is off by fewer standard deviations is level; a parabola with so little sag too. */
const LEVEL = 5;
/** So many samples that belong to nothing may lie between two parts of a support. */
const STRAYS = 3;
/** Supports of fewer samples are none. */
const FEWEST = 4;
/** What goes evenly does for so many samples. */
const LONG = 8;
/** A takeoff with some of the ground before it is shorter than what is accelerated upwards, samples. */
const LONGER = 16;
/** Standing is looked at for so long before and after a flight, s. */
const AROUND = 0.3;
/** A kick adds at least so much of the launch speed, and rises so fast; what goes on falling after it adds so much. */
const KICK = 0.3;
const BREAKS = 0.7;
/** A jump is given for so long after an edge at most, s. */
const LATE = 0.3;
/** Nothing goes faster than so many times a launch, or is off by so many standard deviations from one sample to the next. */
const TOO_FAST = 3;
const TELEPORT = 12;
/** Steps up and down are lower, units. */
const STEP = 0.6;

export function supportsOf(pieces: readonly Piece[], time: Float64Array, y: Float64Array, noise: number): Support[] {
  const found: Support[] = [];
  for (const piece of pieces) {
    const { from, until, half } = piece;
    const [begin, end] = [time[from]!, time[until - 1]!];
    if (until - from < FEWEST) continue;
    const sag = Math.abs(half) * ((end - begin) / 2) ** 2;
    const [low, high] = [placeAt(piece, begin), placeAt(piece, end)];
    // A short stretch at the apex of a jump is none: it goes on with what is beside it.
    if (sag > LEVEL * noise || Math.abs(high - low) > LEVEL * noise) continue;
    const middle = middleOf(y.subarray(from, until));
    const last = found.at(-1);
    if (last !== undefined && from - last.until <= STRAYS && Math.abs(last.y - middle) < LEVEL * noise) last.until = until;
    else found.push({ from, until, y: middle });
  }
  return found;
} // prettier-ignore

/** What was seen of flights, and what of it is none. */
export function flightsOf(pieces: readonly Piece[], supports: readonly Support[], time: Float64Array, y: Float64Array, noise: number): { flights: Flight[]; unexplained: Unexplained[] } {
  const flights: Flight[] = [];
  const unexplained: Unexplained[] = [];
  const launch = launchOf(pieces, supports, time);
  const ends = [...supports.slice(1), undefined];
  supports.forEach((support, s) => {
    const next = ends[s];
    const until = next?.from ?? time.length;
    const between = pieces.filter((piece) => piece.from >= support.until && piece.until <= until);
    const [begin, end] = [time[support.until - 1]!, time[Math.min(until, time.length - 1)]!];
    const leave = (why: string): void => void unexplained.push({ from: begin, to: end, why });
    if (between.length === 0) {
      // From one height to another at once: more than a step.
      if (next && Math.abs(next.y - support.y) > Math.max(TELEPORT * noise, STEP)) leave('it is suddenly elsewhere');
      return;
    }
    // What is further from one sample to the next than anything goes.
    let isElsewhere = false;
    for (let i = support.until; i <= Math.min(until, time.length - 1); i++) if (Math.abs(y[i]! - y[i - 1]!) > TELEPORT * noise + TOO_FAST * launch * gapOf(time, i)) isElsewhere = true;
    if (isElsewhere) return leave('it is suddenly elsewhere');
    const why = between.map((piece) => notFalling(piece, piece === between[0], launch, time, noise)).find((one) => one !== undefined);
    if (why !== undefined) return leave(why);
    // The moment at which it leaves the ground: where the first of its parabolas does.
    const first = between[0]!;
    /** A flight, up to where it comes to ground again for less than it takes to stand. */
    interface Open {
      stood: number;
      from: number;
      hops: Hop[];
    }
    const around = (samples: number, way: -1 | 1, limit: number): number => {
      let i = samples;
      while (i !== limit && Math.abs(time[i]! - time[samples]!) < AROUND) i += way;
      return i;
    };
    let open: Open = { stood: support.y, from: around(support.until - 1, -1, (support.from + support.until) >> 1), hops: [] };
    const done: Flight[] = [];
    const rises = speedAt(first, time[first.from]!);
    if (rises > KICK * launch) open.hops.push({ by: 'jump', time: startOf(first, support.y, time[first.from]!), held: undefined });
    else open.hops.push({ by: 'fall', time: first.half < 0 ? first.at - first.speed / (2 * first.half) : begin, held: undefined });
    let odd = '';
    // Of what is too short the speed is not known.
    const long = between.filter((piece) => piece.until - piece.from >= FEWEST || piece === first);
    long.slice(1).forEach((piece, i) => {
      const at = time[piece.from]!;
      const [was, is] = [speedAt(long[i]!, at), speedAt(piece, at)];
      // A short arc may have been taken for two: what jumps rises after it.
      if (is - was < (is > KICK * launch ? KICK : BREAKS) * launch) return;
      // Off an edge, and a jump from there soon after, as fast as any.
      const last = open.hops[0]!;
      if (open.hops.length === 1 && last.by === 'fall' && at - last.time < LATE && Math.abs(is / launch - 1) < 0.12) return void open.hops.push({ by: 'jump', time: at - gapOf(time, piece.from) / 2, held: undefined });
      // What turns round on ground, or what is about as high, jumps again at once, or has bounced: what lies on it is between the two.
      const [before, height] = [long[i]!, placeAt(piece, at)];
      const near = Math.max(LEVEL * noise, -was * gapOf(time, piece.from));
      const on = [support, ...(next ? [next] : [])].flatMap(({ y: level }) => {
        const touching = Array.from({ length: piece.from - before.until + 2 }, (_, k) => before.until - 1 + k).filter((k) => Math.abs(y[k]! - level) < LEVEL * noise);
        return was < 0 && (height - level < near || touching.length > 0) ? [{ level, touching }] : [];
      })[0];
      if (is < KICK * launch) odd = 'its fall is broken';
      if (!on) return void open.hops.push({ by: 'air', time: at - gapOf(time, piece.from) / 2, held: undefined });
      const stands = on.touching.length >= 2;
      if (Math.abs(is / launch - 1) > 0.12 && !stands) odd = 'it bounces';
      // Of what only touches the ground between two samples the height is that of the parabola.
      const [end, begins] = stands ? [on.touching.at(-1)! + 1, on.touching[0]!] : [piece.from, piece.from];
      done.push({ ...open, until: end, lands: stands ? on.level : NaN });
      open = { stood: on.level, from: begins, hops: [{ by: 'jump', time: startOf(piece, on.level, at - gapOf(time, piece.from) / 2), held: undefined }] };
    });
    if (odd) return leave(odd);
    const to = next ? around(next.from, 1, (next.from + next.until) >> 1) : time.length;
    flights.push(...done, { ...open, until: to, lands: next?.y ?? NaN });
  });
  return { flights, unexplained };
} // prettier-ignore

/** What moves a piece that does not fall freely; undefined where that does not show. */
function notFalling({ from, until, at, speed, half }: Piece, isFirst: boolean, launch: number, time: Float64Array, noise: number): string | undefined {
  const lasts = time[until - 1]! - time[from]!;
  const [begin, end] = [speed + 2 * half * (time[from]! - at), speed + 2 * half * (time[until - 1]! - at)];
  if (until - from < LONG || 2 * half < -launch / 10) return undefined;
  if (2 * half > launch / 10) return until - from > LONGER && end > KICK * launch ? 'it is accelerated upwards' : undefined;
  // What falls at its fastest goes evenly too, but not at once.
  const goes = Math.abs(begin + end) / 2 * lasts > TELEPORT * noise;
  return goes && (begin > 0 || isFirst) ? 'it goes up or down evenly, as something that is carried' : undefined;
} // prettier-ignore

const gapOf = (time: Float64Array, i: number): number => time[i]! - time[i - 1]!;

/** The most common speed of leaving the ground upwards, units/s. */
function launchOf(pieces: readonly Piece[], supports: readonly Support[], time: Float64Array): number {
  const speeds = supports
    .flatMap(({ until }) => pieces.filter((piece) => piece.from === until && piece.half < 0))
    .map((piece) => speedAt(piece, time[piece.from]!))
    .filter((speed) => speed > 0);
  // Where none begins on the ground, the fastest is none from there.
  const others = pieces
    .filter((piece) => piece.until - piece.from >= FEWEST && piece.half < 0)
    .map((piece) => speedAt(piece, time[piece.from]!));
  return middleOf(speeds) || Math.max(1, ...others);
}

/** When a parabola that rises was at a height. */
function startOf({ at, place, speed, half }: Piece, y: number, near: number): number {
  const root = speed * speed - 4 * half * (place - y);
  if (root < 0) return near;
  const found = at + (-speed + Math.sqrt(root)) / (2 * half);
  return Math.abs(found - near) < 0.1 ? found : near;
}
