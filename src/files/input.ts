import { ACTIONS, showValue, type InputRow } from '../core/index.js';
import { readCall } from './host-schema.js';
import { fieldColumn, parseCsv } from './csv.js';
import { Problems, type Problem } from './problem.js';
import { nearest } from '../lab/nearest.js';

/**
 * The longest input that is read, characters.
 * @example
 * ```ts
 * INPUT_LIMITS.length // 67108864
 * ```
 */
export const INPUT_LIMITS = { length: 67108864 } as const;

/** What an input file holds. */
export interface InputFile {
  rows: InputRow[];
  warnings: Problem[];
}

const HEADER = ['time', 'action', 'value'];
const NUMBER = /^[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?$/;

/**
 * Reads an input: from each row's `time` (s) on, its `action` has its `value`.
 * @param options settings, each of which may be left out
 * @param options.actions actions of the game's own abilities, besides those that every character knows
 * @throws FileError with the place of every field that is wrong
 * @example
 * ```ts
 * const { rows } = readInput('time,action,value\n0.2,right,1\n');
 * ```
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
