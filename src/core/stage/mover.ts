import { listOf } from '../nearest.js';
import { say } from '../contact/what.js';
import { forgetSet } from '../state/touches.js';
import { startFreeing } from '../body/push-out.js';
import { isInside } from '../contact/inside.js';
import { leaveAny } from '../contact/leave.js';
import { tellAboard } from '../contact/riding.js';
import { standHere } from '../contact/stance.js';
import type { HostCall } from '../input/host.js';
import type { CompiledMover } from '../movers/mover.js';
import { MOTION_LENGTH, MVX, MVY, MX, MY, type Moving } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { intoFrame, placeSets } from '../state/frame.js';
import { EDGE, FRAME, FREEING, GROUND, SUPPORT, X, Y } from '../state/layout.js';
import type { CompiledLevel } from '../terrain/world.js';

/** A mover on a stage. Numbers are those after the last tick, in the level's own axes; of one that was taken away those that it had then. */
export class StageMover {
  readonly name: string;
  private readonly mover: CompiledMover;
  /** Where it was when it was taken away, and how it went: offset and velocity, y up. */
  private readonly last = new Float64Array(MOTION_LENGTH);

  /** @internal */
  constructor(
    private readonly level: CompiledLevel,
    /** @internal */
    public set: number,
    private readonly moving: Moving,
    private readonly time: () => number,
    private readonly call: (call: HostCall) => void,
  ) {
    this.mover = level.movers[set - 1]!;
    this.name = this.mover.name;
  }

  /** @internal Its edges are this set from now on. */
  sitIn(set: number): void {
    this.set = set;
  }

  /** @internal It is taken away at this moment. */
  keepLast(): void {
    this.look(MX);
    this.last.set(this.moving.at);
  }

  /** Whether it is there: movers can be taken away, and added. */
  get isHere(): boolean {
    return this.level.movers[this.set - 1] === this.mover && !this.moving.isAbsent(this.set);
  }
  /** @internal Whether it has a route of its own. */
  get hasRoute(): boolean {
    return this.mover.route !== undefined;
  }
  /** How far its shapes are from where the level has them, units. */
  get x(): number {
    return this.look(MX);
  }
  get y(): number {
    return this.look(MY) * this.sign + 0;
  }
  /** Velocity just after this moment, units/s; of one that the game moves that of the last tick. */
  get vx(): number {
    return this.look(MVX);
  }
  get vy(): number {
    return this.look(MVY) * this.sign + 0;
  }
  /** Whether it waits for a body that it would crush. */
  get waits(): boolean {
    return this.isHere && this.moving.waitsAt(this.set, this.time());
  }

  private get sign(): number {
    return this.level.yPoints === 'up' ? 1 : -1;
  }

  private look(what: number): number {
    if (!this.isHere) return this.last[what]!;
    this.moving.locate(this.set, this.time());
    if ((what === MVX || what === MVY) && !this.hasRoute) this.moving.went(this.set);
    return this.moving.at[what]!;
  }

  // Calls of the game, for a mover without a route. They are kept by recordings.

  /**
   * Lets it be at an offset when the next tick ends: on the way it carries and pushes what it meets, evenly.
   * @throws RangeError where the mover has a route, or the place is none
   */
  moveTo(x: number, y: number): void {
    this.call({ moveTo: [this.name, x, y] });
  }

  /**
   * Puts it at an offset at once: it carries nobody, and who is inside it then is pushed out.
   * @throws RangeError where the mover has a route, or the place is none
   */
  placeAt(x: number, y: number): void {
    this.call({ placeAt: [this.name, x, y] });
  }
}

/**
 * The mover of a name, of those that are there.
 * @throws RangeError where there is none
 */
export function moverNamed(movers: readonly StageMover[], name: string): StageMover {
  const found = movers.find((mover) => mover.name === name);
  if (found) return found;
  const names = movers.map((mover) => mover.name);
  throw new RangeError(`there is no mover ${name}; the level has ${listOf(names, name)}`);
}

/**
 * The set of a mover that the game moves.
 * @throws RangeError where there is none of that name, it has a route, or the place is none
 */
export function movedByGame(movers: readonly StageMover[], name: string, x: number, y: number): number {
  const { hasRoute, set } = moverNamed(movers, name);
  if (hasRoute) throw new RangeError(`the mover ${name} has a route: the game cannot move it`);
  for (const value of [x, y])
    if (!(Math.abs(value) <= 67108864))
      throw new RangeError(`the place of the mover ${name} is ${x}, ${y}; it must be two numbers within ±67108864`);
  return set;
}

/** Puts a mover somewhere else, at a moment at which no body is in the middle of a piece. */
export function putMover(
  bodies: readonly Body[],
  moving: Moving,
  set: number,
  x: number,
  y: number,
  time: number,
): void {
  for (const body of bodies) {
    placeSets(body);
    if (body.s[FRAME] === set) intoFrame(body, 0);
  }
  moving.put(set, x, y, time);
  for (const body of bodies) {
    const { s, terrain } = body;
    placeSets(body);
    forgetSet(s, terrain, set);
    const held = s[EDGE]! >= 0 && terrain.set[s[EDGE]!] === set;
    if (s[SUPPORT] === GROUND && held && !standHere(body)) {
      say(body, body.tell('leave'), s[EDGE]!);
      leaveAny(body);
    } else if (s[SUPPORT] !== GROUND) leaveAny(body);
    if (isInside(body, s[X]!, s[Y]!)) startFreeing(body);
    else s[FREEING] = 0;
    tellAboard(body);
  }
}
