import { valueOfKey, type Tuning } from 'apperin';
import { readCapture } from 'apperin/files';
import { fit, fitSketch, type Found } from 'apperin/lab';
import { messageOf } from './messages.js';

/** A capture, or a curve that was drawn (units, y up), and the tuning to start from. */
export type FitAsked =
  | { question: number; tuning: unknown; file: string; text: string; scale: number }
  | { question: number; tuning: unknown; sketch: readonly (readonly [number, number])[] };

/** A number that was found. */
export interface FoundNumber {
  key: string;
  value: unknown;
  /** Half of its interval; undefined where it has none. */
  within?: number;
  loose?: boolean;
}

export type FitTold =
  | {
      question: number;
      numbers: readonly FoundNumber[];
      tuning: Tuning;
      rms: number;
      cannotTell: readonly string[];
      yPoints: 'up' | 'down';
    }
  | { question: number; wrong: string };

/** Finds the numbers of a motion, beside the picture. */
self.onmessage = ({ data }: MessageEvent<FitAsked>) => {
  const { question } = data;
  const tuning = data.tuning as Tuning;
  const tell = (told: FitTold): void => self.postMessage(told);
  try {
    if ('sketch' in data) {
      const { height, riseTime, falling, rms, tuning: found } = fitSketch(data.sketch, tuning);
      const numbers: FoundNumber[] = [
        { key: 'jump.height', value: short(height) },
        { key: 'jump.riseTime', value: short(riseTime) },
        ...(falling === undefined ? [] : [{ key: 'gravity.falling', value: short(falling) }]),
      ];
      return tell({ question, numbers, tuning: found, rms, cannotTell: falling === undefined ? ['gravity.falling: draw the way down, too'] : [], yPoints: 'up' }); // prettier-ignore
    }
    const { file, text, scale } = data;
    const { found, tuning: made, residual, cannotTell, yPoints } = fit(readCapture(text, { file }), { scale, tuning });
    const keys = new Map<string, Found>();
    for (const [key, one] of Object.entries(found)) keys.set(key.replace(/\.\d+$/, ''), one);
    // What the tuning says by another number is told with that one.
    const numbers = [...keys].map(([key, { within, loose }]) => ({ key, value: valueOfKey(made, key), within, loose })).filter(({ value }) => value !== undefined); // prettier-ignore
    tell({ question, numbers, tuning: made, rms: residual.rms, cannotTell: cannotTell.map(({ key, why }) => `${key}: ${why}`), yPoints }); // prettier-ignore
  } catch (error) {
    tell({ question, wrong: messageOf(error) });
  }
};

const short = (value: number): number => Number(value.toPrecision(4));
