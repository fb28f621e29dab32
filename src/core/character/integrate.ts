import {
  AT,
  AT_VX,
  AT_VY,
  AT_X,
  AT_Y,
  D,
  LINK,
  PAX,
  PAY,
  PVX,
  RATE,
  PVY,
  PX,
  PY,
  T,
  locate,
  timeToX,
  timeToY,
  vxAt,
  vyAt,
  yAt,
  U,
  wayX,
  wayY,
  xAt,
} from '../sweep/path.js';
import {
  FACE_ENDS,
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
import { rememberFace } from './faced.js';
import { cutWhereFree } from './crush.js';
import { slideOnFace } from './face.js';
import { isNear, keepReach, pathTo, placeSets } from './frame.js';
import { cutWhereTouchingChanges, goDownWith } from './push.js';
import { keepBeside } from './settle.js';
import { MAX, MAY, MVX, MVY, MX, MY } from '../terrain/moving.js';
import { FEET, FROM, SLOPE, UNTIL, at, here, isLevel } from './ground.js';
import { cutAtBorders, crossBorders } from './borders.js';
import { cutWhereZonesChange } from './zones.js';
import { DRIFT, under } from './run.js';
import { airReady } from './rights.js';
import { leaveSupport } from './support.js';
import { leaveWall } from './walls.js';
import {
  COYOTE,
  EASING,
  FACE,
  FACE_HIGH,
  FACE_LOW,
  FACE_NY,
  FRAME,
  GROUND,
  HEAD,
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
  PIT,
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
  WALL_HIGH,
  WALL_LOW,
  X,
  Y,
} from './state.js';

/** Lays the path of this piece, and how long it stays valid. The run has laid its part across already. */
export function layPath(body: Body): void {
  const { s, path, clock, motion, intents } = body;
  path[PY] = s[Y]!;
  path[LINK] = 0;
  verticalMotion(body);
  clock[FACE_ENDS] = Infinity;
  if (s[SUPPORT] === GROUND) {
    followGround(body);
    s[HEAD] = -1;
  } else {
    slideOnFace(body);
    if (s[HEAD]! >= 0) goDownWith(body);
  }
  let time = clock[TICK_LENGTH]! - clock[OFFSET]!;
  if (body.nextIntent < intents.count) {
    const until = intents.time[body.nextIntent]! - clock[OFFSET]!;
    if (until < time) time = until;
  }
  if (clock[X_ENDS]! < time) time = clock[X_ENDS]!;
  if (clock[Y_ENDS]! < time) time = clock[Y_ENDS]!;
  if (clock[FACE_ENDS]! < time) time = clock[FACE_ENDS]!;
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
  if (body.moving !== undefined) {
    keepReach(body);
    cutWhereTouchingChanges(body);
    cutWhereFree(body);
  }
  if (s[FACE]! >= 0) cutWhereFaceEnds(body);
  if (s[SUPPORT] === GROUND) cutWhereSupportEnds(body);
  if (s[WALL]! >= 0) {
    cutWhereLipBegins(body);
    cutWhereWallEnds(body);
  }
  if (motion.walls && (s[SUPPORT] === NONE || s[SUPPORT] === ON_WALL)) cutWhereGripChanges(body);
  cutWhereZonesChange(body);
  if (body.bordered) cutAtBorders(body);
  // What ends later is not reached in this piece.
  if (path[T]! < clock[SUPPORT_ENDS]!) clock[SUPPORT_ENDS] = Infinity;
  if (path[T]! < clock[WALL_ENDS]!) clock[WALL_ENDS] = Infinity;
  if (path[T]! < clock[FACE_ENDS]!) clock[FACE_ENDS] = Infinity;
}

/** On the ground the path up follows the path across. */
function followGround(body: Body): void {
  const { s, path } = body;
  if (s[PIT] === 1) {
    path[PVX] = path[PAX] = path[RATE] = s[VX] = 0;
    body.clock[X_ENDS] = Infinity;
    return;
  }
  if (isLevel(body)) return;
  here(body);
  const slope = at[SLOPE]!;
  path[PVY] = slope * path[PVX]!;
  if (path[RATE]! > 0) {
    path[LINK] = slope;
    path[PAY] = slope * -path[D]! * path[RATE]!;
  } else path[PAY] = slope * path[PAX]!;
}

/** What the body slides along ends where its corner has passed it. */
function cutWhereFaceEnds(body: Body): void {
  const { s, path, clock } = body;
  const seen = pathTo(body, body.terrain.set[s[FACE]!]!);
  const way = wayY(seen);
  if (way === 0) return;
  const distance = ((way > 0 ? s[FACE_HIGH]! : s[FACE_LOW]!) - seen[PY]!) * way;
  if (distance >= (seen[AT_Y]! - seen[PY]!) * way) return;
  path[T] = path[AT] = timeToY(seen, distance, way);
  clock[FACE_ENDS] = path[T]!;
  locate(path);
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
  const { s, motion, sets, setCount } = body;
  if (s[WALL]! >= 0) {
    cutAtGrip(body, pathTo(body, body.terrain.set[s[WALL]!]!), s[WALL_LOW]!, s[WALL_HIGH]!);
    return;
  }
  if (s[FACE]! >= 0) {
    const { y1, y2 } = body.terrain;
    const f = s[FACE]!;
    if (Math.abs(s[FACE_NY]!) <= motion.lean)
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
    const { starts, fixed, low, high } = near;
    near.cover(seen[PX]! - half - touch, seen[AT_Y]!, seen[PX]! + half + touch, seen[AT_Y]! + s[HEIGHT]!);
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

/** The present stretch of ground ends where the next begins, or where no more than `touch` of the body is over it. */
function cutWhereSupportEnds(body: Body): void {
  const { path, clock } = body;
  const way = wayX(path);
  if (way === 0) return;
  here(body);
  const distance = ((way > 0 ? at[UNTIL]! : at[FROM]!) - path[PX]!) * way;
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
  if (motion.lip === 0 || s[SUPPORT] === GROUND) return;
  const seen = pathTo(body, body.terrain.set[s[WALL]!]!);
  const v = seen[PVY]!;
  let time: number;
  if (v <= 0) {
    // A fall that is braked may become slow enough.
    if (v >= -motion.lipSpeed - SLACK || seen[PAY]! <= 0) return;
    time = (-motion.lipSpeed - v) / seen[PAY]!;
  } else if (v > motion.lipSpeed + SLACK) time = (motion.lipSpeed - v) / seen[PAY]!;
  else {
    const distance = s[WALL_HIGH]! + hull.side - motion.lip - seen[PY]!;
    if (distance <= motion.touch / 2 || distance >= seen[AT_Y]! - seen[PY]!) return;
    time = timeToY(seen, distance, 1);
  }
  if (!(time > 0 && time < path[T]!)) return;
  path[T] = path[AT] = time;
  locate(path);
}

/** A wall ends where no more than `touch` of the body's height is beside it. */
function cutWhereWallEnds(body: Body): void {
  const { s, path, clock, motion, terrain } = body;
  const set = terrain.set[s[WALL]!]!;
  if (s[SUPPORT] === GROUND && set === s[FRAME]) return;
  const seen = pathTo(body, set);
  const way = wayY(seen);
  if (way === 0) return;
  const low = s[WALL_LOW]!;
  const high = s[WALL_HIGH]!;
  const end = way > 0 ? high - motion.touch : low + motion.touch - s[HEIGHT]!;
  const distance = (end - seen[PY]!) * way;
  if (distance >= (yAt(seen, path[T]!) - seen[PY]!) * way) return;
  path[T] = path[AT] = timeToY(seen, distance, way);
  clock[WALL_ENDS] = path[T]!;
  // A support that ends later is not reached in this piece.
  clock[SUPPORT_ENDS] = Infinity;
  locate(path);
}

/** A speed of so small a share of the terminal speed is rounding. */
const ROUNDING = 1e-15;

/** Moves to where the path was located, and takes on exactly what ends there. */
export function advance(body: Body): void {
  const { s, path, clock } = body;
  const t = path[AT]!;
  // The path may have rounded a speed away that a body in the air has.
  const rose = path[PVY]! > 0 || (s[VY]! > 0 && s[SUPPORT] === NONE && s[FRAME] === 0);
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
  placeSets(body);
  if (body.pushedAlong) keepBeside(body);
  // Along a face that has stopped moving, what is left of a speed is rounding.
  if (body.moving !== undefined && s[FACE]! >= 0 && Math.abs(s[VY]!) < ROUNDING * body.motion.cap) s[VY] = 0;
  if (s[VY] === 0 && rose && path[PAY]! < 0 && s[SUPPORT] !== GROUND) body.tell('apex');
  const way = wayX(path);
  if (s[SUPPORT] === GROUND && s[PIT] === 0 && path[PVY] !== 0) {
    here(body);
    s[Y] = at[FEET]! + 0;
    s[VY] = at[SLOPE]! * s[VX]! + 0;
  }
  if (/* rule: a slide ends with its face */ t >= clock[FACE_ENDS]!) {
    rememberFace(body);
    s[FACE] = -1;
  }
  if (/* rule: ground is left where it ends */ t >= clock[SUPPORT_ENDS]!) leaveSupport(body, way);
  if (t >= clock[WALL_ENDS]! && s[WALL]! >= 0) leaveWall(body);
  if (body.bordered) crossBorders(body);
}

/**
 * Half a stride of ground covered on its own feet is a footfall, told at its moment within the piece: nothing else depends
 * on it, so it needs no cut. Standing still begins anew.
 */
function takeStrides(body: Body): void {
  const { s, path, motion } = body;
  // Pushed along it takes no steps.
  if (body.pushedAlong) {
    if (s[WISH] === 0) s[STRIDE] = s[FOOTFALLS] = 0;
    return;
  }
  const way = wayX(path);
  const drift = under[DRIFT]!;
  if (way === 0 && drift === 0) {
    if (s[WISH] === 0) s[STRIDE] = s[FOOTFALLS] = 0;
    return;
  }
  const { halfStride } = motion;
  const t = path[AT]!;
  // What the ground itself moves does not count: strides are measured on it.
  const steps = drift === 0 ? way : relativeWay(path, drift);
  if (steps === 0) {
    if (s[WISH] === 0) s[STRIDE] = s[FOOTFALLS] = 0;
    return;
  }
  const moved = (path[AT_X]! - s[X]! - drift * t) * steps;
  let left = s[STRIDE]! + moved;
  // At the end of a piece rounding decides nothing: what is as good as there has come.
  for (; left >= halfStride - motion.touch; left -= halfStride) {
    path[PVX]! -= drift;
    path[U]! -= drift;
    const moment = timeToX(path, moved - left + halfStride, steps);
    path[PVX]! += drift;
    path[U]! += drift;
    const when = moment < t ? moment : t;
    const told = body.tell('footfall', when);
    // What carries the body has moved on no further yet than where the piece began.
    const { frame } = body;
    told.x = xAt(path, when) + (frame[MX]! + when * (frame[MVX]! + (when * frame[MAX]!) / 2)) + 0;
    told.y = (yAt(path, when) + (frame[MY]! + when * (frame[MVY]! + (when * frame[MAY]!) / 2))) * body.ySign + 0;
    told.vx = vxAt(path, when) + (frame[MVX]! + when * frame[MAX]!) + 0;
    told.vy = (vyAt(path, when) + (frame[MVY]! + when * frame[MAY]!)) * body.ySign + 0;
    s[FOOTFALLS]! += 1;
  }
  s[STRIDE] = left > 0 ? left : 0;
}

/** The way x goes relative to ground that moves: −1, 0 or 1. */
function relativeWay(path: Float64Array, drift: number): number {
  const moved = path[AT_X]! - path[PX]! - drift * path[AT]!;
  return moved > 0 ? 1 : moved < 0 ? -1 : 0;
}
