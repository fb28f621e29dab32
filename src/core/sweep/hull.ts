import type { Terrain } from '../terrain/terrain.js';
/** The convex outline of a body: its origin is the middle of its feet, y points up. */
export interface Hull {
  /** Half the width, and the height, units. */
  readonly half: number;
  readonly height: number;
  /** Half the width of the flat underside, and the height at which the upright sides begin: the lower corners may be cut. */
  readonly flat: number;
  readonly side: number;
  /** The contact tolerance, 2⁻²⁰ widths. */
  readonly touch: number;
  /** Corners, x and y in turn, counter-clockwise from the underside's left end. */
  readonly corners: Float64Array;
}

/** Which corner of a hull comes first against a surface of normal (nx, ny): where it is among the corners. */
export function foremost({ corners, side }: Hull, nx: number, ny: number): number {
  // A box by the way that the surface faces.
  if (side === 0) return ny > 0 ? (nx > 0 ? 0 : 2) : nx > 0 ? 6 : 4;
  let first = 0;
  let least = Infinity;
  for (let i = 0; i < corners.length; i += 2) {
    const along = nx * corners[i]! + ny * corners[i + 1]!;
    if (along < least) {
      least = along;
      first = i;
    }
  }
  return first;
}

/** Whether another corner lies on a surface of normal (nx, ny) as well as the foremost one: their face is parallel to it. */
export function liesOn({ corners, touch }: Hull, first: number, other: number, nx: number, ny: number): boolean {
  const further = nx * (corners[other]! - corners[first]!) + ny * (corners[other + 1]! - corners[first + 1]!);
  return further <= touch / 1024;
}

/**
 * @param width, height units
 * @param bevel how much of each lower corner is cut, across and up alike; less than half the width and the height
 */
export function hullOf(width: number, height: number, bevel = 0): Hull {
  const half = width / 2;
  const flat = half - bevel;
  const corners =
    bevel > 0
      ? [-flat, 0, flat, 0, half, bevel, half, height, -half, height, -half, bevel]
      : [-half, 0, half, 0, half, height, -half, height];
  return { half, height, flat, side: bevel, touch: width / 1048576, corners: Float64Array.from(corners) };
}

/** How far a body at (x, y) is in front of an edge's line, units. Measured from the edge's upper end, so that mirror images stay mirror images. */
export function gapBefore(hull: Hull, { x1, y1, x2, y2, nx, ny }: Terrain, e: number, x: number, y: number): number {
  const i = foremost(hull, nx[e]!, ny[e]!);
  const rises = y2[e]! > y1[e]!;
  const ex = rises ? x2[e]! : x1[e]!;
  const ey = rises ? y2[e]! : y1[e]!;
  return nx[e]! * (x + hull.corners[i]! - ex) + ny[e]! * (y + hull.corners[i + 1]! - ey);
}
