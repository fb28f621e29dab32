import { APART, BEYOND_APART } from '../tolerance.js';
import { HOLDS, MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { ENTANGLED, NOW } from '../state/clock.js';
import { MOVER_SLOTS, PASSES, TOLD, X, Y } from '../state/layout.js';
import type { Hull } from '../sweep/hull.js';
import type { Near } from '../sweep/near.js';
import { PX, PY, T, cutAt, xAt, yAt } from '../sweep/path.js';
import { seenFrom } from '../sweep/relative.js';
import { roots, rootsOfGap } from '../sweep/roots.js';
import { isInsideSet } from './inside.js';

/** A mover that a body was let through, or that has told it, meets it again once the two are apart: at that very moment. */

/** Whether the body is still in a mover, or touches it. */
export function isIn(body: Body, set: number): boolean {
  look(body, set);
  return isInsideSet(body, body.nears[set]!, body.s[X]!, body.s[Y]!, APART * body.motion.touch);
}

/** Where a mover is that the body does not meet at present, seen from what carries the body. */
function look(body: Body, set: number): Near {
  const { moving, clock, frame } = body;
  const near = body.nears[set]!;
  moving!.locate(set, clock[NOW]!);
  for (let i = 0; i < HOLDS; i++) near.motion[i] = moving!.at[i]! - frame[i]!;
  near.motion[HOLDS] = moving!.at[HOLDS]!;
  near.cover(0, 0, 0, 0);
  return near;
}

/** Ends the piece at the first moment at which the body is apart from a mover that it does not meet. */
export function cutWhereClear(body: Body): void {
  const { s, moversAt, level, clock } = body;
  if (clock[ENTANGLED] === 0) return;
  for (let i = 0; i < level.movers.length; i++) {
    const what = s[moversAt + MOVER_SLOTS * i]!;
    if (what === PASSES || what === TOLD) cutWhereApartFrom(body, i + 1);
  }
}

const moments: number[] = [];

function cutWhereApartFrom(body: Body, set: number): void {
  const { path, hull, terrain, motion } = body;
  const near = look(body, set);
  cutAt(path, near.motion[HOLDS]!);
  seenFrom(near.motion, path, 0, path[T]!, near.path);
  const seen = near.path;
  const x = seen[PX]!;
  const y = seen[PY]!;
  const outline = grown(hull, (APART + BEYOND_APART) * motion.touch);
  moments.length = 0;
  const add = (nx: number, ny: number, gap: number): void => {
    const count = rootsOfGap(seen, nx, ny, gap);
    for (let k = 0; k < count; k++) moments.push(roots[k]!);
  };
  for (let e = terrain.setFrom[set]!; e < terrain.setUntil[set]!; e++) {
    const ax = terrain.x1[e]! - x;
    const ay = terrain.y1[e]! - y;
    const nx = terrain.nx[e]!;
    const ny = terrain.ny[e]!;
    for (let i = 0; i < outline.length; i += 4) {
      const cx = outline[i]!;
      const cy = outline[i + 1]!;
      const sx = outline[i + 2]!;
      const sy = outline[i + 3]!;
      // A corner comes to an edge, or an edge's end to a side.
      add(nx, ny, nx * (cx - ax) + ny * (cy - ay));
      add(-sx, -sy, sx * (ax - cx) + sy * (ay - cy));
    }
  }
  moments.sort((a, b) => a - b);
  const mx = near.motion[MX]!;
  const my = near.motion[MY]!;
  for (const t of moments) {
    if (t >= path[T]!) return;
    if (isInsideSet(body, near, xAt(seen, t) + mx, yAt(seen, t) + my, APART * motion.touch)) continue;
    cutAt(path, t);
    return;
  }
}

/** The corners of an outline grown on every side, and the outward normal of the side that begins at each: four numbers a corner. */
function grown({ corners }: Hull, by: number): number[] {
  const list: number[] = [];
  const count = corners.length;
  const normal = (i: number): [number, number] => {
    const k = (i + 2) % count;
    const dx = corners[k]! - corners[i]!;
    const dy = corners[k + 1]! - corners[i + 1]!;
    const length = Math.sqrt(dx * dx + dy * dy);
    return [dy / length, -dx / length];
  };
  for (let i = 0; i < count; i += 2) {
    const [ax, ay] = normal((i + count - 2) % count);
    const [bx, by2] = normal(i);
    const share = by / (1 + ax * bx + ay * by2);
    list.push(corners[i]! + (ax + bx) * share, corners[i + 1]! + (ay + by2) * share, bx, by2);
  }
  return list;
}
