import { listOf } from '../nearest.js';
import { compileLevel } from '../terrain/compile.js';
import type { WrittenLevel } from '../terrain/level.js';
import { type DrawnLevel, compileOutlines } from '../terrain/outlines.js';
import { type CarriedBox, readBoxes } from '../meetings/boxes.js';
import { carryOver } from './rooms.js';
import { intoFrame } from '../state/frame.js';
import type { Sight } from '../asking/sight.js';
import { Cast } from './cast.js';
import { type Ability, arrange, installAbilities } from '../abilities/ability.js';
import { abilities } from '../abilities/index.js';
import { MOST_LAID, type HostCall } from '../input/host.js';
import { HOST, checkDriver } from '../input/intents.js';
import type { Opposed } from '../input/opposed.js';
import { Recorder } from '../input/recording.js';
import type { InputRow } from '../input/script.js';
import { Body } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { BOXES_OFF, FACING, FIRST, IGNORES, OPPOSED_BY } from '../state/layout.js';
import type { CompiledLevel } from '../terrain/world.js';
import type { ChangedGround } from './ground.js';
import { checkBetween } from '../trace/between.js';
import { type Motion, compileTuning } from '../tuning/motion.js';
import type { Tuning } from '../tuning/tuning.js';
import { isGroup, showValue } from '../tuning/words.js';
import { Character, type Driver, type Handler, type Hands, type Room } from './character.js';
import { changeGround, layerBit, prepareCall, ruleOf } from './host.js';
import { type StageMover, movedByGame, moverNamed } from './mover.js';
import { StageMovers } from './movers.js';
import { putAt, spotOf } from './placing.js';
import { DrawnShapes, type StageShape } from './shapes.js';
import { Telling } from './telling.js';
import { END, LASTED, LENGTH, RATE, STAGE_CLOCK, START, TICKS, TIME, endTick, findEnd } from './time.js';
import { readDriver } from './reading.js';
import { type Stateful, States, fitMovers } from './states.js';
import { Play } from './play.js';
import type { Moving } from '../movers/moving.js';

/** How a character comes onto a stage. */
export interface AddOptions {
  /** A spawn's name, or the middle of the feet in the level's own axes; the spawn `start` unless given. */
  at?: string | readonly [number, number];
  /** −1 or 1; the spawn's unless given. */
  facing?: number;
  /** What events call it; `hero`, `hero2`, … unless given. */
  name?: string;
  driver?: Driver;
  /** Abilities of the game's own, besides the built-in ones. */
  abilities?: readonly Ability[];
  /** Both directions held: stand still (unless given), or go the one pressed latest or first. */
  opposed?: Opposed;
  /** Layers of the level that it passes through. */
  ignores?: readonly string[];
  /** Boxes that it carries besides its hitbox, by name: what others may meet. */
  boxes?: Readonly<Record<string, CarriedBox>>;
  /** Groups that it belongs to, as `foes`: what `meet` goes by. */
  groups?: readonly string[];
}

/** What every game needs of a running level: it owns time, terrain and characters. `tick` is the only way forward. */
export class BareStage {
  readonly level: CompiledLevel;
  /** @internal */
  protected readonly cast = new Cast();
  /** @internal */
  protected readonly bodies: readonly Body[] = this.cast.bodies;
  /** @internal */
  protected readonly telling = new Telling(this.cast);
  /** @internal */
  protected readonly clock = new Float64Array(STAGE_CLOCK);
  /** Whether a character has abilities of the game's own, which may throw. */
  private ownAbilities = false;
  /** @internal 1 for each named shape that is switched off, and for each zone. */
  protected readonly off: Uint8Array;
  /** @internal */
  protected readonly zonesOff: Uint8Array;
  /** @internal What its cells hold, once some of them have been changed. */
  protected ground: ChangedGround | undefined = undefined;
  /** @internal What there is to ask about. */
  protected readonly sight: Sight;
  /** @internal */
  protected readonly moved: StageMovers | undefined;
  /** @internal */
  protected readonly play: Play;
  private readonly states: States;
  /** Those who are recorded. */
  private readonly recorded: Body[] = [];
  /** While drivers are asked. */
  private reading = false;
  /** @internal */
  protected drawn: DrawnShapes | undefined = undefined;

