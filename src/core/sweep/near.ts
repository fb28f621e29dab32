import { SLANTED, WALL_RIGHT, type Terrain } from '../terrain/terrain.js';

/** Where each kind begins among the candidates; the last entry is their number. */
const KINDS = WALL_RIGHT + 1;

/**
 * The edges near a body, sorted by kind so that a sweep looks only at those that can stop it. The index is asked only
 * when the body leaves the padded box it was last asked for, so that a tick costs the same in a large level
 * as in a small one. One answer allocates one short array of ids.
 */
export class Near {
  /** Candidates of kind k are those from `starts[k]` up to `starts[k + 1]`. */
  readonly starts = new Int32Array(KINDS + 1);
  /** The candidate's edge in the terrain. */
  ids = new Int32Array(64);
  /** Of level and upright edges: the coordinate they share, and the span along the other axis. */
  fixed = new Float64Array(64);
  low = new Float64Array(64);
  high = new Float64Array(64);
  /** One-way ground that is being dropped through, or −1: it is as if it were not there. */
  ignored = -1;
  /** The box last asked for: left, bottom, right, top. Empty at first. */
  readonly box = new Float64Array([1, 1, 0, 0]);

  constructor(
    readonly terrain: Terrain,
    /** How far around the wanted box to ask, units; at least a body width. */
    private readonly pad: number,
  ) {}

  /** Asks the index for a box and the padding around it. */
  ask(left: number, bottom: number, right: number, top: number): void {
    const { box, pad, terrain, starts } = this;
    box[0] = left - pad;
    box[1] = bottom - pad;
    box[2] = right + pad;
    box[3] = top + pad;
    const found = terrain.index ? terrain.index.search(box[0], box[1], box[2], box[3]) : [];
    for (let e = terrain.boundsFrom; e < terrain.count; e++) found.push(e);
    if (found.length > this.ids.length) this.grow(found.length);
    starts.fill(0);
    for (const e of found) starts[terrain.kind[e]! + 1]!++;
    for (let kind = 0; kind < KINDS; kind++) starts[kind + 1]! += starts[kind]!;
    for (const e of found) this.put(starts[terrain.kind[e]!]!++, e);
    for (let kind = KINDS; kind > 0; kind--) starts[kind] = starts[kind - 1]!;
    starts[0] = 0;
  }

  /** Sees to it that everything in a box is among the candidates. */
  cover(left: number, bottom: number, right: number, top: number): void {
    const { box } = this;
    if (left < box[0]! || bottom < box[1]! || right > box[2]! || top > box[3]!) this.ask(left, bottom, right, top);
  }

  private put(i: number, e: number): void {
    const { x1, y1, x2, y2, kind } = this.terrain;
    this.ids[i] = e;
    if (kind[e] === SLANTED) return;
    const level = y1[e] === y2[e];
    const a = level ? x1[e]! : y1[e]!;
    const b = level ? x2[e]! : y2[e]!;
    this.fixed[i] = level ? y1[e]! : x1[e]!;
    this.low[i] = a < b ? a : b;
    this.high[i] = a < b ? b : a;
  }

  private grow(count: number): void {
    this.ids = new Int32Array(2 * count);
    this.fixed = new Float64Array(2 * count);
    this.low = new Float64Array(2 * count);
    this.high = new Float64Array(2 * count);
  }

  /** Forgets the answer, after the body was put somewhere else. */
  forget(): void {
    this.box[0] = 1;
    this.box[2] = 0;
  }
}
