import type { Motion } from 'apperin';
import { readKeys, type Edit } from 'apperin/files';
import { touch } from 'apperin/browser';
import { Camera } from '../draw/camera.js';
import { coloursOf, type Colours } from '../draw/colours.js';
import { drawPicture } from '../draw/picture.js';
import { isOnWay } from '../draw/survey.js';
import type { Picture, Reach } from '../draw/scene.js';
import { Ahead } from './ahead.js';
import { Asking } from './asking.js';
import { TuningDocument } from './document.js';
import { LoftFiles } from './files.js';
import { Fitting } from './fitting.js';
import { LevelDocument } from './level-document.js';
import { messageOf } from './messages.js';
import { Moving } from './moving.js';
import { OwnAbilities } from './own.js';
import { findDisk, type Disk, type ServedFile } from './server.js';
import { Session, type Overlay } from './session.js';
import { printOf, show, type Shown } from './shown.js';
import { DEMO, keep, kept } from './storage.js';
import { Takes } from './takes.js';
import { Timing } from './timing.js';

export type Tab = 'strip' | 'fit' | 'differences' | 'changes' | 'take' | 'files';

/** So long after the last change what can be reached is asked for, ms. */
const STILL = 250;

/** A click is at what is so near, pixels. */
const POINTED = 16;

/** So long after all is there, ms, other threads begin. */
const SOON = 500;

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
  readonly files = new LoftFiles(this);
  readonly takes = new Takes(this);
  /** What will happen. */
  readonly ahead = new Ahead(this);
  reach: Reach | undefined;
  say = '';
  away = false;
  disk: Disk | undefined;
  private colours: Colours | undefined;
  canvas: HTMLCanvasElement | undefined;
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
    setTimeout(() => this.expectAsking(), SOON);
    this.disk?.watch((file) => this.files.changed(file), (away) => {
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

  takeKeys({ name, text }: ServedFile): void {
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
  async changeAbilities(file: ServedFile): Promise<void> {
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
    this.ahead.lookAhead();
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
    const { session, camera, shown, reach, calm } = this;
    const { predicted } = this.ahead;
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

  /** The level is likely to be asked some time. */
  private expectAsking(): void {
    const { name, text } = this.level.source;
    const { hero, overlays } = this.session;
    if (!overlays.has('survey')) this.asking.begin(text, name, this.document.motion.full, [hero.x, hero.y]);
  }

  /** Asks where the character gets to, from where it was when that was asked first. */
  askLevel(): void {
    const { session, asking } = this;
    if (!session.overlays.has('survey')) return;
    const { hero } = session;
    asking.without = this.own.list.map(({ name }) => name);
    const { name, text } = this.level.source;
    asking.ask(text, name, this.document.motion.full, asking.at ?? [hero.x, hero.y]);
  }

  /** A point of the picture is clicked: the place there, where it is asked where it gets to; or a jump of the way that is shown. */
  pointAt(px: number, py: number): void {
    if (!this.session.overlays.has('survey')) return;
    const { camera, asking } = this;
    const at = camera.under(px, py);
    const place = asking.nearest(...at, POINTED / camera.scale);
    const isOther = place !== undefined && place !== asking.place;
    if (!isOther && this.pen && isOnWay(this.pen, camera, asking, px, py)) asking.askTight(at);
    else asking.point(place);
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

  after(): void {
    const { session, document } = this;
    this.lastEdit = performance.now();
    session.retune();
    this.reshow();
    this.askLevel();
    this.toTell = document;
    if (!this.disk && !keep(document)) this.say = 'this browser keeps nothing more: download what is to stay';
    this.tell();
  }

  /** So long after all is there, ms, other threads begin. */
  SOON = 500;

  /** Games that are connected follow what is dragged. */
  private tellGames(now: number): void {
    const { name, text } = this.toTell!;
    this.disk?.drag(name, text);
    this.toTell = undefined;
    this.told = now;
  }

  reshow(): void {
    const { touched } = this;
    this.shown = touched && show(touched.key, touched.before, this.document.motion);
    this.print = touched && this.shown ? printOf(this.shown, this.document.motion, touched.key) : '';
  }

  choose(name: string): void {
    const found = this.documents.find((one) => one.name === name);
    if (!found || found === this.document) return;
    this.session.document = found;
    this.touched = undefined;
    this.after();
  }

  /** A piece of the level was moved: what is played goes on in it. */
  levelMoved(): void {
    this.session.moveLevel(this.level.compiled);
    this.askLevel();
  }
}
