import type { Carry, Mover, Outline, Point, Policy, Route } from '../core/index.js';
import { curveOf, keysOf } from './route.js';
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

type Box = [number, number, number, number];
type Written = Carry & {
  solid?: Box | [number, number][] | undefined;
  'one-way'?: Box | [number, number][] | undefined;
};

/** A mover as rows have it. */
export interface WrittenMover {
  name: string;
  shapes: Written[];
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
  const route = routeOf(mover, (key, message) =>
    yaml.problems.offset(key === '' ? yaml.valueAt(['movers', i]) : yaml.valueAt(['movers', i, key]), message),
  );
  return { name, shapes, ...(route ? { route } : {}), ...(policy ? { policy } : {}) };
}

function routeOf(mover: WrittenMover, refuse: (key: string, message: string) => void): Route | undefined {
  const { route, lap, phase, laps } = mover;
  const keys = ['key-points', 'key-times', 'key-splines'] as const;
  const journey = ['there-and-back', 'stops', 'easing'] as const;
  if (route === undefined) {
    for (const key of ['lap', 'phase', 'laps', ...journey, ...keys] as const)
      if (mover[key] !== undefined) refuse(key, `${key} needs a route`);
    return undefined;
  }
  if (lap === undefined) {
    refuse('', `the mover ${mover.name} has a route and needs a lap: how long one full cycle takes, s`);
    return undefined;
  }
  const curve = curveOf(route, (x, y) => [x, y]);
  if (typeof curve === 'string') {
    refuse('route', `the route ${curve}`);
    return undefined;
  }
  const given = keys.filter((key) => mover[key] !== undefined);
  const said = journey.find((key) => mover[key] !== undefined);
  let places: ReturnType<typeof keysOf>;
  if (given.length > 0) {
    if (said) refuse(said, `${said} and ${given[0]} say the same in two ways: give one of them`);
    places = {
      ...(mover['key-points'] ? { keyPoints: mover['key-points'] } : {}),
      ...(mover['key-times'] ? { keyTimes: mover['key-times'] } : {}),
      ...(mover['key-splines'] ? { keySplines: mover['key-splines'] } : {}),
    };
  } else places = keysOf({ ...mover, lap });
  if (typeof places === 'string') {
    refuse('stops', places);
    return undefined;
  }
  return { curve, lap, ...places, ...(phase === undefined ? {} : { phase }), ...(laps === undefined ? {} : { laps }) };
}

/** Areas that touch become one, those of each named shape and layer apart. */
function shapesOf(written: readonly Written[], up: boolean, refuse: (k: number, message: string) => void): Outline[] {
  const open: Outline[] = [];
  const groups = new Map<string, Area[]>();
  const carries: Carry[] = [];
  written.forEach(({ solid, 'one-way': oneWay, ...carry }, k) => {
    carries.push(carry);
    if ((solid === undefined) === (oneWay === undefined)) {
      refuse(k, 'a shape must be either solid or one-way');
      return;
    }
    if (oneWay) {
      open.push({ form: 'one-way', points: isBox(oneWay) ? upperSide(oneWay, up) : oneWay, carry });
      return;
    }
    const ring = isBox(solid!) ? corners(solid!) : solid!;
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

function upperSide([x, y, width, height]: Box, up: boolean): Point[] {
  const top = up ? y + height : y;
  return [
    [x, top],
    [x + width, top],
  ];
}

function corners([x, y, width, height]: Box): Point[] {
  return [
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ];
}
