import type { Tuning } from 'apperin';
import {
  LOST,
  nearest,
  ranked,
  sheet,
  rangesOf,
  holdsOf,
  headOf,
  mergeFound,
  type FoundRows,
  type Holds,
  type SearchRow,
  type Shard,
  type Wish,
} from 'apperin/lab';
import { asked } from './asked.js';
import { call } from './call.js';
import { CallError, EXIT } from './exit.js';
import { FoundFile, loadFound } from './found-file.js';
import { only, sortFiles } from './load.js';
import type { Long, Shared } from './options.js';
import { planned } from './planned.js';
import { cut, number, print, printJson, remark, table, wrote } from './print.js';
import { isRange, keyOf } from './ranges.js';
import { RowsDone, type RowDoing } from './rows-done.js';
import { inThreads, mostThreads, type Threads } from './threads.js';
import { timeLeft } from './time-left.js';
import { refuseOutput, writeOutput } from './write.js';
import { writeFound } from 'apperin/files';

export interface SearchAsked extends Shared, Long {
  promises?: string[];
  sample?: number;
  best?: string[];
  shard?: string;
  queue?: string;
  spend?: number;
}

/** Events of the core that a survey of a search may spend, unless the promise or the call says otherwise. */
const SPEND = 100_000;

/** So many rows a thread are begun at a time. */
const AHEAD = 2;

/** `apperin search`: which of these tunings keep every promise in every room? */
export async function searchCommand(words: readonly string[], options: SearchAsked): Promise<void> {
  const keys = words.filter(isRange).map((word) => keyOf(word));
  if (keys.length === 0) throw new CallError('search takes keys with their values: jump.height=2..4/9 run.speed=6..9/7');
  const sorted = sortFiles(words.filter((word) => !isRange(word)), options);
  const files = [...sorted.promises, ...(options.promises ?? [])];
  if (files.length === 0) throw new CallError('promises are wanted: name a file that ends in .promises.yaml');
  const promises = only('promises', files, true)!;
  const shard = options.shard === undefined ? undefined : shardOf(options.shard);
  const wishes = (options.best ?? []).map(wishOf);
  if (options.out === '-') throw new CallError('--out -: a search is written to a file, so that it can be gone on with');
  if (options.out !== undefined) refuseOutput(options.out, 'search');
  const plan = planned({ tuning: only('tuning', sorted.tuning, false), promises, keys, spend: options.spend ?? SPEND, ...(options.sample === undefined ? {} : { sample: options.sample }) }, options);
  refuseWishes(wishes, plan.plan.tuning);
  const file = new FoundFile(options.out, headOf(plan.plan, plan.hash, shard));
  const missing = file.missing(shard);
  if (file.rows.size > 0) remark(`${options.out}: ${file.rows.size} rows are there; ${missing.length} are still to be done`, options.quiet);
  let doing = (): readonly RowDoing[] => [];
  const left = timeLeft(missing.length, options, () => doing());
  const take = (row: SearchRow): void => {
    if (file.add(row)) left.count();
  };
  const tell = (text: string): void => {
    left.clear();
    remark(text, options.quiet || options.json);
  };
  const workers = options.workers ?? mostThreads();
  const inThese = async (threads: Threads): Promise<void> => {
    const rows = new RowsDone(threads, plan, options.abilities);
    doing = () => rows.doing();
    await rows.all(missing, workers * AHEAD, take);
  };
  try {
    if (options.queue === undefined) await inThreads(workers, tell, inThese);
    else await (await import('./search-queue.js')).byQueue(options.queue, plan, missing, { take, tell, doing: (rows) => (doing = () => rows) });
  } finally {
    left.end();
  }
  const found = await file.end();
  const undone = found.rows.filter(({ error }) => error === LOST).map(({ row }) => row);
  const open = [...file.missing(shard), ...undone].sort((one, other) => one - other);
  if (open.length > 0) {
    call().status = EXIT.no;
    remark(`${found.rows.length - undone.length} of ${found.rows.length + open.length - undone.length} rows are done${undone.length > 0 ? `, ${undone.length} were lost` : ''}: the same call goes on with the rest${options.out === undefined ? ', with --out' : ''}`, options.quiet);
  }
  show(found, wishes, options);
  wrote([options.out], options.quiet);
} // prettier-ignore

/** `apperin search merge`: parts as one. */
export async function mergeCommand(files: readonly string[], options: Shared & { best?: string[] }): Promise<void> {
  const wishes = (options.best ?? []).map(wishOf);
  if (options.out !== undefined) refuseOutput(options.out, 'search');
  const parts = files.map(loadFound);
  const { missing, ...found } = asked(() => mergeFound(parts));
  if (options.out !== undefined) await writeOutput(options.out, 'search', writeFound(found));
  if (missing.length > 0) {
    call().status = EXIT.no;
    call().err(`${missing.length} of ${found.head.rows} rows are in no part: ${cut(rangesOf(missing), 200)}\n`);
  }
  if (options.out !== '-') show(found, wishes, options);
  wrote([options.out], options.quiet);
}

