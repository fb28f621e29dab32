import { placeIn, type TracePiece } from 'apperin';
import type { ArcCurve, Envelope, Knot, Side } from 'apperin/lab';

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

/** The stretches of pieces of motion. What dies away exponentially is parted so finely that it is less than a thousandth of a pixel off. */
export function stretchesOf(pieces: readonly TracePiece[]): Stretches {
  return pieces.flatMap((piece) => {
    const parts = piece.fades ? Math.ceil(6 * piece.fades.rate * (piece.until - piece.from)) + 1 : 1;
    const knot = (k: number): Knot => {
      const time = k === parts ? piece.until : piece.from + ((piece.until - piece.from) * k) / parts;
      return { time, ...placeIn(piece, time) };
    };
    return Array.from({ length: parts }, (_, k) => [knot(k), knot(k + 1)] as const);
  });
}

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
