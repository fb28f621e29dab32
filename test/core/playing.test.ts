import { bot, fingerprint, openStage, rewind, script, stepper, type Level } from 'apperin';
import { expect } from 'chai';
import { PLAIN } from '../support/make.js';
import { presses } from '../support/simulate.js';

const HALL: Level = { rows: [...Array.from({ length: 7 }, () => '.'.repeat(60)), `..@${'.'.repeat(57)}`, '#'.repeat(60)], bounds: { left: 'wall', right: 'wall' } }; // prettier-ignore

describe('The stepper, played with', () => {
  it('draws a steady run, its strides and what carries it evenly at any display rate', function () {
    const worst = { before: 0, x: 0, strides: 0, poseTime: 0, mover: 0 };
    const lift: Level = {
      ...HALL,
      movers: [{ name: 'belt', shapes: [{ form: 'solid', points: [[0, 1], [3, 1], [3, 2], [0, 2]] }], route: { curve: [[0, 0, 40, 0]], lap: 30, keyPoints: [0, 1, 0], keyTimes: [0, 0.5, 1] } }],
    }; // prettier-ignore
    for (const display of [30, 59.94, 60, 75, 144, 240])
      for (const rate of [60, 120]) {
        const stage = openStage(lift);
        const hero = stage.add({}, { driver: script(presses('right@0')) });
        const steps = stepper({ rate });
        const drawn = { before: [], x: [], strides: [], poseTime: [], mover: [] } as Record<keyof typeof worst, number[]>;
        for (let frame = 0; frame < 5 * display; frame++) {
          steps.run(5 + frame / display, (dt) => stage.tick(dt));
          if (stage.time < 0.5) continue;
          const { x, strides, poseTime } = hero.view(steps.between);
          drawn.before.push(hero.x);
          drawn.x.push(x);
          drawn.strides.push(strides);
          drawn.poseTime.push(poseTime);
          drawn.mover.push(stage.shapes(steps.between).find(({ mover }) => mover === 'belt')!.x);
        }
        for (const [what, list] of Object.entries(drawn) as [keyof typeof worst, number[]][])
          for (let i = 2; i < list.length; i++)
            worst[what] = Math.max(worst[what], Math.abs(list[i]! - 2 * list[i - 1]! + list[i - 2]!));
      } // prettier-ignore
    const { before, ...after } = worst;
    expect(before).to.be.above(0.01);
    for (const [what, most] of Object.entries(after)) expect(most, what).to.be.below(1e-6);
    this.test!.title += ` (second differences: ${before.toFixed(3)} before, ${Math.max(...Object.values(after)).toExponential(1)} after)`;
  });

  it('never draws between two places where the character was placed, or came out at the other side', () => {
    const ring: Level = { rows: [...HALL.rows], bounds: { left: 'wrap', right: 'wrap' } };
    const stage = openStage(ring);
    const hero = stage.add({}, { at: [55, 8], driver: script(presses('right@0')) });
    hero.on('footfall', () => stage.time > 2.5 && stage.time < 2.8 && hero.place(10, 8));
    const steps = stepper({ rate: 30 });
    let before = 55;
    let jumps = 0;
    for (let frame = 0; frame < 900; frame++) {
      steps.run(frame / 200, (dt) => stage.tick(dt));
      const { x } = hero.view(steps.between);
      // Else it goes at most as far as a frame takes it.
      if (Math.abs(x - before) > 7.5 / 200 + 1e-9) jumps++;
      before = x;
    }
    expect(jumps).to.be.within(2, 4);
  });

  it('goes on from where it paused, ticks once when asked to, and runs slowly', () => {
    const stage = openStage(HALL);
    const hero = stage.add({}, { driver: script(presses('right@0')) });
    const steps = stepper({ rate: 60 });
    const tick = (dt: number): void => stage.tick(dt);
    let now = 100;
    const frames = (count: number): number => {
      let ticks = 0;
      for (let i = 0; i < count; i++) ticks += steps.run((now += 1 / 50), tick);
      return ticks;
    };
    steps.run(now, tick);
    expect(frames(50)).to.be.within(59, 60);
    steps.paused = true;
    expect(frames(500)).to.equal(0);
    const x = hero.x;
    steps.once(now, tick);
    expect(hero.x - x).to.be.closeTo(7.5 / 60, 1e-12);
    expect(steps.between).to.equal(1);
    steps.paused = false;
    expect(frames(1)).to.be.at.most(1);
    expect(frames(50)).to.be.within(59, 61);
    steps.speed = 0.25;
    expect(frames(200)).to.be.within(59, 61);
    steps.speed = 2;
    expect(frames(50)).to.be.within(119, 121);
    expect(() => (steps.speed = -1)).to.throw(RangeError, /speed is -1; it must be 0, or 0.01 to 16/);
  });

  it('in slow motion draws evenly too, and hands presses to the tick that they fall into', () => {
    const stage = openStage(HALL);
    const stamps: number[] = [];
    const hero = stage.add(
      {},
      { driver: { read: (into) => into.from <= 12 && into.until > 12 && into.push(12, 4, 1) } },
    );
    hero.on('takeoff', ({ time }) => stamps.push(time));
    const steps = stepper({ rate: 60 });
    steps.speed = 0.1;
    const drawn: number[] = [];
    for (let frame = 0; frame < 600; frame++) {
      steps.run(10 + frame / 60, (dt, at) => stage.tick(dt, at));
      drawn.push(hero.view(steps.between).y);
    }
    // Two seconds of the clock are a fifth of one of the stage's: to the tick, whose length is that of the stage.
    expect(stamps).to.have.length(1);
    expect(stamps[0]).to.be.closeTo(0.2, 1 / 60);
    const fall = drawn.findIndex((y) => y < 8);
    expect(new Set(drawn.slice(0, fall))).to.have.property('size', 1);
  });

  it('drops what ten minutes out of sight would have asked for', () => {
    const stage = openStage(PLAIN);
    const hero = stage.add({}, { driver: script(presses('right@0-0.5')) });
    const steps = stepper({ rate: 120, atMost: 8 });
    const tick = (dt: number): void => stage.tick(dt);
    steps.run(0, tick);
    for (let frame = 1; frame <= 60; frame++) steps.run(frame / 60, tick);
    const { time } = stage;
    expect(steps.run(601, tick)).to.equal(8);
    expect(stage.time).to.be.closeTo(time + 8 / 120, 1e-9);
    expect(hero.view(steps.between).x).to.equal(hero.x);
  });
});

