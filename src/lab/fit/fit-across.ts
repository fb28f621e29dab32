import { ln } from '../../core/index.js';
import { coursePart, type AcrossKey, type Airborne, type Course, type Turn } from './across.js';
import { cut, speedAt, type Piece } from './pieces.js';
import { badnessOf, covarianceOf, leastSquares, settle, type Part, type Squares } from './squares.js';
import { isBare, noiseOf, type Track } from './track.js';
import type { Unexplained, Segment } from './supports.js';
import type { UpFit } from './fit-up.js';
import type { Matrix } from 'ml-matrix';

/** A stretch of running of one of the captures. */
export interface Ran {
  capture: number;
  course: Course;
  part: Part;
  noise: number;
}

/** What was found of motion across. */
export interface AcrossFit {
  keys: AcrossKey[];
  values: number[];
  covariance: Matrix;
  feel: 'steady' | 'eased';
  ran: Ran[];
  /** How often each was seen. */
  counts: Record<AcrossKey, number>;
  segments: Segment[];
  unexplained: (Unexplained & { capture: number })[];
}

/** Slower than this share of the run is standing; within this of it is running. */
const STANDS = 0.12;
const RUNS = 0.2;
/** A plateau is of so many samples at least, and changes its speed by less than this share of the run. */
const PLATEAU = 5;
const CHANGES = 0.6;
/** A short one less: a turn passes standing. */
const LONG = 12;
const BRIEFLY = 0.3;
/** Standing for so many samples parts two courses. */
const APART = 6;
const BETTER = 25;
const ODD = 5;

const NONE: Record<AcrossKey, number> = { 'run.speed': 0, 'run.upIn': 0, 'run.stopIn': 0, 'run.turnIn': 0, 'run.air.upIn': 0, 'run.air.stopIn': 0, 'run.air.turnIn': 0 }; // prettier-ignore

export function fitAcross(tracks: readonly Track[], up: UpFit): AcrossFit {
  const cuts = tracks.map(({ time, x }) => {
    const noise = noiseOf(time, x);
    return { noise, ...cut(time, x, noise, 8 + 2 * ln(time.length)) };
  });
  const segments: Segment[] = [];
  const unexplained: AcrossFit['unexplained'] = [];
  const none: AcrossFit = { keys: [], values: [], covariance: covarianceOf(leastSquares([], []).information), feel: 'steady', ran: [], counts: { ...NONE }, segments, unexplained };
  const speed = speedOf(tracks, cuts);
  if (!(speed > 0)) return none;
  const airborne = tracks.map((_, capture): Airborne => up.segments.filter((one) => one.capture === capture && one.kind === 'flight').map(({ from, to }) => [from, to] as const));
  const courses = tracks.flatMap((track, capture) => {
    const { noise, pieces } = cuts[capture]!;
    const seen = coursesOf(track, pieces, speed, noise);
    segments.push(...seen.segments.map((one) => ({ ...one, capture })));
    unexplained.push(...seen.unexplained.map((one) => ({ ...one, capture })));
    return seen.courses.map((course) => ({ capture, course, noise, track }));
  });
  if (courses.length === 0) return none;
  const count = (of: readonly { course: Course; capture: number }[]): Record<AcrossKey, number> => {
    const counts = { ...NONE };
    for (const { course, capture } of of) {
      let way: number = course.way;
      for (const turn of course.turns) {
        const flies = airborne[capture]!.some(([from, to]) => turn.time > from && turn.time < to);
        const key = (name: 'upIn' | 'stopIn' | 'turnIn'): AcrossKey => (flies ? `run.air.${name}` : `run.${name}`);
        if (turn.way === 0) counts[key('stopIn')]++;
        else if (way === -turn.way) counts[key('turnIn')]++;
        if (turn.way !== 0) counts[key('upIn')]++;
        way = turn.way;
      }
      if (course.way !== 0 || course.turns.some((turn) => turn.way !== 0)) counts['run.speed']++;
    }
    return counts;
  };
  const solve = (of: typeof courses, keys: readonly AcrossKey[], feel: 'steady' | 'eased', start: readonly number[], rival?: number): { squares: Squares; ran: Ran[] } => {
    const ran = of.map(({ capture, course, noise, track }) => ({ capture, course, noise, part: coursePart(course, keys, feel, airborne[capture]!, track.time, track.x, noise) }));
    return { ran, squares: leastSquares(ran.map(({ part }) => part), start, rival === undefined ? {} : { rival }) };
  };
  let used = courses;
  let counts = count(used);
  const keys = (Object.keys(NONE) as AcrossKey[]).filter((key) => counts[key] > 0);
  let least = Infinity;
  const ways = (['steady', 'eased'] as const).map((feel) => {
    const starts = [0.03, 0.08, 0.16, 0.35, 0.8].map((times) => {
      const shared = keys.map((key) => (key === 'run.speed' ? speed : times));
      let sum = 0;
      for (const { capture, course, noise, track } of used) {
        const part = coursePart(course, keys, feel, airborne[capture]!, track.time, track.x, noise);
        settle(part, shared, 4);
        sum += badnessOf(part, shared);
      }
      return { shared, sum };
    });
    const { shared } = starts.reduce((one, other) => (other.sum < one.sum ? other : one));
    const way = { feel, ...solve(used, keys, feel, shared, least) };
    least = way.squares.badness;
    return way;
  });
  const [steady, eased] = ways as [(typeof ways)[number], (typeof ways)[number]];
  let best = steady.squares.badness - eased.squares.badness > BETTER * Math.max(0.5, eased.squares.sum / eased.squares.samples) ? eased : steady;
  for (let round = 0; round < 2; round++) {
    const each = best.ran.map(({ part }) => part.miss(best.squares.shared, part.own).reduce((sum, one) => sum + one * one, 0) / part.weights.length);
    const usual = each.slice().sort((one, other) => one - other)[each.length >> 1]!;
    const odd = used.filter((_, i) => each[i]! > Math.max(ODD * usual, 4));
    if (odd.length === 0 || odd.length > used.length / 2) break;
    // A change that was missed, or one that was none, is looked for first.
    const mended = odd.filter(({ capture, course, noise, track }) => {
      const tried = otherTurns(course).map((turns) => {
        const part = coursePart({ ...course, turns }, keys, best.feel, airborne[capture]!, track.time, track.x, noise);
        settle(part, best.squares.shared, 12);
        return { turns, off: part.miss(best.squares.shared, part.own).reduce((sum, one) => sum + one * one, 0) / part.weights.length };
      });
      const one = tried.reduce((least, other) => (other.off < least.off ? other : least));
      course.turns = one.turns;
      return one.off <= Math.max(ODD * usual, 4);
    });
    for (const one of odd) if (!mended.includes(one)) unexplained.push({ capture: one.capture, from: one.track.time[one.course.from]!, to: one.track.time[one.course.until - 1]!, why: 'no tuning runs like that and like the rest' });
    used = used.filter((one) => !odd.includes(one) || mended.includes(one));
    counts = count(used);
    best = { feel: best.feel, ...solve(used, keys, best.feel, best.squares.shared) };
  }
  const free = best.squares.samples - keys.length - best.ran.reduce((sum, { part }) => sum + part.own.length, 0);
  const covariance = covarianceOf(best.squares.information).mul(Math.max(tracks.some(({ x }, i) => isBare(x, cuts[i]!.noise)) ? 1 : 1e-12, best.squares.sum / Math.max(1, free)));
  for (const { course, part } of best.ran) course.turns.forEach((turn, i) => (turn.time = part.own[i + 1]!));
  return { keys, values: best.squares.shared, covariance, feel: best.feel, ran: best.ran, counts, segments, unexplained };
} // prettier-ignore

