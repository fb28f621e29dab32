import { ABOVE, BESIDE, HIGH, IN_THE_AIR, LOW, NX, NY, SLANT } from '../state/touches.js';
import { AT_ONCE, CLEAR, SLACK } from '../tolerance.js';
import { isHeldBeside } from './sides.js';
import { HOLDS, MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { FACE_ENDS, SUPPORT_ENDS, WALL_ENDS } from '../state/clock.js';
import { isNear, pathTo } from '../state/frame.js';
import { FRAME, GROUND, HEIGHT, NONE, ON_WALL, SUPPORT, WISH, X, Y } from '../state/layout.js'; // prettier-ignore
import { type Hull, foremost, gapBefore, liesOn } from '../sweep/hull.js';
import { AT, AT_X, AT_Y, PAX, PAY, PJY, PVX, PVY, PX, PY, RATE, T, cutAt, locate, timeToX, timeToY, vxAt, vyAt, wayX, wayY, xAt, yAt } from '../sweep/path.js'; // prettier-ignore
import { roots, rootsOfGap, turnsOf } from '../sweep/roots.js';
import { CEILING, WALL_LEFT, WALL_RIGHT } from '../terrain/terrain.js';
import { FROM, UNTIL, here, stretch } from './ground.js';

/**
 * Ends the piece where a touch ends or becomes something else to the body: what moves goes on in another way, an edge comes to its end, what it touches can be helped
 * over or held on to.
 */
export function cutWhereTouchesEnd(body: Body): void {
  const { s, motion } = body;
  if (body.moving !== undefined) cutWhereTouchingChanges(body);
  if (s[SLANT]! >= 0) cutWhereFaceEnds(body);
  if (s[SUPPORT] === GROUND) cutWhereSupportEnds(body);
  if (s[BESIDE]! >= 0) {
    cutWhereLipBegins(body);
    cutWhereWallEnds(body);
  }
  if (motion.airLocked) cutWhereLipComes(body);
  if (motion.walls && (s[SUPPORT] === NONE || s[SUPPORT] === ON_WALL)) cutWhereGripChanges(body);
}

/** Whether an edge still touches the body, or is within so much of it, over more than `touch`; of what it stands on, whether it stands on anything that moves alike. */
export function isPressed(
  body: Body,
  e: number,
  within = CLEAR * body.motion.touch,
  over = body.motion.touch,
): boolean {
  if (e < 0) return true;
  const { s, terrain, hull, nears } = body;
  const set = terrain.set[e]!;
  if (s[SUPPORT] === GROUND && s[FRAME] === set && terrain.ny[e]! > 0) return true;
  const { motion } = nears[set]!;
  const nx = terrain.nx[e]!;
  const ny = terrain.ny[e]!;
  const { touch } = hull;
  const x = s[X]! - motion[MX]!;
  const y = s[Y]! - motion[MY]!;
  const i = foremost(hull, nx, ny);
  const gap = gapBefore(hull, terrain, e, x, y);
  if (gap > within || gap < -CLEAR * touch) return false;
  const low = Math.min(terrain.x1[e]!, terrain.x2[e]!);
  const high = Math.max(terrain.x1[e]!, terrain.x2[e]!);
  const bottom = Math.min(terrain.y1[e]!, terrain.y2[e]!);
  const top = Math.max(terrain.y1[e]!, terrain.y2[e]!);
  if (nx === 0) return x + hull.half > low + over && x - hull.half < high - over;
  if (ny === 0) return y + hull.height > bottom + over && y < top - over;
  spanOf(hull, i, nx, ny);
  return (
    x + span[2]! > low - touch &&
    x + span[0]! < high + touch &&
    y + span[3]! > bottom - touch &&
    y + span[1]! < top + touch
  );
}

/** What of a body lies on a slanted surface: a corner, or a whole side that is parallel to it. Left, bottom, right, top, from the middle of the feet. */
const span = new Float64Array(4);

function spanOf(hull: Hull, first: number, nx: number, ny: number): void {
  const { corners } = hull;
  span[0] = span[2] = corners[first]!;
  span[1] = span[3] = corners[first + 1]!;
  if (hull.side === 0) return;
  for (let i = 0; i < corners.length; i += 2) {
    if (i === first || !liesOn(hull, first, i, nx, ny)) continue;
    span[0] = Math.min(span[0], corners[i]!);
    span[1] = Math.min(span[1], corners[i + 1]!);
    span[2] = Math.max(span[2], corners[i]!);
    span[3] = Math.max(span[3], corners[i + 1]!);
  }
}

/** Whether an edge, or the corner at its end, is still within so much of the body. */
export function isHeld(body: Body, e: number, within: number): boolean {
  if (isPressed(body, e, within)) return true;
  const { s, terrain, hull, nears } = body;
  const { motion } = nears[terrain.set[e]!]!;
  const x = Math.abs(terrain.x2[e]! - (s[X]! - motion[MX]!)) - hull.half;
  const y = terrain.y2[e]! - (s[Y]! - motion[MY]!);
  const beside = y > hull.touch && y < hull.height - hull.touch;
  const above = x < -hull.touch;
  return (beside && x <= within) || (above && y >= -within && y <= hull.height + within);
}

/** Cuts the path where an edge no longer touches the body, or is farther than so much from it. */
export function cutWhereApart(
  body: Body,
  e: number,
  within = CLEAR * body.motion.touch,
  over = body.motion.touch,
): void {
  if (e < 0) return;
  const { terrain, hull, path } = body;
  const seen = pathTo(body, terrain.set[e]!);
  const { half, height, touch } = hull;
  const nx = terrain.nx[e]!;
  const ny = terrain.ny[e]!;
  const cut = (ax: number, ay: number, gap: number): void => cutPast(seen, path, ax, ay, gap, touch);
  const i = foremost(hull, nx, ny);
  cut(nx, ny, gapBefore(hull, terrain, e, seen[PX]!, seen[PY]!) - within);
  const low = Math.min(terrain.x1[e]!, terrain.x2[e]!);
  const high = Math.max(terrain.x1[e]!, terrain.x2[e]!);
  const bottom = Math.min(terrain.y1[e]!, terrain.y2[e]!);
  const top = Math.max(terrain.y1[e]!, terrain.y2[e]!);
  if (nx === 0) {
    cut(1, 0, seen[PX]! - half - (high - over));
    cut(-1, 0, low + over - (seen[PX]! + half));
  } else if (ny === 0) {
    cut(0, 1, seen[PY]! - (top - over));
    cut(0, -1, bottom + over - (seen[PY]! + height));
  } else {
    spanOf(hull, i, nx, ny);
    cut(1, 0, seen[PX]! + span[0]! - (high + touch));
    cut(-1, 0, low - touch - (seen[PX]! + span[2]!));
    cut(0, 1, seen[PY]! + span[1]! - (top + touch));
    cut(0, -1, bottom - touch - (seen[PY]! + span[3]!));
  }
}

/** Cuts the path where the corner at an edge's end is so far from the body. */
export function cutWhereCornerApart(body: Body, e: number, within: number): void {
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

/** What the body slides along ends where its corner has passed it. */
function cutWhereFaceEnds(body: Body): void {
  const { s, path, clock } = body;
  const seen = pathTo(body, body.terrain.set[s[SLANT]!]!);
  const way = wayY(seen);
  if (way === 0) return;
  const distance = ((way > 0 ? s[SLANT + HIGH]! : s[SLANT + LOW]!) - seen[PY]!) * way;
  if (distance >= (seen[AT_Y]! - seen[PY]!) * way) return;
  path[T] = path[AT] = timeToY(seen, distance, way);
  clock[FACE_ENDS] = path[T]!;
  locate(path);
}

/**
 * A wall can be held on to where at least half of the body is beside it. The cut on leaving lies `touch` beyond, so that
 * rounding at the limit decides nothing.
 */
function cutWhereGripChanges(body: Body): void {
  const { s, motion, sets, setCount } = body;
  if (s[BESIDE]! >= 0) {
    cutAtGrip(body, pathTo(body, body.terrain.set[s[BESIDE]!]!), s[BESIDE + LOW]!, s[BESIDE + HIGH]!);
    return;
  }
  if (s[SLANT]! >= 0) {
    const { y1, y2 } = body.terrain;
    const f = s[SLANT]!;
    if (Math.abs(s[SLANT + NY]!) <= motion.lean)
      cutAtGrip(body, pathTo(body, body.terrain.set[f]!), Math.min(y1[f]!, y2[f]!), Math.max(y1[f]!, y2[f]!));
    return;
  }
  // Beside no wall yet, but in line with one.
  const { half, touch } = motion;
  for (let k = 0; k < setCount; k++) {
    const near = sets[k]!;
    // (Of what moves, what touches the body at rest beside it is its wall already; what only comes near is none yet.)
    if (k > 0 && !isNear(body, near)) continue;
    const seen = pathTo(body, near.set);
    if (wayX(seen) !== 0) continue;
    const from = seen[PY]!;
    const to = seen[AT_Y]!;
    near.cover(
      seen[PX]! - half - touch,
      from < to ? from : to,
      seen[PX]! + half + touch,
      (from < to ? to : from) + s[HEIGHT]!,
    );
    const { starts, fixed, low, high } = near;
    for (let i = starts[WALL_LEFT]!; i < starts[WALL_RIGHT + 1]!; i++) {
      const side = i < starts[WALL_RIGHT]! ? 1 : -1;
      if (Math.abs(seen[PX]! + side * half - fixed[i]!) > touch) continue;
      cutAtGrip(body, seen, low[i]!, high[i]! - body.hull.side);
    }
  }
}

function cutAtGrip({ s, path, motion, clock }: Body, seen: Float64Array, low: number, high: number): void {
  const way = wayY(seen);
  if (way === 0) return;
  const { touch } = motion;
  const middle = s[HEIGHT]! / 2;
  const inAt = way < 0 ? high - middle : low - middle;
  const outAt = way < 0 ? low - middle - touch : high - middle + touch;
  for (let i = 0; i < 2; i++) {
    const distance = ((i === 0 ? inAt : outAt) - seen[PY]!) * way;
    if (distance <= touch / 4 || distance >= (yAt(seen, path[T]!) - seen[PY]!) * way) continue;
    path[T] = path[AT] = timeToY(seen, distance, way);
    // What ends later is not reached in this piece.
    clock[SUPPORT_ENDS] = Infinity;
    clock[WALL_ENDS] = Infinity;
    locate(path);
  }
}

const ground = stretch();

/** The present stretch of ground ends where the next begins, or where no more than `touch` of the body is over it. */
function cutWhereSupportEnds(body: Body): void {
  const { path, clock } = body;
  const way = wayX(path);
  if (way === 0) return;
  here(body, ground);
  const distance = ((way > 0 ? ground[UNTIL]! : ground[FROM]!) - path[PX]!) * way;
  if (distance >= (path[AT_X]! - path[PX]!) * way) return;
  path[T] = path[AT] = timeToX(path, distance, way);
  clock[SUPPORT_ENDS] = path[T]!;
  locate(path);
}

/**
 * Against a wall there may come a moment from which a body can be helped over: slow enough, and high enough. What
 * `liftOnto` takes as reached needs no cut: a cut that rounding undoes would come again and again.
 */
function cutWhereLipBegins(body: Body): void {
  const { s, path, motion, hull } = body;
  const set = body.terrain.set[s[BESIDE]!]!;
  if (motion.lip === 0 || s[SUPPORT] === GROUND) return;
  const seen = pathTo(body, set);
  const v = seen[PVY]!;
  let time: number;
  if (v <= 0) {
    // A fall that is braked may become slow enough.
    if (v >= -motion.lipSpeed - SLACK || seen[PAY]! <= 0) return;
    time = (-motion.lipSpeed - v) / seen[PAY]!;
  } else if (v > motion.lipSpeed + SLACK) time = (motion.lipSpeed - v) / seen[PAY]!;
  else {
    const distance = s[BESIDE + HIGH]! + hull.side - motion.lip - seen[PY]!;
    if (distance <= motion.touch / 2 || distance >= seen[AT_Y]! - seen[PY]!) return;
    time = timeToY(seen, distance, 1);
  }
  if (!(time > 0 && time < path[T]!)) return;
  path[T] = path[AT] = time;
  locate(path);
}

/** Where the body cannot be steered, its feet may fall past the top of what it presses into: from then on it can be helped over. */
function cutWhereLipComes(body: Body): void {
  const { s, path, motion, sets, setCount } = body;
  if (!isHeldBeside(body)) return;
  const { half, touch } = motion;
  const way = s[WISH]! > 0 ? 1 : -1;
  const kind = way > 0 ? WALL_LEFT : WALL_RIGHT;
  for (let k = 0; k < setCount; k++) {
    const near = sets[k]!;
    if (k > 0 && !isNear(body, near)) continue;
    const seen = pathTo(body, near.set);
    if (wayX(seen) !== 0 || wayY(seen) >= 0) continue;
    const low = yAt(seen, path[T]!);
    near.cover(seen[PX]! - half - touch, low, seen[PX]! + half + touch, seen[PY]!);
    const { starts, fixed, high } = near;
    for (let i = starts[kind]!; i < starts[kind + 1]!; i++) {
      if (Math.abs(fixed[i]! - (seen[PX]! + way * half)) > touch) continue;
      const down = seen[PY]! - (high[i]! - body.hull.side - 1.5 * touch);
      if (down > touch / 4 && down < seen[PY]! - yAt(seen, path[T]!)) cutAt(path, timeToY(seen, down, -1));
    }
  }
}

/** A wall ends where no more than `touch` of the body's height is beside it. */
function cutWhereWallEnds(body: Body): void {
  const { s, path, clock, motion, terrain } = body;
  const set = terrain.set[s[BESIDE]!]!;
  if (s[SUPPORT] === GROUND && set === s[FRAME]) return;
  const seen = pathTo(body, set);
  const way = wayY(seen);
  if (way === 0) return;
  const low = s[BESIDE + LOW]!;
  const high = s[BESIDE + HIGH]!;
  const end = way > 0 ? high - motion.touch : low + motion.touch - s[HEIGHT]!;
  const distance = (end - seen[PY]!) * way;
  if (distance >= (yAt(seen, path[T]!) - seen[PY]!) * way) return;
  path[T] = path[AT] = timeToY(seen, distance, way);
  clock[WALL_ENDS] = path[T]!;
  // A support that ends later is not reached in this piece.
  clock[SUPPORT_ENDS] = Infinity;
  locate(path);
}

/** Ends the piece where what touches the body moves on in another way, or it comes out from under it. */
function cutWhereTouchingChanges(body: Body): void {
  const { s, path, nears, terrain, frame } = body;
  // What turns round just now goes the way that it is pulled.
  if (path[RATE] === 0 && Math.abs(path[PVX]!) <= Math.abs(path[PAX]!) * AT_ONCE) path[PVX] = 0;
  if (path[PJY] === 0 && Math.abs(path[PVY]!) <= Math.abs(path[PAY]!) * AT_ONCE) path[PVY] = 0;
  cutAt(path, frame[HOLDS]!);
  for (let i = 0; i < 3; i++) {
    const edge = s[IN_THE_AIR[i]!]!;
    const set = edge < 0 ? 0 : terrain.set[edge]!;
    if (edge < 0 || set === s[FRAME]) continue;
    cutAt(path, nears[set]!.motion[HOLDS]!);
    // Nothing turns round within a piece, neither seen from there.
    const seen = pathTo(body, set);
    if (turnsOf(seen) > 0) cutAt(path, roots[0]!);
    if (i > 0 && turnsOf(path) > 0) cutAt(path, roots[0]!);
  }
  if (body.pushedAlong && turnsOf(path) > 0) cutAt(path, roots[0]!);
  const wall = s[BESIDE]!;
  if (wall >= 0 && s[BESIDE + NY] !== 0 && terrain.set[wall] !== s[FRAME]) {
    const nx = s[BESIDE + NX]!;
    const ny = s[BESIDE + NY]!;
    if (nx === terrain.nx[wall] && ny === terrain.ny[wall]) cutWhereApart(body, wall, CLEAR * body.motion.touch, 0);
    else cutWhereOffCorner(body, wall, nx, ny);
  }
  const head = s[ABOVE]!;
  if (head >= 0 && terrain.kind[head] === CEILING) {
    const seen = pathTo(body, terrain.set[head]!);
    const way = wayX(seen);
    const { half, touch } = body.hull;
    const out = way > 0 ? terrain.x1[head]! + half - touch : terrain.x2[head]! - half + touch;
    const distance = (out - seen[PX]!) * way;
    if (way !== 0 && distance > 0 && distance < (xAt(seen, path[T]!) - seen[PX]!) * way)
      cutAt(path, timeToX(seen, distance, way));
  }
}
