import { LEFT_STOP, SAME_MOVE } from '../tolerance.js';
import type { CompiledMover } from './mover.js';
import type { CompiledRoute } from './route.js';

/** What `locate` found: offset (units, y up), velocity just after the moment, acceleration, and how long both hold, s. */
export const MX = 0;
export const MY = 1;
export const MVX = 2;
export const MVY = 3;
export const MAX = 4;
export const MAY = 5;
export const HOLDS = 6;
export const MOTION_LENGTH = 7;

/** The state of one mover: stage time less its own time; how it goes (one of the four below), at which moment of its own it began to wait or to go back. */
const BEHIND = 0;
export const GOING = 1;
const OWN = 2;
/** Of one that the game moves: its place, its velocity in this tick. */
const PLACE_X = 3;
const PLACE_Y = 4;
const GOES_X = 5;
const GOES_Y = 6;
/** The velocity that it had before it last stopped or turned for somebody (of one that the game moves: in the tick before), and until when. */
const WENT_X = 7;
const WENT_Y = 8;
export const WENT_UNTIL = 9;
/** Since when it waits or goes back, s of stage time. */
const SINCE = 10;
/** Of one that the game moves: the moment at which it was at its place, s of stage time. */
const PLACED = 11;
export const MOVER_NUMBERS = 12;

/** How a mover goes: along its way; it waits for somebody; it goes back to the stop that it left last; it waits on that way. */
const ALONG = 0;
const WAITS = 1;
const BACK = 2;
const WAITS_BACK = 3;
export const MOST_GOING = WAITS_BACK;
/** It has been taken away. */
export const ABSENT = 4;

/** Where one is that has been taken away: nothing ever comes there. */
const NOWHERE = 1099511627776; // 2⁴⁰

/** What may change about it within a tick: it goes on, waits, or turns back. */
export const GOES_ON = 0;
export const STOPS = 1;
export const TURNS = 2;

/** No tick is longer than this, s. */
const OLD = 10;

/** After the numbers of a state: how long it goes on like that, s. */
const LASTS = MOVER_NUMBERS;
const NO_VELOCITY = new Float64Array(MOTION_LENGTH);

/** Where the movers of a level are, at any moment of the present tick. */
export class Moving {
  /** What is not constant. */
  s: Float64Array;
  /** What was found last. */
  readonly at = new Float64Array(MOTION_LENGTH);
  /** The moment to look at, s of stage time; and that on the mover's own clock. */
  readonly moment = new Float64Array(2);
  /** The present tick, s of stage time. */
  private start = 0;
  private end = 0;
  /** How movers went before they changed within the tick: which, until when, and its numbers then. Only for drawing. */
  private readonly past: { set: number; until: number; numbers: Float64Array }[] = [];
  private pasts = 0;
  /** Those that the game moves: so many of these sets. */
  private free = new Int32Array(0);
  private freeCount = 0;
  /** How many of them wait for somebody. */
  waiting = 0;
  /** The state of one mover at a moment, as `look` has found it; and how long that holds, s. */
  private readonly now = new Float64Array(MOVER_NUMBERS + 1);

  constructor(readonly movers: readonly CompiledMover[]) {
    this.s = new Float64Array(0);
    this.fit();
    for (let set = 1; set <= movers.length; set++) this.appear(set, 0);
  }

  /** There are more movers than before, or fewer. */
  fit(): void {
    const { s, movers } = this;
    const length = movers.length * MOVER_NUMBERS;
    if (s.length !== length) {
      this.s = new Float64Array(length);
      this.s.set(s.subarray(0, length));
      this.free = new Int32Array(movers.length);
    }
    this.findFree();
  }

  private findFree(): void {
    this.freeCount = 0;
    for (let set = 1; set <= this.movers.length; set++)
      if (!this.movers[set - 1]!.route && !this.isAbsent(set)) this.free[this.freeCount++] = set;
  }