  /**
   * @internal
   * @param level as it was compiled
   * @param here the same as this stage has it, whose ground may change
   */
  constructor(
    level: CompiledLevel,
    protected readonly here = level,
  ) {
    this.level = level;
    this.off = new Uint8Array(level.shapes.length);
    this.zonesOff = new Uint8Array(level.zones.length);
    this.moved = StageMovers.of(
      here,
      this.bodies,
      () => this.time,
      (call) => this.callMover(call),
      here !== level,
    );
    const { off, zonesOff, cast, clock, moving } = this;
    this.sight = {
      level: here,
      off,
      zonesOff,
      moving,
      cast,
      clock,
    };
    this.play = new Play(this.bodies, this.clock, this.telling, moving);
    this.states = new States(this.stateful());
  }

  /** What its states are made of. */
  private stateful(): Stateful {
    const { clock, off, zonesOff, cast, moved, level, here, play, telling } = this;
    const stage = (): BareStage => this;
    return {
      clock, off, zonesOff, cast, moved, level, here, play, telling,
      recall: (body) => this.recall(body),
      newGround: () => (this.ground ??= this.newGround()),
      get ground() {
        return stage().ground;
      },
      get moving() {
        return stage().moving;
      },
    }; // prettier-ignore
  }

  /** Where the movers are; nothing where there are none. */
  private get moving(): Moving | undefined {
    return this.here.movers.length > 0 ? this.moved!.moving : undefined;
  }

  /** Whether there are movers that the game moves. */
  private get hasFree(): boolean {
    return this.moved?.moving.hasFree === true;
  }

  /** @internal There are more movers than before, or fewer. */
  protected refit(): void {
    const { moving } = this;
    this.sight.moving = this.play.moving = moving;
    for (const body of this.bodies) fitMovers(body, moving);
  }

  /** Stage time, s: n / rate after n ticks of 1 / rate. While an event handler runs, the moment of its event. */
  get time(): number {
    return this.clock[TIME]!;
  }

  /** Ticks since the stage began. */
  get ticks(): number {
    return this.clock[TICKS]!;
  }

  /** Those who are on the stage, in the order in which they came first. */
  get characters(): readonly Character[] {
    return this.cast.characters;
  }

  /**
   * Puts a character on the stage.
   * It is there at once, for an event handler too.
   * @throws TuningError where the tuning is wrong; RangeError where an option is: no such spawn, layer or rule, a name taken, no driver
   */
  add(tuning: Tuning | Motion, options: AddOptions = {}): Character {
    const motion = motionOf(tuning);
    const { at = 'start', opposed = 'still' } = options;
    checkDriver(options.driver);
    const spot = spotOf(this.level, at);
    const facing = options.facing ?? spot.facing ?? 1;
    if (facing !== 1 && facing !== -1) throw new RangeError(`facing is ${String(facing)}; it must be 1 or -1`);
    const name = options.name ?? (this.cast.nextId === 0 ? 'hero' : `hero${this.cast.nextId + 1}`);
    if (this.cast.named(name)) throw new RangeError(`there is a character named ${name} already`);
    const carried = readBoxes(options.boxes ?? {}, this.level.yPoints === 'up' ? 1 : -1);
    const body = this.join(name, motion, arrange(BUILT_IN, options.abilities ?? []));
    body.boxes = carried.boxes;
    body.groups = [...(options.groups ?? [])];
    body.s[BOXES_OFF] = carried.off;
    body.s[FIRST] = facing;
    body.s[OPPOSED_BY] = ruleOf(opposed);
    for (const layer of options.ignores ?? []) body.s[IGNORES]! |= layerBit(this.level, layer);
    for (const near of body.nears) near.ignores = body.s[IGNORES]!;
    putAt(body, { ...spot, facing });
    body.driver = options.driver;
    return this.enter(body);
  }

