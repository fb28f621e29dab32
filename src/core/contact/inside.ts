import { MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import type { Near } from '../sweep/near.js';
import { Found, findEdges } from '../terrain/find.js';
import { CLOSED, ONE_WAY, SIDED } from '../terrain/edges.js';
import { CEILING, FLOOR, SLANTED } from '../terrain/terrain.js';

/**
 * Whether a body at (x, y) would be inside something solid by more than `touch`: an edge passes through it, or what is above it is the top
 * of something. One-sided ground has no inside.
 */
export function isInside(body: Body, x: number, y: number): boolean {
  for (let i = 0; i < body.setCount; i++) if (isInsideSet(body, body.sets[i]!, x, y)) return true;
  return false;
}

/** The same for the solids of one set alone; with a margin (units) around the body, also for what is only near it. */
export function isInsideSet(
  body: Body,
  near: Near,
  worldX: number,
  worldY: number,
  margin = -body.motion.touch,
): boolean {
  const { motion, hull, terrain } = body;
  const { half } = motion;
  const { height } = hull;
  const x = worldX - near.motion[MX]!;
  const y = worldY - near.motion[MY]!;
  box[0] = x - half;
  box[1] = y;
  box[2] = x + half;
  box[3] = y + height;
  findEdges(terrain, near.set, box, found);
  for (let i = 0; i < found.count; i++) {
    const e = found.ids[i]!;
    const form = terrain.form[e];
    if ((margin < 0 && (form === ONE_WAY || form === SIDED)) || !near.isThere(e)) continue;
    if (crosses(body, e, x, y, margin)) return true;
  }
  return isCovered(near, x, y + height / 2);
}

const found = new Found();
const box = new Float64Array(4);

/** Whether an edge passes through the body's outline, grown by a margin on every side. */
function crosses({ hull, terrain }: Body, e: number, x: number, y: number, margin: number): boolean {
  const { corners } = hull;
  const { x1, y1, x2, y2 } = terrain;
  const ax = x1[e]! - x;
  const ay = y1[e]! - y;
  const dx = x2[e]! - x1[e]!;
  const dy = y2[e]! - y1[e]!;
  let from = 0;
  let until = 1;
  for (let i = 0; i < corners.length; i += 2) {
    const k = (i + 2) % corners.length;
    const sx = corners[k]! - corners[i]!;
    const sy = corners[k + 1]! - corners[i + 1]!;
    const length = Math.sqrt(sx * sx + sy * sy);
    // The inward normal of this side, and how far within it the edge's start and end are.
    const nx = -sy / length;
    const ny = sx / length;
    const depth = (ax - corners[i]!) * nx + (ay - corners[i + 1]!) * ny + margin;
    const along = dx * nx + dy * ny;
    if (along === 0) {
      if (depth <= 0) return false;
    } else if (along > 0) from = Math.max(from, -depth / along);
    else until = Math.min(until, depth / -along);
    if (from >= until) return false;
  }
  return true;
}

const over = new Found();

/** Whether a point is in a solid: the nearest edge straight above it is the top of something. */
function isCovered(near: Near, x: number, y: number): boolean {
  const { terrain } = near;
  const { x1, y1, x2, y2, kind, form, ny } = terrain;
  box[0] = box[2] = x;
  box[1] = y;
  box[3] = Infinity;
  findEdges(terrain, near.set, box, over);
  let above = -1;
  let lowest = Infinity;
  for (let i = 0; i < over.count; i++) {
    const e = over.ids[i]!;
    if (form[e] !== CLOSED || !near.isThere(e)) continue;
    if (kind[e] !== FLOOR && kind[e] !== CEILING && kind[e] !== SLANTED) continue;
    // A corner belongs to the edge that begins there, seen from the left.
    const [left, right] = x1[e]! < x2[e]! ? [x1[e]!, x2[e]!] : [x2[e]!, x1[e]!];
    if (!(x >= left && x < right)) continue;
    const at = y1[e]! + ((x - x1[e]!) / (x2[e]! - x1[e]!)) * (y2[e]! - y1[e]!);
    if (at <= y || at > lowest || (at === lowest && above >= 0 && ny[e]! < 0)) continue;
    lowest = at;
    above = e;
  }
  return above >= 0 && ny[above]! > 0;
}
