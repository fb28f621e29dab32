import type { Matrix } from 'ml-matrix';
import { flightPart, type Flight, type FlightPart, type Hop, type UpKey, type UpValues } from './flight.js';
import { airHeight, heldFor, tapsOf } from './holds.js';
import { firstLeg, isEven, pressOf, seenIn, type Seen, type SeenFlight } from './seen.js';
import { badnessOf, covarianceFor, leastSquares, missOf, settle, type Part, type Squares } from './squares.js';
import type { Segment, Unexplained } from './supports.js';
import { middleOf, type Track } from './track.js';

/** A flight of one of the captures. */
export interface Flown {
  capture: number;
  flight: Flight;
  part: FlightPart;
  noise: number;
}

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
}

/** What one more key must improve the sum of squares by, in variances: so much that chance does it never. */
const BETTER = 25;
/** The same for a key held for a shorter time, and for a jump in the air. */
const SHORTER = 20;
/** A flight that misses by so many times as much as the others has another cause; what misses by less, in variances, has none. */
const ODD = 5;
const FINE = 4;
/** What leaves the ground with less than this share of the speed is no jump that was cut short. */
const SLOWER = 0.8;
/** Jumps in the air are at least this share as high as those from the ground. */
const LOWEST = 0.08;
/** Jumps within this share of the highest are as high, or within so many standard deviations. */
const AS_HIGH = 0.02;
const ALIKE = 6;
/** Fitted takeoffs are nearer to those that were seen, s. */
const NEAR = 0.1;
/** A fall that comes within this share of its fastest shows how fast a fall becomes. */
const FASTER = 1.05;

const valuesOf = (keys: readonly UpKey[], values: readonly number[]): UpValues => Object.fromEntries(keys.map((key, i) => [key, values[i]!])); // prettier-ignore

type Solved = { squares: Squares; flown: Flown[] };
const RELEASES = ['gravity.released', 'gravity.cutTo'] as const;
const AIRS = ['airJumps.heights.0', 'airJumps.heights.1', 'airJumps.heights.2'] as const;

/** The numbers of motion up and down: one after the other those that the flights ask for. */
export function fitUp(tracks: readonly Track[]): UpFit {
  const seen = tracks.map(seenIn);
  const search = new Search(seen);
  const found = search.run();
  return {
    ...found,
    fastest: Math.max(0, ...seen.map(({ fastest }) => fastest)),
  };
}

class Search {
  private readonly all: readonly SeenFlight[];
  private keys: UpKey[] = ['jump.height', 'jump.riseTime', 'gravity.falling'];
  private best: Solved = { squares: leastSquares([], []), flown: [] };
  /** Flights that are explained so far, in the order of what was flown. */
  private used: SeenFlight[] = [];
  private segments: Segment[];
  private readonly unexplained: UpFit['unexplained'];
  private lowest = 0;
  private knowsKeys = false;

  constructor(private readonly seen: readonly Seen[]) {
    this.all = seen.flatMap(({ flights }) => flights);
    this.segments = seen.flatMap(({ segments }) => segments);
    this.unexplained = seen.flatMap(({ unexplained }) => unexplained);
  }

  run(): Pick<UpFit, 'keys' | 'values' | 'covariance' | 'flown' | 'segments' | 'unexplained' | 'lowest'> {
    const jumps = this.all.filter(({ flight }) => flight.hops[0]!.by === 'jump');
    if (jumps.length > 0) {
      const { full, short, legs } = this.sorted(jumps);
      this.fullJumps(full);
      this.knowsKeys = isEven(this.late(full));
      this.falls();
      if (short.length > 0) this.shortJumps(short);
      this.airJumps(jumps.filter(({ flight }) => flight.hops.length > 1), legs);
      this.fastestFall();
      this.releases();
      this.oddOnes();
      this.taps();
    }
    const { squares, flown } = this.best;
    const covariance = covarianceFor(squares, flown.map(({ part }) => part), this.seen.some(({ bare }) => bare));
    const { keys, unexplained, lowest } = this;
    const segments = this.segments.map((one) => this.exactly(one));
    return { keys: squares.shared.length > 0 ? keys : [], values: squares.shared, covariance, flown, segments, unexplained, lowest };
  } // prettier-ignore

  private get values(): readonly number[] {
    return this.best.squares.shared;
  }

  private get variance(): number {
    const { squares, flown } = this.best;
    return Math.max(squares.sum / Math.max(1, squares.samples - 4 * flown.length), 0.5);
  }

  private partOf({ flight, track, noise }: SeenFlight, keys: readonly UpKey[] = this.keys): FlightPart {
    return flightPart(flight, keys, track.time, track.y, noise);
  }

