import { closeSync, existsSync, fsyncSync, openSync, readFileSync, statSync, truncateSync, writeSync } from 'node:fs';
import { FOUND_LIMITS, readFound, writeFound } from 'apperin/files';
import { LOST, isIn, type FoundRows, type SearchHead, type SearchRow } from 'apperin/lab';
import { readRegular, reason } from '../disk/read.js';
import { replaceFile } from '../disk/replace.js';
import { call } from './call.js';
import { CallError } from './exit.js';
import { keyOf, refuseOutput } from './write.js';

/** Reads a file of a search. */
export function loadFound(file: string): FoundRows {
  try {
    const text = readRegular(file, FOUND_LIMITS.length).toString('utf8');
    call().inputs.set(keyOf(file, statSync(file)), file);
    return readFound(text, { file });
  } catch (error) {
    if (error instanceof Error && error.name === 'FileError') throw error;
    throw new CallError(`${file}: ${reason(error)}`);
  }
}

/**
 * The file of a search while it runs: a line is written whole, at once, and is not written again. Killed at any moment it is gone on with: a last line that was not written to its end is cut off,
 * rows that are there are not done again.
 */
export class FoundFile {
  /** Rows that are known, each once. */
  readonly rows = new Map<number, SearchRow>();
  private handle: number | undefined;

  /**
   * @param file where it is; none of a search that is only shown
   * @throws CallError where there is something else, or another search
   */
  constructor(
    private readonly file: string | undefined,
    private readonly head: SearchHead,
  ) {
    if (file === undefined) return;
    const line = `${JSON.stringify(head)}\n`;
    try {
      if (existsSync(file) && !this.goOn(file, line)) refuseOutput(file, 'search');
      this.handle = openSync(file, 'a');
      if (statSync(file).size === 0) this.write(line);
    } catch (error) {
      if (error instanceof Error && ['CallError', 'FileError'].includes(error.name)) throw error;
      throw new CallError(`${file} cannot be written: ${reason(error)}`);
    }
  }

  /** Takes what is there already. @returns whether that is of this search */
  private goOn(file: string, line: string): boolean {
    const text = readFileSync(file, 'utf8');
    // Killed while the head was written.
    if (!text.includes('\n') && line.startsWith(text)) {
      truncateSync(file, 0);
      return true;
    }
    if (!text.startsWith('{"version":1,"plan":"')) return false;
    const { head, rows, whole } = readFound(text, { file });
    for (const key of ['build', 'plan', 'shard'] as const)
      if (head[key] !== this.head[key]) throw new CallError(`${file} is of another search: its ${key} is ${head[key]}, not ${this.head[key]}; name another file, or move it away`);
    if (whole < text.length) truncateSync(file, Buffer.byteLength(text.slice(0, whole)));
    for (const row of rows) if (row.error !== LOST) this.rows.set(row.row, row);
    return true;
  } // prettier-ignore

  /** @throws CallError where there is no room for all of it */
  private write(line: string): void {
    const bytes = Buffer.from(line);
    let written: number;
    try {
      written = writeSync(this.handle!, bytes);
    } catch (error) {
      throw new CallError(`${this.file} cannot be written: ${reason(error)}`, { cause: error });
    }
    if (written < bytes.length) throw new CallError(`${this.file} cannot be written to its end: is the disk full? The same call goes on with it`);
  } // prettier-ignore

  /** Keeps a row: it is on disk when this returns. @returns whether it was not there yet */
  add(row: SearchRow): boolean {
    if (this.rows.has(row.row)) return false;
    if (this.handle !== undefined) this.write(`${JSON.stringify(row)}\n`);
    this.rows.set(row.row, row);
    return true;
  }

  /** The rows of this part that are still to be done. */
  missing(shard?: { part: number; of: number }): number[] {
    return Array.from({ length: this.head.rows }, (_, row) => row).filter((row) => isIn(shard, row) && !this.rows.has(row));
  } // prettier-ignore

  /** What was found, sorted; and so in the file, which takes its place whole. */
  async end(): Promise<FoundRows> {
    const found: FoundRows = { head: this.head, rows: [...this.rows.values()].sort((one, other) => one.row - other.row) };
    if (this.handle !== undefined) {
      fsyncSync(this.handle);
      closeSync(this.handle);
      await replaceFile(this.file!, writeFound(found));
    }
    return found;
  } // prettier-ignore
}
