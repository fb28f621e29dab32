import {
  AT,
  AT_VX,
  AT_VY,
  AT_X,
  AT_Y,
  PAY,
  PVY,
  PX,
  PY,
  T,
  locate,
  timeToX,
  timeToY,
  vxAt,
  wayX,
  wayY,
  xAt,
} from '../sweep/path.js';
import {
  NOW,
  OFFSET,
  SUPPORT_ENDS,
  TICK_LENGTH,
  TICK_START,
  WALL_ENDS,
  X_ENDS,
  X_END_SPEED,
  Y_ENDS,
  Y_END_SPEED,
  type Body,
} from './body.js';
import { verticalMotion } from './gravity.js';
import { JUMP } from '../input/intents.js';
import { WALL_LEFT, WALL_RIGHT } from '../terrain/terrain.js';
import { airReady } from './rights.js';
import { leaveSupport, leaveWall } from './sense.js';
import {
  COYOTE,
  EASING,
  EDGE,
  GROUND,
  HIGHEST,
  JUMPING,
  KEY,
  LAUNCHED,
  LEFT_AT,
  LEFT_WALL_AT,
  LET_GO,
  ON_RAMP,
  NONE,
  FOOTFALLS,
  HEIGHT,
  ON_WALL,
  PHASE,
  PRESSES,
  RAMP,
  STRIDE,
  WISH,
  SLACK,
  SUPPORT,
  VX,
  VY,
  WALL,
  WALL_COYOTE,
  X,
  Y,
} from './state.js';

/** Lays the path of this piece, and how long it stays valid. The run has laid its part across already. */
export function layPath(body: Body): void {
  const { s, path, clock, motion, intents } = body;
  path[PY] = s[Y]!;
  verticalMotion(body);
  let time = clock[TICK_LENGTH]! - clock[OFFSET]!;
  if (body.nextIntent < intents.count) {
    const until = intents.time[body.nextIntent]! - clock[OFFSET]!;
    if (until < time) time = until;
  }
  if (clock[X_ENDS]! < time) time = clock[X_ENDS]!;
  if (clock[Y_ENDS]! < time) time = clock[Y_ENDS]!;
  if (s[JUMPING] === 1 && s[KEY] === LET_GO) {
    const until = s[LAUNCHED]! + motion.minHold - clock[NOW]!;
    if (until < time) time = until > 0 ? until : 0;
  }
  if (s[PRESSES + JUMP]! >= 0) time = untilJump(body, time);
  const { timers } = body;
  for (let i = 0; i < timers.length; i++) {
    const until = s[timers[i]!]! - clock[NOW]!;
    if (until > SLACK && until < time) time = until;
  }
  path[T] = path[AT] = body.again ? 0 : time;
  locate(path);
  clock[SUPPORT_ENDS] = Infinity;
  clock[WALL_ENDS] = Infinity;
  if (s[SUPPORT] === GROUND) cutWhereSupportEnds(body);
  if (s[WALL]! >= 0) {
    cutWhereLipBegins(body);
    cutWhereWallEnds(body);
  }
  if (motion.walls && (s[SUPPORT] === NONE || s[SUPPORT] === ON_WALL)) cutWhereGripChanges(body);
}

/**
 * A waiting press acts as soon as a jump is allowed: the next endless one, or what comes after a window that has closed
 * (an ability that kept the window's jump from starting may let another start).
 */
function untilJump(body: Body, time: number): number {
  const { s, clock, motion } = body;
  const now = clock[NOW]!;
  const oldest = s[PRESSES + JUMP]! + motion.buffer + SLACK;
  const soonest = (at: number): void => {
    if (at > now && at - now < time && at <= oldest) time = at - now;
  };
  if (airReady(body) > now + SLACK) soonest(airReady(body));
  if (s[COYOTE] === 1) soonest(s[LEFT_AT]! + motion.coyote + 2 * SLACK);
  if (s[WALL_COYOTE] === 1) soonest(s[LEFT_WALL_AT]! + motion.wallCoyote + 2 * SLACK);
  return time;
}

/**
 * A wall can be held on to where at least half of the body is beside it. The cut on leaving lies `touch` beyond, so that
 * rounding at the limit decides nothing.
 */
function cutWhereGripChanges(body: Body): void {
  const { s, near, motion, path } = body;
  if (s[WALL]! >= 0) {
    const { y1, y2 } = body.terrain;
    const w = s[WALL]!;
    cutAtGrip(body, Math.min(y1[w]!, y2[w]!), Math.max(y1[w]!, y2[w]!));
    return;
  }
  if (wayX(path) !== 0) return;
  // Beside no wall yet, but in line with one.
  const { half, touch } = motion;
  const { starts, fixed, low, high } = near;
  near.cover(path[PX]! - half - touch, path[AT_Y]!, path[PX]! + half + touch, path[AT_Y]! + s[HEIGHT]!);
  for (let i = starts[WALL_LEFT]!; i < starts[WALL_RIGHT + 1]!; i++) {
    const side = i < starts[WALL_RIGHT]! ? 1 : -1;
    if (Math.abs(path[PX]! + side * half - fixed[i]!) <= touch) cutAtGrip(body, low[i]!, high[i]!);
  }
}

function cutAtGrip({ s, path, motion, clock }: Body, low: number, high: number): void {
  const way = wayY(path);
  if (way === 0) return;
  const { touch } = motion;
  const middle = s[HEIGHT]! / 2;
  const inAt = way < 0 ? high - middle : low - middle;
  const outAt = way < 0 ? low - middle - touch : high - middle + touch;
  for (let i = 0; i < 2; i++) {
    const distance = ((i === 0 ? inAt : outAt) - path[PY]!) * way;
    if (distance <= touch / 4 || distance >= (path[AT_Y]! - path[PY]!) * way) continue;
    path[T] = path[AT] = timeToY(path, distance, way);
    // What ends later is not reached in this piece.
    clock[SUPPORT_ENDS] = Infinity;
    clock[WALL_ENDS] = Infinity;
    locate(path);
  }
}

