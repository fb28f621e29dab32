import type Flatbush from 'flatbush';
import type { Terrain } from './terrain.js';

/** Edges that were found, by number: the list is used again, so that finding some allocates nothing once it is long enough. */
export class Found {
  ids = new Int32Array(64);
  count = 0;

  add(e: number): void {
    if (this.count === this.ids.length) {
      const longer = new Int32Array(2 * this.count);
      longer.set(this.ids);
      this.ids = longer;
    }
    this.ids[this.count++] = e;
  }
}

/**
 * The edges of one set whose boxes meet a box: of what stands still by the index, and the bounds, which are few; of what moves all.
 * @param into where they are listed, in no order that means anything
 */
export function findEdges(
  terrain: Terrain,
  set: number,
  left: number,
  bottom: number,
  right: number,
  top: number,
  into: Found,
): void {
  into.count = 0;
  if (set === 0 && terrain.index) search(terrain.index, left, bottom, right, top, into);
  const first = set === 0 ? terrain.boundsFrom : terrain.setFrom[set]!;
  for (let e = first; e < terrain.setFrom[set + 1]!; e++) into.add(e);
}

/** Nodes that are still to be looked into, and their levels. */
let nodes = new Int32Array(256);

/** What the index says, without the two arrays that each of its own answers takes. */
function search(index: Flatbush, left: number, bottom: number, right: number, top: number, into: Found): void {
  const { _boxes: boxes, _indices: indices, _levelBounds: levelEnds, nodeSize, numItems } = index;
  const leaves = 4 * numItems;
  let open = 0;
  nodes[open++] = boxes.length - 4;
  nodes[open++] = levelEnds.length - 1;
  while (open > 0) {
    const level = nodes[--open]!;
    const node = nodes[--open]!;
    const end = Math.min(node + 4 * nodeSize, levelEnds[level]!);
    if (open + 2 * nodeSize > nodes.length) {
      const longer = new Int32Array(2 * nodes.length);
      longer.set(nodes);
      nodes = longer;
    }
    for (let at = node; at < end; at += 4) {
      if (right < boxes[at]! || top < boxes[at + 1]! || left > boxes[at + 2]! || bottom > boxes[at + 3]!) continue;
      const child = indices[at >> 2]!;
      if (node < leaves) into.add(child);
      else {
        nodes[open++] = child;
        nodes[open++] = level - 1;
      }
    }
  }
}
