import type { CompiledLevel } from '../terrain/world.js';
import { listOf } from '../nearest.js';
import { SLACK } from '../tolerance.js';
import type { Ability } from '../abilities/ability.js';
import { zonesOf } from '../body/zones.js';
import { stridesAt } from '../body/strides.js';
import { LASTED, TICKS, TIME } from './time.js';
import { OWN_X, OWN_Y, SEEN_VX, SEEN_VY, SEEN_X, SEEN_Y, lookAt, lookIn, pieceAt } from '../body/sight.js';
import { posePhase } from '../body/poses.js';
import { isOn } from '../meetings/boxes.js';
import { type Touching, touching } from './touching.js';
import { tempoOf } from '../body/tempo.js';
import { SLOPE, describe, gapUnder, stretch, surfaceUnder } from '../contact/ground.js';
import { stepLag } from '../contact/stance.js';
import { knownAction } from '../input/actions.js';
import type { HostCall } from '../input/host.js';
import { type DriverOf, checkDriver } from '../input/intents.js';
import { OPPOSED, type Opposed } from '../input/opposed.js';
import type { Body } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { DEAF, EDGE, END, FACING, FRAME, FROZEN, FROZEN_SINCE, GROUND, HEIGHT, LANDING, OPPOSED_BY, PHASE, PIT, POSE, POSE_SINCE, POSE_WAS, POSE_WAS_SINCE, type Phase, type PoseName, SUPPORT, SUPPORTS, type Support } from '../state/layout.js'; // prettier-ignore
import { jumpsLeft } from '../state/rights.js';
import { checkBetween } from '../trace/between.js';
import { EVENTS, type EventName, type StageEvent } from '../trace/events.js';
import type { Motion } from '../tuning/motion.js';
import type { Tuning } from '../tuning/tuning.js';

/** Anything that plays a character: keys, a pad, a script, a bot. */
export type Driver = DriverOf<Character>;

const ground = stretch();

/** Is told what happened, to whom, and of a meeting with whom: also of who has gone at that moment. */
export type Handler = (event: Readonly<StageEvent>, who: Character, other: Character | undefined) => void;

/** What to draw: a character between two ticks. The object is used again at the next call. */
export interface View {
  /** Middle of the feet, units, in the level's own axes. */
  x: number;
  y: number;
  width: number;
  height: number;
  /** −1 or 1. */
  facing: number;
  pose: PoseName;
  /** Seconds spent in the pose. */
  poseTime: number;
  /**
   * How far through the pose, 0 to 1: `run` and `crouch` through the stride, `land`, `climb`, `charge` and `glide` through the time that they last, all
   * others 0.
   */
  posePhase: number;
  /** How hard the last landing was: its speed as a share of the terminal speed, 0 to 1. */
  landing: number;
  /** How far the body is from where a picture that goes smoothly over a step would be, units, in the level's own axes: draw it there. */
  stepLag: number;
  /** Strides run since the character last stood still; 0 where `pose.stride` is. */
  strides: number;
}

/** Another stage, as a character that goes there sees it. */
export interface Room {
  readonly level: CompiledLevel;
  readonly characters: readonly Character[];
}

/** What a character asks its stage for. */
export interface Hands {
  call(call: HostCall, then?: () => void): void;
  give(driver: Driver | undefined): void;
  /** It leaves the stage: it is elsewhere again. Gives who plays it. */
  vacate(): Driver | undefined;
  transfer(to: Room, options: { at?: string | readonly [number, number]; facing?: number }): void;
}

/** A character on a stage. Numbers are those after the last tick, in the level's own axes. */
export class Character {
  private readonly handlers = new Map<EventName, Handler[]>();
  private readonly seen: View;

  private body: Body;
  private clock: Float64Array;
  private hands: Hands;

  /**
   * @internal
   * @param clock the stage's, see `time.ts`
   */
  constructor(body: Body, clock: Float64Array, hands: Hands) {
    this.body = body;
    this.clock = clock;
    this.hands = hands;
    const { width, height } = body.motion;
    this.seen = {
      x: 0,
      y: 0,
      width,
      height,
      facing: 1,
      pose: 'idle',
      poseTime: 0,
      posePhase: 0,
      landing: 0,
      stepLag: 0,
      strides: 0,
    };
  }

