import { MX, MY } from '../terrain/moving.js';
import { foremost, gapBefore, type Hull } from '../sweep/hull.js';
import { PX, PY, cutAt, vxAt, vyAt } from '../sweep/path.js';
import { roots, rootsOfGap } from '../sweep/roots.js';
import { CEILING, FLOOR, SLANTED } from '../terrain/terrain.js';
import { POLICIES } from '../terrain/level.js';
import { NOW, type Body } from './body.js';
import { pathTo, placeSets } from './frame.js';
import { isInsideSet } from './inside.js';
import { leaveAny } from './take-off.js';
import {
  DROPPED, EASING, EDGE, FACE, FRAME, FREEING, GROUND, HEAD, HOLDS_UP, MEETS, MOVER_SLOTS, PASSES, SUPPORT, TOLD, VX, VY, WALL, X, Y,
} from './state.js'; // prettier-ignore

/**
 * A body pressed with no room left. One-way ground lets it through; else it is up to a mover: to wait until its way is free, to let it
 * through until it is clear, or only to tell. Of two movers, waiting comes before letting through before telling.
 * @param other the edge on the other side, or −1
 */
export function crush(body: Body, edge: number, other: number): void {
  const { s, terrain, clock, level, moving } = body;
  // What begins to wait at this very moment is told first.
  beginStops(body);
  for (const e of [other, edge]) {
    if (e < 0 || terrain.oneWay[e] !== 1) continue;
    if (s[DROPPED]! > 0 && s[DROPPED] !== terrain.piece[e]! + 1) {
      // A second such piece: where it moves, it lets the body through as a whole.
      if (terrain.set[e] === 0) continue;
      letThrough(body, terrain.set[e]!, PASSES);
      return;
    }
    s[DROPPED] = terrain.piece[e]! + 1;
    for (const near of body.nears) near.ignored = terrain.piece[e]!;
    if (s[SUPPORT] === GROUND && terrain.piece[s[EDGE]!] === terrain.piece[e]) leaveAny(body);
    for (const contact of CONTACTS)
      if (s[contact]! >= 0 && terrain.piece[s[contact]!] === terrain.piece[e]) s[contact] = -1;
    return;
  }
  let set = 0;
  let first = POLICIES.length as number;
  for (const e of [edge, other]) {
    const k = e < 0 ? 0 : terrain.set[e]!;
    // One that waits already does nothing.
    if (k === 0 || moving!.waitsAt(k, clock[NOW]!)) continue;
    const rank = POLICIES.indexOf(level.movers[k - 1]!.policy);
    if (rank < first) [set, first] = [k, rank];
  }
  if (set === 0) return;
  if (POLICIES[first] === 'stop' && !body.stopsTold) {
    body.stop = { set, time: clock[NOW]!, edge, other };
    return;
  }
  tellCrushed(body, { set, edge, other });
  letThrough(body, set, POLICIES[first] === 'through' ? PASSES : TOLD);
}

/** Whether the body is inside something that moves and still meets it, by more than `touch`. */
export function isCaught(body: Body): boolean {
  const { s, sets, setCount } = body;
  if (s[FREEING] !== 0) return false;
  for (let i = 0; i < setCount; i++) {
    const near = sets[i]!;
    if (near.set > 0 && reaches(body, near.set) && isInsideSet(body, near, s[X]!, s[Y]!)) return true;
  }
  return false;
}

/** Whether the body's box reaches into the box around a mover by more than `touch`. */
function reaches({ s, level, nears, hull }: Body, set: number): boolean {
  const { motion } = nears[set]!;
  const { box } = level.movers[set - 1]!;
  const [x, y] = [s[X]! - motion[MX]!, s[Y]! - motion[MY]!];
  const { half, height, touch } = hull;
  return (
    x + half > box[0]! + touch && x - half < box[2]! - touch && y + height > box[1]! + touch && y < box[3]! - touch
  );
}

