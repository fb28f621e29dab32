import { arcPieces, stateAt } from '../arc/arc.js';
import type { VerticalMotion } from '../arc/vertical.js';
import type { SolvedGoals } from './goals.js';
import { DEFAULT_LOWEST_HOP } from './keys.js';
import { type FullTuning, TuningError } from './tuning.js';
import { round } from './words.js';

/** Of the rise that is left after the least hold. */
const SHARE_LEFT = 0.1;

type Release = Pick<VerticalMotion, 'releasedAbove' | 'releasedBand' | 'cutTo' | 'minHold'>;

export interface SolvedRelease {
  constants: Release;
  /** What a tap reaches, units. */
  lowestHop: number;
}

/**
 * What letting go does: the released gravity or the share of speed kept, from the lowest hop.
 *
 * Letting go at once acts at `minHold`, at height y with speed v. With released multiplier k the rest of
 * the rise is v²/(2gk), so k = v²/(2g(L − y)); with a cut, the speed left is √(2gk(L − y)). Released gravity is
 * never less than that of the phase it replaces: max(k, r) above the band, max(k, p) within it.
 *
 * @throws TuningError where the lowest hop is not between the height at `minHold` and the full height
 */
export function solveRelease(full: FullTuning, goals: SolvedGoals): SolvedRelease {
  const { rising: r, apex: p, apexSpeed: b, released, cutTo } = full.gravity;
  const g = goals.vertical.gravity;
  const m = full.jump.minHold;
  const uncut: VerticalMotion = { ...goals.vertical, minHold: m };
  const { y, v } = stateAt(arcPieces(uncut, uncut.launch), m < goals.riseTime ? m : goals.riseTime);

  const constants = (k: number | undefined, share: number): Release => ({
    releasedAbove: g * larger(k, r),
    // Without a released gravity, letting go still leaves the band: that needs the key held.
    releasedBand: g * (k === undefined ? r : larger(k, p)),
    cutTo: share,
    minHold: m,
  });
  const hopOf = (release: Release): number => {
    const speed = v * release.cutTo;
    return y + riseFrom(speed, b, release.releasedAbove, release.releasedBand);
  };
  const given = full.jump.lowestHop;
  if (given === undefined && (released !== undefined || cutTo !== undefined)) {
    const direct = constants(released, cutTo ?? 1);
    return { constants: direct, lowestHop: hopOf(direct) };
  }
  let L = given ?? smaller(DEFAULT_LOWEST_HOP * full.tile, 0.4 * goals.height);
  // Nobody has asked for a default: where the least hold takes the body beyond it, a tap rises by a share of what is left.
  if (given === undefined && !(L > y)) L = y + SHARE_LEFT * (goals.height - y);
  if (given === undefined && !(L > y)) return { constants: constants(undefined, 1), lowestHop: goals.height };
  const whose = given === undefined ? `the default jump.lowestHop ${round(L)}` : `jump.lowestHop is ${L}`;
  if (!(L > y) || !(L <= goals.height * (1 + 1e-12))) {
    throw new TuningError(
      'jump.lowestHop',
      `${whose}; it must be above ${round(y)} (reached within jump.minHold) and at most ${round(goals.height)} (the full jump)`,
    );
  }
  const left = L - y;
  let result: Release;
  if (released !== undefined) {
    const k = constants(released, 1);
    const share = speedFor(left, b, k.releasedAbove, k.releasedBand) / v;
    if (!(share <= 1 + 1e-12)) {
      throw new TuningError(
        'jump.lowestHop',
        `${whose}; with gravity.released ${released} a tap reaches at most ${round(hopOf(k))}`,
      );
    }
    result = { ...k, cutTo: smaller(share, 1) };
    if (cutTo !== undefined && Math.abs(cutTo - share) > 1e-6) {
      throw new TuningError(
        'gravity.cutTo',
        `gravity.cutTo is ${cutTo}, but jump.lowestHop and gravity.released make it ${round(share)}; leave one of them out`,
      );
    }
  } else {
    const speed = v * (cutTo ?? 1);
    const k = gravityFor(left, speed, b, r, p, g);
    if (k === undefined) {
      const most = y + riseFrom(speed, b, g * r, g * p);
      throw new TuningError(
        'jump.lowestHop',
        `${whose}; with gravity.cutTo ${cutTo} a tap reaches at most ${round(most)}`,
      );
    }
    result = constants(k, cutTo ?? 1);
  }
  return { constants: result, lowestHop: L };
}

/** How far a rise of this speed still climbs, above the band and within it. */
function riseFrom(speed: number, band: number, above: number, within: number): number {
  if (speed <= band) return (speed * speed) / (2 * within);
  return (speed * speed - band * band) / (2 * above) + (band * band) / (2 * within);
}

/** The speed that climbs this far: the inverse of `riseFrom`. */
function speedFor(climb: number, band: number, above: number, within: number): number {
  const inBand = (band * band) / (2 * within);
  return climb <= inBand ? Math.sqrt(2 * within * climb) : Math.sqrt(band * band + 2 * above * (climb - inBand));
}

/** The released multiplier that climbs just this far; undefined where even the gentlest does not. */
function gravityFor(climb: number, speed: number, b: number, r: number, p: number, g: number): number | undefined {
  const plain = (speed * speed) / (2 * g * climb);
  const inBand = speed <= b;
  if (plain >= (inBand ? p : larger(r, p))) return plain;
  const gentlest = inBand ? p : smaller(r, p);
  const most = riseFrom(speed, b, g * r, g * p);
  if (climb >= most * (1 - 1e-12)) return climb <= most * (1 + 1e-9) ? gentlest : undefined;
  // Between the two multipliers only one of the two stretches follows k.
  const squares = speed * speed - b * b;
  return r > p
    ? (b * b) / (2 * g * (climb - squares / (2 * g * r)))
    : squares / (2 * g * (climb - (b * b) / (2 * g * p)));
}

function larger(a: number | undefined, b: number): number {
  return a !== undefined && a > b ? a : b;
}

function smaller(a: number, b: number): number {
  return a < b ? a : b;
}
