import {
  KEYS,
  TuningError,
  fillTuning,
  keyNamed,
  valueOfKey,
  withKey,
  type NumberKey,
  type Tuning,
} from '../core/index.js';
import { closest } from 'fastest-levenshtein';
import { nearest } from './nearest.js';

/** An entry of a list of numbers is a key too, counted from 1: `airJumps.heights.2` is the second air jump's. */
const ENTRY = /^(.+)\.([1-9]\d?)$/;

/** The list that a key is an entry of, and which; undefined where it is none. */
export function entryOf(key: string): { list: string; index: number } | undefined {
  const [, list, number] = ENTRY.exec(key) ?? [];
  const whole = list === undefined ? undefined : keyNamed(list);
  return whole && 'of' in whole && 'least' in whole.of ? { list: list!, index: Number(number) - 1 } : undefined;
}

/** The value of a key, or of an entry of a list. */
export function valueAt(node: object, key: string): unknown {
  const entry = entryOf(key);
  if (entry === undefined) return valueOfKey(node, key);
  return (valueOfKey(node, entry.list) as readonly unknown[] | undefined)?.[entry.index];
}

/**
 * A tuning with another value for a key, or for an entry of a list.
 * @throws TuningError where there is no such entry, or a goal replaces none
 */
export function withValue(tuning: Tuning, key: string, value: unknown): Tuning {
  const entry = entryOf(key);
  if (entry === undefined) return withKey(tuning, key, value);
  const entries = (valueOfKey(fillTuning(tuning), entry.list) as readonly unknown[] | undefined)?.slice() ?? [];
  if (entry.index >= entries.length)
    throw new TuningError(key, `there is no ${key}: ${entry.list} has ${entries.length || 'no'} entries`);
  entries[entry.index] = value;
  return withKey(tuning, entry.list, entries);
}

/** The range of a key that is a number, or of an entry of a list of numbers; undefined of all others. */
export function rangeAt(key: string): NumberKey | undefined {
  const whole = keyNamed(entryOf(key)?.list ?? key);
  if (whole === undefined) return undefined;
  const one = 'of' in whole && entryOf(key) ? whole.of : whole;
  return 'least' in one ? one : undefined;
}

/** Whether there is such a key: of the tuning, an entry of a list, or a number of an ability of the game's own. */
export function isKey(key: string): boolean {
  return keyNamed(key) !== undefined || entryOf(key) !== undefined || /^own\.[^.]+\.[^.]+$/.test(key);
}

/**
 * What to say about a key that does not exist, or not yet.
 * @example
 * ```ts
 * unknownKey('run.sped') // with the nearest that there is
 * ```
 */
export function unknownKey(key: string): string {
  const parent = key.slice(0, key.lastIndexOf('.') + 1);
  const names = KEYS.map((entry) => entry.key);
  const siblings = [
    ...new Set(
      names.filter((name) => name.startsWith(parent)).map((name) => parent + name.slice(parent.length).split('.')[0]!),
    ),
  ];
  const last = key.slice(parent.length);
  const alike = names.filter((name) => name.endsWith(`.${last}`));
  const meant = nearest(key, siblings) ?? (alike.length > 0 ? closest(key, alike) : nearest(key, names));
  return `there is no key ${key}${meant ? `; did you mean ${meant}?` : ''}`;
}
