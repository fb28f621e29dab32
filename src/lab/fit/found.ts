import { apexOf, arcPieces, exp, launchFor, ln } from '../../core/index.js';
import type { AcrossKey } from './across.js';
import type { AcrossFit } from './fit-across.js';
import type { UpFit } from './fit-up.js';
import type { WallFit } from './walls.js';
import { verticalOf, type UpKey, type UpValues } from './flight.js';

/** A number that was found. */
export interface Found {
  value: number;
  /** Half the width of its interval: the intervals of all keys hold together in 95 of 100 captures (Šidák). */
  within: number;
  /** How many stretches of the captures speak for it. */
  stretches: number;
  /** Whether the interval is wide. */
  loose: boolean;
}

/** All intervals hold together with this chance. */
const TOGETHER = 0.95;
/** An interval of a larger share of its value is wide. */
const LOOSE = 0.15;
/** Correlations that are stronger say that two keys can hardly be told apart. */
const ALIKE = 0.95;
/** So many jumps of the same height are wound up to the full. */
const ALIKE_FULL = 2;
/** A fall within this share of its fastest is at its fastest. */
const AT_CAP = 0.95;

const round = (value: number): number => Math.floor(value * 1000 + 0.5) / 1000;

/**
 * The numbers that were found, with how sure they are, and what could not be.
 * @param height how high a plain jump of the tuning to start from goes, units
 */
export function foundOf(up: UpFit, across: AcrossFit, walls: WallFit, height: number): { found: Record<string, Found>; cannotTell: { key: string; why: string }[]; correlated: [string, string][] } {
  const known = [...knownUp(up, height), ...Object.entries(walls).map(([key, { value, error, stretches }]) => ({ key, value, share: error / value, stretches })), ...across.keys.map((key, i) => ({ key: key as string, value: across.values[i]!, share: Math.sqrt(across.covariance.get(i, i)), stretches: across.counts[key] }))];
  const sure = known.filter(({ share }) => Number.isFinite(share) && share < 1);
  const z = quantile(1 - (1 - TOGETHER ** (1 / Math.max(1, sure.length))) / 2);
  const found = Object.fromEntries(sure.map(({ key, value, share, stretches }) => [key, { value, within: value * z * share, stretches, loose: z * share > LOOSE }]));
  return {
    found,
    cannotTell: [
      ...known.filter((one) => !sure.includes(one)).map(({ key }) => ({ key, why: 'nothing in the captures hangs on it' })),
      ...cannotTellUp(up),
      ...cannotTellAcross(across),
      ...cannotTellWalls(walls),
    ],
    correlated: [...alike(up.keys, up.covariance), ...alike(across.keys, across.covariance)].filter(([one, other]) => one in found && other in found),
  };
} // prettier-ignore

