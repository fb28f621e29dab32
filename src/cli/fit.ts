import { parseDocument, type Scalar } from 'yaml';
import { valueOfKey, type Tuning } from 'apperin';
import { editTuning, type CaptureColumns, type Edit } from 'apperin/files';
import { fit, type Capture, type FitOptions, type Fitted, type Found } from 'apperin/lab';
import { fitFigure } from '../figures/index.js';
import { asked } from './asked.js';
import { CallError } from './exit.js';
import { figureFile, writeFigure } from './figure-file.js';
import { kindOf } from './kinds.js';
import { loadCapture, loadTuning } from './load.js';
import type { Shared } from './options.js';
import { number, paragraph, print, printJson, remark, table, wrote } from './print.js';
import { refuseOutput, writeOutput } from './write.js';

/** What a call says of its captures. */
export interface Captured extends Shared {
  time?: string;
  perSecond?: number;
  x?: string;
  y?: string;
  who?: string;
  scale?: number;
  yPoints?: string;
  keys?: string[];
}

/** `apperin fit`: here is a recorded motion; which numbers would make it? */
export async function fitCommand(files: readonly string[], options: Captured): Promise<void> {
  const { out } = options;
  if (out !== undefined && out !== '-' && kindOf(out) !== 'tuning') throw new CallError(`--out ${out}: its name must end in .tuning.yaml`);
  const { fitted, start } = fitFiles(files, options);
  if (out !== undefined) await writeOutput(out, 'tuning', tuningText(fitted, start?.text ?? '', start?.file));
  const { stretches, ...told } = fitted;
  void stretches;
  if (options.json) return printJson({ ...told, captures: files.filter((file) => kindOf(file) !== 'tuning'), ...(out === undefined ? {} : { file: out }) });
  print(said(fitted, files, options.scale ?? 1));
  if (out === undefined) remark(`\n--out found.tuning.yaml writes them as a tuning; apperin draw fit shows how near it comes`, options.quiet);
  wrote([out], options.quiet);
} // prettier-ignore

/** `apperin draw fit`. */
export async function drawFit(files: readonly string[], options: Captured & { width?: number }): Promise<void> {
  figureFile('fit', options);
  const { fitted } = fitFiles(files, { ...options, ...(options.out === undefined ? {} : { out: undefined }) } as Captured);
  const out = await writeFigure('fit', fitFigure(fitted, options.scale ?? 1), options);
  if (options.json) printJson({ figure: 'fit', file: out, residual: fitted.residual });
  else wrote([out], options.quiet);
} // prettier-ignore

function fitFiles(files: readonly string[], options: Captured): { fitted: Fitted; start: ReturnType<typeof loadTuning> | undefined } {
  const { yPoints, scale, out } = options;
  if (yPoints !== undefined && yPoints !== 'up' && yPoints !== 'down') throw new CallError(`--y-points ${yPoints}: it must be up or down`);
  const tunings = [...files.filter((file) => kindOf(file) === 'tuning'), ...(options.tuning ?? [])];
  const named = files.filter((file) => kindOf(file) !== 'tuning');
  if (tunings.length > 1) throw new CallError(`one tuning to start from is wanted, not ${tunings.length}: ${tunings.join(', ')}`);
  if (named.length === 0) throw new CallError('a capture is wanted: a table of places over time (CSV, or objects as JSON Lines)');
  const start = tunings[0] === undefined ? undefined : loadTuning(tunings[0], options.set);
  const columns = columnsOf(options);
  const captures: Capture[] = named.flatMap((file) => asked(() => loadCapture(file, columns)));
  if (out !== undefined) refuseOutput(out, 'tuning');
  const about: FitOptions = { ...(scale === undefined ? {} : { scale }), ...(yPoints === undefined ? {} : { yPoints }), ...(start === undefined ? {} : { tuning: start.tuning }) };
  return { fitted: asked(() => fit(captures, about)), start };
} // prettier-ignore

function columnsOf({ time, perSecond, x, y, who, keys }: Captured): CaptureColumns {
  const held = keys?.flatMap((text) => text.split(',')).map((text) => {
    const [action, column] = text.split('=');
    if (!action || !column) throw new CallError(`--keys ${text}: it must be an action and the column that says whether it is held: jump=space`);
    return [action, column] as const;
  });
  const [column, body] = who?.split('=') ?? [];
  return {
    ...(time === undefined ? {} : { time }),
    ...(perSecond === undefined ? {} : { perSecond }),
    ...(x === undefined ? {} : { x }),
    ...(y === undefined ? {} : { y }),
    ...(column === undefined ? {} : { who: column }),
    ...(body === undefined ? {} : { body }),
    ...(held === undefined ? {} : { keys: Object.fromEntries(held) }),
  };
} // prettier-ignore

