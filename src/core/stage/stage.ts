import { Body, NOW, TICK, TICK_LENGTH, TICK_START } from '../character/body.js';
import { Character } from '../character/character.js';
import { playTick } from '../character/part-tick.js';
import { floorUnder, stand } from '../character/sense.js';
import {
  CORNERED,
  EDGE,
  FACING,
  FALL,
  FALLING,
  FIRST,
  HIGHEST,
  LANDED,
  LIPPED,
  PHASE,
  POSE,
  STATE_LENGTH,
  SUPPORT,
  GROUND,
  WALL,
  WANT,
  WAS_X,
  WAS_Y,
  X,
  Y,
} from '../character/state.js';
import type { Driver, Opposed } from '../input/intents.js';
import { overlap } from '../sweep/touch.js';
import { compileLevel, type CompiledLevel } from '../terrain/compile.js';
import { LevelError, type Level } from '../terrain/level.js';
import { CEILING, FLOOR, SLANTED } from '../terrain/terrain.js';
import { EventQueue, type StageEvent } from '../trace/events.js';
import { compileTuning, type Motion } from '../tuning/motion.js';
import type { Tuning } from '../tuning/tuning.js';

export interface AddOptions {
  /** A spawn's name, or the middle of the feet in the level's own axes; the spawn `start` unless given. */
  at?: string | readonly [number, number];
  /** −1 or 1; the spawn's unless given. */
  facing?: number;
  /** What events call it; `hero`, `hero2`, … unless given. */
  name?: string;
  driver?: Driver;
  /** Both directions held: stand still (unless given), or go the one pressed latest or first. */
  opposed?: Opposed;
}

/** A running level: it owns time, terrain and characters. `tick` is the only way forward. */
export class Stage {
  readonly level: CompiledLevel;
  readonly characters: Character[] = [];
  private readonly bodies: Body[] = [];
  private readonly queue = new EventQueue();
  private listeners: readonly ((event: Readonly<StageEvent>) => void)[] = [];
  private readonly clock = new Float64Array(CLOCK_LENGTH);

  /** @internal */
  constructor(level: CompiledLevel) {
    this.level = level;
  }

  /** Stage time, s: n / rate after n ticks of 1 / rate. */
  get time(): number {
    return this.clock[TIME]!;
  }

  /** Ticks since the stage began. */
  get ticks(): number {
    return this.clock[TICKS]!;
  }

  /**
   * Puts a character on the stage.
   * @throws TuningError where the tuning is wrong; RangeError where an option is: no such spawn, inside a solid, a name taken
   */
  add(tuning: Tuning | Motion, options: AddOptions = {}): Character {
    const motion = 'launch' in tuning ? tuning : compileTuning(tuning);
    const spot = this.place(options.at ?? 'start');
    const facing = options.facing ?? spot.facing;
    if (facing !== 1 && facing !== -1) throw new RangeError(`facing is ${facing}; it must be 1 or -1`);
    const count = this.bodies.length;
    const name = options.name ?? (count === 0 ? 'hero' : `hero${count + 1}`);
    if (this.bodies.some((other) => other.name === name))
      throw new RangeError(`there is a character named ${name} already`);
    const ySign = this.level.yPoints === 'up' ? 1 : -1;
    const body = new Body(name, motion, this.level.terrain, ySign, options.opposed ?? 'still', this.queue);
    const { s } = body;
    s[X] = s[WAS_X] = spot.x + 0;
    s[Y] = s[WAS_Y] = s[HIGHEST] = spot.y * ySign + 0;
    s[FACING] = facing;
    s[FIRST] = facing;
    s[EDGE] = -1;
    s[WALL] = -1;
    s[LANDED] = -Infinity;
    s[CORNERED] = s[LIPPED] = -Infinity;
    body.clock[NOW] = this.time;
    const floor = floorUnder(body, -1);
    refuseInside(
      body,
      typeof options.at === 'string' || options.at === undefined ? `spawn ${options.at ?? 'start'}` : 'at',
    );
    if (floor >= 0) {
      stand(body, floor);
      s[WAS_Y] = s[Y]!;
    }
    if (s[SUPPORT] !== GROUND) {
      s[PHASE] = FALL;
      s[POSE] = s[WANT] = FALLING;
    }
    body.driver = options.driver;
    const character = new Character(body);
    this.bodies.push(body);
    this.characters.push(character);
    return character;
  }

