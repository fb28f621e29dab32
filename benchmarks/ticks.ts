import { openStage, script, type InputRow, type Level } from 'apperin';
import { bareLoop, ring } from './bare-loop.js';

const DT = 1 / 60;

/** A yard with something in reach everywhere: at least 16 edges near the body wherever it goes. */
const RICH: Level = {
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

/** Runs to and fro and jumps, over and over. */
function lively(seconds: number): InputRow[] {
  const rows: InputRow[] = [];
  for (let t = 0; t < seconds; t += 1.6) {
    rows.push({ time: t, action: 'left', value: 0 }, { time: t, action: 'right', value: 1 }, { time: t + 0.2, action: 'jump', value: 1 });
    rows.push({ time: t + 0.6, action: 'jump', value: 0 }, { time: t + 0.8, action: 'right', value: 0 }, { time: t + 0.8, action: 'left', value: 1 });
    rows.push({ time: t + 1, action: 'jump', value: 1 }, { time: t + 1.05, action: 'jump', value: 0 });
  }
  return rows;
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
  const seconds = 3600;
  let input = script(lively(seconds));
  const hero = rich.add({}, { driver: input });
  let counted = 0;
  hero.on('touchdown', () => counted++);
  const rest = openStage({ rows: ['@'], bounds: { bottom: 'wall' } });
  rest.add({});
  const start = rich.snapshot();
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
        for (let i = 0; i < ticks; i++) {
          if (rich.time > seconds - 1) {
            rich.restore(start);
            input = script(lively(seconds));
          }
          rich.tick(DT);
        }
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

/** Seconds for so many ticks: the median of several runs, after a warm-up. */
export function timed(one: Case, ticks: number, runs = 7): number {
  one.run(ticks);
  const times: number[] = [];
  for (let i = 0; i < runs; i++) {
    const from = performance.now();
    one.run(ticks);
    times.push((performance.now() - from) / 1000);
  }
  return times.sort((a, b) => a - b)[Math.floor(runs / 2)]!;
}
