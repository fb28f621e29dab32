import { placeIn, type TracePiece } from 'apperin';
import { partsOf, type ArcCurve, type Envelope, type Knot, type Side } from 'apperin/lab';

/** Stretches of a curve, each from one knot to the next: a polynomial of time of third degree at most is drawn exactly. */
export type Stretches = readonly (readonly [Knot, Knot])[];

/** The stretches between the knots of a list. */
export function between(knots: readonly Knot[]): Stretches {
  return knots.slice(1).map((knot, i) => [knots[i]!, knot] as const);
}

/** A whole arc. */
export function wayOf({ stretches }: ArcCurve): Stretches {
  return stretches.flatMap(({ knots }) => between(knots));
}

/**
 * The stretches of pieces of motion. What dies away exponentially is parted so finely that it is less than a thousandth of a pixel off.
 * @param since what came before is left out, s
 */
export function stretchesOf(pieces: readonly TracePiece[], since = -Infinity): Stretches {
  return parted(pieces, since).map(({ piece, from, until }) => {
    return [
      { time: from, ...placeIn(piece, from) },
      { time: until, ...placeIn(piece, until) },
    ] as const;
  });
}

/** Pieces so parted that each is a polynomial of third degree, to the eye. */
function parted(pieces: readonly TracePiece[], since: number): { piece: TracePiece; from: number; until: number }[] {
  return pieces.flatMap((piece) => {
    const { until, fades } = piece;
    const from = Math.max(piece.from, since);
    if (from >= until) return [];
    const parts = partsOf(fades?.rate ?? 0, until - from);
    const at = (k: number): number => (k === parts ? until : from + ((until - from) * k) / parts);
    return Array.from({ length: parts }, (_, k) => ({ piece, from: at(k), until: at(k + 1) }));
  });
}

/** Something of a motion over time, its moments as x. */
export type OverTime = 'height' | 'up' | 'across';

/**
 * Curves of a motion over time, each as stretches: height, speed up and speed across. Where a speed changes at once, a straight stretch joins both.
 * @param up −1 where y points down
 */
export function overTime(pieces: readonly TracePiece[], of: OverTime, up: number, since = -Infinity): Stretches {
  const found: (readonly [Knot, Knot])[] = [];
  for (const { piece, from, until } of parted(pieces, since)) {
    const value = (time: number): number => {
      const { y, vx, vy } = placeIn(piece, time);
      return of === 'height' ? y * up : of === 'up' ? vy * up : vx;
    };
    const [a, m, b] = [value(from), value((from + until) / 2), value(until)];
    const length = until - from;
    // A speed is of second degree at most: three places of it tell its slopes. A height has its speed as its slope.
    const slopes = of === 'height' ? [placeIn(piece, from).vy * up, placeIn(piece, until).vy * up] : [(4 * m - 3 * a - b) / length, (3 * b - 4 * m + a) / length];
    const start: Knot = { time: from, x: from, y: a, vx: 1, vy: slopes[0]! };
    const before = found.at(-1)?.[1];
    if (before && of !== 'height' && Math.abs(before.time - from) < 1e-9 && before.y !== a) found.push([{ ...before, time: from, vx: 0, vy: 0 }, { ...start, vx: 0, vy: 0 }]);
    found.push([start, { time: until, x: until, y: b, vx: 1, vy: slopes[1]! }]);
  }
  return found;
} // prettier-ignore

/** The path itself; it begins anew where a stretch does not go on from the one before. What stays where it is draws nothing. */
export function pathOf(stretches: Stretches, at: (x: number, y: number) => string): string {
  let end = '';
  let path = '';
  for (const [a, b] of stretches) {
    const third = (b.time - a.time) / 3;
    const [start, to] = [at(a.x, a.y), at(b.x, b.y)];
    const [one, two] = [at(a.x + third * a.vx, a.y + third * a.vy), at(b.x - third * b.vx, b.y - third * b.vy)];
    if (start === to && one === to && two === to) continue;
    path += `${start === end ? '' : `M${start}`}C${one} ${two} ${to}`;
    end = to;
  }
  return path;
}

/** The outline of what can be reached. */
export type Reachable = Pick<Envelope, 'bands' | 'flats'>;

/** What can be reached as one path to be filled: each band between its sides. */
export function filled({ bands }: Pick<Reachable, 'bands'>, at: (x: number, y: number) => string): string {
  const path = bands.flatMap(({ spans }) =>
    spans.map(({ left, right }) => {
      const back = [...right].reverse();
      const end = at(back[0]!.x, back[0]!.y);
      return `${pathOf(between(left), at) || `M${at(left[0]!.x, left[0]!.y)}`}L${end}${pathOf(between(back), at).replace(/^M[^C]*/, '')}Z`;
    }),
  );
  return path.join('');
}

/** Its outline: both sides of every band, and what is level between them. */
export function outlined({ bands, flats }: Reachable, at: (x: number, y: number) => string): string {
  const sides = bands.flatMap(({ spans }) => spans.flatMap(({ left, right }): Side[] => [left, right]));
  const curves: Stretches = sides.flatMap((side) => between(side));
  return `${pathOf(curves, at)}${flats.map(({ x1, x2, y }) => `M${at(x1, y)}L${at(x2, y)}`).join('')}`;
} // prettier-ignore
