import { Cast } from './cast.js';
import { ALL_TOUCHES, BESIDE, HIGH, LOW, PLANE, SIDE } from '../state/touches.js';
import { MOVE } from '../input/intents.js';
import { OPPOSED } from '../input/opposed.js';
import { ABSENT, GOING, MOST_GOING, WENT_UNTIL } from '../movers/moving.js';
import { AIMS, EACH } from './movers.js';
import type { Body } from '../state/body.js';
import { FASTEST } from '../tuning/tempo.js';
import { MOST_MOVERS } from '../terrain/movers.js';
import type { CellRows, CompiledLevel } from '../terrain/world.js';
import { ACROSS_SET, ALONG_WITH, CLOCK_LENGTH, HIT, KIND, KINDS, MET, METS, NOW, SHOWING, STEPS_WAY, ENDS_AT, UP_PHASE, UP_SET } from '../state/clock.js'; // prettier-ignore
import { ABOARD, AIR_SPENT, BEYOND, BOXES_OFF, BUMPED, CORNERED, COUNTED_WALL, COYOTE, DEAF, DROPPED, DROPS, EASE_TO, EASING, EDGE, END, FACED_X, FACED_Y, FACING, FIRST, FOOTFALLS, FRAME, FREEING, FREE_X, FREE_Y, FROZEN, FROZEN_SINCE, GRIP, GRIP_SIDE, HEIGHT, HELD_ACTIONS, HIGHEST, HOLDS_UP, IGNORES, JUMPING, KEPT, KEY, LANDED, LANDING, LEDGE_GAVE, LIPPED, LOCK_FOR, LOCK_FROM, MOVER_SLOTS, OPPOSED_BY, PHASE, PIT, POSE, POSE_WAS, PUSHED, RIDGE_AT, STEP, SUPPORT, SUPPORTS, SURFACE, TEMPO, TUNED, VX, VY, WALL_COYOTE, WANT, WISH, X, Y } from '../state/layout.js'; // prettier-ignore

/** Larger than any number that is not chosen by a game: rates, moments, s. And than any place or speed that a stage can come to. */
const ANY = 1e18;
const PLACE = 1099511627776; // 2⁴⁰

/** What each of a row of numbers can be. */
class Limits {
  private readonly least: Float64Array;
  private readonly most: Float64Array;
  /** Which of them are whole. */
  private readonly whole: number[] = [];

  constructor(readonly length: number) {
    this.least = new Float64Array(length).fill(-ANY);
    this.most = new Float64Array(length).fill(ANY);
  }

  /** Any number within. */
  within(least: number, most: number, ...at: number[]): this {
    for (const i of at) [this.least[i], this.most[i]] = [least, most];
    return this;
  }

  /** One of so many: a whole number within. */
  one(least: number, most: number, ...at: number[]): this {
    this.whole.push(...at);
    return this.within(least, most, ...at);
  }

  /**
   * @param whose what these numbers are of
   * @throws RangeError naming a number that is none, or out of range
   */
  check(numbers: Float64Array, from: number, whose: string): void {
    const { least, most, whole, length } = this;
    // Written so that NaN is refused.
    for (let i = 0; i < length; i++)
      if (!(numbers[from + i]! >= least[i]! && numbers[from + i]! <= most[i]!)) this.refuse(numbers, from, i, whose);
    for (let k = 0; k < whole.length; k++) {
      const value = numbers[from + whole[k]!]!;
      if (value !== Math.floor(value)) this.refuse(numbers, from, whole[k]!, whose);
    }
  }

  private refuse(numbers: Float64Array, from: number, i: number, whose: string): never {
    throw new RangeError(
      `number ${from + i} of the snapshot, of ${whose}, is ${numbers[from + i]}; it must be ${this.whole.includes(i) ? 'a whole number of ' : ''}${this.least[i]} to ${this.most[i]}`,
    );
  }
}

const LIMITS = new WeakMap<Body, Limits>();
/** The same where cells have been changed: edges may have other numbers. */
const WIDER = new WeakMap<Body, Limits>();

/** What the state of a body can hold: what is chosen by number is there, what counts is whole, all else is finite, but for moments and places of nothing. */
function limitsOf(body: Body, isChanged: boolean, edges: number, movers: number): Limits {
  const kept = isChanged ? WIDER : LIMITS;
  const known = kept.get(body);
  if (known?.length === body.moversAt + MOVER_SLOTS * movers) return known;
  const limits = makeLimits(body, isChanged ? FAR_EDGE : edges, movers);
  kept.set(body, limits);
  return limits;
}

