import { levenbergMarquardt } from 'ml-levenberg-marquardt';
import {
  type Ability,
  GOALS,
  TuningError,
  compileTuning,
  fillTuning,
  valueOfKey,
  withKey,
  type Motion,
  type Tuning,
} from '../core/index.js';
import { entryOf, isKey, rangeAt, unknownKey, valueAt, withValue } from './entries.js';
import { nearest } from './nearest.js';
import { sheet, type Measure } from './sheet.js';

/** A key that may be moved, and how far. */
export interface FreeKey {
  key: string;
  least?: number;
  most?: number;
}

/** A measure, and what it should be. */
export interface DesignGoal {
  /** A measure of the sheet by its id, or one of the jump's own goals by its key. */
  id: string;
  name: string;
  unit: Measure['unit'];
  wanted: number;
  /** What the tuning comes to. */
  got: number;
  met: boolean;
}

/** Numbers that were found for goals. */
export interface Design {
  tuning: Tuning;
  goals: DesignGoal[];
  /** The keys that were set or moved, with their values before (undefined where there was none) and now. */
  keys: { key: string; before: number | undefined; now: number }[];
  /** How much each goal follows each moved key: the share by which it changes for one percent of the key, in percent. */
  sensitivity: { id: string; key: string; percent: number }[];
  /** Free keys that no goal asked for: they are as they were. */
  undecided: string[];
  /** Why not every goal is met; empty where all are. */
  contradiction: string;
  /** Of goals that are not all met: those that cannot be met even alone, or else the fewest that contradict each other. */
  conflict: string[];
  /** How often a tuning was compiled and measured to find it. */
  evaluations: number;
}

/**
 * How near a goal has to be met, as a share of it.
 * @example
 * ```ts
 * MET // 0.000001
 * ```
 */
export const MET = 1e-6;
/**
 * The most tunings that are tried.
 * @example
 * ```ts
 * MOST_EVALUATIONS // 2000
 * ```
 */
export const MOST_EVALUATIONS = 2000;
/** Of these, some are left for how the goals follow the keys. */
const FOR_KEYS = 40;
/** To find which goals contradict each other, so many for each that is left out. */
const FOR_CONFLICT = 300;

/** Goals that are keys of the jump, and the measure that each is. */
const JUMP: Readonly<Record<string, string>> = { height: 'apexHeight', riseTime: 'riseTime', airTime: 'airTime', reach: 'reach', launchSpeed: 'launchSpeed', baseGravity: 'baseGravity', lowestHop: 'lowestHop' }; // prettier-ignore

/** The key that moves a measure most plainly: what is free where nothing else is said. */
const NATURAL: Readonly<Record<string, string>> = {
  runUp: 'run.upIn', runUpTime: 'run.upIn', stopping: 'run.stopIn', stoppingTime: 'run.stopIn', turnOvershoot: 'run.turnIn', turnTime: 'run.turnIn',
  apexHeight: 'jump.height', riseTime: 'jump.riseTime', airTime: 'gravity.falling', reach: 'run.speed', widestGap: 'run.speed', widestGapCoyote: 'grace.coyote',
  highestStep: 'jump.height', highestStepLip: 'grace.lip', highestLedge: 'ledge.hands', lowestHop: 'jump.lowestHop', hangTime: 'gravity.apex', touchdownSpeed: 'gravity.falling gravity.fallSpeed',
  dropToCap: 'gravity.fallSpeed', airSteer: 'run.air.upIn', airRecall: 'run.air.turnIn', coyoteAcross: 'grace.coyote', bufferAbove: 'grace.buffer',
  wallJumpRise: 'wall.jump.height', wallJumpOut: 'wall.jump.out', wallReturnTime: 'wall.jump.lock wall.jump.out', wallGain: 'wall.jump.lock wall.jump.height', widestShaft: 'wall.jump.out',
  glideRatio: 'glide.fallSpeed', glideRange: 'glide.budget', glideDrop: 'glide.budget',
  launchSpeed: 'jump.riseTime', baseGravity: 'jump.riseTime', runUpHeight: 'jump.runUp', shortPress: 'jump.lowestHop',
  charge25: 'charge.lowest', charge50: 'charge.highest', charge75: 'charge.highest', charge100: 'charge.highest',
  coyoteTicks: 'grace.coyote', bufferTicks: 'grace.buffer', minHoldTicks: 'jump.minHold', spacingTicks: 'airJumps.spacing', pauseTicks: 'ledge.pause',
  clingTicks: 'wall.cling', wallCoyoteTicks: 'grace.wallCoyote', wallLockTicks: 'wall.jump.lock',
}; // prettier-ignore

