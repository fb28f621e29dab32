import { slopeHere } from './ground.js';
import { letGoOfWall } from '../state/rights.js';
import { CEILING } from '../terrain/terrain.js';
import { isOnCorner, isPressed } from './ends.js';
import { AT_ONCE, CLEAR, LEANS, RESTS, SAME_SPEED } from '../tolerance.js';
import { crush } from './crush.js';
import { alongSlant } from './slant.js';
import { following, tellPushed } from './push.js';
import { D, LINK, PAX, PAY, PJY, PVX, PVY, PX, PY, RATE, U } from '../sweep/path.js';
import { EASING, FRAME, GROUND, LOCK_FOR, LOCK_SINCE, PIT, PUSHED, SUPPORT, VX, VY, X, Y } from '../state/layout.js';
import { MAX, MAY, MVX, MVY, MX } from '../movers/moving.js';
import { ABOVE, BESIDE, NX, NY, SIDE, SLANT, forget } from '../state/touches.js';
import { FACE_ENDS, NOW, X_ENDS, X_END_SPEED, Y_ENDS, Y_END_SPEED } from '../state/clock.js';
import type { Body } from '../state/body.js';
/**
 * Of the motion that is wanted, which abilities, the run and gravity have laid, what the touches leave of it. Nothing else changes a motion that has been laid.
 *
 * | touch | speed that is kept | what acts |
 * |---|---|---|
 * | the ground | along it | the run; no gravity |
 * | beside what stands still | up or down | gravity; the run has seen to it that nothing acts into it |
 * | beside what moves | its own, as far as it is slower than the body would be | its acceleration; gravity in the air |
 * | a slant that is slid down | along it | gravity along it × `slope.slip`; steering off it |
 * | an overhang, or a slant on the way up | along it, with no height gained | gravity along it; steering off it |
 * | under what moves | its own, as far as it comes down faster than the body would | its acceleration |
 *
 * A touch holds a motion back where the first derivative of its gap that is not nothing closes it. That is tested and never searched for as a root: between a gap of
 * −`touch` and 0 there is none. One that does not is given up.
 */
export function constrain(body: Body): void {
  const { s, path, clock, terrain } = body;
  body.pushedAlong = false;
  clock[FACE_ENDS] = Infinity;
  const beside = s[BESIDE]!;
  const goesAlong = beside >= 0 && terrain.set[beside] !== s[FRAME] && alongBeside(body);
  if (!goesAlong && (s[VX] !== 0 || path[PAX] !== 0 || path[RATE] !== 0)) {
    forget(s, BESIDE);
    if (s[SLANT]! < 0) letGoOfWall(body);
  }
  if (s[SUPPORT] === GROUND) {
    alongGround(body);
    forget(s, ABOVE);
    return;
  }
  if (s[SLANT]! >= 0) alongSlant(body);
  if (s[ABOVE]! >= 0) under(body);
}

/** What a touch is to a wanted motion. */
const OPENS = 1;
const RESTS_ON = 0;
const HOLDS_BACK = -1;

/**
 * @param gap how fast it opens, units/s, and below which size that is rounding
 * @param gain the same of how fast that grows, units/s²
 */
function bears(gap: number, rounding: number, gain: number, small: number): number {
  if (gap > rounding) return OPENS;
  if (gap < -rounding) return HOLDS_BACK;
  return gain > small ? OPENS : gain < -small ? HOLDS_BACK : RESTS_ON;
}

/** On the ground the path up follows the path across. */
function alongGround(body: Body): void {
  const { s, path, clock } = body;
  if (s[PIT] === 1) {
    path[PVX] = path[PAX] = path[RATE] = s[VX] = 0;
    clock[X_ENDS] = Infinity;
    return;
  }
  const slope = slopeHere(body);
  if (slope === 0) return;
  path[PVY] = slope * path[PVX]!;
  if (path[RATE]! > 0) {
    path[LINK] = slope;
    path[PAY] = slope * -path[D]! * path[RATE]!;
  } else path[PAY] = slope * path[PAX]!;
}

/**
 * Beside something that moves relative to the body: as long as what the body does on its own would take it into that, it goes along with it.
 * @returns whether it stays beside it
 */
