import {
  KEYS,
  TuningError,
  compileTuning,
  groupAllows,
  keyNamed,
  mergeTuning,
  rangeOf,
  showValue,
  type Ability,
  type Motion,
  type Tuning,
} from '../core/index.js';
import { FileError, type Problem } from './problem.js';
import { tuningSchema } from './tuning-schema.js';
import { at, issuesOf, parseYaml, type YamlFile, type Issue } from './yaml.js';
import { unknownKey } from '../lab/entries.js';
import { wrongOwn } from '../lab/own.js';

/**
 * The longest tuning that is read, characters, and the longest chain of `from`.
 * @example
 * ```ts
 * TUNING_LIMITS.chain // 16
 * ```
 */
export const TUNING_LIMITS = { length: 262144, chain: 16 } as const;

/** What a tuning file holds. */
export interface TuningFile {
  tuning: Tuning;
  /** The tuning, ready for play. */
  motion: Motion;
  warnings: Problem[];
  /** Where a dotted key stands, or the nearest group around it. */
  placeOf(key: string): { line: number; column: number };
  /** The text of a line, from 1. */
  line(number: number): string;
}

/** How a tuning is read. */
export interface ReadTuningOptions {
  /** The file's name, for messages. */
  file?: string;
  /** Gives the text and the name of a file named by `from`, relative to the one that names it; without it `from` is refused. */
  open?: (name: string, from: string) => { text: string; file: string };
  /** Abilities of the game's own: their numbers, under `own`, must be such as they have. Those of others are left as they are. */
  abilities?: readonly Ability[];
}

/**
 * Reads a tuning.
 * @throws FileError with the place of every key that is unknown, of the wrong type or out of range, and of goals that
 * contradict each other
 * @example
 * ```ts
 * const { tuning, motion } = readTuning('jump: { height: 3 }', { file: 'hero.tuning.yaml' });
 * ```
 */
export function readTuning(text: string, options: ReadTuningOptions = {}): TuningFile {
  const file = options.file ?? 'tuning.yaml';
  const { yaml, tuning } = readChain(text, file, options, []);
  const placeOf = (key: string): { line: number; column: number } => yaml.problems.place(yaml.valueAt(key.split('.')));
  let motion: Motion;
  try {
    motion = compileTuning(tuning);
  } catch (error) {
    if (!(error instanceof TuningError)) throw error;
    yaml.problems.at(placeOf(error.key), error.message);
    yaml.problems.refuse();
    throw error;
  }
  for (const one of options.abilities ?? [])
    for (const [key, value] of Object.entries(tuning.own?.[one.name] ?? {})) {
      const wrong = wrongOwn(one, key, value);
      if (wrong !== undefined) yaml.problems.at(placeOf(`own.${one.name}.${key}`), wrong);
    }
  yaml.problems.refuse();
  return { tuning, motion, warnings: yaml.problems.warnings, placeOf, line: (number) => yaml.problems.line(number) };
}

/**
 * The name that a tuning says that it comes `from`; undefined where it says none, or cannot be read.
 * @example
 * ```ts
 * baseOf('from: ./brindle.tuning.yaml') // './brindle.tuning.yaml'
 * ```
 */
export function baseOf(text: string): string | undefined {
  try {
    const { from } = (parseYaml(text, 'tuning.yaml', TUNING_LIMITS.length).data ?? {}) as { from?: unknown };
    return typeof from === 'string' ? from : undefined;
  } catch {
    return undefined;
  }
}

function readChain(
  text: string,
  file: string,
  options: ReadTuningOptions,
  chain: readonly string[],
): { yaml: YamlFile; tuning: Tuning } {
  const yaml = parseYaml(text, file, TUNING_LIMITS.length);
  const data = yaml.data ?? {};
  const checked = tuningSchema.safeParse(data);
  for (const issue of issuesOf(checked.error, data)) report(yaml, data, issue);
  yaml.problems.refuse();
  const { from, ...own } = checked.data!;
  if (from === undefined) return { yaml, tuning: own };
  const refuse = (message: string): never => {
    yaml.problems.offset(yaml.valueAt(['from']), message);
    yaml.problems.refuse();
    throw new Error(message);
  };
  if (!options.open) return refuse('`from` cannot be followed here: the text was read without its file');
  if (!NAMED.test(from)) return refuse(`${from} is no tuning: its name must end in .tuning.yaml or .tuning.json`);
  let opened: { text: string; file: string };
  try {
    opened = options.open(from, file);
  } catch (error) {
    if (error instanceof FileError) throw error;
    return refuse(`${from} cannot be read: ${error instanceof Error ? error.message : String(error)}`);
  }
  if (opened.file === file || chain.includes(opened.file)) return refuse(`${from} starts from this file again`);
  if (chain.length >= TUNING_LIMITS.chain)
    return refuse(`more than ${TUNING_LIMITS.chain} files start from each other`);
  if (!isTuning(opened.text)) return refuse(`${from} is no tuning`);
  const base = readChain(opened.text, opened.file, options, [...chain, file]);
  try {
    return { yaml, tuning: mergeTuning(base.tuning, own) };
  } catch (error) {
    if (!(error instanceof TuningError)) throw error;
    yaml.problems.offset(yaml.keyAt(error.key.split('.')), error.message);
    yaml.problems.refuse();
    throw error;
  }
}

const NAMED = /\.tuning\.(?:yaml|json)$/;

/**
 * Whether a text says anything that a tuning says, at the beginning of a line or of its braces: of a file that is something else no line is shown, whoever
 * wrote its name.
 */
function isTuning(text: string): boolean {
  if (text.trim() === '' || /^(?:\s*#.*\n?)*$/.test(text.slice(0, 4096))) return true;
  const groups = new Set(['from', 'own', ...KEYS.map(({ key }) => key.split('.')[0]!)]);
  return Array.from(text.matchAll(/(?:^|[{,])[ \t]{0,8}"?([A-Za-z]{1,16})"?[ \t]{0,8}:/gm)).some(([, name]) => groups.has(name!));
} // prettier-ignore

function report(yaml: YamlFile, data: unknown, issue: Issue): void {
  for (const name of issue.keys) {
    const path = [...issue.path, name];
    yaml.problems.offset(yaml.keyAt(path), unknownKey(path.join('.')));
  }
  if (issue.keys.length > 0) return;
  const key = issue.path.join('.');
  // An entry of a list is called by its place, from 0.
  const named = keyNamed(issue.path.filter((step) => typeof step === 'string').join('.'));
  const entry = named && 'of' in named && typeof issue.path.at(-1) === 'number' ? named.of : named;
  const value = at(data, issue.path);
  let allowed = key === 'from' ? 'the name of a file' : groupAllows(key);
  if (issue.path[0] === 'own') allowed = issue.path.length > 2 ? 'a number' : 'a group of numbers';
  if (entry) allowed = 'unit' in entry && typeof value !== 'number' ? 'a number' : rangeOf(entry);
  yaml.problems.offset(
    yaml.valueAt(issue.path),
    `${key === '' ? 'a tuning' : key} is ${showValue(value)}; it must be ${allowed}`,
  );
}
