import type { Body } from './body.js';
import { FACING } from './layout.js';

/** Turns the body. */
export function turn(body: Body, way: number): void {
  if (body.s[FACING] === way) return;
  body.tell('turned').facing = way;
  body.s[FACING] = way;
}
