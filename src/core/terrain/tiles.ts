import { isGroup } from '../tuning/words.js';
import { checkNumbers } from './checks.js';
import { LevelError, type Mark, TILE_PARTS, type TilePart } from './level.js';

/**
 * The marks that every level in rows knows.
 * @example
 * ```ts
 * BUILT_IN_MARKS['#'] // { solid: 'full' }
 * ```
 */
export const BUILT_IN_MARKS: Readonly<Record<string, Mark>> = {
  '#': { solid: 'full' },
  '=': { 'one-way': 'full' },
  '/': { solid: [0, 1] },
  '\\': { solid: [1, 0] },
};

type Point = readonly [number, number];

/** Left, bottom, right, top of the halves and quarters, in tiles, y up. */
const PARTS: Readonly<Record<TilePart, readonly [number, number, number, number]>> = {
  full: [0, 0, 1, 1],
  lower: [0, 0, 1, 0.5],
  upper: [0, 0.5, 1, 1],
  left: [0, 0, 0.5, 1],
  right: [0.5, 0, 1, 1],
  'lower-left': [0, 0, 0.5, 0.5],
  'lower-right': [0.5, 0, 1, 0.5],
  'upper-left': [0, 0.5, 0.5, 1],
  'upper-right': [0.5, 0.5, 1, 1],
};

/**
 * The outline of a tile within its cell, clockwise, y up, in tiles; of a one-way tile its left and right end.
 * @throws LevelError where a height is out of range
 * @example
 * ```ts
 * outlineOf({ solid: 'full' }, 'marks.#').points
 * ```
 */
export function outlineOf(mark: Mark, where: string): { oneWay: boolean; full: boolean; points: readonly Point[] } {
  const heights = (pair: readonly [number, number], key: string): readonly [number, number] => {
    checkNumbers(pair, `${where}.${key}`, 'two heights of 0 to 1');
    if (!pair.every((height) => height >= 0 && height <= 1))
      throw new LevelError(`${where}.${key}`, `${key} is [${pair.join(', ')}]; it must be two heights of 0 to 1`);
    if (key !== 'one-way' && pair[0] === 0 && pair[1] === 0)
      throw new LevelError(`${where}.${key}`, `${key} is [0, 0]; a solid tile must have an area`);
    return pair;
  };
  const oneWay = mark['one-way'];
  if (oneWay !== undefined) {
    const [l, r] = oneWay === 'full' ? [1, 1] : heights(oneWay, 'one-way');
    return {
      oneWay: true,
      full: l === 1 && r === 1,
      points: [
        [0, l],
        [1, r],
      ],
    };
  }
  if (mark.zone !== undefined) return { oneWay: false, full: true, points: [[0, 0], [0, 1], [1, 1], [1, 0]] }; // prettier-ignore
  const solid = mark.solid!;
  if (typeof solid === 'string') {
    if (!TILE_PARTS.includes(solid))
      throw new LevelError(`${where}.solid`, `solid is ${String(solid)}; it must be one of ${TILE_PARTS.join(', ')}`);
    const [x0, y0, x1, y1] = PARTS[solid];
    return { oneWay: false, full: solid === 'full', points: [[x0, y0], [x0, y1], [x1, y1], [x1, y0]] }; // prettier-ignore
  }
  if (isGroup(solid) && 'hanging' in solid) {
    const [l, r] = heights(solid.hanging, 'solid.hanging');
    return { oneWay: false, full: l === 1 && r === 1, points: distinct([[0, 1], [1, 1], [1, 1 - r], [0, 1 - l]]) }; // prettier-ignore
  }
  const [l, r] = heights(solid as readonly [number, number], 'solid');
  return { oneWay: false, full: l === 1 && r === 1, points: distinct([[0, 0], [0, l], [1, r], [1, 0]]) }; // prettier-ignore
}

function distinct(points: readonly Point[]): readonly Point[] {
  return points.filter(([x, y], i) => {
    const [px, py] = points[(i + points.length - 1) % points.length]!;
    return x !== px || y !== py;
  });
}
