import type { InputRow, Motion } from '../core/index.js';
import type { FrameNumbers } from './frame-numbers.js';
import { loopRule, playFrames, type FrameKeys } from './loop.js';
import { openGround, play } from './play.js';

/** One manoeuvre on level ground, with the same keys for a loop and for a tuning. */
export interface Manoeuvre {
  name: string;
  /** The highest that each comes, units, and how far apart these are, tiles. */
  height: { loop: number; tuning: number; apart: number };
  /** Where each is in the end, units; and the farthest that the two are apart across at any frame, in frames of top speed. */
  across: { loop: number; tuning: number; apart: number };
  /** When each is on the ground again, s; how far apart, frames. Absent where it does not jump. */
  landing?: { loop: number; tuning: number; apart: number };
}

/** Keys by frame: from each on, until the next. */
type Plan = readonly (readonly [frame: number, way: number, jump: boolean])[];

/** How long a run-up lasts, and everything after the last change of keys, s. */
const RUN_UP = 1;
const REST = 1.5;

/** So many of them need no run. */
const STANDING = 3;

/** What is played, from the frames of a second and of a full jump's rise. */
function plans(second: number, rise: number): readonly (readonly [string, Plan])[] {
  const tap = Math.max(1, whole(0.06 * second));
  const half = Math.max(1, whole(rise / 2));
  const run = whole(RUN_UP * second);
  const third = run + Math.max(1, whole(rise / 3));
  return [
    ['full jump', [[0, 0, true]]],
    ['tap', [[0, 0, true], [tap, 0, false]]],
    ['half jump', [[0, 0, true], [half, 0, false]]],
    ['run and stop', [[0, 1, false], [run, 0, false]]],
    ['turn', [[0, 1, false], [run, -1, false]]],
    ['running jump', [[0, 1, false], [run, 1, true]]],
    ['turn and let go in the air', [[0, 1, false], [run, 1, true], [third, -1, true], [run + whole(rise), 0, true]]],
  ];
} // prettier-ignore

/** Plays seven manoeuvres by a loop and by a tuning, key for key: each key changes at a frame. */
export function playedByBoth(f: FrameNumbers, motion: Motion): Manoeuvre[] {
  const { rate } = f;
  const speed = loopRule(f)?.speed ?? 0;
  const tile = motion.full.tile;
  const rise = motion.riseTime * rate;
  const all = plans(rate, rise);
  return (speed > 0 ? all : all.slice(0, STANDING)).map(([name, plan]) => {
    const jumps = plan.some(([, , jump]) => jump);
    const count = Math.ceil(plan.at(-1)![0] + REST * rate + (jumps ? 2 * rise : 0));
    const keys: FrameKeys[] = [];
    for (let n = 0, at = 0; n < count; n++) {
      while (at + 1 < plan.length && plan[at + 1]![0] <= n) at++;
      keys.push({ way: plan[at]![1], jump: plan[at]![2] });
    }
    const loop = playFrames(f, keys);
    const { rows, events } = play({ level: openGround(), tuning: motion, input: inputOf(plan, rate), rate, seconds: count / rate });
    const ys = rows.map(({ y }) => rows[0]!.y - y);
    const apart = rows.reduce((most, { x }, n) => Math.max(most, Math.abs(x - rows[0]!.x - loop.x[n]!)), 0);
    const highest = { loop: Math.max(...loop.y), tuning: Math.max(...ys) };
    const lands = { loop: loop.lands / rate, tuning: events.find(({ event }) => event === 'touchdown')?.time ?? NaN };
    return {
      name,
      height: { ...highest, apart: Math.abs(highest.loop - highest.tuning) / tile },
      across: { loop: loop.x.at(-1)!, tuning: rows.at(-1)!.x - rows[0]!.x, apart: speed === 0 ? 0 : apart / speed },
      ...(jumps ? { landing: { ...lands, apart: Math.abs(lands.loop - lands.tuning) * rate } } : {}),
    };
  });
} // prettier-ignore

function inputOf(plan: Plan, rate: number): InputRow[] {
  return plan.flatMap(([frame, way, jump]) => {
    const time = frame / rate;
    return [
      { time, action: 'right', value: way > 0 ? 1 : 0 },
      { time, action: 'left', value: way < 0 ? 1 : 0 },
      { time, action: 'jump', value: jump ? 1 : 0 },
    ];
  });
}

function whole(value: number): number {
  return Math.floor(value + 0.5);
}
