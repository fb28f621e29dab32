import {
  LevelError,
  routeOf,
  shape,
  type Carry,
  type ShapeWords,
  type Mover,
  type Outline,
  type Point,
  type Policy,
} from '../core/index.js';
import { UniteError } from './svg/clip.js';
import type { Area } from './svg/simplify.js';
import { outlinesOf } from './svg/unite.js';
import type { YamlFile } from './yaml.js';

/** The keys of a mover in rows. */
export const MOVER_KEYS = [
  'name', 'shapes', 'route', 'lap', 'there-and-back', 'stops', 'easing', 'phase', 'laps', 'key-points', 'key-times', 'key-splines', 'policy',
] as const; // prettier-ignore

/** The key of a mover that a part of its route was written with. */
export function moverKey(part: string | undefined): string[] {
  const written: Readonly<Record<string, string>> = {
    curve: 'route',
    keyPoints: 'key-points',
    keyTimes: 'key-times',
    keySplines: 'key-splines',
  };
  return part === undefined ? [] : [written[part] ?? part];
}

/** What a shape can be, and all that it can say. */
export const SHAPE_NATURES = ['solid', 'one-way', 'ground', 'hole', 'line'] as const;
export const SHAPE_KEYS = [...SHAPE_NATURES, 'surface', 'layer', 'name', 'no-wall', 'no-ledge'] as const;

type Box = [number, number, number, number];
/** A shape as rows have it. */
export type WrittenShape = Carry &
  Partial<Record<(typeof SHAPE_NATURES)[number], Box | [number, number][] | undefined>>;

/** A mover as rows have it. */
export interface WrittenMover {
  name: string;
  shapes: WrittenShape[];
  route?: string | undefined;
  lap?: number | undefined;
  'there-and-back'?: boolean | undefined;
  stops?: { at: number; for: number }[] | undefined;
  easing?: 'even' | 'smooth' | undefined;
  phase?: number | undefined;
  laps?: number | undefined;
  'key-points'?: number[] | undefined;
  'key-times'?: number[] | undefined;
  'key-splines'?: [number, number, number, number][] | undefined;
  policy?: Policy | undefined;
}

/**
 * Reads a mover of a level in rows. What is wrong is added to the file's problems.
 * @param up whether the level's y axis points up
 */
export function moverOfRows(yaml: YamlFile, mover: WrittenMover, i: number, up: boolean): Mover {
  const { name, policy } = mover;
  const shapes = shapesOf(mover.shapes, up, (k, message) =>
    yaml.problems.offset(yaml.valueAt(['movers', i, 'shapes', k]), message),
  );
  const route = routeOf(mover as Parameters<typeof routeOf>[0], (key, message) =>
    yaml.problems.offset(key === '' ? yaml.valueAt(['movers', i]) : yaml.valueAt(['movers', i, key]), message),
  );
  return { name, shapes, ...(route ? { route } : {}), ...(policy ? { policy } : {}) };
}

/** Reads the shapes of a level that has no rows. */
export function outlinesOfRows(yaml: YamlFile, shapes: readonly WrittenShape[], up: boolean): Outline[] {
  return shapesOf(shapes, up, (k, message) => yaml.problems.offset(yaml.valueAt(['shapes', k]), message));
}

/** Areas that touch become one, those of each named shape and layer apart. */
function shapesOf(
  written: readonly WrittenShape[],
  up: boolean,
  refuse: (k: number, message: string) => void,
): Outline[] {
  const open: Outline[] = [];
  const groups = new Map<string, Area[]>();
  const carries: Carry[] = [];
  written.forEach((one, k) => {
    const natures = SHAPE_NATURES.filter((nature) => one[nature] !== undefined);
    const carry = Object.fromEntries(Object.entries(one).filter(([key]) => !(SHAPE_NATURES as readonly string[]).includes(key))) as Carry; // prettier-ignore
    carries.push(carry);
    const { solid } = one;
    if (natures.length !== 1) {
      refuse(k, `a shape must be one of ${SHAPE_NATURES.join(', ')}`);
      return;
    }
    if (solid === undefined) {
      try {
        open.push({ ...shape(one as ShapeWords, up ? 'up' : 'down'), carry });
      } catch (error) {
        if (!(error instanceof LevelError)) throw error;
        refuse(k, error.message.replace(/^shape/, 'the shape'));
      }
      return;
    }
    const ring = isBox(solid) ? corners(solid) : solid;
    const group = JSON.stringify([carry.name, carry.layer]);
    const area: Area = { rings: [ring], rule: 'nonzero', id: k };
    const list = groups.get(group);
    if (list) list.push(area);
    else groups.set(group, [area]);
  });
  const areas = [...groups.values()].flatMap((group) => {
    try {
      return outlinesOf(
        group,
        (id) => carries[id]!,
        () => -1,
      );
    } catch (error) {
      if (!(error instanceof UniteError)) throw error;
      refuse(error.id, error.message);
      return [];
    }
  });
  return [...areas, ...open];
}

function isBox(shape: Box | readonly Point[]): shape is Box {
  return typeof shape[0] === 'number';
}

function corners([x, y, width, height]: Box): Point[] {
  return [
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ];
}
