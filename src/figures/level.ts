import { compose, short } from './frame.js';
import { ground } from './ground.js';
import { moverMarks } from './movers.js';
import { compiledOf, extent, plot, stripsOf, type AnyLevel } from './view.js';

/**
 * A level: what is solid, one-way ground, surfaces, zones, and where one starts.
 * @param options edges: with every edge, its normal and its joints
 * @example
 * ```ts
 * levelFigure(mill.level, { edges: true })
 * ```
 */
export function levelFigure(any: AnyLevel, { edges = false }: { edges?: boolean } = {}): string {
  const level = compiledOf(any);
  const { x1, x2, y1, y2 } = extent(level);
  const title = level.title || 'A level';
  const size = `${short(x2 - x1)} by ${short(y2 - y1)} units, y points ${level.yPoints}`;
  const described = edges
    ? `${size}, ${level.terrain.boundsFrom} edges. The tick on each is its normal; a filled end is joined to the next, an open one to nothing.`
    : `${size}. Grey is solid, brown is one-way ground; the dots are where one can start.${level.movers.length > 0 ? ' What moves is brass, its way dotted.' : ''}`;
  return compose(
    title,
    described,
    stripsOf(level).map(({ view, y }) => ({
      plot: plot(view, [...ground(level, view, true, edges), ...moverMarks(level, view, true)]),
      x: 0,
      y,
    })),
  );
}
