import { startFreeing } from '../body/push-out.js';
import { countEntangled } from '../contact/crush.js';
import { isInside } from '../contact/inside.js';
import { leaveAny } from '../contact/leave.js';
import { tellAboard } from '../contact/riding.js';
import { standHere } from '../contact/stance.js';
import { say } from '../contact/what.js';
import type { CompiledMover } from '../movers/mover.js';
import type { Body } from '../state/body.js';
import { intoFrame, placeSets } from '../state/frame.js';
import { ABOARD, EDGE, FRAME, FREEING, GROUND, MEETS, MOVER_SLOTS, PUSHED, SUPPORT, X, Y } from '../state/layout.js'; // prettier-ignore
import { forgetSet } from '../state/touches.js';
import { checkMover } from '../terrain/checks.js';
import type { EdgeList } from '../terrain/edges.js';
import { LevelError, type Mover } from '../terrain/level.js';
import { MOST_MOVERS, compileMovers } from '../terrain/movers.js';
import { type Recut, hash } from '../terrain/recut.js';
import type { Registry } from '../terrain/registry.js';
import type { CompiledLevel } from '../terrain/world.js';
import { checkLayers } from './added.js';
import { forgetGone, freeMovers, holdsAny, mayReach, wayOf } from './felt.js';
import type { StageMover } from './mover.js';
import { EACH, type StageMovers } from './movers.js';
import { TIME } from './time.js';

/** What the movers that come and go need of their stage. */
export interface Moved {
  readonly bodies: readonly Body[];
  readonly movers: StageMovers;
  /** The stage's clock. */
  readonly clock: Float64Array;
  /** Ends a body's piece at the present moment. */
  bring(body: Body): void;
  /** What is drawn, and what is kept to ask about it, is that of before. */
  forget(): void;
  /** There are more movers than before, or fewer: whoever keeps something of each sees to that. */
  refit(): void;
  /** Movers that wait may do so for others than before. */
  plan(): void;
}

/** A mover that was added once, and may be there again. */
interface Known {
  readonly written: Mover;
  readonly compiled: CompiledMover;
  readonly list: EdgeList;
  /** Its edges: none before it first comes. */
  from: number;
  until: number;
  handle: StageMover | undefined;
}

/** Stands where a mover has gone from. */
const NOBODY: CompiledMover = { name: '', policy: 'stop', route: undefined, box: [Infinity, Infinity, -Infinity, -Infinity] }; // prettier-ignore

/** The movers that have been added to a stage, and those of its level that have been taken away. */
export class AddedMovers {
  /** Every mover that was ever added here, by a number for what it is. */
  private readonly known = new Map<number, Known>();
  /** Who has which of the sets beyond the level's own, by these numbers; 0 for nobody. The last is somebody. */
  private slots: readonly number[] = [];
  /** Of each set that the level was opened with, whether its edges are there. */
  private readonly isThere: boolean[];
  private readonly movers: CompiledMover[];

  /** @param level the stage's own */
  constructor(
    private readonly level: CompiledLevel,
    private readonly registry: Registry,
    private readonly recut: Recut,
    private readonly stage: Moved,
    private readonly journal: (() => void)[],
  ) {
    this.movers = level.movers as CompiledMover[];
    this.isThere = level.movers.map(() => true);
  }

  /** How many numbers a snapshot has of them. */
  get size(): number {
    return 1 + (1 + EACH) * this.slots.length;
  }

  /** The set of the first that was added. */
  private get base(): number {
    return this.isThere.length + 1;
  }

  /**
   * Adds a mover, from this moment on.
   * @returns what does that, once it has been found right
   * @throws LevelError where it is wrong; RangeError where its name is taken
   */
  adding(mover: Mover): () => void {
    const print = this.know(mover);
    const { name } = mover;
    this.checkName(name);
    return () => {
      this.checkName(name);
      const slots = [...this.slots];
      const free = slots.indexOf(0);
      this.put(print, free < 0 ? slots.length : free);
    };
  }

  private checkName(name: string): void {
    const { list } = this.stage.movers;
    if (list.some((one) => one.name === name)) throw new RangeError(`there is a mover named ${name} already`);
    if (list.length >= MOST_MOVERS)
      throw new RangeError(`there are ${list.length} movers; a stage has at most ${MOST_MOVERS}`);
  }