/** Above all numbers of edges. */
const FAR_EDGE = 4503599627370496; // 2⁵²

function makeLimits(body: Body, edges: number, movers: number): Limits {
  const { level, heldAt, installed, zonesAt, moversAt, phases, poses } = body;
  const limits = new Limits(moversAt + MOVER_SLOTS * movers)
    .one(-1, 1, FACING, FIRST, GRIP_SIDE, BESIDE + SIDE)
    .one(0, SUPPORTS.length - 1, SUPPORT)
    .one(-1, edges, EDGE, GRIP, COUNTED_WALL, ...ALL_TOUCHES)
    .one(0, phases.length - 1, PHASE)
    .one(0, poses.length - 1, POSE, POSE_WAS, WANT)
    .one(0, 1, JUMPING, COYOTE, EASING, WALL_COYOTE, LEDGE_GAVE, DEAF, PIT)
    .one(0, KEPT, KEY)
    .one(-1000, Number.MAX_SAFE_INTEGER, AIR_SPENT)
    .one(0, Number.MAX_SAFE_INTEGER, FOOTFALLS)
    .one(0, edges + 1, BUMPED, ...Array.from({ length: DROPS }, (_, i) => DROPPED + i))
    .one(-2, 2, END)
    .one(0, 2, FREEING)
    .one(0, level.surfaces.length - 1, SURFACE)
    .one(0, 15, BEYOND)
    .one(-2147483648, 2147483647, IGNORES)
    .one(0, 1073741823, BOXES_OFF)
    .within(0, ANY, FROZEN, FROZEN_SINCE)
    .within(0, FASTEST, TEMPO)
    .one(0, movers, FRAME, ABOARD)
    .one(0, movers + 1, PUSHED)
    .one(0, OPPOSED.length - 1, OPPOSED_BY)
    .one(0, Number.MAX_SAFE_INTEGER, TUNED)
    .within(-1, 1, WISH)
    .within(-PLACE, PLACE, X, Y, VX, VY, HIGHEST, FREE_X, FREE_Y, FACED_Y, LOCK_FROM, EASE_TO, LANDING, STEP)
    .within(Number.MIN_VALUE, PLACE, HEIGHT)
    .within(0, ANY, LOCK_FOR)
    .within(-Infinity, ANY, FACED_X, LANDED, CORNERED, LIPPED, RIDGE_AT)
    .within(-Infinity, Infinity, ...ALL_TOUCHES.flatMap((touch) => [touch + LOW, touch + HIGH, touch + PLANE]));
  for (const at of heldAt) if (at >= 0) limits.within(0, 1, at);
  limits.within(-1, 1, HELD_ACTIONS + MOVE);
  for (const { base, ability } of installed)
    for (let i = 0; i < ability.size; i++) limits.within(-Infinity, Infinity, base + i);
  // The piece that it is in.
  const { pathAt } = body;
  const clockAt = pathAt + body.path.length;
  for (let i = pathAt; i < clockAt + CLOCK_LENGTH; i++) limits.within(-Infinity, Infinity, i);
  limits
    .one(0, KINDS - 1, clockAt + KIND)
    .one(-1, edges, clockAt + HIT, ...Array.from({ length: METS }, (_, i) => clockAt + MET + i))
    .one(-1, poses.length - 1, clockAt + SHOWING)
    .one(0, phases.length - 1, clockAt + UP_PHASE)
    .one(0, 1, clockAt + ACROSS_SET, clockAt + UP_SET, clockAt + ALONG_WITH)
    .one(-1, 1, clockAt + STEPS_WAY)
    .within(-ANY, ANY, clockAt + NOW, clockAt + ENDS_AT);
  for (let i = 0; i < level.zones.length; i++) limits.one(0, 1, zonesAt + i);
  for (let i = 0; i < movers; i++) limits.one(0, HOLDS_UP, moversAt + MOVER_SLOTS * i);
  return limits;
}

/**
 * Of each mover the game may want it somewhere (Infinity: nowhere); then what `moving.ts` keeps.
 * @param count how many there are
 * @param mayGo whether they can be taken away
 */
