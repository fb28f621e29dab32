import { UNSEEN, visible } from './visible.js';

/** One thing wrong in a file, and where. Lines and columns count from 1. */
export interface Problem {
  file: string;
  line: number;
  column: number;
  message: string;
  /** The line of the file that it is about, without its end. */
  source: string;
  severity: 'error' | 'warning';
}

/** A file that cannot be used; the message lists every problem with its place. */
export class FileError extends Error {
  override readonly name = 'FileError';
  constructor(readonly problems: readonly Problem[]) {
    super(problems.map(formatProblem).join('\n'));
  }
}

/** The most problems reported of one file. */
const MOST = 20;
/** The longest piece of a line that is shown. */
const SHOWN = 96;
/** The longest message about one thing, characters. */
const LONGEST = 600;

/**
 * `file:line:column: message`, the line itself, and a mark under the column.
 * @example
 * ```ts
 * try { readTuning('run: { sped: 8 }'); } catch (error) { if (error instanceof FileError) console.error(error.problems.map(formatProblem).join('\n')); }
 * ```
 */
export function formatProblem({ file, line, column, message, source, severity }: Problem): string {
  const number = String(line);
  const from = column > SHOWN ? column - SHOWN / 2 : 0;
  const shown = source.slice(from, from + SHOWN).replace(UNSEEN, ' ');
  const pad = ' '.repeat(Math.max(0, column - 1 - from));
  return [
    `${visible(file)}:${line}:${column}: ${severity === 'warning' ? 'warning: ' : ''}${message}`,
    `  ${number} | ${shown}`,
    `  ${' '.repeat(number.length)} | ${pad}^`,
  ].join('\n');
}

/** Collects the problems of one text. */
export class Problems {
  readonly list: Problem[] = [];
  private readonly starts: number[] = [0];

  constructor(
    readonly file: string,
    readonly text: string,
  ) {
    for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) this.starts.push(at + 1);
  }

  /** Where a line and column are in the text. */
  offsetOf({ line, column }: { line: number; column: number }): number {
    return (this.starts[line - 1] ?? this.text.length) + column - 1;
  }

  /** The text of a line, from 1. */
  line(number: number): string {
    const from = this.starts[number - 1] ?? this.text.length;
    const to = this.starts[number] ?? this.text.length + 1;
    return this.text.slice(from, to - 1).replace(/\r$/, '');
  }

  /** Line and column of an offset into the text. */
  place(offset: number): { line: number; column: number } {
    let low = 0;
    let high = this.starts.length;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (this.starts[middle]! <= offset) low = middle;
      else high = middle;
    }
    return { line: low + 1, column: offset - this.starts[low]! + 1 };
  }

  /** Whether nothing more is reported: looking for more is of no use. */
  get isFull(): boolean {
    return this.list.length >= MOST;
  }

  at(place: { line: number; column: number }, message: string, severity: Problem['severity'] = 'error'): void {
    if (this.isFull) return;
    const said = visible(message.length > LONGEST ? `${message.slice(0, LONGEST)}…` : message);
    const [line, column] = [Math.max(1, place.line), Math.max(1, place.column)];
    this.list.push({ file: this.file, line, column, message: said, source: this.line(line), severity });
  }

  offset(offset: number, message: string, severity: Problem['severity'] = 'error'): void {
    if (!this.isFull) this.at(this.place(Math.min(offset, this.text.length)), message, severity);
  }

  get warnings(): Problem[] {
    return this.list.filter(({ severity }) => severity === 'warning');
  }

  /** @throws FileError if there was any error */
  refuse(): void {
    const errors = this.list.filter(({ severity }) => severity === 'error');
    if (errors.length > 0) throw new FileError(errors);
  }
}

/**
 * Bytes of a file as text.
 * @throws FileError where they are not UTF-8, with the place of the first that is not, hold a NUL, or are more than `most`
 * @example
 * ```ts
 * decodeText(new TextEncoder().encode('run: { speed: 8 }'), 'hero.tuning.yaml', 262144)
 * ```
 */
export function decodeText(bytes: Uint8Array, file: string, most: number): string {
  const refuse = (message: string, offset = 0): never => {
    // What stands before is UTF-8.
    const before = new TextDecoder().decode(bytes.subarray(0, offset)).split('\n');
    const source = before.at(-1)!;
    throw new FileError([{ file, line: before.length, column: source.length + 1, message, source, severity: 'error' }]);
  };
  if (bytes.length > most) refuse(`the file has ${bytes.length} bytes; at most ${most} are read`);
  const wide = utf16Of(bytes);
  if (wide) refuse(`this is a text in ${wide}; save it as UTF-8`);
  if (bytes.includes(0)) refuse('this is not a text file: it holds a NUL byte');
  if (!isUtf8(bytes)) {
    const offset = firstWrong(bytes);
    const byte = bytes[offset]!.toString(16).toUpperCase().padStart(2, '0');
    refuse(`this is not a text file in UTF-8: here is the byte ${byte}, as in Latin-1 or Windows-1252; save it as UTF-8`, offset);
  }
  return new TextDecoder('utf-8').decode(bytes);
} // prettier-ignore

/** Which form of UTF-16 a text is in, where it is in one: by its mark, or as every other byte of its beginning is 0. */
function utf16Of(bytes: Uint8Array): string | undefined {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'UTF-16 (little-endian)';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'UTF-16 (big-endian)';
  const start = bytes.subarray(0, 64);
  if (start.length < 4) return undefined;
  const zeros = (odd: number): boolean => start.every((byte, i) => (i % 2 === odd) === (byte === 0));
  return zeros(1) ? 'UTF-16 (little-endian)' : zeros(0) ? 'UTF-16 (big-endian)' : undefined;
}

function isUtf8(bytes: Uint8Array): boolean {
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return true;
  } catch {
    return false;
  }
}

/** Where the first byte stands that is not UTF-8. */
function firstWrong(bytes: Uint8Array): number {
  const text = new TextDecoder('utf-8', { ignoreBOM: true }).decode(bytes);
  let offset = 0;
  let from = 0;
  for (let at = text.indexOf('\uFFFD'); at >= 0; at = text.indexOf('\uFFFD', from)) {
    offset += new TextEncoder().encode(text.slice(from, at)).length;
    // The mark itself may have been written.
    if (bytes[offset] !== 0xef || bytes[offset + 1] !== 0xbf || bytes[offset + 2] !== 0xbd) break;
    offset += 3;
    from = at + 1;
  }
  return offset;
}
