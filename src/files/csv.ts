import Papa from 'papaparse';
import type { Problems } from './problem.js';

/** The most rows that are read. */
const MOST_ROWS = 4_000_000;

/** A line of the file: its fields, and where it begins. */
export interface Row {
  fields: string[];
  offset: number;
}

/** RFC 4180, strictly: a quote stands around a whole field, or twice within one that is quoted. Empty lines are passed over. */
export function parseCsv(problems: Problems, text: string): Row[] {
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

/** The column (from 1) at which a field begins. */
export function fieldColumn(line: string, field: number): number {
  let quoted = false;
  for (let i = 0; i < line.length && field > 0; i++) {
    if (line[i] === '"') quoted = !quoted;
    else if (line[i] === ',' && !quoted && --field === 0) return i + 2;
  }
  return 1;
}
