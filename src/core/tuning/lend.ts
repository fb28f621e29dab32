/** Ways in which what moves lends its velocity to what leaves it. */
export const LEND_BOTH = 0;
export const LEND_ACROSS = 1;
export const LEND_NONE = 2;