function alongBeside(body: Body): boolean {
  const { s, path, clock, nears, terrain } = body;
  const wall = s[BESIDE]!;
  const near = nears[terrain.set[wall]!]!;
  const slope = slopeHere(body);
  const side = s[BESIDE + SIDE]!;
  const nx = s[BESIDE + NX]!;
  const ny = s[BESIDE + NY]!;
  // On other ground it may only press, and no more push.
  const along = nx + ny * slope;
  const comes = nx * near.motion[MVX]! + ny * near.motion[MVY]!;
  const presses = along === 0 || (Math.abs(along) < LEANS && comes > 0);
  const corner = nx !== terrain.nx[wall] || ny !== terrain.ny[wall];
  const touches = corner ? isOnCorner(body, wall, nx, ny) : isPressed(body, wall, CLEAR * body.motion.touch, 0);
  if (ny !== 0 && (presses || !touches)) return leaveBeside(body);
  following(body, wall, nx, ny, slope, need);
  const gain = need[1]!;
  const speed = Math.abs(need[0]!) <= Math.abs(gain) * AT_ONCE ? 0 : need[0]!;
  const v = s[VX]!;
  const rounding = RESTS * (Math.abs(speed) + Math.abs(near.motion[MVX]!) + Math.abs(v)) + SAME_SPEED * body.motion.cap;
  // As fast as that: what counts is which of them speeds up more.
  const own = path[RATE]! > 0 ? path[RATE]! * (path[U]! - v) : path[PAX]!;
  const small = SAME_SPEED * (Math.abs(own) + Math.abs(gain));
  const how = bears((speed - v) * side, rounding, (gain - own) * side, small);
  // Side by side, without a push.
  if (how === RESTS_ON && own === 0 && gain === 0) return true;
  if (how !== HOLDS_BACK) return leaveBeside(body);
  body.pushedAlong = true;
  tellPushed(body, wall, side, speed === 0 ? gain : speed);
  // Where it would be fast enough on its own, or would turn, that is looked at again.
  let ends = Infinity;
  if (gain !== 0) {
    if (clock[X_ENDS]! < Infinity) ends = sooner(ends, (clock[X_END_SPEED]! - speed) / gain);
    ends = sooner(ends, -speed / gain);
    if (path[RATE]! > 0) ends = sooner(ends, (path[U]! - speed - gain / path[RATE]!) / gain);
  }
  if (s[LOCK_FOR]! > 0) ends = sooner(ends, s[LOCK_SINCE]! + s[LOCK_FOR]! - clock[NOW]!);
  path[RATE] = path[U] = path[D] = 0;
  goesAcross(body, speed, gain, ends);
  s[EASING] = 0;
  if (ny !== 0) {
    if (corner) near.pusherJoint = wall;
    else near.pusher = wall;
  }
  return true;
}

const need = new Float64Array(2);

/** The sooner of two moments that are still to come. */
function sooner(ends: number, time: number): number {
  return time > 1e-12 && time < ends ? time : ends;
}

function leaveBeside({ s }: Body): boolean {
  forget(s, BESIDE);
  s[PUSHED] = 0;
  return false;
}

/** Across at a speed that changes evenly, until a moment. */
function goesAcross({ s, path, clock }: Body, speed: number, gain: number, ends: number): void {
  path[PVX] = s[VX] = speed;
  path[PAX] = gain;
  clock[X_ENDS] = ends;
  clock[X_END_SPEED] = ends < Infinity ? speed + ends * gain : speed;
}

/** In the air under something that comes down: as long as the body would not fall away from it on its own, it goes down with it. */
function under(body: Body): void {
  const { s, path, clock, nears, terrain } = body;
  const head = s[ABOVE]!;
  const { motion } = nears[terrain.set[head]!]!;
  if (terrain.set[head] === s[FRAME] || (terrain.kind[head] === CEILING && isOutFrom(body, head))) {
    forget(s, ABOVE);
    return;
  }
  const gain = motion[MAY]!;
  const speed = Math.abs(motion[MVY]!) <= Math.abs(gain) * AT_ONCE ? 0 : motion[MVY]!;
  const rounding = RESTS * (Math.abs(speed) + Math.abs(s[VY]!)) + SAME_SPEED * body.motion.cap;
  const small = SAME_SPEED * (Math.abs(path[PAY]!) + Math.abs(gain));
  if (bears(speed - s[VY]!, rounding, gain - path[PAY]!, small) !== HOLDS_BACK) {
    forget(s, ABOVE);
    return;
  }
  // Its own fall may become steeper with time, or reach a speed at which another gravity acts.
  let ends = path[PJY] === 0 ? Infinity : clock[Y_ENDS]!;
  if (gain !== 0) {
    if (clock[Y_ENDS]! < Infinity) ends = sooner(ends, (clock[Y_END_SPEED]! - speed) / gain);
    ends = sooner(ends, -speed / gain);
  }
  path[PVY] = s[VY] = speed;
  path[PAY] = gain;
  path[PJY] = 0;
  clock[Y_ENDS] = ends;
  clock[Y_END_SPEED] = ends < Infinity ? speed + ends * gain : speed;
  const face = s[SLANT]!;
  if (face < 0) return;
  // Down along a face: across it goes as far as that takes it.
  const m = nears[terrain.set[face]!]!.motion;
  const nx = s[SLANT + NX]!;
  const ny = s[SLANT + NY]!;
  const across = m[MVX]! - (ny * (speed - m[MVY]!)) / nx + 0;
  const wall = s[BESIDE]!;
  const beside = wall < 0 ? 0 : nears[terrain.set[wall]!]!.motion[MVX]!;
  if (wall >= 0 && (across - beside) * s[BESIDE + SIDE]! > RESTS * (Math.abs(across) + Math.abs(beside))) {
    // Where a wall does not let it out of the way, the three leave no motion.
    crush(body, head, face);
    path.fill(0, PVX, PJY + 1);
    path[PX] = s[X]!;
    path[PY] = s[Y]!;
    body.again = true;
    return;
  }
  path[RATE] = path[LINK] = 0;
  goesAcross(body, across, m[MAX]! - (ny * (gain - m[MAY]!)) / nx + 0, ends);
}

/** Whether the body has come out from under a level underside, but for `touch`. */
function isOutFrom({ s, terrain, hull, nears }: Body, head: number): boolean {
  const x = s[X]! - nears[terrain.set[head]!]!.motion[MX]!;
  const margin = hull.half - hull.touch - hull.touch / 64;
  return x >= terrain.x1[head]! + margin || x <= terrain.x2[head]! - margin;
}
