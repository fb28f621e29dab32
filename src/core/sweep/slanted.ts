import type { Terrain } from '../terrain/terrain.js';
import type { Hull } from './hull.js';
import { PAX, PAY, PVX, PVY, PX, PY, T, xAt, yAt } from './path.js';
import { WHEN, better } from './ties.js';

/**
 * A slanted edge against a body. Along the edge's normal n the body's foremost point is one of its corners, so the
 * gap is n·(o(t) + corner − a), and the touch is its first root with n·v < 0 at which that corner lies over the
 * edge; where a face of the body is parallel to the edge, some of that face must.
 */
export function slantedTouch(
  p: Float64Array,
  terrain: Terrain,
  e: number,
  best: number,
  hull: Hull,
  found: Float64Array,
): number {
  const nx = terrain.nx[e]!;
  const ny = terrain.ny[e]!;
  const { corners } = hull;
  let foremost = 0;
  let least = Infinity;
  for (let i = 0; i < corners.length; i += 2) {
    const along = nx * corners[i]! + ny * corners[i + 1]!;
    if (along < least) {
      least = along;
      foremost = i;
    }
  }
  // The place of the origin at which that corner is at the edge's start.
  const ax = terrain.x1[e]! - corners[foremost]!;
  const ay = terrain.y1[e]! - corners[foremost + 1]!;
  const t = rootOfGap(p, nx, ny, ax, ay, hull.touch);
  if (!(t <= p[T]! && t <= found[WHEN]!)) return best;
  const length = ny * (terrain.x2[e]! - terrain.x1[e]!) - nx * (terrain.y2[e]! - terrain.y1[e]!);
  // Along the edge, from its start: where the foremost corner is, and how far a parallel face reaches beyond it.
  const place = ny * (xAt(p, t) - ax) - nx * (yAt(p, t) - ay);
  let low = place;
  let high = place;
  for (let i = 0; i < corners.length; i += 2) {
    if (nx * corners[i]! + ny * corners[i + 1]! > least + hull.touch / 1024) continue;
    const beyond = place + ny * (corners[i]! - corners[foremost]!) - nx * (corners[i + 1]! - corners[foremost + 1]!);
    if (beyond < low) low = beyond;
    if (beyond > high) high = beyond;
  }
  return high >= -hull.touch && low <= length + hull.touch ? better(p, terrain, e, best, t, nx, ny, found) : best;
}

/**
 * The corner at an edge's end against the faces of a body. A face can meet it only if its direction lies inside the
 * cone of normals of the joint: between those of the two edges.
 */
export function cornerTouch(
  p: Float64Array,
  terrain: Terrain,
  e: number,
  best: number,
  hull: Hull,
  found: Float64Array,
): number {
  const next = terrain.next[e]!;
  if (next < 0) return best;
  const ex = terrain.nx[e]!;
  const ey = terrain.ny[e]!;
  const fx = terrain.nx[next]!;
  const fy = terrain.ny[next]!;
  // With the open side on the left, a solid corner turns right.
  if (ex * fy - ey * fx >= 0) return best;
  const { corners, touch } = hull;
  for (let i = 0; i < corners.length; i += 2) {
    const k = (i + 2) % corners.length;
    const sx = corners[k]! - corners[i]!;
    const sy = corners[k + 1]! - corners[i + 1]!;
    const length = Math.sqrt(sx * sx + sy * sy);
    // The normal of the touch is the face's own, turned round.
    const nx = -sy / length + 0;
    const ny = sx / length + 0;
    if (ex * ny - ey * nx >= 0 || nx * fy - ny * fx >= 0) continue;
    const ax = terrain.x2[e]! - corners[i]!;
    const ay = terrain.y2[e]! - corners[i + 1]!;
    const t = rootOfGap(p, nx, ny, ax, ay, touch);
    if (!(t <= p[T]! && t <= found[WHEN]!)) continue;
    // How far along the face the corner lies, from the face's first corner.
    const place = ((ax - xAt(p, t)) * sx + (ay - yAt(p, t)) * sy) / length;
    if (place > touch && place < length - touch) best = better(p, terrain, e, best, t, nx, ny, found);
  }
  return best;
}

/**
 * When the gap n·(o(t) − a) closes; Infinity where it does not. Behind the edge's line at first, the body has to come
 * out in front of it before. The path has constant acceleration: only probes meet slanted edges in this version.
 */
function rootOfGap(p: Float64Array, nx: number, ny: number, ax: number, ay: number, touch: number): number {
  return closed(p, nx, ny, nx * (p[PX]! - ax) + ny * (p[PY]! - ay), -2 * touch);
}

/** First root of a quadratic gap that is closing there; Infinity where there is none. */
function closed(p: Float64Array, nx: number, ny: number, gap: number, behind: number): number {
  const v = nx * p[PVX]! + ny * p[PVY]!;
  const a = nx * p[PAX]! + ny * p[PAY]!;
  // Touching: stopped at once if moving in, or after the gap has opened and closed again.
  if (gap <= 0 && gap >= behind) return v < 0 || (v === 0 && a < 0) ? 0 : a < 0 ? (2 * v) / -a : Infinity;
  if (gap < behind && !(v > 0 && a < 0)) return Infinity;
  const square = v * v - 2 * a * gap;
  if (square < 0) return Infinity;
  const root = Math.sqrt(square);
  // The closing root is (−v − root)/a; written so that nothing cancels.
  if (v <= 0) return root - v > 0 ? (2 * gap) / (root - v) : Infinity;
  return a < 0 ? (v + root) / -a : Infinity;
}