/** What turns measures on that not every tuning has. */
const ABILITIES: readonly [RegExp, string][] = [
  [/^airJump\d/, 'airJumps, with a height for each'],
  [/^spacingTicks$/, 'airJumps with endless'],
  [/^(wall|widestShaft|cling)/, 'wall'],
  [/^glide/, 'glide'],
  [/^charge\d/, 'charge'],
  [/^(highestLedge|pauseTicks)$/, 'ledge'],
  [/^runUpHeight$/, 'jump.runUp'],
];

function naturalKeys(measure: string): string[] {
  const jump = /^airJump(\d+)(?:Rise|Height|Reach)$/.exec(measure);
  return jump ? [`airJumps.heights.${jump[1]}`] : (NATURAL[measure]?.split(' ') ?? []);
}

/**
 * Numbers for goals: those of the jump by their closed form, others by moving keys until every goal is met.
 * @param base the tuning to start from
 * @param goals what is wanted, by the id of a measure (as `sheet` has them) or by a goal's key of the jump (`height`, `riseTime`, …)
 * @param options settings, each of which may be left out
 * @param options.free the keys that may be moved, and no others; those that belong to the goals unless given. An entry of a list is named by its place:
 * `airJumps.heights.1`
 * @param options.rate ticks per second, for measures in ticks; 60 unless given
 * @param options.abilities abilities of the game's own, of whose moves there may be goals
 * @throws RangeError naming a goal or a key that there is not; TuningError where the base is wrong
 * @example
 * ```ts
 * design({}, { apexHeight: 3, reach: 6 }).tuning
 * ```
 */
export function design(
  base: Tuning,
  goals: Readonly<Record<string, number>>,
  { free, rate = 60, abilities = [] }: { free?: readonly FreeKey[]; rate?: number; abilities?: readonly Ability[] } = {},
): Design {
  const wanted = Object.entries(goals).map(([id, value]) => ({ id, measure: JUMP[id] ?? id, value }));
  if (wanted.length === 0) throw new RangeError('no goal is given');
  for (const { id, value } of wanted)
    if (!Number.isFinite(value)) throw new RangeError(`${id} is ${value}; it must be a number`);
  // What the game's own moves do is played, which takes longer.
  const known = new Set(sheet(base, { rate }).map(({ id }) => id));
  const plays = abilities.length > 0 && wanted.some(({ measure }) => !known.has(measure));
  const of: Given = { base, free, also: [], measures: (motion) => sheet(motion, { rate, ...(plays ? { abilities } : {}) }) };
  const { moved: may, refused, ...made } = attempt(of, wanted, MOST_EVALUATIONS);
  if (made.contradiction === '') return made;
  const { conflict, alone } = conflictOf({ ...of, also: may }, wanted);
  const moved = may.join(', ') || 'nothing that may be moved';
  const missed = made.goals.filter(({ met }) => !met);
  const comes = missed.map(({ id, wanted: want, got }) => `${id} comes to ${round(got)}, not ${round(want)}`).join('; ');
  const names = conflict.map(({ id }) => id).join(', ');
  const no = !alone ? `the goals ${names} cannot all be met` : conflict.length === 1 ? `${names} comes no nearer` : `none of ${names} comes nearer`;
  const still = may.length > 0 && alone && [base, made.tuning].every((one) => sensitivities(one, conflict, may, of).length === 0);
  return {
    ...made,
    conflict: conflict.map(({ id }) => id),
    contradiction: `${comes}: with ${moved}, ${still ? `which ${conflict.length === 1 ? `${names} does` : 'these do'} not follow, ` : ''}${no}${refused === '' ? '' : ` (${refused})`}`,
  };
} // prettier-ignore

