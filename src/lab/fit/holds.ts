import { apexOf, arcPieces } from '../../core/index.js';
import { verticalOf, type Flight, type FlightPart, type Hop, type UpValues } from './flight.js';
import type { SeenFlight } from './seen.js';
import { ownErrors } from './squares.js';
import { middleOf } from './track.js';

/** Of the short hops at least this share must be as short as can be, or it does not show. */
const OFTEN = 0.4;

/** How high a jump in the air is, from how fast it begins. */
export function airHeight(airs: readonly SeenFlight[], rising: number): number {
  const speeds = airs.flatMap(({ flight, track: { time, y } }) =>
    flight.hops.slice(1).map((hop) => {
      const i = time.findIndex((moment) => moment > hop.time);
      const k = Math.min(time.length - 1, i + 3);
      return (y[k]! - y[i]!) / (time[k]! - time[i]!);
    }),
  );
  const speed = Math.max(1, middleOf(speeds));
  return (speed * speed) / (2 * rising);
}

/** How long a key is held for a jump of a height. */
export function heldFor(values: UpValues, apex: number): number {
  const motion = verticalOf(values);
  let [low, high] = [0, values['jump.riseTime']!];
  for (let i = 0; i < 30; i++) {
    const middle = (low + high) / 2;
    if (apexOf(arcPieces(motion, motion.launch, middle)).y < apex) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** The shortest of the hops, where several are as short as one another. */
export function tapsOf(flown: readonly { flight: Flight; part: FlightPart }[], shared: readonly number[]): Hop[] {
  const hops = flown
    .flatMap(({ part, flight }) => {
      const [hop] = flight.hops;
      if (typeof hop?.held !== 'number' || hop.by !== 'jump') return [];
      const at = Number.isNaN(flight.lands) ? 2 : 3;
      return [{ hop, held: hop.held, error: ownErrors(part, shared)[at]! }];
    })
    .filter(({ error }) => Number.isFinite(error))
    .sort((one, other) => one.held - other.held);
  let found: typeof hops = [];
  for (let count = 3; count <= hops.length; count++) {
    const some = hops.slice(0, count);
    const weights = some.map(({ error }) => 1 / (error * error));
    const total = weights.reduce((sum, one) => sum + one, 0);
    const middle = some.reduce((sum, { held }, i) => sum + held * weights[i]!, 0) / total;
    const off = some.reduce((sum, { held, error }) => sum + ((held - middle) / error) ** 2, 0) / (count - 1);
    if (off < 1.7 && some.every(({ held, error }) => Math.abs(held - middle) < 3 * error)) found = some;
  }
  return found.length >= OFTEN * hops.length ? found.map(({ hop }) => hop) : [];
} // prettier-ignore
