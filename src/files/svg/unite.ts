import Flatbush from 'flatbush';
import { orient2d } from 'robust-predicates';
import { setPrecision, union, xor } from 'polyclip-ts';
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

/** An area that is too intricate to be united, or that the clipping cannot make sense of. */
export class UniteError extends Error {
  override readonly name = 'UniteError';
  /** @param id the number of the area that it is about, where it is one */
  constructor(
    message: string,
    readonly id: number,
  ) {
    super(message);
  }
}

/** So many crossings are worked out in one lump of areas, and so many touches count as one: what each costs the clipping. */
const MOST_CROSSINGS = 4000;
const TOUCHES = 64;

/**
 * An area without crossings of its own, and whether it had any. By `evenodd` what lies within an odd number of rings is inside; by `nonzero`
 * what lies within those that go round one way, and not as well within those that go round the other.
 * @throws UniteError where it crosses itself too often, or cannot be made out
 */
export function simplify(area: Area): Simple {
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
  const simple = { rings: found.flatMap((one) => one.rings), crossed: found.some(({ crossed }) => crossed) };
  simplified.set(area, simple);
  return simple;
}

interface Simple {
  rings: Whole[][];
  crossed: boolean;
}

/** What has been worked out of an area: it is asked for when it is read, and when it is united with others. */
const simplified = new WeakMap<Area, Simple>();

/** Rings that may meet. */
function simplifyLump(paths: readonly Whole[][], rule: Area['rule'], id: number): Simple {
  // One ring that does not cross itself is simple already: only the way it goes round may have to change.
  if (paths.length === 1 && isSimple(paths[0]!))
    return { rings: [areaOf(paths[0]!) > 0 ? paths[0]! : [...paths[0]!].reverse()], crossed: false };
  refuseIntricate(paths, id);
  const asPolygon = (path: readonly Whole[]): Geometry[number] => [path.map(({ X, Y }) => [X / GRID, Y / GRID])];
  const of = (sign: number): Geometry => {
    const some = paths.filter((path) => areaOf(path) < 0 === sign < 0).map(asPolygon);
    return some.length > 0 ? clipped(union, some, id) : [];
  };
  // A ring that crosses itself encloses, by evenodd, what an odd number of the triangles between its edges and one corner cover.
  const parts = rule === 'evenodd' ? paths.flatMap((path) => (isSimple(path) ? [path] : fan(path))) : paths;
  const inside = rule === 'evenodd' || paths.length === 1 ? clipped(xor, parts.map(asPolygon), id) : clipped(xor, [of(1), of(-1)], id);
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

/** Two of the clipping's corners that are nearer than this are one, where it cannot tell them apart otherwise, units. */
const SNAP = 2 ** -40;

/** Clips, exactly where that works out, else with corners snapped together. */
function clipped(how: typeof union, parts: readonly (Geometry | Geometry[number])[], id: number): Geometry {
  const [first, ...others] = parts;
  if (!first) return [];
  for (const snap of [undefined, SNAP, 2 ** 10 * SNAP])
    try {
      setPrecision(snap);
      return how(first, ...others);
    } catch {
      // Two crossings so near to each other that they are told apart wrongly.
    } finally {
      setPrecision();
    }
  throw new UniteError('its outline crosses itself, or another one, in a way that cannot be made out; draw it simpler', id);
} // prettier-ignore

/** Rings by the lumps in which they may meet: those whose boxes touch, at once or over others. */
function lumpsOf(paths: readonly (readonly Whole[])[]): number[][] {
  if (paths.length < 2) return paths.map((_, i) => [i]);
  const index = boxesOf(paths.map((path) => boxOf(path)));
  const lumps: number[][] = [];
  const seen = new Uint8Array(paths.length);
  for (let first = 0; first < paths.length; first++) {
    if (seen[first]) continue;
    seen[first] = 1;
    const lump = [first];
    for (const i of lump) {
      const { left, top, right, bottom } = boxOf(paths[i]!);
      index.search(left, top, right, bottom, (k) => {
        if (!seen[k]) lump.push(k);
        seen[k] = 1;
        return false;
      });
    }
    lumps.push(lump.sort((a, b) => a - b));
  }
  return lumps;
}

interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

function boxOf(path: readonly Whole[]): Box {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { X, Y } of path) {
    left = Math.min(left, X);
    top = Math.min(top, Y);
    right = Math.max(right, X);
    bottom = Math.max(bottom, Y);
  }
  return { left, top, right, bottom };
}

function boxesOf(boxes: readonly Box[]): Flatbush {
  const index = new Flatbush(boxes.length);
  for (const { left, top, right, bottom } of boxes) index.add(left, top, right, bottom);
  index.finish();
  return index;
}

