import { Intents, type Driver, type Opposed } from '../input/intents.js';
import { Near } from '../sweep/near.js';
import { PATH_LENGTH } from '../sweep/path.js';
import type { Terrain } from '../terrain/terrain.js';
import type { EventName, EventQueue, StageEvent } from '../trace/events.js';
import type { Motion } from '../tuning/motion.js';
import { STATE_LENGTH, VX, VY, X, Y } from './state.js';

/**
 * A character as the part-tick sees it: its state, its constants, and scratch numbers for the piece at hand.
 */
export class Body {
  readonly s = new Float64Array(STATE_LENGTH);
  readonly path = new Float64Array(PATH_LENGTH);
  readonly clock = new Float64Array(CLOCK_LENGTH);
  readonly intents = new Intents();
  /** The next intent of this tick to act. */
  nextIntent = 0;
  readonly near: Near;
  driver: Driver | undefined;
  /** Part-ticks spent on the last tick. */
  parts = 0;

  constructor(
    readonly name: string,
    readonly motion: Motion,
    readonly terrain: Terrain,
    /** −1 where the level's y axis points down, else 1. */
    readonly ySign: number,
    readonly opposed: Opposed,
    private readonly events: EventQueue,
  ) {
    this.near = new Near(terrain, motion.width + motion.height);
  }

  /** Adds an event at the present moment, with the present place and velocity in the level's own axes. */
  tell(event: EventName): StageEvent {
    const { s, ySign } = this;
    const told = this.events.add(event, this.clock[NOW]!);
    told.tick = this.clock[TICK]!;
    told.who = this.name;
    told.x = s[X]!;
    told.y = s[Y]! * ySign + 0;
    told.vx = s[VX]!;
    told.vy = s[VY]! * ySign + 0;
    return told;
  }
}

/** The body's clock: which tick, its start (s of stage time), its length, how far into it the body is. */
export const TICK = 0;
export const TICK_START = 1;
export const TICK_LENGTH = 2;
export const OFFSET = 3;
/** When the motion across and up reach the end of their stretch, s from now, and the speeds they then have. */
export const X_ENDS = 4;
export const X_END_SPEED = 5;
export const Y_ENDS = 6;
export const Y_END_SPEED = 7;
/** When the support or the wall ends, s from now. */
export const SUPPORT_ENDS = 8;
export const WALL_ENDS = 9;

/** Where the present row of very short part-ticks began (s into the tick), and how many there have been. */
export const ROW_START = 10;
export const ROW_COUNT = 11;
/** The present moment, s of stage time: the tick's start and the offset. */
export const NOW = 12;
export const CLOCK_LENGTH = 13;
