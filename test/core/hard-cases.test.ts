import { expect } from 'chai';
import { HARD_CASES } from '../support/hard-cases.js';
import { names, presses, simulate } from '../support/simulate.js';

describe('Hard cases by name', () => {
  for (const { name, level, tuning, at, keys, seconds, ends, events } of HARD_CASES)
    it(name, () => {
      const walled = { ...level, bounds: { left: 'wall', right: 'wall', bottom: 'wall' } } as const;
      for (const rate of [15, 60, 240]) {
        const run = simulate(walled, tuning, presses(keys), rate, seconds, { at });
        expect(names(run).join(' '), `${rate}`).to.equal(events);
        const last = run.rows.at(-1)!;
        expect(last.support).to.equal('ground');
        expect(last.x).to.be.closeTo(ends[0], 1e-4);
        expect(last.y).to.be.closeTo(ends[1], 1e-6);
      }
    });
});
