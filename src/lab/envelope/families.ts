import { apexOf, arcPieces, fallPieces, launchFor, type Motion } from '../../core/index.js';
import { acrossFrom, type Across } from './across.js';
import { heightAt, reachesIn, then, together, until, type Course } from './course.js';

/** Flights of one kind: at every moment the feet are in a box, between two places across and two heights, and anywhere in it, as the keys for both act apart. */
export interface Family {
  across: Across;
  /** The highest that they can be at each moment. */
  top: Course;
  /** The lowest of these is the lowest that they can be. */
  low: readonly Course[];
  /** What the top is made of, for keys that lead into it: a fall first, a jump, jumps in the air. */
  parts: Parts;
  /** Looked at until then, s. */
  until: number;
}

export interface Parts {
  /** Off the edge without a jump, which may still come so much later, s; undefined where it comes at the edge. */
  late: number | undefined;
  /** Launch speed of the jump at the edge or late; undefined where there is none. */
  launch: number | undefined;
  /** Launch speeds of those in the air. */
  airs: readonly number[];
  /** How high a jump is charged at least and at most, where it is, units. */
  charged: readonly [number, number] | undefined;
  /** From where it stands, not on the run. */
  stands: boolean;
}

/** No flight is looked at for longer, s; those that could go on for ever end sooner. */
const LONGEST = 60;
const ENDLESS = 6;

/** The gravity and the terminal speed of a dive. */
function diveOf(motion: Motion): Motion | undefined {
  const { dive } = motion.full;
  return dive && { ...motion, falling: motion.gravity * dive.gravity, cap: dive.fallSpeed, rampOver: 0 };
}

/** A jump, its key held for so long; what falls from its top does so as something else does. */
function rising(motion: Motion, launch: number, held: number, falls: Motion): Course {
  const pieces = arcPieces(motion, launch, held);
  return then(pieces, apexOf(pieces).time, fallPieces(falls));
}

/** The highest of a jump: the key held to the end, or whatever comes down slower. */
export function highest(motion: Motion, launch: number): Course {
  const apex = apexOf(arcPieces(motion, launch)).time;
  const dive = diveOf(motion);
  const ways = [arcPieces(motion, launch), rising(motion, launch, apex, motion), ...(dive ? [rising(motion, launch, apex, dive)] : [])];
  return ways.reduce((best, way) => (heightAt(way, apex + SOON).y > heightAt(best, apex + SOON).y + 1e-12 ? way : best));
} // prettier-ignore
const SOON = 0.5;

/** For how long the key of a jump is held that is to be the highest, s. */
export function heldFor(motion: Motion, launch: number): number {
  const apex = apexOf(arcPieces(motion, launch)).time;
  const after = (held: number): number => heightAt(arcPieces(motion, launch, held), apex + SOON).y;
  return after(apex) > after(Infinity) + 1e-12 ? apex : Infinity;
}

/** Whether diving is slower than falling. */
export function isSlow(motion: Motion): boolean {
  const dive = diveOf(motion);
  return dive !== undefined && heightAt(fallPieces(dive), SOON).y > heightAt(fallPieces(motion), SOON).y;
}

/** The lowest of a jump: a tap, coming down as it likes. */
function lowest(motion: Motion, launch: number, held = 0): Course[] {
  const dive = diveOf(motion);
  return [arcPieces(motion, launch, held), ...(dive ? [rising(motion, launch, held, dive)] : [])];
}

/** The slowest fall off an edge. */
export function fallOf(motion: Motion): Course {
  return fallPieces(isSlow(motion) ? diveOf(motion)! : motion);
}

/**
 * What gliding loses at least, once it comes down: nothing for as long as it takes to come to its speed, then no more than that speed until the budget is spent, then what falls as often between glides as there
 * can be of them. Nobody glides quite so well: a bound.
 */
