import { listOf } from '../nearest.js';
import { boxNumber } from '../meetings/boxes.js';
import { zonesOf } from '../body/zones.js';
import { BESIDE, SLANT, forget } from '../state/touches.js';
import { upperEnd } from '../contact/sides.js';
import { AS_FAST, SLACK } from '../tolerance.js';
import { tellAlight } from '../contact/riding.js';
import { dropAll } from '../contact/drop.js';
import { findGround, ownSpeed, stretch, surfaceUnder } from '../contact/ground.js';
import { leaveAny, takeOff } from '../contact/leave.js';
import { feelAnew } from '../contact/feel.js';
import { cornerBeside, cutAtCorner } from '../contact/ledges.js';
import { cutWhereRoom, moveTo, resize } from '../contact/room.js';
import { standHere } from '../contact/stance.js';
import { actionCount, allActions, knownAction } from '../input/actions.js';
import { MVY, MX, MY } from '../movers/moving.js';
import type { Body, Installed } from '../state/body.js';
import {
  ACROSS_RATE,
  ACROSS_SET,
  ACROSS_TO,
  ASK,
  LOOK_AT,
  NOW,
  TOP,
  UP_PHASE,
  UP_RATE,
  UP_SET,
  UP_TO,
  WAITED,
} from '../state/clock.js';
import { turn } from '../state/facing.js';
import { intoFrame, pathTo } from '../state/frame.js';
import { AIRBORNE, AIR_SPENT, BOXES_OFF, COYOTE, EASING, EDGE, FACING, FRAME, GRIP, GRIP_SIDE, GROUND, HEIGHT, HIGHEST, JUMPING, LAUNCHED, LOCK_FOR, LOCK_FROM, LOCK_SINCE, NONE, ON_LEDGE, ON_WALL, RAMP, SHOWS_FOR, SHOWS_FROM, SUPPORT, SUPPORTS, type Support, TAKEN, USED_PRESS, VX, VY, WISH, X, Y } from '../state/layout.js'; // prettier-ignore
import { type JumpSource, forgetGrip, jumpSource, restoreAir } from '../state/rights.js';
import { PX, PY, cutAt } from '../sweep/path.js';
import { roots, rootsOfGap } from '../sweep/roots.js';
import { EVENTS, type EventName, type StageEvent } from '../trace/events.js';
import { FARTHEST } from '../tuning/keys.js';
import { type Motion, launchFor } from '../tuning/motion.js';

/** What a body has met: the kind of surface, and the speed against it. */
export interface Contact {
  side: 'feet' | 'head' | 'left' | 'right';
  /** units/s */
  speed: number;
}

const ground = stretch();

/**
 * What an ability sees of a character, and what it can do to it in one piece. Up is plus here, whichever way the level's
 * own axis points. Units, seconds, units/s. Each call refuses, as a RangeError that names the ability and the argument, what is no number or out of range.
 */
export class Control {
  private at!: Installed;

  /** @internal */
  constructor(private readonly body: Body) {}

  /** @internal Whose turn it is. */
  turnOf(installed: Installed): void {
    this.at = installed;
  }

  // ——— What is ———

