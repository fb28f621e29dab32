import { z } from 'zod';
import { GROUP_WORDS, KEYS, MEANINGS, type Key, type Tuning } from '../core/index.js';

const UNITS = {
  length: 'units',
  speed: 'units/s',
  acceleration: 'units/s²',
  time: 's',
  multiplier: 'multiplier',
  share: 'share',
} as const;

function field(key: Key): z.ZodType {
  if (!('unit' in key))
    return z
      .enum(key.choices as [string, ...string[]])
      .describe(`${MEANINGS[key.key]} (${key.choices[0]} unless given)`);
  const from = key.above ? z.number().gt(key.least) : z.number().gte(key.least);
  const usual = key.default === undefined ? '' : `; ${key.default} unless given`;
  return from.lte(key.most).describe(`${MEANINGS[key.key]}, ${UNITS[key.unit]}${usual}`);
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
  from: z.string().min(1).describe('start from another tuning file; this one only says what differs').optional(),
}) as unknown as z.ZodType<Tuning & { from?: string }>;
