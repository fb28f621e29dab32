import { ABSENT, GOING, MOVER_NUMBERS, type Moving } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import type { CompiledLevel } from '../terrain/world.js';
import type { Cast } from './cast.js';
import type { ChangedGround } from './ground.js';
import type { StageMovers } from './movers.js';
import type { Play } from './play.js';
import { takeBack } from './snapshot.js';
import type { Telling } from './telling.js';
import { END, KEPT_CLOCK, START, TIME } from './time.js';
import { SnapshotCheck, groundLength } from './valid.js';

/** What the states of a stage are made of. */
export interface Stateful {
  readonly clock: Float64Array;
  /** 1 for each named shape that is switched off, for each zone. */
  readonly off: Uint8Array;
  readonly zonesOff: Uint8Array;
  readonly cast: Cast;
  readonly moved: StageMovers | undefined;
  /** Where the movers are; nothing where there are none. */
  readonly moving: Moving | undefined;
  /** As it was compiled, and as the stage has it. */
  readonly level: CompiledLevel;
  readonly here: CompiledLevel;
  readonly play: Play;
  readonly telling: Telling;
  /** Its character is that body's again, wherever it is now. */
  recall(body: Body): void;
  /** What has been changed of it, once something has; and the same where something is to be. */
  readonly ground: ChangedGround | undefined;
  newGround(): ChangedGround;
}

/** The states of a stage as numbers: what a snapshot has, and what comes back where a tick has failed. */
export class States {
  private readonly bodies: readonly Body[];
  private readonly checked: SnapshotCheck;
  /** Those who overlapped where this came from, while nobody here wants to know. */
  private readonly met: number[] = [];
  private metAt = NaN;
  /** Who was there before a tick that may fail, and how everything was: of each body, of the movers, what was switched off, who met. */
  private readonly before: Float64Array[] = [];
  private readonly there: Body[] = [];
  private metBefore: readonly number[] = [];
  private moversBefore = new Float64Array(0);
  private readonly offBefore: Uint8Array;
  private readonly zonesOffBefore: Uint8Array;

  constructor(private readonly stage: Stateful) {
    const { cast, off, zonesOff, level, here } = stage;
    this.bodies = cast.bodies;
    this.offBefore = off.slice();
    this.zonesOffBefore = zonesOff.slice();
    this.checked = new SnapshotCheck(
      KEPT_CLOCK,
      off.length + zonesOff.length,
      cast,
      level,
      here !== level,
      (shape) => stage.ground?.added.knows(shape) === true,
      (mover) => stage.ground?.movers.knows(mover) === true,
    );
  }

  /** Those who overlap at present, of those who are to meet: see `Meetings.list`. */
  get metNow(): readonly number[] {
    return this.stage.play.meetings?.list() ?? this.met;
  }

  /** Those who overlap at this very moment, as far as the state that it came from says so. */
  get metAlready(): readonly number[] {
    return this.metAt === this.stage.clock[TIME] ? this.met : [];
  }

  /** @throws RangeError where numbers cannot be a state of this stage */
  check(snapshot: Float64Array): void {
    this.checked.check(snapshot, this.length);
  }

  /** Keeps what a tick may change, but for the clock, which goes on last. */
  keep(): void {
    const { before, there, bodies } = this;
    const { moved, off, zonesOff, here } = this.stage;
    this.metBefore = this.metNow;
    there.length = bodies.length;
    for (let i = 0; i < bodies.length; i++) {
      there[i] = bodies[i]!;
      const { s } = bodies[i]!;
      if (before[i]?.length !== s.length) before[i] = new Float64Array(s.length);
      before[i]!.set(s);
    }
    this.offBefore.set(off);
    this.zonesOffBefore.set(zonesOff);
    if (moved === undefined) return;
    if (this.moversBefore.length !== moved.sizeOfAll) this.moversBefore = new Float64Array(moved.sizeOfAll);
    moved.save(this.moversBefore, 0, here.movers.length);
  }

  /** The tick has not happened. */
  undo(): void {
    const { cast, ground, moved, clock, off, zonesOff, play, here } = this.stage;
    const { offBefore } = this;
    if (cast.set(this.there, clock[TIME]!)) this.recall();
    ground?.undo();
    moved?.load(this.moversBefore, 0, here.movers.length);
    moved?.moving.renew(clock);
    ground?.movers.agree();
    if (off.some((value, i) => value !== offBefore[i]))
      for (const { nears } of this.bodies) for (const near of nears) near.forget();
    off.set(offBefore);
    zonesOff.set(this.zonesOffBefore);
    for (let i = 0; i < this.bodies.length; i++) takeBack(this.bodies[i]!, this.before[i]!, 0);
    play.renew();
    play.meetings?.renew(this.metBefore);
  }

  /** How many numbers a snapshot has. */
  get length(): number {
    const { off, zonesOff, moved, ground } = this.stage;
    let length = KEPT_CLOCK + off.length + zonesOff.length + (moved?.size ?? 0) + 2 + this.metNow.length;
    length += ground?.size ?? 3;
    for (let i = 0; i < this.bodies.length; i++) length += 1 + this.bodies[i]!.s.length;
    return length;
  }

