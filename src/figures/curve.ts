import { placeIn, type TracePiece } from 'apperin';
import { drawn } from './view.js';
import type * as Plot from '@observablehq/plot';

/** A place on a curve, and how it goes on from there: across and up for each unit of the curve's own parameter, as time. */
export interface Knot {
  time: number;
  x: number;
  y: number;
  vx: number;
  vy: number;
}

/** Stretches of a curve, each from one knot to the next: a polynomial of time of third degree at most is drawn exactly. */
export type Stretches = readonly (readonly [Knot, Knot])[];

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

/** The stretches between the knots of a list. */
export function between(knots: readonly Knot[]): Stretches {
  return knots.slice(1).map((knot, i) => [knots[i]!, knot] as const);
}

/**
 * A curve through a plot, as cubic Béziers: each has the place and the velocity of the motion at both its ends.
 * @param style attributes of the path
 */
export function curve(stretches: Stretches, style: Record<string, string | number>): Plot.RenderFunction {
  return drawn((at) => pathOf(stretches, at), { fill: 'none', 'stroke-linejoin': 'round', ...style });
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
