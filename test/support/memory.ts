// How much memory some calls take, in bytes each, on standard output: run as a process of its own, since what else has been compiled in one decides what the engine keeps in registers.
import { ACTIONS, openStage, type Driver, type OverlapList } from 'apperin';
import { EVERY_ABILITY } from './make.js';

const collect = (globalThis as { gc?: () => void }).gc!;

/** Calls it until it is compiled for good, then counts what it takes. Nothing is collected meanwhile; the least of a few, since compiling allocates too. */
function bytesOf(call: (i: number) => void, warm: number, count: number): number {
  const run = (times: number): void => {
    for (let i = 0; i < times; i++) call(i);
  };
  run(warm);
  const counts = Array.from({ length: 5 }, () => {
    collect();
    const before = process.memoryUsage().heapUsed;
    run(count);
    return process.memoryUsage().heapUsed - before;
  });
  return Math.min(...counts) / count;
}

/** Questions that are given where to write: one of each sort. */
function questions(): (i: number) => void {
  const stage = openStage({
    rows: ['........', '........', '..==....', '@......#', '########'],
    zones: [
      { name: 'coin', box: [4, 3, 0.5, 0.5] },
      { name: 'pool', pieces: [[[0, 2], [2, 2], [2, 4], [0, 4]]] },
    ],
    movers: [{ name: 'lift', shapes: [{ form: 'solid', points: [[5, 2], [6, 2], [6, 2.5], [5, 2.5]] }], route: { curve: [[0, 0, 0, -2]], lap: 4, keyPoints: [0, 1, 0] } }],
  });
  const hero = stage.add({}, { at: [1, 4] });
  const overlaps: OverlapList = { count: 0, found: [] };
  const touch = stage.ray([3.5, 3.5], [20, 3.5])!;
  const box = { x: 1, y: 3, width: 0.5, height: 0.5 };
  const by: [number, number] = [9, 0.1];
  const from: [number, number] = [0, 0];
  const to: [number, number] = [8, 3.5];
  const options = { characters: [hero] };
  return (i) => {
    box.x = (i % 64) / 8;
    from[0] = (i % 32) / 4;
    stage.overlap(box, options, overlaps);
    stage.ray(from, to, options, touch);
    stage.sweep(box, by, undefined, touch);
  };
} // prettier-ignore

/** To a snapshot, and another one into an array. */
function restoring(): () => void {
  const stage = openStage({ rows: ['........', '.@....#.', '########'], bounds: { left: 'wall', right: 'wall' } });
  let next = 0;
  const restless: Driver = {
    read(into) {
      for (; next < into.until; next += 0.25) into.push(next, ACTIONS.indexOf((next * 4) % 4 < 2 ? 'jump' : 'right'), (next * 4) % 2); // prettier-ignore
    },
  };
  stage.add(EVERY_ABILITY, { driver: restless });
  for (let i = 0; i < 100; i++) stage.tick(1 / 60);
  const kept = stage.snapshot();
  const there = stage.snapshot();
  return () => {
    stage.restore(kept);
    stage.snapshot(there);
  };
}

const what = process.argv[2];
console.log(what === 'questions' ? bytesOf(questions(), 300_000, 100_000) / 3 : bytesOf(restoring(), 100_000, 50_000));
