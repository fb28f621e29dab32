import type { Character } from './character.js';
import { HOST, type Intents } from '../input/intents.js';
import type { Body } from '../state/body.js';
import { SLACK, STALE } from '../tolerance.js';
import { END, START } from './time.js';

/**
 * Asks the driver, and turns its moments into moments of the stage. They are whole microseconds, so that a recording of them gives the same bits again.
 * @param clock the stage's
 * @returns whether there are calls of the game among them
 */
export function readDriver(body: Body, who: Character, clock: Float64Array): boolean {
  const { driver, intents } = body;
  intents.count = body.nextIntent = 0;
  const from = intents.span[0]!;
  const start = clock[START]!;
  const end = clock[END]!;
  intents.span[2] = start;
  intents.span[1] = from + (end - start) - SLACK;
  driver!.read(intents, who);
  dropStale(intents, from - Math.max(body.motion.buffer, STALE));
  let latest = start;
  let called = false;
  for (let i = 0; i < intents.count; i++) {
    let moment = from === start ? intents.time[i]! : intents.time[i]! - from + start;
    if (intents.action[i] !== HOST) {
      // Rounded down; what is late comes with the first microsecond of the tick.
      const whole = Math.floor(moment * 1e6 + 0.01) / 1e6;
      moment = whole < start - SLACK ? Math.ceil(start * 1e6 - 0.01) / 1e6 : whole;
    } else called = true;
    latest = moment > latest ? (moment < end ? moment : end) : latest;
    intents.time[i] = latest;
  }
  driver!.taken?.(intents, who);
  return called;
}

/**
 * A press that is older than presses wait, and than any hitch of a page, and has been let go of by now, is none: it was made in a pause. One that is still held counts.
 * @param oldest the moment on the driver's clock before which a press is too old
 */
function dropStale(intents: Intents, oldest: number): void {
  const { action, time, value, count } = intents;
  for (let i = 0; i < count && time[i]! < oldest; i++) {
    if (!(value[i]! > 0) || action[i] === HOST) continue;
    for (let k = i + 1; k < count; k++)
      if (action[k] === action[i] && value[k] === 0) {
        if (time[k]! < oldest) value[i] = 0;
        break;
      }
  }
}
