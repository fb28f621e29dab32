import { MX, MY } from '../terrain/moving.js';
import { PX, PY, T, cutAt, xAt, yAt } from '../sweep/path.js';
import { pathTo } from './frame.js';
import { roots, rootsOfGap } from '../sweep/roots.js';
import type { ZonePiece } from '../terrain/zones.js';
import type { Body } from './body.js';
import { restoreAir } from './rights.js';
import { X, Y } from './state.js';

/**
 * Zones. A body is in one as long as some of its hitbox is. The outlines of both are convex, so they overlap as long as no side of
 * either parts them; the gap along each such direction is that of a moving point, whose roots are exact. Going in counts from an overlap of
 * `touch`, going out from none, so that rounding at either decides nothing.
 */

/** Of one direction that may part a body and a piece of a zone: the way, and the gap at the path's start. */
const gaps = new Float64Array(3 * 32);

/** Lists the directions. @returns how many */
function listGaps({ hull, s, frame }: Body, { corners, normals }: ZonePiece, height: number): number {
  const x = s[X]! + frame[MX]!;
  const y = s[Y]! + frame[MY]!;
  let count = 0;
  const add = (nx: number, ny: number, gap: number): void => {
    if (count >= 32) return;
    gaps[3 * count] = nx;
    gaps[3 * count + 1] = ny;
    gaps[3 * count + 2] = gap;
    count++;
  };
  for (let i = 0; i < normals.length; i += 2) {
    const nx = normals[i]!;
    const ny = normals[i + 1]!;
    let least = Infinity;
    for (let k = 0; k < hull.corners.length; k += 2) {
      const along = nx * hull.corners[k]! + ny * hull.corners[k + 1]!;
      if (along < least) least = along;
    }
    add(nx, ny, nx * (x - corners[i]!) + ny * (y - corners[i + 1]!) + least);
  }
  // The body's own sides; cut corners part no more than what they are cut from, to within the cut.
  let [left, bottom, right, top] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < corners.length; i += 2) {
    left = Math.min(left, corners[i]!);
    right = Math.max(right, corners[i]!);
    bottom = Math.min(bottom, corners[i + 1]!);
    top = Math.max(top, corners[i + 1]!);
  }
  add(1, 0, x - hull.half - right);
  add(-1, 0, left - (x + hull.half));
  add(0, 1, y - top);
  add(0, -1, bottom - (y + height));
  return count;
}

function largest(count: number): number {
  let most = -Infinity;
  for (let i = 0; i < count; i++) if (gaps[3 * i + 2]! > most) most = gaps[3 * i + 2]!;
  return most;
}

/** Takes note of the zones that the body is in, and tells of those that it has come into or left. */
export function senseZones(body: Body): void {
  const { zones } = body.level;
  const { s, motion, zonesAt } = body;
  body.zoneGravity = body.zonePace = 1;
  body.currentX = body.currentY = 0;
  for (let i = 0; i < zones.length; i++) {
    const zone = zones[i]!;
    const was = s[zonesAt + i] === 1;
    let within = false;
    for (const piece of zone.pieces) {
      const gap = largest(listGaps(body, piece, body.hull.height));
      if (gap < (was ? -motion.touch / 4 : -0.75 * motion.touch)) within = true;
    }
    if (within !== was) {
      s[zonesAt + i] = within ? 1 : 0;
      const told = body.tell(within ? 'enter' : 'exit');
      told.zone = zone.name;
      told.tags = zone.tags;
      if (within && zone.tags.includes('restore')) restoreAir(body, 'zone');
    }
    if (!within) continue;
    body.zoneGravity *= zone.gravity;
    body.zonePace *= zone.pace;
    body.currentX += zone.currentX;
    body.currentY += zone.currentY;
  }
}

/** Cuts the path where the body comes into a zone or leaves one. */
export function cutWhereZonesChange(body: Body): void {
  const { zones } = body.level;
  if (zones.length === 0) return;
  const { s, path, zonesAt, motion, hull } = body;
  const { touch } = motion;
  const seen = pathTo(body, 0);
  for (let i = 0; i < zones.length; i++) {
    const within = s[zonesAt + i] === 1;
    for (const piece of zones[i]!.pieces) {
      const [x, endX, y, endY] = [seen[PX]!, xAt(seen, path[T]!), seen[PY]!, yAt(seen, path[T]!)];
      // A path seen from what carries the body may turn round.
      if (seen !== path) seen[T] = path[T]!;
      else if (Math.max(x, endX) + hull.half < piece.left || Math.min(x, endX) - hull.half > piece.right) continue;
      if (seen === path && (Math.max(y, endY) + hull.height < piece.bottom || Math.min(y, endY) > piece.top)) continue;
      const count = listGaps(body, piece, hull.height);
      cutAt(path, within ? whenOut(seen, count, touch) : whenIn(seen, count, touch));
    }
  }
}

function whenOut(path: Float64Array, count: number, touch: number): number {
  let first = Infinity;
  for (let i = 0; i < count; i++) {
    const gap = gaps[3 * i + 2]!;
    if (gap >= -touch / 8) continue;
    if (rootsOfGap(path, gaps[3 * i]!, gaps[3 * i + 1]!, gap) > 0 && roots[0]! < first) first = roots[0]!;
  }
  return first;
}

const moments = new Float64Array(32 * 4);

/** The first moment at which no direction parts them any more. */
function whenIn(path: Float64Array, count: number, touch: number): number {
  let found = 0;
  let least = 0;
  for (let i = 0; i < count; i++) {
    const gap = gaps[3 * i + 2]! + touch;
    const number = rootsOfGap(path, gaps[3 * i]!, gaps[3 * i + 1]!, gap);
    for (let k = 0; k < number; k++) moments[found++] = roots[k]!;
    if (gap > touch / 8) least = 1;
  }
  // In already, to within rounding: nothing to wait for.
  if (least === 0) return Infinity;
  const list = moments.subarray(0, found).sort();
  for (const t of list) {
    let parted = false;
    for (let i = 0; i < count && !parted; i++)
      parted = gapAt(path, gaps[3 * i]!, gaps[3 * i + 1]!, gaps[3 * i + 2]!, t) > -0.8 * touch;
    if (!parted) return t;
  }
  return Infinity;
}

function gapAt(path: Float64Array, nx: number, ny: number, gap: number, t: number): number {
  return gap + nx * (xAt(path, t) - path[PX]!) + ny * (yAt(path, t) - path[PY]!);
}
