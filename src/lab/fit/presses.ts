import type { AcrossFit } from './fit-across.js';
import type { UpFit } from './fit-up.js';
import { releaseAt } from './seen.js';
import type { Track } from './track.js';

/** A press or a release that changed the motion, as a row of an input. */
export interface Pressed {
  /** Which capture, from 0. */
  capture: number;
  time: number;
  action: 'jump' | 'left' | 'right';
  value: 0 | 1;
}

export function pressesOf(tracks: readonly Track[], { flown, values, charged }: UpFit, { ran }: AcrossFit): Pressed[] {
  const found: Pressed[] = [];
  for (const { capture, flight, part } of flown)
    part.hops(part.own, values).forEach(({ by, time, held }, i) => {
      if (by === 'fall') return;
      // What was wound up goes when it is let go of.
      if (charged && by === 'jump') {
        const wound = releaseAt(tracks[capture]!, time)?.held;
        if (wound !== undefined) found.push({ capture, time: time - wound, action: 'jump', value: 1 });
        found.push({ capture, time, action: 'jump', value: 0 });
        return;
      }
      found.push({ capture, time, action: 'jump', value: 1 });
      const known = flight.hops[i]!.held;
      if (held !== undefined) found.push({ capture, time: time + (typeof known === 'object' ? known.known : held), action: 'jump', value: 0 });
    });
  for (const { capture, course } of ran) {
    let way: number = course.way;
    for (const turn of course.turns) {
      if (way !== 0) found.push({ capture, time: turn.time, action: way > 0 ? 'right' : 'left', value: 0 });
      if (turn.way !== 0) found.push({ capture, time: turn.time, action: turn.way > 0 ? 'right' : 'left', value: 1 });
      way = turn.way;
    }
  }
  return found.sort((one, other) => one.capture - other.capture || one.time - other.time);
} // prettier-ignore
