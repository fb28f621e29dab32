import { z } from 'zod';
import { GROUP_WORDS, KEYS, MEANINGS, type ChoiceKey, type Key, type NumberKey, type Tuning } from '../core/index.js';

const UNITS = {
  length: 'units',
  speed: 'units/s',
  acceleration: 'units/s²',
  time: 's',
  multiplier: 'multiplier',
  share: 'share',
  angle: 'degrees',
  count: 'a whole number',
} as const;

function field(key: Key): z.ZodType {
  const meaning = MEANINGS[key.key]!;
  if ('switch' in key) return z.boolean().describe(`${meaning}; ${key.switch} unless given`);
  if ('of' in key) {
    const list = z.array(one(key.of)).min(1).max(key.count);
    return list.describe(`${meaning}${unitOf(key.of)}; ${JSON.stringify(key.default)} unless given`);
  }
  if ('choices' in key) return one(key).describe(`${meaning} (${key.choices[0]} unless given)`);
  const usual = key.default === undefined ? '' : `; ${key.default} unless given`;
  return one(key).describe(`${meaning}${unitOf(key)}${usual}`);
}

function one(key: NumberKey | ChoiceKey): z.ZodType {
  if ('choices' in key) return z.enum(key.choices as [string, ...string[]]);
  if (key.word !== undefined) return z.union([z.int().gte(key.least).lte(key.most), z.literal(key.word)]);
  return (key.above ? z.number().gt(key.least) : z.number().gte(key.least)).lte(key.most);
}

function unitOf(key: NumberKey | ChoiceKey): string {
  return 'unit' in key ? `, ${UNITS[key.unit]}` : '';
}

/** The group of the keys that begin with `prefix`, with the groups inside it. */
function group(prefix: string): z.ZodType {
  const shape: Record<string, z.ZodType> = {};
  for (const key of KEYS) {
    if (!key.key.startsWith(prefix)) continue;
    const [name, ...inner] = key.key.slice(prefix.length).split('.') as [string, ...string[]];
    const full = prefix + name;
    shape[name] ??= inner.length === 0 ? field(key).optional() : wrap(full, group(`${full}.`)).optional();
  }
  return z.strictObject(shape);
}

/** Groups that a word may stand for. */
function wrap(name: string, keys: z.ZodType): z.ZodType {
  const word = GROUP_WORDS[name];
  return word === undefined ? keys : z.union([keys, z.literal(word)]);
}

const all = group('') as z.ZodObject;

/** A tuning file. */
export const tuningSchema = all.extend({
  own: z
    .record(z.string(), z.record(z.string(), z.number()))
    .describe('numbers of abilities that the game brings, by ability and name')
    .optional(),
  from: z.string().min(1).describe('start from another tuning file; this one only says what differs').optional(),
}) as unknown as z.ZodType<Tuning & { from?: string }>;
