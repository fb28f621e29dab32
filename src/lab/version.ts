/** The version of the package: what was found by another may be otherwise. */
export const VERSION = '0.2.0';