  /** @param into an array of an earlier snapshot, to be used again */
  snapshot(into?: Float64Array): Float64Array {
    const { clock, off, zonesOff, moved, ground } = this.stage;
    const length = this.length;
    if (into && into.length !== length)
      throw new RangeError(`a snapshot of this stage has ${length} numbers, not ${into.length}`);
    const copy = into ?? new Float64Array(length);
    for (let i = 0; i < KEPT_CLOCK; i++) copy[i] = clock[i]!;
    copy.set(off, KEPT_CLOCK);
    let at = KEPT_CLOCK + off.length;
    copy.set(zonesOff, at);
    at += zonesOff.length;
    if (moved !== undefined) {
      moved.save(copy, at);
      at += moved.size;
    }
    if (ground === undefined) copy[at++] = copy[at++] = copy[at++] = 0;
    else {
      ground.save(copy, at);
      at += ground.size;
    }
    copy[at++] = this.bodies.length;
    for (let i = 0; i < this.bodies.length; i++) {
      const { s, index } = this.bodies[i]!;
      copy[at++] = index;
      copy.set(s, at);
      ground?.rename(this.bodies[i]!, copy, at, true);
      at += s.length;
    }
    const met = this.metNow;
    copy[at++] = met.length / 4;
    for (let i = 0; i < met.length; i++) copy[at++] = met[i]!;
    return copy;
  }

  /** Lets those be there whose numbers a snapshot has. */
  private takeBackCast(snapshot: Float64Array, at: number): void {
    const { bodies } = this;
    const { cast } = this.stage;
    const count = snapshot[at]!;
    let same = count === bodies.length;
    for (let i = 0, from = at + 1; i < count; i++) {
      const { body } = cast.numbered(snapshot[from]!)!;
      if (body.entry < 0) fitMovers(body, this.stage.moving);
      same &&= body === bodies[i];
      from += 1 + body.s.length;
    }
    if (same) return;
    const there: Body[] = [];
    for (let i = 0, from = at + 1; i < count; i++) {
      there.push(cast.numbered(snapshot[from]!)!.body);
      from += 1 + there[i]!.s.length;
    }
    for (const body of bodies) if (!there.includes(body)) body.intents.count = body.nextIntent = 0;
    // What is there may have changed while they were not.
    for (const body of there) if (body.entry < 0) for (const near of body.nears) near.forget();
    cast.set(there, this.stage.clock[TIME]!);
    this.recall();
  }

  /** Who is there again may be in another room by now. */
  private recall(): void {
    for (let i = 0; i < this.bodies.length; i++) this.stage.recall(this.bodies[i]!);
  }

  /** Whether a mover of the level has been taken away in a snapshot. */
  private isMoverAway(snapshot: Float64Array, groundAt: number): boolean {
    for (let at = groundAt - MOVER_NUMBERS * this.stage.level.movers.length; at < groundAt; at += MOVER_NUMBERS)
      if (snapshot[at + GOING] === ABSENT) return true;
    return false;
  }

  /** The state is to be that of a snapshot that has been found right. */
  goTo(snapshot: Float64Array): void {
    const { clock: c, off, zonesOff, moved, telling, play } = this.stage;
    // What has not been told yet is of another moment.
    telling.queue.clear();
    for (let i = 0; i < KEPT_CLOCK; i++) c[i] = snapshot[i]!;
    c[START] = c[END] = c[TIME]!;
    let at = KEPT_CLOCK;
    const groundAt = at + off.length + zonesOff.length + (moved?.size ?? 0);
    if (groundLength(snapshot, groundAt) > 3 || this.isMoverAway(snapshot, groundAt)) this.stage.newGround();
    const { ground } = this.stage;
    // What cells hold first: that switches shapes and zones of theirs.
    ground?.goTo(snapshot, groundAt);
    let changed = ground !== undefined;
    for (let i = 0; i < off.length; i++) {
      const is = snapshot[at++]!;
      changed ||= is !== off[i];
      off[i] = is;
    }
    for (let i = 0; i < zonesOff.length; i++) zonesOff[i] = snapshot[at++]!;
    if (moved !== undefined) {
      moved.load(snapshot, at);
      at += moved.size;
      ground?.loadMovers(snapshot, at);
      moved.moving.renew(c);
      ground?.movers.agree();
    }
    at += groundLength(snapshot, at);
    this.takeBackCast(snapshot, at++);
    const numbers = ground === undefined ? snapshot : snapshot.slice();
    for (let i = 0; i < this.bodies.length; i++) {
      at++;
      const body = this.bodies[i]!;
      if (changed) for (let k = 0; k < body.nears.length; k++) body.nears[k]!.forget();
      ground?.rename(body, numbers, at, false);
      takeBack(body, numbers, at);
      at += body.s.length;
    }
    // (An array that is used again: going back allocates nothing.)
    if (this.met.length > 0) this.met.length = 0;
    for (let i = 4 * snapshot[at]!; i > 0; i--) this.met.push(snapshot[++at]!);
    this.metAt = c[TIME]!;
    play.renew();
    play.meetings?.renew(this.met);
  }
}

/** Lets a body know of all movers that there are. */
export function fitMovers(body: Body, moving: Moving | undefined): void {
  body.moving = moving;
  body.fit();
}
