import { HOLDS, MAX, MAY, MOTION_LENGTH, MVX, MVY, MX, MY } from '../movers/moving.js';
import type { Near } from '../sweep/near.js';
import { T, cutAt } from '../sweep/path.js';
import { reachOf, seenFrom } from '../sweep/relative.js';
import { roots, turnsOf } from '../sweep/roots.js';
import type { Body } from './body.js';
import { ENTANGLED, NOW } from './clock.js';
import { EASING, FACED_X, FACED_Y, FRAME, HEIGHT, HIGHEST, HOLDS_UP, LOCK_FROM, MEETS, MOVER_SLOTS, VX, VY, X, Y } from './layout.js'; // prettier-ignore

/**
 * A body that something holds up lives in the frame of that: where it is, how fast it goes, is measured from what carries it, so that it stays at the same
 * place there to the last bit. In the air it lives in the level's own frame. What moves relative to its frame is swept along its own path.
 */
/** Finds out where everything that moves is at the body's present moment, and what of it matters. */
export function placeSets(body: Body): void {
  const { moving, s, clock, frame, nears } = body;
  if (moving === undefined) return;
  const carrier = s[FRAME]!;
  if (carrier > 0) {
    moving.moment[0] = clock[NOW]!;
    moving.locateNow(carrier);
    frame.set(moving.at);
  } else if (body.placedIn !== 0) {
    frame.fill(0);
    frame[HOLDS] = Infinity;
  }
  lookAround(body);
  if (carrier > 0 || body.placedIn !== 0) {
    nears[carrier]!.motion.fill(0);
    nears[carrier]!.motion[HOLDS] = Infinity;
  }
  body.placedIn = carrier;
  body.sets[0] = nears[carrier]!;
  body.setCount = 1;
  if (carrier > 0) {
    const { motion } = nears[0]!;
    for (let i = 0; i < MOTION_LENGTH; i++) motion[i] = -frame[i]! + 0;
    motion[HOLDS] = Infinity;
    body.sets[body.setCount++] = nears[0]!;
  }
  for (let i = 0; i < body.aroundCount; i++) {
    const set = body.around[i]!;
    if (set === carrier || !isMet(body, set)) continue;
    placeSet(body, set);
    body.sets[body.setCount++] = nears[set]!;
  }
  if (clock[ENTANGLED] !== 0) placeHolding(body);
}

/** Finds out where one mover is, seen from what carries the body. */
function placeSet({ moving, nears, frame, clock }: Body, set: number): void {
  const { motion } = nears[set]!;
  moving!.moment[0] = clock[NOW]!;
  moving!.locateNow(set);
  const { at } = moving!;
  motion[MX] = at[MX]! - frame[MX]!;
  motion[MY] = at[MY]! - frame[MY]!;
  motion[MVX] = at[MVX]! - frame[MVX]!;
  motion[MVY] = at[MVY]! - frame[MVY]!;
  motion[MAX] = at[MAX]! - frame[MAX]!;
  motion[MAY] = at[MAY]! - frame[MAY]!;
  motion[HOLDS] = at[HOLDS]!;
}

/** The same of what once pressed the body so that something waits for it, however far that has gone. */
function placeHolding(body: Body): void {
  const { s, moversAt, level, terrain } = body;
  for (let i = 0; i < level.movers.length; i++) {
    const at = moversAt + MOVER_SLOTS * i;
    if (s[at] !== HOLDS_UP) continue;
    for (let k = 1; k <= 2; k++) {
      const e = s[at + k]!;
      const set = e < 0 ? 0 : terrain.set[e]!;
      if (set > 0 && set !== s[FRAME]) placeSet(body, set);
    }
  }
}

/** Whether the body meets a mover: not while it passes through it. */
export function isMet(body: Body, set: number): boolean {
  const what = body.s[body.moversAt + MOVER_SLOTS * (set - 1)]!;
  return what === MEETS || what === HOLDS_UP;
}

/** Lists the movers that may come near, anew once the body is somewhere else. */
function lookAround(body: Body): void {
  const { s, frame, motion } = body;
  const x = s[X]! + frame[MX]!;
  const y = s[Y]! + frame[MY]!;
  wanted[0] = x - motion.half;
  wanted[1] = y;
  wanted[2] = x + motion.half;
  wanted[3] = y + s[HEIGHT]!;
  needAround(body, wanted);
}

const wanted = new Float64Array(4);
const reach = new Float64Array(4);

/** Whether a mover is among those that may come near. */
export function isAround({ around, aroundCount }: Body, set: number): boolean {
  for (let i = 0; i < aroundCount; i++) if (around[i] === set) return true;
  return false;
}

/**
 * Sees to it that the movers that may come near a box (of the level) are known: all that may come within a body's size of it.
 * @returns whether there may be others than before
 */
function needAround(body: Body, wanted: Float64Array): boolean {
  const { aroundBox: box, motion, level } = body;
  const { 0: left, 1: bottom, 2: right, 3: top } = wanted as unknown as readonly [number, number, number, number];
  const size = motion.width + motion.height;
  if (left - size >= box[0]! && bottom - size >= box[1]! && right + size <= box[2]! && top + size <= box[3]!)
    return false;
  const pad = 6 * size;
  box[0] = left - pad;
  box[1] = bottom - pad;
  box[2] = right + pad;
  box[3] = top + pad;
  body.aroundCount = 0;
  for (let i = 0; i < level.movers.length; i++) {
    const { box: shape, route } = level.movers[i]!;
    if (body.moving!.isAbsent(i + 1)) continue;
    if (route) {
      const [l, b, r, t] = route.box;
      if (shape[0] + l > box[2]! || shape[2] + r < box[0]! || shape[1] + b > box[3]! || shape[3] + t < box[1]!)
        continue;
    }
    body.around[body.aroundCount++] = i + 1;
  }
  return true;
}