  get name(): string {
    return this.body.name;
  }
  /** The groups that it belongs to, as `add` was told. */
  get groups(): readonly string[] {
    return this.body.groups;
  }
  /** Its number on its stage: no other character there ever has the same. */
  get id(): number {
    return this.body.index;
  }
  /** Whether it is on its stage: not once it has been removed, or time has gone back to before it came. */
  get onStage(): boolean {
    return this.body.entry >= 0;
  }
  /** The constants its tuning was compiled to, at its tempo. */
  get motion(): Motion {
    return this.body.motion;
  }
  /** Middle of the feet, units. */
  get x(): number {
    return lookAt(this.body, this.clock[TIME]!)[SEEN_X]!;
  }
  get y(): number {
    return lookAt(this.body, this.clock[TIME]!)[SEEN_Y]! * this.body.ySign + 0;
  }
  /** Velocity in the level, units/s: with that of what carries it. */
  get vx(): number {
    return lookAt(this.body, this.clock[TIME]!)[SEEN_VX]!;
  }
  get vy(): number {
    return lookAt(this.body, this.clock[TIME]!)[SEEN_VY]! * this.body.ySign + 0;
  }
  /** −1 or 1: the last way pressed. */
  get facing(): number {
    return this.body.s[FACING]!;
  }
  /** Height of the hitbox at present, units. */
  get height(): number {
    return this.body.s[HEIGHT]!;
  }
  /** What holds it up: `ground`, `wall`, `ledge`, or nothing. */
  get support(): Support {
    return SUPPORTS[this.body.s[SUPPORT]!]!;
  }
  /** Which gravity acts. */
  get phase(): Phase {
    return this.body.phases[this.body.s[PHASE]!]!;
  }
  get pose(): PoseName {
    return this.body.poses[this.body.s[POSE]!]!;
  }
  /** Seconds spent in the pose, of its own time. */
  get poseTime(): number {
    return (ownTime(this.body.s, this.clock[TIME]!) - this.body.s[POSE_SINCE]!) * tempoOf(this.body);
  }
  /** Jumps that presses could start from here without touching the ground. */
  get jumpsLeft(): number {
    return jumpsLeft(this.body, this.clock[TIME]!);
  }
  /** The ground underfoot, units up for each unit across; 0 where it is level, or there is none. */
  get slope(): number {
    if (this.body.s[SUPPORT] !== GROUND || this.body.s[PIT] === 1) return 0;
    describe(this.body, this.body.s[EDGE]!, this.body.s[END]!, lookAt(this.body, this.clock[TIME]!)[OWN_X]!, ground);
    return ground[SLOPE]!;
  }
  /** How far the ground is below the middle of the feet, units: on a slope a corner stands on it. */
  get gap(): number {
    const { [OWN_X]: x, [OWN_Y]: y } = lookAt(this.body, this.clock[TIME]!);
    return gapUnder(this.body, x!, y!);
  }
  /** The surface underfoot; empty where it is plain, or there is none. */
  get surface(): string {
    return this.body.level.surfaces[surfaceUnder(this.body)]!.name;
  }
  /** The names of the zones that it is in. */
  get zones(): readonly string[] {
    return zonesOf(this.body).map(({ name }) => name);
  }
  /** The mover that carries it; empty where none does. */
  get mover(): string {
    const set = this.body.s[FRAME]!;
    return set > 0 ? this.body.level.movers[set - 1]!.name : '';
  }
  /** Where the middle of the feet is on what carries it: less the mover's offset, units, in the level's own axes. It stays the same to the last bit. */
  get aboard(): readonly [number, number] {
    const at = lookAt(this.body, this.clock[TIME]!);
    // (Adding 0 says that both are numbers with a point: engines would compile this anew over and over else.)
    return [at[OWN_X]! + 0, at[OWN_Y]! * this.body.ySign + 0];
  }
  /** In how many pieces of motion it was in the last tick. */
  get parts(): number {
    return 1 + (this.body.partsTick === this.clock[TICKS]! - 1 ? this.body.parts : 0);
  }

