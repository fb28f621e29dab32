import type { Route } from '../terrain/level.js';

/** How a mover goes along its route, as people say it. */
export interface Journey {
  lap: number;
  'there-and-back'?: boolean | undefined;
  stops?: readonly { at: number; for: number }[] | undefined;
  easing?: 'even' | 'smooth' | undefined;
}

/** Half a stretch of evenly changing speed, from rest, and to rest. */
const SPEEDS_UP = [1 / 3, 0, 2 / 3, 1 / 3] as const;
const SLOWS_DOWN = [1 / 3, 2 / 3, 2 / 3, 1] as const;

/**
 * The places on the way and their moments. Time without pauses is shared out by length.
 * @returns what is wrong, in words, where the pauses take the whole lap
 */
export function keysOf({
  lap,
  stops = [],
  easing = 'even',
  ...rest
}: Journey): Pick<Route, 'keyPoints' | 'keyTimes' | 'keySplines'> | string {
  const back = rest['there-and-back'] === true;
  const places = [...new Set([0, ...stops.map(({ at }) => at), 1])].sort((a, b) => a - b);
  const way = back ? [...places, ...places.slice(0, -1).reverse()] : places;
  const pauseAt = (place: number): number => stops.reduce((sum, stop) => (stop.at === place ? sum + stop.for : sum), 0);
  // There and back it ends where it begins: one pause there.
  const pauses = way.map((place, i) => (back && i === way.length - 1 ? 0 : pauseAt(place)));
  const paused = pauses.reduce((sum, pause) => sum + pause, 0);
  if (paused >= lap) return `the stops take ${paused} of the lap's ${lap} seconds; some must be left to move`;
  const length = back ? 2 : 1;
  const keyPoints: number[] = [];
  const keyTimes: number[] = [];
  const keySplines: [number, number, number, number][] = [];
  const even: [number, number, number, number] = [0, 0, 1, 1];
  let time = 0;
  const add = (place: number, spline: readonly [number, number, number, number]): void => {
    if (keyPoints.length > 0) keySplines.push([...spline]);
    keyPoints.push(place);
    keyTimes.push(Math.min(time / lap, 1));
  };
  way.forEach((place, i) => {
    if (i > 0) {
      const before = way[i - 1]!;
      const takes = (Math.abs(place - before) / length) * (lap - paused);
      if (easing === 'smooth') {
        time += takes / 2;
        add((place + before) / 2, SPEEDS_UP);
        time += takes / 2;
        add(place, SLOWS_DOWN);
      } else {
        time += takes;
        add(place, even);
      }
    } else add(place, even);
    if (pauses[i]! > 0) {
      time += pauses[i]!;
      add(place, even);
    }
  });
  keyTimes[keyTimes.length - 1] = 1;
  return { keyPoints, keyTimes, ...(easing === 'smooth' ? { keySplines } : {}) };
}
