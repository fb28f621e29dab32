import Flatbush from 'flatbush';
import type { Ability, CompiledLevel, Motion } from '../../core/index.js';
import type { Wanted } from './task.js';
import { farApart, type Place, type Places, type Wall } from './places.js';
import { Rise } from './rise.js';
import { Room, extentOf, type Flood } from './room.js';
import { MOST_AIRS, heightOf, limitsOf, type Limits, type Scene } from './sources.js';

/** By how little a place is out of reach: of height, of distance, of both, or there is no way to it that a body fits through. */
export interface Short {
  by: number;
  of: 'height' | 'distance' | 'both' | 'shut';
  /** From where it would be reached first. */
  from: Place | undefined;
}

/** A stretch that feet can be on: from left to right, and how high at least and at most, y up. */
export interface Stretch {
  left: number;
  right: number;
  low: number;
  high: number;
}

/** Slanted ground is looked at in pieces so wide, in body widths. */
const PIECE = 1;
/** Heights and distances nearer than so many body widths are the same. */
const SAME = 2 ** -14;
/** Corner corrections are so far apart, s. */
const APART = 0.1;
/** Drift off a wall before its jump is looked at in so many parts. */
const PARTS = 8;
/** A wall that is climbed in more steps than this is climbed to its top. */
const MOST_STEPS = 3000;

const NONE: ReadonlySet<number> = new Set();
/** What raises a wall by less does not count: less than what the curves are off by. */
const LITTLE = 1e-6;
/** Off walls so far is aimed, in body widths. */
const FAR = 40;

/** What jumps go by, with so many jumps in the air. */
interface Curves {
  limits: Limits;
  ground: Rise[];
  wall: Rise[];
}

/** Flights from a stretch, with so many jumps in the air. */
interface Flight {
  from: Place | undefined;
  one: Stretch;
  curves: Curves;
  rises: readonly Rise[];
  airs: number;
  /** Free room for the body as it may be on it. */
  room: Room;
}

/** Numbers of each flight in a table. */
const FLOWN = 5;

/** A flight that was looked at, and from where it leaves; beyond so far across it comes nowhere. */
interface Flown extends Omit<Flight, 'rises'> {
  rise: Rise;
  origin: Place | undefined;
  far: number;
}

/** A face to jump off: how high feet can be on it, with so many jumps in the air left; and for how often that has been raised. */
interface Held {
  left: number;
  right: number;
  bottom: number;
  top: number;
  height: Float64Array;
  raised: number;
}

/** What is out of reach for certain. It allows whatever anything could allow, and goes on from there. */
export class Bound {
  readonly allowed = new Set<Place>();
  /** From where each was allowed, where that was not reached. */
  readonly via = new Map<Place, Place>();
  private readonly plain: Curves;
  private readonly wild: Curves | undefined;
  private readonly stretches = new Map<Place, Stretch[]>();
  /** What is to be covered or entered, as if it were a place that nobody goes on from. */
  private readonly aims: readonly Place[];
  /** Faces too steep to stand on, as if they were places: between two of them, or one and a wall, somebody does. */
  private readonly faces: readonly Place[];
  private readonly walls: Held[];
  private lowRoom: Room | undefined;
  private tallRoom: Room | undefined;
  private readonly parts = new Set<number>();
  /** What no way that is free leads to, though it is near enough. */
  private readonly shut = new Map<Place, Short>();
  /** All flights that were looked at. */
  private readonly flown: Flown[] = [];
  /** All that a flight may lead to, with an index of their stretches: which of them each is of. */
  private readonly all: readonly Place[];
  private readonly index: Flatbush;
  private readonly owners: readonly number[];
  private readonly lowestOfAll: number;
  private readonly airs: number;
  private readonly same: number;
  private readonly hidden: boolean;
  private readonly least: number;
  private readonly drops: boolean;
  /** Whether nothing else makes it lower than room to stand does. */
  private readonly standsUp: boolean;
  private readonly anyLow: boolean;
  /** Where the level ends below, and above. */
  private readonly low: number;
  private readonly high: number;

