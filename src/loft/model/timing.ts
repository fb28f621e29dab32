import type { InputRow } from 'apperin';
import type { PressMargin } from 'apperin/lab';
import type { Span } from '../draw/strip.js';
import type { Loft } from './loft.js';
import type { MarginsAsked, MarginsTold } from './margins-worker.js';
import { movedBar, type Bar, type BarPart } from './presses.js';
import { LATELY, barsIn, stripOf, type Strip } from './strip.js';
import type { Ghost } from './take.js';

/** As near as it can be looked at, s. */
const NEAREST = 0.05;
/** So long after the last change margins are asked for, ms. */
const STILL = 200;

/** What somebody does with the strip of time: looks nearer, and moves presses. */
export class Timing {
  /** Told by one more whenever the strip has changed. */
  version = 0;
  /** How tight each press of the take is, where that is known. */
  margins: readonly PressMargin[] = [];
  private view: Span | undefined;
  private viewOf: unknown;
  private held: { bar: Bar; part: BarPart; rows: readonly InputRow[] } | undefined;
  /** The keys of the take before any was moved, those that it has now, and how it went. */
  private original: { take: readonly InputRow[]; rows: readonly InputRow[]; ghost: Ghost | undefined } | undefined;
  private worker: Worker | undefined;
  private question = 0;
  private isBusy = false;
  private waits: ReturnType<typeof setTimeout> | undefined;
  private askedFor: readonly unknown[] = [];

  constructor(private readonly loft: Loft) {}

  seen(): Strip {
    const { session, shown, touched } = this.loft;
    return stripOf(session, shown, touched?.key ?? '', this.loft.own.actions, this.asPressed);
  }

  /** The part of the time that is seen. */
  span({ from, to }: Strip): Span {
    const { session, shown } = this.loft;
    // Another take, or another scene, is seen whole.
    const of = shown ?? (session.take ? session.take.origin : session.stage);
    if (of !== this.viewOf) this.view = undefined;
    this.viewOf = of;
    if (!session.take && !shown && !(this.view && session.steps.paused)) return { from, to: from + LATELY };
    if (!this.view) return { from, to: Math.max(to, from + NEAREST) };
    const length = Math.min(this.view.to - this.view.from, to - from);
    const begin = Math.min(Math.max(this.view.from, from), to - length);
    return { from: begin, to: begin + length };
  }

  /** @param about which share of what is seen stays where it is */
  zoom(by: number, about: number): void {
    const seen = this.seen();
    const { from, to } = this.span(seen);
    const length = Math.min(Math.max((to - from) * by, NEAREST), Math.max(seen.to - seen.from, NEAREST));
    const begin = from + (to - from - length) * about;
    this.view = { from: begin, to: begin + length };
    this.changed();
  }

  /** @param by share of what is seen */
  pan(by: number): void {
    const { from, to } = this.span(this.seen());
    this.view = { from: from + (to - from) * by, to: to + (to - from) * by };
    this.changed();
  }

  /** A press is taken hold of: of what was just played, it becomes the take. */
  hold(index: number, part: BarPart): void {
    const { session } = this.loft;
    const seen = this.seen();
    const span = this.span(seen);
    const bar = barsIn(seen, span)[index];
    if (!bar) return;
    if (!session.take) {
      if (!session.takeLast(seen.to - seen.from)) return;
      this.view = span;
      this.viewOf = session.take!.origin;
    }
    const { rows } = session.take!;
    // The same press among the rows of the take.
    const found = this.seen().bars.find((one) => one.action === bar.action && Math.abs(one.until - bar.until) < 1e-9);
    if (!found) return;
    if (this.original?.take !== rows) this.original = { take: rows, rows, ghost: session.live && { ...session.live, name: 'as pressed' } };
    this.held = { bar: found, part, rows };
  } // prettier-ignore

