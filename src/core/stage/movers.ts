import type { HostCall } from '../input/host.js';
import { MOVER_NUMBERS, Moving } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import type { CompiledLevel } from '../terrain/world.js';
import { StageMover, movedByGame, putMover } from './mover.js';

/** How many numbers of a snapshot say where the game wants one mover to be, and how many there are of each in all. */
export const AIMS = 2;
export const EACH = AIMS + MOVER_NUMBERS;

/** The movers of a stage: where they are, and where the game wants its own to be. */
export class StageMovers {
  readonly moving: Moving;
  /** Those that are there, in the order of their sets. */
  list: readonly StageMover[] = [];
  /** The same by their sets, whether they are there or not. */
  private readonly seats: StageMover[] = [];
  /** How many of them the level was opened with: the others are of no account to `save` and `load`. */
  private readonly first: number;
  /** Where the game wants its movers to be when the next tick ends, y up, x and y in turn; Infinity where it has not said so. And in the present one. */
  private aims = new Float64Array(0);
  private goals = new Float64Array(0);

  private constructor(
    private readonly level: CompiledLevel,
    private readonly bodies: readonly Body[],
    private readonly time: () => number,
    private readonly call: (call: HostCall) => void,
  ) {
    this.moving = new Moving(level.movers);
    this.first = level.movers.length;
    this.fit();
    level.movers.forEach((_, i) => this.seat(i + 1));
    this.findThere();
  }

  /**
   * Those of a level; none where it has none.
   * @param mayCome whether there may be some later
   */
  static of(
    level: CompiledLevel,
    bodies: readonly Body[],
    time: () => number,
    call: (call: HostCall) => void,
    mayCome: boolean,
  ): StageMovers | undefined {
    return mayCome || level.movers.length > 0 ? new StageMovers(level, bodies, time, call) : undefined;
  }

  /** There are more movers than before, or fewer. */
  fit(): void {
    const { aims, level } = this;
    this.moving.fit();
    const length = AIMS * level.movers.length;
    if (aims.length === length) return;
    this.aims = new Float64Array(length).fill(Infinity);
    this.aims.set(aims.subarray(0, length));
    this.goals = new Float64Array(length).fill(Infinity);
    this.seats.length = Math.min(this.seats.length, level.movers.length);
  }

  /** Gives a mover of the level a place here. @returns it as a game knows it */
  seat(set: number, known?: StageMover): StageMover {
    const { level, moving, time, call } = this;
    const mover = known ?? new StageMover(level, set, moving, time, call);
    mover.sitIn(set);
    return (this.seats[set - 1] = mover);
  }

  /** Others may be there than before. */
  findThere(): void {
    this.list = this.seats.filter((mover) => mover.isHere);
  }

  /**
   * A call of the game on a mover; others are none of its business.
   * @throws RangeError where there is no such mover, it has a route, or the place is none
   */
  take(call: HostCall, time: number): void {
    const up = this.level.yPoints === 'up' ? 1 : -1;
    if ('moveTo' in call) {
      const [name, x, y] = call.moveTo;
      const set = movedByGame(this.list, name, x, y);
      this.aims[2 * set - 2] = x;
      this.aims[2 * set - 1] = y * up + 0;
    } else if ('placeAt' in call) {
      const [name, x, y] = call.placeAt;
      putMover(this.bodies, this.moving, movedByGame(this.list, name, x, y), x, y * up + 0, time);
    }
  }

  /** The game does not want a mover to be anywhere any more. */
  forgetAim(set: number): void {
    for (const aims of [this.aims, this.goals]) aims[2 * set - 2] = aims[2 * set - 1] = Infinity;
  }

  /** Begins a tick. @returns whether one that the game moves sets off */
  begin(start: number, end: number): boolean {
    this.goals.set(this.aims);
    this.aims.fill(Infinity);
    return this.moving.begin(start, end, this.goals);
  }

  /** Ends it. @returns whether one that the game moves has come to rest */
  finish(): boolean {
    return this.moving.finish(this.goals);
  }

  /** How many numbers of a snapshot are theirs that the level was opened with; of all that are there. */
  get size(): number {
    return EACH * this.first;
  }
  get sizeOfAll(): number {
    return EACH * this.level.movers.length;
  }

  save(into: Float64Array, at: number, count = this.first): void {
    const { aims, moving } = this;
    for (let i = 0; i < AIMS * count; i++) into[at + i] = aims[i]!;
    for (let i = 0; i < MOVER_NUMBERS * count; i++) into[at + AIMS * count + i] = moving.s[i]!;
  }

  /** `renew` comes next. */
  load(from: Float64Array, at: number, count = this.first): void {
    const { aims, moving } = this;
    for (let i = 0; i < AIMS * count; i++) aims[i] = from[at + i]!;
    for (let i = 0; i < MOVER_NUMBERS * count; i++) moving.s[i] = from[at + AIMS * count + i]!;
  }

  /** The numbers of one mover alone. */
  saveOne(set: number, into: Float64Array, at: number): void {
    for (let i = 0; i < AIMS; i++) into[at + i] = this.aims[AIMS * (set - 1) + i]!;
    for (let i = 0; i < MOVER_NUMBERS; i++) into[at + AIMS + i] = this.moving.s[MOVER_NUMBERS * (set - 1) + i]!;
  }

  loadOne(set: number, from: Float64Array, at: number): void {
    for (let i = 0; i < AIMS; i++) this.aims[AIMS * (set - 1) + i] = from[at + i]!;
    for (let i = 0; i < MOVER_NUMBERS; i++) this.moving.s[MOVER_NUMBERS * (set - 1) + i] = from[at + AIMS + i]!;
  }
}