  constructor(
    readonly level: CompiledLevel,
    readonly motion: Motion,
    readonly places: Places,
    wanted: readonly Wanted[] = [],
    abilities: readonly Ability[] = [],
    /** Whether the game itself may do anything: then nothing is ruled out. */
    private readonly isFree = false,
  ) {
    this.airs = Math.min(motion.airLaunch.length, MOST_AIRS);
    this.same = SAME * motion.width;
    const scene: Scene = { level, motion, abilities, zones: false };
    this.plain = curvesOf(limitsOf(scene), this.airs);
    const changing = level.zones.some(({ gravity, pace, currentX, currentY }) => gravity < 1 || pace > 1 || currentX !== 0 || currentY !== 0);
    this.wild = changing ? curvesOf(limitsOf({ ...scene, zones: true }), this.airs) : undefined;
    this.least = Math.min(motion.height, motion.full.crouch?.height ?? Infinity);
    const { bottom, top } = extentOf(level);
    this.low = bottom - motion.height;
    this.high = top + 2 * motion.height;
    this.drops = motion.full.drop !== undefined || abilities.length > 0 || level.movers.length > 0;
    this.standsUp = abilities.length === 0 && level.movers.length === 0;
    this.anyLow = places.list.some(({ kind }) => kind === 'low');
    this.hidden = level.terrain.ny.some((ny, e) => ny < 0 && level.terrain.oneWay[e] === 0);
    this.aims = wanted.map((one, i) => this.aimOf(one, -1 - i));
    for (const place of places.list) this.stretches.set(place, stretchesOf(place, level, motion));
    this.faces = this.steepFaces(-1 - wanted.length);
    this.walls = this.plain.limits.wall ? this.facesOf(places.walls) : [];
    this.all = [...places.list, ...this.faces, ...this.aims];
    const boxes = this.all.flatMap((place, i) => this.stretches.get(place)!.map((stretch) => ({ i, ...stretch })));
    this.owners = boxes.map(({ i }) => i);
    this.index = new Flatbush(Math.max(1, boxes.length));
    for (const { left, low, right, high } of boxes) this.index.add(left, low, right, high);
    if (boxes.length === 0) this.index.add(0, 0, 0, 0);
    this.index.finish();
    this.lowestOfAll = boxes.reduce((least, { low }) => Math.min(least, low), Infinity);
  } // prettier-ignore

  private aimOf({ kind, left, right, y, top }: Wanted, id: number): Place {
    const { half, height } = this.motion;
    // Of a zone only its lower side is known to be touched from below: all of it above.
    const [low, high] = [y - height, kind === 'zone' ? top : y];
    const place: Place = { id, key: '', set: 0, kind: 'ledge', xs: [left - half, right + half], ys: [low, high], edges: NONE, side: 0 };
    this.stretches.set(place, [{ left: left - half, right: right + half, low, high }]);
    return place;
  } // prettier-ignore

  /** Faces that are too steep to stand on and no walls, in pieces. */
  private steepFaces(first: number): Place[] {
    const { level, motion } = this;
    const { terrain } = level;
    const { half, steepest, width } = motion;
    const found: Place[] = [];
    for (let e = 0; e < terrain.count; e++) {
      const [nx, ny] = [terrain.nx[e]!, terrain.ny[e]!];
      if (ny <= 1e-9 || Math.abs(nx) <= steepest * ny) continue;
      const [x1, y1, x2, y2] = [terrain.x1[e]!, terrain.y1[e]!, terrain.x2[e]!, terrain.y2[e]!];
      const set = terrain.set[e]!;
      const face: Place = { id: first - found.length, key: '', set, kind: 'ledge', xs: [x1, x2], ys: [y1, y2], edges: NONE, side: 0 };
      const [left, bottom, right, top] = routeBox(level, set);
      const parts = Math.max(1, Math.ceil(Math.abs(y2 - y1) / (PIECE * width)));
      const at = (k: number): [number, number] => [x1 + ((x2 - x1) * k) / parts, y1 + ((y2 - y1) * k) / parts];
      this.stretches.set(face, Array.from({ length: parts }, (_, k) => {
        const [[xa, ya], [xb, yb]] = [at(k), at(k + 1)];
        return { left: Math.min(xa, xb) - half + left, right: Math.max(xa, xb) + half + right, low: Math.min(ya, yb) + bottom, high: Math.max(ya, yb) + top };
      }));
      found.push(face);
    }
    return found;
  } // prettier-ignore

  /** Whether something that is wanted may be covered or entered, of those that the search was told of. */
  mayCome(wanted: number): boolean {
    return this.allowed.has(this.aims[wanted]!);
  }

  /** Whether a place may be reached from another directly, as far as can be told without walls. */
  mayReach(from: Place, to: Place): boolean {
    return this.walls.length > 0 || this.isFree ? farApart(from, to) < FAR * this.motion.width : this.mayFly(from, to);
  }