  /** @param by how far from where it was taken hold of, s */
  drag(by: number, free = false): void {
    const { held, loft } = this;
    const { take } = loft.session;
    if (!held || !take) return;
    const rows = movedBar(held.rows, held.bar, held.part, by, take, free);
    loft.session.rekey(rows, true);
    this.original = { ...this.original!, take: rows };
    this.changed();
  }

  letGo(): void {
    const { take } = this.loft.session;
    if (this.held && take) this.loft.session.rekey(take.rows, false);
    this.held = undefined;
    this.changed();
  }

  /** What was dragged is where it was when it was taken hold of. */
  giveBack(): void {
    const { held } = this;
    this.held = undefined;
    if (held) this.keys(held.rows);
  }

  /** The keys are those that were pressed again. */
  putBack(): void {
    if (this.original) this.keys(this.original.rows);
  }

  private keys(rows: readonly InputRow[]): void {
    const { original } = this;
    this.loft.session.rekey(rows, false);
    this.original = original && { ...original, take: rows };
    this.changed();
  }

  /** Whether a press of the take is not where it was pressed. */
  get isChanged(): boolean {
    const { take } = this.loft.session;
    return take !== undefined && this.original?.take === take.rows && this.original.rows !== take.rows;
  }

  /** How the take went before a press of it was moved. */
  get asPressed(): Ghost | undefined {
    return this.isChanged ? this.original!.ghost : undefined;
  }

  private changed(): void {
    this.version++;
    this.loft.tell();
  }

  /** What is seen, for those who cannot see it. */
  told({ bars, lines }: Strip): string {
    const events = lines.at(-1)?.events ?? [];
    const presses = bars.slice(0, 12).map(({ action, at, until }) => `${action} from ${at.toFixed(2)} to ${until.toFixed(2)} s`);
    return `${presses.length > 0 ? `Presses: ${presses.join(', ')}. ` : ''}${events.slice(-12).map(({ event, time }) => `${event} at ${time.toFixed(2)} s`).join(', ')}`;
  } // prettier-ignore

  /** In words: how tight the presses are, where that is known. */
  said({ what }: Strip): string {
    const tight = this.margins.filter(({ press }) => press.window !== null);
    if (tight.length === 0) return what;
    const tightest = tight.reduce((best, one) => (one.press.window! < best.press.window! ? one : best));
    const { action, at, press } = tightest;
    return `${what}. Tightest: ${action} at ${at.toFixed(3)} s, free from ${Math.round((at - press.earliest!) * 1000)} ms sooner to ${Math.round((press.latest! - at) * 1000)} ms later`;
  } // prettier-ignore

  // How tight presses are is found in another thread.

  /** A frame: asks for the margins of the take, once nothing moves any more. */
  askMargins(): void {
    const { loft } = this;
    const { session, document } = loft;
    const { take } = session;
    const now = take?.whole && loft.tab === 'strip' && !loft.shown ? [take.rows, document.motion, session.level] : [];
    if (now.length === this.askedFor.length && now.every((one, i) => one === this.askedFor[i])) return;
    this.askedFor = now;
    this.question++;
    if (this.margins.length > 0) {
      this.margins = [];
      this.changed();
    }
    clearTimeout(this.waits);
    if (now.length > 0) this.waits = setTimeout(() => this.post(), STILL);
  }

  private post(): void {
    const { loft, question } = this;
    const { take } = loft.session;
    // One at a time: the next follows its answer.
    if (this.isBusy || this.held || !take?.whole) return;
    this.isBusy = true;
    this.worker ??= this.made();
    const { name, text } = loft.levelFile;
    this.worker.postMessage({ question, file: name, text, tuning: loft.document.motion.full, rows: take.rows, at: loft.session.takeAt } satisfies MarginsAsked);
  } // prettier-ignore

  private made(): Worker {
    const worker = new Worker(new URL('./margins-worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<MarginsTold>) => {
      this.isBusy = false;
      if (data.question !== this.question) return this.post();
      this.margins = data.margins;
      this.changed();
    };
    return worker;
  }
}