  /** What the ground scales the height of a jump by; 1 in the air. */
  get jumpShare(): number {
    const { body } = this;
    return body.level.surfaces[surfaceUnder(body)]!.jump;
  }
  /** The compiled tuning. */
  get motion(): Motion {
    return this.body.motion;
  }
  /** The present moment, s of stage time. */
  get now(): number {
    return this.body.clock[NOW]!;
  }
  /** How fast the character's own time goes, as a share of the stage's. */
  get tempo(): number {
    return this.body.motion.tempo;
  }
  /** Middle of the feet. */
  get x(): number {
    return this.body.s[X]! + this.body.frame[MX]!;
  }
  get y(): number {
    return this.body.s[Y]! + this.body.frame[MY]!;
  }
  /** Velocity, measured from what holds the body up, which may move. Assigning it acts at once. */
  get vx(): number {
    return this.body.s[VX]!;
  }
  set vx(value: number) {
    this.check('vx', value);
    if (value !== this.body.s[VX]) this.body.s[EASING] = 0;
    this.body.s[VX] = value + 0;
  }
  get vy(): number {
    return this.body.s[VY]!;
  }
  set vy(value: number) {
    this.check('vy', value);
    const { s } = this.body;
    s[VY] = value + 0;
    if (value > 0 && s[SUPPORT] === GROUND) this.leave();
  }
  /** How fast it goes along the ground on its own feet, units/s: what carries it, or flows under it, does not count. In the air as when it left it. */
  get groundSpeed(): number {
    return ownSpeed(this.body);
  }
  /** Height of the hitbox. */
  get height(): number {
    return this.body.s[HEIGHT]!;
  }
  /** −1 or 1. Assigning another one turns the character. */
  get facing(): number {
    return this.body.s[FACING]!;
  }
  set facing(way: number) {
    if (!(way < 0 || way > 0)) throw this.wrong('facing', way, '-1 or 1');
    turn(this.body, way < 0 ? -1 : 1);
  }
  /** What holds it up. */
  get support(): Support {
    return SUPPORTS[this.body.s[SUPPORT]!]!;
  }
  /** What it stands on: `one-way` ground can be dropped through, unless something solid holds the body up as well. */
  get footing(): 'solid' | 'one-way' | '' {
    const { s, terrain } = this.body;
    if (s[SUPPORT] !== GROUND) return '';
    return terrain.oneWay[s[EDGE]!] === 1 && !findGround(this.body, s[X]!, s[Y]!, SOLID, ground) ? 'one-way' : 'solid';
  }
  /**
   * Switches a box that the character carries on or off from here on, as for a blow.
   * @throws RangeError where it carries no such box
   */
  setBox(box: string, on: boolean): void {
    const bit = 1 << boxNumber(this.body, box);
    const { s } = this.body;
    s[BOXES_OFF] = on ? s[BOXES_OFF]! & ~bit : s[BOXES_OFF]! | bit;
  }
  /** The names of the zones that it is in. */
  get zones(): readonly string[] {
    return zonesOf(this.body).map(({ name }) => name);
  }
  /** Whether a zone that it is in has a tag. */
  inTag(tag: string): boolean {
    const { level, s, zonesAt } = this.body;
    for (let i = 0; i < level.zones.length; i++)
      if (s[zonesAt + i] === 1 && level.zones[i]!.tags.includes(tag)) return true;
    return false;
  }
  /** The velocity up of the medium that it is in, units/s. */
  get currentUp(): number {
    return this.body.currentY;
  }
  /** On which side a wall is touched over at least half of the body, in the air: −1, 0 for none, 1. */
  get wall(): number {
    const { s } = this.body;
    return s[GRIP]! >= 0 ? s[GRIP_SIDE]! : 0;
  }
  /** On which side the last such wall was: −1 or 1. */
  get lastWall(): number {
    return this.body.s[GRIP_SIDE]!;
  }
  /** A number for the wall that is touched, the same for all its edges; −1 for none. */
  get wallId(): number {
    return this.body.s[GRIP]!;
  }
  /** Whether the body goes up, past the wall that it touches (which may move) if it touches one. */
  get risesPastWall(): boolean {
    const { s, nears, terrain, motion } = this.body;
    const rise = s[GRIP]! >= 0 ? nears[terrain.set[s[GRIP]!]!]!.motion[MVY]! : 0;
    // Past one that stands still it is exact: the apex is where the speed is 0.
    return s[VY]! - rise > (rise === 0 ? 0 : AS_FAST * motion.cap);
  }
  /** Whether the motion up and down is that of a jump: from a takeoff until the next support. */
  get jumping(): boolean {
    return this.body.s[JUMPING] === 1;
  }
  /** Moments of the last takeoff, and of leaving the last support. */
  get launched(): number {
    return this.body.s[LAUNCHED]!;
  }
  get airborneSince(): number {
    return this.body.s[AIRBORNE]!;
  }
  /** The velocity across of the medium that it is in, units/s. */
  get current(): number {
    return this.body.currentX;
  }
  /** Gravity while falling, units/s². */
  get falling(): number {
    return this.body.motion.falling * this.body.zoneGravity;
  }

  // ——— What is asked. Actions go by name, or by their number, which is quicker. ———

