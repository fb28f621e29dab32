import type { DrawnPiece, PieceEdit } from 'apperin/files';
import type { Camera } from '../draw/camera.js';
import { snapped } from './handles.js';
import type { LimitAsked, LimitTold } from './limit-worker.js';
import type { Loft } from './loft.js';
import { messageOf } from './messages.js';

/** What of the level is taken hold of: a piece, or one of its edges or corners. */
export interface Part {
  piece: number;
  edge?: number;
  corner?: number;
}

/** What can be added, beside the character. */
export const ADDED = ['box', 'ramp', 'plank'] as const;
export type Added = (typeof ADDED)[number];

/** So near the pointer has to be, pixels. */
const NEAR = 9;
/** A drag is followed again when so many times the last step's work have gone by. */
const REST = 2;

/** Which way a piece is moved until it is just reached. */
export type Way = 'farther' | 'higher';

/** Moves the level a little: pieces, edges and corners are dragged, added, taken away, and moved to where they are just reached. */
export class Moving {
  /** Whether the level is being moved, and not played in. */
  isOn = false;
  /** What was touched last. */
  part: Part | undefined;
  /** What is under the pointer. */
  over: Part | undefined;
  /** Told by one more whenever something has changed. */
  version = 0;
  /** Why a level in rows would be saved as a drawing: to be decided. */
  beside: { drawing: string; why: string } | undefined;
  private held: { part: Part; gesture: string } | undefined;
  private gestures = 0;
  private waits: (() => void) | undefined;
  private worker: Worker | undefined;
  private question = 0;

  constructor(private readonly loft: Loft) {}

  turn(on: boolean): void {
    this.isOn = on;
    this.part = this.over = undefined;
    this.stop();
    if (on && this.pieces.length === 0 && this.loft.say === '') this.loft.say = 'nothing of this level can be moved';
    this.changed();
  }

  /** What can be moved; nothing of a level that no drawing can hold, which is said. */
  get pieces(): readonly DrawnPiece[] {
    if (!this.isOn) return [];
    try {
      return this.loft.level.pieces;
    } catch (error) {
      this.loft.say = messageOf(error);
      return [];
    }
  }

  get touched(): DrawnPiece | undefined {
    return this.part && this.pieces[this.part.piece];
  }

  private changed(): void {
    this.version++;
    this.loft.tell();
  }

  /** What is under a pixel: corners and edges first, of what is touched before others. */
  at(px: number, py: number): Part | undefined {
    const { camera } = this.loft;
    const { pieces } = this;
    const order = pieces.map((_, i) => i).reverse();
    const touched = this.part?.piece;
    if (touched !== undefined) order.unshift(touched);
    let best: { part: Part; off: number } | undefined;
    let near = NEAR;
    const take = (part: Part, off: number): void => {
      if (off <= near && !(best && best.off <= off)) best = { part, off };
    };
    for (const piece of order) {
      const { corners, closed, kind, outlines } = pieces[piece]!;
      const at = corners.map(([x, y]) => camera.at(x, y));
      // Of what is thin, its middle is still to be taken hold of.
      near = closed && isInside(pieces[piece]!, ...camera.under(px, py)) ? Math.min(NEAR, thinnest(at) / 4) : NEAR;
      at.forEach(([x, y], corner) => take({ piece, corner }, Math.hypot(x - px, y - py)));
      if (kind === 'spawn') take({ piece }, Math.hypot(...fromSpawn(camera, outlines[0]!.points[0]!, px, py)));
      if (best) return best.part;
      for (let edge = 0; edge < at.length - (closed ? 0 : 1); edge++) take({ piece, edge }, offOf(at[edge]!, at[(edge + 1) % at.length]!, px, py));
      // A line that is no area is moved by what it is drawn with.
      if (corners.length === 0) for (const { points } of outlines) for (let i = 0; i + 1 < points.length; i++) take({ piece }, offOf(camera.at(...points[i]!), camera.at(...points[i + 1]!), px, py));
    }
    if (best) return closedOnly(best.part, pieces);
    return order.map((piece): Part => ({ piece })).find(({ piece }) => isInside(pieces[piece]!, ...camera.under(px, py)));
  } // prettier-ignore

  look(px: number, py: number): void {
    const over = this.at(px, py);
    if (JSON.stringify(over) === JSON.stringify(this.over)) return;
    this.over = over;
    this.changed();
  }

  touch(part: Part | undefined): void {
    this.part = part;
    this.changed();
  }

