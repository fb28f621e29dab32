import Flatbush from 'flatbush';
import { orient2d } from 'robust-predicates';
import { union, xor } from 'polyclip-ts';
import type { Outline } from '../../core/index.js';
import type { Point } from './outline.js';

/** An area that was drawn: its rings, how they enclose it, and a number for what it carries (later ones are drawn on top). */
export interface Area {
  rings: readonly (readonly Point[])[];
  rule: 'nonzero' | 'evenodd';
  id: number;
}

/** Steps of the vertex grid in a unit. */
const GRID = 67108864;
/** How far from an input edge what came of it may lie, in steps of the grid. */
const NEAR = 4;

interface Whole {
  X: number;
  Y: number;
}

type Geometry = [number, number][][][];

/**
 * An area without crossings of its own, and whether it had any. By `evenodd` what lies within an odd number of rings is inside; by `nonzero`
 * what lies within those that go round one way, and not as well within those that go round the other.
 */
export function simplify({ rings, rule }: Pick<Area, 'rings' | 'rule'>): { rings: Whole[][]; crossed: boolean } {
  const paths = rings.map((ring) => distinct(ring.map(toGrid))).filter((ring) => ring.length > 2);
  if (paths.length === 0) return { rings: [], crossed: false };
  // One ring that does not cross itself is simple already: only the way it goes round may have to change.
  if (paths.length === 1 && isSimple(paths[0]!))
    return { rings: [areaOf(paths[0]!) > 0 ? paths[0]! : [...paths[0]!].reverse()], crossed: false };
  const polygons = paths.map((path): Geometry[number] => [path.map(({ X, Y }) => [X / GRID, Y / GRID])]);
  const of = (sign: number): Geometry => {
    const some = polygons.filter((_, i) => areaOf(paths[i]!) * sign > 0);
    return some.length > 0 ? union(some[0]!, ...some.slice(1)) : [];
  };
  const whole = rule === 'evenodd' || paths.length === 1 ? xor(polygons[0]!, ...polygons.slice(1)) : xor(of(1), of(-1));
  const simple = whole.flat().map((ring) => distinct(ring.map(toGrid)));
  // One ring that encloses another area than it goes around, or falls into several, crosses itself.
  const sum = (list: Whole[][]): number => list.reduce((total, path) => total + Math.abs(areaOf(path)), 0);
  const crossed =
    paths.length === 1 && simple.length > 0 && (simple.length > 1 || Math.abs(sum(simple) - sum(paths)) > 1e-6);
  return { rings: simple, crossed };
}

function toGrid([x, y]: Point): Whole {
  return { X: Math.round(x * GRID), Y: Math.round(y * GRID) };
}

/** Twice the area, square units; above 0 where it goes round counter-clockwise, y up. */
function areaOf(path: readonly Whole[]): number {
  return path.reduce((sum, a, i) => {
    const b = path[(i + 1) % path.length]!;
    return sum + (a.X / GRID) * (b.Y / GRID) - (b.X / GRID) * (a.Y / GRID);
  }, 0);
}