  private place(at: string | readonly [number, number]): { x: number; y: number; facing: number } {
    if (typeof at !== 'string') {
      for (const value of at)
        if (!(Math.abs(value) <= 67108864))
          throw new RangeError(`at is ${at.join(', ')}; it must be two numbers within ±67108864`);
      return { x: at[0], y: at[1], facing: 1 };
    }
    const spawn = this.level.spawns.get(at);
    if (!spawn)
      throw new RangeError(
        `there is no spawn ${at}; the level has ${[...this.level.spawns.keys()].join(', ') || 'none'}`,
      );
    return spawn;
  }

  /** Calls `listener` for every event of every character, in order, when the tick has ended. */
  listen(listener: (event: Readonly<StageEvent>) => void): () => void {
    this.listeners = [...this.listeners, listener];
    return () => {
      this.listeners = this.listeners.filter((kept) => kept !== listener);
    };
  }

  /**
   * Moves everything on by one tick.
   * @param dt length of the tick, s; above 0 and at most 10
   * @param at when the tick starts on the drivers' clock, s; the stage's own clock unless given
   * @throws RangeError where dt is out of range
   */
  tick(dt: number, at?: number): void {
    if (!(dt > 0 && dt <= 10)) throw new RangeError(`dt is ${dt}; it must be above 0 and at most 10 seconds`);
    const c = this.clock;
    if (dt !== c[LENGTH]) {
      c[BASE] = c[TIME]!;
      c[COUNT] = 0;
      c[LENGTH] = dt;
      const rate = Math.floor(1 / dt + 0.5);
      c[RATE] = Math.abs(rate * dt - 1) < 1e-12 ? rate : 0;
    }
    this.queue.count = 0;
    for (let i = 0; i < this.bodies.length; i++) {
      const body = this.bodies[i]!;
      body.clock[TICK] = c[TICKS]!;
      body.clock[TICK_START] = c[TIME]!;
      body.clock[TICK_LENGTH] = dt;
      // Two stores: one of either would be boxed.
      if (at === undefined) body.intents.span[0] = c[TIME]!;
      else body.intents.span[0] = at;
      readDriver(body);
      playTick(body);
    }
    c[TICKS]!++;
    c[COUNT]!++;
    c[TIME] = c[BASE]! + (c[RATE]! > 0 ? c[COUNT]! / c[RATE]! : c[COUNT]! * c[LENGTH]!);
    this.deliver();
  }

  private deliver(): void {
    const { queue, listeners } = this;
    if (queue.count === 0) return;
    for (let i = 0; i < queue.count; i++) {
      const event = queue.at(i);
      for (let k = 0; k < listeners.length; k++) listeners[k]!(event);
      for (let k = 0; k < this.characters.length; k++) {
        const character = this.characters[k]!;
        if (character.name === event.who) character.deliver(event);
      }
    }
  }

  /**
   * Everything that is not constant, as numbers. Drivers keep their own state.
   * @param into an array of an earlier snapshot of this stage, to be used again
   */
  snapshot(into?: Float64Array): Float64Array {
    const length = this.clock.length + this.bodies.length * STATE_LENGTH;
    if (into && into.length !== length)
      throw new RangeError(`a snapshot of this stage has ${length} numbers, not ${into.length}`);
    const copy = into ?? new Float64Array(length);
    copy.set(this.clock);
    let at = this.clock.length;
    for (let i = 0; i < this.bodies.length; i++) {
      copy.set(this.bodies[i]!.s, at);
      at += STATE_LENGTH;
    }
    return copy;
  }

