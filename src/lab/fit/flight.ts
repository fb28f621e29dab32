import {
  arcPieces,
  comingDown,
  fallPieces,
  launchFor,
  stateAt,
  type ArcPiece,
  type VerticalMotion,
} from '../../core/index.js';
import type { Part } from './squares.js';
import { priorOf } from './track.js';

/** Something that a flight begins anew with. */
export interface Hop {
  /** From the ground, in the air, or none: it walked off an edge. */
  by: 'jump' | 'air' | 'fall';
  /** When, s. */
  time: number;
  /**
   * How long the key was held, s; undefined where letting go changed nothing, `tap` where it was let go of at once. What was captured is known, and acts from when letting go can at the
   * earliest.
   */
  held: number | 'tap' | { known: number } | undefined;
  /** How high it goes where no other goes as high: units. */
  rises?: number | undefined;
}

/** The same, with how long it was held. */
export type PlayedHop = Omit<Hop, 'held' | 'rises'> & { held: number | undefined; rises: number | undefined };

/** A flight as it was seen: from one support to the next. */
export interface Flight {
  /** Samples of it, from the middle of what it stood on before to the middle of what it came to. */
  from: number;
  until: number;
  /** How high it stands before and after, units; `lands` NaN where the capture ends first. */
  stood: number;
  lands: number;
  hops: Hop[];
}

/** What is fitted of motion up and down. */
export const UP_KEYS = ['jump.height', 'jump.riseTime', 'gravity.falling', 'gravity.fallSpeed', 'gravity.apex', 'gravity.apexSpeed', 'gravity.released', 'gravity.cutTo', 'tap', 'airJumps.heights.0', 'airJumps.heights.1', 'airJumps.heights.2'] as const; // prettier-ignore
export type UpKey = (typeof UP_KEYS)[number];
export type UpValues = Partial<Record<UpKey, number>>;

/** Constants of motion from goals: closed form for the rise through two constant gravities, `rising` being 1 (see `solveGoals`). */
export function verticalOf(values: UpValues): VerticalMotion {
  const { 'jump.height': H = 1, 'jump.riseTime': T = 0.4, 'gravity.falling': f = 1, 'gravity.fallSpeed': cap = Infinity, 'gravity.apex': p = 1, 'gravity.apexSpeed': wide = 0, 'gravity.released': k = 1, 'gravity.cutTo': cutTo = 1 } = values; // prettier-ignore
  const A = H / T;
  // A band that is wider than the jump is as wide as the jump.
  const b = Math.min(wide, 1.9 * A);
  const launch = A + Math.sqrt((A - b) ** 2 + (b * (2 * A - b)) / p);
  const gravity = (launch - b + b / p) / T;
  return {
    gravity,
    launch,
    rising: gravity,
    apex: gravity * p,
    falling: gravity * f,
    band: b,
    cap,
    rampTo: gravity * f,
    rampOver: 0,
    releasedAbove: gravity * Math.max(k, 1),
    releasedBand: gravity * Math.max(k, p),
    cutTo: Math.min(cutTo, 1),
    minHold: 0,
  };
} // prettier-ignore

/** A stretch of a course: arcs, each from a moment and a height on. */
interface Leg {
  start: number;
  height: number;
  pieces: ArcPiece[];
}

/** A flight as a stretch, and what follows from its values: its hops, and when it lands, s (NaN where that is not seen). */
export interface FlightPart extends Part {
  hops(own: readonly number[], shared: readonly number[]): PlayedHop[];
  lands(own: readonly number[], shared: readonly number[]): number;
}

/** A flight to be fitted: its own are the heights of both supports, and of each hop when it is, and how long the key is held or how high it goes where that is to be found. */
export function flightPart(flight: Flight, keys: readonly UpKey[], time: Float64Array, y: Float64Array, noise: number, fixed: UpValues = {}): FlightPart {
  const { from, until, stood, lands, hops } = flight;
  const prior = priorOf(y.subarray(from, until));
  const own = [stood, ...(Number.isNaN(lands) ? [] : [lands])];
  const steps = own.map(() => noise);
  const heights = own.length;
  for (const { time: when, held, rises } of hops) {
    own.push(when);
    steps.push(0.002);
    if (typeof held === 'number') {
      own.push(held);
      steps.push(0.004);
    }
    if (rises !== undefined) {
      own.push(rises);
      steps.push(noise);
    }
  }
  const hopsOf = (at: readonly number[], tap: number): PlayedHop[] => {
    let i = heights;
    return hops.map(({ by, held, rises }) => ({
      by,
      time: at[i++]!,
      held: typeof held === 'number' ? Math.max(0, at[i++]!) : held === 'tap' ? tap : held && Math.max(held.known, tap),
      rises: rises === undefined ? undefined : Math.max(1e-6, at[i++]!),
    }));
  };
  const valuesOf = (shared: readonly number[]): UpValues => {
    const values: UpValues = { ...fixed };
    for (let i = 0; i < keys.length; i++) values[keys[i]!] = shared[i]!;
    return values;
  };
  return {
    own,
    steps,
    prior,
    weights: prior.slice(),
    hops: (at, shared) => hopsOf(at, valuesOf(shared).tap ?? 0),
    lands(at, shared) {
      const values = valuesOf(shared);
      const last = legsOf(hopsOf(at, values.tap ?? 0), at[0]!, verticalOf(values), values).at(-1)!;
      return heights > 1 ? last.start + comingDown(last.pieces, at[1]! - last.height).time : NaN;
    },
    miss(shared, at) {
      const values = valuesOf(shared);
      const motion = verticalOf(values);
      const legs = legsOf(hopsOf(at, values.tap ?? 0), at[0]!, motion, values);
      const [first] = legs;
      const ground = heights > 1 ? at[1]! : -Infinity;
      const found = new Float64Array(until - from);
      let landed = false;
      let k = 0;
      for (let i = from; i < until; i++) {
        const moment = time[i]!;
        let height = at[0]!;
        if (landed) height = ground;
        else if (moment > first!.start) {
          while (k + 1 < legs.length && legs[k + 1]!.start <= moment) k++;
          const leg = legs[k]!;
          const state = stateAt(leg.pieces, moment - leg.start);
          height = leg.height + state.y;
          if (state.v < 0 && height < ground && k === legs.length - 1) {
            landed = true;
            height = ground;
          }
        }
        found[i - from] = (y[i]! - height) / noise;
      }
      return found;
    },
  };
} // prettier-ignore

function legsOf(hops: readonly PlayedHop[], stood: number, motion: VerticalMotion, values: UpValues): Leg[] {
  const legs: Leg[] = [];
  let airs = 0;
  for (const { by, time, held, rises: itself } of hops) {
    const before = legs.at(-1);
    const height = before ? before.height + stateAt(before.pieces, Math.max(0, time - before.start)).y : stood;
    if (by === 'fall') {
      legs.push({ start: time, height, pieces: fallPieces(motion) });
      continue;
    }
    // One that is not known by itself is as high as the first.
    const rises =
      itself ??
      (by === 'air' ? (values[`airJumps.heights.${airs}` as UpKey] ?? values['airJumps.heights.0']) : undefined);
    if (by === 'air') airs++;
    const launch = rises === undefined ? motion.launch : launchFor(motion, rises);
    legs.push({ start: time, height, pieces: arcPieces(motion, launch, held) });
  }
  return legs;
}
