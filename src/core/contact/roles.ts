import type { Body } from '../state/body.js';
import { isGround } from './ground.js';

/** What a touch is to a body: that follows from its normal and the tuning, and is stored nowhere. */
export type Role = typeof GROUND_ROLE | typeof STEEP | typeof UPRIGHT_ROLE | typeof CEILING_ROLE;
/** Holds the body up: level, or not steeper than `slope.steepest`. */
export const GROUND_ROLE = 0;
/** Slanted, and no ground: slid along, from above or from below. */
export const STEEP = 1;
/** Stops it on one side. */
export const UPRIGHT_ROLE = 2;
/** Ends its rise. */
export const CEILING_ROLE = 3;

/** Whether a touch is one of a side of the body with the corner at an edge's end, rather than with the edge itself. */
export function isAtCorner({ terrain }: Body, edge: number, nx: number, ny: number): boolean {
  return nx !== terrain.nx[edge] || ny !== terrain.ny[edge];
}

/** @param nx, ny the normal of the touch */
export function roleOf(body: Body, edge: number, nx: number, ny: number): Role {
  if (nx === 0) return ny > 0 ? GROUND_ROLE : CEILING_ROLE;
  if (ny === 0) return UPRIGHT_ROLE;
  return ny > 0 && !isAtCorner(body, edge, nx, ny) && isGround(body, edge) ? GROUND_ROLE : STEEP;
}
