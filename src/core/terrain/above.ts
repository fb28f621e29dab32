import type Flatbush from 'flatbush';
import type { Style } from './edges.js';

/** What `goingOnAbove` needs of the edges. */
interface Edges {
  readonly count: number;
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
  const { count, x1, y1, x2, y2, ny, oneWay, style, prev, next } = edges;
  let [before, after] = [prev, next];
  const isApart = (e: number): boolean => oneWay[e] === 1 || styles[style[e]!]!.shape >= 0;
  const link = (left: number, right: number): void => {
    if (before === prev) [before, after] = [prev.slice(), next.slice()];
    if (next[left]! < 0 || ny[next[left]!]! <= 0) after[left] = right;
    if (prev[right]! < 0 || ny[prev[right]!]! <= 0) before[right] = left;
  };
  for (let e = 0; index && e < count; e++) {
    if (ny[e]! <= 0 || !isApart(e)) continue;
    // In the order of their numbers: the index gives no order.
    for (const f of index.search(x1[e]!, y1[e]!, x1[e]!, y1[e]!).sort((a, b) => a - b))
      if (f !== e && ny[f]! > 0 && x2[f] === x1[e] && y2[f] === y1[e]) link(f, e);
    for (const f of index.search(x2[e]!, y2[e]!, x2[e]!, y2[e]!).sort((a, b) => a - b))
      if (f !== e && ny[f]! > 0 && x1[f] === x2[e] && y1[f] === y2[e]) link(e, f);
  }
  return [before, after];
}
