import { z } from 'zod';
import {
  SEARCH_LIMITS,
  type FoundRows,
  type PlannedPromise,
  type SearchHead,
  type SearchPlan,
  type SearchRow,
} from '../lab/index.js';
import type { Tuning } from '../core/index.js';
import { FileError } from './problem.js';

/**
 * The longest file of a search that is read, a line of it, and the longest plan, characters.
 * @example
 * ```ts
 * FOUND_LIMITS.plan // 16777216
 * ```
 */
export const FOUND_LIMITS = { length: 536870912, line: 4194304, plan: 16777216 } as const;

const count = z.number().int().gte(0);
const hash = z.string().regex(/^[0-9a-f]{64}$/);
const name = z.string().max(1024);
const key = z.string().max(256);
const keys = z.array(z.strictObject({ key: key.describe('a key of the tuning'), values: z.array(z.number()).min(1).max(SEARCH_LIMITS.values).describe('the values that it takes') })).min(1).max(SEARCH_LIMITS.keys); // prettier-ignore
const rows = count.gte(1).lte(SEARCH_LIMITS.rows);

/** The first line of the file of a search. */
export const headSchema = z.strictObject({
  version: z.literal(1).describe('of the format'),
  plan: hash.describe('of what is searched, files too'),
  build: name.describe('version and code that made it: another build does not go on with it'),
  rows: rows.describe('how many rows all of it has'),
  shard: z.string().regex(/^\d{1,6}\/\d{1,6}$/).nullable().describe('k/n where it is the k-th of n parts'),
  keys: keys.describe('the keys that are moved'),
  promises: z.array(name).max(SEARCH_LIMITS.promises).describe('the promises by their names, in their order'),
}); // prettier-ignore

/** Each line after it. */
export const rowSchema = z.strictObject({
  row: count.describe('its number, from 0'),
  set: z.record(key, z.number()).describe('the numbers of this row, by key'),
  error: z.string().max(65536).describe('why it has no answers: these numbers make no tuning, or it was lost').optional(),
  measures: z.record(key, z.number().nullable()).describe('measures of the sheet, by id; null where there is none'),
  promises: z.array(z.strictObject({
    name: name.describe('the promise'),
    answer: z.enum(['holds', 'fails', 'not found', 'error']).describe('whether it is kept'),
    ended: z.literal(true).describe('the survey ended by its count of events').optional(),
    why: z.string().max(65536).describe('what is wrong, of an error').optional(),
  })).max(SEARCH_LIMITS.promises).describe('an answer for each promise'),
  spent: z.strictObject({ events: count.describe('of the core, in surveys') }).describe('what it took'),
}); // prettier-ignore

const bounds = { least: z.number().optional(), most: z.number().optional() };
const scene = z.strictObject({ level: hash, input: hash });
/** A tuning is looked at when it is compiled; here only that it is a group of plain values. */
const plain: z.ZodType = z.lazy(() => z.union([z.number(), z.string().max(4096), z.boolean(), z.array(plain).max(1024), z.record(key, plain)])); // prettier-ignore
const tuning = z.record(key, plain);
const survey = { name, level: hash, tuning: tuning.optional(), at: name.optional(), avoid: z.array(name).max(1024).optional(), spend: z.number().gte(1).lte(1e12).optional(), shapes: z.record(name, z.boolean()).optional() }; // prettier-ignore

const planSchema = z.strictObject({
  plan: z.strictObject({
    version: z.literal(1),
    build: name,
    tuning,
    keys,
    rows,
    sample: z.boolean(),
    rate: z.number().gte(1).lte(10000),
    promises: z.array(z.union([
      z.strictObject({ name, measure: name, ...bounds, scene: scene.optional() }),
      z.strictObject({ name, gap: z.number(), ...bounds }),
      z.strictObject({ name, sameAt: z.array(z.number().gte(1).lte(10000)).max(64), scene }),
      z.strictObject({ ...survey, to: name, answer: z.enum(['yes', 'no']) }),
      z.strictObject({ ...survey, to: name, tightest: z.number() }),
      z.strictObject({ ...survey, deadEnds: count }),
    ])).min(1).max(SEARCH_LIMITS.promises),
    abilities: z.array(hash).max(256),
  }),
  files: z.record(hash, z.strictObject({ name, wrong: z.string().max(65536).optional() })),
}); // prettier-ignore

/** A plan with the files that it names, by the SHA-256 of their texts. */
export interface PlannedFiles {
  plan: SearchPlan;
  files: Record<string, { name: string; wrong?: string }>;
}

/** How deep a plan may be nested: before anything is made of it. */
const DEEPEST = 32;

