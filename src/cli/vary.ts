import { varyFigure } from '../figures/index.js';
import { choicesOf, family, tuningAt, vary, varied, varyPoint, type Varied, type VariedKey, type VariedPoint } from 'apperin/lab'; // prettier-ignore
import { compileTuning, type Tuning } from 'apperin';
import { figureFile, writeFigure } from './figure-file.js';
import { abilitiesHere } from './abilities.js';
import { asked } from './asked.js';
import { inThreads, mostThreads } from './threads.js';
import { CallError } from './exit.js';
import { isRange, keyOf } from './ranges.js';
import { applySets, loadTuning, only, sortFiles } from './load.js';
import type { Long, Shared } from './options.js';
import { counter, cut, number, print, printJson, remark, table, wrote } from './print.js';

/** `apperin vary`: vary this number: how does each measure follow? */
export async function varyCommand(
  given: readonly string[],
  options: Shared & Long & { width?: number },
): Promise<void> {
  if (options.out !== undefined) figureFile('vary', options);
  const keys = given.filter(isRange).map((word) => keyOf(word));
  if (keys.length < 1 || keys.length > 2)
    throw new CallError('vary takes one or two keys with their values: jump.height=2..4/9, or jump.height=2,2.5,3');
  const sorted = sortFiles(
    given.filter((word) => !isRange(word)),
    options,
  );
  const file = only('tuning', sorted.tuning, false);
  const { name, tuning }: { name: string; tuning: Tuning } =
    file === undefined
      ? { name: 'defaults', tuning: applySets({}, options.set ?? []) }
      : loadTuning(file, options.set ?? []);
  const shown = await varyAll(tuning, keys, options);
  if (shown.points.every(({ motion }) => motion === undefined))
    throw new CallError(`none of these values can be: ${shown.points[0]!.why}`);
  const out =
    options.out === undefined ? undefined : await writeFigure('vary', varyFigure(shown, family(shown)), options);
  if (options.json) {
    const points = shown.points.map(({ values, measures, why }) => ({ values, measures, ...(why ? { why } : {}) }));
    printJson({ tuning: name, keys: shown.keys, points, ...(out ? { figure: out } : {}) });
    return;
  }
  print(`${name}, varied by ${keys.map(({ key, values }) => `${key} (${values.length} values)`).join(' and ')}\n`);
  if (shown.changing.length === 0) print('No measure of the sheet follows.');
  else print(varyTable(shown, keys));
  const wrong = shown.points.filter(({ why }) => why !== '');
  if (wrong.length > 0)
    print(`\n${wrong.length} of ${shown.points.length} cannot be; at ${wrong[0]!.values.join(', ')}: ${wrong[0]!.why}`);
  wrote([out], options.quiet);
}

/** Few points at once; many in several threads, as far as they come. */
async function varyAll(tuning: Tuning, keys: readonly VariedKey[], options: Shared & Long): Promise<Varied> {
  const { rate = 60, workers = mostThreads() } = options;
  const choices = asked(() => choicesOf(keys));
  if (choices.length <= FEW) return asked(() => vary(tuning, keys, { rate, abilities: abilitiesHere() }));
  // What cannot be asked for at all is said before any thread begins.
  const first = asked(() => varyPoint(tuning, keys, choices[0]!, rate, abilitiesHere()));
  const count = counter('points', choices.length, options);
  const points: VariedPoint[] = [first];
  await inThreads(workers, (text) => remark(text, options.quiet), async ({ run, stopped }) => {
    while (points.length < choices.length && !stopped()) {
      const wave = Array.from({ length: 16 }, (_, i) => choices.slice(points.length + i * CHUNK, points.length + (i + 1) * CHUNK));
      const found = await Promise.all(wave.filter(({ length }) => length > 0).map((some) => run('varyPoints', { tuning, keys, points: some, rate, modules: options.abilities ?? [] })));
      for (const one of found.flat()) points.push({ ...one, motion: one.why === '' ? compileTuning(tuningAt(tuning, keys, one.values)) : undefined });
      count(points.length);
    }
  });
  count();
  if (points.length < choices.length) remark(`interrupted: ${points.length} of ${choices.length} points`, options.quiet);
  return varied(keys, points);
} // prettier-ignore

const FEW = 1000;
const CHUNK = 16;

/** Numbers beside each other in one line. */
const COLUMNS = 6;

const plain = (value: number): string => String(Number(value.toPrecision(4)));
const cellOf = (value: number | null | undefined): string =>
  value === null || value === undefined ? '–' : number(value);

/** One key: values in columns. Two: a table for each measure, the first key's values down, the second's across. All points, in as many blocks as it takes. */
function varyTable({ points, changing }: Varied, keys: readonly VariedKey[]): string {
  const [first, second] = keys;
  if (second === undefined)
    return blocks(points.map((_, i) => i), COLUMNS)
      .map((block) => table(
        ['measure', 'unit', ...block.map((i) => plain(points[i]!.values[0]!))],
        changing.map(({ name, unit, values }) => [cut(name, 36), unit, ...block.map((i) => cellOf(values[i]))]),
        [false, false, ...block.map(() => true)],
      ))
      .map((block) => `${first!.key} across the columns\n${block}`)
      .join('\n\n');
  const rows = first!.values.map((_, i) => i);
  return changing
    .map(({ name, unit, values }) => {
      const parts = blocks(second.values.map((_, i) => i), COLUMNS + 1).map((block) =>
        table(
          [`${last(first!.key)} \\ ${last(second.key)}`, ...block.map((i) => plain(second.values[i]!))],
          rows.map((row) => [plain(first!.values[row]!), ...block.map((i) => cellOf(values[i * rows.length + row]))]),
          [true, ...block.map(() => true)],
        ),
      );
      return `${name}  ${unit}  (${first!.key} down, ${second.key} across)\n${parts.join('\n\n')}`;
    })
    .join('\n\n');
} // prettier-ignore

const last = (key: string): string => key.split('.').at(-1)!;

function blocks<T>(all: readonly T[], size: number): T[][] {
  return Array.from({ length: Math.ceil(all.length / size) }, (_, i) => all.slice(i * size, (i + 1) * size));
}
