import { fingerprint, openStage, script, stepper, type Driver, type Stage } from 'apperin';
import { expect } from 'chai';
import { dash } from '../../examples/dash/dash.js';
import { presses } from '../support/simulate.js';

const FLOOR = { rows: ['@...................', '####################'] } as const;
const run = (stage: Stage, ticks: number, rate = 60): void => {
  for (let i = 0; i < ticks; i++) stage.tick(1 / rate);
};

describe('A character whose own time stands still', () => {
  it('stays where it is, keeps its velocity, and goes on as if nothing had been', () => {
    const play = (still: number): [number[], number, number] => {
      const stage = openStage(FLOOR);
      const hero = stage.add({}, { driver: script(presses('right@0 jump@0.2-0.25')) });
      const events: number[] = [];
      let began = 0;
      stage.listen(({ event, time }) => events.push(event === 'footfall' ? 0 : time - (began > 0 ? still : 0)));
      run(stage, 20);
      if (still > 0) {
        hero.freeze(still);
        began = stage.time;
        const { x, y, vy } = hero;
        run(stage, 3);
        expect([hero.x, hero.y, hero.vy, hero.frozen]).to.deep.equal([x, y, vy, true]);
        run(stage, Math.round(still * 60) - 3);
        expect(hero.frozen).to.equal(false);
      }
      run(stage, 60);
      return [events, hero.x, hero.y];
    };
    const [events, x, y] = play(0);
    const [later, x2, y2] = play(0.25);
    expect(later.length).to.equal(events.length);
    later.forEach((time, i) => expect(time).to.be.closeTo(events[i]!, 1e-9));
    expect([x2, y2].map((value) => value.toFixed(9))).to.deep.equal([x, y].map((value) => value.toFixed(9)));
  });

  it('lets presses wait until it goes on, and the timers of abilities stand', () => {
    const stage = openStage(FLOOR);
    const told: string[] = [];
    const hero = stage.add({}, { abilities: [dash], driver: script(presses('dash@0.1 jump@0.3-0.9')) });
    stage.listen(({ event, time }) => told.push(`${event} ${time.toFixed(3)}`));
    run(stage, 9);
    const left = hero.ability('dash').wait!;
    hero.freeze(0.5);
    run(stage, 29);
    expect(told).to.deep.equal(['dashOn 0.100']);
    expect(hero.ability('dash').active).to.be.greaterThan(0);
    run(stage, 2);
    expect(hero.ability('dash').wait).to.be.closeTo(left - 1 / 60, 1e-9);
    run(stage, 20);
    expect(told.find((line) => line.startsWith('takeoff'))).to.equal('takeoff 0.650');
  });

  it('keeps the windows open that were open', () => {
    const stage = openStage({ rows: ['@...', '##..', '....', '....', '....', '....'] });
    const sources: string[] = [];
    const hero = stage.add({ grace: { coyote: 0.1 } }, { driver: script(presses('right@0 up@0.6 jump@0.9')) });
    hero.on('leave', () => hero.freeze(0.5));
    hero.on('takeoff', ({ by }) => sources.push(by));
    let left = NaN;
    hero.on('leave', ({ time }) => (left = time));
    run(stage, 90);
    // Left at some 0.25 s, frozen until 0.75: the jump is pressed 0.05 to 0.1 s after that.
    expect(left + 0.5).to.be.within(0.8, 0.9);
    expect(sources).to.deep.equal(['coyote']);
  });

  it('is the same at every rate, in snapshots and in recordings', () => {
    const lists = [15, 60, 240].map((rate) => {
      const stage = openStage(FLOOR);
      const list: string[] = [];
      const hero = stage.add({}, { driver: script(presses('right@0 jump@0.2-0.3 jump@0.6-0.9')) });
      hero.on('apex', () => hero.freeze(0.21));
      hero.on('touchdown', () => hero.freeze(0.1));
      stage.listen(({ event, time, x, y }) => list.push([event, time, x, y].join(' ')));
      const record = stage.record(hero);
      while (stage.time < 1.6 - 1e-9) stage.tick(1 / rate);
      const again = openStage(FLOOR);
      again.add({}, { driver: script(record.rows) });
      run(again, 96);
      list.push(again.characters[0]!.x === hero.x ? 'the same' : 'another');
      return list;
    });
    expect(lists[1]).to.deep.equal(lists[0]);
    expect(lists[2]).to.deep.equal(lists[0]);
    expect(lists[0]!.at(-1)).to.equal('the same');
    const stage = openStage(FLOOR);
    const hero = stage.add({}, { driver: script(presses('right@0 jump@0.2')) });
    run(stage, 20);
    hero.freeze(0.3);
    run(stage, 5);
    const kept = stage.snapshot();
    run(stage, 60);
    const end = fingerprint(stage.snapshot());
    stage.restore(kept);
    run(stage, 60);
    expect(fingerprint(stage.snapshot())).to.equal(end);
    expect(() => hero.freeze(-1)).to.throw(RangeError, 'seconds is -1; it must be 0 to 60');
  });
});

