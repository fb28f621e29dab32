import { ACTIONS, openStage, type Driver } from 'apperin';
import { expect } from 'chai';

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

describe('Memory', () => {
  it('grows by less than 64 kB over a million ticks, with driver and listener on', function () {
    const collect = (globalThis as { gc?: () => void }).gc;
    if (!collect) return this.skip();
    const stage = openStage({ rows: ['........', '.@....#.', '########'], bounds: { left: 'wall', right: 'wall' } });
    stage.add({}, { driver: busy() });
    let heard = 0;
    stage.listen(() => heard++);
    const run = (ticks: number): void => {
      for (let i = 0; i < ticks; i++) stage.tick(1 / 120);
    };
    run(50_000);
    collect();
    const before = process.memoryUsage().heapUsed;
    run(1_000_000);
    collect();
    const grown = process.memoryUsage().heapUsed - before;
    this.test!.title += ` (${grown} bytes, ${heard} events)`;
    expect(heard).to.be.greaterThan(10_000);
    expect(grown).to.be.below(65_536);
  });
});
