import { roots, rootsOfGap } from '../sweep/roots.js';
import { FLOOR, SLANTED, type Terrain } from '../terrain/terrain.js';
import { TIP } from '../tolerance.js';
import { MX, MY } from '../movers/moving.js';
import { type Hull, foremost } from '../sweep/hull.js';
import { PX, PY, T, cutAt, xAt, yAt } from '../sweep/path.js';
import { isAround, isNear, pathTo } from '../state/frame.js';
import type { Body } from '../state/body.js';
import { DROPPED, DROPS, FRAME, HEIGHT, X, Y } from '../state/layout.js';
import { FOUND_EDGE, findGround, stretch } from './ground.js';

/** One-way ground that a body drops through: a joined piece is as if it were not there until the body is clear of it. */

const HERE = { way: 0, down: 0 } as const;

/** Drops through a piece. @returns whether that is anything new, and there was still room for it */
export function dropInto({ s, dropped }: Body, piece: number): boolean {
  for (let i = 0; i < DROPS; i++) {
    if (dropped[i] === piece) return false;
    if (dropped[i]! >= 0) continue;
    dropped[i] = piece;
    s[DROPPED + i] = piece + 1;
    return true;
  }
  return false;
}

const ground = stretch();

/** Drops through every piece that holds the feet up. */
export function dropAll(body: Body, first: number): void {
  const { s, terrain } = body;
  let piece = first;
  while (dropInto(body, piece) && findGround(body, s[X]!, s[Y]!, HERE, ground))
    piece = terrain.piece[ground[FOUND_EDGE]!]!;
}

/** Takes what is dropped through from the state, and ends it where the body is clear of it. */
export function senseDropped(body: Body): void {
  const { s, dropped } = body;
  if (s[DROPPED] === 0 && dropped[0]! < 0) return;
  for (let i = 0; i < DROPS; i++) dropped[i] = s[DROPPED + i]! - 1;
  let kept = 0;
  for (let i = 0; i < DROPS; i++) {
    const piece = dropped[i]!;
    if (piece < 0 || !isDropping(body, piece)) continue;
    s[DROPPED + kept++] = piece + 1;
  }
  for (; kept < DROPS; kept++) s[DROPPED + kept] = 0;
  for (let i = 0; i < DROPS; i++) dropped[i] = s[DROPPED + i]! - 1;
}

/** Whether a body is still on its way through a piece of one-way ground: neither wholly above it nor wholly through. */
function isDropping(body: Body, piece: number): boolean {
  const { s, terrain } = body;
  const set = terrain.set[piece]!;
  if (set > 0 && set !== s[FRAME] && !isAround(body, set)) return false;
  const { motion } = body.nears[set]!;
  return isOnTheWay(body, piece, s[X]! - motion[MX]!, s[Y]! - motion[MY]!);
}

/** The same for a body that is at (x, y), seen from the piece. */
function isOnTheWay(body: Body, piece: number, x: number, y: number): boolean {
  const { s, terrain, hull, motion } = body;
  const { half } = motion;
  let above = false;
  let below = false;
  // All of it, however far up or down: a joined piece is one.
  for (let e = piece; e >= 0; e = after(terrain, e, piece)) {
    if (terrain.x1[e]! > x + half || terrain.x2[e]! < x - half) continue;
    const gap = gapOf(terrain, hull, e, x, y);
    // With its upper end in the body or under its feet, the body is on its way, wherever its corners are.
    const rises = terrain.y2[e]! > terrain.y1[e]!;
    const tipX = rises ? terrain.x2[e]! : terrain.x1[e]!;
    const tipY = rises ? terrain.y2[e]! : terrain.y1[e]!;
    const isIn = Math.abs(tipX - x) < motion.half && tipY >= y - motion.touch && tipY < y + s[HEIGHT]!;
    if (terrain.kind[e] === SLANTED && isIn) return true;
    if (gap > motion.touch) above = true;
    else if (gap < -motion.touch) below = true;
    else return true;
  }
  return above && below;
}

/** The edge that a joined piece goes on with, to the right; −1 at its end. */
function after({ next }: Terrain, e: number, piece: number): number {
  return next[e] === piece ? -1 : next[e]!;
}

/** How far the body's foremost corner is in front of an edge that it drops through, units. */
function gapOf({ kind, x1, y1, nx, ny }: Terrain, hull: Hull, e: number, x: number, y: number): number {
  if (kind[e] === FLOOR) return y - y1[e]!;
  const k = foremost(hull, nx[e]!, ny[e]!);
  return nx[e]! * (x + hull.corners[k]! - x1[e]!) + ny[e]! * (y + hull.corners[k + 1]! - y1[e]!);
}

const moments: number[] = [];

/** Ends the piece of motion at the moment at which the body is through what it drops through: what comes next may be another part of the same. */
export function cutWhereThrough(body: Body): void {
  const { dropped, terrain, path } = body;
  for (let i = 0; i < DROPS && dropped[i]! >= 0; i++) {
    const set = terrain.set[dropped[i]!]!;
    const near = body.nears[set]!;
    if (set > 0 && set !== body.s[FRAME] && (!isAround(body, set) || !isNear(body, near))) continue;
    const seen = pathTo(body, set);
    listMoments(body, seen, dropped[i]!);
    for (const t of moments) {
      if (t >= path[T]!) break;
      if (isOnTheWay(body, dropped[i]!, xAt(seen, t), yAt(seen, t))) continue;
      cutAt(path, t);
      break;
    }
  }
}

/** The moments, in order, at which a corner has passed an edge of the piece, or the body has come out from over or under it, by a little. */
function listMoments({ s, hull, terrain, motion }: Body, seen: Float64Array, piece: number): void {
  const { half, touch } = motion;
  const height = s[HEIGHT]!;
  const x = seen[PX]!;
  const y = seen[PY]!;
  moments.length = 0;
  const add = (nx: number, ny: number, gap: number): void => {
    const count = rootsOfGap(seen, nx, ny, gap);
    for (let k = 0; k < count; k++) moments.push(roots[k]!);
  };
  const past = touch / TIP;
  for (let e = piece; e >= 0; e = after(terrain, e, piece)) {
    const gap = gapOf(terrain, hull, e, x, y);
    add(terrain.nx[e]!, terrain.ny[e]!, gap + touch + past);
    add(terrain.nx[e]!, terrain.ny[e]!, gap - touch - past);
    add(1, 0, x - half - terrain.x2[e]! - past);
    add(1, 0, x + half - terrain.x1[e]! + past);
    const rises = terrain.y2[e]! > terrain.y1[e]!;
    add(0, 1, y + height - (rises ? terrain.y2[e]! : terrain.y1[e]!) + past);
  }
  moments.sort((a, b) => a - b);
}

/** Nothing is dropped through any more. */
export function forgetDropped({ s, dropped }: Body): void {
  dropped.fill(-1);
  s.fill(0, DROPPED, DROPPED + DROPS);
}