/** The speed that is run at for longest. */
function speedOf(tracks: readonly Track[], cuts: readonly { pieces: Piece[]; noise: number }[]): number {
  const speeds: { speed: number; lasts: number }[] = [];
  cuts.forEach(({ pieces, noise }, c) => {
    const { time } = tracks[c]!;
    for (const piece of pieces) {
      const [begin, end] = [time[piece.from]!, time[piece.until - 1]!];
      const middle = Math.abs(speedAt(piece, (begin + end) / 2));
      if (piece.until - piece.from < PLATEAU || middle * (end - begin) < 6 * noise) continue;
      if (Math.abs(2 * piece.half * (end - begin)) < CHANGES * middle) speeds.push({ speed: middle, lasts: end - begin });
    }
  });
  const most = Math.max(0, ...speeds.map(({ speed }) => speed));
  const fast = speeds.filter(({ speed }) => speed > most / 2).sort((one, other) => one.speed - other.speed);
  const total = fast.reduce((sum, { lasts }) => sum + lasts, 0);
  let sum = 0;
  for (const { speed, lasts } of fast) if ((sum += lasts) >= total / 2) return speed;
  return 0;
} // prettier-ignore

/** Courses from rest to rest. */
function coursesOf({ time }: Track, pieces: readonly Piece[], speed: number, noise: number): { courses: Course[]; segments: Omit<Segment, 'capture'>[]; unexplained: Unexplained[] } {
  const segments: Omit<Segment, 'capture'>[] = [];
  const unexplained: Unexplained[] = [];
  // Each piece stands, runs one way or the other, or is on its way between: undefined; odd where it does neither for long.
  const ways = pieces.map((piece): -1 | 0 | 1 | undefined | 'odd' => {
    const [begin, end] = [time[piece.from]!, time[piece.until - 1]!];
    const middle = speedAt(piece, (begin + end) / 2);
    const change = Math.abs(2 * piece.half * (end - begin));
    if (piece.until - piece.from < PLATEAU || change > (piece.until - piece.from < LONG ? BRIEFLY : CHANGES) * speed) return undefined;
    if (Math.abs(middle) < Math.max(STANDS * speed, (2 * noise) / Math.max(end - begin, 1e-9))) return 0;
    if (Math.abs(Math.abs(middle) / speed - 1) < RUNS) return middle > 0 ? 1 : -1;
    return piece.until - piece.from > 12 && change < 0.15 * speed ? 'odd' : undefined;
  });
  pieces.forEach(({ from, until }, i) => {
    const way = ways[i];
    if (way === 'odd') unexplained.push({ from: time[from]!, to: time[until - 1]!, why: 'it runs at another speed' });
    else if (way !== undefined) segments.push({ kind: way === 0 ? 'rest' : 'run', from: time[from]!, to: time[until - 1]! });
  });
  const courses: Course[] = [];
  let open: Course = { from: 0, until: 0, way: 0, turns: [] };
  let way: -1 | 0 | 1 | undefined;
  let isOdd = false;
  const close = (until: number): void => {
    open.until = until;
    if (!isOdd && open.until - open.from > 2 * APART && (open.way !== 0 || open.turns.length > 0)) courses.push(open);
  };
  pieces.forEach((piece, i) => {
    const now = ways[i];
    const at = time[piece.from]!;
    if (now === 'odd') isOdd = true;
    if (now === 'odd' || now === undefined) {
      // Speeding up without ever running: a key held for a moment.
      const end = speedAt(piece, time[piece.until - 1]!);
      const next = ways.slice(i + 1).find((one) => one !== undefined && one !== 'odd');
      if (way === 0 && next === 0 && Math.abs(end) > 0.3 * speed && piece.until - piece.from > 2 && open.turns.at(-1)?.way !== Math.sign(end)) {
        open.turns.push({ time: at, way: end > 0 ? 1 : -1 });
        way = end > 0 ? 1 : -1;
      }
      return;
    }
    if (way === undefined) {
      way = now;
      open.way = now;
    }
    // On its way between the two it may have been at full speed for too short a time to be seen by itself.
    const between = fastestBetween(pieces, ways, i, time);
    const passed = Math.abs(between.speed) > 0.6 * speed ? ((between.speed > 0 ? 1 : -1) as 1 | -1) : 0;
    if (passed !== 0 && passed !== way && passed !== now) {
      open.turns.push({ time: startOf(pieces, ways, i, time), way: passed });
      open.turns.push({ time: between.time, way: now });
      way = now;
    }
    if (now !== way) {
      const turn: Turn = { time: startOf(pieces, ways, i, time), way: now };
      open.turns.push(turn);
      way = now;
    }
    if (now === 0 && piece.until - piece.from >= APART) {
      const middle = (piece.from + piece.until) >> 1;
      close(Math.min(piece.until, Math.max(middle, piece.from + APART)));
      open = { from: Math.max(middle, piece.until - 4 * APART), until: 0, way: 0, turns: [] };
      isOdd = false;
    }
  });
  close(time.length);
  return { courses, segments, unexplained };
} // prettier-ignore

