import { listOf } from '../nearest.js';
import type { Moving } from '../movers/moving.js';
import type { Style } from '../terrain/edges.js';
import type { CompiledLevel } from '../terrain/world.js';
import type { Cast } from '../stage/cast.js';
import { TIME } from '../stage/time.js';

/** A stage as it is at this moment, to ask it questions. */
export interface Sight {
  readonly level: CompiledLevel;
  /** 1 for each named shape that is switched off; for each zone. */
  readonly off: Uint8Array;
  readonly zonesOff: Uint8Array;
  moving: Moving | undefined;
  readonly cast: Cast;
  /** The stage's clock: a moment that is read from it where it is needed is not boxed. */
  readonly clock: Float64Array;
}

/** Finds out where a mover is at this moment. @returns where its offset stands, see `moving.ts` */
export function offsetOf({ moving, clock }: Sight, set: number): Float64Array {
  moving!.moment[0] = clock[TIME]!;
  moving!.locateNow(set);
  return moving!.at;
}

/** Whether the edges of a set are there: a mover can be taken away. */
export function isSetThere({ moving }: Sight, set: number): boolean {
  return set === 0 || !moving!.isAbsent(set);
}

/** Which layers count: one bit each, the lowest for what has none. */
export const ALL_LAYERS = -1;

/**
 * @param layers names; an empty one for what has none
 * @throws RangeError where the level has no such layer
 */
export function layerBits({ layers: known }: CompiledLevel, layers: readonly string[] | undefined): number {
  if (layers === undefined) return ALL_LAYERS;
  let bits = 0;
  for (const layer of layers) {
    const number = known.indexOf(layer);
    if (number < 0) throw new RangeError(`there is no layer ${layer}; the level has ${listOf(known.slice(1), layer)}`);
    bits |= 1 << number;
  }
  return bits;
}

/** Whether an edge of a style is there, and counts. */
export function counts({ layer, shape }: Style, off: Uint8Array, layers: number): boolean {
  return ((layers >> layer) & 1) === 1 && (shape < 0 || off[shape] !== 1);
}
