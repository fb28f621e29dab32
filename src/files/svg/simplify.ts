import { union, xor } from 'polyclip-ts';
import { orient2d } from 'robust-predicates';
import { GRID, areaOf, boxOf, boxesOf, distinct, hasArea, lumpsOf, toGrid, type Whole } from './grid.js';
import { clipped, isIn, isOdd, refuseIntricate, type Geometry } from './clip.js';
import type { Point } from './outline.js';

/** An area that was drawn: its rings, how they enclose it, and a number for what it carries (later ones are drawn on top). */
export interface Area {
  rings: readonly (readonly Point[])[];
  rule: 'nonzero' | 'evenodd';
  id: number;
}

/**
 * An area without crossings of its own, and whether it had any. By `evenodd` what lies within an odd number of rings is inside; by `nonzero`
 * what lies within those that go round one way, and not as well within those that go round the other.
 * @throws UniteError where it crosses itself too often, or cannot be made out
 */
export function simplify(area: Area): Simplified {
  const known = simplified.get(area);
  if (known) return known;
  const { rings, rule, id } = area;
  const paths = rings.map((ring) => distinct(ring.map(toGrid))).filter((ring) => ring.length > 2);
  const found = lumpsOf(paths).map((lump) =>
    simplifyLump(
      lump.map((i) => paths[i]!),
      rule,
      id,
    ),
  );
  const lumps = found.map((one) => one.rings).filter(({ length }) => length > 0);
  const simple = { rings: lumps.flat(), lumps, crossed: found.some(({ crossed }) => crossed) };
  simplified.set(area, simple);
  return simple;
}

interface Simple {
  rings: Whole[][];
  crossed: boolean;
}

/** The same, and its rings by the lumps of it that lie apart. */
interface Simplified extends Simple {
  lumps: Whole[][][];
}

/** What has been worked out of an area: it is asked for when it is read, and when it is united with others. */
const simplified = new WeakMap<Area, Simplified>();

/** Rings that may meet. */
function simplifyLump(paths: readonly Whole[][], rule: Area['rule'], id: number): Simple {
  // One ring that does not cross itself is simple already: only the way it goes round may have to change.
  if (paths.length === 1 && isSimple(paths[0]!))
    return { rings: [areaOf(paths[0]!) > 0 ? paths[0]! : [...paths[0]!].reverse()], crossed: false };
  refuseIntricate(paths, id);
  const asPolygon = (path: readonly Whole[]): Geometry[number] => [path.map(({ X, Y }) => [X / GRID, Y / GRID])];
  const byTurn = (sign: number): Whole[][] => paths.filter((path) => areaOf(path) < 0 === sign < 0);
  const of = (sign: number): Geometry => {
    const some = byTurn(sign);
    return clipped(union, some.map(asPolygon), id, { rings: some, holds: (place) => isIn(some, place) });
  };
  // A ring that crosses itself encloses, by evenodd, what an odd number of the triangles between its edges and one corner cover.
  const parts = rule === 'evenodd' ? paths.flatMap((path) => (isSimple(path) ? [path] : fan(path))) : paths;
  const holds = (place: Whole): boolean => {
    if (rule === 'evenodd') return isOdd(paths, place);
    return paths.length === 1 ? isIn(paths, place) : isIn(byTurn(1), place) !== isIn(byTurn(-1), place);
  };
  const alone = rule === 'evenodd' || paths.length === 1;
  const inside = clipped(xor, alone ? parts.map(asPolygon) : [of(1), of(-1)], id, { rings: paths, holds });
  const simple = inside
    .flat()
    .map((ring) => distinct(ring.map(toGrid)))
    .filter(hasArea);
  // One ring that encloses another area than it goes around, or falls into several, crosses itself.
  const sum = (list: readonly Whole[][]): number => list.reduce((total, path) => total + Math.abs(areaOf(path)), 0);
  const crossed =
    paths.length === 1 && simple.length > 0 && (simple.length > 1 || Math.abs(sum(simple) - sum(paths)) > 1e-6);
  return { rings: simple, crossed };
} // prettier-ignore

/** The triangles between the edges of a ring and its first corner. */
function fan(path: readonly Whole[]): Whole[][] {
  const triangles: Whole[][] = [];
  for (let i = 1; i + 1 < path.length; i++) triangles.push([path[0]!, path[i]!, path[i + 1]!]);
  return triangles.filter((triangle) => areaOf(triangle) !== 0);
}

/** So few edges are not worth an index. */
const FEW = 12;

/** Whether no two edges of a ring touch but neighbours, and those at their common end only. */
function isSimple(path: readonly Whole[]): boolean {
  const count = path.length;
  const end = (i: number): Whole => path[(i + 1) % count]!;
  // Of a few edges, each is held against each.
  const index = count > FEW ? boxesOf(path.map((a, i) => boxOf([a, end(i)]))) : undefined;
  const all = [...path.keys()];
  const side = (a: Whole, b: Whole, c: Whole): number => Math.sign(orient2d(a.X, a.Y, b.X, b.Y, c.X, c.Y));
  return path.every((a, i) => {
    const b = end(i);
    const { left, top, right, bottom } = boxOf([a, b]);
    const found = index?.search(left, top, right, bottom) ?? all;
    return found.every((k) => {
      if (k <= i) return true;
      const [c, d] = [path[k]!, end(k)];
      // Neighbours meet in one corner; they overlap if one turns back along the other.
      if (k === i + 1) return side(a, b, d) !== 0 || !goesBack(b, d, a);
      if (i === 0 && k === count - 1) return side(a, b, c) !== 0 || !goesBack(a, c, b);
      return side(a, b, c) * side(a, b, d) > 0 || side(c, d, a) * side(c, d, b) > 0;
    });
  });
}

/** Whether two points on a line with a third lie on the same side of that: an edge to the one runs back along that to the other. */
function goesBack(from: Whole, one: Whole, other: Whole): boolean {
  return (one.X - from.X) * (other.X - from.X) + (one.Y - from.Y) * (other.Y - from.Y) > 0;
}