  /** How much later than it must a flight from one place to another may leave, s, in closed form over open ground. */
  spare(from: Place, to: Place): number {
    let most = 0;
    for (const one of this.stretches.get(from)!) {
      const { limits, ground } = this.curvesFrom(one);
      const rise = ground[this.airs]!;
      for (const other of this.stretches.get(to)!) most = Math.max(most, rise.last(other.low - one.high - lipOf(limits, to) - this.same) - gapOf(one, other) / limits.speed);
    }
    return most;
  } // prettier-ignore

  /** Whether feet within a stretch at a height may be reached from a place directly. */
  mayCover(from: Place, left: number, right: number, y: number): boolean {
    if (this.walls.length > 0 || this.isFree) return true;
    const { half, height } = this.motion;
    const other = { left: left - half, right: right + half, low: y - height, high: y };
    return this.stretches.get(from)!.some((one) => {
      const curves = this.curvesFrom(one);
      return this.flies(curves, curves.ground[this.airs]!, this.airs, one, other, undefined).short === undefined;
    });
  } // prettier-ignore

  /**
   * Goes on from what was reached: all that may be reached from there is allowed.
   * @param enough ends it, once one of these is
   * @param first where it was before it stood anywhere, where that is in the air
   */
  goOnFrom(reached: readonly Place[], enough: readonly Place[] = [], first?: Stretch): void {
    const { allowed, via, shut, nearestKnown, parts, walls } = this;
    for (const one of [allowed, via, shut, nearestKnown, parts]) one.clear();
    this.flown.length = 0;
    this.table = new Float64Array(0);
    this.queue.length = 0;
    for (const wall of walls) {
      wall.height.fill(-Infinity);
      wall.raised = 0;
    }
    // Nobody has stood anywhere, or the game may put somebody anywhere: nothing is known.
    if (reached.length === 0 || this.isFree)
      for (const place of [...this.places.list, ...this.aims]) allowed.add(place);
    if (this.isFree) return;
    for (const place of reached) this.allow(place, undefined);
    for (const place of reached) for (const part of this.partsOf(place)) parts.add(part);
    if (first) for (const part of this.lowest.at(first.left, first.low)) parts.add(part);
    this.close(enough, first);
  }

  /** Whether going on from these would allow the same as was allowed last, from fewer: all of them were allowed then, in room that was open. */
  holdsFor(reached: readonly Place[]): boolean {
    return reached.every(
      (place) => this.allowed.has(place) && [...this.partsOf(place)].every((part) => this.parts.has(part)),
    );
  }

  /** Why a place is out of reach; undefined where it may be reached. */
  short(place: Place): Short | undefined {
    if (this.allowed.has(place)) return undefined;
    if (this.isShut(place)) return { by: 0, of: 'shut', from: undefined };
    return this.shut.get(place) ?? this.nearest(place);
  }

  /** Whether nobody comes into the room that a place is in. */
  private isShut(place: Place): boolean {
    return ![...this.partsOf(place)].some((part) => this.parts.has(part));
  }

  /** By how little all flights together fall short of a place that none of them comes near enough to; of several the first. */
  private nearest(to: Place): Short {
    const known = this.nearestKnown.get(to);
    if (known) return known;
    const { flown } = this;
    let best: Short = { by: Infinity, of: 'both', from: undefined };
    let first = Infinity;
    const stretches = this.stretches.get(to)!;
    const look = (i: number): void => {
      const { from, one, curves, rise, airs, room, origin } = flown[i]!;
      if (to.kind === 'low' && room === this.tallRoom) return;
      if (from && stretches.some((other) => this.isBeside(from, one, other))) return;
      for (const other of stretches) {
        const { short } = this.flies(curves, rise, airs, one, other, to, best.by);
        if (short && (short.by < best.by || (short.by === best.by && i < first))) [best, first] = [{ ...short, from: origin }, i];
      }
    };
    const table = this.flownTable();
    const { lip, reach } = this.wild?.limits ?? this.plain.limits;
    /** Whether all of it is so much too far away, or too high, that nothing closer need be looked at. */
    const isFarOff = (i: number, by: number): boolean => {
      const at = i * FLOWN;
      for (const { left, right, low } of stretches) {
        const up = low - table[at + 2]!;
        const gap = Math.max(left - table[at + 1]!, table[at]! - right, 0);
        const most = table[at + 3]!;
        // (Between the two, only what is slow enough is lifted.)
        const short = up <= most ? gap - table[at + 4]! : up > most + lip + reach + this.motion.width ? up - most - lip - this.same : -1;
        if (short <= by) return false;
      }
      return true;
    };
    // The nearest tells at once that most others do not count.
    let [near, least] = [-1, Infinity];
    for (let i = 0; i < flown.length; i++) {
      const gap = Math.max(stretches[0]!.left - table[i * FLOWN + 1]!, table[i * FLOWN]! - stretches[0]!.right, 0);
      if (gap < least) [near, least] = [i, gap];
    }
    if (near >= 0) look(near);
    for (let i = 0; i < flown.length; i++) {
      if (i !== near && !isFarOff(i, best.by)) look(i);
    }
    this.nearestKnown.set(to, best);
    return best;
  } // prettier-ignore
  private readonly nearestKnown = new Map<Place, Short>();

