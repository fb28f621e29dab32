import { levenbergMarquardt } from 'ml-levenberg-marquardt';
import { Matrix, inverse } from 'ml-matrix';
import { exp, ln } from '../../core/index.js';
import { NORMAL, middleOf } from './track.js';

/** A stretch of samples: what all stretches have in common says how it goes, and besides that a few values of its own. */
export interface Part {
  /** Values of its own, as they are now; and steps by which a change of each shows. */
  own: number[];
  readonly steps: readonly number[];
  /** How much a sample counts; 0 leaves it out. What it counts before anything is known of it. */
  weights: Float64Array;
  readonly prior: Float64Array;
  /** By how much each sample misses, in standard deviations. */
  miss(shared: readonly number[], own: readonly number[]): Float64Array;
}

/** What least squares have come to. */
export interface Squares {
  shared: number[];
  /** Sum of squares of what counts, in standard deviations. */
  sum: number;
  /** How badly all is met, whatever counts: what two models are compared by, in variances. */
  badness: number;
  /** How many samples count. */
  samples: number;
  /** What is known of the shared values: the inverse of their covariance, with all else free. */
  information: Matrix;
}

/** Rounds of what is shared and what is not, and steps in each. */
const ROUNDS = 24;
const INNER = 8;
const AGAIN = 2;
/** What is left is more than noise where it is more than this many variances; up to this share of a sample's miss is that of the one before. */
const WAVES = 1.5;
const ALIKE = 0.98;
/** No step changes a value by more than this, of its logarithm. */
const MOST = 1;
/** Rounds that improve by less are the last: in variances, of which a whole one is what chance makes of one sample. */
const ENOUGH = 0.02;
/** Steps are halved down to this share; they may be worse by so little. */
const SHORTEST = 1 / 40;
const BACK = 1e-6;
/** Rounds get better by no more than so many times the last one. */
const HOPE = 5;
/** A sample that misses by more counts less; by more, and alone, not at all: standard deviations. */
const LESS = 3;
const NOTHING = 8;

/**
 * Least squares of many stretches at once. What is a stretch's own is found for each by itself; what is shared is then moved along with it, to first order (variable projection: Golub and
 * Pereyra 1973, in the form of Kaufman 1975).
 * @param start positive values; they are sought by their logarithms
 * @param options.rival what has no chance to be less bad than that is left early
 * @param options.each whether stretches are trusted that are far off as yet: else what most say is believed
 */
export function leastSquares(parts: readonly Part[], start: readonly number[], { rival = Infinity, each = false }: { rival?: number; each?: boolean } = {}): Squares {
  let shared = [...start];
  const bad = (): number => parts.reduce((total, part) => total + badnessOf(part, shared), 0);
  const samples = parts.reduce((total, { weights }) => total + weights.length, 0);
  for (const part of parts) settle(part, shared);
  let before = bad();
  for (let round = 0; round < ROUNDS && shared.length > 0 && parts.length > 0; round++) {
    weigh(parts, shared, each);
    const [from, owns] = [shared, parts.map(({ own }) => own)];
    const next = moved(parts, from);
    // A step that leads too far is halved until it is no step back.
    let now = Infinity;
    for (let share = 1; share > SHORTEST; share /= 2) {
      shared = from.map((value, i) => value * exp(share * ln(next[i]! / value)));
      parts.forEach((part, k) => (part.own = owns[k]!));
      for (const part of parts) settle(part, shared, round === 0 ? INNER : AGAIN);
      now = bad();
      if (now <= before * (1 + BACK)) break;
    }
    if (now > before * (1 + BACK)) {
      shared = from;
      parts.forEach((part, k) => (part.own = owns[k]!));
      break;
    }
    const gained = before - now;
    before = now;
    if (round > 0 && Math.abs(gained) <= ENOUGH * Math.max(now / samples, 1e-9)) break;
    if (round > 2 && now - HOPE * gained > rival) break;
  }
  for (const part of parts) settle(part, shared);
  return {
    shared,
    sum: parts.reduce((total, part) => total + squares(part, shared), 0),
    badness: parts.reduce((total, part) => total + badnessOf(part, shared), 0),
    samples: parts.reduce((total, { weights, prior }) => total + weights.reduce((count, weight, i) => count + (weight > 0.2 * prior[i]! ? prior[i]! : 0), 0), 0),
    information: slopesOf(parts, shared).information,
  };
} // prettier-ignore

function squares(part: Part, shared: readonly number[]): number {
  let sum = 0;
  const miss = part.miss(shared, part.own);
  for (let i = 0; i < miss.length; i++) sum += part.weights[i]! * miss[i]! ** 2;
  return sum;
}

