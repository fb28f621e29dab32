import { AT, AT_X, AT_Y, PX, PY, T, locate, timeToY, wayY, xAt } from '../sweep/path.js';
import { FLOOR, WALL_LEFT, WALL_RIGHT } from '../terrain/terrain.js';
import type { Body } from './body.js';
import { X, Y } from './state.js';

/**
 * The ground's top corner on one side that is level, to within `touch`, with a point so far above the feet, and at
 * most `within` from the body's side: the edge of its wall, or −1. Of several, the nearest.
 * @param side −1 or 1
 */
export function cornerBeside(body: Body, side: number, above: number, within: number): number {
  const { s, motion, near } = body;
  const { half, touch } = motion;
  const front = s[X]! + side * half;
  const level = s[Y]! + above;
  near.cover(s[X]! - half - within - touch, level - touch, s[X]! + half + within + touch, level + touch);
  const { starts, ids, fixed, high } = near;
  const kind = side > 0 ? WALL_LEFT : WALL_RIGHT;
  let best = -1;
  let nearest = within + touch;
  for (let i = starts[kind]!; i < starts[kind + 1]!; i++) {
    const gap = (fixed[i]! - front) * side;
    if (gap < -touch || gap > nearest || Math.abs(high[i]! - level) > touch) continue;
    if (!isLedge(body, ids[i]!, side)) continue;
    nearest = gap;
    best = ids[i]!;
  }
  return best;
}

/** Cuts a falling path where that point passes such a corner. What `cornerBeside` takes as level needs no cut. */
export function cutAtCorner(body: Body, side: number, above: number, within: number, but: number): void {
  const { path, motion, near } = body;
  if (wayY(path) >= 0) return;
  const { half, touch } = motion;
  const reach = half + within + 2 * touch;
  const x = path[PX]!;
  const end = path[AT_X]!;
  near.cover((x < end ? x : end) - reach, path[AT_Y]! + above, (x > end ? x : end) + reach, path[PY]! + above);
  const { starts, ids, fixed, high } = near;
  const kind = side > 0 ? WALL_LEFT : WALL_RIGHT;
  for (let i = starts[kind]!; i < starts[kind + 1]!; i++) {
    const level = high[i]! - above;
    const distance = path[PY]! - level;
    if (distance <= touch / 2 || level <= path[AT_Y]! || ids[i] === but) continue;
    const t = timeToY(path, distance, -1);
    const gap = (fixed[i]! - (xAt(path, t) + side * half)) * side;
    if (gap < -touch || gap > within + touch || !isLedge(body, ids[i]!, side)) continue;
    path[T] = path[AT] = t;
    locate(path);
  }
}

/** Whether ground joins a wall's top. */
function isLedge({ terrain }: Body, wall: number, side: number): boolean {
  // A wall that faces left runs up: its end is its top. One that faces right runs down.
  const floor = side > 0 ? terrain.next[wall]! : terrain.prev[wall]!;
  return floor >= 0 && terrain.kind[floor] === FLOOR && !terrain.styles[terrain.style[wall]!]!.noLedge;
}
