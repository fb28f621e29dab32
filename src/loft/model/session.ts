import {
  actionName, merged, openStage, rewind, script, startOf, stepper, valueOfKey,
  type Character, type CompiledLevel, type Driver, type InputRow, type Intents, type Motion, type Opposed, type Rewind, type Stage, type Stepper,
} from 'apperin'; // prettier-ignore
import { gamepad, keyboard, type KeyboardDriver } from 'apperin/browser';
import { play } from 'apperin/lab';
import type { TuningDocument } from './document.js';
import { OwnAbilities } from './own.js';
import { PAST, Past } from './past.js';
import { Trails, keysOf, type Ghost, type Sample, type Take, type Way } from './take.js';
import { within } from './watched.js';

export const MOST_GHOSTS = 4;
/** So many ticks of ghosts are played while a press is moved. */
const AT_ONCE = 6000;

export const OVERLAYS = {
  hitbox: 'hitbox',
  support: 'support',
  edges: 'edges and normals',
  grace: 'grace',
  arc: 'arc from here',
  envelope: 'reach from here',
  survey: 'where it gets to',
  velocity: 'velocity',
  phases: 'phases',
} as const;
export type Overlay = keyof typeof OVERLAYS;

/** What is played: a level, a character in it, its past, and ghosts on the same keys. It knows no page but for the drivers. */
export class Session {
  stage!: Stage;
  hero!: Character;
  steps!: Stepper;
  private ways!: Rewind;
  /** What was played last. */
  past!: Past;
  private recording: { rows: readonly InputRow[]; end(): void } | undefined;
  rate = 120;
  ghosts: Ghost[] = [];
  private trails: Trails | undefined;
  /** Where in the take, or in the past, somebody looks; undefined for now. */
  looking: number | undefined;
  readonly overlays = new Set<Overlay>(['hitbox']);
  /** The clock of ghosts that go round. */
  private began = 0;
  private tuned: Motion | undefined;
  readonly keys: KeyboardDriver;
  private driver: Driver;
  private replaying: { end: number } | undefined;

  constructor(
    public level: CompiledLevel,
    public document: TuningDocument,
    target: Window,
    private readonly own = new OwnAbilities(),
  ) {
    this.keys = keyboard(target);
    this.driver = merged(this.keys, gamepad(target));
    this.restart();
  }

  /** Another driver plays it, too. */
  join(driver: Driver): void {
    this.driver = merged(this.driver, driver);
    this.hero.drive(this.kept(this.driver));
  }

  /** From the beginning of the level. */
  restart(rate = this.rate, driver: Driver = this.driver): void {
    const stage = openStage(this.level);
    stage.add(this.document.motion, {
      at: startIn(this.level),
      driver: this.kept(driver),
      opposed: OPPOSED,
      name: 'hero',
      abilities: this.own.list,
    });
    this.enter(stage, rate);
  }

  /** Goes on with a stage, from now on. */
  private enter(stage: Stage, rate: number): void {
    const { paused, speed } = this.steps ?? { paused: false, speed: 1 };
    this.rate = rate;
    this.stage = stage;
    this.hero = stage.characters[0]!;
    this.tuned = this.document.motion;
    this.steps = stepper({ rate });
    this.steps.paused = paused;
    this.steps.speed = speed;
    this.ways = rewind(stage, { seconds: PAST, rate });
    this.past = new Past(stage, this.hero, rate, this.own.list);
    this.recording = undefined;
    this.looking = undefined;
    this.replaying = undefined;
    this.ways.keep();
  }

  get samples(): readonly Sample[] {
    return this.past.samples;
  }

  /** What a driver wants is kept as well, to be played again. */
  private kept(driver: Driver): Driver {
    return {
      read: (into: Intents, who: Character) => driver.read(into, who),
      taken: ({ count, time, action, value }: Intents) => {
        for (let i = 0; i < count; i++)
          this.past.rows.push({ time: time[i]!, action: actionName(action[i]!), value: value[i]! });
      },
      fresh: () => driver.fresh?.(),
      ...(driver.isLive ? { isLive: true } : {}),
      ...(driver.hasCalls ? { hasCalls: true } : {}),
    };
  }

  private readonly tick = (dt: number, at?: number): void => {
    // A replay ends with its take, however many ticks a frame has room for.
    if (this.replaying && this.stage.time >= this.replaying.end - 1e-9) return;
    this.stage.tick(dt, at);
    this.ways.keep();
    this.past.sample();
  };

  /** A frame: whatever ticks are due. @param now s, on the clock of the drivers */
  frame(now: number): void {
    this.trails?.frame();
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
    const gone = this.ways.back(seconds);
    this.past.gone();
    this.steps.paused = true;
    return gone;
  }

  /**
   * Goes back so many seconds, and takes what was played since as the take: its keys are played again by every ghost, and by the present tuning.
   */
  takeLast(seconds: number): Take | undefined {
    if (this.recording) this.endRecording();
    this.replaying = undefined;
    const to = this.stage.time;
    const { rows, samples, pieces, events } = this.past;
    const [first] = samples;
    const way = { trail: samples.slice(), pieces, events };
    // Nobody plays it meanwhile: what was held at that moment is held when the keys are played again.
    this.hero.drive(undefined);
    const gone = this.back(Math.min(seconds, to));
    const origin = this.stage.fork();
    const { facing, opposed } = this.hero;
    this.hero.oppose(OPPOSED);
    this.hero.drive(this.kept(this.driver));
    const from = this.stage.time;
    if (gone <= 0) return undefined;
    const keys = rows.filter(({ time }) => time >= from - 1e-9);
    // From the beginning it is a recording like any other: it says how it began.
    const whole = from === 0;
    const start = { rate: this.rate, spawn: [first!.x, first!.y], facing, opposed } as const;
    if (whole) keys.unshift({ time: 0, action: 'host', value: 0, call: start });
    this.trails = new Trails({ from, to, rate: this.rate, origin, rows: keys, whole }, this.own.list);
    this.ghosts = [];
    this.pin({ trail: way.trail.filter(({ time }) => time >= from - 1e-9), pieces: within(way.pieces, from, to), events: way.events.filter(({ time }) => time >= from) });
    this.retake(true);
    return this.take;
  } // prettier-ignore

