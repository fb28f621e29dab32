import type { Near } from '../sweep/near.js';
import { firstTouch } from '../sweep/touch.js';
import { AT, PX, PY, T, cutAt, locate } from '../sweep/path.js';
import { firstTouchTurning, seenFrom } from '../sweep/relative.js';
import { HOLDS, MX, MY } from '../terrain/moving.js';
import { NORMAL_X, NORMAL_Y, TOUCH_LENGTH, WHEN } from '../sweep/ties.js';
import { actAll, meet, watchAll } from './acting.js';
import { NOW, OFFSET, ROW_COUNT, ROW_START, SUPPORT_ENDS, TICK_LENGTH, TICK_START, type Body } from './body.js';
import { mayFly } from './carry.js';
import { beginStops, crush, cutWhereFree, senseMovers, staysPut } from './crush.js';
import { keepReach, mayMeet, motionIn, placeSets, tellAboard } from './frame.js';
import { pushOut } from './freeing.js';
import { takeIntents } from './intent.js';
import { advance, layPath } from './integrate.js';
import { letGo } from './let-go.js';
import { pressOnto } from './lip.js';
import { updatePose } from './pose.js';
import { run } from './run.js';
import { sense } from './sense.js';
import { settle, settleMoving } from './settle.js';
import {
  EDGE,
  END,
  FACE,
  FACE_NX,
  FRAME,
  FREEING,
  GROUND,
  HEAD,
  HEIGHT,
  SUPPORT,
  VX,
  VY,
  WALL,
  WAS_X,
  WAS_Y,
  X,
  Y,
} from './state.js';

/**
 * The order of one part-tick. It is written here and nowhere else.
 *
 * A tick is cut at presses and releases, where an acceleration changes, where a window, a timer or a support ends, and at
 * touches. Pieces and touches are exact, so it does not matter how many part-ticks a stretch of time is cut into.
 */
function partTick(body: Body): void {
  if (body.moving !== undefined && !senseMoving(body)) return;
  // What holds the body up is known before anything asks for it: a jump depends on it.
  sense(body);
  // Presses act at their own moment, so they come before whatever reads the keys.
  if (takeIntents(body)) sense(body);
  // A body inside something solid comes out of it before it does anything else.
  if (body.s[FREEING] !== 0) {
    pushOut(body);
    updatePose(body);
    return;
  }
  // Help over a lip comes before whatever else a wall is good for.
  if (body.s[VX] === 0) pressOnto(body);
  // Abilities come before the run: they decide whether the run is on the ground or in the air, and whether there is one.
  actAll(body);
  // Whatever launched the jump, letting go of the key shapes it.
  letGo(body);
  run(body);
  if (body.moving !== undefined) tellAboard(body);
  // Forces follow from the phase that the abilities left behind; the piece lasts as long as they hold.
  layPath(body);
  // Positions that abilities wait for are found on the path, as roots.
  watchAll(body);
  // The path is known, so the first thing in its way is too.
  followed(body);
  const edge = firstOf(body, found);
  unfollowed(body);
  if (edge >= 0) {
    body.path[AT] = found[WHEN]!;
    // What stops the body where its ground ends keeps it from leaving.
    body.clock[SUPPORT_ENDS] = Infinity;
    locate(body.path);
  }
  // Nothing moves before its path is known to be free: contact is found, never undone.
  advance(body);
  // An ability may deal with what was met; else it stops the body.
  if (edge >= 0) {
    const nx = found[NORMAL_X]!;
    const ny = found[NORMAL_Y]!;
    if (body.moving === undefined) {
      if (!meet(body, nx, ny)) settle(body, edge, nx, ny);
    } else meetMoving(body, edge, nx, ny);
  }
  if (body.moving !== undefined) tellAboard(body);
  // Last, so that what is shown is what the stretch ended with.
  updatePose(body);
}

const found = new Float64Array(TOUCH_LENGTH);

