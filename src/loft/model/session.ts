import {
  actionNumber, merged, openStage, rewind, script, startOf, stepper, valueOfKey,
  type Character, type CompiledLevel, type Driver, type InputRow, type Intents, type Motion, type Opposed, type Phase, type Rewind, type Stage, type Stepper,
} from 'apperin'; // prettier-ignore
import { gamepad, keyboard, type KeyboardDriver } from 'apperin/browser';
import { play } from 'apperin/lab';
import type { TuningDocument } from './document.js';

/** A moment of what was played. */
export interface Sample {
  time: number;
  x: number;
  y: number;
  vx: number;
  vy: number;
  height: number;
  width: number;
  phase: Phase;
}

/** A stretch of play to play again: where it began, and the keys since. */
export interface Take {
  from: number;
  to: number;
  rate: number;
  snapshot: Float64Array;
  rows: readonly InputRow[];
  /** Which way to go with both directions held. */
  opposed: Opposed;
  /** From the beginning of a level: a recording that can be saved. */
  whole: boolean;
}

/** A tuning on the keys of the take. */
export interface Ghost {
  name: string;
  motion: Motion;
  trail: Sample[];
}

/** How far back it can be gone, s. */
export const PAST = 60;
export const MOST_GHOSTS = 4;

export const OVERLAYS = {
  hitbox: 'hitbox',
  support: 'support',
  edges: 'edges and normals',
  grace: 'grace',
  arc: 'arc from here',
  envelope: 'reach from here',
  velocity: 'velocity',
  phases: 'phases',
} as const;
export type Overlay = keyof typeof OVERLAYS;

/** What is played: a level, a character in it, its past, and ghosts on the same keys. It knows no page but for the drivers. */
export class Session {
  stage!: Stage;
  hero!: Character;
  steps!: Stepper;
  private past!: Rewind;
  samples: Sample[] = [];
  private rows: InputRow[] = [];
  private recording: { rows: readonly InputRow[]; end(): void } | undefined;
  rate = 120;
  take: Take | undefined;
  ghosts: Ghost[] = [];
  /** The present tuning on the keys of the take. */
  live: Ghost | undefined;
  /** Where in the take, or in the past, somebody looks; undefined for now. */
  looking: number | undefined;
  readonly overlays = new Set<Overlay>(['hitbox']);
  /** The clock of ghosts that go round. */
  private began = 0;
  private scratch: { stage: Stage; hero: Character } | undefined;
  private tuned: Motion | undefined;
  readonly keys: KeyboardDriver;
  private readonly driver: Driver;
  private replaying: { end: number } | undefined;

  constructor(
    public level: CompiledLevel,
    public document: TuningDocument,
    target: Window,
    more: readonly Driver[] = [],
  ) {
    this.keys = keyboard(target);
    this.driver = merged(this.keys, gamepad(target), ...more);
    this.restart();
  }

  /** From the beginning of the level. */
  restart(rate = this.rate, driver: Driver = this.driver): void {
    this.rate = rate;
    const paused = this.steps?.paused ?? false;
    const speed = this.steps?.speed ?? 1;
    this.stage = openStage(this.level);
    this.hero = this.stage.add(this.document.motion, { driver: this.kept(driver), opposed: OPPOSED, name: 'hero' });
    this.tuned = this.document.motion;
    this.steps = stepper({ rate });
    this.steps.paused = paused;
    this.steps.speed = speed;
    this.past = rewind(this.stage, { seconds: PAST, rate });
    this.samples = [];
    this.rows = [];
    this.recording = undefined;
    this.looking = undefined;
    this.replaying = undefined;
    this.scratch = undefined;
    this.past.keep();
    this.sample();
  }

  /** What a driver wants is kept as well, to be played again. */
  private kept(driver: Driver): Driver {
    return {
      read: (into: Intents, who: Character) => {
        const before = into.count;
        driver.read(into, who);
        for (let i = before; i < into.count; i++) {
          const name = ACTION_NAMES[into.action[i]!];
          if (name === undefined) continue;
          const time = Math.max(into.time[i]! - into.from, 0) + into.start;
          this.rows.push({ time: Math.round(time * 1e6) / 1e6, action: name, value: into.value[i]! });
        }
      },
      fresh: () => driver.fresh?.(),
      ...(driver.isLive ? { isLive: true } : {}),
      ...(driver.hasCalls ? { hasCalls: true } : {}),
    };
  }

