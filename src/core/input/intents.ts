/** The actions every character knows, by number. */
export const ACTIONS = ['left', 'right', 'up', 'down', 'jump', 'glide', 'walk', 'move'] as const;
export type Action = (typeof ACTIONS)[number];

export const LEFT = 0;
export const RIGHT = 1;
export const JUMP = 4;
export const WALK = 6;
export const MOVE = 7;

/** What happens while both directions are held. */
export type Opposed = 'still' | 'latest' | 'first';

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
  /** The stretch of the driver's clock that is asked for; numbers in an array, so that asking allocates nothing. */
  readonly span = new Float64Array(2);

  /** Start of the tick on the driver's clock, s; older moments act at the tick's start. */
  get from(): number {
    return this.span[0]!;
  }

  /** End of the tick on the driver's clock, s: what happens from then on belongs to the next one. */
  get until(): number {
    return this.span[1]!;
  }

  /** Adds one; from this moment on the action has this value. */
  push(time: number, action: number, value: number): void {
    if (this.count === this.time.length) this.grow();
    this.time[this.count] = time;
    this.action[this.count] = action;
    this.value[this.count] = value;
    this.count++;
  }

  /** Forgets the first `count`. */
  drop(count: number): void {
    if (count === 0) return;
    this.time.copyWithin(0, count, this.count);
    this.action.copyWithin(0, count, this.count);
    this.value.copyWithin(0, count, this.count);
    this.count -= count;
  }

  private grow(): void {
    const longer = <A extends Float64Array | Uint8Array>(from: A, to: A): A => (to.set(from as never), to);
    this.time = longer(this.time, new Float64Array(2 * this.count));
    this.action = longer(this.action, new Uint8Array(2 * this.count));
    this.value = longer(this.value, new Float64Array(2 * this.count));
  }
}

/** Anything that plays a character: keys, a pad, a script, a bot. */
export interface Driver {
  /**
   * Called once a tick. Pushes what happened before `into.until`, in order; what it pushed is not asked for again.
   */
  read(into: Intents): void;
}

/** Moments are whole microseconds before the core sees them. */
export function stamp(seconds: number): number {
  return Math.floor(seconds * 1e6 + 0.5) / 1e6;
}