  /** The body of a character. */
  private join(name: string, motion: Motion, abilities: readonly Ability[]): Body {
    const ySign = this.level.yPoints === 'up' ? 1 : -1;
    const body = new Body(name, motion, this.here, ySign, this.telling.queue, abilities, this.moving);
    installAbilities(body);
    body.clock[NOW] = this.time;
    for (const near of body.nears) near.off = this.off;
    body.zonesOff = this.zonesOff;
    body.onHost = (which, call) => {
      if ('placeAt' in call) this.takeMover(call, which);
      else if ('remove' in call) this.telling.ask(() => this.letGo(which, true));
      else prepareCall(this.level, which, call)();
    };
    body.onCrush = (which, crush) => this.play.crush(which, crush);
    this.ownAbilities ||= abilities.some((ability) => !BUILT_IN.includes(ability));
    return body;
  }

  /** @param id its number, where it has one on another stage already */
  private enter(body: Body, id?: number): Character {
    return this.seat(body, new Character(body, this.clock, this.handsOf(body)), id);
  }

  private seat(body: Body, character: Character, id?: number): Character {
    body.came = this.time;
    body.cameIn = this.ticks;
    this.cast.enter(body, character, id);
    this.play.enter(body);
    return character;
  }

  private handsOf(body: Body): Hands {
    return {
      call: (call, then) => this.call(body, call, then),
      give: (driver) => this.cast.setDriver(body, driver),
      vacate: () => this.vacate(body),
      transfer: (to, options) => this.send(body, to, options),
    };
  }

  /** A character that has gone to another room is in this one again. */
  private recall(body: Body): void {
    const { character } = this.cast.numbered(body.index)!;
    const driver = character.comeBack(body, this.clock, () => this.handsOf(body));
    if (driver !== undefined) this.cast.setDriver(body, driver);
  }

  /** A character goes back to a room that it came from. @returns who plays it */
  private vacate(body: Body): Driver | undefined {
    const { driver } = body;
    body.driver = undefined;
    this.telling.ask(() => this.letGo(body, true));
    return driver;
  }

  /** The number that a character had here before, where states with it fit the body that it has now. */
  private numberOf(character: Character, body: Body): number | undefined {
    const before = this.cast.before(character);
    const isLike =
      before !== undefined &&
      before.s.length === body.s.length &&
      before.installed.every(({ ability }, i) => ability === body.installed[i]?.ability) &&
      before.tunings.every((tuning, i) => tuning === body.tunings[i]);
    return isLike ? before.index : undefined;
  }

  /** @internal Forgets for good who was removed before a moment of stage time, and has not come back. */
  forgetBefore(moment: number): void {
    this.cast.forgetBefore(moment);
  }

  /** Sends a character to another stage. */
  private send(
    body: Body,
    to: Room,
    { at = 'start', facing }: { at?: string | readonly [number, number]; facing?: number },
  ): void {
    if (!(to instanceof BareStage)) throw new RangeError(`the room is ${showValue(to)}; it must be a stage`);
    if ((to as unknown) === this)
      throw new RangeError(`${body.name} is on that stage already; place puts it somewhere else there`);
    if (body.entry < 0) throw new RangeError(`${body.name} is not on the stage any more`);
    const spot = spotOf(to.level, at);
    if (facing !== undefined && facing !== 1 && facing !== -1)
      throw new RangeError(`facing is ${String(facing)}; it must be 1 or -1`);
    if (to.cast.named(body.name)) throw new RangeError(`there is a character named ${body.name} in that room already`);
    this.telling.ask(() => {
      if (body.entry < 0) return;
      this.play.bring(body);
      const { character } = this.cast.numbered(body.index)!;
      const other = to.join(body.name, body.motion, body.installed.map(({ ability }) => ability) as Ability[]);
      other.tunings.splice(0, 1, ...body.tunings);
      other.boxes = body.boxes;
      other.groups = body.groups;
      putAt(other, { ...spot, facing: facing ?? body.s[FACING]! });
      carryOver(body, other);
      other.driver = body.driver;
      body.driver = undefined;
      this.letGo(body, true);
      character.bind(other, to.clock, to.handsOf(other));
      to.seat(other, character, to.numberOf(character, other));
    });
  }

