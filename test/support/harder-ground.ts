import type * as Core from 'apperin';
import type { Level, Mark, Tuning } from 'apperin';
import { everything } from './everything.js';
import type { Random } from './random.js';
import type { Point } from './separate.js';

/** Further tiles, and the outlines of all solid ones in their cell, y up. */
export const MARKS: Record<string, Mark> = {
  a: { solid: [0, 0.5] },
  b: { solid: [0.5, 1] },
  c: { solid: [1, 0.5] },
  d: { solid: [0.5, 0] },
  h: { solid: 'lower' },
  u: { solid: 'upper' },
  q: { solid: 'lower-left' },
  p: { solid: 'upper-right' },
  v: { solid: { hanging: [0, 1] } },
  w: { solid: { hanging: [1, 0] } },
  x: { solid: { hanging: [0.3, 0.7] } },
  l: { solid: 'left' },
  r: { solid: 'right' },
  y: { 'one-way': [0, 1] },
  z: { 'one-way': [1, 0.5] },
};
const TILES: Record<string, readonly Point[]> = {
  '#': [[0, 0], [1, 0], [1, 1], [0, 1]],
  '/': [[0, 0], [1, 0], [1, 1]],
  '\\': [[0, 0], [1, 0], [0, 1]],
  a: [[0, 0], [1, 0], [1, 0.5]],
  b: [[0, 0], [1, 0], [1, 1], [0, 0.5]],
  c: [[0, 0], [1, 0], [1, 0.5], [0, 1]],
  d: [[0, 0], [1, 0], [0, 0.5]],
  h: [[0, 0], [1, 0], [1, 0.5], [0, 0.5]],
  u: [[0, 0.5], [1, 0.5], [1, 1], [0, 1]],
  q: [[0, 0], [0.5, 0], [0.5, 0.5], [0, 0.5]],
  p: [[0.5, 0.5], [1, 0.5], [1, 1], [0.5, 1]],
  v: [[0, 1], [1, 0], [1, 1]],
  w: [[0, 1], [0, 0], [1, 1]],
  x: [[0, 0.7], [1, 0.3], [1, 1], [0, 1]],
  l: [[0, 0], [0.5, 0], [0.5, 1], [0, 1]],
  r: [[0.5, 0], [1, 0], [1, 1], [0.5, 1]],
}; // prettier-ignore

/** A level to fuzz: the solids as convex polygons (y up), by how far they reach, and a place to start from. */
export interface Ground {
  level: Level | Core.CompiledLevel;
  /** The solids near a box. */
  near: (left: number, bottom: number, right: number, top: number) => Iterable<readonly Point[]>;
  /** Whether there may be something near a box that those solids leave out: one-way ground, lines. */
  mayBlock: (left: number, bottom: number, right: number, top: number) => boolean;
  /** Lines of no thickness: nothing may get from one side to the other. */
  lines: readonly (readonly [Point, Point])[];
  at: readonly [number, number];
  yUp: 1 | -1;
}

export function tiles(random: Random): Ground & { level: Level } {
  const [width, height] = [26, 16];
  const solid = random.between(0.05, 0.25);
  const odd = random.between(0.05, 0.25);
  const strange = Object.keys(TILES).slice(1);
  const rows = Array.from({ length: height }, () =>
    Array.from({ length: width }, () =>
      random.chance(solid) ? '#' : random.chance(odd) ? random.pick(strange) : random.chance(0.07) ? random.pick(['=', 'y', 'z']) : '.',
    ),
  ); // prettier-ignore
  const x = random.whole(2, width - 3);
  const y = random.whole(4, height - 2);
  for (let row = y - 3; row <= y; row++) for (let column = x - 1; column <= x + 1; column++) rows[row]![column] = '.';
  rows[y + 1]![x] = '#';
  const level: Level = {
    rows: rows.map((row) => row.join('')),
    marks: MARKS,
    bounds: { left: 'wall', right: 'wall', top: 'wall', bottom: 'wall' },
  };
  function* near(left: number, bottom: number, right: number, top: number): Iterable<readonly Point[]> {
    for (let row = Math.max(0, Math.floor(-top)); row <= Math.min(height - 1, Math.floor(-bottom)); row++)
      for (let column = Math.max(0, Math.floor(left)); column <= Math.min(width - 1, Math.floor(right)); column++) {
        const outline = TILES[rows[row]![column]!];
        if (outline) yield outline.map(([px, py]) => [column + px, -(row + 1) + py] as const);
      }
  }
  const mayBlock = (left: number, bottom: number, right: number, top: number): boolean => {
    for (let row = Math.floor(-top); row <= Math.floor(-bottom); row++)
      for (let column = Math.floor(left); column <= Math.floor(right); column++)
        if ('=yz'.includes(rows[row]?.[column] ?? '=')) return true;
    return false;
  };
  return { level, near, mayBlock, lines: [], at: [x + 0.5, y + 1], yUp: -1 };
}

