import { FARTHEST } from '../tuning/keys.js';
import { CLOSED, EdgeList, LINE, ONE_WAY, SIDED } from './edges.js';
import { LevelError, type Carry, type LevelBase } from './level.js';
import { onGrid } from './terrain.js';
import { Registry, compileWorld, type CompiledLevel, type Extent, type Source } from './world.js';

export type Point = readonly [number, number];

/** A free shape. */
export interface Outline {
  /**
   * `solid`: a closed outline; the open side is found from which way round it goes. `hole`: the same, the solid is around it. `ground`: an
   * open line that blocks from above. `one-way`: the same, and can be dropped through. `line`: blocks from both sides.
   */
  form: 'solid' | 'hole' | 'ground' | 'one-way' | 'line';
  points: readonly Point[];
  /** What it carries; a list has one entry for each edge, from each point to the next. */
  carry?: Carry | readonly Carry[];
  /** Where it was drawn: an index into the level's sources; for each edge, where `carry` is a list. */
  source?: number | readonly number[];
}

/** A level of free shapes. */
export interface DrawnLevel extends LevelBase {
  /** Its extent in its own axes; what its shapes cover, unless given. */
  extent?: Extent;
  outlines: readonly Outline[];
  sources?: readonly Source[];
}

const FORMS = { solid: CLOSED, hole: CLOSED, ground: SIDED, 'one-way': ONE_WAY, line: LINE } as const;

/**
 * Compiles free shapes into a level: edges of any direction, joined corner to corner. Closed outlines must not cross themselves or each
 * other; which way round they go does not matter.
 * @param drawn the shapes, in the level's own axes; or closed outlines alone, y up
 * @throws LevelError naming an outline that is too short, flat, or beyond ±2²⁶
 */
export function compileOutlines(drawn: DrawnLevel | readonly (readonly Point[])[]): CompiledLevel {
  const level: DrawnLevel =
    'outlines' in drawn
      ? drawn
      : { yPoints: 'up', outlines: drawn.map((points) => ({ form: 'solid' as const, points })) };
  const sign = level.yPoints === 'up' ? 1 : -1;
  const registry = new Registry(level.surfaces);
  const list = new EdgeList();
  const box = [Infinity, Infinity, -Infinity, -Infinity] as [number, number, number, number];
  level.outlines.forEach((outline, i) => addOutline(outline, i, sign, registry, list, box));
  const empty = box[0] > box[2];
  const [left, bottom, right, top] = empty ? [0, 0, 0, 0] : box;
  const covered = { x: left, y: sign > 0 ? bottom : -top + 0, width: right - left, height: top - bottom };
  return compileWorld(level, list, registry, level.extent ?? covered, { merge: true, sources: level.sources ?? [] });
}

function addOutline(
  { form, points: given, carry = {}, source = -1 }: Outline,
  i: number,
  sign: number,
  registry: Registry,
  list: EdgeList,
  box: [number, number, number, number],
): void {
  const where = `outlines.${i}`;
  const refuse = (message: string): never => {
    throw new LevelError(where, `outline ${i} ${message}`);
  };
  const closed = form === 'solid' || form === 'hole';
  const styleOf = (k: number): number =>
    registry.style(
      Array.isArray(carry) ? ((carry as readonly Carry[])[k] ?? {}) : (carry as Carry),
      where,
      typeof source === 'number' ? source : (source[k] ?? -1),
    );
  let points = given.map(([x, y], k) => ({ x: onGrid(x), y: onGrid(y * sign), style: styleOf(k) }));
  points = points.filter(({ x, y }, k) => {
    if (k === points.length - 1 && !closed) return true;
    const next = points[(k + 1) % points.length]!;
    return x !== next.x || y !== next.y;
  });
  if (closed && points.length < 3) refuse('has fewer than three corners');
  if (!closed && points.length < 2) refuse('has no length');
  let area = 0;
  points.forEach(({ x, y }, k) => {
    const next = points[(k + 1) % points.length]!;
    if (!(Math.abs(x) <= FARTHEST && Math.abs(y) <= FARTHEST))
      refuse(`reaches ${x}, ${y}; it must stay within ±${FARTHEST}`);
    area += x * next.y - next.x * y;
    box[0] = Math.min(box[0], x);
    box[1] = Math.min(box[1], y);
    box[2] = Math.max(box[2], x);
    box[3] = Math.max(box[3], y);
  });
  if (closed && area === 0) refuse('encloses nothing');
  // Solids go clockwise, so that the open side is on the left of every edge; ground goes from left to right.
  const turned = closed
    ? area > 0 === (form === 'solid')
    : form !== 'line' && points[0]!.x > points[points.length - 1]!.x;
  const count = closed ? points.length : points.length - 1;
  for (let k = 0; k < count; k++) {
    const a = points[k]!;
    const b = points[(k + 1) % points.length]!;
    // A stretch of ground that runs back is ground all the same.
    const back = !closed && form !== 'line' && (turned ? b.x > a.x : b.x < a.x);
    const [from, to] = turned !== back ? [b, a] : [a, b];
    list.add(from.x, from.y, to.x, to.y, a.style, FORMS[form]);
    if (form === 'line') list.add(to.x, to.y, from.x, from.y, a.style, LINE);
  }
}
