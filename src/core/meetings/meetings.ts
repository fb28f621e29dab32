import { SEEN_VX, SEEN_VY, SEEN_X, SEEN_Y, lookAt } from '../body/sight.js';
import { Agenda } from '../stage/agenda.js';
import type { Cast } from '../stage/cast.js';
import type { Character } from '../stage/character.js';
import { TICKS, TIME } from '../stage/time.js';
import type { Body } from '../state/body.js';
import { ENDS_AT, KIND, NOT_LAID } from '../state/clock.js';

import type { StageEvent } from '../trace/events.js';
import type { CompiledZone, ZonePiece } from '../terrain/zones.js';
import type { CompiledLevel } from '../terrain/world.js';
import { type Pair, closingSpeed, nextChange, reachOf, sideOf } from './gap.js';
import { lookInZone, mayCome, metInZone, nextInZone } from './zone-gap.js';

/** Who is meant: one character, or all of a group. */
export type Whom = Character | string;

/** Which zones are meant: those of a name, or those with a tag. */
export type Zones = { readonly zone: string } | { readonly tag: string };

interface Rule {
  readonly a: Whom;
  readonly b: Whom | Zones;
  /** The boxes that meet; empty for the hitbox. */
  readonly boxes: readonly [string, string];
}

interface Meeting extends Pair {
  /** The zone that the first one's box meets, or −1 where it meets the second: where it is a zone, the second is the first once more. */
  readonly zone: number;
  inside: boolean;
  /** Its entry of the agenda, and when it next changes. */
  readonly entry: number;
  readonly due: Float64Array;
}

/** A body as meetings know it: what it stays within in its present piece, the cells that this covers, and its pairs. */
interface Member {
  readonly body: Body;
  readonly reach: Float64Array;
  readonly cells: Int32Array;
  readonly pairs: Meeting[];
  /** In which look at the cells it was seen last. */
  seen: number;
}

/** A piece that covers more cells than this is looked at by everyone. */
const MOST_CELLS = 64;

/**
 * Who of a stage's characters meet, at the very moment. A pair is looked at when one of the two begins a piece, and only where what the two stay within comes together: bodies are
 * listed by the cells of a grid, so that the cost goes by those that are near one another.
 */
export class Meetings {
  private readonly rules: Rule[] = [];
  private readonly agenda = new Agenda();
  private readonly entries: (Meeting | undefined)[] = [];
  private readonly members = new Map<number, Member>();
  private readonly grid = new Map<number, Member[]>();
  private readonly large: Member[] = [];
  /** The side of a cell, units. */
  private cell = 0;
  private looks = 0;
  private readonly changing: Meeting[] = [];

  constructor(
    private readonly cast: Cast,
    private readonly clock: Float64Array,
    /** The stage's own level, and 1 for each of its zones that is switched off. */
    private readonly level: CompiledLevel,
    private readonly zonesOff: Uint8Array,
  ) {}

  /** From now on those meet. @returns a function that ends it */
  add(rule: Rule): () => void {
    this.rules.push(rule);
    // Who overlapped already at this very moment, in the state that it came from, has met.
    if (this.clock[TIME] === this.cameAt) this.beginKnown(this.came);
    this.lookAtAll();
    return () => {
      const at = this.rules.indexOf(rule);
      if (at >= 0) this.rules.splice(at, 1);
      for (const meeting of this.entries) if (meeting !== undefined && !this.isWanted(meeting)) this.end(meeting);
    };
  }

  /** What zones there are has changed. */
  lookAgain(): void {
    if (!this.rules.some(({ b }) => isZones(b))) return;
    for (const meeting of this.entries) if (meeting !== undefined && meeting.zone >= 0) this.plan(meeting);
    for (const member of this.members.values()) this.considerZones(member);
  }

  private piecesOf(zone: number): readonly ZonePiece[] {
    return this.zonesOff[zone] === 1 ? NO_PIECES : this.level.zones[zone]!.pieces;
  }

