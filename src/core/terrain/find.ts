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
 * @param box left, bottom, right, top: handed over in an array, they are not boxed
 * @param into where they are listed, in no order that means anything
 */
export function findEdges(terrain: Terrain, set: number, box: Float64Array, into: Found): void {
  into.count = 0;
  if (set === 0 && terrain.index) search(terrain.index, box, into, undefined);
  addFew(terrain, set, into);
}

/**
 * The same of those whose boxes a straight line comes to, and perhaps others.
 * @param line where it begins and ends: x1, y1, x2, y2
 */
export function findAlong(terrain: Terrain, set: number, line: Float64Array, into: Found): void {
  into.count = 0;
  around[0] = line[0]! < line[2]! ? line[0]! : line[2]!;
  around[1] = line[1]! < line[3]! ? line[1]! : line[3]!;
  around[2] = line[0]! < line[2]! ? line[2]! : line[0]!;
  around[3] = line[1]! < line[3]! ? line[3]! : line[1]!;
  if (set === 0 && terrain.index) search(terrain.index, around, into, line);
  addFew(terrain, set, into);
}

const around = new Float64Array(4);

function addFew(terrain: Terrain, set: number, into: Found): void {
  const first = set === 0 ? terrain.boundsFrom : terrain.setFrom[set]!;
  for (let e = first; e < terrain.setFrom[set + 1]!; e++) into.add(e);
}

/** Nodes that are still to be looked into, and their levels. */
let nodes = new Int32Array(256);

/** What the index says, without the two arrays that each of its own answers takes. */
function search(index: Flatbush, box: Float64Array, into: Found, line: Float64Array | undefined): void {
  const left = box[0]!;
  const bottom = box[1]!;
  const right = box[2]!;
  const top = box[3]!;
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
      if (line !== undefined && isBeside(boxes, at, line)) continue;
      const child = indices[at >> 2]!;
      if (node < leaves) into.add(child);
      else {
        nodes[open++] = child;
        nodes[open++] = level - 1;
      }
    }
  }
}

/** Whether a line leaves a box on one side, with a little to spare. */
function isBeside(boxes: ArrayLike<number>, at: number, line: Float64Array): boolean {
  const dx = line[2]! - line[0]!;
  const dy = line[3]! - line[1]!;
  const left = boxes[at]! - line[0]!;
  const bottom = boxes[at + 1]! - line[1]!;
  const right = boxes[at + 2]! - line[0]!;
  const top = boxes[at + 3]! - line[1]!;
  // On which side of the line each corner is.
  const a = dx * bottom - dy * left;
  const b = dx * bottom - dy * right;
  const c = dx * top - dy * left;
  const d = dx * top - dy * right;
  const spare = 1e-9 * (Math.abs(dx) + Math.abs(dy));
  return (a > spare && b > spare && c > spare && d > spare) || (a < -spare && b < -spare && c < -spare && d < -spare);
}
