import type { Character } from '../stage/character.js';
import type { Stage } from '../stage/stage.js';
import { PHASES, POSES, type Phase, type PoseName, SUPPORTS, type Support } from '../state/layout.js';
import { type StageEvent, plainEvent } from './events.js';

/** One row of a trace: row 0 is the state at the start, row n the state after n ticks. */
export interface TraceRow {
  tick: number;
  time: number;
  x: number;
  y: number;
  vx: number;
  vy: number;
  support: Support;
  phase: Phase;
  pose: PoseName;
  facing: number;
  surface: string;
  mover: string;
  jumpsLeft: number;
  height: number;
  width: number;
  /** The offset of each mover, x and y in turn, units; NaN for one that is not there. */
  moved: readonly number[];
}

/**
 * The columns of a trace.
 * @example
 * ```ts
 * TRACE_COLUMNS.slice(0, 4) // ['tick', 'time', 'x', 'y']
 * ```
 */
export const TRACE_COLUMNS = [
  'tick', 'time', 'x', 'y', 'vx', 'vy', 'support', 'phase', 'pose', 'facing', 'surface', 'mover', 'jumpsLeft', 'height', 'width',
] as const satisfies readonly Exclude<keyof TraceRow, 'moved'>[]; // prettier-ignore

/** What a character did, tick by tick, and the events on the way. */
export interface Trace {
  rows: TraceRow[];
  events: Partial<StageEvent>[];
  /** The movers, in the order of `moved`: those of the level, then such as came later. */
  movers: readonly string[];
}

/**
 * Starts recording a character; `row()` adds the present state, and belongs behind every tick.
 * @example
 * ```ts
 * const trace = recordTrace(mill, hero);
 * mill.tick(1 / 60);
 * trace.row();
 * ```
 */
export function recordTrace(stage: Stage, who: Character): Trace & { row(): void; end(): void } {
  const rows: TraceRow[] = [];
  const events: Partial<StageEvent>[] = [];
  const end = stage.listen((event) => {
    if (event.who === who.name) events.push(plainEvent(event));
  });
  const movers = stage.movers.map(({ name }) => name);
  const row = (): void => {
    for (const { name } of stage.movers) if (!movers.includes(name)) movers.push(name);
    rows.push({
      tick: stage.ticks,
      time: stage.time,
      x: who.x,
      y: who.y,
      vx: who.vx,
      vy: who.vy,
      support: who.support,
      phase: who.phase,
      pose: who.pose,
      facing: who.facing,
      surface: who.surface,
      mover: who.mover,
      jumpsLeft: who.jumpsLeft,
      height: who.height,
      width: who.motion.width,
      moved: movers.flatMap((name) => {
        const mover = stage.movers.find((one) => one.name === name);
        return mover ? [mover.x, mover.y] : [NaN, NaN];
      }),
    });
  };
  row();
  return { rows, events, movers, row, end };
}

/**
 * The numbers of a trace row, for fingerprints.
 * @example
 * ```ts
 * recordTrace(mill, hero).rows.map(rowNumbers)
 * ```
 */
export function rowNumbers(row: TraceRow): number[] {
  return [
    row.x,
    row.y,
    row.vx,
    row.vy,
    row.facing,
    row.jumpsLeft,
    (PHASES as readonly string[]).indexOf(row.phase),
    (POSES as readonly string[]).indexOf(row.pose),
    SUPPORTS.indexOf(row.support),
    row.height,
    ...row.moved,
  ];
}
