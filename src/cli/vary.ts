import { varyFigure } from '../figures/index.js';
import { choicesOf, family, tuningAt, vary, varied, varyPoint, type Varied, type VariedKey, type VariedPoint } from '../lab/index.js'; // prettier-ignore
import { compileTuning, type Tuning } from '../core/index.js';
import { figureFile, writeFigure } from './draw.js';
import { asked } from './asked.js';
import { inThreads, mostThreads } from './threads.js';
import { CallError } from './exit.js';
import { kindOf } from './kinds.js';
import { applySets, loadTuning, only, sortFiles } from './load.js';
import type { Long, Shared } from './options.js';
import { counter, number, print, printJson, remark, table } from './print.js';

/** `apperin vary`: vary this number: how does each measure follow? */
export async function varyCommand(
  given: readonly string[],
  options: Shared & Long & { width?: number },
): Promise<void> {
  const isRange = (word: string): boolean => /^[A-Za-z.]+=/.test(word) && kindOf(word) === undefined;
  const keys = given.filter(isRange).map(keyOf);
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
  if (options.out !== undefined) figureFile('vary', options);
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
  if (out && out !== '-') remark(`wrote ${out}`, options.quiet);
}

/** Few points at once; many in several threads, as far as they come. */
async function varyAll(tuning: Tuning, keys: readonly VariedKey[], options: Shared & Long): Promise<Varied> {
  const { rate = 60, workers = mostThreads() } = options;
  const choices = asked(() => choicesOf(keys));
  if (choices.length <= FEW) return asked(() => vary(tuning, keys, { rate }));
  // What cannot be asked for at all is said before any thread begins.
  const first = asked(() => varyPoint(tuning, keys, choices[0]!, rate));
  const count = counter('points', choices.length, options);
  const points: VariedPoint[] = [first];
  await inThreads(workers, (text) => remark(text, options.quiet), async ({ run, stopped }) => {
    while (points.length < choices.length && !stopped()) {
      const wave = Array.from({ length: 16 }, (_, i) => choices.slice(points.length + i * CHUNK, points.length + (i + 1) * CHUNK));
      const found = await Promise.all(wave.filter(({ length }) => length > 0).map((some) => run('varyPoints', { tuning, keys, points: some, rate })));
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

/** `key=from..to/count`, or `key=value,value,…`. */
function keyOf(word: string): VariedKey {
  const [, key, text] = /^([^=]+)=(.*)$/.exec(word)!;
  const range = /^(.+)\.\.(.+?)(?:\/(\d+))?$/.exec(text!);
  const values = range ? spread(Number(range[1]), Number(range[2]), Number(range[3] ?? 9)) : text!.split(',').map(Number);
  if (values.length === 0 || text === '' || values.some((value) => !Number.isFinite(value)))
    throw new CallError(`${word}: it must be key=from..to/count or key=value,value: jump.height=2..4/9`);
  return { key: key!, values };
} // prettier-ignore

function spread(from: number, to: number, count: number): number[] {
  if (count === 1) return [from];
  // Rounded so that 2.2 is 2.2.
  return Array.from({ length: Math.min(count, 10_001) }, (_, i) =>
    Number((from + ((to - from) * i) / (count - 1)).toPrecision(12)),
  );
}

/** Values in columns: of many, the first, some between, and the last. */
function varyTable({ points, changing }: ReturnType<typeof vary>, keys: readonly VariedKey[]): string {
  const most = 6;
  const shown = points.length <= most ? points.map((_, i) => i) : Array.from({ length: most }, (_, i) => Math.round((i * (points.length - 1)) / (most - 1)));
  const heading = (i: number): string => points[i]!.values.map((value) => String(Number(value.toPrecision(4)))).join(' ');
  return table(
    ['measure', 'unit', ...shown.map(heading)],
    changing.map(({ name, unit, values }) => [
      name.length > 36 ? `${name.slice(0, 35)}…` : name,
      unit,
      ...shown.map((i) => (values[i] === null ? '–' : number(values[i]!))),
    ]),
    [false, false, ...shown.map(() => true)],
  ).replace(/^/, `${keys.map(({ key }) => key).join(', ')} across the columns\n`);
} // prettier-ignore
