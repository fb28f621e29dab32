import type { VariedKey } from 'apperin/lab';
import { CallError } from './exit.js';
import { kindOf } from './kinds.js';

/** Whether a word of a call is a key with its values. */
export const isRange = (word: string): boolean => /^[A-Za-z0-9.]+=/.test(word) && kindOf(word) === undefined;

/** `key=from..to/count`, or `key=value,value,…`. */
export function keyOf(word: string): VariedKey {
  const [, key, text] = /^([^=]+)=(.*)$/.exec(word)!;
  const range = /^(.+)\.\.(.+?)(?:\/(\d+))?$/.exec(text!);
  const values = range ? spread(Number(range[1]), Number(range[2]), Number(range[3] ?? 9)) : text!.split(',').map(Number);
  if (values.length === 0 || text === '' || values.some((value) => !Number.isFinite(value)))
    throw new CallError(`${word}: it must be key=from..to/count or key=value,value: jump.height=2..4/9`);
  return { key: key!, values };
} // prettier-ignore

function spread(from: number, to: number, count: number): number[] {
  if (count === 1) return [from];
  // Rounded so that 2.2 is 2.2.
  return Array.from({ length: Math.min(count, 10_001) }, (_, i) =>
    Number((from + ((to - from) * i) / (count - 1)).toPrecision(12)),
  );
}
