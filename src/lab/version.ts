/**
 * The version of the package: what was found by another may be otherwise.
 * @example
 * ```ts
 * VERSION.split('.').length // 3
 * ```
 */
export const VERSION = '0.2.0';
