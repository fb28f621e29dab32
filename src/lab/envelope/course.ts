import type { ArcPiece } from '../../core/index.js';

/** A stretch of a height over time: `y`, speed `v`, acceleration `a` and its rate of change `j` where it begins. Times s, up is plus. */
export type Piece = Omit<ArcPiece, 'phase'>;

/** A height over time, from 0 on: each piece begins where the one before ends, and goes one way only. The last may last for ever. */
export type Course = readonly Piece[];

/** A span of time, s: its ends, and the course that crosses a height there, if one does. */
export interface Span {
  from: number;
  to: number;
  fromBy: Course | undefined;
  toBy: Course | undefined;
}

/** Slopes nearer than this are one, as a share of the largest. */
const SAME_SLOPE = 1e-12;
/** Where several change their acceleration at once, it is even over so small a part of the slopes. */
const PARTS = 64;

export const yIn = ({ y, v, a, j }: Piece, t: number): number => y + t * (v + t * (a / 2 + (t * j) / 6));
export const vIn = ({ v, a, j }: Piece, t: number): number => v + t * (a + (t * j) / 2);

/** The speed with which a piece ends. */
const endSpeed = (piece: Piece): number =>
  piece.time < Infinity ? vIn(piece, piece.time) : piece.a < 0 ? -Infinity : piece.v;

/** The number of the piece that holds at a moment; of heights, and of places across. */
export function pieceAt(pieces: readonly { start: number }[], time: number): number {
  let i = 0;
  while (i + 1 < pieces.length && pieces[i + 1]!.start <= time) i++;
  return i;
}

export function heightAt(course: Course, time: number): { y: number; v: number } {
  const piece = course[pieceAt(course, time)]!;
  const t = Math.min(time - piece.start, piece.time);
  return { y: yIn(piece, t), v: vIn(piece, t) };
}

/** When a piece is at a height, s since it began; NaN where it never is. */
export function reachesIn(piece: Piece, height: number): number {
  const up = height - piece.y;
  if (up === 0) return 0;
  const { v, a, j, time } = piece;
  if (j === 0) {
    const t = (2 * up) / (v + Math.sign(up) * Math.sqrt(Math.max(0, v * v + 2 * a * up)));
    // At its end a rounding may put it a hair beyond.
    return t >= 0 && t < Infinity && t <= time * (1 + 1e-12) ? Math.min(t, time) : NaN;
  }
  if ((yIn(piece, time) - height) * -up > 0) return NaN;
  let [low, high] = [0, time];
  for (let i = 0; i < 80; i++) {
    const middle = (low + high) / 2;
    if ((yIn(piece, middle) - height) * -up > 0) low = middle;
    else high = middle;
  }
  return high;
}

/** How long a piece takes until it has a speed, s; its acceleration is downward. */
function slowsIn({ v, a, j }: Piece, speed: number): number {
  const change = speed - v;
  return change === 0 ? 0 : (2 * change) / (a - Math.sqrt(Math.max(0, a * a + 2 * j * change)));
}

/** Until when a course is on one side of a height: spans of time up to a moment. @param side 1 above, −1 below; at it counts */
export function spansOn(course: Course, height: number, side: 1 | -1, until: number): Span[] {
  const marks: number[] = [0];
  for (const piece of course) {
    if (piece.start > until) break;
    const t = reachesIn(piece, height);
    if (!Number.isNaN(t) && piece.start + t <= until) marks.push(piece.start + t);
  }
  marks.push(until);
  const found: Span[] = [];
  const add = (from: number, to: number): void => {
    const last = found[found.length - 1];
    const by = (moment: number): Course | undefined => (moment > 0 && moment < until ? course : undefined);
    if (last !== undefined && last.to >= from) [last.to, last.toBy] = [to, by(to)];
    else found.push({ from, to, fromBy: by(from), toBy: by(to) });
  };
  for (let i = 0; i + 1 < marks.length; i++) {
    const [from, to] = [marks[i]!, marks[i + 1]!];
    if (to > from && (heightAt(course, (from + to) / 2).y - height) * side >= 0) add(from, to);
    // To touch it is to be there.
    else if (i > 0) add(from, from);
  }
  return found;
}

/** Times that are in one of some spans. */
export function either(...lists: readonly (readonly Span[])[]): Span[] {
  const sorted = lists.flat().sort((one, other) => one.from - other.from);
  const found: Span[] = [];
  for (const span of sorted) {
    const last = found[found.length - 1];
    if (last === undefined || last.to < span.from) found.push({ ...span });
    else if (span.to > last.to) [last.to, last.toBy] = [span.to, span.toBy];
  }
  return found;
}

