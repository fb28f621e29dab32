import type { AcrossFit } from './fit-across.js';
import type { UpFit } from './fit-up.js';
import type { Track } from './track.js';

/** What the fitted motion leaves: root of the mean square and the most, of what counts. */
export interface Residual {
  /** Units. */
  rms: number;
  most: number;
  /** The same in lengths of the capture. */
  captured: { rms: number; most: number };
  /** Samples that are far off what all others say: they do not count. */
  strays: number;
}

/** A capture, and the fitted motion beside it: units, y up. NaN where nothing was fitted. */
export interface FitCurve {
  time: number[];
  /** As it was captured. */
  x: number[];
  y: number[];
  /** As fitted. */
  fittedX: number[];
  fittedY: number[];
}

/** What is left out by less than this weight is a stray. */
const COUNTS = 0.4;

export function residualOf(tracks: readonly Track[], up: UpFit, across: AcrossFit, scale: number): { curves: FitCurve[]; residual: Residual } {
  let [sum, count, most, strays] = [0, 0, 0, 0];
  const curves = tracks.map(({ time, x, y }): FitCurve => ({ time: [...time], x: [...x], y: [...y], fittedX: new Array<number>(time.length).fill(NaN), fittedY: new Array<number>(time.length).fill(NaN) }));
  const take = (capture: number, from: number, of: 'x' | 'y', noise: number, miss: Float64Array, weights: Float64Array): void => {
    const curve = curves[capture]!;
    miss.forEach((one, i) => {
      const off = one * noise;
      (of === 'x' ? curve.fittedX : curve.fittedY)[from + i] = curve[of][from + i]! - off;
      if (weights[i]! < COUNTS) return void strays++;
      sum += off * off;
      count++;
      most = Math.max(most, Math.abs(off));
    });
  };
  for (const { capture, flight, noise, part } of up.flown) take(capture, flight.from, 'y', noise, part.miss(up.values, part.own), part.weights);
  for (const { capture, course, noise, part } of across.ran) take(capture, course.from, 'x', noise, part.miss(across.values, part.own), part.weights);
  // Where it stands nothing has to be fitted but how high.
  up.supports.forEach((supports, capture) => {
    const { fittedY, y } = curves[capture]!;
    for (const { from, until, y: height } of supports) for (let i = from; i < until; i++) if (Number.isNaN(fittedY[i]!) && Math.abs(y[i]! - height) < 1) fittedY[i] = height;
  });
  const rms = Math.sqrt(sum / Math.max(1, count));
  return { curves, residual: { rms, most, captured: { rms: rms * scale, most: most * scale }, strays } };
} // prettier-ignore
