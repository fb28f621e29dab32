import { startOf, type InputRow } from 'apperin';
import { readInput, writeInput, writeTrace } from 'apperin/files';
import type { Loft } from './loft.js';
import { messageOf } from './messages.js';
import { short } from './session.js';
import { download } from './storage.js';

/** Inputs that are taken, and what is saved of what was played. */
export class Takes {
  constructor(private readonly loft: Loft) {}

  playInput(name: string): void {
    const input = this.loft.inputs.find((one) => one.name === name);
    if (!input) return;
    try {
      const { rows } = readInput(input.text, { file: name });
      const last = rows.reduce((latest: number, { time }: InputRow) => Math.max(latest, time), 0);
      this.loft.session.takeRows(rows, startOf(rows)?.rate ?? 60, last + 2);
      this.loft.say = `${name}: ${(last + 2).toFixed(2)} s`;
      this.showTake();
    } catch (error) {
      this.loft.say = `${name}: ${messageOf(error)}`;
    }
    this.loft.tell();
  }

  /** Shows all of the way of the take. */
  private showTake(): void {
    const { live, hero } = this.loft.session;
    if (!live) return;
    const [xs, ys] = [live.trail.map(({ x }) => x), live.trail.map(({ y }) => y)];
    const room = 3 * hero.motion.height;
    const span = (list: readonly number[]): [number, number] => list.reduce(([low, high], value) => [Math.min(low, value), Math.max(high, value)], [Infinity, -Infinity] as [number, number]);
    const [[x1, x2], [y1, y2]] = [span(xs), span(ys)];
    this.loft.camera.show(x1 - room, y1 - room, x2 + room, y2 + room);
    this.loft.camera.scale = Math.min(this.loft.camera.scale, 52 / hero.motion.height);
  } // prettier-ignore

  saveTake(): void {
    const { take } = this.loft.session;
    if (!take?.whole) return;
    const rows = [...take.rows];
    download(`${short(this.loft.document.name)}.input.csv`, writeInput(rows), 'text/csv');
  }

  saveTrace(): void {
    const trace = this.loft.session.traceOfTake();
    if (trace) download(`${short(this.loft.document.name)}.trace.csv`, writeTrace(trace), 'text/csv');
  }

  saveTuning(): void {
    download(this.loft.document.name, this.loft.document.text, 'text/yaml');
  }

  savePicture(): void {
    this.loft.canvas?.toBlob((blob) => blob && download('loft.png', blob, 'image/png'));
  }

  async saveFigure(): Promise<void> {
    const [{ trailsFigure, arcsFigure }, { arcs }] = await Promise.all([import('apperin-tools/figures'), import('apperin/lab')]);
    const { session } = this.loft;
    const all = [...session.ghosts, ...(session.live ? [session.live] : [])];
    const svg = session.take
      ? trailsFigure(session.level, all.map(({ name, trail, pieces }) => ({ name, trace: { rows: trail as never, pieces } })), session.take.rows)
      : arcsFigure([arcs(short(this.loft.document.name), this.loft.document.motion)]);
    download('loft.svg', svg, 'image/svg+xml');
  } // prettier-ignore
}
