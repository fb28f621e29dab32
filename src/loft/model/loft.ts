import { startOf, type InputRow, type Motion } from 'apperin';
import { readInput, readKeys, writeInput, writeTrace, type Edit } from 'apperin/files';
import { touch } from 'apperin/browser';
import { Camera } from '../draw/camera.js';
import { coloursOf, type Colours } from '../draw/colours.js';
import { drawPicture } from '../draw/picture.js';
import type { Picture, Reach } from '../draw/scene.js';
import { Asking } from './asking.js';
import { TuningDocument } from './document.js';
import { GONE, findDisk, type Disk, type ServedFile } from './server.js';
import { DEMO, download, keep, kept } from './storage.js';
import { OwnAbilities } from './own.js';
import { pairOf } from './ranges.js';
import { Session, short, type Overlay } from './session.js';
import { dragged, handlesOf, type Handle, type HandleName, type Hold } from './handles.js';
import { predict, type Prediction } from './prediction.js';
import { LevelDocument } from './level-document.js';
import { messageOf } from './messages.js';
import { Fitting } from './fitting.js';
import { Moving } from './moving.js';
import { isJump, printOf, show, type Shown } from './shown.js';
import { Timing } from './timing.js';

export type Tab = 'strip' | 'fit' | 'differences' | 'changes' | 'take' | 'files';

/** So long after the last change what can be reached is asked for, ms. */
const STILL = 250;

/** A click is at what is so near, pixels. */
const POINTED = 16;

/** Games that are connected are told of what is dragged this often at most, s. */
const TOLD = 1 / 30;

/** The whole app, but for its looks: what is open, what is played, what is shown. */
export class Loft {
  session!: Session;
  /** Abilities of the game's own. */
  readonly own = new OwnAbilities();
  documents: TuningDocument[] = [];
  inputs: { name: string; text: string }[] = [];
  level!: LevelDocument;
  /** The level is asked where the character gets to. */
  readonly asking = new Asking(
    () => this.tell(),
    () => new Worker(new URL('./survey-worker.ts', import.meta.url), { type: 'module' }),
  );
  readonly camera = new Camera();
  /** The strip of time. */
  readonly strip = new Timing(this);
  /** The level, moved a little. */
  readonly moving = new Moving(this);
  /** The numbers of a motion that was captured, or drawn. */
  readonly fitting = new Fitting(this);
  tab: Tab = 'strip';
  theme: 'light' | 'dark' = matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
  readonly calm = matchMedia('(prefers-reduced-motion: reduce)').matches;
  /** The key whose number is touched, and the tuning before it was. */
  touched: { key: string; before: Motion } | undefined;
  shown: Shown | undefined;
  print = '';
  /** What will happen from where the character is: while a number of the jump is touched, or where it is asked for. */
  predicted: { before: Prediction | undefined; after: Prediction } | undefined;
  private predictedAt: readonly unknown[] = [];
  reach: Reach | undefined;
  say = '';
  away = false;
  disk: Disk | undefined;
  private colours: Colours | undefined;
  private canvas: HTMLCanvasElement | undefined;
  private pen: CanvasRenderingContext2D | undefined;
  private readonly listeners = new Set<() => void>();
  private readonly frames = new Set<(now: number) => void>();
  version = 0;
  private worker: Worker | undefined;
  private asked: Motion | undefined;
  private lastEdit = -Infinity;
  /** What games that are connected have not been told yet, and when they were told last, s. */
  private toTell: TuningDocument | undefined;
  private told = -Infinity;
  /** Frames that were drawn: for checks. */
  readonly drawn = { frames: 0 };

  async open(): Promise<void> {
    this.disk = await findDisk();
    const files = this.disk?.files ?? [...kept(), ...DEMO.filter(({ kind, name }) => !kept().some((one) => one.name === name || (one.kind === kind && kind === 'level')))];
    await this.takeAbilities(files.filter(({ kind }) => kind === 'abilities'));
    const given = files.filter(({ kind }) => kind === 'tuning');
    const tunings = given.length > 0 ? given : [{ name: 'hero.tuning.yaml', kind: 'tuning' as const, bases: [], text: '', mark: '' }];
    this.documents = tunings.map(({ name, text, mark, bases }) => new TuningDocument(name, text, mark, bases, this.own));
    // A drawing that was saved beside the level comes after it.
    const level = files.findLast(({ kind }) => kind === 'level') ?? DEMO[0]!;
    this.inputs = files.filter(({ kind }) => kind === 'input').map(({ name, text }) => ({ name, text }));
    this.level = this.opened(level);
    this.session = new Session(this.level.compiled, this.documents[0]!, window, this.own);
    this.session.keys.keys = this.own.bound(this.session.keys.keys);
    for (const keys of files.filter(({ kind }) => kind === 'keys')) this.takeKeys(keys);
    this.look();
    this.setTheme(this.theme);
    this.disk?.watch((file) => this.changed(file), (away) => {
      this.away = away;
      this.tell();
    });
    this.tell();
  } // prettier-ignore

