import type { Body } from '../state/body.js';
import { COMES_OUT, GOES, KIND, NOW } from '../state/clock.js';
import { FRAME, X, Y } from '../state/layout.js';
import { PATH_LENGTH, PX, PY, T, locate, AT, vxAt, vyAt, xAt, yAt } from '../sweep/path.js';
import { seenFrom } from '../sweep/relative.js';
import { roots, rootsOfGap } from '../sweep/roots.js';
import type { ZonePiece } from '../terrain/zones.js';
import { around, isOn } from './boxes.js';

/**
 * When a box that a body carries comes to overlap a zone, or no longer does. The pieces of a zone are convex, as the box is: they overlap as long as no side of either parts them. How
 * far apart they are along each such way is the gap of a moving point, whose roots are exact. As for bodies themselves, coming in counts from an overlap of `touch`, going out
 * from none.
 */

/** How the box lies around the feet; the path of these in the level. */
const lies = new Float64Array(4);
const still = new Float64Array(PATH_LENGTH);
const carried = new Float64Array(PATH_LENGTH);

function pathOf(body: Body, until: number): Float64Array {
  const { s, path, clock, nears } = body;
  const kind = clock[KIND]!;
  let own = path;
  if (kind !== GOES && kind !== COMES_OUT) {
    still[PX] = s[X]!;
    still[PY] = s[Y]!;
    still[T] = still[AT] = until - clock[NOW]!;
    own = still;
  }
  if (s[FRAME] === 0) {
    if (own === still) locate(still);
    return own;
  }
  seenFrom(nears[0]!.motion, own, 0, own[T]!, carried);
  return carried;
}

/** The gap along one way, at a place of the feet. */
function gapAlong(piece: ZonePiece, way: number, x: number, y: number): number {
  if (way === 0) return x + lies[0]! - piece.right;
  if (way === 1) return piece.left - (x + lies[2]!);
  if (way === 2) return y + lies[1]! - piece.top;
  if (way === 3) return piece.bottom - (y + lies[3]!);
  const i = 2 * (way - 4);
  const nx = piece.normals[i]!;
  const ny = piece.normals[i + 1]!;
  // Its corner that lies furthest against the way.
  const cx = nx > 0 ? lies[0]! : lies[2]!;
  const cy = ny > 0 ? lies[1]! : lies[3]!;
  return nx * (x + cx - piece.corners[i]!) + ny * (y + cy - piece.corners[i + 1]!);
}

/** The way itself, from the zone to the body. */
function wayX({ normals }: ZonePiece, way: number): number {
  return way < 4 ? [1, -1, 0, 0][way]! : normals[2 * (way - 4)]!;
}

function wayY({ normals }: ZonePiece, way: number): number {
  return way < 4 ? [0, 0, 1, -1][way]! : normals[2 * (way - 4) + 1]!;
}

function waysOf({ normals }: ZonePiece): number {
  return 4 + normals.length / 2;
}

/** Along which way the two are furthest apart, and how far. */
let furthest = 0;
function gapTo(piece: ZonePiece, x: number, y: number): number {
  let most = -Infinity;
  for (let way = 0; way < waysOf(piece); way++) {
    const gap = gapAlong(piece, way, x, y);
    if (gap > most) [most, furthest] = [gap, way];
  }
  return most;
}

function isIn(pieces: readonly ZonePiece[], x: number, y: number, border: number): boolean {
  for (const piece of pieces) if (gapTo(piece, x, y) < border) return true;
  return false;
}

/** Whether the box of a body's present piece may come to a zone. @param reach left, bottom, right, top of all its boxes */
export function mayCome(reach: Float64Array, pieces: readonly ZonePiece[]): boolean {
  return pieces.some(
    ({ left, bottom, right, top }) =>
      left <= reach[2]! && right >= reach[0]! && bottom <= reach[3]! && top >= reach[1]!,
  );
}

/**
 * The next moment at which a box comes to overlap a zone, or no longer does; Infinity where that is not before the body begins another piece.
 * @param pieces of the zone: none where that is switched off
 * @param inside whether they overlap so far
 * @param from a moment before which it is not looked for
 * @param until when the piece ends
 */
export function nextInZone(
  body: Body,
  box: number,
  pieces: readonly ZonePiece[],
  inside: boolean,
  from: number,
  until: number,
): number {
  if (pieces.length === 0 || !isOn(body, box)) return inside ? from : Infinity;
  around(body, box, lies);
  const path = pathOf(body, until);
  const began = body.clock[NOW]!;
  const { touch } = body.motion;
  const border = inside ? -touch / 8 : -0.8 * touch;
  if (isIn(pieces, xAt(path, from - began), yAt(path, from - began), border) !== inside) return from;
  const moments: number[] = [];
  for (const piece of pieces)
    for (let way = 0; way < waysOf(piece); way++) {
      const gap = gapAlong(piece, way, path[PX]!, path[PY]!) + (inside ? 0 : touch);
      const count = rootsOfGap(path, wayX(piece, way), wayY(piece, way), gap);
      for (let k = 0; k < count; k++) moments.push(roots[k]!);
    }
  moments.sort((a, b) => a - b);
  for (const t of moments) {
    const time = began + t;
    if (!(time < Infinity) || time > until) break;
    if (time >= from && isIn(pieces, xAt(path, t), yAt(path, t), border) !== inside) return time;
  }
  return Infinity;
}

/** On which side of the box the zone is, and how fast the box comes to it along that way, units/s. */
export const metInZone = { side: 'right' as 'left' | 'right' | 'top' | 'bottom', speed: 0.5 };

/** Finds out `metInZone` at a moment. */
export function lookInZone(body: Body, box: number, pieces: readonly ZonePiece[], time: number): void {
  around(body, box, lies);
  const path = pathOf(body, time);
  const t = time - body.clock[NOW]!;
  const [x, y] = [xAt(path, t), yAt(path, t)];
  let nearest = Infinity;
  let [nx, ny] = [-1, 0];
  for (const piece of pieces) {
    const gap = gapTo(piece, x, y);
    if (!(gap < nearest)) continue;
    nearest = gap;
    [nx, ny] = [wayX(piece, furthest), wayY(piece, furthest)];
  }
  metInZone.side = Math.abs(nx) >= Math.abs(ny) ? (nx > 0 ? 'left' : 'right') : ny > 0 ? 'bottom' : 'top';
  const speed = -(nx * vxAt(path, t) + ny * vyAt(path, t));
  metInZone.speed = speed > 0 ? speed : 0;
}
