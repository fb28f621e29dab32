import { z } from 'zod';
import { MOST_LAID, OPPOSED, type HostCall, type RecordingStart } from '../core/index.js';
import { tuningSchema } from './tuning-schema.js';

const place = z.union([z.string(), z.tuple([z.number(), z.number()])]);

const opposed = z.enum(OPPOSED);

/** How many pieces of motion had begun at the moment before the call was made. */
const after = z.number().int().gte(0).lte(MOST_LAID).optional();

/** What a host row may hold, by the call. */
export const HOST_CALLS = {
  hop: z.strictObject({ hop: z.number(), after }),
  shove: z.strictObject({ shove: z.tuple([z.number(), z.number()]), lock: z.number().default(0), after }),
  place: z.strictObject({ place, after }),
  allow: z.strictObject({ allow: z.literal('airJumps'), count: z.number(), after }),
  retune: z.strictObject({ retune: tuningSchema, after }),
  listen: z.strictObject({ listen: z.boolean(), after }),
  oppose: z.strictObject({ oppose: opposed, after }),
  ignore: z.strictObject({ ignore: z.string(), on: z.boolean(), after }),
  moveTo: z.strictObject({ moveTo: z.tuple([z.string(), z.number(), z.number()]), after }),
  placeAt: z.strictObject({ placeAt: z.tuple([z.string(), z.number(), z.number()]), after }),
  drive: z.strictObject({ drive: z.literal(true), after }),
  freeze: z.strictObject({ freeze: z.number(), after }),
  tempo: z.strictObject({ tempo: z.number(), after }),
  box: z.strictObject({ box: z.string(), on: z.boolean(), after }),
  remove: z.strictObject({ remove: z.literal(true), after }),
  rate: z.strictObject({
    rate: z.number().gt(0).lte(10000),
    spawn: place,
    facing: z.union([z.literal(1), z.literal(-1)]),
    opposed,
  }),
} as const;

const names = Object.keys(HOST_CALLS) as (keyof typeof HOST_CALLS)[];

/**
 * Reads the value of a host row: a call of the game, or how the recording began.
 * @returns the call, or in words what is wrong
 */
export function readCall(text: string): HostCall | RecordingStart | string {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    return 'it must be JSON';
  }
  const name = names.find((one) => typeof data === 'object' && data !== null && one in data);
  if (name === undefined) return `it must be an object with one of ${names.join(', ')}`;
  const read = HOST_CALLS[name].safeParse(data);
  if (read.success) return read.data as HostCall | RecordingStart;
  const [issue] = read.error.issues;
  return `${[...issue!.path].join('.') || name}: ${issue!.message}`;
}
