import type { Ability } from '../abilities/ability.js';
import { OPPOSED, type Opposed } from '../input/opposed.js';
import { FIXED_LENGTH } from '../state/layout.js';
import { FARTHEST } from '../tuning/keys.js';
import type { FullTuning } from '../tuning/tuning.js';
import type { AddedShape } from './added.js';
import { isGroup, showValue } from '../tuning/words.js';
import type { Mover } from '../terrain/level.js';
import type { CompiledLevel } from '../terrain/world.js';
import { fingerprint } from '../trace/fingerprint.js';

/** A stage as plain JSON, to be kept in a file: see `Stage.save`. */
export interface Save {
  /** Says what it is, and which form it has. */
  apperin: 'save';
  version: number;
  /** Of the level that it was made in. */
  level: string;
  /** Stage time, s. */
  time: number;
  /** The clock, what is switched off, and what moves, as a snapshot has them. */
  stage: readonly SavedNumber[];
  /** The number that the next character would get. */
  next: number;
  /** The shapes that were added and are there. */
  shapes?: readonly AddedShape[];
  /** The movers that were added and are there. */
  movers?: readonly Mover[];
  /** Those who overlap, of those who are to meet, as a snapshot has them. */
  met: readonly number[];
  characters: readonly SavedCharacter[];
}

/** A character within a save. */
export interface SavedCharacter {
  name: string;
  id: number;
  /** Middle of the feet in the level's own axes, units, and the way it faces: enough to put it there in another version of the level. */
  at: readonly [number, number];
  facing: number;
  opposed: Opposed;
  /** Layers that it passes through. */
  ignores: readonly string[];
  groups: readonly string[];
  boxes: Readonly<Record<string, readonly [number, number, number, number]>>;
  /** All tunings that it has had, and which of them applies. */
  tunings: readonly FullTuning[];
  tuned: number;
  /** The names of its abilities that are the game's own. */
  abilities: readonly string[];
  /** Its state, as a snapshot has it. */
  state: readonly SavedNumber[];
}

/** A number; those that JSON does not know as text. */
export type SavedNumber = number | 'Infinity' | '-Infinity' | '-0';

/** The form that saves have, and what their numbers mean. */
export const SAVE_VERSION = 3000 + FIXED_LENGTH;

export function savedNumbers(numbers: Float64Array, from: number, until: number): SavedNumber[] {
  const list: SavedNumber[] = [];
  for (let i = from; i < until; i++) {
    const value = numbers[i]!;
    list.push(
      value === Infinity ? 'Infinity' : value === -Infinity ? '-Infinity' : Object.is(value, -0) ? '-0' : value,
    );
  }
  return list;
}

/** @throws RangeError naming one that is none */
export function readNumbers(list: readonly SavedNumber[], where: string, into: number[]): void {
  if (!Array.isArray(list)) throw wrong(where, list, 'a list of numbers');
  list.forEach((one: unknown, i) => {
    const value = one === 'Infinity' ? Infinity : one === '-Infinity' ? -Infinity : one === '-0' ? -0 : (one as number);
    if (typeof value !== 'number' || Number.isNaN(value) || (typeof one === 'number' && !Number.isFinite(one)))
      throw wrong(`${where}.${i}`, one, 'a number');
    into.push(value);
  });
}

export function wrong(where: string, value: unknown, what: string): RangeError {
  return new RangeError(`${where} of the save is ${showValue(value)}; it must be ${what}`);
}

/**
 * Reads what a save says of itself and of who is in it.
 * @throws RangeError naming what is wrong with it
 */
