import * as core from 'apperin';
import { expect } from 'chai';
import { HARD_CASES, playCase } from '../support/hard-cases.js';

describe('Hard cases by name', () => {
  for (const one of HARD_CASES)
    it(one.name, () => {
      for (const rate of [15, 60, 240]) {
        const { x, y, support, events } = playCase(core, one, rate);
        expect(events, `${rate}`).to.equal(one.events);
        expect(support).to.equal('ground');
        expect(x).to.be.closeTo(one.ends[0], 1e-4);
        expect(y).to.be.closeTo(one.ends[1], 1e-6);
      }
    });
});