/** Times that are in both. */
export function both(one: readonly Span[], other: readonly Span[]): Span[] {
  const found: Span[] = [];
  for (const a of one)
    for (const b of other) {
      const [from, fromBy] = a.from >= b.from ? [a.from, a.fromBy] : [b.from, b.fromBy];
      const [to, toBy] = a.to <= b.to ? [a.to, a.toBy] : [b.to, b.toBy];
      if (from <= to) found.push({ from, to, fromBy, toBy });
    }
  return found;
}

/** The first of a course. */
export function until(course: Course, time: number): Course {
  return course.filter(({ start }) => start < time).map((piece) => ({ ...piece, time: Math.min(piece.time, time - piece.start) }));
} // prettier-ignore

/** One course until a moment, then another from there on. */
export function then(first: Course, time: number, next: Course): Course {
  const { y } = heightAt(first, time);
  return [...until(first, time), ...next.map((piece) => ({ ...piece, start: piece.start + time, y: piece.y + y }))];
}

/** Builds a course piece by piece. */
function builder(): { course: Piece[]; at: { time: number; y: number }; add(time: number, v: number, a: number, j: number, rise?: number): void } {
  const course: Piece[] = [];
  const at = { time: 0, y: 0 };
  return {
    course,
    at,
    add(time, v, a, j, rise) {
      if (!(time > 0)) return;
      const piece = { start: at.time, time, y: at.y, v, a, j };
      course.push(piece);
      at.time += time;
      at.y += rise ?? yIn(piece, time) - at.y;
    },
  };
} // prettier-ignore

/**
 * The highest that can be got by flying several courses one after the other, each for as long as is best, at every moment. All slow down as they go: so each is flown until all have the
 * same speed up (the sum of two concave functions at its best: their slopes put in order), and of pieces with constant acceleration the accelerations add as conductors in parallel do.
 */
export function together(courses: readonly Course[]): Course {
  if (courses.length === 1) return courses[0]!;
  const slopes = [...new Set(courses.flat().flatMap((piece) => [piece.v, endSpeed(piece)]))].filter(Number.isFinite).sort((one, other) => other - one);
  const least = SAME_SLOPE * slopes.reduce((most, slope) => Math.max(most, Math.abs(slope)), 0);
  const { course, at, add } = builder();
  for (let i = 0; i < slopes.length; i++) {
    const high = slopes[i]!;
    for (const piece of courses.flat()) if (piece.a === 0 && piece.j === 0 && piece.v === high) add(piece.time, high, 0, 0);
    if (at.time === Infinity) break;
    const low = slopes[i + 1];
    if (low === undefined || high - low <= least) continue;
    const active = courses.flatMap((one) => one.filter((piece) => piece.a !== 0 || piece.j !== 0).filter((piece) => piece.v >= high - least && endSpeed(piece) <= low + least).slice(0, 1));
    if (active.length === 0) continue;
    const [only] = active;
    if (active.length === 1 && only) {
      const since = slowsIn(only, high);
      add(slowsIn(only, low) - since, high, only.a + only.j * since, only.j);
      continue;
    }
    if (active.every(({ j }) => j === 0)) {
      const a = 1 / active.reduce((sum, piece) => sum + 1 / piece.a, 0);
      add((low - high) / a, high, a, 0);
      continue;
    }
    for (let k = 0; k < PARTS; k++) {
      const [from, to] = [high + ((low - high) * k) / PARTS, high + ((low - high) * (k + 1)) / PARTS];
      let [time, rise] = [0, 0];
      for (const piece of active) {
        const [since, end] = [slowsIn(piece, from), slowsIn(piece, to)];
        time += end - since;
        rise += yIn(piece, end) - yIn(piece, since);
      }
      add(time, from, (to - from) / time, 0, rise);
    }
  }
  return course;
} // prettier-ignore

/** How long each of several courses is flown on the way that `together` finds, until all have a speed, s. */
export function flownUntil(course: Course, speed: number): number {
  for (const piece of course) {
    if (endSpeed(piece) > speed) continue;
    if (piece.v <= speed) return piece.start;
    return piece.start + slowsIn(piece, speed);
  }
  const last = course[course.length - 1]!;
  return last.start + last.time;
}
