import { DRIFTS, NOW, ENDS_AT, STEPS_HERE, STEPS_WAY, STEP_AT } from '../state/clock.js';
import type { Body } from '../state/body.js';
import { MAX, MAY, MVX, MVY, MX, MY } from '../movers/moving.js';
import { FOOTFALLS, GROUND, STRIDE, SUPPORT, WISH } from '../state/layout.js';
import { AT, PVX, PX, T, U, timeToX, vxAt, vyAt, wayX, xAt, yAt } from '../sweep/path.js';

/**
 * Half a stride of ground covered on its own feet is a footfall, told at its moment: nothing else depends on it, so it ends no piece. Standing still begins
 * anew.
 */

/** The piece has been laid: which way the feet go, and when the next footfall is. What the ground itself moves does not count: strides are measured on it. */
export function layStrides(body: Body): void {
  const { s, clock } = body;
  clock[STEPS_HERE] = 0;
  clock[STEP_AT] = Infinity;
  // Pushed along it takes no steps.
  clock[STEPS_WAY] = s[SUPPORT] === GROUND && !body.pushedAlong ? wayOf(body) : 0;
  if (clock[STEPS_WAY] !== 0) planStep(body);
  else if (s[SUPPORT] === GROUND && s[WISH] === 0) s[STRIDE] = s[FOOTFALLS] = 0;
}

function wayOf({ path, clock }: Body): number {
  const drift = clock[DRIFTS]!;
  if (drift === 0) return wayX(path);
  const t = path[AT]!;
  const moved = xAt(path, t) - path[PX]! - drift * t;
  return moved > 0 ? 1 : moved < 0 ? -1 : 0;
}

/** How far the feet have gone over the ground so many seconds into a piece, units. */
export function strode(path: Float64Array, clock: Float64Array, t: number): number {
  return (xAt(path, t) - path[PX]! - clock[DRIFTS]! * t) * clock[STEPS_WAY]!;
}

/** When the next footfall is, if that is within the piece. */
function planStep({ s, path, clock, motion }: Body): void {
  const need = (clock[STEPS_HERE]! + 1) * motion.halfStride - s[STRIDE]!;
  clock[STEP_AT] = Infinity;
  if (!(need < strode(path, clock, path[AT]!))) return;
  const drift = clock[DRIFTS]!;
  const end = path[T]!;
  path[T] = path[AT]!;
  path[PVX]! -= drift;
  path[U]! -= drift;
  const t = timeToX(path, need > 0 ? need : 0, clock[STEPS_WAY]!);
  path[PVX]! += drift;
  path[U]! += drift;
  path[T] = end;
  clock[STEP_AT] = clock[NOW]! + t;
}

/** The foot comes down: nothing else changes. */
export function footfall(body: Body): void {
  const { clock } = body;
  tellFootfall(body, STEP_AT);
  clock[STEPS_HERE]! += 1;
  planStep(body);
}

/** @param when where in the clock its moment stands */
function tellFootfall(body: Body, when: number): void {
  const { s, path, clock, frame } = body;
  const t = clock[when]! - clock[NOW]!;
  const told = body.tell('footfall');
  told.time = clock[when]!;
  // What carries the body has moved on no further yet than where the piece began.
  told.x = xAt(path, t) + (frame[MX]! + t * (frame[MVX]! + (t * frame[MAX]!) / 2)) + 0;
  told.y = (yAt(path, t) + (frame[MY]! + t * (frame[MVY]! + (t * frame[MAY]!) / 2))) * body.ySign + 0;
  told.vx = vxAt(path, t) + (frame[MVX]! + t * frame[MAX]!) + 0;
  told.vy = (vyAt(path, t) + (frame[MVY]! + t * frame[MAY]!)) * body.ySign + 0;
  s[FOOTFALLS]! += 1;
}

/** The piece has ended where its path was located. What is as good as a footfall then has been one. */
export function sumStrides(body: Body): void {
  const { s, path, clock, motion } = body;
  if (clock[STEPS_WAY] === 0) return;
  let left = s[STRIDE]! + strode(path, clock, path[AT]!) - clock[STEPS_HERE]! * motion.halfStride;
  // At the end of a piece rounding decides nothing: what is as good as there has come.
  for (; left >= motion.halfStride - motion.touch; left -= motion.halfStride) tellFootfall(body, ENDS_AT);
  s[STRIDE] = left > 0 ? left : 0;
  clock[STEPS_WAY] = 0;
}

/** Strides run so many seconds into a piece of a state. */
export function stridesAt(
  s: Float64Array,
  path: Float64Array,
  clock: Float64Array,
  halfStride: number,
  t: number,
): number {
  if (!(halfStride < Infinity)) return 0;
  const part =
    clock[STEPS_WAY] === 0 ? s[STRIDE]! : s[STRIDE]! + strode(path, clock, t) - clock[STEPS_HERE]! * halfStride;
  return (s[FOOTFALLS]! + part / halfStride) / 2;
}
