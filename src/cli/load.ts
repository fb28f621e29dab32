import { readFileSync, statSync } from 'node:fs';
import { basename, dirname, resolve } from 'node:path';
import { GROUP_WORDS, KEYS, TuningError, type Tuning } from '../core/index.js';
import {
  FRAMES_LIMITS,
  INPUT_LIMITS,
  KEYS_LIMITS,
  LEVEL_LIMITS,
  PROMISES_LIMITS,
  TUNING_LIMITS,
  decodeText,
  mergeTuning,
  readFrames,
  readInput,
  readKeys,
  readLevel,
  readPromises,
  readTuning,
  unknownKey,
  type InputFile,
  type KeysFile,
  type LevelFile,
  type PromisesFile,
  type TuningFile,
} from '../files/index.js';
import { parse } from 'yaml';
import { CallError } from './exit.js';
import type { Shared } from './main.js';

export type Kind = 'tuning' | 'level' | 'input' | 'keys' | 'promises' | 'frames';

const SUFFIXES: readonly [string, Kind][] = [
  ['.tuning.yaml', 'tuning'],
  ['.tuning.json', 'tuning'],
  ['.level.yaml', 'level'],
  ['.level.svg', 'level'],
  ['.input.csv', 'input'],
  ['.keys.yaml', 'keys'],
  ['.promises.yaml', 'promises'],
  ['.frames.yaml', 'frames'],
];

/** What a file is, by its suffix. */
export function kindOf(file: string): Kind | undefined {
  return SUFFIXES.find(([suffix]) => file.endsWith(suffix))?.[1];
}

/** The files of a call, sorted by kind: those given by position and those given by option. */
export function sortFiles(files: readonly string[], options: Shared): Record<Kind, string[]> {
  const sorted: Record<Kind, string[]> = {
    tuning: [...(options.tuning ?? [])],
    level: [...(options.level ?? [])],
    input: [...(options.input ?? [])],
    keys: [],
    promises: [],
    frames: [],
  };
  for (const file of files) {
    const kind = kindOf(file);
    if (!kind)
      throw new CallError(
        `${file}: what this file is cannot be told from its name; the names end in ${SUFFIXES.map(([suffix]) => suffix).join(', ')}`,
      );
    sorted[kind].push(file);
  }
  return sorted;
}

/** The one file of a kind that a command wants. */
export function only(kind: Kind, files: readonly string[], need: boolean): string | undefined {
  if (files.length > 1) throw new CallError(`one ${kind} is wanted, not ${files.length}: ${files.join(', ')}`);
  if (need && files.length === 0)
    throw new CallError(`a ${kind} is wanted: name a file that ends in ${SUFFIXES.find(([, of]) => of === kind)![0]}`);
  return files[0];
}

function text(file: string, most: number): string {
  let bytes: Uint8Array;
  try {
    const { size } = statSync(file);
    if (size > most) throw new CallError(`${file}:1:1: the file has ${size} bytes; at most ${most} are read`);
    bytes = readFileSync(file);
  } catch (error) {
    if (error instanceof CallError) throw error;
    throw new CallError(`${file}: ${reason(error)}`);
  }
  return decodeText(bytes, file, most);
}

/** Why the system refused, in words. */
export function reason(error: unknown): string {
  const { code } = error as NodeJS.ErrnoException;
  const words: Record<string, string> = {
    ENOENT: 'there is no such file',
    EISDIR: 'this is a folder',
    EACCES: 'permission denied',
    ENOTDIR: 'a part of the path is not a folder',
    EEXIST: 'there is a file of that name',
  };
  return (code && words[code]) ?? (error instanceof Error ? error.message : String(error));
}

export function loadTuning(file: string, sets: readonly string[] = []): TuningFile & { name: string; file: string } {
  const open = (name: string, from: string): { text: string; file: string } => {
    const path = resolve(dirname(from), name);
    return { text: text(path, TUNING_LIMITS.length), file: path };
  };
  const read = readTuning(text(file, TUNING_LIMITS.length), { file, open });
  return {
    ...read,
    tuning: applySets(read.tuning, sets),
    name: basename(file).replace(/\.tuning\.(yaml|json)$/, ''),
    file,
  };
}

export function loadLevel(file: string): LevelFile {
  return readLevel(text(file, LEVEL_LIMITS.length), { file });
}

export function loadInput(file: string): InputFile {
  return readInput(text(file, INPUT_LIMITS.length), { file });
}

export function loadKeys(file: string): KeysFile {
  return readKeys(text(file, KEYS_LIMITS.length), { file });
}

export function loadFrames(file: string): ReturnType<typeof readFrames> {
  return readFrames(text(file, FRAMES_LIMITS.length), { file });
}

export function loadPromises(file: string): PromisesFile {
  return readPromises(text(file, PROMISES_LIMITS.length), { file });
}

/** A value on the command line: a number, a word, or a list as in YAML. */
function plainValue(set: string, value: string): unknown {
  try {
    return parse(value);
  } catch {
    throw new CallError(`--set ${set}: ${value} is neither a number, a word, nor a list such as [2, 1.5]`);
  }
}

/** A tuning with the keys of `--set`; several jump goals are set together. */
export function applySets(tuning: Tuning, sets: readonly string[]): Tuning {
  if (sets.length === 0) return tuning;
  const differences: Record<string, unknown> = {};
  for (const set of sets) {
    const [, key, value] = /^([^=]+)=(.*)$/.exec(set) ?? [];
    if (key === undefined || value === undefined || value === '')
      throw new CallError(`--set ${set}: it must be key=value, e.g. run.speed=8`);
    if (!KEYS.some((entry) => entry.key === key) && !(key in GROUP_WORDS))
      throw new CallError(`--set ${set}: ${unknownKey(key)}`);
    const names = key.split('.');
    const last = names.pop()!;
    let at = differences;
    for (const name of names) at = (at[name] ??= {}) as Record<string, unknown>;
    at[last] = plainValue(set, value);
  }
  try {
    return mergeTuning(tuning, differences as Tuning);
  } catch (error) {
    if (error instanceof TuningError) throw new CallError(`--set: ${error.message}`);
    throw error;
  }
}
