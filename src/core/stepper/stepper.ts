/** Fixed ticks out of uneven frames. */
export interface Stepper {
  /** Ticks per second of the stage's time. */
  readonly rate: number;
  /** How far the picture is into the tick after the last one, 0 to 1. */
  readonly between: number;
  /** Seconds of the stage for each second of the clock: 1, or less for slow motion; 0 is a pause. 0, or 0.01 to 16. */
  speed: number;
  /** While it is true no ticks are due; going on, nothing is caught up with. */
  paused: boolean;
  /**
   * Runs the ticks that are due. The first call only sets the clock.
   * @param now the moment of this frame, s, on the clock that drivers stamp their presses with
   * @param tick called for each tick with its length and its start on that clock, s
   * @returns how many ticks ran
   * @throws RangeError where `now` is no moment
   */
  run(now: number, tick: (dt: number, at: number) => void): number;
  /** Runs one tick, paused or not, and shows its end. Presses that wait act at its start. */
  once(now: number, tick: (dt: number, at: number) => void): void;
}

/**
 * @param options settings, each of which may be left out
 * @param options.rate ticks per second, 1 to 10000
 * @param options.atMost ticks in one run; what is due beyond that is dropped, so that a long pause does not have to be caught up with
 * @throws RangeError where an option is out of range
 * @example
 * ```ts
 * const steps = stepper({ rate: 120 });
 * steps.run(performance.now() / 1000, (dt, at) => mill.tick(dt, at));
 * ```
 */
export function stepper({ rate, atMost = 8 }: { rate: number; atMost?: number }): Stepper {
  if (!(rate >= 1 && rate <= 10000)) throw new RangeError(`rate is ${rate}; it must be 1 to 10000 ticks per second`);
  if (!(atMost >= 1)) throw new RangeError(`atMost is ${atMost}; it must be at least 1`);
  /** A moment on the clock, and how many ticks have begun since, each `1 / (rate · speed)` of the clock apart. */
  let origin = NaN;
  let done = 0;
  let between = 0;
  let latest = NaN;
  let speed = 1;
  let paused = false;
  /** How often in a row the clock has leapt by more than a second. */
  let leaps = 0;
  let warned = false;
  /** From here on ticks are counted anew, with as much of the next one gone as there is now. */
  const beginAnew = (now: number): void => {
    origin = now - between / (rate * speed);
    done = 0;
  };
  return {
    rate,
    get between() {
      return between;
    },
    get speed() {
      return speed;
    },
    set speed(value) {
      if (value !== 0 && !(value >= 0.01 && value <= 16))
        throw new RangeError(`speed is ${value}; it must be 0, or 0.01 to 16`);
      if (value === speed) return;
      // As after a pause, the next run sets the clock again.
      if (speed === 0) latest = NaN;
      speed = value;
      if (speed > 0 && !Number.isNaN(latest)) beginAnew(latest);
    },
    get paused() {
      return paused;
    },
    set paused(value) {
      // The next run sets the clock again.
      if (paused && !value) latest = NaN;
      paused = value;
    },
    run(now, tick) {
      checkNow(now);
      if (paused || speed === 0) return 0;
      leaps = now - latest > 1 ? leaps + 1 : 0;
      // Ten minutes out of sight are one leap; milliseconds are nothing else.
      if (leaps === 8 && !warned) {
        warned = true;
        warn(
          `steps.run(${now}): the clock has leapt by more than a second eight times in a row. It takes seconds: run(now / 1000, …) for milliseconds`,
        );
      }
      // The first run, the first after a pause, or a clock that has gone back.
      if (!(now >= latest)) beginAnew(now);
      latest = now;
      const perSecond = rate * speed;
      const due = (now - origin) * perSecond;
      let ticks = Math.floor(due) - done;
      if (ticks > atMost) {
        origin += (ticks - atMost) / perSecond;
        ticks = atMost;
      }
      for (let i = 0; i < ticks; i++) {
        tick(1 / rate, origin + done / perSecond);
        done++;
      }
      const left = (now - origin) * perSecond - done;
      between = left > 0 ? (left < 1 ? left : 1) : 0;
      return ticks;
    },
    once(now, tick) {
      checkNow(now);
      tick(1 / rate, now);
      between = 1;
      if (!paused && speed > 0) {
        latest = now;
        beginAnew(now);
      }
    },
  };
}

/** Where there is a console. */
function warn(text: string): void {
  (globalThis as { console?: { warn(text: string): void } }).console?.warn(text);
}

function checkNow(now: number): void {
  if (!(Math.abs(now) < Infinity)) throw new RangeError(`now is ${now}; it must be a moment on the clock, s`);
}
