import type { PressMargin } from 'apperin/lab';
import { number } from './print.js';

/** Milliseconds for people. */
export const ms = (seconds: number): string => number(seconds * 1000, 1);

/** What each grace window adds to a press, where it adds something. */
export function helpOf(adds: PressMargin['adds']): string {
  return Object.entries(adds)
    .flatMap(([grace, share]) => (share === null || share < 0.0005 ? [] : [`${grace} ${ms(share)}`]))
    .join(', ');
}
