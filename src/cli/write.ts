import { existsSync, readFileSync, realpathSync, rmSync, statSync, type Stats } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import { kindOfEntry, reason } from '../disk/read.js';
import { ChangedError, replaceFile } from '../disk/replace.js';
import { call } from './call.js';
import { CallError } from './exit.js';
import { kindOf, kindOfText, type Kind } from './kinds.js';

const isFigure = (head: string): boolean =>
  /^<svg [^>]*\brole="img"[^>]*>\s*<title>[^<]*<\/title>\s*<desc>/.test(head) || head.startsWith('\uFFFDPNG\r\n');

/** What is written, and how a file of that sort is told: one that is not of it is never replaced. */
const MADE = {
  trace: { says: 'a trace', is: (head: string) => head.startsWith('tick,time,x,y,') },
  events: { says: 'events', is: (head: string) => /^\{.*"event":/.test(lineOf(head)) },
  pieces: { says: 'pieces of motion', is: (head: string) => /^\{"from":.*"until":/.test(lineOf(head)) },
  figure: { says: 'a figure', is: isFigure },
  report: {
    says: 'a report',
    is: (head: string) => /^<!doctype html>/i.test(head) && head.includes('name="generator" content="Apperin"'),
  },
  checks: { says: 'results of verify', is: (head: string) => head.startsWith('<?xml') && head.includes('<testsuites') },
  edges: { says: 'compiled edges', is: (head: string) => /^\{\s*("title":[^\n]*\n\s*)?"yPoints":/.test(head) },
  survey: { says: 'a survey', is: (head: string) => /^\{\s*"version":[^]*"hashes":/.test(head) },
  search: { says: 'a search', is: (head: string) => head.startsWith('{"version":1,"plan":"') },
  sheet: { says: 'a sheet', is: (head: string) => head.startsWith('measure ') },
  tuning: { says: 'a tuning', is: (head: string) => kindOfText(head) === 'tuning' },
  level: { says: 'a level', is: (head: string) => kindOfText(head) === 'level' && !isFigure(head) },
  input: { says: 'an input', is: (head: string) => kindOfText(head) === 'input' },
  frames: { says: 'numbers by frames', is: (head: string) => kindOfText(head) === 'frames' },
} as const;

/** What an output is. */
export type Made = keyof typeof MADE;

const lineOf = (text: string): string => text.slice(0, 4096).split('\n', 1)[0]!;

/** What the names of our own files say, of those that are written as well as read. */
const NAMED: Partial<Record<Made, Kind>> = { tuning: 'tuning', level: 'level', input: 'input', frames: 'frames' };

/** As much of a file as tells what it is, characters. */
const HEAD = 8192;

/**
 * Says what is wrong with an output before any work is done for it: it may not be an input or another output of the call, nor replace what is no file
 * or a file of another sort.
 */
export function refuseOutput(file: string, made: Made): void {
  if (file === '-') return;
  const refuse = (why: string): never => {
    throw new CallError(`${file} is not written: ${why}`);
  };
  const kind = kindOf(file);
  if (kind !== undefined && kind !== NAMED[made]) refuse(`its name says that it is of another kind (${kind}) than ${MADE[made].says}`);
  const entry = entryAt(file, refuse);
  const { inputs, outputs } = call();
  const key = keyOf(file, entry);
  if (inputs.has(key)) refuse(`it is ${inputs.get(key) === file ? 'what this call reads' : `${inputs.get(key)}, which this call reads`}; name another file`);
  if (outputs.has(key)) refuse(`this call has written ${outputs.get(key)} there; name another file`);
  if (!entry) return;
  if (!entry.isFile()) refuse(`it is ${kindOfEntry(entry)}, and no file; - stands for standard output`);
  if (entry.size > 0 && !isOf(made, file)) refuse(`what is there already is something else than ${MADE[made].says}; name another file, or move it away`);
} // prettier-ignore

function entryAt(file: string, refuse: (why: string) => never): Stats | undefined {
  try {
    return statSync(file);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    return code === 'ENOENT' ? undefined : refuse(reason(error));
  }
}

function isOf(made: Made, file: string): boolean {
  try {
    const head = readFileSync(file).subarray(0, HEAD).toString('utf8').replace(/^\uFEFF/, '');
    return MADE[made].is(head);
  } catch {
    return false;
  }
} // prettier-ignore

/** What tells a file from all others, whatever it is called. */
export function keyOf(file: string, entry: Stats | undefined): string {
  if (entry) return `${entry.dev}:${entry.ino}`;
  const path = resolve(file);
  try {
    return join(realpathSync(dirname(path)), basename(path));
  } catch {
    return path;
  }
}

/**
 * Writes an output that was named: whole or not at all. `-` is standard output.
 * @param options.fresh there must be no such file yet
 */
export async function writeOutput(file: string, made: Made, data: string | Uint8Array, options: { fresh?: boolean } = {}): Promise<void> {
  if (file === '-') return call().out(data);
  refuseOutput(file, made);
  try {
    await replaceFile(file, data, options);
  } catch (error) {
    throw new CallError(error instanceof ChangedError ? `${file} is there already; name another file` : `${file} cannot be written: ${reason(error)}`);
  }
  call().outputs.set(keyOf(file, statSync(file)), file);
} // prettier-ignore

/** An output that the call did not name. */
export interface Beside {
  file: string;
  made: Made;
  data: string | Uint8Array;
}

/**
 * Writes outputs that were not named, as the files beside one that was: they replace nothing. Where there is something else of that name, they get a
 * number, all the same one.
 * @returns their names
 */
export async function writeBeside(outputs: readonly Beside[]): Promise<string[]> {
  for (let number = 1; ; number++) {
    const names = outputs.map(({ file }) => numbered(file, number));
    if (!names.every((name, i) => isFree(name, outputs[i]!.data))) continue;
    for (const [i, { made, data }] of outputs.entries())
      if (!existsSync(names[i]!)) await writeOutput(names[i]!, made, data, { fresh: true });
    return names;
  }
}

/** Whether nothing is there, or the very same. */
function isFree(file: string, data: string | Uint8Array): boolean {
  if (!existsSync(file)) return true;
  try {
    return statSync(file).isFile() && readFileSync(file).equals(Buffer.from(data as Uint8Array));
  } catch {
    return false;
  }
}

/** `envelope.level.yaml` by the number 2 is `envelope-2.level.yaml`. */
function numbered(file: string, number: number): string {
  if (number === 1) return file;
  const name = basename(file);
  const dot = name.indexOf('.', 1);
  return join(dirname(file), dot < 0 ? `${name}-${number}` : `${name.slice(0, dot)}-${number}${name.slice(dot)}`);
}

/** Writes what the call named, or else under a name that replaces nothing. @returns the file */
export async function writeNamedOr(named: string | undefined, usual: string, made: Made, data: string | Uint8Array): Promise<string> {
  if (named === undefined) return (await writeBeside([{ file: usual, made, data }]))[0]!;
  await writeOutput(named, made, data);
  return named;
} // prettier-ignore

/** Writes files of which there may be none yet: all of them, or none. */
export async function writeStarters(files: readonly (readonly [file: string, text: string])[]): Promise<void> {
  const written: string[] = [];
  try {
    for (const [file, text] of files) {
      await replaceFile(file, text, { fresh: true });
      written.push(file);
    }
  } catch (error) {
    for (const file of written) rmSync(file, { force: true });
    throw new CallError(`nothing was written: ${files[written.length]![0]}: ${reason(error)}`);
  }
}
