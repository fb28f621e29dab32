import type { CompiledMover } from './mover.js';

/** What `locate` found: offset (units, y up), velocity just after the moment, acceleration, and how long both hold, s. */
export const MX = 0;
export const MY = 1;
export const MVX = 2;
export const MVY = 3;
export const MAX = 4;
export const MAY = 5;
export const HOLDS = 6;
export const MOTION_LENGTH = 7;

/** The state of one mover: stage time less its own time; whether it waits, at which moment of its own. */
const BEHIND = 0;
export const WAITS = 1;
const OWN = 2;
/** Of one that the game moves: its place, its velocity in this tick, that in the tick before and until when it lasted. */
const PLACE_X = 3;
const PLACE_Y = 4;
const GOES_X = 5;
const GOES_Y = 6;
const WENT_X = 7;
const WENT_Y = 8;
export const WENT_UNTIL = 9;
/** Since when it waits, s of stage time. */
const SINCE = 10;
export const MOVER_NUMBERS = 11;

/** Moments closer than this are one, s. */
const ROUNDING = 1e-10;
const NO_VELOCITY = new Float64Array(MOTION_LENGTH);

/** Where the movers of a level are, at any moment of the present tick. */
export class Moving {
  /** What is not constant. */
  readonly s: Float64Array;
  /** What was found last. */
  readonly at = new Float64Array(MOTION_LENGTH);
  /** The present tick, s of stage time. */
  private start = 0;
  private end = 0;
  /** Within it, movers that begin to wait (1) or go on (0), in order. */
  private readonly switchSet: number[] = [];
  private readonly switchTime: number[] = [];
  private readonly switchTo: number[] = [];

  /** Whether there are movers that wait for a body. */
  readonly mayWait: boolean;

  constructor(readonly movers: readonly CompiledMover[]) {
    this.mayWait = movers.some(({ policy }) => policy === 'stop');
    this.s = new Float64Array(movers.length * MOVER_NUMBERS);
    movers.forEach(({ route }, i) => {
      if (route) this.s[i * MOVER_NUMBERS + BEHIND] = -route.phase;
      this.s[i * MOVER_NUMBERS + WENT_UNTIL] = -Infinity;
    });
  }

  /** Begins a tick. */
  begin(start: number, length: number): void {
    this.start = start;
    this.end = start + length;
    this.switchSet.length = this.switchTime.length = this.switchTo.length = 0;
  }

  /** Where a mover is at a moment of the tick; left in `at`. */
  locate(set: number, time: number): void {
    const { s, at } = this;
    const { route } = this.movers[set - 1]!;
    const base = (set - 1) * MOVER_NUMBERS;
    let waits = s[base + WAITS]!;
    let behind = s[base + BEHIND]!;
    let own = s[base + OWN]!;
    let holds = Infinity;
    for (let i = 0; i < this.switchSet.length; i++) {
      if (this.switchSet[i] !== set) continue;
      const moment = this.switchTime[i]!;
      if (moment > time + ROUNDING) {
        holds = moment - time;
        break;
      }
      if (this.switchTo[i] === waits) continue;
      waits = this.switchTo[i]!;
      if (waits === 1) own = moment - behind;
      else behind = moment - own;
    }
    if (!waits) own = time - behind;
    if (route) this.onRoute(route, own);
    else {
      const gone = (waits ? own : time) - this.start;
      at[MVX] = s[base + GOES_X]!;
      at[MVY] = s[base + GOES_Y]!;
      at[MX] = s[base + PLACE_X]! + at[MVX]! * gone;
      at[MY] = s[base + PLACE_Y]! + at[MVY]! * gone;
      at[MAX] = at[MAY] = 0;
      at[HOLDS] = Infinity;
    }
    if (waits) {
      at[MVX] = at[MVY] = at[MAX] = at[MAY] = 0;
      at[HOLDS] = Infinity;
    }
    if (holds < at[HOLDS]!) at[HOLDS] = holds;
  }

