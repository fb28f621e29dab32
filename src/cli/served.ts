import { createHash } from 'node:crypto';
import { realpathSync, statSync } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import { readRegular, reason } from '../disk/read.js';
import { ChangedError, replaceFile } from '../disk/replace.js';
import { FileError, TUNING_LIMITS, baseOf, decodeText } from 'apperin/files';
import { CallError } from './exit.js';
import { kindOf, type Kind } from './kinds.js';

/** The longest file that is written, bytes; four times as much is read. */
export const MOST_WRITTEN = 1 << 20;
const MOST_READ = 4 * MOST_WRITTEN;

const KINDS: readonly Kind[] = ['tuning', 'level', 'input', 'keys'];

/** A tuning that another one comes `from`, read only. */
interface Base {
  name: string;
  from: string;
  file: string;
  text: string;
}

/** What stands under a name now. */
interface Now {
  /** Empty where it cannot be read. */
  text: string;
  /** Why it cannot be read; empty where it can. */
  wrong: string;
  mark: string;
  /** Whether the file begins with the mark of UTF-8, which is then kept. */
  bom: boolean;
}

/** What came of a save: 200 it is written, 409 what stands there is not to be replaced, 412 it is not what it was thought to be. */
export interface Saved {
  status: 200 | 409 | 412;
  refused: string;
}

/** The mark of what is not there. */
export const GONE = 'gone';
const BOM = '\uFEFF';

/** What tells one text from another. */
const markOf = (text: string): string => createHash('sha256').update(text).digest('hex').slice(0, 24);

/** A module with abilities of a game that was given: the page runs it, and nothing is written to it. */
export class ServedModule {
  readonly name: string;
  readonly path: string;
  text = '';
  private mark = '';

  constructor(file: string) {
    this.path = resolve(file);
    this.name = basename(this.path);
    this.renew();
  }

  get seen(): object {
    return { name: this.name, kind: 'abilities', mark: this.mark };
  }

  /** Looks at the disk. @returns whether the page is to be told of something new; while it cannot be read, what was there stays */
  renew(): boolean {
    const { mark } = this;
    try {
      this.text = decodeText(readRegular(this.path, MOST_READ), this.path, MOST_READ);
      this.mark = markOf(this.text);
    } catch {
      return false;
    }
    return this.mark !== mark;
  }
}

/** A file that was given, as the page sees it. */
export class ServedFile {
  readonly name: string;
  readonly kind: Kind;
  readonly path: string;
  /** Where it really is: if that changes, it is another file and is not touched. */
  readonly real: string;
  private bases: Base[] = [];
  /** Where what it comes from is, and one that is not there yet. */
  basePaths: string[] = [];
  private now: Now;
  /** Saves of one file follow each other, whoever asks. */
  private last: Promise<unknown> = Promise.resolve();

  constructor(file: string) {
    this.path = resolve(file);
    const kind = kindOf(this.path);
    if (!kind || !KINDS.includes(kind)) throw new CallError(`${file}: the Loft opens tunings, a level, inputs and keys (*.tuning.yaml, *.level.yaml, *.level.svg, *.input.csv, *.keys.yaml)`); // prettier-ignore
    this.kind = kind;
    this.name = basename(this.path);
    try {
      this.real = realpathSync(this.path);
    } catch (error) {
      throw new CallError(`${file}: ${reason(error)}`);
    }
    this.now = this.look();
    if (this.now.wrong) throw new CallError(`${file}: ${this.now.wrong}`);
    this.follow();
  }

  /**
   * A drawing that is written for the first time beside a level in rows, under the level's own name. What stands there already is not replaced.
   * @returns undefined where that is no name for it, or where something is there
   * @throws Error where it cannot be written
   */
  async beside(name: string, text: string): Promise<ServedFile | undefined> {
    if (this.kind !== 'level' || name !== this.name.replace(/\.level\.yaml$/, '.level.svg') || name === this.name) return undefined;
    const path = join(dirname(this.path), name);
    if (!this.isSame() || isThere(path)) return undefined;
    try {
      await replaceFile(path, text, { still: (bytes) => bytes === undefined });
    } catch (error) {
      if (error instanceof ChangedError) return undefined;
      throw new Error(`${name} cannot be written: ${reason(error)}`, { cause: error });
    }
    return new ServedFile(path);
  } // prettier-ignore

