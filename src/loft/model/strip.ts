import { barsOf, type Bar } from './presses.js';
import type { Session } from './session.js';
import type { Shown } from './shown.js';
import { within } from './watched.js';
import type { Ghost, Way } from './take.js';

/** The last seconds that are seen while nothing is taken, s. */
export const LATELY = 8;

/** What can be held when a take begins. */
const ACTIONS = ['left', 'right', 'up', 'down', 'jump', 'glide', 'walk'] as const;

/** One tuning on the strip. */
export interface StripLine extends Pick<Way, 'pieces' | 'events'> {
  name: string;
  /** What it is drawn as: the present tuning, the one before, or a ghost from 0 to 3. */
  as: 'after' | 'before' | number;
}

/** What the strip of time shows. */
export interface Strip {
  /** s of stage time */
  from: number;
  to: number;
  /** −1 where y points down. */
  up: number;
  lines: readonly StripLine[];
  bars: readonly Bar[];
  /** Whether bars can be dragged: of a take, or of what was just played. */
  isHeld: boolean;
  rate: number;
  /** In words. */
  what: string;
}

/** The bars of a strip of which something is seen. */
export function barsIn({ bars }: Strip, { from, to }: { from: number; to: number }): Bar[] {
  return bars.filter(({ at, until }) => until > from && at < to);
}

/**
 * What it shows: of a touched number its scene before and after, else the take with every ghost, else what was played last.
 * @param actions of abilities of the game's own
 * @param asPressed how the take went before a press was moved
 */
export function stripOf(session: Session, shown: Shown | undefined, key: string, actions: readonly string[] = [], asPressed?: Ghost): Strip {
  const { take, ghosts, live, past, stage, rate, steps } = session;
  const up = session.level.yPoints === 'up' ? 1 : -1;
  if (shown && shown.ways.length > 0) {
    const lines = shown.ways.map(({ pieces, events }, i): StripLine => {
      const isLast = i === shown.ways.length - 1;
      return { name: isLast ? 'after' : 'before', pieces, events, as: isLast ? 'after' : 'before' };
    });
    const last = shown.ways.at(-1)!;
    const { from, to } = last;
    return { from, to, up: -1, lines, bars: barsOf(last.input, from, to), isHeld: false, rate: 120, what: `${key}: ${shown.what}; before and after` };
  }
  if (take) {
    const lines = [
      ...ghosts.map((ghost, i): StripLine => ({ ...ghost, as: i % 4 })),
      ...(asPressed ? [{ ...asPressed, as: 'before' } as const] : []),
      ...(live ? [{ ...live, as: 'after' } as const] : []),
    ];
    return { from: take.from, to: take.to, up, lines, bars: barsOf(take.rows, take.from, take.to, [...ACTIONS, ...actions].filter((action) => take.origin.characters[0]!.held(action) !== 0)), isHeld: true, rate: take.rate, what: 'the take: drag a press, or its end' };
  }
  const [from, to] = [Math.max(0, stage.time - LATELY), Math.max(stage.time, 1 / rate)];
  const lines: StripLine[] = [{ name: 'played', pieces: within(past.pieces, from, to), events: past.events.filter(({ time }) => time >= from), as: 'after' }];
  return { from, to, up, lines, bars: barsOf(past.rows, from, to).filter(({ until }) => until > from).map((bar) => ({ ...bar, at: Math.max(bar.at, from) })), isHeld: steps.paused, rate, what: `the last ${LATELY} seconds${steps.paused ? ': drag a press to play them anew' : ''}` };
} // prettier-ignore
