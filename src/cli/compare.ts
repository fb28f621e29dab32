import { basename } from 'node:path';
import type { Motion } from 'apperin';
import { arcsFigure, trailsFigure } from '../figures/index.js';
import { abilitiesHere } from './abilities.js';
import { MOST_COMPARED, arcs, compare, compareRates, compareRuns, type Comparison } from 'apperin/lab';
import { figureFile, writeFigure } from './figure-file.js';
import { asked } from './asked.js';
import { call } from './call.js';
import { CallError } from './exit.js';
import { applySets, loadInput, loadLevel, loadTuning, only, sortFiles } from './load.js';
import type { Shared } from './options.js';
import { cut, number, print, printJson, table, wrote } from './print.js';
import { compiled, oneTuning } from './sheet.js';

interface CompareOptions extends Shared {
  at?: string;
  rates?: string;
  width?: number;
}

/** `apperin compare`: what differs between tunings, or between tick rates? */
export async function compareCommand(files: readonly string[], options: CompareOptions): Promise<void> {
  if (options.out !== undefined) figureFile('compare', options);
  const ticks = options.rates === undefined ? undefined : ratesOf(options.rates);
  const sorted = sortFiles(files, options);
  const inputFile = only('input', sorted.input, false);
  const levelFile = only('level', sorted.level, inputFile !== undefined || options.rates !== undefined);
  const input = inputFile === undefined ? [] : loadInput(inputFile).rows;
  const shared = {
    input,
    abilities: abilitiesHere(),
    ...(options.rate === undefined ? {} : { rate: options.rate }),
    ...(options.seconds === undefined ? {} : { seconds: options.seconds }),
    ...(options.at === undefined ? {} : { at: options.at }),
  };
  if (ticks !== undefined) {
    const { name, motion } = oneTuning(only('tuning', sorted.tuning, false), options);
    asked(() => rates(name, motion, { ...shared, level: loadLevel(levelFile!).compiled }, ticks, options));
    return;
  }
  const named = namedTunings(sorted.tuning, options);
  if (levelFile === undefined) {
    const compared = compare(named, {
      abilities: abilitiesHere(),
      ...(options.rate === undefined ? {} : { rate: options.rate }),
    });
    await finish(compared, options, () => arcsFigure(named.map(({ name, tuning }) => arcs(name, tuning))));
    return;
  }
  const level = loadLevel(levelFile).compiled;
  const compared = asked(() => compareRuns(named, { ...shared, level }));
  const trails = compared.runs.map((trace, i) => ({ name: compared.names[i]!, trace }));
  const { names, keys, measures, press } = compared;
  await finish({ names, keys, measures }, options, () => trailsFigure(level, trails, input), press);
}

/** The tunings of a call: two to six files, or one as it is and with its changes. */
function namedTunings(files: readonly string[], options: Shared): { name: string; tuning: Motion }[] {
  const sets = options.set ?? [];
  if (files.length < 2 && sets.length === 0)
    throw new CallError('compare takes two to six tunings, or one with --set, or one with --rates');
  if (files.length > MOST_COMPARED)
    throw new CallError(`compare takes at most ${MOST_COMPARED} tunings, not ${files.length}`);
  const load = (file: string | undefined, changes: readonly string[]): { name: string; tuning: Motion } =>
    file === undefined
      ? { name: 'defaults', tuning: compiled(applySets({}, [...changes])) }
      : (({ name, tuning }) => ({ name, tuning: compiled(tuning) }))(loadTuning(file, [...changes]));
  if (files.length >= 2) return distinct(files.map((file) => load(file, sets)), files); // prettier-ignore
  const [before, after] = [load(files[0], []), load(files[0], sets)];
  return [before, { ...after, name: sets.join(' ') }];
}

/** Names that are the same are told apart by their folders. */
function distinct<T extends { name: string }>(named: T[], files: readonly string[]): T[] {
  return named.map((one, i) =>
    named.some((other, k) => k !== i && other.name === one.name)
      ? { ...one, name: basename(files[i]!) === files[i] ? `${one.name} (${i + 1})` : files[i]! }
      : one,
  );
}