/** Refuses what would take the clipping longer than anybody waits: its crossings and touches are counted before. */
function refuseIntricate(paths: readonly (readonly Whole[])[], id: number): void {
  const edges = paths.flatMap((path) => path.map((a, i) => [a, path[(i + 1) % path.length]!] as const));
  if (edges.length < 2) return;
  const index = boxesOf(edges.map(boxOf));
  let crossings = 0;
  // Neighbours touch each other: those do not count.
  let touches = -edges.length;
  const spent = (): number => crossings + touches / TOUCHES;
  const side = (a: Whole, b: Whole, c: Whole): number => Math.sign(orient2d(a.X, a.Y, b.X, b.Y, c.X, c.Y));
  edges.forEach(([a, b], i) => {
    if (spent() > MOST_CROSSINGS) return;
    const { left, top, right, bottom } = boxOf([a, b]);
    index.search(left, top, right, bottom, (k) => {
      if (k <= i) return false;
      const [c, d] = edges[k]!;
      const [ends, others] = [side(a, b, c) * side(a, b, d), side(c, d, a) * side(c, d, b)];
      if (ends < 0 && others < 0) crossings++;
      else if (ends <= 0 && others <= 0) touches++;
      return false;
    });
  });
  if (spent() > MOST_CROSSINGS)
    throw new UniteError(`outlines cross more than ${MOST_CROSSINGS} times or touch more than ${MOST_CROSSINGS * TOUCHES} times here; draw it as several simpler shapes, apart from each other`, id);
} // prettier-ignore

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

/** Whether a ring goes around anything: rounded to the grid, what is thin may not. */
function hasArea(path: readonly Whole[]): boolean {
  return path.some((a, i) => {
    const [b, c] = [path[(i + 1) % path.length]!, path[(i + 2) % path.length]!];
    return orient2d(a.X, a.Y, b.X, b.Y, c.X, c.Y) !== 0;
  });
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

function distinct(path: Whole[]): Whole[] {
  return path.filter(({ X, Y }, i) => {
    const next = path[(i + 1) % path.length]!;
    return X !== next.X || Y !== next.Y;
  });
}

/** Rings that do not cross, as polygons with their holes. */
function geometryOf(rings: readonly Whole[][], id: number): Geometry {
  const polygons = rings.map((ring): Geometry[number] => [ring.map(({ X, Y }) => [X / GRID, Y / GRID])]);
  return polygons.length > 1 ? clipped(xor, polygons, id) : [polygons[0]!];
}

/**
 * Unites areas: what lies within another vanishes, what touches becomes one. Every edge of the outcome is cut where the drawn
 * edges that it came from end, and keeps the number of the one drawn last.
 * @throws UniteError where they cross or touch too often, or cannot be united
 */
export function unite(areas: readonly Area[]): United[] {
  const rings: Whole[][] = [];
  const ids: number[] = [];
  for (const area of areas)
    for (const ring of simplify(area).rings) {
      rings.push(ring);
      ids.push(area.id);
    }
  return lumpsOf(rings).flatMap((lump) => uniteLump(lump.map((i) => ({ ring: rings[i]!, id: ids[i]! }))));
}

/** An outline of what has been united: its points, and the number of what each edge came from. */
interface United {
  hole: boolean;
  points: Point[];
  ids: number[];
}

/** Rings that may meet, united. */
function uniteLump(rings: readonly { ring: Whole[]; id: number }[]): United[] {
  const [{ ring, id }] = rings as [{ ring: Whole[]; id: number }];
  if (rings.length === 1) return [unitedOf(ring.map((a, i) => ({ a, b: ring[(i + 1) % ring.length]!, id })))];
  const edges = rings.flatMap((one) => one.ring.map((a, i): Piece => ({ a, b: one.ring[(i + 1) % one.ring.length]!, id: one.id })));
  const index = boxesOf(edges.map(({ a, b }) => boxOf([a, b])));
  const pieces: Piece[] = [];
  for (const path of whole(rings))
    path.forEach((a, i) => {
      const b = path[(i + 1) % path.length]!;
      const stretches = parts(a, b, edges, index);
      stretches.forEach(({ from, id: of }, k) => pieces.push({ a: from, b: stretches[k + 1]?.from ?? b, id: of }));
    });
  return ringsOf(withoutPairs(pieces))
    .filter((ring) => hasArea(ring.map(({ a }) => a)))
    .map(unitedOf);
} // prettier-ignore

function unitedOf(ring: readonly Piece[]): United {
  return {
    hole: areaOf(ring.map(({ a }) => a)) < 0,
    points: ring.map(({ a }) => [a.X / GRID, a.Y / GRID] as const),
    ids: ring.map(({ id }) => id),
  };
}

/** The outlines of rings that may meet. */
function whole(rings: readonly { ring: Whole[]; id: number }[]): Whole[][] {
  // One area alone is as it was simplified.
  if (rings.every(({ id }) => id === rings[0]!.id)) return rings.map(({ ring }) => ring);
  const last = rings.at(-1)!.id;
  refuseIntricate(
    rings.map(({ ring }) => ring),
    last,
  );
  const byArea = new Map<number, Whole[][]>();
  for (const { ring, id } of rings) {
    const list = byArea.get(id);
    if (list) list.push(ring);
    else byArea.set(id, [ring]);
  }
  const shapes = [...byArea].map(([id, list]) => geometryOf(list, id));
  return clipped(union, shapes, last)
    .flat()
    .map((ring) => distinct(ring.map(toGrid)));
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
