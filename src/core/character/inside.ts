import { CLOSED, LINE } from '../terrain/edges.js';
import { CEILING, FLOOR, SLANTED } from '../terrain/terrain.js';
import type { Body } from './body.js';

/**
 * Whether a body at (x, y) would be inside something solid by more than `touch`: an edge passes through it, or what is above it is the top
 * of something. One-sided ground has no inside.
 */
export function isInside(body: Body, x: number, y: number): boolean {
  const { motion, near, hull, terrain } = body;
  const { half } = motion;
  const { height } = hull;
  const found = terrain.index?.search(x - half, y, x + half, y + height) ?? [];
  for (let e = terrain.boundsFrom; e < terrain.count; e++) found.push(e);
  for (const e of found) {
    if ((terrain.form[e] !== CLOSED && terrain.form[e] !== LINE) || !near.isThere(e)) continue;
    if (crosses(body, e, x, y)) return true;
  }
  return isCovered(body, x, y + height / 2);
}

/** Whether an edge passes through the body's outline, drawn in by `touch` on every side. */
function crosses({ hull, terrain }: Body, e: number, x: number, y: number): boolean {
  const { corners, touch } = hull;
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
    const depth = (ax - corners[i]!) * nx + (ay - corners[i + 1]!) * ny - touch;
    const along = dx * nx + dy * ny;
    if (along === 0) {
      if (depth <= 0) return false;
    } else if (along > 0) from = Math.max(from, -depth / along);
    else until = Math.min(until, depth / -along);
    if (from >= until) return false;
  }
  return true;
}

/** Whether a point is in a solid: the nearest edge straight above it is the top of something. */
function isCovered({ near, terrain }: Body, x: number, y: number): boolean {
  const { x1, y1, x2, y2, kind, form, ny } = terrain;
  const found = terrain.index?.search(x, y, x, Infinity) ?? [];
  for (let e = terrain.boundsFrom; e < terrain.count; e++) found.push(e);
  let above = -1;
  let lowest = Infinity;
  for (const e of found) {
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
