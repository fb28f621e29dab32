import type { Terrain } from '../terrain/terrain.js';

/**
 * The edges near a body. The index is asked only when the body leaves the padded box it was last asked for, so
 * that a tick costs the same in a large level as in a small one. One answer allocates one short array of ids.
 */
export class Near {
  count = 0;
  ids = new Int32Array(64);
  /** The box last asked for: left, bottom, right, top. Empty at first. */
  private readonly box = new Float64Array([1, 1, 0, 0]);

  constructor(
    readonly terrain: Terrain,
    /** How far around the wanted box to ask, units; at least a body width. */
    private readonly pad: number,
  ) {}

  /** Makes sure that every edge that touches this box is among the ids. */
  cover(left: number, bottom: number, right: number, top: number): void {
    const box = this.box;
    if (left >= box[0]! && bottom >= box[1]! && right <= box[2]! && top <= box[3]!) return;
    box[0] = left - this.pad;
    box[1] = bottom - this.pad;
    box[2] = right + this.pad;
    box[3] = top + this.pad;
    const { index, boundsFrom, count } = this.terrain;
    const found = index ? index.search(box[0], box[1], box[2], box[3]) : [];
    const bounds = count - boundsFrom;
    this.count = found.length + bounds;
    if (this.count > this.ids.length) this.ids = new Int32Array(2 * this.count);
    for (let i = 0; i < found.length; i++) this.ids[i] = found[i]!;
    for (let i = 0; i < bounds; i++) this.ids[found.length + i] = boundsFrom + i;
  }

  /** Forgets the answer, after the body was put somewhere else. */
  forget(): void {
    this.box[0] = 1;
    this.box[2] = 0;
  }
}
