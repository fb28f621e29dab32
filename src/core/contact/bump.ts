import type { Body } from '../state/body.js';

/** A body that meets something slower than this share of the terminal speed was there already. */
const FAINT = 1e-5;

export function bump(body: Body, side: 'head' | 'left' | 'right', speed: number): void {
  if (speed < FAINT * body.motion.cap) return;
  const told = body.tell('bump');
  told.side = side;
  told.speed = speed;
}
