import { compileTuning, type InputRow, type Level, type Motion, type Tuning } from '../../core/index.js';
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
  private readonly region: Region;
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
  ) {
    this.region = new Region(motion, families, below);
    this.start = this.region.start;
    this.highest = this.region.top;
    this.bands = this.region.bands();
    this.flats = flatsOf(this.bands);
    this.farthest = this.spans(0).reduce((most, [, right]) => Math.max(most, right), this.start);
    this.keys = new Keys(motion, families, this.region, below);
    this.level = this.keys.level;
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
    return this.keys.inputFor(x, y);
  }
}

/** Which takeoff is asked about. */
export interface EnvelopeOptions {
  /** How far below the takeoff it is looked, units; three tiles unless given. */
  below?: number;
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
export function envelope(tuning: Tuning | Motion, { below: given }: EnvelopeOptions = {}): Envelope {
  const motion = withoutMissing('launch' in tuning ? tuning : compileTuning(tuning));
  const { tile, glide } = motion.full;
  const below = given ?? 3 * tile;
  if (!(below >= 0 && below <= 1000 * tile)) throw new RangeError(`below is ${below}; it must be 0 to ${1000 * tile}`);
  const { families, cut } = familiesOf(motion, below);
  const bounded = glide !== undefined || (motion.airLaunch.length > 0 && (motion.airEndless || motion.jumpOff));
  return new Envelope(motion, families, !bounded, cut, below);
}