/** What moves is where it is now; what carries the body may fall away. @returns whether the part-tick goes on */
function senseMoving(body: Body): boolean {
  const { level } = body;
  placeSets(body);
  if (level.movers.length > 0) {
    beginStops(body);
    senseMovers(body);
  }
  if (!staysPut(body)) {
    mayFly(body);
    tellAboard(body);
    return true;
  }
  stayPut(body);
  return false;
}

/** Crushed and told so: it stays where it is until it is clear, and only listens. What comes into its way now crushes it too. */
function stayPut(body: Body): void {
  const { s, clock, path } = body;
  takeIntents(body);
  path.fill(0);
  path[PX] = s[X]!;
  path[PY] = s[Y]!;
  s[VX] = s[VY] = 0;
  let time = clock[TICK_LENGTH]! - clock[OFFSET]!;
  if (body.nextIntent < body.intents.count) time = Math.min(time, body.intents.time[body.nextIntent]! - clock[OFFSET]!);
  path[T] = path[AT] = time;
  locate(path);
  cutAt(path, body.frame[HOLDS]!);
  cutWhereFree(body);
  const edge = firstOf(body, found);
  if (edge >= 0) cutAt(path, found[WHEN]!);
  time = path[T]!;
  clock[OFFSET] = time === clock[TICK_LENGTH]! - clock[OFFSET]! ? clock[TICK_LENGTH]! : clock[OFFSET]! + time;
  clock[NOW] = clock[TICK_START]! + clock[OFFSET]!;
  placeSets(body);
  if (edge >= 0) crush(body, edge, s[SUPPORT] === GROUND ? s[EDGE]! : -1);
  updatePose(body);
}

/** A touch, judged where everything that moves is at that moment. */
function meetMoving(body: Body, edge: number, nx: number, ny: number): void {
  const { s, terrain } = body;
  const set = terrain.set[edge]!;
  if (body.met[1] !== edge) {
    body.met[0] = body.met[1]!;
    body.met[1] = edge;
  }
  if (set === s[FRAME]) {
    if (!meet(body, nx, ny, 0)) settle(body, edge, nx, ny);
    return;
  }
  const { motion } = body.nears[set]!;
  const against = nx * motion[2]! + ny * motion[3]!;
  // What turns at that very moment may go the other way by now.
  const speed = nx * s[VX]! + ny * s[VY]! - against;
  if (speed > 1e-12 * (Math.abs(against) + Math.abs(s[VX]!) + Math.abs(s[VY]!))) return;
  if (!meet(body, nx, ny, against)) settleMoving(body, edge, nx, ny);
}

const touched = new Float64Array(TOUCH_LENGTH);

/** The first touch of all sets that may be near; each sees the path from where it is itself. */
function firstOf(body: Body, into: Float64Array): number {
  const { path, hull, sets, moving } = body;
  let edge = firstTouch(path, sets[0]!, hull, into);
  if (moving === undefined) return edge;
  // What may come near in this piece, in the level's own axes.
  keepReach(body);
  for (let k = 1; k < body.setCount; k++) {
    const near = sets[k]!;
    if (near.set > 0 && !mayMeet(body, near.set, 0)) continue;
    const before = edge < 0 ? path[T]! : into[WHEN]!;
    for (let from = 0; from <= before;) {
      // How it goes on from its next knot.
      const m = motionIn(body, near, from);
      const time = m[HOLDS]! < path[T]! - from ? m[HOLDS]! : path[T]! - from;
      seenFrom(m, path, from, time, near.path);
      const other = firstTouchTurning(near.path, near, hull, before - from, touched);
      if (other >= 0) {
        const when = from + touched[WHEN]!;
        if (edge < 0 || when < into[WHEN]! || (when === into[WHEN]! && opposes(touched, into))) {
          edge = other;
          into.set(touched);
          into[WHEN] = when;
        }
        break;
      }
      from += time;
      if (from >= path[T]!) break;
    }
  }
  return edge;
}

/** Of two touches at one moment, what holds the body up or down comes before what is beside it. */
function opposes(a: Float64Array, b: Float64Array): boolean {
  return Math.abs(a[NORMAL_Y]!) > Math.abs(b[NORMAL_Y]!);
}

