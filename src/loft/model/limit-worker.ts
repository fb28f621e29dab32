import { compileTuning, type Tuning } from 'apperin';
import { editDrawing, piecesOf, readLevel } from 'apperin/files';
import { survey } from 'apperin/lab';
import { messageOf } from './messages.js';

export interface LimitAsked {
  drawing: string;
  piece: number;
  way: 'farther' | 'higher';
  at: readonly [number, number];
  tuning: unknown;
  tile: number;
}

export type LimitTold = { tried: number } | { by: [number, number] } | { wrong: string };

/** What is spent on each place that is tried, events of the core. */
const SPEND = 20_000;
/** Farther than so many tiles nothing is moved; and so closely the limit is found, tiles. */
const FARTHEST = 16;
const FINE = 0.01;

const tell = (told: LimitTold): void => self.postMessage(told);

/** Moves a piece until it is just reached: farther or higher while it is reached, nearer or lower while it is not. */
self.onmessage = async ({ data: { drawing, piece, way, at, tuning, tile } }: MessageEvent<LimitAsked>) => {
  try {
    const motion = compileTuning(tuning as Tuning);
    let tried = 0;
    const { points } = piecesOf(drawing)[piece]!.outlines[0]!;
    const { yPoints } = readLevel(drawing, { file: 'level.svg' }).compiled;
    const up = yPoints === 'up' ? 1 : -1;
    const xs = points.map(([x]) => x);
    const middle = (Math.min(...xs) + Math.max(...xs)) / 2;
    const top = points.map(([, y]) => y).reduce((highest, y) => (y * up > highest * up ? y : highest));
    const away = middle >= at[0] ? 1 : -1;
    const by = (distance: number): [number, number] => (way === 'higher' ? [0, distance * up] : [distance * away, 0]);
    /** Whether the character gets to stand on it, moved by so much. */
    const isReached = async (distance: number): Promise<boolean> => {
      const [dx, dy] = by(distance);
      const moved = editDrawing(drawing, [{ move: piece, by: [dx, dy] }]);
      const { compiled } = readLevel(moved, { file: 'level.svg' });
      const to = [middle + dx, top + dy + up * 0.1 * motion.height] as const;
      const { survey: found } = await survey({ level: compiled, tuning: motion, at, to: [to], spend: SPEND, care: 0 });
      tell({ tried: ++tried });
      return found.targets[0]?.answer === 'yes';
    };
    const begun = await isReached(0);
    let [yes, no] = begun ? [0, NaN] : [NaN, 0];
    for (let step = tile; Math.abs(begun ? yes : no) < FARTHEST * tile && (Number.isNaN(yes) || Number.isNaN(no)); step *= 1.5) {
      const next = begun ? yes + step : no - step;
      if (await isReached(next)) yes = next;
      else no = next;
    }
    if (Number.isNaN(yes)) return tell({ wrong: `it is not reached ${FARTHEST} tiles nearer either` });
    if (Number.isNaN(no)) return tell({ wrong: `it is reached ${FARTHEST} tiles away, too` });
    while (Math.abs(no - yes) > FINE * tile) {
      const between = (yes + no) / 2;
      if (await isReached(between)) yes = between;
      else no = between;
    }
    // To whole hundredths, on the side that is reached.
    const whole = Math.floor((yes / tile) * 100 + 1e-9) / 100 * tile;
    tell({ by: by((await isReached(whole)) ? whole : yes) });
  } catch (error) {
    tell({ wrong: messageOf(error) });
  }
}; // prettier-ignore
