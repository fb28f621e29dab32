import {
  acrossAt,
  acrossPieces,
  apexOf,
  arcPieces,
  comingDown,
  compileTuning,
  exp,
  launchFor,
  stateAt,
  type AcrossPiece,
  type ArcPhase,
  type InputRow,
  type Motion,
  type StageEvent,
  type TraceRow,
  type Tuning,
} from '../core/index.js';
import { partsOf, type ArcKnot, type ArcPoint } from './knots.js';
import { openGround, play } from './play.js';
import { runningLaunch } from './sheet.js';
import { wallCurves, type WallCurves } from './walls.js';

/** One jump, from its launch until it is back at launch height. */
export interface ArcCurve {
  /** Stretches of one gravity phase each, in order; each begins where the one before ends. */
  stretches: { phase: ArcPhase; points: ArcPoint[]; knots: ArcKnot[] }[];
  apex: ArcPoint;
  landing: ArcPoint;
}

/** The jumps of a tuning. */
export interface Arcs {
  name: string;
  motion: Motion;
  full: ArcCurve;
  tap: ArcCurve;
  /** Air jumps, each from the apex of the jump before it; points count from the first launch. */
  air: ArcCurve[];
  /** Jumps off a wall, where there are any. */
  wall?: WallCurves;
}

/**
 * The jumps of a tuning, launched at run speed with the key held, until back at launch height.
 * @example
 * ```ts
 * const { full, tap } = arcs('brindle', brindle);
 * full.apex.y // how high
 * ```
 */
export function arcs(name: string, tuning: Tuning | Motion): Arcs {
  const motion = 'launch' in tuning ? tuning : compileTuning(tuning);
  const launch = motion.full.charge ? launchFor(motion, motion.full.charge.highest) : runningLaunch(motion);
  const full = curve(motion, launch, Infinity);
  const air: ArcCurve[] = [];
  for (const next of motion.airLaunch) air.push(curve(motion, next, Infinity, (air.at(-1) ?? full).apex));
  const wall = wallCurves(motion);
  // A charge let go at once, or the key of a jump.
  const tap = motion.full.charge
    ? curve(motion, launchFor(motion, motion.full.charge.lowest), Infinity)
    : curve(motion, launch, 0);
  return { name, motion, full, tap, air, ...(wall ? { wall } : {}) };
}

/** Points of a stretch. */
const POINTS = 24;

function curve(m: Motion, launch: number, letGo: number, from: ArcPoint = { time: 0, x: 0, y: 0 }): ArcCurve {
  const pieces = arcPieces(m, launch, letGo);
  const across = acrossPieces(
    m.airLocked ? undefined : m.air,
    m.ground.speed,
    m.airLocked ? m.ground.speed : m.air.speed,
  );
  const end = comingDown(pieces, -from.y).time;
  const point = (time: number): ArcPoint => ({
    time: from.time + time,
    x: acrossAt(across, from.time + time).x,
    y: from.y + stateAt(pieces, time).y,
  });
  const stretches: ArcCurve['stretches'] = [];
  for (const { phase, start, time } of pieces) {
    if (start >= end) break;
    const until = Math.min(start + time, end);
    const points = Array.from({ length: POINTS + 1 }, (_, i) => point(start + ((until - start) * i) / POINTS));
    const knots = knotTimes(across, from.time + start, from.time + until).map((time): ArcKnot => {
      const { x, v } = acrossAt(across, time);
      // The last of a stretch goes as that did, whatever comes next.
      const { y, v: vy } = stateAt(pieces, Math.min(time - from.time, until - 1e-12));
      return { time, x, y: from.y + y, vx: v, vy };
    });
    const last = stretches[stretches.length - 1];
    if (last?.phase === phase) {
      last.points.push(...points.slice(1));
      last.knots.push(...knots.slice(1));
    } else stretches.push({ phase, points, knots });
  }
  return { stretches, apex: point(apexOf(pieces).time), landing: point(end) };
}

/** Moments between which the motion across is one piece, an eased one in parts. */
function knotTimes(across: ReturnType<typeof acrossPieces>, from: number, until: number): number[] {
  const times: number[] = [];
  for (const { start, time, rate } of across) {
    const parts = partsOf(rate, time);
    for (let k = 0; k < parts; k++) times.push(start + (Number.isFinite(time) ? (time * k) / parts : 0));
  }
  return [from, ...times.filter((time) => time > from && time < until), until];
}

