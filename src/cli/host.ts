import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Host } from 'apperin/lab';
import { CallError } from './exit.js';

/** What a game adds to the stage: the function that its module exports, as `host` or by default. Its code is run; nothing but what the call names is. */
export async function loadHost(file: string): Promise<Host> {
  const path = resolve(file);
  if (!existsSync(path)) throw new CallError(`--host ${file}: there is no such file`);
  let module: { host?: unknown; default?: unknown };
  try {
    module = (await import(pathToFileURL(path).href)) as typeof module;
  } catch (error) {
    throw new CallError(`--host ${file}: it cannot be loaded: ${(error as Error).message.split('\n', 1)[0]}`);
  }
  const host = module.host ?? module.default;
  if (typeof host !== 'function') throw new CallError(`--host ${file}: it must export a function host, which is given the stage and the character`); // prettier-ignore
  return host as Host;
}
