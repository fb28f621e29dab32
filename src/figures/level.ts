import { HEIGHT, WIDTH, compose, short } from './frame.js';
import { ground } from './ground.js';
import { moverMarks } from './movers.js';
import { MARGIN, TOP, compiledOf, extent, plot, viewOf, type AnyLevel } from './view.js';

/**
 * A level: what is solid, one-way ground, surfaces, zones, and where one starts.
 * @param options edges: with every edge, its normal and its joints
 */
export function levelFigure(any: AnyLevel, { edges = false }: { edges?: boolean } = {}): string {
  const level = compiledOf(any);
  const { x1, x2, y1, y2 } = extent(level);
  // A long level is shown in strips, one below the other, as large as they go.
  const scaleIn = (strips: number): number =>
    Math.min(
      (WIDTH - MARGIN.left - MARGIN.right) / ((x2 - x1) / strips),
      ((HEIGHT - TOP) / strips - MARGIN.top - MARGIN.bottom) / (y2 - y1),
    );
  const strips = [1, 2, 3, 4].reduce((best, n) => (scaleIn(n) > 1.3 * scaleIn(best) ? n : best));
  const length = (x2 - x1) / strips;
  const margin = Math.max(length, y2 - y1) / 40;
  const views = [...Array(strips).keys()].map((i) => {
    const from = x1 + i * length;
    const box = { x1: from - margin, x2: from + length + margin, y1: y1 - margin, y2: y2 + margin };
    return viewOf(box, level, (HEIGHT - TOP) / strips);
  });
  const title = level.title || 'A level';
  const size = `${short(x2 - x1)} by ${short(y2 - y1)} units, y points ${level.yPoints}`;
  const described = edges
    ? `${size}, ${level.terrain.boundsFrom} edges. The tick on each is its normal; a filled end is joined to the next, an open one to nothing.`
    : `${size}. Grey is solid, brown is one-way ground; the dots are where one can start.${level.movers.length > 0 ? ' What moves is brass, its way dotted.' : ''}`;
  return compose(
    title,
    described,
    views.map((view, i) => ({
      plot: plot(view, [...ground(level, view, true, edges), ...moverMarks(level, view, true)]),
      x: 0,
      y: TOP + (i * (HEIGHT - TOP)) / strips,
    })),
  );
}
