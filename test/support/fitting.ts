import { compileTuning, fillTuning, type Tuning } from 'apperin';
import type { Fit } from 'apperin/lab';

/** What a tuning says of a key that may be found. */
export function truthOf(tuning: Tuning, key: string): number | undefined {
  const motion = compileTuning(tuning);
  if (key === 'gravity.released') return motion.releasedAbove / motion.gravity;
  if (key === 'jump.lowestHop') return fillTuning(tuning).jump.lowestHop ?? Math.min(1.25, 0.4 * fillTuning(tuning).jump.height!);
  return key.split('.').reduce<unknown>((of, part) => (of as Record<string, unknown> | undefined)?.[part], fillTuning(tuning)) as number | undefined;
} // prettier-ignore

/** Keys whose interval does not hold the truth, with how far they are off, in half widths; keys that the tuning does not have. */
export function wrongOf({ found }: Fit, tuning: Tuning): string[] {
  const { apexSpeed } = fillTuning(tuning).gravity;
  return Object.entries(found).flatMap(([key, { value, within }]) => {
    const truth = truthOf(tuning, key);
    if (truth === undefined || (key.startsWith('gravity.apex') && apexSpeed === 0)) return [`${key} is invented: ${value}`];
    const off = (value - truth) / within;
    return Math.abs(off) > 1 ? [`${key} is ${value} ± ${within}, and truly ${truth}`] : [];
  });
} // prettier-ignore
