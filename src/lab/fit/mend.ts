import type { Course, Turn } from './across.js';
import { badnessOf, settle, type Part } from './squares.js';

/** So many changes of what the keys asked for may have been taken for others; and so often a stretch is met better by each, or it is left at that. */
const MOST = 5;
const STEPS = 6;
const MORE = 12;

/**
 * What the keys asked for, where that was misread: a change more, one fewer, or another way, one after the other as long as the stretch is met better by it.
 * @param partOf a stretch by what the keys ask for
 * @param isFine whether it is met well enough
 */
export function mended(course: Course, end: number, partOf: (turns: Turn[]) => Part, shared: readonly number[], isFine: (part: Part) => boolean): Turn[] {
  const met = (turns: Turn[], most: number): { turns: Turn[]; part: Part; off: number } => {
    const part = partOf(turns);
    settle(part, shared, most);
    return { turns: turns.map((turn, i) => ({ ...turn, time: part.own[i + 1]! })), part, off: badnessOf(part, shared) };
  };
  let best = met(course.turns, MORE);
  for (let edit = 0; edit < MOST && !isFine(best.part); edit++) {
    const others = edits({ ...course, turns: best.turns }, end).map((turns) => met(turns, STEPS));
    const [first, second] = others.sort((one, other) => one.off - other.off);
    if (first === undefined) break;
    const again = [first, second ?? first].map(({ turns }) => met(turns, MORE)).reduce((one, other) => (other.off < one.off ? other : one));
    if (again.off >= best.off) break;
    best = again;
  }
  return best.turns;
} // prettier-ignore

const WAYS = [-1, 0, 1] as const;

/** All that differs by one change from what the keys ask for. */
function edits({ way, turns }: Course, end: number): Turn[][] {
  const found: Turn[][] = [];
  const wayBefore = (i: number): number => turns[i - 1]?.way ?? way;
  turns.forEach((turn, i) => {
    found.push(turns.filter((_, k) => k !== i));
    for (const other of WAYS) if (other !== turn.way && other !== wayBefore(i)) found.push(turns.map((one, k) => (k === i ? { ...turn, way: other } : one)));
    // For a while after it, or just before it, another way.
    const next = turns[i + 1]?.time ?? end;
    for (const share of [0.3, 0.6])
      for (const other of WAYS) {
        const time = turn.time + share * (next - turn.time);
        if (other !== turn.way) found.push([...turns.slice(0, i + 1), { time, way: other }, ...turns.slice(i + 1)]);
        if (other !== turn.way && other !== wayBefore(i)) found.push([...turns.slice(0, i), { ...turn, way: other }, { time, way: turn.way }, ...turns.slice(i + 1)]);
      }
  });
  // Two alike in a row are one.
  return found.map((list) => list.filter((turn, i) => turn.way !== (list[i - 1]?.way ?? way)));
} // prettier-ignore