  /**
   * Takes a character off the stage, as it is at this moment; it can still be read. Asked by an event handler, it goes at the event's moment, when all have been
   * told. Going back in time to before that moment brings it back.
   * @param options settings, each of which may be left out
   * @param options.keep `false` forgets it for good, with all that it takes to bring it back (some 20 kB): for what comes and goes by the thousand. Snapshots in
   * which it is cannot be restored then
   * @throws RangeError where it is not on this stage
   */
  remove(who: Character, { keep = true }: { keep?: boolean } = {}): void {
    const body = this.bodyOf(who);
    if (this.telling.busy && body.driver?.hasCalls === true) return;
    this.telling.ask(() => this.letGo(body, keep));
  }

  private letGo(body: Body, keep: boolean): void {
    if (body.entry < 0) return;
    body.recorder?.forgetAfter(this.time);
    body.recorder?.call(this.time, { remove: true });
    this.play.bring(body);
    // It stays where it is, whatever carried it.
    intoFrame(body, 0);
    this.cast.leave(body, keep, this.time);
    this.play.leave(body);
    body.intents.count = body.nextIntent = 0;
  }

  private bodyOf(who: Character): Body {
    const body = this.cast.bodyOf(who);
    if (!body) throw new RangeError(`that character is not on this stage; there are ${this.names}`);
    return body;
  }

  private get names(): string {
    return this.bodies.map(({ name }) => name).join(', ') || 'none';
  }

  /** A stage of the same level that has not begun. */
  protected another(): this {
    return new BareStage(this.level) as this;
  }

  /**
   * Another stage of the same level in the same state, with the same characters: to look ahead, or to play the same keys with other tunings. What happens
   * there does not happen here, and nobody listens. A snapshot of this stage fits it, but for tunings that a character is given later.
   * @param drivers who plays them there, by the names of the characters; what is held stays held
   * @throws RangeError where there is no character of such a name
   */
  fork(drivers: Readonly<Record<string, Driver>> = {}): this {
    for (const name of Object.keys(drivers))
      if (!this.cast.named(name)) throw new RangeError(`there is no character ${name}; there are ${this.names}`);
    const other = this.another();
    for (const { name, motion, installed, tunings, index, boxes, groups } of this.bodies) {
      const abilities = installed.map(({ ability }) => ability);
      const body = other.join(name, motion, abilities as Ability[]);
      body.tunings.splice(0, 1, ...tunings);
      body.boxes = boxes;
      body.groups = groups;
      body.driver = drivers[name];
      body.driver?.fresh?.();
      other.enter(body, index);
    }
    other.cast.nextId = this.cast.nextId;
    if (this.ground !== undefined) {
      const { added, movers } = (other.ground = other.newGround());
      added.know(...this.ground.added.known);
      for (const mover of this.ground.movers.all) movers.know(mover);
    }
    other.restore(this.snapshot());
    return other;
  }

  /**
   * Switches a named shape off or on: a door, a crumbling plank. What stood on it falls; what is in its way when it comes back is pushed out. Asked by an
   * event handler, it waits until all have been told.
   * @throws RangeError where the level has no such shape
   */
  setShape(name: string, on: boolean): void {
    const shape = this.level.shapes.indexOf(name);
    if (shape < 0)
      throw new RangeError(
        `there is no shape ${name}; the level has ${listOf(this.level.shapes, name, 'none with a name')}`,
      );
    this.telling.ask(() => this.switchShape(shape, on ? 0 : 1));
  }

  private switchShape(shape: number, off: number): void {
    if (this.off[shape] === off) return;
    this.off[shape] = off;
    this.play.bringAll();
    for (const body of this.bodies) changeGround(body);
  }

  /** Whether a named shape is there. */
  hasShape(name: string): boolean {
    const shape = this.level.shapes.indexOf(name);
    return (
      (this.ground?.added.has(name) === true || (this.ground?.cells?.holds(name) ?? shape >= 0)) &&
      (shape < 0 || this.off[shape] === 0)
    );
  }

