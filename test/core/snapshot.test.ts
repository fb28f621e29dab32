import { fingerprint, openStage, recordTrace, rowNumbers, script, stepper, type Stage } from 'apperin';
import { expect } from 'chai';
import { dash } from '../../examples/dash/dash.js';
import { busyInput, mill } from '../support/everything.js';
import { randomInput, randomLevel, livelyTuning } from '../support/make.js';
import { hallOf } from '../support/moving.js';
import { randomizer } from '../support/random.js';
import { PLAIN } from '../support/make.js';

describe('Snapshots', () => {
  it('restored at any tick give the same future bit for bit', () => {
    const random = randomizer(61);
    for (let i = 0; i < 12; i++) {
      const level = randomLevel(random);
      const tuning = livelyTuning(random);
      const input = randomInput(random, 3);
      const stage = openStage(level);
      const hero = stage.add(tuning, { driver: script(input) });
      const trace = recordTrace(stage, hero);
      const snapshots = [stage.snapshot()];
      for (let tick = 0; tick < 180; tick++) {
        stage.tick(1 / 60);
        trace.row();
        snapshots.push(stage.snapshot());
      }
      const end = stage.snapshot();
      for (let tick = 0; tick <= 180; tick += 7) {
        stage.restore(snapshots[tick]!);
        expect(stage.ticks).to.equal(tick);
        while (stage.ticks < 180) stage.tick(1 / 60);
        expect(fingerprint(stage.snapshot()), `from tick ${tick}`).to.equal(fingerprint(end));
      }
      expect(rowNumbers(trace.rows[180]!)[0]).to.equal(hero.x);
    }
  });

  it('go into an array that is given, and refuse one of another stage', () => {
    const stage = openStage(PLAIN);
    stage.add({});
    const copy = stage.snapshot();
    stage.tick(0.1);
    expect(stage.snapshot(copy)).to.equal(copy);
    expect(copy[1]).to.equal(1);
    stage.add({});
    expect(() => stage.snapshot(copy)).to.throw(RangeError, /a snapshot of this stage has/);
    expect(() => openStage(PLAIN).restore(copy)).to.throw(RangeError, /there is none of that number/);
    expect(() => stage.restore(copy.slice(0, -1))).to.throw(RangeError, /a snapshot of this stage has/);
  });

  it('fit a fork of the stage, which has the same future and leaves the first one alone', () => {
    const random = randomizer(64);
    for (let i = 0; i < 12; i++) {
      // Movers too, which the bodies ride, push against and stop.
      const hall = hallOf(random, 12);
      const level = [mill(random), randomLevel(random), hall.level][i % 3]!;
      const place = i % 3 === 2 ? { at: hall.at } : {};
      const [input, second] = [busyInput(random, 4), randomInput(random, 4)];
      const stage = openStage(level);
      const hero = stage.add(livelyTuning(random), { driver: script(input), opposed: 'first', facing: -1, name: 'one', ...place });
      stage.add(livelyTuning(random), { driver: script(second), name: 'two', ...place });
      const run = (of: Stage, ticks: number): void => {
        for (let tick = 0; tick < ticks; tick++) of.tick(1 / 120);
      };
      run(stage, 100);
      const early = stage.snapshot();
      hero.retune(livelyTuning(random));
      run(stage, 100);
      // What is held stays held there, whoever plays.
      const other = stage.fork({ one: script(input), two: script(second) });
      const now = fingerprint(stage.snapshot());
      expect(fingerprint(other.snapshot())).to.equal(now);
      expect(other.characters.map(({ name, facing, opposed }) => `${name} ${facing} ${opposed}`)).to.deep.equal(stage.characters.map(({ name, facing, opposed }) => `${name} ${facing} ${opposed}`));
      const there = stage.snapshot();
      run(other, 150);
      expect(fingerprint(stage.snapshot())).to.equal(now);
      run(stage, 150);
      expect(fingerprint(stage.snapshot())).to.equal(fingerprint(other.snapshot()));
      // Whatever the one kept, the other can go back to: with the tuning of that time.
      for (const kept of [early, there]) {
        stage.restore(kept);
        other.restore(kept);
        expect(other.characters[0]!.motion).to.equal(hero.motion);
        expect(fingerprint(other.snapshot())).to.equal(fingerprint(stage.snapshot()));
      }
      // A tuning that it has only since is not known there, and nothing is changed.
      hero.retune({ run: { speed: 1.25 + i } });
      const late = stage.snapshot();
      const before = fingerprint(other.snapshot());
      expect(() => other.restore(late)).to.throw(RangeError, 'one had a tuning that it never had here');
      expect(fingerprint(other.snapshot())).to.equal(before);
      expect(() => stage.fork({ three: script([]) })).to.throw(RangeError, 'there is no character three');
    }
  }); // prettier-ignore

  it('of an ability of the game’s own fit a fork too', () => {
    const stage = openStage({ rows: ['@.......', '########'] });
    const rows = [{ time: 0.1, action: 'dash', value: 1 }];
    const hero = stage.add({}, { abilities: [dash], driver: script(rows) });
    for (let i = 0; i < 8; i++) stage.tick(1 / 60);
    expect(hero.vx).to.equal(18);
    const other = stage.fork();
    for (let i = 0; i < 20; i++) for (const each of [stage, other]) each.tick(1 / 60);
    expect(hero.vx).not.to.equal(18);
    expect(fingerprint(other.snapshot())).to.equal(fingerprint(stage.snapshot()));
  }); // prettier-ignore

  it('keep two characters apart', () => {
    const stage = openStage({ rows: ['.@....', '######'], spawns: { other: { at: [4.5, 1], facing: -1 } } });
    const told: string[] = [];
    stage.listen(({ who, event }) => told.push(`${who} ${event}`));
    const one = stage.add({}, { driver: script([{ time: 0.1, action: 'jump', value: 1 }]) });
    const two = stage.add(
      { jump: { height: 1 } },
      { at: 'other', driver: script([{ time: 0.05, action: 'jump', value: 1 }]) },
    );
    const seen: string[] = [];
    one.on('takeoff', ({ who }) => seen.push(who));
    const stop = two.on('takeoff', ({ who }) => seen.push(who));
    for (let i = 0; i < 120; i++) stage.tick(1 / 60);
    stop();
    expect(seen).to.deep.equal(['hero2', 'hero']);
    expect(told.filter((line) => line.endsWith('touchdown'))).to.have.length(2);
    expect([one.facing, two.facing]).to.deep.equal([1, -1]);
  });
});

