import type { Body } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { BUMPED, BUMPED_AT } from '../state/layout.js';

/** A body that meets something slower than this share of the terminal speed was there already. */
const FAINT = 1e-5;

/** What a body does within so little time, s, as where it jumps with no room to, it does at one moment. */
const AT_ONCE = 1e-7;

/** Tells that the body has met an edge, once for one touch: whatever it does at the same moment, it has met that already, and the corner at its end. */
export function bump(body: Body, edge: number, side: 'head' | 'left' | 'right', speed: number): void {
  const { s, clock, terrain } = body;
  if (speed < FAINT * body.motion.cap) return;
  const last = s[BUMPED]! - 1;
  const again = last >= 0 && clock[NOW]! - s[BUMPED_AT]! <= AT_ONCE;
  if (again && (last === edge || terrain.next[last] === edge || terrain.prev[last] === edge)) return;
  s[BUMPED] = edge + 1;
  s[BUMPED_AT] = clock[NOW]!;
  const told = body.tell('bump');
  told.side = side;
  told.speed = speed;
}
