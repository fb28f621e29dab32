import { createHash } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Tuning } from 'apperin';
import {
  LEVEL_LIMITS,
  INPUT_LIMITS,
  decodeText,
  readInput,
  readLevel,
  type PlannedFiles,
  type WrittenPromise,
} from 'apperin/files';
import { VERSION, searchPlan, type PlannedPromise, type SearchInputs, type VariedKey } from 'apperin/lab';
import { readRegular } from '../disk/read.js';
import { asked } from './asked.js';
import { CallError } from './exit.js';
import { applySets, loadPromises, loadTuning } from './load.js';
import { overLevels } from './over-levels.js';
import { switches, type Shared } from './options.js';

/** A plan and all that its jobs need, as it goes to threads and machines. */
export interface Planned extends PlannedFiles {
  /** The SHA-256 of the plan with the names and hashes of its files. */
  hash: string;
  /** That of which the hash is. */
  text: string;
  /** The texts of the files, by their hashes. */
  texts: Record<string, string>;
}

export const sha256 = (data: string | Uint8Array): string => createHash('sha256').update(data).digest('hex');

/** What does the jobs: the version, and a hash of the library's own code. */
export function buildOf(): string {
  const folder = dirname(dirname(fileURLToPath(import.meta.resolve('apperin/lab'))));
  const hash = createHash('sha256');
  for (const name of readdirSync(folder, { recursive: true }).map(String).filter((one) => one.endsWith('.js')).sort()) hash.update(name.replaceAll('\\', '/')).update('\0').update(readFileSync(join(folder, name)));
  return `${VERSION}-${hash.digest('hex').slice(0, 12)}`;
} // prettier-ignore

/** The hashes of modules of abilities. */
export const abilityHashes = (modules: readonly string[] = []): string[] =>
  modules.map((file) => sha256(readFileSync(resolve(file)))).sort();

/** Plans a search from what a call names. */
export function planned(of: { tuning: string | undefined; promises: string; keys: readonly VariedKey[]; sample?: number; spend: number }, options: Shared): Planned {
  const written = loadPromises(of.promises);
  const beside = (name: string): string => join(dirname(of.promises), name);
  const files: PlannedFiles['files'] = {};
  const texts: Record<string, string> = {};
  /** Takes a file in: what cannot be read of it is said by every job that asks for it. */
  const take = (name: string, most: number): string => {
    let text = '';
    let wrong: string | undefined;
    let bytes: Uint8Array;
    try {
      bytes = readRegular(beside(name), most);
    } catch (error) {
      throw new CallError(`${beside(name)}: ${(error as Error).message}`);
    }
    try {
      text = decodeText(bytes, name, most);
    } catch (error) {
      wrong = (error as Error).message.split('\n', 1)[0]!;
    }
    const hash = sha256(wrong === undefined ? text : bytes);
    files[hash] ??= { name, ...(wrong === undefined ? {} : { wrong }) };
    texts[hash] ??= text;
    return hash;
  };
  const tuningFile = of.tuning ?? (written.tuning === undefined ? undefined : beside(written.tuning));
  const tuningOf = (file: string | undefined): Tuning => (file === undefined ? applySets({}, options.set ?? []) : loadTuning(file, options.set).tuning);
  const promises = overLevels(written.promises, of.promises).map((one) => promiseOf(one, { take, spend: of.spend, tuningOf: (name) => tuningOf(beside(name)) }));
  const plan = asked(() => searchPlan({ build: buildOf(), tuning: tuningOf(tuningFile), keys: of.keys, promises, rate: options.rate ?? written.rate ?? 60, abilities: abilityHashes(options.abilities), ...(of.sample === undefined ? {} : { sample: of.sample }) }));
  const text = JSON.stringify({ plan, files } satisfies PlannedFiles);
  return { plan, files, text, hash: sha256(text), texts };
} // prettier-ignore

function promiseOf(written: WrittenPromise, { take, spend: most, tuningOf }: { take: (name: string, most: number) => string; spend: number; tuningOf: (name: string) => Tuning }): PlannedPromise {
  const { name, measure, gap, sameAt, level, input, survey, answer, tightest, deadEnds, tuning, at, avoid, shapes, spend = most, least, most: greatest } = written;
  const bounds = { ...(least === undefined ? {} : { least }), ...(greatest === undefined ? {} : { most: greatest }) };
  if (survey !== undefined || deadEnds !== undefined) {
    const about = { name, level: take(level!, LEVEL_LIMITS.length), ...(tuning === undefined ? {} : { tuning: tuningOf(tuning) }), ...(at === undefined ? {} : { at }), ...(avoid === undefined ? {} : { avoid }), ...(shapes === undefined ? {} : { shapes: switches(shapes) }), spend };
    if (deadEnds !== undefined) return { ...about, deadEnds };
    return answer === undefined ? { ...about, to: survey!, tightest: tightest! } : { ...about, to: survey!, answer };
  }
  const scene = level === undefined ? undefined : { level: take(level, LEVEL_LIMITS.length), input: take(input!, INPUT_LIMITS.length) };
  if (sameAt !== undefined) return { name, sameAt, scene: scene! };
  if (gap !== undefined) return { name, gap, ...bounds };
  return { name, measure: measure!, ...bounds, ...(scene ? { scene } : {}) };
} // prettier-ignore

/** The levels and inputs of a plan, each read once. */
export function inputsOf(
  { files }: PlannedFiles,
  textOf: (hash: string) => string,
  actions: readonly string[] = [],
): SearchInputs {
  const levels = new Map<string, ReturnType<typeof readLevel>>();
  const inputs = new Map<string, ReturnType<SearchInputs['input']>>();
  const read = (hash: string): { text: string; file: string } => {
    const { name, wrong } = files[hash]!;
    if (wrong !== undefined) throw new RangeError(wrong);
    return { text: textOf(hash), file: name };
  };
  const once = <T>(known: Map<string, T>, hash: string, make: (text: string, file: string) => T): T => {
    if (!known.has(hash)) {
      const { text, file } = read(hash);
      known.set(hash, make(text, file));
    }
    return known.get(hash)!;
  };
  return {
    level: (hash, asWritten = false) => {
      const { level, compiled } = once(levels, hash, (text, file) => readLevel(text, { file }));
      return asWritten ? level : compiled;
    },
    input: (hash) => once(inputs, hash, (text, file) => readInput(text, { file, actions }).rows),
  };
}