  /** The way the keys ask for, −1 to 1. */
  get wish(): number {
    return this.body.s[WISH]!;
  }
  /** The way that the run goes in this piece, −1 to 1; the wish unless assigned. */
  get ask(): number {
    return this.body.clock[ASK]!;
  }
  set ask(way: number) {
    if (!(way >= -1 && way <= 1)) throw this.wrong('ask', way, '-1 to 1');
    this.body.clock[ASK] = way;
  }
  /** Assigned: the top speed of the run in this piece. */
  set top(speed: number) {
    this.positive('top', speed);
    this.body.clock[TOP] = speed;
  }
  /** Whether an action is held down. */
  held(action: string | number): boolean {
    const at = this.body.heldAt[numberOf(action)] ?? -1;
    return at >= 0 && this.body.s[at]! > 0;
  }
  /** The moment of a press that waits to be taken, or −1. */
  waiting(action: string | number): number {
    const at = this.body.pressAt[numberOf(action)] ?? -1;
    return at < 0 ? -1 : this.body.s[at]!;
  }
  /** The moment at which an action was last pressed, taken or not. */
  pressedAt(action: string | number): number {
    const at = this.body.sinceAt[numberOf(action)] ?? -1;
    return at < 0 ? -1 : this.body.s[at]!;
  }
  /**
   * Takes a press: each is taken once.
   * @param within how old it may be, s; `grace.buffer` unless given
   */
  take(action: string | number, within = this.body.motion.buffer): boolean {
    if (!(within >= 0)) throw this.wrong('within', within, 'at least 0');
    const { s, clock, pressAt } = this.body;
    const at = pressAt[numberOf(action)] ?? -1;
    if (at < 0 || s[at]! < 0) return false;
    const waited = clock[NOW]! - s[at]!;
    if (waited > within + SLACK) return false;
    clock[WAITED] = waited;
    s[TAKEN] = s[at]!;
    s[at] = -1;
    return true;
  }
  /** The moment of the press that was taken last: the one that a takeoff uses, unless another is assigned. */
  get taken(): number {
    return this.body.s[TAKEN]!;
  }
  set taken(moment: number) {
    this.check('taken', moment);
    this.body.s[TAKEN] = moment;
  }
  /** Air jumps spent since they were last restored; below 0 where the game has allowed more. */
  get airSpent(): number {
    return this.body.s[AIR_SPENT]!;
  }
  /** The moment of the press that the last takeoff used. */
  get usedPress(): number {
    return this.body.s[USED_PRESS]!;
  }
  /** What a press of jump would start now. */
  get source(): JumpSource {
    return jumpSource(this.body);
  }

  // ——— What to do ———

