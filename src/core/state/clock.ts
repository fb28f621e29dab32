/**
 * The piece of motion that a body is in, besides its path: part of the state, so that it lives until something ends it. Moments are seconds of stage time; what
 * ends within the piece is measured from its beginning, `NOW`.
 */

/** The tick in which something last happened to the body. */
export const TICK = 0;
/** The moment at which the piece begins: the rest of the state is that of this moment. And the one at which it ends. */
export const NOW = 1;
export const ENDS_AT = 2;
/** What the body is in: one of those below. */
export const KIND = 3;
/** When the motion across and up reach the end of their stretch, s from `NOW`, and the speeds they then have. */
export const X_ENDS = 4;
export const X_END_SPEED = 5;
export const Y_ENDS = 6;
export const Y_END_SPEED = 7;
/** When the support, the wall, or the face that it slides along ends, s from `NOW`. */
export const SUPPORT_ENDS = 8;
export const WALL_ENDS = 9;
export const FACE_ENDS = 10;
/** What ends the piece by being met: the edge or −1, and the normal of the touch. */
export const HIT = 11;
export const HIT_NX = 12;
export const HIT_NY = 13;
/** What abilities have asked of this piece: the way to run, −1 to 1, and the top speed (below 0: the run's own). */
export const ASK = 14;
export const TOP = 15;
/** Motion across that an ability has set: 1, the speed it goes to, its rate. */
export const ACROSS_SET = 16;
export const ACROSS_TO = 17;
export const ACROSS_RATE = 18;
/** Motion up that an ability has set: 1, the speed it goes to, its rate, and the number of its phase. */
export const UP_SET = 19;
export const UP_TO = 20;
export const UP_RATE = 21;
export const UP_PHASE = 22;
/** How long the press that was taken last had waited, s. */
export const WAITED = 23;
/** From which moment on an ability wants to be asked again. */
export const LOOK_AT = 24;
/** The pose that an ability shows, or −1. */
export const SHOWING = 25;
/** 1 while something pushes the body along. */
export const ALONG_WITH = 26;
/** How fast the ground or the medium moves the body across, units/s. */
export const DRIFTS = 27;
/** The way that its feet go over the ground: −1, 0 or 1; how many footfalls the piece has had, and when the next one is. */
export const STEPS_WAY = 28;
export const STEPS_HERE = 29;
export const STEP_AT = 30;
/** When the pose may change by itself. */
export const POSE_AT = 31;
/** Where the present row of very short pieces began, and how many there have been. */
export const ROW_START = 32;
export const ROW_COUNT = 33;
/** How many pieces lately ended within `MANY_TIME` of one another, and the moment at which that began. */
export const MANY_COUNT = 34;
export const MANY_FROM = 35;
/** How often in a row it came to be pressed between two things that gave it no room, and the moment of the last. */
export const PRESSED_COUNT = 36;
export const PRESSED_AT = 37;
/** The last edges met in a row, the last first; −1 for none. */
export const MET = 38;
export const METS = 4;
/** How many movers wait for it, are let through or have told it: see `MOVER_SLOTS`. */
export const ENTANGLED = 42;
/** The moment for which a pose is chosen; and the next one at which something is to be done about the body. */
export const POSE_NOW = 43;
export const DUE = 44;
export const CLOCK_LENGTH = 45;

/** In no piece: the next one is to be laid at this very moment. */
export const NOT_LAID = 0;
/** In an ordinary one. */
export const GOES = 1;
/** Told that it is crushed: it stays where it is. */
export const STAYS = 2;
/** On its way out of something solid. */
export const COMES_OUT = 3;
/** At the end of a row that has none, it waits for a moment. */
export const STUCK = 4;
/** Its own time stands still. */
export const STANDS_STILL = 5;
export const KINDS = 6;
