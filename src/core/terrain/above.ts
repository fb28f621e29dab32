import type Flatbush from 'flatbush';
import type { Style } from './edges.js';

/** What `goingOnAbove` needs of the edges. */
interface Edges {
  readonly count: number;
  /** So many of them are in the index; the others are those of movers, and bounds. */
  readonly inner: number;
  readonly set: Uint16Array;
  readonly x1: Float64Array;
  readonly y1: Float64Array;
  readonly x2: Float64Array;
  readonly y2: Float64Array;
  readonly nx: Float64Array;
  readonly ny: Float64Array;
  readonly oneWay: Uint8Array;
  readonly style: Int32Array;
  readonly prev: Int32Array;
  readonly next: Int32Array;
}

/**
 * The neighbours of edges as they are for what goes over them. One-way ground and shapes that can be switched off are joined to nothing
 * but their own: a body beside or below meets the others' own corners. Seen from above, ground goes on where other ground begins.
 */
export function goingOnAbove(
  edges: Edges,
  styles: readonly Style[],
  index: Flatbush | undefined,
): [Int32Array, Int32Array] {
  const { count, inner, set, x1, y1, x2, y2, ny, oneWay, style, prev, next } = edges;
  let [before, after] = [prev, next];
  const isApart = (e: number): boolean => oneWay[e] === 1 || styles[style[e]!]!.shape >= 0;
  const link = (left: number, right: number): void => {
    if (before === prev) [before, after] = [prev.slice(), next.slice()];
    linkAbove({ nx: edges.nx, ny, oneWay, style, prev, next, before, after }, left, right);
  };
  // In the order of their numbers: the index gives no order. Movers have few edges.
  const endingAt = (e: number, x: number, y: number): number[] => {
    if (set[e] === 0) return index ? index.search(x, y, x, y).sort((a, b) => a - b) : [];
    const found: number[] = [];
    for (let f = inner; f < count; f++) if (set[f] === set[e]) found.push(f);
    return found;
  };
  for (let e = 0; e < count; e++) {
    if (ny[e]! <= 0 || !isApart(e) || (e >= inner && set[e] === 0)) continue;
    for (const f of endingAt(e, x1[e]!, y1[e]!))
      if (f !== e && ny[f]! > 0 && x2[f] === x1[e] && y2[f] === y1[e]) link(f, e);
    for (const f of endingAt(e, x2[e]!, y2[e]!))
      if (f !== e && ny[f]! > 0 && x1[f] === x2[e] && y1[f] === y2[e]) link(e, f);
  }
  return [before, after];
}

type Joined = Pick<Edges, 'nx' | 'ny' | 'oneWay' | 'style' | 'prev' | 'next'> & {
  readonly before: Int32Array;
  readonly after: Int32Array;
};

/** Lets ground go on to other ground, as what goes over it sees it: where it is joined to none of its own, and to the highest of several. */
export function linkAbove(edges: Joined, left: number, right: number): void {
  const { ny, prev, next, before, after } = edges;
  const there = next[left]!;
  if ((there < 0 || ny[there]! <= 0) && (after[left] === there || isHigher(edges, right, after[left]!, 1)))
    after[left] = right;
  const back = prev[right]!;
  if ((back < 0 || ny[back]! <= 0) && (before[right] === back || isHigher(edges, left, before[right]!, -1)))
    before[right] = left;
}

/** Of two that begin in one place, seen along a way: whether one rises more than the other, or as much and comes first by what it is. */
function isHigher({ nx, ny, oneWay, style }: Joined, one: number, other: number, way: number): boolean {
  const rise = (-way * nx[one]!) / ny[one]! + (way * nx[other]!) / ny[other]!;
  if (rise !== 0) return rise > 0;
  return oneWay[one] !== oneWay[other] ? oneWay[one] === 0 : style[one]! < style[other]!;
}