/** Whether no two edges of a ring touch but neighbours, and those at their common end only. */
function isSimple(path: readonly Whole[]): boolean {
  const count = path.length;
  const index = new Flatbush(count);
  const end = (i: number): Whole => path[(i + 1) % count]!;
  path.forEach((a, i) => {
    const b = end(i);
    index.add(Math.min(a.X, b.X), Math.min(a.Y, b.Y), Math.max(a.X, b.X), Math.max(a.Y, b.Y));
  });
  index.finish();
  const side = (a: Whole, b: Whole, c: Whole): number => Math.sign(orient2d(a.X, a.Y, b.X, b.Y, c.X, c.Y));
  return path.every((a, i) => {
    const b = end(i);
    const found = index.search(Math.min(a.X, b.X), Math.min(a.Y, b.Y), Math.max(a.X, b.X), Math.max(a.Y, b.Y));
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

function distinct(path: Whole[]): Whole[] {
  return path.filter(({ X, Y }, i) => {
    const next = path[(i + 1) % path.length]!;
    return X !== next.X || Y !== next.Y;
  });
}

/** Rings that do not cross, as polygons with their holes. */
function geometryOf(rings: readonly Whole[][]): Geometry {
  const polygons = rings.map((ring): Geometry[number] => [ring.map(({ X, Y }) => [X / GRID, Y / GRID])]);
  return polygons.length > 1 ? xor(polygons[0]!, ...polygons.slice(1)) : [polygons[0]!];
}

/**
 * Unites areas: what lies within another vanishes, what touches becomes one. Every edge of the outcome is cut where the drawn
 * edges that it came from end, and keeps the number of the one drawn last.
 */
export function unite(areas: readonly Area[]): { hole: boolean; points: Point[]; ids: number[] }[] {
  const shapes: Geometry[] = [];
  const edges: { a: Whole; b: Whole; id: number }[] = [];
  for (const area of areas) {
    const { rings } = simplify(area);
    if (rings.length === 0) continue;
    shapes.push(geometryOf(rings));
    for (const ring of rings) ring.forEach((a, i) => edges.push({ a, b: ring[(i + 1) % ring.length]!, id: area.id }));
  }
  if (edges.length === 0) return [];
  // One shape alone is as it was simplified.
  const whole = shapes.length > 1 ? union(shapes[0]!, ...shapes.slice(1)) : shapes[0]!;
  const united = whole.flat().map((ring) => distinct(ring.map(toGrid)));
  const index = new Flatbush(edges.length);
  for (const { a, b } of edges)
    index.add(Math.min(a.X, b.X), Math.min(a.Y, b.Y), Math.max(a.X, b.X), Math.max(a.Y, b.Y));
  index.finish();
  const pieces: Piece[] = [];
  for (const path of united)
    path.forEach((a, i) => {
      const b = path[(i + 1) % path.length]!;
      const stretches = parts(a, b, edges, index);
      stretches.forEach(({ from, id }, k) => pieces.push({ a: from, b: stretches[k + 1]?.from ?? b, id }));
    });
  return ringsOf(withoutPairs(pieces)).map((ring) => ({
    hole: areaOf(ring.map(({ a }) => a)) < 0,
    points: ring.map(({ a }) => [a.X / GRID, a.Y / GRID] as const),
    ids: ring.map(({ id }) => id),
  }));
}

interface Piece {
  a: Whole;
  b: Whole;
  id: number;
}

const at = ({ X, Y }: Whole): string => `${X} ${Y}`;

/** Where two areas only touch, the clipping may leave both sides: what runs there and back again is no edge. */
function withoutPairs(pieces: readonly Piece[]): Piece[] {
  const waiting = new Map<string, Piece[]>();
  const gone = new Set<Piece>();
  for (const piece of pieces) {
    const back = waiting.get(`${at(piece.b)} ${at(piece.a)}`)?.pop();
    if (back) {
      gone.add(back).add(piece);
      continue;
    }
    const key = `${at(piece.a)} ${at(piece.b)}`;
    const list = waiting.get(key);
    if (list) list.push(piece);
    else waiting.set(key, [piece]);
  }
  return pieces.filter((piece) => !gone.has(piece) && (piece.a.X !== piece.b.X || piece.a.Y !== piece.b.Y));
}

/** Chains edges, end to start; where several begin in one point, that which keeps the solids connected. */
function ringsOf(pieces: readonly Piece[]): Piece[][] {
  const starts = new Map<string, Piece[]>();
  for (const piece of pieces) starts.set(at(piece.a), [...(starts.get(at(piece.a)) ?? []), piece]);
  const used = new Set<Piece>();
  const rings: Piece[][] = [];
  for (const first of pieces) {
    if (used.has(first)) continue;
    const ring: Piece[] = [];
    for (let piece: Piece | undefined = first; piece && !used.has(piece);) {
      used.add(piece);
      ring.push(piece);
      const from: Piece = piece;
      const next: Piece[] = (starts.get(at(from.b)) ?? []).filter((one) => !used.has(one));
      piece = next.reduce<Piece | undefined>(
        (best, one) => (!best || turn(from, one) < turn(from, best) ? one : best),
        undefined,
      );
    }
    if (ring.length > 2) rings.push(ring);
  }
  return rings;
}

/** How far the way turns left from one edge to the next: −2 for half a turn right, 2 for half a turn left. */
function turn(one: Piece, next: Piece): number {
  const [ax, ay] = [one.b.X - one.a.X, one.b.Y - one.a.Y];
  const [bx, by] = [next.b.X - next.a.X, next.b.Y - next.a.Y];
  const lengths = Math.sqrt((ax * ax + ay * ay) * (bx * bx + by * by));
  const cross = (ax * by - ay * bx) / lengths;
  const dot = (ax * bx + ay * by) / lengths;
  return dot >= 0 ? cross : cross >= 0 ? 2 - cross : -2 - cross;
}

/** The stretches of an edge by the drawn edges under them. */
function parts(
  a: Whole,
  b: Whole,
  edges: readonly { a: Whole; b: Whole; id: number }[],
  index: Flatbush,
): { from: Whole; id: number }[] {
  const [dx, dy] = [b.X - a.X, b.Y - a.Y];
  const length = Math.sqrt(dx * dx + dy * dy);
  const under: { from: number; until: number; id: number }[] = [];
  const found = index.search(Math.min(a.X, b.X) - NEAR, Math.min(a.Y, b.Y) - NEAR, Math.max(a.X, b.X) + NEAR, Math.max(a.Y, b.Y) + NEAR); // prettier-ignore
  const off = ({ X, Y }: Whole): number => Math.abs(dx * (Y - a.Y) - dy * (X - a.X)) / length;
  const along = ({ X, Y }: Whole): number => (dx * (X - a.X) + dy * (Y - a.Y)) / length;
  const offEdge = (e: { a: Whole; b: Whole }, { X, Y }: Whole): number => {
    const [ex, ey] = [e.b.X - e.a.X, e.b.Y - e.a.Y];
    return Math.abs(ex * (Y - e.a.Y) - ey * (X - e.a.X)) / Math.sqrt(ex * ex + ey * ey);
  };
  /** Where it is cut: at drawn corners, whose own places are kept so that what lies on the other side is cut there too. */
  const cuts: { place: number; point: Whole }[] = [{ place: 0, point: a }];
  for (const k of found) {
    const e = edges[k]!;
    // Parallel and on one line: the shorter one's ends lie on the longer.
    const onLine = Math.max(off(e.a), off(e.b)) <= NEAR || Math.max(offEdge(e, a), offEdge(e, b)) <= NEAR;
    const [s, t] = [along(e.a), along(e.b)];
    if (!onLine || Math.max(s, t) <= NEAR || Math.min(s, t) >= length - NEAR) continue;
    under.push({ from: Math.min(s, t), until: Math.max(s, t), id: e.id });
    for (const [place, point] of [
      [s, e.a],
      [t, e.b],
    ] as const)
      // prettier-ignore
      if (place > NEAR && place < length - NEAR) cuts.push({ place, point });
  }
  cuts.sort((p, q) => p.place - q.place);
  const list: { from: Whole; id: number }[] = [];
  cuts.forEach(({ place, point }, i) => {
    const until = cuts[i + 1]?.place ?? length;
    if (until - place <= NEAR) return;
    const middle = (place + until) / 2;
    const ids = under.filter((one) => one.from <= middle && one.until >= middle).map((one) => one.id);
    list.push({ from: list.length === 0 ? a : point, id: Math.max(-1, ...ids) });
  });
  return list.length > 0 ? list : [{ from: a, id: -1 }];
}

/** The united areas as outlines, with what each edge carries. */
export function outlinesOf(
  areas: readonly Area[],
  carry: (id: number) => NonNullable<Outline['carry']>,
  source: (id: number) => number,
): Outline[] {
  return unite(areas).map(({ hole, points, ids }) => ({
    form: hole ? 'hole' : 'solid',
    points,
    carry: ids.map((id) => carry(Math.max(id, 0))) as NonNullable<Outline['carry']>,
    source: ids.map((id) => source(Math.max(id, 0))),
  })) as Outline[];
}
