import type { VerticalMotion } from './vertical.js';

/**
 * The closed form of a jump on open ground: a list of pieces in which the acceleration is constant, or (on the
 * fall ramp) changes at a constant rate. Heights are units above the launch height, times seconds since launch.
 */

export type ArcPhase = 'rise' | 'apex' | 'released' | 'fall' | 'ramp' | 'cap';

/** A stretch of an arc under one acceleration. */
export interface ArcPiece {
  phase: ArcPhase;
  /** When it begins and how long it lasts, s; the last one lasts for ever. */
  start: number;
  time: number;
  /** Height and speed up at its beginning. */
  y: number;
  v: number;
  /** Acceleration (up is plus) and its rate of change. */
  a: number;
  j: number;
}

export interface ArcState {
  y: number;
  v: number;
}

/**
 * The pieces of a jump.
 * @param launch speed up at launch, units/s; above 0
 * @param letGo when the key is let go, s after launch; never, when left out
 * @example
 * ```ts
 * arcPieces(motion, motion.launch, 0.1) // let go of after 0.1 s
 * ```
 */
export function arcPieces(m: VerticalMotion, launch: number, letGo = Infinity): ArcPiece[] {
  const { pieces, at, add } = builder(launch);
  const release = Math.max(letGo, m.minHold);
  /** Slows from the present speed to `end`, or until the key is let go. */
  const held = (phase: ArcPhase, a: number, end: number): boolean => {
    const whole = (at.v - end) / a;
    if (at.t + whole <= release) {
      add(phase, -a, 0, whole, end);
      return true;
    }
    add(phase, -a, 0, release - at.t);
    return false;
  };
  const band = Math.min(m.band, launch);
  if (held('rise', m.rising, band) && held('apex', m.apex, 0)) {
    held('apex', m.apex, -Math.min(band, m.cap));
  } else {
    at.v *= m.cutTo;
    if (at.v > m.band) add('released', -m.releasedAbove, 0, (at.v - m.band) / m.releasedAbove, m.band);
    if (at.v > 0) add('released', -m.releasedBand, 0, at.v / m.releasedBand, 0);
  }
  addFall(m, at, add);
  return pieces;
}

/**
 * The pieces of a fall from rest: what happens after walking off an edge.
 * @example
 * ```ts
 * stateAt(fallPieces(motion), 0.5).y // how far it has fallen after half a second
 * ```
 */
export function fallPieces(m: VerticalMotion): ArcPiece[] {
  const { pieces, at, add } = builder(0);
  addFall(m, at, add);
  return pieces;
}

/** An empty list of pieces, where it has got to, and how to add the next one; `end` is the speed it ends with, if known exactly. */
function builder(v: number): { pieces: ArcPiece[]; at: ArcState & { t: number }; add: Add } {
  const pieces: ArcPiece[] = [];
  const at = { t: 0, y: 0, v };
  const add: Add = (phase, a, j, time, end) => {
    if (time <= 0) return;
    pieces.push({ phase, start: at.t, time, y: at.y, v: at.v, a, j });
    at.y += time * (at.v + time * (a / 2 + (time * j) / 6));
    at.v = end ?? at.v + time * (a + (time * j) / 2);
    at.t += time;
  };
  return { pieces, at, add };
}

type Add = (phase: ArcPhase, a: number, j: number, time: number, end?: number) => void;

function addFall(m: VerticalMotion, at: ArcState, add: Add): void {
  if (m.rampOver > 0 && at.v > -m.cap) {
    const rate = (m.rampTo - m.falling) / m.rampOver;
    const time = rampTime(at.v + m.cap, m.falling, rate);
    if (time <= m.rampOver) add('ramp', -m.falling, -rate, time, -m.cap);
    else add('ramp', -m.falling, -rate, m.rampOver);
  }
  const fall = m.rampOver > 0 ? m.rampTo : m.falling;
  if (at.v > -m.cap) add('fall', -fall, 0, (at.v + m.cap) / fall, -m.cap);
  add('cap', 0, 0, Infinity);
}

/** How long a ramp from `a`, growing at `rate`, takes to add `speed`; Infinity if it never does. */
function rampTime(speed: number, a: number, rate: number): number {
  const square = a * a + 2 * rate * speed;
  return square < 0 ? Infinity : (2 * speed) / (a + Math.sqrt(square));
}

/**
 * Height and speed at a moment.
 * @example
 * ```ts
 * stateAt(arcPieces(motion, motion.launch), 0.2)
 * ```
 */
export function stateAt(pieces: readonly ArcPiece[], time: number): ArcState {
  let piece = pieces[0]!;
  for (const next of pieces) if (next.start <= time) piece = next;
  const t = time - piece.start;
  return {
    y: piece.y + t * (piece.v + t * (piece.a / 2 + (t * piece.j) / 6)),
    v: piece.v + t * (piece.a + (t * piece.j) / 2),
  };
}

/**
 * The highest point: the first piece that begins at rest or coming down.
 * @example
 * ```ts
 * apexOf(arcPieces(motion, motion.launch)).y // the height of a full jump
 * ```
 */
export function apexOf(pieces: readonly ArcPiece[]): { time: number; y: number } {
  const piece = pieces.find(({ v }) => v <= 0)!;
  return { time: piece.start, y: piece.y };
}

/**
 * When the body comes down through a height, and how fast.
 * @param y units above launch; at most the apex height
 * @example
 * ```ts
 * comingDown(arcPieces(motion, motion.launch), 0).time // the time in the air
 * ```
 */
export function comingDown(pieces: readonly ArcPiece[], y: number): { time: number; speed: number } {
  for (const piece of pieces) {
    if (piece.v > 0) continue;
    const t = dropTime(piece, piece.y - y);
    if (t <= piece.time) return { time: piece.start + t, speed: -(piece.v + t * (piece.a + (t * piece.j) / 2)) };
  }
  return { time: NaN, speed: NaN };
}

/** How long a piece that is coming down takes to lose `drop` of height; Infinity if it never does. */
function dropTime(piece: ArcPiece, drop: number): number {
  if (drop <= 0) return 0;
  const { v, a, j } = piece;
  if (j === 0) return (2 * drop) / (-v + Math.sqrt(v * v - 2 * a * drop));
  const left = (t: number): number => drop + t * (v + t * (a / 2 + (t * j) / 6));
  if (left(piece.time) > 0) return Infinity;
  let low = 0;
  let high = piece.time;
  for (let i = 0; i < 100; i++) {
    const middle = low + (high - low) / 2;
    if (left(middle) > 0) low = middle;
    else high = middle;
  }
  return high;
}

/**
 * Seconds spent above a height.
 * @example
 * ```ts
 * timeAbove(arcPieces(motion, motion.launch), 2) // for so long it is more than two units up
 * ```
 */
export function timeAbove(pieces: readonly ArcPiece[], y: number): number {
  const down = comingDown(pieces, y).time;
  for (const piece of pieces) {
    const end = piece.y + piece.time * (piece.v + (piece.time * piece.a) / 2);
    if (piece.v <= 0) break;
    if (end < y) continue;
    const up = (2 * (y - piece.y)) / (piece.v + Math.sqrt(piece.v * piece.v + 2 * piece.a * (y - piece.y)));
    return down - (piece.start + up);
  }
  return NaN;
}
