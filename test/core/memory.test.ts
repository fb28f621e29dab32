import { ACTIONS, openStage, type Driver } from 'apperin';
import { expect } from 'chai';
import { EVERY_ABILITY } from '../support/make.js';
import { memoryOf } from '../support/memory-of.js';
import { fully } from '../support/share.js';

const JUMP = ACTIONS.indexOf('jump');
const RIGHT = ACTIONS.indexOf('right');

/** Presses something every quarter of a second, for ever. */
function busy(): Driver {
  let next = 0;
  let turn = 0;
  return {
    read(into) {
      for (; next < into.until; next += 0.25) {
        turn = (turn + 1) % 4;
        into.push(next, turn < 2 ? JUMP : RIGHT, turn % 2);
      }
    },
  };
}

const ROOM = { rows: ['........', '.@....#.', '########'], bounds: { left: 'wall', right: 'wall' } } as const;

const collect = (globalThis as { gc?: () => void }).gc;
const heap = (): number => process.memoryUsage().heapUsed;

describe('Memory', () => {
  for (const [name, tuning] of [
    ['nothing but jump and run', {}],
    ['every ability', EVERY_ABILITY],
  ] as const)
    fully(`grows by less than 64 kB over a million ticks, with driver and listener on and ${name}`, function () {
      if (!collect) return this.skip();
      const stage = openStage(ROOM);
      stage.add(tuning, { driver: busy() });
      let heard = 0;
      stage.listen(() => heard++);
      const run = (ticks: number): void => {
        for (let i = 0; i < ticks; i++) stage.tick(1 / 120);
      };
      // Long enough that every function has been compiled for good.
      run(2_000_000);
      collect();
      const before = heap();
      run(1_000_000);
      collect();
      const grown = heap() - before;
      this.test!.title += ` (${grown} bytes, ${heard} events)`;
      expect(heard).to.be.greaterThan(10_000);
      expect(grown).to.be.below(65_536);
    });

  fully('is not needed by restoring a snapshot, nor by taking one into an array', function () {
    const each = memoryOf('restoring');
    this.test!.title += ` (${each.toFixed(2)} B each)`;
    expect(each).to.be.below(65_536 / 50_000);
  });

  it('of a snapshot in an array is the same as of a new one', () => {
    const stage = openStage(ROOM);
    stage.add(EVERY_ABILITY, { driver: busy() });
    for (let i = 0; i < 100; i++) stage.tick(1 / 60);
    const kept = stage.snapshot();
    const there = stage.snapshot();
    for (let i = 0; i < 50; i++) stage.tick(1 / 60);
    stage.restore(kept);
    stage.snapshot(there.fill(0));
    expect([...there]).to.deep.equal([...kept]);
  });
});
