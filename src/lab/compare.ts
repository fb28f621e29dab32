import { KEYS, compileTuning, keyNamed, scalesWithTile, valueOfKey, type Ability, type InputRow, type OpenLevel, type Motion, type Trace, type Tuning } from '../core/index.js'; // prettier-ignore
import { play } from './play.js';
import { sheet, type Measure } from './sheet.js';
import { flights } from './story.js';

/** A tuning and what it is called. */
export interface Named {
  name: string;
  tuning: Tuning | Motion;
}

/** A measure of several tunings, in their order; null where one has none. */
export interface ComparedMeasure extends Omit<Measure, 'value' | 'tiles' | 'group' | 'unit'> {
  /** Lengths, speeds and accelerations are in tiles where `tile` is not the same in all of them. */
  unit: Measure['unit'] | 'tiles' | 'tiles/s' | 'tiles/s²';
  values: (number | null)[];
  /** To the first tuning's value. */
  differences: (number | null)[];
}

/** A key that is not the same in all of them; undefined where a tuning has none. Where `tile` differs, lengths and speeds are in tiles. */
export interface ComparedKey {
  key: string;
  values: unknown[];
}

/** What differs between tunings. */
export interface Comparison {
  names: string[];
  keys: ComparedKey[];
  measures: ComparedMeasure[];
}

/**
 * The most tunings that are compared at once.
 * @example
 * ```ts
 * MOST_COMPARED // 6
 * ```
 */
export const MOST_COMPARED = 6;

/**
 * What differs between tunings: which keys, and every measure of the sheet. Where their tiles are of different sizes, all of it is in tiles.
 * @param options settings, each of which may be left out
 * @param options.rate ticks per second, for windows in ticks; 60 unless given
 * @param options.abilities abilities of the game's own, whose moves are measured too
 * @throws RangeError where there are not one to six; TuningError where one is wrong
 * @example
 * ```ts
 * compare([{ name: 'now', tuning: brindle }, { name: 'quicker', tuning: { run: { speed: 9 } } }]).measures
 * ```
 */
export function compare(
  named: readonly Named[],
  { rate = 60, abilities = [] }: { rate?: number; abilities?: readonly Ability[] } = {},
): Comparison {
  const motions = compiledAll(named);
  return {
    names: named.map(({ name }) => name),
    keys: differentKeys(motions),
    measures: aligned(
      motions.map((motion) => {
        const measures = sheet(motion, { rate, abilities });
        return inTiles(motions) ? measures.map((one) => tiled(one, motion.full.tile)) : measures;
      }),
    ),
  };
}

/** Whether tunings are of worlds whose tiles differ in size. */
function inTiles(motions: readonly Motion[]): boolean {
  return motions.some(({ full }) => full.tile !== motions[0]!.full.tile);
}

const IN_TILES: Readonly<Partial<Record<Measure['unit'], ComparedMeasure['unit']>>> = {
  units: 'tiles',
  'units/s': 'tiles/s',
  'units/s²': 'tiles/s²',
};

function tiled(measure: Measure, tile: number): Row {
  const unit = IN_TILES[measure.unit];
  return unit === undefined ? measure : { ...measure, unit, value: measure.value / tile };
}

/** Two numbers are one when they differ by rounding only. */
const SAME = 1e-9;

function compiledAll(named: readonly Named[]): Motion[] {
  if (named.length < 1 || named.length > MOST_COMPARED)
    throw new RangeError(`one to ${MOST_COMPARED} tunings are compared, not ${named.length}`);
  return named.map(({ tuning }) => ('launch' in tuning ? tuning : compileTuning(tuning)));
}

function differentKeys(motions: readonly Motion[]): ComparedKey[] {
  const games = [...new Set(motions.flatMap(({ full }) => Object.entries(full.own).flatMap(([name, numbers]) => Object.keys(numbers).map((key) => `own.${name}.${key}`))))]; // prettier-ignore
  const tiles = inTiles(motions);
  return [...KEYS.map(({ key }) => key), ...games]
    .map((key) => ({ key, values: motions.map(({ full }) => valueIn(full, key, tiles)) }))
    .filter(({ values }) => values.some((value) => !isSame(value, values[0])));
}

