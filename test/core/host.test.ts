import {
  openStage,
  recordTrace,
  script,
  type Character,
  type InputRow,
  type Level,
  type Stage,
  type Tuning,
} from 'apperin';
import { readInput, writeInput } from 'apperin/files';
import { play } from 'apperin/lab';
import { expect } from 'chai';
import { PLAIN } from '../support/make.js';
import { names, presses, the } from '../support/simulate.js';

const YARD: Level = {
  rows: ['#..........#', '#..........#', '#..........#', '#..........#', '#.@...#....#', '############'],
  spawns: { door: { at: [9.5, 5], facing: -1 } },
};

function onStage(tuning: Tuning = {}, input: readonly InputRow[] = [], level: Level = YARD) {
  const stage = openStage(level);
  const hero = stage.add(tuning, { driver: script(input) });
  const trace = recordTrace(stage, hero);
  return { stage, hero, trace, until: (time: number) => until(stage, time) };
}

function until(stage: Stage, time: number, rate = 60): void {
  while (stage.time < time - 1e-9) stage.tick(1 / rate);
}

describe('Calls of the game', () => {
  it('hop: rises by its height from wherever the body is, held or not', () => {
    const { hero, trace, until } = onStage({}, [], PLAIN);
    hero.hop(2);
    until(0.1);
    hero.hop(1.5);
    const before = hero.y;
    until(2);
    expect(the(trace as never, 'takeoff')).to.include({ by: 'hop' });
    const apexes = trace.events.filter(({ event }) => event === 'apex');
    expect(apexes).to.have.length(1);
    expect(before - apexes[0]!.y!).to.be.closeTo(1.5, 1e-9);
  });

  it('shove: sets the velocity, and gives steering back evenly', () => {
    const { hero, until } = onStage({}, presses('right@0'), PLAIN);
    until(0.3);
    hero.shove(-6, -8, { lock: 0.5 });
    expect([hero.vx, hero.vy, hero.support]).to.deep.equal([-6, -8, '']);
    until(0.5);
    expect(hero.vx).to.be.closeTo(-6 + 13.5 * (0.2 / 0.5), 0.01);
    hero.shove(3, 0);
    expect(hero.vx).to.equal(3);
  });

  it('place: at rest, with all rights, contacts and the picture cleared', () => {
    const { hero, until } = onStage(
      { airJumps: {}, wall: {}, ledge: {} },
      presses('right@0 jump@0.1-0.2 jump@0.3-0.35'),
    );
    until(0.5);
    expect(hero.jumpsLeft).to.equal(0);
    hero.place('door');
    expect(hero).to.include({ x: 9.5, y: 5, vx: 0, vy: 0, facing: -1, support: 'ground', jumpsLeft: 2 });
    expect(hero.view(0)).to.include({ x: 9.5, y: 5 });
    hero.place(4, 2);
    expect(hero).to.include({ x: 4, y: 2, support: '', facing: -1 });
    expect(() => hero.place('roof')).to.throw(RangeError, 'there is no spawn roof; the level has start, door');
    expect(() => hero.place(NaN, 5)).to.throw(RangeError, 'must be two numbers');
    expect(hero).to.include({ x: 4, y: 2 });
  });

  it('allow: sets how many air jumps are left, more than the list too', () => {
    const { hero, stage, trace } = onStage(
      { airJumps: { heights: [1, 2] } },
      presses('jump@0.3-0.35 jump@0.4-0.45 jump@0.5-0.55 jump@0.6'),
      PLAIN,
    );
    hero.hop(5);
    hero.allow('airJumps', 3);
    expect(hero.jumpsLeft).to.equal(3);
    until(stage, 1);
    expect(trace.events.filter(({ by }) => by === 'air')).to.have.length(3);
    hero.allow('airJumps', 0);
    expect(hero.jumpsLeft).to.equal(0);
    expect(() => hero.allow('wings' as never, 1)).to.throw(RangeError, 'allow is wings; it must be airJumps');
    expect(() => hero.allow('airJumps', -1)).to.throw(RangeError, 'count is -1');
  });

  it('take a body out of whatever it does: a charge is lost, a slide begins anew', () => {
    const charging = onStage({ charge: {} }, presses('jump@0.1'), PLAIN);
    charging.until(0.5);
    charging.hero.hop(1);
    charging.until(1.5);
    expect(charging.trace.events.filter(({ event }) => event === 'takeoff').map(({ by }) => by)).to.deep.equal(['hop']);
    const shaft: Level = { rows: ['.'], bounds: { left: 'wall' }, spawns: { start: { at: [0.35, 0] } } };
    const sliding = onStage({ wall: {} }, presses('left@0'), shaft);
    sliding.until(0.5);
    expect(sliding.hero.support).to.equal('wall');
    sliding.hero.shove(0, 9);
    expect(sliding.hero.support).to.equal('');
    sliding.until(1);
    expect(sliding.hero).to.include({ support: 'wall', vy: 3.5 });
    expect(names(sliding.trace as never)).to.deep.equal(['turned', 'cling', 'uncling', 'cling']);
    sliding.hero.allow('airJumps', 1);
    expect(sliding.hero.jumpsLeft).to.equal(1);
  });

  it('retune: another tuning in the middle of a jump, and back by a snapshot', () => {
    const { hero, stage, until } = onStage({}, presses('right@0 jump@0.2'), PLAIN);
    until(0.3);
    const before = stage.snapshot();
    const [vx, vy] = [hero.vx, hero.vy];
    hero.retune({ gravity: { fallSpeed: 3 }, run: { speed: 2 }, wall: {} });
    expect([hero.vx, hero.vy]).to.deep.equal([vx, vy]);
    until(0.9);
    expect(hero.vy).to.equal(3);
    stage.restore(before);
    expect(hero.motion.ground.speed).to.equal(7.5);
    until(0.9);
    expect(hero.vy).to.be.greaterThan(3);
    expect(() => hero.retune({ body: { width: 300 }, run: { speed: -1 } })).to.throw('run.speed is -1');
    expect(() => hero.retune({ own: { dash: { speed: 3 } } })).to.throw(
      'own.dash: the character has no ability of that name',
    );
    expect(hero.motion.ground.speed).to.equal(7.5);
    const tight = onStage();
    // One that has grown into a wall is pushed out of it.
    tight.hero.retune({ body: { width: 3 } });
    tight.until(1);
    expect(tight.hero.motion.width).to.be.closeTo(3, 1e-6);
    expect(tight.hero.support).to.equal('ground');
  });

  it('listen: deaf to input, everything let go of', () => {
    const { hero, until } = onStage({}, presses('right@0 jump@0.5-0.6 left@1.2'), PLAIN);
    until(0.3);
    hero.listen(false);
    until(1);
    expect([hero.listening, hero.vx, hero.support]).to.deep.equal([false, 0, 'ground']);
    hero.listen(true);
    until(1.5);
    expect(hero.vx).to.equal(-7.5);
  });

  it('drive: another driver, with what the old one held let go of', () => {
    const { hero, until } = onStage({}, presses('right@0'), PLAIN);
    until(0.3);
    hero.drive(undefined);
    until(1);
    expect(hero.vx).to.equal(0);
  });

  it('made by an event handler take effect at the moment of the event, when all have been told; handlers that never stop are told so', () => {
    const { hero, stage, trace } = onStage({}, presses('jump@0.1'), PLAIN);
    let inside = NaN;
    const end = hero.on('touchdown', () => {
      hero.hop(1);
      inside = hero.vy;
    });
    until(stage, 0.86);
    expect(inside).to.equal(0);
    const hop = the(trace as never, 'takeoff', 1);
    expect(hop.by).to.equal('hop');
    expect(hop.time).to.equal(the(trace as never, 'touchdown').time);
    end();
    hero.on('takeoff', () => hero.hop(1));
    expect(() => until(stage, 3)).to.not.throw();
    expect(() => hero.hop(1)).to.throw(Error, '16 times in a row');
  });

  for (const [call, message] of [
    [(hero: Character) => hero.hop(-1), 'height is -1; it must be 0 to'],
    [(hero: Character) => hero.hop(NaN), 'height is NaN'],
    [(hero: Character) => hero.shove(Infinity, 0), 'vx is Infinity'],
    [(hero: Character) => hero.shove(0, 0, { lock: -1 }), 'lock is -1'],
  ] as const)
    it(`refuse a wrong argument: ${message}`, () => {
      expect(() => call(onStage().hero)).to.throw(RangeError, message);
    });
});