  /** A body has begun a piece. */
  laid(body: Body): void {
    if (this.rules.length === 0) return;
    const member = this.memberOf(body);
    this.place(member);
    for (let i = member.pairs.length - 1; i >= 0; i--) {
      const meeting = member.pairs[i]!;
      const mayStill =
        meeting.zone >= 0
          ? mayCome(member.reach, this.piecesOf(meeting.zone))
          : comeTogether(member.reach, this.members.get((meeting.a === body ? meeting.b : meeting.a).index)!.reach);
      if (!meeting.inside && !mayStill) this.end(meeting);
      else this.plan(meeting);
    }
    this.considerZones(member);
    this.looks++;
    member.seen = this.looks;
    const { cells } = member;
    if (cells[4] === 1) for (const other of this.members.values()) this.consider(member, other);
    else {
      for (let x = cells[0]!; x <= cells[2]!; x++)
        for (let y = cells[1]!; y <= cells[3]!; y++) {
          const there = this.grid.get(keyOf(x, y));
          if (there !== undefined) for (let i = 0; i < there.length; i++) this.consider(member, there[i]!);
        }
      for (let i = 0; i < this.large.length; i++) this.consider(member, this.large[i]!);
    }
  }

  /** A body has gone: whoever it met is told that they have parted. */
  leave(body: Body): void {
    const member = this.members.get(body.index);
    if (member === undefined) return;
    for (const meeting of [...member.pairs]) {
      if (meeting.inside) this.tell(meeting, 'part');
      this.end(meeting);
    }
    this.unplace(member);
    this.members.delete(body.index);
  }

  /** Stores the moment of the next change where it comes before what is there. */
  soonest(into: Float64Array): void {
    this.agenda.soonest(into);
  }

  isDue(by: number): boolean {
    return this.agenda.isDue(by);
  }

  /** Tells who meets and who parts by a moment. */
  meetAt(now: number): void {
    const { agenda, changing } = this;
    while (agenda.isDue(now)) {
      const meeting = this.entries[agenda.first]!;
      changing.push(meeting);
      agenda.never(meeting.entry);
    }
    if (changing.length === 0) return;
    // By who came first, then by their boxes: not by which was looked at first.
    changing.sort(inOrder);
    for (let i = 0; i < changing.length; i++) {
      const meeting = changing[i]!;
      meeting.inside = !meeting.inside;
      this.tell(meeting, meeting.inside ? 'meet' : 'part');
    }
    for (let i = 0; i < changing.length; i++)
      if (this.entries[changing[i]!.entry] === changing[i]) this.plan(changing[i]!);
    changing.length = 0;
  }

  /** Those who overlap at present: of each pair the first one's number and box, and the second one's; −1 less a zone's number, and −1, for that. */
  list(): number[] {
    return this.entries
      .filter((meeting) => meeting?.inside === true)
      .sort((one, two) => inOrder(one!, two!))
      .flatMap((meeting) => {
        const { a, b, boxA, boxB, zone } = meeting!;
        return [a.index, boxA, zone >= 0 ? -1 - zone : b.index, boxB];
      });
  }

  /** The state is another one: these overlap. */
  renew(list: readonly number[]): void {
    for (const meeting of this.entries) if (meeting !== undefined) this.end(meeting);
    for (const member of this.members.values()) this.unplace(member);
    this.members.clear();
    this.cameAt = this.clock[TIME]!;
    this.came.length = 0;
    for (let i = 0; i < list.length; i++) this.came.push(list[i]!);
    this.beginKnown(this.came);
    this.lookAtAll();
  }
  /** Those who overlapped when the state became another one, whoever asked for them, and when that was. */
  private readonly came: number[] = [];
  private cameAt = NaN;

