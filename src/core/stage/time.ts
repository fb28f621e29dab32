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
