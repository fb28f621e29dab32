import Papa from 'papaparse';
import { ACTIONS, showValue, type InputRow } from '../core/index.js';
import { readCall } from './host-schema.js';
import { Problems, type Problem } from './problem.js';
import { nearest } from '../lab/nearest.js';

/** The longest input that is read, characters. */
export const INPUT_LIMITS = { length: 67108864 } as const;

export interface InputFile {
  rows: InputRow[];
  warnings: Problem[];
}

const HEADER = ['time', 'action', 'value'];
const NUMBER = /^[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?$/;

/**
 * Reads an input: from each row's `time` (s) on, its `action` has its `value`.
 * @param options.actions actions of the game's own abilities, besides those that every character knows
 * @throws FileError with the place of every field that is wrong
 */
export function readInput(
  text: string,
  { file = 'input.csv', actions = [] }: { file?: string; actions?: readonly string[] } = {},
): InputFile {
  const problems = new Problems(file, text);
  if (text.length > INPUT_LIMITS.length) {
    problems.offset(0, `the file has ${text.length} characters; at most ${INPUT_LIMITS.length} are read`);
    problems.refuse();
  }
  const [header, ...records] = parseCsv(problems, text);
  if (!header) problems.offset(0, `the file is empty; its first line must be ${HEADER.join(',')}`);
  else if (header.fields.join() !== HEADER.join())
    problems.offset(header.offset, `the first line must be ${HEADER.join(',')}`);
  problems.refuse();
  const rows: InputRow[] = [];
  const known: ReadonlySet<string> = new Set([...ACTIONS, ...actions]);
  let latest = 0;
  for (const { fields, offset } of records) {
    const wrong = (field: number, message: string, severity: Problem['severity'] = 'error'): void => {
      if (problems.isFull) return;
      const { line } = problems.place(offset);
      problems.at({ line, column: fieldColumn(problems.line(line), field) }, message, severity);
    };
    const row = readRow(fields, known, wrong);
    if (!row) continue;
    if (row.time < latest)
      wrong(0, `this row is earlier than the one before; rows act in order of their time`, 'warning');
    latest = Math.max(latest, row.time);
    rows.push(row);
  }
  problems.refuse();
  return { rows, warnings: problems.warnings };
}

/** The most rows that are read. */
const MOST_ROWS = 4_000_000;

/** A line of the file: its fields, and where it begins. */
interface Row {
  fields: string[];
  offset: number;
}

/** RFC 4180, strictly: a quote stands around a whole field, or twice within one that is quoted. Empty lines are passed over. */
function parseCsv(problems: Problems, text: string): Row[] {
  const rows: Row[] = [];
  const refuse = (offset: number, message: string): never => {
    problems.offset(offset, message);
    problems.refuse();
    throw new Error(message);
  };
  let offset = text.startsWith('\uFEFF') ? 1 : 0;
  const start = offset;
  Papa.parse<string[]>(text.slice(start), {
    delimiter: ',',
    newline: '\n',
    step: ({ data, errors, meta }) => {
      const [error] = errors;
      if (error?.type === 'Quotes')
        refuse(start + Math.max(0, (error.index ?? 0) - 1), error.code === 'MissingQuotes' ? 'a quote is never closed' : 'a quote stands where none can');
      const raw = text.slice(offset, start + meta.cursor);
      const stray = raw.includes('"') ? strayQuote(raw) : -1;
      if (stray >= 0) refuse(offset + stray, 'a quote stands where none can');
      const fields = data.map((field, i) => (i === data.length - 1 && field.endsWith('\r') ? field.slice(0, -1) : field));
      if (fields.length > 1 || fields[0] !== '') rows.push({ fields, offset });
      if (rows.length > MOST_ROWS) refuse(offset, `the file has more than ${MOST_ROWS} rows`);
      offset = start + meta.cursor;
    },
  });
  return rows;
} // prettier-ignore

/** Where a quote stands in a field that is not quoted; -1 where none does. */
function strayQuote(row: string): number {
  let quoted = false;
  for (let i = 0; i < row.length; i++) {
    if (row[i] !== '"') continue;
    if (!quoted && i > 0 && row[i - 1] !== ',' && row[i - 1] !== '"') return i;
    quoted = !quoted;
  }
  return -1;
}

function readRow(
  fields: readonly string[],
  known: ReadonlySet<string>,
  wrong: (field: number, message: string) => void,
): InputRow | undefined {
  if (fields.length !== HEADER.length) {
    wrong(0, `this row has ${fields.length} fields; it must have 3: ${HEADER.join(',')}`);
    return undefined;
  }
  const [timeText, action, valueText] = fields as [string, string, string];
  const time = NUMBER.test(timeText) ? Number(timeText) : NaN;
  if (!(time >= 0 && time <= 1e6))
    wrong(0, `time is ${showValue(timeText)}; it must be a number of seconds, at least 0 and at most 1000000`);
  if (action === 'host') {
    const call = readCall(valueText);
    if (typeof call !== 'string') return { time, action, value: 0, call };
    wrong(2, `the call of this host row is not right: ${call}`);
    return undefined;
  }
  if (!known.has(action)) {
    const actions = [...known];
    const meant = nearest(action, actions);
    wrong(
      1,
      `there is no action ${showValue(action)}${meant ? `; did you mean ${meant}?` : `; the actions are ${actions.join(', ')}`}`,
    );
  }
  const least = action === 'move' ? -1 : 0;
  const value = NUMBER.test(valueText) ? Number(valueText) : NaN;
  if (!(value >= least && value <= 1))
    wrong(2, `value is ${showValue(valueText)}; it must be a number from ${least} to 1`);
  return { time, action, value };
}

/** The column (from 1) at which a field begins. */
function fieldColumn(line: string, field: number): number {
  let quoted = false;
  for (let i = 0; i < line.length && field > 0; i++) {
    if (line[i] === '"') quoted = !quoted;
    else if (line[i] === ',' && !quoted && --field === 0) return i + 2;
  }
  return 1;
}
