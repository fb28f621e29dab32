import { statSync } from 'node:fs';
import { basename, dirname, resolve } from 'node:path';
import { GROUP_WORDS, KEYS, TuningError, type Tuning } from 'apperin';
import {
  CAPTURE_LIMITS,
  FRAMES_LIMITS,
  INPUT_LIMITS,
  KEYS_LIMITS,
  LEVEL_LIMITS,
  PROMISES_LIMITS,
  TUNING_LIMITS,
  FileError,
  decodeText,
  mergeTuning,
  readCapture,
  readFrames,
  readInput,
  readKeys,
  readLevel,
  readPromises,
  readTuning,
  type CaptureColumns,
  type InputFile,
  type KeysFile,
  type LevelFile,
  type PromisesFile,
  type TuningFile,
} from 'apperin/files';
import { unknownKey, wrongOwn } from 'apperin/lab';
import { parse } from 'yaml';
import { TooLongError, readRegular, reason } from '../disk/read.js';
import { abilitiesHere, actionsHere } from './abilities.js';
import { call } from './call.js';
import { CallError } from './exit.js';
import { SUFFIXES, kindOf, kindOfText, type Kind } from './kinds.js';
import type { Shared } from './options.js';
import { keyOf } from './write.js';

/** What a file of a call is: by its name, or standard input (`-`) by what is in it. */
export function kindGiven(file: string): Kind | undefined {
  return file === '-' ? kindOfText(text(file, INPUT_LIMITS.length)) : kindOf(file);
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
    capture: [],
  };
  const all = [...files, ...Object.values(sorted).flat()];
  if (all.filter((file) => file === '-').length > 1)
    throw new CallError('standard input (-) can be read for one file only');
  for (const file of files) {
    const kind = kindGiven(file);
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

/** How standard input is called in messages. */
const STDIN = 'standard input';

/** The bytes of a file that this call reads; `-` is standard input. */
function bytesOf(file: string, most: number): Uint8Array {
  if (file === '-') return stdinOf(most);
  try {
    const bytes = readRegular(file, most);
    call().inputs.set(keyOf(file, statSync(file)), file);
    return bytes;
  } catch (error) {
    throw new CallError(`${file}${error instanceof TooLongError ? ':1:1' : ''}: ${reason(error)}`);
  }
}

function stdinOf(most: number): Uint8Array {
  try {
    return call().stdin(most);
  } catch (error) {
    throw new CallError(`${STDIN}: ${reason(error)}`);
  }
}

/** The text of a file that this call reads. */
function text(file: string, most: number): string {
  return decodeText(bytesOf(file, most), nameOf(file), most);
}

const nameOf = (file: string): string => (file === '-' ? STDIN : file);

export function loadTuning(
  file: string,
  sets: readonly string[] = [],
): TuningFile & { name: string; file: string; text: string } {
  const open = (name: string, from: string): { text: string; file: string } => {
    const path = resolve(dirname(from), name);
    return { text: text(path, TUNING_LIMITS.length), file: path };
  };
  const written = text(file, TUNING_LIMITS.length);
  const read = readTuning(written, { file: nameOf(file), open, abilities: abilitiesHere() });
  return {
    ...read,
    text: written,
    tuning: applySets(read.tuning, sets),
    name: file === '-' ? 'tuning' : basename(file).replace(/\.tuning\.(yaml|json)$/, ''),
    file,
  };
}

export function loadLevel(file: string): LevelFile {
  return readLevel(text(file, LEVEL_LIMITS.length), { file: nameOf(file) });
}

export function loadInput(file: string): InputFile {
  try {
    return readInput(text(file, INPUT_LIMITS.length), { file: nameOf(file), actions: actionsHere() });
  } catch (error) {
    if (error instanceof FileError && error.problems.some(({ message }) => message.startsWith('there is no action')))
      call().err("(Actions of a game's own abilities are known where --abilities names their module.)\n");
    throw error;
  }
}

export function loadCapture(file: string, columns: CaptureColumns): ReturnType<typeof readCapture> {
  return readCapture(text(file, CAPTURE_LIMITS.length), { file: nameOf(file), ...columns });
}

export function loadKeys(file: string): KeysFile {
  return readKeys(text(file, KEYS_LIMITS.length), { file: nameOf(file) });
}

export function loadFrames(file: string): ReturnType<typeof readFrames> {
  return readFrames(text(file, FRAMES_LIMITS.length), { file: nameOf(file) });
}

export function loadPromises(file: string): PromisesFile {
  return readPromises(text(file, PROMISES_LIMITS.length), { file: nameOf(file) });
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
    const names = key.split('.');
    if (names[0] === 'own' && names.length === 3) {
      const ability = abilitiesHere().find(({ name }) => name === names[1]);
      const number = plainValue(set, value);
      const wrong = ability ? wrongOwn(ability, names[2]!, number) : typeof number === 'number' ? undefined : `${key} is ${value}; it must be a number`; // prettier-ignore
      if (wrong !== undefined) throw new CallError(`--set ${set}: ${wrong}`);
    } else if (!KEYS.some((entry) => entry.key === key) && !Object.hasOwn(GROUP_WORDS, key))
      throw new CallError(`--set ${set}: ${unknownKey(key)}`);
    const last = names.pop()!;
    let at = differences;
    for (const name of names) at = (at[name] ??= {}) as Record<string, unknown>;
    at[last] = plainValue(set, value);
  }
  try {
    return mergeTuning(tuning, differences as Tuning);
  } catch (error) {
    if (error instanceof TuningError) throw new CallError(`--set: ${error.message}`, { cause: error });
    throw error;
  }
}
