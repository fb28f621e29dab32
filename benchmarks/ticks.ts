import { ACTIONS, openStage, type Driver, type Level } from 'apperin';
import { bareLoop, ring } from './bare-loop.js';

const DT = 1 / 60;

/** A yard with something in reach everywhere: at least 16 edges near the body wherever it goes. */
export const RICH: Level = {
  rows: [
    '########################',
    '#......#......#........#',
    '#..##......#.....##....#',
    '#......##......#.......#',
    '#..#........#.......#..#',
    '#....##..#.....##......#',
    '#.@.........#.......#..#',
    '#####.####.#####.#######',
    '#..........#...........#',
    '########################',
  ],
};

/** The same with lifts that cross the way: on, off and against them all the time. */
export const LIFTS: Level = {
  ...RICH,
  movers: [4, 8, 13, 18].map((x, i) => ({
    name: `lift${i}`,
    shapes: [{ form: 'solid', points: [[x, 6], [x + 2, 6], [x + 2, 6.5], [x, 6.5]] }], // prettier-ignore
    route: {
      curve: [[0, 0, i % 2 === 0 ? 0 : 1.5, -2]],
      lap: 2 + 0.3 * i,
      keyPoints: [0, 1, 0],
      keyTimes: [0, 0.5, 1],
    },
  })),
};

/** The same with ramps up and down, steep ones, a hanging one, and a one-way slope. */
const RAMPS: Level = {
  rows: [
    '########################',
    '#......#......#........#',
    '#..##......#.....v/....#',
    '#......v/......#.......#',
    '#..#........#.......\\..#',
    '#....##..#.....##......#',
    '#.@.../\\.....y..../.\\..#',
    '###\\/####.#\\/##.#######',
    '#..........#...........#',
    '########################',
  ],
  marks: { v: { solid: { hanging: [0, 1] } }, y: { 'one-way': [0, 1] } },
};

/** Runs to and fro and jumps, over and over: a round of presses, s into the round, action, value. */
const ROUND = 1.6;
const PRESSES = [
  [0, 'left', 0],
  [0, 'right', 1],
  [0.2, 'jump', 1],
  [0.6, 'jump', 0],
  [0.8, 'right', 0],
  [0.8, 'left', 1],
  [1, 'jump', 1],
  [1.05, 'jump', 0],
] as const;

/** Everything that a character can do. */
const EVERYTHING = { airJumps: {}, wall: {}, glide: {}, dive: {}, ledge: {}, drop: {}, crouch: {} };

function lively(): Driver {
  let round = 0;
  let next = 0;
  return {
    read(into) {
      for (;;) {
        const [offset, action, value] = PRESSES[next]!;
        const time = round * ROUND + offset;
        if (time >= into.until) return;
        into.push(time, ACTIONS.indexOf(action), value);
        next++;
        if (next === PRESSES.length) {
          next = 0;
          round++;
        }
      }
    },
  };
}

export interface Case {
  name: string;
  /** Runs so many ticks. */
  run(ticks: number): void;
}

export function cases(): Case[] {
  const edges = ring(16);
  const falling = openStage({ rows: ['@'] });
  // A cap so low that the fall never ends within reach of the number's precision.
  falling.add({ gravity: { fallSpeed: 5 } });
  const rich = openStage(RICH);
  const hero = rich.add({}, { driver: lively() });
  const ramps = openStage(RAMPS);
  ramps.add({}, { driver: lively() });
  const lifts = openStage(LIFTS);
  lifts.add({}, { driver: lively() });
  let counted = 0;
  hero.on('touchdown', () => counted++);
  const rest = openStage({ rows: ['@'], bounds: { bottom: 'wall' } });
  rest.add({});
  return [
    { name: 'bare loop, 16 edges', run: (ticks) => void bareLoop(ticks, DT, edges) },
    {
      name: 'free flight',
      run: (ticks) => {
        for (let i = 0; i < ticks; i++) falling.tick(DT);
      },
    },
    {
      name: 'rich terrain, running and jumping',
      run: (ticks) => {
        for (let i = 0; i < ticks; i++) rich.tick(DT);
      },
    },
    {
      name: 'ramps, running and jumping',
      run: (ticks) => {
        for (let i = 0; i < ticks; i++) ramps.tick(DT);
      },
    },
    {
      name: 'among four lifts, running and jumping',
      run: (ticks) => {
        for (let i = 0; i < ticks; i++) lifts.tick(DT);
      },
    },
    {
      name: 'at rest',
      run: (ticks) => {
        for (let i = 0; i < ticks; i++) rest.tick(DT);
      },
    },
  ];
}

/** The same run with every ability on, and with none: jump and run alone. */
export function abilityCases(): { all: Case; none: Case } {
  const [all, none] = [EVERYTHING, {}].map((tuning): Case => {
    const stage = openStage(RICH);
    stage.add(tuning, { driver: lively() });
    return {
      name: '',
      run: (ticks) => {
        for (let i = 0; i < ticks; i++) stage.tick(DT);
      },
    };
  });
  return { all: all!, none: none! };
}

export interface Compared {
  /** Time of the one over time of the other, turn by turn: the median. */
  ratio: number;
  /** Seconds of the one, and of the other, for all ticks of a turn: the medians. */
  one: number;
  other: number;
}

/** Runs two in turn, many times, so that a machine whose speed drifts slows both alike. */
export function compared(one: Case, other: Case, ticks: number, turns = 25): Compared {
  const seconds = (which: Case): number => {
    const from = performance.now();
    which.run(ticks);
    return (performance.now() - from) / 1000;
  };
  for (let i = 0; i < 200; i++) {
    one.run(1000);
    other.run(1000);
  }
  const pairs = Array.from({ length: turns }, () => [seconds(one), seconds(other)] as const);
  const median = (values: number[]): number => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
  return {
    ratio: median(pairs.map(([a, b]) => a / b)),
    one: median(pairs.map(([a]) => a)),
    other: median(pairs.map(([, b]) => b)),
  };
}
