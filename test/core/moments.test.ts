import { compileTuning, merged, openStage, script, type Level, type Tuning } from 'apperin';
import { expect } from 'chai';
import { PLAIN } from '../support/make.js';
import { presses } from '../support/simulate.js';
import { shareOf, share } from '../support/share.js';

const RATES = [15, 60, 240, 1000];

describe('A press that is taken back', () => {
  /** Something pressed in the air, too late for a jump there: it waits for the ground. */
  const waiting = (rate: number) => {
    const stage = openStage({ rows: ['@', '.', '.', '.', '.', '#'] });
    const hero = stage.add({ grace: { buffer: 0.5 } }, { driver: script(presses('jump@0.2')) });
    while (stage.time < 0.25) stage.tick(1 / rate);
    return { stage, hero, jumps: () => {
      let jumps = 0;
      hero.on('takeoff', () => jumps++);
      while (stage.time < 1.5) stage.tick(1 / rate);
      return jumps;
    } };
  }; // prettier-ignore

  for (const rate of RATES)
    it(`does nothing any more, after listen(false), letGo() and drive(), at ${rate} a second`, () => {
      expect(waiting(rate).jumps()).to.equal(1);
      for (const back of ['deaf', 'letGo', 'drive'] as const) {
        const { hero, jumps } = waiting(rate);
        if (back === 'letGo') hero.letGo();
        else if (back === 'drive') hero.drive(script([]));
        else {
          hero.listen(false);
          hero.listen(true);
        }
        expect(jumps(), back).to.equal(0);
      }
    });

  for (const rate of RATES)
    it(`takes the charge back with it, at ${rate} a second; letting the key go does not`, () => {
      for (const [back, wanted] of [['deaf', 0], ['letGo', 0], ['drive', 0], ['merged', 0], ['release', 1]] as const) {
        const stage = openStage(PLAIN);
        const keys = script(presses(back === 'release' ? 'jump@0.1-0.4' : 'jump@0.1'));
        const hero = stage.add({ charge: {} }, { driver: back === 'merged' ? merged(keys, script([])) : keys });
        let jumps = 0;
        hero.on('takeoff', () => jumps++);
        while (stage.time < 0.39) stage.tick(1 / rate);
        expect(hero.pose).to.equal('charge');
        if (back === 'deaf') hero.listen(false);
        else if (back === 'drive') hero.drive(undefined);
        else if (back !== 'release') hero.letGo();
        while (stage.time < 1) stage.tick(1 / rate);
        expect(jumps, back).to.equal(wanted);
        if (wanted === 0) expect(hero.pose).to.equal('idle');
      }
    }); // prettier-ignore
});

/** A belt under everything, or a wind over it. */
function moving(flow: number, current: number): Level {
  return {
    rows: ['.', '@', 'b'.repeat(200)],
    origin: [-60, 0],
    marks: { b: { solid: 'full', surface: 'belt' } },
    surfaces: { belt: { flow } },
    spawns: { start: [0, 2] },
    ...(current === 0 ? {} : { zones: [{ box: [-100, -50, 400, 52], current: [current, 0] }] }),
  } as unknown as Level;
}

describe('On belts and in wind', () => {
  const PART = { quick: 5, test: 1, deep: 1 };
  it(`a speed that is met but for one rounding is met: nobody is stuck, and all come to their speed (${shareOf({ quick: 252, test: 1260, deep: 1260 }, 'combinations')})`, () => {
    let count = 0;
    for (let f = 0; f < 60; f += share(PART))
      for (const speed of [0.3, 1.1, 2.9, 5.3, 7.5, 9.7, 13.3])
        for (const run of [{ feel: 'steady' }, { feel: 'eased' }, { upIn: 0, stopIn: 0, turnIn: 0 }] as Tuning['run'][]) {
          const flow = (f % 2 === 0 ? 1 : -1) * Math.round((0.05 + 0.1 * f) * 100) / 100;
          const pace = [0.7, 1, 1.3][f % 3]!;
          const level = moving(flow, 0);
          const stage = openStage({ ...level, surfaces: { belt: { flow, pace } } });
          const hero = stage.add({ run: { ...run, speed } }, { driver: script(presses('right@0-2.5 left@2.5-3.5')) });
          stage.listen(({ event }) => expect(event, `${flow} ${speed} ${JSON.stringify(run)} ${pace}`).to.not.equal('stuck'));
          while (stage.time < 2.45) stage.tick(1 / 60);
          expect(hero.vx, `${flow} ${speed} ${JSON.stringify(run)} ${pace}`).to.be.closeTo(speed * pace + flow, 1e-9);
          while (stage.time < 3.45) stage.tick(1 / 60);
          expect(hero.vx).to.be.closeTo(-speed * pace + flow, 1e-9);
          while (stage.time < 4.5) stage.tick(1 / 60);
          expect(hero.vx).to.be.closeTo(flow, 1e-9);
          count++;
        }
    expect(count).to.equal(1260 / share(PART));
  }); // prettier-ignore

  it('a jump in a sideways wind is as high as one in still air', () => {
    for (let c = 0.1; c < 3; c += 0.2)
      for (const way of ['left', 'right']) {
        const stage = openStage(moving(0, Math.round(c * 10) / 10));
        const hero = stage.add({}, { driver: script(presses(`${way}@0 jump@1`)) });
        let top = 0;
        hero.on('apex', ({ y }) => (top = 2 - y));
        while (stage.time < 2.2) stage.tick(1 / 60);
        expect(top, `${way} in ${c}`).to.be.closeTo(3.25, 1e-9);
      }
  });
});

