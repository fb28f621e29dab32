import type { CompiledLevel } from 'apperin';

/** The way that a mover goes as a path, as the offsets of its shapes in the level's own axes; empty where the game moves it. */
export function routePath(level: CompiledLevel, i: number, at: (x: number, y: number) => string): string {
  const { route } = level.movers[i]!;
  if (!route) return '';
  const up = level.yPoints === 'up' ? 1 : -1;
  const points = Array.from(route.x, (x, k) => at(x, route.y[k]! * up));
  const last = route.x.length - 1;
  const length = route.start[last + 1]! - route.start[last]!;
  points.push(
    at(
      route.x[last]! + length * (route.vx[last]! + (length * route.ax[last]!) / 2),
      (route.y[last]! + length * (route.vy[last]! + (length * route.ay[last]!) / 2)) * up,
    ),
  );
  return `M${points.join('L')}`;
}
