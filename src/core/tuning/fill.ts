import { ABILITY_GROUPS, DEFAULT_HEIGHT, DEFAULT_RISE_TIME, GOALS, GROUPS, GROUP_WORDS, KEYS, type Key, type Unit, groupAllows, keyNamed, rangeOf, scalesWithTile } from './keys.js'; // prettier-ignore
import { type FullTuning, type Tuning, TuningError } from './tuning.js';
import { isGroup, showValue } from './words.js';

type Loose = Record<string, unknown>;

/**
 * Checks a tuning and fills in every default.
 * @throws TuningError naming the first key that is unknown, of the wrong type or out of range.
 * @example
 * ```ts
 * fillTuning({}).run.speed // 7.5
 * ```
 */
export function fillTuning(tuning: Tuning): FullTuning {
  if (!isGroup(tuning)) throw new TuningError('', `a tuning is ${showValue(tuning)}; it must be a group of keys`);
  checkShape(tuning as Loose, '');
  const written = tuning as Loose;
  const tile = tuning.tile ?? 1;
  const full: Loose = {};
  for (const key of KEYS) {
    const given = valueOfKey(written, key.key);
    if (given !== undefined) put(full, key.key, given);
    else if (isOff(written, key.key)) continue;
    else {
      const usual = usualOf(key, tile);
      if (usual !== undefined) put(full, key.key, usual);
    }
  }
  const result = full as unknown as FullTuning;
  if (tuning.grace === 'off') result.grace = { coyote: 0, buffer: 0, corner: 0, lip: 0, lipSpeed: 0, wallCoyote: 0 };
  if (tuning.jump === 'off') result.jump.off = true;
  result.own = tuning.own ?? {};
  if (tuning.run?.air === 'locked') result.run.air = 'locked';
  else if (result.run.air !== 'locked') result.run.air.speed ??= result.run.speed;
  fillGoals(result, tile);
  const ramp = result.gravity.fallRamp as Partial<Record<'to' | 'over', number>> | undefined;
  if (ramp && ramp.to === undefined) throw missing('gravity.fallRamp.to');
  if (ramp && ramp.over === undefined) throw missing('gravity.fallRamp.over');
  checkTogether(result);
  return result;
}

/** Keys that must fit each other. */
function checkTogether({ charge, crouch, body, jump }: FullTuning): void {
  if (charge && charge.highest < charge.lowest)
    throw new TuningError(
      'charge.highest',
      `charge.highest is ${charge.highest}; it must be at least charge.lowest, ${charge.lowest}`,
    );
  if (crouch && crouch.height > body.height)
    throw new TuningError(
      'crouch.height',
      `crouch.height is ${crouch.height}; it must be at most body.height, ${body.height}`,
    );
  if (
    body.bevel > 0 &&
    !(2 * body.bevel < body.width && body.bevel < Math.min(body.height, crouch?.height ?? Infinity))
  )
    throw new TuningError(
      'body.bevel',
      `body.bevel is ${body.bevel}; it must be less than half of body.width, ${body.width}, and than the height`,
    );
  if (jump.runUp > 0)
    for (const goal of ['reach', 'airTime'] as const)
      if (jump[goal] !== undefined)
        throw new TuningError(
          `jump.${goal}`,
          `jump.${goal} cannot be met together with jump.runUp, which changes it with the speed; give jump.height and jump.riseTime`,
        );
}

/** Whether a key belongs to an ability that is left out, or set to off. */
function isOff(written: Loose, key: string): boolean {
  const group = namesIn(key)[0]!;
  return ABILITY_GROUPS.includes(group) && (written[group] === undefined || written[group] === GROUP_WORDS[group]);
}

/** The default of a key in a world of this many units a tile. */
function usualOf(key: Key, tile: number): unknown {
  if ('switch' in key) return key.switch;
  if ('choices' in key) return key.choices[0];
  const scale = (unit: Unit): number => (scalesWithTile(unit) && key.key !== 'tile' ? tile : 1);
  if ('of' in key) {
    const { of } = key;
    return key.default.map((entry) => (typeof entry === 'number' && 'unit' in of ? entry * scale(of.unit) : entry));
  }
  return key.default === undefined ? undefined : key.default * scale(key.unit);
}