  /** Those overlap, as far as somebody asks for them. */
  private beginKnown(list: readonly number[]): void {
    for (let i = 0; i < list.length; i += 4) {
      const a = this.cast.numbered(list[i]!)?.body;
      const zone = list[i + 2]! < 0 ? -1 - list[i + 2]! : -1;
      const b = zone >= 0 ? a : this.cast.numbered(list[i + 2]!)?.body;
      if (a === undefined || b === undefined) continue;
      const meeting = { a, b, boxA: list[i + 1]!, boxB: list[i + 3]!, zone };
      if (!this.isWanted(meeting) || this.knows(meeting)) continue;
      const begun = this.begin(a, meeting.boxA, b, meeting.boxB, zone);
      begun.inside = true;
      this.plan(begun);
    }
  }

  private knows({ a, b, boxA, boxB, zone }: Pair & { readonly zone: number }): boolean {
    return this.members.get(a.index)?.pairs.some((one) => one.a === a && one.b === b && one.boxA === boxA && one.boxB === boxB && one.zone === zone) === true; // prettier-ignore
  }

  private lookAtAll(): void {
    for (const body of this.cast.bodies) if (body.clock[KIND] !== NOT_LAID) this.laid(body);
  }

  private memberOf(body: Body): Member {
    let member = this.members.get(body.index);
    if (member === undefined) {
      member = { body, reach: new Float64Array(4), cells: new Int32Array([0, 0, -1, -1, 0]), pairs: [], seen: 0 };
      this.members.set(body.index, member);
      if (this.cell === 0) this.cell = 4 * (body.motion.width + body.motion.height);
    }
    return member;
  }

  /** Lists a body under the cells that its present piece covers. */
  private place(member: Member): void {
    const { body, reach, cells } = member;
    reachOf(body, -1, reach);
    for (let i = 0; i < body.boxes.length; i++) {
      reachOf(body, i, box);
      if (box[0]! < reach[0]!) reach[0] = box[0]!;
      if (box[1]! < reach[1]!) reach[1] = box[1]!;
      if (box[2]! > reach[2]!) reach[2] = box[2]!;
      if (box[3]! > reach[3]!) reach[3] = box[3]!;
    }
    const left = Math.floor(reach[0]! / this.cell);
    const bottom = Math.floor(reach[1]! / this.cell);
    const right = Math.floor(reach[2]! / this.cell);
    const top = Math.floor(reach[3]! / this.cell);
    const large = (right - left + 1) * (top - bottom + 1) > MOST_CELLS;
    if (
      cells[4] === (large ? 1 : 0) &&
      (large || (cells[0] === left && cells[1] === bottom && cells[2] === right && cells[3] === top))
    )
      return;
    this.unplace(member);
    cells[4] = large ? 1 : 0;
    if (large) {
      this.large.push(member);
      return;
    }
    cells[0] = left;
    cells[1] = bottom;
    cells[2] = right;
    cells[3] = top;
    for (let x = left; x <= right; x++)
      for (let y = bottom; y <= top; y++) {
        const there = this.grid.get(keyOf(x, y));
        if (there === undefined) this.grid.set(keyOf(x, y), [member]);
        else there.push(member);
      }
  }

  private unplace(member: Member): void {
    const { cells } = member;
    if (cells[4] === 1) remove(this.large, member);
    else
      for (let x = cells[0]!; x <= cells[2]!; x++)
        for (let y = cells[1]!; y <= cells[3]!; y++) {
          const there = this.grid.get(keyOf(x, y))!;
          remove(there, member);
          if (there.length === 0) this.grid.delete(keyOf(x, y));
        }
    cells[2] = cells[3] = -1;
    cells[0] = cells[1] = cells[4] = 0;
  }

  /** Looks whether two that are near one another are to meet. */
  private consider(member: Member, other: Member): void {
    if (other.seen === this.looks || other.body.clock[KIND] === NOT_LAID) return;
    other.seen = this.looks;
    if (!comeTogether(member.reach, other.reach)) return;
    const first = member.body.index < other.body.index ? member.body : other.body;
    const second = first === member.body ? other.body : member.body;
    for (let i = 0; i < this.rules.length; i++) {
      const rule = this.rules[i]!;
      if (isZones(rule.b)) continue;
      if (isMeant(rule.a, first, this.cast) && isMeant(rule.b, second, this.cast))
        this.ensure(first, rule.boxes[0], second, rule.boxes[1]);
      if (isMeant(rule.b, first, this.cast) && isMeant(rule.a, second, this.cast))
        this.ensure(first, rule.boxes[1], second, rule.boxes[0]);
    }
  }

