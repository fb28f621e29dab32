import type { Terrain } from '../terrain/terrain.js';
import { TOUCHES } from './layout.js';

/**
 * What touches a body besides the ground that it stands on: one record for each way in which something can hold it back, so many numbers each. Which record a touch
 * is kept in follows from its normal (`contact/roles.ts`); what it leaves of a motion, and when it ends, is one function for all of them (`contact/constrain.ts`,
 * `contact/ends.ts`). A record without a touch has −1 for its edge.
 */
export const TOUCH_NUMBERS = 7;

/** What stops it on one side and it has not moved away from. On the ground that is whatever it cannot get past, however that leans. */
export const BESIDE = TOUCHES;
/** What it slides along in the air: a slanted face, or a corner that meets a cut corner of the body. */
export const SLANT = TOUCHES + TOUCH_NUMBERS;
/** What moves and presses on its head in the air. */
export const ABOVE = TOUCHES + 2 * TOUCH_NUMBERS;
/** The other one of two that hold it between them. */
export const OPPOSITE = TOUCHES + 3 * TOUCH_NUMBERS;
/** Those that a body in the air may have, in the order in which they are seen to. */
export const IN_THE_AIR = [BESIDE, SLANT, ABOVE] as const;
export const ALL_TOUCHES = [BESIDE, SLANT, ABOVE, OPPOSITE] as const;

// Of each record, the edge comes first; then:

/** The normal of the touch: that of the edge, or of the body's own side where that met the corner at the edge's end. */
export const NX = 1;
export const NY = 2;
/** Between which heights of the body it goes on, as the edge's own set has them: of its feet along a slant, of what is beside it else. */
export const LOW = 3;
export const HIGH = 4;
/** Where across it is, as its set has it; Infinity where that depends on the height. */
export const PLANE = 5;
/** On which side of the body it is, −1 or 1. */
export const SIDE = 6;

/** Gives up what touches the body in one way. */
export function forget(s: Float64Array, touch: number): void {
  s[touch] = -1;
}

/** Gives up all touches. */
export function forgetAll(s: Float64Array): void {
  for (let i = 0; i < ALL_TOUCHES.length; i++) s[ALL_TOUCHES[i]!] = -1;
}

/** Gives up what belongs to one set of edges. */
export function forgetSet(s: Float64Array, { set }: Terrain, which: number): void {
  for (let i = 0; i < IN_THE_AIR.length; i++) {
    const e = s[IN_THE_AIR[i]!]!;
    if (e >= 0 && set[e] === which) s[IN_THE_AIR[i]!] = -1;
  }
}