describe('A pause', () => {
  it('is speed 0, too: nothing is caught up with', () => {
    const steps = stepper({ rate: 60 });
    let ticks = 0;
    const at = (now: number): number => steps.run(now, () => ticks++);
    at(0);
    at(0.1);
    expect(ticks).to.equal(6);
    steps.speed = 0;
    expect(at(5)).to.equal(0);
    steps.speed = 1;
    expect(at(5.05)).to.equal(0);
    expect(at(5.11)).to.equal(3);
  });

  it('makes a press too old that was let go of again, and lets one count that is still held', () => {
    for (const [released, jumps] of [
      [true, 0],
      [false, 1],
    ] as const) {
      // prettier-ignore
      const stage = openStage(FLOOR);
      const queue: [number, string, number][] = [];
      const live: Driver = {
        isLive: true,
        read(into) {
          for (const [time, action, value] of queue.splice(0)) into.push(time, action, value);
        },
      };
      const hero = stage.add({}, { driver: live });
      let taken = 0;
      hero.on('takeoff', () => taken++);
      const steps = stepper({ rate: 60 });
      const frame = (now: number): void => void steps.run(now, (dt, at) => stage.tick(dt, at));
      frame(0);
      frame(0.1);
      steps.paused = true;
      queue.push([2, 'jump', 1]);
      if (released) queue.push([2.1, 'jump', 0]);
      frame(3);
      steps.paused = false;
      frame(4);
      frame(4.1);
      expect(taken, String(released)).to.equal(jumps);
      // One that is a little late counts as ever.
      if (!released) queue.push([4.15, 'jump', 0]);
      for (let i = 0; i < 60; i++) frame(4.2 + i / 60);
      queue.push([5.15, 'jump', 1], [5.17, 'jump', 0]);
      for (let i = 0; i < 10; i++) frame(5.2 + i / 60);
      expect(taken, String(released)).to.equal(jumps + 1);
    }
  });

  it('warns once where milliseconds are given for seconds', () => {
    const said: string[] = [];
    const { warn } = console;
    console.warn = (text: string) => void said.push(text);
    try {
      const steps = stepper({ rate: 60 });
      for (let i = 0; i < 40; i++) steps.run(i * 16.6, () => undefined);
      const right = stepper({ rate: 60 });
      for (let i = 0; i < 40; i++) right.run(i / 60 + (i > 20 ? 600 : 0), () => undefined);
    } finally {
      console.warn = warn;
    }
    expect(said).to.have.length(1);
    expect(said[0]).to.contain('run(now / 1000, …)');
    expect(() => openStage(FLOOR).tick(16.6)).to.throw(
      RangeError,
      'dt is 16.6; it must be above 0 and at most 10 seconds (milliseconds? that is tick(0.0166))',
    );
  });
});