  /** Stops the later abilities and the built-in run (`run`) for this piece, save those named in `but`. */
  claim({ but = NOBODY }: { but?: readonly string[] } = {}): void {
    const { body } = this;
    body.claims[body.claimed++] = but;
    if (body.showing < 0) body.showing = this.at.pose;
  }
  /**
   * Ends this piece where it begins, and starts the next at the same moment: for an ability that has changed what those
   * before it go by.
   */
  again(): void {
    this.claim();
    this.body.again = true;
  }
  /**
   * Asks to be asked again in so many seconds, if nothing else comes before: what this ability wants changes then by itself.
   * @param seconds at least a millionth
   */
  lookAgain(seconds: number): void {
    if (!(seconds >= 1e-6 && seconds < Infinity)) throw this.wrong('seconds', seconds, 'at least 0.000001');
    const { clock } = this.body;
    const at = clock[NOW]! + seconds;
    if (at < clock[LOOK_AT]!) clock[LOOK_AT] = at;
  }
  /**
   * Shows one of the ability's poses, its first unless named, as long as this is said in each piece.
   * @param since moment at which what it shows began, s of stage time, and how long that lasts, s: what `posePhase` says how far it is through
   */
  show(pose?: string, since = 0, lasts = 0): void {
    const { body } = this;
    this.check('since', since);
    this.positive('lasts', lasts);
    const number = pose === undefined ? this.at.pose : body.poses.indexOf(pose);
    if (number < 0 && pose !== undefined)
      throw new RangeError(
        `ability ${this.at.ability.name}: there is no pose ${pose}; there are ${body.poses.join(', ')}`,
      );
    if (body.showing >= 0) return;
    body.showing = number;
    body.s[SHOWS_FROM] = since;
    body.s[SHOWS_FOR] = lasts;
  }
  /**
   * Adds an event.
   * @throws RangeError where the core has no such event, and the ability does not list it under `events`
   */
  tell(event: EventName): void {
    const { name } = this.at.ability;
    const { spec } = this.at.ability;
    if (!(EVENTS as readonly string[]).includes(event) && spec.events?.includes(event) !== true)
      throw new RangeError(`ability ${name}: there is no event ${String(event)}; list it under \`events\``);
    this.body.tell(event);
  }
  /** Gravity of this piece, units/s², without end; the first ability to say one wins. */
  set gravity(value: number) {
    this.check('gravity', value);
    this.vertical(value > 0 ? -Infinity : Infinity, value > 0 ? value : -value);
  }
  /** Brings the speed up to `to` at `rate` (units/s²) in this piece; the first ability to say so wins. */
  vertical(to: number, rate: number): void {
    const { clock } = this.body;
    if (Number.isNaN(to)) throw this.wrong('to', to, 'a number');
    this.positive('rate', rate);
    if (clock[UP_SET] !== 0) return;
    clock[UP_SET] = 1;
    clock[UP_TO] = to;
    clock[UP_RATE] = rate;
    clock[UP_PHASE] = this.at.phase;
  }
  /** Falls at a gravity (units/s²) up to a terminal speed; a faster fall is braked at the falling gravity. */
  fall(gravity: number, terminal: number): void {
    this.positive('gravity', gravity);
    if (!(terminal >= 0)) throw this.wrong('terminal', terminal, 'at least 0');
    this.vertical(-terminal, this.body.s[VY]! < -terminal ? this.body.motion.falling : gravity);
  }
  /** Brings the speed across to `to` at `rate` (units/s²) in this piece, instead of the run; the first to say so wins. */
  across(to: number, rate: number): void {
    const { clock } = this.body;
    this.check('to', to);
    this.positive('rate', rate);
    if (clock[ACROSS_SET] !== 0) return;
    clock[ACROSS_SET] = 1;
    clock[ACROSS_TO] = to;
    clock[ACROSS_RATE] = rate;
  }
  /** Steering returns evenly from the present speed across, within so many seconds. */
  lock(seconds: number): void {
    this.positive('seconds', seconds);
    const { s, clock } = this.body;
    s[LOCK_SINCE] = clock[NOW]!;
    s[LOCK_FOR] = seconds;
    s[LOCK_FROM] = s[VX]!;
  }
  /** The launch speed of a jump that rises by a height, in this character's gravity. */
  speedFor(height: number): number {
    this.positive('height', height);
    return launchFor(this.body.motion, height);
  }
  /**
   * Takes off with the press that was taken last.
   * @param speed up, at least 0: it is set, never added to
   * @param by which right it uses; it is spent here
   * @param kept the jump counts as held until the next support
   */
  launch(speed: number, by: Exclude<JumpSource, ''> | 'charge' | 'hop', kept = false): void {
    const { body } = this;
    this.positive('speed', speed);
    const at = this.at;
    const left = beforeTakeoff(body);
    this.at = at;
    const told = body.tell('takeoff');
    told.by = by === 'wallCoyote' ? 'wall' : by;
    told.buffered = body.clock[WAITED]! > SLACK;
    if (by !== 'hop') body.s[USED_PRESS] = body.s[TAKEN]!;
    takeOff(body, speed, by, kept);
    leavesWith(body, left);
    // Abilities that came before, if there are any, may go by what has now changed; so may the feeling for walls.
    if (body.motion.walls || body.active[0] !== this.at) body.again = true;
  }
  /** Leaves the support without a jump; where nothing holds it up, nothing happens. */
  leave(): void {
    if (this.body.s[SUPPORT] === NONE) return;
    leaveAny(this.body);
    this.body.again = true;
  }
  /** Lets go of one-way ground: it is as if it were not there until the body is clear of it. */
  dropThrough(): void {
    const { s } = this.body;
    if (this.footing !== 'one-way') return;
    const told = this.body.tell('dropThrough');
    if (s[FRAME]! > 0) told.mover = this.body.level.movers[s[FRAME]! - 1]!.name;
    dropAll(this.body, this.body.terrain.piece[s[EDGE]!]!);
    this.leave();
  }
  /** Holds on to the wall at its side: that is a support without gravity of its own. */
  holdWall(): void {
    const { s, terrain } = this.body;
    intoFrame(this.body, terrain.set[s[GRIP]!]!);
    // Measured from what moves, the two go across alike but for rounding.
    if (Math.abs(s[VX]!) < AS_FAST * this.body.motion.cap) s[VX] = 0;
    s[SUPPORT] = ON_WALL;
    s[JUMPING] = 0;
    s[HIGHEST] = s[Y]!;
    s[RAMP] = 0;
  }
  /**
   * The ground's top corner on one side, whose height is that of a point so far above the feet, to within `touch`.
   * @param side −1 or 1
   * @param above height of the point above the feet
   * @param within how far the corner may be from the body's side
   * @returns a number for the corner, or −1
   */
  corner(side: number, above: number, within: number): number {
    this.checkCorner(side, above, within);
    return cornerBeside(this.body, side, above, within);
  }
  /** Where such a corner is, across. */
  cornerX(corner: number): number {
    this.checkEdge(corner);
    const { terrain, nears, frame } = this.body;
    return terrain.x1[corner]! + nears[terrain.set[corner]!]!.motion[MX]! + frame[MX]!;
  }
  /** And how high. */
  cornerY(corner: number): number {
    this.checkEdge(corner);
    const { nears, frame, terrain } = this.body;
    return upperEnd(terrain, corner) + nears[terrain.set[corner]!]!.motion[MY]! + frame[MY]!;
  }
  /** To be used by `watch`: ends the piece where the fall takes that point past such a corner. */
  cutAtCorner(side: number, above: number, within: number, but: number): void {
    this.checkCorner(side, above, within);
    cutAtCorner(this.body, side, above, within, but);
  }
  /**
   * Hangs at a corner, with a point so far above the feet level with it. The way there must be free.
   * @returns whether it was
   */
  hang(corner: number, side: number, above: number): boolean {
    this.checkEdge(corner);
    this.checkCorner(side, above, 0);
    const { body } = this;
    const { s, motion, terrain, nears } = body;
    const set = terrain.set[corner]!;
    const x = terrain.x1[corner]! - side * motion.half;
    const y = upperEnd(terrain, corner) - above;
    const { motion: m } = nears[set]!;
    if (!moveTo(body, x + m[MX]!, y + m[MY]!)) return false;
    intoFrame(body, set);
    s[X] = x + 0;
    s[Y] = y + 0;
    s[SUPPORT] = ON_LEDGE;
    s[VX] = s[VY] = 0;
    forget(s, BESIDE);
    forget(s, SLANT);
    forgetGrip(body);
    s[JUMPING] = 0;
    s[COYOTE] = 0;
    s[RAMP] = 0;
    s[EASING] = 0;
    s[LOCK_FOR] = 0;
    s[HIGHEST] = s[Y]!;
    turn(body, side);
    restoreAir(body, 'ledge');
    return true;
  }
  /** Moves the body at once, if the straight way there is free. */
  moveTo(x: number, y: number): boolean {
    this.place('x', x);
    this.place('y', y);
    const { frame } = this.body;
    return moveTo(this.body, x - frame[MX]!, y - frame[MY]!);
  }
  /** Whether the body could be moved by (dx, dy), and from there by (dx2, dy2). */
  isFree(dx: number, dy: number, dx2 = 0, dy2 = 0): boolean {
    this.place('dx', dx);
    this.place('dy', dy);
    this.place('dx2', dx2);
    this.place('dy2', dy2);
    const { s } = this.body;
    const x = s[X]!;
    const y = s[Y]!;
    const free = moveTo(this.body, x + dx, y + dy) && moveTo(this.body, x + dx + dx2, y + dy + dy2);
    s[X] = x;
    s[Y] = y;
    return free;
  }
  /** Stands on the ground that is level with the feet, if there is any. */
  stand(): boolean {
    if (!standHere(this.body)) return false;
    this.body.s[VY] = 0;
    return true;
  }
  /** Changes the height of the hitbox, feet unmoved. @returns whether there is room */
  resize(height: number): boolean {
    const { body } = this;
    if (!(height > 0 && height <= FARTHEST)) throw this.wrong('height', height, `above 0 and at most ${FARTHEST}`);
    if (height === body.hull.height) return true;
    if (!resize(body, height)) return false;
    feelAnew(body);
    // A wall may be held on to with another height.
    body.again = true;
    return true;
  }
  /** To be used by `watch`: ends the piece where there comes to be room for a hitbox of this height. */
  cutWhereRoom(height: number): void {
    this.positive('height', height);
    cutWhereRoom(this.body, height);
  }
  /** To be used by `watch`: ends the piece where the middle of the feet passes x. */
  cutAtX(x: number): void {
    this.check('x', x);
    this.cut(1, 0, x);
  }
  /** To be used by `watch`: ends the piece where the feet pass y. */
  cutAtY(y: number): void {
    this.check('y', y);
    this.cut(0, 1, y);
  }
  /** Where the path, seen in the level, first passes a line across or up. */
  private cut(nx: number, ny: number, line: number): void {
    const { body } = this;
    const { path, motion } = body;
    const seen = pathTo(body, 0);
    const gap = nx * seen[PX]! + ny * seen[PY]! - line;
    const count = Math.abs(gap) <= motion.touch / 2 ? 0 : rootsOfGap(seen, nx, ny, gap);
    if (count > 0) cutAt(path, roots[0]!);
  }
  /** What the last takeoff was lent by what moves, units/s across. */
  get lent(): number {
    return this.body.lentX;
  }
  // No ability may bring a body into no number, or out of the world.
  private wrong(what: string, value: number, must: string): RangeError {
    return new RangeError(`ability ${this.at.ability.name}: ${what} is ${value}; it must be ${must}`);
  }
  private check(what: string, value: number): void {
    if (!(Math.abs(value) < Infinity)) throw this.wrong(what, value, 'a finite number');
  }
  private positive(what: string, value: number): void {
    if (!(value >= 0 && value < Infinity)) throw this.wrong(what, value, 'a finite number of at least 0');
  }
  private place(what: string, value: number): void {
    if (!(Math.abs(value) <= FARTHEST)) throw this.wrong(what, value, `within ±${FARTHEST}`);
  }
  private checkCorner(side: number, above: number, within: number): void {
    if (side !== 1 && side !== -1) throw this.wrong('side', side, '-1 or 1');
    this.check('above', above);
    this.positive('within', within);
  }
  private checkEdge(corner: number): void {
    if (!(corner >= 0 && corner < this.body.terrain.count && corner === Math.floor(corner)))
      throw this.wrong('corner', corner, 'a number that `corner` gave');
  }
  /** Falling gravity begins anew: the ramp starts again. */
  freshFall(): void {
    this.body.s[RAMP] = 0;
  }
}

