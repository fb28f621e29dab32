import { acrossAt, type AcrossPiece, type Motion } from '../../core/index.js';
import { both, either, heightAt, pieceAt, reachesIn, spansOn, type Course, type Span } from './course.js';
import type { Family } from './families.js';

/** A place on a curve, and how it goes on from there: across and up for each unit of the curve's own parameter, as time. Two one after the other are the ends of a cubic curve. */
export interface Knot {
  /** Of an outline since the takeoff, s. */
  time: number;
  x: number;
  y: number;
  vx: number;
  vy: number;
}

/** A side of what can be reached, from the lower end of a band to its upper end: stretches from knot to knot. */
export type Side = readonly Knot[];

/** Between two heights what can be reached lies between sides that are each one curve. */
export interface Band {
  low: number;
  high: number;
  spans: readonly { left: Side; right: Side }[];
}

/** A level part of the outline: where what can be reached begins or ends at one height. */
export interface Flat {
  x1: number;
  x2: number;
  y: number;
}

/** An end of what can be reached at a height, and which flight it is the end of. */
interface End {
  x: number;
  /** None where the ground hides what is beyond, or no flight is followed for longer: it is upright there. */
  of: { family: number; course: Course; across: readonly AcrossPiece[]; time: number } | undefined;
}

interface Reach {
  left: End;
  right: End;
}

/** Heights between two that are known to matter at which it is looked whether anything else does. */
const LOOKED = 6;
/** As finely as heights are told apart, as a share of all of them. */
const FINE = 1e-12;
/** Level parts that are shorter are none, units. */
const LEVEL = 1e-9;
/** What dies away is drawn in parts of so much of its rate. */
const FADED = 6;

/** What the feet can reach by flights of several kinds. */
export class Region {
  /** From where to where, and the highest of all. */
  readonly top: number;
  private readonly courses: readonly Course[];

  constructor(
    private readonly motion: Motion,
    private readonly families: readonly Family[],
    private readonly below: number,
  ) {
    this.courses = [...new Set(families.flatMap(({ top, low }) => [top, ...low]))];
    this.top = families.reduce((most, { top, until }) => Math.max(most, ...top.filter(({ start }) => start <= until).map(({ y }) => y), heightAt(top, until).y), 0);
  } // prettier-ignore

  /** Where the middle of the feet is at the takeoff, from the corner of the floor: the last moment on it. */
  get start(): number {
    const { half, full } = this.motion;
    return half - full.body.bevel;
  }

  /** Moments at which the feet can be at a height, by kind. */
  times(y: number): readonly (readonly Span[])[] {
    return this.families.map(({ top, low, until }) => both(spansOn(top, y, 1, until), either(...low.map((course) => spansOn(course, y, -1, until)))));
  } // prettier-ignore

  /** From where to where the feet can be at a height, from left to right. */
  spans(y: number): [number, number][] {
    return this.reach(y).map(({ left, right }) => [left.x, right.x]);
  }

  private reach(y: number): Reach[] {
    const { families, start, motion } = this;
    if (!(y <= this.top) || y < -this.below) return [];
    const found: Reach[] = [];
    this.times(y).forEach((spans, family) => {
      const { across } = families[family]!;
      for (const { from, to, fromBy, toBy } of spans) {
        const end = (time: number, course: Course | undefined, pieces: readonly AcrossPiece[]): End => ({ x: start + acrossAt(pieces, time).x, of: course && { family, course, across: pieces, time } });
        const ends = [end(from, fromBy, across.left), end(to, toBy, across.left)];
        const left = ends[0]!.x <= ends[1]!.x ? ends[0]! : ends[1]!;
        found.push({ left, right: end(to, toBy, across.right) });
      }
    });
    found.sort((one, other) => one.left.x - other.left.x);
    const merged: Reach[] = [];
    for (const one of found) {
      const last = merged[merged.length - 1];
      if (last === undefined || one.left.x > last.right.x) merged.push({ ...one });
      else if (one.right.x > last.right.x) last.right = one.right;
    }
    // Below the floor its side is in the way, and nobody goes through it.
    const wall = y >= 0 ? -Infinity : y > -motion.full.body.bevel ? start : motion.half;
    return merged.filter(({ right }) => right.x >= wall).map(({ left, right }) => ({ left: left.x < wall ? { x: wall, of: undefined } : left, right }));
  } // prettier-ignore

