import type { Terrain } from '../terrain/terrain.js';
import { showValue } from '../tuning/words.js';
import { FARTHEST } from '../tuning/keys.js';

/** A box by its corner nearest the origin, units. */
export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** A part of the level, in its own axes, units: a box by the corner nearest the origin, a circle, or the corners of a convex outline. */
export type Area =
  | Box
  | { readonly x: number; readonly y: number; readonly radius: number }
  | { readonly points: readonly (readonly [number, number])[] };

/** An area as it is worked with: y up, its corners counter-clockwise; a circle has none. The same object is used for each. */
export interface Patch {
  /** x and y in turn, and how many numbers they are. */
  corners: Float64Array;
  length: number;
  /** A point within it: of a circle the middle. */
  x: number;
  y: number;
  /** Of a circle; 0 else. */
  radius: number;
  /** The box around it. */
  left: number;
  bottom: number;
  right: number;
  top: number;
}

export const patch = (): Patch => ({
  corners: new Float64Array(64),
  length: 0,
  // No whole numbers, so that they are kept as what they will be.
  x: 0.5,
  y: 0.5,
  radius: 0.5,
  left: 0.5,
  bottom: 0.5,
  right: 0.5,
  top: 0.5,
});

/**
 * @param up −1 where the level's y axis points down, else 1
 * @throws RangeError naming what is wrong with an area
 */
export function readArea(area: Area, up: number, into: Patch): void {
  if (typeof area !== 'object' || area === null)
    throw new RangeError(`the area is ${showValue(area)}; it must be a box, a circle or a convex outline`);
  into.radius = 0;
  if ('points' in area) {
    readPoints(area.points, up, into);
    return;
  }
  const { x, y } = area;
  if (typeof x !== 'number' || !(Math.abs(x) <= FARTHEST)) refusePlace('x', x);
  if (typeof y !== 'number' || !(Math.abs(y) <= FARTHEST)) refusePlace('y', y);
  if ('radius' in area) {
    if (typeof area.radius !== 'number' || !(area.radius > 0 && area.radius <= 2 * FARTHEST))
      refuseSize('radius', area.radius);
    into.length = 0;
    into.x = x;
    into.y = y * up;
    into.radius = area.radius;
    into.left = x - area.radius;
    into.right = x + area.radius;
    into.bottom = y * up - area.radius;
    into.top = y * up + area.radius;
    return;
  }
  if (typeof area.width !== 'number' || !(area.width > 0 && area.width <= 2 * FARTHEST))
    refuseSize('width', area.width);
  if (typeof area.height !== 'number' || !(area.height > 0 && area.height <= 2 * FARTHEST))
    refuseSize('height', area.height);
  const low = up > 0 ? y : -(y + area.height);
  into.left = x;
  into.right = x + area.width;
  into.bottom = low;
  into.top = low + area.height;
  setBox(into);
}

/** Makes a patch of the box that its sides say, y up. */
export function setBox(into: Patch): void {
  const { left, bottom, right, top } = into;
  const { corners } = into;
  into.radius = 0;
  into.length = 8;
  corners[0] = corners[6] = left;
  corners[2] = corners[4] = right;
  corners[1] = corners[3] = bottom;
  corners[5] = corners[7] = top;
  into.x = (left + right) / 2;
  into.y = (bottom + top) / 2;
}

function readPoints(points: readonly (readonly [number, number])[], up: number, into: Patch): void {
  if (!Array.isArray(points) || points.length < 3)
    throw new RangeError(`points is ${showValue(points)}; it must be the corners of a convex outline, at least three`);
  const count = points.length;
  if (into.corners.length < 2 * count) into.corners = new Float64Array(2 * count);
  const { corners } = into;
  let turns = 0;
  let x = 0;
  let y = 0;
  into.left = into.bottom = Infinity;
  into.right = into.top = -Infinity;
  for (let i = 0; i < count; i++) {
    checkPair('points', points[i]!);
    x += points[i]![0] / count;
    y += (points[i]![1] * up) / count;
  }
  for (let i = 0; i < count; i++) {
    const [ax, ay] = points[i]!;
    const [bx, by] = points[(i + 1) % count]!;
    const [cx, cy] = points[(i + 2) % count]!;
    const turn = ((bx - ax) * (cy - by) - (by - ay) * (cx - bx)) * up;
    if (turn !== 0 && turns !== 0 && turn > 0 !== turns > 0)
      throw new RangeError('points is an outline that is not convex; ask for each convex piece of it');
    if (turn !== 0) turns = turn;
    if (ax < into.left) into.left = ax;
    if (ax > into.right) into.right = ax;
    if (ay * up < into.bottom) into.bottom = ay * up;
    if (ay * up > into.top) into.top = ay * up;
  }
  if (turns === 0) throw new RangeError('points is an outline without area');
  for (let i = 0; i < count; i++) {
    const [px, py] = points[turns > 0 ? i : count - 1 - i]!;
    corners[2 * i] = px;
    corners[2 * i + 1] = py * up;
  }
  into.length = 2 * count;
  into.x = x;
  into.y = y;
}

