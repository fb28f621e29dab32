import type { HostCall } from '../input/host.js';
import { Moving } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import type { CompiledLevel } from '../terrain/world.js';
import { StageMover, movedByGame, putMover } from './mover.js';

/** The movers of a stage: where they are, and where the game wants its own to be. */
export class StageMovers {
  readonly list: readonly StageMover[];
  /** Where the game wants its movers to be when the next tick ends, y up, x and y in turn; Infinity where it has not said so. And in the present one. */
  private readonly aims: Float64Array;
  private readonly goals: Float64Array;

  private constructor(
    private readonly level: CompiledLevel,
    readonly moving: Moving,
    private readonly bodies: readonly Body[],
    time: () => number,
    call: (call: HostCall) => void,
  ) {
    this.list = level.movers.map((_, i) => new StageMover(level, i + 1, moving, time, call));
    this.aims = new Float64Array(2 * this.list.length).fill(Infinity);
    this.goals = new Float64Array(2 * this.list.length).fill(Infinity);
  }

  /** Those of a level; none where it has none. */
  static of(
    level: CompiledLevel,
    bodies: readonly Body[],
    time: () => number,
    call: (call: HostCall) => void,
  ): StageMovers | undefined {
    return level.movers.length > 0 ? new StageMovers(level, new Moving(level.movers), bodies, time, call) : undefined;
  }

  /**
   * A call of the game on a mover; others are none of its business.
   * @throws RangeError where there is no such mover, it has a route, or the place is none
   */
  take(call: HostCall, time: number): void {
    const up = this.level.yPoints === 'up' ? 1 : -1;
    if ('moveTo' in call) {
      const [name, x, y] = call.moveTo;
      const set = movedByGame(this.level, name, x, y);
      this.aims[2 * set - 2] = x;
      this.aims[2 * set - 1] = y * up + 0;
    } else if ('placeAt' in call) {
      const [name, x, y] = call.placeAt;
      putMover(this.bodies, this.moving, movedByGame(this.level, name, x, y), x, y * up + 0, time);
    }
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

  /** How many of them say where the game wants its movers to be. */
  get aimCount(): number {
    return this.aims.length;
  }

  /** How many numbers of a snapshot are theirs. */
  get size(): number {
    return this.aims.length + this.moving.s.length;
  }

  save(into: Float64Array, at: number): void {
    into.set(this.aims, at);
    into.set(this.moving.s, at + this.aims.length);
  }

  /** @param clock the stage's, as it is then */
  load(from: Float64Array, at: number, clock: Float64Array): void {
    const { aims, moving } = this;
    for (let i = 0; i < aims.length; i++) aims[i] = from[at + i]!;
    for (let i = 0; i < moving.s.length; i++) moving.s[i] = from[at + aims.length + i]!;
    moving.renew(clock);
  }
}