/** With no goal both defaults are filled in, with one its usual partner, with more none. */
function fillGoals(full: FullTuning, tile: number): void {
  const goals = full.jump;
  const given = GOALS.filter((goal) => goals[goal] !== undefined);
  if (given.length > 1) return;
  const only = given[0];
  if (only === undefined || only === 'riseTime' || only === 'airTime' || only === 'reach')
    goals.height = DEFAULT_HEIGHT * tile;
  if (only === undefined || only === 'height' || only === 'baseGravity' || only === 'launchSpeed')
    goals.riseTime = DEFAULT_RISE_TIME;
}

/** Checks names, types and ranges, group by group. */
function checkShape(node: Loose, path: string): void {
  for (const name of Object.keys(node)) {
    const key = path === '' ? name : `${path}.${name}`;
    const value = node[name];
    if (value === undefined) continue;
    if (key === 'own') {
      checkOwn(value);
      continue;
    }
    const entry = keyNamed(key);
    if (entry) checkValue(entry, value);
    else if (GROUPS.includes(key)) {
      if (value === GROUP_WORDS[key]) continue;
      if (typeof value !== 'object' || value === null || Array.isArray(value))
        throw new TuningError(key, `${key} is ${showValue(value)}; it must be ${groupAllows(key)}`);
      checkShape(value as Loose, key);
    } else throw new TuningError(key, `there is no key ${key}`);
  }
}

/** Numbers by ability and name; which there are is known only when the abilities are. */
function checkOwn(value: unknown): void {
  const isGroup = (node: unknown): node is Loose => typeof node === 'object' && node !== null && !Array.isArray(node);
  if (!isGroup(value)) throw new TuningError('own', `own is ${showValue(value)}; it must be a group of keys`);
  for (const [ability, numbers] of Object.entries(value)) {
    const key = `own.${ability}`;
    if (!isGroup(numbers)) throw new TuningError(key, `${key} is ${showValue(numbers)}; it must be a group of numbers`);
    for (const [name, number] of Object.entries(numbers))
      if (typeof number !== 'number' || !Number.isFinite(number))
        throw new TuningError(`${key}.${name}`, `${key}.${name} is ${showValue(number)}; it must be a number`);
  }
}

function checkValue(entry: Key, value: unknown): void {
  const { key } = entry;
  const wrong = (): TuningError => new TuningError(key, `${key} is ${showValue(value)}; it must be ${rangeOf(entry)}`);
  if ('switch' in entry) {
    if (typeof value !== 'boolean') throw wrong();
  } else if ('of' in entry) {
    if (!Array.isArray(value) || value.length < 1 || value.length > entry.count) throw wrong();
    for (const one of value) checkValue(entry.of, one);
  } else if ('choices' in entry) {
    if (typeof value !== 'string' || !entry.choices.includes(value)) throw wrong();
  } else {
    if (entry.word !== undefined) {
      if (
        value !== entry.word &&
        !(Number.isInteger(value) && (value as number) >= entry.least && (value as number) <= entry.most)
      )
        throw wrong();
      return;
    }
    if (typeof value !== 'number') throw new TuningError(key, `${key} is ${showValue(value)}; it must be a number`);
    // Written so that NaN is refused.
    const inside = (entry.above ? value > entry.least : value >= entry.least) && value <= entry.most;
    if (!inside) throw wrong();
  }
}

function missing(key: string): TuningError {
  return new TuningError(key, `${key} is missing; a ramp needs both \`to\` and \`over\``);
}

const NAMES = new Map(KEYS.map(({ key }) => [key, key.split('.')]));

/** The names of which a dotted name consists. */
function namesIn(key: string): readonly string[] {
  return NAMES.get(key) ?? key.split('.');
}

/**
 * The value of a key, by its dotted name; undefined where there is none.
 * @example
 * ```ts
 * valueOfKey(brindle, 'jump.height')
 * ```
 */
export function valueOfKey(node: object, key: string): unknown {
  let at: unknown = node;
  for (const name of namesIn(key)) {
    if (typeof at !== 'object' || at === null) return undefined;
    at = (at as Loose)[name];
  }
  return at;
}

function put(node: Loose, key: string, value: unknown): void {
  const names = namesIn(key);
  let at = node;
  for (let i = 0; i + 1 < names.length; i++) at = (at[names[i]!] ??= {}) as Loose;
  at[names.at(-1)!] = value;
}
