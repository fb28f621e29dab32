import { FARTHEST } from '../tuning/keys.js';
import { checkNumber } from './checks.js';
import { LevelError, type Zone } from './level.js';

/** An area that blocks nothing, as convex pieces, y up. */
export interface CompiledZone {
  readonly name: string;
  readonly tags: readonly string[];
  readonly gravity: number;
  readonly pace: number;
  /** The medium's velocity, y up. */
  readonly currentX: number;
  readonly currentY: number;
  readonly pieces: readonly ZonePiece[];
}

/** A convex area: corners, x and y in turn, counter-clockwise; the outward unit normals of its sides. */
export interface ZonePiece {
  readonly corners: Float64Array;
  readonly normals: Float64Array;
  readonly left: number;
  readonly bottom: number;
  readonly right: number;
  readonly top: number;
}

/**
 * @param sign −1 where the level's y axis points down
 * @throws LevelError where a zone has no area, a piece of it is not convex, or a number is out of range
 */
export function compileZones(zones: readonly Zone[], sign: number): CompiledZone[] {
  return zones.map((zone, i) => {
    const where = `zones.${i}`;
    const check = (key: string, value: number, least: number, most: number): number =>
      checkNumber(value, `${where}.${key}`, key, least, most);
    const [cx, cy] = zone.current ?? [0, 0];
    const outlines = zone.pieces ?? (zone.box ? [boxOf(zone.box)] : []);
    if (outlines.length === 0) throw new LevelError(where, 'a zone needs a box');
    return {
      name: zone.name ?? `zone ${i + 1}`,
      tags: zone.tags ?? [],
      gravity: check('gravity', zone.gravity ?? 1, 0.001, 1000),
      pace: check('pace', zone.pace ?? 1, 0, 1000),
      currentX: check('current', cx, -FARTHEST, FARTHEST) + 0,
      currentY: check('current', cy, -FARTHEST, FARTHEST) * sign + 0,
      pieces: outlines.map((points) => pieceOf(points, sign, `${where}.${zone.box ? 'box' : 'points'}`)),
    };
  });
}

/** A box as a piece of a zone. */
export function pieceOfBox(box: readonly [number, number, number, number], sign: number): ZonePiece {
  return pieceOf(boxOf(box), sign, 'zones');
}

function boxOf([x, y, width, height]: readonly [number, number, number, number]): [number, number][] {
  return [
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ];
}

function pieceOf(outline: readonly (readonly [number, number])[], sign: number, where: string): ZonePiece {
  const points = outline.map(([x, y]) => [x + 0, y * sign + 0] as const);
  let area = 0;
  points.forEach(([x, y], i) => {
    if (!(Math.abs(x) <= FARTHEST && Math.abs(y) <= FARTHEST))
      throw new LevelError(where, `a corner lies at ${x}, ${y}; it must stay within ±${FARTHEST}`);
    const [nx, ny] = points[(i + 1) % points.length]!;
    area += x * ny - nx * y;
  });
  if (points.length < 3 || area === 0) throw new LevelError(where, 'a zone must have an area');
  if (area < 0) points.reverse();
  points.forEach(([x, y], i) => {
    const [[ax, ay], [bx, by]] = [points[(i + 1) % points.length]!, points[(i + 2) % points.length]!];
    // To within what rounding does to corners in line.
    if ((ax - x) * (by - ay) - (ay - y) * (bx - ax) < -1e-9 * Math.abs(area))
      throw new LevelError(
        where,
        `the corner at ${ax}, ${ay * sign} points inward; each piece of a zone must be convex`,
      );
  });
  const normals: number[] = [];
  points.forEach(([x, y], i) => {
    const [nx, ny] = points[(i + 1) % points.length]!;
    const length = Math.sqrt((nx - x) * (nx - x) + (ny - y) * (ny - y));
    normals.push((ny - y) / length + 0, (x - nx) / length + 0);
  });
  const xs = points.map(([x]) => x);
  const ys = points.map(([, y]) => y);
  return {
    corners: Float64Array.from(points.flat()),
    normals: Float64Array.from(normals),
    left: Math.min(...xs),
    bottom: Math.min(...ys),
    right: Math.max(...xs),
    top: Math.max(...ys),
  };
}
