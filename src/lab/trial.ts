import {
  compileTuning,
  openStage,
  script,
  startOf,
  type Ability,
  type Character,
  type InputRow,
  type Motion,
  type OpenLevel,
  type Opposed,
  type Stage,
  type Tuning,
} from '../core/index.js';
import type { Host } from './host.js';
import { withoutMissing } from './own.js';
import { placesOf, type Places } from './survey/places.js';

/** What is asked of an input. */
export interface MarginOptions {
  level: OpenLevel;
  tuning: Tuning | Motion;
  input: readonly InputRow[];
  /** Ticks per second, where an ability of the game goes by them; the recording's, or 60, unless given. No other answer depends on it. */
  rate?: number;
  /** A spawn's name, or the middle of the feet; the recording's, or `start`, unless given. */
  at?: string | readonly [number, number];
  opposed?: Opposed;
  abilities?: readonly Ability[];
  /** What the game adds. */
  host?: Host;
}

/** Where rows begin that are played on from somewhere: a snapshot of the stage and its moment; the place that every press leads to; and from when on presses are of interest. */
export interface Leg {
  state: Float64Array;
  time: number;
  to: number;
  since: number;
}

/** How much later than it did it may land, s. */
const LATE = 1.5;
/** Ticks a second, since how many there are changes no answer; and a snapshot after so many. */
const SLOW = 16;
const KEPT = 2;

/** A press by its rows. */
export interface Press {
  action: string;
  at: number;
  on: number;
  off: number | undefined;
}

/** Help that a press may have had, each by the window that it adds, s. */
export type Grace = 'coyote' | 'buffer' | 'corner' | 'lip';

/** Where a press leads, and whether it still does when it comes later, its release with it and then by itself (s, less for sooner). */
export interface Aim {
  at: number;
  until: number | undefined;
  lands: { time: number; x: number; y: number };
  reaches(motion: Motion, by: number, released: number): boolean;
  /** Whether there was such help on any of the ways that led there since it was last asked for: without, they would have been the same. */
  helped(grace: Grace): boolean;
}

/** A landing of the input as it is: the ground, and the one before it. */
interface Landing {
  time: number;
  x: number;
  y: number;
  place: number;
}

/** A moment from which an input can be played on: with the tuning, and with others. */
interface Kept {
  time: number;
  state: Float64Array;
  others: Map<Motion, Float64Array>;
}

/** An input that is played again and again, from the moment at which something in it is another. */
export class Trial {
  private readonly places: Places;
  /** A snapshot now and then, to begin from. */
  private readonly kept: Kept[] = [];
  private readonly landings: Landing[] = [];
  /** Takeoffs by presses that had waited: when, and since when such a press may have waited. */
  private readonly buffered: { time: number; pressed: number }[] = [];
  /** Where it landed in the last tick, in order. */
  private readonly landed: Landing[] = [];

  /** Help that there was since the last play began, and since it was last asked for. */
  private readonly helps = new Set<Grace>();
  private readonly helped = new Set<Grace>();

  /** Its presses, in their order. */
  readonly presses: readonly Press[];

  constructor(
    private readonly stage: Stage,
    private readonly hero: Character,
    readonly motion: Motion,
    private readonly input: readonly InputRow[],
    private readonly rate: number,
    private readonly leg: Leg | undefined,
  ) {
    this.presses = pressesOf(input);
    this.places = placesOf(stage.level, motion);
    // Where hands hold on it has come to, if that is where it should.
    for (const event of leg ? ['touchdown', 'climbed', 'hang'] : ['touchdown', 'climbed'])
      hero.on(
        event,
        ({ time, x, y }) => void this.landed.push({ time, x, y, place: this.places.under(hero)?.id ?? -1 }),
      );
    for (const help of ['corner', 'lip'] as const) hero.on(help, () => void this.helps.add(help));
    hero.on('dropThrough', () => void this.helps.add('buffer'));
    hero.on('takeoff', ({ by, buffered }) => {
      // What is wound up may have begun with either.
      if (by === 'coyote' || by === 'charge') this.helps.add('coyote');
      if (buffered || by === 'charge') this.helps.add('buffer');
    });
    const stop = hero.on(
      'takeoff',
      ({ time, buffered }) => void (buffered && this.buffered.push({ time, pressed: time - motion.full.grace.buffer })),
    );
    const last = input.reduce((latest, { time }) => Math.max(latest, time), 0);
    hero.drive(script(input));
    if (leg) stage.restore(leg.state);
    const ticks = Math.ceil((last + 2 - stage.time) * rate);
    for (let i = 0; i <= ticks; i++) {
      if (i % KEPT === 0) this.kept.push({ time: stage.time, state: stage.snapshot(), others: new Map() });
      this.tick();
      this.landings.push(...this.landed);
      // Where it begins it has not landed, and stands all the same.
      if (i === 0 && this.landed.length === 0)
        this.landings.push({
          time: -1,
          x: hero.x,
          y: hero.y,
          place: this.places.under(hero)?.id ?? -1,
        });
    }
    stop();
  }