/** Convex polygons of all sizes, none near another, and lines, in a box. */
export function polygons(core: typeof Core, random: Random): Ground {
  const solids: Point[][] = [];
  const outlines: Core.Outline[] = [];
  const box = (left: number, bottom: number, right: number, top: number): Point[] => [[left, bottom], [right, bottom], [right, top], [left, top]]; // prettier-ignore
  for (const wall of [box(-2, -2, 32, 0), box(-2, 0, 0, 20), box(30, 0, 32, 20), box(-2, 20, 32, 22)])
    solids.push(wall);
  outlines.push({ form: 'solid', points: box(-2, -2, 32, 22) }, { form: 'hole', points: box(0, 0, 30, 20) });
  const cells: [number, number][] = [];
  for (let cx = 3; cx < 29; cx += 5) for (let cy = 1.6; cy < 18; cy += 4) cells.push([cx, cy]);
  const lines: (readonly [Point, Point])[] = [];
  for (const [cx, cy] of cells) {
    const grid = (value: number): number => Math.round(value * 67108864) / 67108864;
    if (random.chance(0.35)) continue;
    if (random.chance(0.2)) {
      const turn = random.between(0, 6.3);
      const [dx, dy] = [Math.cos(turn) * 2, Math.sin(turn) * 1.4];
      const ends = [[grid(cx - dx), grid(cy - dy)], [grid(cx + dx), grid(cy + dy)]] as const; // prettier-ignore
      outlines.push({ form: 'line', points: ends });
      lines.push(ends);
      continue;
    }
    const corners = random.whole(3, 8);
    const turns = Array.from({ length: corners }, () => random.between(0, 2 * Math.PI)).sort((p, q) => p - q);
    const [rx, ry] = [random.between(0.3, 2.3), random.between(0.2, 1.5)];
    const points = turns.map((turn) => [grid(cx + rx * Math.cos(turn)), grid(cy + ry * Math.sin(turn))] as const);
    const area = points.reduce(
      (sum, [x, y], i) => sum + x * points[(i + 1) % corners]![1] - points[(i + 1) % corners]![0] * y,
      0,
    );
    if (Math.abs(area) < 0.02) continue;
    solids.push([...points]);
    outlines.push({ form: 'solid', points });
  }
  const level = core.compileOutlines({ yPoints: 'up', outlines });
  const reach = solids.map((points) => ({
    points,
    left: Math.min(...points.map(([x]) => x)),
    right: Math.max(...points.map(([x]) => x)),
    bottom: Math.min(...points.map(([, y]) => y)),
    top: Math.max(...points.map(([, y]) => y)),
  }));
  function* near(left: number, bottom: number, right: number, top: number): Iterable<readonly Point[]> {
    for (const one of reach)
      if (one.left < right && one.right > left && one.bottom < top && one.top > bottom) yield one.points;
  }
  const mayBlock = (left: number, bottom: number, right: number, top: number): boolean =>
    lines.some(
      ([[ax, ay], [bx, by]]) =>
        Math.min(ax, bx) < right && Math.max(ax, bx) > left && Math.min(ay, by) < top && Math.max(ay, by) > bottom,
    );
  return { level, near, mayBlock, lines, at: [0.8, 0], yUp: 1 };
}

export function tuningFor(random: Random): Tuning {
  const tuning = everything(random);
  tuning.slope = {
    steepest: random.pick([30, 46, 50, 70]),
    slip: random.pick([1, 0.5]),
    step: random.pick([0, 0.3, 0.6]),
    pace: random.pick(['along', 'across'] as const),
    launch: random.pick(['up', 'normal'] as const),
    jump: random.chance(0.3),
  };
  if (random.chance(0.4)) tuning.body!.bevel = random.pick([0.05, 0.1, 0.2]);
  if (random.chance(0.2)) tuning.run!.speed = random.between(30, 700);
  return tuning;
}

const SWAPPED: Record<string, string> = { '/': '\\', '\\': '/' };
const OTHER_SIDE: Record<string, string> = { left: 'right', right: 'left' };

/** The marks seen in a mirror. */
function mirroredMark(mark: Mark): Mark {
  const turned = ([left, right]: readonly [number, number]) => [right, left] as const;
  const { solid, 'one-way': oneWay, ...rest } = mark;
  return {
    ...rest,
    ...(typeof solid === 'string'
      ? { solid: solid.replace(/left|right/, (side) => OTHER_SIDE[side]!) as 'full' }
      : solid && 'hanging' in solid
        ? { solid: { hanging: turned(solid.hanging) } }
        : solid
          ? { solid: turned(solid as readonly [number, number]) }
          : {}),
    ...(typeof oneWay === 'string' ? { 'one-way': oneWay } : oneWay ? { 'one-way': turned(oneWay) } : {}),
  };
}

/** A level in rows seen in a mirror that stands on x = 0. */
export function mirrored(level: Level): Level {
  const [x, y] = level.origin ?? [0, 0];
  return {
    ...level,
    origin: [-x - level.rows[0]!.length, y],
    rows: level.rows.map((row) =>
      [...row]
        .reverse()
        .map((mark) => SWAPPED[mark] ?? mark)
        .join(''),
    ),
    ...(level.marks && {
      marks: Object.fromEntries(Object.entries(level.marks).map(([mark, what]) => [mark, mirroredMark(what)])),
    }),
  };
}
