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
