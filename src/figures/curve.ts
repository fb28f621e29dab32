import { pathOf, type Stretches } from './path.js';
import { drawn } from './view.js';
import type * as Plot from '@observablehq/plot';

/**
 * A curve through a plot, as cubic Béziers: each has the place and the velocity of the motion at both its ends.
 * @param style attributes of the path
 */
export function curve(stretches: Stretches, style: Record<string, string | number>): Plot.RenderFunction {
  return drawn((at) => pathOf(stretches, at), { fill: 'none', 'stroke-linejoin': 'round', ...style });
}
