/** The constants of vertical motion. Accelerations are magnitudes, units/s². */
export interface VerticalMotion {
  /** Base gravity, before multipliers. */
  gravity: number;
  /** Launch speed of a full jump, units/s. */
  launch: number;
  /** Gravity while rising. */
  rising: number;
  /** Gravity within the apex band, key held. */
  apex: number;
  /** Gravity while falling (at the start of the ramp, where there is one). */
  falling: number;
  /** Half-width of the apex band, units/s. */
  band: number;
  /** Terminal speed, units/s. */
  cap: number;
  /** Falling gravity at the end of the ramp. */
  rampTo: number;
  /** Length of the ramp, s; 0 where there is none. */
  rampOver: number;
  /** Gravity while rising after letting go, above the band and within it. */
  releasedAbove: number;
  releasedBand: number;
  /** Share of the rising speed left at letting go; 1 where nothing is cut. */
  cutTo: number;
  /** Letting go acts from this long after launch, s. */
  minHold: number;
}
