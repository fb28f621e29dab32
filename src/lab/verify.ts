import { type Ability, compileTuning, type InputRow, type OpenLevel, type Motion, type Tuning } from '../core/index.js';
import { compareRates, compareRuns } from './compare.js';
import { gapSpare } from './gap.js';
import { sheet } from './sheet.js';

/** A measure and its bounds: at least one of them. */
interface Bounds {
  least?: number;
  most?: number;
}

/** Where and by which input something is played. */
interface Scene {
  level: OpenLevel;
  input: readonly InputRow[];
}

/** Something that is promised of a tuning. */
export type Promised =
  /** A measure of the sheet, by its id; with a scene, one of that run (`flight1Rise`, `endX`). */
  | ({ name: string; measure: string; scene?: Scene } & Bounds)
  /** For how long a press comes over a level gap from a run, s. */
  | ({ name: string; gap: number } & Bounds)
  /** The same events at each of these tick rates. */
  | { name: string; sameAt: readonly number[]; scene: Scene };

/** A promise, and whether it is kept. */
export interface Verified {
  name: string;
  kept: boolean;
  /** What it comes to; null where there is no such measure. */
  value: number | null;
  unit: string;
  least: number | null;
  most: number | null;
  /** What there is to say beyond that; empty where nothing is. */
  remark: string;
  /** Neither that it is kept nor that it is broken could be shown. */
  open?: true;
}

/** Bounds are kept to within this share of them: what a number written down has lost is no broken promise. */
const SLACK = 1e-9;

/**
 * Do the promised measures still hold?
 * @param options settings, each of which may be left out
 * @param options.rate ticks per second, for windows in ticks and for what is played; 60 unless given
 * @param options.abilities abilities of the game's own, whose moves are measured, and which are played with
 * @example
 * ```ts
 * verify(brindle, [{ name: 'clears three', measure: 'apexHeight', least: 3 }])[0]!.kept
 * ```
 */
export function verify(
  tuning: Tuning | Motion,
  promises: readonly Promised[],
  { rate = 60, abilities = [] }: { rate?: number; abilities?: readonly Ability[] } = {},
): Verified[] {
  const motion = 'launch' in tuning ? tuning : compileTuning(tuning);
  const measures = sheet(motion, { rate, abilities });
  return promises.map((promise): Verified => {
    if ('sameAt' in promise) {
      const { name, sameAt, scene } = promise;
      const { rates, reference } = compareRates({ tuning: motion }, sameAt, { ...scene, abilities });
      const other = rates.filter(({ same }) => !same).map((one) => one.rate);
      const worst = rates.reduce((most, { worstTime }) => Math.max(most, worstTime), 0);
      const remark = other.length === 0 ? `same events at ${sameAt.join(', ')}${rates.every(({ exact }) => exact) ? ', bit for bit' : ''}` : `other events at ${other.join(', ')} than at ${reference}`;
      return { name, kept: other.length === 0, value: worst, unit: 's', least: null, most: null, remark };
    }
    const { name, least = null, most = null } = promise;
    if ('gap' in promise) return judged(name, { value: gapSpare(motion, promise.gap), unit: 's' }, least, most);
    const { scene } = promise;
    const there: readonly { id: string; unit: string; value: number | null }[] = scene
      ? compareRuns([{ name, tuning: motion }], { ...scene, rate, abilities }).measures.map(({ id, unit, values }) => ({ id, unit, value: values[0]! }))
      : measures;
    return judged(name, there.find(({ id }) => id === promise.measure), least, most);
  });
} // prettier-ignore

function judged(
  name: string,
  found: { value: number | null; unit: string } | undefined,
  least: number | null,
  most: number | null,
): Verified {
  const value = found?.value ?? null;
  const unit = found?.unit ?? '';
  if (value === null) return { name, kept: false, value, unit, least, most, remark: 'this tuning has no such measure' };
  const slack = (bound: number): number => SLACK * Math.max(1, Math.abs(bound));
  const low = least !== null && !(value >= least - slack(least));
  const high = most !== null && !(value <= most + slack(most));
  return { name, kept: !low && !high, value, unit, least, most, remark: low ? 'too little' : high ? 'too much' : '' };
}
