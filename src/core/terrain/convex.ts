import type { Point } from './level.js';

/** Cuts an area into convex parts: itself where it is convex, else triangles, one ear after the other. */
export function convexParts(outline: readonly Point[]): Point[][] {
  const corners = outline.filter(([x, y], i) => {
    const [nx, ny] = outline[(i + 1) % outline.length]!;
    return x !== nx || y !== ny;
  });
  let area = 0;
  corners.forEach(([x, y], i) => {
    const [nx, ny] = corners[(i + 1) % corners.length]!;
    area += x * ny - nx * y;
  });
  if (area < 0) corners.reverse();
  const turn = (a: Point, b: Point, c: Point): number => (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]);
  const around = (list: readonly Point[], i: number): [Point, Point, Point] => [list[(i + list.length - 1) % list.length]!, list[i]!, list[(i + 1) % list.length]!]; // prettier-ignore
  // What crosses itself has ears too, but goes round more than once: whoever compiles it says so.
  if (corners.length <= 3 || corners.every((_, i) => turn(...around(corners, i)) >= 0)) return [corners];
  const left = corners.slice();
  const parts: Point[][] = [];
  while (left.length > 3) {
    const ear = left.findIndex((_, i) => {
      const [a, b, c] = around(left, i);
      return turn(a, b, c) > 0 && !left.some((p) => p !== a && p !== b && p !== c && turn(a, b, p) >= 0 && turn(b, c, p) >= 0 && turn(c, a, p) >= 0); // prettier-ignore
    });
    // Only corners in line are left, or the outline crosses itself.
    const at = ear < 0 ? 0 : ear;
    const [a, b, c] = around(left, at);
    if (turn(a, b, c) !== 0) parts.push([a, b, c]);
    left.splice(at, 1);
  }
  const [a, b, c] = left as [Point, Point, Point];
  if (turn(a, b, c) !== 0) parts.push([a, b, c]);
  return parts;
}
