import { isGroup, showValue } from '../tuning/words.js';
import { type Action, actionCount, actionName, allActions, knownAction } from './actions.js';
import type { HostCall } from './host.js';
export { ACTIONS, type Action } from './actions.js';

export const LEFT = 0;
export const RIGHT = 1;
export const UP = 2;
export const DOWN = 3;
export const JUMP = 4;
export const GLIDE = 5;
export const WALK = 6;
export const MOVE = 7;

/** The number of a host call among intents: a call on the character by the game, played again. */
export const HOST = 255;

/**
 * What a driver wants within one tick, in order of time. Flat and reused, so that a tick allocates nothing.
 */
export class Intents {
  count = 0;
  /** Moments on the driver's clock, s. */
  time = new Float64Array(32);
  action = new Uint8Array(32);
  /** 0 for let go, up to 1 for held; −1 to 1 for `move`. */
  value = new Float64Array(32);
  /** For host calls: the call. */
  readonly calls: (HostCall | undefined)[] = [];
  /** The stretch of the driver's clock that is asked for, and the stage's time at its start; numbers in an array, so that asking allocates nothing. */
  readonly span = new Float64Array(3);

  /** Start of the tick on the driver's clock, s; older moments act at the tick's start. */
  get from(): number {
    return this.span[0]!;
  }

  /** End of the tick on the driver's clock, s: what happens from then on belongs to the next one. */
  get until(): number {
    return this.span[1]!;
  }

  /** The stage's time at the start of the tick, s. It is the same as `from` where `tick` is not told of another clock. */
  get start(): number {
    return this.span[2]!;
  }

  /**
   * Adds one; from this moment on the action has this value.
   * @param time on the driver's clock, s
   * @param action its name, or its number (`actionNumber`), which is quicker
   * @param value 0 to 1; −1 to 1 for `move`
   * @throws RangeError naming the argument that is none or out of range
   */
  push(time: number, action: number | Action | (string & {}), value: number): void {
    const number = typeof action === 'string' ? knownAction(action) : action;
    if (!(number >= 0 && number < actionCount() && number === Math.floor(number)))
      throw new RangeError(
        `action is ${String(action)}; it must be one of ${allActions().join(', ')}, or the number of one`,
      );
    checkTime(time);
    if (!(value <= 1 && value >= (number === MOVE ? -1 : 0)))
      throw new RangeError(`value is ${value}; of ${actionName(number)} it must be ${number === MOVE ? -1 : 0} to 1`);
    this.put(time, number, value + 0);
  }

  private put(time: number, action: number, value: number): void {
    if (this.count === this.time.length) this.grow();
    this.time[this.count] = time;
    this.action[this.count] = action;
    this.value[this.count] = value;
    this.count++;
  }

  /**
   * Adds a host call.
   * @throws RangeError where the moment or the call is none
   */
  pushCall(time: number, call: HostCall): void {
    checkTime(time);
    if (!isGroup(call)) throw new RangeError(`a call is ${showValue(call)}; it must be a group with its name`);
    this.calls[this.count] = call;
    this.put(time, HOST, 0);
  }

  /** Forgets the first `count`. */
  drop(count: number): void {
    if (count === 0) return;
    this.time.copyWithin(0, count, this.count);
    this.action.copyWithin(0, count, this.count);
    this.value.copyWithin(0, count, this.count);
    if (this.calls.length > 0) this.calls.splice(0, count);
    this.count -= count;
  }

  private grow(): void {
    const longer = <A extends Float64Array | Uint8Array>(from: A, to: A): A => (to.set(from as never), to);
    this.time = longer(this.time, new Float64Array(2 * this.count));
    this.action = longer(this.action, new Uint8Array(2 * this.count));
    this.value = longer(this.value, new Float64Array(2 * this.count));
  }
}

/** Anything that plays somebody: keys, a pad, a script, a bot. */
export interface DriverOf<Who> {
  /**
   * Called once a tick. Pushes what happened before `into.until`, in order; what it pushed is not asked for again.
   * @param who the character that it plays
   */
  read(into: Intents, who: Who): void;
  /**
   * Called after `read`, if it is there, with what the stage makes of it: the moments are the stage's by now, whole microseconds and none before the tick, and a press that is too old has
   * the value 0. These are the rows that play the same again.
   */
  taken?(intents: Intents, who: Who): void;
  /** Whether it plays the game's own calls as well: those that event handlers make meanwhile are then ignored. */
  readonly hasCalls?: boolean;
  /** Called when it is given a character, and when that lets go of everything: what waits since before does not count. */
  fresh?(): void;
  /**
   * Sets what it holds at a moment of the stage (s), by the actions' numbers, where that follows from the moment: several drivers as one ask for it where the
   * stage has gone back in time.
   */
  holding?(start: number, values: Float64Array): void;
  /** Whether somebody plays it as it goes: then what was held at another moment is not held now. */
  readonly isLive?: boolean;
}

/**
 * Moments are whole microseconds before the core sees them.
 * @example
 * ```ts
 * stamp(0.1234567891) // whole microseconds
 * ```
 */
export function stamp(seconds: number): number {
  return Math.floor(seconds * 1e6 + 0.5) / 1e6;
}

function checkTime(time: number): void {
  if (!(Math.abs(time) < Infinity))
    throw new RangeError(`time is ${time}; it must be a moment on the driver's clock, s`);
}

/** @throws RangeError where what is given as a driver is none */
export function checkDriver(driver: DriverOf<never> | undefined): void {
  if (driver !== undefined && typeof (driver as Partial<DriverOf<never>> | null)?.read !== 'function')
    throw new RangeError(`driver is ${driver === null ? 'null' : typeof driver}; it must have a function read`);
}