export function checkSave(save: unknown): asserts save is Save {
  if (!isGroup(save) || (save as Partial<Save>).apperin !== 'save')
    throw new RangeError(`the save is ${showValue(save)}; it must be what \`save\` gave`);
  const { version, level, characters, next } = save as Save;
  if (typeof version !== 'number') throw wrong('version', version, 'a number');
  if (typeof level !== 'string') throw wrong('level', level, 'a text');
  if (!Array.isArray(characters)) throw wrong('characters', characters, 'a list');
  characters.forEach((one: Partial<SavedCharacter> | undefined, i) => {
    const where = `characters.${i}`;
    if (!isGroup(one)) throw wrong(where, one, 'a character');
    if (typeof one.name !== 'string') throw wrong(`${where}.name`, one.name, 'a text');
    if (!isWhole(one.id)) throw wrong(`${where}.id`, one.id, 'a whole number of at least 0');
    const { at } = one;
    if (
      !Array.isArray(at) ||
      at.length !== 2 ||
      !at.every((value) => typeof value === 'number' && Math.abs(value) <= FARTHEST)
    )
      throw wrong(`${where}.at`, at, `two numbers within ±${FARTHEST}`);
    if (one.facing !== 1 && one.facing !== -1) throw wrong(`${where}.facing`, one.facing, '1 or -1');
    if (!(OPPOSED as readonly unknown[]).includes(one.opposed))
      throw wrong(`${where}.opposed`, one.opposed, OPPOSED.join(', '));
    if (!Array.isArray(one.groups)) throw wrong(`${where}.groups`, one.groups, 'a list of names');
    if (!isGroup(one.boxes)) throw wrong(`${where}.boxes`, one.boxes, 'boxes by their names');
    if (!Array.isArray(one.ignores)) throw wrong(`${where}.ignores`, one.ignores, 'a list of layers');
    if (!Array.isArray(one.tunings) || one.tunings.length === 0 || !one.tunings.every((tuning) => isGroup(tuning)))
      throw wrong(`${where}.tunings`, one.tunings, 'a list of tunings, at least one');
    if (!isWhole(one.tuned) || one.tuned >= one.tunings.length)
      throw wrong(`${where}.tuned`, one.tuned, `a whole number below ${one.tunings.length}`);
    if (!Array.isArray(one.abilities)) throw wrong(`${where}.abilities`, one.abilities, 'a list of names');
    for (const other of characters.slice(0, i) as SavedCharacter[]) {
      if (other.name === one.name) throw new RangeError(`the save has two characters named ${one.name}`);
      if (!(one.id > other.id)) throw wrong(`${where}.id`, one.id, 'higher than those before it');
    }
  });
  const { met, shapes = [], movers = [] } = save as Save;
  if (!Array.isArray(movers)) throw wrong('movers', movers, 'a list of movers');
  if (!Array.isArray(shapes)) throw wrong('shapes', shapes, 'a list of shapes');
  shapes.forEach((one: unknown, i) => {
    if (!isGroup(one) || typeof (one as Partial<AddedShape>).name !== 'string')
      throw wrong(`shapes.${i}`, one, 'a shape with a name');
  });
  if (!Array.isArray(met) || met.length % 4 !== 0) throw wrong('met', met, 'a list of four numbers for each pair');
  if (!isWhole(next)) throw wrong('next', next, 'a whole number of at least 0');
}

function isWhole(value: unknown): value is number {
  return typeof value === 'number' && value >= 0 && value <= Number.MAX_SAFE_INTEGER && value === Math.floor(value);
}

/**
 * The game's own abilities of a saved character, of those that are given.
 * @throws RangeError naming one that is not
 */
export function abilitiesOf({ name, abilities }: SavedCharacter, given: readonly Ability[]): Ability[] {
  return abilities.map((wanted) => {
    const found = given.find((one) => one.name === wanted);
    if (!found)
      throw new RangeError(
        `${name} has the ability ${showValue(wanted)} in the save; give it in \`abilities\` (there are ${given.map((one) => one.name).join(', ') || 'none'})`,
      );
    return found;
  });
}

const PRINTS = new WeakMap<CompiledLevel, string>();

/** A number for all of a level that decides how it plays. */
export function printOf(level: CompiledLevel): string {
  const known = PRINTS.get(level);
  if (known !== undefined) return known;
  const numbers: number[] = [];
  const add = (value: unknown): void => {
    if (typeof value === 'number') numbers.push(value);
    else if (typeof value === 'boolean') numbers.push(value ? 1 : 0);
    else if (typeof value === 'string') {
      numbers.push(value.length);
      for (let i = 0; i < value.length; i++) numbers.push(value.charCodeAt(i));
    } else if (ArrayBuffer.isView(value)) for (const one of value as Float64Array) numbers.push(one);
    else if (Array.isArray(value)) {
      numbers.push(value.length);
      value.forEach(add);
    } else if (value instanceof Map) add([...value]);
    else if (typeof value === 'object' && value !== null)
      for (const [key, one] of Object.entries(value)) if (key !== 'source') add(one);
  };
  const { terrain, yPoints, bounds, sides, surfaces, layers, shapes, zones, movers } = level;
  const { x1, y1, x2, y2, form, style, styles, setFrom } = terrain;
  add([x1, y1, x2, y2, form, style, styles, setFrom, yPoints, bounds, sides, surfaces, layers, shapes, zones, movers]);
  const print = fingerprint(Float64Array.from(numbers));
  PRINTS.set(level, print);
  return print;
}