/** Measures the body from another set: it is the same place and velocity, seen from there. */
export function intoFrame(body: Body, set: number): void {
  const { s, nears } = body;
  if (s[FRAME] === set) return;
  const { motion: m } = nears[set]!;
  s[X] = s[X]! - m[MX]! + 0;
  s[Y] = s[Y]! - m[MY]! + 0;
  s[VX] = s[VX]! - m[MVX]! + 0;
  s[VY] = s[VY]! - m[MVY]! + 0;
  s[HIGHEST] = s[HIGHEST]! - m[MY]!;
  s[FACED_X] = s[FACED_X]! - m[MX]!;
  s[FACED_Y] = s[FACED_Y]! - m[MY]!;
  s[LOCK_FROM] = s[LOCK_FROM]! - m[MVX]!;
  s[EASING] = 0;
  s[FRAME] = set;
  placeSets(body);
}

/** Whether an edge moves, seen from what the body is measured from. */
export function isMoving({ nears, terrain }: Body, e: number): boolean {
  const { motion } = nears[terrain.set[e]!]!;
  return motion[MVX] !== 0 || motion[MVY] !== 0 || motion[MAX] !== 0 || motion[MAY] !== 0;
}

/** The body's path as a set sees it, for as long as that moves on alike; the path itself where the set carries the body. */
export function pathTo(body: Body, set: number): Float64Array {
  if (set === body.s[FRAME]) return body.path;
  const near = body.nears[set]!;
  seenFrom(near.motion, body.path, 0, body.path[T]!, near.path);
  return near.path;
}

const later = new Float64Array(MOTION_LENGTH);

/** Takes note of what the body stays within in this piece, and of what may come near there. */
export function keepReach(body: Body): void {
  const { reach } = body;
  reachOf(pathTo(body, 0), body.hull, reach);
  if (needAround(body, reach)) placeSets(body);
}

/** Whether a mover's way comes so near to where the body is in this piece. */
export function mayMeet({ reach, level }: Body, set: number, margin: number): boolean {
  const { box, route } = level.movers[set - 1]!;
  if (!route) return true;
  const way = route.box;
  return (
    box[0] + way[0] <= reach[2]! + margin &&
    box[2] + way[2] >= reach[0]! - margin &&
    box[1] + way[1] <= reach[3]! + margin &&
    box[3] + way[3] >= reach[1]! - margin
  );
}

/** Whether anything that moves may come so near to where the body is, now or later, that it matters to a piece of motion: see `isNear`. */
export function mayBeMet(body: Body): boolean {
  const { s, frame, hull, around, aroundCount, level } = body;
  const x = s[X]! + frame[MX]!;
  const y = s[Y]! + frame[MY]!;
  const margin = 2 * hull.half + hull.height + hull.touch;
  for (let i = 0; i < aroundCount; i++) {
    const { box, route } = level.movers[around[i]! - 1]!;
    if (!route) continue;
    const way = route.box;
    if (
      box[0] + way[0] <= x + hull.half + margin &&
      box[2] + way[2] >= x - hull.half - margin &&
      box[1] + way[1] <= y + hull.height + margin &&
      box[3] + way[3] >= y - margin
    )
      return true;
  }
  return false;
}

/** How a set moves relative to the body's frame so many seconds from now. The array is used again. */
export function motionIn(body: Body, near: Near, from: number): Float64Array {
  if (from === 0 || near.set === 0) return near.motion;
  const { moving, clock, frame } = body;
  moving!.moment[0] = clock[NOW]! + from;
  moving!.locateNow(near.set);
  const { at } = moving!;
  later[MX] = at[MX]! - (frame[MX]! + from * (frame[MVX]! + (from * frame[MAX]!) / 2));
  later[MY] = at[MY]! - (frame[MY]! + from * (frame[MVY]! + (from * frame[MAY]!) / 2));
  later[MVX] = at[MVX]! - (frame[MVX]! + from * frame[MAX]!);
  later[MVY] = at[MVY]! - (frame[MVY]! + from * frame[MAY]!);
  later[MAX] = at[MAX]! - frame[MAX]!;
  later[MAY] = at[MAY]! - frame[MAY]!;
  later[HOLDS] = at[HOLDS]!;
  return later;
}

/**
 * Whether something that moves is near the body in this piece. Then the piece ends where it moves on in another way or turns round, seen from there, so that
 * `pathTo` holds; or where it comes near.
 */
export function isNear(body: Body, near: Near): boolean {
  const { path, hull, motion, level } = body;
  if (near.set > 0) {
    const margin = motion.width + hull.height;
    if (!mayMeet(body, near.set, margin)) return false;
    const [left, bottom, right, top] = level.movers[near.set - 1]!.box;
    for (let from = 0; ;) {
      const m = motionIn(body, near, from);
      const time = m[HOLDS]! < path[T]! - from ? m[HOLDS]! : path[T]! - from;
      seenFrom(m, path, from, time, near.path);
      reachOf(near.path, hull, reach);
      if (
        reach[0]! <= right + margin &&
        reach[2]! >= left - margin &&
        reach[1]! <= top + margin &&
        reach[3]! >= bottom - margin
      ) {
        if (from === 0) break;
        cutAt(path, from);
        return false;
      }
      from += time;
      if (from >= path[T]!) return false;
    }
    cutAt(path, near.motion[HOLDS]!);
  }
  if (turnsOf(pathTo(body, near.set)) > 0) cutAt(path, roots[0]!);
  return true;
}
