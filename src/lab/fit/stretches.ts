import { airborneIn, coursePart } from './across.js';
import type { AcrossFit } from './fit-across.js';
import type { UpFit } from './fit-up.js';
import { flightPart } from './flight.js';
import { COUNTS } from './residual.js';
import type { Track } from './track.js';

/** A stretch of a capture beside the motion that was fitted to it: a flight, or a change of speed across, seen as if it went to the right. */
export interface Stretch {
  capture: number;
  kind: 'flight' | 'start' | 'stop' | 'turn';
  /** When it begins, s of the capture; all times below count from then. */
  at: number;
  time: number[];
  /** Heights above what it began on, or the way across from where it began: units. */
  seen: number[];
  /** By how much the fitted motion misses each, and whether that counts. */
  miss: number[];
  counts: boolean[];
  /** The fitted motion, closely. */
  line: [number, number][];
}

/** Changes of speed across are shown from so long before until so long after, s. */
const BEFORE = 0.12;
const AFTER = 0.4;
/** Points of a fitted line are so far apart, s. */
const CLOSE = 1 / 240;

const evenly = (from: number, to: number): Float64Array => Float64Array.from({ length: Math.max(2, Math.ceil((to - from) / CLOSE)) }, (_, i, count = Math.max(2, Math.ceil((to - from) / CLOSE))) => from + ((to - from) * i) / (count - 1)); // prettier-ignore

export function stretchesOf(tracks: readonly Track[], up: UpFit, across: AcrossFit): Stretch[] {
  const flights = up.flown.map(({ capture, flight, noise, part }): Stretch => {
    const { time, y } = tracks[capture]!;
    const at = part.hops(part.own, up.values)[0]!.time;
    const stood = part.own[0]!;
    const times = time.subarray(flight.from, flight.until);
    const miss = part.miss(up.values, part.own);
    const close = evenly(times[0]!, times.at(-1)!);
    const line = flightPart({ ...flight, from: 0, until: close.length }, up.keys, close, new Float64Array(close.length), 1, up.fixed).miss(up.values, part.own);
    return {
      capture, kind: 'flight', at,
      time: Array.from(times, (moment) => moment - at),
      seen: Array.from(y.subarray(flight.from, flight.until), (height) => height - stood),
      miss: Array.from(miss, (one) => one * noise),
      counts: Array.from(part.weights, (weight) => weight >= COUNTS),
      line: Array.from(close, (moment, i): [number, number] => [moment - at, -line[i]! - stood]),
    };
  }); // prettier-ignore
  const changes = across.ran.flatMap(({ capture, course, noise, part }) => {
    const { time, x } = tracks[capture]!;
    const miss = part.miss(across.values, part.own);
    const close = evenly(time[course.from]!, time[course.until - 1]!);
    const airborne = airborneIn(up.segments, capture);
    const line = coursePart({ ...course, from: 0, until: close.length }, across.keys, across.feel, airborne, close, new Float64Array(close.length), 1).miss(across.values, part.own);
    let way: number = course.way;
    return course.turns.map((turn, k): Stretch => {
      const at = turn.time;
      const [from, to] = [Math.max(at - BEFORE, course.turns[k - 1]?.time ?? -Infinity), Math.min(at + AFTER, course.turns[k + 1]?.time ?? Infinity)];
      const kind = turn.way === 0 ? 'stop' : way === -turn.way ? 'turn' : 'start';
      const sign = turn.way === 0 ? way || 1 : turn.way;
      way = turn.way;
      const which = Array.from({ length: course.until - course.from }, (_, i) => i).filter((i) => time[course.from + i]! >= from && time[course.from + i]! <= to);
      const nearest = close.reduce((best, moment, i) => (Math.abs(moment - at) < Math.abs(close[best]! - at) ? i : best), 0);
      const base = -line[nearest]!;
      return {
        capture, kind, at,
        time: which.map((i) => time[course.from + i]! - at),
        seen: which.map((i) => (x[course.from + i]! - base) * sign),
        miss: which.map((i) => miss[i]! * noise * sign),
        counts: which.map((i) => part.weights[i]! >= COUNTS),
        line: Array.from(close, (moment, i): [number, number] => [moment - at, (-line[i]! - base) * sign]).filter(([moment]) => moment >= from - at && moment <= to - at),
      };
    });
  }); // prettier-ignore
  return [...flights, ...changes];
} // prettier-ignore
