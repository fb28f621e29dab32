import { z } from 'zod';
import { keysSchema } from './keys.js';
import { promisesSchema } from './promises.js';
import { framesSchema } from './frames.js';
import { levelSchema } from './level-schema.js';
import { tuningSchema } from './tuning-schema.js';

/** The JSON Schemas (2020-12) of the files people write, by the file they belong in. */
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
    'level.schema.json': schema('An Apperin level in rows', levelSchema),
  };
}