  /**
   * Goes back (or forward) to a snapshot of this stage.
   * @throws RangeError where it is of a stage with other characters
   */
  restore(snapshot: Float64Array): void {
    const length = this.clock.length + this.bodies.length * STATE_LENGTH;
    if (snapshot.length !== length)
      throw new RangeError(`a snapshot of this stage has ${length} numbers, not ${snapshot.length}`);
    for (let i = 0; i < this.clock.length; i++) this.clock[i] = snapshot[i]!;
    let at = this.clock.length;
    for (let i = 0; i < this.bodies.length; i++) {
      const body = this.bodies[i]!;
      for (let k = 0; k < STATE_LENGTH; k++) body.s[k] = snapshot[at++]!;
      body.clock[NOW] = this.time;
    }
  }
}

/** The stage's clock: its time; ticks since it began; ticks since their length last changed, the time at which it did. */
const TIME = 0;
const TICKS = 1;
const COUNT = 2;
const BASE = 3;
/** The length of a tick, s, and the whole rate it belongs to, per second; 0 where there is none. */
const LENGTH = 4;
const RATE = 5;
const CLOCK_LENGTH = 6;

/**
 * Opens a level to run in.
 * @throws LevelError where the level is wrong, or has slanted edges: those can be probed, but not yet run on
 */
export function openStage(level: Level | CompiledLevel): Stage {
  const compiled = 'terrain' in level ? level : compileLevel(level);
  if (compiled.terrain.kind.includes(SLANTED))
    throw new LevelError('outlines', 'slanted edges cannot be run on yet in this version');
  return new Stage(compiled);
}

/** Asks the driver, and turns its moments into moments of this tick. */
function readDriver({ driver, intents, clock }: Body): void {
  intents.count = 0;
  if (driver === undefined) return;
  const from = intents.span[0]!;
  const length = clock[TICK_LENGTH]!;
  intents.span[1] = from + length;
  driver.read(intents);
  let latest = 0;
  for (let i = 0; i < intents.count; i++) {
    const moment = intents.time[i]! - from;
    // Late ones act at the tick's start; none before the one in front of it.
    latest = moment > latest ? (moment < length ? moment : length) : latest;
    intents.time[i] = latest;
  }
}

/** A body may not start inside a solid: no edge passes through it, and what is above it is not the top of something. */
function refuseInside({ s, motion, near }: Body, where: string): void {
  const { half, height, touch } = motion;
  const x = s[X]!;
  const y = s[Y]!;
  const { terrain } = near;
  const { x1, y1, x2, y2, kind } = terrain;
  let inside = false;
  let above = -1;
  const found = terrain.index?.search(x - half, y, x + half, Infinity) ?? [];
  for (let e = terrain.boundsFrom; e < terrain.count; e++) found.push(e);
  for (const e of found) {
    const level = kind[e] === FLOOR || kind[e] === CEILING;
    const across = overlap(x - half, x + half, Math.min(x1[e]!, x2[e]!), Math.max(x1[e]!, x2[e]!));
    const up = overlap(y, y + height, Math.min(y1[e]!, y2[e]!), Math.max(y1[e]!, y2[e]!));
    if (level) inside ||= across > touch && y1[e]! > y + touch && y1[e]! < y + height - touch;
    else inside ||= up > touch && x1[e]! > x - half + touch && x1[e]! < x + half - touch;
    // The nearest level edge above the middle of the feet.
    const over =
      level && across > touch && Math.min(x1[e]!, x2[e]!) <= x && Math.max(x1[e]!, x2[e]!) >= x && y1[e]! > y + touch;
    if (over && (above < 0 || y1[e]! < y1[above]!)) above = e;
  }
  if (inside || (above >= 0 && kind[above] === FLOOR)) {
    throw new RangeError(
      `${where}: a body ${motion.width} wide and ${height} high does not fit there without being inside something solid`,
    );
  }
}
