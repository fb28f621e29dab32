/** A point, x and y; a convex polygon is a list of them. */
export type Point = readonly [number, number];

/** The outline of a body by the middle of its feet, y up. */
export function bodyAt(x: number, y: number, width: number, height: number, bevel = 0): Point[] {
  const half = width / 2;
  const flat = half - bevel;
  const sides: Point[] = [
    [x - flat, y],
    [x + flat, y],
  ];
  if (bevel > 0) sides.push([x + half, y + bevel]);
  sides.push([x + half, y + height], [x - half, y + height]);
  if (bevel > 0) sides.push([x - half, y + bevel]);
  return sides;
}

/** How deep two convex polygons are in each other, by the separating-axis theorem: 0 or less where some axis parts them. */
export function depthBetween(a: readonly Point[], b: readonly Point[]): number {
  let least = Infinity;
  for (const polygon of [a, b]) {
    for (let i = 0; i < polygon.length; i++) {
      const [px, py] = polygon[i]!;
      const [qx, qy] = polygon[(i + 1) % polygon.length]!;
      const length = Math.hypot(qx - px, qy - py);
      if (length === 0) continue;
      const [nx, ny] = [(qy - py) / length, (px - qx) / length];
      let [aLow, aHigh, bLow, bHigh] = [Infinity, -Infinity, Infinity, -Infinity];
      for (const [x, y] of a) {
        const d = x * nx + y * ny;
        if (d < aLow) aLow = d;
        if (d > aHigh) aHigh = d;
      }
      for (const [x, y] of b) {
        const d = x * nx + y * ny;
        if (d < bLow) bLow = d;
        if (d > bHigh) bHigh = d;
      }
      least = Math.min(least, aHigh - bLow, bHigh - aLow);
      if (least <= 0) return least;
    }
  }
  return least;
}
