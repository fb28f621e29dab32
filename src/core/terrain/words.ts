import { type Journey, keysOf } from '../movers/journey.js';
import { curveOf } from '../movers/path-text.js';
import { isGroup, showValue } from '../tuning/words.js';
import { BASE_KEYS, CARRY_KEYS, checkGroup, checkKeys, checkList, checkNumbers } from './checks.js';
import { rowsOf } from './compile.js';
import { convexParts } from './convex.js';
import {
  type Carry,
  type Level,
  LevelError,
  type Mover,
  type Outline,
  type Point,
  type Route,
  type WrittenBase,
  type WrittenLevel,
  type Zone,
} from './level.js';
import type { DrawnLevel } from './outlines.js';

/** `[x, y, width, height]`: x, y is the corner nearest the origin. */
type Box = readonly [number, number, number, number];
/** A box, or the corners of an outline. */
export type Area = Box | readonly Point[];

/** What a shape is: a closed area, a hole in something solid around it, or a line. Of a box that is no area the upper side counts. */
type Nature =
  | { readonly solid: Area }
  | { readonly hole: Area }
  | { readonly ground: Area }
  | { readonly 'one-way': Area }
  | { readonly line: readonly Point[] };

/** A shape as level files have it, `{ solid: [0, 0, 2, 1], surface: 'silt' }`; or an outline. */
export type ShapeWords = (Nature & Carry) | Outline;

/** A mover as level files have it: its way as an SVG path, and how it goes; or with a plain route. */
export interface MoverWords extends Partial<Omit<Journey, 'stops'>> {
  name: string;
  shapes: readonly ShapeWords[];
  /** An SVG path in units, as `M 0 0 V -3`. */
  route?: string | Route;
  policy?: Mover['policy'];
  stops?: readonly { readonly at: number; readonly for: number }[];
  /** How far into the lap it begins, s; and after how many it stays. */
  phase?: number;
  laps?: number;
  'key-points'?: readonly number[];
  'key-times'?: readonly number[];
  'key-splines'?: readonly (readonly [number, number, number, number])[];
}

/** A zone, as a box, the corners of any area, or convex pieces. */
export interface ZoneWords extends Zone {
  points?: readonly Point[];
}

interface BaseWords extends Omit<WrittenBase, 'movers' | 'zones'> {
  movers?: readonly MoverWords[];
  zones?: readonly ZoneWords[];
}

/** A level in rows, in the words of level files. */
export interface RowWords extends BaseWords, Pick<WrittenLevel, 'rows' | 'tile' | 'origin' | 'marks'> {}

/** A level of free shapes, in the same words. */
export interface DrawnWords extends BaseWords, Pick<DrawnLevel, 'extent'> {
  shapes: readonly ShapeWords[];
}

/**
 * A level in the words of level files: movers with their way as an SVG path and with stops, zones of any area, shapes as boxes. Literals need no types of their own.
 * @returns the same as `openStage` and everything else takes it
 * @throws LevelError naming what is wrong
 * @example
 * ```ts
 * const yard = level({ rows: ['@...', '####'], spawns: { exit: [3.5, 1] } });
 * ```
 */
export function level<const W extends RowWords | DrawnWords>(words: W): W extends RowWords ? Level : DrawnLevel;
export function level(words: RowWords | DrawnWords): Level | DrawnLevel {
  checkGroup(words, '', 'a group of keys with rows or shapes');
  const isDrawn = 'shapes' in words;
  checkKeys(words, '', [...(isDrawn ? ['shapes', 'extent'] : ['rows', 'tile', 'origin', 'marks']), ...BASE_KEYS]);
  const { zones, movers } = words;
  const up = words.yPoints === 'up';
  if (zones !== undefined) checkList(zones, 'zones', 'a list of zones');
  if (movers !== undefined) checkList(movers, 'movers', 'a list of movers');
  const more = {
    ...(zones ? { zones: zones.map((zone, i) => zoneOf(zone, `zones.${i}`)) } : {}),
    ...(movers ? { movers: movers.map((one, i) => moverOf(one, up, `movers.${i}`)) } : {}),
    ...(words.spawns ? { spawns: spawnsOf(words.spawns) } : {}),
  };
  if (!isDrawn) return { ...words, ...more, rows: rowsOf(words.rows) } as Level;
  const { shapes, ...rest } = words;
  checkList(shapes, 'shapes', 'a list of shapes');
  return { ...rest, ...more, outlines: shapes.map((one, i) => shapeOf(one, up, `shapes.${i}`)) } as DrawnLevel;
}