  /** Of each flight that was looked at: from where to where it leaves, how high at most, how far up and across it comes. */
  private flownTable(): Float64Array {
    if (this.table.length !== this.flown.length * FLOWN) this.table = Float64Array.from(this.flown.flatMap(({ one, rise, far, curves }) => [one.left, one.right, one.high, curves.limits.endlessUp ? Infinity : rise.most, far]));
    return this.table;
  } // prettier-ignore
  private table = new Float64Array(0);

  /** Free room for the body at its lowest. */
  private get lowest(): Room {
    return (this.lowRoom ??= new Room(this.level, this.motion, this.least, this.drops));
  }

  /** Free room for a flight: who is in the air stands up where there is room, and from ground on which it can stand that is at once. */
  private roomOf(from: Place | Held): Room {
    const { height } = this.motion;
    // Faces may have been come to from where only a low body has room.
    const isLow = 'id' in from && from.id >= 0 ? from.kind === 'low' : this.anyLow;
    if (isLow || this.least === height || !this.standsUp) return this.lowest;
    return (this.tallRoom ??= new Room(this.level, this.motion, height, this.drops));
  }

  /** The parts of the room that a place is in. */
  private partsOf(place: Place): ReadonlySet<number> {
    const known = this.partsKnown.get(place);
    if (known) return known;
    const found = new Set<number>();
    const room = this.lowest;
    for (const { left, right, low, high } of this.stretches.get(place)!) for (const x of [left, (left + right) / 2, right]) for (const y of new Set([low, (low + high) / 2, high])) for (const part of room.at(x, y)) found.add(part);
    this.partsKnown.set(place, found);
    return found;
  } // prettier-ignore
  private readonly partsKnown = new Map<Place, ReadonlySet<number>>();

  private readonly queue: (Place | Held)[] = [];

  private allow(place: Place, from: Place | undefined): void {
    if (this.allowed.has(place)) return;
    this.allowed.add(place);
    if (from) this.via.set(place, from);
    if (!this.aims.includes(place)) this.queue.push(place);
  }

  /** Goes on from all that is allowed. */
  private close(enough: readonly Place[], first: Stretch | undefined): void {
    const { queue, walls } = this;
    const open = new Set(this.all.filter((place) => !this.allowed.has(place) && !this.isShut(place)));
    const held = walls.filter(({ left, right, bottom, top }) => this.isOpen(left, right, bottom, top));
    const last = new Map<Held, Place>();
    // From where it begins it may have every jump, at most.
    const falls = first && this.curvesFrom(first);
    const begun: Flight[] = falls ? [{ from: undefined, one: first, curves: falls, rises: falls.ground, airs: this.airs, room: this.lowest }] : [];
    for (let from = begun.length > 0 ? undefined : queue.shift(); (from !== undefined || begun.length > 0) && open.size > 0; from = queue.shift()) {
      const origin = from === undefined ? undefined : 'id' in from ? (from.id < 0 ? this.via.get(from) : from) : last.get(from);
      for (const flight of from === undefined ? begun.splice(0) : this.flightsFrom(from)) {
        for (const to of this.landings(flight, open, origin)) {
          this.allow(to, origin);
          open.delete(to);
        }
        if (enough.some((place) => this.allowed.has(place))) {
          queue.length = 0;
          return;
        }
        for (const wall of this.raised(flight, held.filter((wall) => wall !== from || this.plain.limits.oneWall))) {
          if (origin) last.set(wall, origin);
          if (!queue.includes(wall)) queue.push(wall);
        }
      }
    }
  } // prettier-ignore

  /** Whether somebody may be along an upright line at all. */
  private isOpen(left: number, right: number, bottom: number, top: number): boolean {
    for (let y = Math.max(bottom, this.low); ; y = Math.min(y + this.least / 4, top)) {
      for (const x of [left, right]) for (const part of this.lowest.at(x, y)) if (this.parts.has(part)) return true;
      if (y >= Math.min(top, this.high)) return false;
    }
  }