  /** Takes hold of what is under a pixel. @returns whether there is something */
  hold(px: number, py: number): boolean {
    const part = this.at(px, py);
    this.touch(part);
    if (part) this.held = { part, gesture: `move ${++this.gestures}` };
    return part !== undefined;
  }

  /** @param dx, dy how far from where it was taken hold of, units, in the level's own axes */
  drag(dx: number, dy: number, free = false): void {
    const { held } = this;
    if (!held) return;
    const { tile } = this.loft.document.motion.full;
    const by = [dx, dy].map((length) => snapped(length, tile, free)) as [number, number];
    const go = (): void => {
      const begun = performance.now();
      this.edit([editOf(held.part, by)], held.gesture);
      const rest = REST * (performance.now() - begun);
      // What moves on meanwhile is followed when there is time for it.
      this.waits = undefined;
      this.due = performance.now() + rest;
    };
    if (performance.now() >= this.due) go();
    else this.waits = go;
  }
  private due = -Infinity;

  /** A frame: what has waited. */
  frame(): void {
    if (this.waits && performance.now() >= this.due) this.waits();
  }

  letGo(): void {
    this.waits?.();
    this.waits = undefined;
    this.held = undefined;
    this.loft.level.settle();
  }

  /** What was dragged is where it was when it was taken hold of. */
  giveBack(): void {
    const { held } = this;
    this.waits = this.held = undefined;
    if (held) this.edit([editOf(held.part, [0, 0])], held.gesture);
    this.loft.level.settle();
  }

  /** A piece is moved by keys; its right and upper edges by themselves where it is made larger. */
  nudge(piece: number, dx: number, dy: number, isLarger: boolean): void {
    this.part = { piece };
    const { corners, closed } = this.pieces[piece]!;
    if (!isLarger || corners.length < 2) return this.edit([{ move: piece, by: [dx, dy] }]);
    const down = this.loft.camera.down;
    const count = corners.length - (closed ? 0 : 1);
    const middle = (edge: number, axis: 0 | 1): number => (corners[edge]![axis] + corners[(edge + 1) % corners.length]![axis]) / 2;
    const axis = dx !== 0 ? 0 : 1;
    const sign = axis === 0 ? 1 : -down;
    const edges = Array.from({ length: count }, (_, edge) => edge).sort((a, b) => sign * (middle(b, axis) - middle(a, axis)));
    // A line has ends in place of sides.
    if (!closed && axis === 0) return this.edit([{ corner: [piece, corners.indexOf(corners.reduce((far, corner) => (corner[0] > far[0] ? corner : far)))], by: [dx, dy] }]);
    this.edit([{ edge: [piece, edges[0]!], by: [dx, dy] }]);
  } // prettier-ignore

  /** Adds a piece in the middle of what is seen. */
  add(what: Added): void {
    const { camera, document } = this.loft;
    const { tile } = document.motion.full;
    const down = camera.down;
    const [x, y] = [camera.x, camera.y].map((place) => Math.round(place / tile) * tile) as [number, number];
    const [w, h] = [3 * tile, tile * -down];
    const points: Record<Added, [number, number][]> = {
      box: [[x, y], [x + w, y], [x + w, y + h], [x, y + h]],
      ramp: [[x, y], [x + w, y], [x + w, y + h]],
      plank: [[x, y], [x + w, y]],
    };
    this.edit([{ add: what === 'plank' ? 'one-way' : 'solid', points: points[what], closed: what !== 'plank' }]);
    this.touch({ piece: this.pieces.findLastIndex(({ outlines }) => outlines[0]?.points.some(([px, py]) => px === x && py === y)) });
  } // prettier-ignore

  remove(): void {
    const { part } = this;
    if (!part) return;
    this.part = this.over = undefined;
    this.edit([{ remove: part.piece }]);
  }

  undo(): void {
    this.loft.level.undo();
    this.follow();
  }
  redo(): void {
    this.loft.level.redo();
    this.follow();
  }

  private edit(edits: readonly PieceEdit[], gesture = ''): void {
    const { loft } = this;
    try {
      loft.level.edit(edits, gesture);
      loft.say = '';
    } catch (error) {
      // What is dragged too far stays where it last could be.
      loft.say = messageOf(error);
      return this.changed();
    }
    this.follow();
  }

  private follow(): void {
    const { pieces, part, loft } = this;
    if (part && part.piece >= pieces.length) this.part = undefined;
    loft.levelMoved();
    this.changed();
  }

