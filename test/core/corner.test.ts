import type { Level } from 'apperin';
import { expect } from 'chai';
import { RATES, names, presses, simulate, the } from '../support/simulate.js';

const WIDTH = 1;
const CORNER = 0.25;
const tuning = { body: { width: WIDTH, height: 1 }, grace: { corner: CORNER }, jump: { height: 3 } };

/** A block overhead, two tiles wide, with its underside two units above the floor; open sky beside it. */
const BLOCK: Level = { rows: ['.........', '.........', '....##...', '.........', '.........', '#########'] };

/** A jump straight up that clips the block by `miss`, on its left or right end. */
function clip(miss: number, side: 'left' | 'right', rate = 60, input = 'jump@0.1', level = BLOCK) {
  const x = side === 'left' ? 4 + miss - WIDTH / 2 : 6 - miss + WIDTH / 2;
  return simulate(level, tuning, presses(input), rate, 1.3, { at: [x, 5] });
}

describe('Corner correction', () => {
  it('lets the jump go on with its speed for every miss up to its limit, on both sides, and not beyond', () => {
    for (const side of ['left', 'right'] as const) {
      for (let k = 1; k <= 105; k++) {
        const miss = (CORNER * k) / 100;
        const run = clip(miss, side);
        if (k <= 100) {
          expect(names(run), `${side} ${k} %`).to.deep.equal(['takeoff', 'corner', 'apex', 'touchdown']);
          const corner = the(run, 'corner');
          expect(corner.side).to.equal(side);
          expect(corner.moved).to.be.closeTo(miss, 1e-6);
          // As high as without the block, and just beside it.
          expect(5 - the(run, 'apex').y).to.be.closeTo(3, 1e-9);
          expect(the(run, 'apex').x).to.equal(side === 'left' ? 4 - WIDTH / 2 : 6 + WIDTH / 2);
        } else expect(names(run), `${side} ${k} %`).to.deep.equal(['takeoff', 'bump', 'touchdown']);
      }
    }
  });

  it('does the same at every rate, to the moment', () => {
    const first = clip(0.1, 'left', RATES[0]!);
    for (const rate of RATES) {
      const run = clip(0.1, 'left', rate);
      expect(names(run)).to.deep.equal(names(first));
      expect(the(run, 'corner').time).to.be.closeTo(the(first, 'corner').time, 1e-9);
    }
  });

  it('never moves against a held key, and does move along one', () => {
    expect(names(clip(0.1, 'left', 60, 'jump@0.1 left@0.2'))).to.include('corner');
    // The air is slow to answer, so the body is still under the corner when its head meets it.
    const against = clip(0.1, 'left', 240, 'jump@0.1 right@0.15');
    expect(names(against)).to.include('bump').and.not.include('corner');
  });

  it('never moves into or through a wall', () => {
    const walled: Level = { rows: ['.........', '.........', '..#.##...', '..#......', '..#......', '#########'] };
    // The gap between wall and block is as wide as the body: there is room.
    expect(names(clip(0.1, 'left', 60, 'jump@0.1', walled))).to.include('corner');
    // A wall a little nearer leaves less room than that: the place beside the block is not free.
    const tight: Level = {
      rows: ['......', '......', '..##..', '......', '......', '######'],
      bounds: { left: 'wall' },
    };
    const asked = { ...tuning, body: { width: 2.2, height: 1 }, grace: { corner: 1 } };
    expect(names(simulate(tight, asked, presses('jump@0.1'), 60, 1.2, { at: [1.2, 5] })))
      .to.include('bump')
      .and.not.include('corner');
    const open = { ...tight, bounds: {} };
    expect(names(simulate(open, asked, presses('jump@0.1'), 60, 1.2, { at: [1.2, 5] }))).to.include('corner');
  });

  it('does nothing where both sides are blocked, and where it is off', () => {
    const roof: Level = { rows: ['#########', '.........', '.........', '#########'] };
    expect(names(simulate(roof, tuning, presses('jump@0.1'), 60, 0.5, { at: [4.5, 3] }))).to.deep.equal([
      'takeoff',
      'bump',
      'touchdown',
    ]);
    for (const grace of ['off', { corner: 0 }] as const) {
      const run = simulate(BLOCK, { ...tuning, grace }, presses('jump@0.1'), 60, 0.5, { at: [3.6, 5] });
      expect(names(run)).to.include('bump').and.not.include('corner');
    }
  });

  it('chooses the nearer side of a narrow thing, and of two equal ones the way faced', () => {
    // A thing 0.2 wide overhead: a tile of 0.2, with everything else in such tiles too.
    const wide = 60;
    const rows = Array.from({ length: 30 }, (_, row) =>
      row === 29 ? '#'.repeat(wide) : row === 14 ? '.'.repeat(30) + '#' + '.'.repeat(29) : '.'.repeat(wide),
    );
    const level: Level = { rows, tile: 0.2 };
    const body = { ...tuning, body: { width: 0.2, height: 1 } };
    for (const [x, facing, side] of [
      [6.12, 1, 'right'],
      [6.08, 1, 'left'],
      [6.1, 1, 'right'],
      [6.1, -1, 'left'],
    ] as const) {
      const run = simulate(level, body, presses('jump@0.1'), 60, 0.6, { at: [x, 5.8], facing });
      expect(the(run, 'corner').side, `${x} facing ${facing}`).to.equal(side);
    }
  });

  it('happens at most once in a tenth of a second', () => {
    // Two blocks over each other, the upper one a little farther out: its corner is met a moment after the lower one's.
    const rows = Array.from({ length: 40 }, () => '.'.repeat(60));
    const block = (row: number, from: number): void =>
      void (rows[row] = rows[row]!.slice(0, from) + '#'.repeat(20) + rows[row]!.slice(from + 20));
    block(15, 30);
    block(12, 29);
    rows[39] = '#'.repeat(60);
    const run = simulate(
      { rows, tile: 0.1 },
      { ...tuning, body: { width: 1, height: 1 }, jump: { height: 3 } },
      presses('jump@0.1'),
      60,
      1.3,
      { at: [2.6, 3.9] },
    );
    expect(names(run)).to.deep.equal(['takeoff', 'corner', 'bump', 'touchdown']);
    expect(the(run, 'bump').time - the(run, 'corner').time).to.be.below(0.1);
  });
});
