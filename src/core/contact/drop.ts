import type { Body } from '../state/body.js';
import { DROPPED, DROPS, X, Y } from '../state/layout.js';
import { FOUND_EDGE, at, findGround, isDropping } from './ground.js';

/** One-way ground that a body drops through: a joined piece is as if it were not there until the body is clear of it. */

const HERE = { way: 0, down: 0 } as const;

/** Drops through a piece. @returns whether that is anything new, and there was still room for it */
export function dropInto({ s, dropped }: Body, piece: number): boolean {
  for (let i = 0; i < DROPS; i++) {
    if (dropped[i] === piece) return false;
    if (dropped[i]! >= 0) continue;
    dropped[i] = piece;
    s[DROPPED + i] = piece + 1;
    return true;
  }
  return false;
}

/** Drops through every piece that holds the feet up. */
export function dropAll(body: Body, first: number): void {
  const { s, terrain } = body;
  let piece = first;
  while (dropInto(body, piece) && findGround(body, s[X]!, s[Y]!, HERE)) piece = terrain.piece[at[FOUND_EDGE]!]!;
}

/** Takes what is dropped through from the state, and ends it where the body is clear of it. */
export function senseDropped(body: Body): void {
  const { s, dropped } = body;
  if (s[DROPPED] === 0 && dropped[0]! < 0) return;
  for (let i = 0; i < DROPS; i++) dropped[i] = s[DROPPED + i]! - 1;
  let kept = 0;
  for (let i = 0; i < DROPS; i++) {
    const piece = dropped[i]!;
    if (piece < 0 || !isDropping(body, piece)) continue;
    s[DROPPED + kept++] = piece + 1;
  }
  for (; kept < DROPS; kept++) s[DROPPED + kept] = 0;
  for (let i = 0; i < DROPS; i++) dropped[i] = s[DROPPED + i]! - 1;
}

/** Nothing is dropped through any more. */
export function forgetDropped({ s, dropped }: Body): void {
  dropped.fill(-1);
  s.fill(0, DROPPED, DROPPED + DROPS);
}