describe('A least hold', () => {
  it('is not refused for the sake of a lowest hop that nobody asked for', () => {
    for (const minHold of [0.03, 0.1, 0.2, 0.35, 0.4, 1]) {
      const motion = compileTuning({ jump: { minHold } });
      expect(motion.lowestHop).to.be.at.least(1.25 - 1e-12).and.at.most(3.25 + 1e-12);
      const stage = openStage(PLAIN);
      const hero = stage.add({ jump: { minHold } }, { driver: script(presses('jump@0.1-0.11')) });
      let top = 0;
      hero.on('apex', ({ y }) => (top = 1 - y));
      while (stage.time < 1.5) stage.tick(1 / 60);
      expect(top).to.be.closeTo(motion.lowestHop, 1e-6);
    }
    expect(() => compileTuning({ jump: { minHold: 0.2, lowestHop: 1.25 } })).to.throw(/jump\.lowestHop is 1\.25; it must be above/);
  }); // prettier-ignore
});

describe('The apex', () => {
  const mover = { name: 'far', shapes: [{ form: 'solid', points: [[500, 0], [501, 0], [501, 1], [500, 1]] }], route: { curve: [[0, 0, 2, 0]], lap: 3, keyPoints: [0, 1, 0], keyTimes: [0, 0.5, 1] } } as const; // prettier-ignore
  for (const rate of [15, 50, 60, 120, 240, 1000])
    it(`is told once a jump, pressed on a tick at ${rate} a second, where there is a mover too, however far`, () => {
      for (const movers of [[], [mover]])
        for (let k = 0; k < 24; k++) {
          const pressed = 0.2 + k / rate;
          const stage = openStage({ rows: ['@', '#'.repeat(40)], movers });
          const hero = stage.add({}, { driver: script([{ time: pressed, action: 'jump', value: 1 }]) });
          const told: number[] = [];
          hero.on('apex', ({ time }) => told.push(time));
          while (stage.time < pressed + 0.9) stage.tick(1 / rate);
          expect(told, `${movers.length} movers, press ${k}`).to.have.length(1);
          expect(told[0]).to.be.closeTo(pressed + 0.4, 1e-6);
        }
    });
});

describe('A ledge without a pause', () => {
  for (const rate of RATES)
    it(`is let go of, at ${rate} a second`, () => {
      const stage = openStage({ rows: ['.......', '@......', '......#', '......#', '......#', '......#', '......#', '.......', '#######'] }); // prettier-ignore
      const hero = stage.add(
        { ledge: { pause: 0, auto: true } },
        { at: [5.6, 2.5], driver: script(presses('right@0-0.5 down@0.7')) },
      );
      const told: string[] = [];
      stage.listen(({ event }) => void (/hang/.test(event) && told.push(event)));
      while (stage.time + 1 / rate < 0.69) stage.tick(1 / rate);
      expect(hero.support).to.equal('ledge');
      while (stage.time < 1.5) stage.tick(1 / rate);
      expect(told).to.deep.equal(['hang', 'unhang']);
      expect(hero.y).to.be.greaterThan(6);
    });
});

describe('A glide whose budget changes on the way', () => {
  for (const rate of RATES)
    it(`lasts as long as the new one, less what was spent, at ${rate} a second`, () => {
      for (const [budget, ends] of [
        [2, 2],
        [0.8, 0.8],
        [0.1, 0.5],
      ] as const) {
        const stage = openStage({ rows: ['.'] });
        const tuning = (seconds: number): Tuning => ({ glide: { budget: seconds } });
        const hero = stage.add(tuning(1), { at: [0, 0], driver: script(presses('glide@0')) });
        let [on, off] = [NaN, NaN];
        hero.on('glideOn', ({ time }) => (on = time));
        hero.on('glideOff', ({ time }) => (off = time));
        while (stage.time < 0.5 - 1e-9) stage.tick(1 / rate);
        hero.retune(tuning(budget));
        const now = stage.time;
        while (stage.time < 4) stage.tick(1 / rate);
        expect(off - on, String(budget)).to.be.closeTo(ends === 0.5 ? now - on : ends, 1e-6);
        expect(hero.phase).to.not.equal('glide');
      }
    });
});