async function finish(
  compared: Comparison,
  options: CompareOptions,
  figure: () => string,
  press?: number,
): Promise<void> {
  const file = options.out === undefined ? undefined : await writeFigure('compare', figure(), options);
  if (options.json) {
    printJson({ ...compared, ...(press === undefined ? {} : { press }), ...(file ? { figure: file } : {}) });
    return;
  }
  print(`${compared.names.join(' · ')}\n`);
  const tiles = compared.measures.some(({ unit }) => unit === 'tiles');
  if (tiles) print('Their tiles differ in size: lengths and speeds are in tiles.\n');
  print(keysTable(compared));
  if (press !== undefined) print(`\nMoments count from the press at ${number(press)} s.`);
  print(`\n${measuresTable(compared)}`);
  wrote([file], options.quiet);
}

function keysTable({ names, keys }: Comparison): string {
  if (keys.length === 0) return 'No key differs.';
  const show = (value: unknown): string => (value === undefined ? '–' : typeof value === 'object' ? JSON.stringify(value) : String(value)); // prettier-ignore
  const most = Math.floor(72 / names.length) - 2;
  return table(
    ['key', ...names.map((name) => cut(name, most))],
    keys.map(({ key, values }) => [key, ...values.map((value) => cut(show(value), most))]),
    [false, ...names.map(() => true)],
  );
}

/** Two tunings: both values and the difference. More: the first one's values, and how far the others are from it. */
function measuresTable({ names, measures }: Comparison): string {
  const cell = (value: number | null): string => (value === null ? '–' : number(value));
  const signed = (value: number | null, beside: number | null): string => (value === null ? '–' : difference(value, beside ?? 0)); // prettier-ignore
  const two = names.length === 2;
  const most = two ? 14 : 9;
  const headings = names.map((name) => cut(name, most));
  return table(
    ['measure', 'unit', ...headings, ...(two ? ['difference'] : [])],
    measures.map(({ name, unit, values, differences }) => [
      cut(name, 38),
      unit,
      cell(values[0]!),
      ...(two
        ? [cell(values[1]!), signed(differences[1]!, values[0]!)]
        : differences.slice(1).map((one) => signed(one, values[0]!))),
    ]),
    [false, false, ...headings.map(() => true), true],
  );
}

/** A difference with its sign: what is only rounding is none, and a small one has the figures that it needs. */
function difference(value: number, beside: number): string {
  if (Math.abs(value) <= ROUNDING * Math.max(1, Math.abs(beside))) return '=';
  const shown = Math.abs(value) < 0.0005 ? String(Number(value.toPrecision(1))) : number(value);
  return `${value > 0 ? '+' : ''}${shown}`;
}

/** Measures that are nearer than this, as a share of them, are the same: sizes of bodies lie on a grid. */
const ROUNDING = 5e-8;

function ratesOf(text: string): number[] {
  const list = text.split(',').map((one) => (one.trim() === '' ? NaN : Number(one)));
  if (list.length === 1 && list[0]! >= 1) throw new CallError(`--rates ${text}: at least two rates are compared`);
  if (!list.every((rate) => rate >= 1 && rate <= 10000))
    throw new CallError(
      `--rates ${text}: it must be two or more rates from 1 to 10000, with commas between: 30,60,144`,
    );
  return list;
}

function rates(
  name: string,
  motion: Motion,
  played: Parameters<typeof compareRates>[2],
  list: readonly number[],
  options: CompareOptions,
): void {
  const compared = compareRates({ tuning: motion }, list, played);
  if (compared.rates.some(({ same }) => !same)) call().status = 1;
  if (options.json) {
    printJson({ tuning: name, ...compared });
    return;
  }
  const fine = (value: number): string => (value === 0 ? '0' : value.toExponential(1));
  print(`${name} at ${list.join(', ')} ticks per second, against ${compared.reference}\n`);
  print(
    table(
      ['ticks/s', 'events', 'same', 'moments differ by, s', 'places by, units', 'the end by, units'],
      compared.rates.map(({ rate, events, same, worstTime, worstPlace, end }) => [
        String(rate),
        String(events),
        same ? 'yes' : 'NO',
        fine(worstTime),
        fine(worstPlace),
        fine(end),
      ]),
      [true, true, false, true, true, true],
    ),
  );
  if (compared.rates.every(({ exact }) => exact)) print('\nThe same at all of them, bit for bit.');
  const { closest } = compared;
  if (closest)
    print(
      `\nThe closest decision: ${closest.what}, at ${number(closest.press)} s; ${number(closest.margin * 1000, 1)} ms from the other way.`,
    );
}