  /** It cannot be opened: that is said, where the app would be. */
  failed = '';
  fail(error: unknown): void {
    this.failed = messageOf(error);
    this.tell();
  }

  private opened(file: ServedFile): LevelDocument {
    try {
      return new LevelDocument(file);
    } catch (error) {
      this.say = messageOf(error);
      return new LevelDocument({ name: 'nothing.level.yaml', text: "rows: ['@', '####################']", mark: '' });
    }
  }

  private takeKeys({ name, text }: ServedFile): void {
    try {
      this.session.keys.keys = this.own.bound(readKeys(text, { file: name, actions: this.own.actions }).bindings.keys);
    } catch (error) {
      this.say = messageOf(error);
    }
  }

  private modules: ServedFile[] = [];

  /** Runs the modules of the game's own abilities, as they are on disk now. */
  private async takeAbilities(files: readonly ServedFile[]): Promise<void> {
    this.modules = [...files];
    const wrong = await this.own.load(files.map(({ name, mark }) => ({ name, href: new URL(`./abilities/${encodeURIComponent(name)}?${mark}`, location.href).href })));
    if (wrong) this.say = wrong;
  } // prettier-ignore

  /** A module has changed: what is played begins anew, with the abilities as they are now. */
  private async changeAbilities(file: ServedFile): Promise<void> {
    this.say = `${file.name} has changed: begun anew`;
    await this.takeAbilities(this.modules.map((one) => (one.name === file.name ? file : one)));
    for (const document of this.documents) document.reread();
    const { session, own } = this;
    session.keys.keys = own.bound(session.keys.keys);
    session.changeLevel(session.level);
    this.reshow();
    this.tell();
  }

  /** The pads on a screen that is touched play the character, too. */
  takeFingers(over: HTMLElement): void {
    const [stick, ...taps] = [...over.querySelectorAll<HTMLElement>('[data-finger]')];
    const buttons = Object.fromEntries(taps.map((element) => [element.dataset.finger!, element]));
    if (stick && !over.hidden) this.session.join(touch({ stick, buttons }));
  }

  /** Shows the surroundings of the character. */
  look(): void {
    const { hero, level } = this.session;
    this.camera.down = level.yPoints === 'up' ? -1 : 1;
    this.camera.x = hero.x;
    this.camera.y = hero.y - 2 * hero.motion.height * this.camera.down;
    this.camera.scale = 52 / hero.motion.height;
    this.camera.follow = true;
  }