  private solve(of: readonly SeenFlight[], keys: readonly UpKey[], start: readonly number[], how: { rival?: number; each?: boolean } = {}): Solved {
    const flown = of.map((one): Flown => ({ capture: one.capture, flight: one.flight, noise: one.noise, part: this.partOf(one, keys) }));
    return { flown, squares: leastSquares(flown.map(({ part }) => part), start, how) };
  } // prettier-ignore

  /** Some keys for some flights, with all others as they are. */
  private alone(of: readonly SeenFlight[], more: readonly UpKey[], start: readonly number[]): Squares {
    const { values } = this;
    const parts = of.map((one) => this.partOf(one, [...this.keys, ...more]));
    return leastSquares(parts.map((part): Part => ({ ...part, miss: (shared, own) => part.miss([...values, ...shared], own) })), start, { each: true });
  } // prettier-ignore

  private take(of: SeenFlight[], keys: UpKey[], solved: Solved): void {
    [this.used, this.keys, this.best] = [of, keys, solved];
  }

  /** Solves anew for other flights, or other holds. */
  private again(of = this.used): void {
    this.take(of, this.keys, this.solve(of, this.keys, this.values));
  }

  private refuse({ flight, track, capture }: SeenFlight, why: string): void {
    const [from, to] = [track.time[flight.from]!, track.time[flight.until - 1]!];
    this.unexplained.push({ capture, from, to, why });
    this.segments = this.segments.filter((one) => one.capture !== capture || one.from < from || one.to > to);
  }

  /** Full jumps: the highest of which there are several; and those that were cut short. Of flights with jumps in the air the part up to the first of them. */
  private sorted(jumps: readonly SeenFlight[]): { full: SeenFlight[]; short: SeenFlight[]; legs: Map<SeenFlight, SeenFlight> } {
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
    const short = lower.filter((one) => one.speed > SLOWER * speed);
    for (const one of lower) if (!short.includes(one)) this.refuse(one, 'it leaves the ground more slowly than others, as a jump does that is charged');
    for (const one of first) if (!full.includes(one) && !lower.includes(one)) this.refuse(one, 'it rises higher than a jump');
    return { full, short, legs };
  } // prettier-ignore

  /** With an apex band and without. */
  private fullJumps(full: SeenFlight[]): void {
    const height = middleOf(full.map(({ apex }) => apex));
    const speed = middleOf(full.map((one) => (Number.isFinite(one.speed) ? one.speed : NaN)).filter((one) => !Number.isNaN(one))) || Math.sqrt(2 * height * this.seen[0]!.rising);
    const [rising, falling] = [middleOf(this.seen.map((one) => one.rising)), middleOf(this.seen.map((one) => one.falling))];
    const plain = this.keys;
    this.take(full, plain, this.solve(full, plain, [height, (2 * height) / speed, Math.min(Math.max(falling / rising, 0.3), 5)]));
    const banded: UpKey[] = [...plain, 'gravity.apex', 'gravity.apexSpeed'];
    const start = this.values;
    for (const [share, wide] of [[0.6, 0.2], [0.7, 0.35], [0.8, 0.1]] as const) {
      const isPlain = this.keys === plain;
      const other = this.solve(full, banded, [...start, share, wide * speed], isPlain ? {} : { rival: this.best.squares.badness });
      const variance = Math.max(other.squares.sum / Math.max(1, other.squares.samples - 4 * full.length), 0.5);
      if (this.best.squares.badness - other.squares.badness > (isPlain ? BETTER * variance : 0)) this.take(full, banded, other);
    }
    if (this.keys === plain) return;
    // A band ends where the key is let go of on the way down.
    this.releases([1.12]);
  } // prettier-ignore

  /** By how much takeoffs follow their presses, where keys were captured, s. */
  private late(full: readonly SeenFlight[]): number[] {
    return this.best.flown.flatMap(({ part }, i) => {
      const at = part.hops(part.own, this.values)[0]!.time;
      const press = pressOf(full[i]!.track, at);
      return press ? [at - press.time] : [];
    });
  }

  /** How long a key was held, where it was captured, and acts at the moments of samples. */
  private heldOf({ track }: SeenFlight, hop: Hop): Hop['held'] {
    const held = this.knowsKeys ? pressOf(track, hop.time)?.held : undefined;
    return held === undefined ? undefined : { known: held };
  }

  /** Falls off edges. */
  private falls(): void {
    const falls = this.all.filter(({ flight }) => flight.hops[0]!.by === 'fall' && flight.hops.length === 1);
    if (falls.length > 0) this.again([...this.used, ...falls]);
  }

