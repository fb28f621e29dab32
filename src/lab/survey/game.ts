import {
  openStage,
  stamp,
  type Ability,
  type AddOptions,
  type Character,
  type CompiledLevel,
  type InputRow,
  type Motion,
  type Opposed,
  type Stage,
  type StageEvent,
  type StageMover,
} from '../../core/index.js';
import type { Host } from '../host.js';
import { placesOf, type Place, type Places } from './places.js';

/** Ticks a second at which is decided; what is played is the same at any rate, since every row has its moment in whole microseconds. */
const RATE = 64;
export const TICK = 1 / RATE;

/** What is held, or let go of, at a moment of stage time, s. */
interface Planned {
  time: number;
  action: string;
  value: number;
}

/** A situation: a state, and how it was come to. */
export interface Node {
  state: Float64Array;
  time: number;
  /** Where it came from, and the rows since then. */
  parent: Node | undefined;
  rows: readonly InputRow[];
  place: Place | undefined;
  /** The feet, in the frame of what holds them up, y up. */
  x: number;
  y: number;
  /** How fast they go across there, units/s. */
  vx: number;
}

/** What happened in the tick just played, as far as a plan may want to know. */
export interface Told {
  event: string;
  time: number;
  side: string;
  by: string;
  place: Place | undefined;
  zone: string;
}

const HEARD = ['takeoff', 'apex', 'touchdown', 'leave', 'bump', 'climbed', 'hang', 'enter', 'crushed', 'out'] as const;

/** One level with one character in it, played from situation to situation. */
export class Game {
  readonly stage: Stage;
  readonly hero: Character;
  readonly places: Places;
  readonly sign: number;
  /** What was told in the tick just played. */
  readonly told: Told[] = [];
  /** Events of the core so far: what was told, and ticks that were played. */
  spent = 0;
  private readonly movers: readonly StageMover[];
  /** Abilities of the game. */
  readonly own: readonly Ability[];
  private plan: Planned[] = [];
  /** Rows since the situation that is played from. */
  rows: InputRow[] = [];
  private before: Float64Array;

  constructor(
    readonly level: CompiledLevel,
    readonly motion: Motion,
    options: {
      at?: string | readonly [number, number];
      abilities?: readonly Ability[];
      opposed?: Opposed;
      host?: Host | undefined;
    },
  ) {
    this.sign = level.yPoints === 'up' ? 1 : -1;
    this.stage = openStage(level);
    this.places = placesOf(level, motion);
    const driver = {
      read: (into: { until: number; push(time: number, action: string, value: number): void }) => this.hand(into),
    };
    const { host, ...given } = options;
    this.hero = this.stage.add(motion, { ...(given as AddOptions), driver });
    host?.(this.stage, this.hero);
    for (const event of HEARD)
      this.hero.on(event, ({ time, side, by, zone }: Readonly<StageEvent>) => {
        const place =
          event === 'touchdown' || event === 'climbed' || event === 'hang' ? this.places.under(this.hero) : undefined;
        this.told.push({ event, time, side, by, place, zone });
      });
    this.movers = this.stage.movers;
    this.own = options.abilities ?? [];
    this.before = this.stage.snapshot();
  }

  private hand(into: { until: number; push(time: number, action: string, value: number): void }): void {
    const { plan, rows } = this;
    while (plan.length > 0 && plan[0]!.time < into.until) {
      const { time, action, value } = plan.shift()!;
      into.push(time, action, value);
      rows.push({ time, action, value });
    }
  }

  /** The present situation, as one that follows from another. */
  node(parent: Node | undefined): Node {
    const { hero, stage } = this;
    const [x, y] = hero.aboard;
    const place = this.places.under(hero);
    return {
      state: stage.snapshot(),
      time: stage.time,
      parent,
      rows: this.rows.slice(),
      place,
      x,
      y: y * this.sign,
      vx: hero.vx - this.speedOf(place?.set ?? 0)[0],
    };
  }

  /** Goes back to a situation; nothing is planned. */
  from(node: Node): void {
    this.stage.restore(node.state);
    this.plan = [];
    this.rows = [];
    this.told.length = 0;
  }

  /** Holds an action from a moment on, or from now on. */
  hold(action: string, value: number, time = this.stage.time): void {
    const { plan } = this;
    const moment = Math.max(stamp(time), this.stage.time);
    let i = plan.length;
    while (i > 0 && plan[i - 1]!.time > moment) i--;
    plan.splice(i, 0, { time: moment, action, value });
  }

  /** Plans rows. */
  play(rows: readonly InputRow[]): void {
    this.plan = rows.map(({ time, action, value }) => ({ time, action, value }));
  }

  /** Holds an action from now on, unless it is held like that. */
  want(action: string, value: number): void {
    let held = this.hero.held(action);
    for (const one of this.plan) if (one.action === action) held = one.value;
    if (held !== value) this.hold(action, value);
  }

  /** What is planned is not done; what is held stays held. */
  forget(action?: string): void {
    this.plan = action === undefined ? [] : this.plan.filter((one) => one.action !== action);
  }

  /** Plays one tick, or several as one. @param again whether something in it asks for a row within it: it is played again then, with that row */
  tick(again?: (told: Told) => boolean, ticks = 1): void {
    const { stage, told } = this;
    let done = 0;
    for (;;) {
      const rows = this.rows.length;
      const planned = again === undefined ? [] : this.plan.slice();
      if (again !== undefined) stage.snapshot(this.before);
      told.length = 0;
      stage.tick(ticks * TICK);
      this.spent += 1 + told.length;
      if (again === undefined) return;
      const end = stage.time;
      const first = told.findIndex((one, i) => i >= done && again(one));
      if (first < 0 || !this.plan.some(({ time }) => time < end)) return;
      done = first + 1;
      // Rows that were asked for within the tick just played belong to it.
      const asked = this.plan.filter(({ time }) => time < end);
      const later = this.plan.filter(({ time }) => time >= end);
      stage.restore(this.before);
      this.rows.length = rows;
      this.plan = [];
      for (const one of planned) this.hold(one.action, one.value, one.time);
      for (const one of [...asked, ...later]) if (!planned.includes(one)) this.hold(one.action, one.value, one.time);
    }
  }

  /** Whether it is at rest on a place; on a belt where it goes along evenly. @param before how fast it was a tick ago */
  rests(here: Place | undefined, before: number): boolean {
    const { vx } = this.hero;
    return here !== undefined && (Math.abs(vx - this.speedOf(here.set)[0]) < 1e-9 || (here.set === 0 && vx === before));
  }

  /** The feet, y up, in the level. */
  get y(): number {
    return this.hero.y * this.sign;
  }
  get vy(): number {
    return this.hero.vy * this.sign;
  }

  /** How far a set of edges is from where it lies: offset, y up. */
  offset(set: number): [number, number] {
    const mover = this.movers[set - 1];
    return mover === undefined ? [0, 0] : [mover.x, mover.y * this.sign];
  }
  /** How fast it goes, y up. */
  speedOf(set: number): [number, number] {
    const mover = this.movers[set - 1];
    return mover === undefined ? [0, 0] : [mover.vx, mover.vy * this.sign];
  }
}

/** What follows from something else, by rows. */
interface Following {
  readonly parent: Following | undefined;
  readonly rows: readonly InputRow[];
}

/** All rows from the beginning. */
export function rowsTo(node: Following): InputRow[] {
  const parts: (readonly InputRow[])[] = [];
  for (let one: Following | undefined = node; one !== undefined; one = one.parent) parts.push(one.rows);
  return parts.reverse().flat();
}