  /** In words: what is touched. */
  get said(): string {
    const { touched, pieces } = this;
    if (!touched) return `${pieces.length} pieces: drag one, its edge, or a corner`;
    return wordsOf(touched);
  }

  // Until it is just reached.

  /** Whether another thread is looking for it. */
  isLooking = false;

  stop(): void {
    this.worker?.terminate();
    this.worker = undefined;
    this.isLooking = false;
  }

  /** Moves what is touched that way, until the character, from where it stands, just reaches it. */
  untilReached(way: Way): void {
    const { loft, part } = this;
    if (!part) return;
    const { session, level, document, asking } = loft;
    const drawing = level.drawn;
    const at = asking.at ?? ([session.hero.x, session.hero.y] as const);
    this.stop();
    this.worker = new Worker(new URL('./limit-worker.ts', import.meta.url), { type: 'module' });
    this.isLooking = true;
    const question = ++this.question;
    this.worker.onmessage = ({ data }: MessageEvent<LimitTold>) => {
      if (question !== this.question) return;
      if ('tried' in data) loft.say = `looking: ${data.tried} places tried`;
      else {
        this.stop();
        if ('wrong' in data) loft.say = data.wrong;
        else {
          this.edit([{ move: part.piece, by: data.by }]);
          loft.say = `just reached: moved by ${say(Math.hypot(...data.by))} ${way === 'higher' ? 'up or down' : 'across'}; a hundredth of a tile more, and no way was found`;
        }
      }
      this.changed();
    };
    this.worker.onerror = ({ message }) => {
      this.stop();
      loft.say = message;
      this.changed();
    };
    this.worker.postMessage({ drawing, piece: part.piece, way, at, tuning: document.motion.full, tile: document.motion.full.tile } satisfies LimitAsked);
    loft.say = 'looking for where it is just reached…';
    this.changed();
  } // prettier-ignore
}

const say = (value: number): string => String(Number(value.toFixed(2)));

function editOf({ piece, edge, corner }: Part, by: readonly [number, number]): PieceEdit {
  return edge !== undefined ? { edge: [piece, edge], by } : corner !== undefined ? { corner: [piece, corner], by } : { move: piece, by }; // prettier-ignore
}

/** A plank or a line has no inside to be moved by: its edge moves all of it. */
function closedOnly(part: Part, pieces: readonly DrawnPiece[]): Part {
  const { closed, corners } = pieces[part.piece]!;
  return part.edge !== undefined && !closed && corners.length === 2 ? { piece: part.piece } : part;
}

/** The lesser of width and height, pixels. */
function thinnest(at: readonly (readonly [number, number])[]): number {
  const [xs, ys] = [at.map(([x]) => x), at.map(([, y]) => y)];
  return Math.min(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys));
}

function fromSpawn(camera: Camera, [x, y]: readonly [number, number], px: number, py: number): [number, number] {
  const [sx, sy] = camera.at(x, y);
  return [sx - px, sy - py];
}

/** How far a point is from a stretch, pixels. */
function offOf([x1, y1]: readonly [number, number], [x2, y2]: readonly [number, number], x: number, y: number): number {
  const [dx, dy] = [x2 - x1, y2 - y1];
  const length = dx * dx + dy * dy;
  const t = length === 0 ? 0 : Math.min(1, Math.max(0, ((x - x1) * dx + (y - y1) * dy) / length));
  return Math.hypot(x - x1 - t * dx, y - y1 - t * dy);
}

/** Whether a point is in an area, by how often what lies right of it is crossed. */
function isInside({ outlines }: DrawnPiece, x: number, y: number): boolean {
  let inside = false;
  for (const { points, closed } of outlines) {
    if (!closed) continue;
    points.forEach(([x1, y1], i) => {
      const [x2, y2] = points[(i + 1) % points.length]!;
      if (y1 > y !== y2 > y && x < x1 + ((y - y1) / (y2 - y1)) * (x2 - x1)) inside = !inside;
    });
  }
  return inside;
}

/** What a piece is, and where. */
export function wordsOf({ kind, name, mover, outlines }: DrawnPiece): string {
  const points = outlines.flatMap((outline) => outline.points);
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  const [left, top] = [Math.min(...xs), Math.min(...ys)];
  const size = kind === 'spawn' ? '' : ` ${say(Math.max(...xs) - left)} by ${say(Math.max(...ys) - top)}`;
  return `${kind}${name === '' ? '' : ` ${name}`}${mover === '' ? '' : ` of ${mover}`}${size} at ${say(left)}, ${say(top)}`;
}
