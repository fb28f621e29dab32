import {
  TuningError,
  apexOf,
  arcPieces,
  comingDown,
  compileTuning,
  timeAcross,
  type Motion,
  type Tuning,
} from 'apperin';
import { expect } from 'chai';
import { PLAIN, randomTuning, type PlainTuning } from '../support/make.js';
import { randomizer } from '../support/random.js';
import { presses, simulate, the } from '../support/simulate.js';
import { share } from '../support/share.js';

/** The tuning's jump with other goals in place of its own. */
function withGoals(tuning: PlainTuning, goals: PlainTuning['jump']): Tuning {
  return { ...tuning, jump: { minHold: tuning.jump.minHold!, ...goals } };
}

function goalsOf(m: Motion) {
  const air = comingDown(arcPieces(m, m.launch), 0).time;
  return { height: m.jumpHeight, riseTime: m.riseTime, baseGravity: m.gravity, launchSpeed: m.launch, airTime: air };
}

function refusal(tuning: Tuning): TuningError {
  try {
    compileTuning(tuning);
  } catch (error) {
    if (error instanceof TuningError) return error;
    throw error;
  }
  throw new Error('this tuning was accepted');
}

describe('Goals become constants', () => {
  it('comes to the measured defaults', () => {
    const m = compileTuning({});
    const down = comingDown(arcPieces(m, m.launch), 0);
    expect(m.gravity).to.be.closeTo(49.4, 0.05);
    expect(m.launch).to.be.closeTo(17.7, 0.05);
    expect(down.time).to.be.closeTo(0.75, 0.005);
    expect(down.speed).to.be.closeTo(21.6, 0.05);
    expect(m.lowestHop).to.equal(1.25);
  });

  it('meets height and rise time whatever the multipliers', () => {
    const random = randomizer(11);
    for (let i = 0; i < share({ quick: 20, test: 400, deep: 4000 }); i++) {
      const tuning = randomTuning(random);
      const m = compileTuning(tuning);
      const apex = apexOf(arcPieces(m, m.launch));
      expect(apex.y).to.be.closeTo(tuning.jump.height!, 1e-12 * 10);
      expect(apex.time).to.be.closeTo(tuning.jump.riseTime!, 1e-12 * 10);
    }
  });

  it('gives the same constants from every sufficient pair', () => {
    const random = randomizer(12);
    const sizes = ['height', 'launchSpeed', 'baseGravity'] as const;
    let compared = 0;
    for (let i = 0; i < 60; i++) {
      const tuning = randomTuning(random);
      const m = compileTuning(tuning);
      const goals = goalsOf(m);
      const pairs = [
        ...sizes.flatMap((size) => [[size, 'riseTime'] as const, [size, 'airTime'] as const]),
        ['height', 'launchSpeed'] as const,
        ['height', 'baseGravity'] as const,
        ['launchSpeed', 'baseGravity'] as const,
      ];
      for (const [one, two] of pairs) {
        let again: Motion;
        try {
          again = compileTuning(withGoals(tuning, { [one]: goals[one], [two]: goals[two] }));
        } catch (error) {
          // Time in the air may belong to more than one jump; that is said, and nothing guessed.
          expect(error).to.be.instanceOf(TuningError);
          expect((error as Error).message).to.match(/leaves a choice of rise times/);
          continue;
        }
        compared++;
        expect(again.gravity, `${one} and ${two}`).to.be.closeTo(m.gravity, 1e-7 * m.gravity);
        expect(again.launch, `${one} and ${two}`).to.be.closeTo(m.launch, 1e-7 * m.launch);
      }
    }
    expect(compared).to.be.greaterThan(400);
  });

  it('meets a reach at run speed, with the rules of the air included', () => {
    const random = randomizer(13);
    for (let i = 0; i < 100; i++) {
      const tuning = randomTuning(random);
      const wanted = random.between(2, 12);
      let m: Motion;
      try {
        m = compileTuning(withGoals(tuning, { height: tuning.jump.height!, reach: wanted }));
      } catch (error) {
        expect((error as Error).message).to.match(/no rise time|never gets that far|leaves a choice|lowestHop/);
        continue;
      }
      const { time } = comingDown(arcPieces(m, m.launch), 0);
      expect(timeAcross(m.airLocked ? undefined : m.air, m.ground.speed, wanted)).to.be.closeTo(time, 1e-9 * time);
    }
  });

  it('meets a reach where the air has no speed of its own: the speed of the launch stays', () => {
    const m = compileTuning({ run: { speed: 8, air: { speed: 0 } }, jump: { height: 3, reach: 5 } });
    expect(comingDown(arcPieces(m, m.launch), 0).time).to.be.closeTo(5 / 8, 1e-9);
    const run = simulate(PLAIN, m, presses('right@0 jump@0.5'), 60, 1.5);
    expect(the(run, 'touchdown').x - the(run, 'takeoff').x).to.be.closeTo(5, 1e-8);
  });

  it('accepts more goals than needed when they agree, and shows both values when they do not', () => {
    const m = compileTuning({ jump: { height: 3, riseTime: 0.4 } });
    expect(
      compileTuning({ jump: { height: 3, riseTime: 0.4, baseGravity: m.gravity, launchSpeed: m.launch } }).launch,
    ).to.equal(m.launch);
    const error = refusal({ jump: { height: 3, riseTime: 0.4, baseGravity: 60 } });
    expect(error.key).to.equal('jump.baseGravity');
    expect(error.message)
      .to.contain('60')
      .and.to.contain(Number(m.gravity.toPrecision(6)).toString());
  });

  it('says which goals would do when there are too few', () => {
    const error = refusal({ jump: { riseTime: 0.4, airTime: 0.8 } });
    expect(error.message).to.match(/jump\.riseTime and jump\.airTime all say how long.*add jump\.height/);
  });

  it('fills in one partner for one goal', () => {
    expect(compileTuning({ jump: { height: 5 } }).riseTime).to.be.closeTo(0.4, 1e-12);
    expect(compileTuning({ jump: { riseTime: 0.5 } }).jumpHeight).to.be.closeTo(3.25, 1e-12);
    expect(compileTuning({ jump: { airTime: 0.8 } }).jumpHeight).to.be.closeTo(3.25, 1e-12);
    expect(compileTuning({ jump: { baseGravity: 40 } }).riseTime).to.be.closeTo(0.4, 1e-12);
  });

  for (const [title, tuning, key, message] of [
    ['a band wider than the jump', { gravity: { apexSpeed: 17 } }, 'gravity.apexSpeed', /at most 16\.25/],
    ['a band faster than the launch', { jump: { launchSpeed: 2 } }, 'gravity.apexSpeed', /at most 2/],
    ['a multiplier of 0', { gravity: { falling: 0 } }, 'gravity.falling', /above 0/],
    ['a negative multiplier', { gravity: { rising: -1 } }, 'gravity.rising', /is -1; it must be above 0/],
    ['a NaN', { jump: { height: NaN } }, 'jump.height', /is NaN; it must be above 0/],
    ['an infinity', { run: { speed: Infinity } }, 'run.speed', /is Infinity/],
    ['a hop higher than the jump', { jump: { lowestHop: 4 } }, 'jump.lowestHop', /at most 3\.25/],
    ['a hop below the least hold', { jump: { lowestHop: 0.3 } }, 'jump.lowestHop', /above 0\.51/],
    [
      'a reach that is never covered',
      { run: { speed: 0 }, jump: { height: 3, reach: 4 } },
      'jump.reach',
      /never gets that far/,
    ],
    ['a time in the air that no jump has', { jump: { height: 3, airTime: 50 } }, 'jump.airTime', /no rise time/],
    ['half a ramp', { gravity: { fallRamp: { to: 2 } } }, 'gravity.fallRamp.over', /is missing/],
    ['an unknown key', { jmp: {} }, 'jmp', /no key jmp/],
    ['a key that is none', { mover: { speed: 1 } }, 'mover.speed', /there is no key/],
    ['a text for a number', { run: { speed: '8' } }, 'run.speed', /must be a number/],
    ['a number for a group', { run: 8 }, 'run', /must be a group of keys/],
    ['a word that is no choice', { run: { feel: 'snappy' } }, 'run.feel', /one of steady, eased/],
  ] as const) {
    it(`refuses ${title}, by key and range`, () => {
      const error = refusal(tuning as unknown as Tuning);
      expect(error.key).to.equal(key);
      expect(error.message).to.match(message);
    });
  }

  it('scales every default with the tile, and nothing that was written', () => {
    const small = compileTuning({});
    const large = compileTuning({ tile: 16 });
    expect(large.launch).to.be.closeTo(16 * small.launch, 1e-9);
    expect(large.jumpHeight).to.be.closeTo(52, 1e-9);
    expect(large.riseTime).to.be.closeTo(0.4, 1e-12);
    expect(large.lowestHop).to.equal(20);
    expect(large.width).to.be.closeTo(11.2, 1e-6);
    expect(large.coyote).to.equal(0.08);
    expect(compileTuning({ tile: 16, run: { speed: 100 } }).ground.speed).to.equal(100);
  });
});