/** What else the keys may have asked for: a stand between two ways, or one change fewer. */
function otherTurns({ way, turns }: Course): Turn[][] {
  const stands = turns.flatMap((turn, i) => {
    if (turn.way === 0 || (turns[i - 1]?.way ?? way) !== -turn.way) return [];
    return [0.1, 0.2, 0.35].map((lasts) => [...turns.slice(0, i), { time: turn.time, way: 0 as const }, { time: turn.time + lasts, way: turn.way }, ...turns.slice(i + 1)]);
  });
  return [turns, ...stands, ...turns.map((_, i) => turns.filter((_, k) => k !== i))];
} // prettier-ignore

/** How fast it was at most between the last time that it stood or ran and a piece, and when. */
function fastestBetween(pieces: readonly Piece[], ways: readonly unknown[], i: number, time: Float64Array): { speed: number; time: number } {
  let found = { speed: 0, time: NaN };
  for (let k = i - 1; k > 0 && ways[k] === undefined; k--) {
    const [piece, before] = [pieces[k]!, pieces[k - 1]!];
    const [begin, end] = [time[piece.from]!, time[piece.until - 1]!];
    const speeds = [[(begin + end) / 2, speedAt(piece, (begin + end) / 2)], ...(ways[k - 1] === undefined ? [[begin, (speedAt(piece, begin) + speedAt(before, begin)) / 2]] : [])] as [number, number][];
    for (const [at, speed] of speeds) if (Math.abs(speed) > Math.abs(found.speed)) found = { speed, time: at };
  }
  return found;
} // prettier-ignore

/** About when a change began: where what came before has ended. */
function startOf(pieces: readonly Piece[], ways: readonly unknown[], i: number, time: Float64Array): number {
  let k = i;
  while (k > 0 && ways[k - 1] === undefined) k--;
  return time[pieces[k]!.from]! - (k === i ? 0.02 : 0);
}
