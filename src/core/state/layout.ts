/**
 * All that changes about a character, as one flat array of numbers: a snapshot is a copy of it. Places are of the
 * middle of the feet, in units with y up; moments are seconds of stage time.
 */

// ——— Motion: where the body is, how it goes, what acts on it. Written by `body/drive.ts`, `body/run.ts` and `contact/leave.ts` ———

export const X = 0;
export const Y = 1;
export const VX = 2;
export const VY = 3;
/** −1 or 1: the last way pressed. */
export const FACING = 4;
export const PHASE = 5;
/** The height of the hitbox, units. */
export const HEIGHT = 6;
/** Highest y since the last support. */
export const HIGHEST = 7;
/** Seconds spent on the fall ramp. */
export const RAMP = 8;
/** An eased change of speed under way: 1, its target, its rate, the moment at which it is done. */
export const EASING = 9;
export const EASE_TO = 10;
export const EASE_RATE = 11;
export const EASE_END = 12;
/** The apex band of the present jump: half its width, units/s. */
export const BAND = 13;
/** 1 from a takeoff until the next support. */
export const JUMPING = 14;
/** HELD, LET_GO (waiting for the least hold), RELEASED, or KEPT; latched until the next takeoff. */
export const KEY = 15;
/** Moment of the last takeoff. */
export const LAUNCHED = 16;
/** Moment of the press that the last takeoff used. */
export const USED_PRESS = 17;
/** Moment of the press that was taken last: what takes it may use it later. */
export const TAKEN = 18;
/** Moment at which the last support was left. */
export const AIRBORNE = 19;
/** Steering that returns evenly: since when, within how many seconds (0: none), from which speed. */
export const LOCK_SINCE = 20;
export const LOCK_FOR = 21;
export const LOCK_FROM = 22;

// ——— Contacts: what it touches. Written by `contact/` ———

/** NONE, GROUND, ON_WALL or ON_LEDGE. */
export const SUPPORT = 23;
/** The edge stood on, or −1. */
export const EDGE = 24;
/** Where on its edge the body stands: 0 on the edge itself; −1, 1 with its underside on the corner at the edge's start, end; −2, 2 with a cut corner on it. */
export const END = 25;
/** 1 while it stands between two faces that together hold it. */
export const PIT = 26;
/** What touches the body besides: records of several numbers each, see `touches.ts`. */
export const TOUCHES = 27;
/**
 * What carries the body, as a set of edges (0: nothing that moves): X, Y, VX, VY and all other places are measured from there, see `frame.ts`.
 * And the one that it was last told to be aboard of.
 */
export const FRAME = 55;
export const ABOARD = 56;
/** Where the body was when it last slid along a face. */
export const FACED_X = 57;
export const FACED_Y = 58;
/** 1 + the set that was last told to push the body, while it does; 0 for none. */
export const PUSHED = 59;
/** 1 + the edge that a bump was last told against, 0 before the first, and when (`BUMPED_AT`): one touch is one bump. */
export const BUMPED = 60;
export const BUMPED_AT = 61;
/** 1 + each joined piece of one-way ground (by an edge) that is being dropped through, until the body is clear of it; 0 for none. So many at most. */
export const DROPPED = 62;
export const DROPS = 4;
/** Where across in the level the body last went over a ridge that is no step. */
export const RIDGE_AT = 66;
/** The surface last told of; the sides that it is beyond, as bits. */
export const SURFACE = 67;
export const BEYOND = 68;
/** Layers that it ignores, as bits. */
export const IGNORES = 69;
/** 1 while it is pushed out of something solid, to which place; 2 where there is no way out. */
export const FREEING = 70;
export const FREE_X = 71;
export const FREE_Y = 72;
/** Which of the boxes that it carries are switched off, as bits. */
export const BOXES_OFF = 73;
/** Its own time stands still until that moment, since that one; 0 while it goes on. */
export const FROZEN = 74;
export const FROZEN_SINCE = 75;

// ——— Windows and rights. Written by `state/rights.ts`, opened where a support is left ———

/** 1 from leaving an edge until the coyote jump is used or lost, and the moment of leaving. */
export const COYOTE = 76;
export const LEFT_AT = 77;
/** 1 from leaving a wall until the wall coyote is used or lost, and the moment of leaving. */
export const WALL_COYOTE = 78;
export const LEFT_WALL_AT = 79;
/** The wall held on to (over at least half of the body), or −1; and on which side the last one was, −1 or 1. */
export const GRIP = 80;
export const GRIP_SIDE = 81;
/** The wall whose jumps are counted, or −1, and how many of them are used. */
export const COUNTED_WALL = 82;
export const WALL_USED = 83;
/** How many of the counted wall's jumps have given the air jumps back. */
export const WALL_GAVE = 84;
/** 1 once a ledge has given the air jumps back, until the next ground. */
export const LEDGE_GAVE = 85;
/** Air jumps spent since they were last restored; below 0 where more were allowed. */
export const AIR_SPENT = 86;
/** Moments of the last corner correction and the last lip assist. */
export const CORNERED = 87;
export const LIPPED = 88;
/** How fast it went along the ground on its own feet when it left that, units/s. */
export const RAN = 89;

