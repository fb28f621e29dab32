/**
 * A tuning is what a person writes about a character: positive magnitudes, seconds, and the world's own
 * unit of length. Whatever is left out takes its default (see `keys.ts`).
 */
export interface Tuning {
  /** Units per tile of your world; scales every default length and speed, and nothing that you wrote. */
  tile?: number;
  body?: Partial<Body>;
  run?: Partial<Omit<Run, 'air'>> & { air?: Partial<Air> | 'locked' };
  jump?: Partial<Jump> | 'off';
  gravity?: Partial<Omit<Gravity, 'fallRamp'>> & { fallRamp?: FallRamp };
  grace?: Partial<Grace> | 'off';
  airJumps?: Partial<AirJumps> | 'off';
  charge?: Partial<Charge> | 'off';
  wall?: (Partial<Omit<Wall, 'jump'>> & { jump?: Partial<Wall['jump']> }) | 'off';
  glide?: Partial<Glide> | 'off';
  dive?: Partial<Dive> | 'off';
  ledge?: Partial<Ledge> | 'off';
  drop?: Partial<Drop> | 'off';
  crouch?: Partial<Crouch> | 'off';
  slope?: Partial<Slope>;
  mover?: Partial<Lending>;
  pose?: Partial<Pose>;
  /** Numbers of abilities that a game brings, by ability and name; they are checked when the ability is added. */
  own?: Record<string, Record<string, number>>;
}

/** A tuning with every default filled in. Only jump goals and the ways of letting go may be missing. */
export interface FullTuning {
  tile: number;
  body: Body;
  run: Run;
  jump: Jump;
  gravity: Gravity;
  grace: Grace;
  /** Abilities that are left out are off. */
  airJumps?: AirJumps;
  charge?: Charge;
  wall?: Wall;
  glide?: Glide;
  dive?: Dive;
  ledge?: Ledge;
  drop?: Drop;
  crouch?: Crouch;
  slope: Slope;
  mover: Lending;
  pose: Pose;
  own: Record<string, Record<string, number>>;
}

export interface Body {
  /** Width of the hitbox, units. */
  width: number;
  /** Height of the hitbox, units. */
  height: number;
  /** How much of each lower corner is cut off, across and up alike, units. */
  bevel: number;
  /** Speed at which a body placed inside something solid is pushed out, units/s. */
  freeBy: number;
}

export interface Run {
  /** Top speed on the ground, units/s. */
  speed: number;
  /** `steady`: a constant rate. `eased`: a fixed share of the difference per time. */
  feel: 'steady' | 'eased';
  /** From rest to top speed, s (`eased`: until a tenth of the difference is left). */
  upIn: number;
  /** From top speed to rest with no key, s. */
  stopIn: number;
  /** From top speed to rest against the key, s. */
  turnIn: number;
  /** Faster than top speed: `bleed` brakes to it, `keep` holds it while the key agrees. */
  overspeed: 'bleed' | 'keep';
  /** The same in the air; `locked` takes steering away. */
  air: Air | 'locked';
  /** Share of top speed while the walk action is held. */
  walk: number;
}

export interface Air {
  /** Top speed in the air, units/s; the run's unless given. */
  speed: number;
  upIn: number;
  stopIn: number;
  turnIn: number;
}

/** Goals of a jump: any consistent, sufficient pair of the first six. */
export interface JumpGoals {
  /** Apex height of a full jump, units. */
  height?: number;
  /** From launch to apex, s. */
  riseTime?: number;
  /** Gravity before multipliers, units/s². */
  baseGravity?: number;
  /** Speed up at launch, units/s. */
  launchSpeed?: number;
  /** Distance across at run speed until back at launch height, units. */
  reach?: number;
  /** From launch until back at launch height, s. */
  airTime?: number;
}

export interface Jump extends JumpGoals {
  /** What a tap reaches, units. */
  lowestHop?: number;
  /** Letting go acts from this long after launch, s. */
  minHold: number;
  /** Height gained at full run speed, in proportion to the speed on the ground, units. */
  runUp: number;
  /** No jump from the ground or a ledge. */
  off: boolean;
}

export interface Gravity {
  /** Multiplier while rising. */
  rising: number;
  /** Multiplier near the apex, key held. */
  apex: number;
  /** Multiplier while falling. */
  falling: number;
  /** The apex band is where the vertical speed is within this, units/s. */
  apexSpeed: number;
  /** Terminal speed, units/s. */
  fallSpeed: number;
  /** Multiplier while rising after letting go. */
  released?: number;
  /** Share of the rising speed left at letting go. */
  cutTo?: number;
  /** Falling gravity that grows (or shrinks) the longer the fall. */
  fallRamp?: FallRamp;
}

