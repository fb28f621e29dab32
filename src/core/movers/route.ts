import { STANDS } from '../tolerance.js';
import { LevelError, type Route } from '../terrain/level.js';
import { onGrid } from '../terrain/terrain.js';
import { FARTHEST } from '../tuning/keys.js';
import { type Progress, progressOf } from './progress.js';

/**
 * A route as pieces of constant acceleration: from `start[i]` (s into the lap) the offset is x + vx·t + ax·t²/2, and the same for y, which
 * points up. The next piece begins where one ends; `start` has one entry more than there are pieces, the lap itself.
 */
export interface CompiledRoute {
  readonly lap: number;
  readonly phase: number;
  /** Laps after which it stays; Infinity for none. */
  readonly laps: number;
  readonly start: Float64Array;
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly vx: Float64Array;
  readonly vy: Float64Array;
  readonly ax: Float64Array;
  readonly ay: Float64Array;
  /**
   * Where it stops, or turns round, in the order of the lap: two numbers each, when it comes there (s into the lap; below 0 where the pause began in the lap
   * before) and when it goes on. A way round without any has the place where its lap begins.
   */
  readonly stops: Float64Array;
  /** What the offset stays within: left, bottom, right, top. */
  readonly box: readonly [number, number, number, number];
}

/** What lies farther from the route than this share of its length is not its motion. */
const CLOSE = 1 / 8192;
/** The longest route: stretches, places on it. */
export const ROUTE_LIMITS = { stretches: 10_000, keys: 10_000 } as const;

/**
 * Compiles a route. On straight stretches even progress, and progress that changes evenly, are exact; all else is followed by pairs of parabolas
 * that have the place and the velocity of the route at both ends.
 * @param sign −1 where the level's y axis points down
 * @param where dotted path of the route, for errors
 * @throws LevelError naming the key that is wrong
 */
export function compileRoute(route: Route, sign: number, where: string): CompiledRoute {
  const refuse = (key: string, message: string): never => {
    throw new LevelError(`${where}.${key}`, message);
  };
  const { lap, curve, phase = 0, laps = Infinity } = route;
  if (!(lap >= 0.001 && lap <= 86400)) refuse('lap', `lap is ${lap}; it must be 0.001 to 86400 seconds`);
  if (!(Math.abs(phase) <= 86400)) refuse('phase', `phase is ${phase}; it must be within 86400 seconds`);
  if (!(laps > 0)) refuse('laps', `laps is ${laps}; it must be above 0`);
  if (curve.length === 0 || curve.length > ROUTE_LIMITS.stretches)
    refuse('curve', `the route has ${curve.length} stretches; it must have 1 to ${ROUTE_LIMITS.stretches}`);
  const stretches = curve.map((numbers, i) =>
    stretchOf(numbers, sign, (message) => refuse('curve', `stretch ${i} ${message}`)),
  );
  const total = stretches.reduce((sum, { length }) => sum + length, 0);
  if (total === 0) refuse('curve', 'the route has no length');
  const legs = legsOf(route, refuse);
  const list: number[] = [];
  for (const leg of legs) addLeg(leg, stretches, total, lap, list);
  const [fromX, fromY] = placeAt(stretches, legs[0]!.from * total, total);
  const [toX, toY] = placeAt(stretches, legs[legs.length - 1]!.to * total, total);
  const apart = Math.sqrt((toX - fromX) * (toX - fromX) + (toY - fromY) * (toY - fromY));
  if (laps > 1 && apart > total * 1e-6)
    refuse(
      'curve',
      'the route does not end where it begins, so the mover would jump: close it, or let it go there and back',
    );
  return finish(list, { lap, phase, laps });
}

/** From one place on the route to another, shares of its length, between two moments, shares of the lap. */
interface Leg {
  from: number;
  to: number;
  start: number;
  end: number;
  spline: readonly [number, number, number, number];
}

/** Progress that goes evenly. */
const EVEN = [1 / 3, 1 / 3, 2 / 3, 2 / 3] as const;

