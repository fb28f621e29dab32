import { levenbergMarquardt } from 'ml-levenberg-marquardt';
import { GOALS, TuningError, compileTuning, fillTuning, keyNamed, valueOfKey, withKey, type Motion, type Tuning } from '../core/index.js'; // prettier-ignore
import { sheet, type Measure } from './sheet.js';

/** A key that may be moved, and how far. */
export interface FreeKey {
  key: string;
  least?: number;
  most?: number;
}

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
  /** How often a tuning was compiled and measured. */
  evaluations: number;
}

/** How near a goal has to be met, as a share of it. */
export const MET = 1e-6;
/** The most tunings that are tried. */
export const MOST_EVALUATIONS = 2000;
/** Of these, some are left for how the goals follow the keys. */
const FOR_SEARCH = MOST_EVALUATIONS - 40;

/** Goals that are keys of the jump, and the measure that each is. */
const JUMP: Readonly<Record<string, string>> = { height: 'apexHeight', riseTime: 'riseTime', airTime: 'airTime', reach: 'reach', launchSpeed: 'launchSpeed', baseGravity: 'baseGravity', lowestHop: 'lowestHop' }; // prettier-ignore

/** The key that moves a measure most plainly: what is free where nothing else is said. */
const NATURAL: Readonly<Record<string, string>> = {
  runUp: 'run.upIn', runUpTime: 'run.upIn', stopping: 'run.stopIn', stoppingTime: 'run.stopIn', turnOvershoot: 'run.turnIn', turnTime: 'run.turnIn',
  apexHeight: 'jump.height', riseTime: 'jump.riseTime', airTime: 'gravity.falling', reach: 'run.speed', widestGap: 'run.speed', widestGapCoyote: 'grace.coyote',
  highestStep: 'jump.height', highestStepLip: 'grace.lip', highestLedge: 'ledge.hands', lowestHop: 'jump.lowestHop', hangTime: 'gravity.apex', touchdownSpeed: 'gravity.falling',
  dropToCap: 'gravity.fallSpeed', airSteer: 'run.air.upIn', airRecall: 'run.air.turnIn', coyoteAcross: 'grace.coyote', bufferAbove: 'grace.buffer',
  wallJumpRise: 'wall.jump.height', wallJumpOut: 'wall.jump.out', wallReturnTime: 'wall.jump.lock', wallGain: 'wall.jump.lock', widestShaft: 'wall.jump.out',
  glideRatio: 'glide.fallSpeed', glideRange: 'glide.budget', glideDrop: 'glide.budget',
}; // prettier-ignore

/**
 * Numbers for goals: those of the jump by their closed form, others by moving keys until every goal is met.
 * @param base the tuning to start from
 * @param goals what is wanted, by the id of a measure (as `sheet` has them) or by a goal's key of the jump (`height`, `riseTime`, …)
 * @param options.free the keys that may be moved; those that belong to the goals unless given
 * @throws RangeError naming a goal or a key that there is not; TuningError where the base is wrong
 */
export function design(
  base: Tuning,
  goals: Readonly<Record<string, number>>,
  { free }: { free?: readonly FreeKey[] } = {},
): Design {
  const wanted = Object.entries(goals).map(([id, value]) => ({ id, measure: JUMP[id] ?? id, value }));
  if (wanted.length === 0) throw new RangeError('no goal is given');
  for (const { id, value } of wanted)
    if (!Number.isFinite(value)) throw new RangeError(`${id} is ${value}; it must be a number`);
  const { tuning: start, searched, contradiction: refused } = closedForm(base, wanted);
  let evaluations = 1;
  let contradiction = refused;
  let tuning = start;
  const known = sheet(compileTuning(start));
  for (const { id, measure } of wanted)
    if (!known.some((one) => one.id === measure))
      throw new RangeError(`there is no measure ${id} in this tuning; there are ${[...Object.keys(JUMP), ...known.map((one) => one.id)].filter((id, i, all) => all.indexOf(id) === i).join(', ')}`);
  // What the closed form refuses may still be met by moving keys of the tuning as it is.
  const sought = refused === '' ? searched : wanted;
  const keys = keysFor(start, sought.map(({ measure }) => measure), free);
  if (sought.length > 0 && keys.length > 0) {
    // What no goal follows stays as it is; where that leads nowhere, it may be that none follows from just there.
    const moving = keys.filter(({ key }) => sensitivities(start, sought, [key], known).length > 0);
    evaluations += keys.length;
    let found = search(start, wanted, moving, FOR_SEARCH - evaluations);
    if (!found.met && moving.length < keys.length) {
      const further = search(start, wanted, keys, FOR_SEARCH - evaluations - found.evaluations);
      found = { ...(further.met ? further : found), evaluations: found.evaluations + further.evaluations };
    }
    if (refused === '' || found.met) tuning = found.tuning;
    if (found.met) contradiction = '';
    evaluations += found.evaluations;
  }
  const measures = sheet(compileTuning(tuning));
  const results = wanted.map(({ id, measure, value }): DesignGoal => {
    const { name, unit, value: got } = measures.find((one) => one.id === measure)!;
    return { id, name, unit, wanted: value, got, met: Math.abs(got - value) <= MET * Math.max(Math.abs(value), 1e-9) };
  });
  const missed = results.filter(({ met }) => !met);
  if (missed.length > 0 && contradiction === '') {
    const moved = keys.map(({ key }) => key).join(', ') || 'nothing that may be moved';
    contradiction = `${missed.map(({ id, wanted: want, got }) => `${id} comes to ${round(got)}, not ${round(want)}`).join('; ')}: with ${moved}, ${results.length === 1 ? `${results[0]!.id} comes no nearer` : `the goals ${results.map(({ id }) => id).join(', ')} cannot all be met`}`;
  }
  const changed = changedKeys(base, tuning);
  const sensitivity = missed.length > 0 ? [] : sensitivities(tuning, wanted, changed.map(({ key }) => key), measures);
  evaluations += sensitivity.length;
  return {
    tuning,
    goals: results,
    keys: changed,
    sensitivity,
    undecided: keys.map(({ key }) => key).filter((key) => !changed.some((one) => one.key === key)),
    contradiction,
    evaluations,
  };
} // prettier-ignore

