import { AIRBORNE, CORNERED, LANDED, LAUNCHED, LEFT_AT, LEFT_WALL_AT, LIPPED, LOCK_SINCE, POSE_SINCE, POSE_WAS_SINCE, SHOWS_FROM, TAKEN, USED_PRESS, WANT_SINCE } from './layout.js'; // prettier-ignore

/** The numbers of a state that are moments of stage time, besides those of presses and of abilities: where a body's own time is another than the stage's, they go with it. */
export const MOMENTS: readonly number[] = [LAUNCHED, USED_PRESS, TAKEN, AIRBORNE, LOCK_SINCE, LEFT_AT, LEFT_WALL_AT, CORNERED, LIPPED, POSE_SINCE, WANT_SINCE, SHOWS_FROM, LANDED, POSE_WAS_SINCE]; // prettier-ignore
