import { placeIn, type TracePiece } from 'apperin';
import type { Knot } from 'apperin/lab';
import { pathOf, type Stretches } from './path.js';
import { drawn } from './view.js';
import type * as Plot from '@observablehq/plot';

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

/**
 * A curve through a plot, as cubic Béziers: each has the place and the velocity of the motion at both its ends.
 * @param style attributes of the path
 */
export function curve(stretches: Stretches, style: Record<string, string | number>): Plot.RenderFunction {
  return drawn((at) => pathOf(stretches, at), { fill: 'none', 'stroke-linejoin': 'round', ...style });
}
