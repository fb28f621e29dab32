import { Found, findEdges } from '../terrain/find.js';
import { SLANTED, type Terrain, WALL_RIGHT } from '../terrain/terrain.js';
import { PATH_LENGTH } from './path.js';

const NOTHING = new Uint8Array(0);
const NONE_DROPPED: Int32Array = new Int32Array(0);

/** What an index last said. */
const found = new Found();

/** Where each kind begins among the candidates; the last entry is their number. */
const KINDS = WALL_RIGHT + 1;

/**
 * The edges near a body, sorted by kind so that a sweep looks only at those that can stop it. The index is asked only
 * when the body leaves the padded box it was last asked for, so that a tick costs the same in a large level
 * as in a small one. Answers allocate nothing once the lists are long enough.
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
  /** What the body stands on or slides along, which the path follows: slanted edges that it cannot run into. */
  support = -1;
  support2 = -1;
  /** Whether the body is in the air, held up by nothing. */
  inAir = false;
  /** The corner, by its edge, that a cut corner of the body slides over. */
  joint = -1;
  /** Candidates whose corners can meet a face of the body on their own. */
  joints = new Int32Array(64);
  jointCount = 0;
  /** Whether every corner can: a body with cut corners. */
  bevelled = false;
  /** Layers that the body ignores, as bits; named shapes that are switched off. */
  ignores = 0;
  off: Uint8Array = NOTHING;
  /** Which layers count at all, as bits. */
  only = -1;
  /** The box last asked for: left, bottom, right, top. Empty at first. */
  readonly box = new Float64Array([1, 1, 0, 0]);

  /**
   * Where the edges are at present, as the body sees it that moves with what holds it up (or with nothing): their offset, units; how they
   * move, units/s and units/s²; and how long that holds, s. Of what is at rest there all are 0.
   */
  readonly motion = new Float64Array([0, 0, 0, 0, 0, 0, Infinity]);
  /** The body's path as these edges see it. */
  readonly path = new Float64Array(PATH_LENGTH);
  /** A moving edge that pushes the body, which goes along with it: it is not met again. */
  pusher = -1;
  /** The same for a corner, by its edge. */
  pusherJoint = -1;

  constructor(
    readonly terrain: Terrain,
    /** How far around the wanted box to ask, units; at least a body width. */
    private readonly pad: number,
    /** Which edges: see `Terrain.setFrom`. */
    readonly set = 0,
    /** Pieces of one-way ground that are being dropped through, then −1: it is as if they were not there. All sets of a body share the list. */
    private readonly dropped = NONE_DROPPED,
  ) {}

  /** Asks the index for a box and the padding around it. */
  ask(left: number, bottom: number, right: number, top: number): void {
    const { box, pad, terrain, starts } = this;
    box[0] = left - pad;
    box[1] = bottom - pad;
    box[2] = right + pad;
    box[3] = top + pad;
    if (this.set > 0) {
      // Of a mover all.
      box[0] = box[1] = -Infinity;
      box[2] = box[3] = Infinity;
    }
    findEdges(terrain, this.set, box, found);
    const { ids, count } = found;
    if (count > this.ids.length) this.grow(count);
    starts.fill(0);
    this.jointCount = 0;
    const choosy = this.ignores !== 0 || this.off.length > 0 || this.only !== -1;
    for (let i = 0; i < count; i++) if (!choosy || this.isThere(ids[i]!)) starts[terrain.kind[ids[i]!]! + 1]!++;
    for (let kind = 0; kind < KINDS; kind++) starts[kind + 1]! += starts[kind]!;
    for (let i = 0; i < count; i++)
      if (!choosy || this.isThere(ids[i]!)) this.put(starts[terrain.kind[ids[i]!]!]!++, ids[i]!);
    for (let kind = KINDS; kind > 0; kind--) starts[kind] = starts[kind - 1]!;
    starts[0] = 0;
  }

  /** Sees to it that everything in a box is among the candidates. */
  cover(left: number, bottom: number, right: number, top: number): void {
    const { box } = this;
    if (left < box[0]! || bottom < box[1]! || right > box[2]! || top > box[3]!) this.ask(left, bottom, right, top);
  }

  /** Whether an edge is there for this body: its layer not ignored, its shape switched on. */
  isThere(e: number): boolean {
    const { layer, shape } = this.terrain.styles[this.terrain.style[e]!]!;
    return (
      (layer === 0 || (this.ignores & (1 << layer)) === 0) &&
      ((this.only >> layer) & 1) === 1 &&
      (shape < 0 || this.off[shape] !== 1)
    );
  }

  /** Whether a piece of one-way ground is being dropped through. */
  isDropped(piece: number): boolean {
    const { dropped } = this;
    for (let i = 0; i < dropped.length && dropped[i]! >= 0; i++) if (dropped[i] === piece) return true;
    return false;
  }

  private put(i: number, e: number): void {
    const { x1, y1, x2, y2, kind, pointed, next } = this.terrain;
    this.ids[i] = e;
    if (pointed[e] === 1 || (this.bevelled && next[e]! >= 0)) this.joints[this.jointCount++] = e;
    if (kind[e] === SLANTED) {
      // Of slanted ones the span across, to leave out what is far.
      this.low[i] = x1[e]! < x2[e]! ? x1[e]! : x2[e]!;
      this.high[i] = x1[e]! < x2[e]! ? x2[e]! : x1[e]!;
      return;
    }
    const level = y1[e] === y2[e];
    const a = level ? x1[e]! : y1[e]!;
    const b = level ? x2[e]! : y2[e]!;
    this.fixed[i] = level ? y1[e]! : x1[e]!;
    this.low[i] = a < b ? a : b;
    this.high[i] = a < b ? b : a;
  }

  private grow(count: number): void {
    this.ids = new Int32Array(2 * count);
    this.joints = new Int32Array(2 * count);
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
