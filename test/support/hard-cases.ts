import type * as Core from 'apperin';
import type { Level, Tuning } from 'apperin';
import { presses } from './simulate.js';

/** A place where bodies get stuck, fall in or slip through elsewhere. */
export interface HardCase {
  name: string;
  level: Level;
  tuning: Tuning;
  at: readonly [number, number];
  keys: string;
  seconds: number;
  /** Where it is in the end, and what came up, without footfalls. */
  ends: readonly [x: number, y: number];
  events: string;
}

const BODY = { width: 1, height: 1.3 };

/** The hard cases by name; rows go down, the body's feet at `at`. */
export const HARD_CASES: readonly HardCase[] = [
  {
    name: 'a slot exactly as wide as the body, under the tip of a slope too steep to stand on',
    level: { rows: ['......', '.\\....', '.#.###', '.#.###', '.#.###', '.#####'] },
    tuning: { body: BODY, slope: { steepest: 30 }, run: { feel: 'eased' }, glide: { budget: 20 } },
    at: [3.5, 2],
    keys: 'glide@0 left@0.2',
    seconds: 10,
    ends: [2.5, 5],
    events: 'turned leave glideOn bump bump touchdown glideOff',
  },
  {
    name: 'a gap exactly as wide as the body, run over',
    level: { rows: ['........', '........', '###.####', '###.####'] },
    tuning: { body: BODY },
    at: [1, 2],
    keys: 'right@0-1.2',
    seconds: 2,
    ends: [7.5, 2],
    events: 'bump',
  },
  {
    name: 'a corridor exactly as high as the body, at the top of a ramp',
    level: { rows: ['...####', '.......', '../####', '#######'] },
    tuning: { body: { width: 0.5, height: 1 } },
    at: [1, 3],
    keys: 'right@0-1',
    seconds: 2,
    ends: [6.75, 2],
    events: 'bump',
  },
  {
    name: 'a V of two faces too steep to stand on: it holds, and lets go',
    level: { rows: ['......', '#\\../#', '##\\/##', '######'] },
    tuning: { body: { width: 0.8, height: 1.2 }, slope: { steepest: 30 } },
    at: [2.7, 0],
    keys: 'right@0.6-1 jump@1.4 left@1.5-2.4',
    seconds: 3,
    ends: [0.4, 1],
    events: 'bump touchdown takeoff turned apex bump touchdown',
  },
  {
    name: 'between a floor and a slope that comes down to it',
    level: { rows: ['........', '...v....', '........', '########'], marks: { v: { solid: { hanging: [0, 1] } } } },
    tuning: { body: { width: 0.7, height: 1.4 } },
    at: [1, 3],
    keys: 'right@0-1 left@1.2-1.3',
    seconds: 2,
    ends: [2.703125, 3],
    events: 'bump turned',
  },
  {
    name: 'from solid ground on to a one-way slope that falls from it, and back',
    level: { rows: ['........', '...../##', '##z.....', '########'], marks: { z: { 'one-way': [1, 0] } } },
    tuning: { body: { width: 0.9, height: 1.3 } },
    at: [0.5, 2],
    keys: 'right@0-0.8',
    seconds: 1.5,
    ends: [4.55, 3],
    events: 'bump',
  },
  {
    name: 'a cut corner at the foot of a slope as steep as the cut',
    level: { rows: ['........', '....####', '.../####', '########'] },
    tuning: { body: { width: 0.8, height: 1.3, bevel: 0.2 } },
    at: [1, 3],
    keys: 'right@0-1 left@1.2-2',
    seconds: 2.4,
    ends: [0.4, 3],
    events: 'bump turned bump',
  },
  {
    name: 'crouched under a slanted ceiling, standing up where it leaves room',
    level: { rows: ['........', '..##w...', '........', '########'], marks: { w: { solid: { hanging: [1, 0] } } } },
    tuning: { body: { width: 0.7, height: 1.6 }, crouch: { height: 0.8, speed: 3 } },
    at: [1, 3],
    keys: 'down@0-0.8 right@0-1.6',
    seconds: 2,
    ends: [7.0705, 3],
    events: '',
  },
  {
    name: 'on the upper end of a one-way slope',
    level: { rows: ['....', '....', '.y..', '....', '####'], marks: { y: { 'one-way': [0, 1] } } },
    tuning: { body: BODY, slope: { steepest: 30 } },
    at: [2.3, 1],
    keys: '',
    seconds: 1,
    ends: [2.3, 2],
    events: 'touchdown',
  },
];

const WALLED = { left: 'wall', right: 'wall', bottom: 'wall' } as const;

/** Plays a case with a core. */
export function playCase(core: typeof Core, { level, tuning, at, keys, seconds }: HardCase, rate: number) {
  const stage = core.openStage({ ...level, bounds: WALLED });
  const hero = stage.add(tuning, { at, driver: core.script(presses(keys)) });
  const told: string[] = [];
  stage.listen(({ event }) => void (event === 'footfall' || told.push(event)));
  for (let i = 0; i < seconds * rate - 1e-6; i++) stage.tick(1 / rate);
  return { x: hero.x, y: hero.y, support: hero.support, events: told.join(' ') };
}