// ——— What is asked. Written by `body/intents.ts` ———

/** The way the keys ask for: −1 to 1. */
export const WISH = 90;
/** Which direction was pressed first while both are held: −1 or 1. */
export const FIRST = 91;
/** 1 while deaf to input. */
export const DEAF = 92;
/** Which way to go with both held: an index into `OPPOSED`. */
export const OPPOSED_BY = 93;
/** Which of the tunings that the character has had applies. */
export const TUNED = 94;

// ——— Poses and pictures. Written by `body/poses.ts` ———

/** The pose shown, since when; the one that wants to be shown, since when. */
export const POSE = 95;
export const POSE_SINCE = 96;
export const WANT = 97;
export const WANT_SINCE = 98;
/** Since when what the pose shows goes on, s of stage time, and how long it lasts, s; 0 where that is not known. */
export const SHOWS_FROM = 99;
export const SHOWS_FOR = 100;
/** Moment of the last touchdown. */
export const LANDED = 101;
/** The speed of the last touchdown, units/s. */
export const LANDING = 102;
/** Distance run since the last footfall, units; and how many there were since the body last stood still. */
export const STRIDE = 103;
export const FOOTFALLS = 104;
/** The last step: how far it moved the body up, units, and when. */
export const STEP = 105;
export const STEPPED = 106;
/** The pose shown before the present one, and since when. */
export const POSE_WAS = 107;
export const POSE_WAS_SINCE = 108;

/** How fast its own time goes, as a share of the stage's; 0 where that is the same. Written by `body/tempo.ts`. */
export const TEMPO = 109;

// ——— Actions ———

/** Values of the actions that every character knows, in the order of `ACTIONS`. */
export const HELD_ACTIONS = 110;
/** Moments of the presses of these that wait to be taken; −1 where none does. */
export const PRESSES = HELD_ACTIONS + 8;
/** Moments of their last presses, taken or not; −1 before the first. */
export const SINCES = PRESSES + 8;
/** From here on: the further actions and the state of the abilities, see `body.ts`. */
export const FIXED_LENGTH = SINCES + 8;

/** Of each mover, what it and the body are to one another: one of these, and the two edges that press it (the first then gives way to the moment at which it was let go). */
export const MOVER_SLOTS = 3;
export const MEETS = 0;
/** Crushed by it and let through, until clear of it. */
export const PASSES = 1;
/** Crushed by it and told so: the body stays put until it is clear. */
export const TOLD = 2;
/** The body keeps the mover from going on. */
export const HOLDS_UP = 3;

export const NONE = 0;
export const GROUND = 1;
export const ON_WALL = 2;
export const ON_LEDGE = 3;
export const SUPPORTS = ['', 'ground', 'wall', 'ledge'] as const;
/**
 * One of these.
 * @example
 * ```ts
 * const support: Support = hero.support;
 * ```
 */
export type Support = (typeof SUPPORTS)[number];

export const HELD = 0;
export const LET_GO = 1;
export const RELEASED = 2;
/** Counts as held until the next support: nobody holds a key. */
export const KEPT = 3;

/**
 * Phases of vertical motion; abilities of a game add their own behind these.
 * @example
 * ```ts
 * PHASES.indexOf('apex') // 2
 * ```
 */
export const PHASES = [
  'ground', 'rise', 'apex', 'released', 'fall', 'ramp', 'cap', 'hang', 'slide', 'glide', 'dive', 'slip',
] as const; // prettier-ignore
/** One of these. */
export type Phase = (typeof PHASES)[number] | (string & {});
export const ON_GROUND = 0;
export const RISE = 1;
export const APEX = 2;
export const RELEASE = 3;
export const FALL = 4;
export const ON_RAMP = 5;
export const CAP = 6;
export const SLIP = 11;

/**
 * Poses; abilities of a game add their own behind these.
 * @example
 * ```ts
 * POSES[0] // 'idle'
 * ```
 */
export const POSES = [
  'idle', 'run', 'brake', 'turn', 'rise', 'apex', 'fall', 'land', 'slide', 'hang', 'climb', 'glide', 'dive', 'charge', 'crouch',
] as const; // prettier-ignore
/** One of these. */
export type PoseName = (typeof POSES)[number] | (string & {});
export const IDLE = 0;
export const RUNNING = 1;
export const BRAKE = 2;
export const TURN = 3;
export const RISING = 4;
export const AT_APEX = 5;
export const FALLING = 6;
export const LAND = 7;
export const SLIDE = 8;