  /**
   * Calls `handler` for every event of this name, at its moment: that is the stage's time then, and places are those of that moment. What a handler asks of the
   * stage acts at that very moment too, once everyone has been told. It is given the event, the character itself, and of a meeting the other one; an error that it throws reaches whoever called `tick` when the tick has ended.
   * @returns a function that ends it
   * @throws RangeError where neither the core nor an ability of this character tells such an event
   */
  on(event: EventName, handler: Handler): () => void {
    const names = toldBy(this.body);
    if (!names.includes(event))
      throw new RangeError(`there is no event ${String(event)}; there are ${listOf(names, String(event))}`);
    if (typeof handler !== 'function')
      throw new RangeError(`the handler of ${event} is ${typeof handler}; it must be a function`);
    const list = this.handlers.get(event) ?? [];
    this.handlers.set(event, [...list, handler]);
    return () => {
      this.handlers.set(
        event,
        (this.handlers.get(event) ?? []).filter((kept) => kept !== handler),
      );
    };
  }

  /**
   * Gives the character another driver, or none. What the old one held is let go of.
   * @throws RangeError where it is no driver
   */
  drive(driver: Driver | undefined): void {
    checkDriver(driver);
    this.call({ drive: true }, () => {
      this.hands.give(driver);
      driver?.fresh?.();
    });
  }
  /** What plays it, if anything does. */
  get driver(): Driver | undefined {
    return this.body.driver as Driver | undefined;
  }
  /** Lets go of everything that is held; what the driver has not handed over yet does not count. */
  letGo(): void {
    this.call({ drive: true }, () => this.body.driver?.fresh?.());
  }
  /** How far an action is held: 0 to 1, −1 to 1 for `move`; 0 where no ability knows it. */
  held(action: string): number {
    const at = this.body.heldAt[knownAction(action)] ?? -1;
    return at < 0 ? 0 : this.body.s[at]!;
  }

  // Calls of the game. They act at once; made by an event handler, at the moment of the event, when all have been told. A recording keeps them.

  /**
   * Sends the character up, as a spring does: it rises by a height, counted as held until the next support.
   * @param height units
   * @throws RangeError where it is not a number of at least 0
   */
  hop(height: number): void {
    this.call({ hop: height });
  }

  /**
   * Sets the velocity, as a blow does.
   * @param vx units/s across, in the level's own axes
   * @param vy units/s up or down
   * @param options settings, each of which may be left out
   * @param options.lock steering returns evenly within so many seconds
   * @throws RangeError naming an argument that is out of range
   */
  shove(vx: number, vy: number, { lock = 0 }: { lock?: number } = {}): void {
    this.call({ shove: [vx, vy], lock });
  }

  /**
   * Puts the character somewhere else, at rest and with all its rights: at a spawn, or with the middle of its feet at (x, y).
   * Pictures do not slide there.
   * Inside something solid it is pushed out by the shortest way.
   * @throws RangeError where there is no such spawn or place; nothing is changed then
   */
  place(spawn: string): void;
  place(x: number, y: number): void;
  place(where: string | number, y?: number): void {
    this.call({ place: typeof where === 'string' ? where : [where, y ?? NaN] });
  }

  /**
   * Sets how many air jumps are left; none are where the tuning has no `airJumps`.
   * @throws RangeError where `count` is out of range
   */
  allow(right: 'airJumps', count: number): void {
    this.call({ allow: right, count });
  }

  /**
   * Gives the character another tuning, in the middle of whatever it does. Every different tuning that a character has had is kept for snapshots, about
   * 2 kB each.
   * @throws TuningError where the tuning is wrong, RangeError where a number of an ability is. Nothing is changed then. A body that has
   * grown into something solid is pushed out of it
   */
  retune(tuning: Tuning): void {
    this.call({ retune: tuning });
  }