/** How many figures tell what an interval leaves open. */
const places = (within: number): number => Math.min(6, Math.max(0, 1 - Math.floor(Math.log10(Math.max(within, 1e-6)))));

const intervalOf = ({ within, stretches, loose }: Found): string =>
  `± ${within.toFixed(places(within))} from ${stretches} stretch${stretches === 1 ? '' : 'es'}${loose ? ', loose' : ''}`;

const FOUND = ' Found in captures; intervals hold together in 95 of 100.';

/** The tuning as a file, each number with its interval. */
export function tuningText({ tuning, found, cannotTell }: Pick<Fitted, 'tuning' | 'found' | 'cannotTell'>, text: string, file?: string): string {
  const document = parseDocument(editTuning(text, editsOf(tuning, found), file));
  const said = new Set<Scalar>();
  for (const [key, one] of Object.entries(found)) {
    const list = /^(.*)\.\d+$/.exec(key);
    const node = document.getIn((list?.[1] ?? key).split('.'), true) as Scalar | undefined;
    if (!node || typeof node !== 'object') continue;
    // What stood there stays; of an earlier fit nothing does.
    const before = said.has(node) ? node.comment : node.comment?.replace(/;? ± .*$/, '');
    node.comment = `${before ? `${before};` : ''} ${intervalOf(one)}`;
    said.add(node);
  }
  const left = cannotTell.map(({ key, why }) => ` ${key}: ${why}`);
  const told = [FOUND, ...(left.length > 0 ? [' Not told by them:', ...left] : [])].join('\n');
  // So does a comment at the top, but for that of an earlier fit.
  const top = document.commentBefore?.split(FOUND)[0]!.trimEnd();
  document.commentBefore = top ? `${top}\n\n${told}` : told;
  return document.toString({ lineWidth: 0 });
} // prettier-ignore

/** What is written into the tuning to start from. */
function editsOf(tuning: Tuning, found: Fitted['found']): Edit[] {
  const has = Object.keys(found);
  const keys = new Set(has.filter((key) => key !== 'jump.lowestHop').map((key) => key.replace(/\.\d+$/, '')));
  if (has.includes('jump.riseTime')) for (const key of ['gravity.rising', 'gravity.apex', 'gravity.apexSpeed', 'gravity.fallSpeed', 'gravity.released', 'gravity.cutTo', 'gravity.fallRamp', 'jump.height', 'jump.baseGravity', 'jump.launchSpeed', 'jump.reach', 'jump.airTime', 'jump.lowestHop', 'jump.minHold', 'charge.lowest']) keys.add(key);
  if (has.includes('run.speed')) keys.add('run.feel');
  return [...keys].map((key) => ({ key, value: valueOfKey(tuning, key) as Edit['value'] }));
} // prettier-ignore

function said({ found, cannotTell, correlated, residual, unexplained, stepped, presses, yPoints }: Fitted, files: readonly string[], scale: number): string {
  const captures = files.filter((file) => kindOf(file) !== 'tuning');
  const parts = [
    `${captures.slice(0, 3).join(', ')}${captures.length > 3 ? ` and ${captures.length - 3} more` : ''}, y ${yPoints}: numbers that make this motion\n`,
    table(
      ['key', 'value', '±', 'stretches', ''],
      Object.entries(found).map(([key, { value, within, stretches, loose }]) => [key, number(value, Math.max(3, places(within))), number(within, Math.max(3, places(within))), `${stretches}`, loose ? 'loose' : '']),
      [false, true, true, true],
    ),
    '',
    paragraph(`Intervals hold together in 95 of 100 captures. What is left: ${number(residual.rms, 4)} units (root of the mean square), ${number(residual.most, 3)} at most${scale === 1 ? '' : `; ${number(residual.captured.rms, 2)} and ${number(residual.captured.most, 2)} in the capture's own lengths`}${residual.strays > 0 ? `; ${residual.strays} sample${residual.strays === 1 ? ' is' : 's are'} far off and left out` : ''}. ${presses.length} presses and releases changed the motion (--json lists them).`),
  ];
  if (cannotTell.length > 0) parts.push('', table(['not told by it', 'why'], cannotTell.map(({ key, why }) => [key, why])));
  if (correlated.length > 0) parts.push('', `Hardly told apart: ${correlated.map((pair) => pair.join(' and ')).join(', ')}.`);
  if (stepped) parts.push('', paragraph(`Everything begins on a frame of ${stepped.rate} a second: keys are read once a frame, and the motion may go by frames as well, speed first or place first: the places are the same, and the tuning meets them.`));
  if (unexplained.length > 0)
    parts.push('', table(['not explained, from s', 'to s', 'what is seen'], unexplained.slice(0, 12).map(({ from, to, why }) => [number(from, 2), number(to, 2), why]), [true, true]), ...(unexplained.length > 12 ? [`and ${unexplained.length - 12} more (--json)`] : []));
  return parts.join('\n');
} // prettier-ignore
