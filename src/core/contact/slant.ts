import { BESIDE, NX, NY, SIDE, SLANT, forget } from '../state/touches.js';
import { ALONG, NO_SPEED, UPRIGHT } from '../tolerance.js';
import { ln } from '../elementary.js';
import { MAX, MAY, MVX, MVY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { FACE_ENDS, UP_SET, X_ENDS, X_END_SPEED, Y_ENDS, Y_END_SPEED } from '../state/clock.js';
import { EASING, FACED_X, FACED_Y, FALL, FRAME, NONE, ON_RAMP, ON_WALL, PHASE, SLIP, SUPPORT, VX, VY, X, Y } from '../state/layout.js'; // prettier-ignore
import { D, LINK, PATH_LENGTH, PAX, PAY, PJY, PVX, PVY, RATE, U } from '../sweep/path.js';

/** In the air along a slanted face, which may move. */
export function alongSlant(body: Body): void {
  const { s, terrain, path, clock, nears } = body;
  const face = s[SLANT]!;
  const wall = s[BESIDE]!;
  if (body.pushedAlong || (wall >= 0 && terrain.set[wall] !== terrain.set[face])) {
    if (isLifted(body)) return;
  }
  if (terrain.set[face] === s[FRAME]) {
    slide(body, true);
    return;
  }
  // Seen from the face, without steering.
  const m = nears[terrain.set[face]!]!.motion;
  kept.set(path);
  const vx = s[VX]!;
  const vy = s[VY]!;
  const ends = clock[X_ENDS]!;
  const speed = clock[X_END_SPEED]!;
  path[PAX] = (path[RATE]! > 0 ? path[RATE]! * (path[U]! - vx) : path[PAX]!) - m[MAX]!;
  path[RATE] = 0;
  path[PVX] = s[VX] = vx - m[MVX]!;
  path[PVY] = s[VY] = vy - m[MVY]!;
  path[PAY] = path[PAY]! - m[MAY]!;
  // Gravity keeps what it has come to.
  path[PJY] = 0;
  clock[Y_END_SPEED] = clock[Y_END_SPEED]! - m[MVY]!;
  slide(body, false);
  if (s[SLANT]! < 0) {
    path.set(kept);
    [s[VX], s[VY], clock[X_ENDS], clock[X_END_SPEED]] = [vx, vy, ends, speed];
    clock[Y_END_SPEED] = clock[Y_END_SPEED]! + m[MVY]!;
    return;
  }
  path[PVX] = s[VX] = s[VX]! + m[MVX]!;
  path[PVY] = s[VY] = s[VY]! + m[MVY]!;
  path[PAX] = path[PAX]! + m[MAX]!;
  path[PAY] = path[PAY]! + m[MAY]!;
  clock[X_ENDS] = clock[Y_ENDS]!;
  clock[X_END_SPEED] = speedIn(path[PVX]!, path[PAX]!, clock[Y_ENDS]!);
  clock[Y_END_SPEED] = speedIn(path[PVY]!, path[PAY]!, clock[Y_ENDS]!);
}

/** The speed in so many seconds; that of now where there is no such moment. */
function speedIn(v: number, a: number, t: number): number {
  return t < Infinity ? v + t * a : v;
}

const kept = new Float64Array(PATH_LENGTH);

/** A body whose way across is given by what is beside it, and that a face would else be in the way of, is lifted (or pressed down) along that face. */
function isLifted(body: Body): boolean {
  const { s, path, clock, nears, terrain } = body;
  const m = nears[terrain.set[s[SLANT]!]!]!.motion;
  const nx = s[SLANT + NX]!;
  const ny = s[SLANT + NY]!;
  const w = nears[terrain.set[s[BESIDE]!]!]!.motion;
  const [vx, ax] = body.pushedAlong ? [path[PVX]!, path[PAX]!] : [w[MVX]!, w[MAX]!];
  if (Math.abs(ny) < UPRIGHT) return false;
  // Only where the face alone would take it into what is beside it.
  const lean = -ny / nx;
  const side = s[BESIDE + SIDE]!;
  const vy = m[MVY]! - (nx * (vx - m[MVX]!)) / ny + 0;
  const gap = (path[PVY]! - vy) * ny;
  const size = Math.abs(vy) + Math.abs(path[PVY]!) + Math.abs(m[MVX]!) + Math.abs(m[MVY]!);
  if (gap > ALONG * size) {
    forget(s, SLANT);
    return false;
  }
  if (!body.pushedAlong && (lean * (path[PVY]! - m[MVY]!) + m[MVX]! - vx) * side < -ALONG * size) return false;
  path[RATE] = path[PJY] = path[LINK] = 0;
  path[PVX] = s[VX] = vx;
  path[PAX] = ax;
  path[PVY] = s[VY] = vy;
  path[PAY] = m[MAY]! - (nx * (ax - m[MAX]!)) / ny + 0;
  clock[Y_ENDS] = clock[X_ENDS]!;
  clock[Y_END_SPEED] = speedIn(vy, path[PAY]!, clock[X_ENDS]!);
  s[EASING] = 0;
  body.pushedAlong = true;
  for (let i = 0; i < body.setCount; i++) {
    const near = body.sets[i]!;
    near.pusher = near.set === terrain.set[s[BESIDE]!] ? s[BESIDE]! : -1;
  }
  return true;
}

/**
 * In the air along a slanted face: as long as what acts on the body presses it to the face, it moves along it.
 *
 * Rising, x follows the rise, as beside a wall: the face adds no height. Coming down a face that is too steep to stand on, the share
 * g·sin²·slip of gravity pulls the feet down (what acts along the face is g·sin·slip). Along an overhang the acceleration is projected.
 */
function slide(body: Body, steers: boolean): void {
  const { s, path, clock } = body;
  if (s[SLANT]! < 0) return;
  s[FACED_X] = s[X]!;
  s[FACED_Y] = s[Y]!;
  if (s[SUPPORT] !== NONE && s[SUPPORT] !== ON_WALL) {
    forget(s, SLANT);
    return;
  }
  const nx = s[SLANT + NX]!;
  const ny = s[SLANT + NY]!;
  // Past a face that moves, the moment at which the body turns round is known but for rounding.
  if (body.moving !== undefined && Math.abs(path[PVY]!) <= NO_SPEED * body.motion.cap) path[PVY] = 0;
  const vx = path[PVX]!;
  const vy = path[PVY]!;
  if (nx * vx + ny * vy > ALONG * (Math.abs(vx) + Math.abs(vy))) {
    forget(s, SLANT);
    return;
  }
  const rate = path[RATE]!;
  const to = rate > 0 ? path[U]! : clock[X_ENDS]! < Infinity ? clock[X_END_SPEED]! : NaN;
  const ax = rate > 0 ? rate * (to - vx) : path[PAX]!;
  const ay = path[PAY]!;
  if (nx * ax + ny * ay > ALONG * (Math.abs(ax) + Math.abs(ay))) {
    forget(s, SLANT);
    // Without it, it may feel a wall.
    if (vx === 0) body.again = true;
    return;
  }
  // Across for each unit up.
  const lean = -ny / nx;
  path[RATE] = 0;
  path[LINK] = 0;
  s[EASING] = 0;
  clock[X_ENDS] = Infinity;
  path[PVX] = s[VX] = lean * vy + 0;
  s[VY] = vy;
  // What steering adds up along the face, for what it does across; only off a face that is slid down, never into it.
  let share = 0;
  if (clock[UP_SET] === 0 && vy <= 0 && ny > 0) {
    s[PHASE] = SLIP;
    if (slipDown(body, vy, nx * nx) && ax * nx > 0 && steers) share = -nx * ny;
  } else if (clock[UP_SET] === 0 && ny < 0) {
    path[PJY] = 0;
    path[PAY] = ay * nx * nx;
    if (steers) share = -nx * ny;
    if (s[PHASE] === ON_RAMP) {
      // Along a face gravity keeps what it has come to: the ramp's clock stands still.
      s[PHASE] = FALL;
      clock[Y_END_SPEED] = body.currentY - body.motion.cap;
    }
  }
  if (share !== 0 && rate > 0) {
    // vy' = a + share·rate·(to − lean·vy): that dies away as well, and y follows x.
    const up = path[PAY]! + share * rate * to;
    path[RATE] = share * rate * lean;
    path[U] = (lean * up) / path[RATE]!;
    path[D] = path[PVX]! - path[U]!;
    path[LINK] = 1 / lean;
    path[PAY] = up - path[RATE]! * vy;
  } else path[PAY] = path[PAY]! + share * ax + 0;
  path[PAX] = lean * path[PAY]! + 0;
  const slower = ny < 0 && clock[UP_SET] === 0 && clock[Y_ENDS]! < Infinity;
  if (share !== 0 || slower) clock[Y_ENDS] = whenAcross(path, lean * clock[Y_END_SPEED]!);
  // Steering changes where the body turns round, and where it has the speed that is asked for.
  cutAtSpeed(body, 0);
  if (steers) cutAtSpeed(body, to);
  // The pull to the face may come to its end.
  if (rate > 0) clock[FACE_ENDS] = whenAcross(path, to + (ny * ay) / (nx * rate));
}

/**
 * Down a face: to the terminal speed at a rate; a faster fall is braked.
 * @param share of gravity
 * @returns whether steering may add to it
 */
function slipDown({ path, clock, motion, currentY, fallingNow }: Body, vy: number, share: number): boolean {
  const cap = motion.cap - currentY > 0 ? motion.cap - currentY : 0;
  path[PJY] = 0;
  path[PAY] = 0;
  clock[Y_ENDS] = Infinity;
  clock[Y_END_SPEED] = -cap;
  if (vy === -cap) return false;
  path[PAY] = vy < -cap ? fallingNow : -fallingNow * share * motion.slip;
  clock[Y_ENDS] = (-cap - vy) / path[PAY]!;
  return vy > -cap;
}

/** When the speed across is so much, s; Infinity where it never is. */
function whenAcross(path: Float64Array, speed: number): number {
  if (path[RATE]! > 0) {
    const ratio = path[D]! / (speed - path[U]!);
    return ratio > 1 && ratio < Infinity ? ln(ratio) / path[RATE]! : Infinity;
  }
  const time = (speed - path[PVX]!) / path[PAX]!;
  return time > 0 ? time : Infinity;
}

function cutAtSpeed({ path, clock }: Body, speed: number): void {
  const time = whenAcross(path, speed);
  if (!(time < clock[X_ENDS]!)) return;
  clock[X_ENDS] = time;
  clock[X_END_SPEED] = speed;
}