  private *flightsFrom(from: Place | Held): Generator<Flight> {
    if ('id' in from)
      for (const one of this.stretches.get(from)!) {
        const curves = this.curvesFrom(one);
        yield { from, one, curves, rises: curves.ground, airs: this.airs, room: this.roomOf(from) };
      }
    else
      for (let airs = 0; airs <= this.airs; airs++)
        if (from.height[airs]! > -Infinity) for (const { one, curves } of this.offWall(from, from.height[airs]!)) yield { from: undefined, one, curves, rises: curves.wall, airs, room: this.roomOf(from) };
  } // prettier-ignore

  /** The open places that a flight may lead to. */
  private landings(flight: Flight, open: ReadonlySet<Place>, origin: Place | undefined): Place[] {
    const { from, one, curves, rises, airs } = flight;
    const rise = rises[airs]!;
    const { limits } = curves;
    const found: Place[] = [];
    const likely: { to: Place; other: Stretch; late: number }[] = [];
    const far = this.farOf(flight, rise);
    this.flown.push({ ...flight, rise, origin, far });
    for (const to of this.nearTo(one, limits, rise, far)) {
      if (!open.has(to)) continue;
      const stretches = this.stretches.get(to)!;
      if (from && stretches.some((other) => this.isBeside(from, one, other))) {
        found.push(to);
        continue;
      }
      // Nobody lands where only a low body has room but who has come low.
      if (to.kind === 'low' && flight.room === this.tallRoom) continue;
      for (const other of stretches) {
        const { late, short } = this.flies(curves, rise, airs, one, other, to);
        if (short === undefined) likely.push({ to, other, late });
      }
    }
    if (likely.length === 0) return found;
    const least = Math.min(...likely.map(({ to, other }) => other.low - lipOf(limits, to)));
    const come = this.flood(flight, rise, airs, least, Math.max(...likely.map(({ late }) => late)));
    for (const { to, other, late } of likely) {
      if (found.includes(to)) continue;
      const reach = reachOf(limits, to);
      if (flight.room.comesTo(come, other.left - reach, other.low - lipOf(limits, to) - this.same, other.right + reach, other.high, late)) found.push(to);
      else this.shut.set(to, { by: 0, of: 'shut', from: origin });
    }
    return found;
  } // prettier-ignore

  /** How far across a flight comes at most: until it has fallen below all that there is. */
  private farOf({ one, curves: { limits } }: Flight, rise: Rise): number {
    if (limits.endlessUp || limits.endlessAcross) return Infinity;
    const down = this.lowestOfAll - one.high - this.same;
    return (
      limits.speed * Math.max(0, rise.last(down), rise.lastSlow(down - limits.lip)) +
      this.mostShift(limits) +
      limits.reach +
      this.same
    );
  }

  /** What a flight may lead to at the most, in the order of all that there is. */
  private nearTo(one: Stretch, limits: Limits, rise: Rise, far: number): Place[] {
    const across = Math.max(far, this.motion.width) + this.same;
    const up = limits.endlessUp ? Infinity : Math.max(rise.most + limits.lip, limits.step, limits.hands) + 2 * this.same;
    const found = new Set(this.index.search(one.left - across, -Infinity, one.right + across, one.high + up).map((box) => this.owners[box]!));
    return [...found].sort((a, b) => a - b).map((i) => this.all[i]!);
  } // prettier-ignore

  /** Where a flight may come to in room that is free. */
  private flood({ from, one, curves: { limits }, room }: Flight, rise: Rise, jumps: number, lowest: number, latest: number): Flood {
    const above = limits.endlessUp ? (): number => Infinity : (time: number): number => one.high + rise.from(time) + this.same;
    // Jumps in the air are left after a fall.
    const again = limits.endlessUp ? Infinity : limits.ground.airs.slice().sort((a, b) => b - a).slice(0, jumps).reduce((sum, speed) => sum + heightOf(limits, speed), 0);
    const { late } = limits.ground;
    return room.flood(
      {
        ...one,
        above,
        speed: limits.endlessAcross ? Infinity : limits.speed,
        shift: this.shiftOf(limits, one, rise, jumps, -Infinity, one.left - limits.speed * latest, one.right + limits.speed * latest),
        most: limits.endlessUp ? Infinity : rise.most + this.same,
        // What leaves the ground upward without a jump may still jump on its way.
        again: again + (limits.ground.rise > 0 ? (limits.endlessUp ? Infinity : rise.most) : 0) + this.same,
        dips: from === undefined ? -Infinity : (limits.fastest.falling * late * late) / 2 + this.same,
      },
      // What has fallen lower than this comes up no more.
      lowest - again - (limits.ground.rise > 0 ? rise.most : 0),
      latest,
    );
  } // prettier-ignore