  /**
   * Lets its own time stand still, as for the moment of a blow: it stays where it is (on what carries it) and keeps its velocity, timers and windows stand, and presses wait
   * until it goes on.
   * @param seconds how long from now on
   * @throws RangeError where that is not 0 to 60
   */
  freeze(seconds: number): void {
    this.call({ freeze: seconds });
  }
  /**
   * Lets its own time go faster or slower than the stage's, as in slow motion: it runs, jumps and falls as it does, only slower; timers, windows and poses too, and what is under way goes on.
   * What is the stage's stays as it is: movers, belts, currents, and numbers that the game gives.
   * @param share of the stage's time: 0.5 for half as fast, 1 for no difference
   * @throws RangeError where that is not 1/16 to 16
   */
  setTempo(share: number): void {
    this.call({ tempo: share });
  }
  /** How fast its own time goes, as a share of the stage's. */
  get tempo(): number {
    return tempoOf(this.body);
  }
  /** Whether its own time stands still. */
  get frozen(): boolean {
    return this.body.s[FROZEN]! > this.clock[TIME]!;
  }

  /**
   * Switches a box that it carries on or off.
   * @throws RangeError where it carries no such box
   */
  setBox(box: string, on: boolean): void {
    this.call({ box, on });
  }

  /** The boxes that it carries, where they are at this moment: the corner nearest the origin, in the level's own axes, units; and whether they are switched on. */
  get boxes(): readonly { name: string; x: number; y: number; width: number; height: number; on: boolean }[] {
    const { body } = this;
    const { s, ySign } = body;
    return body.boxes.map(({ name, left, bottom, right, top }, i) => {
      const x = this.x + (s[FACING]! > 0 ? left : -right);
      const y = this.y + (ySign > 0 ? bottom : -top);
      return { name, x: x + 0, y: y + 0, width: right - left, height: top - bottom, on: isOn(body, i) };
    });
  }
  /** What touches it at this moment, what holds it up first. */
  touching(): Touching[] {
    return touching(this.body, this.clock[TIME]!);
  }
  /** Which way y points in its level. */
  get yPoints(): 'down' | 'up' {
    return this.body.level.yPoints;
  }

  /** Makes the character deaf to input (everything held is let go of), or listen again. */
  listen(on: boolean): void {
    this.call({ listen: on });
  }
  /** Whether it listens to input. */
  get listening(): boolean {
    return this.body.s[DEAF] === 0;
  }

  /** Settles which way to go while both directions are held: `still`, the one pressed `latest`, or the one pressed `first`. */
  oppose(opposed: Opposed): void {
    this.call({ oppose: opposed });
  }
  get opposed(): Opposed {
    return OPPOSED[this.body.s[OPPOSED_BY]!]!;
  }

  /**
   * Passes through a layer of the level, or no longer.
   * @throws RangeError where the level has no such layer
   */
  ignore(layer: string, on = true): void {
    this.call({ ignore: layer, on });
  }

  /**
   * What to draw: where the character was at any moment of the last tick, exactly.
   * @param between how far into that tick, 0 to 1 (a stepper's `between`); 1 for its end
   * @throws RangeError where that is out of range
   */
  view(between = 1): Readonly<View> {
    checkBetween(between);
    const { body, seen, clock } = this;
    const time = clock[TIME]! - (1 - between) * clock[LASTED]!;
    // Which piece it was in then.
    const piece = between === 1 ? body : pieceAt(body, time, clock[TICKS]! - 1);
    const { s } = piece;
    const { motion, ySign } = body;
    const place = lookIn(body, piece, time);
    seen.x = place[SEEN_X]!;
    seen.y = place[SEEN_Y]! * ySign + 0;
    seen.facing = s[FACING]!;
    // The piece may have begun with another pose.
    const before = time < s[POSE_SINCE]!;
    const since = before ? s[POSE_WAS_SINCE]! : s[POSE_SINCE]!;
    seen.pose = body.poses[before ? s[POSE_WAS]! : s[POSE]!]!;
    const own = ownTime(s, time);
    const passed = own > since ? own - since : 0;
    seen.poseTime = passed * tempoOf(piece);
    seen.height = s[HEIGHT]!;
    seen.width = motion.width;
    seen.stepLag = -stepLag(s, time, motion.ground.speed) * ySign + 0;
    const gone = time - piece.clock[NOW]!;
    seen.strides = stridesAt(s, piece.path, piece.clock, motion.halfStride, gone > 0 ? gone : 0);
    seen.posePhase = posePhase(motion, seen.pose, passed, seen.strides, s, own);
    seen.landing = s[LANDING]! < motion.cap ? s[LANDING]! / motion.cap : 1;
    return seen;
  }