  private onRoute(route: NonNullable<CompiledMover['route']>, own: number): void {
    const { at } = this;
    const { lap, laps, start } = route;
    const count = start.length - 1;
    const whole = Math.floor((own + ROUNDING) / lap);
    let into = own - whole * lap;
    if (into < 0) into = 0;
    let left: number;
    if (own < laps * lap - ROUNDING) {
      // The last piece that begins no later.
      let low = 0;
      let high = count - 1;
      while (low < high) {
        const middle = (low + high + 1) >> 1;
        if (start[middle]! <= into + ROUNDING) low = middle;
        else high = middle - 1;
      }
      left = start[low + 1]! - into;
      let t = into - start[low]!;
      if (t < 0) t = 0;
      at[MX] = route.x[low]! + t * (route.vx[low]! + (t * route.ax[low]!) / 2);
      at[MY] = route.y[low]! + t * (route.vy[low]! + (t * route.ay[low]!) / 2);
      at[MVX] = route.vx[low]! + t * route.ax[low]!;
      at[MVY] = route.vy[low]! + t * route.ay[low]!;
      at[MAX] = route.ax[low]!;
      at[MAY] = route.ay[low]!;
      at[HOLDS] = left;
      if (laps < Infinity && laps * lap - own < left) at[HOLDS] = laps * lap - own;
      return;
    }
    // It has done its laps: where the last one ended.
    at.set(NO_VELOCITY);
    const last = laps - Math.floor(laps);
    const t = last > 0 ? last * lap : lap;
    let i = count - 1;
    while (i > 0 && start[i]! > t) i--;
    const gone = t - start[i]!;
    at[MX] = route.x[i]! + gone * (route.vx[i]! + (gone * route.ax[i]!) / 2);
    at[MY] = route.y[i]! + gone * (route.vy[i]! + (gone * route.ay[i]!) / 2);
    at[HOLDS] = Infinity;
  }

  /** The velocity that a mover had just before a stop or a turn no longer than `within` ago, if there was one; left in `at`. */
  beforeTurn(set: number, time: number, within: number): boolean {
    const { s, at } = this;
    const { route } = this.movers[set - 1]!;
    const base = (set - 1) * MOVER_NUMBERS;
    if (!route || s[base + WAITS] === 1) {
      const until = s[base + WENT_UNTIL]!;
      if (time - until > within + ROUNDING) return false;
      at[MVX] = s[base + WENT_X]!;
      at[MVY] = s[base + WENT_Y]!;
      return true;
    }
    const { lap, start, laps } = route;
    const own = time - s[base + BEHIND]!;
    let into = own - Math.floor((own + ROUNDING) / lap) * lap;
    const count = start.length - 1;
    if (own >= laps * lap) {
      if (own - laps * lap > within + ROUNDING) return false;
      into = lap;
    }
    // Knots at which the velocity changed at once, back from the present moment, over the lap's end too.
    for (let round = 0; round < 2; round++) {
      for (let i = count - 1; i >= 0; i--) {
        const ago = into + round * lap - (round === 0 && into === lap ? lap : start[i]!);
        if (ago < -ROUNDING) continue;
        if (ago > within + ROUNDING || own - ago < ROUNDING) return false;
        const before = i > 0 ? i - 1 : count - 1;
        const length = start[before + 1]! - start[before]!;
        const vx = route.vx[before]! + length * route.ax[before]!;
        const vy = route.vy[before]! + length * route.ay[before]!;
        const change = Math.abs(vx - route.vx[i]!) + Math.abs(vy - route.vy[i]!);
        if (change <= 1e-9 * (Math.abs(vx) + Math.abs(vy))) continue;
        at[MVX] = vx;
        at[MVY] = vy;
        return true;
      }
    }
    return false;
  }

  /** Lets a mover wait, or go on, from a moment of the present tick. */
  switch(set: number, time: number, waits: boolean): void {
    let i = this.switchSet.length;
    while (i > 0 && this.switchTime[i - 1]! > time) i--;
    this.switchSet.splice(i, 0, set);
    this.switchTime.splice(i, 0, time);
    this.switchTo.splice(i, 0, waits ? 1 : 0);
  }

  /** Whether a mover waits at a moment of the tick. */
  waitsAt(set: number, time: number): boolean {
    let waits = this.s[(set - 1) * MOVER_NUMBERS + WAITS] === 1;
    for (let i = 0; i < this.switchSet.length && this.switchTime[i]! <= time + ROUNDING; i++)
      if (this.switchSet[i] === set) waits = this.switchTo[i] === 1;
    return waits;
  }

  /** Whether a mover waits at the tick's end, as far as that is known. */
  waits(set: number): boolean {
    const last = this.switchSet.lastIndexOf(set);
    return (last >= 0 ? this.switchTo[last]! : this.s[(set - 1) * MOVER_NUMBERS + WAITS]!) === 1;
  }