  /** The present tuning stays as a ghost beside what it becomes. @param way the way that it went, where that is known */
  pin(way?: Way, name = `${short(this.document.name)} ${this.ghosts.length + 1}`, motion = this.document.motion): boolean {
    if (!this.take || this.ghosts.length >= MOST_GHOSTS) return false;
    this.ghosts.push({ name, motion, ...(way ?? this.trails!.wayOf(motion)) });
    this.began = NaN;
    return true;
  } // prettier-ignore

  get take(): Take | undefined {
    return this.trails?.take;
  }
  /** The present tuning on the keys of the take. */
  get live(): Ghost | undefined {
    return this.trails?.live;
  }

  /** The live ghost has the present tuning. */
  private retake(atOnce: boolean): void {
    this.trails?.follow(short(this.document.name), this.document.motion, atOnce);
  }

  /** The character plays the take itself, with the present tuning, and pauses at its end. */
  replay(): void {
    if (this.recording) this.endRecording();
    const { take } = this;
    if (!take) return;
    const { past } = this;
    this.enter(take.origin.fork({ hero: this.kept(script(keysOf(take))) }), take.rate);
    this.past.follows(past, take.from);
    // As a ghost does: the state of that moment takes the present tuning.
    this.hero.retune(this.document.tuning);
    this.tuned = this.document.motion;
    this.replaying = { end: take.to };
    this.steps.paused = false;
    this.looking = undefined;
  }

  clearGhosts(): void {
    this.ghosts = [];
    this.trails = undefined;
    this.looking = undefined;
  }

  /**
   * Another level, begun anew. A take from the start is played in it by every ghost.
   * @throws RangeError where the level has no place for how the take began; it is gone then
   */
  changeLevel(level: CompiledLevel): void {
    const { take, ghosts } = this;
    this.level = level;
    this.restart();
    this.clearGhosts();
    if (take?.whole) this.takeRows(take.rows, take.rate, take.to, ghosts);
  }

  /** The level with a piece moved: the character stays where it is, out of what is solid there, and a take from the start is played anew. */
  moveLevel(level: CompiledLevel): void {
    const { take, ghosts, stage } = this;
    const changed = openStage(level);
    changed.load(stage.save(), { hero: this.kept(this.driver) }, { abilities: this.own.list, changed: 'place' });
    this.level = level;
    this.enter(changed, this.rate);
    this.hero.oppose(OPPOSED);
    this.clearGhosts();
    if (take?.whole) this.takeRows(take.rows, take.rate, take.to, ghosts);
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

  /** An input from a file, or a recording, as the take: from the beginning of the level. @param ghosts who plays it besides the present tuning */
  takeRows(rows: readonly InputRow[], rate: number, seconds: number, ghosts?: readonly Ghost[]): Take {
    const origin = openStage(this.level);
    const { spawn, facing, opposed = 'still' } = startOf(rows) ?? {};
    origin.add(this.document.motion, { opposed, name: 'hero', abilities: this.own.list, at: spawn ?? startIn(this.level), ...(facing === undefined ? {} : { facing }) });
    const trails = (this.trails = new Trails({ from: 0, to: seconds, rate, origin, rows, whole: true }, this.own.list));
    this.ghosts = (ghosts ?? []).map(({ name, motion }) => ({ name, motion, ...trails.wayOf(motion) }));
    if (!ghosts) this.pin();
    this.retake(true);
    return trails.take;
  } // prettier-ignore

  /**
   * The take with other keys: every ghost plays them.
   * @param isMoving whether they are still being moved: ghosts of a long take then follow when they are not
   */
  rekey(rows: readonly InputRow[], isMoving: boolean): void {
    const { take } = this;
    if (!take) return;
    const trails = (this.trails = new Trails({ ...take, rows }, this.own.list));
    this.retake(true);
    if (isMoving && (take.to - take.from) * take.rate * this.ghosts.length > AT_ONCE) return;
    this.ghosts = this.ghosts.map(({ name, motion }) => ({ name, motion, ...trails.wayOf(motion) }));
  } // prettier-ignore

  /** Where the take begins, where it begins with the level. */
  get takeAt(): string | readonly [number, number] {
    return startOf(this.take?.rows ?? [])?.spawn ?? startIn(this.level);
  }

  /** The trace of the take with the present tuning. */
  traceOfTake(): ReturnType<typeof play> | undefined {
    const { take } = this;
    if (!take?.whole) return undefined;
    return play({
      level: this.level,
      tuning: this.document.motion,
      input: take.rows,
      at: this.takeAt,
      abilities: this.own.list,
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
    this.retake(false);
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

/** Where play begins: a level of a game may have no `start`, being come to through doors. */
function startIn({ spawns, extent }: CompiledLevel): string | [number, number] {
  return spawns.has('start') ? 'start' : ([...spawns.keys()][0] ?? [extent.x + extent.width / 2, extent.y + extent.height / 2]);
} // prettier-ignore

/** In the Loft the direction pressed latest counts. */
const OPPOSED: Opposed = 'latest';

export const short = (file: string): string => file.replace(/\.tuning\.(yaml|json)$/, '');

/** The value of a key that is in force. */
export const valueIn = (motion: Motion, key: string): unknown => valueOfKey(motion.full, key);
