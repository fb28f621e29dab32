import { firstTouch } from '../sweep/touch.js';
import { AT, PATH_LENGTH, PVX, PVY, PX, PY, T, locate } from '../sweep/path.js';
import { TOUCH_LENGTH, WHEN } from '../sweep/ties.js';
import type { Body } from './body.js';
import { SLACK } from './state.js';

const path = new Float64Array(PATH_LENGTH);
const found = new Float64Array(TOUCH_LENGTH);

/** The first edge in the way of a body moved straight by (dx, dy) from (x, y), or −1. It does not move the body. */
export function inTheWay({ near, motion }: Body, x: number, y: number, dx: number, dy: number): number {
  path[PX] = x;
  path[PY] = y;
  path[PVX] = dx;
  path[PVY] = dy;
  path[T] = path[AT] = 1;
  locate(path);
  return firstTouch(path, near, motion.hull, found);
}

/** Whether a body can be moved so far: what it would only just touch at the end is not in the way. */
export function hasRoom(body: Body, x: number, y: number, dx: number, dy: number): boolean {
  return inTheWay(body, x, y, dx, dy) < 0 || found[WHEN]! > 1 - SLACK;
}