describe('Letting go', () => {
  const tapOf = (m: Motion): number => apexOf(arcPieces(m, m.launch, 0)).y;

  it('makes a tap reach the lowest hop, by released gravity or by a cut', () => {
    const random = randomizer(21);
    for (let i = 0; i < share({ quick: 20, test: 300, deep: 3000 }); i++) {
      const tuning = randomTuning(random);
      delete tuning.gravity!.cutTo;
      delete tuning.gravity!.released;
      const m = compileTuning({ ...tuning, jump: { ...tuning.jump, lowestHop: tuning.jump.height! } });
      const lowest = apexOf(arcPieces({ ...m, cutTo: 0 }, m.launch, 0)).y;
      const wanted = lowest + (m.jumpHeight - lowest) * random.between(0.02, 1);
      const byGravity = compileTuning({ ...tuning, jump: { ...tuning.jump, lowestHop: wanted } });
      expect(tapOf(byGravity)).to.be.closeTo(wanted, 1e-9 * m.jumpHeight);
      const byCut = {
        ...tuning,
        jump: { ...tuning.jump, lowestHop: Math.min(wanted, m.jumpHeight * 0.7) },
        gravity: { ...tuning.gravity, released: tuning.gravity!.rising! },
      };
      try {
        expect(tapOf(compileTuning(byCut))).to.be.closeTo(byCut.jump.lowestHop, 1e-9 * m.jumpHeight);
      } catch (error) {
        if (!(error instanceof TuningError)) throw error;
        expect(error.message).to.match(/a tap reaches at most/);
      }
    }
  });

  it('never lowers a jump by holding longer', () => {
    const random = randomizer(22);
    for (let i = 0; i < 200; i++) {
      const tuning = randomTuning(random);
      // A cut without a released gravity leaves the band behind; everything else must be monotone.
      if (tuning.gravity!.cutTo !== undefined) continue;
      const m = compileTuning(tuning);
      let before = 0;
      for (let k = 0; k <= 40; k++) {
        const { y } = apexOf(arcPieces(m, m.launch, (m.riseTime * k) / 40));
        expect(y).to.be.at.least(before - 1e-9 * m.jumpHeight);
        before = y;
      }
    }
  });

  it('takes two of lowest hop, released and cut, and refuses a third that disagrees', () => {
    const m = compileTuning({ jump: { lowestHop: 1 }, gravity: { released: 2 } });
    expect(tapOf(m)).to.be.closeTo(1, 1e-9);
    const both = compileTuning({ jump: { lowestHop: 1 }, gravity: { cutTo: 0.8 } });
    expect(tapOf(both)).to.be.closeTo(1, 1e-9);
    expect(refusal({ jump: { lowestHop: 1 }, gravity: { released: 2, cutTo: 0.1 } }).key).to.equal('gravity.cutTo');
    expect(refusal({ jump: { lowestHop: 3 }, gravity: { released: 6 } }).message).to.match(/a tap reaches at most/);
  });
});
