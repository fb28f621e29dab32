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

/** `file:line:column: message`, the line itself, and a mark under the column. */
export function formatProblem({ file, line, column, message, source, severity }: Problem): string {
  const number = String(line);
  const from = column > SHOWN ? column - SHOWN / 2 : 0;
  const shown = source.slice(from, from + SHOWN).replace(/[\p{Cc}\p{Cs}]/gu, ' ');
  const pad = ' '.repeat(Math.max(0, column - 1 - from));
  return [
    `${file}:${line}:${column}: ${severity === 'warning' ? 'warning: ' : ''}${message}`,
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

  at(place: { line: number; column: number }, message: string, severity: Problem['severity'] = 'error'): void {
    if (this.list.length >= MOST) return;
    this.list.push({ file: this.file, ...place, message, source: this.line(place.line), severity });
  }

  offset(offset: number, message: string, severity: Problem['severity'] = 'error'): void {
    this.at(this.place(Math.min(offset, this.text.length)), message, severity);
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
 * @throws FileError where they are not UTF-8, hold a NUL, or are more than `most`
 */
export function decodeText(bytes: Uint8Array, file: string, most: number): string {
  const refuse = (message: string, source = ''): never => {
    throw new FileError([{ file, line: 1, column: 1, message, source, severity: 'error' }]);
  };
  if (bytes.length > most) refuse(`the file has ${bytes.length} bytes; at most ${most} are read`);
  if (bytes.includes(0)) refuse('this is not a text file: it holds a NUL byte');
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return refuse('this is not a text file in UTF-8');
  }
}
