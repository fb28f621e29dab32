import { SLACK } from '../tolerance.js';

/** The stage's clock: the present moment; ticks since it began; ticks since their length last changed, the time at which it did. */
export const TIME = 0;
export const TICKS = 1;
export const COUNT = 2;
export const BASE = 3;
/** The length of a tick, s, and the whole rate it belongs to, per second; 0 where there is none. */
export const LENGTH = 4;
export const RATE = 5;
/** How long the last tick was, s. */
export const LASTED = 6;
/** So many of these are part of snapshots. */
export const KEPT_CLOCK = 7;
/** When the present tick starts and ends; between two, the last one. */
export const START = 7;
export const END = 8;
export const STAGE_CLOCK = 9;

/** When a tick ends that begins now: at a whole multiple of its length, where it belongs to a whole rate and begins at one. */
export function findEnd(c: Float64Array, dt: number): void {
  c[START] = c[TIME]!;
  if (dt !== c[LENGTH]) {
    c[BASE] = c[TIME]!;
    c[COUNT] = 0;
    c[LENGTH] = dt;
    const rate = Math.floor(1 / dt + 0.5);
    c[RATE] = Math.abs(rate * dt - 1) < 1e-12 ? rate : 0;
  }
  const rate = c[RATE]!;
  if (rate === 0) {
    c[END] = c[BASE]! + (c[COUNT]! + 1) * dt;
    return;
  }
  const end = Math.floor((c[TIME]! + dt) * rate + 0.5) / rate;
  c[END] = Math.abs(c[TIME]! + dt - end) < SLACK ? end : c[BASE]! + (c[COUNT]! + 1) / rate;
}

/** The tick has been played. */
export function endTick(c: Float64Array): void {
  c[TIME] = c[END]!;
  c[TICKS]!++;
  c[COUNT]!++;
  c[LASTED] = c[END]! - c[START]!;
}
