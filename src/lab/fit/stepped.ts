import type { UpFit } from './fit-up.js';
import { leastSquares, type Part, type Squares } from './squares.js';
import { frameOf, middleOf, priorOf, type Track } from './track.js';
import type { Flown } from './up/search.js';

/** The motion goes by frames. */
export interface Stepped {
  /** Frames per second. */
  rate: number;
  /** Speed before place or place before speed: both lead to the same places, only by different numbers. */
  order: 'either';
}

/** So many takeoffs at least, and so near to one another within a frame (their standard deviation, in frames), are no chance. */
const FEWEST = 6;
const TOGETHER = 0.06;
/** What is better by so many variances is so. */
const BETTER = 25;
/** No flight is longer, frames. */
const MOST = 1200;

/** The length of a frame, where takeoffs all come at the same moment of one, s; undefined where they do not. */
function frameOfTakeoffs(takeoffs: readonly { time: Float64Array; at: number }[]): number | undefined {
  const parts: number[] = [];
  const frames: number[] = [];
  for (const { time, at } of takeoffs) {
    const frame = frameOf(time);
    const i = time.findIndex((moment) => moment > at);
    if (i < 1) continue;
    parts.push((((time[i]! - at) / frame) % 1) + 1);
    frames.push(frame);
  }
  if (parts.length < FEWEST) return undefined;
  // Each is so far from the first, at most half a frame either way.
  const off = parts.map((part) => ((part - parts[0]! + 1.5) % 1) - 0.5);
  const mean = off.reduce((sum, one) => sum + one, 0) / off.length;
  const spread = Math.sqrt(off.reduce((sum, one) => sum + (one - mean) ** 2, 0) / off.length);
  return spread < TOGETHER ? middleOf(frames) : undefined;
} // prettier-ignore

/** Whether a motion goes by frames, as far as that shows. */
export function steppedOf(tracks: readonly Track[], { flown, keys, values }: UpFit): Stepped | null {
  const full = flown.filter(({ flight: { hops } }) => hops.length === 1 && hops[0]!.by === 'jump' && hops[0]!.held === undefined);
  const frame = frameOfTakeoffs(full.map(({ capture, flight }) => ({ time: tracks[capture]!.time, at: flight.hops[0]!.time })));
  if (frame === undefined) return null;
  const rate = Math.floor(1 / frame + 0.5);
  // An apex band hides at which speed a frame changes its gravity.
  if (keys.includes('gravity.apexSpeed') || keys.includes('gravity.fallSpeed')) return { rate, order: 'either' };
  const [H, T, f] = values as [number, number, number];
  const start = [(2 * H) / T, (2 * H) / (T * T), f];
  const [smooth, stepped] = [false, true].map((byFrames) => leastSquares(full.map((one) => steppedPart(one, tracks[one.capture]!, frame, byFrames)), start)) as [Squares, Squares];
  // Keys that are read once a frame begin on frames too: what goes on as smoothly as a motion in seconds is none of frames.
  return stepped.badness - smooth.badness > BETTER * Math.max(0.5, smooth.sum / smooth.samples) ? null : { rate, order: 'either' };
} // prettier-ignore

/** A full jump from the beginning of a frame on: launch speed, gravity, and how many times as much of it in a fall are shared; its own are the heights of both supports. */
function steppedPart({ flight, noise }: Flown, { time, y }: Track, frame: number, byFrames: boolean): Part {
  const { from, until, stood, lands, hops } = flight;
  const prior = priorOf(y.subarray(from, until));
  const first = time.findIndex((moment) => moment > hops[0]!.time - frame / 2);
  return {
    own: [stood, ...(Number.isNaN(lands) ? [] : [lands])],
    steps: [noise, noise],
    prior,
    weights: prior.slice(),
    miss([launch, gravity, falling], own) {
      const [g, f] = [gravity! * frame * frame, gravity! * falling! * frame * frame];
      const ground = own[1] ?? -Infinity;
      const heights: number[] = [0];
      // Each frame goes by what the one before did, less gravity: that of a fall from the first on that did not rise.
      let v = launch! * frame + (byFrames ? -g / 2 : 0);
      for (let height = 0, k = 0; k < MOST && (own[0]! + height > ground || v > 0); k++) {
        if (byFrames) {
          height += v;
          v -= v > 0 ? g : f;
        } else {
          const rest = v > 0 ? Math.min(1, v / g) : 0;
          const after = v - g * rest;
          height += v * rest - (g * rest * rest) / 2 + after * (1 - rest) - (f * (1 - rest) ** 2) / 2;
          v = after - f * (1 - rest);
        }
        heights.push(height);
      }
      return Float64Array.from({ length: until - from }, (_, i) => {
        const k = Math.floor((time[from + i]! - time[first]!) / frame + 0.5);
        const height = k <= 0 ? own[0]! : Math.max(ground, own[0]! + (heights[k] ?? -Infinity));
        return (y[from + i]! - (k > 0 && k >= heights.length ? ground : height)) / noise;
      });
    },
  };
} // prettier-ignore