  /**
   * Switches a zone off or on: a coin that is taken, a current that ends. Who is in it is told that it has left it, or come into it. Of several with one name all are
   * meant. Asked by an event handler, it waits until all have been told.
   * @throws RangeError where the level has no such zone
   */
  setZone(name: string, on: boolean): void {
    const { zones } = this.level;
    if (!zones.some((zone) => zone.name === name))
      throw new RangeError(
        `there is no zone ${name}; the level has ${listOf(
          zones.map((zone) => zone.name),
          name,
        )}`,
      );
    const off = on ? 0 : 1;
    this.telling.ask(() => {
      let changed = false;
      for (let i = 0; i < zones.length; i++) {
        if (zones[i]!.name !== name || this.zonesOff[i] === off) continue;
        this.zonesOff[i] = off;
        changed = true;
      }
      if (changed) this.play.bringAll();
    });
  }

  /** Whether a zone is there. */
  hasZone(name: string): boolean {
    return this.level.zones.some((zone, i) => zone.name === name && this.zonesOff[i] === 0);
  }

  /** The zones of the level: the corners of their convex pieces, in its own axes, units; and whether they are switched on. */
  get zones(): readonly { name: string; tags: readonly string[]; on: boolean; pieces: readonly (readonly [number, number][])[] }[] {
    const sign = this.level.yPoints === 'up' ? 1 : -1;
    return this.here.zones.map(({ name, tags, pieces }, i) => ({
      name,
      tags,
      on: this.zonesOff[i] === 0,
      pieces: pieces.map(({ corners }) =>
        Array.from({ length: corners.length / 2 }, (_, k): [number, number] => [corners[2 * k]!, corners[2 * k + 1]! * sign + 0]),
      ),
    }));
  } // prettier-ignore

  /** What moves, in the order of the level. */
  get movers(): readonly StageMover[] {
    return this.moved?.list ?? NO_MOVERS;
  }

  /**
   * @param name as the level has it
   * @throws RangeError where there is no such mover
   */
  mover(name: string): StageMover {
    return moverNamed(this.movers, name);
  }

  /**
   * Everything solid, to draw: outlines in the level's own axes, each with the offset of what it belongs to. The list and its entries are used again.
   * @param between how far into the last tick the picture is, 0 to 1 (a stepper's `between`); 1 for its end
   * @throws RangeError where that is out of range
   */
  shapes(between = 1): readonly Readonly<StageShape>[] {
    checkBetween(between);
    const drawn = (this.drawn ??= new DrawnShapes(this.here));
    return drawn.at(this.moving, this.off, this.time - (1 - between) * this.clock[LASTED]!);
  }

  /** A call of the game on a mover; of an event handler, it waits until all have been told. */
  private callMover(call: HostCall): void {
    const [name, x, y] = 'moveTo' in call ? call.moveTo : 'placeAt' in call ? call.placeAt : ['', NaN, NaN];
    movedByGame(this.movers, name, x, y);
    if (this.telling.busy && this.bodies.some(({ driver }) => driver?.hasCalls === true)) return;
    this.telling.ask(() => this.takeMover(call));
  }

  /** @param by whose recording it is of, where it is one */
  private takeMover(call: HostCall, by?: Body): void {
    const { time } = this;
    if ('placeAt' in call) this.play.bringAll(by);
    this.moved?.take(call, time);
    // What is to be somewhere at a tick's end sets off at the start of the next one.
    const from = 'moveTo' in call ? this.clock[END]! : time;
    for (const { recorder } of this.recorded) if (by === undefined) recorder?.call(from, call);
  }

  /** Movers that were recorded to set off do so before anything moves. */
  private replayMovers(): void {
    for (const { intents } of this.cast.driven)
      for (let i = 0; i < intents.count; i++)
        if (intents.action[i] === HOST && 'moveTo' in intents.calls[i]!) this.moved!.take(intents.calls[i]!, this.time);
  }

  /**
   * Calls `listener` for every event of every character, in order, each at its moment: with the event, whom it is about, and who is met. What it asks of the stage acts at that moment too, once everyone has been told.
   * @returns a function that ends it
   * @throws RangeError where it is no function
   */
  listen(listener: Handler): () => void {
    return this.telling.listen(listener);
  }

