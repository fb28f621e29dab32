import type { Course, Turn } from './across.js';
import { speedAt, type Piece } from './pieces.js';
import type { Segment, Unexplained } from './supports.js';
import type { Track } from './track.js';

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

/** The speed that is run at for longest. */
export function speedOf(tracks: readonly Track[], cuts: readonly { pieces: Piece[]; noise: number }[]): number {
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
export function coursesOf({ time }: Track, pieces: readonly Piece[], speed: number, noise: number): { courses: Course[]; segments: Omit<Segment, 'capture'>[]; unexplained: Unexplained[] } {
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