function refusePlace(name: string, value: unknown): never {
  throw new RangeError(`${name} is ${showValue(value)}; it must be a number within ±${FARTHEST}`);
}

/**
 * Numbers are compared here and handed on only to be refused: a call would box them.
 * @throws RangeError where what is given is no pair of numbers, or too far away
 */
export function checkPair(name: string, pair: readonly [number, number]): void {
  if (!Array.isArray(pair) || pair.length !== 2)
    throw new RangeError(`${name} is ${showValue(pair)}; it must be ${name === 'by' ? '[dx, dy]' : '[x, y]'}`);
  if (typeof pair[0] !== 'number' || !(Math.abs(pair[0]) <= FARTHEST)) refusePlace(`${name}.x`, pair[0]);
  if (typeof pair[1] !== 'number' || !(Math.abs(pair[1]) <= FARTHEST)) refusePlace(`${name}.y`, pair[1]);
}

function refuseSize(name: string, value: unknown): never {
  throw new RangeError(`${name} is ${showValue(value)}; it must be above 0 and at most ${2 * FARTHEST}`);
}

/** Whether an edge passes through the inside of a patch: to touch its border is not enough. */
export function meetsEdge(p: Patch, { x1, y1, x2, y2 }: Terrain, e: number): boolean {
  stretch[0] = x1[e]!;
  stretch[1] = y1[e]!;
  stretch[2] = x2[e]!;
  stretch[3] = y2[e]!;
  return meetsStretch(p, stretch);
}

/** A stretch, x1, y1, x2, y2: handed over in an array, it is not boxed. */
const stretch = new Float64Array(4);

function meetsStretch(p: Patch, ends: Float64Array): boolean {
  const ax = ends[0]!;
  const ay = ends[1]!;
  const bx = ends[2]!;
  const by = ends[3]!;
  const dx = bx - ax;
  const dy = by - ay;
  if (p.radius > 0) {
    const length = dx * dx + dy * dy;
    const along = length > 0 ? ((p.x - ax) * dx + (p.y - ay) * dy) / length : 0;
    const t = along < 0 ? 0 : along > 1 ? 1 : along;
    const x = ax + t * dx - p.x;
    const y = ay + t * dy - p.y;
    return x * x + y * y < p.radius * p.radius;
  }
  const { corners, length } = p;
  let from = 0;
  let until = 1;
  for (let i = 0; i < length; i += 2) {
    const k = i + 2 === length ? 0 : i + 2;
    // The inward side of this border, and how far within it the stretch begins.
    const nx = corners[i + 1]! - corners[k + 1]!;
    const ny = corners[k]! - corners[i]!;
    const depth = (ax - corners[i]!) * nx + (ay - corners[i + 1]!) * ny;
    const gain = dx * nx + dy * ny;
    if (gain === 0) {
      if (depth <= 0) return false;
    } else if (gain > 0) {
      if (-depth / gain > from) from = -depth / gain;
    } else if (depth / -gain < until) until = depth / -gain;
    if (from >= until) return false;
  }
  return true;
}

/** Whether two patches share some area; one of them is no circle. */
export function meetsPatch(p: Patch, corners: Float64Array, length: number): boolean {
  if (p.radius > 0) return meetsCircle(p, corners, length);
  return !isParted(p.corners, p.length, corners, length) && !isParted(corners, length, p.corners, p.length);
}

/** Whether some side of one convex outline, counter-clockwise, has all of another one outside. */
function isParted(a: Float64Array, aLength: number, b: Float64Array, bLength: number): boolean {
  for (let i = 0; i < aLength; i += 2) {
    const k = i + 2 === aLength ? 0 : i + 2;
    const nx = a[k + 1]! - a[i + 1]!;
    const ny = a[i]! - a[k]!;
    let least = Infinity;
    for (let m = 0; m < bLength; m += 2) {
      const gap = (b[m]! - a[i]!) * nx + (b[m + 1]! - a[i + 1]!) * ny;
      if (gap < least) least = gap;
    }
    if (least >= 0) return true;
  }
  return false;
}

function meetsCircle(p: Patch, corners: Float64Array, length: number): boolean {
  let inside = true;
  for (let i = 0; i < length; i += 2) {
    const k = i + 2 === length ? 0 : i + 2;
    stretch[0] = corners[i]!;
    stretch[1] = corners[i + 1]!;
    stretch[2] = corners[k]!;
    stretch[3] = corners[k + 1]!;
    if (meetsStretch(p, stretch)) return true;
    const nx = corners[k + 1]! - corners[i + 1]!;
    const ny = corners[i]! - corners[k]!;
    if ((p.x - corners[i]!) * nx + (p.y - corners[i + 1]!) * ny > 0) inside = false;
  }
  return inside;
}
