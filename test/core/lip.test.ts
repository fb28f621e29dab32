import type { CompiledLevel, Level, Tuning } from 'apperin';
import { readLevel } from 'apperin/files';
import { expect } from 'chai';
import { RATES, names, presses, simulate, the } from '../support/simulate.js';

/** A floor and a block on it, `high` units high and two units off the start; `roof` above the floor is where a beam begins that hangs over the block. */
function block(high: number, roof?: number): CompiledLevel {
  const beam = roof === undefined ? '' : `<rect class="solid" x="3" y="${5.99 - roof - 0.2}" width="5" height="0.2"/>`;
  return readLevel(
    `<svg xmlns="http://www.w3.org/2000/svg"><rect class="solid" y="5.99" width="8" height="0.01"/>${beam}
     <rect class="solid" x="3" y="${5.99 - high}" width="5" height="${high}"/><circle class="spawn" cx="1" cy="5.99"/></svg>`,
    { file: 'block.level.svg' },
  ).compiled;
}

const tuning: Tuning = { jump: { height: 2 }, grace: { lip: 0.2, lipSpeed: 4 }, body: { width: 0.7, height: 1 } };

/** Pressed against the block from the start, then a jump straight up along it. */
function alongside(high: number, rate = 60, changed: Tuning = {}) {
  return simulate(block(high), { ...tuning, ...changed }, presses('right@0 jump@0.5'), rate, 1.3);
}

describe('Lip assist', () => {
  it('helps over every miss up to its limit, at every rate, and not beyond', () => {
    for (let k = 1; k <= 22; k++) {
      const miss = k / 100;
      for (const rate of k % 5 === 0 ? RATES : ([60] as const)) {
        const run = alongside(2 + miss, rate);
        if (k <= 20) {
          expect(names(run).slice(0, 3), `${miss} at ${rate}`).to.deep.equal(['bump', 'takeoff', 'lip']);
          const lip = the(run, 'lip');
          expect(lip.side).to.equal('right');
          expect(lip.moved).to.be.at.most(0.2 + 1e-6);
          expect(the(run, 'touchdown').time).to.equal(lip.time);
          expect(run.rows.at(-1)!.y).to.be.closeTo(5.99 - 2 - miss, 1e-7);
          expect(run.rows.at(-1)!.support).to.equal('ground');
        } else expect(names(run), `${miss} at ${rate}`).to.deep.equal(['bump', 'takeoff', 'apex', 'touchdown']);
      }
    }
  });

  it('does so in steps of a hundredth of the limit, on both sides', () => {
    const right: Level = { rows: ['......', '...###', '.@.###', '######'] };
    const left: Level = { rows: ['......', '###...', '###.@.', '######'] };
    for (const [level, side] of [
      [right, 'right'],
      [left, 'left'],
    ] as const)
      for (let k = 1; k <= 104; k++) {
        const height = 2 - (0.2 * k) / 100;
        const run = simulate(level, { ...tuning, jump: { height } }, presses(`${side}@0 jump@0.5`), 60, 1.3);
        expect(names(run).includes('lip'), `${k} hundredths, ${side}`).to.equal(k <= 100);
        expect(run.rows.at(-1)!.y, `${k} hundredths, ${side}`).to.equal(k <= 100 ? 1 : 3);
      }
  });

  it('comes at the same moment at every rate', () => {
    const first = the(alongside(2.1, RATES[0]!), 'lip');
    for (const rate of RATES) expect(the(alongside(2.1, rate), 'lip').time).to.be.closeTo(first.time, 1e-9);
  });

  it('keeps the speed across when the body comes flying', () => {
    // Off the ground at full speed, meeting the side just after the apex, a little too low.
    const run = simulate(block(1.95), { ...tuning, run: { speed: 3 } }, presses('right@0 jump@0.1'), 60, 1.2);
    const lip = the(run, 'lip');
    expect(lip.vx).to.be.closeTo(3, 1e-6);
    const after = run.rows.find(({ time }) => time > lip.time + 1e-9)!;
    expect(after).to.include({ support: 'ground', vx: lip.vx });
    expect(names(run)).to.not.include('bump');
  });

  it('needs a slow rise or fall, a key toward the side, and room above', () => {
    expect(names(alongside(1.5, 60, { grace: { lip: 0.2, lipSpeed: 0.5 } }))).to.not.include('lip');
    const idle = simulate(block(2.1), tuning, presses('right@0-0.4 jump@0.5'), 60, 1.3);
    expect(names(idle)).to.not.include('lip');
    // A ceiling a body's height above the top leaves room; one a little lower does not.
    const roofed = (gap: number): CompiledLevel => block(2.1, 2.1 + gap);
    expect(names(simulate(roofed(1), tuning, presses('right@0 jump@0.5'), 60, 1.3))).to.include('lip');
    expect(names(simulate(roofed(0.98), tuning, presses('right@0 jump@0.5'), 60, 1.3))).to.not.include('lip');
  });

  it('is off at 0, and with grace off', () => {
    for (const grace of ['off', { lip: 0 }] as const)
      expect(names(alongside(2.1, 60, { grace }))).to.not.include('lip');
  });

  it('works where the air cannot be steered', () => {
    expect(names(alongside(2.1, 60, { run: { air: 'locked' } }))).to.include('lip');
  });
});
