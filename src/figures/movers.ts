import * as Plot from '@observablehq/plot';
import { openStage, type CompiledLevel } from 'apperin';
import { routePath } from './route.js';
import { HALO, drawn, type View } from './view.js';

const BRASS = '#c8a24a';
const DARK = '#6d5518';

/** The outlines of what moves, in the level's own axes, without their offsets. */
interface MoverShape {
  mover: number;
  closed: boolean;
  points: readonly (readonly [number, number])[];
}

function shapesOf(level: CompiledLevel): MoverShape[] {
  const number = new Map(level.movers.map(({ name }, i) => [name, i]));
  return openStage(level)
    .shapes()
    .filter(({ mover }) => mover !== '')
    .map(({ mover, form, points }) => ({ mover: number.get(mover)!, closed: form === 'solid', points }));
}

function outline({ points, closed }: MoverShape, dx: number, dy: number, at: (x: number, y: number) => string): string {
  return `M${points.map(([x, y]) => at(x + dx, y + dy)).join('L')}${closed ? 'Z' : ''}`;
}

/** What moves where it begins, its name, and the way that it goes. */
export function moverMarks(level: CompiledLevel, view: View, names: boolean): Plot.Markish[] {
  if (level.movers.length === 0) return [];
  const shapes = shapesOf(level);
  const start = openStage(level).movers.map(({ x, y }) => [x, y] as const);
  const middles = level.movers.map(
    ({ box }) => [(box[0] + box[2]) / 2, ((box[1] + box[3]) / 2) * sign(level)] as const,
  );
  const marks: Plot.Markish[] = [
    drawn(
      (at) =>
        level.movers.map((_, i) => routePath(level, i, (x, y) => at(middles[i]![0] + x, middles[i]![1] + y))).join(''),
      {
        stroke: DARK,
        'stroke-width': 1.4,
        'stroke-dasharray': '2 5',
        'stroke-linecap': 'round',
        fill: 'none',
      },
    ),
    ...bodies(shapes, start),
  ];
  if (!names) return marks;
  const named = level.movers
    .map(({ name }, i) => ({ name, x: middles[i]![0] + start[i]![0], y: middles[i]![1] + start[i]![1] }))
    .filter(({ x }) => x >= view.x[0] && x <= view.x[1]);
  return [...marks, Plot.text(named, { x: 'x', y: 'y', text: 'name', dy: 17, fontSize: 12.5, fill: DARK, ...HALO })];
}

function sign({ yPoints }: CompiledLevel): number {
  return yPoints === 'up' ? 1 : -1;
}

/** Solid ones filled, with what blocks from above only as a line. */
function bodies(shapes: readonly MoverShape[], offsets: readonly (readonly [number, number])[]): Plot.Markish[] {
  const of = (closed: boolean, at: (x: number, y: number) => string): string =>
    shapes
      .filter((shape) => shape.closed === closed)
      .map((shape) => outline(shape, ...offsets[shape.mover]!, at))
      .join('');
  return [
    drawn((at) => of(true, at), { fill: BRASS, 'fill-opacity': 0.75, stroke: DARK, 'stroke-width': 1.2 }),
    drawn((at) => of(false, at), { stroke: DARK, 'stroke-width': 4, fill: 'none' }),
  ];
}

/** What moves at several moments, each a list of x and y in turn: outlines, the last of them whole. */
export function moverTrail(level: CompiledLevel, moments: readonly (readonly number[])[]): Plot.Markish[] {
  if (level.movers.length === 0 || moments.length === 0) return [];
  const shapes = shapesOf(level);
  const pairs = (row: readonly number[]): (readonly [number, number])[] =>
    level.movers.map((_, i) => [row[2 * i]!, row[2 * i + 1]!] as const);
  return [
    ...bodies(shapes, pairs(moments[moments.length - 1]!)),
    drawn(
      (at) =>
        moments
          .map((row) => {
            const offsets = pairs(row);
            return shapes.map((shape) => outline(shape, ...offsets[shape.mover]!, at)).join('');
          })
          .join(''),
      { stroke: BRASS, 'stroke-width': 0.8, fill: 'none', 'stroke-opacity': 0.4 },
    ),
  ];
}