  /** Bands from the lowest to the highest. */
  bands(): Band[] {
    const { families, courses, top, below, motion } = this;
    const marks = new Set([-below, 0, top]);
    if (motion.full.body.bevel > 0) marks.add(-motion.full.body.bevel);
    for (const course of courses) for (const { y } of course) marks.add(y);
    for (const { across, top: highest, low, until } of families)
      for (const pieces of [across.left, across.right]) for (const { start } of pieces) if (start <= until) for (const course of [highest, ...low]) marks.add(heightAt(course, start).y);
    const heights = [...marks].filter((y) => y >= -below && y <= top).sort((one, other) => one - other);
    const bands: Band[] = [];
    const least = FINE * (top + below);
    for (let i = 0; i + 1 < heights.length; i++) {
      const [low, high] = [heights[i]!, heights[i + 1]!];
      if (high - low <= least) continue;
      const looked = Array.from({ length: LOOKED }, (_, k) => low + ((high - low) * (k + 0.5)) / LOOKED);
      let from = low;
      for (let k = 0; k + 1 < LOOKED; k++) {
        const kind = this.kindAt(looked[k]!);
        if (this.kindAt(looked[k + 1]!) === kind) continue;
        const [one, other] = this.change(looked[k]!, looked[k + 1]!, kind, least);
        bands.push(this.band(from, one));
        from = other;
      }
      bands.push(this.band(from, high));
    }
    return bands;
  } // prettier-ignore

  /** Which flights what can be reached at a height ends with. */
  private kindAt(y: number): string {
    const of = ({ of }: End): string => of === undefined ? 'upright' : `${of.family} ${this.courses.indexOf(of.course)} ${pieceAt(of.course, of.time)} ${of.across === this.families[of.family]!.across.left ? 'left' : 'right'} ${pieceAt(of.across, of.time)}`;
    return this.reach(y).map(({ left, right }) => `${of(left)}, ${of(right)}`).join('; ');
  } // prettier-ignore

  /** Between which heights it changes from one kind: as near to one another as can be told. */
  private change(low: number, high: number, kind: string, least: number): [number, number] {
    while (high - low > least) {
      const middle = (low + high) / 2;
      if (this.kindAt(middle) === kind) low = middle;
      else high = middle;
    }
    return [low, high];
  }

  /** What can be reached between two heights between which nothing changes its kind. */
  private band(low: number, high: number): Band {
    const spans = this.reach((low + high) / 2).map(({ left, right }) => ({ left: sideOf(left, low, high, this.start), right: sideOf(right, low, high, this.start) }));
    return { low, high, spans };
  } // prettier-ignore
}

/** The curve along which an end lies between two heights. */
function sideOf({ x, of }: End, low: number, high: number, start: number): Knot[] {
  if (of === undefined) return [low, high].map((y) => ({ time: y, x, y, vx: 0, vy: 1 }));
  const { course, across, time } = of;
  const piece = course[pieceAt(course, time)]!;
  const way = across[pieceAt(across, time)]!;
  const timeAt = (y: number): number => {
    const t = reachesIn(piece, y);
    // A hair beyond its ends it is at its end.
    if (!Number.isNaN(t)) return piece.start + t;
    const end = heightAt(course, piece.start + piece.time).y;
    return Math.abs(y - piece.y) < Math.abs(y - end) ? piece.start : piece.start + piece.time;
  };
  const knot = (moment: number): Knot => {
    const { y, v } = heightAt([piece], moment);
    const { x, v: vx } = acrossAt([way], moment);
    return { time: moment, x: start + x, y, vx, vy: v };
  };
  const [from, to] = [timeAt(low), timeAt(high)];
  const parts = way.rate > 0 ? Math.ceil(FADED * way.rate * Math.abs(to - from)) + 1 : 1;
  return Array.from({ length: parts + 1 }, (_, k) => knot(k === parts ? to : from + ((to - from) * k) / parts));
} // prettier-ignore

/** The level parts of an outline, between bands and at the top; not where it is cut off below. */
export function flatsOf(bands: readonly Band[]): Flat[] {
  const found: Flat[] = [];
  bands.forEach(({ high, spans }, i) => {
    const under = spans.map(({ left, right }) => [left[left.length - 1]!.x, right[right.length - 1]!.x] as const);
    const over = (bands[i + 1]?.spans ?? []).map(({ left, right }) => [left[0]!.x, right[0]!.x] as const);
    const ends = [...new Set([...under, ...over].flat())].sort((one, other) => one - other);
    const isIn = (list: typeof under, x: number): boolean => list.some(([left, right]) => left < x && x < right);
    for (let k = 0; k + 1 < ends.length; k++) {
      const [x1, x2] = [ends[k]!, ends[k + 1]!];
      const middle = (x1 + x2) / 2;
      if (x2 - x1 > LEVEL && isIn(under, middle) !== isIn(over, middle)) found.push({ x1, x2, y: high });
    }
  });
  return found;
}
