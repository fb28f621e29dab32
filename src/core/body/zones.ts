import { MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { pathTo } from '../state/frame.js';
import { X, Y } from '../state/layout.js';
import { restoreAir } from '../state/rights.js';
import { PX, PY, T, cutAt, xAt, yAt } from '../sweep/path.js';
import { roots, rootsOfGap } from '../sweep/roots.js';
import type { CompiledZone, ZonePiece } from '../terrain/zones.js';

/**
 * Zones. A body is in one as long as some of its hitbox is. The outlines of both are convex, so they overlap as long as no side of
 * either parts them; the gap along each such direction is that of a moving point, whose roots are exact. Going in counts from an overlap of
 * `touch`, going out from none, so that rounding at either decides nothing.
 */
/** Of one direction that may part a body and a piece of a zone: the way, and the gap at the path's start. */
let gaps = new Float64Array(3 * 16);

/** The directions that the sides of both boxes have. */
const BOXES = 4;
const BOX_WAYS = [1, 0, -1, 0, 0, 1, 0, -1];

/**
 * Lists how far the boxes are apart. A body's cut corners part no more than what they are cut from, to within the cut.
 * @returns the largest gap
 */
function listBoxes({ hull, s, frame }: Body, { left, bottom, right, top }: ZonePiece): number {
  const x = s[X]! + frame[MX]!;
  const y = s[Y]! + frame[MY]!;
  gaps[2] = x - hull.half - right;
  gaps[5] = left - (x + hull.half);
  gaps[8] = y - top;
  gaps[11] = bottom - (y + hull.height);
  return largest(BOXES);
}

/** Lists all directions. @returns how many */
function listGaps(body: Body, piece: ZonePiece): number {
  const { hull, s, frame } = body;
  const { corners, normals } = piece;
  const count = BOXES + normals.length / 2;
  if (gaps.length < 3 * count) gaps = new Float64Array(3 * count);
  listBoxes(body, piece);
  for (let i = 0; i < BOXES; i++) {
    gaps[3 * i] = BOX_WAYS[2 * i]!;
    gaps[3 * i + 1] = BOX_WAYS[2 * i + 1]!;
  }
  const x = s[X]! + frame[MX]!;
  const y = s[Y]! + frame[MY]!;
  for (let i = 0, at = 3 * BOXES; i < normals.length; i += 2, at += 3) {
    const nx = normals[i]!;
    const ny = normals[i + 1]!;
    let least = Infinity;
    for (let k = 0; k < hull.corners.length; k += 2) {
      const along = nx * hull.corners[k]! + ny * hull.corners[k + 1]!;
      if (along < least) least = along;
    }
    gaps[at] = nx;
    gaps[at + 1] = ny;
    gaps[at + 2] = nx * (x - corners[i]!) + ny * (y - corners[i + 1]!) + least;
  }
  return count;
}

function largest(count: number): number {
  let most = -Infinity;
  for (let i = 0; i < count; i++) if (gaps[3 * i + 2]! > most) most = gaps[3 * i + 2]!;
  return most;
}

const NO_PIECES: readonly ZonePiece[] = [];

/** Takes note of the zones that the body is in, and tells of those that it has come into or left. */
export function senseZones(body: Body): void {
  const { zones } = body.level;
  const { s, motion, zonesAt, zonesOff } = body;
  body.zoneGravity = body.zonePace = 1;
  body.currentX = body.currentY = 0;
  for (let i = 0; i < zones.length; i++) {
    const zone = zones[i]!;
    const was = s[zonesAt + i] === 1;
    let within = false;
    // What has been taken is a place that nobody is in.
    for (const piece of zonesOff[i] === 1 ? NO_PIECES : zone.pieces) {
      const most = was ? -motion.touch / 4 : -0.75 * motion.touch;
      if (listBoxes(body, piece) < most && largest(listGaps(body, piece)) < most) within = true;
    }
    if (within !== was) {
      s[zonesAt + i] = within ? 1 : 0;
      const told = body.tell(within ? 'enter' : 'exit');
      told.zone = zone.name;
      told.tags = zone.tags;
      if (within && zone.tags.includes('restore')) restoreAir(body, 'zone');
    }
    if (within) addZone(body, zone);
  }
}

/** The zones that the body is known to be in. */
export function zonesOf({ level, s, zonesAt }: Body): readonly CompiledZone[] {
  return level.zones.filter((_, i) => s[zonesAt + i] === 1);
}

/** What the zones that the body is known to be in make of its motion. */
export function rememberZones(body: Body): void {
  const { level, s, zonesAt } = body;
  body.zoneGravity = body.zonePace = 1;
  body.currentX = body.currentY = 0;
  for (let i = 0; i < level.zones.length; i++) if (s[zonesAt + i] === 1) addZone(body, level.zones[i]!);
}

function addZone(body: Body, zone: CompiledZone): void {
  body.zoneGravity *= zone.gravity;
  body.zonePace *= zone.pace;
  body.currentX += zone.currentX;
  body.currentY += zone.currentY;
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
    if (body.zonesOff[i] === 1) continue;
    for (const piece of zones[i]!.pieces) {
      const x = seen[PX]!;
      const endX = xAt(seen, path[T]!);
      const y = seen[PY]!;
      const endY = yAt(seen, path[T]!);
      // A path seen from what carries the body may turn round.
      if (seen !== path) seen[T] = path[T]!;
      else if (Math.max(x, endX) + hull.half < piece.left || Math.min(x, endX) - hull.half > piece.right) continue;
      if (seen === path && (Math.max(y, endY) + hull.height < piece.bottom || Math.min(y, endY) > piece.top)) continue;
      const count = listGaps(body, piece);
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

let moments = new Float64Array(8 * roots.length);

/** The first moment at which no direction parts them any more. */
function whenIn(path: Float64Array, count: number, touch: number): number {
  if (moments.length < count * roots.length) moments = new Float64Array(count * roots.length);
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
