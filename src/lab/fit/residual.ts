import type { AcrossFit } from './fit-across.js';
import type { UpFit } from './fit-up.js';

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

/** What is left out by less than this weight is a stray. */
export const COUNTS = 0.4;

/** @param strays samples that were left out before anything was fitted */
export function residualOf(up: UpFit, across: AcrossFit, scale: number, strays: number): Residual {
  const found = { sum: 0, count: 0, most: 0, strays };
  const take = (noise: number, miss: Float64Array, weights: Float64Array): void =>
    miss.forEach((one, i) => {
      if (weights[i]! < COUNTS) return void found.strays++;
      const off = Math.abs(one * noise);
      found.sum += off * off;
      found.count++;
      found.most = Math.max(found.most, off);
    });
  for (const { noise, part } of up.flown) take(noise, part.miss(up.values, part.own), part.weights);
  for (const { noise, part } of across.ran) take(noise, part.miss(across.values, part.own), part.weights);
  const { most } = found;
  const rms = Math.sqrt(found.sum / Math.max(1, found.count));
  return { rms, most, captured: { rms: rms * scale, most: most * scale }, strays: found.strays };
}
