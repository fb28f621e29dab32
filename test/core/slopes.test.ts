import {
  compileLevel,
  compileOutlines,
  fingerprint,
  openStage,
  rowNumbers,
  script,
  type CompiledLevel,
  type Level,
  type Tuning,
} from 'apperin';
import { readLevel } from 'apperin/files';
import { expect } from 'chai';
import { names, presses, RATES, simulate, the, type Run } from '../support/simulate.js';
import { fully } from '../support/share.js';

const tan = (degrees: number): number => Math.tan((degrees * Math.PI) / 180);

/** Level ground, a ramp of an angle up to 6 units high, a landing and the same ramp down. y up. */
function ramp(degrees: number): ReturnType<typeof compileOutlines> {
  const long = 6 / tan(degrees);
  return compileOutlines([
    [
      [-30, 0],
      [0, 0],
      [long, 6],
      [long + 10, 6],
      [2 * long + 10, 0],
      [2 * long + 60, 0],
      [2 * long + 60, -1],
      [-30, -1],
    ],
  ]);
}

function at(
  level: CompiledLevel,
  x: number,
  y: number,
  tuning: Tuning,
  keys: string,
  rate: number,
  seconds: number,
): Run {
  return simulate(level, tuning, presses(keys), rate, seconds, { at: [x, y] });
}

