import { TuningError, compileTuning, type Tuning } from 'apperin';
import { mergeTuning, readTuning } from 'apperin/files';
import { sheet } from 'apperin/lab';
import { expect } from 'chai';
import { PLAIN, randomTuning } from '../support/make.js';
import { randomizer } from '../support/random.js';
import { RATES, presses, simulate, the } from '../support/simulate.js';
import { problemsOf } from './../files/tuning.test.js';

const sources = (run: ReturnType<typeof simulate>): string[] =>
  run.events.filter(({ event }) => event === 'takeoff').map(({ by }) => by);

describe('Air jumps', () => {
  it('rise by their height from wherever they start, whatever the speed before', () => {
    const random = randomizer(121);
    for (let i = 0; i < 120; i++) {
      const heights = [random.between(0.1, 4), random.between(0.1, 4)];
      const tuning = { ...randomTuning(random), airJumps: { heights } };
      const m = compileTuning(tuning);
      // Pressed again while still rising.
      const second = 0.1 + m.riseTime * random.between(0.1, 0.9);
      const input = presses(`jump@0.1-${(second - 0.001).toFixed(6)} jump@${second.toFixed(6)}`);
      const run = simulate(PLAIN, tuning, input, random.pick(RATES), second + 4);
      expect(sources(run)).to.deep.equal(['ground', 'air']);
      expect(
        the(run, 'takeoff', 1).y - the(run, 'apex', run.events.filter(({ event }) => event === 'apex').length - 1).y,
        `tuning ${i}`,
      ).to.be.closeTo(heights[0]!, 1e-9 * (1 + heights[0]!));
    }
  });

  it('are as many as the list is long, each with its own height, and come back on the ground', () => {
    const tuning: Tuning = { airJumps: { heights: [2, 1] } };
    for (const rate of RATES) {
      const run = simulate(
        PLAIN,
        tuning,
        presses('jump@0.1-0.4 jump@0.5-0.6 jump@0.9-1 jump@1.1-1.2 jump@3-3.2 jump@3.3'),
        rate,
        3.4,
      );
      expect(sources(run), `at ${rate}`).to.deep.equal(['ground', 'air', 'air', 'ground', 'air']);
    }
    const run = simulate(PLAIN, tuning, presses('jump@0.1 jump@0.1'), 60, 0.3);
    expect(run.rows[0]!.jumpsLeft).to.equal(3);
    expect(run.rows.at(-1)!.jumpsLeft).to.equal(2);
  });

  it('need no jump before them: walking off an edge leaves them all', () => {
    const edge = { rows: ['@.....', '#.....', '......'] };
    const run = simulate(edge, { airJumps: {} }, presses('right@0 jump@0.5'), 60, 0.6);
    expect(sources(run)).to.deep.equal(['air']);
    // Within the coyote window the press is still the jump from the ground.
    const early = simulate(edge, { airJumps: {} }, presses('right@0 jump@0.25-0.3 jump@0.4'), 60, 0.6);
    expect(sources(early)).to.deep.equal(['coyote', 'air']);
  });

  it('go on for ever where they are endless, but keep their distance', () => {
    const flap: Tuning = { airJumps: { heights: [1.5], endless: true, spacing: 0.2 } };
    const input = Array.from({ length: 40 }, (_, i) =>
      presses(`jump@${(0.1 + i * 0.11).toFixed(3)}-${(0.15 + i * 0.11).toFixed(3)}`),
    ).flat();
    for (const rate of [30, 60, 240]) {
      const run = simulate(PLAIN, flap, input, rate, 4);
      const times = run.events.filter(({ by }) => by === 'air').map(({ time }) => time);
      expect(times.length).to.be.greaterThan(10);
      times.slice(2).forEach((time, i) => expect(time - times[i + 1]!).to.be.at.least(0.2 - 1e-9));
      // A press that comes too early waits, and acts at the very moment it may.
      expect(times.some((time, i) => i > 1 && Math.abs(time - times[i - 1]! - 0.2) < 1e-9)).to.equal(true);
      expect(Math.min(...run.rows.map(({ jumpsLeft }) => jumpsLeft))).to.equal(1);
    }
  });

  it('are given back by what the tuning names, and not otherwise', () => {
    const tuning: Tuning = { airJumps: { heights: [1], restoredBy: ['ledge'] } };
    const run = simulate(PLAIN, tuning, presses('jump@0.1-0.2 jump@0.3-0.4 jump@3-3.1 jump@3.2'), 60, 3.4);
    expect(sources(run)).to.deep.equal(['ground', 'air', 'ground']);
  });

  it('are off unless asked for, scale with the tile, and merge as a whole list', () => {
    expect(compileTuning({}).airLaunch).to.have.length(0);
    expect(compileTuning({ airJumps: 'off' }).airLaunch).to.have.length(0);
    expect(compileTuning({ tile: 16, airJumps: {} }).full.airJumps!.heights).to.deep.equal([36]);
    expect(mergeTuning({ airJumps: { heights: [1, 2, 3] } }, { airJumps: { heights: [4] } }).airJumps).to.deep.equal({
      heights: [4],
    });
    expect(() => compileTuning({ airJumps: { heights: [] } })).to.throw(
      TuningError,
      /airJumps\.heights is a list; it must be a list of 1 to 16, each above 0/,
    );
    expect(() => compileTuning({ airJumps: { heights: [1, NaN] } })).to.throw(TuningError, /is NaN/);
    const [problem] = problemsOf(() => readTuning('airJumps:\n  heights: [1, -2]\n'));
    expect(problem).to.include({
      line: 2,
      column: 16,
      message: 'airJumps.heights.1 is -2; it must be above 0 and at most 67108864',
    });
    expect(problemsOf(() => readTuning('airJumps: { endless: maybe }\n'))[0]!.message).to.contain(
      'it must be true or false',
    );
    expect(problemsOf(() => readTuning('airJumps: { restoredBy: [sleep] }\n'))[0]!.message).to.contain(
      'must be one of ground, ledge, wall, zone',
    );
  });

  it('stand in the sheet with their rise, stacked height and stacked reach', () => {
    const tuning: Tuning = { airJumps: { heights: [2, 1] } };
    const value = (id: string): number => sheet(tuning).find((measure) => measure.id === id)!.value;
    expect(value('airJump1Rise')).to.be.closeTo(2, 1e-9);
    expect(value('airJump2Rise')).to.be.closeTo(1, 1e-9);
    expect(value('airJump2Height')).to.be.closeTo(6.25, 1e-9);
    // Each pressed at the top of the one before, with the key held.
    const top = 3 + 0.4;
    const m = compileTuning(tuning);
    const rise = (launch: number): number => (launch - m.band) / m.rising + m.band / m.apex;
    const next = top + rise(m.airLaunch[0]!);
    const input = presses(`right@0 jump@3-${(top - 1e-6).toFixed(6)}`).concat(
      presses(`jump@${top.toFixed(6)}-${(next - 2e-6).toFixed(6)} jump@${next.toFixed(6)}`),
    );
    const run = simulate(PLAIN, tuning, input, 240, 7);
    expect(the(run, 'takeoff').y - Math.min(...run.events.map(({ y }) => y))).to.be.closeTo(6.25, 1e-4);
    expect(the(run, 'touchdown').x - the(run, 'takeoff').x).to.be.closeTo(value('airJump2Reach'), 1e-3);
  });
});