/** One change of speed: how long it takes, how far it goes, and its course. */
export interface SpeedCurve {
  kind: 'run-up' | 'stop' | 'turn';
  medium: 'ground' | 'air';
  /** s */
  time: number;
  /** Ground covered, units; for a turn, how far it overshoots. */
  distance: number;
  points: { time: number; v: number }[];
  /** The same as knots, with the acceleration there, units/s²: between two of them the speed is a polynomial of time, or so near to one that no picture shows it. */
  knots: { time: number; v: number; a: number }[];
}

/** The changes of speed of a tuning. */
export interface SpeedCurves {
  name: string;
  motion: Motion;
  curves: SpeedCurve[];
}

/**
 * How speed across follows the keys: from rest to top speed, from there to rest, and round to the other way.
 * @example
 * ```ts
 * speedCurves('brindle', brindle).curves[0]!.time
 * ```
 */
export function speedCurves(name: string, tuning: Tuning | Motion): SpeedCurves {
  const motion = 'launch' in tuning ? tuning : compileTuning(tuning);
  const curves: SpeedCurve[] = [];
  for (const medium of ['ground', 'air'] as const) {
    if (medium === 'air' && motion.airLocked) continue;
    const rule = motion[medium];
    const { speed } = rule;
    for (const [kind, from, to] of [
      ['run-up', 0, speed],
      ['stop', speed, 0],
      ['turn', speed, -speed],
    ] as const) {
      const pieces = acrossPieces(rule, from, to);
      const last = pieces[pieces.length - 1]!;
      // Where a speed changes at once, the point before it shows from where.
      const points = [{ time: 0, v: from }];
      for (let i = 0; i <= 2 * POINTS; i++) {
        const time = (last.start * i) / (2 * POINTS);
        points.push({ time, v: acrossAt(pieces, time).v });
      }
      points.push({ time: last.start, v: to });
      const knots = [{ time: 0, v: from, a: 0 }, ...pieces.flatMap(speedKnots), { time: last.start, v: to, a: 0 }];
      const rest = pieces.find(({ v }) => v <= 0);
      curves.push({
        kind,
        medium,
        time: last.start,
        distance: kind === 'turn' ? (rest?.x ?? 0) : last.x,
        points,
        knots,
      });
    }
  }
  return { name, motion, curves };
}

/** Both ends of a piece of a changing speed; of one that dies away, of parts of it. */
function speedKnots({ start, time, v, a, u, d, rate }: AcrossPiece): SpeedCurve['knots'] {
  // The last has no end: there the speed stays.
  if (!Number.isFinite(time)) return [];
  const parts = partsOf(rate, time);
  return Array.from({ length: parts + 1 }, (_, k) => {
    const t = (time * k) / parts;
    const left = rate > 0 ? d * exp(-rate * t) : 0;
    return { time: start + t, v: rate > 0 ? u + left : v + a * t, a: rate > 0 ? -rate * left : a };
  });
}

/** A running jump over time, aligned at the press. */
export interface TimeCurves {
  name: string;
  motion: Motion;
  /** Rows with `time` counted from the press, and `y` as height above the ground. */
  rows: TraceRow[];
  events: (Partial<StageEvent> & { time: number })[];
}

/** Ticks per second of the curves over time. */
const RATE = 600;

/**
 * Runs up, jumps with the key held, lands, stops: simulated on open ground.
 * @example
 * ```ts
 * timeCurves('brindle', brindle).rows.length
 * ```
 */
export function timeCurves(name: string, tuning: Tuning | Motion): TimeCurves {
  const motion = 'launch' in tuning ? tuning : compileTuning(tuning);
  const pieces = acrossPieces(motion.ground, 0, motion.ground.speed);
  const press = Math.ceil((pieces[pieces.length - 1]!.start + 0.1) * 20) / 20;
  const air = comingDown(arcPieces(motion, motion.launch), 0).time;
  const land = press + air;
  const input: InputRow[] = [
    { time: 0, action: 'right', value: 1 },
    { time: press, action: 'jump', value: 1 },
    { time: land + 0.05, action: 'jump', value: 0 },
    { time: land + 0.05, action: 'right', value: 0 },
  ];
  const stop = acrossPieces(motion.ground, motion.ground.speed, 0);
  const seconds = land + 0.15 + Math.min(stop[stop.length - 1]!.start, 3);
  const { rows, events } = play({ level: openGround(), tuning: motion, input, rate: RATE, seconds });
  const ground = rows[0]!.y;
  return {
    name,
    motion,
    rows: rows.map((row) => ({ ...row, time: row.time - press, y: ground - row.y, vy: -row.vy + 0 })),
    events: events
      .filter(({ event }) => event !== 'footfall')
      .map((event) => ({ ...event, time: event.time! - press })),
  };
}