  /** As the page is told of it. */
  get seen(): object {
    const { name, kind, bases } = this;
    const { text, wrong, mark } = this.now;
    return { name, kind, bases, text, mark, ...(wrong ? { wrong } : {}) };
  }

  /** Looks at the disk. @returns whether the page is to be told of something new */
  renew(): boolean {
    const before = JSON.stringify(this.seen);
    const now = this.look();
    // An editor that replaces a file takes it away for a moment.
    if (now.mark === GONE) return false;
    this.now = now;
    this.follow();
    return JSON.stringify(this.seen) !== before;
  }

  /**
   * Writes the file if it still is what the page thinks that it is. What cannot be read is not replaced: nobody has seen what is in it.
   * @param mark of what it is thought to be
   * @throws Error where it cannot be written
   */
  save(text: string, mark: string): Promise<Saved> {
    const saved = this.last.then(() => this.write(text, mark));
    this.last = saved.catch(() => undefined);
    return saved;
  }

  private async write(text: string, mark: string): Promise<Saved> {
    if (!this.isSame()) return { status: 409, refused: 'the file is a link to another place now' };
    this.now = this.look();
    this.follow();
    const { wrong } = this.now;
    if (wrong && this.now.mark !== GONE) return { status: 409, refused: `what is on disk cannot be read, and is not replaced: ${wrong}` };
    if (mark !== this.now.mark) return { status: 412, refused: 'the file has changed' };
    try {
      await replaceFile(this.path, this.now.bom ? BOM + text : text, {
        still: (bytes) => markOfBytes(bytes, this.name) === mark,
      });
    } catch (error) {
      if (!(error instanceof ChangedError)) throw new Error(`${this.name} cannot be written: ${reason(error)}`, { cause: error });
      this.now = this.look();
      this.follow();
      return { status: 412, refused: 'the file has changed' };
    }
    this.now = { ...this.now, text, wrong: '', mark: markOf(text) };
    this.follow();
    return { status: 200, refused: '' };
  } // prettier-ignore

  private look(): Now {
    if (!this.isSame())
      return { text: '', wrong: 'the file is a link to another place now', mark: 'elsewhere', bom: false };
    try {
      const bytes = readRegular(this.path, MOST_READ);
      const text = decodeText(bytes, this.path, MOST_READ);
      return { text, wrong: '', mark: markOf(text), bom: bytes.subarray(0, 3).equals(Buffer.from(BOM)) };
    } catch (error) {
      return { text: '', wrong: wordsOf(error), mark: isThere(this.path) ? 'unread' : GONE, bom: false };
    }
  }

  private isSame(): boolean {
    try {
      return realpathSync(this.path) === this.real;
    } catch {
      // It is gone: it is written anew where it was.
      try {
        return dirname(this.real) === realpathSync(dirname(this.path));
      } catch {
        return false;
      }
    }
  }

  /** The tunings that it comes from, as far as they can be read: whoever reads it says what is wrong. */
  private follow(): void {
    this.bases = [];
    this.basePaths = [];
    if (this.kind !== 'tuning') return;
    for (let [at, text] = [this.path, this.now.text]; this.bases.length < TUNING_LIMITS.chain;) {
      try {
        const from = baseOf(text);
        if (from === undefined) break;
        const next = resolve(dirname(at), from);
        if (kindOf(next) !== 'tuning' || this.basePaths.includes(next)) break;
        this.basePaths.push(next);
        text = decodeText(readRegular(next, TUNING_LIMITS.length), next, TUNING_LIMITS.length);
        this.bases.push({ name: from, from: this.bases.at(-1)?.file ?? basename(this.path), file: basename(next), text });
        at = next;
      } catch {
        break;
      }
    }
  } // prettier-ignore
}

function isThere(path: string): boolean {
  try {
    return statSync(path, { throwIfNoEntry: false }) !== undefined;
  } catch {
    return true;
  }
}

/** What is wrong, in one line: what the file holds is not told. */
const wordsOf = (error: unknown): string =>
  error instanceof FileError ? error.problems[0]!.message : (error as Error).message;

function markOfBytes(bytes: Buffer | undefined, name: string): string {
  try {
    return bytes === undefined ? GONE : markOf(decodeText(bytes, name, MOST_READ));
  } catch {
    return 'unread';
  }
}
