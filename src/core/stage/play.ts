import { beginPiece, cutPiece, doDue, findDue } from '../body/substep.js';
import { beginStop } from '../contact/crush.js';
import { GOES_ON, type Moving, STOPS, TURNS } from '../movers/moving.js';
import type { Body, Crush } from '../state/body.js';
import { DUE, KIND, NOT_LAID, NOW, TICK } from '../state/clock.js';
import { FRAME, HOLDS_UP, MEETS, MOVER_SLOTS } from '../state/layout.js';
import { LEFT_STOP } from '../tolerance.js';
import { Agenda } from './agenda.js';
import { mayReach, wayOf } from './felt.js';
import type { Telling } from './telling.js';
import { END, TICKS, TIME } from './time.js';

/** What keeps who meets whom: see `meetings/meetings.ts`. */
export interface Meets {
  laid(body: Body): void;
  leave(body: Body): void;
  soonest(into: Float64Array): void;
  isDue(by: number): boolean;
  meetAt(now: number): void;
  list(): number[];
  renew(list: readonly number[]): void;
}

/**
 * What is due on a stage, earliest first, and nothing else. At one moment: movers that go on; what is told and what ends, of each body; events; what the game asks;
 * then the next pieces are laid, presses first. Of bodies, in the order in which they came. A mover that a crush stops, stops at that moment, and whatever may
 * meet it is laid anew.
 */
export class Play {
  private readonly agenda = new Agenda();
  /** Bodies whose next piece is to be laid at the present moment, and whether each of them is among these. */
  private readonly waiting: Body[] = [];
  private count = 0;
  private queued = new Uint8Array(16);
  /** Whose entry of the agenda is which. */
  private readonly entries: (Body | undefined)[] = [];
  /** The moments of what is next: in an array, so that nothing is boxed. */
  private readonly next = new Float64Array(2);
  /** Movers that have just stopped or turned back, and for whom each of them did. */
  private readonly stopped: number[] = [];
  private readonly stoppedFor: Body[] = [];
  /** Who meets whom, where somebody wants to know. */
  meetings: Meets | undefined = undefined;
  /** The body whose piece is being laid. */
  private laying: Body | undefined = undefined;

  constructor(
    private readonly bodies: readonly Body[],
    /** The stage's clock. */
    private readonly clock: Float64Array,
    private readonly telling: Telling,
    public moving: Moving | undefined,
  ) {
    this.next[MOVERS] = Infinity;
  }

  /** A body has come. */
  enter(body: Body): void {
    this.seat(body);
    this.bring(body);
  }

  /** Gives a body an entry of the agenda. */
  private seat(body: Body): void {
    const entry = (body.entry = this.agenda.add(body.index));
    this.entries[entry] = body;
    if (entry >= this.queued.length) {
      const longer = new Uint8Array(2 * entry);
      longer.set(this.queued);
      this.queued = longer;
    }
    this.queued[entry] = 0;
  }

  /** A body has gone. */
  leave(body: Body): void {
    const at = this.waiting.indexOf(body);
    if (at >= 0 && at < this.count) {
      this.waiting.splice(at, 1);
      this.count--;
    }
    this.unseat(body);
    this.meetings?.leave(body);
    this.planMovers();
  }

  private unseat(body: Body): void {
    this.queued[body.entry] = 0;
    this.entries[body.entry] = undefined;
    this.agenda.drop(body.entry);
    body.entry = -1;
  }

  /** What is asked of a body may be due earlier than what was. */
  plan(body: Body): void {
    if (this.queued[body.entry] === 1) return;
    findDue(body);
    this.agenda.set(body.entry, body.clock, DUE);
  }

  /** Within a tick: the state is that of another moment, and the tick ends there. */
  private isOver = false;

  /** The state is another one. */
  renew(): void {
    this.isOver = true;
    this.count = this.stopped.length = this.stoppedFor.length = 0;
    this.laying = undefined;
    this.queued.fill(0);
    this.seatAll();
    // Counted, and not gone through as a list: that would allocate.
    for (let i = 0; i < this.bodies.length; i++) {
      const body = this.bodies[i]!;
      if (body.clock[KIND] === NOT_LAID) this.queue(body);
      else this.plan(body);
    }
    this.planMovers();
  }

  /** Others may be there than before. */
  private seatAll(): void {
    for (let i = 0; i < this.bodies.length; i++) this.bodies[i]!.isSeated = true;
    for (let i = 0; i < this.entries.length; i++) {
      const body = this.entries[i];
      if (body !== undefined && !body.isSeated) this.unseat(body);
    }
    for (let i = 0; i < this.bodies.length; i++) {
      const body = this.bodies[i]!;
      if (body.entry < 0) this.seat(body);
      body.isSeated = false;
    }
  }

  /** Ends the piece of a body at the present moment, so that it can be given another motion. */
  bring(body: Body): void {
    const now = this.clock[TIME]!;
    body.clock[TICK] = this.clock[TICKS]!;
    cutPiece(body, this.clock);
    if (body.clock[KIND] === NOT_LAID && body !== this.laying) {
      body.clock[NOW] = now;
      this.queue(body);
    }
  }

  /** The same of all bodies, but for one. */
  bringAll(but?: Body): void {
    for (let i = 0; i < this.bodies.length; i++) if (this.bodies[i] !== but) this.bring(this.bodies[i]!);
  }

  /** The next piece of a body is to be laid at this moment. */
  private queue(body: Body): void {
    if (this.queued[body.entry] === 1) return;
    this.queued[body.entry] = 1;
    this.waiting[this.count++] = body;
    this.agenda.never(body.entry);
  }