  /** Raises how high walls can be held after a flight. @returns those that are higher than before */
  private raised(flight: Flight, walls: readonly Held[]): Held[] {
    const { one, curves, rises, airs } = flight;
    const { limits } = curves;
    const found: Held[] = [];
    for (let jumps = 0; jumps <= airs; jumps++) {
      const rise = rises[jumps]!;
      const left = limits.airsByWall ? this.airs : airs - jumps;
      const most = this.mostShift(limits);
      const gapTo = ({ left: near, right: far }: Held): number => Math.max(near - one.right, one.left - far, 0) - this.same;
      const after = (wall: Held): number => {
        const gap = gapTo(wall);
        return limits.endlessAcross || gap <= 0 ? 0 : Math.max(0, gap - this.shiftOf(limits, one, rise, jumps, -Infinity, wall.left, wall.right)) / limits.speed;
      };
      const likely = walls.filter((wall) => {
        // Most are too far away, whatever corners help.
        if (!limits.endlessAcross && !limits.endlessUp && one.high + rise.from(Math.max(0, gapTo(wall) - most) / limits.speed) < wall.bottom) return false;
        const height = Math.min(limits.endlessUp ? Infinity : one.high + rise.from(after(wall)), wall.top);
        return height >= wall.bottom && height > wall.height[left]! + LITTLE;
      });
      if (likely.length === 0) continue;
      const least = Math.min(...likely.map(({ bottom }) => bottom));
      const come = this.flood(flight, rise, jumps, Math.max(least, this.low), limits.endlessUp ? Infinity : rise.last(Math.max(least, this.low) - one.high));
      for (const wall of likely) {
        const earliest = after(wall);
        const height = flight.room.highest(come, wall.left, wall.right, Math.max(wall.bottom, this.low), Math.min(wall.top, this.high), (time) => (limits.endlessUp ? Infinity : one.high + rise.from(Math.max(time, earliest))));
        let higher = false;
        for (let k = 0; k <= left; k++) {
          if (height <= wall.height[k]! + LITTLE) continue;
          wall.height[k] = ++wall.raised > MOST_STEPS ? wall.top : height;
          higher = true;
        }
        if (higher && !found.includes(wall)) found.push(wall);
      }
    }
    return found;
  } // prettier-ignore

  /** Whether a place is reached from another without a flight: over a step, or climbed up to from a ledge. */
  private isBeside(from: Place, one: Stretch, other: Stretch): boolean {
    const { limits } = this.plain;
    const gap = gapOf(one, other);
    const up = other.low - one.high;
    return (gap <= this.same && Math.abs(up) <= limits.step + this.same) || (from.kind === 'ledge' && up >= 0 && up <= limits.hands + this.same && gap <= this.motion.width);
  } // prettier-ignore

  private mayFly(from: Place, to: Place): boolean {
    return this.stretches.get(from)!.some((one) => {
      const curves = this.curvesFrom(one);
      return this.stretches.get(to)!.some((other) => this.isBeside(from, one, other) || this.flies(curves, curves.ground[this.airs]!, this.airs, one, other, to).short === undefined);
    });
  } // prettier-ignore

  /** Off a wall, having drifted from it for a while. */
  private *offWall(wall: Held, height: number): Generator<{ one: Stretch; curves: Curves }> {
    const stretch = { left: wall.left, right: wall.right, low: wall.bottom, high: height };
    const curves = this.curvesFrom(stretch);
    const { limits } = curves;
    const { late } = limits.wall!;
    const parts = late > 0 ? PARTS : 1;
    for (let k = 0; k < parts; k++) {
      const [before, after] = [(late * k) / parts, (late * (k + 1)) / parts];
      const fallen = (limits.fastest.down * before * before) / 2;
      const drift = Math.min(limits.speed * after, (limits.drift * after * after) / 2);
      yield { one: { ...stretch, left: wall.left - drift, right: wall.right + drift, high: height - fallen }, curves };
    }
  } // prettier-ignore

  /** Which motion there is from a stretch: that of zones where one is within reach. */
  private curvesFrom(one: Stretch): Curves {
    const { plain, wild, level } = this;
    if (wild === undefined) return plain;
    const { height } = this.motion;
    const touches = level.zones.some(({ pieces }) =>
      pieces.some(({ left, right, bottom, top }) => {
        const zone = { left: left - this.motion.half, right: right + this.motion.half, low: bottom - height, high: top };
        return [...plain.ground.slice(-1), ...plain.wall.slice(-1)].some((rise) => this.flies(plain, rise, this.airs, one, zone, undefined).short === undefined);
      }),
    );
    return touches ? wild : plain;
  } // prettier-ignore

