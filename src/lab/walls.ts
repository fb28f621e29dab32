import {
  apexOf,
  arcPieces,
  comingDown,
  launchFor,
  placeIn,
  type InputRow,
  type Level,
  type Motion,
  type TracePiece,
} from '../core/index.js';
import { partsOf, type ArcKnot } from './knots.js';
import { play } from './play.js';

/** A wall without end on the left, and nothing else. */
const WALL: Level = { rows: ['.'], bounds: { left: 'wall' } };
/** Ticks per second; the moments of events do not depend on it. */
const RATE = 50;
/** A jump that has not come back by then never does, s. */
const LONGEST = 30;

/** A jump off the wall at once, with a key held: away from it, or back toward it. */
function jumpOff(m: Motion, key: 'left' | 'right', seconds: number, rate = RATE) {
  const input: InputRow[] = [
    { time: 0, action: key, value: 1 },
    { time: 0, action: 'jump', value: 1 },
  ];
  return play({ level: WALL, tuning: m, input, rate, seconds, at: [m.half, 0] });
}

/**
 * Jumping off a wall with the key held back toward it: when it is touched again, and how much higher the feet are then.
 * @returns undefined where there are no wall jumps, or the body never comes back
 * @example
 * ```ts
 * wallReturn(compileTuning({ wall: {} }))?.gain
 * ```
 */
export function wallReturn(m: Motion): { time: number; gain: number } | undefined {
  if (m.wallJumps === 0) return undefined;
  const { events } = jumpOff(m, 'left', LONGEST);
  const back = events.find(({ event, time }) => event === 'bump' && time! > 0);
  return back && { time: back.time!, gain: -back.y! + 0 };
}

/** Wall jumps, as the knots of their curves: seconds since launch, units from the wall to the body's side, units up from the launch, and the velocity there. */
export interface WallCurves {
  /** With the key held away from the wall, until back at launch height. */
  away: ArcKnot[];
  /** With the key held back toward the wall, until it is touched again; empty where it never is. */
  back: ArcKnot[];
  jump: WallJump;
}

/**
 * The two extremes of a wall jump, as curves.
 * @example
 * ```ts
 * wallCurves(compileTuning({ wall: {} }))?.away.length
 * ```
 */
export function wallCurves(m: Motion): WallCurves | undefined {
  const { wall } = m.full;
  if (m.wallJumps === 0 || wall === undefined) return undefined;
  const level = comingDown(arcPieces(m, launchFor(m, wall.jump.height)), 0).time;
  const knots = (key: 'left' | 'right', time: number): ArcKnot[] => jumpOff(m, key, time, ENDS / time).pieces.flatMap((piece) => knotsOf(piece, m.half));
  const back = wallReturn(m);
  return { away: knots('right', level), back: back ? knots('left', back.time) : [], jump: wallJump(m)! };
} // prettier-ignore

/** A run of so many ticks ends at the very moment that is wanted. */
const ENDS = 96;

/** Both ends of a piece of motion; of one that fades, of parts of it that are so short that no picture shows a difference. */
function knotsOf(piece: TracePiece, half: number): ArcKnot[] {
  const { from, until, fades } = piece;
  const parts = partsOf(fades?.rate ?? 0, until - from);
  return Array.from({ length: parts + 1 }, (_, k) => {
    const time = k === parts ? until : from + ((until - from) * k) / parts;
    const { x, y, vx, vy } = placeIn(piece, time);
    return { time, x: x - half, y: -y + 0, vx, vy: -vy + 0 };
  });
}

/** What a wall jump does with the key held away from the wall. */
export interface WallJump {
  /** Units. */
  rise: number;
  /** Distance between the body's side and the wall at the apex, units. */
  outAtApex: number;
  /** Distance between two walls that are just close enough to go up between them, units. */
  widestShaft: number;
}

/**
 * The jump off a wall; nothing where there is none.
 * @example
 * ```ts
 * wallJump(compileTuning({ wall: {} }))?.rise
 * ```
 */
export function wallJump(m: Motion): WallJump | undefined {
  const { wall } = m.full;
  if (m.wallJumps === 0 || wall === undefined) return undefined;
  const arc = arcPieces(m, launchFor(m, wall.jump.height));
  const apex = apexOf(arc);
  // The rate is such that the moment asked for is that of a tick.
  const across = (time: number): number => jumpOff(m, 'right', time, Math.ceil(RATE * time) / time).last.x - m.half;
  return {
    rise: apex.y,
    outAtApex: across(apex.time),
    widestShaft: across(comingDown(arc, 0).time) + m.width,
  };
}
