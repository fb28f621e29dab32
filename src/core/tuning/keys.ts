/**
 * Every key of a tuning, once: its unit, default and range. The defaults, the checks, the JSON Schema, the reference
 * page and the editors are all made from this table. (What each means is said in `meanings.ts`, which games do not load.)
 */

export type Unit = 'length' | 'speed' | 'acceleration' | 'time' | 'multiplier' | 'share' | 'angle' | 'count';

/** A number, with its range and unit. */
export interface NumberKey {
  key: string;
  unit: Unit;
  /** For a world of one unit a tile; lengths and speeds are scaled by `tile`. Left out: no default. */
  default?: number;
  least: number;
  most: number;
  /** The value must be above `least`, not equal to it. */
  above?: boolean;
  /** A word that it may be instead. */
  word?: string;
}

/** One of a few words. */
export interface ChoiceKey {
  key: string;
  /** The first one is the default. */
  choices: readonly string[];
}

/** A yes or no. */
export interface SwitchKey {
  key: string;
  /** What it is unless given. */
  switch: boolean;
}

/** A list of 1 to `count` entries, each as `of` says. */
export interface ListKey {
  key: string;
  of: NumberKey | ChoiceKey;
  count: number;
  default: readonly (number | string)[];
}

/** A key of a tuning. */
export type Key = NumberKey | ChoiceKey | SwitchKey | ListKey;

/** The largest length a world can hold; vertices lie within it. */
export const FARTHEST = 67108864; // 2²⁶

const LONGEST = 60;

function number(key: string, unit: Unit, range: string, value: number | undefined): NumberKey {
  const [low, high] = range.split('..') as [string, string];
  const above = low.startsWith('>');
  const limit = (text: string): number => (text === 'far' ? FARTHEST : text === 'long' ? LONGEST : Number(text));
  const entry: NumberKey = {
    key,
    unit,
    least: limit(above ? low.slice(1) : low),
    most: limit(high),
  };
  if (value !== undefined) entry.default = value;
  if (above) entry.above = true;
  return entry;
}

function choice(key: string, choices: readonly string[]): ChoiceKey {
  return { key, choices };
}

/**
 * Every key of a tuning.
 * @example
 * ```ts
 * KEYS.some(({ key }) => key === 'jump.height') // true
 * ```
 */
export const KEYS: readonly Key[] = [
  number('tile', 'length', '>0..1048576', 1),
  number('body.width', 'length', '0.0625..1048576', 0.7),
  number('body.height', 'length', '0.0625..1048576', 1.3),
  number('body.bevel', 'length', '0..1048576', 0),
  number('body.freeBy', 'speed', '>0..far', 12),
  number('run.speed', 'speed', '0..far', 7.5),
  choice('run.feel', ['steady', 'eased']),
  number('run.upIn', 'time', '0..long', 0.12),
  number('run.stopIn', 'time', '0..long', 0.09),
  number('run.turnIn', 'time', '0..long', 0.08),
  choice('run.overspeed', ['bleed', 'keep']),
  number('run.air.speed', 'speed', '0..far', undefined),
  number('run.air.upIn', 'time', '0..long', 0.2),
  number('run.air.stopIn', 'time', '0..long', 0.35),
  number('run.air.turnIn', 'time', '0..long', 0.15),
  number('run.walk', 'share', '0..1', 0.45),
  number('jump.height', 'length', '>0..far', undefined),
  number('jump.riseTime', 'time', '>0..long', undefined),
  number('jump.baseGravity', 'acceleration', '>0..1e12', undefined),
  number('jump.launchSpeed', 'speed', '>0..far', undefined),
  number('jump.reach', 'length', '>0..far', undefined),
  number('jump.airTime', 'time', '>0..long', undefined),
  number('jump.lowestHop', 'length', '>0..far', undefined),
  number('jump.minHold', 'time', '0..long', 0.03),
  number('jump.runUp', 'length', '0..far', 0),
  { key: 'jump.off', switch: false },
  number('gravity.rising', 'multiplier', '>0..1000', 1),
  number('gravity.apex', 'multiplier', '>0..1000', 0.6),
  number('gravity.falling', 'multiplier', '>0..1000', 1.5),
  number('gravity.apexSpeed', 'speed', '0..far', 3),
  number('gravity.fallSpeed', 'speed', '>0..far', 24),
  number('gravity.released', 'multiplier', '>0..100000', undefined),
  number('gravity.cutTo', 'share', '0..1', undefined),
  number('gravity.fallRamp.to', 'multiplier', '>0..1000', undefined),
  number('gravity.fallRamp.over', 'time', '>0..long', undefined),
  number('grace.coyote', 'time', '0..long', 0.08),
  number('grace.buffer', 'time', '0..long', 0.12),
  number('grace.corner', 'length', '0..far', 0.22),
  number('grace.lip', 'length', '0..far', 0.2),
  number('grace.lipSpeed', 'speed', '0..far', 4),
  number('grace.wallCoyote', 'time', '0..long', 0.1),
  {
    key: 'airJumps.heights',
    of: number('airJumps.heights', 'length', '>0..far', undefined),
    count: 16,
    default: [2.25],
  },
  { key: 'airJumps.endless', switch: false },
  number('airJumps.spacing', 'time', '0..long', 0.12),
  {
    key: 'airJumps.restoredBy',
    of: choice('airJumps.restoredBy', ['ground', 'ledge', 'wall', 'zone']),
    count: 4,
    default: ['ground', 'ledge'],
  },
  number('charge.lowest', 'length', '>0..far', 1.25),
  number('charge.highest', 'length', '>0..far', 4.5),
  number('charge.fullIn', 'time', '0..long', 0.7),
  { key: 'charge.run', switch: true },
  number('wall.slideSpeed', 'speed', '0..far', 3.5),
  number('wall.settle', 'time', '0..long', 0.1),
  number('wall.gravity', 'multiplier', '>0..1000', 0.7),
  number('wall.cling', 'time', '0..long', 0.06),
  choice('wall.needs', ['toward', 'touch']),
  number('wall.lean', 'angle', '0..45', 5),
  { ...number('wall.sameWall', 'count', '0..1000', 1), word: 'any' },
  number('wall.jump.height', 'length', '>0..far', 2.5),
  number('wall.jump.out', 'speed', '0..far', 7.5),
  number('wall.jump.lock', 'time', '0..long', 0.2),
  number('glide.fallSpeed', 'speed', '0..far', 2.2),
  number('glide.settle', 'time', '0..long', 0.2),
  number('glide.budget', 'time', '0..3600', 2),
  number('dive.gravity', 'multiplier', '>0..1000', 2.2),
  number('dive.fallSpeed', 'speed', '>0..far', 32),
  number('ledge.reach', 'length', '0..far', 0.2),
  number('ledge.hands', 'length', '>0..far', 1.15),
  { key: 'ledge.auto', switch: false },
  number('ledge.climb', 'time', '0..long', 0.28),
  number('ledge.pause', 'time', '0..long', 0.3),
  choice('drop.by', ['down+jump', 'down']),
  number('crouch.height', 'length', '0.0625..1048576', 0.8),
  number('crouch.speed', 'speed', '0..far', 3),
  number('slope.steepest', 'angle', '0..89', 50),
  choice('slope.pace', ['along', 'across']),
  number('slope.uphill', 'multiplier', '>0..1000', 1),
  number('slope.downhill', 'multiplier', '>0..1000', 1),
  number('slope.follow', 'multiplier', '0..1000', 1.25),
  number('slope.slip', 'share', '>0..1', 1),
  number('slope.step', 'length', '0..far', 0.3),
  choice('slope.launch', ['up', 'normal']),
  { key: 'slope.jump', switch: false },
  choice('mover.lend', ['both', 'across', 'none']),
  number('mover.linger', 'time', '0..long', 0.1),
  number('pose.stride', 'length', '0..far', 2.2),
  number('pose.land', 'time', '0..long', 0.12),
  number('pose.settle', 'time', '0..long', 0.05),
];