  /** Lets a mover begin at a moment as one does when its level begins. */
  appear(set: number, time: number): void {
    const { s } = this;
    const base = (set - 1) * MOVER_NUMBERS;
    const { route } = this.movers[set - 1]!;
    s.fill(0, base, base + MOVER_NUMBERS);
    if (route) s[base + BEHIND] = time - route.phase;
    s[base + WENT_UNTIL] = -Infinity;
    s[base + PLACED] = time;
    this.findFree();
  }

  /** Takes a mover away at a moment. */
  vanish(set: number, time: number): void {
    if (this.isAbsent(set)) return;
    this.keepPast(set, time);
    if (this.waitsAt(set, time)) this.waiting--;
    this.blank(set);
    this.findFree();
  }

  /** Nothing is known of a mover but that it is not there. */
  blank(set: number): void {
    const base = (set - 1) * MOVER_NUMBERS;
    this.s.fill(0, base, base + MOVER_NUMBERS);
    this.s[base + GOING] = ABSENT;
    this.s[base + WENT_UNTIL] = -Infinity;
  }

  /** Whether a mover has been taken away. */
  isAbsent(set: number): boolean {
    return this.s[(set - 1) * MOVER_NUMBERS + GOING] === ABSENT;
  }

  /**
   * Begins a tick: what the game wants to be somewhere at its end sets off.
   * @param aims where, x and y of each mover in turn, y up; Infinity where it has not said so
   * @returns whether any of them does
   */
  begin(start: number, end: number, aims: Float64Array): boolean {
    const { s, free } = this;
    this.start = start;
    this.end = end;
    this.pasts = 0;
    let any = false;
    for (let i = 0; i < this.freeCount; i++) {
      const set = free[i]!;
      const base = (set - 1) * MOVER_NUMBERS;
      const x = aims[2 * set - 2]!;
      const y = aims[2 * set - 1]!;
      if (!(x < Infinity)) continue;
      s[base + PLACED] = start;
      s[base + GOES_X] = (x - s[base + PLACE_X]!) / (end - start);
      s[base + GOES_Y] = (y - s[base + PLACE_Y]!) / (end - start);
      any = true;
    }
    return any;
  }

  /** Whether the game moves any of them. */
  get hasFree(): boolean {
    return this.freeCount > 0;
  }

  /**
   * The state is another one, at a moment between two ticks.
   * @param clock an array that begins with the moment, s of stage time
   */
  renew(clock: Float64Array): void {
    const time = clock[0]!;
    this.start = this.end = time;
    this.pasts = this.waiting = 0;
    this.findFree();
    for (let set = 1; set <= this.movers.length; set++) if (this.waitsAt(set, time)) this.waiting++;
  }

  /** Finds out how a mover goes at a moment: its state then, left in `now`. */
  private look(set: number, time: number): void {
    const { s, now } = this;
    const base = (set - 1) * MOVER_NUMBERS;
    for (let i = 0; i < MOVER_NUMBERS; i++) now[i] = s[base + i]!;
    now[LASTS] = Infinity;
    this.comeBack(set, time);
  }

  /** A change of how it goes, at a moment; it had the velocity that is in `at`. */
  private change(to: number, moment: number): void {
    const { now, at } = this;
    const going = now[GOING]!;
    const waits = going === WAITS || going === WAITS_BACK;
    if (to === GOES_ON) {
      if (!waits) return;
      if (going === WAITS) now[BEHIND] = moment - now[OWN]!;
      now[GOING] = going === WAITS ? ALONG : BACK;
      // One that the game moves goes on from where it is.
      now[PLACED] = moment;
    } else {
      if (waits || (to === TURNS && going === BACK)) return;
      now[OWN] = going === ALONG ? moment - now[BEHIND]! : now[OWN]! - (moment - now[SINCE]!);
      now[GOING] = to === TURNS ? BACK : going === ALONG ? WAITS : WAITS_BACK;
      now[WENT_X] = at[MVX]!;
      now[WENT_Y] = at[MVY]!;
      now[WENT_UNTIL] = moment;
      now[PLACE_X] = at[MX]!;
      now[PLACE_Y] = at[MY]!;
      now[PLACED] = moment;
    }
    now[SINCE] = moment;
  }

