import {
  compileTuning,
  openStage,
  script,
  startOf,
  type Ability,
  type Character,
  type CompiledLevel,
  type InputRow,
  type Level,
  type Motion,
  type Opposed,
  type Stage,
  type Tuning,
  type WrittenLevel,
} from '../core/index.js';
import { withoutMissing } from './own.js';
import { Places } from './places.js';

export interface MarginOptions {
  level: Level | WrittenLevel | CompiledLevel;
  tuning: Tuning | Motion;
  input: readonly InputRow[];
  /** Ticks per second, where an ability of the game goes by them; the recording's, or 60, unless given. No other answer depends on it. */
  rate?: number;
  /** A spawn's name, or the middle of the feet; the recording's, or `start`, unless given. */
  at?: string | readonly [number, number];
  opposed?: Opposed;
  abilities?: readonly Ability[];
}

/** Help that a press may have had, each by the window that it adds, s. */
export type Grace = 'coyote' | 'buffer' | 'corner' | 'lip';

/** How tight a press is. Moments of stage time, s. */
export interface PressMargin {
  action: string;
  /** When it is pressed, and let go of; null where it is not. */
  at: number;
  until: number | null;
  /** Where it leads: the next ground that is landed on after it, and when. */
  lands: { x: number; y: number; time: number };
  /** Within which the press may be moved, its release with it, so that the same ground is landed on; null where there is no end. */
  press: { earliest: number | null; latest: number | null; window: number | null };
  /** How long it may be held. */
  hold: { least: number | null; most: number | null };
  /** What each grace window adds to the press window, s; null where the window has no end. */
  adds: Readonly<Record<Grace, number | null>>;
}

/** Outward in steps of so much, s, to the first failure; then halved to so little; and no farther than that. */
const STEP = 0.002;
const FINE = 0.0001;
const FARTHEST = 1;
/** How much later than it did it may land, s. */
const LATE = 1.5;
/** Ticks a second, since how many there are changes no answer; and a snapshot after so many. */
const SLOW = 16;
const KEPT = 2;
/** Holds that are looked at for each moment of a press, evenly. */
const HOLDS = 40;

/**
 * How tight the presses of an input are: by how much each may come earlier or later, be held shorter or longer, and still lead to the same ground, without any other being
 * stood on in between. Each is moved by itself and played by the core; the window is the connected one around it.
 *
 * A press that leads to no other ground than that from which it was made has no ends. Directions and what is held through are presses like any other.
 * @throws TuningError, LevelError; RangeError where the input has no press that lands anywhere, or is no input
 */
export function margins(options: MarginOptions): PressMargin[] {
  const trial = trialOf(options);
  return pressesOf(options.input).flatMap((press) => trial.marginOf(press) ?? []);
}

/** Press against hold: which of both together still land where the input does. */
export interface PressMap {
  action: string;
  /** Which of the margins it is of, from 0. */
  index: number;
  margin: PressMargin;
  /** What each axis spans: by how much the press comes later, and how long it is held, s. */
  by: readonly [number, number];
  held: readonly [number, number];
  /** For each of some moments of the press, evenly across `by`: how long it may be held, from and to, s; there may be islands. */
  columns: readonly { by: number; spans: readonly (readonly [number, number])[] }[];
}

/** What a map of a press takes, beside the input. */
export interface PressMapOptions extends MarginOptions {
  /** Which of the presses that `margins` gives, from 0; the one with the narrowest window unless given. */
  index?: number;
  /** So many moments of the press, 2 to 1000; 96 unless given. */
  columns?: number;
}

/**
 * How a press and its hold go together: for each moment of the press holds in even steps, each played by the core, and their ends halved to a millisecond.
 * @throws as `margins`; RangeError where there is no such press, it is never let go of, or `columns` is out of range
 */
