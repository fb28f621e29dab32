import { BESIDE, SLANT, forget } from '../state/touches.js';
import { LOOKS, SLACK } from '../tolerance.js';
import { crossBorders } from './borders.js';
import { cutAtPlaces, layUntil, passTime } from './drive.js';
import { isInside } from '../contact/inside.js';
import { leaveAny } from '../contact/leave.js';
import { standHere } from '../contact/stance.js';
import { MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { FACE_ENDS, NOW, SUPPORT_ENDS, WALL_ENDS, X_ENDS, Y_ENDS } from '../state/clock.js';
import { EASING, FALL, FREEING, FREE_X, FREE_Y, HIGHEST, PHASE, VX, VY, X, Y } from '../state/layout.js'; // prettier-ignore
import { gapBefore } from '../sweep/hull.js';
import type { Near } from '../sweep/near.js';
import { AT, AT_X, AT_Y, LINK, PAX, PAY, PJY, PVX, PVY, PX, PY, RATE } from '../sweep/path.js'; // prettier-ignore
import { Found, findEdges } from '../terrain/find.js';
import { CLOSED, LINE } from '../terrain/edges.js';

/** How far a way out is looked for, in body sizes. */
const REACH = 16;
const nearby = new Found();

/** A body that was placed inside something solid is on its way out, or has none. */
export const ON_THE_WAY = 1;
export const NO_WAY = 2;

/**
 * A body found inside something solid: it is pushed out by the shortest way, at `body.freeBy`. Ways as short as each other: up, then
 * against its last move. Where there is none it stays put, and says so.
 */
export function startFreeing(body: Body): void {
  const { s, motion } = body;
  const was = s[FREEING]!;
  const vx = s[VX]!;
  const vy = s[VY]!;
  leaveAny(body);
  s[VX] = s[VY] = 0;
  forget(s, BESIDE);
  forget(s, SLANT);
  s[EASING] = 0;
  s[PHASE] = FALL;
  const reach = REACH * (motion.width + body.hull.height);
  let best = Infinity;
  let found: readonly [number, number] | undefined;
  for (const [dx, dy] of ways(body, reach, vx, vy)) {
    const distance = wayOut(body, dx, dy, best < reach ? best : reach);
    if (distance < best - motion.touch) {
      best = distance;
      found = [dx, dy];
    }
  }
  if (!found) {
    // Told once: with movers about, a way out is looked for again.
    if (was !== NO_WAY) body.tell('stuck');
    s[FREEING] = NO_WAY;
    return;
  }
  s[FREEING] = ON_THE_WAY;
  s[FREE_X] = s[X]! + best * found[0] + 0;
  s[FREE_Y] = s[Y]! + best * found[1] + 0;
}

/** Directions worth trying: up, against the last move, the other axes, and the normals of slanted edges nearby. */
function ways(body: Body, reach: number, vx: number, vy: number): [number, number][] {
  const { s, terrain, hull, motion, sets, setCount } = body;
  const list: [number, number][] = [[0, 1]];
  const across: [number, number] = vx > 0 ? [-1, 0] : [1, 0];
  const back: [number, number] = vy > 0 ? [0, -1] : [0, 1];
  list.push(...(Math.abs(vx) >= Math.abs(vy) ? [across, back] : [back, across]), [-across[0], 0], [0, -1]);
  const x = s[X]!;
  const y = s[Y]!;
  const seen = new Set<string>();
  const near = Math.min(reach, 2 * (motion.width + hull.height));
  for (let i = 0; i < setCount; i++) {
    const sx = x - sets[i]!.motion[MX]!;
    const sy = y - sets[i]!.motion[MY]!;
    findEdges(terrain, sets[i]!.set, Float64Array.of(sx - near, sy - near, sx + near, sy + near), nearby);
    for (const e of nearby.ids.subarray(0, nearby.count)) add(e);
  }
  return list;
  function add(e: number): void {
    const way: [number, number] = [terrain.nx[e]!, terrain.ny[e]!];
    if (way[0] === 0 || way[1] === 0 || seen.has(way.join())) return;
    seen.add(way.join());
    if (seen.size <= 64) list.push(way);
  }
}

/** How far the body has to go one way until it is inside nothing; Infinity where that is farther than `most`. */
function wayOut(body: Body, dx: number, dy: number, most: number): number {
  // It can only become free where it just comes out in front of an edge, or past a corner.
  const stops: number[] = [];
  for (let i = 0; i < body.setCount; i++) addStops(body, body.sets[i]!, dx, dy, most, stops);
  stops.sort((a, b) => a - b);
  const x = body.s[X]!;
  const y = body.s[Y]!;
  for (const stop of stops) {
    if (stop > most) return Infinity;
    const px = x + stop * dx;
    const py = y + stop * dy;
    if (stop > 0 && !isInside(body, px, py) && !isBeyondWalls(body, px, py)) return stop;
  }
  return Infinity;
}

/** Whether a body at (x, y) would be beyond a bound of the level that is a wall. */
function isBeyondWalls({ terrain, hull, nears, motion }: Body, x: number, y: number): boolean {
  const { motion: m } = nears[0]!;
  for (let e = terrain.boundsFrom; e < terrain.setUntil[0]!; e++) {
    const gap = gapBefore(hull, terrain, e, x - m[MX]!, y - m[MY]!);
    if (gap < -motion.touch) return true;
  }
  return false;
}

function addStops(body: Body, near: Near, dx: number, dy: number, most: number, stops: number[]): void {
  const { s, terrain, hull } = body;
  const { corners } = hull;
  const x = s[X]! - near.motion[MX]!;
  const y = s[Y]! - near.motion[MY]!;
  const across = [x - hull.half, x + hull.half, x - hull.half + most * dx, x + hull.half + most * dx];
  const up = [y, y + hull.height, y + most * dy, y + hull.height + most * dy];
  const box = Float64Array.of(Math.min(...across), Math.min(...up), Math.max(...across), Math.max(...up));
  findEdges(terrain, near.set, box, nearby);
  for (const e of nearby.ids.subarray(0, nearby.count)) {
    if ((terrain.form[e] !== CLOSED && terrain.form[e] !== LINE) || !near.isThere(e)) continue;
    const nx = terrain.nx[e]!;
    const ny = terrain.ny[e]!;
    const along = nx * dx + ny * dy;
    if (along > 1e-9) {
      const gap = gapBefore(hull, terrain, e, x, y);
      stops.push(-gap / along);
    }
    for (let i = 0; i < corners.length; i += 2) {
      const k = (i + 2) % corners.length;
      const sx = corners[k]! - corners[i]!;
      const sy = corners[k + 1]! - corners[i + 1]!;
      const past = sx * dy - sy * dx;
      // A side of the body that trails leaves the corner behind.
      if (past <= 1e-9) continue;
      const lower = corners[k + 1]! < corners[i + 1]! ? k : i;
      const cx = corners[lower]!;
      const cy = corners[lower + 1]!;
      stops.push(((terrain.y1[e]! - y - cy) * sx - (terrain.x1[e]! - x - cx) * sy) / past);
    }
  }
}

/** Where there was no way out, something that moves may have made one. @returns whether the body is still inside something */
export function findsNoWayOut(body: Body): boolean {
  const { s, clock, level } = body;
  if (s[FREEING] !== NO_WAY || level.movers.length === 0 || untilNextLook(clock[NOW]!) < LOOKS - SLACK) return true;
  if (isInside(body, s[X]!, s[Y]!)) {
    startFreeing(body);
    return true;
  }
  comeFree(body);
  return false;
}

/** How long it is until the next look, s: a whole one at a look itself. */
function untilNextLook(now: number): number {
  const since = now - Math.floor(now / LOOKS + SLACK) * LOOKS;
  return since < SLACK ? LOOKS : LOOKS - since;
}

/** Lays the way out: what pushes a body out of something solid is a drive like any other, but that nothing stops it. */
export function layWayOut(body: Body): void {
  const { s, path, clock, motion } = body;
  const dx = s[FREE_X]! - s[X]!;
  const dy = s[FREE_Y]! - s[Y]!;
  const none = s[FREEING] === NO_WAY;
  const time = none ? Infinity : Math.sqrt(dx * dx + dy * dy) / motion.freeBy;
  path[PX] = s[X]!;
  path[PY] = s[Y]!;
  path[PAX] = path[PAY] = path[PJY] = path[RATE] = path[LINK] = 0;
  path[PVX] = time > 0 && !none ? dx / time : 0;
  path[PVY] = time > 0 && !none ? dy / time : 0;
  clock[X_ENDS] = time;
  clock[Y_ENDS] = clock[FACE_ENDS] = clock[SUPPORT_ENDS] = clock[WALL_ENDS] = Infinity;
  layUntil(body, none && body.level.movers.length > 0 ? untilNextLook(clock[NOW]!) : time);
  cutAtPlaces(body);
}

/** Goes as far as the way out was laid. */
export function goOut(body: Body): void {
  const { s, path, clock } = body;
  const arrives = path[AT]! >= clock[X_ENDS]!;
  s[X] = (arrives ? s[FREE_X]! : path[AT_X]!) + 0;
  s[Y] = (arrives ? s[FREE_Y]! : path[AT_Y]!) + 0;
  s[HIGHEST] = s[Y]!;
  passTime(body);
  if (body.bordered) crossBorders(body);
  if (!arrives || s[FREEING] !== ON_THE_WAY) return;
  // What moves may have come there in the meantime.
  if (body.level.movers.length > 0 && isInside(body, s[X]!, s[Y]!)) startFreeing(body);
  else comeFree(body);
}

function comeFree(body: Body): void {
  body.s[FREEING] = 0;
  body.tell('freed');
  standHere(body);
}
