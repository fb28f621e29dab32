/**
 * Every key of a tuning, once: its unit, default, range and meaning. The defaults, the checks, the
 * JSON Schema, the reference page and the editors are all made from this table.
 */

export type Unit = 'length' | 'speed' | 'acceleration' | 'time' | 'multiplier' | 'share';

export interface NumberKey {
  key: string;
  unit: Unit;
  /** For a world of one unit a tile; lengths and speeds are scaled by `tile`. Left out: no default. */
  default?: number;
  least: number;
  most: number;
  /** The value must be above `least`, not equal to it. */
  above?: boolean;
  meaning: string;
}

export interface ChoiceKey {
  key: string;
  choices: readonly string[];
  /** The first choice is the default. */
  meaning: string;
}

export type Key = NumberKey | ChoiceKey;

/** The largest length a world can hold; vertices lie within it. */
export const FARTHEST = 67108864; // 2²⁶

const LONGEST = 60;

function number(key: string, unit: Unit, range: string, value: number | undefined, meaning: string): NumberKey {
  const [low, high] = range.split('..') as [string, string];
  const above = low.startsWith('>');
  const limit = (text: string): number => (text === 'far' ? FARTHEST : text === 'long' ? LONGEST : Number(text));
  const entry: NumberKey = {
    key,
    unit,
    least: limit(above ? low.slice(1) : low),
    most: limit(high),
    meaning,
  };
  if (value !== undefined) entry.default = value;
  if (above) entry.above = true;
  return entry;
}

function choice(key: string, choices: readonly string[], meaning: string): ChoiceKey {
  return { key, choices, meaning };
}

export const KEYS: readonly Key[] = [
  number('tile', 'length', '>0..1048576', 1, 'units per tile of your world; scales every default length and speed'),
  number('body.width', 'length', '0.0625..1048576', 0.7, 'width of the hitbox'),
  number('body.height', 'length', '0.0625..1048576', 1.3, 'height of the hitbox'),
  number('run.speed', 'speed', '0..far', 7.5, 'top speed on the ground'),
  choice('run.feel', ['steady', 'eased'], 'a constant rate, or a fixed share of the difference per time'),
  number('run.upIn', 'time', '0..long', 0.12, 'from rest to top speed'),
  number('run.stopIn', 'time', '0..long', 0.09, 'from top speed to rest with no key'),
  number('run.turnIn', 'time', '0..long', 0.08, 'from top speed to rest against the key'),
  choice('run.overspeed', ['bleed', 'keep'], 'faster than top speed: brake to it, or hold it while the key agrees'),
  number('run.air.speed', 'speed', '0..far', undefined, 'top speed in the air; the run speed unless given'),
  number('run.air.upIn', 'time', '0..long', 0.2, 'in the air: from rest to top speed'),
  number('run.air.stopIn', 'time', '0..long', 0.35, 'in the air: from top speed to rest with no key'),
  number('run.air.turnIn', 'time', '0..long', 0.15, 'in the air: from top speed to rest against the key'),
  number('run.walk', 'share', '0..1', 0.45, 'share of top speed while the walk action is held'),
  number('jump.height', 'length', '>0..far', undefined, 'apex height of a full jump'),
  number('jump.riseTime', 'time', '>0..long', undefined, 'from launch to apex'),
  number('jump.baseGravity', 'acceleration', '>0..1e12', undefined, 'gravity before multipliers'),
  number('jump.launchSpeed', 'speed', '>0..far', undefined, 'speed up at launch'),
  number('jump.reach', 'length', '>0..far', undefined, 'distance across at run speed until back at launch height'),
  number('jump.airTime', 'time', '>0..long', undefined, 'from launch until back at launch height'),
  number('jump.lowestHop', 'length', '>0..far', undefined, 'what a tap reaches'),
  number('jump.minHold', 'time', '0..long', 0.03, 'letting go acts from this long after launch'),
  number('gravity.rising', 'multiplier', '>0..1000', 1, 'gravity while rising'),
  number('gravity.apex', 'multiplier', '>0..1000', 0.6, 'gravity near the apex, key held'),
  number('gravity.falling', 'multiplier', '>0..1000', 1.5, 'gravity while falling'),
  number('gravity.apexSpeed', 'speed', '0..far', 3, 'the apex band: where the vertical speed is within this'),
  number('gravity.fallSpeed', 'speed', '>0..far', 24, 'terminal speed'),
  number('gravity.released', 'multiplier', '>0..100000', undefined, 'gravity while rising after letting go'),
  number('gravity.cutTo', 'share', '0..1', undefined, 'share of the rising speed left at letting go'),
  number('gravity.fallRamp.to', 'multiplier', '>0..1000', undefined, 'falling gravity at the end of the ramp'),
  number('gravity.fallRamp.over', 'time', '>0..long', undefined, 'from the start of falling to the end of the ramp'),
  number(
    'grace.coyote',
    'time',
    '0..long',
    0.08,
    'after leaving an edge, a press is still a ground jump for this long',
  ),
  number('grace.buffer', 'time', '0..long', 0.12, 'a press is remembered for this long'),
  number('pose.land', 'time', '0..long', 0.12, 'how long the landing pose is held'),
  number('pose.settle', 'time', '0..long', 0.05, 'poses shorter than this are not shown'),
];

/** Goals of which a sufficient pair is wanted, and the two that are filled in where one is missing. */
export const GOALS = ['height', 'riseTime', 'baseGravity', 'launchSpeed', 'reach', 'airTime'] as const;
export const DEFAULT_HEIGHT = 3.25;
export const DEFAULT_RISE_TIME = 0.4;
export const DEFAULT_LOWEST_HOP = 1.25;

/** Groups and keys that later versions bring. They are refused by name, so that none is silently ignored. */
const NOT_YET: ReadonlySet<string> = new Set(
  (
    'airJumps charge wall glide dive ledge drop crouch slope mover own body.bevel body.freeBy jump.runUp ' +
    'pose.stride grace.corner grace.lip grace.lipSpeed grace.wallCoyote'
  ).split(' '),
);

/** Whether a key belongs to what a later version brings. */
export function isNotYet(key: string): boolean {
  return key.split('.').some((_, i, names) => NOT_YET.has(names.slice(0, i + 1).join('.')));
}

/** Whether a key's value scales with `tile`. */
export function scalesWithTile(unit: Unit): boolean {
  return unit === 'length' || unit === 'speed' || unit === 'acceleration';
}

/** The allowed range in words, e.g. `above 0 and at most 60`. */
export function rangeOf(key: Key): string {
  if (!('unit' in key)) return `one of ${key.choices.join(', ')}`;
  return `${key.above ? 'above' : 'at least'} ${key.least} and at most ${key.most}`;
}

const byName = new Map(KEYS.map((key) => [key.key, key]));

/** The entry of a dotted key, or undefined where there is none. */
export function keyNamed(name: string): Key | undefined {
  return byName.get(name);
}

/** Names of the groups (`body`, `run`, `run.air`, …), in the order of the table. */
export const GROUPS: readonly string[] = [
  ...new Set(KEYS.filter(({ key }) => key.includes('.')).map(({ key }) => key.slice(0, key.lastIndexOf('.')))),
];

/** Words that a group may be set to instead of its keys. */
export const GROUP_WORDS: Readonly<Record<string, string>> = { grace: 'off', 'run.air': 'locked' };

/** What a group may be set to, in words. */
export function groupAllows(group: string): string {
  const word = GROUP_WORDS[group];
  return word ? `a group of keys or the word ${word}` : 'a group of keys';
}
