import { MAX, MAY, MVX, MVY, MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { COMES_OUT, GOES, KIND, NOT_LAID, NOW } from '../state/clock.js';
import { VX, VY, X, Y } from '../state/layout.js';
import { AT, PAY, PJY, RATE, vxAt, vyAt, xAt, yAt } from '../sweep/path.js';
import { around, isOn } from './boxes.js';

/**
 * When two boxes that bodies carry come to overlap, or no longer do. Each moves on the path of its body's present piece; how far apart they are across and up are differences of
 * two such paths, and the larger of the two is the gap. It is walked along by steps that it cannot close in, on a grid of moments that does not depend on where the walk
 * began; within the cell of the grid in which it closes the moment is found by halving. So it is the same number whenever it is looked for.
 */
const GRID = 1048576;
/** Longer than a piece in which anything moves, s. */
const FAR = 16;
/** The least time ahead for which speeds are found, s. */
const SHORTEST = 1 / 4096;

/** Two bodies and which of their boxes: −1 for the hitbox. */
export interface Pair {
  readonly a: Body;
  readonly b: Body;
  readonly boxA: number;
  readonly boxB: number;
}

/** How the boxes of the pair lie around the feet. */
const one = new Float64Array(4);
const two = new Float64Array(4);
/** Where a body is at a moment, and how fast: x, y, vx, vy, in the level, y up. */
const placeA = new Float64Array(4);
const placeB = new Float64Array(4);
/** The gaps across and up at the moment that was looked at last, units; below 0 where they overlap. */
export const gaps = new Float64Array(2);

function locate({ s, path, clock, frame }: Body, time: number, into: Float64Array): void {
  const t = time - clock[NOW]!;
  const kind = clock[KIND]!;
  const goes = kind === GOES || kind === COMES_OUT;
  into[0] = (goes ? xAt(path, t) : s[X]!) + frame[MX]! + t * (frame[MVX]! + (t * frame[MAX]!) / 2);
  into[1] = (goes ? yAt(path, t) : s[Y]!) + frame[MY]! + t * (frame[MVY]! + (t * frame[MAY]!) / 2);
  into[2] = (goes ? vxAt(path, t) : kind === NOT_LAID ? s[VX]! : 0) + frame[MVX]! + t * frame[MAX]!;
  into[3] = (goes ? vyAt(path, t) : kind === NOT_LAID ? s[VY]! : 0) + frame[MVY]! + t * frame[MAY]!;
}

/** How far apart the boxes are at a moment: the larger of `gaps`. */
export function gapAt({ a, b }: Pair, time: number): number {
  locate(a, time, placeA);
  locate(b, time, placeB);
  const x = placeB[0]! - placeA[0]!;
  const y = placeB[1]! - placeA[1]!;
  const right = x + two[0]! - one[2]!;
  const left = one[0]! - (x + two[2]!);
  const above = y + two[1]! - one[3]!;
  const below = one[1]! - (y + two[3]!);
  gaps[0] = right > left ? right : left;
  gaps[1] = above > below ? above : below;
  return gaps[0]! > gaps[1]! ? gaps[0]! : gaps[1]!;
}

/** How fast the two move relative to one another at most, across and up, units/s. */
const speeds = new Float64Array(2);
/** The least and the most of a body's velocity in a stretch of time: across, then up. */
const rangeA = new Float64Array(4);
const rangeB = new Float64Array(4);

function rangeOf(body: Body, from: number, until: number, into: Float64Array): void {
  const { path, clock, frame } = body;
  locate(body, from, placeA);
  locate(body, until, placeB);
  for (let i = 0; i < 2; i++) {
    into[2 * i] = Math.min(placeA[2 + i]!, placeB[2 + i]!);
    into[2 * i + 1] = Math.max(placeA[2 + i]!, placeB[2 + i]!);
  }
  if (path[PJY] === 0 || (clock[KIND] !== GOES && clock[KIND] !== COMES_OUT)) return;
  // Where its acceleration turns round.
  const turns = clock[NOW]! - (path[PAY]! + frame[MAY]!) / path[PJY]!;
  if (!(turns > from && turns < until)) return;
  locate(body, turns, placeA);
  into[2] = Math.min(into[2]!, placeA[3]!);
  into[3] = Math.max(into[3]!, placeA[3]!);
}

/** Whether a body's velocity changes evenly in its present piece. */
function isEven({ path, clock }: Body): boolean {
  return (clock[KIND] !== GOES && clock[KIND] !== COMES_OUT) || (path[RATE] === 0 && path[PJY] === 0);
}

function findSpeeds({ a, b }: Pair, from: number, until: number): void {
  if (isEven(a) && isEven(b)) {
    locate(a, from, placeA);
    locate(b, from, placeB);
    for (let i = 0; i < 2; i++) speeds[i] = Math.abs(placeA[2 + i]! - placeB[2 + i]!);
    locate(a, until, placeA);
    locate(b, until, placeB);
    for (let i = 0; i < 2; i++) speeds[i] = Math.max(speeds[i]!, Math.abs(placeA[2 + i]! - placeB[2 + i]!));
    return;
  }
  rangeOf(a, from, until, rangeA);
  rangeOf(b, from, until, rangeB);
  for (let i = 0; i < 2; i++)
    speeds[i] = Math.max(Math.abs(rangeA[2 * i + 1]! - rangeB[2 * i]!), Math.abs(rangeA[2 * i]! - rangeB[2 * i + 1]!));
}

/** How long it takes at least until the two come to overlap (or come apart), from the gaps that were found last, s. */
function leastTime(inside: boolean, border: number): number {
  const across = timeFor(inside ? border - gaps[0]! : gaps[0]! - border, speeds[0]!);
  const up = timeFor(inside ? border - gaps[1]! : gaps[1]! - border, speeds[1]!);
  // To overlap they have to in both ways, to come apart in one.
  return inside ? (across < up ? across : up) : across > up ? across : up;
}

function timeFor(distance: number, speed: number): number {
  return distance < 0 ? 0 : speed > 0 ? distance / (speed * 1.000001) : Infinity;
}

/**
 * The next moment at which two boxes come to overlap (by `touch`), or come apart; Infinity where that is not before either of the two begins another piece.
 * @param inside whether they overlap so far
 * @param from a moment before which it is not looked for
 * @param until when the first of the two pieces ends
 */
export function nextChange(pair: Pair, inside: boolean, from: number, until: number): number {
  const { a, b, boxA, boxB } = pair;
  const there = isOn(a, boxA) && isOn(b, boxB);
  if (!there) return inside ? from : Infinity;
  around(a, boxA, one);
  around(b, boxB, two);
  // Coming in counts from an overlap of `touch`, coming apart from none: so that rounding at either decides nothing.
  const border = inside ? 0 : -(a.motion.touch < b.motion.touch ? a.motion.touch : b.motion.touch);
  const changed = (gap: number): boolean => (inside ? gap > border : gap < border);
  if (changed(gapAt(pair, from))) return from;
  // Those who never do anything again have no end.
  const end = until - from < FAR ? until : from + FAR;
  let n = Math.floor(from * GRID) + 1;
  // Which cell it changes in: between n − 1 and n. Where many steps lead nowhere, how fast they go is found for less time ahead, which is nearer to the truth.
  let ahead = end - from;
  walk: for (let start = from; ;) {
    const stop = start + ahead < end ? start + ahead : end;
    findSpeeds(pair, start, stop);
    for (let steps = 0; ; steps++) {
      const time = n / GRID;
      if (changed(gapAt(pair, time))) break walk;
      if (time > end) return Infinity;
      if (time > stop || (steps > 32 && ahead > SHORTEST)) {
        ahead = time > stop ? 2 * ahead : ahead / 16;
        start = time;
        break;
      }
      const far = Math.floor(leastTime(inside, border) * GRID);
      n += far > 1 ? far : 1;
      // No further than the speeds hold.
      if (n > stop * GRID + 1) n = Math.floor(stop * GRID) + 1;
    }
  }
  let low = (n - 1) / GRID;
  let high = n / GRID;
  if (changed(gapAt(pair, low))) return low > from ? low : from;
  for (let i = 0; i < 64; i++) {
    const middle = (low + high) / 2;
    if (middle <= low || middle >= high) break;
    if (changed(gapAt(pair, middle))) high = middle;
    else low = middle;
  }
  return high < from ? from : high <= until ? high : Infinity;
}

/** On which side of the first body the second one is met, at the moment that was looked at last. */
export function sideOf(pair: Pair, time: number): 'left' | 'right' | 'top' | 'bottom' {
  around(pair.a, pair.boxA, one);
  around(pair.b, pair.boxB, two);
  gapAt(pair, time);
  if (gaps[0]! >= gaps[1]!)
    return placeB[0]! + (two[0]! + two[2]!) / 2 > placeA[0]! + (one[0]! + one[2]!) / 2 ? 'right' : 'left';
  return placeB[1]! + (two[1]! + two[3]!) / 2 > placeA[1]! + (one[1]! + one[3]!) / 2 ? 'top' : 'bottom';
}

/** How fast the two close in, along the way that they meet, at the moment that was looked at last, units/s. */
export function closingSpeed(side: 'left' | 'right' | 'top' | 'bottom'): number {
  const across = placeB[2]! - placeA[2]!;
  const up = placeB[3]! - placeA[3]!;
  const speed = side === 'right' ? -across : side === 'left' ? across : side === 'top' ? -up : up;
  return speed > 0 ? speed : 0;
}

/** The box that a body's box stays within in its present piece, in the level, y up. */
export function reachOf(body: Body, box: number, into: Float64Array): void {
  around(body, box, one);
  const { path, clock, frame } = body;
  const lasts = path[AT]! < 1e9 ? path[AT]! : 0;
  locate(body, clock[NOW]!, placeA);
  locate(body, clock[NOW]! + lasts, placeB);
  // What carries it may turn round meanwhile.
  const spareX = Math.abs(frame[MAX]!) * lasts * lasts;
  const spareY = Math.abs(frame[MAY]!) * lasts * lasts;
  into[0] = Math.min(placeA[0]!, placeB[0]!) + one[0]! - spareX;
  into[1] = Math.min(placeA[1]!, placeB[1]!) + one[1]! - spareY;
  into[2] = Math.max(placeA[0]!, placeB[0]!) + one[2]! + spareX;
  into[3] = Math.max(placeA[1]!, placeB[1]!) + one[3]! + spareY;
}
