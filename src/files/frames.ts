import { Document } from 'yaml';
import { z } from 'zod';
import { showValue } from '../core/index.js';
import type { FrameNumbers } from '../lab/index.js';
import type { Problem } from './problem.js';
import { at, issuesOf, parseYaml } from './yaml.js';
import { nearest } from '../lab/nearest.js';

/**
 * The longest file of numbers by frames that is read, characters.
 * @example
 * ```ts
 * FRAMES_LIMITS.length // 262144
 * ```
 */
export const FRAMES_LIMITS = { length: 262144 } as const;

const positive = (what: string) => z.number().gt(0).lte(1e6).describe(what);
const share = (what: string) => z.number().gt(0).lt(1).describe(what);

/** How a loop steers, on the ground or in the air. */
const steering = {
  speed: positive('top speed across, units a frame').optional(),
  acceleration: positive('added to the speed across every frame while a key is held, units a frame a frame').optional(),
  turning: positive('the same while the key points against the motion, where that is another').optional(),
  deceleration: positive('taken from it every frame while none is, units a frame a frame').optional(),
  approach: share('or: the share of the difference to the top speed that is closed every frame').optional(),
  friction: share(
    'or: what the speed across is multiplied by every frame while no key is held; beside acceleration every frame, after it',
  ).optional(),
};

/** A file of numbers by frames. */
export const framesSchema = z.strictObject({
  rate: z.number().gte(1).lte(10000).describe('frames per second'),
  order: z.enum(['velocity-first', 'position-first']).describe('the order of the steps inside a frame'),
  tile: z.number().gt(0).lte(1048576).describe('units per tile: 16 where the numbers are pixels; it scales what the file does not say').optional(),
  body: z.strictObject({ width: positive('units').optional(), height: positive('units').optional() }).describe('the hitbox').optional(),
  launch: positive('speed upwards set by a jump, units a frame'),
  gravity: positive('taken from the speed upwards every frame, units a frame a frame'),
  fallGravity: positive('the same while it comes down, where that is another').optional(),
  fallSpeed: positive('the speed downwards is cut off here, units a frame; without it there is no cap').optional(),
  ...steering,
  air: z.union([z.literal('none'), z.strictObject(steering)]).describe('how it is steered in the air, as far as that is otherwise; none where it is not').optional(),
  cut: z.number().gte(0).lte(1).describe('what the speed upwards is multiplied by once, when the key is let go; without it letting go does nothing').optional(),
  minHold: z.number().gte(0).lte(10000).describe('letting go acts so many frames after the launch at the earliest').optional(),
  coyote: z.number().gte(0).lte(10000).describe('so many frames after an edge a press still jumps').optional(),
  buffer: z.number().gte(0).lte(10000).describe('so many frames before the landing a press is kept').optional(),
}); // prettier-ignore

/** The keys of a group within the file, or of the file itself. */
function keysOf(group: string): readonly string[] {
  if (group === 'body') return ['width', 'height'];
  return group === 'air' ? Object.keys(steering) : Object.keys(framesSchema.shape);
}

/**
 * Reads numbers by frames (`*.frames.yaml`).
 * @throws FileError with the place of everything that is wrong
 * @example
 * ```ts
 * const { frames } = readFrames('{ rate: 60, order: velocity-first, launch: 0.3, gravity: 0.0137 }');
 * ```
 */
export function readFrames(
  text: string,
  { file = 'frames.yaml' }: { file?: string } = {},
): { frames: FrameNumbers; warnings: Problem[] } {
  const { problems, data, keyAt, valueAt } = parseYaml(text, file, FRAMES_LIMITS.length);
  const checked = framesSchema.safeParse(data ?? {});
  for (const { path, keys } of issuesOf(checked.error, data)) {
    const where = path.join('.');
    const known = keysOf(where);
    for (const key of keys) {
      const meant = nearest(key, known);
      const name = where === '' ? key : `${where}.${key}`;
      problems.offset(keyAt([...path, key]), `there is no key ${name}${meant ? `; did you mean ${where === '' ? meant : `${where}.${meant}`}?` : `; the keys are ${known.join(', ')}`}`);
    }
    if (keys.length > 0) continue;
    const value = at(data, path);
    problems.offset(valueAt(path), where === '' ? `this is ${showValue(value)}; it must be a group of keys` : value === undefined ? `${where} is missing` : `${where} is ${showValue(value)}; it must be ${allowed(where)}`);
  }
  problems.refuse();
  return { frames: checked.data as FrameNumbers, warnings: problems.warnings };
} // prettier-ignore

function allowed(path: string): string {
  if (path === 'air') return 'none, or a group of ' + Object.keys(steering).join(', ');
  if (path === 'body') return 'a group of width and height';
  if (path === 'tile') return 'a number above 0 and at most 1048576';
  const key = path.split('.').at(-1)!;
  if (key === 'rate') return 'a number of 1 to 10000 frames per second';
  if (key === 'order') return 'velocity-first or position-first';
  if (key === 'approach' || key === 'friction') return 'a number between 0 and 1';
  if (key === 'cut') return 'a number of 0 to 1';
  return key === 'coyote' || key === 'buffer' || key === 'minHold'
    ? 'a number of 0 to 10000 frames'
    : 'a number above 0 and at most 1000000';
}

/**
 * Numbers by frames as a file's text.
 * @example
 * ```ts
 * writeFrames({ rate: 60, order: 'velocity-first', launch: 0.3, gravity: 0.0137 })
 * ```
 */
export function writeFrames(frames: FrameNumbers): string {
  const rounded = (value: unknown): unknown =>
    typeof value === 'number'
      ? Number(value.toPrecision(8))
      : typeof value === 'object' && value !== null
        ? Object.fromEntries(Object.entries(value).map(([key, one]) => [key, rounded(one)]))
        : value;
  return new Document(rounded(frames)).toString({ lineWidth: 0 });
}
