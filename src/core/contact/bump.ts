import { say } from './what.js';
import { FAINT, SAME_TOUCH } from '../tolerance.js';
import type { Body } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { BUMPED, BUMPED_AT } from '../state/layout.js';

/** Tells that the body has met an edge, once for one touch: whatever it does at the same moment, it has met that already, and the corner at its end. */
export function bump(body: Body, edge: number, side: 'head' | 'left' | 'right', speed: number): void {
  const { s, clock, terrain } = body;
  if (speed < FAINT * body.motion.cap) return;
  const last = s[BUMPED]! - 1;
  const again = last >= 0 && clock[NOW]! - s[BUMPED_AT]! <= SAME_TOUCH;
  if (again && (last === edge || terrain.next[last] === edge || terrain.prev[last] === edge)) return;
  s[BUMPED] = edge + 1;
  s[BUMPED_AT] = clock[NOW]!;
  const told = say(body, body.tell('bump'), edge);
  told.side = side;
  told.speed = speed;
}