/** What misses by far, as all samples miss, counts less; or as those of its own stretch do. */
function weigh(parts: readonly Part[], shared: readonly number[], each: boolean): void {
  const all = parts.map((part) => part.miss(shared, part.own));
  const usualOf = (of: Float64Array): number => Math.max(1, NORMAL * (middleOf(of.map(Math.abs)) || 0));
  const usual = usualOf(Float64Array.from(all.flatMap((one) => [...one])));
  parts.forEach(({ weights, prior }, k) => {
    const most = each ? usualOf(all[k]!) : usual;
    const miss = all[k]!;
    // What its neighbours miss by as much, the same way, is no error of one sample: the motion is not met there as yet.
    const isAlone = (i: number): boolean =>
      [i - 1, i + 1].every((n) => !((miss[n] ?? 0) * Math.sign(miss[i]!) > LESS * most));
    for (let i = 0; i < miss.length; i++) {
      const off = Math.abs(miss[i]!) / most;
      weights[i] = prior[i]! * (off < LESS ? 1 : off > NOTHING && isAlone(i) ? 0 : LESS / off);
    }
  });
}

/** What a stretch leaves, as a mean square: variances. */
export function missOf(part: Part, shared: readonly number[]): number {
  return part.miss(shared, part.own).reduce((sum, one) => sum + one * one, 0) / part.weights.length;
}

/** How badly a stretch is met, so that a few samples that are far off do not decide: a sum of squares where they are small, in variances; beyond that it grows evenly (Huber 1964). */
export function badnessOf(part: Part, shared: readonly number[]): number {
  const miss = part.miss(shared, part.own);
  let sum = 0;
  for (let i = 0; i < miss.length; i++) {
    const off = Math.abs(miss[i]!);
    sum += part.prior[i]! * (off < LESS ? off * off : LESS * (2 * off - LESS));
  }
  return sum;
}

const rows = (count: number): { x: number[]; y: number[] } => ({ x: Array.from({ length: count }, (_, i) => i), y: new Array<number>(count).fill(0) }); // prettier-ignore

/** Weighted, by root. */
function weighted(part: Part, shared: readonly number[], own: readonly number[]): Float64Array {
  const miss = part.miss(shared, own);
  for (let i = 0; i < miss.length; i++) miss[i]! *= Math.sqrt(part.weights[i]!);
  return miss;
}

/** Finds a stretch's own values. */
export function settle(part: Part, shared: readonly number[], most = INNER): void {
  const { own, steps, weights } = part;
  if (own.length === 0 || weights.length <= own.length) return;
  const found = minimum(weights.length, own.map(() => 0), most, (moved) => weighted(part, shared, own.map((value, i) => value + moved[i]! * steps[i]!))); // prettier-ignore
  part.own = own.map((value, i) => value + found[i]! * steps[i]!);
}

function minimum(count: number, initialValues: number[], maxIterations: number, miss: (at: readonly number[]) => Float64Array): number[] {
  try {
    return levenbergMarquardt(
      rows(count),
      (at) => {
        const found = miss(at as number[]);
        return (i) => found[i]!;
      },
      { initialValues, maxIterations, damping: 1e-2, gradientDifference: 1e-2, centralDifference: true, errorTolerance: 1e-9 },
    ).parameterValues;
  } catch {
    // Where nothing follows any of them there is no way to go.
    return initialValues;
  }
} // prettier-ignore

/** Moves what is shared, the stretches' own values along with it: a step of Gauss and Newton. */
function moved(parts: readonly Part[], shared: readonly number[]): number[] {
  const { information, gradient } = slopesOf(parts, shared);
  const step = covarianceOf(information).mmul(Matrix.columnVector(gradient));
  // What nothing hangs on stays.
  return shared.map((value, i) => value * exp(gradient[i] === 0 ? 0 : Math.min(MOST, Math.max(-MOST, -step.get(i, 0)))));
} // prettier-ignore

/** How a stretch changes with each of its own values, in steps of theirs. */
function changesOf(part: Part, shared: readonly number[]): Float64Array[] {
  const { own, steps } = part;
  return own.map((value, k) => {
    const at = (by: number): Float64Array => weighted(part, shared, own.map((one, i) => (i === k ? value + by * steps[k]! : one))); // prettier-ignore
    const [up, down] = [at(1e-2), at(-1e-2)];
    return up.map((one, i) => (one - down[i]!) / 2e-2);
  });
}

