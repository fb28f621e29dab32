import type { Level } from '../core/index.js';
import { levelOfCells, type GridMarks } from './cells.js';
import { fieldColumn, parseCsv } from './csv.js';
import { LEVEL_LIMITS, readWritten, type LevelFile } from './level.js';
import { Problems } from './problem.js';

const WHOLE = /^[+-]?\d+$/;

/**
 * Reads a map of cells as many programs write it: CSV of whole numbers, a line for each row from the top.
 * @param options settings, each of which may be left out
 * @param options.marks what the numbers mean
 * @param options.level what else the level has: `tile`, `origin`, `spawns`, `zones`, `movers`, …, as a level in code
 * @throws FileError with the place of every cell that is no whole number or means nothing; LevelError where the marks or the rest of the level are wrong
 * @example
 * ```ts
 * readGrid('0,2\n1,1', { marks: { 1: '#', 2: '@' } })
 * ```
 */
export function readGrid(
  text: string,
  { file = 'cells.csv', marks, level = {} }: { file?: string; marks: GridMarks; level?: Omit<Level, 'rows' | 'marks'> },
): LevelFile {
  const problems = new Problems(file, text);
  if (text.length > LEVEL_LIMITS.length)
    problems.offset(0, `the file has ${text.length} characters; at most ${LEVEL_LIMITS.length} are read`);
  problems.refuse();
  const records = parseCsv(problems, text);
  if (records.length === 0) problems.offset(0, 'the file has no cells');
  problems.refuse();
  const report = (row: number, column: number, message: string, severity: 'error' | 'warning' = 'error'): void => {
    const { line } = problems.place(records[row]!.offset);
    problems.at({ line, column: fieldColumn(problems.line(line), column) }, message, severity);
  };
  const width = records.reduce((most, { fields }) => Math.max(most, fields.length), 0);
  const cells = records.map(({ fields }, row) => {
    // Some programs end each line with a comma.
    const count = fields.length > 1 && fields.at(-1)!.trim() === '' ? fields.length - 1 : fields.length;
    return fields.slice(0, count).map((field, column) => {
      if (!WHOLE.test(field.trim()))
        report(row, column, `the cell is ${JSON.stringify(field)}; it must be a whole number`);
      return Number(field);
    });
  });
  const short = records.findIndex(({ fields }) => fields.length < width);
  if (short >= 0)
    report(short, records[short]!.fields.length - 1, `this row has ${records[short]!.fields.length} cells, the longest ${width}; what is missing counts as empty`, 'warning'); // prettier-ignore
  problems.refuse();
  const written = levelOfCells(cells, marks, level, report);
  problems.refuse();
  return readWritten(written, problems.warnings);
}
