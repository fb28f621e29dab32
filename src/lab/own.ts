import { actionNumber, type Ability, type Motion, type OwnNumber, type Tuning } from '../core/index.js';
import { nearest } from './nearest.js';

/**
 * The abilities of a game that a tuning has numbers for, and that are not here.
 * @example
 * ```ts
 * missingAbilities(compileTuning({ own: { dash: { speed: 20 } } })) // ['dash']
 * ```
 */
export function missingAbilities(motion: Motion, abilities: readonly Ability[] = []): string[] {
  return Object.keys(motion.full.own).filter((name) => !abilities.some((one) => one.name === name));
}

/**
 * A tuning without the numbers of abilities that are not here: they belong to a game that has them.
 * @example
 * ```ts
 * withoutMissing(motion)
 * ```
 */
export function withoutMissing(motion: Motion, abilities: readonly Ability[] = []): Motion {
  const missing = missingAbilities(motion, abilities);
  return missing.length === 0 ? motion : { ...motion, full: { ...motion.full, own: only(motion.full.own, missing) } };
}

/**
 * The same of a tuning that is not compiled.
 * @example
 * ```ts
 * tuningWithoutMissing({ own: { dash: { speed: 20 } } }) // without what nobody knows
 * ```
 */
export function tuningWithoutMissing(tuning: Tuning, abilities: readonly Ability[] = []): Tuning {
  if (tuning.own === undefined) return tuning;
  const missing = Object.keys(tuning.own).filter((name) => !abilities.some((one) => one.name === name));
  return missing.length === 0 ? tuning : { ...tuning, own: only(tuning.own, missing) };
}

function only<T>(own: Readonly<Record<string, T>>, missing: readonly string[]): Record<string, T> {
  return Object.fromEntries(Object.entries(own).filter(([name]) => !missing.includes(name)));
}

/**
 * Adds the abilities that a module exports, whatever it calls them: those that `ability` made, alone or in lists.
 * @throws Error where there are none, or two of one name
 * @example
 * ```ts
 * const known: Ability[] = [];
 * takeAbilities({ hover: ability('hover', { act: () => undefined }) }, known);
 * ```
 */
export function takeAbilities(module: Readonly<Record<string, unknown>>, into: Ability[]): void {
  const all = Object.values(module).flat().filter(isAbility);
  if (all.length === 0) throw new Error('it exports no ability; `ability(name, { … })` makes one');
  for (const one of all) {
    if (into.includes(one)) continue;
    if (into.some(({ name }) => name === one.name)) throw new Error(`there are two abilities named ${one.name}`);
    into.push(one);
    // The module may have another copy of the library: its actions are known here from now on.
    for (const action of one.spec.actions ?? []) actionNumber(action);
  }
}

function isAbility(one: unknown): one is Ability {
  const { name, spec, view } = (one ?? {}) as Partial<Ability>;
  return typeof name === 'string' && typeof spec?.act === 'function' && typeof view === 'function';
}

/**
 * The numbers that a tuning may set of an ability, by name.
 * @example
 * ```ts
 * ownTable(ability('hover', { own: { lift: 2 }, act: () => undefined }).spec)
 * ```
 */
export function ownTable(spec: Ability['spec']): Readonly<Record<string, number | OwnNumber>> {
  return typeof spec.own === 'object' && spec.own !== null ? (spec.own as Record<string, number | OwnNumber>) : {};
}

/**
 * What is wrong with a number of an ability; undefined where nothing is.
 * @example
 * ```ts
 * wrongOwn(ability('hover', { own: { lift: 2 }, act: () => undefined }), 'lift', 'high') // what is wrong with it
 * ```
 */
export function wrongOwn(
  { name, spec }: Pick<Ability, 'name' | 'spec'>,
  key: string,
  value: unknown,
): string | undefined {
  const table = ownTable(spec);
  if (!(key in table)) {
    const meant = nearest(key, Object.keys(table));
    return `own.${name}.${key}: the ability ${name} has no such number; ${meant ? `did you mean ${meant}?` : `it has ${Object.keys(table).join(', ') || 'none'}`}`;
  }
  const given = table[key]!;
  const { least = 0, most = Infinity } = typeof given === 'number' ? {} : given;
  if (typeof value === 'number' && value >= least && value <= most) return undefined;
  return `own.${name}.${key} is ${String(value)}; it must be at least ${least}${most < Infinity ? ` and at most ${most}` : ''}`;
}
