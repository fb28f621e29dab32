import { KEYS, compileTuning, valueOfKey, type Motion, type Tuning } from 'apperin';
import { tuningWithoutMissing } from 'apperin/lab';
import { FileError, editTuning, readTuning, type Edit } from 'apperin/files';
import { OwnAbilities } from './own.js';

/** A tuning that a file says that it comes `from`. */
export interface Base {
  name: string;
  from: string;
  file: string;
  text: string;
}

/** What a key is and was. */
export interface Change {
  key: string;
  was: unknown;
  is: unknown;
}

/** What is wrong with a text, at a key where it is one. */
export interface Wrong {
  key: string;
  message: string;
}

/**
 * A tuning file that is being edited. Its text is the truth: each edit changes the text, so comments, order and style stay. Where a text is wrong, the
 * last good tuning stays in force.
 */
export class TuningDocument {
  text: string;
  /** As it is on disk, or was opened. */
  disk: string;
  /** What the server knows the disk's text by. */
  mark: string;
  /** What somebody else has written meanwhile, until it is decided which counts. */
  theirs: { text: string; mark: string; bases: readonly Base[] } | undefined;
  /** Why what is on disk cannot be read now; empty where it can. */
  unread = '';
  /** What is being saved, until it is. */
  saving: string | undefined;
  tuning: Tuning;
  motion: Motion;
  /** As the file on disk says, where it can be read. */
  saved: Motion;
  wrong: Wrong | undefined;
  /** Abilities of a game that it has numbers for, and that are not known here. */
  missing: readonly string[] = [];
  private past: string[] = [];
  private future: string[] = [];
  /** Edits of one gesture are undone together. */
  private gesture = '';

  constructor(
    readonly name: string,
    text: string,
    mark = '',
    private bases: readonly Base[] = [],
    private readonly own = new OwnAbilities(),
  ) {
    this.text = this.disk = text;
    this.mark = mark;
    const { tuning, motion, missing, wrong } = this.read(text);
    this.tuning = tuning ?? {};
    this.missing = missing ?? [];
    this.wrong = wrong;
    this.saved = this.motion = motion ?? compileTuning({});
  }

  private read(text: string): {
    tuning?: Tuning;
    motion?: Motion;
    missing?: readonly string[];
    wrong: Wrong | undefined;
  } {
    try {
      const open = (name: string, from: string): { text: string; file: string } => {
        const base = this.bases.find((one) => one.name === name && one.from === from);
        if (!base) throw new Error(`${name} cannot be read here`);
        return base;
      };
      const { tuning, motion: whole } = readTuning(text, { file: this.name, open, abilities: this.own.list });
      // What needs an ability that is not here is left out; the text keeps it.
      return { tuning: tuningWithoutMissing(tuning, this.own.list), ...this.own.known(whole), wrong: undefined };
    } catch (error) {
      return { wrong: wrongOf(error) };
    }
  }

  get dirty(): boolean {
    return this.text !== this.disk;
  }
  get canUndo(): boolean {
    return this.past.length > 0;
  }
  get canRedo(): boolean {
    return this.future.length > 0;
  }

  /** Changes keys. Edits of the same gesture (a drag, a key held) are one step to undo. */
  edit(edits: readonly Edit[], gesture = ''): void {
    let text: string;
    try {
      text = editTuning(this.text, edits, this.name);
    } catch (error) {
      // There is no key to change in a text that is not YAML: that has to be mended first.
      this.wrong = wrongOf(error);
      return;
    }
    if (text === this.text) return;
    if (gesture === '' || gesture !== this.gesture) this.past.push(this.text);
    if (this.past.length > 500) this.past.shift();
    this.gesture = gesture;
    this.future = [];
    this.take(text);
    // Every number as it was is the file as it was, however it writes them.
    if (!this.wrong && isEqual(this.tuning, this.onDisk)) this.text = this.disk;
  }

  private onDiskAs: { text: string; bases: readonly Base[]; tuning: Tuning | undefined } | undefined;
  /** What the file on disk says, where it can be read. */
  private get onDisk(): Tuning | undefined {
    const { disk, bases } = this;
    if (this.onDiskAs?.text !== disk || this.onDiskAs.bases !== bases)
      this.onDiskAs = { text: disk, bases, tuning: this.read(disk).tuning };
    return this.onDiskAs.tuning;
  }

  /** The next edit is a step of its own. */
  settle(): void {
    this.gesture = '';
  }

  undo(): void {
    if (this.past.length === 0) return;
    this.future.push(this.text);
    this.gesture = '';
    this.take(this.past.pop()!);
  }

  redo(): void {
    if (this.future.length === 0) return;
    this.past.push(this.text);
    this.gesture = '';
    this.take(this.future.pop()!);
  }