/** What was found of motion up and down, by keys of a tuning; shares of the values are standard deviations. */
function knownUp({ keys, values, covariance, flown, lowest, charged, fixed, woundUp }: UpFit, height: number): { key: string; value: number; share: number; stretches: number }[] {
  const hops = flown.flatMap(({ flight }) => flight.hops);
  // Where none was held to its end all of them say so together.
  const jumps = hops.filter(({ by, held }) => by === 'jump' && held === undefined).length || hops.filter(({ by }) => by === 'jump').length;
  const full = hops.filter(({ by, held, rises }) => by === 'jump' && held === undefined && rises === undefined).length;
  const short = hops.filter(({ held }) => held !== undefined).length;
  const all: UpValues = { ...fixed, ...Object.fromEntries(keys.map((key, i) => [key, values[i]!])) };
  const cap = all['gravity.fallSpeed'] ?? Infinity;
  const counts: Record<UpKey, number> = {
    'jump.height': full || jumps, 'jump.riseTime': jumps, 'gravity.apex': jumps, 'gravity.apexSpeed': jumps,
    'gravity.falling': flown.length,
    'gravity.fallSpeed': flown.filter(({ flight, noise }) => dropOf(flight, all) > (AT_CAP * cap) ** 2 / (2 * verticalOf(all).falling) + noise).length,
    'gravity.released': short, 'gravity.cutTo': short, tap: lowest,
    'airJumps.heights.0': airs(0), 'airJumps.heights.1': airs(1), 'airJumps.heights.2': airs(2),
  }; // prettier-ignore
  function airs(i: number): number {
    return flown.filter(({ flight }) => flight.hops.filter(({ by }) => by === 'air').length > i).length;
  }
  /** Something that follows from all of them. */
  const follows = (key: string, stretches: number, of: (all: UpValues) => number): { key: string; value: number; share: number; stretches: number } => {
    const at = (some: readonly number[]): number => of({ ...fixed, ...Object.fromEntries(keys.map((one, k) => [one, some[k]!])) });
    const value = at(values);
    const slopes = keys.map((_, k) => (ln(at(values.map((one, n) => (n === k ? one * 1.0001 : one)))) - ln(value)) / 1e-4);
    let square = 0;
    slopes.forEach((one, a) => slopes.forEach((other, b) => (square += one * other * covariance.get(a, b))));
    return { key, value, share: Math.sqrt(Math.max(0, square)), stretches };
  };
  const itself = (i: number, key: string): { key: string; value: number; share: number; stretches: number } => ({ key, value: values[i]!, share: Math.sqrt(covariance.get(i, i)), stretches: counts[keys[i]!] });
  return keys.flatMap((key, i) => {
    if (key === 'tap') {
      const lowestHop = follows('jump.lowestHop', counts.tap, (at) => {
        const motion = verticalOf(at);
        return apexOf(arcPieces(motion, motion.launch, at.tap)).y;
      });
      return [itself(i, 'jump.minHold'), lowestHop];
    }
    // Where jumps are wound up a plain one is only a way to say gravity.
    if (charged && key === 'jump.riseTime') return [follows(key, counts[key], (at) => {
      const motion = verticalOf(at);
      return apexOf(arcPieces(motion, launchFor(motion, height))).time;
    })];
    if (!charged || key !== 'jump.height') return [itself(i, key)];
    const by = woundUp ? (['lowest', 'fullIn'] as const).map((name) => ({ key: `charge.${name}`, value: woundUp[name].value, share: woundUp[name].error / woundUp[name].value, stretches: woundUp[name].stretches })) : [];
    return [...(full >= ALIKE_FULL ? [itself(i, 'charge.highest')] : []), ...by];
  });
} // prettier-ignore

/** How far a flight falls from its highest, at most. */
function dropOf(
  { stood, lands, hops }: { stood: number; lands: number; hops: readonly { by: string }[] },
  values: UpValues,
): number {
  const airs = hops.filter(({ by }) => by === 'air').length * (values['airJumps.heights.0'] ?? 0);
  const top = stood + (hops[0]!.by === 'fall' ? 0 : (values['jump.height'] ?? 0) + airs);
  return Number.isNaN(lands) ? Infinity : top - lands;
}

