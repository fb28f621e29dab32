import { BESIDE, HIGH, LOW, NX, NY, SIDE, SLANT, forget } from '../state/touches.js';
import { NO_SPEED, PARALLEL, TIP } from '../tolerance.js';
import type { Body } from '../state/body.js';
import { isMoving } from '../state/frame.js';
import { EASING, FACED_X, FACED_Y, LOCK_FOR, VX, VY, X, Y } from '../state/layout.js'; // prettier-ignore
import { foremost, liesOn } from '../sweep/hull.js';
import { endsBelow } from '../sweep/slanted.js';
import { bump } from './bump.js';
import { slopeOf } from './ground.js';
import { rememberFace } from './sides.js';
import { standBetween } from './stance.js';

/**
 * In the air a slanted face that is no ground takes the speed into it. Where it recedes as the body goes up or down, the body keeps
 * that speed and is held back across, as beside a wall. Else what goes across into it ends first, then the rest is projected onto the face:
 * so running into a steep face never adds height, and pressing into it never slows a fall.
 */
export function slideAlong(body: Body, edge: number, nx: number, ny: number, atCorner: boolean): void {
  const { s, motion, terrain } = body;
  rememberFace(body);
  const side = nx < 0 ? 1 : -1;
  const speed = Math.abs(s[VX]!);
  const flatRoof = ny < 0 && !atCorner && Math.abs(slopeOf(terrain, edge)) <= motion.steepest;
  let hit = false;
  if (flatRoof) {
    if (s[VY]! > 0) bump(body, edge, 'head', -(nx * s[VX]! + ny * s[VY]!));
    else hit = speed > 0;
    if (s[VY]! > 0) s[VY] = 0;
  } else if (s[VY]! * ny > 0) hit = s[VX]! * nx < 0;
  else if (s[VX]! * nx < 0) {
    hit = true;
    s[VX] = 0;
  }
  if (hit) bump(body, edge, side > 0 ? 'right' : 'left', speed);
  const into = nx * s[VX]! + ny * s[VY]!;
  if (/* rule: a face takes the speed into it */ into < 0 && (flatRoof || s[VY]! * ny <= 0))
    s[VY] = s[VY]! - into * ny + 0;
  // A speed that is rounding only is none.
  if (Math.abs(s[VY]!) <= NO_SPEED * motion.cap) s[VY] = 0;
  if (wedge(body, edge, nx, ny)) return;
  s[VX] = (-ny / nx) * s[VY]! + 0;
  s[EASING] = 0;
  s[LOCK_FOR] = 0;
  forget(s, BESIDE);
  s[SLANT] = edge;
  s[SLANT + NX] = nx;
  s[SLANT + NY] = ny;
  const { x1, y1, x2, y2 } = terrain;
  if (atCorner) {
    // A cut corner of the body on the corner of an edge.
    s[SLANT + LOW] = y2[edge]! - body.hull.side - 2 * motion.touch;
    s[SLANT + HIGH] = y2[edge]! + 2 * motion.touch;
    return;
  }
  // Where what slides is, counted down along the edge from its upper end: a corner, or a cut corner that lies on it with its whole length.
  const { hull } = body;
  const rises = y2[edge]! > y1[edge]!;
  const topX = s[X]! - (rises ? x2[edge]! : x1[edge]!);
  const topY = s[Y]! - (rises ? y2[edge]! : y1[edge]!);
  let upper = Infinity;
  let lower = -Infinity;
  const first = foremost(hull, nx, ny);
  for (let i = 0; i < hull.corners.length; i += 2) {
    if (i !== first && !liesOn(hull, first, i, nx, ny)) continue;
    const place = (rises ? -1 : 1) * (ny * (topX + hull.corners[i]!) - nx * (topY + hull.corners[i + 1]!));
    if (place < upper) upper = place;
    if (place > lower) lower = place;
  }
  let length = Math.abs(ny * (x2[edge]! - x1[edge]!) - nx * (y2[edge]! - y1[edge]!));
  length += (endsBelow(terrain, edge) ? -1 / (2 * TIP) : 2) * motion.touch;
  s[SLANT + LOW] = s[Y]! - (length - upper) * Math.abs(nx);
  s[SLANT + HIGH] = s[Y]! + (lower + 2 * motion.touch) * Math.abs(nx);
}

/**
 * Two faces, each too steep or upright, that together leave no way down hold the body up: it stands between them. Two that leave no way
 * up end its rise.
 * @returns whether they do
 */
export function wedge(body: Body, edge: number, nx: number, ny: number): boolean {
  const { s, motion } = body;
  let ox = s[SLANT + NX]!;
  let oy = s[SLANT + NY]!;
  const { touch } = motion;
  // A face that something pulls the body off, though it has hardly moved since, is touched all the same.
  const held = s[SLANT]! >= 0 || (Math.abs(s[X]! - s[FACED_X]!) <= touch && Math.abs(s[Y]! - s[FACED_Y]!) <= touch);
  if (!held || nx * ox >= 0) {
    if (s[BESIDE]! < 0) return false;
    ox = -s[BESIDE + SIDE]!;
    oy = 0;
  }
  // On the same side, the one only takes over from the other.
  if (nx * ox >= 0) return false;
  // Between two that face each other the way along both is free.
  if (Math.abs(nx * oy - ny * ox) < PARALLEL) return false;
  const other = held && nx * s[SLANT + NX]! < 0 && s[SLANT]! >= 0 ? s[SLANT]! : s[BESIDE]!;
  if (other >= 0 && isMoving(body, other)) return false;
  const way = s[VY]! > 0 ? 1 : -1;
  if (/* rule: two faces hold a body */ !leaves(nx, ny, ox, oy, way) && !leaves(ox, oy, nx, ny, way)) {
    if (way > 0) {
      bump(body, edge, 'head', s[VY]!);
      s[VX] = s[VY] = 0;
      s[EASING] = 0;
      return false;
    }
    standBetween(body, edge, other);
    return true;
  }
  return false;
}

/** Whether going along a face, up or down, leads away from another one. */
function leaves(nx: number, ny: number, ox: number, oy: number, way: number): boolean {
  // The face's own direction with that way up or down.
  const dx = nx > 0 ? -ny * way : ny * way;
  const dy = (nx > 0 ? nx : -nx) * way;
  return dx * ox + dy * oy > 0;
}