describe('The stage’s clock', () => {
  it('is n over rate after n ticks, and goes on when the rate changes', () => {
    const stage = openStage(PLAIN);
    for (let i = 0; i < 1_000; i++) stage.tick(1 / 60);
    expect(stage.time).to.equal(1000 / 60);
    for (let i = 0; i < 30; i++) stage.tick(1 / 30);
    expect(stage.time).to.be.closeTo(1000 / 60 + 1, 1e-12);
    expect(stage.ticks).to.equal(1030);
  });
});

describe('The stepper', () => {
  it('makes fixed ticks out of uneven frames, on the clock of the frames', () => {
    const steps = stepper({ rate: 100 });
    const starts: number[] = [];
    let now = 12.3456;
    const random = randomizer(62);
    steps.run(now, () => starts.push(NaN));
    expect(starts).to.deep.equal([]);
    for (let i = 0; i < 400; i++) {
      now += random.between(0.001, 0.03);
      steps.run(now, (dt, at) => {
        expect(dt).to.equal(0.01);
        starts.push(at);
      });
      expect(steps.between).to.be.within(0, 1);
    }
    starts.forEach((at, i) => expect(at).to.be.closeTo(12.3456 + i / 100, 1e-9));
    expect(starts.length).to.equal(Math.floor((now - 12.3456) * 100));
  });

  it('drops what it cannot catch up with', () => {
    const steps = stepper({ rate: 60, atMost: 4 });
    let ticks = 0;
    const count = (): void => void ticks++;
    steps.run(1, count);
    expect(steps.run(600, count)).to.equal(4);
    expect(steps.run(600 + 1 / 60 + 1e-9, count)).to.be.at.most(2);
    expect(ticks).to.be.at.most(6);
    // A clock that goes back starts anew.
    expect(steps.run(10, count)).to.equal(0);
    expect(() => stepper({ rate: 0 })).to.throw(RangeError, /rate is 0/);
    expect(() => stepper({ rate: 60, atMost: 0 })).to.throw(RangeError, /atMost is 0/);
  });

  it('draws a steady run evenly at display rates that do not divide the tick rate', () => {
    let worst = 0;
    for (const display of [30, 59.94, 60, 75, 144, 240]) {
      for (const rate of [60, 120]) {
        const stage = openStage(PLAIN);
        const hero = stage.add({}, { driver: script([{ time: 0, action: 'right', value: 1 }]) });
        const steps = stepper({ rate });
        const drawn: number[] = [];
        for (let frame = 0; frame < 400; frame++) {
          steps.run(5 + frame / display, (dt) => stage.tick(dt));
          if (stage.time > 0.3) drawn.push(hero.view(steps.between).x);
        }
        for (let i = 2; i < drawn.length; i++)
          worst = Math.max(worst, Math.abs(drawn[i]! - 2 * drawn[i - 1]! + drawn[i - 2]!));
      }
    }
    expect(worst).to.be.below(1e-6);
  });
});
