import { arcPieces, comingDown, fallPieces, stateAt, type Motion } from '../core/index.js';
import { acrossInAir, fullJump, runningLaunch } from './sheet.js';

/**
 * For how long a press of the jump key brings a body at run speed over a level gap, s: from the earliest moment before the edge to the latest one
 * within the coyote window after it. The key is held, and the air's own rules count.
 * @param gap units
 * @example
 * ```ts
 * gapSpare(motion, 5) // by how much a jump over a gap of five is longer
 * ```
 */
export function gapSpare(m: Motion, gap: number): number {
  const { speed } = m.ground;
  const before = speed > 0 ? (fullJump(m).reach + m.width - gap) / speed : 0;
  if (m.coyote === 0) return Math.max(0, before);
  /** The gap that a press so long after the edge comes over, less the one there is. */
  const over = (after: number): number => {
    const lost = -stateAt(fallPieces(m), after).y;
    const time = after + comingDown(arcPieces(m, runningLaunch(m)), lost).time;
    return Number.isNaN(time) ? -Infinity : acrossInAir(m, time) + m.width - gap;
  };
  // Where it changes from not coming over to coming over, or back, is found in steps and then by halving.
  const steps = 64;
  let spare = 0;
  for (let i = 0; i < steps; i++) {
    const [from, to] = [(m.coyote * i) / steps, (m.coyote * (i + 1)) / steps];
    const [a, b] = [over(from) >= 0, over(to) >= 0];
    if (a && b) spare += to - from;
    else if (a !== b) {
      let [inside, outside] = a ? [from, to] : [to, from];
      for (let k = 0; k < 40; k++) {
        const middle = (inside + outside) / 2;
        if (over(middle) >= 0) inside = middle;
        else outside = middle;
      }
      spare += Math.abs(inside - (a ? from : to));
    }
  }
  return Math.max(0, before) + spare;
}
