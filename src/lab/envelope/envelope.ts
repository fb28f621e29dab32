import {
  compileTuning,
  placeIn,
  type Ability,
  type InputRow,
  type Level,
  type Motion,
  type Tuning,
} from '../../core/index.js';
import { OwnFlights, type OwnFlight } from '../own-flights.js';
import { withoutMissing } from '../own.js';
import { familiesOf, type Family } from './families.js';
import { Keys } from './keys.js';
import { Region, flatsOf, type Band, type Flat } from './region.js';

/** Everything that the middle of the feet can reach in one flight off the edge of a floor; places from its corner, y up, units. */
export class Envelope {
  /** Where the feet are at the takeoff, the last moment on the floor. */
  readonly start: number;
  /** The highest, and as far across as it gets at the height of the floor. */
  readonly highest: number;
  readonly farthest: number;
  /** From the lowest up: between the heights of a band each side is one curve. */
  readonly bands: readonly Band[];
  /** Between bands: level parts of the outline, at the top too. */
  readonly flats: readonly Flat[];
  /** A floor that ends at 0, 0, and the spawns that inputs begin from. */
  readonly level: Level;
  /**
   * Flights with one press of an action of the game's own that leave what is reached without: as they were played, at every so-many-th moment. What lies between them and
   * beyond is not ruled out.
   */
  readonly flights: readonly OwnFlight[];
  private readonly region: Region;
  private readonly unit: number;
  private readonly keys: Keys;

  constructor(
    motion: Motion,
    families: readonly Family[],
    /** Whether its outline is reached; where it is not it is a bound: of a glide and of endless jumps, which nobody plays quite so well, and over the floor of jumps that only begin below it. */
    readonly exact: boolean,
    /** Whether some flights go on for longer than was looked at. */
    readonly cut: boolean,
    /** How far below the takeoff it reaches. */
    readonly below: number,
    private readonly own?: OwnFlights,
  ) {
    this.unit = motion.full.tile;
    this.region = new Region(motion, families, below);
    this.start = this.region.start;
    this.highest = this.region.top;
    this.bands = this.region.bands();
    this.flats = flatsOf(this.bands);
    this.farthest = this.spans(0).reduce((most, [, right]) => Math.max(most, right), this.start);
    this.keys = new Keys(motion, families, this.region, below);
    this.level = this.keys.level;
    this.flights = own === undefined ? [] : own.actions.flatMap((one) => own.all(one)).filter((flight) => this.isLeftBy(flight));
  } // prettier-ignore

  /** Whether a flight is somewhere that is not reached without a press of the game's own. */
  private isLeftBy({ pieces }: OwnFlight): boolean {
    const slack = OUTSIDE * (this.highest + this.farthest + this.below);
    return pieces.some((piece) => LOOKS.some((share) => {
      const { x, y } = placeIn(piece, piece.from + (piece.until - piece.from) * share);
      return y > -this.below && !this.holds(x, y, slack);
    }));
  } // prettier-ignore

  /** From where to where the feet can be at a height, from left to right. */
  spans(y: number): [number, number][] {
    return this.region.spans(y);
  }

  /** Whether the feet can be at a place. @param slack so far outside still counts, units */
  holds(x: number, y: number, slack = 0): boolean {
    const heights = slack > 0 ? [y, y - slack, y + slack] : [y];
    return heights.some((height) =>
      this.spans(height).some(([left, right]) => x >= left - slack && x <= right + slack),
    );
  }

  /** Keys that bring the feet to a place, to be played in `level`, and when they are there, s; undefined where none are known. */
  inputFor(x: number, y: number): { rows: InputRow[]; time: number } | undefined {
    return this.keys.inputFor(x, y) ?? this.ownInputFor(x, y);
  }

  /** With a press of the game's own: between two flights that pass a place on either side, the moment of the press is halved. */
  private ownInputFor(x: number, y: number): { rows: InputRow[]; time: number } | undefined {
    const near = NEAR * this.unit;
    for (let i = 0; i < this.flights.length; i++)
      for (const other of [this.flights[i]!, this.flights[i + 1]]) {
        const found = other && between(this.own!, this.flights[i]!, other, x, y, near);
        if (found) return found;
      }
    return undefined;
  }
}

