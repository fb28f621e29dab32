import { type AcrossRule, timeAcross } from '../arc/across.js';
import { arcPieces, comingDown } from '../arc/arc.js';
import type { VerticalMotion } from '../arc/vertical.js';
import { GOALS } from './keys.js';
import { type FullTuning, type JumpGoals, TuningError } from './tuning.js';
import { round } from './words.js';

type Goal = (typeof GOALS)[number];

export interface SolvedGoals {
  /** Of a jump that is held to its end. */
  vertical: VerticalMotion;
  height: number;
  riseTime: number;
}

/** Goals given twice may differ by this share of their value. */
const AGREE = 1e-6;

/**
 * Base gravity and launch speed from any sufficient pair of goals, with the multipliers and the apex band
 * taken into account, so that a full jump reaches its height after its rise time exactly.
 *
 * With multipliers r (rising) and p (apex), band b, launch speed V and base gravity g, the rise takes
 * T = [(V − b)/r + b/p]/g and climbs H = [(V² − b²)/(2r) + b²/(2p)]/g: two pieces of constant
 * acceleration. Eliminating g with A = H/T gives V = A + √((A − b)² + b(2A − b)r/p), valid for b ≤ 2A.
 *
 * @param air how the body moves across in the air; undefined where it cannot be steered there
 * @throws TuningError where the goals do not suffice, contradict each other or the band, or cannot be met
 */
export function solveGoals(full: FullTuning, air: AcrossRule | undefined): SolvedGoals {
  const goals: JumpGoals = full.jump;
  const sizes = (['height', 'launchSpeed', 'baseGravity'] as const).filter((goal) => goals[goal] !== undefined);
  const times = (['riseTime', 'airTime', 'reach'] as const).filter((goal) => goals[goal] !== undefined);
  const [size, other] = sizes;
  const [time] = times;
  if (size === undefined) {
    throw new TuningError(
      `jump.${times[1] ?? time}`,
      `${listed(times)} all say how long a jump lasts; add jump.height, jump.baseGravity or jump.launchSpeed`,
    );
  }
  let solved: SolvedGoals;
  if (time === undefined) solved = fromTwoSizes(full, size, other!);
  else if (time === 'riseTime') solved = fromRiseTime(full, size, goals.riseTime!);
  else solved = fromAirTime(full, size, time, air);
  agree(full, air, solved, [size, time ?? other!]);
  return solved;
}

function fromTwoSizes(full: FullTuning, one: Goal, two: Goal): SolvedGoals {
  const { rising: r, apex: p, apexSpeed: b } = full.gravity;
  const { height: H, launchSpeed: V, baseGravity: g } = full.jump;
  const pair = [one, two];
  if (pair.includes('height') && pair.includes('launchSpeed')) {
    bandBelow(full, V!, 'the launch speed');
    return solved(full, ((V! * V! - b * b) / (2 * r) + (b * b) / (2 * p)) / H!, V!);
  }
  if (pair.includes('height')) {
    const square = b * b + 2 * r * (g! * H! - (b * b) / (2 * p));
    if (!(square >= b * b)) throw wideBand(full, Math.sqrt(2 * p * g! * H!), 'with this height and gravity');
    return solved(full, g!, Math.sqrt(square));
  }
  bandBelow(full, V!, 'the launch speed');
  return solved(full, g!, V!);
}

function fromRiseTime(full: FullTuning, size: Goal, T: number): SolvedGoals {
  const { rising: r, apex: p, apexSpeed: b } = full.gravity;
  const { height: H, launchSpeed: V, baseGravity: g } = full.jump;
  if (size === 'height') {
    const A = H! / T;
    if (!(b <= 2 * A)) throw wideBand(full, 2 * A, `2·height/riseTime`);
    const launch = A + Math.sqrt((A - b) * (A - b) + (b * (2 * A - b) * r) / p);
    return solved(full, ((launch - b) / r + b / p) / T, launch);
  }
  if (size === 'launchSpeed') {
    bandBelow(full, V!, 'the launch speed');
    return solved(full, ((V! - b) / r + b / p) / T, V!);
  }
  if (!(g! * T >= b / p)) throw wideBand(full, g! * T * p, 'with this gravity and rise time');
  return solved(full, g!, b + r * (g! * T - b / p));
}