  /**
   * Moves everything on by one tick. Where a driver, or an ability of the game, throws within it, the tick has not happened.
   * @param dt length of the tick, s; above 0 and at most 10
   * @param at when the tick starts on the drivers' clock, s; the stage's own clock unless given
   * @throws RangeError where an argument is out of range, or an event handler, a driver or an ability calls it. What event handlers throw reaches the caller
   * when all have been told; several errors as one AggregateError
   */
  tick(dt: number, at?: number): void {
    if (!(dt > 0 && dt <= 10))
      throw new RangeError(
        `dt is ${dt}; it must be above 0 and at most 10 seconds${dt > 10 && dt < 1000 ? ` (milliseconds? that is tick(${dt / 1000}))` : ''}`,
      );
    if (at !== undefined && !(Math.abs(at) < Infinity))
      throw new RangeError(`at is ${at}; it must be a moment on the drivers' clock, s`);
    const { telling } = this;
    if (telling.busy || this.reading)
      throw new RangeError(
        `tick was called by ${this.reading ? 'a driver' : telling.by}; one tick ends before the next begins`,
      );
    const c = this.clock;
    findEnd(c, dt);
    this.ground?.begin();
    if (this.isQuiet && this.play.isQuiet()) {
      endTick(c);
      return;
    }
    const mayFail = this.readDrivers(at) || this.ownAbilities;
    if (mayFail) this.states.keep();
    for (let i = 0; i < this.recorded.length; i++) this.recorded[i]!.recorder?.keep(this.recorded[i]!.intents);
    try {
      telling.playing = true;
      if (this.hasFree) this.beginMovers();
      if (this.ownAbilities) this.play.wakeEager();
      if (this.play.run()) {
        if (this.hasFree && this.moved!.finish()) this.play.bringAll();
        endTick(c);
      }
      telling.playing = false;
    } catch (error) {
      telling.drop();
      c[TIME] = c[START]!;
      if (mayFail) this.states.undo();
      for (const { recorder } of this.recorded) recorder?.takeBack();
      throw error;
    }
    telling.complain();
  }

  /** Whether nobody is to be asked at a tick's start. */
  private get isQuiet(): boolean {
    return this.cast.driven.length === 0 && !this.ownAbilities && !this.hasFree;
  }

  private beginMovers(): void {
    const { [START]: start, [END]: end } = this.clock;
    this.replayMovers();
    if (this.moved!.begin(start!, end!)) this.play.bringAll();
  }

  /** Asks all drivers. @returns whether one of them plays calls of the game */
  private readDrivers(at: number | undefined): boolean {
    const c = this.clock;
    let called = false;
    this.reading = true;
    try {
      for (let i = 0; i < this.cast.driven.length; i++) {
        const body = this.cast.driven[i]!;
        // Two stores: one of either would be boxed.
        if (at === undefined) body.intents.span[0] = c[START]!;
        else body.intents.span[0] = at;
        called = readDriver(body, this.cast.players[i]!, c) || called;
        if (body.intents.count > 0) this.play.plan(body);
      }
    } finally {
      this.reading = false;
    }
    return called;
  }

  /** A call of the game on a character. Made by an event handler, it waits until all have been told; one that is wrong is refused at once. */
  private call(body: Body, call: HostCall, then?: () => void): void {
    if (body.entry < 0) throw new RangeError(`${body.name} is not on the stage any more`);
    const act = prepareCall(this.level, body, call);
    const { telling } = this;
    if (telling.busy && body.driver?.hasCalls === true) return;
    telling.ask(() => {
      // It may have gone at this very moment.
      if (body.entry < 0) return;
      if (act.isIdle?.() === true) return;
      this.play.bring(body);
      const after = Math.min(body.laid, MOST_LAID);
      act();
      then?.();
      // What the driver was to press later in this tick does not count.
      if ('drive' in call) {
        body.intents.count = body.nextIntent = 0;
        body.recorder?.forgetAfter(this.time);
      }
      body.recorder?.call(this.time, after > 0 ? { ...call, after } : call);
    });
  }

