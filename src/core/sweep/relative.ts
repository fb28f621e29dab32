import { AT_ONCE } from '../tolerance.js';
import { exp } from '../elementary.js';
import { MAX, MAY, MVX, MVY, MX, MY } from '../movers/moving.js';
import type { Hull } from './hull.js';
import type { Near } from './near.js';
import { AT, AT_VX, AT_VY, AT_X, AT_Y, D, DY, EAX, LINK, PATH_LENGTH, PAX, PAY, PJY, PVX, PVY, PX, PY, RATE, T, U, UY, locate, vxAt, vyAt, xAt, yAt } from './path.js'; // prettier-ignore
import { roots, turnsOf } from './roots.js';
import { NORMAL_X, NORMAL_Y, TOUCH_LENGTH, WHEN } from './ties.js';
import { firstTouch } from './touch.js';

/**
 * A path as something sees it that moves: offset m[0], m[1] from where the path is measured, velocity m[2], m[3], acceleration m[4], m[5]. All of
 * these are as they are `from` seconds into the path; the new path begins there.
 * @param to where it is stored, located at its end
 */
export function seenFrom(m: Float64Array, p: Float64Array, from: number, time: number, to: Float64Array): void {
  const rate = p[RATE]!;
  to[T] = to[AT] = time;
  to[RATE] = rate;
  to[LINK] = to[DY] = to[UY] = to[EAX] = to[PJY] = 0;
  to[PX] = xAt(p, from) - m[MX]!;
  to[PY] = yAt(p, from) - m[MY]!;
  to[PVX] = vxAt(p, from) - m[MVX]!;
  to[PVY] = vyAt(p, from) - m[MVY]!;
  to[PAX] = p[PAX]! - m[MAX]!;
  to[PAY] = p[PAY]! + from * p[PJY]! - m[MAY]!;
  to[PJY] = p[PJY]!;
  if (rate > 0) {
    const left = p[D]! * (from === 0 ? 1 : exp(-rate * from));
    to[D] = left;
    to[U] = p[U]! + from * p[EAX]! - m[MVX]!;
    to[EAX] = p[EAX]! - m[MAX]!;
    if (p[LINK] !== 0) {
      to[DY] = p[LINK]! * left;
      to[UY] = p[LINK]! * p[U]! - m[MVY]!;
      to[PAY] = -m[MAY]!;
      to[PJY] = 0;
    } else if (p[DY] !== 0) {
      to[DY] = p[DY]! * (left / p[D]!);
      to[UY] = p[UY]! + from * p[PAY]! - m[MVY]!;
      to[PAY] = p[PAY]! - m[MAY]!;
    }
  }
  // What turns round just now is at rest, whatever rounding made of it: the way that it goes follows from its acceleration.
  const ax = rate > 0 ? to[EAX]! - to[D]! * rate : to[PAX]!;
  if (Math.abs(to[PVX]!) <= Math.abs(ax) * AT_ONCE) {
    to[PVX] = 0;
    if (rate > 0) to[U] = -to[D]!;
  }
  const ay = to[PAY]! - to[DY]! * rate;
  if (Math.abs(to[PVY]!) <= Math.abs(ay) * AT_ONCE) {
    to[PVY] = 0;
    if (to[DY] !== 0) to[UY] = -to[DY]!;
  }
  locate(to);
}

const moments = new Float64Array(16);
const part = new Float64Array(PATH_LENGTH);
const found = new Float64Array(TOUCH_LENGTH);
const STILL = new Float64Array(6);

/**
 * The first edge that stops a body on a path that may turn round: the path is parted where it does.
 * @param before touches later than this do not matter, s
 * @param into where moment and normal are stored
 */
export function firstTouchTurning(p: Float64Array, near: Near, hull: Hull, before: number, into: Float64Array): number {
  into[WHEN] = Infinity;
  const count = turnsOf(p);
  for (let i = 0; i < count; i++) moments[i] = roots[i]!;
  moments[count] = p[T]!;
  let from = 0;
  for (let i = 0; i <= count && from <= before; i++) {
    const until = moments[i]!;
    if (until - from <= 0 && i < count) continue;
    seenFrom(STILL, p, from, until - from, part);
    const edge = firstTouch(part, near, hull, found);
    if (edge >= 0) {
      into[WHEN] = from + found[WHEN]!;
      into[NORMAL_X] = found[NORMAL_X]!;
      into[NORMAL_Y] = found[NORMAL_Y]!;
      return edge;
    }
    from = until;
  }
  return -1;
}

/**
 * What a body on a path stays within.
 * @param reach where it is stored: left, bottom, right, top
 */
export function reachOf(p: Float64Array, hull: Hull, reach: Float64Array): void {
  const x = p[PX]!;
  const y = p[PY]!;
  const endX = p[AT_X]!;
  const endY = p[AT_Y]!;
  let left = x < endX ? x : endX;
  let right = x < endX ? endX : x;
  let bottom = y < endY ? y : endY;
  let top = y < endY ? endY : y;
  const t = p[T]!;
  // A path that turns round reaches no farther than its speeds take it.
  const endVX = p[AT_VX]!;
  const endVY = p[AT_VY]!;
  if (p[PVX]! * endVX <= 0 || p[RATE]! > 0) {
    const sideways = 2 * t * (Math.abs(p[PVX]!) + Math.abs(endVX) + Math.abs(vxAt(p, t / 2)));
    if (x - sideways < left) left = x - sideways;
    if (x + sideways > right) right = x + sideways;
  }
  if (p[PVY]! * endVY <= 0 || p[PJY] !== 0 || p[DY] !== 0) {
    const up = 2 * t * (Math.abs(p[PVY]!) + Math.abs(endVY) + Math.abs(vyAt(p, t / 2)));
    if (y - up < bottom) bottom = y - up;
    if (y + up > top) top = y + up;
  }
  const { half, height, touch } = hull;
  reach[0] = left - half - touch;
  reach[1] = bottom - touch;
  reach[2] = right + half + touch;
  reach[3] = top + height + touch;
}
