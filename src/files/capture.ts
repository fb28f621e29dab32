import Papa from 'papaparse';
import { ACTIONS, showValue } from '../core/index.js';
import type { Capture } from '../lab/fit/capture.js';
import { nearest } from '../lab/nearest.js';
import { Problems } from './problem.js';

/**
 * The longest capture that is read, characters.
 * @example
 * ```ts
 * CAPTURE_LIMITS.rows // 1000000
 * ```
 */
export const CAPTURE_LIMITS = { length: 67108864, rows: 1_000_000 } as const;

/** Which columns of a table say what. */
export interface CaptureColumns {
  /** Unless given: `time` or `t`. */
  time?: string;
  /** How much of that is a second: 1000 where it counts milliseconds, 60 where it counts frames of a sixtieth; 1 unless given. */
  perSecond?: number;
  /** Unless given: `x` and `y`. */
  x?: string;
  y?: string;
  /** A column that tells bodies apart; and which of them it is about, or all of them. */
  who?: string;
  body?: string;
  /** By action: the column that says whether it is held. */
  keys?: Readonly<Record<string, string>>;
}

type Cells = Record<string, unknown>;

/**
 * Reads captures of a motion: a table as CSV (commas, semicolons or tabs, its first line names the columns), or objects as JSON Lines. One capture for each body.
 * @throws FileError with the place of what is wrong
 * @example
 * ```ts
 * readCapture('t,x,y\n0,1,2\n0.1,1.5,2\n', { time: 't' })
 * ```
 */
export function readCapture(text: string, { file = 'capture.csv', ...columns }: CaptureColumns & { file?: string } = {}): Capture[] {
  const problems = new Problems(file, text);
  const refuse = (message: string, line = 1): never => {
    problems.at({ line, column: 1 }, message);
    problems.refuse();
    throw new Error(message);
  };
  if (text.length > CAPTURE_LIMITS.length) refuse(`the file has ${text.length} characters; at most ${CAPTURE_LIMITS.length} are read`);
  const { names, rows } = text.trimStart().startsWith('{') ? linesOf(text, refuse) : tableOf(text, refuse);
  if (rows.length > CAPTURE_LIMITS.rows) refuse(`the file has ${rows.length} rows; at most ${CAPTURE_LIMITS.rows} are read`);
  const column = (what: string, given: string | undefined, usual: readonly string[]): string => {
    const found = given === undefined ? names.find((name) => usual.includes(name.toLowerCase())) : names.find((name) => name === given);
    if (found !== undefined) return found;
    const meant = given === undefined ? undefined : nearest(given, names);
    return refuse(given === undefined
      ? `no column is named ${usual.join(' or ')}: say which one has ${what}; there are ${names.join(', ')}`
      : `there is no column ${showValue(given)}${meant ? `; did you mean ${meant}?` : `; there are ${names.join(', ')}`}`);
  };
  const { perSecond = 1, who, body } = columns;
  if (!(perSecond > 0 && Number.isFinite(perSecond))) throw new RangeError(`perSecond is ${perSecond}; it must be above 0`);
  const [time, x, y] = [column('the time', columns.time, ['time', 't']), column('places across', columns.x, ['x']), column('heights', columns.y, ['y'])];
  const bodies = who === undefined ? undefined : column('the bodies', who, []);
  const keys = Object.entries(columns.keys ?? {}).map(([action, name]) => {
    if (!(ACTIONS as readonly string[]).includes(action)) throw new RangeError(`there is no action ${action}; there are ${ACTIONS.join(', ')}`);
    return [action, column(action, name, [])] as const;
  });
  const found = new Map<string, { time: number[]; x: number[]; y: number[]; keys: Record<string, number[]> }>();
  for (const { cells, line } of rows) {
    const name = bodies === undefined ? '' : String(cells[bodies] ?? '');
    if (body !== undefined && name !== body) continue;
    // A body that is not there at the moment has no place.
    if (isEmpty(cells[x]) && isEmpty(cells[y])) continue;
    const capture = found.get(name) ?? { time: [], x: [], y: [], keys: Object.fromEntries(keys.map(([action]) => [action, []])) };
    found.set(name, capture);
    const number = (of: string): number => {
      const value = numberOf(cells[of]);
      if (Number.isNaN(value)) problems.at({ line, column: 1 }, `${of} is ${showValue(cells[of])}; it must be a number`);
      return value;
    };
    capture.time.push(number(time) / perSecond);
    capture.x.push(number(x));
    capture.y.push(number(y));
    for (const [action, of] of keys) capture.keys[action]!.push(heldOf(cells[of], () => number(of)));
    if (problems.isFull) break;
  }
  problems.refuse();
  if (found.size === 0) refuse(body === undefined ? 'there are no samples in it' : `nobody is ${showValue(body)} in the column ${bodies}`);
  return [...found].map(([name, { keys: held, ...capture }]) => ({ ...capture, ...(keys.length > 0 ? { keys: held } : {}), name: name === '' ? file : `${file} (${name})` }));
} // prettier-ignore

interface Rows {
  names: string[];
  rows: { cells: Cells; line: number }[];
}

function tableOf(text: string, refuse: (message: string, line?: number) => never): Rows {
  const { data, errors, meta } = Papa.parse<Cells>(text.replace(/^\uFEFF/, ''), { header: true, skipEmptyLines: 'greedy', delimitersToGuess: [',', ';', '\t', '|'] });
  const names = (meta.fields ?? []).filter((name) => name !== '');
  const wrong = errors.find(({ code }) => code !== 'UndetectableDelimiter' && code !== 'TooManyFields');
  if (names.length === 0 || data.length === 0) refuse('it is no table: its first line must name the columns, and samples follow, one a line');
  if (wrong) refuse(wrong.code === 'TooFewFields' ? `this line has fewer fields than the first, which names ${names.length}` : wrong.message, (wrong.row ?? 0) + 2);
  return { names, rows: data.map((cells, i) => ({ cells, line: i + 2 })) };
} // prettier-ignore

function linesOf(text: string, refuse: (message: string, line?: number) => never): Rows {
  const rows: Rows['rows'] = [];
  const names = new Set<string>();
  text.replace(/^\uFEFF/, '').split('\n').forEach((row, i) => {
    if (row.trim() === '') return;
    try {
      const cells = JSON.parse(row) as unknown;
      if (typeof cells !== 'object' || cells === null || Array.isArray(cells)) throw new Error('no object');
      for (const name of Object.keys(cells)) names.add(name);
      rows.push({ cells: cells as Cells, line: i + 1 });
    } catch {
      refuse('this line is no JSON object', i + 1);
    }
  });
  return { names: [...names], rows };
} // prettier-ignore

const isEmpty = (cell: unknown): boolean => cell === undefined || cell === null || cell === '';

function numberOf(cell: unknown): number {
  if (typeof cell === 'number') return cell;
  if (typeof cell !== 'string' || cell.trim() === '') return NaN;
  // A decimal comma, where fields are parted by something else.
  return Number(/^[^.]*,\d+$/.test(cell) ? cell.replace(',', '.') : cell);
}

/** Whether a key is held: a number, or as words say it. */
function heldOf(cell: unknown, number: () => number): number {
  if (cell === true || cell === 'true' || cell === 'TRUE' || cell === 'True') return 1;
  if (isEmpty(cell) || cell === false || cell === 'false' || cell === 'FALSE' || cell === 'False') return 0;
  return number();
}