  /** Looks which zones a body's boxes are to meet, of those that it may come to. */
  private considerZones(member: Member): void {
    for (let i = 0; i < this.rules.length; i++) {
      const { a, b, boxes } = this.rules[i]!;
      if (!isZones(b) || !isMeant(a, member.body, this.cast)) continue;
      const own = boxes[0] === '' ? -1 : member.body.boxes.findIndex(({ name }) => name === boxes[0]);
      if (boxes[0] !== '' && own < 0) continue;
      for (let zone = 0; zone < this.level.zones.length; zone++) {
        if (!isOf(this.level.zones[zone]!, b) || !mayCome(member.reach, this.piecesOf(zone))) continue;
        if (member.pairs.some((meeting) => meeting.zone === zone && meeting.boxA === own)) continue;
        this.plan(this.begin(member.body, own, member.body, -1, zone));
      }
    }
  }

  private ensure(a: Body, nameA: string, b: Body, nameB: string): void {
    // One of a group need not carry the box.
    const boxA = nameA === '' ? -1 : a.boxes.findIndex(({ name }) => name === nameA);
    const boxB = nameB === '' ? -1 : b.boxes.findIndex(({ name }) => name === nameB);
    if ((nameA !== '' && boxA < 0) || (nameB !== '' && boxB < 0)) return;
    const { pairs } = this.members.get(a.index)!;
    for (let i = 0; i < pairs.length; i++) {
      const pair = pairs[i]!;
      if (pair.zone < 0 && pair.a === a && pair.b === b && pair.boxA === boxA && pair.boxB === boxB) return;
    }
    this.plan(this.begin(a, boxA, b, boxB));
  }

  private begin(a: Body, boxA: number, b: Body, boxB: number, zone = -1): Meeting {
    const entry = this.agenda.add(0);
    const meeting: Meeting = { a, b, boxA, boxB, zone, inside: false, entry, due: new Float64Array(1) };
    this.entries[entry] = meeting;
    this.memberOf(a).pairs.push(meeting);
    if (zone < 0) this.memberOf(b).pairs.push(meeting);
    return meeting;
  }

  private end(meeting: Meeting): void {
    this.agenda.drop(meeting.entry);
    this.entries[meeting.entry] = undefined;
    for (const body of [meeting.a, meeting.b]) {
      const member = this.members.get(body.index);
      if (member !== undefined) remove(member.pairs, meeting);
    }
  }

  /** Finds when a pair next changes. */
  private plan(meeting: Meeting): void {
    const { a, b, due, inside } = meeting;
    // One that is to begin a piece at this moment is looked at then.
    const ready = a.clock[KIND] !== NOT_LAID && b.clock[KIND] !== NOT_LAID;
    const until = Math.min(a.clock[ENDS_AT]!, b.clock[ENDS_AT]!);
    if (!ready) due[0] = Infinity;
    else if (meeting.zone >= 0)
      due[0] = nextInZone(a, meeting.boxA, this.piecesOf(meeting.zone), inside, this.clock[TIME]!, until);
    else due[0] = nextChange(meeting, inside, this.clock[TIME]!, until);
    this.agenda.set(meeting.entry, due, 0);
  }

