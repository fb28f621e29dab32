import type { HostCall } from '../input/host.js';
import { Moving } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import type { CompiledLevel } from '../terrain/world.js';
import { StageMover, movedByGame, putMover } from './mover.js';

/** The movers of a stage: where they are, where the game wants its own to be, and where all were when the last tick began. */
export class StageMovers {
  readonly list: readonly StageMover[];
  /** Offsets when the last tick began, x and y in turn, in the level's own axes. */
  readonly were: Float64Array;
  /** Where the game wants its movers to be when the tick ends, y up; Infinity where it has not said so. */
  private readonly aims: Float64Array;

  private constructor(
    private readonly level: CompiledLevel,
    readonly moving: Moving,
    private readonly bodies: readonly Body[],
    time: () => number,
    call: (call: HostCall) => void,
  ) {
    this.list = level.movers.map((_, i) => new StageMover(level, i + 1, moving, time, call));
    this.were = new Float64Array(2 * this.list.length);
    this.aims = new Float64Array(2 * this.list.length).fill(Infinity);
    this.keep();
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

  private keep(): void {
    for (let i = 0; i < this.list.length; i++) {
      this.were[2 * i] = this.list[i]!.x;
      this.were[2 * i + 1] = this.list[i]!.y;
    }
  }

  /**
   * A call of the game on a mover; others are none of its business.
   * @throws RangeError where there is no such mover, it has a route, or the place is none
   */
  take(call: HostCall, time: number, tick: number): void {
    const up = this.level.yPoints === 'up' ? 1 : -1;
    if ('moveTo' in call) {
      const [name, x, y] = call.moveTo;
      const set = movedByGame(this.level, name, x, y);
      this.aims[2 * set - 2] = x;
      this.aims[2 * set - 1] = y * up + 0;
    } else if ('placeAt' in call) {
      const [name, x, y] = call.placeAt;
      putMover(this.bodies, this.moving, movedByGame(this.level, name, x, y), x, y * up + 0, time, tick);
      this.keep();
    }
  }

  /** Begins a tick. */
  begin(start: number, length: number): void {
    const { moving, aims } = this;
    this.keep();
    moving.begin(start, length);
    for (let set = 1; set <= this.list.length; set++)
      if (aims[2 * set - 2]! < Infinity) moving.aim(set, aims[2 * set - 2]!, aims[2 * set - 1]!, length);
  }

  /** Ends it. */
  finish(): void {
    this.moving.finish(this.aims);
    this.aims.fill(Infinity);
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

  /** @param time stage time then, s */
  load(from: Float64Array, at: number, time: number): void {
    const { aims, moving } = this;
    for (let i = 0; i < aims.length; i++) aims[i] = from[at + i]!;
    for (let i = 0; i < moving.s.length; i++) moving.s[i] = from[at + aims.length + i]!;
    moving.begin(time, 0);
    this.keep();
  }
}
