/** The body's clock: which tick, its start (s of stage time), its length, how far into it the body is. */
export const TICK = 0;
export const TICK_START = 1;
export const TICK_LENGTH = 2;
export const OFFSET = 3;
/** When the motion across and up reach the end of their stretch, s from now, and the speeds they then have. */
export const X_ENDS = 4;
export const X_END_SPEED = 5;
export const Y_ENDS = 6;
export const Y_END_SPEED = 7;
/** When the support or the wall ends, s from now. */
export const SUPPORT_ENDS = 8;
export const WALL_ENDS = 9;

/** Where the present row of very short part-ticks began (s into the tick), and how many there have been. */
export const ROW_START = 10;
export const ROW_COUNT = 11;
/** The present moment, s of stage time: the tick's start and the offset. */
export const NOW = 12;
/** What abilities ask of this part-tick: the way to run, −1 to 1, and the top speed (below 0: the run's own). */
export const ASK = 13;
export const TOP = 14;
/** Motion across that an ability has set: 1, the speed it goes to, its rate. */
export const ACROSS_SET = 15;
export const ACROSS_TO = 16;
export const ACROSS_RATE = 17;
/** Motion up that an ability has set: 1, the speed it goes to, its rate, and the number of its phase. */
export const UP_SET = 18;
export const UP_TO = 19;
export const UP_RATE = 20;
export const UP_PHASE = 21;
/** How long the press that was taken last had waited, s. */
export const WAITED = 22;
/** When the face that it slides along ends, s from now. */
export const FACE_ENDS = 24;
export const CLOCK_LENGTH = 25;