/**
 * A shape in the words of level files, for `stage.addShape`.
 * @param yPoints which way the level's y axis points
 * @throws LevelError naming what is wrong
 * @example
 * ```ts
 * mill.addShape(shape({ solid: [4, 0, 1, 1] }), 'crate');
 * ```
 */
export function shape(words: ShapeWords, yPoints: 'down' | 'up' = 'down'): Outline {
  return shapeOf(words, yPoints === 'up', 'shape');
}

/**
 * A mover in the words of level files, for `stage.addMover`.
 * @param yPoints which way the level's y axis points
 * @throws LevelError naming what is wrong
 * @example
 * ```ts
 * mill.addMover(mover({ name: 'lift', shapes: [{ solid: [2, 0, 2, 0.5] }], route: 'M0 0V-3', lap: 4, 'there-and-back': true }));
 * ```
 */
export function mover(words: MoverWords, yPoints: 'down' | 'up' = 'down'): Mover {
  return moverOf(words, yPoints === 'up', 'mover');
}

function spawnsOf(spawns: NonNullable<WrittenBase['spawns']>): Level['spawns'] {
  checkGroup(spawns, 'spawns', 'a group of named entries');
  return Object.fromEntries(
    Object.entries(spawns).map(([name, at]) => [name, Array.isArray(at) ? { at: at as unknown as Point } : at]),
  ) as Level['spawns'];
}

const NATURES = ['solid', 'hole', 'ground', 'one-way', 'line'] as const;

function shapeOf(words: ShapeWords, up: boolean, where: string): Outline {
  checkGroup(words, where, 'a group of keys, with solid, hole, ground, one-way or line');
  if ('form' in words) return words;
  checkKeys(words, where, [...NATURES, ...CARRY_KEYS]);
  const given = words as Partial<Record<(typeof NATURES)[number], Area>> & Carry;
  const natures = NATURES.filter((one) => given[one] !== undefined);
  const [form] = natures;
  if (form === undefined || natures.length > 1)
    throw new LevelError(where, `${where} must be one of ${NATURES.join(', ')}`);
  const area = given[form]!;
  checkList(area, `${where}.${form}`, '[x, y, width, height], or a list of [x, y]');
  const carry = Object.fromEntries(CARRY_KEYS.flatMap((key) => (given[key] === undefined ? [] : [[key, given[key]]])));
  const points = isBox(area) ? boxPoints(area, form, up, `${where}.${form}`) : area;
  return { form, points, ...(Object.keys(carry).length > 0 ? { carry } : {}) };
}

function isBox(area: Area): area is Box {
  return typeof area[0] === 'number';
}

function boxPoints(box: Box, form: Outline['form'], up: boolean, where: string): Point[] {
  checkNumbers(box, where, '[x, y, width, height]', 4);
  const [x, y, width, height] = box;
  if (!(width > 0 && height > 0)) throw new LevelError(where, `${where} is ${width} × ${height}; both must be above 0`);
  if (form === 'line') throw new LevelError(where, `${where} is a box; a line has points`);
  const top = up ? y + height : y;
  if (form === 'ground' || form === 'one-way') return [[x, top], [x + width, top]]; // prettier-ignore
  return [[x, y], [x + width, y], [x + width, y + height], [x, y + height]]; // prettier-ignore
}

