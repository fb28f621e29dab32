import { type AcrossRule, acrossRule } from '../arc/across.js';
import type { VerticalMotion } from '../arc/vertical.js';
import { sine, tangent } from '../elementary.js';
import { type Hull, hullOf } from '../sweep/hull.js';
import { fillTuning } from './fill.js';
import { solveGoals } from './goals.js';
import { solveRelease } from './release.js';
import type { FullTuning, Tuning } from './tuning.js';

/** Everything the simulation needs to know of a tuning, as plain numbers in units and seconds. */
export interface Motion extends VerticalMotion {
  /** Hitbox, units; the width an even multiple of 2⁻²⁶ so that half of it lies on the vertex grid. */
  width: number;
  height: number;
  half: number;
  /** The one contact tolerance: 2⁻²⁰ body widths, units. */
  touch: number;
  /** The outline that sweeps move. */
  hull: Hull;
  ground: AcrossRule;
  air: AcrossRule;
  /** No steering in the air. */
  airLocked: boolean;
  walk: number;
  coyote: number;
  buffer: number;
  corner: number;
  lip: number;
  lipSpeed: number;
  /** Launch speeds of the air jumps, units/s. */
  airLaunch: Float64Array;
  airEndless: boolean;
  airSpacing: number;
  /** What restores air jumps. */
  airByGround: boolean;
  airByLedge: boolean;
  airByWall: boolean;
  airByZone: boolean;
  /** No jump from the ground or a ledge. */
  jumpOff: boolean;
  /** On the ground a press charges instead. */
  charges: boolean;
  /** Height gained at full run speed, units. */
  runUp: number;
  /** Whether walls can be held on to; jumps off one wall; how long after leaving it, s. */
  walls: boolean;
  wallJumps: number;
  wallCoyote: number;
  /** How far from upright what is held on to may lean: the sine of that angle. */
  lean: number;
  /** Units up for each unit across: the steepest ground, and the steepest drop that is followed. */
  steepest: number;
  follow: number;
  /** Top speed is measured along the ground. */
  along: boolean;
  uphill: number;
  downhill: number;
  slip: number;
  step: number;
  launchNormal: boolean;
  slopeJump: boolean;
  /** What of a mover's velocity what leaves it keeps: LEND_BOTH, LEND_ACROSS or LEND_NONE; and for how long after a stop or a turn that before it, s. */
  lend: number;
  linger: number;
  /** Speed at which the body is pushed out of what it was placed in, units/s. */
  freeBy: number;
  /** Half a stride, units; Infinity where none are counted. */
  halfStride: number;
  poseLand: number;
  poseSettle: number;
  /** What the goals came to: apex height, rise time and lowest hop of a jump on open ground. */
  jumpHeight: number;
  riseTime: number;
  lowestHop: number;
  /** How fast the time goes that these constants are for, as a share of the stage's. */
  tempo: number;
  /** The tuning these constants were made from, with all its defaults. */
  full: FullTuning;
}

const GRID = 33554432; // 2²⁵: even multiples of 2⁻²⁶

/**
 * Turns a tuning into the constants of its motion.
 * @throws TuningError where a key is wrong, goals contradict each other, or a goal cannot be met.
 * @example
 * ```ts
 * compileTuning({ jump: { height: 3, riseTime: 0.4 } }).gravity // what the goals come to
 * ```
 */
export function compileTuning(tuning: Tuning): Motion {
  const full = fillTuning(tuning);
  const ground = acrossRule(full.run, full.run);
  const air = acrossRule(full.run.air === 'locked' ? full.run : full.run.air, full.run);
  const locked = full.run.air === 'locked';
  const goals = solveGoals(full, locked ? undefined : air);
  const release = solveRelease(full, goals);
  const width = onBodyGrid(full.body.width);
  const height = onBodyGrid(full.body.height);
  const hull = hullOf(width, height, onBodyGrid(full.body.bevel));
  return {
    ...goals.vertical,
    ...release.constants,
    width,
    height,
    half: hull.half,
    touch: hull.touch,
    hull,
    ground,
    air,
    airLocked: locked,
    walk: full.run.walk,
    coyote: full.grace.coyote,
    buffer: full.grace.buffer,
    corner: full.grace.corner,
    lip: full.grace.lip,
    lipSpeed: full.grace.lipSpeed,
    airLaunch: Float64Array.from(full.airJumps?.heights ?? [], (height) => launchFor(goals.vertical, height)),
    airEndless: full.airJumps?.endless ?? false,
    airSpacing: full.airJumps?.spacing ?? 0,
    airByGround: full.airJumps?.restoredBy.includes('ground') ?? false,
    airByLedge: full.airJumps?.restoredBy.includes('ledge') ?? false,
    airByWall: full.airJumps?.restoredBy.includes('wall') ?? false,
    airByZone: full.airJumps?.restoredBy.includes('zone') ?? false,
    jumpOff: full.jump.off,
    charges: full.charge !== undefined,
    runUp: full.jump.runUp,
    walls: full.wall !== undefined,
    wallJumps: full.wall === undefined ? 0 : full.wall.sameWall === 'any' ? Infinity : full.wall.sameWall,
    wallCoyote: full.grace.wallCoyote,
    lean: sine(full.wall?.lean ?? 0) + 1e-12,
    // Drawn at just that angle it is ground, though its corners lie on a grid.
    steepest: tangent(full.slope.steepest) * (1 + 1e-6),
    follow: full.slope.follow,
    along: full.slope.pace === 'along',
    uphill: full.slope.uphill,
    downhill: full.slope.downhill,
    slip: full.slope.slip,
    step: full.slope.step,
    launchNormal: full.slope.launch === 'normal',
    slopeJump: full.slope.jump,
    lend: ['both', 'across', 'none'].indexOf(full.mover.lend),
    linger: full.mover.linger,
    freeBy: full.body.freeBy,
    halfStride: full.pose.stride > 0 ? full.pose.stride / 2 : Infinity,
    poseLand: full.pose.land,
    poseSettle: full.pose.settle,
    jumpHeight: goals.height,
    riseTime: goals.riseTime,
    lowestHop: release.lowestHop,
    tempo: 1,
    full,
  };
}

/**
 * The launch speed of a jump that rises by a height: the inverse of V²/(2gp) within the band, and of
 * b²/(2gp) + (V² − b²)/(2gr) above it, the band being narrowed to the launch speed.
 * @example
 * ```ts
 * launchFor(compileTuning({}), 2) // the speed at which a jump rises by two units
 * ```
 */
export function launchFor(
  { band, apex, rising }: Pick<VerticalMotion, 'band' | 'apex' | 'rising'>,
  height: number,
): number {
  const inBand = (band * band) / (2 * apex);
  return height <= inBand ? Math.sqrt(2 * apex * height) : Math.sqrt(band * band + 2 * rising * (height - inBand));
}

/** Sizes of bodies are even multiples of 2⁻²⁶ units, so that half of one lies on the vertex grid. */
export function onBodyGrid(length: number): number {
  return Math.floor(length * GRID + 0.5) / GRID;
}
