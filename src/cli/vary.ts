import { varyFigure } from '../figures/index.js';
import { family, vary, type VariedKey } from '../lab/index.js';
import type { Tuning } from '../core/index.js';
import { writeFigure } from './draw.js';
import { asked } from './asked.js';
import { CallError } from './exit.js';
import { applySets, kindOf, loadTuning, only, sortFiles } from './load.js';
import type { Shared } from './main.js';
import { number, print, printJson, remark, table } from './print.js';

/** `apperin vary`: vary this number: how does each measure follow? */
export async function varyCommand(given: readonly string[], options: Shared & { width?: number }): Promise<void> {
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
  const varied = asked(() => vary(tuning, keys, options.rate === undefined ? {} : { rate: options.rate }));
  if (varied.points.every(({ motion }) => motion === undefined))
    throw new CallError(`none of these values can be: ${varied.points[0]!.why}`);
  const out =
    options.out === undefined ? undefined : await writeFigure('vary', varyFigure(varied, family(varied)), options);
  if (options.json) {
    const points = varied.points.map(({ values, measures, why }) => ({ values, measures, ...(why ? { why } : {}) }));
    printJson({ tuning: name, keys: varied.keys, points, ...(out ? { figure: out } : {}) });
    return;
  }
  print(`${name}, varied by ${keys.map(({ key, values }) => `${key} (${values.length} values)`).join(' and ')}\n`);
  if (varied.changing.length === 0) print('No measure of the sheet follows.');
  else print(varyTable(varied, keys));
  const wrong = varied.points.filter(({ why }) => why !== '');
  if (wrong.length > 0)
    print(
      `\n${wrong.length} of ${varied.points.length} cannot be; at ${wrong[0]!.values.join(', ')}: ${wrong[0]!.why}`,
    );
  if (out) remark(`wrote ${out}`, options.quiet);
}

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