  /** How fast a fall becomes, where it does not become faster. */
  private fastestFall(): void {
    if (this.keys.includes('gravity.fallSpeed')) return;
    const fastest = Math.max(...this.seen.map((one) => one.fastest));
    const keys: UpKey[] = [...this.keys, 'gravity.fallSpeed'];
    const alone = this.alone(this.used, ['gravity.fallSpeed'], [0.97 * fastest]);
    if (this.best.squares.badness - alone.badness < this.variance) return;
    const capped = this.solve(this.used, keys, [...this.values, ...alone.shared]);
    if (this.best.squares.badness - capped.squares.badness > BETTER * this.variance && capped.squares.shared.at(-1)! < fastest * FASTER) this.take(this.used, keys, capped);
  } // prettier-ignore

  /** By what letting go does: another gravity, or a share of the speed. */
  private shortJumps(short: readonly SeenFlight[]): void {
    const start = this.values;
    const used = [...this.used, ...short];
    const hold = (values: UpValues): void => {
      for (const one of short)
        one.flight.hops[0]!.held = this.heldOf(one, one.flight.hops[0]!) ?? heldFor(values, one.apex);
    };
    const ways = RELEASES.map((key) => {
      const keys: UpKey[] = [...this.keys, key];
      const tried = (key === 'gravity.released' ? [1.3, 2, 3.2, 5, 8, 16] : [0.1, 0.2, 0.4, 0.6, 0.8]).map((value) => {
        const shared = [...start, value];
        hold(valuesOf(keys, shared));
        let sum = 0;
        for (const one of short) {
          const part = this.partOf(one, keys);
          settle(part, shared);
          sum += badnessOf(part, shared);
        }
        return { shared, sum };
      });
      const { shared } = tried.reduce((one, other) => (other.sum < one.sum ? other : one));
      hold(valuesOf(keys, shared));
      const solved = this.solve(used, keys, shared);
      return { keys, solved, held: short.map(({ flight }) => flight.hops[0]!.held) };
    });
    const way = ways.reduce((one, other) => (other.solved.squares.badness < one.solved.squares.badness ? other : one));
    short.forEach(({ flight }, i) => (flight.hops[0]!.held = way.held[i]));
    this.take(used, way.keys, way.solved);
    this.settleHops();
  }

  /** Jumps in the air: all of one height, unless they tell otherwise. */
  private airJumps(several: readonly SeenFlight[], legs: ReadonlyMap<SeenFlight, SeenFlight>): void {
    const airs = several.filter((one) => {
      const leg = legs.get(one);
      if (!leg || !this.used.includes(leg)) return true;
      one.flight.hops[0] = leg.flight.hops[0]!;
      this.used = this.used.filter((other) => other !== leg);
      return true;
    });
    if (airs.length === 0) return;
    // What goes as well without had none.
    const really = airs.filter((one) => {
      const flight = { ...one.flight, hops: one.flight.hops.slice(0, 1) };
      const part = this.partOf({ ...one, flight });
      settle(part, this.values, 12);
      if (badnessOf(part, this.values) / part.weights.length > 2.5 * this.variance) return true;
      one.flight.hops = flight.hops;
      return false;
    });
    const used = [...this.used, ...airs];
    if (really.length === 0) return this.again(used);
    // By themselves first, all else as it is; they may fall so far that they become no faster.
    const height = airHeight(really, middleOf(this.seen.map(({ rising }) => rising)));
    const fastest = Math.max(...this.seen.map((one) => one.fastest));
    const [plain, capped] = [this.alone(really, [AIRS[0]], [height]), this.alone(really, [AIRS[0], 'gravity.fallSpeed'], [height, 0.97 * fastest])];
    const isCapped = !this.keys.includes('gravity.fallSpeed') && plain.badness - capped.badness > BETTER * this.variance;
    const before = { keys: this.keys, values: this.values };
    const keys: UpKey[] = [...this.keys, AIRS[0], ...(isCapped ? ['gravity.fallSpeed' as const] : [])];
    this.take(used, keys, this.solve(used, keys, [...this.values, ...(isCapped ? capped : plain).shared], { each: true }));
    // So low a jump is none: a flight that was misread.
    if (this.values[keys.indexOf(AIRS[0])]! < LOWEST * this.values[0]!) {
      for (const one of really) one.flight.hops = one.flight.hops.slice(0, 1);
      this.keys = before.keys;
      return this.take(used, before.keys, this.solve(used, before.keys, before.values));
    }
    // What goes as well with one fewer had one fewer.
    for (const one of really)
      for (let i = one.flight.hops.length - 1; i > 0; i--) {
        const hops = one.flight.hops.filter((_, k) => k !== i);
        const [all, fewer] = [this.partOf(one), this.partOf({ ...one, flight: { ...one.flight, hops } })];
        for (const part of [all, fewer]) settle(part, this.values, 12);
        if (badnessOf(fewer, this.values) - badnessOf(all, this.values) < SHORTER * this.variance) one.flight.hops = hops;
      }
    this.again(used);
    const most = Math.min(AIRS.length, Math.max(...really.map(({ flight }) => flight.hops.filter(({ by }) => by === 'air').length)));
    for (let count = 2; count <= most; count++) {
      const more: UpKey[] = [...this.keys, AIRS[count - 1]!];
      const other = this.solve(used, more, [...this.values, this.values[this.keys.indexOf(AIRS[0])]!]);
      if (this.best.squares.badness - other.squares.badness > BETTER * this.variance) this.take(used, more, other);
    }
  } // prettier-ignore

