/** A point of an arc: seconds since launch, units across and up from the launch point. */
export interface ArcPoint {
  time: number;
  x: number;
  y: number;
}

/** A point with the velocity there, units/s: between two of these the arc is a polynomial, or (eased) so near to one that no picture shows it. */
export interface ArcKnot extends ArcPoint {
  vx: number;
  vy: number;
}

/**
 * Into how many parts a stretch is cut so that each is a polynomial of third degree to the eye, less than a thousandth of a pixel off: one, but where something dies away exponentially.
 * @param rate at which it dies away, 1/s; 0 where nothing does
 * @param time how long the stretch lasts, s
 * @example
 * ```ts
 * partsOf(0, 2) // 1
 * ```
 */
export function partsOf(rate: number, time: number): number {
  return rate > 0 ? Math.ceil(6 * rate * time) + 1 : 1;
}
