import Flatbush from 'flatbush';
import { goingOnAbove } from './above.js';
import { EdgeList, LINE, ONE_WAY, PLAIN_STYLE, type Style, join } from './edges.js';

/**
 * Everything solid, as directed edges in typed arrays. Inside the core y always points up. An edge runs from
 * (x1, y1) to (x2, y2) with open space on its left; its outward normal is that left side.
 */
export interface Terrain {
  readonly count: number;
  readonly x1: Float64Array;
  readonly y1: Float64Array;
  readonly x2: Float64Array;
  readonly y2: Float64Array;
  /** Unit normal; for level and upright edges its parts are exactly 0 and ±1. */
  readonly nx: Float64Array;
  readonly ny: Float64Array;
  /** One of FLOOR, CEILING, WALL_LEFT, WALL_RIGHT, SLANTED. */
  readonly kind: Uint8Array;
  /** CLOSED, SIDED, LINE or ONE_WAY. */
  readonly form: Uint8Array;
  /** 1 for ground that blocks from above only. */
  readonly oneWay: Uint8Array;
  /** What it carries: an index into `styles`. */
  readonly style: Int32Array;
  readonly styles: readonly Style[];
  /** The neighbours that an edge's start and end are joined to, or −1. */
  readonly prev: Int32Array;
  readonly next: Int32Array;
  /** The same as they are for what goes over them: there ground of one kind goes on to another. */
  readonly before: Int32Array;
  readonly after: Int32Array;
  /** Of one-way ground: a number for the joined piece; −2 for all else. */
  readonly piece: Int32Array;
  /** 1 where the corner at an edge's end can meet an upright or level face of a body on its own. */
  readonly pointed: Uint8Array;
  /** Edges from this one on are the level's bounds: few, endless, and not in the index. */
  readonly boundsFrom: number;
  /**
   * Edges stand still, or move together with others: those of set k from `setFrom[k]` up to `setUntil[k]`, of set 0 from 0 (and what came later). Set 0 stands still, set
   * k is that of mover k − 1, as it lies when the mover's offset is nothing.
   */
  readonly setFrom: Int32Array;
  readonly setUntil: Int32Array;
  readonly set: Uint16Array;
  /** Finds edges by box; absent where there is none but bounds. */
  readonly index: Flatbush | undefined;
  /** Of a stage whose ground was changed: 1 for each edge that is there no more, and what finds those that came later. */
  readonly gone: Uint8Array | undefined;
  readonly later: Later | undefined;
}

/** What finds edges that came after the level was compiled: those of the level's own index that count no more, and another index. */
export interface Later {
  readonly hidden: Uint8Array;
  /** A tree of boxes: its nodes have children, its leaves items. */
  readonly tree: { readonly data: LaterNode };
}

export interface LaterNode {
  readonly leaf: boolean;
  readonly children: readonly (LaterNode & { readonly edge: number })[];
  readonly minX: number;
  readonly minY: number;
  readonly maxX: number;
  readonly maxY: number;
}

export const SLANTED = 0;
/** Normal up. */
export const FLOOR = 1;
/** Normal down. */
export const CEILING = 2;
/** Normal towards −x: stops a body that moves right. */
export const WALL_LEFT = 3;
/** Normal towards +x: stops a body that moves left. */
export const WALL_RIGHT = 4;

/** Compiled vertices lie on this grid, 2⁻²⁶ units, rounded half away from zero so that mirror images stay mirror images. */
const GRID = 67108864;

export function onGrid(length: number): number {
  const scaled = length * GRID;
  return (scaled < 0 ? -Math.floor(0.5 - scaled) : Math.floor(scaled + 0.5)) / GRID + 0;
}

/** Which way an edge faces, and what that makes it. */
interface Way {
  nx: number;
  ny: number;
  kind: number;
}

const way: Way = { nx: 0.5, ny: 0.5, kind: SLANTED };

/** Finds out which way an edge from one place to another faces. */
export function direct(ax: number, ay: number, bx: number, by: number, into: Way): void {
  into.nx = into.ny = 0;
  if (ay === by) {
    into.ny = bx > ax ? 1 : -1;
    into.kind = bx > ax ? FLOOR : CEILING;
  } else if (ax === bx) {
    into.nx = by > ay ? -1 : 1;
    into.kind = by > ay ? WALL_LEFT : WALL_RIGHT;
  } else {
    const length = Math.sqrt((bx - ax) * (bx - ax) + (by - ay) * (by - ay));
    into.nx = (ay - by) / length;
    into.ny = (bx - ax) / length;
    into.kind = SLANTED;
  }
}