/** A mover touches the body no more until the two are clear of one another; a body that stays put follows nothing else either. */
function letThrough(body: Body, set: number, how: typeof PASSES | typeof TOLD): void {
  const { s, terrain } = body;
  s[body.moversAt + MOVER_SLOTS * (set - 1)] = how;
  for (const contact of CONTACTS)
    if (s[contact]! >= 0 && (how === TOLD || terrain.set[s[contact]!] === set)) s[contact] = -1;
  s[VX] = s[VY] = 0;
  s[EASING] = 0;
  if (s[SUPPORT] !== GROUND || s[FRAME] === set) leaveAny(body);
  placeSets(body);
}

const CONTACTS = [WALL, FACE, HEAD] as const;

/** The present moment is one at which a mover begins to wait for the body. */
export function beginStops(body: Body): void {
  const { s, stops, clock, moversAt, moving } = body;
  while (stops.length > 0 && stops[0]!.time <= clock[NOW]! + 1e-12) {
    const stop = stops.shift()!;
    const at = moversAt + MOVER_SLOTS * (stop.set - 1);
    // By now it may have gone on again, or have let the body through.
    if (s[at] !== MEETS && s[at] !== HOLDS_UP) continue;
    if (!moving!.waitsAt(stop.set, Math.max(stop.time, clock[NOW]!))) continue;
    if (s[at] !== HOLDS_UP) tellCrushed(body, stop);
    s[at] = HOLDS_UP;
    s[at + 1] = stop.edge;
    s[at + 2] = stop.other;
  }
}

function tellCrushed(body: Body, { set, edge, other }: { set: number; edge: number; other: number }): void {
  const { terrain, level } = body;
  const told = body.tell('crushed');
  told.mover = level.movers[set - 1]!.name;
  const against = edge >= 0 && terrain.set[edge] !== set ? edge : other;
  told.against = against < 0 ? '' : whatIs(body, against);
}

function whatIs({ terrain, level }: Body, e: number): string {
  const set = terrain.set[e]!;
  if (set > 0) return level.movers[set - 1]!.name;
  const kind = terrain.kind[e]!;
  return kind === FLOOR ? 'floor' : kind === CEILING ? 'ceiling' : kind === SLANTED ? 'slope' : 'wall';
}

/** Lets go on what need not wait any more, and meets again what the body is clear of. */
export function senseMovers(body: Body): void {
  const { s, moversAt, level, clock } = body;
  for (let i = 0; i < level.movers.length; i++) {
    const at = moversAt + MOVER_SLOTS * i;
    if (s[at] === MEETS) continue;
    if (s[at] === HOLDS_UP) {
      const room = ROOM * body.motion.width;
      if (body.moving!.waitsSince(i + 1, clock[NOW]!) + WAIT > clock[NOW]!) continue;
      if (isHeld(body, s[at + 1]!, room) && isHeld(body, s[at + 2]!, room)) continue;
      s[at + 1] = clock[NOW]!;
    } else if (isIn(body, i + 1)) continue;
    s[at] = MEETS;
    placeSets(body);
  }
}

function isIn(body: Body, set: number): boolean {
  const { moving, clock, frame, s } = body;
  const near = body.nears[set]!;
  moving!.locate(set, clock[NOW]!);
  for (let i = 0; i < 6; i++) near.motion[i] = moving!.at[i]! - frame[i]!;
  near.cover(0, 0, 0, 0);
  // Not only out of it, but apart from it: where it touches it would crush the body again.
  return isInsideSet(body, near, s[X]!, s[Y]!, 2 * CLEAR * body.motion.touch);
}

/** How far from the body something is that touches it no more, in `touch`. */
const CLEAR = 4;
/** How far something that pressed the body has to be from it for a mover to go on, in body widths: else it would stop and go without end behind what gives way slowly. */
const ROOM = 1 / 16;
/** So long a mover waits at least, s: one that went on at the very moment at which it stopped could stop and go without end. */
const WAIT = 1 / 128;