/** What the path follows cannot be run into. */
function followed(body: Body): void {
  for (let i = 0; i < body.setCount; i++) follows(body, body.sets[i]!);
}

function unfollowed({ nears }: Body): void {
  for (let i = 0; i < nears.length; i++) {
    const near = nears[i]!;
    near.support = near.support2 = near.joint = near.pusher = near.pusherJoint = -1;
  }
}

function follows({ s, terrain }: Body, near: Near): void {
  near.inAir = s[SUPPORT] !== GROUND;
  if (s[SUPPORT] === GROUND) {
    const e = s[EDGE]!;
    near.support = e;
    if (s[END] !== 0) near.support2 = s[END]! > 0 ? terrain.next[e]! : terrain.prev[e]!;
  } else if (s[FACE]! >= 0) {
    near.support = s[FACE]!;
    if (terrain.nx[s[FACE]!] !== s[FACE_NX]) near.joint = s[FACE]!;
  }
}

/** So many part-ticks in a row, all within `ROW_TIME`, end the motion of a tick. */
const ROW = 16;
const ROW_TIME = 1e-9;
/** No motion takes so many part-ticks in one tick: one that does has no end. */
const MOST_PARTS = 10_000;

/** So often in one tick a body may come to be pressed between two things. */
const MOST_PRESSED = 8;

/** Moves a body through one tick, whose start and length its clock has been given. */
export function playTick(body: Body): void {
  const { s, clock, intents } = body;
  const length = clock[TICK_LENGTH]!;
  clock[OFFSET] = 0;
  clock[NOW] = clock[TICK_START]!;
  clock[ROW_START] = 0;
  clock[ROW_COUNT] = 0;
  placeSets(body);
  s[WAS_X] = s[X]! + body.frame[MX]!;
  s[WAS_Y] = s[Y]! + body.frame[MY]!;
  body.stop = undefined;
  body.pressed = 0;
  body.met.fill(-1);
  if (body.hull.height !== s[HEIGHT]) body.setHeight(s[HEIGHT]!);
  body.parts = 0;
  body.nextIntent = 0;
  while (clock[OFFSET]! < length) {
    partTick(body);
    body.parts++;
    if (clock[OFFSET]! - clock[ROW_START]! > ROW_TIME) {
      clock[ROW_START] = clock[OFFSET]!;
      clock[ROW_COUNT] = 0;
    } else clock[ROW_COUNT]!++;
    if (body.stop !== undefined) break;
    if (clock[ROW_COUNT]! >= ROW || body.parts > MOST_PARTS) {
      if (isPressedByMover(body)) continue;
      body.tell('stuck');
      s[VX] = 0;
      s[VY] = 0;
      break;
    }
  }
  if (body.stop !== undefined) return;
  clock[OFFSET] = length;
  clock[NOW] = clock[TICK_START]! + length;
  placeSets(body);
  // What was pressed in a tick that ended early still counts.
  if (body.nextIntent < intents.count) takeIntents(body);
}

/** Touches that never end, between two things that come together: the body is pressed between them. @returns whether a mover has to do with it */
function isPressedByMover(body: Body): boolean {
  const { s, met, terrain, clock, moving } = body;
  if (moving === undefined) return false;
  // What was met last, and what else the body touches.
  const edge = met[1]!;
  let other = met[0]!;
  const touching = [s[FACE]!, s[WALL]!, s[HEAD]!, s[SUPPORT] === GROUND ? s[EDGE]! : -1, other];
  for (const e of touching) if (e >= 0 && e !== edge && terrain.set[e] !== terrain.set[edge]) other = e;
  // It may go on like that with one after the other, but not for ever.
  if (++body.pressed > MOST_PRESSED) return false;
  if (edge < 0 || (terrain.set[edge] === 0 && (other < 0 || terrain.set[other] === 0))) return false;
  met.fill(-1);
  clock[ROW_COUNT] = 0;
  body.parts = 0;
  crush(body, edge, other);
  return body.stop === undefined;
}