/** So far outside, as a share of all that is reached, a flight has left it; where each of its pieces is looked at. */
const OUTSIDE = 1e-6;
const LOOKS = [0, 0.25, 0.5, 0.75, 1] as const;
/** How near to a place it must come, tiles; how often halves are taken. */
const NEAR = 1e-4;
const HALVES = 40;

/** Where a flight is at a height, each time: across, and when. */
function crossings({ pieces }: OwnFlight, y: number): { x: number; time: number }[] {
  return pieces.flatMap((piece) => {
    const above = (time: number): boolean => placeIn(piece, time).y > y;
    let [low, high] = [piece.from, piece.until];
    const first = above(low);
    if (first === above(high)) return [];
    for (let i = 0; i < HALVES; i++) {
      const middle = (low + high) / 2;
      if (above(middle) === first) low = middle;
      else high = middle;
    }
    return [{ x: placeIn(piece, high).x, time: high }];
  });
}

/** Keys of a flight through a place, between two that differ in the moment of a press only. */
function between(own: OwnFlights, one: OwnFlight, other: OwnFlight, x: number, y: number, near: number): { rows: InputRow[]; time: number } | undefined {
  const through = (flight: OwnFlight): { rows: InputRow[]; time: number } | undefined => {
    const at = crossings(flight, y).find((place) => Math.abs(place.x - x) <= near);
    if (at === undefined) return undefined;
    // All of it a little later, so that a tick ends when it is there.
    const late = Math.ceil(at.time * own.rate) / own.rate - at.time;
    const rows = flight.rows.map((row) => ({ ...row, time: Math.floor((row.time + late) * 1e6 + 0.5) / 1e6 }));
    return { rows: [{ time: 0, action: 'host', value: 0, call: { rate: own.rate, spawn: 'edge', facing: 1, opposed: 'still' } }, ...rows], time: at.time + late };
  };
  const found = through(one) ?? through(other);
  if (found || one === other || one.action !== other.action || one.jumps !== other.jumps || one.beside.join() !== other.beside.join()) return found;
  // Which of its crossings: as many from the end.
  const [a, b] = [crossings(one, y), crossings(other, y)];
  for (let k = 1; k <= Math.min(a.length, b.length); k++) {
    const side = (flight: OwnFlight): number => Math.sign((crossings(flight, y).at(-k)?.x ?? NaN) - x);
    const first = side(one);
    if (!(first * side(other) < 0)) continue;
    let [low, high] = [one.at, other.at];
    for (let i = 0; i < HALVES; i++) {
      const flight = own.fly({ ...one, at: (low + high) / 2 });
      const met = through(flight);
      if (met) return met;
      if (side(flight) === first) low = flight.at;
      else high = flight.at;
    }
  }
  return undefined;
} // prettier-ignore

/** Which takeoff is asked about. */
export interface EnvelopeOptions {
  /** How far below the takeoff it is looked, units; three tiles unless given. */
  below?: number;
  /** Abilities of the game's own: flights with a press of theirs are played beside. */
  abilities?: readonly Ability[];
}

/**
 * Everything that the feet can reach in one flight from a takeoff at run speed at the edge of a floor, by any use of the keys and all built-in abilities that need no wall. Keys for up and down and keys for left
 * and right act apart: at each moment the feet are in a box, and what can be reached is where those boxes have been, less what the floor hides. Its outline consists of the flights that are highest, lowest,
 * farthest right and left: closed form, drawn as curves.
 * @throws TuningError; RangeError where `below` is out of range
 * @example
 * ```ts
 * envelope(brindle).holds(3, 2) // whether a jump can be there
 * ```
 */
export function envelope(tuning: Tuning | Motion, { below: given, abilities = [] }: EnvelopeOptions = {}): Envelope {
  const compiled = 'launch' in tuning ? tuning : compileTuning(tuning);
  const motion = withoutMissing(compiled);
  const { tile, glide } = motion.full;
  const below = given ?? 3 * tile;
  if (!(below >= 0 && below <= 1000 * tile)) throw new RangeError(`below is ${below}; it must be 0 to ${1000 * tile}`);
  const { families, cut } = familiesOf(motion, below);
  const bounded = glide !== undefined || (motion.airLaunch.length > 0 && (motion.airEndless || motion.jumpOff));
  const own = abilities.some(({ spec }) => (spec.actions ?? []).length > 0)
    ? new OwnFlights(compiled, abilities, below)
    : undefined;
  return new Envelope(motion, families, !bounded, cut, below, own);
}