function legsOf(route: Route, refuse: (key: string, message: string) => never): Leg[] {
  const { keyPoints = [0, 1], keySplines } = route;
  const even = keyPoints.map((_, i) => i / (keyPoints.length - 1));
  const keyTimes = route.keyTimes ?? even;
  if (keyPoints.length < 2 || keyPoints.length > ROUTE_LIMITS.keys)
    refuse('keyPoints', `there are ${keyPoints.length} keyPoints; there must be 2 to ${ROUTE_LIMITS.keys}`);
  if (keyTimes.length !== keyPoints.length)
    refuse('keyTimes', `there are ${keyTimes.length} keyTimes for ${keyPoints.length} keyPoints`);
  if (keySplines && keySplines.length !== keyPoints.length - 1)
    refuse(
      'keySplines',
      `there are ${keySplines.length} keySplines; ${keyPoints.length} keyPoints need ${keyPoints.length - 1}`,
    );
  for (const point of keyPoints)
    if (!(point >= 0 && point <= 1)) refuse('keyPoints', `a key point is ${point}; it must be 0 to 1`);
  if (keyTimes[0] !== 0 || keyTimes[keyTimes.length - 1] !== 1) refuse('keyTimes', 'keyTimes must go from 0 to 1');
  const legs: Leg[] = [];
  for (let i = 0; i + 1 < keyPoints.length; i++) {
    const start = keyTimes[i]!;
    const end = keyTimes[i + 1]!;
    if (!(end >= start)) refuse('keyTimes', `keyTimes go back from ${start} to ${end}`);
    const spline = keySplines?.[i] ?? EVEN;
    for (const value of spline)
      if (!(value >= 0 && value <= 1))
        refuse('keySplines', `a control point of keySplines is ${value}; it must be 0 to 1`);
    if (end > start) legs.push({ from: keyPoints[i]!, to: keyPoints[i + 1]!, start, end, spline });
    else if (keyPoints[i] !== keyPoints[i + 1]) refuse('keyTimes', 'a mover cannot be at two places at one moment');
  }
  return legs;
}

/** A straight or curved part of the route, y up. */
interface Stretch {
  readonly length: number;
  readonly isLine: boolean;
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
  /** Place and unit direction at a distance from its start. */
  at(distance: number): readonly [number, number, number, number];
}

function stretchOf(numbers: readonly number[], sign: number, refuse: (message: string) => never): Stretch {
  if (numbers.length !== 4 && numbers.length !== 8) refuse(`has ${numbers.length} numbers; it must have 4 or 8`);
  const n = numbers.map((value, i) => {
    if (!(Math.abs(value) <= FARTHEST)) refuse(`reaches ${value}; it must stay within ±${FARTHEST}`);
    return onGrid(i % 2 === 0 ? value : value * sign);
  });
  const from = [n[0]!, n[1]!] as const;
  const to = [n[n.length - 2]!, n[n.length - 1]!] as const;
  if (n.length === 8) return bend(n, from, to);
  const dx = to[0] - from[0];
  const dy = to[1] - from[1];
  const length = Math.sqrt(dx * dx + dy * dy);
  const [ux, uy] = length > 0 ? [dx / length, dy / length] : [0, 0];
  return { length, isLine: true, from, to, at: (s) => [from[0] + ux * s, from[1] + uy * s, ux, uy] };
}

/** Points at which a curve's length is kept. */
const MARKS = 64;
/** Gauss's five points for the length between two of them. */
const GAUSS = [
  [0, 128 / 225],
  [0.5384693101056831, 0.47862867049936647],
  [-0.5384693101056831, 0.47862867049936647],
  [0.906179845938664, 0.23692688505618908],
  [-0.906179845938664, 0.23692688505618908],
] as const;

function bend(n: readonly number[], from: readonly [number, number], to: readonly [number, number]): Stretch {
  const place = (u: number, k: number): number => {
    const r = 1 - u;
    return r * r * r * n[k]! + 3 * r * r * u * n[2 + k]! + 3 * r * u * u * n[4 + k]! + u * u * u * n[6 + k]!;
  };
  const speed = (u: number, k: number): number => {
    const r = 1 - u;
    return 3 * (r * r * (n[2 + k]! - n[k]!) + 2 * r * u * (n[4 + k]! - n[2 + k]!) + u * u * (n[6 + k]! - n[4 + k]!));
  };
  const size = (u: number): number => Math.sqrt(speed(u, 0) * speed(u, 0) + speed(u, 1) * speed(u, 1));
  const between = (a: number, b: number): number => {
    let sum = 0;
    for (const [node, weight] of GAUSS) sum += weight * size((a + b) / 2 + (node * (b - a)) / 2);
    return (sum * (b - a)) / 2;
  };
  const lengths = [0];
  for (let i = 0; i < MARKS; i++) lengths.push(lengths[i]! + between(i / MARKS, (i + 1) / MARKS));
  const length = lengths[MARKS]!;
  const at = (s: number): readonly [number, number, number, number] => {
    let i = 0;
    while (i < MARKS - 1 && lengths[i + 1]! < s) i++;
    // Where so much of the length is gone: bisection, since a curve's speed may be nothing at an end.
    let [low, high] = [i / MARKS, (i + 1) / MARKS];
    const rest = s - lengths[i]!;
    for (let round = 0; round < 40; round++) {
      const middle = (low + high) / 2;
      if (between(i / MARKS, middle) < rest) low = middle;
      else high = middle;
    }
    const u = (low + high) / 2;
    let [vx, vy] = [speed(u, 0), speed(u, 1)];
    let v = Math.sqrt(vx * vx + vy * vy);
    if (!(v > 1e-9 * length)) {
      // A cusp, or a control point on its end: the way to a point nearby.
      const other = u < 0.5 ? u + 1e-4 : u - 1e-4;
      [vx, vy] = [
        (place(other, 0) - place(u, 0)) * (u < 0.5 ? 1 : -1),
        (place(other, 1) - place(u, 1)) * (u < 0.5 ? 1 : -1),
      ];
      v = Math.sqrt(vx * vx + vy * vy) || 1;
    }
    return [place(u, 0), place(u, 1), vx / v, vy / v];
  };
  return { length, isLine: false, from, to, at };
}

