import {
  compileOutlines,
  openStage,
  script,
  type AddOptions,
  type Character,
  type DrawnLevel,
  type Mover,
  type Outline,
  type Stage,
  type StageEvent,
  type Tuning,
} from 'apperin';
import { presses } from './simulate.js';

/** Levels put together of a few shapes, y up, and what happens in them. */

export type Drawing = Omit<DrawnLevel, 'yPoints'>;

/** Ticks a second at which contact has to be the same. */
export const TOUCH_RATES = [15, 60, 240, 1000];

/** A solid rectangle: its lower left corner, its size. */
export function block(x: number, y: number, width: number, height: number): Outline {
  return shape(x, y, x + width, y, x + width, y + height, x, y + height);
}

/** A solid by its corners, x and y in turn. */
export function shape(...corners: number[]): Outline {
  return { form: 'solid', points: pairs(corners) };
}

/** An open line by its corners. */
export function open(form: 'ground' | 'one-way' | 'line', ...corners: number[]): Outline {
  return { form, points: pairs(corners) };
}

function pairs(corners: readonly number[]): [number, number][] {
  return corners.flatMap((x, i): [number, number][] => (i % 2 === 0 ? [[x, corners[i + 1]!]] : []));
}

/** A mover that goes straight to an offset in so many seconds, after a pause, and stays there. */
export function sent(name: string, shapes: readonly Outline[], to: readonly [number, number], seconds: number, more: Partial<Mover> & { after?: number } = {}): Mover {
  const { after = 0, ...rest } = more;
  const lap = 4 * (seconds + after);
  return { name, shapes, route: { curve: [[0, 0, ...to]], lap, laps: 1, keyPoints: [0, 0, 1, 1], keyTimes: [0, after / lap, (after + seconds) / lap, 1] }, ...rest };
} // prettier-ignore

/** The mirror image of a level: x negated. */
export function mirrored(level: Drawing): Drawing {
  const outline = ({ points, ...rest }: Outline): Outline => ({
    ...rest,
    points: points.map(([x, y]) => [-x, y] as const).reverse(),
  });
  return {
    ...level,
    outlines: level.outlines.map(outline),
    ...(level.movers && {
      movers: level.movers.map((mover) => ({
        ...mover,
        shapes: mover.shapes.map(outline),
        ...(mover.route && {
          route: { ...mover.route, curve: mover.route.curve.map((piece) => piece.map((v, i) => (i % 2 === 0 ? -v : v))) },
        }),
      })),
    }),
    ...(level.zones && {
      zones: level.zones.map((zone) => ({
        ...zone,
        ...(zone.box && { box: [-zone.box[0] - zone.box[2], zone.box[1], zone.box[2], zone.box[3]] as const }),
        ...(zone.current && { current: [-zone.current[0], zone.current[1]] as const }),
      })),
    }),
    ...(level.surfaces && {
      surfaces: Object.fromEntries(
        Object.entries(level.surfaces).map(([name, { flow, ...rest }]) => [name, { ...rest, ...(flow === undefined ? {} : { flow: -flow }) }]),
      ),
    }),
    spawns: Object.fromEntries(
      Object.entries(level.spawns ?? {}).map(([name, { at, facing = 1 }]) => [name, { at: [-at[0], at[1]] as const, facing: -facing }]),
    ),
  };
} // prettier-ignore

/** The mirror image of presses. */
export function mirroredKeys(keys: string): string {
  return keys.replace(/left|right/g, (way) => (way === 'left' ? 'right' : 'left'));
}

export interface Played {
  stage: Stage;
  hero: Character;
  events: StageEvent[];
  /** Names of the events, without footfalls. */
  names: string[];
  /** Of the mirror image −1, so that places can be turned back. */
  side: number;
}

export interface Playing extends AddOptions {
  /** After each tick. */
  each?: (played: Played) => void;
  /** Before the first. */
  first?: (played: Played) => void;
}

/** Plays presses in a level for so long. */
export function playIn(
  level: Drawing,
  tuning: Tuning,
  keys: string,
  rate: number,
  seconds: number,
  { each, first, ...options }: Playing = {},
  side = 1,
): Played {
  const stage = openStage(compileOutlines({ yPoints: 'up', ...level }));
  const hero = stage.add(tuning, { driver: script(presses(keys)), ...options });
  const played: Played = { stage, hero, events: [], names: [], side };
  stage.listen((event) => {
    played.events.push({ ...event });
    if (event.event !== 'footfall') played.names.push(event.event);
  });
  first?.(played);
  for (let i = 0; i < seconds * rate - 1e-6; i++) {
    stage.tick(1 / rate);
    each?.(played);
  }
  return played;
}

/** The same, and its mirror image, at all rates. */
export function bothWays(
  level: Drawing,
  tuning: Tuning,
  keys: string,
  seconds: number,
  check: (played: Played, what: string) => void,
  options: Playing = {},
): void {
  for (const rate of TOUCH_RATES) {
    check(playIn(level, tuning, keys, rate, seconds, options, 1), `${rate} a second`);
    check(
      playIn(mirrored(level), tuning, mirroredKeys(keys), rate, seconds, options, -1),
      `${rate} a second, mirrored`,
    );
  }
}

const rounded = (value: number): string => (Math.round(value * 1e5) / 1e5 + 0).toFixed(5);

/** What happened and when, for a comparison between rates: moments to within 1e-7 s. */
export function told({ events, side }: Played, leaveOut: readonly string[] = []): string[] {
  return events
    .filter(({ event }) => event !== 'footfall' && !leaveOut.includes(event))
    .map(({ event, time, x, y, ...more }) => {
      const { side: on, mover, by, zone } = more as unknown as Partial<Record<string, string>>;
      const way = side < 0 && (on === 'left' || on === 'right') ? (on === 'left' ? 'right' : 'left') : on;
      return [event, time.toFixed(6), rounded(x * side), rounded(y), way, mover, by, zone].filter((one) => one !== undefined).join(' ');
    });
} // prettier-ignore
