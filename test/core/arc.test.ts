import {
  acrossAt,
  acrossPieces,
  apexOf,
  arcPieces,
  comingDown,
  compileTuning,
  fallPieces,
  stateAt,
  type Motion,
} from 'apperin';
import { expect } from 'chai';
import { PLAIN, randomTuning } from '../support/make.js';
import { randomizer } from '../support/random.js';
import { RATES, presses, simulate, the } from '../support/simulate.js';
import { fully } from '../support/share.js';

/** The tunings of this file: bands, multipliers, caps and ramps at random. */
function tunings(seed: number, count: number): Motion[] {
  const random = randomizer(seed);
  return Array.from({ length: count }, () => compileTuning(randomTuning(random)));
}

/** The run-up that is certainly over, s. */
function runUp(m: Motion): number {
  return Math.ceil((acrossPieces(m.ground, 0, m.ground.speed).at(-1)!.start + 0.01) * 1000) / 1000;
}

describe('The simulation and the closed form', () => {
  const motions = tunings(31, 240);

  for (const rate of RATES) {
    it(`agree on the full jump at ${rate} ticks a second: apex, moment, time in the air, reach`, () => {
      // Fewer at the highest rates: the ticks are many, and no rate is special.
      for (const m of rate > 500 ? motions.slice(0, 60) : motions) {
        const arc = arcPieces(m, m.launch);
        const down = comingDown(arc, 0);
        const press = runUp(m);
        const run = simulate(PLAIN, m, presses(`right@0 jump@${press}`), rate, press + down.time + 2 / rate);
        const takeoff = the(run, 'takeoff');
        const apex = the(run, 'apex');
        const landing = the(run, 'touchdown');
        expect(takeoff.y - apex.y).to.be.closeTo(m.jumpHeight, 1e-9 * m.jumpHeight);
        expect(apex.time - takeoff.time).to.be.closeTo(m.riseTime, 1e-9);
        expect(landing.time - takeoff.time).to.be.closeTo(down.time, 1e-9 * Math.max(1, down.time));
        expect(landing.speed).to.be.closeTo(down.speed, 1e-8 * down.speed);
        const across = acrossPieces(
          m.airLocked ? undefined : m.air,
          m.ground.speed,
          m.airLocked ? m.ground.speed : m.air.speed,
        );
        expect(landing.x - takeoff.x).to.be.closeTo(acrossAt(across, down.time).x, 1e-8 * (1 + m.ground.speed));
      }
    });

    it(`agree on the lowest hop at ${rate} ticks a second`, () => {
      for (const m of rate > 500 ? motions.slice(0, 60) : motions) {
        const run = simulate(PLAIN, m, presses('jump@0.1-0.100001'), rate, 0.1 + 2 * m.riseTime);
        const rise = the(run, 'takeoff').y - the(run, 'apex').y;
        // Let go a microsecond after the press: below the least hold, or as good as at once.
        const exact = apexOf(arcPieces(m, m.launch, 1e-6)).y;
        expect(rise).to.be.closeTo(exact, 1e-9 * m.jumpHeight);
        if (m.minHold > 2e-6) expect(rise).to.be.closeTo(m.lowestHop, 1e-9 * m.jumpHeight);
      }
    });
  }

  fully('agree on a fall from an edge, at every tick', () => {
    for (const m of tunings(32, 80)) {
      const fall = fallPieces(m);
      const run = simulate({ rows: ['@'] }, m, [], 60, 1.5);
      for (const row of run.rows) {
        const { y, v } = stateAt(fall, row.time);
        expect(run.rows[0]!.y - row.y).to.be.closeTo(y, 1e-9 * Math.max(1, -y));
        expect(-row.vy).to.be.closeTo(v, 1e-9 * m.cap);
      }
    }
  });

  fully('agree on the run, the stop and the turn, steady and eased', () => {
    for (const m of tunings(33, 120)) {
      const run = simulate(PLAIN, m, presses('right@0-1.2 left@2.4'), 60, 3.6);
      const stages = [
        { from: 0, pieces: acrossPieces(m.ground, 0, m.ground.speed) },
        { from: 1.2, pieces: acrossPieces(m.ground, acrossAt(acrossPieces(m.ground, 0, m.ground.speed), 1.2).v, 0) },
      ];
      for (const { from, pieces } of stages) {
        const x = run.rows.find((row) => row.time >= from - 1e-9)!.x;
        for (const row of run.rows.filter(({ time }) => time > from && time < from + 1.15)) {
          const exact = acrossAt(pieces, row.time - from);
          expect(row.x - x).to.be.closeTo(exact.x, 1e-9 * (1 + m.ground.speed));
          expect(row.vx).to.be.closeTo(exact.v, 1e-9 * (1 + m.ground.speed));
        }
      }
    }
  });
});