  private sample(): void {
    const { hero, stage } = this;
    const { width } = hero.view(1);
    this.samples.push({ time: stage.time, x: hero.x, y: hero.y, vx: hero.vx, vy: hero.vy, height: hero.height, width, phase: hero.phase });
    const most = PAST * this.rate;
    if (this.samples.length > most + 600) this.samples.splice(0, 600);
  } // prettier-ignore

  private readonly tick = (dt: number, at?: number): void => {
    // A replay ends with its take, however many ticks a frame has room for.
    if (this.replaying && this.stage.time >= this.replaying.end - 1e-9) return;
    this.stage.tick(dt, at);
    this.past.keep();
    this.sample();
  };

  /** A frame: whatever ticks are due. @param now s, on the clock of the drivers */
  frame(now: number): void {
    this.steps.run(now, this.tick);
    if (this.replaying && this.stage.time >= this.replaying.end - 1e-9) {
      this.hero.oppose(OPPOSED);
      this.hero.drive(this.kept(this.driver));
      this.replaying = undefined;
      this.steps.paused = true;
    }
  }

  /** One tick on, or back. */
  step(ticks: number, now: number): void {
    this.steps.paused = true;
    this.looking = undefined;
    if (ticks > 0) for (let i = 0; i < ticks; i++) this.steps.once(now, this.tick);
    else this.back(-ticks / this.rate);
  }

  /** Goes back in time. @returns how far, s */
  back(seconds: number): number {
    if (this.recording) this.endRecording();
    const gone = this.past.back(seconds);
    const { time } = this.stage;
    while (this.samples.length > 1 && this.samples[this.samples.length - 1]!.time > time + 1e-9) this.samples.pop();
    this.rows = this.rows.filter((row) => row.time < time - 1e-9);
    if (this.samples.length === 0) this.sample();
    this.steps.paused = true;
    return gone;
  }

  /**
   * Goes back so many seconds, and takes what was played since as the take: its keys are played again by every ghost, and by the present tuning.
   */
  takeLast(seconds: number): Take | undefined {
    const to = this.stage.time;
    const rows = this.rows.slice();
    const way = this.samples.slice();
    const first = way[0]!;
    const gone = this.back(Math.min(seconds, to));
    const from = this.stage.time;
    if (gone <= 0) return undefined;
    const keys = rows.filter(({ time }) => time >= from - 1e-9);
    // From the beginning it is a recording like any other: it says how it began.
    const whole = from === 0;
    const start = { rate: this.rate, spawn: [first.x, first.y], facing: this.hero.facing, opposed: OPPOSED } as const;
    if (whole) keys.unshift({ time: 0, action: 'host', value: 0, call: start });
    this.take = { from, to, rate: this.rate, snapshot: this.stage.snapshot().slice(), rows: keys, opposed: OPPOSED, whole };
    this.ghosts = [];
    this.pin(way.filter(({ time }) => time >= from - 1e-9));
    this.retake();
    return this.take;
  } // prettier-ignore

  /** The present tuning stays as a ghost beside what it becomes. @param trail the way that it went, where that is known */
  pin(trail?: Sample[], name = `${short(this.document.name)} ${this.ghosts.length + 1}`, motion = this.document.motion): boolean {
    if (!this.take || this.ghosts.length >= MOST_GHOSTS) return false;
    this.ghosts.push({ name, motion, trail: trail ?? this.playTake(motion) });
    this.began = NaN;
    return true;
  } // prettier-ignore

  /** Plays the take with the present tuning, as a ghost. */
  retake(): void {
    if (!this.take) return;
    const { motion } = this.document;
    if (this.live?.motion === motion) return;
    // While a number is dragged the same trail is written anew: nothing is left behind to be cleared away.
    this.live = { name: short(this.document.name), motion, trail: this.playTake(motion, this.live?.trail) };
  }

  private playTake(motion: Motion, trail: Sample[] = []): Sample[] {
    const take = this.take!;
    if (!this.scratch) {
      const stage = openStage(this.level);
      this.scratch = { stage, hero: stage.add(motion, { opposed: 'latest', name: 'hero' }) };
    }
    const { stage, hero } = this.scratch;
    stage.restore(take.snapshot);
    hero.retune(motion.full);
    hero.oppose(take.opposed);
    hero.drive(script(keysOf(take)));
    const write = (i: number): void => {
      const at = (trail[i] ??= { time: 0, x: 0, y: 0, vx: 0, vy: 0, height: 0, width: 0, phase: 'ground' });
      at.time = stage.time;
      at.x = hero.x;
      at.y = hero.y;
      at.vx = hero.vx;
      at.vy = hero.vy;
      at.height = hero.height;
      at.width = motion.width;
      at.phase = hero.phase;
    };
    write(0);
    const ticks = Math.round((take.to - take.from) * take.rate);
    for (let i = 0; i < ticks; i++) {
      stage.tick(1 / take.rate);
      write(i + 1);
    }
    trail.length = ticks + 1;
    return trail;
  } // prettier-ignore

