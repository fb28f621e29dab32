import type { Body } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { FROZEN, FROZEN_SINCE, X, Y } from '../state/layout.js';
import { putMoments } from '../state/moments.js';
import { AT, PX, PY, T, locate } from '../sweep/path.js';

/** A body whose own time stands still, as for the moment of a blow: it stays where it is (on what carries it), keeps its velocity, and presses wait until it goes on. */

/** From now on, or for longer where it stands still already. */
export function freeze({ s, clock }: Body, seconds: number): void {
  if (seconds === 0) return;
  if (s[FROZEN] === 0) s[FROZEN_SINCE] = clock[NOW]!;
  const until = clock[NOW]! + seconds;
  if (until > s[FROZEN]!) s[FROZEN] = until;
}

/** Whether it stands still at its present moment; where that is over, its own time goes on from where it stood. */
export function isFrozen(body: Body): boolean {
  const { s, clock } = body;
  if (s[FROZEN] === 0) return false;
  if (clock[NOW]! < s[FROZEN]!) return true;
  const since = s[FROZEN_SINCE]!;
  const stood = clock[NOW]! - since;
  putMoments(body, (moment) => moment + stood);
  for (let action = 0; action < body.pressAt.length; action++) {
    const at = body.pressAt[action]!;
    // What was pressed meanwhile is pressed now.
    if (at >= 0 && s[at]! >= 0) s[at] = s[at]! >= since ? clock[NOW]! : s[at]! + stood;
  }
  s[FROZEN] = 0;
  return false;
}

/** Lays the piece in which it stands still. */
export function layStill({ s, path, clock }: Body): void {
  path.fill(0);
  path[PX] = s[X]!;
  path[PY] = s[Y]!;
  path[T] = path[AT] = s[FROZEN]! - clock[NOW]!;
  locate(path);
}
