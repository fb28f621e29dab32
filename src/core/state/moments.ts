import type { Body } from './body.js';
import { AIRBORNE, CORNERED, EASE_END, LANDED, LAUNCHED, LEFT_AT, LEFT_WALL_AT, LIPPED, LOCK_SINCE, POSE_SINCE, POSE_WAS_SINCE, SHOWS_FROM, TAKEN, USED_PRESS, WANT_SINCE } from './layout.js'; // prettier-ignore

/** The numbers of a state that are moments of stage time, besides those of presses and of abilities: where a body's own time is another than the stage's, they go with it. */
export const MOMENTS: readonly number[] = [LAUNCHED, USED_PRESS, TAKEN, AIRBORNE, LOCK_SINCE, LEFT_AT, LEFT_WALL_AT, CORNERED, LIPPED, POSE_SINCE, WANT_SINCE, SHOWS_FROM, LANDED, POSE_WAS_SINCE]; // prettier-ignore

/** Puts these and the moments of a body's abilities where its own time has them: all but those of presses. */
export function putMoments({ s, installed }: Body, where: (moment: number) => number): void {
  for (const at of MOMENTS) s[at] = where(s[at]!);
  s[EASE_END] = where(s[EASE_END]!);
  for (const { base, ability } of installed) {
    for (let i = 0; i < ability.timerCount; i++) if (s[base + i]! > 0) s[base + i] = where(s[base + i]!);
    for (const i of ability.moments) if (s[base + i] !== 0) s[base + i] = where(s[base + i]!);
  }
}