describe('Recordings', () => {
  /** A run with presses, and calls made by the game and by its handlers. */
  function recorded(rate: number) {
    const stage = openStage(YARD);
    const tuning: Tuning = { airJumps: {}, wall: {}, ledge: {} };
    const hero = stage.add(tuning, {
      driver: script(presses('right@0 jump@0.2-0.5 jump@0.7-0.8 left@1.3')),
      facing: -1,
      opposed: 'latest',
    });
    const recording = stage.record(hero);
    const trace = recordTrace(stage, hero);
    hero.on('touchdown', () => hero.hop(0.8));
    for (let i = 0; i < 3 * rate; i++) {
      if (i === Math.floor(0.9 * rate)) hero.shove(-5, -6, { lock: 0.2 });
      if (i === Math.floor(1.7 * rate)) hero.place('door');
      if (i === Math.floor(2 * rate)) hero.retune({ ...tuning, run: { speed: 4 } });
      stage.tick(1 / rate);
      trace.row();
    }
    return { tuning, trace, rows: recording.rows };
  }

  it('keep presses and calls, and played again give the same bits, through the file too', () => {
    for (const rate of [30, 60, 144]) {
      const { tuning, trace, rows } = recorded(rate);
      expect(rows[0]!.call).to.deep.equal({ rate, spawn: [2.5, 5], facing: -1, opposed: 'latest' });
      expect(rows.filter(({ action }) => action === 'host').length).to.be.greaterThan(4);
      const text = writeInput(rows);
      const again = play({ level: YARD, tuning, input: readInput(text).rows, seconds: 3 });
      expect(again.rate).to.equal(rate);
      // Played again, a call acts when the next tick begins: the row of its own moment stands before it.
      const called = rows.filter(({ action }) => action === 'host').map(({ time }) => time);
      const between = (all: typeof trace.rows) => all.filter(({ time }) => time === 0 || !called.includes(time));
      expect(between(again.rows)).to.deep.equal(between(trace.rows));
      expect(again.events).to.deep.equal(trace.events);
    }
  });

  it('leave calls of handlers to the recording while it plays', () => {
    const { tuning, rows, trace } = recorded(60);
    const stage = openStage(YARD);
    const hero = stage.add(tuning, { at: [2.5, 5], facing: -1, opposed: 'latest', driver: script(rows) });
    const again = recordTrace(stage, hero);
    // The game's own handlers are there as they were; a second hop would change the run.
    hero.on('touchdown', () => hero.hop(0.8));
    until(stage, 3);
    expect(names(again as never, true)).to.deep.equal(names(trace as never, true));
  });

  it('begin at the beginning', () => {
    const { stage, hero } = onStage();
    stage.tick(1 / 60);
    expect(() => stage.record(hero)).to.throw(
      RangeError,
      'the stage has ticked 1 times; a recording begins before the first',
    );
  });
});