/** What a search goes by. */
interface Given {
  base: Tuning;
  free: readonly FreeKey[] | undefined;
  /** Where nothing is said of what is free: keys that may be moved besides those that belong to the goals. */
  also: readonly string[];
  measures: (motion: Motion) => Measure[];
}

/** One search for numbers: what came of it, which keys were moved, and why the closed form refused the goals, if it did. */
function attempt(of: Given, wanted: readonly Wanted[], most: number): Design & { moved: string[]; refused: string } {
  const { base, free, measures: measured } = of;
  let { tuning: start, searched, contradiction: refused } = closedForm(of, wanted);
  // What may be moved is decided by who calls, for the jump's own goals as well.
  if (free !== undefined && !changedKeys(base, start).every(({ key, now }) => isFree(free, key, now))) [start, searched, refused] = [base, [...wanted], ''];
  let evaluations = 1;
  let tuning = start;
  const known = measured(compileTuning(start));
  for (const { id, measure } of wanted)
    if (!known.some((one) => one.id === measure)) {
      const all = [...new Set([...Object.keys(JUMP), ...known.map((one) => one.id)])];
      const meant = nearest(id, all);
      const needs = ABILITIES.find(([pattern]) => pattern.test(id))?.[1];
      if (needs !== undefined && meant === undefined) throw new RangeError(`there is no measure ${id} in this tuning: it needs ${needs}`);
      throw new RangeError(`there is no measure ${id} in this tuning${meant === undefined ? '' : `; did you mean ${meant}?`}; there are ${all.join(', ')}`);
    }
  // What the closed form refuses may still be met by moving keys of the tuning as it is.
  const sought = refused === '' ? searched : wanted;
  const keys = keysFor(start, sought.map(({ measure }) => measure), of);
  let met = false;
  if (sought.length > 0 && keys.length > 0) {
    // What no goal follows stays as it is; where that leads nowhere, it may be that none follows from just there.
    const moving = keys.filter(({ key }) => sensitivities(start, sought, [key], of).length > 0);
    evaluations += keys.length;
    let found = search(of, start, wanted, moving, most - FOR_KEYS - evaluations);
    if (!found.met && moving.length < keys.length) {
      const further = search(of, start, wanted, keys, most - FOR_KEYS - evaluations - found.evaluations);
      found = { ...(further.met ? further : found), evaluations: found.evaluations + further.evaluations };
    }
    tuning = found.tuning;
    met = found.met;
    evaluations += found.evaluations;
  }
  const measures = measured(compileTuning(tuning));
  const results = wanted.map(({ id, measure, value }): DesignGoal => {
    const { name, unit, value: got } = measures.find((one) => one.id === measure)!;
    return { id, name, unit, wanted: value, got, met: Math.abs(got - value) <= MET * Math.max(Math.abs(value), 1e-9) };
  });
  met ||= results.every((one) => one.met);
  const changed = changedKeys(base, tuning);
  const sensitivity = met ? sensitivities(tuning, wanted, changed.map(({ key }) => key), of) : [];
  evaluations += sensitivity.length;
  return {
    tuning,
    goals: results,
    keys: changed,
    sensitivity,
    undecided: keys.map(({ key }) => key).filter((key) => !changed.some((one) => one.key === key)),
    contradiction: met ? '' : 'not all goals are met',
    conflict: [],
    evaluations,
    moved: keys.map(({ key }) => key),
    refused: met ? '' : refused,
  };
} // prettier-ignore

/** Whether a key may be moved to a value. */
function isFree(free: readonly FreeKey[], key: string, value: number): boolean {
  return free.some((one) => one.key === key && value >= (one.least ?? -Infinity) && value <= (one.most ?? Infinity));
}

/**
 * Of goals that cannot all be met, those that cannot even alone; or else the fewest that still cannot: each in turn is left out if the others are no
 * better without it.
 */