/** Whether the corner where an edge goes over into another can meet an upright or level face of a body on its own. */
export function isPointed(
  { nx, ny, kind, form }: Pick<Terrain, 'nx' | 'ny' | 'kind' | 'form'>,
  e: number,
  f: number,
): boolean {
  const cross = nx[e]! * ny[f]! - ny[e]! * nx[f]!;
  const dot = nx[e]! * nx[f]! + ny[e]! * ny[f]!;
  const corner = cross < 0 || (cross === 0 && dot < 0);
  return corner && (kind[e] === SLANTED || kind[f] === SLANTED || form[e] === LINE);
}

/**
 * Joins and indexes edges.
 * @param list the edges of a level
 * @param bounds the edges of its bounds: not indexed, joined to nothing
 */
export function buildTerrain(
  list: EdgeList,
  styles: readonly Style[] = [PLAIN_STYLE],
  bounds = new EdgeList(),
  movers: readonly EdgeList[] = [],
): Terrain {
  const inner = list.count;
  const lists = [list, bounds, ...movers];
  const setFrom = new Int32Array(movers.length + 2);
  setFrom[1] = inner + bounds.count;
  movers.forEach(({ count }, i) => (setFrom[i + 2] = setFrom[i + 1]! + count));
  const count = setFrom[movers.length + 1]!;
  const setUntil = setFrom.slice(1);
  const set = new Uint16Array(count);
  movers.forEach((_, i) => set.fill(i + 1, setFrom[i + 1], setFrom[i + 2]));
  const column = (): Float64Array => new Float64Array(count);
  const [x1, y1, x2, y2, nx, ny] = [column(), column(), column(), column(), column(), column()] as const;
  const kind = new Uint8Array(count);
  const form = new Uint8Array(count);
  const oneWay = new Uint8Array(count);
  const style = new Int32Array(count);
  const index = inner > 0 ? new Flatbush(inner) : undefined;
  let from = 0;
  let base = 0;
  for (let e = 0; e < count; e++) {
    for (; e - base >= lists[from]!.count; from++) base += lists[from]!.count;
    const { ends, form: forms, style: carried } = lists[from]!;
    const i = e - base;
    const at = 4 * i;
    form[e] = forms[i]!;
    style[e] = carried[i]!;
    if (form[e] === ONE_WAY) oneWay[e] = 1;
    const ax = (x1[e] = ends[at]!);
    const ay = (y1[e] = ends[at + 1]!);
    const bx = (x2[e] = ends[at + 2]!);
    const by = (y2[e] = ends[at + 3]!);
    direct(ax, ay, bx, by, way);
    nx[e] = way.nx;
    ny[e] = way.ny;
    kind[e] = way.kind;
    if (e < inner) index!.add(Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by));
  }
  index?.finish();
  const prev = new Int32Array(count).fill(-1);
  const next = new Int32Array(count).fill(-1);
  // Bounds are joined to nothing, a mover's edges to one another.
  const addJoints = (part: EdgeList, shift: number): void => {
    const joints = join(part, styles);
    for (let e = 0; e < part.count; e++) {
      if (joints.prev[e]! >= 0) prev[e + shift] = joints.prev[e]! + shift;
      if (joints.next[e]! >= 0) next[e + shift] = joints.next[e]! + shift;
    }
  };
  addJoints(list, 0);
  movers.forEach((part, i) => addJoints(part, setFrom[i + 1]!));
  const piece = new Int32Array(count).fill(-2);
  const mark = (first: number): void => {
    for (let e = first; e >= 0 && piece[e] === -2; e = next[e]!) piece[e] = first;
  };
  for (let e = 0; e < count; e++) if (oneWay[e] === 1 && prev[e]! < 0) mark(e);
  for (let e = 0; e < count; e++) if (oneWay[e] === 1) mark(e);
  const pointed = new Uint8Array(count);
  for (let e = 0; e < count; e++) {
    const f = next[e]!;
    if (f < 0) continue;
    if (isPointed({ nx, ny, kind, form }, e, f)) pointed[e] = 1;
  }
  const [before, after] = goingOnAbove(
    { count, inner, set, x1, y1, x2, y2, nx, ny, oneWay, style, prev, next },
    styles,
    index,
  );
  return {
    count, x1, y1, x2, y2, nx, ny, kind, form, oneWay, style, styles, prev, next, before, after, piece, pointed, boundsFrom: inner, setFrom, setUntil, set, index, gone: undefined, later: undefined,
  }; // prettier-ignore
}
