import { flightPart, type Flight, type FlightPart, type UpKey, type UpValues } from '../flight.js';
import type { Seen, SeenFlight } from '../seen.js';
import { leastSquares, settle, badnessOf, type Part, type Squares } from '../squares.js';
import type { Segment, Unexplained } from '../supports.js';

/** A flight of one of the captures. */
export interface Flown {
  capture: number;
  flight: Flight;
  part: FlightPart;
  noise: number;
}

/** What one more key must improve the sum of squares by, in variances: so much that chance does it never. */
export const BETTER = 25;
/** The same for a key held for a shorter time, and for a jump in the air. */
export const SHORTER = 20;

export type Solved = { squares: Squares; flown: Flown[] };

/** What is known of motion up and down so far, and how to know more of it: each step asks for keys that the flights need, and takes those that are really better. */
export class Search {
  all: readonly SeenFlight[];
  keys: UpKey[] = ['jump.height', 'jump.riseTime', 'gravity.falling'];
  best: Solved = { squares: leastSquares([], []), flown: [] };
  /** Flights that are explained so far, in the order of what was flown. */
  used: SeenFlight[] = [];
  segments: Segment[];
  readonly unexplained: (Unexplained & { capture: number })[];
  /** What is not sought, and is as in the tuning to start from. */
  fixed: UpValues = {};
  /** Whether keys were captured, and act at the moments of samples. */
  knowsKeys = false;
  /** Whether jumps from the ground are wound up. */
  charged = false;

  constructor(readonly seen: readonly Seen[]) {
    this.all = seen.flatMap(({ flights }) => flights);
    this.segments = seen.flatMap(({ segments }) => segments);
    this.unexplained = seen.flatMap(({ unexplained }) => unexplained);
  }

  get values(): readonly number[] {
    return this.best.squares.shared;
  }

  get variance(): number {
    const { squares, flown } = this.best;
    return Math.max(squares.sum / Math.max(1, squares.samples - 4 * flown.length), 0.5);
  }

  /** The fastest fall that was seen, units/s. */
  get fastest(): number {
    return Math.max(0, ...this.seen.map((one) => one.fastest));
  }

  partOf({ flight, track, noise }: SeenFlight, keys: readonly UpKey[] = this.keys): FlightPart {
    return flightPart(flight, keys, track.time, track.y, noise, this.fixed);
  }

  valuesOf(keys: readonly UpKey[], values: readonly number[]): UpValues {
    return { ...this.fixed, ...Object.fromEntries(keys.map((key, i) => [key, values[i]!])) };
  }

  /** How badly a flight is met with other hops, as all keys are now. */
  metWith(one: SeenFlight, hops: Flight['hops']): number {
    const part = this.partOf({ ...one, flight: { ...one.flight, hops } });
    settle(part, this.values, 12);
    return badnessOf(part, this.values);
  }

  solve(of: readonly SeenFlight[], keys: readonly UpKey[], start: readonly number[], how: { rival?: number; each?: boolean } = {}): Solved {
    const flown = of.map((one): Flown => ({ capture: one.capture, flight: one.flight, noise: one.noise, part: this.partOf(one, keys) }));
    return { flown, squares: leastSquares(flown.map(({ part }) => part), start, how) };
  } // prettier-ignore

  /** Some keys for some flights, with all others as they are. */
  alone(of: readonly SeenFlight[], more: readonly UpKey[], start: readonly number[]): Squares {
    const { values } = this;
    const parts = of.map((one) => this.partOf(one, [...this.keys, ...more]));
    return leastSquares(parts.map((part): Part => ({ ...part, miss: (shared, own) => part.miss([...values, ...shared], own) })), start, { each: true });
  } // prettier-ignore

  take(of: SeenFlight[], keys: UpKey[], solved: Solved): void {
    [this.used, this.keys, this.best] = [of, keys, solved];
  }

  /** Solves anew for other flights, or other holds. */
  again(of = this.used): void {
    this.take(of, this.keys, this.solve(of, this.keys, this.values));
  }

  refuse({ flight, track, capture }: SeenFlight, why: string): void {
    const [from, to] = [track.time[flight.from]!, track.time[flight.until - 1]!];
    this.unexplained.push({ capture, from, to, why });
    this.segments = this.segments.filter((one) => one.capture !== capture || one.from < from || one.to > to);
  }

  /** Flights begin anew from where they were fitted. */
  settleHops(): void {
    for (const { part, flight } of this.best.flown) {
      const hops = part.hops(part.own, this.values);
      flight.hops.forEach((hop, i) => {
        hop.time = hops[i]!.time;
        if (typeof hop.held === 'number') hop.held = hops[i]!.held;
        if (typeof hop.rises === 'number') hop.rises = hops[i]!.rises;
      });
      flight.stood = part.own[0]!;
      if (!Number.isNaN(flight.lands)) flight.lands = part.own[1]!;
    }
  }
}