  /** Whether those of a pair are to meet. */
  private isWanted({ a, b, boxA, boxB, zone }: Pair & { readonly zone: number }): boolean {
    const { cast } = this;
    const nameA = boxA < 0 ? '' : a.boxes[boxA]?.name;
    const nameB = boxB < 0 ? '' : b.boxes[boxB]?.name;
    return this.rules.some(({ a: one, b: other, boxes }) => {
      if (isZones(other)) {
        const known = this.level.zones[zone];
        return known !== undefined && isOf(known, other) && isMeant(one, a, cast) && boxes[0] === nameA;
      }
      if (zone >= 0) return false;
      return (
        (isMeant(one, a, cast) && isMeant(other, b, cast) && boxes[0] === nameA && boxes[1] === nameB) ||
        (isMeant(other, a, cast) && isMeant(one, b, cast) && boxes[1] === nameA && boxes[0] === nameB)
      );
    });
  }

  /** Tells both of a pair; of a zone, who met it. */
  private tell(meeting: Meeting, event: 'meet' | 'part'): void {
    const { a, b, boxA, boxB, zone } = meeting;
    if (zone >= 0) {
      const { name, tags, pieces } = this.level.zones[zone]!;
      lookInZone(a, boxA, pieces, this.clock[TIME]!);
      const told = this.tellOne(a, boxA, event, metInZone.side, event === 'meet' ? metInZone.speed : 0);
      told.zone = name;
      told.tags = tags;
      return;
    }
    const side = sideOf(meeting, this.clock[TIME]!);
    const speed = event === 'meet' ? closingSpeed(side) : 0;
    this.tellBody(a, boxA, b, boxB, event, side, speed);
    this.tellBody(b, boxB, a, boxA, event, OPPOSITE[side], speed);
  }

  private tellBody(
    body: Body,
    own: number,
    other: Body,
    its: number,
    event: 'meet' | 'part',
    side: 'left' | 'right' | 'top' | 'bottom',
    speed: number,
  ): void {
    const told = this.tellOne(body, own, event, side, speed);
    told.other = other.name;
    told.whom = other.index;
    told.otherBox = its < 0 ? '' : other.boxes[its]!.name;
  }

  private tellOne(
    body: Body,
    own: number,
    event: 'meet' | 'part',
    side: 'left' | 'right' | 'top' | 'bottom',
    speed: number,
  ): StageEvent {
    const { clock } = this;
    const told = body.tell(event);
    const seen = lookAt(body, clock[TIME]!);
    told.time = clock[TIME]!;
    told.tick = clock[TICKS]!;
    told.x = seen[SEEN_X]!;
    told.y = seen[SEEN_Y]! * body.ySign + 0;
    told.vx = seen[SEEN_VX]!;
    told.vy = seen[SEEN_VY]! * body.ySign + 0;
    told.box = own < 0 ? '' : body.boxes[own]!.name;
    told.side = side;
    told.speed = speed;
    return told;
  }
}

const OPPOSITE = { left: 'right', right: 'left', top: 'bottom', bottom: 'top' } as const;
const box = new Float64Array(4);

const NO_PIECES: readonly ZonePiece[] = [];

export function isZones(whom: Whom | Zones): whom is Zones {
  return typeof whom === 'object' && ('zone' in whom || 'tag' in whom);
}

function isOf({ name, tags }: CompiledZone, zones: Zones): boolean {
  return 'zone' in zones ? name === zones.zone : tags.includes(zones.tag);
}

function isMeant(whom: Whom, body: Body, cast: Cast): boolean {
  return typeof whom === 'string' ? body.groups.includes(whom) : cast.numbered(body.index)?.character === whom;
}

function comeTogether(a: Float64Array, b: Float64Array): boolean {
  return a[0]! <= b[2]! && a[2]! >= b[0]! && a[1]! <= b[3]! && a[3]! >= b[1]!;
}

function keyOf(x: number, y: number): number {
  return x * 67108864 + y;
}

function remove<T>(list: T[], one: T): void {
  const at = list.indexOf(one);
  if (at < 0) return;
  list[at] = list[list.length - 1]!;
  list.length--;
}

function inOrder(one: Meeting, two: Meeting): number {
  return (
    one.a.index - two.a.index ||
    one.b.index - two.b.index ||
    one.boxA - two.boxA ||
    one.boxB - two.boxB ||
    one.zone - two.zone
  );
}
