import type { Tuning } from '../tuning/tuning.js';
import type { Opposed } from './opposed.js';

/**
 * A call of the game on a character or a mover, as data: what a recording keeps of it. Places, heights and velocities in units and
 * units/s, in the level's own axes.
 */
export type HostCall = (
  | { hop: number }
  | { shove: readonly [number, number]; lock: number }
  | { place: string | readonly [number, number] }
  | { allow: 'airJumps'; count: number }
  | { retune: Tuning }
  | { listen: boolean }
  /** Which way to go with both directions held. */
  | { oppose: Opposed }
  /** A layer of the level that is passed through, or no longer. */
  | { ignore: string; on: boolean }
  /** A mover of the game's own: where it is to be when the tick ends, or is at once. */
  | { moveTo: readonly [string, number, number] }
  | { placeAt: readonly [string, number, number] }
  /** Another driver: what the old one held is let go of. */
  | { drive: true }
  /** Its own time stands still for so many seconds. */
  | { freeze: number }
  /** Its own time goes so many times as fast as the stage's. */
  | { tempo: number }
  /** A box that it carries is switched on or off. */
  | { box: string; on: boolean }
  /** It is taken off the stage. */
  | { remove: true }
) & {
  /** How many pieces of its motion had begun at that very moment before the call was made; 0 unless given. */
  after?: number;
};

/**
 * The highest `after` of a call: more pieces than this do not begin at one moment by what handlers ask.
 * @example
 * ```ts
 * MOST_LAID // 64
 * ```
 */
export const MOST_LAID = 64;

/** How a recording began: what has to be the same for it to play again. */
export interface RecordingStart {
  /** Ticks per second. */
  rate: number;
  /** The spawn's name, or the middle of the feet. */
  spawn: string | readonly [number, number];
  facing: number;
  opposed: Opposed;
}