function zoneOf(words: ZoneWords, where: string): Zone {
  checkGroup(words, where, 'a group of keys');
  const { points, ...zone } = words;
  if (points === undefined) return zone;
  if (zone.box !== undefined || zone.pieces !== undefined)
    throw new LevelError(where, `${where} must have one of box, points and pieces`);
  checkList(points, `${where}.points`, 'a list of at least three [x, y]');
  for (const point of points) checkNumbers(point, `${where}.points`, 'a list of at least three [x, y]');
  return { ...zone, pieces: convexParts(points) };
}

const KEYS = ['key-points', 'key-times', 'key-splines'] as const;
const JOURNEY = ['there-and-back', 'stops', 'easing'] as const;
const MOVER_KEYS = ['name', 'shapes', 'policy', 'route', 'lap', 'phase', 'laps', ...JOURNEY, ...KEYS] as const;

function moverOf(words: MoverWords, up: boolean, where: string): Mover {
  checkGroup(words, where, 'a group of keys with name and shapes');
  checkKeys(words, where, MOVER_KEYS);
  const { name, shapes, policy } = words;
  checkList(shapes, `${where}.shapes`, 'a list of shapes');
  const route = routeOf(words, (key, message) => {
    throw new LevelError(key === '' ? where : `${where}.${key}`, message);
  });
  return {
    name,
    shapes: shapes.map((one, i) => shapeOf(one, up, `${where}.shapes.${i}`)),
    ...(route ? { route } : {}),
    ...(policy ? { policy } : {}),
  };
}

/**
 * The route of a mover in the words of level files.
 * @param refuse told what is wrong, with the key that it is about
 * @returns undefined where it has none, or something is wrong
 * @example
 * ```ts
 * routeOf({ name: 'lift', route: 'M0 0V-3', lap: 4, 'there-and-back': true }, (key, message) => { throw new Error(`${key}: ${message}`); })
 * ```
 */
export function routeOf(
  words: Omit<MoverWords, 'shapes'>,
  refuse: (key: string, message: string) => void,
): Route | undefined {
  const { route, lap, phase, laps } = words;
  const given = KEYS.filter((key) => words[key] !== undefined);
  const said = JOURNEY.find((key) => words[key] !== undefined);
  if (route === undefined || isGroup(route)) {
    for (const key of ['lap', 'phase', 'laps', ...JOURNEY, ...KEYS] as const)
      if (words[key] !== undefined) refuse(key, `${key} needs a route${route === undefined ? '' : ' as a path'}`);
    return route;
  }
  if (typeof route !== 'string') {
    refuse('route', `the route is ${showValue(route)}; it must be an SVG path`);
    return undefined;
  }
  if (lap === undefined) {
    refuse('', `the mover ${words.name} has a route and needs a lap: how long one full cycle takes, s`);
    return undefined;
  }
  const curve = curveOf(route);
  if (typeof curve === 'string') {
    refuse('route', `the route ${curve}`);
    return undefined;
  }
  if (given.length > 0 && said) refuse(said, `${said} and ${given[0]} say the same in two ways: give one of them`);
  const places = given.length > 0 ? plainKeys(words) : keysOf({ ...words, lap });
  if (typeof places === 'string') {
    refuse('stops', places);
    return undefined;
  }
  return { curve, lap, ...places, ...(phase === undefined ? {} : { phase }), ...(laps === undefined ? {} : { laps }) };
}

function plainKeys(words: Pick<MoverWords, (typeof KEYS)[number]>): Omit<Route, 'curve' | 'lap'> {
  return {
    ...(words['key-points'] ? { keyPoints: words['key-points'] } : {}),
    ...(words['key-times'] ? { keyTimes: words['key-times'] } : {}),
    ...(words['key-splines'] ? { keySplines: words['key-splines'] } : {}),
  };
}