/** The value of a key, in tiles where that is asked for and it is one of those that are scaled by `tile`. */
function valueIn(full: Motion['full'], key: string, tiles: boolean): unknown {
  const value = valueOfKey(full, key);
  const entry = keyNamed(key);
  const one = entry && 'of' in entry ? entry.of : entry;
  if (!tiles || key === 'tile' || !one || !('unit' in one) || !scalesWithTile(one.unit)) return value;
  const scaled = (part: unknown): unknown => (typeof part === 'number' ? part / full.tile : part);
  return Array.isArray(value) ? value.map(scaled) : scaled(value);
}

function isSame(one: unknown, other: unknown): boolean {
  if (typeof one === 'number' && typeof other === 'number')
    return one === other || Math.abs(one - other) <= SAME * Math.max(Math.abs(one), Math.abs(other));
  if (Array.isArray(one) && Array.isArray(other))
    return one.length === other.length && one.every((part, i) => isSame(part, other[i]));
  return one === other;
}

/** The same measures of several sheets beside each other, in the order in which they come. */
function aligned(sheets: readonly (readonly Row[])[]): ComparedMeasure[] {
  const ids: string[] = [];
  for (const measures of sheets) {
    let after = -1;
    for (const { id } of measures) {
      const known = ids.indexOf(id);
      if (known >= 0) after = known;
      else ids.splice(++after, 0, id);
    }
  }
  return ids.map((id) => {
    const found = sheets.map((measures) => measures.find((measure) => measure.id === id));
    const { name, unit, how } = found.find((measure) => measure !== undefined)!;
    const values = found.map((measure) => measure?.value ?? null);
    const [first] = values;
    const differences = values.map((value) => (value === null || first === null || first === undefined ? null : value - first + 0));
    return { id, name, unit, how, values, differences };
  }); // prettier-ignore
}

/** The same input in the same level by several tunings. */
export interface ComparedRuns extends Comparison {
  runs: Trace[];
  /** The moment of the first press of the jump key, or of the first press, s: measures of moments count from there. */
  press: number;
}

/**
 * Plays the same input in the same level by each tuning, and compares what came of it: every flight, and where it ended.
 * @param options at, facing, rate, seconds, abilities as for `play`
 * @example
 * ```ts
 * compareRuns([{ name: 'now', tuning: brindle }, { name: 'plain', tuning: {} }], { level: openGround(), input: rows })
 * ```
 */
export function compareRuns(
  named: readonly Named[],
  options: {
    level: OpenLevel;
    input: readonly InputRow[];
    at?: string;
    rate?: number;
    seconds?: number;
    abilities?: readonly Ability[];
  },
): ComparedRuns {
  const motions = compiledAll(named);
  const runs = motions.map((motion) => play({ ...options, tuning: motion }));
  const presses = options.input.filter(({ value, action }) => value > 0 && action !== 'host');
  const press = (presses.find(({ action }) => action === 'jump') ?? presses[0])?.time ?? 0;
  return {
    names: named.map(({ name }) => name),
    keys: differentKeys(motions),
    measures: aligned(runs.map((run) => runMeasures(run, press))),
    runs,
    press,
  };
}

type Row = Omit<Measure, 'group' | 'tiles' | 'unit'> & Pick<ComparedMeasure, 'unit'>;

function runMeasures(run: Trace & { last: Trace['rows'][number] }, press: number): Row[] {
  const rows: Row[] = [];
  const add = (id: string, name: string, value: number | null, unit: Measure['unit']): void => {
    if (value !== null) rows.push({ id, name, value, unit, how: 'simulated' });
  };
  const start = run.rows.findIndex(({ time }) => time >= press);
  add('pressX', 'x at the press', run.rows[start < 0 ? 0 : start]!.x, 'units');
  flights(run).forEach((flight, i) => {
    const [id, what] = [`flight${i + 1}`, `flight ${i + 1}`];
    add(`${id}Start`, `${what}: begins after the press`, flight.start - press, 's');
    add(`${id}Time`, `${what}: in the air`, flight.time, 's');
    add(`${id}Rise`, `${what}: rise`, flight.rise, 'units');
    add(`${id}Across`, `${what}: across`, flight.across, 'units');
    add(`${id}Touchdown`, `${what}: touchdown`, flight.touchdown, 'units/s');
  });
  add('endX', 'x at the end', run.last.x, 'units');
  add('endY', 'y at the end', run.last.y, 'units');
  return rows;
}

