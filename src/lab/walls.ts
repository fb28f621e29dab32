import { apexOf, arcPieces, comingDown, launchFor, type InputRow, type Level, type Motion } from '../core/index.js';
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
 */
export function wallReturn(m: Motion): { time: number; gain: number } | undefined {
  if (m.wallJumps === 0) return undefined;
  const { events } = jumpOff(m, 'left', LONGEST);
  const back = events.find(({ event, time }) => event === 'bump' && time! > 0);
  return back && { time: back.time!, gain: -back.y! + 0 };
}

/** Points of a wall jump: seconds since launch, units from the wall to the body's side, units up from the launch. */
export interface WallCurves {
  /** With the key held away from the wall, until back at launch height. */
  away: { time: number; x: number; y: number }[];
  /** With the key held back toward the wall, until it is touched again; empty where it never is. */
  back: { time: number; x: number; y: number }[];
  jump: WallJump;
}

/** The two extremes of a wall jump, as curves. */
export function wallCurves(m: Motion): WallCurves | undefined {
  const { wall } = m.full;
  if (m.wallJumps === 0 || wall === undefined) return undefined;
  const level = comingDown(arcPieces(m, launchFor(m, wall.jump.height)), 0).time;
  const points = (key: 'left' | 'right', time: number) =>
    jumpOff(m, key, time, POINTS / time).rows.map((row) => ({ time: row.time, x: row.x - m.half, y: -row.y + 0 }));
  const back = wallReturn(m);
  return { away: points('right', level), back: back ? points('left', back.time) : [], jump: wallJump(m)! };
}

/** Points of a curve. */
const POINTS = 96;

/** What a wall jump does with the key held away from the wall. */
export interface WallJump {
  /** Units. */
  rise: number;
  /** Distance between the body's side and the wall at the apex, units. */
  outAtApex: number;
  /** Distance between two walls that are just close enough to go up between them, units. */
  widestShaft: number;
}

/** The jump off a wall; nothing where there is none. */
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
