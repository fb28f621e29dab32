import type Flatbush from 'flatbush';
import type { LaterNode, Terrain } from './terrain.js';

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
  if (set === 0) search(terrain, box, into, undefined);
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
  if (set === 0) search(terrain, around, into, line);
  addFew(terrain, set, into);
}

const around = new Float64Array(4);

function addFew(terrain: Terrain, set: number, into: Found): void {
  const first = set === 0 ? terrain.boundsFrom : terrain.setFrom[set]!;
  for (let e = first; e < terrain.setUntil[set]!; e++) into.add(e);
}

/** Nodes that are still to be looked into, and their levels. */
let nodes = new Int32Array(256);

function search(terrain: Terrain, box: Float64Array, into: Found, line: Float64Array | undefined): void {
  const { index, later } = terrain;
  if (index) searchFirst(index, later?.hidden, box, into, line);
  if (later === undefined) return;
  searchLater(later.tree.data, box, into);
  order(terrain, into);
}

/** Puts edges in an order that says nothing of how they came to be: few, and mostly in order. */
function order(terrain: Terrain, { ids, count }: Found): void {
  if (count > 64) {
    ids.subarray(0, count).sort((a, b) => (isBefore(terrain, a, b) ? -1 : isBefore(terrain, b, a) ? 1 : 0));
    return;
  }
  for (let i = 1; i < count; i++) {
    const e = ids[i]!;
    let k = i;
    for (; k > 0 && isBefore(terrain, e, ids[k - 1]!); k--) ids[k] = ids[k - 1]!;
    ids[k] = e;
  }
}

function isBefore({ x1, y1, x2, y2, form, style, styles }: Terrain, e: number, other: number): boolean {
  if (x1[e] !== x1[other]) return x1[e]! < x1[other]!;
  if (y1[e] !== y1[other]) return y1[e]! < y1[other]!;
  if (x2[e] !== x2[other]) return x2[e]! < x2[other]!;
  if (y2[e] !== y2[other]) return y2[e]! < y2[other]!;
  return form[e] !== form[other]
    ? form[e]! < form[other]!
    : styles[style[e]!]!.surface < styles[style[other]!]!.surface;
}

const open: LaterNode[] = [];

/** What came later. */
function searchLater(root: LaterNode, box: Float64Array, into: Found): void {
  const left = box[0]!;
  const bottom = box[1]!;
  const right = box[2]!;
  const top = box[3]!;
  open.push(root);
  for (;;) {
    const node = open.pop();
    if (node === undefined) return;
    for (let i = 0; i < node.children.length; i++) {
      const child = node.children[i]!;
      if (right < child.minX || top < child.minY || left > child.maxX || bottom > child.maxY) continue;
      if (node.leaf) into.add(child.edge);
      else open.push(child);
    }
  }
}

/** What the index says, without the two arrays that each of its own answers takes. */
function searchFirst(
  index: Flatbush,
  hidden: Uint8Array | undefined,
  box: Float64Array,
  into: Found,
  line: Float64Array | undefined,
): void {
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
      if (node < leaves) {
        if (hidden === undefined || hidden[child] === 0) into.add(child);
      } else {
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