type Wanted = { id: string; measure: string; value: number };

const round = (value: number): string => String(Number(value.toPrecision(6)));

/**
 * What the jump's own closed form takes: a sufficient pair of its goals, and the lowest hop. What is left is searched for, and so is everything where a
 * pair alone would leave a goal unmet.
 */
function closedForm(base: Tuning, wanted: readonly Wanted[]): { tuning: Tuning; searched: Wanted[]; contradiction: string } {
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
  let contradiction = '';
  if (pair.length > 0) {
    const jump: Record<string, unknown> = typeof base.jump === 'object' ? { ...base.jump } : {};
    const before = fillTuning(base).jump as unknown as Record<string, number | undefined>;
    for (const goal of GOALS) delete jump[goal];
    for (const { key, one } of pair) jump[key] = one.value;
    if (pair.length === 1) {
      const other = (sizes.includes(pair[0]!.key) ? times : sizes).find((key) => before[key] !== undefined);
      const filled = sizes.includes(pair[0]!.key) ? 'riseTime' : 'height';
      jump[other ?? filled] = other === undefined ? valueNow(base, JUMP[filled]!) : before[other];
    }
    tuning = { ...base, jump: jump as NonNullable<Tuning['jump']> };
  }
  const hop = wanted.find(({ id }) => id === 'lowestHop');
  if (hop) tuning = withKey(tuning, 'jump.lowestHop', hop.value);
  try {
    compileTuning(tuning);
  } catch (error) {
    if (!(error instanceof TuningError)) throw error;
    contradiction = error.message;
    tuning = base;
  }
  const settled = new Set([...pair.map(({ one }) => one.id), ...(hop ? ['lowestHop'] : [])]);
  return { tuning, searched: wanted.filter(({ id }) => !settled.has(id)), contradiction };
} // prettier-ignore

function valueNow(tuning: Tuning, measure: string): number {
  return sheet(compileTuning(tuning)).find(({ id }) => id === measure)!.value;
}

/** The keys to move: those that are free, or those that belong to the goals; each a number that the tuning has. */
function keysFor(tuning: Tuning, measures: readonly string[], free: readonly FreeKey[] | undefined): Required<FreeKey>[] {
  const full = fillTuning(tuning);
  const named =
    free ?? [...new Set(measures.map((measure) => NATURAL[measure]).filter((key): key is string => key !== undefined))].filter((key) => typeof valueOfKey(full, key) === 'number').map((key) => ({ key }));
  return named.map(({ key, least, most }: FreeKey) => {
    const entry = keyNamed(key);
    if (entry === undefined) throw new RangeError(`there is no key ${key} to be moved`);
    if (!('least' in entry) || 'of' in entry) throw new RangeError(`${key} is no number, so it cannot be moved`);
    const now = valueOfKey(full, key);
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
function search(start: Tuning, wanted: readonly Wanted[], keys: readonly Required<FreeKey>[], most: number): { tuning: Tuning; met: boolean; evaluations: number } {
  const full = fillTuning(start);
  let evaluations = 0;
  const scales = keys.map(({ key, least, most }) => {
    const now = valueOfKey(full, key) as number;
    const inside = between(now, least, most);
    return Math.abs(inside) > 1e-6 ? Math.abs(inside) : Math.min(1, most);
  });
  const begin = keys.map(({ key, least, most }, i) => between(valueOfKey(full, key) as number, least, most) / scales[i]!);
  const at = (place: readonly number[]): Tuning =>
    keys.reduce((tuning, { key, least, most }, i) => withKey(tuning, key, between(place[i]! * scales[i]!, least, most)), start);
  const cache = new Map<string, number[]>();
  const residuals = (place: readonly number[]): number[] => {
    const name = place.join();
    const known = cache.get(name);
    if (known) return known;
    let found: number[];
    evaluations++;
    try {
      const measures = new Map(sheet(compileTuning(at(place))).map(({ id, value }) => [id, value]));
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
  return [...names].flatMap((key) => {
    const [was, now] = [valueOfKey(before, key), valueOfKey(after, key)];
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
function sensitivities(tuning: Tuning, wanted: readonly Wanted[], keys: readonly string[], measures: readonly Measure[]): Design['sensitivity'] {
  const found: Design['sensitivity'] = [];
  for (const key of keys) {
    const value = valueOfKey(fillTuning(tuning), key) as number;
    const step = value === 0 ? 1e-4 : value * 1e-4;
    let moved: Motion;
    try {
      moved = compileTuning(withKey(tuning, key, value + step));
    } catch (error) {
      if (error instanceof TuningError) continue;
      throw error;
    }
    const after = sheet(moved);
    for (const { id, measure } of wanted) {
      const [was, now] = [measures, after].map((list) => list.find((one) => one.id === measure)?.value);
      if (was === undefined || now === undefined || was === 0) continue;
      const percent = ((now - was) / was) * 10_000;
      if (Math.abs(percent) > 1e-3) found.push({ id, key, percent });
    }
  }
  return found;
} // prettier-ignore