/** What a stretch's own values can do to it: an orthonormal base. */
function baseOf(part: Part, shared: readonly number[]): Float64Array[] {
  const base: Float64Array[] = [];
  for (const change of changesOf(part, shared)) {
    const column = without(change, base);
    const length = Math.sqrt(column.reduce((sum, one) => sum + one * one, 0));
    if (length > 1e-6) base.push(column.map((one) => one / length));
  }
  return base;
}

function without(vector: Float64Array, base: readonly Float64Array[]): Float64Array {
  for (const one of base) {
    let dot = 0;
    for (let i = 0; i < one.length; i++) dot += one[i]! * vector[i]!;
    for (let i = 0; i < one.length; i++) vector[i]! -= dot * one[i]!;
  }
  return vector;
}

/** What all stretches say of the logarithms of what is shared, their own values free: half the second derivatives of the sum of squares, and half the first. */
function slopesOf(parts: readonly Part[], shared: readonly number[]): { information: Matrix; gradient: number[] } {
  const size = shared.length;
  const information = Matrix.zeros(size, size);
  const gradient = shared.map(() => 0);
  const by = 1e-4;
  const dot = (one: Float64Array, other: Float64Array): number => one.reduce((sum, value, n) => sum + value * other[n]!, 0);
  for (const part of parts) {
    const base = baseOf(part, shared);
    const miss = weighted(part, shared, part.own);
    const columns = shared.map((_, k) => {
      const at = (way: number): Float64Array => weighted(part, shared.map((one, i) => (i === k ? one * exp(way * by) : one)), part.own);
      const [up, down] = [at(1), at(-1)];
      return without(up.map((one, i) => (one - down[i]!) / (2 * by)), base);
    });
    for (let i = 0; i < size; i++) {
      gradient[i]! += dot(columns[i]!, miss);
      for (let k = 0; k <= i; k++) {
        const both = information.get(i, k) + dot(columns[i]!, columns[k]!);
        information.set(i, k, both);
        information.set(k, i, both);
      }
    }
  }
  return { information, gradient };
} // prettier-ignore

/** How well each of a stretch's own values is known, as a standard deviation, what is shared being so. */
export function ownErrors(part: Part, shared: readonly number[]): number[] {
  const columns = changesOf(part, shared);
  const information = new Matrix(columns.map((one) => columns.map((other) => one.reduce((sum, value, n) => sum + value * other[n]!, 0)))); // prettier-ignore
  const covariance = covarianceOf(information);
  return part.steps.map((step, i) => step * Math.sqrt(covariance.get(i, i)));
}

/** The covariance of logarithms; infinite for what nothing is known of. */
function covarianceOf(information: Matrix): Matrix {
  const size = information.rows;
  const scale = Array.from({ length: size }, (_, i) => Math.sqrt(information.get(i, i)));
  const known = scale.flatMap((one, i) => (one > 1e-9 ? [i] : []));
  const found = Matrix.zeros(size, size);
  for (let i = 0; i < size; i++) if (!known.includes(i)) found.set(i, i, Infinity);
  if (known.length === 0) return found;
  const part = new Matrix(known.map((i) => known.map((k) => information.get(i, k) / (scale[i]! * scale[k]!) + (i === k ? 1e-12 : 0)))); // prettier-ignore
  const inverted = inverse(part);
  known.forEach((i, a) => known.forEach((k, b) => found.set(i, k, inverted.get(a, b) / (scale[i]! * scale[k]!))));
  return found;
}

/**
 * The covariance of the logarithms of what is shared, as large as what is left says.
 * @param isBare whether what is left says nothing of that: then as large as the noise does, at least
 */
export function covarianceFor(
  { information, sum, samples, shared }: Squares,
  parts: readonly Part[],
  isBare: boolean,
): Matrix {
  const free = samples - shared.length - parts.reduce((total, { own }) => total + own.length, 0);
  const left = sum / Math.max(1, free);
  return covarianceOf(information).mul(
    Math.max(isBare ? 1 : 1e-12, left) * (left > WAVES ? oftenAlike(parts, shared) : 1),
  );
}

/** How many samples in a row miss by the same, so that they say no more than one: from how each goes with the next, as if each followed from the one before (an autoregression of order 1). */
function oftenAlike(parts: readonly Part[], shared: readonly number[]): number {
  let [all, next] = [0, 0];
  for (const part of parts) {
    const miss = weighted(part, shared, part.own);
    for (let i = 1; i < miss.length; i++) {
      all += miss[i]! ** 2;
      next += miss[i]! * miss[i - 1]!;
    }
  }
  const share = Math.min(ALIKE, Math.max(0, all > 0 ? next / all : 0));
  return (1 + share) / (1 - share);
}
