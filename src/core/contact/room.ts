import { SLACK } from '../tolerance.js';
import { MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { isNear, pathTo } from '../state/frame.js';
import { HEIGHT, PIT, X, Y } from '../state/layout.js';
import type { Near } from '../sweep/near.js';
import { AT, PATH_LENGTH, PVX, PVY, PX, PY, T, cutAt, locate, timeToX, timeToY, vxAt, vyAt, wayX, wayY, xAt, yAt } from '../sweep/path.js'; // prettier-ignore
import { roots, rootsOfGap } from '../sweep/roots.js';
import { TOUCH_LENGTH, WHEN } from '../sweep/ties.js';
import { firstTouch, overlap } from '../sweep/touch.js';
import { CEILING, SLANTED } from '../terrain/terrain.js';

const way = new Float64Array(PATH_LENGTH);

/**
 * The first edge in the way of a body moved at once straight by (dx, dy) from (x, y), or −1. It does not move the body.
 * @param obstacle where it is stored how far it comes, as a share of the way, and the normal of the touch, see `ties.ts`
 */
export function inTheWay(
  { sets, setCount, hull }: Body,
  x: number,
  y: number,
  dx: number,
  dy: number,
  obstacle: Float64Array,
): number {
  way[PVX] = dx;
  way[PVY] = dy;
  way[T] = way[AT] = 1;
  let first = -1;
  for (let i = 0; i < setCount; i++) {
    const { motion } = sets[i]!;
    way[PX] = x - motion[MX]!;
    way[PY] = y - motion[MY]!;
    locate(way);
    if (i === 0) {
      first = firstTouch(way, sets[0]!, hull, obstacle);
      continue;
    }
    const edge = firstTouch(way, sets[i]!, hull, other);
    if (edge < 0 || (first >= 0 && other[WHEN]! >= obstacle[WHEN]!)) continue;
    first = edge;
    obstacle.set(other);
  }
  return first;
}

const other = new Float64Array(TOUCH_LENGTH);

const ahead = new Float64Array(TOUCH_LENGTH);

/** Whether a body can be moved so far: what it would only just touch at the end is not in the way. */
export function hasRoom(body: Body, x: number, y: number, dx: number, dy: number): boolean {
  return inTheWay(body, x, y, dx, dy, ahead) < 0 || ahead[WHEN]! > 1 - SLACK;
}

/** Moves a body at once, if the straight way there is free. */
export function moveTo(body: Body, x: number, y: number): boolean {
  const { s } = body;
  if (!hasRoom(body, s[X]!, s[Y]!, x - s[X]!, y - s[Y]!)) return false;
  s[X] = x + 0;
  s[Y] = y + 0;
  return true;
}

/**
 * Changes the height of the hitbox, feet unmoved: upwards only where there is room, and not downwards between two faces that together hold the body,
 * one of which might then not reach it any more.
 */
export function resize(body: Body, height: number): boolean {
  const { s } = body;
  const more = height - s[HEIGHT]!;
  if (more > 0 ? !hasRoom(body, s[X]!, s[Y]!, 0, more) : s[PIT] === 1) return false;
  body.setHeight(height);
  return true;
}

/** Cuts the path where the body comes out from under what keeps it from being higher, or falls low enough under it. */
export function cutWhereRoom(body: Body, height: number): void {
  const { sets, setCount } = body;
  for (let i = 0; i < setCount; i++) {
    const near = sets[i]!;
    if (i === 0 || isNear(body, near)) cutWhereRoomIn(body, near, pathTo(body, near.set), height);
  }
}

/** The same for the edges of one set, which sees the path as `seen`. */
function cutWhereRoomIn(body: Body, near: Near, seen: Float64Array, height: number): void {
  const { s, path, motion, terrain } = body;
  const { half, touch } = motion;
  const x = seen[PX]!;
  const y = seen[PY]!;
  near.cover(x - half, y, x + half, y + height + touch);
  const { starts, ids, fixed, low, high } = near;
  for (let i = starts[SLANTED]!; i < starts[CEILING + 1]!; i++) {
    const e = ids[i]!;
    const slanted = terrain.kind[e] === SLANTED;
    // A slanted one is met until it is passed by a little.
    const past = slanted ? -2 * touch : touch / 2;
    if (terrain.ny[e]! >= 0 || overlap(x - half, x + half, low[i]!, high[i]!) <= past + touch / 2) continue;
    if (slanted) {
      cutWhereBelow(body, seen, e, height);
      // Its lower end is where the body comes out first.
      const first = terrain.y1[e]!;
      const last = terrain.y2[e]!;
      if (Math.min(first, last) >= y + height || Math.max(first, last) < y + s[HEIGHT]! - touch) continue;
    } else if (fixed[i]! >= y + height || fixed[i]! < y + s[HEIGHT]! - touch) continue;
    const along = wayX(seen);
    const out = along > 0 ? high[i]! + half - past - x : x - (low[i]! - half + past);
    if (along !== 0 && out > 0 && out < (xAt(seen, path[T]!) - x) * along) cutAt(path, timeToX(seen, out, along));
    if (slanted) continue;
    const down = y - (fixed[i]! - height);
    if (wayY(seen) < 0 && down > touch / 2 && down < y - yAt(seen, path[T]!)) cutAt(path, timeToY(seen, down, -1));
  }
}

/** Cuts the path where a body of some height would come out from behind a slanted underside: there the upper corner on its side lies on it. */
function cutWhereBelow({ path, terrain, motion }: Body, seen: Float64Array, e: number, height: number): void {
  const { half, touch } = motion;
  const nx = terrain.nx[e]!;
  const ny = terrain.ny[e]!;
  const rises = terrain.y2[e]! > terrain.y1[e]!;
  const cornerX = nx > 0 ? -half : half;
  const gap =
    nx * (seen[PX]! + cornerX - (rises ? terrain.x2[e]! : terrain.x1[e]!)) +
    ny * (seen[PY]! + height - (rises ? terrain.y2[e]! : terrain.y1[e]!));
  if (gap >= -touch / 2) return;
  const count = rootsOfGap(seen, nx, ny, gap);
  for (let i = 0; i < count; i++) {
    const t = roots[i]!;
    if (t >= path[T]!) return;
    if (nx * vxAt(seen, t) + ny * vyAt(seen, t) <= 0) continue;
    cutAt(path, t);
    return;
  }
}