function conflictOf(of: Given, wanted: readonly Wanted[]): { conflict: readonly Wanted[]; alone: boolean } {
  const single = wanted.filter((one) => wanted.length === 1 || attempt(of, [one], FOR_CONFLICT).contradiction !== '');
  if (single.length > 0) return { conflict: single, alone: true };
  let left = wanted;
  for (const one of wanted) {
    const rest = left.filter((other) => other !== one);
    if (rest.length > 0 && attempt(of, rest, FOR_CONFLICT).contradiction !== '') left = rest;
  }
  return { conflict: left, alone: false };
}

type Wanted = { id: string; measure: string; value: number };

const round = (value: number): string => String(Number(value.toPrecision(6)));

/**
 * What the jump's own closed form takes: a sufficient pair of its goals, and the lowest hop. What is left is searched for, and so is everything where a
 * pair alone would leave a goal unmet.
 */
function closedForm({ base, measures }: Given, wanted: readonly Wanted[]): { tuning: Tuning; searched: Wanted[]; contradiction: string } {
  const sizes = ['height', 'launchSpeed', 'baseGravity'];
  const times = ['riseTime', 'airTime', 'reach'];
  const own = (id: string): string | undefined => Object.keys(JUMP).find((key) => key === id || (JUMP[key] === id && id !== key));
  const goals = wanted.flatMap((one) => {
    const key = own(one.id);
    return key !== undefined && key !== 'lowestHop' ? [{ key, one }] : [];
  });
  const among = (kinds: readonly string[]): typeof goals => kinds.flatMap((kind) => goals.filter(({ key }) => key === kind));
  const [size, time] = [among(sizes), among(times)];
  // A size and a time, or two sizes; where only one is wanted, the base gives the other.
  const pair = [...size.slice(0, 1), ...(time.length > 0 ? time.slice(0, 1) : size.slice(1, 2))];
  let tuning = base;
  if (pair.length > 0) {
    const jump: Record<string, unknown> = typeof base.jump === 'object' ? { ...base.jump } : {};
    const before = fillTuning(base).jump as unknown as Record<string, number | undefined>;
    for (const goal of GOALS) delete jump[goal];
    for (const { key, one } of pair) jump[key] = one.value;
    if (pair.length === 1) {
      const other = (sizes.includes(pair[0]!.key) ? times : sizes).find((key) => before[key] !== undefined);
      const filled = sizes.includes(pair[0]!.key) ? 'riseTime' : 'height';
      jump[other ?? filled] = other === undefined ? measures(compileTuning(base)).find(({ id }) => id === JUMP[filled])!.value : before[other];
    }
    tuning = { ...base, jump: jump as NonNullable<Tuning['jump']> };
  }
  const hop = wanted.find(({ id }) => id === 'lowestHop');
  const refusal = (of: Tuning): string => {
    try {
      compileTuning(of);
      return '';
    } catch (error) {
      if (error instanceof TuningError) return error.message;
      throw error;
    }
  };
  const plain = tuning;
  if (hop) tuning = withKey(tuning, 'jump.lowestHop', hop.value);
  const contradiction = refusal(tuning);
  // As much of it as can be.
  if (contradiction !== '') tuning = hop && refusal(plain) === '' ? plain : base;
  const settled = new Set([...pair.map(({ one }) => one.id), ...(hop ? ['lowestHop'] : [])]);
  return { tuning, searched: wanted.filter(({ id }) => !settled.has(id)), contradiction };
} // prettier-ignore

/** The value of a key that may be moved. What the lowest hop is where the tuning does not say so, its jump shows. */
function valueNow(tuning: Tuning, full: ReturnType<typeof fillTuning>, key: string): unknown {
  const { released, cutTo } = full.gravity;
  const said = valueAt(full, key);
  const isUsual = key === 'jump.lowestHop' && said === undefined && released === undefined && cutTo === undefined;
  return isUsual && !full.jump.off ? compileTuning(tuning).lowestHop : said;
}