  private tick(): void {
    this.landed.length = 0;
    this.stage.tick(1 / this.rate);
  }

  /** Where a press leads, and whether it still does when it is moved; nothing where it leads to no landing. */
  aimOf({ on, off }: Press): Aim | undefined {
    const { input } = this;
    const at = input[on]!.time;
    const until = off === undefined ? undefined : input[off]!.time;
    // A press that waits for the ground leads to what is landed on after its takeoff.
    const takeoff = this.buffered.find(({ time, pressed }) => pressed <= at + 1e-6 && at < time) ?? { time: at };
    const to = this.leg?.to;
    const lands = this.landings.find(({ time, place }) => time > takeoff.time && (to === undefined || place === to));
    if (lands === undefined) return undefined;
    const from = [at, takeoff.time].map((moment) => this.landings.findLast(({ time }) => time <= moment)?.place);
    // On the way to a place it may stand where it stood.
    if (to !== undefined) for (const { time, place } of this.landings) if (time < lands.time) from.push(place);
    const moved = (by: number, released: number): InputRow[] => input.map((row, i) => (i === on ? { ...row, time: at + by } : i === off ? { ...row, time: until! + by + released } : row));
    this.helped.clear();
    return {
      at,
      until,
      lands,
      reaches: (motion, by, released) => this.reaches(moved(by, released), Math.min(at, at + by), motion, lands, from),
      helped: (grace) => this.helped.has(grace),
    };
  } // prettier-ignore

  /** A state from which to begin, with another tuning. */
  private stateWith(begin: Kept, motion: Motion): Float64Array {
    if (motion === this.motion) return begin.state;
    let state = begin.others.get(motion);
    if (state === undefined) {
      this.stage.restore(begin.state);
      this.hero.retune(motion.full);
      begin.others.set(motion, (state = this.stage.snapshot()));
    }
    return state;
  }

  /** Whether rows that are others from a moment on still lead to a landing, with nothing else stood on before. */
  private reaches(rows: readonly InputRow[], since: number, motion: Motion, { place, time }: Landing, from: readonly (number | undefined)[]): boolean {
    const { stage, hero, kept } = this;
    const begin = kept.findLast((one) => one.time < since - 1e-9) ?? kept[0]!;
    const state = this.stateWith(begin, motion);
    hero.drive(script(rows));
    stage.restore(state);
    const until = Math.max(time, since) + LATE;
    this.helps.clear();
    while (stage.time < until) {
      this.tick();
      for (const landed of this.landed) {
        if (landed.time <= since) continue;
        if (landed.place === place) {
          for (const help of this.helps) this.helped.add(help);
          return true;
        }
        if (!from.includes(landed.place)) return false;
      }
    }
    return false;
  } // prettier-ignore
}

function pressesOf(input: readonly InputRow[]): Press[] {
  const found: Press[] = [];
  input.forEach(({ time: at, action, value }, on) => {
    if (action === 'host' || action === 'move' || !(value > 0)) return;
    const before = input.slice(0, on).findLast((row) => row.action === action);
    if (before !== undefined && before.value > 0) return;
    const next = input.findIndex((row, i) => i > on && row.action === action && row.value === 0);
    found.push({ action, at, on, off: next < 0 ? undefined : next });
  });
  return found;
}

/**
 * An input, made ready to be played with something in it moved.
 * @param leg where it begins, if not at the beginning, and where to; each press leads to the next that is landed on unless given
 * @throws TuningError, LevelError; RangeError where the input is none, or the rate is out of range
 */
export function trialOf(
  { level, tuning, input: rows, abilities = [], host, ...given }: MarginOptions,
  leg?: Leg,
): Trial {
  const input = rows.slice().sort((one, other) => one.time - other.time);
  const start = startOf(input);
  const { rate = start?.rate ?? 60, at = start?.spawn, opposed = start?.opposed ?? 'still' } = given;
  if (!(rate >= 1 && rate <= 10000)) throw new RangeError(`rate is ${rate}; it must be 1 to 10000 ticks per second`);
  const motion = withoutMissing('launch' in tuning ? tuning : compileTuning(tuning), abilities);
  const stage = openStage(level);
  const hero = stage.add(motion, {
    abilities,
    opposed,
    ...(at === undefined ? {} : { at }),
    ...(start?.facing === undefined ? {} : { facing: start.facing }),
  });
  host?.(stage, hero);
  return new Trial(stage, hero, motion, input, abilities.some(({ spec }) => spec.every === 'tick') ? rate : SLOW, leg);
}
