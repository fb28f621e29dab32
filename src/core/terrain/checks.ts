import { FARTHEST } from '../tuning/keys.js';
import { listOf } from '../nearest.js';
import { isGroup, showValue } from '../tuning/words.js';
import { LevelError, SIDES, type WrittenBase } from './level.js';

/** What a level written by hand, or by a program without types, may have instead of what belongs there: said in a sentence, before anything goes by it. */
/** @throws LevelError where a value is no group of keys */
export function checkGroup(value: unknown, key: string, must: string): asserts value is object {
  if (!isGroup(value)) throw new LevelError(key, `${called(key)} is ${showValue(value)}; it must be ${must}`);
}

/** @throws LevelError where a group has a key that there is none of, with the nearest that there is */
export function checkKeys(group: object, key: string, known: readonly string[]): void {
  for (const [name, value] of Object.entries(group)) {
    if (value === undefined || known.includes(name)) continue;
    const path = key === '' ? name : `${key}.${name}`;
    throw new LevelError(path, `there is no key ${path}; there are ${listOf(known, name)}`);
  }
}

/** The keys of what levels are made of. */
export const BASE_KEYS = ['title', 'yPoints', 'surfaces', 'zones', 'movers', 'spawns', 'bounds'] as const;
export const CARRY_KEYS = ['surface', 'layer', 'name', 'no-wall', 'no-ledge'] as const;
const SURFACE_KEYS = ['grip', 'pace', 'flow', 'bounce', 'jump'] as const;
const ZONE_NUMBERS = ['tags', 'gravity', 'pace', 'current'] as const;
const ROUTE_KEYS = ['curve', 'lap', 'keyPoints', 'keyTimes', 'keySplines', 'phase', 'laps'] as const;

/** @throws LevelError where what a shape carries is not what it can carry */
export function checkCarry(carry: unknown, key: string): void {
  if (carry === undefined) return;
  for (const one of Array.isArray(carry) ? (carry as readonly unknown[]) : [carry]) {
    checkGroup(one, key, 'a group of keys');
    checkKeys(one, key, CARRY_KEYS);
  }
}

/** @throws LevelError where a mark is not of the kind that it must be */
export function checkMark(mark: object, key: string): void {
  checkKeys(mark, key, ['solid', 'one-way', 'zone', 'each', ...CARRY_KEYS]);
  const { zone } = mark as { zone?: unknown };
  if (zone === undefined) return;
  checkGroup(zone, `${key}.zone`, 'a group of keys');
  checkKeys(zone, `${key}.zone`, ZONE_NUMBERS);
}

/** @throws LevelError where a value is no list */
export function checkList(value: unknown, key: string, must: string): asserts value is readonly unknown[] {
  if (!Array.isArray(value)) throw new LevelError(key, `${called(key)} is ${showValue(value)}; it must be ${must}`);
}

/** @throws LevelError where a value is no list of so many numbers */
export function checkNumbers(value: unknown, key: string, must: string, count = 2): void {
  if (!Array.isArray(value) || value.length !== count || value.some((one) => typeof one !== 'number'))
    throw new LevelError(
      key,
      `${called(key)} is ${Array.isArray(value) ? `[${value.join(', ')}]` : showValue(value)}; it must be ${must}`,
    );
}

/** @throws LevelError where a value is no number from `least` to `most` */
export function checkNumber(value: unknown, key: string, name: string, least: number, most: number): number {
  if (typeof value !== 'number' || !(value >= least && value <= most))
    throw new LevelError(key, `${name} is ${shown(value)}; it must be ${least} to ${most}`);
  return value;
}

/** @throws LevelError where a value is no text */
export function checkText(value: unknown, key: string): asserts value is string {
  if (typeof value !== 'string') throw new LevelError(key, `${called(key)} is ${shown(value)}; it must be a text`);
}

/** @throws LevelError where a value is none of those that there are */
export function checkOne(value: unknown, key: string, all: readonly string[]): void {
  if (!all.includes(value as string))
    throw new LevelError(key, `${called(key)} is ${shown(value)}; it must be one of ${all.join(', ')}`);
}

function called(key: string): string {
  return key === '' ? 'a level' : key;
}

