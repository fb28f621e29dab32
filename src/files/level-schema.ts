import { z } from 'zod';

const far = 67108864;
const coordinate = z.number().gte(-far).lte(far);
const place = z.tuple([coordinate, coordinate]);
const bound = z.enum(['open', 'wall']);

/** A level in rows. */
export const levelSchema = z.strictObject({
  title: z.string().describe('what people call the level').optional(),
  tile: z.number().gt(0).lte(1048576).describe('units per character; 1 unless given').optional(),
  yPoints: z.enum(['down', 'up']).describe('which way the y axis points; down unless given').optional(),
  origin: place
    .describe('where the rows’ origin corner lies: the top left, or with yPoints: up the bottom left')
    .optional(),
  rows: z
    .union([z.string(), z.array(z.string())])
    .describe(
      'rows of characters from the top: # solid, = one-way, . empty, @ spawn; a list of texts or one block of lines',
    ),
  spawns: z
    .record(
      z.string().min(1),
      z.union([place, z.strictObject({ at: place, facing: z.union([z.literal(-1), z.literal(1)]).optional() })]),
    )
    .describe('places to start from: the middle of the feet as [x, y], or with the way faced')
    .optional(),
  bounds: z
    .strictObject({ left: bound.optional(), right: bound.optional(), top: bound.optional(), bottom: bound.optional() })
    .describe('what each side of the level is: open unless given, or a wall')
    .optional(),
});

/** What later versions of a level file hold. */
export const LEVEL_NOT_YET: readonly string[] = ['marks', 'surfaces', 'movers', 'zones'];
