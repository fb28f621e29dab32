import { Document } from 'yaml';
import { z } from 'zod';
import { showValue } from '../core/index.js';
import type { FrameNumbers } from '../lab/index.js';
import type { Problem } from './problem.js';
import { at, issuesOf, nearest, parseYaml } from './yaml.js';

/** The longest file of numbers by frames that is read, characters. */
export const FRAMES_LIMITS = { length: 262144 } as const;

const positive = (what: string) => z.number().gt(0).lte(1e6).describe(what);
const share = (what: string) => z.number().gt(0).lt(1).describe(what);

/** A file of numbers by frames. */
export const framesSchema = z.strictObject({
  rate: z.number().gte(1).lte(10000).describe('frames per second'),
  order: z.enum(['velocity-first', 'position-first']).describe('the order of the steps inside a frame'),
  launch: positive('speed upwards set by a jump, units a frame'),
  gravity: positive('taken from the speed upwards every frame, units a frame a frame'),
  fallGravity: positive('the same while it comes down, where that is another').optional(),
  fallSpeed: positive('the speed downwards is cut off here, units a frame').optional(),
  speed: positive('top speed across, units a frame').optional(),
  acceleration: positive('added to the speed across every frame while a key is held, units a frame a frame').optional(),
  deceleration: positive('taken from it every frame while none is, units a frame a frame').optional(),
  approach: share('or: the share of the difference to the top speed that is closed every frame').optional(),
  friction: share('or: what the speed across is multiplied by every frame while no key is held').optional(),
  cut: z.number().gte(0).lte(1).describe('what the speed upwards is multiplied by once, when the key is let go').optional(),
  coyote: z.number().gte(0).lte(10000).describe('frames').optional(),
  buffer: z.number().gte(0).lte(10000).describe('frames').optional(),
}); // prettier-ignore

/**
 * Reads numbers by frames (`*.frames.yaml`).
 * @throws FileError with the place of everything that is wrong
 */
export function readFrames(
  text: string,
  { file = 'frames.yaml' }: { file?: string } = {},
): { frames: FrameNumbers; warnings: Problem[] } {
  const { problems, data, keyAt, valueAt } = parseYaml(text, file, FRAMES_LIMITS.length);
  const checked = framesSchema.safeParse(data ?? {});
  const known = Object.keys(framesSchema.shape);
  for (const { path, keys } of issuesOf(checked.error, data)) {
    for (const key of keys) {
      const meant = nearest(key, known);
      problems.offset(keyAt([key]), `there is no key ${key}${meant ? `; did you mean ${meant}?` : `; the keys are ${known.join(', ')}`}`);
    }
    if (keys.length > 0) continue;
    const where = path.join('.');
    const value = at(data, path);
    problems.offset(valueAt(path), where === '' ? `this is ${showValue(value)}; it must be a group of keys` : value === undefined ? `${where} is missing` : `${where} is ${showValue(value)}; it must be ${allowed(where)}`);
  }
  problems.refuse();
  return { frames: checked.data as FrameNumbers, warnings: problems.warnings };
} // prettier-ignore

function allowed(key: string): string {
  if (key === 'rate') return 'a number of 1 to 10000 frames per second';
  if (key === 'order') return 'velocity-first or position-first';
  if (key === 'approach' || key === 'friction') return 'a number between 0 and 1';
  if (key === 'cut') return 'a number of 0 to 1';
  return key === 'coyote' || key === 'buffer'
    ? 'a number of 0 to 10000 frames'
    : 'a number above 0 and at most 1000000';
}

/** Numbers by frames as a file's text. */
export function writeFrames(frames: FrameNumbers): string {
  const rounded = Object.fromEntries(
    Object.entries(frames).map(([key, value]) => [
      key,
      typeof value === 'number' ? Number(value.toPrecision(8)) : (value as string),
    ]),
  );
  return new Document(rounded).toString({ lineWidth: 0 });
}