/** What abilities see of a body; made when first needed. */
export function controlOf(body: Body): Control {
  return (body.control ??= new Control(body)) as Control;
}

/** What is called before a takeoff, of what an ability is. */
interface TakesOff {
  takesOff?(c: Control, own: object, s: Record<string, number>): void;
}

/** Tells what a takeoff ends, before that itself is told: what its abilities do, and what carried the body. @returns that it has left that */
export function beforeTakeoff(body: Body): StageEvent | undefined {
  const control = controlOf(body);
  for (let i = 0; i < body.active.length; i++) {
    const one = body.active[i]!;
    const spec = one.ability.spec as TakesOff;
    if (spec.takesOff === undefined) continue;
    control.turnOf(one);
    spec.takesOff(control, one.own, one.state);
  }
  return tellAlight(body);
}

/** What carried it is left with the velocity that it takes off with. */
export function leavesWith(body: Body, left: StageEvent | undefined): void {
  if (left !== undefined) body.goesWith(left);
}

/** @throws RangeError where no ability has named such an action */
function numberOf(action: string | number): number {
  const number = typeof action === 'number' ? action : knownAction(action);
  if (!(number >= 0 && number < actionCount()))
    throw new RangeError(`there is no action ${action}; there are ${listOf(allActions(), String(action))}`);
  return number;
}

const SOLID = { way: 0, down: 0, solidOnly: true } as const;

const NOBODY: readonly string[] = [];
