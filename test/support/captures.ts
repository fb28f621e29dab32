import { compileTuning, openStage, script, type InputRow, type Tuning } from 'apperin';
import { playFrames, type Capture, type FrameKeys, type FrameNumbers } from 'apperin/lab';
import { randomizer, type Random } from './random.js';

/** A captured motion, to be spoilt: all of one length. */
export interface Captured {
  time: number[];
  x: number[];
  y: number[];
  keys: Record<'jump' | 'left' | 'right', number[]>;
}

/** Random numbers of the normal distribution. */
export const normal = ({ next }: Random) => (): number => Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next()); // prettier-ignore

/** Keys of somebody who tries everything: full jumps, short ones (held for so long), starts, stops and turns. */
export function session(random: Random, { full = 10, short = 10, runs = 15, airs = 0, steers = 0, wound = 0, held = (r: Random) => r.between(0.03, 0.18), rate = 0 } = {}): InputRow[] {
  const rows: InputRow[] = [];
  let time = 0.3;
  const key = (action: string, value: number): void => {
    // Keys that are read once a frame change at frames.
    const moment = rate > 0 ? Math.floor(time * rate + 0.5) / rate : time;
    rows.push({ time: Math.floor(moment * 1e6) / 1e6, action, value });
  };
  const wait = (low: number, high: number): void => void (time += random.between(low, high));
  for (let i = 0; i < full + short; i++) {
    const lasts = i < full ? 0.6 : held(random);
    key('jump', 1);
    time += lasts;
    key('jump', 0);
    wait(1.1 - lasts, 1.3 - lasts);
  }
  for (let i = 0; i < airs; i++) {
    key('jump', 1);
    wait(0.3, 0.55);
    key('jump', 0);
    time += 0.02;
    key('jump', 1);
    time += 0.5;
    key('jump', 0);
    wait(0.9, 1.1);
  }
  // Jumps that are wound up: every other one to the full.
  for (let i = 0; i < wound; i++) {
    key('jump', 1);
    time += i % 2 === 0 ? 0.8 : random.between(0.05, 0.6);
    key('jump', 0);
    wait(1.2, 1.4);
  }
  // Jumps with a change of direction in the air: setting off, letting go, turning round.
  for (let i = 0; i < steers; i++) {
    const [one, other] = i % 2 === 0 ? ['right', 'left'] : ['left', 'right'];
    const early = i % 3 !== 0;
    if (early) {
      key(one!, 1);
      time += 0.4;
    }
    key('jump', 1);
    time += 0.25;
    if (early) key(one!, 0);
    if (i % 3 !== 1) key(other!, 1);
    time += 0.4;
    key('jump', 0);
    wait(0.4, 0.5);
    if (i % 3 !== 1) key(other!, 0);
    wait(0.5, 0.6);
  }
  for (let i = 0; i < runs; i++) {
    const [one, other] = i % 2 === 0 ? ['right', 'left'] : ['left', 'right'];
    key(one!, 1);
    wait(0.45, 0.65);
    key(one!, 0);
    wait(0.3, 0.5);
    key(other!, 1);
    wait(0.45, 0.65);
    key(other!, 0);
    key(one!, 1);
    wait(0.5, 0.7);
    key(one!, 0);
    key(other!, 1);
    wait(0.4, 0.6);
    key(other!, 0);
    wait(0.3, 0.5);
  }
  return rows;
} // prettier-ignore

/** What a camera sees of a character on level ground: its feet, units, y up. */
export function record(tuning: Tuning, rows: readonly InputRow[], rate = 60, level = flat()): Captured {
  const stage = openStage(level);
  const hero = stage.add(compileTuning(tuning), { driver: script(rows) });
  const made: Captured = { time: [], x: [], y: [], keys: { jump: [], left: [], right: [] } };
  const ticks = Math.ceil((rows.at(-1)!.time + 0.5) * rate);
  for (let i = 0; i <= ticks; i++) {
    made.time.push(i / rate);
    made.x.push(hero.x);
    made.y.push(hero.y);
    // Keys as they are read for the frame that follows.
    for (const action of ['jump', 'left', 'right'] as const) made.keys[action].push(rows.findLast((row) => row.action === action && row.time <= i / rate + 2e-6)?.value ?? 0); // prettier-ignore
    stage.tick(1 / rate);
  }
  return made;
}

export const flat = () => ({ yPoints: 'up' as const, rows: ['.'.repeat(200), `${'.'.repeat(100)}@${'.'.repeat(99)}`, '#'.repeat(200)] }); // prettier-ignore

/** The same with noise: a standard deviation in pixels, of which so many are a unit. */
export function noisy({ x, y, ...rest }: Captured, random: Random, pixels = 0.5, unit = 16): Captured {
  const by = normal(random);
  const off = (value: number): number => value + (by() * pixels) / unit;
  return { ...rest, x: x.map(off), y: y.map(off) };
}

/** Without the keys, as most captures are. */
export const seen = ({ time, x, y }: Captured): Capture => ({ time, x, y });

/** An old controller of the mill that steps by frames. */
export const OLD_HAND: FrameNumbers = {
  rate: 60,
  order: 'velocity-first',
  launch: 0.29,
  gravity: 0.0137,
  fallGravity: 0.0205,
  cut: 0.4,
  minHold: 2,
  speed: 0.125,
  acceleration: 0.0174,
  deceleration: 0.0231,
  turning: 0.026,
};

/** The same with its keys, frame by frame. */
export function stepped(numbers: FrameNumbers, random: Random, { full = 10, short = 8, runs = 8 } = {}): Captured {
  const keys: FrameKeys[] = [];
  const { rate } = numbers;
  const hold = (seconds: number, way: number, jump: boolean): void => {
    for (let i = 0; i < Math.max(1, seconds * rate); i++) keys.push({ way, jump });
  };
  hold(0.3, 0, false);
  for (let i = 0; i < full; i++) {
    hold(0.6, 0, true);
    hold(random.between(0.55, 0.75), 0, false);
  }
  for (let i = 0; i < short; i++) {
    hold(1 / rate, 0, true);
    hold(random.between(0.9, 1.1), 0, false);
  }
  for (let i = 0; i < runs; i++) {
    const way = i % 2 === 0 ? 1 : -1;
    hold(random.between(0.45, 0.6), way, false);
    hold(random.between(0.4, 0.5), 0, false);
    hold(random.between(0.45, 0.6), -way, false);
    hold(random.between(0.5, 0.6), way, false);
    hold(random.between(0.4, 0.5), 0, false);
  }
  const { x, y } = playFrames(numbers, keys);
  const held = (of: (keys: FrameKeys) => boolean): number[] => [...keys, keys.at(-1)!].map((one) => (of(one) ? 1 : 0));
  return { time: x.map((_, i) => i / rate), x, y, keys: { jump: held(({ jump }) => jump), left: held(({ way }) => way < 0), right: held(({ way }) => way > 0) } }; // prettier-ignore
}

/** As a table: whole pixels or hundredths of one, y down. */
export function tableOf({ time, x, y, keys }: Captured, withKeys: boolean, unit = 16): string {
  const hundredths = (value: number): string => String(Math.floor(value * unit * 100 + 0.5) / 100);
  const rows = time.map((moment, i) => [moment.toFixed(4), hundredths(x[i]!), hundredths(-y[i]! + 8), ...(withKeys ? [keys.jump[i], keys.left[i], keys.right[i]] : [])].join(',')); // prettier-ignore
  return `${['time', 'x', 'y', ...(withKeys ? ['jump', 'left', 'right'] : [])].join(',')}\n${rows.join('\n')}\n`;
}

export const randomOf = randomizer;
