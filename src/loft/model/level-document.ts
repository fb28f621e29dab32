import type { CompiledLevel, DrawnLevel, Level } from 'apperin';
import {
  ConvertError,
  drawingOf,
  editDrawing,
  intoRows,
  piecesOf,
  readLevel,
  type DrawnPiece,
  type PieceEdit,
} from 'apperin/files';

/** So many edits can be undone. */
const MOST = 200;

/** A level's file that is being edited. Pieces are moved in its drawing: of a level in rows, in one that is made of them. */
export class LevelDocument {
  readonly name: string;
  /** As it is on disk, or was opened. */
  text: string;
  /** What the server knows the disk's text by. */
  mark: string;
  compiled: CompiledLevel;
  /** The drawing that is edited; undefined while nothing of it was. */
  private drawing: string | undefined;
  private past: string[] = [];
  private future: string[] = [];
  /** Edits of one gesture are undone together. */
  private gesture = '';
  private level: Level | DrawnLevel;
  private known: { drawing: string; pieces: readonly DrawnPiece[] } | undefined;

  /** @throws FileError */
  constructor({ name, text, mark }: { name: string; text: string; mark: string }) {
    ({ level: this.level, compiled: this.compiled } = readLevel(text, { file: name }));
    this.name = name;
    this.text = text;
    this.mark = mark;
  }

  private get isDrawing(): boolean {
    return this.name.endsWith('.svg');
  }

  /** The level as it is now, as a text that can be read. */
  get source(): { name: string; text: string } {
    return this.drawing === undefined ? { name: this.name, text: this.text } : { name: this.drawnName, text: this.drawing };
  }

  /** What a level in rows is called as a drawing beside it. */
  get drawnName(): string {
    return this.name.replace(/\.level\.yaml$/, '.level.svg');
  }

  /** The drawing as it is now. @throws ConvertError where free shapes carry what a drawing cannot say */
  get drawn(): string {
    return this.drawing ?? this.asRead;
  }

  private read: string | undefined;
  /** The drawing of what is on disk. */
  private get asRead(): string {
    return (this.read ??= this.isDrawing ? this.text : drawingOf(this.level, this.compiled.extent));
  }

  /** What can be moved. @throws ConvertError, FileError */
  get pieces(): readonly DrawnPiece[] {
    const { drawn: now, known } = this;
    if (known?.drawing !== now) this.known = { drawing: now, pieces: piecesOf(now, this.drawnName) };
    return this.known!.pieces;
  }

  get dirty(): boolean {
    return this.drawing !== undefined;
  }
  get canUndo(): boolean {
    return this.past.length > 0;
  }
  get canRedo(): boolean {
    return this.future.length > 0;
  }

  /**
   * Moves pieces. What cannot be a level stays as it was.
   * @throws FileError, RangeError, ConvertError, saying why
   */
  edit(edits: readonly PieceEdit[], gesture = ''): void {
    const { drawn: now } = this;
    // A gesture begins with the drawing that it began with, each time.
    const isOn = gesture !== '' && gesture === this.gesture;
    const from = isOn ? this.past.at(-1)! : now;
    const drawing = editDrawing(from, edits, this.drawnName);
    if (drawing === now) return;
    this.take(drawing);
    if (!isOn) this.past.push(from);
    if (this.past.length > MOST) this.past.shift();
    this.gesture = gesture;
    this.future = [];
  }

  /** The next edit is a step of its own. */
  settle(): void {
    this.gesture = '';
  }

  undo(): void {
    const { drawn: now } = this;
    const before = this.past.pop();
    if (before === undefined) return;
    this.future.push(now);
    this.gesture = '';
    this.take(before);
  }

  redo(): void {
    const { drawn: now } = this;
    const after = this.future.pop();
    if (after === undefined) return;
    this.past.push(now);
    this.gesture = '';
    this.take(after);
  }

  private take(drawing: string): void {
    const isAsRead = drawing === this.asRead;
    this.compiled = isAsRead ? readLevel(this.text, { file: this.name }).compiled : readLevel(drawing, { file: this.drawnName }).compiled;
    this.drawing = isAsRead ? undefined : drawing;
  }

  /**
   * What is to be saved: of a level in rows its rows where every piece is on the grid, else why it is not.
   * @throws FileError
   */
  get toSave(): { text: string } | { drawing: string; why: string } {
    const { drawing } = this;
    if (drawing === undefined) return { text: this.text };
    if (this.isDrawing) return { text: drawing };
    try {
      return { text: intoRows(this.text, drawing, this.name) };
    } catch (error) {
      if (!(error instanceof ConvertError)) throw error;
      return { drawing, why: error.message };
    }
  }

  /** Somebody else has written it, and it is not decided yet whose counts. */
  theirs: { text: string; mark: string } | undefined;

  /** @param mine whether what was moved here is kept; it is saved over what is on disk when it is saved @throws FileError */
  decide(mine: boolean): void {
    const { theirs } = this;
    this.theirs = undefined;
    if (!theirs) return;
    if (!mine) return this.written(theirs.text, theirs.mark);
    if (!this.isDrawing) readLevel(theirs.text, { file: this.name });
    this.text = theirs.text;
    this.mark = theirs.mark;
  }

  /** It has been saved, or somebody else has written it. @throws FileError */
  written(text: string, mark: string): void {
    ({ level: this.level, compiled: this.compiled } = readLevel(text, { file: this.name }));
    this.text = text;
    this.mark = mark;
    this.drawing = this.read = undefined;
    this.past = [];
    this.future = [];
    this.gesture = '';
  }
} // prettier-ignore