function limitsOfMovers(count: number, mayGo: boolean): Limits {
  const limits = new Limits(EACH * count);
  for (let i = 0; i < AIMS * count; i++) limits.within(-PLACE, Infinity, i);
  for (let at = AIMS * count; at < limits.length; at += EACH - AIMS) {
    limits.one(0, mayGo ? ABSENT : MOST_GOING, at + GOING);
    limits.within(-Infinity, ANY, at + WENT_UNTIL);
  }
  return limits;
}

/** One that was added. */
const ONE_MOVER = limitsOfMovers(1, true);

/** Time, ticks, the count and the moment of the last change of their length; the length; the rate; how long the last one was. */
const CLOCK = new Limits(7).within(0, ANY, 0, 3, 5).one(0, Number.MAX_SAFE_INTEGER, 1, 2).within(0, 10, 4, 6);

function refuseLength(snapshot: Float64Array, wanted: number): never {
  throw new RangeError(`a snapshot of this stage has ${wanted} numbers, not ${snapshot.length}`);
}

/** How many characters there are. */
const COUNT = new Limits(1).one(0, 1e6, 0);
/** One who meets another: its number, and which of its boxes. */
const PARTY = new Limits(2).one(-Number.MAX_SAFE_INTEGER, Number.MAX_SAFE_INTEGER, 0).one(-1, 29, 1);

/** How many numbers of a snapshot are of changed ground, from where these begin. */
export function groundLength(snapshot: Float64Array, at: number): number {
  // Whole numbers: what is reckoned from others would be boxed.
  const cells = (1 + 2 * snapshot[at]!) | 0;
  const shapes = (cells + 1 + snapshot[at + cells]!) | 0;
  return (shapes + 1 + (1 + EACH) * snapshot[at + shapes]!) | 0;
}

function isWhole(value: number, most: number): boolean {
  return value >= 0 && value <= most && value === Math.floor(value);
}

/** Says whether numbers can be a snapshot of one stage. */
export class SnapshotCheck {
  private readonly shapes: Limits;
  private readonly movers: Limits;
  private readonly rows: CellRows | undefined;

  /**
   * @param clockLength how many numbers are the clock's; they come first
   * @param off how many named shapes and zones there are: one number each
   * @param cast whose states come last: how many, then of each its number and its state
   * @param level as it was compiled
   * @param mayChange whether its ground and its movers may be others than then
   * @param knowsShape, knowsMover whether a shape, a mover of such a number was ever added
   */
  constructor(
    private readonly clockLength: number,
    off: number,
    private readonly cast: Cast,
    private readonly level: CompiledLevel,
    private readonly mayChange: boolean,
    private readonly knowsShape: (print: number) => boolean,
    private readonly knowsMover: (print: number) => boolean,
  ) {
    this.rows = mayChange ? level.rows : undefined;
    this.shapes = new Limits(off);
    for (let i = 0; i < off; i++) this.shapes.one(0, 1, i);
    this.movers = limitsOfMovers(level.movers.length, mayChange);
  }

