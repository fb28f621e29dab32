/**
 * Every tolerance of the core, with its name and what it comes from. `touch`, 2⁻²⁰ body widths (`Motion.touch`), is the only one that says what touches;
 * lengths here are in `touch`, or in body widths where that is said. Speeds are shares of other speeds, times are seconds.
 */

// ——— Windows and moments ———

/** Of every window, and how close to the end of a tick something belongs to the next: far below a microsecond, which stamps are whole ones of; far above what
 * sums of a day's ticks lose. */
export const SLACK = 1e-9;
/** A press that reaches the stage so late, s, was made in a pause: no hitch of a page is as long. */
export const STALE = 0.5;
/** Moments closer than this are one where roots of the same contact are compared: a thousand times what a root of a tick's length is off by. */
export const SAME_MOMENT = 1e-12;
/** The same for the clocks of movers, which are differences of stage times of up to a day. */
export const SAME_MOVE = 1e-10;
/** What turns round so soon does so now: its speed is a difference that rounding has left. */
export const AT_ONCE = 1e-11;
/** How long after it has gone on from a stop a mover has left it. */
export const LEFT_STOP = 1e-9;
/** What a body does within so little time, as where it jumps with no room to, is one touch. */
export const SAME_TOUCH = 1e-7;
/** A body without a way out looks for one again this often: something that moves may have made one. A power of two, so that its moments are exact. */
export const LOOKS = 1 / 64;
/** At most one corner correction and one lip assist in this time: two in a row would be a climb. */
export const HELP_APART = 0.1;
/** A fall of so long takes the hands past a corner by far more than `touch`. */
export const LEAST_PAUSE = 0.001;

/** A piece of motion is looked at again after so long, s: what may be in its way is then near. And one of what stands still, never. */
export const LONGEST = 1;
export const FOREVER = 1073741824;

// ——— Speeds ———

/** Two speeds, or accelerations, are one where they differ by this share of them: some thousand roundings. */
export const SAME_SPEED = 1e-12;
/** Speeds and accelerations into a surface, or off it, below this share of the whole are rounding: a normal's parts are no more exact. */
export const ALONG = 1e-12;
/** A few units in the last place: what a sum of two speeds is off by. */
export const LAST_PLACES = 1e-15;
/** Of a body at rest beside what moves: a share of the speeds, which went through another frame and back. */
export const RESTS = 1e-9;
/** Shares of the terminal speed: as fast as each other, seen from two frames; none at all; what a projection leaves of none. */
export const AS_FAST = 1e-10;
export const NO_SPEED = 1e-13;
export const SPEED_ROUNDING = 1e-15;
/** A body that meets something slower than this share of the terminal speed was there already. */
export const FAINT = 1e-5;
/** A mover whose speed is so small a share of its fastest stands. */
export const STANDS = 1e-9;
/** What carries a body falls away where it accelerates by more than gravity, times this: so that rounding throws nobody off. */
export const FALLS_MORE = 1 + 1e-9;
/** So much faster than what it leaves, as a share of the terminal speed, a body falls out of the way of what it has run ahead of, however hard the air brakes
 * it. */
export const CLEARS = 1 / 128;

// ——— Places, in `touch` or in body widths ———

/** A few units in the last place of a coordinate. */
export const PLACE_ROUNDING = 8.881784197001252e-16;
/** A tip is passed by a body that overlaps it by less than this part of `touch`: so little that coming in over it is no depth, however steep. */
export const TIP = 64;
/** How far from the body something is that touches it no more, in `touch`: beyond every overlap that is still a touch, from either side. */
export const CLEAR = 4;
/** How far a mover has to be from a body that it was let through to meet it again, in `touch`: where it touches the body it would crush it again. The way
 * there ends so much further out, so that rounding at it decides nothing. */
export const APART = 2 * CLEAR;
export const BEYOND_APART = 1 / 64;
/** How far something that pressed the body has to be from it for a mover to go on, in body widths: else it would stop and go without end behind what gives way
 * slowly. And how long it waits at least, s. */
export const ROOM = 1 / 16;
export const WAIT = 1 / 128;
/** So far from where something overhead tore it off, in body widths, a body holds on to a wall again: else a wall that moves past that would rub it against
 * it. */
export const TORN_OFF = 1 / 16;
/**
 * So high over the feet, in body widths, is what stops nobody: the joints of what was drawn by hand. So far it has to be from one such to the next: a
 * steep face made of them stays steep.
 */
export const RIDGE = 1 / 512;
export const RIDGES_APART = 1 / 16;
/** In the air a body goes over one only at so much of its top speed: what has just begun to fall beside a wall is beside it. */
export const RIDGE_SPEED = 1 / 64;

/**
 * Ground that sends a body back is not entered by less than this share of its width: it would come back from where nobody has seen it, over and over, and between two
 * belts it would shake for ever.
 */
export const TURNS_BACK = 1 / 8;

// ——— Angles, as sines ———

/** What leans so little against the way that a body can go only presses it, and pushes it nowhere: ten degrees. */
export const LEANS = 0.17;
/** A face nearer to upright than this lifts nothing: a degree. */
export const UPRIGHT = 0.0175;
/** Two faces that are parallel: `touch` over a body's width. */
export const PARALLEL = 1 / 1048576;
/** Two edges of a line that turns right back: what the grid of vertices leaves of a straight line. */
export const STRAIGHT = 1e-9;

// ——— Guards: no motion comes to these ———

/** So many pieces in a row, all within so much time, are a row without an end. */
export const ROW = 16;
export const ROW_TIME = 1e-9;
/** No motion begins so many pieces at one moment. */
export const MOST_PIECES = 1000;
/** Between two things that come together a body comes to no end: so many pieces within so much time, beside what moves. */
export const MANY = 64;
export const MANY_TIME = 1e-3;
/** So often in a row, each so soon after the last, it may come to be pressed between two. */
export const MOST_PRESSED = 8;
export const IN_A_ROW = 1e-6;