  /** One that goes back has come to the stop that it left last: there it stays as long as it ever does, and goes on along its way. */
  private comeBack(set: number, time: number): void {
    const { now } = this;
    const { route } = this.movers[set - 1]!;
    if (now[GOING] !== BACK || route === undefined) return;
    const own = now[OWN]!;
    const { lap, stops } = route;
    // What it goes on from right now it has not left yet: it goes back to the one before.
    const whole = Math.floor((own - LEFT_STOP) / lap);
    let into = whole * lap;
    let i = stops.length - 2;
    while (i >= 0 && into + stops[i + 1]! > own - LEFT_STOP) i -= 2;
    if (i < 0) {
      i = stops.length - 2;
      into -= lap;
    }
    const comes = now[SINCE]! + own - (into + stops[i + 1]!);
    if (time < comes - SAME_MOVE) {
      now[LASTS] = comes - time;
      return;
    }
    now[GOING] = ALONG;
    now[BEHIND] = comes - (into + stops[i]!);
    now[LASTS] = Infinity;
  }

  /** Where a mover is at a moment from the last change of it on; left in `at`. */
  locate(set: number, time: number): void {
    this.moment[0] = time;
    this.locateNow(set);
  }

  /** The same at the moment in `moment`: handed over in an array, it is not boxed. */
  locateNow(set: number): void {
    const { now, at, s, moment } = this;
    const time = moment[0]!;
    const { route } = this.movers[set - 1]!;
    const base = (set - 1) * MOVER_NUMBERS;
    if (s[base + GOING] === ALONG) {
      if (route) {
        moment[1] = time - s[base + BEHIND]!;
        this.onRoute(route);
      } else this.onWay(base, time);
      return;
    }
    if (s[base + GOING] === ABSENT) {
      at.set(NO_VELOCITY);
      at[MX] = at[MY] = NOWHERE;
      at[HOLDS] = Infinity;
      return;
    }
    this.look(set, time);
    const going = now[GOING]!;
    const waits = going === WAITS || going === WAITS_BACK;
    const own = waits ? now[OWN]! : going === BACK ? now[OWN]! - (time - now[SINCE]!) : time - now[BEHIND]!;
    if (!route) this.onWay(base, waits ? s[base + PLACED]! : time);
    else if (going === BACK || going === WAITS_BACK) this.onWayBack(route, own);
    else {
      moment[1] = own;
      this.onRoute(route);
    }
    if (waits) {
      at[MVX] = at[MVY] = at[MAX] = at[MAY] = 0;
      at[HOLDS] = Infinity;
    }
    if (now[LASTS]! < at[HOLDS]!) at[HOLDS] = now[LASTS]!;
  }

  /** Where a mover was at a moment of the tick, whatever has become of it since; left in `at`. */
  locateThen(set: number, time: number): void {
    for (let i = 0; i < this.pasts; i++) {
      const { set: which, until, numbers } = this.past[i]!;
      if (which !== set || time >= until) continue;
      const base = (set - 1) * MOVER_NUMBERS;
      this.kept.set(this.s.subarray(base, base + MOVER_NUMBERS));
      this.s.set(numbers, base);
      this.locate(set, time);
      this.s.set(this.kept, base);
      return;
    }
    this.locate(set, time);
  }
  private readonly kept = new Float64Array(MOVER_NUMBERS);

  /** Keeps how a mover went until a moment, and forgets what is older than any tick. */
  private keepPast(set: number, until: number): void {
    if (this.pasts > 0 && this.past[this.pasts - 1]!.until < until - OLD) this.pasts = 0;
    const one = (this.past[this.pasts] ??= { set, until, numbers: new Float64Array(MOVER_NUMBERS) });
    one.set = set;
    one.until = until;
    const base = (set - 1) * MOVER_NUMBERS;
    for (let i = 0; i < MOVER_NUMBERS; i++) one.numbers[i] = this.s[base + i]!;
    this.pasts++;
  }