  /**
   * Records what is asked of a character, from now on: its driver's intents and the game's calls. Played again by `script` in
   * the same level, with the same tuning and rate, they give the same bits.
   * @throws RangeError once there has been a tick since the character came: a recording begins at the beginning
   */
  record(who: Character): { rows: readonly InputRow[]; end(): void } {
    const body = this.bodyOf(who);
    const { came } = body;
    if (this.time > came)
      throw new RangeError(
        `the stage has ticked ${this.ticks - body.cameIn} times; a recording begins before the first`,
      );
    const recorder = (body.recorder = new Recorder());
    if (!this.recorded.includes(body)) this.recorded.push(body);
    const { clock } = this;
    const start = {
      get rate(): number {
        return clock[RATE]! > 0 ? clock[RATE]! : clock[LENGTH]! > 0 ? 1 / clock[LENGTH]! : 60;
      },
      spawn: [who.x, who.y] as const,
      facing: body.s[FACING]!,
      opposed: who.opposed,
    };
    return {
      get rows() {
        return [{ time: came, action: 'host', value: 0, call: { ...start } }, ...recorder.rows];
      },
      end: () => {
        body.recorder = undefined;
      },
    };
  }

  /** How many numbers a snapshot has. */
  get snapshotLength(): number {
    return this.states.length;
  }

  /**
   * Everything that is not constant, as numbers; who is there, too. Drivers keep their own state.
   * @param into an array of an earlier snapshot of this stage with the same characters, to be used again
   */
  snapshot(into?: Float64Array): Float64Array {
    return this.states.snapshot(into);
  }

  /**
   * Goes back (or forward) to a snapshot of this stage: those are there who were. Asked by an event handler, it waits until all have been told.
   * @throws RangeError where it is of another stage, or has a character that was removed for good, or one with a tuning that it never had here, or where one of
   * its numbers is none, or is no number that a stage can have there. Nothing is changed then
   */
  restore(snapshot: Float64Array): void {
    if (!(snapshot instanceof Float64Array)) throw new RangeError('a snapshot is a Float64Array that `snapshot` gave');
    this.states.check(snapshot);
    if (this.telling.busy) {
      const copy = snapshot.slice();
      this.telling.ask(() => this.states.goTo(copy));
    } else this.states.goTo(snapshot);
  }

  /** @internal What its cells hold, where they are to be changed. */
  protected newGround(): ChangedGround {
    throw new RangeError('the cells of this stage cannot be changed; openStage opens one whose can');
  }

  /** @internal Those who overlap at present, of those who are to meet: see `Meetings.list`. */
  protected get metNow(): readonly number[] {
    return this.states.metNow;
  }
  /** @internal The same as far as the state says so that the stage came from at this very moment. */
  protected get metAlready(): readonly number[] {
    return this.states.metAlready;
  }
}

/** A tuning, compiled or not. */
function motionOf(tuning: Tuning | Motion): Motion {
  return isGroup(tuning) && 'launch' in tuning ? tuning : compileTuning(tuning);
}

const NO_MOVERS: readonly StageMover[] = [];

/** The built-in abilities in their order. */
const BUILT_IN: readonly Ability[] = Object.values(abilities);

/**
 * Opens a level to run in, without what only some games need: questions to the level (`overlap`, `ray`, `sweep`), meetings, saves, cells that change (`setMark`) and shapes that are
 * added. A bundle of a game that opens its levels so does not have them; all else is as `openStage` has it.
 * @throws LevelError where the level is wrong
 * @example
 * ```ts
 * const small = openBare({ rows: ['@...', '####'] });
 * ```
 */
export function openBare(level: OpenLevel): BareStage {
  return new BareStage(compiledOf(level));
}

/** Every form in which a level can be opened: written in rows or drawn, compiled, or what a reader gives. */
export type OpenLevel = WrittenLevel | DrawnLevel | CompiledLevel | { readonly compiled: CompiledLevel };

export function compiledOf(level: OpenLevel): CompiledLevel {
  if (!isGroup(level)) return compileLevel(level);
  if ('terrain' in level) return level;
  if ('compiled' in level) return level.compiled;
  return 'outlines' in level ? compileOutlines(level) : compileLevel(level);
}