/** Adds the pieces of one leg: for each, when it begins (s into the lap), place, velocity, acceleration. */
function addLeg(leg: Leg, stretches: readonly Stretch[], total: number, lap: number, list: number[]): void {
  const start = leg.start * lap;
  const time = (leg.end - leg.start) * lap;
  if (leg.from === leg.to) {
    const [x, y] = placeAt(stretches, leg.from * total, total);
    list.push(start, x, y, 0, 0, 0, 0);
    return;
  }
  const way = leg.to > leg.from ? 1 : -1;
  const far = (leg.to - leg.from) * total * way;
  // Where the leg passes from one stretch to the next, as distances from where it begins.
  const ends: { from: number; to: number; stretch: Stretch; base: number }[] = [];
  let base = 0;
  for (const stretch of stretches) {
    const [low, high] = way > 0 ? [base, base + stretch.length] : [total - base - stretch.length, total - base];
    const began = way > 0 ? leg.from * total : total - leg.from * total;
    const from = Math.max(low - began, 0);
    const to = Math.min(high - began, far);
    if (to > from + 1e-12 * total) ends.push({ from, to, stretch, base });
    base += stretch.length;
  }
  if (way < 0) ends.reverse();
  const ease = progressOf(leg.spline);
  let u = 0;
  ends.forEach(({ from, to, stretch, base }, i) => {
    const last = i === ends.length - 1;
    const end = last ? 1 : ease.when(to / far);
    // The place on the stretch, and its direction the way that the leg goes.
    const at = (gone: number): readonly [number, number, number, number] => {
      const along = leg.from * total + way * gone - base;
      if (along <= 1e-12 * total) return [...stretch.from, ...turned(stretch.at(0), way)];
      if (along >= stretch.length - 1e-12 * total) return [...stretch.to, ...turned(stretch.at(stretch.length), way)];
      const found = stretch.at(along);
      return [found[0], found[1], ...turned(found, way)];
    };
    addStretch(
      { at, from, to, far, u, end, start, time, ease, exact: stretch.isLine && ease.exact, close: CLOSE * total },
      list,
    );
    u = end;
  });
}

function turned([, , dx, dy]: readonly [number, number, number, number], way: number): [number, number] {
  return [dx * way, dy * way];
}

function placeAt(stretches: readonly Stretch[], distance: number, total: number): readonly [number, number] {
  let base = 0;
  for (const stretch of stretches) {
    if (distance <= base + 1e-12 * total) return stretch.from;
    if (distance < base + stretch.length - 1e-12 * total) {
      const [x, y] = stretch.at(distance - base);
      return [x, y];
    }
    base += stretch.length;
  }
  return stretches[stretches.length - 1]!.to;
}

interface Part {
  at(gone: number): readonly [number, number, number, number];
  from: number;
  to: number;
  far: number;
  u: number;
  end: number;
  start: number;
  time: number;
  ease: Progress;
  exact: boolean;
  close: number;
}

