import { middleOf, type Track } from './track.js';

/** A motion as it was captured: places of one body, and what was held, at moments; all of one length. */
export interface Capture {
  /** s, rising. */
  time: readonly number[];
  /** The same point of the body at each moment, in lengths of the capture. */
  x: readonly number[];
  y: readonly number[];
  /** By action: what is held of it, −1 to 1. */
  keys?: Readonly<Record<string, readonly number[]>>;
  /** Where it comes from, to be named in errors. */
  name?: string;
}

/**
 * Something that no motion can be read from: the message says what is missing.
 * @example
 * ```ts
 * try {
 *   fit({ time: [0, 0.1], x: [0, 0], y: [0, 0] });
 * } catch (error) {
 *   if (error instanceof CaptureError) console.assert(error.message !== '');
 * }
 * ```
 */
export class CaptureError extends Error {
  override readonly name = 'CaptureError';
}

/** Fewer samples say nothing. */
const FEWEST = 12;
const MOST = 200_000;

/**
 * A capture in units, y up.
 * @param scale lengths of the capture in a unit: 16 where it is in pixels, and a unit has 16 of them
 * @throws CaptureError
 */
export function trackOf({ time, x, y, keys, name = 'the capture' }: Capture, scale: number, yPoints: 'up' | 'down'): Track {
  const { length } = time;
  if (x.length !== length || y.length !== length) throw new CaptureError(`${name}: time has ${length} values, x ${x.length} and y ${y.length}; they must have as many`);
  if (length < FEWEST) throw new CaptureError(`${name} has ${length} samples; a motion takes at least ${FEWEST} of them`);
  if (length > MOST) throw new CaptureError(`${name} has ${length} samples; at most ${MOST} are read`);
  const sign = (yPoints === 'up' ? 1 : -1) / scale;
  let twice = 0;
  for (let i = 0; i < length; i++) {
    for (const [what, of] of [['time', time], ['x', x], ['y', y]] as const) if (!Number.isFinite(of[i])) throw new CaptureError(`${name}: ${what} of sample ${i + 1} is ${of[i]}; it must be a number`);
    if (i > 0 && time[i]! < time[i - 1]!) throw new CaptureError(`${name}: time goes back at sample ${i + 1}, from ${time[i - 1]} to ${time[i]}; give each recording by itself, or the column that tells bodies apart (--who)`);
    if (i > 0 && time[i] === time[i - 1]) twice++;
  }
  if (twice > length / 4) throw new CaptureError(`${name}: of most moments there are several samples, as of several bodies; name the column that tells them apart (--who)`);
  const kept = time.flatMap((moment, i) => (i > 0 && moment === time[i - 1] ? [] : [i]));
  const pick = (of: readonly number[], by: number): Float64Array => Float64Array.from(kept, (i) => of[i]! * by + 0);
  const track: Track = {
    time: pick(time, 1),
    x: pick(x, 1 / scale),
    y: pick(y, sign),
    keys: keys && new Map(Object.entries(keys).map(([action, held]) => [action, pick(held, 1)])),
  };
  if (isMixed(track)) throw new CaptureError(`${name}: it is in two places by turns, as if two bodies were mixed; name the column that tells them apart (--who)`);
  if (track.x.every((place) => place === track.x[0]) && track.y.every((place) => place === track.y[0])) throw new CaptureError(`${name}: nothing moves in it; a jump or a run is needed`);
  return track;
} // prettier-ignore

/** Whether samples lie in two places by turns: each is nearer to the one after the next than to the next. */
function isMixed({ x, y }: Track): boolean {
  const far = (by: number): number => middleOf(x.subarray(by).map((_, i) => Math.max(Math.abs(x[i + by]! - x[i]!), Math.abs(y[i + by]! - y[i]!))));
  const next = far(1);
  return next > 0.5 && far(2) < next / 4;
} // prettier-ignore