  /**
   * @param length how many numbers a snapshot has with those who are there now
   * @throws RangeError where a number is none, or no stage can have it there
   */
  check(snapshot: Float64Array, length: number): void {
    const { shapes, movers, cast } = this;
    const least = this.clockLength + shapes.length + movers.length + 5;
    if (snapshot.length < least) refuseLength(snapshot, length);
    CLOCK.check(snapshot, 0, 'the clock');
    shapes.check(snapshot, this.clockLength, 'the shapes and zones');
    movers.check(snapshot, this.clockLength + shapes.length, 'the movers');
    let at = this.clockLength + shapes.length + movers.length;
    const groundAt = at;
    at = this.checkCells(snapshot, at);
    if (at >= snapshot.length) refuseLength(snapshot, length);
    const isChanged = at > groundAt + 3;
    const sets = this.level.movers.length + this.added;
    const count = snapshot[at++]!;
    COUNT.check(snapshot, at - 1, 'the characters');
    let last = -1;
    for (let i = 0; i < count; i++) {
      const id = snapshot[at++]!;
      const body = cast.numbered(id)?.body;
      if (!body || !(id > last))
        throw new RangeError(
          `number ${at - 1} of the snapshot, of a character, is ${id}: there is none of that number on this stage, or it was removed for good`,
        );
      last = id;
      const { moversAt, tunings, name } = body;
      const size = moversAt + MOVER_SLOTS * sets;
      if (at + size > snapshot.length) refuseLength(snapshot, at + size);
      limitsOf(body, isChanged, this.level.terrain.count - 1, sets).check(snapshot, at, name);
      if (!(snapshot[at + TUNED]! < tunings.length))
        throw new RangeError(`the snapshot is of a stage on which ${name} had a tuning that it never had here`);
      at += size;
    }
    if (at >= snapshot.length) refuseLength(snapshot, at + 1);
    COUNT.check(snapshot, at, 'those who meet');
    const end = at + 1 + 4 * snapshot[at]!;
    if (end !== snapshot.length) refuseLength(snapshot, end);
    for (at++; at < end; at += 2) {
      PARTY.check(snapshot, at, 'those who meet');
      // A zone that one of them meets.
      if (snapshot[at]! < 0 && snapshot[at]! >= -this.level.zones.length && (at - end) % 4 === -2) continue;
      if (!cast.numbered(snapshot[at]!))
        throw new RangeError(
          `number ${at} of the snapshot, of those who meet, is ${snapshot[at]}: there is none of that number`,
        );
    }
  }
  /** @returns where what comes after the changed cells begins */
  private checkCells(snapshot: Float64Array, at: number): number {
    const { rows } = this;
    const count = snapshot[at]!;
    if (count === 0) return this.checkAdded(snapshot, at + 1);
    if (!rows || !(count > 0 && count <= rows.grid.cells.length && count === Math.floor(count)))
      return this.refuseCell(snapshot, at);
    const end = (at + 1 + 2 * count) | 0;
    if (end > snapshot.length) refuseLength(snapshot, end);
    const { cells, tiles } = rows.grid;
    for (let i = at + 1, last = -1; i < end; i += 2) {
      if (!isWhole(snapshot[i]!, cells.length - 1) || snapshot[i]! <= last) this.refuseCell(snapshot, i);
      if (!isWhole(snapshot[i + 1]!, tiles.length) || snapshot[i + 1] === cells[snapshot[i]!])
        this.refuseCell(snapshot, i + 1);
      last = snapshot[i]!;
    }
    return this.checkAdded(snapshot, end);
  }

  private refuseCell(snapshot: Float64Array, i: number): never {
    throw new RangeError(
      `number ${i} of the snapshot, of changed cells, is ${snapshot[i]}; ${this.rows ? 'no cell of this stage can have it there' : 'no cell of this stage can be changed'}`,
    );
  }

  /** @returns where what comes after the shapes that were added begins */
  private checkAdded(snapshot: Float64Array, at: number): number {
    if (at >= snapshot.length) refuseLength(snapshot, at + 1);
    COUNT.check(snapshot, at, 'shapes that were added');
    const end = (at + 1 + snapshot[at]!) | 0;
    if (end > snapshot.length) refuseLength(snapshot, end);
    for (let i = at + 1; i < end; i++)
      if (!this.knowsShape(snapshot[i]!) || (i > at + 1 && !(snapshot[i]! > snapshot[i - 1]!)))
        throw new RangeError(`number ${i} of the snapshot, of a shape that was added, is ${snapshot[i]}: no such shape was ever added here`); // prettier-ignore
    return this.checkMovers(snapshot, end);
  }

  /** How many sets the movers that were added have, by the snapshot that was looked at last. */
  private added = 0;

  /** @returns where what comes after the movers that were added begins */
  private checkMovers(snapshot: Float64Array, at: number): number {
    if (at >= snapshot.length) refuseLength(snapshot, at + 1);
    COUNT.check(snapshot, at, 'movers that were added');
    const count = snapshot[at]!;
    if (count > MOST_MOVERS || (count > 0 && !this.mayChange))
      throw new RangeError(`number ${at} of the snapshot, of movers that were added, is ${count}; this stage has not so many`); // prettier-ignore
    const end = (at + 1 + (1 + EACH) * count) | 0;
    if (end > snapshot.length) refuseLength(snapshot, end);
    for (let i = at + 1; i < end; i += 1 + EACH) {
      const print = snapshot[i]!;
      // Between two that are there one may be gone.
      if (!(print === 0 && i + 1 + EACH < end) && !this.knowsMover(print))
        throw new RangeError(`number ${i} of the snapshot, of a mover that was added, is ${print}: no such mover was ever added here`); // prettier-ignore
      ONE_MOVER.check(snapshot, i + 1, 'a mover that was added');
    }
    this.added = count;
    return end;
  }
}
