import { BASE_KEYS, checkBase, checkGroup, checkKeys, checkList } from './checks.js';
import { EdgeList } from './edges.js';
import type { LevelBase, Outline, Point } from './level.js';
import { addOutline } from './outline.js';
import { Registry } from './registry.js';
import { type CompiledLevel, type Extent, type Source, compileWorld } from './world.js';

/** A level of free shapes. */
export interface DrawnLevel extends LevelBase {
  /** Its extent in its own axes; what its shapes cover, unless given. */
  extent?: Extent;
  outlines: readonly Outline[];
  sources?: readonly Source[];
}

/**
 * Compiles free shapes into a level: edges of any direction, joined corner to corner. Closed outlines must not cross themselves or each
 * other; which way round they go does not matter.
 * @param drawn the shapes, in the level's own axes; or closed outlines alone, y up
 * @throws LevelError naming an outline that is too short, flat, or beyond ±2²⁶
 * @example
 * ```ts
 * openStage(compileOutlines([[[0, 4], [9, 4], [9, 5], [0, 5]]]));
 * ```
 */
export function compileOutlines(drawn: DrawnLevel | readonly (readonly Point[])[]): CompiledLevel {
  if (!Array.isArray(drawn)) checkGroup(drawn, '', 'a group of keys with outlines, or a list of outlines');
  const level: DrawnLevel =
    'outlines' in drawn
      ? drawn
      : {
          yPoints: 'up',
          outlines: (drawn as readonly (readonly Point[])[]).map((points) => ({ form: 'solid' as const, points })),
        };
  checkKeys(level, '', ['extent', 'outlines', 'sources', ...BASE_KEYS]);
  checkBase(level);
  checkList(level.outlines, 'outlines', 'a list of shapes');
  const sign = level.yPoints === 'up' ? 1 : -1;
  const registry = new Registry(level.surfaces);
  const list = new EdgeList();
  const box = [Infinity, Infinity, -Infinity, -Infinity] as [number, number, number, number];
  level.outlines.forEach((outline, i) =>
    addOutline(outline, `outlines.${i}`, `outline ${i}`, sign, registry, list, box),
  );
  const empty = box[0] > box[2];
  const [left, bottom, right, top] = empty ? [0, 0, 0, 0] : box;
  const covered = { x: left, y: sign > 0 ? bottom : -top + 0, width: right - left, height: top - bottom };
  return compileWorld(level, list, registry, level.extent ?? covered, { merge: true, sources: level.sources ?? [] });
}
