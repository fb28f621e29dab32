import type { Motion } from '../tuning/motion.js';
import { FOOTFALLS, STRIDE, WAS_STRIDES, type PoseName } from './state.js';

/** Strides run since the body last stood still; 0 where there is no stride. */
export function stridesRun(s: Float64Array, halfStride: number): number {
  return halfStride < Infinity ? (s[FOOTFALLS]! + s[STRIDE]! / halfStride) / 2 : 0;
}

/** Keeps them for drawing between ticks: stored, not handed over, so that nothing is boxed. */
export function keepStrides(s: Float64Array, halfStride: number): void {
  s[WAS_STRIDES] = halfStride < Infinity ? (s[FOOTFALLS]! + s[STRIDE]! / halfStride) / 2 : 0;
}

/**
 * How far through a pose, 0 to 1: what a clip that fits the motion is played by.
 * @param time seconds spent in it
 * @param strides run since the body last stood still
 */
export function posePhase({ full, poseLand }: Motion, pose: PoseName, time: number, strides: number): number {
  if (pose === 'run' || pose === 'crouch') return strides - Math.floor(strides);
  if (pose === 'land') return share(time, poseLand);
  if (pose === 'climb') return share(time, full.ledge?.climb);
  if (pose === 'charge') return share(time, full.charge?.fullIn);
  return pose === 'glide' ? share(time, full.glide?.budget) : 0;
}

function share(time: number, whole = Infinity): number {
  return time < whole ? time / whole : 1;
}