  /** The character plays the take itself, with the present tuning, and pauses at its end. */
  replay(): void {
    const { take } = this;
    if (!take) return;
    if (take.rate !== this.rate) this.restart(take.rate);
    this.stage.restore(take.snapshot);
    // As a ghost does: the state of that moment takes the present tuning.
    this.hero.retune(this.document.tuning);
    this.samples = this.samples.filter(({ time }) => time <= take.from + 1e-9);
    this.rows = this.rows.filter(({ time }) => time < take.from - 1e-9);
    this.past.clear();
    this.past.keep();
    this.hero.oppose(take.opposed);
    this.hero.drive(this.kept(script(keysOf(take))));
    this.replaying = { end: take.to };
    this.steps.paused = false;
    this.looking = undefined;
  }

  clearGhosts(): void {
    this.ghosts = [];
    this.live = undefined;
    this.take = undefined;
    this.looking = undefined;
  }

  get isRecording(): boolean {
    return this.recording !== undefined;
  }

  /** Begins anew and records every key, so that it can be saved and played by `apperin run`. */
  record(): void {
    this.restart();
    this.recording = this.stage.record(this.hero);
    this.steps.paused = false;
  }

  /** @returns what was recorded, as the take */
  endRecording(): Take | undefined {
    const { recording } = this;
    if (!recording) return undefined;
    recording.end();
    this.recording = undefined;
    return this.takeRows(recording.rows.slice(), this.rate, this.stage.time);
  }

  /** An input from a file, or a recording, as the take: from the beginning of the level. */
  takeRows(rows: readonly InputRow[], rate: number, seconds: number): Take {
    const first = openStage(this.level);
    const start = startOf(rows);
    first.add(this.document.motion, { opposed: 'latest', name: 'hero', ...(start?.spawn === undefined ? {} : { at: start.spawn }), ...(start?.facing === undefined ? {} : { facing: start.facing }) });
    this.take = { from: 0, to: seconds, rate, snapshot: first.snapshot().slice(), rows, opposed: start?.opposed ?? 'still', whole: true };
    this.ghosts = [];
    this.live = undefined;
    this.pin();
    this.retake();
    return this.take;
  } // prettier-ignore

  /** The trace of the take with the present tuning. */
  traceOfTake(): ReturnType<typeof play> | undefined {
    const { take } = this;
    if (!take?.whole) return undefined;
    return play({
      level: this.level,
      tuning: this.document.motion,
      input: take.rows,
      seconds: take.to,
      rate: take.rate,
    });
  }

  /** The tuning has changed: it is in force at once. */
  retune(): void {
    if (this.tuned !== this.document.motion) {
      this.tuned = this.document.motion;
      this.hero.retune(this.document.tuning);
    }
    this.retake();
  }

  /** Where ghosts are at this moment: where somebody looks, else going round. */
  ghostTime(now: number): number {
    const { take, looking } = this;
    if (!take) return 0;
    if (looking !== undefined) return looking;
    if (this.replaying) return this.stage.time;
    if (Number.isNaN(this.began)) this.began = now;
    return take.from + ((now - this.began) % (take.to - take.from + 0.5));
  }

  /** The moment of the past that somebody looks at. */
  at(time: number, samples: readonly Sample[] = this.samples): Sample | undefined {
    let [low, high] = [0, samples.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (samples[middle]!.time <= time + 1e-9) low = middle;
      else high = middle - 1;
    }
    return samples[low];
  }
}

/** In the Loft the direction pressed latest counts. */
const OPPOSED: Opposed = 'latest';

/** The keys of a take, for whatever tuning: what was retuned while it was recorded belongs to the recording alone. */
function keysOf({ rows }: Take): InputRow[] {
  return rows.filter(({ call }) => call === undefined || !('retune' in call));
}

const ACTION_NAMES = ['left', 'right', 'up', 'down', 'jump', 'glide', 'walk', 'move'].reduce<string[]>((names, name) => {
  names[actionNumber(name)] = name;
  return names;
}, []); // prettier-ignore

export const short = (file: string): string => file.replace(/\.tuning\.(yaml|json)$/, '');

/** The value of a key that is in force. */
export const valueIn = (motion: Motion, key: string): unknown => valueOfKey(motion.full, key);
