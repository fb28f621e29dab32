/** What happens while both directions are held. */
export const OPPOSED = ['still', 'latest', 'first'] as const;
export const STILL = 0;
export const LATEST = 1;
/** One of these. */
export type Opposed = (typeof OPPOSED)[number];