/** Falling gravity that grows, or shrinks, the longer the fall. */
export interface FallRamp {
  /** Multiplier at the end of the ramp. */
  to: number;
  /** From the start of the falling phase to the end of the ramp, s. */
  over: number;
}

export interface Grace {
  /** After leaving an edge, a press is still a ground jump for this long, s. */
  coyote: number;
  /** A press is remembered for this long, s. */
  buffer: number;
  /** A rising head that clips a corner by at most this slips past it, units. */
  corner: number;
  /** A jump that misses a top by at most this is helped over it, units. */
  lip: number;
  /** That help is given where the vertical speed is within this, units/s. */
  lipSpeed: number;
  /** After leaving a wall, a press is still a wall jump for this long, s. */
  wallCoyote: number;
}

export interface AirJumps {
  /** How far each rises from where it starts, units. Its length is how many there are. */
  heights: number[];
  /** The last one can be repeated for ever. */
  endless: boolean;
  /** Endless jumps come at least this far apart, s. */
  spacing: number;
  /** What gives them back. */
  restoredBy: ('ground' | 'ledge' | 'wall' | 'zone')[];
}

export interface Charge {
  /** Height of a charged jump let go at once, and of a full one, units. */
  lowest: number;
  highest: number;
  /** From the press to the full charge, s. */
  fullIn: number;
  /** Running goes on while charging. */
  run: boolean;
}

export interface Wall {
  /** Speed of the slide, units/s. */
  slideSpeed: number;
  /** A faster fall is braked to it within this, s. */
  settle: number;
  /** Share of the falling gravity with which a slide gains speed. */
  gravity: number;
  /** A slow fall is held still for this long first, s. */
  cling: number;
  /** What a slide needs: pressing toward the wall, or touching it. */
  needs: 'toward' | 'touch';
  /** How far from upright a wall may lean, degrees. */
  lean: number;
  /** Jumps off one wall until the ground or another wall is touched. */
  sameWall: number | 'any';
  jump: {
    /** Units. */
    height: number;
    /** Speed away from the wall at launch, units/s. */
    out: number;
    /** Steering returns evenly within this, s. */
    lock: number;
  };
}

export interface Glide {
  /** Speed of the fall, units/s. */
  fallSpeed: number;
  /** The fall is brought to it within this, s. */
  settle: number;
  /** Seconds of gliding between two contacts with the ground. */
  budget: number;
}

export interface Dive {
  /** Multiplier. */
  gravity: number;
  /** Terminal speed, units/s. */
  fallSpeed: number;
}

export interface Ledge {
  /** How far from its side a body can catch a ledge, units. */
  reach: number;
  /** Height of the hands above the feet, units. */
  hands: number;
  /** Caught without pressing toward it. */
  auto: boolean;
  /** Time to climb up, s. */
  climb: number;
  /** A ledge let go of is not caught again for this long, s. */
  pause: number;
}

export interface Drop {
  /** What drops through one-way ground. */
  by: 'down+jump' | 'down';
}

export interface Crouch {
  /** Height of the hitbox, units. */
  height: number;
  /** Top speed, units/s. */
  speed: number;
}

export interface Slope {
  /** Ground that is steeper cannot be stood on, degrees. */
  steepest: number;
  /** Whether top speed is measured along the ground or across the screen. */
  pace: 'along' | 'across';
  /** Scale top speed going up, and going down. */
  uphill: number;
  downhill: number;
  /** Going down, ground that drops by at most so many units a unit across is followed. */
  follow: number;
  /** Share of gravity along a face that is too steep. */
  slip: number;
  /** A step of at most this is walked over, units. */
  step: number;
  /** Whether a jump from a slope goes straight up, or along its normal. */
  launch: 'up' | 'normal';
  /** Jumps off faces that are too steep. */
  jump: boolean;
}

export interface Lending {
  /** Which part of a mover's velocity what leaves it keeps. */
  lend: 'both' | 'across' | 'none';
  /** For so long after a stop or a turn, the velocity before it still counts, s. */
  linger: number;
}

export interface Pose {
  /** Length of a stride, units; a footfall comes at each half. 0: none. */
  stride: number;
  /** How long the landing pose is held, s. */
  land: number;
  /** Poses shorter than this are not shown, s. */
  settle: number;
}

/**
 * A tuning that cannot be used: the key at fault, and in the message its value and what is allowed.
 * @example
 * ```ts
 * try {
 *   compileTuning({ jump: { height: -1, riseTime: 0.4 } });
 * } catch (error) {
 *   if (error instanceof TuningError) console.assert(error.key === 'jump.height');
 * }
 * ```
 */
export class TuningError extends Error {
  override readonly name = 'TuningError';
  constructor(
    /** Dotted path of the key, e.g. `gravity.apex`. */
    readonly key: string,
    message: string,
  ) {
    super(message);
  }
}