  /** One that the game moves goes evenly through the tick. */
  private onWay(base: number, time: number): void {
    const { s, at } = this;
    const gone = time - s[base + PLACED]!;
    at[MVX] = s[base + GOES_X]!;
    at[MVY] = s[base + GOES_Y]!;
    at[MX] = s[base + PLACE_X]! + at[MVX]! * gone;
    at[MY] = s[base + PLACE_Y]! + at[MVY]! * gone;
    at[MAX] = at[MAY] = 0;
    at[HOLDS] = Infinity;
  }

  /** The same way, backwards: what it does next is what it did before. */
  private onWayBack(route: CompiledRoute, own: number): void {
    const { at } = this;
    const { lap, start } = route;
    const count = start.length - 1;
    const whole = Math.floor((own - SAME_MOVE) / lap);
    const into = own - whole * lap;
    let i = 0;
    while (i + 1 < count && start[i + 1]! < into - SAME_MOVE) i++;
    const t = into - start[i]!;
    at[MX] = route.x[i]! + t * (route.vx[i]! + (t * route.ax[i]!) / 2);
    at[MY] = route.y[i]! + t * (route.vy[i]! + (t * route.ay[i]!) / 2);
    at[MVX] = -(route.vx[i]! + t * route.ax[i]!) + 0;
    at[MVY] = -(route.vy[i]! + t * route.ay[i]!) + 0;
    at[MAX] = route.ax[i]!;
    at[MAY] = route.ay[i]!;
    at[HOLDS] = t;
  }

