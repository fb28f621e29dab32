import type { Ability, Character, InputRow, Stage, TracePiece } from 'apperin';
import type { Sample } from './take.js';
import { watch, within, type Happened, type Watched } from './watched.js';

/** How far back it can be gone, s. */
export const PAST = 60;

/** What is older is let go of in parts of so many ticks. */
const PART = 600;

/** What was played last: where the character was at each tick, its pieces of motion, what happened, and what was pressed. */
export class Past {
  samples: Sample[] = [];
  rows: InputRow[] = [];
  private ended: TracePiece[] = [];
  private told: Happened[] = [];
  private watched: Watched;

  constructor(
    private readonly stage: Stage,
    private readonly hero: Character,
    private readonly rate: number,
    private readonly abilities: readonly Ability[],
  ) {
    this.watched = watch(stage, hero, abilities);
    this.sample();
  }

  get pieces(): readonly TracePiece[] {
    return [...this.ended, ...this.watched.pieces];
  }

  get events(): readonly Happened[] {
    return [...this.told, ...this.watched.events];
  }

  /** A tick was played. */
  sample(): void {
    const { hero, stage, samples } = this;
    const { width } = hero.view(1);
    samples.push({ time: stage.time, x: hero.x, y: hero.y, vx: hero.vx, vy: hero.vy, height: hero.height, width, phase: hero.phase }); // prettier-ignore
    if (samples.length <= PAST * this.rate + PART) return;
    samples.splice(0, PART);
    this.keep(samples[0]!.time, Infinity);
  }

  /** The stage has gone back to a moment: what came after it never was. */
  gone(): void {
    const { time } = this.stage;
    const { samples } = this;
    while (samples.length > 1 && samples[samples.length - 1]!.time > time + 1e-9) samples.pop();
    this.rows = this.rows.filter((row) => row.time < time - 1e-9);
    this.keep(-Infinity, time);
    if (samples.length === 0) this.sample();
  }

  /** What came before, of a past that this one goes on from. */
  follows({ samples, rows, pieces, events }: Pick<Past, 'samples' | 'rows' | 'pieces' | 'events'>, from: number): void {
    this.samples.unshift(...samples.filter(({ time }) => time < from - 1e-9));
    this.rows = [...rows.filter(({ time }) => time < from - 1e-9), ...this.rows];
    this.ended = [...within(pieces, -Infinity, from), ...this.ended];
    this.told = [...events.filter(({ time }) => time < from - 1e-9), ...this.told];
  }

  private keep(from: number, until: number): void {
    this.ended = within(this.pieces, from, until);
    this.told = this.events.filter(({ time }) => time >= from && time <= until);
    this.watched.end();
    this.watched = watch(this.stage, this.hero, this.abilities);
  }
}
