import type { Ability, Motion, Tuning } from '../core/index.js';

/** The abilities of a game that a tuning has numbers for, and that are not here. */
export function missingAbilities(motion: Motion, abilities: readonly Ability[] = []): string[] {
  return Object.keys(motion.full.own).filter((name) => !abilities.some((one) => one.name === name));
}

/** A tuning without the numbers of abilities that are not here: they belong to a game that has them. */
export function withoutMissing(motion: Motion, abilities: readonly Ability[] = []): Motion {
  const missing = missingAbilities(motion, abilities);
  return missing.length === 0 ? motion : { ...motion, full: { ...motion.full, own: only(motion.full.own, missing) } };
}

/** The same of a tuning that is not compiled. */
export function tuningWithoutMissing(tuning: Tuning, abilities: readonly Ability[] = []): Tuning {
  if (tuning.own === undefined) return tuning;
  const missing = Object.keys(tuning.own).filter((name) => !abilities.some((one) => one.name === name));
  return missing.length === 0 ? tuning : { ...tuning, own: only(tuning.own, missing) };
}

function only<T>(own: Readonly<Record<string, T>>, missing: readonly string[]): Record<string, T> {
  return Object.fromEntries(Object.entries(own).filter(([name]) => !missing.includes(name)));
}
