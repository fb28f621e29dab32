import { KEYS, type Unit } from './keys.js';
import { type Motion, compileTuning } from './motion.js';
import type { FullTuning, Tuning } from './tuning.js';

/** How fast a character's own time may go at least, and at most, as a share of its stage's. */
export const SLOWEST = 1 / 16;
export const FASTEST = 16;

/** What a number comes to where time goes at another tempo: speeds by as much, accelerations by its square; what lasts gets shorter. */
export function atTempo(value: number, unit: Unit, tempo: number): number {
  if (unit === 'speed') return value * tempo;
  if (unit === 'acceleration') return value * tempo * tempo;
  return unit === 'time' ? value / tempo : value;
}

const KNOWN = new WeakMap<Motion, Map<number, Motion>>();

/** The constants of the same tuning for a character whose own time goes at another tempo: it is the same motion, quicker or slower. */
export function motionAt(motion: Motion, tempo: number): Motion {
  if (tempo === 1) return motion;
  let all = KNOWN.get(motion);
  if (all === undefined) KNOWN.set(motion, (all = new Map<number, Motion>()));
  let found = all.get(tempo);
  if (found === undefined) {
    found = { ...compileTuning(tuningAt(motion.full, tempo) as Tuning), tempo };
    all.set(tempo, found);
  }
  return found;
}

type Group = Record<string, unknown>;

function tuningAt(full: FullTuning, tempo: number): FullTuning {
  const other = JSON.parse(JSON.stringify(full)) as unknown as Group;
  for (const key of KEYS) {
    if (!('unit' in key)) continue;
    const names = key.key.split('.');
    const last = names.pop()!;
    let group: unknown = other;
    for (const name of names) group = (group as Group | undefined)?.[name];
    const value = (group as Group | undefined)?.[last];
    if (typeof value !== 'number') continue;
    const scaled = atTempo(value, key.unit, tempo);
    (group as Group)[last] = scaled < key.most ? scaled : key.most;
  }
  return other as unknown as FullTuning;
}
