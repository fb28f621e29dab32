import { acrossAt, acrossPieces, type AcrossPiece, type AcrossRule } from '../../core/index.js';
import type { Part } from './squares.js';
import type { Segment } from './supports.js';
import { priorOf } from './track.js';

/** A change of what the keys ask for: to which way, when. */
export interface Turn {
  time: number;
  way: -1 | 0 | 1;
}

/** A stretch from rest to rest, or as far as the capture goes. */
export interface Course {
  from: number;
  until: number;
  /** Which way it goes at the beginning, at full speed. */
  way: -1 | 0 | 1;
  turns: Turn[];
}

export const ACROSS_KEYS = ['run.speed', 'run.upIn', 'run.stopIn', 'run.turnIn', 'run.air.upIn', 'run.air.stopIn', 'run.air.turnIn'] as const; // prettier-ignore
export type AcrossKey = (typeof ACROSS_KEYS)[number];
export type AcrossValues = Partial<Record<AcrossKey, number>>;

/** How long it is in the air: from when until when, s. */
export type Airborne = readonly (readonly [number, number])[];

/** When it is in the air in one of the captures. */
export function airborneIn(segments: readonly Segment[], capture: number): Airborne {
  return segments.filter((one) => one.capture === capture && one.kind === 'flight').map(({ from, to }) => [from, to] as const);
} // prettier-ignore

/** A course to be fitted: its own are where it begins, and when each change is. */
export function coursePart(course: Course, keys: readonly AcrossKey[], feel: 'steady' | 'eased', airborne: Airborne, time: Float64Array, x: Float64Array, noise: number): Part {
  const { from, until, way, turns } = course;
  const prior = priorOf(x.subarray(from, until));
  const [begin, end] = [time[from]!, time[until - 1]!];
  const air = airborne.filter(([left, right]) => right > begin && left < end);
  return {
    own: [x[from]!, ...turns.map((turn) => turn.time)],
    steps: [noise, ...turns.map(() => 0.003)],
    prior,
    weights: prior.slice(),
    miss(shared, own) {
      const runs = runsOf(Object.fromEntries(keys.map((key, i) => [key, shared[i]!])), feel, way, own, turns, air, begin);
      const found = new Float64Array(until - from);
      let k = 0;
      for (let i = from; i < until; i++) {
        while (k + 1 < runs.length && runs[k + 1]!.start <= time[i]!) k++;
        const { start, base, piece } = runs[k]!;
        found[i - from] = (x[i]! - base - acrossAt(piece, time[i]! - start).x) / noise;
      }
      return found;
    },
  };
} // prettier-ignore

/** A piece of motion across by itself, from a moment and a place on. */
interface Run {
  start: number;
  base: number;
  piece: [AcrossPiece];
}

function runsOf(values: AcrossValues, feel: 'steady' | 'eased', first: number, own: readonly number[], turns: readonly Turn[], air: Airborne, begin: number): Run[] {
  const { 'run.speed': speed = 1, 'run.upIn': upIn = 0.1, 'run.stopIn': stopIn = upIn, 'run.turnIn': turnIn = stopIn, 'run.air.upIn': airUpIn = upIn, 'run.air.stopIn': airStopIn = stopIn, 'run.air.turnIn': airTurnIn = turnIn } = values; // prettier-ignore
  const manner = { speed, eased: feel === 'eased', keep: false };
  const onGround: AcrossRule = { ...manner, upIn, stopIn, turnIn };
  const inAir: AcrossRule = { ...manner, upIn: airUpIn, stopIn: airStopIn, turnIn: airTurnIn };
  const runs: Run[] = [];
  let [start, base, v, way, flies] = [begin, own[0]!, first * speed, first, air.some(([left]) => left <= begin)];
  let [turn, flight] = [0, 0];
  for (;;) {
    const pieces = acrossPieces(flies ? inAir : onGround, v, way * speed);
    // Up to the next change of what the keys ask for, or of what it is on.
    const turned = turn < turns.length ? own[turn + 1]! : Infinity;
    while (flight < air.length && air[flight]![1] <= start) flight++;
    const [left, right] = air[flight] ?? [Infinity, Infinity];
    const changed = flies ? right : left;
    const end = Math.min(turned, changed);
    const after = end - start;
    for (const piece of pieces) if (piece.start < after || piece === pieces[0]) runs.push({ start: start + piece.start, base: base + piece.x, piece: [{ ...piece, start: 0, x: 0 }] });
    if (end === Infinity) return runs;
    const then = acrossAt(pieces, Math.max(0, after));
    [start, base, v] = [start + Math.max(0, after), base + then.x, then.v];
    if (turned <= changed) way = turns[turn++]!.way;
    else {
      flies = !flies;
      if (!flies) flight++;
    }
  }
} // prettier-ignore
