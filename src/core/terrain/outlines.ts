import { FARTHEST } from '../tuning/keys.js';
import type { CompiledLevel } from './compile.js';
import { LevelError } from './level.js';
import { buildTerrain, onGrid } from './terrain.js';

/**
 * Compiles closed outlines of solids into a level: edges of any direction, joined corner to corner. The outlines must
 * not cross themselves or each other; which way round they are drawn does not matter.
 * @param outlines corners of each, units, y up; at least three
 * @throws LevelError naming an outline that is too short, flat, or beyond ±2²⁶
 */
export function compileOutlines(outlines: readonly (readonly (readonly [number, number])[])[]): CompiledLevel {
  const ends: number[] = [];
  let [left, bottom, right, top] = [Infinity, Infinity, -Infinity, -Infinity];
  outlines.forEach((outline, i) => {
    const refuse = (message: string): never => {
      throw new LevelError(`outlines.${i}`, `outline ${i} ${message}`);
    };
    const points = outline
      .map(([x, y]) => [onGrid(x), onGrid(y)] as const)
      .filter(([x, y], k, all) => {
        const [px, py] = all[(k + all.length - 1) % all.length]!;
        return x !== px || y !== py;
      });
    if (points.length < 3) refuse('has fewer than three corners');
    let area = 0;
    points.forEach(([x, y], k) => {
      const [nx, ny] = points[(k + 1) % points.length]!;
      if (!(Math.abs(x) <= FARTHEST && Math.abs(y) <= FARTHEST))
        refuse(`reaches ${x}, ${y}; it must stay within ±${FARTHEST}`);
      area += x * ny - nx * y;
      left = Math.min(left, x);
      right = Math.max(right, x);
      bottom = Math.min(bottom, y);
      top = Math.max(top, y);
    });
    if (area === 0) refuse('encloses nothing');
    // Clockwise, so that the open side is on the left of every edge.
    if (area > 0) points.reverse();
    points.forEach(([x, y], k) => {
      const [nx, ny] = points[(k + 1) % points.length]!;
      ends.push(x, y, nx, ny);
    });
  });
  const empty = outlines.length === 0;
  return {
    title: '',
    yPoints: 'up',
    terrain: buildTerrain(ends),
    spawns: new Map(),
    extent: empty
      ? { x: 0, y: 0, width: 0, height: 0 }
      : { x: left, y: bottom, width: right - left, height: top - bottom },
  };
}
