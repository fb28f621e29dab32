/**
 * All that changes about a character, as one flat array of numbers: a snapshot is a copy of it. Places are of the
 * middle of the feet, in units with y up; moments are seconds of stage time.
 */
export const X = 0;
export const Y = 1;
export const VX = 2;
export const VY = 3;
/** −1 or 1: the last way pressed. */
export const FACING = 4;
/** NONE or GROUND. */
export const SUPPORT = 5;
/** The edge stood on, or −1. */
export const EDGE = 6;
/** The wall that stopped the body and that it still presses against, or −1. */
export const WALL = 7;
export const PHASE = 8;
/** 1 from a takeoff until the next support. */
export const JUMPING = 9;
/** HELD, LET_GO (waiting for the least hold) or RELEASED; latched until the next takeoff. */
export const KEY = 10;
/** Moment of the last takeoff. */
export const LAUNCHED = 11;
/** 1 while a press waits to be used, and its moment. */
export const PRESS = 12;
export const PRESSED = 13;
/** 1 from leaving an edge until the coyote jump is used or lost, and the moment of leaving. */
export const COYOTE = 14;
export const LEFT_AT = 15;
/** Highest y since the last support. */
export const HIGHEST = 16;
/** Seconds spent on the fall ramp. */
export const RAMP = 17;
/** An eased change of speed under way: 1, its target, its rate, the moment at which it is done. */
export const EASING = 18;
export const EASE_TO = 19;
export const EASE_RATE = 20;
export const EASE_END = 21;
/** The pose shown, since when; the one that wants to be shown, since when. */
export const POSE = 22;
export const POSE_SINCE = 23;
export const WANT = 24;
export const WANT_SINCE = 25;
/** Moment of the last touchdown. */
export const LANDED = 26;
/** Which direction was pressed first while both are held: −1 or 1. */
export const FIRST = 27;
/** The way the keys ask for: −1 to 1. */
export const WISH = 28;
/** Moments of the last corner correction and the last lip assist. */
export const CORNERED = 29;
export const LIPPED = 30;
/** The apex band of the present jump: half its width, units/s. */
export const BAND = 31;
/** Air jumps spent since they were last restored. */
export const AIR_SPENT = 32;
/** Where the body was a tick ago, for drawing between ticks. */
export const WAS_X = 33;
export const WAS_Y = 34;
/** Values of the actions, in the order of `ACTIONS`. */
export const HELD_ACTIONS = 35;
export const STATE_LENGTH = HELD_ACTIONS + 8;

export const NONE = 0;
export const GROUND = 1;

export const HELD = 0;
export const LET_GO = 1;
export const RELEASED = 2;

export const PHASES = ['ground', 'rise', 'apex', 'released', 'fall', 'ramp', 'cap'] as const;
export type Phase = (typeof PHASES)[number];
export const ON_GROUND = 0;
export const RISE = 1;
export const APEX = 2;
export const RELEASE = 3;
export const FALL = 4;
export const ON_RAMP = 5;
export const CAP = 6;

export const POSES = ['idle', 'run', 'brake', 'turn', 'rise', 'apex', 'fall', 'land'] as const;
export type PoseName = (typeof POSES)[number];
export const IDLE = 0;
export const RUNNING = 1;
export const BRAKE = 2;
export const TURN = 3;
export const RISING = 4;
export const AT_APEX = 5;
export const FALLING = 6;
export const LAND = 7;

/** Slack of every window, s. */
export const SLACK = 1e-9;