/** One tuning and input at several tick rates. */
export interface ComparedRates {
  /** The highest rate, which the others are measured against. */
  reference: number;
  rates: {
    rate: number;
    /** How many events, and whether they are the same in the same order. */
    events: number;
    same: boolean;
    /** Whether all of it is the same bit for bit: moments, places and speeds of events, and the end. */
    exact: boolean;
    /** The greatest difference of an event's moment, s, and of its place, units, as far as the events are the same. */
    worstTime: number;
    worstPlace: number;
    /** Of the place at the end, units. */
    end: number;
  }[];
  /** The decision that was closest to going the other way; undefined where the jump key was never pressed. */
  closest: Decision | undefined;
}

/** A press and a window or a moment that it was near to. */
export interface Decision {
  /** What was decided. */
  what: string;
  /** When the key was pressed, s. */
  press: number;
  /** How far from being decided otherwise, s. */
  margin: number;
}

/**
 * Plays the same tuning and input at several tick rates, and says how far what happens is the same.
 * @param rates ticks per second, two or more
 * @example
 * ```ts
 * compareRates({ tuning: brindle }, [30, 144], { level: openGround(), input: rows })
 * ```
 */
export function compareRates(
  { tuning }: Pick<Named, 'tuning'>,
  rates: readonly number[],
  options: { level: OpenLevel; input: readonly InputRow[]; at?: string; seconds?: number; abilities?: readonly Ability[] },
): ComparedRates {
  if (rates.length < 2) throw new RangeError(`at least two rates are compared, not ${rates.length}`);
  const motion = 'launch' in tuning ? tuning : compileTuning(tuning);
  // Whole seconds end a tick at every whole rate.
  const seconds = Math.ceil(options.seconds ?? options.input.reduce((latest, { time }) => Math.max(latest, time), 0) + 2);
  const runs = rates.map((rate) => ({ rate, run: play({ ...options, tuning: motion, rate, seconds }) }));
  const reference = runs.reduce((highest, one) => (one.rate > highest.rate ? one : highest));
  const wanted = reference.run.events;
  return {
    reference: reference.rate,
    rates: runs.map((one) => {
      const { events } = one.run;
      const alike = (i: number): boolean => events[i]?.event === wanted[i]?.event && events[i]?.by === wanted[i]?.by;
      const same = events.length === wanted.length && events.every((_, i) => alike(i));
      let [worstTime, worstPlace] = [0, 0];
      for (let i = 0; i < events.length && i < wanted.length && alike(i); i++) {
        worstTime = Math.max(worstTime, Math.abs(events[i]!.time! - wanted[i]!.time!));
        worstPlace = Math.max(worstPlace, Math.abs(events[i]!.x! - wanted[i]!.x!), Math.abs(events[i]!.y! - wanted[i]!.y!));
      }
      const [a, b] = [one.run.last, reference.run.last];
      const speeds = events.every(({ vx, vy }, i) => vx === wanted[i]?.vx && vy === wanted[i]?.vy);
      const end = Math.max(Math.abs(a.x - b.x), Math.abs(a.y - b.y));
      const exact = same && speeds && worstTime === 0 && worstPlace === 0 && end === 0;
      return { rate: one.rate, events: events.length, same, exact, worstTime, worstPlace, end };
    }),
    closest: closestDecision(reference.run, options.input, motion),
  };
} // prettier-ignore

/** Of all presses of the jump key and the windows near them, the pair that was closest to the window's end. */
function closestDecision(run: Trace, input: readonly InputRow[], m: Motion): Decision | undefined {
  let closest: Decision | undefined;
  const consider = (press: number, margin: number, what: string): void => {
    if (margin >= 0 && margin < (closest?.margin ?? Infinity)) closest = { what, press, margin };
  };
  for (const { time: press, action, value } of input) {
    if (action !== 'jump' || value === 0) continue;
    for (const { event, time } of run.events) {
      const after = press - time!;
      if (event === 'leave' && after >= 0) {
        consider(press, Math.abs(after - m.coyote), after <= m.coyote ? 'a press within the coyote window' : 'a press after the coyote window');
      }
      if (event === 'touchdown' && after <= 0)
        consider(press, Math.abs(-after - m.buffer), -after <= m.buffer ? 'a press that waited for the landing' : 'a press too early to wait for the landing');
      if (event === 'leave' || event === 'touchdown') consider(press, Math.abs(after), after >= 0 ? `a press just after a ${event}` : `a press just before a ${event}`);
    }
  }
  return closest;
} // prettier-ignore