  /**
   * Whether a flight leads from one stretch to another over open ground, and until when it may come there; by how much it does not.
   * @param known where it is short by so much or more, it is not asked by how much
   */
  private flies({ limits }: Curves, rise: Rise, jumps: number, one: Stretch, other: Stretch, to: Place | undefined, known = 0): { late: number; short?: Short } {
    const { same } = this;
    const gap = gapOf(one, other);
    const up = other.low - one.high;
    const lip = lipOf(limits, to);
    const reach = reachOf(limits, to);
    const late = limits.endlessUp ? Infinity : Math.max(rise.last(up - same), lip > 0 ? rise.lastSlow(up - lip - same) : -1);
    const height = limits.endlessUp ? 0 : up - rise.most - lip - same;
    if (late < 0) return { late, short: { by: Math.max(height, same), of: gap > reach + limits.speed * rise.last(0) ? 'both' : 'height', from: undefined } };
    const straight = limits.endlessAcross ? Infinity : limits.speed * late;
    const alone = gap - reach - straight - same;
    // Only where it falls short is it asked whether corners help; and which, only where they could.
    const least = alone <= 0 ? 0 : alone - this.mostShift(limits);
    const distance = least <= known ? (alone <= 0 ? 0 : alone - this.shiftOf(limits, one, rise, jumps, other.low - rise.most, other.left, other.right)) : least;
    return distance > 0 ? { late, short: { by: distance, of: 'distance', from: undefined } } : { late };
  } // prettier-ignore

  /**
   * How far corners may have moved it aside on a flight: once past each underside that is on the way, as whoever comes to the same corner again has gone back by as much; and no more often than there is time for.
   * @param lowest how low it may be when it rises for the last time
   * @param left from where to where the way is
   */
  private shiftOf(limits: Limits, one: Stretch, rise: Rise, jumps: number, lowest: number, left: number, right: number): number {
    const most = this.mostShift(limits);
    if (most === 0) return 0;
    const { level, motion, least } = this;
    const { terrain } = level;
    const { fastest, ground } = limits;
    const dips = (fastest.falling * ground.late * ground.late) / 2;
    const low = (jumps > 0 ? Math.min(lowest, one.low) : one.low) - dips + least - this.same;
    const high = limits.endlessUp ? Infinity : one.high + rise.most + motion.height + this.same;
    const far = motion.width + limits.shift;
    let met = 0;
    const isUnder = (e: number): boolean => terrain.ny[e]! < 0 && terrain.oneWay[e] === 0 && Math.max(terrain.y1[e]!, terrain.y2[e]!) >= low;
    for (let e = terrain.boundsFrom; e < terrain.count; e++) {
      // What moves may be met again and again.
      if (terrain.set[e]! > 0 && terrain.ny[e]! < 0) return most;
      if (isUnder(e)) met++;
    }
    terrain.index?.search(Math.min(left, one.left) - far, low, Math.max(right, one.right) + far, high).forEach((e: number) => {
      if (isUnder(e)) met++;
    });
    return Math.min(most, limits.shift * met);
  } // prettier-ignore

  /** The same at most, wherever it is. */
  private mostShift({ shift, fastest, ground, wall, endlessAcross }: Limits): number {
    if (shift === 0 || !this.hidden || endlessAcross) return 0;
    // Heads are moved aside while they rise: as long as all takeoffs together take to come to rest.
    const speeds = ground.rise + Math.max(ground.launch, wall?.launch ?? 0) + ground.airs.reduce((sum, speed) => sum + speed, 0);
    const rises = speeds / Math.min(fastest.above, fastest.up, fastest.rising);
    return shift * (1 + Math.ceil(rises / APART));
  } // prettier-ignore

