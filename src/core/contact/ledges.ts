import { MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { isNear, pathTo } from '../state/frame.js';
import { X, Y } from '../state/layout.js';
import { PX, PY, T, cutAt, timeToY, wayY, xAt, yAt } from '../sweep/path.js';
import { FLOOR, WALL_LEFT, WALL_RIGHT } from '../terrain/terrain.js';

/**
 * The ground's top corner on one side that is level, to within `touch`, with a point so far above the feet, and at
 * most `within` from the body's side: the edge of its wall, or −1. Of several, the nearest.
 * @param side −1 or 1
 */
export function cornerBeside(body: Body, side: number, above: number, within: number): number {
  const { s, motion, sets, setCount } = body;
  const { half, touch } = motion;
  const kind = side > 0 ? WALL_LEFT : WALL_RIGHT;
  let best = -1;
  let nearest = within + touch;
  for (let k = 0; k < setCount; k++) {
    const near = sets[k]!;
    const x = s[X]! - near.motion[MX]!;
    const front = x + side * half;
    const level = s[Y]! - near.motion[MY]! + above;
    near.cover(x - half - within - touch, level - touch, x + half + within + touch, level + touch);
    const { starts, ids, fixed, high } = near;
    for (let i = starts[kind]!; i < starts[kind + 1]!; i++) {
      const gap = (fixed[i]! - front) * side;
      if (gap < -touch || gap > nearest || Math.abs(high[i]! - level) > touch) continue;
      if (!isLedge(body, ids[i]!, side)) continue;
      nearest = gap;
      best = ids[i]!;
    }
  }
  return best;
}

/** Cuts a path where that point falls past such a corner. What `cornerBeside` takes as level needs no cut. */
export function cutAtCorner(body: Body, side: number, above: number, within: number, but: number): void {
  const { path, motion, sets, setCount } = body;
  const { half, touch } = motion;
  const reach = half + within + 2 * touch;
  const kind = side > 0 ? WALL_LEFT : WALL_RIGHT;
  for (let k = 0; k < setCount; k++) {
    const near = sets[k]!;
    if (k > 0 && !isNear(body, near)) continue;
    const seen = pathTo(body, near.set);
    if (wayY(seen) >= 0) continue;
    const x = seen[PX]!;
    const end = xAt(seen, path[T]!);
    const low = yAt(seen, path[T]!);
    near.cover((x < end ? x : end) - reach, low + above, (x > end ? x : end) + reach, seen[PY]! + above);
    const { starts, ids, fixed, high } = near;
    for (let i = starts[kind]!; i < starts[kind + 1]!; i++) {
      const level = high[i]! - above;
      const distance = seen[PY]! - level;
      if (distance <= touch / 2 || level <= yAt(seen, path[T]!) || ids[i] === but) continue;
      const t = timeToY(seen, distance, -1);
      const gap = (fixed[i]! - (xAt(seen, t) + side * half)) * side;
      if (gap < -touch || gap > within + touch || !isLedge(body, ids[i]!, side)) continue;
      cutAt(path, t);
    }
  }
}

/** Whether ground joins a wall's top. */
function isLedge({ terrain }: Body, wall: number, side: number): boolean {
  // A wall that faces left runs up: its end is its top. One that faces right runs down.
  const floor = side > 0 ? terrain.next[wall]! : terrain.prev[wall]!;
  return floor >= 0 && terrain.kind[floor] === FLOOR && !terrain.styles[terrain.style[wall]!]!.noLedge;
}
