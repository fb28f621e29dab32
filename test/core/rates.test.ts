import { type Tuning } from 'apperin';
import { expect } from 'chai';
import { dash } from '../../examples/dash/dash.js';
import { busyInput, everything, mill } from '../support/everything.js';
import { tiles, tuningFor } from '../support/harder-ground.js';
import { randomInput, randomLevel, livelyTuning } from '../support/make.js';
import { randomizer } from '../support/random.js';
import { RATES, names, simulate, type Run } from '../support/simulate.js';
import { share } from '../support/share.js';

const SECONDS = 5;

/**
 * How close a run comes to deciding otherwise: the smallest distance, in seconds or body widths, of a window or a span
 * from its threshold. Runs with less than 1e-5 may differ between rates for good reasons, and are left out.
 */
function margin(run: Run, coyote: number, buffer: number): number {
  let least = Infinity;
  const near = (value: number): void => {
    if (Math.abs(value) < least) least = Math.abs(value);
  };
  let left = -Infinity;
  for (const { event, time, x, y } of run.events) {
    if (event === 'leave') left = time;
    if (event === 'takeoff') {
      near(time - left - coyote);
      near(time - left - coyote - buffer);
    }
    // Edges lie on whole units: how far a side of the body is from one when something else is decided.
    const { half, height, width } = run.who.motion;
    if (event === 'touchdown')
      for (const side of [x - half, x + half]) near((side - Math.round(side)) / width || Infinity);
    if (event === 'bump') for (const side of [y, y - height]) near((side - Math.round(side)) / width || Infinity);
  }
  return least;
}

const GROUNDS = { quick: 8, test: 110, deep: 1100 };
const RUNS = { quick: 5, test: 60, deep: 600 };

describe('Any rate, same motion', () => {
  it('gives the same events in the same order, at the same moments and places, at eight rates', function () {
    const random = randomizer(41);
    let worstTime = 0;
    let worstPlace = 0;
    let closest = Infinity;
    let compared = 0;
    let events = 0;
    for (let i = 0; i < share(RUNS); i++) {
      const level = randomLevel(random);
      const tuning = livelyTuning(random);
      const input = randomInput(random, SECONDS);
      const runs = RATES.map((rate) => simulate(level, tuning, input, rate, SECONDS));
      const first = runs[0]!;
      const { coyote = 0, buffer = 0 } = tuning.grace as { coyote?: number; buffer?: number };
      const room = margin(first, coyote, buffer);
      if (room < 1e-5) continue;
      closest = Math.min(closest, room);
      compared++;
      // What happens in the last instant may belong to either side of the end.
      const done = (run: Run) => run.events.filter(({ time }) => time < SECONDS - 1e-6);
      for (const run of runs) {
        expect(names({ events: done(run) }, true), `level ${i}`).to.deep.equal(names({ events: done(first) }, true));
        done(run).forEach((event, k) => {
          const same = first.events[k]!;
          worstTime = Math.max(worstTime, Math.abs(event.time - same.time));
          worstPlace = Math.max(
            worstPlace,
            Math.abs(event.x - same.x) / run.who.motion.width,
            Math.abs(event.y - same.y) / run.who.motion.width,
          );
          events++;
        });
      }
    }
    this.test!.title += ` (${compared} runs, ${events} events; worst ${worstTime.toExponential(1)} s and ${worstPlace.toExponential(1)} widths; closest decision ${closest.toExponential(1)})`;
    expect(compared).to.be.greaterThan(0.8 * share(RUNS));
    expect(worstTime).to.be.below(1e-7);
    expect(worstPlace).to.be.below(1e-6);
  });

  it('does so with every ability on, in shafts and under beams', function () {
    const random = randomizer(21);
    let events = 0;
    for (let i = 0; i < share(RUNS); i++) {
      const level = mill(random);
      // Sizes that fit nothing exactly: else much is decided at a threshold.
      const tuning: Tuning = {
        ...everything(random),
        body: { width: random.between(0.5, 0.95), height: random.between(0.95, 1.9) },
        jump: { height: random.between(1.6, 3.9), riseTime: random.between(0.25, 0.5) },
      };
      const input = busyInput(random, 8);
      const runs = [30, 60, 240].map((rate) => simulate(level, tuning, input, rate, 8, { abilities: [dash] }));
      const told = (run: Run) => run.events.filter(({ time }) => time < 8 - 1e-6);
      const first = told(runs[0]!);
      events += first.length;
      for (const run of runs) {
        expect(
          told(run).map(({ event, by, side }) => [event, by, side]),
          `case ${i}`,
        ).to.deep.equal(first.map(({ event, by, side }) => [event, by, side]));
        told(run).forEach(({ time }, k) => expect(time, `case ${i}`).to.be.closeTo(first[k]!.time, 1e-7));
      }
    }
    this.test!.title += ` (${events} events)`;
  });

  it('does so on ground of all shapes', function () {
    const random = randomizer(2);
    let events = 0;
    let compared = 0;
    for (let i = 0; i < share(GROUNDS); i++) {
      const { level, at } = tiles(random);
      const tuning = tuningFor(random);
      const { bevel } = tuning.body!;
      tuning.body = { width: random.between(0.5, 0.95), height: random.between(0.95, 1.9) };
      if (bevel) tuning.body.bevel = random.between(0.05, 0.2);
      tuning.run!.speed = random.between(5, 15);
      // No tile is so steep, and no step is so high.
      tuning.slope!.steepest = random.pick([33, 47, 52, 68]);
      tuning.slope!.step = random.pick([0, random.between(0.1, 0.4), random.between(0.55, 0.7)]);
      tuning.jump = { height: random.between(1.6, 3.9), riseTime: random.between(0.25, 0.5) };
      const input = busyInput(random, 6).filter(({ action }) => action !== 'dash');
      const runs = [15, 60, 240].map((rate) => simulate(level, tuning, input, rate, 6, { at }));
      // What happens at the very end, and a footfall where the ground ends, may go either way.
      const told = (run: Run) => run.events.filter(({ event, time }) => time < 6 - 1e-6 && event !== 'footfall');
      const [first, ...others] = runs.map(told);
      // Two touches at once come in either order.
      const touches = first!.filter(({ event }) => event === 'bump' || event === 'touchdown');
      if (touches.some(({ time, event }, k) => k > 0 && event !== touches[k - 1]!.event && time - touches[k - 1]!.time < 1e-9)) continue; // prettier-ignore
      compared++;
      events += 2 * first!.length;
      for (const other of others) {
        expect(
          other.map(({ event, by, side }) => [event, by, side]),
          `case ${i}`,
        ).to.deep.equal(first!.map(({ event, by, side }) => [event, by, side]));
        other.forEach(({ time, x, y }, k) => {
          expect(time, `case ${i}`).to.be.closeTo(first![k]!.time, 1e-7);
          expect(Math.abs(x - first![k]!.x) + Math.abs(y - first![k]!.y), `case ${i}`).to.be.below(1e-6);
        });
      }
    }
    expect(compared).to.be.greaterThan(0.7 * share(GROUNDS));
    this.test!.title += ` (${compared} runs, ${events} events)`;
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
