import { marginOf, type PressMargin } from './margins.js';
import { trialOf, type Aim, type MarginOptions, type Trial } from './trial.js';

/** Holds that are looked at for each moment of a press, evenly. */
const HOLDS = 40;

/** Press against hold: which of both together still land where the input does. */
export interface PressMap {
  action: string;
  /** Which of the margins it is of, from 0. */
  index: number;
  margin: PressMargin;
  /** What each axis spans: by how much the press comes later, and how long it is held, s. */
  by: readonly [number, number];
  held: readonly [number, number];
  /** For each of some moments of the press, evenly across `by`: how long it may be held, from and to, s; there may be islands. */
  columns: readonly { by: number; spans: readonly (readonly [number, number])[] }[];
}

/** What a map of a press takes, beside the input. */
export interface PressMapOptions extends MarginOptions {
  /** Which of the presses that `margins` gives, from 0; the one with the narrowest window unless given. */
  index?: number;
  /** So many moments of the press, 2 to 1000; 96 unless given. */
  columns?: number;
}

/**
 * How a press and its hold go together: for each moment of the press holds in even steps, each played by the core, and their ends halved to a millisecond.
 * @throws as `margins`; RangeError where there is no such press, it is never let go of, or `columns` is out of range
 * @example
 * ```ts
 * pressMap({ level: yard, tuning: brindle, input: rows, index: 0 }).columns
 * ```
 */
export function pressMap({ index, columns = 96, ...options }: PressMapOptions): PressMap {
  if (!(Number.isInteger(columns) && columns >= 2 && columns <= 1000)) throw new RangeError(`columns is ${columns}; it must be 2 to 1000`);
  const trial = trialOf(options);
  const all = trial.presses.flatMap((press) => {
    const aim = trial.aimOf(press);
    return aim ? [{ press, aim }] : [];
  });
  if (index !== undefined && all[index] === undefined) throw new RangeError(`index is ${index}; there are ${all.length} presses that lead to a landing`);
  // Where it is not said which, all are looked at.
  const looked = all.map(({ press, aim }, i) => (index === undefined || index === i ? marginOf(trial, press, aim) : undefined));
  const windows = looked.map((one) => (one === undefined || one.until === null ? Infinity : (one.press.window ?? Infinity)));
  const which = index ?? windows.indexOf(Math.min(...windows));
  const margin = looked[which];
  if (margin === undefined || (index === undefined && windows[which] === Infinity)) throw new RangeError('no press of this input has a window and is let go of');
  const { at, until, hold } = margin;
  if (until === null) throw new RangeError(`the press of ${margin.action} at ${at} s is never let go of`);
  const { earliest, latest } = margin.press;
  const [early, late] = [earliest === null ? 0.3 : at - earliest, latest === null ? 0.3 : latest - at];
  const by = [-Math.min(at, 1.25 * early + 0.02), 1.25 * late + 0.02] as const;
  const held = [0, Math.max(1.5 * (until - at), 1.5 * (hold.least ?? 0), 0.2)] as const;
  return { action: margin.action, index: which, margin, by, held, columns: columnsOf(trial, all[which]!.aim, by, held, columns) };
} // prettier-ignore

/** For moments of a press how long it may be held: in steps first, and the ends between them to a millisecond. */
function columnsOf({ motion }: Trial, { at, until, reaches }: Aim, by: readonly [number, number], held: readonly [number, number], columns: number): PressMap['columns'] {
  const step = (held[1] - held[0]) / HOLDS;
  return Array.from({ length: columns }, (_, i) => {
    const later = by[0] + ((by[1] - by[0]) * (i + 0.5)) / columns;
    const lands = (hold: number): boolean => reaches(motion, later, hold - (until! - at));
    const spans: [number, number][] = [];
    let [was, before] = [false, held[0]];
    for (let k = 0; k <= HOLDS; k++) {
      const hold = held[0] + step * k + (k === 0 ? 1e-6 : 0);
      const is = lands(hold);
      if (is !== was) {
        let [low, high] = [before, hold];
        while (k > 0 && high - low > 0.001) {
          const middle = (low + high) / 2;
          if (lands(middle) === was) low = middle;
          else high = middle;
        }
        if (is) spans.push([k === 0 ? held[0] : high, held[1]]);
        else spans.at(-1)![1] = low;
      }
      [was, before] = [is, hold];
    }
    return { by: later, spans };
  });
} // prettier-ignore
