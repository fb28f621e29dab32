/** Every tolerance of the core, each with what it comes from. Lengths are in units or shares of a body, speeds in shares of others, times in seconds. */

/** What leans so little against the way that a body can go only presses it, and pushes it nowhere: the sine of ten degrees. */
export const LEANS = 0.17;

/**
 * So high over the feet, in body widths, is what stops nobody: the joints of what was drawn by hand. So far it has to be from one such to the next: a
 * steep face made of them stays steep.
 */
export const RIDGE = 1 / 512;
export const RIDGES_APART = 1 / 16;
/** In the air a body goes over one only at so much of its top speed: what has just begun to fall beside a wall is beside it. */
export const RIDGE_SPEED = 1 / 64;