export function pressMap({ index, columns = 96, ...options }: PressMapOptions): PressMap {
  if (!(Number.isInteger(columns) && columns >= 2 && columns <= 1000)) throw new RangeError(`columns is ${columns}; it must be 2 to 1000`);
  const trial = trialOf(options);
  const all = pressesOf(options.input).flatMap((press) => {
    const margin = trial.marginOf(press);
    return margin ? [{ press, margin }] : [];
  });
  const narrow = all.map(({ margin: { press, until } }, i) => ({ i, window: until === null ? null : press.window })).filter(({ window }) => window !== null);
  const which = index ?? narrow.sort((one, other) => one.window! - other.window!)[0]?.i;
  if (which === undefined) throw new RangeError('no press of this input has a window and is let go of');
  const found = all[which];
  if (found === undefined) throw new RangeError(`index is ${which}; there are ${all.length} presses that lead to a landing`);
  const { press, margin } = found;
  const { at, until, hold } = margin;
  if (until === null) throw new RangeError(`the press of ${margin.action} at ${at} s is never let go of`);
  const { earliest, latest } = margin.press;
  const [early, late] = [earliest === null ? 0.3 : at - earliest, latest === null ? 0.3 : latest - at];
  const by = [-Math.min(at, 1.25 * early + 0.02), 1.25 * late + 0.02] as const;
  const held = [0, Math.max(1.5 * (until - at), 1.5 * (hold.least ?? 0), 0.2)] as const;
  return { action: margin.action, index: which, margin, by, held, columns: trial.mapOf(press, by, held, columns) };
} // prettier-ignore

function trialOf({ level, tuning, input, abilities = [], ...given }: MarginOptions): Trial {
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
  return new Trial(stage, hero, motion, input, abilities.some(({ spec }) => spec.every === 'tick') ? rate : SLOW);
}

/** A press by its rows. */
interface Press {
  action: string;
  on: number;
  off: number | undefined;
}