function glided({ full: { glide }, falling, rampOver, rampTo }: Motion): Course | undefined {
  if (glide === undefined) return undefined;
  const { fallSpeed, settle, budget } = glide;
  const [first, lasts] = [Math.min(settle, budget), Math.max(budget - settle, 0)];
  const fall = (rampOver > 0 ? Math.min(falling, rampTo) : falling) / (settle > 0 ? Math.ceil(budget / settle) + 1 : Infinity);
  const course = [
    { start: 0, time: first, y: 0, v: 0, a: 0, j: 0 },
    { start: first, time: lasts, y: 0, v: -fallSpeed, a: 0, j: 0 },
    { start: first + lasts, time: Infinity, y: -fallSpeed * lasts, v: -fallSpeed, a: -fall, j: 0 },
  ];
  return course.filter(({ time }) => time > 0);
} // prettier-ignore

/** Jumps in the air over and over, as soon as they may come: the mean climb of the best of them, for ever. */
function flapping(motion: Motion): Course | undefined {
  const { airEndless, airLaunch, airSpacing } = motion;
  if (!airEndless || airLaunch.length === 0) return undefined;
  const last = highest(motion, airLaunch[airLaunch.length - 1]!);
  const climb = airSpacing > 0 ? heightAt(last, airSpacing).y / airSpacing : last[0]!.v;
  return [{ start: 0, time: Infinity, y: 0, v: climb, a: 0, j: 0 }];
}

/** All that there is to a takeoff at the edge at run speed. @param below how far below the takeoff is looked, units */
export function familiesOf(motion: Motion, below: number): { families: Family[]; cut: boolean } {
  const { coyote, launch: plain, jumpOff, charges, full, runUp, jumpHeight } = motion;
  const runs = motion.ground.speed > 0;
  const fall = fallPieces(motion);
  const dive = diveOf(motion);
  const falls: Course[] = [fall, ...(dive ? [fallPieces(dive)] : [])];
  const slowest = fallOf(motion);
  const airs = [...motion.airLaunch];
  const inAir = airs.map((speed) => highest(motion, speed));
  const [glide, flaps] = [glided(motion), flapping(motion)];
  const lifts = [...inAir, ...(flaps ? [flaps] : []), ...(glide ? [glide] : [])];
  const found: Omit<Family, 'until'>[] = [];
  const running = acrossFrom(motion, motion.ground.speed);
  const standing = acrossFrom(motion, 0);
  if (runs) found.push({ across: running, top: together([slowest, ...lifts]), low: falls, parts: { late: undefined, launch: undefined, airs, charged: undefined, stands: false } });
  const add = (across: Across, top: Course, low: readonly Course[], late: number | undefined, launch: number, charged?: readonly [number, number]): void => {
    const first = late === undefined ? [] : [until(slowest, late)];
    // What jumps in the air at once sets its speed, which may be less.
    const weak = airs.flatMap((speed) => lowest(motion, speed));
    const lows = [...low, ...weak];
    found.push({ across, top: together([...first, top, ...lifts]), low: late === undefined ? lows : [...lows, ...lows.map((course) => then(fall, late, course))], parts: { late, launch, airs, charged, stands: across === standing } });
  };
  const late = runs && coyote > 0 ? coyote : undefined;
  if (jumpOff && !charges) {
    // No jump from the ground.
  } else if (!charges) {
    const launch = runUp > 0 && runs ? launchFor(motion, jumpHeight + runUp) : plain;
    add(runs ? running : standing, highest(motion, launch), lowest(motion, launch), late, launch);
  } else {
    const { lowest: least, highest: most, run } = full.charge!;
    const [weak, strong] = [launchFor(motion, least), launchFor(motion, most)];
    // A charged jump counts as held; over the edge, and on the run where charging stops it, there is the least.
    const held = lowest(motion, weak, Infinity);
    if (runs) add(running, highest(motion, run ? strong : weak), held, undefined, run ? strong : weak, [least, run ? most : least]);
    if (late !== undefined) add(running, highest(motion, weak), held, late, weak, [least, least]);
    if (!run || !runs) add(standing, highest(motion, strong), held, undefined, strong, [least, most]);
  }
  const longest = flaps ? ENDLESS : LONGEST;
  const families = found.map((family): Family => ({ ...family, until: Math.min(endOf(family.top, -below), longest) }));
  return { families, cut: families.some(({ until }) => until === longest) };
} // prettier-ignore

/** When a course is at a height for the last time, s. */
function endOf(course: Course, height: number): number {
  const piece = course.findLast((one) => !Number.isNaN(reachesIn(one, height)));
  return piece ? piece.start + reachesIn(piece, height) : Infinity;
}
