import { dragged, handlesOf, type Handle, type HandleName, type Hold } from './handles.js';
import type { Loft } from './loft.js';
import { predict, type Prediction } from './prediction.js';
import { pairOf } from './ranges.js';
import { isJump } from './shown.js';

/** What will happen from where the character is, and what of it can be taken hold of. */
export class Ahead {
  /** While a number of the jump is touched, or where it is asked for. */
  predicted: { before: Prediction | undefined; after: Prediction } | undefined;
  handles: readonly Handle[] = [];
  private predictedAt: readonly unknown[] = [];
  private held: (Hold & { gesture: string }) | undefined;
  private gestures = 0;
  private toldHandles = '';

  constructor(private readonly loft: Loft) {}

  /** Looks ahead from where the character is, anew whenever it has moved on or a number has changed. */
  lookAhead(): void {
    const { session, touched, document } = this.loft;
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

  /** Whether something in the level is being dragged. */
  get isDragged(): boolean {
    return this.held !== undefined;
  }

  /** Somebody is told of handles when there are others, or others' values. */
  private tellHandles(): void {
    const now = this.handles.map(({ name, value }) => `${name} ${value}`).join('|');
    if (now === this.toldHandles) return;
    this.toldHandles = now;
    this.loft.tell();
  }

  /** A handle is taken hold of: numbers follow it until it is let go of. */
  hold(name: HandleName): void {
    const handle = this.handles.find((one) => one.name === name);
    if (!handle || !this.predicted) return;
    this.loft.touch(handle.key);
    this.held = { tuning: this.loft.document.tuning, prediction: this.predicted.after, pair: pairOf(this.loft.document.tuning), gesture: `handle ${name} ${++this.gestures}` };
  } // prettier-ignore

  /** @param dx, up how far it was dragged from where it was taken hold of, units */
  drag(name: HandleName, dx: number, up: number, how: { free?: boolean; speed?: boolean } = {}): void {
    const { held } = this;
    if (!held) return;
    const edits = dragged(name, held, dx, up, how);
    if (edits.length > 0) this.loft.edit(edits, held.gesture);
  }

  letGo(): void {
    this.held = undefined;
    this.loft.document.settle();
    this.loft.tell();
  }

  /** What was dragged is as it was when it was taken hold of. */
  giveBack(): void {
    const { held } = this;
    this.held = undefined;
    if (held && held.tuning !== this.loft.document.tuning) this.loft.undo();
  }

  /** A handle is moved by keys. */
  nudge(name: HandleName, dx: number, up: number, how: { free?: boolean; speed?: boolean } = {}): void {
    this.lookAhead();
    this.hold(name);
    this.drag(name, dx, up, how);
    this.letGo();
  }
}
