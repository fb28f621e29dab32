import { visible } from 'apperin/files';
import { call } from './call.js';

/** A table for people: columns padded to their widest cell, numbers to the right, at most 100 columns wide. */
export function table(
  headings: readonly string[],
  rows: readonly (readonly string[])[],
  right: readonly boolean[] = [],
): string {
  const widths = headings.map((heading, i) =>
    rows.reduce((most, row) => Math.max(most, [...(row[i] ?? '')].length), heading.length),
  );
  const line = (cells: readonly string[]): string =>
    cells
      .map((cell, i) => {
        const pad = ' '.repeat(Math.max(0, widths[i]! - [...cell].length));
        return right[i] ? pad + cell : cell + pad;
      })
      .join('  ')
      .trimEnd();
  return [line(headings), line(widths.map((width) => '─'.repeat(width))), ...rows.map(line)].join('\n');
}

/** A number for people: enough figures to compare, none to stumble over. */
export function number(value: number, places = 3): string {
  if (!Number.isFinite(value)) return '–';
  return value.toFixed(places);
}

/** Says something: names and values are shown with no control characters in them. */
export function print(text: string): void {
  const { out, err, taken } = call();
  const shown = `${visible(text)}\n`;
  if (taken) err(shown);
  else out(shown);
}

/** A remark that is not the answer: to standard error, and not at all with --quiet. */
export function remark(text: string, quiet: boolean | undefined): void {
  if (!quiet) call().err(`${visible(text)}\n`);
}

/** Says on standard error what was written; standard output (`-`) needs no saying. */
export function wrote(files: readonly (string | undefined)[], quiet: boolean | undefined): void {
  const named = files.filter((file) => file !== undefined && file !== '-');
  const last = named.pop();
  if (last !== undefined) remark(`wrote ${named.length > 0 ? `${named.join(', ')} and ` : ''}${last}`, quiet);
}

/** A text that a shell takes for one word. */
export const quoted = (text: string): string => `'${text.replaceAll("'", "'\\''")}'`;

/** A text of at most so many characters. */
export const cut = (text: string, most: number): string => (text.length > most ? `${text.slice(0, most - 1)}…` : text);

/** A path as it has to be typed: with blanks or marks of the shell in it, in quotes. */
export function typed(path: string): string {
  return /^[\w@%+=:,./-]+$/.test(path) && !path.startsWith('-') ? path : quoted(path);
}

/** Counts on standard error while long work goes on, where somebody looks; without a number the line is cleared. */
export function counter(of: string, all: number | undefined, { quiet, json }: { quiet?: boolean; json?: boolean }): (now?: number) => void {
  const { watched, err } = call();
  const shows = watched && !quiet && !json;
  return (now) => {
    if (!shows) return;
    err(now === undefined ? `\r${' '.repeat(40)}\r` : `\r${now}${all === undefined ? '' : ` of ${all}`} ${of} `);
  };
} // prettier-ignore

/** One JSON document on standard output. What JSON cannot hold (a gap that is endless) is null. */
export function printJson(data: unknown): void {
  print(
    JSON.stringify(
      data,
      (_key, value: unknown) => (typeof value === 'number' && !Number.isFinite(value) ? null : value),
      2,
    ),
  );
}

/** A text in lines of at most 96 characters. */
export function paragraph(text: string): string {
  const lines: string[] = [''];
  for (const word of text.split(' ')) {
    const line = lines[lines.length - 1]!;
    if (line === '') lines[lines.length - 1] = word;
    else if (line.length + word.length < 96) lines[lines.length - 1] = `${line} ${word}`;
    else lines.push(word);
  }
  return lines.join('\n');
}
