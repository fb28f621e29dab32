import { fillTuning } from './fill.js';
import { GOALS } from './keys.js';
import { type Tuning, TuningError } from './tuning.js';

const isGoal = (key: string): boolean => (GOALS as readonly string[]).includes(key);

/**
 * A tuning with another one's differences. Naming two jump goals replaces all goals, naming one replaces its namesake.
 * @throws TuningError where the one goal named has no namesake
 * @example
 * ```ts
 * mergeTuning(brindle, { run: { speed: 9 } })
 * ```
 */
export function mergeTuning(base: Tuning, differences: Tuning): Tuning {
  const goals = typeof differences.jump === 'object' ? Object.keys(differences.jump).filter(isGoal) : [];
  // The two goals that the base was given or had filled in.
  const kept = Object.keys(
    fillTuning({ ...(base.tile === undefined ? {} : { tile: base.tile }), jump: base.jump ?? {} }).jump,
  ).filter(isGoal);
  if (goals.length === 1 && !kept.includes(goals[0]!)) {
    throw new TuningError(
      `jump.${goals[0]}`,
      `jump.${goals[0]} replaces no goal: the tuning it starts from has ${kept.map((key) => `jump.${key}`).join(' and ')}; name two goals to replace them all`,
    );
  }
  const start = structuredClone(base) as Record<string, unknown>;
  if (differences.jump === 'off' && typeof base.jump === 'object')
    return merge(start, { ...differences, jump: { off: true } }) as Tuning;
  if (goals.length >= 2 && typeof start.jump === 'object' && start.jump !== null)
    for (const goal of GOALS) delete (start.jump as Record<string, unknown>)[goal];
  return merge(start, differences as Record<string, unknown>) as Tuning;
}

/** One group with the differences of another; lists are replaced as a whole. */
function merge(base: Record<string, unknown>, differences: Record<string, unknown>): Record<string, unknown> {
  for (const [key, value] of Object.entries(differences)) {
    const before = base[key];
    if (Array.isArray(value)) {
      base[key] = value;
      continue;
    }
    const both = typeof value === 'object' && value !== null && typeof before === 'object' && before !== null;
    base[key] = both ? merge(before as Record<string, unknown>, value as Record<string, unknown>) : value;
  }
  return base;
}

/**
 * A tuning with one key changed.
 * @param key its dotted name, such as `jump.height`
 * @example
 * ```ts
 * withKey(brindle, 'jump.height', 4)
 * ```
 */
export function withKey(tuning: Tuning, key: string, value: unknown): Tuning {
  const names = key.split('.');
  const differences: Record<string, unknown> = {};
  let at = differences;
  for (const name of names.slice(0, -1)) at = (at[name] = {}) as Record<string, unknown>;
  at[names[names.length - 1]!] = value;
  return mergeTuning(tuning, differences as Tuning);
}
