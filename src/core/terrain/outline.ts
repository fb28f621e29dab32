import { FARTHEST } from '../tuning/keys.js';
import { checkCarry, checkGroup, checkKeys, checkList, checkNumbers, checkOne } from './checks.js';
import { CLOSED, type EdgeList, LINE, ONE_WAY, SIDED } from './edges.js';
import { type Carry, LevelError, type Outline } from './level.js';
import type { Registry } from './registry.js';
import { onGrid } from './terrain.js';

const FORMS = { solid: CLOSED, hole: CLOSED, ground: SIDED, 'one-way': ONE_WAY, line: LINE } as const;

/**
 * Adds the edges of a free shape to a list, y up.
 * @param where dotted path of the shape, and what it is called, for errors
 * @param sign −1 where the level's y axis points down
 * @param box left, bottom, right, top of what was added so far; grown to hold the shape
 * @throws LevelError where it is too short, flat, or beyond ±2²⁶
 */
export function addOutline(
  outline: Outline,
  where: string,
  called: string,
  sign: number,
  registry: Registry,
  list: EdgeList,
  box: [number, number, number, number],
): void {
  const refuse = (message: string): never => {
    throw new LevelError(where, `${called} ${message}`);
  };
  checkGroup(outline, where, 'a group of keys with form and points');
  const { form, points: given, carry = {}, source = -1 } = outline;
  checkKeys(outline, where, ['form', 'points', 'carry', 'source']);
  checkCarry(outline.carry, `${where}.carry`);
  checkOne(form, `${where}.form`, Object.keys(FORMS));
  checkList(given, `${where}.points`, 'a list of [x, y]');
  for (const point of given) checkNumbers(point, `${where}.points`, 'a list of [x, y]');
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
