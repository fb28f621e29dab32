import { z } from 'zod';
import { showValue } from '../core/index.js';
import type { Problem } from './problem.js';
import { at, issuesOf, parseYaml, type Issue, type YamlFile } from './yaml.js';
import { nearest } from '../lab/nearest.js';

/**
 * The longest file of promises that is read, characters.
 * @example
 * ```ts
 * PROMISES_LIMITS.length // 1048576
 * ```
 */
export const PROMISES_LIMITS = { length: 1048576 } as const;

/** A promise as it is written: names of files are as the file has them. */
export interface WrittenPromise {
  name: string;
  measure?: string;
  gap?: number;
  sameAt?: number[];
  level?: string;
  input?: string;
  /** What is to be got to in the level; and what is promised of it. */
  survey?: string;
  answer?: 'yes' | 'no';
  tightest?: number;
  deadEnds?: number;
  /** Of a survey: the tuning, where it is another than that of the file; where it begins, what it must not enter, what may be spent. */
  tuning?: string;
  at?: string;
  avoid?: string[];
  spend?: number;
  /** Named shapes of the level, on or off. */
  shapes?: Record<string, 'on' | 'off'>;
  least?: number;
  most?: number;
  line: number;
}

/** What a file of promises holds. */
export interface PromisesFile {
  /** The tuning that it is about, if it names one. */
  tuning: string | undefined;
  /** Ticks per second, if it says so. */
  rate: number | undefined;
  promises: WrittenPromise[];
  warnings: Problem[];
}

const bound = z.number();
const promise = z.strictObject({
  name: z.string().min(1).describe('what is promised, in words').optional(),
  measure: z.string().describe('a measure of the sheet by its id (apperin sheet --json lists them), or of a run: flight1Rise, endX').optional(),
  gap: z.number().gt(0).describe('a level gap, units: for how long a press comes over it, s').optional(),
  'same-at': z.array(z.number().gte(1).lte(10000)).min(2).describe('tick rates at which the same happens').optional(),
  level: z.string().describe('the level in which an input is played').optional(),
  input: z.string().describe('the input that is played').optional(),
  survey: z.string().min(1).describe('a spawn or a zone of the level that is got to, or is not').optional(),
  answer: z.enum(['yes', 'no']).describe('whether it is got to: yes, or no').optional(),
  tightest: z.number().gte(0).describe('no press on the way there is tighter, s').optional(),
  'dead-ends': z.number().int().gte(0).describe('so many places at most from which there is no way back').optional(),
  tuning: z.string().min(1).describe('of a survey: another tuning than that of the file').optional(),
  at: z.string().min(1).describe('of a survey: the spawn where it begins').optional(),
  avoid: z.array(z.string()).describe('of a survey: tags of zones that must not be entered').optional(),
  spend: z.number().gte(1).lte(1e12).describe('of a survey: events of the core that may be spent').optional(),
  shapes: z.record(z.string().min(1), z.enum(['on', 'off'])).describe('of a survey: named shapes of the level that are on or off').optional(),
  least: bound.describe('at least so much').optional(),
  most: bound.describe('at most so much').optional(),
}); // prettier-ignore

/** A file of promises. */
export const promisesSchema = z.strictObject({
  tuning: z.string().min(1).describe('the tuning that it is about').optional(),
  rate: z.number().gte(1).lte(10000).describe('ticks per second; 60 unless given').optional(),
  promises: z.array(promise).min(1).describe('what is promised'),
});

/**
 * Reads promises (`*.promises.yaml`).
 * @throws FileError with the place of everything that is wrong
 * @example
 * ```ts
 * readPromises('promises: [{ measure: apexHeight, least: 3 }]')
 * ```
 */
