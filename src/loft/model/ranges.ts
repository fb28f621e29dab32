import { KEYS, type Motion, type NumberKey, type Tuning, type Unit } from 'apperin';
import { fullJump } from 'apperin/lab';

/** The groups of the column, in the order in which people work. */
export const GROUPS: readonly { id: string; title: string; of: (key: string) => boolean }[] = [
  { id: 'body', title: 'Body', of: (key) => key === 'tile' || key.startsWith('body.') },
  { id: 'run', title: 'Run', of: (key) => key.startsWith('run.') },
  {
    id: 'arc',
    title: 'Arc',
    of: (key) => /^jump\.(height|riseTime|baseGravity|launchSpeed|reach|airTime|runUp|off)$/.test(key) || (key.startsWith('gravity.') && !isRelease(key)),
  },
  { id: 'release', title: 'Release', of: (key) => isRelease(key) },
  { id: 'grace', title: 'Grace', of: (key) => key.startsWith('grace.') },
  { id: 'airJumps', title: 'Air jumps', of: (key) => key.startsWith('airJumps.') },
  { id: 'wall', title: 'Walls', of: (key) => key.startsWith('wall.') },
  { id: 'ledge', title: 'Ledges', of: (key) => key.startsWith('ledge.') },
  { id: 'slope', title: 'Ground', of: (key) => key.startsWith('slope.') },
  { id: 'crouch', title: 'Crouch', of: (key) => key.startsWith('crouch.') },
  { id: 'drop', title: 'Drop', of: (key) => key.startsWith('drop.') },
  { id: 'charge', title: 'Charge', of: (key) => key.startsWith('charge.') },
  { id: 'glide', title: 'Glide', of: (key) => key.startsWith('glide.') },
  { id: 'dive', title: 'Dive', of: (key) => key.startsWith('dive.') },
  { id: 'mover', title: 'Movers', of: (key) => key.startsWith('mover.') },
  { id: 'pose', title: 'Poses', of: (key) => key.startsWith('pose.') },
]; // prettier-ignore

function isRelease(key: string): boolean {
  return ['jump.lowestHop', 'jump.minHold', 'gravity.released', 'gravity.cutTo'].includes(key);
}

/** Of these one says how letting go shapes a jump. */
export const RELEASES = ['jump.lowestHop', 'gravity.released', 'gravity.cutTo'] as const;

/** Pairs of numbers of which each says the whole jump. */
export const PAIRS = [
  { id: 'height riseTime', title: 'height and rise time', goal: true },
  { id: 'height airTime', title: 'height and time in the air', goal: true },
  { id: 'height reach', title: 'height and reach', goal: true },
  { id: 'baseGravity launchSpeed', title: 'gravity and launch speed', goal: false },
] as const;

/** Which of them a tuning says its jump with. */
export function pairOf({ jump }: Tuning): string {
  const written = jump === undefined || jump === 'off' ? [] : Object.keys(jump);
  const found = PAIRS.find(({ id }) => id.split(' ').some((name) => name !== 'height' && written.includes(name)));
  return (found ?? PAIRS[0]).id;
}

/** All numbers of the jump, from whichever pair says it. */
export function numbersOf(motion: Motion): Record<string, number> {
  const { time, reach } = fullJump(motion);
  return { height: motion.jumpHeight, riseTime: motion.riseTime, airTime: time, reach, baseGravity: motion.gravity, launchSpeed: motion.launch };
} // prettier-ignore

/** Whether a value grows with the size of a tile. */
const SCALES: Readonly<Record<Unit, boolean>> = { length: true, speed: true, acceleration: true, time: false, multiplier: false, share: false, angle: false, count: false }; // prettier-ignore

export const UNITS: Readonly<Record<Unit, string>> = { length: 'units', speed: 'units/s', acceleration: 'units/s²', time: 's', multiplier: '×', share: '', angle: '°', count: '' }; // prettier-ignore

/** What a slider spans, and its step: the field beside it takes whatever the key allows. */
export interface Range {
  least: number;
  most: number;
  step: number;
}

/** @param around the value that the slider is to have room around: that of the file */
export function rangeFor(key: NumberKey, around: number, { full }: Motion): Range {
  const scale = SCALES[key.unit] ? full.tile : 1;
  const usual = (key.default ?? 0) * scale;
  const top =
    key.unit === 'share' || key.unit === 'angle' ? key.most
    : key.unit === 'time' ? Math.max(0.5, 3 * usual, 2 * around)
    : key.unit === 'multiplier' ? Math.max(4, 3 * usual, 2 * around)
    : key.unit === 'count' ? Math.max(10, 2 * around)
    : Math.max(scale, 3 * usual, 2 * around); // prettier-ignore
  const most = Math.min(key.most, nice(top));
  const step = nice(most / 400);
  const lowest = key.above || key.least > 0 ? Math.max(key.least, step) : key.least;
  return { least: Number((Math.ceil(lowest / step - 1e-9) * step).toPrecision(12)), most, step };
}

/** The next of 1, 2, 5, 10, … */
function nice(value: number): number {
  const power = 10 ** Math.floor(Math.log10(value));
  const share = value / power;
  return Number(((share <= 1 ? 1 : share <= 2 ? 2 : share <= 5 ? 5 : 10) * power).toPrecision(6));
}

export function numberKey(name: string): NumberKey | undefined {
  const key = KEYS.find((one) => one.key === name);
  return key && 'unit' in key ? key : undefined;
}
