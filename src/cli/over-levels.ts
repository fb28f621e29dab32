import { existsSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { globSync, isDynamicPattern } from 'tinyglobby';
import type { WrittenPromise } from 'apperin/files';
import { CallError } from './exit.js';

/**
 * Promises of which one is said of many levels (`level: rooms/*.level.yaml`) as one for each of them, in the order of their names.
 * @param file where they are written: names are from its folder
 */
export function overLevels(promises: readonly WrittenPromise[], file: string): WrittenPromise[] {
  return promises.flatMap((promise) => {
    const { level, name, line } = promise;
    // A file that is called so is meant, whatever marks its name has.
    if (level === undefined || !isDynamicPattern(level) || existsSync(join(dirname(file), level))) return [promise];
    const found = globSync(level, { cwd: dirname(file), onlyFiles: true, expandDirectories: false, dot: false })
      .filter((one) => /\.level\.(yaml|svg)$/.test(one))
      .sort((one, other) => (one < other ? -1 : 1));
    if (found.length === 0) throw new CallError(`${file}:${line}: there is no level ${level}`);
    return found.map((one) => ({ ...promise, level: one, name: `${name}: ${basename(one).replace(/\.level\.(yaml|svg)$/, '')}` }));
  });
} // prettier-ignore
