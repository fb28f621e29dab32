import { z } from 'zod';
import { POLICIES, TILE_PARTS } from '../core/index.js';

const far = 67108864;
const coordinate = z.number().gte(-far).lte(far);
const place = z.tuple([coordinate, coordinate]);
const bound = z.enum(['open', 'wall', 'wrap', 'out']);
const scale = z.number().gte(0.001).lte(1000);
const height = z.number().gte(0).lte(1);
const heights = z.tuple([height, height]);

/** What any shape may carry. */
const carry = {
  surface: z.string().min(1).describe('one of the level’s surfaces').optional(),
  layer: z.string().min(1).describe('a layer that bodies may ignore').optional(),
  name: z.string().min(1).describe('a name to switch it off and on by').optional(),
  'no-wall': z.boolean().describe('no sliding down it, no jumping off it').optional(),
  'no-ledge': z.boolean().describe('no hanging from it').optional(),
};

/** What a zone does. */
export const zoneNumbers = {
  gravity: scale.describe('scales gravity').optional(),
  pace: z.number().gte(0).lte(1000).describe('scales top speed').optional(),
  current: place.describe('velocity of the medium, units/s').optional(),
};

const tags = z.array(z.string().min(1)).describe('words that a game or a survey asks for: hazard, water');

const mark = z.strictObject({
  solid: z
    .union([
      z.enum(TILE_PARTS),
      heights,
      z.strictObject({ hanging: heights.describe('the heights of its lower side at left and right') }),
    ])
    .describe('full, a half or quarter, the heights of its upper side at left and right, or those of what hangs')
    .optional(),
  'one-way': z
    .union([z.literal('full'), heights])
    .describe('ground that blocks from above only: at the top of the tile, or at two heights')
    .optional(),
  zone: z
    .strictObject({ tags: tags.optional(), ...zoneNumbers })
    .describe('nothing solid: a zone that covers these cells, called by the name')
    .optional(),
  each: z
    .boolean()
    .describe('each cell is a shape or a zone of its own: its name with the column and row after it')
    .optional(),
  ...carry,
});

/** A surface. */
export const surfaceSchema = z.strictObject({
  grip: scale.describe('scales speeding up, braking and turning; 1 unless given').optional(),
  pace: z.number().gte(0).lte(1000).describe('scales top speed; 1 unless given').optional(),
  flow: coordinate.describe('the surface moves along itself, units/s, plus towards +x; 0 unless given').optional(),
  bounce: z
    .union([
      height,
      z.strictObject({
        share: height.describe('share of the landing speed given back'),
        from: z.number().gte(0).lte(far).describe('the landing speed from which it acts, units/s'),
      }),
    ])
    .describe('share of the landing speed given back; with from: the landing speed from which it acts, units/s')
    .optional(),
  jump: scale.describe('scales jump height; 1 unless given').optional(),
});

const zone = z.strictObject({
  name: z.string().min(1).describe('what it is called in events').optional(),
  box: z
    .tuple([coordinate, coordinate, z.number().gt(0).lte(far), z.number().gt(0).lte(far)])
    .describe('[x, y, width, height]: x, y is the corner nearest the origin')
    .optional(),
  points: z.array(place).min(3).describe('the corners of any area').optional(),
  tags: tags.optional(),
  ...zoneNumbers,
});

const box = z.tuple([coordinate, coordinate, z.number().gt(0).lte(far), z.number().gt(0).lte(far)]);
const share = z.number().gte(0).lte(1);

/** A shape: one of these natures. */
const shape = z.strictObject({
  solid: z
    .union([box, z.array(place).min(3)])
    .describe('[x, y, width, height], or the corners of any area')
    .optional(),
  'one-way': z
    .union([box, z.array(place).min(2)])
    .describe('blocks from above only: the upper side of [x, y, width, height], or the points of a line')
    .optional(),
  ground: z
    .union([box, z.array(place).min(2)])
    .describe('the same, and cannot be dropped through')
    .optional(),
  hole: z
    .union([box, z.array(place).min(3)])
    .describe('an outline with what is solid around it')
    .optional(),
  line: z.array(place).min(2).describe('blocks from both sides').optional(),
  ...carry,
});

/** How a mover goes. */
const mover = z.strictObject({
  name: z.string().min(1).describe('what it is called'),
  shapes: z.array(shape).min(1).describe('its shapes, where they are when its offset is nothing'),
  route: z.string().min(1).describe('its way as an SVG path, in units; left out where the game moves it').optional(),
  lap: z.number().gte(0.001).lte(86400).describe('one full cycle with the way back and all pauses, s').optional(),
  'there-and-back': z.boolean().describe('goes back the way it came').optional(),
  stops: z
    .array(
      z.strictObject({
        at: share.describe('share of the route'),
        for: z.number().gte(0).lte(86400).describe('seconds'),
      }),
    )
    .describe('pauses: at which share of the route, and for how many seconds')
    .optional(),
  easing: z
    .enum(['even', 'smooth'])
    .describe('smooth: speeds up and slows down between stops and ends; even unless given')
    .optional(),
  phase: z.number().gte(-86400).lte(86400).describe('how far into the lap it begins, s').optional(),
  laps: z.number().gt(0).lte(1e9).describe('stays where it is after so many; without end unless given').optional(),
  'key-points': z
    .array(share)
    .min(2)
    .describe('instead of stops: places on the way, as shares of its length')
    .optional(),
  'key-times': z.array(share).min(2).describe('when they are reached, as shares of the lap').optional(),
  'key-splines': z
    .array(z.tuple([share, share, share, share]))
    .describe('how it goes from each to the next: control points of a curve of progress over time')
    .optional(),
  policy: z.enum(POLICIES).describe('what it does with a body that it would crush: stop unless given').optional(),
});

/** A level in rows, or of free shapes. */
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
      'rows of characters from the top: # solid, / and \\ ramps, = one-way, . empty, @ spawn; a list of texts or one block of lines',
    )
    .optional(),
  shapes: z.array(shape).min(1).describe('free shapes, in place of rows').optional(),
  cells: z
    .union([z.string(), z.array(z.array(z.number().int())).min(1)])
    .describe('numbers in place of rows, as many programs write maps: lines of them with commas between, from the top')
    .optional(),
  marks: z
    .record(z.string(), z.union([mark, z.string().min(1).max(1)]))
    .describe(
      'what further characters in the rows mean; or what the numbers in the cells do, there also as a character of rows',
    )
    .optional(),
  surfaces: z.record(z.string().min(1), surfaceSchema).describe('surfaces by name').optional(),
  zones: z.array(zone).describe('areas that tell when a body enters and leaves').optional(),
  movers: z.array(mover).describe('shapes that move together along a route').optional(),
  spawns: z
    .record(
      z.string().min(1),
      z
        .union([
          place,
          z.strictObject({
            at: place.describe('the middle of the feet'),
            facing: z
              .union([z.literal(-1), z.literal(1)])
              .describe('the way faced: -1 left, 1 right; 1 unless given')
              .optional(),
          }),
        ])
        .describe('the middle of the feet, or a group'),
    )
    .describe('places to start from: the middle of the feet as [x, y], or with the way faced')
    .optional(),
  bounds: z
    .strictObject({
      left: bound.describe('the left side; open unless given').optional(),
      right: bound.describe('the right side; open unless given').optional(),
      top: bound.describe('the upper side; open unless given').optional(),
      bottom: bound.describe('the lower side; open unless given').optional(),
    })
    .describe(
      'what each side of the level is: open unless given, a wall, wrap (comes out at the other side) or out (an event)',
    )
    .optional(),
});
