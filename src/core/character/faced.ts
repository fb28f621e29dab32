import type { Body } from './body.js';
import { FACE, FACED_X, FACED_Y, X, Y } from './state.js';

/** Keeps where the body last was on a face. */
export function rememberFace({ s }: Body): void {
  if (s[FACE]! < 0) return;
  s[FACED_X] = s[X]!;
  s[FACED_Y] = s[Y]!;
}