/** Whether an edge still touches the body, or is within so much of it, over more than `touch`; of what it stands on, whether it stands on anything that moves alike. */
export function isPressed(body: Body, e: number, within = CLEAR * body.motion.touch): boolean {
  if (e < 0) return true;
  const { s, terrain, hull, nears } = body;
  const set = terrain.set[e]!;
  if (s[SUPPORT] === GROUND && s[FRAME] === set && terrain.ny[e]! > 0) return true;
  const { motion } = nears[set]!;
  const [nx, ny] = [terrain.nx[e]!, terrain.ny[e]!];
  const { corners, touch } = hull;
  const x = s[X]! - motion[MX]!;
  const y = s[Y]! - motion[MY]!;
  const i = foremost(hull, nx, ny);
  const gap = gapBefore(hull, terrain, e, x, y);
  if (gap > within || gap < -CLEAR * touch) return false;
  const [low, high] = [Math.min(terrain.x1[e]!, terrain.x2[e]!), Math.max(terrain.x1[e]!, terrain.x2[e]!)];
  const [bottom, top] = [Math.min(terrain.y1[e]!, terrain.y2[e]!), Math.max(terrain.y1[e]!, terrain.y2[e]!)];
  if (nx === 0) return x + hull.half > low + touch && x - hull.half < high - touch;
  if (ny === 0) return y + hull.height > bottom + touch && y < top - touch;
  const [cx, cy] = [x + corners[i]!, y + corners[i + 1]!];
  return cx > low - touch && cx < high + touch && cy > bottom - touch && cy < top + touch;
}

/** Whether an edge, or the corner at its end, is still within so much of the body. */
function isHeld(body: Body, e: number, within: number): boolean {
  if (isPressed(body, e, within)) return true;
  const { s, terrain, hull, nears } = body;
  const { motion } = nears[terrain.set[e]!]!;
  const x = Math.abs(terrain.x2[e]! - (s[X]! - motion[MX]!)) - hull.half;
  const y = terrain.y2[e]! - (s[Y]! - motion[MY]!);
  const beside = y > hull.touch && y < hull.height - hull.touch;
  const above = x < -hull.touch;
  return (beside && x <= within) || (above && y >= -within && y <= hull.height + within);
}

/** Cuts the path where something that waits for the body may go on. */
export function cutWhereFree(body: Body): void {
  const { s, moversAt, level, path, stops, clock } = body;
  if (stops.length > 0) cutAt(path, Math.max(stops[0]!.time - clock[NOW]!, 0));
  for (let i = 0; i < level.movers.length; i++) {
    const at = moversAt + MOVER_SLOTS * i;
    if (s[at] !== HOLDS_UP) continue;
    const waitsUntil = body.moving!.waitsSince(i + 1, clock[NOW]!) + WAIT;
    if (waitsUntil > clock[NOW]!) {
      cutAt(path, waitsUntil - clock[NOW]!);
      continue;
    }
    const room = ROOM * body.motion.width;
    for (const e of [s[at + 1]!, s[at + 2]!]) {
      cutWhereApart(body, e, room);
      if (e >= 0) cutWhereCornerApart(body, e, room);
    }
  }
}

/** Cuts the path where an edge no longer touches the body, or is farther than so much from it. */
export function cutWhereApart(body: Body, e: number, within = CLEAR * body.motion.touch): void {
  if (e < 0) return;
  const { terrain, hull, path } = body;
  const seen = pathTo(body, terrain.set[e]!);
  const { half, height, touch, corners } = hull;
  const [nx, ny] = [terrain.nx[e]!, terrain.ny[e]!];
  const cut = (ax: number, ay: number, gap: number): void => cutPast(seen, path, ax, ay, gap, touch);
  const i = foremost(hull, nx, ny);
  cut(nx, ny, gapBefore(hull, terrain, e, seen[PX]!, seen[PY]!) - within);
  const [low, high] = [Math.min(terrain.x1[e]!, terrain.x2[e]!), Math.max(terrain.x1[e]!, terrain.x2[e]!)];
  const [bottom, top] = [Math.min(terrain.y1[e]!, terrain.y2[e]!), Math.max(terrain.y1[e]!, terrain.y2[e]!)];
  if (nx === 0) {
    cut(1, 0, seen[PX]! - half - (high - touch));
    cut(-1, 0, low + touch - (seen[PX]! + half));
  } else if (ny === 0) {
    cut(0, 1, seen[PY]! - (top - touch));
    cut(0, -1, bottom + touch - (seen[PY]! + height));
  } else {
    const [cx, cy] = [seen[PX]! + corners[i]!, seen[PY]! + corners[i + 1]!];
    cut(1, 0, cx - (high + touch));
    cut(-1, 0, low - touch - cx);
    cut(0, 1, cy - (top + touch));
    cut(0, -1, bottom - touch - cy);
  }
}