  /** Takes a mover away, from this moment on; one that is away already stays so. */
  remove(mover: StageMover): void {
    if (mover.isHere) this.takeAway(mover);
  }

  /** @returns a number for what it is */
  know(mover: Mover): number {
    checkMover(mover, 'mover');
    const written = JSON.parse(JSON.stringify(mover)) as Mover;
    const { name, shapes, route, policy } = written;
    const print = 1 + hash(JSON.stringify([name, shapes.map(({ form, points, carry }) => [form, points, carry]), route, policy])); // prettier-ignore
    if (this.known.has(print)) return print;
    written.shapes.forEach((shape, i) => checkLayers(shape, `mover.shapes.${i}`, this.level));
    const plain = { ...written, shapes: shapes.map((shape) => ({ ...shape, source: -1 })) };
    const sign = this.level.yPoints === 'up' ? 1 : -1;
    const { movers, edges } = compileMovers([plain], sign, this.registry, () => 'mover');
    const [compiled, list] = [movers[0]!, edges[0]!];
    if (list.count === 0) throw new LevelError('mover.shapes', `the mover ${name} has no edges`);
    this.known.set(print, { written, compiled, list, from: 0, until: 0, handle: undefined });
    return print;
  }

  /** All that it knows, as they were written; those that are there. */
  get all(): Mover[] {
    return [...this.known.values()].map(({ written }) => written);
  }
  get present(): Mover[] {
    return this.slots.flatMap((print) => this.known.get(print)?.written ?? []);
  }

  /** Whether a snapshot may have a mover of a number. */
  knows(print: number): boolean {
    return this.known.has(print);
  }

  /** Lets those be there that numbers say: how each goes is said by `load`. */
  goTo(numbers: Float64Array, at: number): void {
    const wanted: number[] = [];
    for (let i = 0; i < numbers[at]!; i++) wanted.push(numbers[at + 1 + i * (1 + EACH)]!);
    if (!this.isSame(wanted)) this.arrange(wanted);
  }

  load(numbers: Float64Array, at: number): void {
    for (let i = 0; i < this.slots.length; i++)
      this.stage.movers.loadOne(this.base + i, numbers, at + 2 + i * (1 + EACH));
  }

  save(into: Float64Array, at: number): void {
    into[at] = this.slots.length;
    for (let i = 0; i < this.slots.length; i++) {
      into[at + 1 + i * (1 + EACH)] = this.slots[i]!;
      this.stage.movers.saveOne(this.base + i, into, at + 2 + i * (1 + EACH));
    }
  }

  /** What their numbers say is so: of those that the level was opened with, too. */
  agree(): void {
    const { moving } = this.stage.movers;
    for (let set = 1; set < this.base; set++) this.show(set, !moving.isAbsent(set));
    if (this.arranged) this.settle();
  }

  private isSame(slots: readonly number[]): boolean {
    return slots.length === this.slots.length && slots.every((print, i) => print === this.slots[i]);
  }

  /** Shows the edges of a mover that the level was opened with, or hides them. */
  private show(set: number, isThere: boolean): void {
    if (this.isThere[set - 1] === isThere) return;
    this.isThere[set - 1] = isThere;
    const { setFrom, setUntil } = this.level.terrain;
    this.recut.giveTo(set, setFrom[set]!, setUntil[set]!, isThere);
    this.settle();
  }

  /** Gives sets to movers, by their numbers. */
  private arrange(slots: readonly number[]): void {
    const { recut, base, stage } = this;
    const before = this.slots;
    let length = slots.length;
    while (length > 0 && slots[length - 1] === 0) length--;
    const after = (this.slots = slots.slice(0, length));
    this.movers.length = this.isThere.length + length;
    for (let i = 0; i < Math.max(length, before.length); i++) {
      const gone = this.known.get(before[i] ?? 0);
      const set = base + i;
      if (before[i] !== after[i] && gone) recut.giveTo(set, gone.from, gone.until, false);
      if (i >= length) continue;
      this.movers[set - 1] = this.known.get(after[i]!)?.compiled ?? NOBODY;
      if (before[i] !== after[i]) recut.giveTo(set, 0, 0, false);
    }
    stage.movers.fit();
    stage.refit();
    for (let i = 0; i < length; i++) {
      if (before[i] === after[i]) continue;
      const set = base + i;
      const come = this.known.get(after[i]!);
      stage.movers.moving.blank(set);
      if (come) this.sit(set, after[i]!, come);
    }
    this.settle();
    this.arranged = true;
  }

