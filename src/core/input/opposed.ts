/**
 * What happens while both directions are held.
 * @example
 * ```ts
 * OPPOSED[0] // 'still'
 * ```
 */
export const OPPOSED = ['still', 'latest', 'first'] as const;
export const STILL = 0;
export const LATEST = 1;
/** One of these. */
export type Opposed = (typeof OPPOSED)[number];
