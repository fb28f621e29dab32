import { BESIDE, SLANT, forget } from '../state/touches.js';
import { forgetDropped } from '../contact/drop.js';
import { findGround, stretch } from '../contact/ground.js';
import { leaveAny } from '../contact/leave.js';
import { standHere, standOnSame } from '../contact/stance.js';
import { MVX, MVY, MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { pathTo, placeSets } from '../state/frame.js';
import { BEYOND, COUNTED_WALL, FRAME, GRIP, GROUND, HEIGHT, HIGHEST, SUPPORT, VX, VY, X, Y } from '../state/layout.js'; // prettier-ignore
import { AT, AT_X, AT_Y, PX, PY, T, cutAt, locate, timeToX, timeToY, wayX, wayY } from '../sweep/path.js';
import { roots, rootsOfGap } from '../sweep/roots.js';
import type { Terrain } from '../terrain/terrain.js';

/** The sides of a level, as bits of BEYOND. */
const SIDE_BITS = { left: 1, right: 2, top: 4, bottom: 8 } as const;
const HERE = { way: 0, down: 0 } as const;
const ground = stretch();

/** Cuts the path where the middle of the feet crosses a border that comes out at the other side, or the body is wholly out. */
export function cutAtBorders(body: Body): void {
  const { bounds, sides } = body.level;
  if (body.s[FRAME] !== 0) {
    cutCarried(body);
    return;
  }
  const { path, motion, s } = body;
  const { half, touch } = motion;
  const height = s[HEIGHT]!;
  const way = wayX(path);
  const across = way > 0 ? 'right' : 'left';
  if (way !== 0 && bounds[across] === 'wrap') cutX(body, (sides[across] - path[PX]!) * way, way);
  if (way !== 0 && bounds[across] === 'out') cutX(body, (sides[across] - path[PX]!) * way + half + touch, way);
  const rise = wayY(path);
  const up = rise > 0 ? 'top' : 'bottom';
  if (rise !== 0 && bounds[up] === 'wrap') cutY(body, (sides[up] - path[PY]!) * rise, rise);
  if (rise !== 0 && bounds[up] === 'out')
    cutY(body, (sides[up] - path[PY]!) * rise + (rise > 0 ? 0 : height) + touch, rise);
}

/** The same for a body that something carries: its path in the level may turn round. */
function cutCarried(body: Body): void {
  const { bounds, sides } = body.level;
  const { path, motion, s } = body;
  const { half, touch } = motion;
  const seen = pathTo(body, 0);
  const cut = (nx: number, ny: number, gap: number): void => {
    if (gap >= -touch / 2) return;
    if (rootsOfGap(seen, nx, ny, gap) > 0) cutAt(path, roots[0]!);
  };
  const beyond = (bound: string, size: number): number => (bound === 'out' ? -size - touch : 0);
  const x = seen[PX]!;
  const y = seen[PY]!;
  if (bounds.right === 'wrap' || bounds.right === 'out') cut(1, 0, x - sides.right + beyond(bounds.right, half));
  if (bounds.left === 'wrap' || bounds.left === 'out') cut(-1, 0, sides.left - x + beyond(bounds.left, half));
  if (bounds.top === 'wrap' || bounds.top === 'out') cut(0, 1, y - sides.top + beyond(bounds.top, 0));
  if (bounds.bottom === 'wrap' || bounds.bottom === 'out')
    cut(0, -1, sides.bottom - y + beyond(bounds.bottom, s[HEIGHT]!));
}

function cutX({ path, motion }: Body, distance: number, way: number): void {
  if (distance <= motion.touch / 2 || distance >= (path[AT_X]! - path[PX]!) * way) return;
  path[T] = path[AT] = timeToX(path, distance, way);
  locate(path);
}

function cutY({ path, motion }: Body, distance: number, way: number): void {
  if (distance <= motion.touch / 2 || distance >= (path[AT_Y]! - path[PY]!) * way) return;
  path[T] = path[AT] = timeToY(path, distance, way);
  locate(path);
}

/** Lets a body that has crossed a border come out at the other side, and tells of one that is out. */
export function crossBorders(body: Body): void {
  const { bounds, sides } = body.level;
  const { s, motion } = body;
  const { half, touch } = motion;
  const x = s[X]! + body.frame[MX]!;
  const y = s[Y]! + body.frame[MY]!;
  if (bounds.left === 'wrap') {
    const width = sides.right - sides.left;
    if (x >= sides.right - touch / 2 && x > sides.left + width / 2 && goesOut(body, 1))
      comeOut(body, -width, 0, 'right');
    else if (x <= sides.left + touch / 2 && goesOut(body, -1)) comeOut(body, width, 0, 'left');
  }
  if (bounds.top === 'wrap') {
    const height = sides.top - sides.bottom;
    if (y >= sides.top - touch / 2 && goesUp(body, 1)) comeOut(body, 0, -height, 'top');
    else if (y <= sides.bottom + touch / 2 && goesUp(body, -1)) comeOut(body, 0, height, 'bottom');
  }
  let beyond = 0;
  if (bounds.left === 'out' && x + half < sides.left - touch / 4) beyond |= SIDE_BITS.left;
  if (bounds.right === 'out' && x - half > sides.right + touch / 4) beyond |= SIDE_BITS.right;
  if (bounds.top === 'out' && y > sides.top + touch / 4) beyond |= SIDE_BITS.top;
  if (bounds.bottom === 'out' && y + s[HEIGHT]! < sides.bottom - touch / 4) beyond |= SIDE_BITS.bottom;
  const before = s[BEYOND]!;
  if (beyond === before) return;
  s[BEYOND] = beyond;
  for (const side of ['left', 'right', 'top', 'bottom'] as const)
    if ((beyond & ~before & SIDE_BITS[side]) !== 0) body.tell('out').side = side;
}

/** Whether the path led that way: a body that stands on the border stays on its side. */
function goesOut({ path, s, level, frame }: Body, way: number): boolean {
  const x = s[X]! + frame[MX]!;
  const over = way > 0 ? x - level.sides.right : level.sides.left - x;
  return over > 0 || (s[FRAME] === 0 ? wayX(path) === way : (s[VX]! + frame[MVX]!) * way > 0);
}

function goesUp({ path, s, level, frame }: Body, way: number): boolean {
  const y = s[Y]! + frame[MY]!;
  const over = way > 0 ? y - level.sides.top : level.sides.bottom - y;
  return over > 0 || (s[FRAME] === 0 ? wayY(path) === way : (s[VY]! + frame[MVY]!) * way > 0);
}

function comeOut(body: Body, dx: number, dy: number, side: 'left' | 'right' | 'top' | 'bottom'): void {
  const { s, near } = body;
  body.tell('wrapped').side = side;
  // What carried it does not come along.
  const carried = s[FRAME] !== 0;
  if (carried) leaveAny(body);
  s[X] = s[X]! + dx;
  s[Y] = s[Y]! + dy;
  s[HIGHEST] = s[HIGHEST]! + dy;
  near.forget();
  placeSets(body);
  // The same edges have other numbers there.
  forget(s, BESIDE);
  forget(s, SLANT);
  s[GRIP] = -1;
  if (s[COUNTED_WALL]! >= 0) s[COUNTED_WALL] = sameEdge(body.terrain, s[COUNTED_WALL]!, dx, dy);
  forgetDropped(body);
  if (carried) standHere(body);
  else if (s[SUPPORT] === GROUND && findGround(body, s[X]!, s[Y]!, HERE, ground)) standOnSame(body, ground);
}

/** The edge that lies as far from another as the two sides of a level are apart: the same wall. One that goes on across the border is its own. */
function sameEdge({ index, x1, y1, x2, y2 }: Terrain, e: number, dx: number, dy: number): number {
  const left = Math.min(x1[e]!, x2[e]!) + dx;
  const low = Math.min(y1[e]!, y2[e]!) + dy;
  const found = index ? index.search(left, low, left, low) : [];
  return (
    found.find(
      (f) => x1[f] === x1[e]! + dx && y1[f] === y1[e]! + dy && x2[f] === x2[e]! + dx && y2[f] === y2[e]! + dy,
    ) ?? e
  );
}
