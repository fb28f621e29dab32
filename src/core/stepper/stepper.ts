/** Fixed ticks out of uneven frames. */
export interface Stepper {
  /** Ticks per second. */
  readonly rate: number;
  /** How far the picture is into the tick after the last one, 0 to 1. */
  readonly between: number;
  /**
   * Runs the ticks that are due. The first call only sets the clock.
   * @param now the moment of this frame, s, on the clock that drivers stamp their presses with
   * @param tick called for each tick with its length and its start on that clock, s
   * @returns how many ticks ran
   */
  run(now: number, tick: (dt: number, at: number) => void): number;
}

/**
 * @param options.rate ticks per second, 1 to 10000
 * @param options.atMost ticks in one run; what is due beyond that is dropped, so that a long pause does not have to be caught up with
 * @throws RangeError where an option is out of range
 */
export function stepper({ rate, atMost = 8 }: { rate: number; atMost?: number }): Stepper {
  if (!(rate >= 1 && rate <= 10000)) throw new RangeError(`rate is ${rate}; it must be 1 to 10000 ticks per second`);
  if (!(atMost >= 1)) throw new RangeError(`atMost is ${atMost}; it must be at least 1`);
  let origin = NaN;
  let done = 0;
  let between = 0;
  return {
    rate,
    get between() {
      return between;
    },
    run(now, tick) {
      if (!(now >= origin)) {
        origin = now;
        done = 0;
      }
      const due = (now - origin) * rate;
      let ticks = Math.floor(due) - done;
      if (ticks > atMost) {
        origin += (ticks - atMost) / rate;
        ticks = atMost;
      }
      for (let i = 0; i < ticks; i++) {
        tick(1 / rate, origin + done / rate);
        done++;
      }
      const left = (now - origin) * rate - done;
      between = left > 0 ? (left < 1 ? left : 1) : 0;
      return ticks;
    },
  };
}
