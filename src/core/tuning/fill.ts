import {
  DEFAULT_HEIGHT,
  DEFAULT_RISE_TIME,
  GOALS,
  GROUPS,
  GROUP_WORDS,
  groupAllows,
  KEYS,
  isNotYet,
  keyNamed,
  rangeOf,
  scalesWithTile,
} from './keys.js';
import { TuningError, type FullTuning, type Tuning } from './tuning.js';

type Loose = Record<string, unknown>;

/**
 * Checks a tuning and fills in every default.
 * @throws TuningError naming the first key that is unknown, of the wrong type or out of range.
 */
export function fillTuning(tuning: Tuning): FullTuning {
  checkShape(tuning as Loose, '');
  const written = tuning as Loose;
  const tile = tuning.tile ?? 1;
  const full: Loose = {};
  for (const key of KEYS) {
    const given = valueAt(written, key.key);
    if (given !== undefined) put(full, key.key, given);
    else if (!('unit' in key)) put(full, key.key, key.choices[0]);
    else if (key.default !== undefined)
      put(full, key.key, scalesWithTile(key.unit) && key.key !== 'tile' ? key.default * tile : key.default);
  }
  const result = full as unknown as FullTuning;
  if (tuning.grace === 'off') result.grace = { coyote: 0, buffer: 0, corner: 0, lip: 0, lipSpeed: 0 };
  if (tuning.run?.air === 'locked') result.run.air = 'locked';
  else if (result.run.air !== 'locked') result.run.air.speed ??= result.run.speed;
  fillGoals(result, tile);
  const ramp = result.gravity.fallRamp as Partial<Record<'to' | 'over', number>> | undefined;
  if (ramp && ramp.to === undefined) throw missing('gravity.fallRamp.to');
  if (ramp && ramp.over === undefined) throw missing('gravity.fallRamp.over');
  return result;
}

/** With no goal both defaults are filled in, with one its usual partner, with more none. */
function fillGoals(full: FullTuning, tile: number): void {
  const goals = (full.jump ??= {} as FullTuning['jump']);
  const given = GOALS.filter((goal) => goals[goal] !== undefined);
  if (given.length > 1) return;
  const only = given[0];
  if (only === undefined || only === 'riseTime' || only === 'airTime' || only === 'reach')
    goals.height = DEFAULT_HEIGHT * tile;
  if (only === undefined || only === 'height' || only === 'baseGravity' || only === 'launchSpeed')
    goals.riseTime = DEFAULT_RISE_TIME;
}

/** Checks names, types and ranges, group by group. */
function checkShape(node: Loose, path: string): void {
  for (const name of Object.keys(node)) {
    const key = path === '' ? name : `${path}.${name}`;
    const value = node[name];
    if (value === undefined) continue;
    const entry = keyNamed(key);
    if (entry) checkValue(key, value);
    else if (isNotYet(key)) throw new TuningError(key, `${key} is not available yet in this version`);
    else if (GROUPS.includes(key)) {
      if (value === GROUP_WORDS[key]) continue;
      if (typeof value !== 'object' || value === null || Array.isArray(value))
        throw new TuningError(key, `${key} is ${show(value)}; it must be ${groupAllows(key)}`);
      checkShape(value as Loose, key);
    } else throw new TuningError(key, `there is no key ${key}`);
  }
}

function checkValue(key: string, value: unknown): void {
  const entry = keyNamed(key)!;
  const wrong = new TuningError(key, `${key} is ${show(value)}; it must be ${rangeOf(entry)}`);
  if (!('unit' in entry)) {
    if (typeof value !== 'string' || !entry.choices.includes(value)) throw wrong;
  } else {
    if (typeof value !== 'number') throw new TuningError(key, `${key} is ${show(value)}; it must be a number`);
    // Written so that NaN is refused.
    const inside = (entry.above ? value > entry.least : value >= entry.least) && value <= entry.most;
    if (!inside) throw wrong;
  }
}

function missing(key: string): TuningError {
  return new TuningError(key, `${key} is missing; a ramp needs both \`to\` and \`over\``);
}

function show(value: unknown): string {
  return typeof value === 'string'
    ? JSON.stringify(value)
    : Array.isArray(value)
      ? 'a list'
      : typeof value === 'object' && value !== null
        ? 'a group'
        : String(value);
}

function valueAt(node: Loose, key: string): unknown {
  let at: unknown = node;
  for (const name of key.split('.')) {
    if (typeof at !== 'object' || at === null) return undefined;
    at = (at as Loose)[name];
  }
  return at;
}

function put(node: Loose, key: string, value: unknown): void {
  const names = key.split('.');
  const last = names.pop()!;
  let at = node;
  for (const name of names) at = (at[name] ??= {}) as Loose;
  at[last] = value;
}