export function readPromises(text: string, { file = 'promises.yaml' }: { file?: string } = {}): PromisesFile {
  const yaml = parseYaml(text, file, PROMISES_LIMITS.length);
  const { problems } = yaml;
  const checked = promisesSchema.safeParse(yaml.data ?? {});
  for (const issue of issuesOf(checked.error, yaml.data)) report(yaml, issue);
  problems.refuse();
  const { tuning, rate, promises } = checked.data!;
  const read = promises.map(({ 'same-at': sameAt, 'dead-ends': deadEnds, name, ...rest }, i): WrittenPromise => {
    const place = yaml.valueAt(['promises', i]);
    const wrong = (message: string): void => problems.offset(place, `promises.${i} ${message}`);
    const kinds = [rest.measure, rest.gap, sameAt, rest.survey, deadEnds].filter((kind) => kind !== undefined);
    if (kinds.length !== 1) wrong('must have one of measure, gap, same-at, survey and dead-ends');
    else if (rest.survey !== undefined || deadEnds !== undefined) checkSurvey(rest, wrong);
    else if (SURVEYS.some((key) => rest[key] !== undefined)) wrong(`has ${SURVEYS.find((key) => rest[key] !== undefined)}, which is said of a survey`);
    else if (sameAt === undefined && rest.least === undefined && rest.most === undefined) wrong('must have least, most, or both');
    else if (sameAt !== undefined && (rest.level === undefined || rest.input === undefined)) wrong('must name the level and the input that are played');
    else if ((rest.level === undefined) !== (rest.input === undefined)) wrong('must name both a level and an input, or neither');
    else if (rest.least !== undefined && rest.most !== undefined && rest.least > rest.most) wrong(`cannot be kept: least is ${rest.least}, most is ${rest.most}`);
    const said = name ?? saidOf(rest.survey, rest.answer, rest.tightest, deadEnds) ?? (rest.measure ?? (rest.gap !== undefined ? `over a gap of ${rest.gap}` : `same at ${(sameAt ?? []).join(', ')}`));
    return { name: said, ...rest, ...(sameAt ? { sameAt } : {}), ...(deadEnds === undefined ? {} : { deadEnds }), line: problems.place(place).line } as WrittenPromise;
  });
  problems.refuse();
  return { tuning, rate, promises: read, warnings: problems.warnings };
} // prettier-ignore

/** What is said of a survey only. */
const SURVEYS = ['answer', 'tightest', 'tuning', 'at', 'avoid', 'spend', 'shapes'] as const;

type Rest = Omit<z.infer<typeof promise>, 'same-at' | 'dead-ends' | 'name'>;

function checkSurvey(rest: Rest, wrong: (message: string) => void): void {
  if (rest.level === undefined) wrong('must name the level that is surveyed');
  else if (rest.input !== undefined || rest.least !== undefined || rest.most !== undefined) wrong('is of a survey: it has no input, least or most');
  else if (rest.survey !== undefined && (rest.answer === undefined) === (rest.tightest === undefined)) wrong('must have answer or tightest');
  else if (rest.survey === undefined && (rest.answer !== undefined || rest.tightest !== undefined)) wrong('must name in survey what is got to');
} // prettier-ignore

function saidOf(survey?: string, answer?: string, tightest?: number, deadEnds?: number): string | undefined {
  if (deadEnds !== undefined) return deadEnds === 0 ? 'nobody gets stuck' : `at most ${deadEnds} dead ends`;
  if (survey === undefined) return undefined;
  return answer === undefined
    ? `nothing tighter than ${tightest} s on the way to ${survey}`
    : `${survey} ${answer === 'yes' ? 'can' : 'cannot'} be reached`;
}

/** What is allowed where, in words: the first that matches. */
const ALLOWED: readonly [RegExp, string][] = [
  [/^promises$/, 'a list of at least one promise'],
  [/^promises\.\d+$/, 'a group of keys with measure, gap, same-at, survey or dead-ends'],
  [/\.same-at$/, 'a list of at least two tick rates'],
  [/(^rate|\.same-at\.\d+)$/, 'a number of 1 to 10000 ticks per second'],
  [/\.gap$/, 'a number above 0'],
  [/\.(least|most)$/, 'a number'],
  [/(^tuning|\.(level|input|tuning))$/, 'the name of a file'],
  [/\.answer$/, 'yes or no'],
  [/\.tightest$/, 'a number of at least 0 seconds'],
  [/\.dead-ends$/, 'a whole number of at least 0'],
  [/\.avoid$/, 'a list of tags'],
  [/\.shapes$/, 'a group of names with on or off'],
  [/\.shapes\.[^.]+$/, 'on or off'],
  [/\.spend$/, 'a number of 1 to 1e12 events'],
];

function report({ problems, keyAt, valueAt, data }: YamlFile, { path, keys }: Issue): void {
  const known = Object.keys(path.length === 0 ? promisesSchema.shape : promise.shape);
  for (const key of keys) {
    const meant = nearest(key, known);
    problems.offset(keyAt([...path, key]), `there is no key ${[...path, key].join('.')}${meant ? `; did you mean ${meant}?` : `; the keys here are ${known.join(', ')}`}`);
  }
  if (keys.length > 0) return;
  const where = path.join('.');
  const value = at(data, path);
  const allowed = ALLOWED.find(([place]) => place.test(where))?.[1] ?? (where === '' ? 'a group of keys with promises' : 'a text');
  problems.offset(valueAt(path), where === 'promises' && value === undefined ? 'there are no promises' : `${where || 'this'} is ${showValue(value)}; it must be ${allowed}`);
} // prettier-ignore
