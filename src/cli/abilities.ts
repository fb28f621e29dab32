import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Ability, Motion } from 'apperin';
import { missingAbilities, takeAbilities } from 'apperin/lab';
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
    try {
      takeAbilities(module, found);
    } catch (error) {
      throw new CallError(`--abilities ${file}: ${(error as Error).message}`);
    }
  }
  return found;
} // prettier-ignore

/** The abilities that this call knows. */
export function abilitiesHere(): readonly Ability[] {
  return call().abilities;
}

/** The actions that they can be asked by. */
export function actionsHere(): string[] {
  return abilitiesHere().flatMap(({ spec }) => spec.actions ?? []);
}

/** Says which abilities of a tuning are not here: what needs them is left out. */
export function remarkMissing(motion: Motion, done: string, options: Pick<Shared, 'quiet' | 'json'>): void {
  const missing = missingAbilities(motion, abilitiesHere());
  if (missing.length === 0) return;
  remark(`${done} without ${missing.join(', ')}: abilities of a game are not known here; --abilities names their module`, options.quiet || options.json); // prettier-ignore
}