function pressesOf(input: readonly InputRow[]): Press[] {
  const found: Press[] = [];
  input.forEach(({ action, value }, on) => {
    if (action === 'host' || action === 'move' || !(value > 0)) return;
    const before = input.slice(0, on).findLast((row) => row.action === action);
    if (before !== undefined && before.value > 0) return;
    const next = input.findIndex((row, i) => i > on && row.action === action && row.value === 0);
    found.push({ action, on, off: next < 0 ? undefined : next });
  });
  return found;
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
class Trial {
  private readonly places: Places;
  /** A snapshot now and then, to begin from. */
  private readonly kept: Kept[] = [];
  /** The tuning without each kind of help. */
  private readonly without = new Map<Grace, Motion>();
  private readonly landings: Landing[] = [];
  /** Takeoffs by presses that had waited: when, and since when such a press may have waited. */
  private readonly buffered: { time: number; pressed: number }[] = [];
  /** Where it landed in the last tick, in order. */
  private readonly landed: Landing[] = [];

  constructor(
    private readonly stage: Stage,
    private readonly hero: Character,
    private readonly motion: Motion,
    private readonly input: readonly InputRow[],
    private readonly rate: number,
  ) {
    this.places = new Places(stage.level, motion);
    for (const event of ['touchdown', 'climbed'])
      hero.on(event, ({ time, x, y }) => void this.landed.push({ time, x, y, place: this.places.under(hero, stage) }));
    const stop = hero.on(
      'takeoff',
      ({ time, buffered }) => void (buffered && this.buffered.push({ time, pressed: time - motion.full.grace.buffer })),
    );
    const last = input.reduce((latest, { time }) => Math.max(latest, time), 0);
    hero.drive(script(input));
    const ticks = Math.ceil((last + 2) * rate);
    for (let i = 0; i <= ticks; i++) {
      if (i % KEPT === 0) this.kept.push({ time: stage.time, state: stage.snapshot(), others: new Map() });
      this.tick();
      this.landings.push(...this.landed);
      // Where it begins it has not landed, and stands all the same.
      if (i === 0 && this.landed.length === 0)
        this.landings.push({ time: -1, x: hero.x, y: hero.y, place: this.places.under(hero, stage) });
    }
    stop();
  }

  private tick(): void {
    this.landed.length = 0;
    this.stage.tick(1 / this.rate);
  }

  /** Where a press leads, and whether it still does when it is moved, its release with it and then by itself. */
  private aimOf({ on, off }: Press): { at: number; until: number | undefined; lands: Landing; reaches(motion: Motion, by: number, released: number): boolean } | undefined {
    const { input } = this;
    const at = input[on]!.time;
    const until = off === undefined ? undefined : input[off]!.time;
    // A press that waits for the ground leads to what is landed on after its takeoff.
    const takeoff = this.buffered.find(({ time, pressed }) => pressed <= at + 1e-6 && at < time) ?? { time: at };
    const lands = this.landings.find(({ time }) => time > takeoff.time);
    if (lands === undefined) return undefined;
    const from = [at, takeoff.time].map((moment) => this.landings.findLast(({ time }) => time <= moment)?.place);
    const moved = (by: number, released: number): InputRow[] => input.map((row, i) => (i === on ? { ...row, time: at + by } : i === off ? { ...row, time: until! + by + released } : row));
    return { at, until, lands, reaches: (motion, by, released) => this.reaches(moved(by, released), Math.min(at, at + by), motion, lands, from) };
  } // prettier-ignore

  /** For moments of a press how long it may be held: in steps first, and the ends between them to a millisecond. */
  mapOf(
    press: Press,
    by: readonly [number, number],
    held: readonly [number, number],
    columns: number,
  ): PressMap['columns'] {
    const { at, until, reaches } = this.aimOf(press)!;
    const step = (held[1] - held[0]) / HOLDS;
    return Array.from({ length: columns }, (_, i) => {
      const later = by[0] + ((by[1] - by[0]) * (i + 0.5)) / columns;
      const lands = (hold: number): boolean => reaches(this.motion, later, hold - (until! - at));
      const spans: [number, number][] = [];
      let [was, before] = [false, held[0]];
      for (let k = 0; k <= HOLDS; k++) {
        const hold = held[0] + step * k + (k === 0 ? 1e-6 : 0);
        const is = lands(hold);
        if (is !== was) {
          let [low, high] = [before, hold];
          while (k > 0 && high - low > 0.001) {
            const middle = (low + high) / 2;
            if (lands(middle) === was) low = middle;
            else high = middle;
          }
          if (is) spans.push([k === 0 ? held[0] : high, held[1]]);
          else spans.at(-1)![1] = low;
        }
        [was, before] = [is, hold];
      }
      return { by: later, spans };
    });
  }

  marginOf(press: Press): PressMargin | undefined {
    const aim = this.aimOf(press);
    if (aim === undefined) return undefined;
    const { at, until, lands, reaches } = aim;
    const { motion } = this;
    const { action } = press;
    const ends = (with_: Motion): [number | null, number | null] => [
      edge((by) => reaches(with_, -by, 0), at),
      edge((by) => reaches(with_, by, 0)),
    ];
    const [earlier, later] = ends(motion);
    const window = earlier === null || later === null ? null : earlier + later;
    const shorter = until === undefined ? null : edge((by) => reaches(motion, 0, -by), until - at - 1e-6);
    const longer = until === undefined ? null : edge((by) => reaches(motion, 0, by));
    const adds = (grace: Grace): number | null => {
      if (window === null || motion.full.grace[grace] === 0) return window === null ? null : 0;
      const without = this.without.get(grace) ?? compileTuning({ ...motion.full, grace: { ...motion.full.grace, [grace]: 0 } });
      this.without.set(grace, without);
      if (reaches(without, 0, 0)) {
        const [left, right] = ends(without);
        return left === null || right === null ? null : Math.max(0, window - left - right);
      }
      // What is left of the window need not hold the press itself: from both ends to where it begins.
      const left = edge((by) => !reaches(without, by - earlier!, 0), window);
      const right = edge((by) => !reaches(without, later! - by, 0), window);
      return left === null || right === null ? window : Math.min(window, left + right);
    };
    return {
      action,
      at,
      until: until ?? null,
      lands: { x: lands.x, y: lands.y, time: lands.time },
      press: { earliest: earlier === null ? null : at - earlier, latest: later === null ? null : at + later, window },
      hold: { least: shorter === null ? null : until! - at - shorter, most: longer === null ? null : until! - at + longer },
      adds: { coyote: adds('coyote'), buffer: adds('buffer'), corner: adds('corner'), lip: adds('lip') },
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
    while (stage.time < until) {
      this.tick();
      for (const landed of this.landed) {
        if (landed.time <= since) continue;
        if (landed.place === place) return true;
        if (!from.includes(landed.place)) return false;
      }
    }
    return false;
  } // prettier-ignore
}

/** How far something may go until it fails, s; null where it does not within what there is. */
function edge(holds: (by: number) => boolean, most = FARTHEST): number | null {
  const end = Math.min(most, FARTHEST);
  let by = 0;
  while (by + STEP <= end && holds(by + STEP)) by += STEP;
  if (by + STEP > end) return null;
  let [low, high] = [by, by + STEP];
  while (high - low > FINE) {
    const middle = (low + high) / 2;
    if (holds(middle)) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