function cannotTellUp({ keys, flown, fastest, charged, fixed, woundUp }: UpFit): { key: string; why: string }[] {
  if (keys.length === 0) return [{ key: 'jump.height', why: 'no jump from the ground was seen' }];
  const has = (key: UpKey): boolean => keys.includes(key);
  const short = has('gravity.released') || has('gravity.cutTo');
  const holds = flown.flatMap(({ flight }) => flight.hops.flatMap(({ held }) => (typeof held === 'number' ? [held] : [])));
  return [
    ...(has('gravity.apex') ? [] : [{ key: 'gravity.apex', why: 'gravity.apex' in fixed ? 'no key was held up to an apex; it is taken to be as in the tuning to start from' : 'no other gravity shows around the apex' }]),
    ...(has('gravity.fallSpeed') ? [] : [{ key: 'gravity.fallSpeed', why: `never fell for long enough; the fastest was ${round(fastest)}` }]),
    ...(charged && flown.filter(({ flight: { hops } }) => hops[0]!.by === 'jump' && hops[0]!.rises === undefined).length < ALIKE_FULL ? [{ key: 'charge.highest', why: 'no two jumps are as high as the highest' }] : []),
    ...(!charged || woundUp ? [] : ['charge.lowest', 'charge.fullIn'].map((key) => ({ key, why: `how long a jump was wound up does not show without its key; the lowest was ${round(lowestOf(flown))}` }))),
    ...(short || charged ? [] : [{ key: 'gravity.released', why: 'no jump was cut short' }]),
    ...(has('tap') || charged ? [] : [{ key: 'jump.lowestHop', why: short ? `of the shortest hops no three are alike; the key was held for ${round(Math.min(...holds))} s at least` : 'no jump was cut short' }]),
    ...(has('airJumps.heights.0') ? [] : [{ key: 'airJumps.heights', why: 'no jump in the air was seen' }]),
  ];
} // prettier-ignore

/** How high the lowest jump went that was wound up. */
export function lowestOf(flown: UpFit['flown']): number {
  return Math.min(...flown.flatMap(({ flight: { hops } }) => hops.flatMap(({ rises }) => rises ?? [])));
}

const NEVER: Record<AcrossKey, string> = {
  'run.speed': 'never ran',
  'run.upIn': 'never sped up on the ground',
  'run.stopIn': 'never let go on the ground',
  'run.turnIn': 'never turned round on the ground',
  'run.air.upIn': 'never sped up in the air',
  'run.air.stopIn': 'never let go in the air',
  'run.air.turnIn': 'never turned round in the air',
};

function cannotTellAcross({ keys }: AcrossFit): { key: string; why: string }[] {
  return (Object.keys(NEVER) as AcrossKey[]).filter((key) => !keys.includes(key)).map((key) => ({ key, why: NEVER[key] }));
} // prettier-ignore

function cannotTellWalls(walls: WallFit): { key: string; why: string }[] {
  if (Object.keys(walls).length === 0) return [];
  return [
    ...(walls['wall.slideSpeed']
      ? []
      : [{ key: 'wall.slideSpeed', why: 'no wall was slid down evenly for long enough' }]),
    ...(walls['wall.jump.height'] && !walls['wall.jump.out']
      ? [{ key: 'wall.jump.out', why: 'no jump off a wall went on the way that it began' }]
      : []),
    ...(walls['wall.jump.height'] ? [] : [{ key: 'wall.jump', why: 'no jump off a wall was seen' }]),
    {
      key: 'wall.cling',
      why: 'how a slide begins, and for how long a jump off a wall goes its own way, is not sought',
    },
  ];
}

function alike(keys: readonly string[], covariance: { get(i: number, k: number): number }): [string, string][] {
  return keys.flatMap((one, i) =>
    keys.slice(i + 1).flatMap((other, n): [string, string][] => {
      const k = i + 1 + n;
      const share = covariance.get(i, k) / Math.sqrt(covariance.get(i, i) * covariance.get(k, k));
      return Math.abs(share) > ALIKE ? [[one, other]] : [];
    }),
  );
}

/** The quantile of the normal distribution: where its integral, by Simpson's rule, comes to a chance above a half. */
export function quantile(chance: number): number {
  const density = (x: number): number => exp((-x * x) / 2) / Math.sqrt(2 * Math.PI);
  const upTo = (x: number): number => {
    let sum = density(0) + density(x);
    for (let i = 1; i < 200; i++) sum += (i % 2 === 1 ? 4 : 2) * density((x * i) / 200);
    return 0.5 + (sum * x) / 600;
  };
  let [low, high] = [0, 8];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (upTo(middle) < chance) low = middle;
    else high = middle;
  }
  return high;
}