describe('Slopes', () => {
  fully('of every angle from 1 to 89 degrees: walked up to the steepest, and no farther', () => {
    for (let degrees = 1; degrees < 90; degrees++) {
      const level = ramp(degrees);
      const rate = [15, 60, 240][degrees % 3]!;
      const run = at(level, -3, 0, {}, 'right@0', rate, 3);
      const after = run.events.filter(({ event }) => event !== 'footfall').map(({ event }) => event);
      if (degrees <= 50) {
        expect(after, `${degrees}`).to.deep.equal([]);
        const onIt = run.rows.filter(({ x }) => x > 0 && x + 0.4 < 6 / tan(degrees)).at(-1)!;
        // Measured along the ground.
        expect(Math.hypot(onIt.vx, onIt.vy), `${degrees}`).to.be.closeTo(7.5, 1e-9);
        expect(onIt.vy / onIt.vx).to.be.closeTo(tan(degrees), 1e-7);
        // The corner of the feet is on the line, whatever the rate.
        for (const { x, y } of run.rows)
          if (x > 0 && x + 0.35 < 6 / tan(degrees)) expect(y).to.be.closeTo((x + 0.35) * tan(degrees), 1e-5);
      } else {
        expect(after, `${degrees}`).to.deep.equal(['bump']);
        expect(run.rows.at(-1)).to.include({ y: 0, vx: 0 });
        expect(Math.max(...run.rows.map(({ y }) => y))).to.equal(0);
      }
    }
  });

  fully('of every angle: down them without leaving the ground, or sliding off', () => {
    for (let degrees = 1; degrees < 90; degrees++) {
      const level = ramp(degrees);
      const long = 6 / tan(degrees);
      const run = at(level, long + 2, 6, {}, 'right@0', [15, 60, 240][degrees % 3]!, long < 30 ? 6 : 8);
      const after = names(run).filter((name) => name !== 'footfall');
      // At most 50 degrees steep they are followed; steeper ones are left, and met again on the way down.
      if (degrees <= 50) expect(after, `${degrees}`).to.deep.equal([]);
      else expect(after[0], `${degrees}`).to.equal('leave');
      if (long < 30) expect(run.rows.at(-1)!.y).to.equal(0);
      expect(after).to.not.include('stuck');
    }
  });

  it('of every angle up to the steepest: stood on for ten thousand ticks, the same bits; jumped from and landed on', () => {
    for (let degrees = 1; degrees <= 50; degrees++) {
      const level = ramp(degrees);
      const x = 3 / tan(degrees) - 0.35;
      const stage = openStage(level);
      const hero = stage.add({}, { at: [x, 3.5] });
      while (hero.support !== 'ground') stage.tick(1 / 60);
      const rest = hero.y;
      for (let i = 0; i < (degrees % 10 === 0 ? 10_000 : 300); i++) stage.tick(1 / 60);
      expect([hero.x, hero.y, hero.vx, hero.vy]).to.deep.equal([x, rest, 0, 0]);
      const jump = at(level, x, rest + 0.1, {}, 'jump@0.5', 60, 2.5);
      const apex = the(jump, 'apex', 0);
      expect(apex.y! - rest, `${degrees}`).to.be.closeTo(3.25, 1e-5);
      expect(jump.rows.at(-1)!.y).to.be.closeTo(rest, 1e-9);
      expect(jump.rows.at(-1)!.support).to.equal('ground');
    }
  });

  it('scale the speed going up and down, and measure it across if asked', () => {
    const level = ramp(30);
    const speedOn = (tuning: Tuning, from: number, keys: string): number => {
      const { rows } = at(level, from, from < 5 ? 0 : 6, tuning, keys, 60, 2.2);
      const row = rows.find(({ y, time }) => time > 0.6 && y > 1.5 && y < 4.5)!;
      return tuning.slope?.pace === 'across' ? Math.abs(row.vx) : Math.hypot(row.vx, row.vy);
    };
    const far = 6 / tan(30) + 8;
    expect(speedOn({ slope: { uphill: 0.6 } }, -3, 'right@0')).to.be.closeTo(4.5, 1e-9);
    expect(speedOn({ slope: { downhill: 1.2 } }, far, 'right@0')).to.be.closeTo(9, 1e-9);
    expect(speedOn({ slope: { pace: 'across' } }, -3, 'right@0')).to.be.closeTo(7.5, 1e-9);
    expect(speedOn({ run: { feel: 'eased' } }, -3, 'right@0')).to.be.closeTo(7.5, 1e-6);
  });

  it('are left at a right angle by jumps that ask for it', () => {
    const level = ramp(30);
    const x = 3 / tan(30) - 0.35;
    const { motion } = openStage(level).add({}, { at: [x, 5] });
    const run = at(level, x, 3.01, { slope: { launch: 'normal' }, run: { air: 'locked' } }, 'jump@0.5-1.5', 60, 1);
    const up = run.rows.find(({ vy }) => vy > 0)!;
    expect(up.vx).to.be.closeTo(-motion.launch / 2, 1e-6);
    expect(the(run, 'apex', 0).y).to.be.below(3 + 3.25 * 0.76);
  });

  it('that are too steep are slid down: g·sin·slip along them, the terminal speed kept', () => {
    for (const [degrees, slip] of [
      [60, 1],
      [75, 0.5],
      [88, 1],
    ] as const)
      for (const rate of RATES) {
        const level = ramp(degrees);
        const { motion } = openStage(level).add({}, { at: [-5, 0] });
        const x = 4 / tan(degrees) - 0.35;
        const run = at(level, x, 4, { slope: { slip } }, '', rate, 0.2);
        const sin2 = Math.sin((degrees * Math.PI) / 180) ** 2;
        for (const { time, y } of run.rows)
          expect(y, `${degrees} at ${rate}, ${time}`).to.be.closeTo(
            4 - (motion.falling * sin2 * slip * time * time) / 2,
            3e-4,
          );
        expect(run.rows.at(-1)).to.include({ phase: 'slip', support: '' });
        // Pressing into it, or gliding, changes nothing of that but the fall's speed; neither raises the body.
        const pressed = at(level, x, 4, { slope: { slip }, glide: {} }, 'right@0 glide@0.05', rate, 0.5);
        pressed.rows.forEach(({ y }, i) => {
          if (i > 0) expect(y).to.be.at.most(pressed.rows[i - 1]!.y + 1e-9);
        });
      }
  });

  it('hold a body between two faces that are too steep, with all ground rights, in a shaft and in a funnel', () => {
    const pit = compileOutlines([[[-10, 8], [-3, 8], [0, 0], [3, 8], [10, 8], [10, -2], [-10, -2]]]); // prettier-ignore
    const funnel = compileOutlines([[[-4, 8], [0, 8], [0, 0], [3, 8], [8, 8], [8, -2], [-4, -2]]]); // prettier-ignore
    for (const level of [pit, funnel])
      for (const rate of [15, 60, 240]) {
        const run = at(level, level === pit ? 0.2 : 0.9, 6, {}, 'left@0.5-1 right@1-1.5 jump@2', rate, 3.4);
        expect(names(run).filter((name) => name === 'stuck' || name === 'leave')).to.deep.equal([]);
        const rest = run.rows.find(({ time }) => time >= 1.9)!;
        expect(rest).to.include({ support: 'ground', vx: 0, vy: 0 });
        expect(the(run, 'apex', 0).y! - rest.y).to.be.closeTo(3.25, 1e-6);
        expect(run.rows.at(-1)!.y).to.be.closeTo(rest.y, 1e-6);
      }
  });

  fully('in a convex run are one ground: no bump, no leave, no speed lost', () => {
    const points: [number, number][] = [];
    for (let i = 0; i <= 40; i++)
      points.push([
        -20 * Math.cos((Math.PI * (50 + 2 * i)) / 180),
        20 * Math.sin((Math.PI * (50 + 2 * i)) / 180) - 20 * Math.sin((Math.PI * 50) / 180),
      ]);
    const hill = compileOutlines([[[-40, 0], ...points, [40, 0], [40, -2], [-40, -2]]]);
    for (const rate of RATES)
      for (const bevel of [0, 0.1]) {
        const run = at(hill, -25, 0, { body: { bevel } }, 'right@0', rate, 8);
        expect(
          names(run).filter((name) => name !== 'footfall'),
          `${rate}`,
        ).to.deep.equal([]);
        for (const { vx, vy, time, x } of run.rows)
          if (time > 0.5 && x < 30) expect(Math.hypot(vx, vy)).to.be.closeTo(7.5, 1e-9);
        expect(run.rows.at(-1)!.x).to.be.greaterThan(20);
      }
  });

  it('and floors in pieces are as if in one: a thousand tiles, a thousand drawn rectangles, and one edge', () => {
    const tuning: Tuning = { jump: { height: 2 } };
    const keys = 'right@0-4 jump@1-1.2 jump@2 left@4.5';
    const prints = [
      compileLevel({ rows: ['.'.repeat(1000), '#'.repeat(1000)] }),
      compileOutlines({ outlines: [{ form: 'solid', points: [[0, 1], [1000, 1], [1000, 2], [0, 2]] }] }), // prettier-ignore
      readLevel(
        `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1000 2">${[...Array(1000).keys()].map((i) => `<rect class="solid" x="${i}" y="1" width="1" height="1"/>`).join('')}</svg>`,
      ).compiled,
    ].map((level) => {
      const { rows } = at(level, 3, 1, tuning, keys, 60, 7);
      return fingerprint(Float64Array.from(rows.flatMap(rowNumbers)));
    });
    expect(new Set(prints).size).to.equal(1);
    const steps = [...Array(40).keys()]
      .map((i) => `${'.'.repeat(49 - i)}/${'#'.repeat(i + 30)}`)
      .concat('#'.repeat(80));
    const big = compileOutlines({ outlines: [{ form: 'solid', points: [[10, 40], [50, 0], [80, 0], [80, 41], [0, 41], [0, 40]] }] }); // prettier-ignore
    const whole = at(big, 3, 40, tuning, keys, 60, 7);
    const tiles = at(compileLevel({ rows: ['.'.repeat(80), ...steps], origin: [0, -1] }), 3, 40, tuning, keys, 60, 7);
    expect(fingerprint(Float64Array.from(tiles.rows.flatMap(rowNumbers)))).to.equal(
      fingerprint(Float64Array.from(whole.rows.flatMap(rowNumbers))),
    );
  });
});

