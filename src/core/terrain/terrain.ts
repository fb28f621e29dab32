import Flatbush from 'flatbush';

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
  /** 1 for ground that blocks from above only. */
  readonly oneWay: Uint8Array;
  /** The neighbours that an edge's start and end are joined to, or −1. */
  readonly prev: Int32Array;
  readonly next: Int32Array;
  /** Edges from this one on are the level's bounds: few, endless, and not in the index. */
  readonly boundsFrom: number;
  /** Finds edges by box; absent where there is none but bounds. */
  readonly index: Flatbush | undefined;
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

/**
 * Joins and indexes edges.
 * @param ends x1, y1, x2, y2 of each edge in turn, on the grid, no edge of length 0
 * @param bounds the same, for the level's bounds
 * @param passable the same, for ground that blocks from above only; it is joined to nothing, so that a solid beside it
 * keeps its own corners
 */
export function buildTerrain(
  ends: ArrayLike<number>,
  bounds: ArrayLike<number> = [],
  passable: ArrayLike<number> = [],
): Terrain {
  const solid = ends.length / 4;
  const inner = solid + passable.length / 4;
  const count = inner + bounds.length / 4;
  const column = (): Float64Array => new Float64Array(count);
  const [x1, y1, x2, y2, nx, ny] = [column(), column(), column(), column(), column(), column()] as const;
  const kind = new Uint8Array(count);
  const oneWay = new Uint8Array(count);
  const index = inner > 0 ? new Flatbush(inner) : undefined;
  for (let e = 0; e < count; e++) {
    const from = e < solid ? ends : e < inner ? passable : bounds;
    const at = 4 * (e < solid ? e : e < inner ? e - solid : e - inner);
    if (from === passable) oneWay[e] = 1;
    const ax = (x1[e] = from[at]!);
    const ay = (y1[e] = from[at + 1]!);
    const bx = (x2[e] = from[at + 2]!);
    const by = (y2[e] = from[at + 3]!);
    if (ay === by) {
      ny[e] = bx > ax ? 1 : -1;
      kind[e] = bx > ax ? FLOOR : CEILING;
    } else if (ax === bx) {
      nx[e] = by > ay ? -1 : 1;
      kind[e] = by > ay ? WALL_LEFT : WALL_RIGHT;
    } else {
      const length = Math.sqrt((bx - ax) * (bx - ax) + (by - ay) * (by - ay));
      nx[e] = (ay - by) / length;
      ny[e] = (bx - ax) / length;
    }
    if (e < inner) index!.add(Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by));
  }
  index?.finish();
  const joints = join(solid, count, x1, y1, x2, y2);
  return { count, x1, y1, x2, y2, nx, ny, kind, oneWay, ...joints, boundsFrom: inner, index };
}

/**
 * Joins every edge's end to the edge that starts there. Where two corners meet in one point, the pair that turns
 * furthest left is joined: the solids count as connected, the open spaces as apart.
 */
function join(
  inner: number,
  count: number,
  x1: Float64Array,
  y1: Float64Array,
  x2: Float64Array,
  y2: Float64Array,
): { prev: Int32Array; next: Int32Array } {
  const prev = new Int32Array(count).fill(-1);
  const next = new Int32Array(count).fill(-1);
  // Starts sorted by place; an end finds its starts by bisection.
  const starts = new Uint32Array(inner).map((_, i) => i).sort((a, b) => x1[a]! - x1[b]! || y1[a]! - y1[b]!);
  for (let e = 0; e < inner; e++) {
    let low = 0;
    let high = inner;
    while (low < high) {
      const middle = (low + high) >> 1;
      const s = starts[middle]!;
      if (x1[s]! < x2[e]! || (x1[s] === x2[e] && y1[s]! < y2[e]!)) low = middle + 1;
      else high = middle;
    }
    let best = -1;
    let most = -Infinity;
    for (; low < inner && x1[starts[low]!] === x2[e] && y1[starts[low]!] === y2[e]; low++) {
      const s = starts[low]!;
      const turn = leftTurn(x2[e]! - x1[e]!, y2[e]! - y1[e]!, x2[s]! - x1[s]!, y2[s]! - y1[s]!);
      if (turn > most) {
        most = turn;
        best = s;
      }
    }
    next[e] = best;
    if (best >= 0) prev[best] = e;
  }
  return { prev, next };
}

/** Grows with the angle from one direction to another, from −2 (half a turn right) to 2 (half a turn left). */
function leftTurn(ax: number, ay: number, bx: number, by: number): number {
  const lengths = Math.sqrt((ax * ax + ay * ay) * (bx * bx + by * by));
  const cross = (ax * by - ay * bx) / lengths;
  const dot = (ax * bx + ay * by) / lengths;
  return dot >= 0 ? cross : cross >= 0 ? 2 - cross : -2 - cross;
}