/** The keys to move: those that are free, or those that belong to the goals; each a number that the tuning has. */
function keysFor(tuning: Tuning, measures: readonly string[], { free, also }: Given): Required<FreeKey>[] {
  const full = fillTuning(tuning);
  const natural = [...new Set([...measures.flatMap(naturalKeys), ...also])].filter((key) => typeof valueNow(tuning, full, key) === 'number');
  const named = free ?? natural.map((key) => ({ key }));
  return named.map(({ key, least, most }: FreeKey) => {
    if (!isKey(key)) throw new RangeError(unknownKey(key).replace(/(no key \S+?)(;|$)/, '$1 to be moved$2'));
    const entry = rangeAt(key);
    if (entry === undefined) throw new RangeError(`${key} is no number, so it cannot be moved${key === 'airJumps.heights' ? '; name one of its entries: airJumps.heights.1' : ''}`);
    const now = valueNow(tuning, full, key);
    if (typeof now !== 'number') throw new RangeError(`${key} cannot be moved: this tuning has none`);
    const low = Math.max(least ?? -Infinity, entry.least + (entry.above ? 1e-9 : 0));
    const high = Math.min(most ?? Infinity, entry.most);
    if (!(low <= high)) throw new RangeError(`${key} has no room between ${low} and ${high}`);
    return { key, least: low, most: high };
  });
} // prettier-ignore

/** From so many places a search begins anew where it has led nowhere. */
const ATTEMPTS = 8;
/** So many steps are made before it is asked whether they have led anywhere. */
const STEPS = 12;

const between = (value: number, least: number, most: number): number => Math.min(most, Math.max(least, value));

/** Places that are spread evenly over 0 to 1, another sequence for each key: the fractions of multiples of irrational numbers. */
function spread(attempt: number, key: number): number {
  const step = Math.sqrt([2, 3, 5, 7, 11, 13, 17, 19][key % 8]!);
  return (attempt * step) % 1;
}

/** Moves keys until every goal is met as nearly as it can be: by least squares of the shares that are missing. */
function search({ measures: measured }: Given, start: Tuning, wanted: readonly Wanted[], keys: readonly Required<FreeKey>[], most: number): { tuning: Tuning; met: boolean; evaluations: number } {
  const full = fillTuning(start);
  let evaluations = 0;
  const scales = keys.map(({ key, least, most }) => {
    const now = valueNow(start, full, key) as number;
    const inside = between(now, least, most);
    return Math.abs(inside) > 1e-6 ? Math.abs(inside) : Math.min(1, most);
  });
  const begin = keys.map(({ key, least, most }, i) => between(valueNow(start, full, key) as number, least, most) / scales[i]!);
  const at = (place: readonly number[]): Tuning =>
    keys.reduce((tuning, { key, least, most }, i) => withValue(tuning, key, between(place[i]! * scales[i]!, least, most)), start);
  const cache = new Map<string, number[]>();
  const residuals = (place: readonly number[]): number[] => {
    const name = place.join();
    const known = cache.get(name);
    if (known) return known;
    let found: number[];
    evaluations++;
    try {
      const measures = new Map(measured(compileTuning(at(place))).map(({ id, value }) => [id, value]));
      found = wanted.map(({ measure, value }) => {
        const got = measures.get(measure);
        // What is far from possible is far off.
        return got === undefined || !Number.isFinite(got) ? 1e3 : (got - value) / Math.max(Math.abs(value), 1e-6);
      });
    } catch (error) {
      if (!(error instanceof TuningError)) throw error;
      found = wanted.map(() => 1e3);
    }
    if (cache.size > 64) cache.clear();
    cache.set(name, found);
    return found;
  };
  // Rows of nothing fill it up to the least number that the optimiser takes.
  const rows = Math.max(3, wanted.length);
  const data = { x: Array.from({ length: rows }, (_, i) => i), y: new Array<number>(rows).fill(0) };
  const size = (place: readonly number[]): number => residuals(place).reduce((sum, one) => sum + one * one, 0);
  if (keys.length === 0) return { tuning: start, met: false, evaluations };
  const stepped = (from: readonly number[], gradientDifference: number, maxIterations: number): number[] => {
    const options = { initialValues: [...from], minValues: keys.map(({ least }, i) => least / scales[i]!), maxValues: keys.map(({ most }, i) => most / scales[i]!) };
    try {
      return levenbergMarquardt(data, (place) => { const found = residuals(place); return (i) => found[i] ?? 0; }, { ...options, gradientDifference, centralDifference: true, damping: 1e-3, maxIterations, errorTolerance: 1e-28 }).parameterValues;
    } catch {
      // Where nothing follows any key there is no way to go.
      return [...from];
    }
  };
  const met = (place: readonly number[]): boolean => residuals(place).every((one) => Math.abs(one) <= MET);
  let best = begin;
  // From where the tuning is; where that leads nowhere, from places around it.
  for (let attempt = 0; attempt < ATTEMPTS && !met(best); attempt++) {
    let from = attempt === 0 ? begin : begin.map((one, i) => between(one * 4 ** (2 * spread(attempt, i) - 1), keys[i]!.least / scales[i]!, keys[i]!.most / scales[i]!));
    // Coarse first, so that flat stretches are left; then ever finer.
    for (const gradientDifference of [1e-2, 1e-4, 1e-6, 1e-7])
      // A few steps at a time, for as long as they lead anywhere.
      for (let nearer = true; nearer && size(from) >= 1e-24;) {
        const left = Math.floor((most - evaluations - 2 * keys.length) / ((keys.length + 2) * 2));
        if (left < 1) break;
        const next = stepped(from, gradientDifference, Math.min(left, STEPS));
        nearer = size(next) < size(from) * (1 - 1e-3);
        if (size(next) < size(from)) from = next;
      }
    if (size(from) < size(best)) best = from;
  }
  // What need not be moved is as it was.
  if (met(best))
    for (let i = 0; i < keys.length; i++) {
      const back = best.map((one, k) => (k === i ? begin[k]! : one));
      if (back[i] !== best[i] && met(back)) best = back;
    }
  return { tuning: at(best), met: met(best), evaluations };
} // prettier-ignore

