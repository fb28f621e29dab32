import {
  compileTuning,
  openStage,
  recordPieces,
  recordTrace,
  script,
  startOf,
  type Ability,
  type InputRow,
  type Level,
  type OpenLevel,
  type Motion,
  type Opposed,
  type Trace,
  type TracePiece,
  type TraceRow,
  type Tuning,
} from '../core/index.js';
import type { Host } from './host.js';
import { withoutMissing } from './own.js';

export interface PlayOptions {
  level: OpenLevel;
  tuning: Tuning | Motion;
  input?: readonly InputRow[];
  /** Ticks per second; the recording's, or 60, unless given. */
  rate?: number;
  /** How long to play, s; two seconds beyond the last input unless given. */
  seconds?: number;
  /** A spawn's name, or the middle of the feet; the recording's, or `start`, unless given. */
  at?: string | readonly [number, number];
  facing?: number;
  /** Named shapes that are switched off (`false`) from the start. */
  shapes?: Readonly<Record<string, boolean>>;
  /** Both directions held; the recording's, or `still`, unless given. */
  opposed?: Opposed;
  /** Abilities of the game's own; numbers of others, under `own`, are left aside. */
  abilities?: readonly Ability[];
  /** What the game adds. */
  host?: Host;
}

/**
 * The longest play, ticks: beyond it a trace would not fit into memory.
 * @example
 * ```ts
 * MOST_TICKS // 5000000
 * ```
 */
export const MOST_TICKS = 5_000_000;

/** What was played, with its last row, its pieces of motion, and the rate. */
export type PlayedTrace = Trace & { last: TraceRow; pieces: readonly TracePiece[]; rate: number };

/** A play that goes on in parts, so that something else may happen between them. */
export interface Playing {
  /** How many ticks there are to play, and have been played. */
  readonly ticks: number;
  readonly done: number;
  /** Plays on by at most so many ticks. */
  run(most: number): void;
  /** What has been played so far. */
  readonly trace: PlayedTrace;
}

/**
 * Plays an input in a level and records what happened.
 * @throws TuningError, LevelError, or RangeError naming the argument that is out of range
 * @example
 * ```ts
 * const { events, last } = play({ level: openGround(), tuning: brindle, input: rows, seconds: 3 });
 * ```
 */
export function play(options: PlayOptions): PlayedTrace {
  const playing = beginPlay(options);
  playing.run(playing.ticks);
  return playing.trace;
}

/**
 * The same, part by part.
 * @throws TuningError, LevelError, or RangeError naming the argument that is out of range
 * @example
 * ```ts
 * const playing = beginPlay({ level: openGround(), tuning: brindle, seconds: 60 });
 * ```
 */
export function beginPlay({
  level,
  tuning,
  input = [],
  seconds,
  abilities = [],
  shapes = {},
  host,
  ...given
}: PlayOptions): Playing {
  const start = startOf(input);
  const {
    rate = start?.rate ?? 60,
    at = start?.spawn,
    facing = start?.facing,
    opposed = start?.opposed ?? 'still',
  } = given;
  if (!(rate >= 1 && rate <= 10000)) throw new RangeError(`rate is ${rate}; it must be 1 to 10000 ticks per second`);
  const length = seconds ?? input.reduce((latest, { time }) => Math.max(latest, time), 0) + 2;
  const ticks = Math.ceil(length * rate - 1e-6);
  if (!(length >= 0 && ticks <= MOST_TICKS))
    throw new RangeError(`seconds is ${length}; at ${rate} ticks per second it must be 0 to ${MOST_TICKS / rate}`);
  const stage = openStage(level);
  for (const [name, on] of Object.entries(shapes)) stage.setShape(name, on);
  const motion = 'launch' in tuning ? tuning : compileTuning(tuning);
  const who = stage.add(withoutMissing(motion, abilities), {
    driver: script(input),
    abilities,
    opposed,
    ...(at === undefined ? {} : { at }),
    ...(facing === undefined ? {} : { facing }),
  });
  host?.(stage, who);
  const { rows, events, movers, row } = recordTrace(stage, who);
  const motions = recordPieces(stage, who);
  let done = 0;
  return {
    ticks,
    get done() {
      return done;
    },
    run(most) {
      for (const until = Math.min(ticks, done + most); done < until; done++) {
        stage.tick(1 / rate);
        row();
      }
    },
    get trace() {
      return { rows, events, movers, last: rows[rows.length - 1]!, pieces: motions.pieces, rate };
    },
  };
}

/**
 * Open ground without end, for measures and figures.
 * @example
 * ```ts
 * play({ level: openGround(), tuning: brindle, seconds: 1 })
 * ```
 */
export function openGround(): Level {
  return { rows: ['@'], bounds: { bottom: 'wall' } };
}