  /** Whether nothing is due by a moment. */
  isQuiet(): boolean {
    const end = this.clock[END]!;
    return (
      this.count === 0 && !(this.next[MOVERS]! <= end) && !this.agenda.isDue(end) && this.meetings?.isDue(end) !== true
    );
  }

  /** Those who have an ability that looks at every tick are asked at its start. */
  wakeEager(): void {
    for (let i = 0; i < this.bodies.length; i++) if (this.bodies[i]!.isEager) this.bring(this.bodies[i]!);
  }

  /** Does all that is due by a moment. @returns whether that has come: not where somebody has gone to another moment meanwhile */
  run(): boolean {
    const { agenda, next, clock, telling, waiting } = this;
    const end = clock[END]!;
    this.isOver = false;
    for (;;) {
      next[FIRST] = next[MOVERS]!;
      agenda.soonest(next);
      if (this.meetings !== undefined) this.meetings.soonest(next);
      if (this.count > 0) next[FIRST] = clock[TIME]!;
      if (!(next[FIRST]! <= end)) break;
      if (next[FIRST]! > clock[TIME]!) clock[TIME] = next[FIRST]!;
      const now = clock[TIME]!;
      if (next[MOVERS]! <= now) this.goOn(now);
      while (agenda.isDue(now)) {
        const body = this.entries[agenda.first]!;
        body.clock[TICK] = clock[TICKS]!;
        if (doDue(body, clock)) this.queue(body);
        else this.plan(body);
        if (this.stopped.length > 0) this.wakeOthers();
      }
      if (this.meetings !== undefined) this.meetings.meetAt(now);
      if (telling.isDue) telling.tellAt(now);
      if (this.isOver) return false;
      while (this.count > 0) {
        const { count } = this;
        inOrder(waiting, count);
        for (let i = 0; i < count; i++) this.lay(waiting[i]!);
        // Those who have come meanwhile.
        for (let i = count; i < this.count; i++) waiting[i - count] = waiting[i]!;
        this.count -= count;
        if (telling.isDue) telling.tellAt(now);
        if (this.isOver) return false;
      }
      if (this.moving !== undefined) this.planMovers();
    }
    clock[TIME] = end;
    return true;
  }

  private lay(body: Body): void {
    this.queued[body.entry] = 0;
    body.clock[TICK] = this.clock[TICKS]!;
    this.laying = body;
    beginPiece(body);
    this.laying = undefined;
    this.plan(body);
    if (this.meetings !== undefined) this.meetings.laid(body);
    if (this.stopped.length > 0) this.wakeOthers();
  }

  /** A body is crushed by a mover that waits for it, or turns back: from this moment on, for everyone. */
  crush(body: Body, crush: Crush): void {
    const now = body.clock[NOW]!;
    this.moving!.switch(crush.set, now, crush.turns ? TURNS : STOPS);
    beginStop(body, crush);
    this.stopped.push(crush.set);
    this.stoppedFor.push(body);
  }

  /** Movers have stopped, or turned back: whatever else may meet them is told, once who was crushed has been seen to. */
  private wakeOthers(): void {
    const { stopped, stoppedFor } = this;
    for (let i = 0; i < stopped.length; i++) this.wake(stopped[i]!, stoppedFor[i]);
    stopped.length = stoppedFor.length = 0;
  }

  /** Whatever may meet a mover is laid anew: that goes another way. */
  private wake(set: number, but?: Body): void {
    const way = wayOf(this.moving!.movers[set - 1]!);
    for (let i = 0; i < this.bodies.length; i++) {
      const body = this.bodies[i]!;
      const { s, moversAt } = body;
      const meets = s[FRAME] === set || mayReach(body, way) || s[moversAt + MOVER_SLOTS * (set - 1)] !== MEETS;
      if (meets && body !== but) this.bring(body);
    }
  }

  /** When the next of the movers that wait goes on: just after the last of those that held it up has let it go. At that very moment it would meet them as they were. */
  planMovers(): void {
    this.next[MOVERS] = Infinity;
    const { moving } = this;
    if (moving === undefined || moving.waiting === 0) return;
    for (let set = 1; set <= moving.movers.length; set++) {
      const time = this.goesOnAt(set);
      if (time < this.next[MOVERS]!) this.next[MOVERS] = time;
    }
  }

  private goesOnAt(set: number): number {
    const now = this.clock[TIME]!;
    const moving = this.moving!;
    if (!moving.waitsAt(set, now)) return Infinity;
    let time = moving.waitsSince(set, now);
    for (let i = 0; i < this.bodies.length; i++) {
      const { s, moversAt } = this.bodies[i]!;
      const at = moversAt + MOVER_SLOTS * (set - 1);
      if (s[at] === HOLDS_UP) return Infinity;
      if (s[at] === MEETS && s[at + 1]! + LEFT_STOP > time) time = s[at + 1]! + LEFT_STOP;
    }
    return time;
  }

  private goOn(now: number): void {
    const moving = this.moving!;
    for (let set = 1; set <= moving.movers.length; set++) {
      if (this.goesOnAt(set) > now) continue;
      moving.switch(set, now, GOES_ON);
      this.wake(set);
    }
    this.planMovers();
  }
}

/** The next moment of all, and that of the movers. */
const FIRST = 0;
const MOVERS = 1;

/** Puts the first so many in the order in which they came to the stage: few, and mostly in order. */
function inOrder(list: Body[], count: number): void {
  if (count > 32) {
    const sorted = list.slice(0, count).sort((a, b) => a.index - b.index);
    for (let i = 0; i < count; i++) list[i] = sorted[i]!;
    return;
  }
  for (let i = 1; i < count; i++) {
    const one = list[i]!;
    let k = i;
    for (; k > 0 && list[k - 1]!.index > one.index; k--) list[k] = list[k - 1]!;
    list[k] = one;
  }
}