/** Time in the air or reach has no closed inverse: a bracketed root over the rise time, after looking how many there are. */
function fromAirTime(
  full: FullTuning,
  size: Goal,
  goal: 'airTime' | 'reach',
  air: AcrossRule | undefined,
): SolvedGoals {
  const wanted = goal === 'airTime' ? full.jump.airTime! : timeAcross(air, full.run.speed, full.jump.reach!);
  if (!Number.isFinite(wanted))
    throw new TuningError(
      'jump.reach',
      `jump.reach is ${full.jump.reach}; at this run speed the body never gets that far across`,
    );
  const miss = (riseTime: number): number => {
    try {
      return airTimeOf(fromRiseTime(full, size, riseTime)) - wanted;
    } catch {
      return NaN;
    }
  };
  const steps = 400;
  const roots: number[] = [];
  let before = NaN;
  let from = 0;
  let least = Infinity;
  let most = 0;
  for (let i = 0; i <= steps; i++) {
    const riseTime = (wanted * (i + 0.25)) / (steps + 0.25);
    const now = miss(riseTime);
    if (now + wanted < least) least = now + wanted;
    if (now + wanted > most) most = now + wanted;
    if (before * now <= 0 && before !== 0) roots.push(bisect(miss, from, riseTime));
    before = now;
    from = riseTime;
  }
  if (roots.length === 0) {
    const range = most > 0 ? `; between ${round(least)} and ${round(most)} s in the air can be had` : '';
    throw new TuningError(
      `jump.${goal}`,
      `jump.${goal} is ${full.jump[goal]} (${round(wanted)} s in the air): no rise time gives it together with jump.${size} ${full.jump[size]}${range}`,
    );
  }
  if (roots.length > 1) {
    throw new TuningError(
      `jump.${goal}`,
      `jump.${goal} ${full.jump[goal]} with jump.${size} ${full.jump[size]} leaves a choice of rise times (${roots.map(round).join(', ')} s); give jump.riseTime instead`,
    );
  }
  return fromRiseTime(full, size, roots[0]!);
}

function bisect(f: (x: number) => number, low: number, high: number): number {
  const rising = f(high) > 0;
  for (let i = 0; i < 80; i++) {
    const middle = low + (high - low) / 2;
    if (f(middle) > 0 === rising) high = middle;
    else low = middle;
  }
  return low + (high - low) / 2;
}

function solved(full: FullTuning, g: number, V: number): SolvedGoals {
  const { rising: r, apex: p, falling: f, apexSpeed: b, fallSpeed, fallRamp } = full.gravity;
  if (!(g > 0 && g < 1e15 && V > 0))
    throw new TuningError(
      'jump',
      `these jump goals come to a gravity of ${round(g)} and a launch speed of ${round(V)}, which no jump can have`,
    );
  return {
    vertical: {
      gravity: g,
      launch: V,
      rising: g * r,
      apex: g * p,
      falling: g * f,
      band: b,
      cap: fallSpeed,
      rampTo: g * (fallRamp?.to ?? f),
      rampOver: fallRamp?.over ?? 0,
      releasedAbove: 0,
      releasedBand: 0,
      cutTo: 1,
      minHold: 0,
    },
    height: ((V * V - b * b) / (2 * r) + (b * b) / (2 * p)) / g,
    riseTime: ((V - b) / r + b / p) / g,
  };
}

function airTimeOf({ vertical }: SolvedGoals): number {
  return comingDown(arcPieces(vertical, vertical.launch), 0).time;
}

/** Every goal beyond the pair must say the same thing. */
function agree(full: FullTuning, air: AcrossRule | undefined, result: SolvedGoals, used: Goal[]): void {
  for (const goal of GOALS) {
    const wanted = full.jump[goal];
    if (wanted === undefined || used.includes(goal)) continue;
    const got = goalOf(full, air, result, goal);
    if (Math.abs(got - wanted) > AGREE * wanted) {
      throw new TuningError(
        `jump.${goal}`,
        `jump.${goal} is ${wanted}, but ${listed(used)} make it ${round(got)}; leave one of them out`,
      );
    }
  }
}

function goalOf(full: FullTuning, air: AcrossRule | undefined, result: SolvedGoals, goal: Goal): number {
  switch (goal) {
    case 'height':
      return result.height;
    case 'riseTime':
      return result.riseTime;
    case 'baseGravity':
      return result.vertical.gravity;
    case 'launchSpeed':
      return result.vertical.launch;
    case 'airTime':
      return airTimeOf(result);
    case 'reach':
      // Compared as times, so that one rule serves every way of moving across.
      return (airTimeOf(result) / timeAcross(air, full.run.speed, full.jump.reach!)) * full.jump.reach!;
  }
}

function bandBelow(full: FullTuning, limit: number, what: string): void {
  if (!(full.gravity.apexSpeed <= limit)) throw wideBand(full, limit, what);
}

function wideBand(full: FullTuning, limit: number, what: string): TuningError {
  return new TuningError(
    'gravity.apexSpeed',
    `gravity.apexSpeed is ${full.gravity.apexSpeed}, a band wider than the jump; it must be at least 0 and at most ${round(limit)} (${what})`,
  );
}

function listed(goals: readonly string[]): string {
  const names = goals.map((goal) => `jump.${goal}`);
  return names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]}`;
}
