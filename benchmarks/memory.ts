import { openStage } from 'apperin';
import type { Case } from './ticks.js';

const DT = 1 / 60;

/** Bytes that so many ticks allocate, once warm: what the young heap grows by while nothing is collected. */
export function allocated(one: Case, ticks: number): number {
  // Many short runs first, so that every function is compiled before it is counted.
  for (let i = 0; i < 500; i++) one.run(1000);
  const counts: number[] = [];
  for (let i = 0; i < 5; i++) {
    (globalThis as { gc?: () => void }).gc?.();
    const before = process.memoryUsage().heapUsed;
    one.run(ticks);
    counts.push(process.memoryUsage().heapUsed - before);
  }
  return counts.sort((a, b) => a - b)[2]!;
}

/** A flight that never meets anything and never leaves its candidates: what is left is the tick itself. */
export function still(): Case {
  const stage = openStage({ rows: ['@'], bounds: { bottom: 'wall' } });
  stage.add({});
  return {
    name: 'at rest',
    run: (ticks) => {
      for (let i = 0; i < ticks; i++) stage.tick(DT);
    },
  };
}

/** A fall through open air past a ladder of small floors: one query of the index each time the candidates run out. */
export function asking(): Case & { queries(ticks: number): number } {
  const rows = Array.from({ length: 400 }, (_, i) => (i % 4 === 0 ? '#....................' : '.....................'));
  const speed = 24;
  const make = () => {
    const stage = openStage({ rows, spawns: { start: { at: [10, 1] } } });
    const hero = stage.add({});
    return { stage, hero, start: stage.snapshot() };
  };
  const { stage, hero, start } = make();
  return {
    name: 'falling past 400 rows',
    run: (ticks) => {
      for (let i = 0; i < ticks; i++) {
        stage.tick(DT);
        if (hero.y > 390) stage.restore(start);
      }
    },
    // The padding is a body's width and height, and each answer serves until the body has fallen through it.
    queries: (ticks) => (ticks * speed) / 60 / (0.7 + 1.3),
  };
}
