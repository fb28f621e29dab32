import Flatbush from 'flatbush';
import { union, xor } from 'polyclip-ts';
import type { Outline } from '../../core/index.js';
import { GRID, areaOf, boxOf, boxesOf, distinct, hasArea, lumpsOf, toGrid, type Whole } from './grid.js';
import { clipped, isOdd, refuseIntricate, type Geometry } from './clip.js';
import { simplify, type Area } from './simplify.js';
import type { Point } from './outline.js';

/** How far from an input edge what came of it may lie, in steps of the grid. */
const NEAR = 4;

/** Rings that do not cross, as polygons with their holes. */
function geometryOf(rings: readonly Whole[][], id: number): Geometry {
  const polygons = rings.map((ring): Geometry[number] => [ring.map(({ X, Y }) => [X / GRID, Y / GRID])]);
  return polygons.length > 1
    ? clipped(xor, polygons, id, { rings, holds: (place) => isOdd(rings, place) })
    : [polygons[0]!];
}

/**
 * Unites areas: what lies within another vanishes, what touches becomes one. Every edge of the outcome is cut where the drawn
 * edges that it came from end, and keeps the number of the one drawn last.
 * @throws UniteError where they cross or touch too often, or cannot be united
 */
export function unite(areas: readonly Area[]): United[] {
  const [first] = areas;
  if (first && areas.length === 1)
    return simplify(first).lumps.flatMap((lump) => uniteLump(lump.map((ring) => ({ ring, id: first.id }))));
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
  const lists = [...byArea.values()];
  const holds = (place: Whole): boolean => lists.some((list) => isOdd(list, place));
  return clipped(union, shapes, last, { rings: lists.flat(), holds })
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
