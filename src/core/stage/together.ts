import { LEFT_STOP } from '../tolerance.js';
import { GOES_ON, STOPS, TURNS } from '../movers/moving.js';
import { playTick } from '../body/substep.js';
import type { Moving } from '../movers/moving.js';
import type { Body, Crush } from '../state/body.js';
import { TICK_START } from '../state/clock.js';
import { HOLDS_UP, MOVER_SLOTS } from '../state/layout.js';
import type { EventQueue } from '../trace/events.js';
import { takeBack } from './snapshot.js';

/** A mover that begins to wait for a body, or goes on, within a tick. */
interface Change {
  time: number;
  set: number;
  /** Who it waits for; absent where it goes on. */
  body?: Body;
  stop?: Crush;
}

/**
 * Plays one tick of all characters. A mover that a crush stops, stops at the earliest such moment among all of them, and goes on at the moment at which its
 * way is free: the tick is played again from its start with that, so that everyone sees the same. Who was added first never matters.
 */
export class Together {
  private before = new Float64Array(0);
  private readonly changes: Change[] = [];

  play(bodies: readonly Body[], moving: Moving | undefined, queue: EventQueue): void {
    if (moving === undefined || !moving.mayWait) {
      for (let i = 0; i < bodies.length; i++) playTick(bodies[i]!);
      return;
    }
    this.keep(bodies);
    const { changes } = this;
    const told = queue.count;
    changes.length = 0;
    const most = MOST_CHANGES + 4 * moving.movers.length;
    for (let round = 0; ; round++) {
      for (let i = 0; i < bodies.length; i++) {
        const body = bodies[i]!;
        body.stopsTold = round >= most;
        body.stops.length = 0;
        for (const change of changes) if (change.body === body) body.stops.push(change.stop!);
        playTick(body);
      }
      const change = round < most ? next(bodies, moving) : undefined;
      if (change === undefined) return;
      // Rounding may bring what follows the last change of a mover before it.
      const last = moving.changed(change.set);
      if (change.time < last) {
        change.time = last;
        if (change.stop) change.stop.time = last;
      }
      let at = changes.length;
      while (at > 0 && changes[at - 1]!.time > change.time) at--;
      changes.splice(at, 0, change);
      moving.switch(change.set, change.time, change.stop ? (change.stop.turns ? TURNS : STOPS) : GOES_ON);
      this.goBack(bodies);
      queue.count = told;
    }
  }

  private keep(bodies: readonly Body[]): void {
    let length = 0;
    for (let i = 0; i < bodies.length; i++) length += bodies[i]!.s.length;
    if (this.before.length !== length) this.before = new Float64Array(length);
    let at = 0;
    for (let i = 0; i < bodies.length; i++) {
      this.before.set(bodies[i]!.s, at);
      at += bodies[i]!.s.length;
    }
  }

  private goBack(bodies: readonly Body[]): void {
    let at = 0;
    for (const body of bodies) {
      takeBack(body, this.before, at, body.clock[TICK_START]!);
      at += body.s.length;
    }
  }
}

/** So many changes of movers are followed in one tick; after that, what would wait only tells. */
const MOST_CHANGES = 12;

/** The earliest thing that changes how a mover goes, of what the tick has shown. */
function next(bodies: readonly Body[], moving: Moving): Change | undefined {
  let first: Change | undefined;
  for (const body of bodies) {
    const { stop } = body;
    if (stop !== undefined && (first === undefined || stop.time < first.time))
      first = { time: stop.time, set: stop.set, body, stop };
  }
  for (let set = 1; set <= moving.movers.length; set++) {
    if (!moving.waits(set)) continue;
    // It goes on just after the last of those that held it up has let it go: at that very moment it would meet them as they were.
    let time = moving.changed(set);
    let held = false;
    for (const { s, moversAt } of bodies) {
      const at = moversAt + MOVER_SLOTS * (set - 1);
      if (s[at] === HOLDS_UP) held = true;
      else if (s[at + 1]! + LEFT_STOP > time && s[at] === 0) time = s[at + 1]! + LEFT_STOP;
    }
    if (!held && (first === undefined || time < first.time)) first = { time, set };
  }
  return first;
}
