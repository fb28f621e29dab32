/** Every tolerance of the core, each with what it comes from. Lengths are in units or shares of a body, speeds in shares of others, times in seconds. */

/** What leans so little against the way that a body can go only presses it, and pushes it nowhere: the sine of ten degrees. */
export const LEANS = 0.17;
