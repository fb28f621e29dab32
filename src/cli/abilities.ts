import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { actionNumber, type Ability, type Motion, type Tuning } from 'apperin';
import { FileError, type Problem, type TuningFile } from 'apperin/files';
import { missingAbilities, nearest } from 'apperin/lab';
import { call } from './call.js';
import { CallError } from './exit.js';
import type { Shared } from './options.js';
import { remark } from './print.js';

/**
 * The abilities of a game that a call names the modules of: everything that these export and that `ability` made, alone or in lists.
 * Their code is run; nothing but what the call names is.
 */
export async function loadAbilities(files: readonly string[]): Promise<Ability[]> {
  const found: Ability[] = [];
  for (const file of files) {
    const path = resolve(file);
    if (!existsSync(path)) throw new CallError(`--abilities ${file}: there is no such file`);
    let module: Record<string, unknown>;
    try {
      module = (await import(pathToFileURL(path).href)) as Record<string, unknown>;
    } catch (error) {
      throw new CallError(`--abilities ${file}: it cannot be loaded: ${(error as Error).message.split('\n', 1)[0]}`);
    }
    const all = Object.values(module).flat().filter(isAbility);
    if (all.length === 0) throw new CallError(`--abilities ${file}: it exports no ability; \`ability(name, { … })\` makes one`);
    for (const one of all) if (!found.includes(one)) found.push(one);
  }
  for (const [i, { name }] of found.entries())
    if (found.findIndex((one) => one.name === name) < i) throw new CallError(`--abilities: there are two abilities named ${name}`);
  // The module may have another copy of the library: its actions are known here from now on.
  for (const { spec } of found) for (const action of spec.actions ?? []) actionNumber(action);
  return found;
} // prettier-ignore

function isAbility(one: unknown): one is Ability {
  const { name, spec, view } = (one ?? {}) as Partial<Ability>;
  return typeof name === 'string' && typeof spec?.act === 'function' && typeof view === 'function';
}

/** The abilities that this call knows. */
export function abilitiesHere(): readonly Ability[] {
  return call().abilities;
}

/** The actions that they can be asked by. */
export function actionsHere(): string[] {
  return abilitiesHere().flatMap(({ spec }) => spec.actions ?? []);
}

/**
 * Whether the numbers under `own` are such as the abilities that are here have.
 * @throws FileError with the place of each that is not
 */
export function checkOwn(tuning: Tuning, file: string, { placeOf, line }: Pick<TuningFile, 'placeOf' | 'line'>): void {
  const problems: Problem[] = [];
  for (const [name, numbers] of Object.entries(tuning.own ?? {})) {
    const one = abilitiesHere().find((ability) => ability.name === name);
    if (!one) continue;
    for (const [key, value] of Object.entries(numbers)) {
      const wrong = wrongOwn(one, key, value);
      if (wrong === undefined) continue;
      const place = placeOf(`own.${name}.${key}`);
      problems.push({ file, ...place, message: wrong, source: line(place.line), severity: 'error' });
    }
  }
  if (problems.length > 0) throw new FileError(problems);
}

/** What is wrong with a number of an ability; undefined where nothing is. */
export function wrongOwn({ name, spec }: Ability, key: string, value: unknown): string | undefined {
  const table: Readonly<Record<string, unknown>> = typeof spec.own === 'object' && spec.own !== null ? (spec.own as Record<string, unknown>) : {}; // prettier-ignore
  if (!(key in table)) {
    const meant = nearest(key, Object.keys(table));
    return `own.${name}.${key}: the ability ${name} has no such number; ${meant ? `did you mean ${meant}?` : `it has ${Object.keys(table).join(', ') || 'none'}`}`;
  }
  const given = table[key] as number | { least?: number; most?: number };
  const { least = 0, most = Infinity } = typeof given === 'number' ? {} : given;
  if (typeof value === 'number' && value >= least && value <= most) return undefined;
  return `own.${name}.${key} is ${String(value)}; it must be at least ${least}${most < Infinity ? ` and at most ${most}` : ''}`;
}

/** Says which abilities of a tuning are not here: what needs them is left out. */
export function remarkMissing(motion: Motion, done: string, options: Pick<Shared, 'quiet' | 'json'>): void {
  const missing = missingAbilities(motion, abilitiesHere());
  if (missing.length === 0) return;
  remark(`${done} without ${missing.join(', ')}: abilities of a game are not known here; --abilities names their module`, options.quiet || options.json); // prettier-ignore
}
