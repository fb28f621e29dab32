import type { CompiledLevel } from 'apperin';

/**
 * The way that a mover goes as a path, as the offsets of its shapes in the level's own axes; empty where the game moves it. Each piece of it has one acceleration, so that
 * it is a quadratic Bézier curve whose control point lies half the time along the velocity at its start.
 */
export function routePath(level: CompiledLevel, i: number, at: (x: number, y: number) => string): string {
  const { route } = level.movers[i]!;
  if (!route) return '';
  const up = level.yPoints === 'up' ? 1 : -1;
  const { start, x, y, vx, vy, ax, ay } = route;
  let path = `M${at(x[0]!, y[0]! * up)}`;
  for (let k = 0; k < x.length; k++) {
    const half = (start[k + 1]! - start[k]!) / 2;
    const place = (of: Float64Array, v: Float64Array, a: Float64Array): number => of[k]! + 2 * half * (v[k]! + half * a[k]!);
    const [endX, endY] = [place(x, vx, ax), place(y, vy, ay) * up];
    if (ax[k] === 0 && ay[k] === 0) {
      // In a pause it stays.
      if (vx[k] !== 0 || vy[k] !== 0) path += `L${at(endX, endY)}`;
    } else path += `Q${at(x[k]! + half * vx[k]!, (y[k]! + half * vy[k]!) * up)} ${at(endX, endY)}`;
  }
  return path;
} // prettier-ignore
