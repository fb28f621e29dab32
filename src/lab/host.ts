import type { Character, Stage } from '../core/index.js';

/**
 * What a game adds to a stage on which somebody plays: handlers that call (a spring that sends up, a hazard that puts back), other characters, shapes that are switched. It is called once, before
 * the first tick, and must keep nothing outside the stage: what is asked about goes back and forth in time.
 * @example
 * ```ts
 * const springs: Host = (stage, hero) => void hero.on('touchdown', ({ surface }) => void (surface === 'spring' && hero.hop(6)));
 * ```
 */
export type Host = (stage: Stage, hero: Character) => void;
