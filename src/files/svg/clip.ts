import { setPrecision, union } from 'polyclip-ts';
import { orient2d } from 'robust-predicates';
import { boxOf, boxesOf, toGrid, type Whole } from './grid.js';

export type Geometry = [number, number][][][];

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

const TOUCHES = 40;

/** Two of the clipping's corners that are nearer than this are one, where it cannot tell them apart otherwise, units. */
const SNAP = 2 ** -40;

/** What the clipping is to come to: whether a place lies in it, told from the rings that were drawn. */
interface Wanted {
  rings: readonly (readonly Whole[])[];
  holds(place: Whole): boolean;
}

/** Clips, exactly where that works out, else with corners snapped together. What comes of it is held against what is wanted, at places beside the edges. */
export function clipped(how: typeof union, parts: readonly (Geometry | Geometry[number])[], id: number, wanted: Wanted): Geometry {
  const [first, ...others] = parts;
  if (!first) return [];
  for (const snap of [undefined, SNAP, 2 ** 10 * SNAP])
    try {
      setPrecision(snap);
      const found = how(first, ...others);
      if (isAsWanted(found.flat().map((ring) => ring.map(toGrid)), wanted)) return found;
    } catch {
      // Two crossings so near to each other that they are told apart wrongly.
    } finally {
      setPrecision();
    }
  throw new UniteError('its outline crosses itself, or another one, in a way that cannot be made out; draw it simpler', id);
} // prettier-ignore

/** So many edges are looked at in all to hold an outcome against what is wanted. */
const LOOKS = 8e6;

/** Where along an edge it is looked beside it, on both sides so far off, in steps of the grid; nearer than the other to any edge nothing can be told. */
const ALONG = [0.137, 0.463, 0.729, 0.911];

const BESIDE = 2 ** 16;

const TOO_NEAR = 2 ** 4;

function isAsWanted(found: readonly (readonly Whole[])[], { rings, holds }: Wanted): boolean {
  const edges = rings.flatMap((ring) => ring.map((a, i) => [a, ring[(i + 1) % ring.length]!] as const));
  const cost = edges.length + found.reduce((sum, { length }) => sum + length, 0);
  const step = Math.max(1, Math.ceil((edges.length * ALONG.length * 2 * cost) / LOOKS));
  for (let n = 0; n < edges.length * ALONG.length * 2; n += step) {
    const [a, b] = edges[Math.floor(n / (ALONG.length * 2))]!;
    const t = ALONG[(n >> 1) % ALONG.length]!;
    const length = Math.sqrt((b.X - a.X) ** 2 + (b.Y - a.Y) ** 2);
    const off = (n % 2 === 0 ? BESIDE : -BESIDE) / length;
    const place = { X: a.X + t * (b.X - a.X) - off * (b.Y - a.Y), Y: a.Y + t * (b.Y - a.Y) + off * (b.X - a.X) };
    if (edges.some(([p, q]) => distance(place, p, q) < TOO_NEAR)) continue;
    if (found.reduce((is, ring) => is !== goesRound(ring, place).odd, false) !== holds(place)) return false;
  }
  return true;
} // prettier-ignore

/** How far a place is from an edge, in steps of the grid. */
function distance({ X, Y }: Whole, a: Whole, b: Whole): number {
  const [dx, dy] = [b.X - a.X, b.Y - a.Y];
  const t = Math.min(1, Math.max(0, (dx * (X - a.X) + dy * (Y - a.Y)) / (dx * dx + dy * dy)));
  return Math.sqrt((a.X + t * dx - X) ** 2 + (a.Y + t * dy - Y) ** 2);
}

/** How often a ring goes round a place, and whether an odd number of its edges is met on the way from there to the right. */
function goesRound(ring: readonly Whole[], { X, Y }: Whole): { times: number; odd: boolean } {
  let [times, odd] = [0, false];
  for (let i = 0, a = ring[ring.length - 1]!; i < ring.length; a = ring[i++]!) {
    const b = ring[i]!;
    if (a.Y > Y === b.Y > Y) continue;
    const side = (b.X - a.X) * (Y - a.Y) - (X - a.X) * (b.Y - a.Y);
    if (b.Y > a.Y ? side <= 0 : side >= 0) continue;
    times += b.Y > a.Y ? 1 : -1;
    odd = !odd;
  }
  return { times, odd };
}

export const isOdd = (rings: readonly (readonly Whole[])[], place: Whole): boolean =>
  rings.reduce((is, ring) => is !== goesRound(ring, place).odd, false);

export const isIn = (rings: readonly (readonly Whole[])[], place: Whole): boolean =>
  rings.some((ring) => goesRound(ring, place).times !== 0);

/** Refuses what would take the clipping longer than anybody waits: its crossings and touches are counted before. */
export function refuseIntricate(paths: readonly (readonly Whole[])[], id: number): void {
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