/** Whether brackets of a JSON text are nested no deeper, those within texts aside. */
function isShallow(text: string): boolean {
  let depth = 0;
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const letter = text[i];
    if (quoted) {
      if (letter === '\\') i++;
      else if (letter === '"') quoted = false;
    } else if (letter === '"') quoted = true;
    else if (letter === '{' || letter === '[') {
      if (++depth > DEEPEST) return false;
    } else if (letter === '}' || letter === ']') depth--;
  }
  return true;
}

/** What came as JSON, of a shape. @throws RangeError with what is wrong, in a line */
function checked<T>(text: string, schema: z.ZodType<T>, most: number): T {
  if (text.length > most) throw new RangeError(`it has ${text.length} characters; at most ${most} are read`);
  if (!isShallow(text)) throw new RangeError(`it is nested deeper than ${DEEPEST}`);
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    throw new RangeError('it is no JSON');
  }
  const made = schema.safeParse(data);
  if (made.success) return made.data;
  const { path, message } = made.error.issues[0]!;
  throw new RangeError(`${path.join('.') || 'it'}: ${message}`);
}

/**
 * Reads a plan that came from elsewhere.
 * @throws RangeError with what is wrong
 * @example
 * ```ts
 * readPlanned(text).plan.rows
 * ```
 */
export function readPlanned(text: string): PlannedFiles {
  const { plan, files } = checked(text, planSchema, FOUND_LIMITS.plan);
  const all = plan.keys.reduce((product, { values }) => product * values.length, 1);
  if (plan.sample ? plan.rows > all : plan.rows !== all) throw new RangeError(`its rows are ${plan.rows}; its keys have ${all} combinations`);
  const wanted = plan.promises.flatMap((promise) => ('level' in promise ? [promise.level] : 'scene' in promise && promise.scene ? [promise.scene.level, promise.scene.input] : []));
  const missing = wanted.find((one) => !Object.hasOwn(files, one));
  if (missing !== undefined) throw new RangeError(`there is no file ${missing.slice(0, 12)} that a promise is about`);
  return { plan: { ...plan, tuning: plan.tuning as Tuning, promises: plan.promises as PlannedPromise[] }, files: files as PlannedFiles['files'] };
} // prettier-ignore

/**
 * Reads one row of a search, as JSON.
 * @throws RangeError with what is wrong
 * @example
 * ```ts
 * readFoundRow(text).row
 * ```
 */
export function readFoundRow(text: string): SearchRow {
  return checked(text, rowSchema, FOUND_LIMITS.line) as SearchRow;
}

/** A file of a search as it stands. */
export interface FoundFile extends FoundRows {
  /** How many characters of it are whole lines: what comes after was not written to its end. */
  whole: number;
}

/**
 * Reads what a search has found (`*.jsonl`): a head, then a row a line, in any order. A last line that was not written to its end is left out.
 * @throws FileError with the line that is wrong, and what is
 * @example
 * ```ts
 * readFound(text).rows.length
 * ```
 */
export function readFound(text: string, { file = 'found.jsonl' }: { file?: string } = {}): FoundFile {
  const whole = text.lastIndexOf('\n') + 1;
  const lines = text.slice(0, whole).split('\n').slice(0, -1);
  const fail = (line: number, message: string): never => {
    throw new FileError([{ file, line, column: 1, message, source: (lines[line - 1] ?? '').slice(0, SHOWN), severity: 'error' }]);
  };
  const read = <T>(line: number, schema: z.ZodType<T>): T => {
    try {
      return checked(lines[line]!, schema, FOUND_LIMITS.line);
    } catch (error) {
      return fail(line + 1, `${line === 0 ? 'this is no head of a search' : 'this is no row of a search'}: ${(error as Error).message}`);
    }
  };
  if (lines.length === 0) return fail(1, 'this is no search: it has no head');
  const head = read(0, headSchema) as SearchHead;
  const rows = lines.slice(1).map((_, i) => read(i + 1, rowSchema) as SearchRow);
  const beyond = rows.findIndex(({ row }) => row >= head.rows);
  if (beyond >= 0) fail(beyond + 2, `row is ${rows[beyond]!.row}; the search has ${head.rows} rows, from 0`);
  const other = rows.findIndex(({ error, promises }) => promises.length !== head.promises.length && error === undefined);
  if (other >= 0) fail(other + 2, `row ${rows[other]!.row} has ${rows[other]!.promises.length} promises; the head has ${head.promises.length}`);
  return { head, rows, whole };
} // prettier-ignore

/** So much of a line is shown, characters. */
const SHOWN = 120;

/**
 * What a search has found, as its file: the head, and the rows in their order.
 * @example
 * ```ts
 * writeFound(readFound(text)) // the same, its rows sorted
 * ```
 */
export function writeFound({ head, rows }: FoundRows): string {
  const sorted = rows.slice().sort((one, other) => one.row - other.row);
  return [head, ...sorted].map((line) => `${JSON.stringify(line)}\n`).join('');
}