  /** Faces to hold on to: half of the body beside them, wherever what they belong to moves. */
  private facesOf(still: readonly Wall[]): Held[] {
    const { level, motion } = this;
    const { terrain } = level;
    const height = (): Float64Array => new Float64Array(this.airs + 1).fill(-Infinity);
    const held = runsOf(still).flatMap(({ wall: { x, bottom, top, faces }, goesOn, long }): Held[] => {
      // Half of the body must be beside it, or beside what it goes on in.
      if (long < this.least / 2 - this.same) return [];
      return [{ left: x + faces * motion.half, right: x + faces * motion.half, bottom: bottom - (goesOn ? motion.height : motion.height / 2) - this.same, top: top - this.least / 2, height: height(), raised: 0 }];
    });
    for (let e = 0; e < terrain.count; e++) {
      const set = terrain.set[e]!;
      const leans = Math.abs(terrain.ny[e]!) <= motion.lean && Math.abs(terrain.ny[e]!) > 0;
      if ((set === 0 && !leans) || Math.abs(terrain.ny[e]!) > motion.lean) continue;
      const [left, bottom, right, top] = routeBox(level, set);
      const [x1, x2] = [Math.min(terrain.x1[e]!, terrain.x2[e]!), Math.max(terrain.x1[e]!, terrain.x2[e]!)];
      const [y1, y2] = [Math.min(terrain.y1[e]!, terrain.y2[e]!), Math.max(terrain.y1[e]!, terrain.y2[e]!)];
      held.push({ left: x1 + left - motion.half, right: x2 + right + motion.half, bottom: y1 + bottom - motion.height, top: y2 + top - this.least / 2, height: height(), raised: 0 });
    }
    return held;
  } // prettier-ignore
}

/** Faces with how long the upright run is that each is part of, and whether it goes on below. */
function runsOf(walls: readonly Wall[]): { wall: Wall; goesOn: boolean; long: number }[] {
  const sorted = walls.slice().sort((one, other) => one.x - other.x || one.faces - other.faces || one.bottom - other.bottom);
  const found: { wall: Wall; goesOn: boolean; long: number }[] = [];
  let run: typeof found = [];
  for (const wall of sorted) {
    const last = run[run.length - 1]?.wall;
    const goesOn = last !== undefined && last.x === wall.x && last.faces === wall.faces && last.top >= wall.bottom;
    if (!goesOn) run = [];
    run.push({ wall, goesOn, long: 0 });
    found.push(run[run.length - 1]!);
    const top = Math.max(...run.map((one) => one.wall.top));
    for (const one of run) one.long = top - run[0]!.wall.bottom;
  }
  return found;
} // prettier-ignore

function curvesOf(limits: Limits, airs: number): Curves {
  const list = (takeoff: Limits['ground'] | undefined, all: readonly number[]): Rise[] => (takeoff ? Array.from({ length: airs + 1 }, (_, k) => new Rise(limits.fastest, { ...takeoff, airs: all.slice(0, k) })) : []);
  // In the air the best come first: any of them may be left.
  const best = limits.ground.airs.slice().sort((one, other) => other - one);
  const wall = limits.wall && { ...limits.wall, late: 0 };
  return { limits, ground: list(limits.ground, best), wall: list(wall, best) };
} // prettier-ignore

/** How far up something lifts it onto a place. */
function lipOf(limits: Limits, to: Place | undefined): number {
  return to !== undefined && to.kind !== 'ledge' ? limits.lip : 0;
}

/** How far hands reach to a ledge. */
function reachOf(limits: Limits, to: Place | undefined): number {
  return to !== undefined && to.kind === 'ledge' && to.id >= 0 ? limits.reach : 0;
}

function gapOf(one: Stretch, other: Stretch): number {
  return Math.max(other.left - one.right, one.left - other.right, 0);
}

/** What the offset of a set of edges stays within: left, bottom, right, top. */
function routeBox({ movers }: CompiledLevel, set: number): readonly [number, number, number, number] {
  return movers[set - 1]?.route?.box ?? [0, 0, 0, 0];
}

/** The stretches of a place: slanted ones in pieces; on a mover wherever it goes. */
function stretchesOf({ set, xs, ys }: Place, level: CompiledLevel, motion: Motion): Stretch[] {
  const [left, bottom, right, top] = routeBox(level, set);
  const add = (x1: number, y1: number, x2: number, y2: number): Stretch => ({ left: x1 + left, right: x2 + right, low: Math.min(y1, y2) + bottom, high: Math.max(y1, y2) + top });
  if (xs.length === 1) return [add(xs[0]!, ys[0]!, xs[0]!, ys[0]!)];
  const found: Stretch[] = [];
  for (let i = 0; i + 1 < xs.length; i++) {
    const [x1, y1, x2, y2] = [xs[i]!, ys[i]!, xs[i + 1]!, ys[i + 1]!];
    const parts = y1 === y2 ? 1 : Math.max(1, Math.ceil((x2 - x1) / (PIECE * motion.width)));
    for (let k = 0; k < parts; k++) found.push(add(x1 + ((x2 - x1) * k) / parts, y1 + ((y2 - y1) * k) / parts, x1 + ((x2 - x1) * (k + 1)) / parts, y1 + ((y2 - y1) * (k + 1)) / parts));
  }
  return found;
} // prettier-ignore