function shown(value: unknown): string {
  return typeof value === 'number' ? String(value) : showValue(value);
}

/**
 * What levels in rows and drawn levels have in common.
 * @throws LevelError where a part of it is not of the kind that it must be
 */
export function checkBase(level: WrittenBase): void {
  const { title, yPoints, surfaces, zones, movers, spawns, bounds } = level;
  if (title !== undefined) checkText(title, 'title');
  if (yPoints !== undefined) checkOne(yPoints, 'yPoints', ['down', 'up']);
  if (bounds !== undefined) {
    checkGroup(bounds, 'bounds', 'a group of left, right, top and bottom');
    for (const [side, bound] of Object.entries(bounds)) {
      if (!(SIDES as readonly string[]).includes(side))
        throw new LevelError(`bounds.${side}`, `there is no side ${side}; there are ${SIDES.join(', ')}`);
      if (bound !== undefined) checkOne(bound, `bounds.${side}`, ['open', 'wall', 'wrap', 'out']);
    }
  }
  if (surfaces !== undefined) {
    checkGroup(surfaces, 'surfaces', 'a group of named entries');
    for (const [name, surface] of Object.entries(surfaces)) {
      checkGroup(surface, `surfaces.${name}`, 'a group of keys');
      checkKeys(surface, `surfaces.${name}`, SURFACE_KEYS);
    }
  }
  if (spawns !== undefined) {
    checkGroup(spawns, 'spawns', 'a group of named entries');
    for (const [name, spawn] of Object.entries(spawns)) {
      const key = `spawns.${name}`;
      if (isGroup(spawn)) {
        checkNumbers(spawn.at, `${key}.at`, `[x, y], two numbers within ±${FARTHEST}`);
        checkKeys(spawn, key, ['at', 'facing']);
      } else checkNumbers(spawn, key, '[x, y], or a group of at and facing');
    }
  }
  if (zones !== undefined) {
    checkList(zones, 'zones', 'a list of zones');
    zones.forEach((zone, i) => checkZone(zone, `zones.${i}`));
  }
  if (movers !== undefined) {
    checkList(movers, 'movers', 'a list of movers');
    movers.forEach((mover: unknown, i) => checkMover(mover, `movers.${i}`));
  }
}

/** @throws LevelError where a mover is not of the kind that it must be */
export function checkMover(mover: unknown, key: string): void {
  checkGroup(mover, key, 'a group of keys with name and shapes');
  checkKeys(mover, key, ['name', 'shapes', 'route', 'policy']);
  const { name, shapes, route } = mover as Record<string, unknown>;
  checkText(name, `${key}.name`);
  checkList(shapes, `${key}.shapes`, 'a list of shapes');
  if (route === undefined) return;
  const words = typeof route === 'string' ? ' (an SVG path is read by `level` and `mover`)' : '';
  checkGroup(route, `${key}.route`, `a group of keys with curve and lap${words}`);
  checkKeys(route, `${key}.route`, ROUTE_KEYS);
  checkList((route as Record<string, unknown>).curve, `${key}.route.curve`, 'a list of stretches');
}

function checkZone(zone: unknown, key: string): void {
  checkGroup(zone, key, 'a group of keys');
  checkKeys(zone, key, ['name', 'box', 'pieces', ...ZONE_NUMBERS]);
  const { name, box, pieces, tags, current } = zone as Record<string, unknown>;
  if (name !== undefined) checkText(name, `${key}.name`);
  if (box !== undefined) checkNumbers(box, `${key}.box`, '[x, y, width, height]', 4);
  if (current !== undefined) checkNumbers(current, `${key}.current`, '[x, y]');
  if (tags !== undefined) {
    checkList(tags, `${key}.tags`, 'a list of texts');
    tags.forEach((tag, i) => checkText(tag, `${key}.tags.${i}`));
  }
  if (pieces === undefined) return;
  checkList(pieces, `${key}.pieces`, 'a list of convex pieces');
  pieces.forEach((piece, i) => {
    checkList(piece, `${key}.pieces.${i}`, 'a list of at least three [x, y]');
    for (const point of piece) checkNumbers(point, `${key}.pieces.${i}`, 'a list of at least three [x, y]');
  });
}