  private take(text: string): void {
    this.text = text;
    const { tuning, motion, missing, wrong } = this.read(text);
    this.wrong = wrong;
    if (!tuning || !motion) return;
    this.tuning = tuning;
    this.missing = missing ?? [];
    this.motion = motion;
  }

  /** Whether a file of this mark, which comes from these, is nothing new. */
  isAt(mark: string, bases: readonly Base[]): boolean {
    return mark === this.mark && isSame(bases, this.bases);
  }

  /**
   * It has been saved.
   * @param text as it was saved: what has been edited since is not
   */
  keep(mark: string, text = this.text): void {
    this.disk = text;
    this.mark = mark;
    this.saved = text === this.text ? this.motion : (this.motionOf(text) ?? this.saved);
    this.unread = '';
  }

  /**
   * Somebody else has written the file: what has not been edited here follows, anything else waits for a decision.
   * @returns whether it followed
   */
  written(text: string, mark: string, bases: readonly Base[] = this.bases): boolean {
    const another = !isSame(bases, this.bases);
    this.unread = '';
    if (text === this.saving) {
      // What this page is saving, edited on here since it was sent.
      this.keep(mark, text);
      return true;
    }
    if (text === this.text || (another && mark === this.mark)) {
      // What it comes from may be another now: that is read anew, and what was edited here stays.
      this.bases = bases;
      if (another) this.take(this.text);
      if (text === this.text) {
        this.theirs = undefined;
        this.keep(mark);
      } else this.saved = this.motionOf(this.disk) ?? this.saved;
      return true;
    }
    if (this.dirty) {
      this.theirs = { text, mark, bases };
      return false;
    }
    this.bases = bases;
    this.follow(text, mark);
    return true;
  }

  /** Decides between what is here and what is on disk. */
  decide(mine: boolean): void {
    const { theirs } = this;
    if (!theirs) return;
    this.theirs = undefined;
    if (mine) {
      this.disk = theirs.text;
      this.mark = theirs.mark;
      this.saved = this.motionOf(theirs.text) ?? this.saved;
    } else {
      this.bases = theirs.bases;
      this.follow(theirs.text, theirs.mark);
    }
  }

  private follow(text: string, mark: string): void {
    this.past.push(this.text);
    this.future = [];
    this.gesture = '';
    this.take(text);
    this.keep(mark);
  }

  /** Other abilities of the game are known now. */
  reread(): void {
    this.onDiskAs = undefined;
    this.take(this.text);
    this.saved = this.motionOf(this.disk) ?? this.saved;
  }

  private motionOf(text: string): Motion | undefined {
    return this.read(text).motion;
  }

  /** What differs from the file on disk, or from another text of it. */
  changes(from: string = this.disk): Change[] {
    const other = from === this.disk ? this.saved : this.motionOf(from);
    return other ? changesBetween(other, this.motion) : [];
  }

  /** What is wrong with another text of the file. */
  wrongIn(text: string): Wrong | undefined {
    return this.read(text).wrong;
  }

  /** The value of a key in the file on disk, as it is written there: undefined where it is not. */
  writtenOnDisk(key: string): unknown {
    return this.onDisk && valueOfKey(this.onDisk, key);
  }
}

const isSame = (one: readonly Base[], other: readonly Base[]): boolean => JSON.stringify(one) === JSON.stringify(other);

/** Whether two values say the same, in whatever order. */
function isEqual(one: unknown, other: unknown): boolean {
  if (typeof one !== 'object' || typeof other !== 'object' || !one || !other) return one === other;
  const [names, others] = [Object.keys(one), Object.keys(other)];
  return names.length === others.length && names.every((name) => isEqual(one[name as never], other[name as never]));
}

function wrongOf(error: unknown): Wrong {
  if (!(error instanceof FileError)) return { key: '', message: (error as Error).message };
  const { line, message } = error.problems[0]!;
  const known = KEYS.find(({ key }) => message.startsWith(`${key} `));
  return {
    key: known?.key ?? /^own\.[^.]+\.[^.: ]+/.exec(message)?.[0] ?? keyIn(message),
    message: `line ${line}: ${message}`,
  };
}

function keyIn(message: string): string {
  return KEYS.find(({ key }) => message.includes(key))?.key ?? '';
}

export function changesBetween(before: Motion, after: Motion): Change[] {
  return [...KEYS.map(({ key }) => key), ...new Set([before, after].flatMap(({ full }) => ownKeys(full.own)))].map((key) => ({ key, was: valueOfKey(before.full, key), is: valueOfKey(after.full, key) })).filter(
    ({ was, is }) => JSON.stringify(was) !== JSON.stringify(is),
  );
} // prettier-ignore

function ownKeys(own: Motion['full']['own']): string[] {
  return Object.entries(own).flatMap(([name, numbers]) => Object.keys(numbers).map((key) => `own.${name}.${key}`));
}
