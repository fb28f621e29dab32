import earcut from 'earcut';

type Point = readonly [number, number];

/** Cuts an area into triangles. @param rings its outline, then those of its holes */
export function convexPieces(rings: readonly (readonly Point[])[]): Point[][] {
  const flat = rings.flat();
  const holes: number[] = [];
  let count = 0;
  for (const ring of rings.slice(0, -1)) holes.push((count += ring.length));
  const corners = earcut(flat.flat() as number[], holes);
  const pieces: Point[][] = [];
  for (let i = 0; i < corners.length; i += 3) pieces.push([0, 1, 2].map((k) => flat[corners[i + k]!]!));
  return pieces;
}
