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
    if (next[left]! < 0 || ny[next[left]!]! <= 0) after[left] = right;
    if (prev[right]! < 0 || ny[prev[right]!]! <= 0) before[right] = left;
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
