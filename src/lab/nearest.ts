import { closest, distance } from 'fastest-levenshtein';

/**
 * The nearest of some names, if it is near enough to be meant.
 * @example
 * ```ts
 * nearest('sped', ['speed', 'feel']) // 'speed'
 * ```
 */
export function nearest(name: string, names: readonly string[]): string | undefined {
  if (names.length === 0) return undefined;
  const best = closest(name, names);
  return distance(name, best) <= Math.max(1, Math.floor(Math.max(name.length, best.length) / 3)) ? best : undefined;
}