/** The pieces of a leg within one stretch. */
function addStretch({ at, from, to, far, u, end, start, time, ease, exact, close }: Part, list: number[]): void {
  if (exact) {
    const [x, y, dx, dy] = at(from);
    const speed = (ease.speed(u) * far) / time;
    const change = (2 * (ease.at(1) - ease.speed(0)) * far) / (time * time);
    list.push(start + u * time, x, y, dx * speed + 0, dy * speed + 0, dx * change + 0, dy * change + 0);
    return;
  }
  const stateAt = (moment: number): readonly [number, number, number, number] => {
    const gone = moment === u ? from : moment === end ? to : Math.min(to, Math.max(from, ease.at(moment) * far));
    const [x, y, dx, dy] = at(gone);
    const speed = (ease.speed(moment) * far) / time;
    return [x, y, dx * speed, dy * speed];
  };
  const split = (
    a: number,
    b: number,
    p: readonly [number, number, number, number],
    q: readonly [number, number, number, number],
    deep: number,
  ): void => {
    const half = ((b - a) * time) / 2;
    const middle = stateAt((a + b) / 2);
    // Two parabolas with the place and velocity of both ends: they meet in the middle.
    const vx = (q[0] - p[0]) / half - (p[2] + q[2]) / 2;
    const vy = (q[1] - p[1]) / half - (p[3] + q[3]) / 2;
    const mx = p[0] + ((p[2] + vx) * half) / 2;
    const my = p[1] + ((p[3] + vy) * half) / 2;
    const off = (mx - middle[0]) * (mx - middle[0]) + (my - middle[1]) * (my - middle[1]);
    if (deep < 3 || (off > close * close && deep < 12)) {
      split(a, (a + b) / 2, p, middle, deep + 1);
      split((a + b) / 2, b, middle, q, deep + 1);
      return;
    }
    list.push(start + a * time, p[0], p[1], p[2] + 0, p[3] + 0, (vx - p[2]) / half + 0, (vy - p[3]) / half + 0);
    list.push(start + ((a + b) / 2) * time, mx, my, vx + 0, vy + 0, (q[2] - vx) / half + 0, (q[3] - vy) / half + 0);
  };
  split(u, end, stateAt(u), stateAt(end), 0);
}

function finish(list: readonly number[], more: { lap: number; phase: number; laps: number }): CompiledRoute {
  const count = list.length / 7;
  const column = (k: number): Float64Array => Float64Array.from({ length: count }, (_, i) => list[7 * i + k]!);
  const start = new Float64Array(count + 1);
  start.set(column(0));
  start[count] = more.lap;
  const [x, y, vx, vy, ax, ay] = [column(1), column(2), column(3), column(4), column(5), column(6)] as const;
  let [left, bottom, right, top] = [Infinity, Infinity, -Infinity, -Infinity];
  const add = (px: number, py: number): void => {
    [left, right] = [Math.min(left, px), Math.max(right, px)];
    [bottom, top] = [Math.min(bottom, py), Math.max(top, py)];
  };
  for (let i = 0; i < count; i++) {
    const length = start[i + 1]! - start[i]!;
    for (const t of [0, length, -vx[i]! / ax[i]!, -vy[i]! / ay[i]!])
      if (t >= 0 && t <= length) add(x[i]! + t * (vx[i]! + (t * ax[i]!) / 2), y[i]! + t * (vy[i]! + (t * ay[i]!) / 2));
  }
  return {
    ...more,
    start,
    x,
    y,
    vx,
    vy,
    ax,
    ay,
    stops: stopsOf(start, vx, vy, ax, ay),
    box: [left, bottom, right, top],
  };
}

function stopsOf(
  start: Float64Array,
  vx: Float64Array,
  vy: Float64Array,
  ax: Float64Array,
  ay: Float64Array,
): Float64Array {
  const count = vx.length;
  const length = (i: number): number => start[i + 1]! - start[i]!;
  const speed = (x: number, y: number): number => Math.abs(x) + Math.abs(y);
  let fastest = 0;
  for (let i = 0; i < count; i++) fastest = Math.max(fastest, speed(vx[i]!, vy[i]!));
  const none = STANDS * fastest;
  const rests = (i: number): boolean => speed(vx[i]!, vy[i]!) <= none && speed(ax[i]!, ay[i]!) * length(i) <= none;
  const list: number[] = [];
  for (let i = 0; i < count; i++) {
    if (rests(i)) continue;
    let before = (i + count - 1) % count;
    let paused = 0;
    for (; rests(before) && paused < start[count]!; before = (before + count - 1) % count) paused += length(before);
    const ux = vx[before]! + length(before) * ax[before]!;
    const uy = vy[before]! + length(before) * ay[before]!;
    const turns = ux * vx[i]! + uy * vy[i]! < 0 || (speed(ux, uy) <= none && speed(vx[i]!, vy[i]!) <= none);
    if (paused > 0 || turns) list.push(start[i]! - paused, start[i]!);
  }
  return Float64Array.from(list.length > 0 ? list : [0, 0]);
}