/** The numbers that are not as they were. */
function changedKeys(before: Tuning, after: Tuning): Design['keys'] {
  const names = new Set([...flat(before as Record<string, unknown>), ...flat(after as Record<string, unknown>)]);
  const entries = [...names].flatMap((key) => {
    const list = valueOfKey(after, key);
    return Array.isArray(list) ? list.map((_, i) => `${key}.${i + 1}`) : [key];
  });
  return entries.flatMap((key) => {
    // A list is written as a whole: what of it was a default is as it was.
    const [was, now] = [valueAt(entryOf(key) ? fillTuning(before) : before, key), valueAt(after, key)];
    return typeof now === 'number' && was !== now ? [{ key, before: typeof was === 'number' ? was : undefined, now }] : [];
  });
} // prettier-ignore

function flat(group: Record<string, unknown>, prefix = ''): string[] {
  return Object.entries(group).flatMap(([key, value]) =>
    typeof value === 'object' && value !== null && !Array.isArray(value)
      ? flat(value as Record<string, unknown>, `${prefix}${key}.`)
      : [`${prefix}${key}`],
  );
}

/** How each goal follows each key, by a small step each. */
function sensitivities(tuning: Tuning, wanted: readonly Wanted[], keys: readonly string[], { measures }: Given): Design['sensitivity'] {
  const found: Design['sensitivity'] = [];
  const before = measures(compileTuning(tuning));
  for (const key of keys) {
    const value = valueNow(tuning, fillTuning(tuning), key) as number;
    const step = value === 0 ? 1e-4 : value * 1e-4;
    let moved: Motion;
    try {
      moved = compileTuning(withValue(tuning, key, value + step));
    } catch (error) {
      if (error instanceof TuningError) continue;
      throw error;
    }
    const after = measures(moved);
    for (const { id, measure } of wanted) {
      const [was, now] = [before, after].map((list) => list.find((one) => one.id === measure)?.value);
      if (was === undefined || now === undefined || was === 0) continue;
      const percent = ((now - was) / was) * 10_000;
      if (Math.abs(percent) > 1e-3) found.push({ id, key, percent });
    }
  }
  return found;
} // prettier-ignore