describe('Rewind', () => {
  const open = (): { stage: ReturnType<typeof openStage>; past: ReturnType<typeof rewind> } => {
    const stage = openStage(HALL);
    stage.add({}, { driver: bot((who) => ({ right: who.x < 40, jump: who.x > 8 && who.support === 'ground' })) });
    return { stage, past: rewind(stage, { seconds: 2, rate: 60 }) };
  };

  it('goes back, and plays on to the same bits', () => {
    const { stage, past } = open();
    const prints: string[] = [];
    const on = (ticks: number): void => {
      for (let i = 0; i < ticks; i++) {
        stage.tick(1 / 60);
        past.keep();
        prints[stage.ticks] = fingerprint(stage.snapshot());
      }
    };
    on(200);
    const there = prints[200];
    expect(past.seconds).to.be.closeTo(2, 1e-9);
    expect(past.back(0.5)).to.be.closeTo(0.5, 1e-9);
    expect(fingerprint(stage.snapshot())).to.equal(prints[170]);
    on(30);
    expect(prints[200]).to.equal(there);
    // Farther than it remembers: as far as that is.
    expect(past.back(60)).to.be.closeTo(2, 1e-9);
    expect(fingerprint(stage.snapshot())).to.equal(prints[80]);
    expect(past.seconds).to.equal(0);
    on(10);
    expect(past.seconds).to.be.closeTo(10 / 60, 1e-9);
  });

  it('says what it costs, and refuses what cannot be', () => {
    const { stage, past } = open();
    expect(past.bytes).to.equal(121 * 8 * (stage.snapshot().length + 1));
    expect(() => past.back(1)).to.throw(RangeError, /nothing has been kept/);
    past.keep();
    expect(() => past.back(-1)).to.throw(RangeError, /seconds is -1/);
    stage.add({}, { name: 'late' });
    past.back(0);
    expect(stage.characters.map(({ name }) => name)).to.not.include('late');
    past.clear();
    expect(past.seconds).to.equal(0);
    expect(() => rewind(stage, { seconds: 0 })).to.throw(RangeError, /seconds is 0/);
    expect(() => rewind(stage, { seconds: 1e9 })).to.throw(RangeError, /at most 10000000/);
  });

  it('lets go of what somebody held live, and of nothing that a script holds', () => {
    for (const isLive of [true, false]) {
      const stage = openStage(HALL);
      const driver = { isLive, read: script(presses('right@0')).read };
      const hero = stage.add({}, { driver });
      const past = rewind(stage);
      for (let i = 0; i < 60; i++) {
        stage.tick(1 / 60);
        past.keep();
      }
      past.back(0.5);
      expect(hero.held('right')).to.equal(isLive ? 0 : 1);
    }
  });
});

describe('A pose', () => {
  it('says how far it is through, and how hard the landing was', () => {
    const stage = openStage(HALL);
    const hero = stage.add(
      { charge: {}, pose: { land: 0.2, settle: 0 } },
      { driver: script(presses('jump@0.1-0.45 right@2')) },
    );
    const seen: Record<string, number[]> = {};
    for (let i = 0; i < 600; i++) {
      stage.tick(1 / 120);
      const { pose, posePhase } = hero.view();
      (seen[pose] ??= []).push(posePhase);
    }
    expect(seen.charge!.at(-1)).to.be.closeTo(0.35 / 0.7, 0.02);
    expect(seen.land!.at(-1)).to.be.within(0.9, 1);
    expect(Math.max(...seen.run!)).to.be.within(0.95, 1);
    expect(Math.min(...seen.run!)).to.be.within(0, 0.05);
    // As fast as the closed form says, over the terminal speed.
    const { landing } = hero.view();
    const touchdown: number[] = [];
    const again = openStage(HALL);
    const other = again.add({ charge: {} }, { driver: script(presses('jump@0.1-0.45')) });
    other.on('touchdown', ({ speed }) => touchdown.push(speed));
    for (let i = 0; i < 240; i++) again.tick(1 / 60);
    expect(landing).to.be.closeTo(touchdown[0]! / 24, 1e-9);
    expect(landing).to.be.within(0.5, 1);
  });
});
