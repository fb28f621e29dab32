import { openStage } from 'apperin';
import { expect } from 'chai';
import { PLAIN } from '../support/make.js';
import { RATES, names, presses, simulate, the } from '../support/simulate.js';

const STEP = {
  rows: [
    '....................',
    '.@..................',
    '####................',
    '....................',
    '####################',
  ],
};

describe('Presses', () => {
  it('make one jump while the key is held', () => {
    for (const rate of RATES)
      expect(names(simulate(PLAIN, {}, presses('jump@0.1'), rate, 3))).to.deep.equal(['takeoff', 'apex', 'touchdown']);
  });

  it('are never lost between two ticks: pressed and let go is a tap', () => {
    for (const rate of RATES) {
      const run = simulate(PLAIN, {}, presses('jump@0.101-0.1012'), rate, 1);
      expect(names(run)).to.deep.equal(['takeoff', 'apex', 'touchdown']);
      expect(the(run, 'takeoff').time).to.be.closeTo(0.101, 1e-12);
      expect(the(run, 'takeoff').y - the(run, 'apex').y).to.be.closeTo(1.25, 1e-9);
    }
  });

  it('act at their own moment inside a tick', () => {
    const run = simulate(PLAIN, {}, presses('right@0.333333'), 15, 1);
    const { upIn } = { upIn: 0.12 };
    expect(run.rows.at(-1)!.x - run.rows[0]!.x).to.be.closeTo(7.5 * (1 - 0.333333 - upIn / 2), 1e-9);
  });

  it('wait for the landing if they come a little early, once', () => {
    for (const rate of RATES) {
      const land = the(simulate(PLAIN, {}, presses('jump@0.1'), rate, 1), 'touchdown').time;
      const early = Math.round((land - 0.1) * 1e6) / 1e6;
      const run = simulate(PLAIN, {}, presses(`jump@0.1-0.2 jump@${early}`), rate, 3);
      // Let go early, the first jump is lower and lands sooner; the second press is aimed at that landing.
      const first = simulate(PLAIN, {}, presses('jump@0.1-0.2'), rate, 1);
      const landing = the(first, 'touchdown').time;
      const aimed = simulate(
        PLAIN,
        {},
        presses(`jump@0.1-0.2 jump@${Math.round((landing - 0.1) * 1e6) / 1e6}`),
        rate,
        3,
      );
      expect(names(aimed)).to.deep.equal(['takeoff', 'apex', 'touchdown', 'takeoff', 'apex', 'touchdown']);
      expect(the(aimed, 'takeoff', 1).time).to.equal(the(aimed, 'touchdown').time);
      expect(the(aimed, 'takeoff', 1).buffered).to.equal(true);
      expect(run.events.filter(({ event }) => event === 'takeoff')).to.have.length.within(1, 2);
    }
  });

  it('are forgotten if they come too early', () => {
    const landing = the(simulate(PLAIN, {}, presses('jump@0.1'), 60, 1), 'touchdown').time;
    for (const [early, jumps] of [
      [0.119, 2],
      [0.121, 1],
    ] as const) {
      const input = [...presses('jump@0.1-0.6'), ...presses(`jump@${(landing - early).toFixed(6)}`)];
      const run = simulate(
        PLAIN,
        { jump: { lowestHop: 3.25 } },
        input.sort((a, b) => a.time - b.time),
        60,
        2,
      );
      expect(run.events.filter(({ event }) => event === 'takeoff').length, `${early} s early`).to.equal(jumps);
    }
  });

  it('count as a tap if the key is already let go at the landing', () => {
    const landing = the(simulate(PLAIN, {}, presses('jump@0.1-0.2'), 60, 1), 'touchdown').time;
    const early = landing - 0.08;
    const run = simulate(
      PLAIN,
      {},
      presses(`jump@0.1-0.2 jump@${early.toFixed(6)}-${(early + 0.03).toFixed(6)}`),
      60,
      2,
    );
    expect(the(run, 'touchdown', 0).y - the(run, 'apex', 1).y).to.be.closeTo(1.25, 1e-9);
  });

  it('still jump from the ground just after leaving an edge, and not later', () => {
    for (const rate of RATES) {
      const leave = the(simulate(STEP, {}, presses('right@0'), rate, 1), 'leave').time;
      for (const [late, by] of [
        [0.07, 'coyote'],
        [0.09, undefined],
      ] as const) {
        const run = simulate(
          STEP,
          {},
          presses(`right@0 jump@${(leave + late).toFixed(6)}-${(leave + late + 0.01).toFixed(6)}`),
          rate,
          leave + late + 0.05,
        );
        expect(run.events.find(({ event }) => event === 'takeoff')?.by, `${late} s at ${rate}`).to.equal(by);
      }
    }
  });

  it('give a coyote jump its full height from where the body is, and only one', () => {
    const leave = the(simulate(STEP, {}, presses('right@0'), 60, 1), 'leave').time;
    const press = (leave + 0.05).toFixed(6);
    const again = (leave + 0.07).toFixed(6);
    const run = simulate(
      STEP,
      { grace: { coyote: 0.5, buffer: 0 } },
      presses(`right@0 jump@${press}-${(leave + 0.06).toFixed(6)} jump@${again}`),
      60,
      2,
    );
    expect(run.events.filter(({ event }) => event === 'takeoff')).to.have.length(1);
    const held = simulate(STEP, {}, presses(`right@0 jump@${press}`), 60, 2);
    expect(the(held, 'takeoff').y - the(held, 'apex').y).to.be.closeTo(3.25, 1e-9);
    expect(the(held, 'takeoff').y).to.be.greaterThan(2);
  });

  it('spend the right to jump, which the ground gives back: the trace tells', () => {
    const run = simulate(PLAIN, {}, presses('jump@0.1'), 60, 1);
    for (const { time, jumpsLeft } of run.rows) {
      const inAir = time > 0.1 + 1e-9 && time < the(run, 'touchdown').time;
      expect(jumpsLeft).to.equal(inAir ? 0 : 1);
    }
    const fall = simulate(STEP, {}, presses('right@0'), 240, 0.9);
    const left = the(fall, 'leave').time;
    for (const { time, jumpsLeft, support } of fall.rows) {
      expect(jumpsLeft).to.equal(support === 'ground' || time - left <= 0.08 + 1e-9 ? 1 : 0);
    }
  });

  it('do nothing with grace off', () => {
    const leave = the(simulate(STEP, {}, presses('right@0'), 60, 1), 'leave').time;
    const run = simulate(
      STEP,
      { grace: 'off' },
      presses(`right@0 jump@${(leave + 0.001).toFixed(6)}`),
      60,
      leave + 0.05,
    );
    expect(names(run)).to.deep.equal(['leave']);
  });

  it('of both directions follow the rule that was chosen', () => {
    for (const [opposed, way] of [
      ['still', 0],
      ['latest', -1],
      ['first', 1],
    ] as const) {
      const run = simulate(PLAIN, {}, presses('right@0 left@0.5'), 60, 1.5, { opposed });
      expect(Math.sign(run.rows.at(-1)!.vx), opposed).to.equal(way);
    }
  });

  it('let go early never come back as a full jump by pressing again', () => {
    const once = simulate(PLAIN, {}, presses('jump@0.1-0.2'), 60, 1);
    const again = simulate(PLAIN, {}, presses('jump@0.1-0.2 jump@0.21'), 60, 0.5);
    expect(the(again, 'apex').y).to.be.closeTo(the(once, 'apex').y, 1e-12);
    expect(the(once, 'takeoff').y - the(once, 'apex').y).to.be.within(1.25, 3.25);
  });
});

describe('A tick', () => {
  it('of one second over a whole jump takes at most ten part-ticks', () => {
    for (const input of ['jump@0.1', 'right@0 jump@0.2', 'right@0.05 jump@0.2-0.3']) {
      const stage = openStage(PLAIN);
      const run = simulate(PLAIN, {}, presses(input), 1, 1);
      expect(names(run)).to.include('touchdown');
      expect(run.who.parts).to.be.at.most(10);
      expect(stage.ticks).to.equal(0);
    }
  });
});