  get document(): TuningDocument {
    return this.session.document;
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Calls for each frame that is drawn. */
  onFrame(listener: (now: number) => void): () => void {
    this.frames.add(listener);
    return () => this.frames.delete(listener);
  }

  tell(): void {
    this.version++;
    for (const listener of this.listeners) listener();
  }

  get levelName(): string {
    return this.level.name;
  }
  get levelFile(): { name: string; text: string } {
    return this.level.source;
  }

  setCanvas(canvas: HTMLCanvasElement): () => void {
    this.canvas = canvas;
    this.pen = canvas.getContext('2d')!;
    const fit = new ResizeObserver(() => {
      const ratio = devicePixelRatio || 1;
      const { clientWidth, clientHeight } = canvas;
      canvas.width = Math.max(1, Math.round(clientWidth * ratio));
      canvas.height = Math.max(1, Math.round(clientHeight * ratio));
      this.camera.width = clientWidth;
      this.camera.height = clientHeight;
      this.pen!.setTransform(ratio, 0, 0, ratio, 0, 0);
    });
    fit.observe(canvas);
    let going = true;
    const frame = (ms: number): void => {
      if (!going) return;
      this.frame(ms / 1000);
      requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
    return () => {
      going = false;
      fit.disconnect();
    };
  }

  setTheme(theme: 'light' | 'dark'): void {
    this.theme = theme;
    document.documentElement.toggleAttribute('data-loft-dark', theme === 'dark');
    this.colours = undefined;
    this.tell();
  }

  private frame(now: number): void {
    const { session, pen, canvas } = this;
    if (!pen || !canvas || !session) return;
    const { live } = session;
    session.frame(now);
    if (session.live !== live) this.tell();
    if (this.toTell && now - this.told > TOLD) this.tellGames(now);
    this.lookAhead();
    this.colours ??= coloursOf(canvas);
    drawPicture(pen, this.picture(), now);
    this.drawn.frames++;
    if (canvas.dataset.shown !== this.print) canvas.dataset.shown = this.print;
    if (session.overlays.has('envelope')) this.askReach();
    this.strip.askMargins();
    this.moving.frame();
    for (const listener of this.frames) listener(now);
  }

  private picture(): Picture {
    const { session, camera, shown, predicted, reach, calm } = this;
    const asking = session.overlays.has('survey') ? this.asking : undefined;
    return {
      session,
      camera,
      colours: this.colours!,
      shown,
      predicted,
      reach,
      asking,
      moving: this.moving,
      fitting: this.fitting,
      asPressed: this.strip.asPressed,
      calm,
    };
  }

  /** Looks ahead from where the character is, anew whenever it has moved on or a number has changed. */
  lookAhead(): void {
    const { session, touched, document } = this;
    const wanted = (touched && (isJump(touched.key) || this.held)) || session.overlays.has('arc');
    if (!wanted) {
      this.predicted = undefined;
      this.predictedAt = [];
      if (this.handles.length > 0) {
        this.handles = [];
        this.tellHandles();
      }
      return;
    }
    const { stage, rate } = session;
    const before = touched && touched.before !== document.motion ? touched.before : undefined;
    const { hero } = session;
    // What rests stays where it is, unless something moves that it may meet.
    const moves = session.level.movers.length > 0 || hero.vx !== 0 || hero.vy !== 0;
    const at = [document.motion, stage, moves ? stage.ticks : -1, hero.x, hero.y, hero.view(1).facing, rate, before, session.overlays.has('grace')];
    if (at.every((one, i) => one === this.predictedAt[i])) return;
    // While a number is dragged what it was before stays as it is.
    const isSame = at.every((one, i) => one === this.predictedAt[i] || i === 0);
    this.predictedAt = at;
    const after = predict(stage, rate, document.motion);
    this.predicted = after && { before: before && ((isSame && this.predicted?.before) || predict(stage, rate, before)), after };
    this.handles = after ? handlesOf(after, pairOf(document.tuning), session.overlays.has('grace')) : [];
    this.tellHandles();
  } // prettier-ignore

  // The prediction is taken hold of.

  handles: readonly Handle[] = [];
  private held: (Hold & { gesture: string }) | undefined;
  private gestures = 0;
  private toldHandles = '';

  /** Whether something in the level is being dragged. */
  get isDragged(): boolean {
    return this.held !== undefined;
  }

  /** Somebody is told of handles when there are others, or others' values. */
  private tellHandles(): void {
    const now = this.handles.map(({ name, value }) => `${name} ${value}`).join('|');
    if (now === this.toldHandles) return;
    this.toldHandles = now;
    this.tell();
  }

  /** A handle is taken hold of: numbers follow it until it is let go of. */
  hold(name: HandleName): void {
    const handle = this.handles.find((one) => one.name === name);
    if (!handle || !this.predicted) return;
    this.touch(handle.key);
    this.held = { tuning: this.document.tuning, prediction: this.predicted.after, pair: pairOf(this.document.tuning), gesture: `handle ${name} ${++this.gestures}` };
  } // prettier-ignore

  /** @param dx, up how far it was dragged from where it was taken hold of, units */
  drag(name: HandleName, dx: number, up: number, how: { free?: boolean; speed?: boolean } = {}): void {
    const { held } = this;
    if (!held) return;
    const edits = dragged(name, held, dx, up, how);
    if (edits.length > 0) this.edit(edits, held.gesture);
  }

  letGo(): void {
    this.held = undefined;
    this.document.settle();
    this.tell();
  }

  /** What was dragged is as it was when it was taken hold of. */
  giveBack(): void {
    const { held } = this;
    this.held = undefined;
    if (held && held.tuning !== this.document.tuning) this.undo();
  }

  /** A handle is moved by keys. */
  nudge(name: HandleName, dx: number, up: number, how: { free?: boolean; speed?: boolean } = {}): void {
    this.lookAhead();
    this.hold(name);
    this.drag(name, dx, up, how);
    this.letGo();
  }

  /** Shows something over the level, or no more. */
  overlay(name: Overlay, on: boolean): void {
    const { session } = this;
    if (on) session.overlays.add(name);
    else session.overlays.delete(name);
    if (name === 'survey') {
      this.asking.stop();
      if (on) this.askLevel();
    }
    this.tell();
  }

  /** Asks where the character gets to, from where it was when that was asked first. */
  private askLevel(): void {
    const { session, asking } = this;
    if (!session.overlays.has('survey')) return;
    const { hero } = session;
    asking.without = this.own.list.map(({ name }) => name);
    const { name, text } = this.level.source;
    asking.ask(text, name, this.document.motion.full, asking.at ?? [hero.x, hero.y]);
  }

  /** A point of the picture is clicked: the place there, where it is asked where it gets to. */
  pointAt(px: number, py: number): void {
    if (!this.session.overlays.has('survey')) return;
    const { camera, asking } = this;
    asking.point(asking.nearest(...camera.under(px, py), POINTED / camera.scale));
  }

  /** What can be reached is found in another thread, and shown once it is. */
  private askReach(): void {
    const { motion } = this.document;
    // One question at a time, and none while a number is on the move: the other thread would still be answering when nobody asks any more.
    if (this.asked !== undefined || this.reach?.motion === motion || performance.now() - this.lastEdit < STILL) return;
    this.asked = motion;
    this.worker ??= new Worker(new URL('./reach-worker.ts', import.meta.url), { type: 'module' });
    this.worker.onmessage = ({ data }: MessageEvent<Omit<Reach, 'motion'>>) => {
      this.reach = { ...data, motion };
      this.asked = undefined;
    };
    this.worker.postMessage(motion.full);
  }

  // Numbers.

  /** What somebody looks for among them. */
  looked = '';
  lookFor(text: string): void {
    this.looked = text;
    this.tell();
  }

  /** Somebody touches a number: it shows what it does. */
  touch(key: string | undefined): void {
    if (key === undefined) this.touched = undefined;
    else if (this.touched?.key !== key) this.touched = { key, before: this.document.motion };
    this.document.settle();
    this.reshow();
    this.tell();
  }

  edit(edits: readonly Edit[], gesture = ''): void {
    this.document.edit(edits, gesture);
    this.after();
  }

  undo(): void {
    this.document.undo();
    this.after();
  }

  redo(): void {
    this.document.redo();
    this.after();
  }

  /** The number of the file again. */
  reset(key: string): void {
    this.edit([{ key, value: this.document.writtenOnDisk(key) as Edit['value'] }]);
  }

  resetAll(): void {
    this.edit(
      this.document.changes().map(({ key }) => ({ key, value: this.document.writtenOnDisk(key) as Edit['value'] })),
    );
  }

  private after(): void {
    const { session, document } = this;
    this.lastEdit = performance.now();
    session.retune();
    this.reshow();
    this.askLevel();
    this.toTell = document;
    if (!this.disk && !keep(document)) this.say = 'this browser keeps nothing more: download what is to stay';
    this.tell();
  }

  /** Games that are connected follow what is dragged. */
  private tellGames(now: number): void {
    const { name, text } = this.toTell!;
    this.disk?.drag(name, text);
    this.toTell = undefined;
    this.told = now;
  }

  private reshow(): void {
    const { touched } = this;
    this.shown = touched && show(touched.key, touched.before, this.document.motion);
    this.print = touched && this.shown ? printOf(this.shown, this.document.motion, touched.key) : '';
  }

  // Files.

  choose(name: string): void {
    const found = this.documents.find((one) => one.name === name);
    if (!found || found === this.document) return;
    this.session.document = found;
    this.touched = undefined;
    this.after();
  }

  private saving: Promise<void> = Promise.resolve();

  /** Saves the document as it is now; one save follows another. */
  save(): Promise<void> {
    this.saving = this.saving.then(() => this.saveNow());
    return this.saving;
  }

  private async saveNow(): Promise<void> {
    const { document, disk } = this;
    const { text } = document;
    if (!disk) {
      download(document.name, text, 'text/yaml');
      document.keep('');
      this.say = `${document.name} downloaded`;
    } else
      try {
        document.saving = text;
        const { saved, file } = await disk.save(document.name, text, document.mark);
        if (saved) {
          document.keep(file.mark, text);
          this.say = `${document.name} saved${document.dirty ? ', and edited since' : ''}`;
        } else if (file.mark === GONE) {
          document.mark = GONE;
          this.say = `${document.name} is gone from disk: save again to write it anew`;
        } else {
          document.theirs = { text: file.text, mark: file.mark, bases: file.bases };
          this.say = `${document.name} has changed on disk`;
        }
      } catch (error) {
        this.say = `not saved: ${(error as Error).message}`;
      } finally {
        document.saving = undefined;
      }
    this.tell();
  }

  decide(mine: boolean): void {
    this.document.decide(mine);
    this.after();
  }

  private changed(file: ServedFile): void {
    if (file.wrong) {
      // What cannot be read is not followed, and not overwritten: the last good one stays here.
      const document = this.documents.find(({ name }) => name === file.name);
      if (document) document.unread = file.wrong;
      this.say = `${file.name} on disk cannot be read: ${file.wrong}`;
      return this.tell();
    }
    if (file.kind === 'abilities') return void this.changeAbilities(file);
    if (file.kind === 'level') {
      if (file.name !== this.level.name) return;
      // What this page has saved itself is nothing new.
      if (file.mark === this.level.mark && file.text === this.level.text) return;
      try {
        if (this.level.dirty) {
          this.level.theirs = { text: file.text, mark: file.mark };
          this.say = `${file.name} has changed on disk, and here`;
          return this.tell();
        }
        this.level.written(file.text, file.mark);
        this.session.changeLevel(this.level.compiled);
        this.askLevel();
        this.say = `${file.name} has changed: begun anew`;
      } catch (error) {
        // While it is wrong the last good one stays.
        this.say = messageOf(error);
      }
    } else if (file.kind === 'tuning') {
      const document = this.documents.find(({ name }) => name === file.name);
      if (!document) return;
      document.unread = '';
      if (document.isAt(file.mark, file.bases)) return;
      const followed = document.written(file.text, file.mark, file.bases);
      this.say = followed ? `${file.name} followed its file` : `${file.name} has changed on disk, and here`;
      if (document === this.document) {
        this.session.retune();
        this.reshow();
      }
    }
    this.tell();
  }

  /** Opens a file that was chosen in the page. */
  async openFile(file: File): Promise<void> {
    const text = await file.text();
    const { name } = file;
    try {
      if (/\.tuning\.(yaml|json)$/.test(name)) {
        this.documents = [
          ...this.documents.filter((one) => one.name !== name),
          new TuningDocument(name, text, '', [], this.own),
        ];
        this.choose(name);
      } else if (/\.level\.(yaml|svg)$/.test(name)) {
        this.level = new LevelDocument({ name, text, mark: '' });
        if (!this.disk && !keep({ name, text, kind: 'level' }))
          this.say = `${name} is open, but this browser keeps nothing more`;
        this.session.clearGhosts();
        this.session.changeLevel(this.level.compiled);
        this.look();
        // What was asked of the other level is no answer here.
        this.asking.stop();
        this.askLevel();
      } else if (name.endsWith('.input.csv')) {
        this.inputs = [...this.inputs.filter((one) => one.name !== name), { name, text }];
        this.playInput(name);
      } else if (name.endsWith('.keys.yaml')) this.takeKeys({ name, text, kind: 'keys', bases: [], mark: '' });
      else if (/\.(csv|jsonl)$/.test(name)) this.fitting.open(name, text);
      else throw new Error('the Loft opens tunings, levels, inputs, keys and captures');
      this.say = `${name} opened`;
    } catch (error) {
      this.say = `${name}: ${messageOf(error)}`;
    }
    this.tell();
  }

  /** A piece of the level was moved: what is played goes on in it. */
  levelMoved(): void {
    this.session.moveLevel(this.level.compiled);
    this.askLevel();
  }

  decideLevel(mine: boolean): void {
    try {
      this.level.decide(mine);
      if (!mine) this.levelMoved();
    } catch (error) {
      this.say = messageOf(error);
    }
    this.tell();
  }

  /** Saves the level as it is now. @param asDrawing what left the grid of its rows: as a drawing beside it */
  saveLevel(asDrawing = false): Promise<void> {
    this.saving = this.saving.then(() => this.saveLevelNow(asDrawing));
    return this.saving;
  }

  private async saveLevelNow(asDrawing: boolean): Promise<void> {
    const { level, disk, moving } = this;
    moving.beside = undefined;
    try {
      const what = level.toSave;
      const isBeside = 'drawing' in what;
      if (isBeside && !asDrawing) moving.beside = what;
      else
        await this.writeLevel(
          isBeside ? what.drawing : what.text,
          isBeside ? level.drawnName : level.name,
          isBeside ? GONE : level.mark,
          disk,
        );
    } catch (error) {
      this.say = `not saved: ${messageOf(error)}`;
    }
    this.tell();
  }

  private async writeLevel(text: string, name: string, mark: string, disk: Disk | undefined): Promise<void> {
    const { level } = this;
    let now = '';
    if (!disk) {
      download(name, text, name.endsWith('.svg') ? 'image/svg+xml' : 'text/yaml');
      keep({ name, text, kind: 'level' });
    } else {
      const { saved, file } = await disk.save(name, text, mark);
      if (!saved) {
        if (name === level.name) level.theirs = { text: file.text, mark: file.mark };
        this.say =
          name === level.name
            ? `${name} has changed on disk, and here`
            : `there is a ${name} already, which is not written over`;
        return;
      }
      now = file.mark;
    }
    if (name === level.name) level.written(text, now);
    else this.level = new LevelDocument({ name, text, mark: now });
    this.say = `${name} ${disk ? 'saved' : 'downloaded'}`;
  }

  // Takes.

  playInput(name: string): void {
    const input = this.inputs.find((one) => one.name === name);
    if (!input) return;
    try {
      const { rows } = readInput(input.text, { file: name });
      const last = rows.reduce((latest: number, { time }: InputRow) => Math.max(latest, time), 0);
      this.session.takeRows(rows, startOf(rows)?.rate ?? 60, last + 2);
      this.say = `${name}: ${(last + 2).toFixed(2)} s`;
      this.showTake();
    } catch (error) {
      this.say = `${name}: ${messageOf(error)}`;
    }
    this.tell();
  }

  /** Shows all of the way of the take. */
  private showTake(): void {
    const { live, hero } = this.session;
    if (!live) return;
    const [xs, ys] = [live.trail.map(({ x }) => x), live.trail.map(({ y }) => y)];
    const room = 3 * hero.motion.height;
    const span = (list: readonly number[]): [number, number] => list.reduce(([low, high], value) => [Math.min(low, value), Math.max(high, value)], [Infinity, -Infinity] as [number, number]);
    const [[x1, x2], [y1, y2]] = [span(xs), span(ys)];
    this.camera.show(x1 - room, y1 - room, x2 + room, y2 + room);
    this.camera.scale = Math.min(this.camera.scale, 52 / hero.motion.height);
  } // prettier-ignore

  saveTake(): void {
    const { take } = this.session;
    if (!take?.whole) return;
    const rows = [...take.rows];
    download(`${short(this.document.name)}.input.csv`, writeInput(rows), 'text/csv');
  }

  saveTrace(): void {
    const trace = this.session.traceOfTake();
    if (trace) download(`${short(this.document.name)}.trace.csv`, writeTrace(trace), 'text/csv');
  }

  saveTuning(): void {
    download(this.document.name, this.document.text, 'text/yaml');
  }

  savePicture(): void {
    this.canvas?.toBlob((blob) => blob && download('loft.png', blob, 'image/png'));
  }

  async saveFigure(): Promise<void> {
    const [{ trailsFigure, arcsFigure }, { arcs }] = await Promise.all([import('apperin-tools/figures'), import('apperin/lab')]);
    const { session } = this;
    const all = [...session.ghosts, ...(session.live ? [session.live] : [])];
    const svg = session.take
      ? trailsFigure(session.level, all.map(({ name, trail }) => ({ name, trace: { rows: trail as never } })), session.take.rows)
      : arcsFigure([arcs(short(this.document.name), this.document.motion)]);
    download('loft.svg', svg, 'image/svg+xml');
  } // prettier-ignore
}