describe('Steps', () => {
  const stairs = (height: number): Level => ({
    rows: ['.'.repeat(160), '.'.repeat(120) + '#'.repeat(40), '#'.repeat(160)],
    tile: height,
    spawns: { start: { at: [80 * height, 2 * height] } },
  });

  it('of at most slope.step are walked over, up and down, without slowing; higher ones stop the body', () => {
    for (const rate of [15, 60, 240])
      for (const bevel of [0, 0.05]) {
        const up = simulate(stairs(0.3), { body: { bevel } }, presses('right@0'), rate, 2.4);
        expect(names(up).filter((name) => name !== 'footfall')).to.deep.equal([]);
        expect(up.rows.at(-1)!.y).to.be.closeTo(0.3, 1e-8);
        for (const { time, vx } of up.rows) if (time > 0.3) expect(vx).to.equal(7.5);
        const down = simulate(stairs(0.3), { body: { bevel } }, presses('left@0'), rate, 2, { at: [44, 0.3] });
        expect(names(down).filter((name) => name !== 'footfall' && name !== 'turned')).to.deep.equal([]);
        expect(down.rows.at(-1)!.y).to.be.closeTo(0.6, 1e-8);
      }
    expect(names(simulate(stairs(0.31), {}, presses('right@0'), 60, 2.4))).to.include('bump');
    expect(names(simulate(stairs(0.3), { slope: { step: 0 } }, presses('right@0'), 60, 2.4))).to.include('bump');
  });

  it('need headroom, and are smoothed in the picture', () => {
    const low: Level = { ...stairs(0.3), rows: ['.'.repeat(121) + '#'.repeat(39), ...Array(4).fill('.'.repeat(160)) as string[], ...stairs(0.3).rows], origin: [0, -1.5] }; // prettier-ignore
    expect(names(simulate(low, { body: { height: 1.55 } }, presses('right@0'), 60, 2.4))).to.include('bump');
    const stage = openStage(stairs(0.25));
    const hero = stage.add({}, { driver: script(presses('right@0')) });
    let last = NaN;
    for (let i = 0; i < 600; i++) {
      stage.tick(1 / 240);
      const { y, stepLag } = hero.view();
      // What is drawn goes up no faster than the body runs.
      expect(Math.abs(y + stepLag - (Number.isNaN(last) ? y : last))).to.be.at.most(7.5 / 240 + 1e-9);
      last = y + stepLag;
    }
    expect([last, hero.y]).to.deep.equal([0.25, 0.25]);
  });
});