/** The support ends where no more than `touch` of the body is over its edge. */
function cutWhereSupportEnds({ s, path, clock, motion, terrain }: Body): void {
  const way = wayX(path);
  if (way === 0) return;
  const e = s[EDGE]!;
  const end = way > 0 ? terrain.x2[e]! - motion.touch + motion.half : terrain.x1[e]! + motion.touch - motion.half;
  const distance = (end - path[PX]!) * way;
  if (distance >= (path[AT_X]! - path[PX]!) * way) return;
  path[T] = path[AT] = timeToX(path, distance, way);
  clock[SUPPORT_ENDS] = path[T]!;
  locate(path);
}

/**
 * Against a wall there may come a moment from which a body can be helped over: slow enough, and high enough. What
 * `liftOnto` takes as reached needs no cut: a cut that rounding undoes would come again and again.
 */
function cutWhereLipBegins({ s, path, motion, terrain }: Body): void {
  const v = path[PVY]!;
  if (motion.lip === 0 || s[SUPPORT] === GROUND) return;
  let time: number;
  if (v <= 0) {
    // A fall that is braked may become slow enough.
    if (v >= -motion.lipSpeed - SLACK || path[PAY]! <= 0) return;
    time = (-motion.lipSpeed - v) / path[PAY]!;
  } else if (v > motion.lipSpeed + SLACK) time = (motion.lipSpeed - v) / path[PAY]!;
  else {
    const e = s[WALL]!;
    const top = terrain.y1[e]! > terrain.y2[e]! ? terrain.y1[e]! : terrain.y2[e]!;
    const distance = top - motion.lip - path[PY]!;
    if (distance <= motion.touch / 2 || distance >= path[AT_Y]! - path[PY]!) return;
    time = timeToY(path, distance, 1);
  }
  if (!(time > 0 && time < path[T]!)) return;
  path[T] = path[AT] = time;
  locate(path);
}

/** A wall ends where no more than `touch` of the body's height is beside it. */
function cutWhereWallEnds({ s, path, clock, motion, terrain }: Body): void {
  const way = wayY(path);
  if (way === 0) return;
  const e = s[WALL]!;
  const low = Math.min(terrain.y1[e]!, terrain.y2[e]!);
  const high = Math.max(terrain.y1[e]!, terrain.y2[e]!);
  const end = way > 0 ? high - motion.touch : low + motion.touch - s[HEIGHT]!;
  const distance = (end - path[PY]!) * way;
  if (distance >= (path[AT_Y]! - path[PY]!) * way) return;
  path[T] = path[AT] = timeToY(path, distance, way);
  clock[WALL_ENDS] = path[T]!;
  // A support that ends later is not reached in this piece.
  clock[SUPPORT_ENDS] = Infinity;
  locate(path);
}

/** Moves to where the path was located, and takes on exactly what ends there. */
export function advance(body: Body): void {
  const { s, path, clock } = body;
  const t = path[AT]!;
  if (s[SUPPORT] === GROUND) takeStrides(body);
  // Adding 0 turns −0 into 0.
  s[X] = path[AT_X]! + 0;
  s[Y] = path[AT_Y]! + 0;
  if (t >= clock[X_ENDS]!) {
    s[VX] = clock[X_END_SPEED]! + 0;
    s[EASING] = 0;
  } else s[VX] = path[AT_VX]! + 0;
  s[VY] = (t >= clock[Y_ENDS]! ? clock[Y_END_SPEED]! : path[AT_VY]!) + 0;
  if (s[PHASE] === ON_RAMP) s[RAMP] = s[RAMP]! + t;
  if (s[Y]! > s[HIGHEST]!) s[HIGHEST] = s[Y]!;
  const left = clock[TICK_LENGTH]! - clock[OFFSET]!;
  clock[OFFSET] = t === left ? clock[TICK_LENGTH]! : clock[OFFSET]! + t;
  clock[NOW] = clock[TICK_START]! + clock[OFFSET]!;
  if (s[VY] === 0 && path[PVY]! > 0 && path[PAY]! < 0) body.tell('apex');
  if (t >= clock[SUPPORT_ENDS]!) leaveSupport(body);
  if (t >= clock[WALL_ENDS]!) leaveWall(body);
}

/**
 * Half a stride of ground covered on its own feet is a footfall, told at its moment within the piece: nothing else depends
 * on it, so it needs no cut. Standing still begins anew.
 */
function takeStrides(body: Body): void {
  const { s, path, motion } = body;
  const way = wayX(path);
  if (way === 0) {
    if (s[WISH] === 0) s[STRIDE] = s[FOOTFALLS] = 0;
    return;
  }
  const { halfStride } = motion;
  const moved = Math.abs(path[AT_X]! - s[X]!);
  let left = s[STRIDE]! + moved;
  // At the end of a piece rounding decides nothing: what is as good as there has come.
  for (; left >= halfStride - motion.touch; left -= halfStride) {
    const at = timeToX(path, moved - left + halfStride, way);
    const told = body.tell('footfall', at < path[AT]! ? at : path[AT]!);
    told.x = xAt(path, at) + 0;
    told.vx = vxAt(path, at) + 0;
    s[FOOTFALLS]! += 1;
  }
  s[STRIDE] = left > 0 ? left : 0;
}
