import Flatbush from 'flatbush';
import { orient2d } from 'robust-predicates';
import type { Point } from './outline.js';

/** Steps of the vertex grid in a unit. */
export const GRID = 67108864;

export interface Whole {
  X: number;
  Y: number;
}

/** Rings by the lumps in which they may meet: those whose boxes touch, at once or over others. */
export function lumpsOf(paths: readonly (readonly Whole[])[]): number[][] {
  if (paths.length < 2) return paths.map((_, i) => [i]);
  const index = boxesOf(paths.map((path) => boxOf(path)));
  const lumps: number[][] = [];
  const seen = new Uint8Array(paths.length);
  for (let first = 0; first < paths.length; first++) {
    if (seen[first]) continue;
    seen[first] = 1;
    const lump = [first];
    for (const i of lump) {
      const { left, top, right, bottom } = boxOf(paths[i]!);
      index.search(left, top, right, bottom, (k) => {
        if (!seen[k]) lump.push(k);
        seen[k] = 1;
        return false;
      });
    }
    lumps.push(lump.sort((a, b) => a - b));
  }
  return lumps;
}

interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

export function boxOf(path: readonly Whole[]): Box {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { X, Y } of path) {
    left = Math.min(left, X);
    top = Math.min(top, Y);
    right = Math.max(right, X);
    bottom = Math.max(bottom, Y);
  }
  return { left, top, right, bottom };
}

export function boxesOf(boxes: readonly Box[]): Flatbush {
  const index = new Flatbush(boxes.length);
  for (const { left, top, right, bottom } of boxes) index.add(left, top, right, bottom);
  index.finish();
  return index;
}

export function toGrid([x, y]: Point): Whole {
  return { X: Math.round(x * GRID), Y: Math.round(y * GRID) };
}

/** Twice the area, square units; above 0 where it goes round counter-clockwise, y up. */
export function areaOf(path: readonly Whole[]): number {
  return path.reduce((sum, a, i) => {
    const b = path[(i + 1) % path.length]!;
    return sum + (a.X / GRID) * (b.Y / GRID) - (b.X / GRID) * (a.Y / GRID);
  }, 0);
}

/** Whether a ring goes around anything: rounded to the grid, what is thin may not. */
export function hasArea(path: readonly Whole[]): boolean {
  return path.some((a, i) => {
    const [b, c] = [path[(i + 1) % path.length]!, path[(i + 2) % path.length]!];
    return orient2d(a.X, a.Y, b.X, b.Y, c.X, c.Y) !== 0;
  });
}

export function distinct(path: Whole[]): Whole[] {
  return path.filter(({ X, Y }, i) => {
    const next = path[(i + 1) % path.length]!;
    return X !== next.X || Y !== next.Y;
  });
}