  /**
   * Goes into another room: another stage, with its motion, tuning, rights, timers, handlers and what is held; a held key goes on. Asked by an event handler, it goes at the
   * event's moment, when all have been told. A stage that it has left and that goes back to a moment at which it was there takes it back from wherever it is.
   * @param options settings, each of which may be left out
   * @param options.at a spawn's name, or the middle of the feet in that level's own axes; the spawn `start` unless given
   * @param options.facing −1 or 1; as it faces, unless given
   * @throws RangeError where there is no such spawn or place, or there is a character of its name
   */
  transfer(to: Room, options: { at?: string | readonly [number, number]; facing?: number } = {}): void {
    this.hands.transfer(to, options);
  }

  /**
   * The timers and slots of one of its abilities at this moment, as that has them; timers say what is left of them, s of its own time. The object is used again.
   * @throws RangeError where it has no such ability
   */
  ability(name: string): Readonly<Record<string, number>> {
    const { installed } = this.body;
    const one = installed.find((each) => each.ability.name === name);
    if (!one)
      throw new RangeError(
        `${this.name} has no ability ${name}; it has ${listOf(
          installed.map((each) => each.ability.name),
          name,
        )}`,
      );
    const { timers = [], slots = [] } = (one.ability as Ability).spec;
    const shown = (this.shown[name] ??= {});
    timers.forEach((timer, i) => {
      const left = this.body.s[one.base + i]! - ownTime(this.body.s, this.clock[TIME]!);
      shown[timer] = left > SLACK ? left * tempoOf(this.body) : 0;
    });
    slots.forEach((slot, i) => (shown[slot] = this.body.s[one.base + timers.length + i]!));
    return shown;
  }

  private readonly shown: Record<string, Record<string, number>> = {};

  /** @internal It is a body's again that it had before, wherever it has gone since. @returns who plays it, where it was another's */
  comeBack(body: Body, clock: Float64Array, hands: () => Hands): Driver | undefined {
    if (this.body === body) return undefined;
    const driver = this.hands.vacate();
    this.bind(body, clock, hands());
    return driver;
  }

  /** @internal It is another body's now. */
  bind(body: Body, clock: Float64Array, hands: Hands): void {
    this.body = body;
    this.clock = clock;
    this.hands = hands;
  }

  private call(call: HostCall, then?: () => void): void {
    this.hands.call(call, then);
  }

  /** @internal Calls `take` with the body whenever a piece of its motion ends. @returns a function that ends it */
  eachPiece(take: (body: Body) => void): () => void {
    const { onPiece } = this.body;
    onPiece.push(take);
    return () => void (onPiece.includes(take) && onPiece.splice(onPiece.indexOf(take), 1));
  }
  /** @internal Looks at the body in its present piece. */
  presentPiece<T>(look: (body: Body) => T): T {
    return look(this.body);
  }

  /** @internal Who is called for an event of this name; the list is never changed, only replaced. */
  handlersOf(event: EventName): readonly Handler[] | undefined {
    return this.handlers.get(event);
  }
}

/** A moment on a character's own time: while that stands still, the one since when. */
function ownTime(s: Float64Array, time: number): number {
  return s[FROZEN] !== 0 && time > s[FROZEN_SINCE]! ? s[FROZEN_SINCE]! : time;
}

/** The names of all events that a character can tell. */
function toldBy({ installed }: Body): readonly string[] {
  return [...EVENTS, ...installed.flatMap(({ ability }) => ability.spec.events ?? [])];
}
