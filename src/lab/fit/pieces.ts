import { ln } from '../../core/index.js';

/** A stretch of samples that goes at a constant acceleration: place, speed and half the acceleration at `at`. */
export interface Piece {
  from: number;
  /** The sample after its last one. */
  until: number;
  at: number;
  place: number;
  speed: number;
  half: number;
}

/** No piece is longer, samples. */
const LONGEST = 400;
/** What is further from both of its neighbours than so many standard deviations, while they agree, is an error of the capture. */
const STRAY = 6;
const BRIEF = 5;

export const placeAt = ({ at, place, speed, half }: Piece, time: number): number => place + (time - at) * (speed + (time - at) * half); // prettier-ignore
export const speedAt = ({ at, speed, half }: Piece, time: number): number => speed + 2 * (time - at) * half;

/** Values over time as pieces of constant acceleration, and which samples are none of the motion's. */
export interface Cut {
  pieces: Piece[];
  strays: number[];
}

/**
 * Cuts values over time into pieces; single samples that are far off are left out.
 * @param each what one more piece must gain, variances
 */
export function cut(
  time: Float64Array,
  values: Float64Array,
  noise: number,
  each = 10 + 4 * ln(values.length + 2),
): Cut {
  const kept = Array.from(values.keys());
  const strays: number[] = [];
  for (;;) {
    const [times, places] = [Float64Array.from(kept, (i) => time[i]!), Float64Array.from(kept, (i) => values[i]!)];
    const pieces = partition(times, places, noise, each);
    const stray = pieces.flatMap((_, p) => straysIn(pieces, p, times, places, noise));
    if (stray.length === 0) {
      for (const piece of pieces) [piece.from, piece.until] = [kept[piece.from]!, kept[piece.until - 1]! + 1];
      return { pieces, strays: strays.sort((one, other) => one - other) };
    }
    for (const i of stray.reverse()) strays.push(...kept.splice(i, 1));
  }
}

/** The one or two samples of a short piece that are off from what is before and after it, which goes on as if they were not there. */
function straysIn(pieces: readonly Piece[], p: number, time: Float64Array, values: Float64Array, noise: number): number[] {
  const [before, piece, after] = [pieces[p - 1], pieces[p]!, pieces[p + 1]];
  const length = piece.until - piece.from;
  if (length > BRIEF) return [];
  const long = [before, after].filter((one) => one !== undefined && one.until - one.from > 3) as Piece[];
  const all = [before, after].filter((one) => one !== undefined).length;
  if (long.length === 0 || long.length < all) return [];
  const most = STRAY * noise;
  const off: number[] = [];
  for (let i = piece.from; i < piece.until; i++) if (long.every((one) => Math.abs(placeAt(one, time[i]!) - values[i]!) >= most)) off.push(i);
  if (off.length === 0 || off.length > 2) return [];
  if (long.length === 1) return length === off.length ? off : [];
  const middle = (time[piece.from]! + time[piece.until - 1]!) / 2;
  const gap = Math.abs(placeAt(long[0]!, middle) - placeAt(long[1]!, middle));
  return gap < most || gap < 0.3 * Math.abs(placeAt(long[0]!, middle) - values[off[0]!]!) ? off : [];
} // prettier-ignore

/** The pieces with the least sum of squares, in standard deviations, and of numbers of pieces (optimal partitioning: Jackson et al. 2005). */
function partition(time: Float64Array, values: Float64Array, noise: number, each: number): Piece[] {
  const { length } = values;
  const best = new Float64Array(length + 1).fill(Infinity);
  const from = new Int32Array(length + 1);
  best[0] = 0;
  for (let i = 0; i < length; i++) {
    const sums = new Sums(time[i]!, values[i]!);
    const base = best[i]! + each;
    for (let k = i; k < Math.min(length, i + LONGEST); k++) {
      sums.add(time[k]!, values[k]!);
      const cost = sums.left() / (noise * noise);
      if (base + cost < best[k + 1]!) {
        best[k + 1] = base + cost;
        from[k + 1] = i;
      }
      // What is bad enough by now never gets better.
      if (cost > 12 * each) break;
    }
  }
  const pieces: Piece[] = [];
  for (let until = length; until > 0; until = from[until]!) {
    const first = from[until]!;
    const sums = new Sums(time[first]!, values[first]!);
    for (let k = first; k < until; k++) sums.add(time[k]!, values[k]!);
    pieces.unshift({ from: first, until, ...sums.curve() });
  }
  return pieces;
} // prettier-ignore

/** Sums of powers, from which the parabola of least squares follows. */
class Sums {
  private count = 0;
  private readonly t = new Float64Array(5);
  private readonly v = new Float64Array(3);
  private square = 0;

  constructor(
    private readonly start: number,
    private readonly base: number,
  ) {}

  add(time: number, value: number): void {
    const [t, v] = [time - this.start, value - this.base];
    let power = 1;
    for (let k = 0; k < 5; k++) {
      this.t[k]! += power;
      if (k < 3) this.v[k]! += power * v;
      power *= t;
    }
    this.square += v * v;
    this.count++;
  }

  /** Place, speed and half the acceleration at the start. */
  private solve(): [number, number, number] {
    const [n, a, b, c, d] = this.t as unknown as [number, number, number, number, number];
    const [p, q, r] = this.v as unknown as [number, number, number];
    if (this.count < 2) return [p, 0, 0];
    // What is left of t after a constant, of t² after both.
    const mean = a / n;
    const tt = b - a * mean;
    const tv = q - mean * p;
    if (this.count < 3) return [(p - (tv / tt) * a) / n, tv / tt, 0];
    const cross = c - mean * b;
    const slope = cross / tt;
    const ss = d - (b * b) / n - slope * cross;
    const sv = r - (b / n) * p - slope * tv;
    const half = ss > 0 ? sv / ss : 0;
    const speed = (tv - half * cross) / tt;
    return [(p - speed * a - half * b) / n, speed, half];
  }

  /** What a parabola leaves, as a sum of squares. */
  left(): number {
    if (this.count <= 3) return 0;
    const [place, speed, half] = this.solve();
    return Math.max(0, this.square - place * this.v[0]! - speed * this.v[1]! - half * this.v[2]!);
  }

  curve(): { at: number; place: number; speed: number; half: number } {
    const [place, speed, half] = this.solve();
    return { at: this.start, place: place + this.base, speed, half };
  }
}