function shardOf(text: string): Shard {
  const [, part, of] = /^(\d{1,6})\/(\d{1,6})$/.exec(text) ?? [];
  if (part === undefined || Number(part) < 1 || Number(part) > Number(of)) throw new CallError(`--shard ${text}: it must be k/n, the k-th of n parts: 2/16`);
  return { part: Number(part), of: Number(of) };
} // prettier-ignore

/** `reach`, `stopping=least`, `airTime=0.7`. */
function wishOf(text: string): Wish {
  const [, measure, towards = 'most'] = /^([A-Za-z0-9]+)(?:=(.+))?$/.exec(text) ?? [];
  const value = Number(towards);
  if (measure === undefined || (towards !== 'most' && towards !== 'least' && !Number.isFinite(value))) throw new CallError(`--best ${text}: it must be a measure of the sheet, by its id: reach, stopping=least or airTime=0.7`);
  return { measure, towards: towards === 'most' || towards === 'least' ? towards : value };
} // prettier-ignore

/** Says of a measure that the sheet does not have, before the work. */
function refuseWishes(wishes: readonly Wish[], tuning: Tuning): void {
  const ids = sheet(tuning).map(({ id }) => id);
  for (const { measure } of wishes) {
    if (ids.includes(measure)) continue;
    const meant = nearest(measure, ids);
    throw new CallError(`--best ${measure}: the sheet of this tuning has no such measure${meant ? `; did you mean ${meant}?` : `; there are ${ids.join(', ')}`}`);
  }
} // prettier-ignore

const ANSWERS: readonly Holds[] = ['holds', 'fails', 'not found', 'error'];

/** So many rows are listed. */
const LISTED = 10;

/** What was found, for people or as JSON. */
function show({ head, rows }: FoundRows, wishes: readonly Wish[], options: Shared): void {
  const sorted = asked(() => ranked(rows, wishes));
  const all = sorted.filter(({ holds }) => holds === head.promises.length);
  const counts = head.promises.map((name, i) => ({ name, ...Object.fromEntries(ANSWERS.map((answer) => [answer, rows.filter(({ promises }) => promises[i]!.answer === answer).length])) as Record<Holds, number> }));
  if (rows.length > 0 && all.length === 0) call().status = EXIT.no;
  if (options.json) {
    printJson({ ...head, done: rows.length, keep: all.length, promises: counts, best: sorted.slice(0, LISTED).map(({ row, holds, score }) => ({ ...row, holds, score })) });
    return;
  }
  print(`${rows.length === head.rows ? `${head.rows}` : `${rows.length} of ${head.rows}`} tunings, ${head.promises.length} promises: ${all.length} keep ${head.promises.length === 1 ? 'it' : 'all of them'}\n`);
  if (rows.length === 0) return;
  print(table(['promise', ...ANSWERS], counts.map(({ name, ...of }) => [cut(name, 56), ...ANSWERS.map((answer) => (of[answer] === 0 ? '' : String(of[answer])))]), [false, true, true, true, true]));
  const why = firstError(rows);
  if (why !== '') print(`\nThe first error: ${why}`);
  const shown = sorted.slice(0, LISTED);
  const measures = wishes.map(({ measure }) => measure);
  const listed = Math.min(LISTED, all.length || LISTED);
  print(`\n${all.length > 0 ? 'The best of those that keep all' : 'The nearest to it'}${wishes.length > 0 ? `, by ${wishes.map(wishSaid).join(', ')}` : ''}:\n`);
  print(table(
    ['row', ...head.keys.map(({ key }) => key), 'kept', ...measures, ...(wishes.length > 0 ? ['score'] : [])],
    shown.slice(0, listed).map(({ row, score }) => [String(row.row), ...head.keys.map(({ key }) => plain(row.set[key]!)), `${holdsOf(row)} of ${head.promises.length}`, ...measures.map((measure) => (row.measures[measure] === null || row.measures[measure] === undefined ? '' : number(row.measures[measure]))), ...(wishes.length > 0 ? [score === null ? '' : number(score)] : [])]),
    [true, ...head.keys.map(() => true), true, ...measures.map(() => true), true],
  ));
} // prettier-ignore

const plain = (value: number): string => String(Number(value.toPrecision(6)));
const wishSaid = ({ measure, towards }: Wish): string =>
  towards === 'most' ? measure : `${measure} (${towards === 'least' ? 'least' : `near ${towards}`})`;

function firstError(rows: readonly SearchRow[]): string {
  for (const { row, error, promises } of rows) {
    const wrong = promises.find(({ answer, why }) => answer === 'error' && why !== undefined);
    if (error !== undefined || wrong) return `row ${row}: ${error ?? `${wrong!.name}: ${wrong!.why}`}`;
  }
  return '';
}