  private sit(set: number, print: number, mover: Known): void {
    if (mover.until === 0) {
      mover.from = this.recut.addMoving(mover.list, `mover ${print}`);
      mover.until = mover.from + mover.list.count;
    }
    this.recut.giveTo(set, mover.from, mover.until, true);
    mover.handle = this.stage.movers.seat(set, mover.handle);
  }

  /** What was found out about movers is that of before. */
  private settle(): void {
    const { stage } = this;
    for (const body of stage.bodies) {
      for (const near of body.nears) if (near.set > 0) near.forget();
      body.aroundBox.set([1, 1, 0, 0]);
      body.placedIn = -1;
    }
    stage.movers.findThere();
    stage.forget();
    this.arranged = false;
  }
  /** Whether who has which set has changed since that was last seen to. */
  private arranged = false;

  private put(print: number, slot: number): void {
    const { stage } = this;
    const { movers } = stage;
    const { compiled } = this.known.get(print)!;
    const near = stage.bodies.filter((body) => body.moving === undefined || mayReach(body, wayOf(compiled)));
    for (const body of near) stage.bring(body);
    const before = this.slots;
    this.journal.push(() => this.arrange(before));
    const slots = [...before];
    slots[slot] = print;
    this.arrange(slots);
    movers.moving.appear(this.base + slot, stage.clock[TIME]!);
    movers.forgetAim(this.base + slot);
    this.settle();
    for (const body of stage.bodies) placeSets(body);
    for (const body of near) if (isInside(body, body.s[X]!, body.s[Y]!)) startFreeing(body);
  }

  private takeAway(mover: StageMover): void {
    const { stage } = this;
    const { movers } = stage;
    const { terrain } = this.level;
    const { set } = mover;
    const [from, until] = [terrain.setFrom[set]!, terrain.setUntil[set]!];
    const isOurs = (edge: number): boolean => edge >= from && edge < until;
    const slot = MOVER_SLOTS * (set - 1);
    const way = wayOf(this.movers[set - 1]!);
    const near = stage.bodies.filter(
      (body) =>
        body.s[FRAME] === set ||
        body.s[ABOARD] === set ||
        mayReach(body, way) ||
        body.s[body.moversAt + slot] !== MEETS ||
        holdsAny(body, isOurs),
    );
    for (const body of near) stage.bring(body);
    for (const body of near) {
      placeSets(body);
      if (body.s[FRAME] === set) intoFrame(body, 0);
    }
    mover.keepLast();
    movers.moving.vanish(set, stage.clock[TIME]!);
    movers.forgetAim(set);
    const held = near.filter((body) => holdsAny(body, isOurs));
    const gone = new Set(Array.from({ length: until - from }, (_, i) => from + i));
    this.settle();
    for (const body of stage.bodies) {
      const { s, moversAt } = body;
      s.fill(0, moversAt + slot, moversAt + slot + MOVER_SLOTS);
      if (s[PUSHED] === 1 + set) s[PUSHED] = 0;
      freeMovers(body, gone);
      countEntangled(body);
      placeSets(body);
    }
    for (const body of near) {
      const { s } = body;
      forgetSet(s, terrain, set);
      if (held.includes(body)) {
        if (s[SUPPORT] !== GROUND) leaveAny(body);
        else if (isOurs(s[EDGE]!) && !standHere(body)) {
          say(body, body.tell('leave'), s[EDGE]!);
          leaveAny(body);
        }
      }
      if (isInside(body, s[X]!, s[Y]!)) startFreeing(body);
      else s[FREEING] = 0;
      tellAboard(body);
    }
    if (set >= this.base) {
      const before = this.slots;
      this.journal.push(() => this.arrange(before));
      for (const e of gone) (terrain.gone as Uint8Array)[e] = 1;
      for (const body of stage.bodies) forgetGone(body);
      this.arrange(before.map((print, i) => (this.base + i === set ? 0 : print)));
    } else {
      this.show(set, false);
      for (const body of stage.bodies) forgetGone(body);
    }
    stage.plan();
  }
}
