import { z } from 'zod';
import { keysSchema } from './keys.js';
import { promisesSchema } from './promises.js';
import { framesSchema } from './frames.js';
import { levelSchema } from './level-schema.js';
import { tuningSchema } from './tuning-schema.js';

/** A level has rows, shapes or cells; what is about rows alone does not go with shapes, and characters as marks go with cells. */
const ONE_OF_THREE = {
  oneOf: [
    {
      required: ['rows'],
      properties: { rows: {}, marks: { type: 'object', additionalProperties: { type: 'object' } } },
    },
    { required: ['shapes'], properties: { shapes: {}, tile: false, origin: false, marks: false } },
    { required: ['cells'], properties: { cells: {} } },
  ],
};

/**
 * The JSON Schemas (2020-12) of the files people write, by the file they belong in.
 * @example
 * ```ts
 * jsonSchemas()['tuning.schema.json']
 * ```
 */
export function jsonSchemas(): Record<string, object> {
  const schema = (title: string, of: z.ZodType): object => {
    const { $schema, ...rest } = z.toJSONSchema(of, { target: 'draft-2020-12', io: 'input' }) as Record<
      string,
      unknown
    >;
    return { $schema, title, ...rest };
  };
  return {
    'tuning.schema.json': schema('An Apperin tuning: how a character moves', tuningSchema),
    'keys.schema.json': schema('Apperin key bindings', keysSchema),
    'promises.schema.json': schema('Apperin promises: measures and their bounds', promisesSchema),
    'frames.schema.json': schema('Numbers of a character by frames', framesSchema),
    'level.schema.json': { ...schema('An Apperin level', levelSchema), ...ONE_OF_THREE },
  };
}