/**
 * Goals of which a sufficient pair is wanted, and the two that are filled in where one is missing.
 * @example
 * ```ts
 * GOALS[1] // 'riseTime'
 * ```
 */
export const GOALS = ['height', 'riseTime', 'baseGravity', 'launchSpeed', 'reach', 'airTime'] as const;
export const DEFAULT_HEIGHT = 3.25;
export const DEFAULT_RISE_TIME = 0.4;
export const DEFAULT_LOWEST_HOP = 1.25;

/**
 * Whether a key's value scales with `tile`.
 * @example
 * ```ts
 * scalesWithTile('length') // true
 * ```
 */
export function scalesWithTile(unit: Unit): boolean {
  return unit === 'length' || unit === 'speed' || unit === 'acceleration';
}

/**
 * The allowed range in words, e.g. `above 0 and at most 60`.
 * @example
 * ```ts
 * rangeOf(keyNamed('run.speed')!)
 * ```
 */
export function rangeOf(key: Key): string {
  if ('switch' in key) return 'true or false';
  if ('word' in key && key.word) return `a whole number from ${key.least} to ${key.most}, or the word ${key.word}`;
  if ('of' in key) return `a list of 1 to ${key.count}, each ${rangeOf(key.of)}`;
  if ('choices' in key) return `one of ${key.choices.join(', ')}`;
  return `${key.above ? 'above' : 'at least'} ${key.least} and at most ${key.most}`;
}

const byName = new Map(KEYS.map((key) => [key.key, key]));

/**
 * The entry of a dotted key, or undefined where there is none.
 * @example
 * ```ts
 * keyNamed('run.speed')
 * ```
 */
export function keyNamed(name: string): Key | undefined {
  return byName.get(name);
}

/** Names of the groups (`body`, `run`, `run.air`, …), in the order of the table. */
export const GROUPS: readonly string[] = [
  ...new Set(KEYS.filter(({ key }) => key.includes('.')).map(({ key }) => key.slice(0, key.lastIndexOf('.')))),
];

/**
 * Groups that are abilities: off when left out, and on with their defaults when written.
 * @example
 * ```ts
 * ABILITY_GROUPS.includes('glide') // true
 * ```
 */
export const ABILITY_GROUPS: readonly string[] = [
  'airJumps',
  'charge',
  'wall',
  'glide',
  'dive',
  'ledge',
  'drop',
  'crouch',
];

/**
 * Words that a group may be set to instead of its keys.
 * @example
 * ```ts
 * GROUP_WORDS['run.air'] // 'locked'
 * ```
 */
export const GROUP_WORDS: Readonly<Record<string, string>> = {
  'run.air': 'locked',
  ...Object.fromEntries(['grace', 'jump', ...ABILITY_GROUPS].map((group) => [group, 'off'])),
};

/**
 * What a group may be set to, in words.
 * @example
 * ```ts
 * groupAllows('jump')
 * ```
 */
export function groupAllows(group: string): string {
  const word = GROUP_WORDS[group];
  return word ? `a group of keys or the word ${word}` : 'a group of keys';
}
