import { CsvError, parse } from 'csv-parse/browser/esm/sync';
import { ACTIONS, showValue, type InputRow } from '../core/index.js';
import { readCall } from './host-schema.js';
import { Problems, type Problem } from './problem.js';
import { nearest } from './yaml.js';

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
  const records = parseCsv(problems, text);
  const header = records[0];
  if (!header) {
    problems.offset(0, `the file is empty; its first line must be ${HEADER.join(',')}`);
    problems.refuse();
  } else if (header.fields.join() !== HEADER.join()) {
    problems.at({ line: header.line, column: 1 }, `the first line must be ${HEADER.join(',')}`);
    problems.refuse();
  }
  const rows: InputRow[] = [];
  let latest = 0;
  for (const { fields, line } of records.slice(1)) {
    const place = (field: number): { line: number; column: number } => ({
      line,
      column: fieldColumn(problems.line(line), field),
    });
    const row = readRow(fields, actions, (field, message) => problems.at(place(field), message));
    if (!row) continue;
    if (row.time < latest)
      problems.at(place(0), `this row is earlier than the one before; rows act in order of their time`, 'warning');
    latest = Math.max(latest, row.time);
    rows.push(row);
  }
  problems.refuse();
  return { rows, warnings: problems.warnings };
}

function parseCsv(problems: Problems, text: string): { fields: string[]; line: number }[] {
  try {
    const parsed = parse(text, {
      bom: true,
      info: true,
      relax_column_count: true,
      skip_empty_lines: true,
      record_delimiter: ['\r\n', '\n'],
    }) as unknown as { record: string[]; info: { lines: number } }[];
    return parsed.map(({ record, info }) => ({
      fields: record,
      line: info.lines - record.join('').split('\n').length + 1,
    }));
  } catch (error) {
    if (!(error instanceof CsvError)) throw error;
    const line = typeof error.lines === 'number' ? error.lines : 1;
    const message = error.code === 'CSV_QUOTE_NOT_CLOSED' ? 'a quote is never closed' : 'a quote stands where none can';
    problems.at({ line, column: Math.max(1, problems.line(line).indexOf('"') + 1) }, message);
    problems.refuse();
    throw error;
  }
}

function readRow(
  fields: readonly string[],
  further: readonly string[],
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
  const actions = [...ACTIONS, ...further];
  if (!actions.includes(action)) {
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
