import type { InputRow } from '../../core/index.js';
import type { Game, Node } from './game.js';
import type { Spoils } from './moves.js';
import type { Place } from './places.js';

/** What a proof must come to: a place that holds it up, or something that it covers or enters. */
export interface End {
  place?: Place;
  zone?: string;
  covers?: (x: number, y: number, height: number) => boolean;
}

/** A way that can be played again. */
export interface Proof {
  /** None of these can be left out. */
  rows: InputRow[];
  /** When it is there, s. */
  time: number;
  /** By so much, s, each row alone may come sooner or later; at most `MOST_CARE`. */
  care: number;
}

/** Care is looked for up to so much, and told so finely, s. */
export const MOST_CARE = 0.1;
const FINE_CARE = 0.001;
/** How long after its last row a proof may still be under way, s. */
const LATE = 8;

/** What was pressed has acted by then, s. */
const SOON = 0.25;

/** Plays rows from the start on, and says when an end is come to. */
export class Replay {
  constructor(
    private readonly game: Game,
    private readonly first: Node,
    private readonly end: End,
    private readonly spoils: Spoils,
  ) {}

  /**
   * When the end is come to, s; NaN where it is not.
   * @param latest after this moment it does not count
   */
  time(rows: readonly InputRow[], latest = (rows.at(-1)?.time ?? 0) + LATE): number {
    const { game, end, spoils } = this;
    const { hero, stage } = game;
    const { width } = game.motion;
    const isNear = ({ set, xs }: Place): boolean => set > 0 || (hero.x >= xs[0]! - width && hero.x <= xs.at(-1)! + width);
    const isUnder = (place: Place): boolean => hero.support === 'ground' && isNear(place) && game.places.under(hero, place) === place;
    game.from(this.first);
    game.play(rows);
    const still = game.level.movers.length === 0 && game.own.length === 0;
    const last = (rows.at(-1)?.time ?? 0) + SOON;
    while (stage.time < latest) {
      game.tick();
      for (const told of game.told) {
        if (spoils(told)) return NaN;
        if (end.place !== undefined && told.place === end.place) return told.time;
        if (end.zone !== undefined && told.event === 'enter' && told.zone === end.zone) return told.time;
      }
      if (end.place !== undefined && isUnder(end.place)) return stage.time;
      if (end.covers?.(hero.x, game.y, hero.height)) return stage.time;
      // Nobody presses anything any more, and nothing comes by.
      if (still && stage.time > last && hero.support === 'ground' && hero.vx === 0 && hero.vy === 0) return NaN;
    }
    return NaN;
  } // prettier-ignore
}

/** The rows of a way, fewer until none can be left out; and with how much care they must be played. */
export function proofOf(replay: Replay, all: readonly InputRow[]): Proof | undefined {
  const least = leastOf(replay, all);
  return least && { ...least, care: careOf(replay, least.rows, least.time) };
}

/** The rows of a way, fewer until none can be left out, and when they are there, s. */
export function leastOf(replay: Replay, all: readonly InputRow[]): Omit<Proof, 'care'> | undefined {
  let time = replay.time(all);
  if (Number.isNaN(time)) return undefined;
  let rows = all.filter((row) => row.time < time);
  for (let changed = true; changed;) {
    changed = false;
    for (let i = rows.length - 1; i >= 0; i--) {
      const { action } = rows[i]!;
      const off = rows.findIndex((row, k) => k > i && row.action === action);
      // A press with its release, then a row by itself.
      for (const without of off < 0 ? [[i]] : [[i, off], [i]]) {
        const fewer = rows.filter((_, k) => !without.includes(k));
        const then = replay.time(fewer, time + LATE);
        if (Number.isNaN(then)) continue;
        rows = fewer.filter((row) => row.time < then);
        time = then;
        changed = true;
        break;
      }
      i = Math.min(i, rows.length);
    }
  }
  return { rows, time };
}

/** How far each row alone may move, s. */
function careOf(replay: Replay, rows: readonly InputRow[], time: number): number {
  let care = MOST_CARE;
  const holds = (i: number, by: number): boolean => {
    const moved = rows.map((row, k) => (k === i ? { ...row, time: Math.max(0, row.time + by) } : row));
    moved.sort((one, other) => one.time - other.time);
    return !Number.isNaN(replay.time(moved, time + LATE));
  };
  for (let i = 0; i < rows.length; i++)
    for (const way of [-1, 1]) {
      if (holds(i, way * care)) continue;
      let [low, high] = [0, care];
      while (high - low > FINE_CARE) {
        const middle = (low + high) / 2;
        if (holds(i, way * middle)) low = middle;
        else high = middle;
      }
      care = Math.floor(low / FINE_CARE) * FINE_CARE;
      if (care === 0) return 0;
    }
  return care;
}