  /** Since when a mover that waits at a moment of the tick has done so, s of stage time. */
  waitsSince(set: number, time: number): number {
    const base = (set - 1) * MOVER_NUMBERS;
    let waits = this.s[base + WAITS]!;
    let since = this.s[base + SINCE]!;
    for (let i = 0; i < this.switchSet.length && this.switchTime[i]! <= time + ROUNDING; i++) {
      if (this.switchSet[i] !== set || this.switchTo[i] === waits) continue;
      waits = this.switchTo[i]!;
      since = this.switchTime[i]!;
    }
    return since;
  }

  /** When a mover last began to wait or went on within the tick, s of stage time; the tick's start where it did neither. */
  changed(set: number): number {
    const last = this.switchSet.lastIndexOf(set);
    return last >= 0 ? this.switchTime[last]! : this.start;
  }

  /** Where the game wants a mover at the end of the tick to come. */
  aim(set: number, x: number, y: number, length: number): void {
    const { s } = this;
    const base = (set - 1) * MOVER_NUMBERS;
    s[base + GOES_X] = (x - s[base + PLACE_X]!) / length;
    s[base + GOES_Y] = (y - s[base + PLACE_Y]!) / length;
  }

  /** Puts a mover that the game moves somewhere else, between two ticks. */
  put(set: number, x: number, y: number): void {
    const base = (set - 1) * MOVER_NUMBERS;
    this.s[base + PLACE_X] = x;
    this.s[base + PLACE_Y] = y;
    this.s.fill(0, base + GOES_X, base + MOVER_NUMBERS);
    this.s[base + WENT_UNTIL] = -Infinity;
  }

  /** Whether a mover that the game moves lets what stands on it fly: its velocity has changed at the tick's start by more than a fall would. */
  isThrown(set: number, time: number, falling: number): boolean {
    const base = (set - 1) * MOVER_NUMBERS;
    const { s } = this;
    if (this.movers[set - 1]!.route || time - this.start > ROUNDING || s[base + WENT_UNTIL]! < this.start - ROUNDING)
      return false;
    return s[base + WENT_Y]! - s[base + GOES_Y]! > falling * (this.end - this.start) * (1 + 1e-9);
  }

  /** The velocity of the tick before; left in `at`. */
  went(set: number): void {
    const base = (set - 1) * MOVER_NUMBERS;
    this.at[MVX] = this.s[base + WENT_X]!;
    this.at[MVY] = this.s[base + WENT_Y]!;
  }

  /** Ends the tick: what changed within it is the state from now on. */
  finish(aims: Float64Array): void {
    const { s, at, end } = this;
    for (let set = 1; set <= this.movers.length; set++) {
      const base = (set - 1) * MOVER_NUMBERS;
      const { route } = this.movers[set - 1]!;
      s[base + SINCE] = this.waitsSince(set, Infinity);
      if (!route) {
        const waits = this.waits(set);
        this.locate(set, waits ? this.changed(set) : end);
        if (waits) this.keepWent(base, this.changed(set));
        else this.keepWent(base, end);
        // Exactly where it was wanted, unless it had to wait.
        const [x, y] = [aims[2 * set - 2]!, aims[2 * set - 1]!];
        const arrives = !waits && this.switchSet.indexOf(set) < 0;
        s[base + PLACE_X] = arrives && x < Infinity ? x : at[MX]!;
        s[base + PLACE_Y] = arrives && y < Infinity ? y : at[MY]!;
        s[base + GOES_X] = s[base + GOES_Y] = 0;
        continue;
      }
      for (let i = 0; i < this.switchSet.length; i++) {
        if (this.switchSet[i] !== set) continue;
        const moment = this.switchTime[i]!;
        if (this.switchTo[i] === s[base + WAITS]) continue;
        if (this.switchTo[i] === 1) {
          this.onRoute(route, moment - s[base + BEHIND]!);
          s[base + WENT_X] = at[MVX]!;
          s[base + WENT_Y] = at[MVY]!;
          s[base + WENT_UNTIL] = moment;
          s[base + OWN] = moment - s[base + BEHIND]!;
        } else s[base + BEHIND] = moment - s[base + OWN]!;
        s[base + WAITS] = this.switchTo[i]!;
      }
    }
    this.switchSet.length = this.switchTime.length = this.switchTo.length = 0;
  }

  private keepWent(base: number, until: number): void {
    const { s } = this;
    s[base + WENT_X] = s[base + GOES_X]!;
    s[base + WENT_Y] = s[base + GOES_Y]!;
    s[base + WENT_UNTIL] = until;
  }
}