  private onRoute(route: CompiledRoute): void {
    const { at } = this;
    const own = this.moment[1]!;
    const { lap, laps, start } = route;
    const count = start.length - 1;
    const whole = Math.floor((own + SAME_MOVE) / lap);
    let into = own - whole * lap;
    if (into < 0) into = 0;
    let left: number;
    if (own < laps * lap - SAME_MOVE) {
      // The last piece that begins no later.
      let low = 0;
      let high = count - 1;
      while (low < high) {
        const middle = (low + high + 1) >> 1;
        if (start[middle]! <= into + SAME_MOVE) low = middle;
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
    const { at, now } = this;
    const { route } = this.movers[set - 1]!;
    this.look(set, time);
    if (!route || now[GOING] !== ALONG) {
      if (time - now[WENT_UNTIL]! > within + SAME_MOVE) return false;
      at[MVX] = now[WENT_X]!;
      at[MVY] = now[WENT_Y]!;
      return true;
    }
    const { lap, start, laps } = route;
    const own = time - now[BEHIND]!;
    let into = own - Math.floor((own + SAME_MOVE) / lap) * lap;
    const count = start.length - 1;
    if (own >= laps * lap) {
      if (own - laps * lap > within + SAME_MOVE) return false;
      into = lap;
    }
    // Knots at which the velocity changed at once, back from the present moment, over the lap's end too.
    for (let round = 0; round < 2; round++) {
      for (let i = count - 1; i >= 0; i--) {
        const ago = into + round * lap - (round === 0 && into === lap ? lap : start[i]!);
        if (ago < -SAME_MOVE) continue;
        if (ago > within + SAME_MOVE || own - ago < SAME_MOVE) return false;
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

  /** Lets a mover wait, turn back or go on, from a moment on. */
  switch(set: number, time: number, to: number): void {
    const { now, s } = this;
    const base = (set - 1) * MOVER_NUMBERS;
    this.keepPast(set, time);
    const waited = this.waitsAt(set, time);
    this.locate(set, time);
    this.look(set, time);
    this.change(to, time);
    for (let i = 0; i < MOVER_NUMBERS; i++) s[base + i] = now[i]!;
    this.waiting += (this.waitsAt(set, time) ? 1 : 0) - (waited ? 1 : 0);
  }

  /** Whether a mover waits at a moment. */
  waitsAt(set: number, time: number): boolean {
    if (this.s[(set - 1) * MOVER_NUMBERS + GOING] === ALONG) return false;
    this.look(set, time);
    return this.now[GOING] === WAITS || this.now[GOING] === WAITS_BACK;
  }

  /** Whether a mover goes back at a moment of the tick. */
  goesBackAt(set: number, time: number): boolean {
    if (this.s[(set - 1) * MOVER_NUMBERS + GOING] === ALONG) return false;
    this.look(set, time);
    return this.now[GOING] === BACK;
  }

  /** Whether a mover stopped or turned back for somebody no longer than `within` ago, s. */
  hasTurned(set: number, time: number, within: number): boolean {
    return time - this.s[(set - 1) * MOVER_NUMBERS + WENT_UNTIL]! < within;
  }

  /** Since when a mover that waits at a moment of the tick has done so, s of stage time. */
  waitsSince(set: number, time: number): number {
    this.look(set, time);
    return this.now[SINCE]!;
  }

  /** Puts a mover that the game moves somewhere else, between two ticks. */
  put(set: number, x: number, y: number, time: number): void {
    const base = (set - 1) * MOVER_NUMBERS;
    this.waiting -= this.waitsAt(set, time) ? 1 : 0;
    this.s[base + GOING] = ALONG;
    this.s[base + PLACE_X] = x;
    this.s[base + PLACE_Y] = y;
    this.s.fill(0, base + GOES_X, base + MOVER_NUMBERS);
    this.s[base + WENT_UNTIL] = -Infinity;
    this.s[base + PLACED] = time;
  }

  /** Whether a mover that the game moves lets what stands on it fly: its velocity has changed at the tick's start by more than a fall would. */
  isThrown(set: number, time: number, falling: number): boolean {
    const base = (set - 1) * MOVER_NUMBERS;
    const { s } = this;
    if (this.movers[set - 1]!.route || time - this.start > SAME_MOVE || s[base + WENT_UNTIL]! < this.start - SAME_MOVE)
      return false;
    return s[base + WENT_Y]! - s[base + GOES_Y]! > falling * (this.end - this.start) * (1 + 1e-9);
  }

  /** The velocity of the tick before; left in `at`. */
  went(set: number): void {
    const base = (set - 1) * MOVER_NUMBERS;
    this.at[MVX] = this.s[base + WENT_X]!;
    this.at[MVY] = this.s[base + WENT_Y]!;
  }

  /**
   * Ends the tick: what the game moves has come.
   * @param aims where, as for `begin`
   * @returns whether any of them has stopped
   */
  finish(aims: Float64Array): boolean {
    const { s, at, end, free } = this;
    let any = false;
    for (let i = 0; i < this.freeCount; i++) {
      const set = free[i]!;
      const base = (set - 1) * MOVER_NUMBERS;
      const moved = s[base + GOES_X] !== 0 || s[base + GOES_Y] !== 0;
      const waits = this.waitsAt(set, end);
      const changed = s[base + SINCE]! >= this.start && s[base + SINCE]! > 0;
      if (moved) {
        this.keepPast(set, end);
        any = true;
      }
      this.locate(set, end);
      if (!waits) this.keepWent(base, end);
      // Exactly where it was wanted, unless it had to wait.
      const x = aims[2 * set - 2]!;
      const y = aims[2 * set - 1]!;
      const arrives = !waits && !changed;
      s[base + PLACE_X] = arrives && x < Infinity ? x : at[MX]!;
      s[base + PLACE_Y] = arrives && y < Infinity ? y : at[MY]!;
      s[base + GOES_X] = s[base + GOES_Y] = 0;
      s[base + PLACED] = end;
    }
    return any;
  }

  private keepWent(base: number, until: number): void {
    const { s } = this;
    s[base + WENT_X] = s[base + GOES_X]!;
    s[base + WENT_Y] = s[base + GOES_Y]!;
    s[base + WENT_UNTIL] = until;
  }
}