  /** Keys that were let go of after all. @param starts when, in rise times */
  private releases(starts: readonly number[] = [0.75, 1.12]): void {
    this.settleHops();
    let changed = false;
    const rise = this.values[1]!;
    const { variance } = this;
    for (const one of this.used)
      one.flight.hops.forEach((hop, i) => {
        if (hop.held !== undefined || hop.by === 'fall') return;
        const badness = (held: Hop['held']): number => {
          const hops = one.flight.hops.map((other, k) => (k === i ? { ...hop, held } : other));
          const part = this.partOf({ ...one, flight: { ...one.flight, hops } });
          settle(part, this.values, 12);
          return badnessOf(part, this.values);
        };
        const before = badness(undefined);
        const tried = starts.map((start) => ({ held: start * rise, sum: badness(start * rise) }));
        const best = tried.reduce((least, other) => (other.sum < least.sum ? other : least));
        if (before - best.sum < SHORTER * variance) return;
        hop.held = best.held;
        changed = true;
      });
    if (changed) this.again();
  }

  /** What has another cause. */
  private oddOnes(): void {
    for (let round = 0; round < 2; round++) {
      const each = this.best.flown.map(({ part }) => missOf(part, this.values));
      const usual = middleOf(each);
      const odd = this.used.filter((_, i) => each[i]! > Math.max(ODD * usual, FINE));
      if (odd.length === 0 || odd.length > this.used.length / 2) return;
      for (const one of odd) this.refuse(one, 'no tuning moves like that and like the rest');
      this.settleHops();
      this.again(this.used.filter((one) => !odd.includes(one)));
    }
  } // prettier-ignore

  /** The shortest hops: how short they can be. Where keys were captured, what is held for less acts as if it was held for so long; else where many are alike. */
  private taps(): void {
    if (!this.keys.some((key) => key === RELEASES[0] || key === RELEASES[1])) return;
    this.settleHops();
    const keys: UpKey[] = [...this.keys, 'tap'];
    const known = this.used.flatMap(({ flight }) => flight.hops.flatMap(({ held }) => (typeof held === 'object' ? [held.known] : [])));
    if (known.length > 0) {
      const least = Math.min(...known);
      const tries = [0.5, 1.02, 1.5, 2.5].map((share) => this.alone(this.used, ['tap'], [Math.max(1e-3, share * least)]));
      const tap = tries.reduce((one, two) => (two.badness < one.badness ? two : one));
      const other = this.solve(this.used, keys, [...this.values, ...tap.shared]);
      this.lowest = known.filter((one) => one < other.squares.shared.at(-1)!).length;
      if (this.lowest > 0 && this.best.squares.badness - other.squares.badness > SHORTER * this.variance) return this.take(this.used, keys, other);
    }
    const tapped = tapsOf(this.best.flown, this.values);
    this.lowest = tapped.length;
    if (tapped.length === 0) return;
    const held = tapped.reduce((sum, hop) => sum + (hop.held as number), 0) / tapped.length;
    for (const hop of tapped) hop.held = 'tap';
    this.take(this.used, keys, this.solve(this.used, keys, [...this.values, Math.max(held, 1e-3)]));
  } // prettier-ignore

  /** A flight from its takeoff to its landing, as it was fitted. */
  private exactly(segment: Segment): Segment {
    const i = this.best.flown.findIndex(
      ({ capture }, k) =>
        capture === segment.capture && Math.abs(this.used[k]!.flight.hops[0]!.time - segment.from) < NEAR,
    );
    if (i < 0) return segment;
    const { part } = this.best.flown[i]!;
    const [from, to] = [part.hops(part.own, this.values)[0]!.time, part.lands(part.own, this.values)];
    return { ...segment, from, to: Number.isFinite(to) ? to : segment.to };
  }

  /** Flights begin anew from where they were fitted. */
  private settleHops(): void {
    for (const { part, flight } of this.best.flown) {
      const hops = part.hops(part.own, this.values);
      flight.hops.forEach((hop, i) => {
        hop.time = hops[i]!.time;
        if (typeof hop.held === 'number') hop.held = hops[i]!.held;
      });
      flight.stood = part.own[0]!;
      if (!Number.isNaN(flight.lands)) flight.lands = part.own[1]!;
    }
  }
}
