import { type StageEvent } from 'apperin';
import { expect } from 'chai';
import { dash } from '../../examples/dash/dash.js';
import { busyInput, everything, mill } from '../support/everything.js';
import { tiles, tuningFor } from '../support/harder-ground.js';
import { randomInput, randomLevel, livelyTuning } from '../support/make.js';
import { randomizer } from '../support/random.js';
import { RATES, simulate, type Run } from '../support/simulate.js';
import { share } from '../support/share.js';

const SECONDS = 5;

/** What happened, every number of it; what comes at the very end belongs to either side of it. */
function told({ events }: Run, until: number): Partial<StageEvent>[] {
  return events.filter(({ time }) => time < until - 1e-6).map(({ tick: _, ...event }) => event);
}

const GROUNDS = { quick: 8, test: 110, deep: 1100 };
const RUNS = { quick: 5, test: 60, deep: 600 };

describe('Any rate, same motion', () => {
  it('gives the same events, moments, places and speeds at eight rates, bit for bit', function () {
    const random = randomizer(41);
    let events = 0;
    for (let i = 0; i < share(RUNS); i++) {
      const level = randomLevel(random);
      const tuning = livelyTuning(random);
      const input = randomInput(random, SECONDS);
      const [first, ...others] = RATES.map((rate) => told(simulate(level, tuning, input, rate, SECONDS), SECONDS));
      for (const other of others) expect(other, `level ${i}`).to.deep.equal(first);
      events += first!.length;
    }
    this.test!.title += ` (${share(RUNS)} runs, ${events} events)`;
  });

  it('does so with every ability on, in shafts and under beams', function () {
    const random = randomizer(21);
    let events = 0;
    for (let i = 0; i < share(RUNS); i++) {
      const level = mill(random);
      const tuning = everything(random);
      const input = busyInput(random, 8);
      const [first, ...others] = [30, 60, 240].map((rate) => told(simulate(level, tuning, input, rate, 8, { abilities: [dash] }), 8)); // prettier-ignore
      for (const other of others) expect(other, `case ${i}`).to.deep.equal(first);
      events += first!.length;
    }
    this.test!.title += ` (${events} events)`;
  });

  it('does so on ground of all shapes', function () {
    const random = randomizer(2);
    let events = 0;
    for (let i = 0; i < share(GROUNDS); i++) {
      const { level, at } = tiles(random);
      const tuning = tuningFor(random);
      const input = busyInput(random, 6).filter(({ action }) => action !== 'dash');
      const [first, ...others] = [15, 60, 240].map((rate) => told(simulate(level, tuning, input, rate, 6, { at }), 6));
      for (const other of others) expect(other, `case ${i}`).to.deep.equal(first);
      events += first!.length;
    }
    this.test!.title += ` (${share(GROUNDS)} runs, ${events} events)`;
  });

  it('does not depend on ticks of uneven length', async () => {
    const { openStage, script } = await import('apperin');
    const random = randomizer(42);
    for (let i = 0; i < 30; i++) {
      const level = randomLevel(random);
      const tuning = livelyTuning(random);
      const input = randomInput(random, SECONDS);
      const even = simulate(level, tuning, input, 60, SECONDS);
      const stage = openStage(level);
      const who = stage.add(tuning, { driver: script(input) });
      while (stage.time < SECONDS - 0.2) stage.tick(random.between(0.0005, 0.1));
      const row = simulate(level, tuning, input, 1 / (stage.time / Math.ceil(stage.time * 60)), stage.time).rows.at(
        -1,
      )!;
      expect(who.x).to.be.closeTo(row.x, 1e-6);
      expect(who.y).to.be.closeTo(row.y, 1e-6);
      expect(even.rows.length).to.equal(SECONDS * 60 + 1);
    }
  });
});
