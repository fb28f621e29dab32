import { type Level, type Tuning } from 'apperin';
import { expect } from 'chai';
import { RATES, names, presses, simulate, the } from '../support/simulate.js';

/** A grating two above the floor, over the start; at its right end a solid joins it, level with it. */
const YARD: Level = {
  rows: [
    '............',
    '............',
    '............',
    '..=====##...',
    '............',
    '.....@......',
    '############',
  ],
  spawns: { on: { at: [3.5, 3] }, seam: { at: [6.8, 3] }, high: { at: [4.5, 1] } },
};
/** Ten gratings above each other. */
const LADDER: Level = { rows: [...Array<string>(10).fill('...\n===').join('\n').split('\n'), '.@.', '###'] };

describe('One-way ground', () => {
  it('is jumped through from below and stood on from above, at every rate', () => {
    for (const rate of RATES) {
      const run = simulate(YARD, {}, presses('jump@0.1'), rate, 1.2);
      expect(names(run)).to.deep.equal(['takeoff', 'apex', 'touchdown']);
      expect(the(run, 'takeoff').y - the(run, 'apex').y).to.be.closeTo(3.25, 1e-9);
      expect(run.rows.at(-1)).to.include({ y: 3, support: 'ground', vy: 0 });
      const top = simulate(YARD, {}, [], rate, 0.5, { at: 'on' });
      expect(top.rows.every(({ y, support }) => y === 3 && support === 'ground')).to.equal(true);
    }
  });

  it('is landed on by a jump of just its height, solid or not', () => {
    for (const rate of RATES)
      for (const rows of [YARD.rows, YARD.rows.map((row) => row.replaceAll('=', '.').replaceAll('#', '='))]) {
        const level = { ...YARD, rows };
        const floor: Level = { ...level, rows: [...rows.slice(0, -1), '############'] };
        const run = simulate(floor, { jump: { height: 3 } }, presses('right@0.1-0.5 jump@0.15'), rate, 1.1, {
          at: [4.4, 6],
        });
        expect(run.rows.at(-1)!.y).to.equal(3);
        expect(names(run)).to.not.include('bump');
      }
  });

  it('lets a body fall back that turns round half-way through it', () => {
    for (const rate of RATES)
      for (const height of [2.9, 2.999, 2.2]) {
        const run = simulate(YARD, { jump: { height, lowestHop: 1 }, grace: 'off' }, presses('jump@0.1'), rate, 1.2);
        expect(names(run)).to.deep.equal(['takeoff', 'apex', 'touchdown']);
        expect(run.rows.at(-1)!.y).to.equal(6);
      }
  });

  it('does nothing to what comes from the side', () => {
    const run = simulate(YARD, { grace: 'off' }, presses('right@0'), 60, 0.5, { at: [0.6, 3.4] });
    expect(names(run)).to.deep.equal(['touchdown']);
    expect(run.rows.at(-1)!.x).to.be.greaterThan(2.5);
  });

  it('stops a fall of a thousand widths a tick', () => {
    const fast: Tuning = { gravity: { fallSpeed: 60_000, falling: 1000 } };
    const run = simulate(YARD, fast, [], 60, 0.2, { at: 'high' });
    expect(run.rows.at(-1)).to.include({ y: 3, support: 'ground' });
  });

  it('joins solid ground: running over the seam is nothing', () => {
    const run = simulate(YARD, {}, presses('right@0'), 60, 0.55, { at: 'on' });
    expect(names(run)).to.deep.equal([]);
    expect(run.rows.at(-1)!.x).to.be.greaterThan(7);
    const back = simulate(YARD, {}, presses('left@0'), 60, 0.4, { at: [7.5, 3], facing: -1 });
    expect(names(back)).to.deep.equal([]);
  });

  it('leaves a solid beside it its own corners', () => {
    const run = simulate(YARD, { ledge: {}, grace: 'off' }, presses('right@0'), 60, 0.6, { at: [6.4, 3.9] });
    expect(names(run)).to.include('hang');
  });

  it('is the roof of nothing: one under a solid is not there', () => {
    const level: Level = { rows: ['....', '.#..', '.=..', '.@..', '####'] };
    const run = simulate(level, { jump: { height: 1.4, lowestHop: 1 } }, presses('jump@0.1'), 60, 1);
    expect(names(run)).to.deep.equal(['takeoff', 'bump', 'touchdown']);
  });
});

describe('Dropping', () => {
  const drop: Tuning = { drop: {} };

  it('takes down and jump before every jump, and goes through the ground that was underfoot, no other', () => {
    for (const rate of RATES) {
      const run = simulate(YARD, { ...drop, airJumps: {}, charge: {} }, presses('down@0.1 jump@0.2-0.3'), rate, 1.2, {
        at: 'on',
      });
      const expected = ['dropThrough', 'touchdown'];
      expect(names(run).slice(0, 2)).to.deep.equal(expected);
      expect(the(run, 'dropThrough')).to.include({ y: 3 });
      expect(the(run, 'dropThrough').time).to.be.closeTo(0.2, 1e-9);
      expect(run.rows.at(-1)!.y).to.equal(6);
      const ladder = simulate(LADDER, drop, presses('down@0.1 jump@0.2-0.3 jump@0.6-0.7'), rate, 1, { at: [1.5, 1] });
      expect(names(ladder)).to.deep.equal(['dropThrough', 'touchdown', 'dropThrough', 'touchdown']);
      expect(ladder.rows.at(-1)!.y).to.equal(5);
    }
  });

  it('does not happen on solid ground, partly on it, or without the ability: that is a jump', () => {
    const press = presses('down@0.1 jump@0.2-0.3');
    expect(the(simulate(YARD, drop, press, 60, 0.5), 'takeoff').by).to.equal('ground');
    expect(the(simulate(YARD, drop, press, 60, 0.5, { at: 'seam' }), 'takeoff').by).to.equal('ground');
    expect(the(simulate(YARD, {}, press, 60, 0.5, { at: 'on' }), 'takeoff').by).to.equal('ground');
  });

  it('needs only down where `by` says so', () => {
    const run = simulate(YARD, { drop: { by: 'down' } }, presses('down@0.1-0.2'), 60, 1, { at: 'on' });
    expect(names(run)).to.deep.equal(['dropThrough', 'touchdown']);
    const both = simulate(YARD, drop, presses('down@0.1-0.2'), 60, 1, { at: 'on' });
    expect(names(both)).to.deep.equal([]);
  });

  it('is over once the body is clear: jumping up again it lands on the same ground', () => {
    const run = simulate(YARD, { ...drop, airJumps: {} }, presses('down@0.1-0.25 jump@0.2-0.24 jump@0.3'), 60, 1.2, {
      at: 'on',
    });
    expect(names(run)).to.deep.equal(['dropThrough', 'takeoff', 'apex', 'touchdown']);
    expect(run.rows.at(-1)!.y).to.equal(3);
  });
});