/** Cuts the path where the corner at an edge's end is so far from the body. */
function cutWhereCornerApart(body: Body, e: number, within: number): void {
  const { terrain, hull, path } = body;
  const seen = pathTo(body, terrain.set[e]!);
  const x = seen[PX]! - terrain.x2[e]!;
  const y = seen[PY]! - terrain.y2[e]!;
  for (const reach of [within, -hull.touch]) cutWhereOut(seen, path, hull, x, y, reach);
}

/** Cuts the path where a point that the body is at (x, y) of comes to be so far outside its box. */
function cutWhereOut(seen: Float64Array, path: Float64Array, hull: Hull, x: number, y: number, reach: number): void {
  const { half, height, touch } = hull;
  cutPast(seen, path, 1, 0, x - half - reach, touch);
  cutPast(seen, path, -1, 0, -x - half - reach, touch);
  cutPast(seen, path, 0, 1, y - reach, touch);
  cutPast(seen, path, 0, -1, -y - height - reach, touch);
}

/** Whether the body stays put, told that it is crushed, until it is clear. */
export function staysPut({ s, moversAt, level }: Body): boolean {
  for (let i = 0; i < level.movers.length; i++) if (s[moversAt + MOVER_SLOTS * i] === TOLD) return true;
  return false;
}

/** Whether the corner at an edge's end still touches a cut corner of the body, with that normal. */
export function isOnCorner({ s, terrain, hull, nears }: Body, e: number, nx: number, ny: number): boolean {
  const { motion } = nears[terrain.set[e]!]!;
  const { corners, half, height, touch } = hull;
  const i = foremost(hull, nx, ny);
  const x = s[X]! - motion[MX]! - terrain.x2[e]!;
  const y = s[Y]! - motion[MY]! - terrain.y2[e]!;
  const gap = nx * (x + corners[i]!) + ny * (y + corners[i + 1]!);
  return Math.abs(gap) <= CLEAR * touch && Math.abs(x) <= half + touch && y <= touch && y >= -height - touch;
}

/** Cuts the path where such a corner no longer touches the body. */
export function cutWhereOffCorner(body: Body, e: number, nx: number, ny: number): void {
  const { terrain, hull, path } = body;
  const seen = pathTo(body, terrain.set[e]!);
  const { corners, touch } = hull;
  const i = foremost(hull, nx, ny);
  const x = seen[PX]! - terrain.x2[e]!;
  const y = seen[PY]! - terrain.y2[e]!;
  cutPast(seen, path, nx, ny, nx * (x + corners[i]!) + ny * (y + corners[i + 1]!) - CLEAR * touch, touch);
  cutWhereOut(seen, path, hull, x, y, touch);
}

/** Cuts a path where a gap, seen from somewhere, opens: a little past the moment, so that rounding at it decides nothing. */
function cutPast(seen: Float64Array, path: Float64Array, nx: number, ny: number, gap: number, touch: number): void {
  const past = gap - touch / 64;
  // Where it has come to already.
  if (Math.abs(past) < touch / 256) return;
  const count = rootsOfGap(seen, nx, ny, past);
  for (let k = 0; k < count; k++) {
    const t = roots[k]!;
    if (nx * vxAt(seen, t) + ny * vyAt(seen, t) <= 0) continue;
    cutAt(path, t);
    return;
  }
}
