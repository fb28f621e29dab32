import { LevelError, compileOutlines, openStage, script, type Level, type StageEvent, type Tuning } from 'apperin';
import { expect } from 'chai';
import { names, presses, RATES, simulate, the } from '../support/simulate.js';

const FLOOR = ['....................', '.@..................', '####################'];

describe('Surfaces', () => {
  const on = (surface: object): Level => ({
    rows: ['.'.repeat(60), `.@${'.'.repeat(58)}`, 't'.repeat(60)],
    marks: { t: { solid: 'full', surface: 's' } },
    surfaces: { s: surface },
  });

  it('scale speeding up, top speed and jumps, at every rate', () => {
    for (const rate of RATES) {
      const slick = simulate(on({ grip: 0.1 }), { run: { upIn: 0.1 } }, presses('right@0'), rate, 1.2);
      expect(
        slick.rows.find(({ time }) => time >= 0.5)!.vx / slick.rows.find(({ time }) => time >= 0.5)!.time,
      ).to.be.closeTo(7.5, 1e-6);
      const silt = simulate(on({ pace: 0.6 }), {}, presses('right@0'), rate, 1);
      expect(silt.rows.at(-1)!.vx).to.equal(4.5);
      const spring = simulate(on({ jump: 0.5 }), {}, presses('jump@0.1-1'), rate, 1);
      expect(spring.rows[0]!.y - the(spring, 'apex').y).to.be.closeTo(1.625, 1e-9);
      expect(the(spring, 'surface').surface).to.equal('s');
      expect(spring.rows.at(-1)!.surface).to.equal('s');
    }
  });

  it('that flow carry what stands on them, and add to its own run', () => {
    for (const rate of [15, 60, 240]) {
      const idle = simulate(on({ flow: 3 }), {}, [], rate, 2);
      expect(idle.rows.at(-1)!.vx).to.equal(3);
      expect(names(idle, true)).to.not.include('footfall');
      expect(simulate(on({ flow: -2 }), {}, presses('right@0'), rate, 2).rows.at(-1)!.vx).to.equal(5.5);
      // Running against it as fast as it goes, the body stays where it is, on its own feet.
      const against = simulate(on({ flow: 7.5 }), {}, presses('left@1'), rate, 3);
      expect(against.rows.at(-1)!.vx).to.equal(0);
      expect(names(against, true)).to.include('footfall');
    }
  });

  it('that bounce give back their share of a landing, until it is not worth it; a waiting jump comes first', () => {
    for (const rate of RATES) {
      const run = simulate(on({ bounce: 0.5 }), {}, [], rate, 4, { at: [3.5, -3] });
      const landings = run.events.filter(({ event }) => event === 'touchdown');
      for (let i = 1; i < landings.length; i++)
        expect(landings[i]!.speed / landings[i - 1]!.speed).to.be.within(0.4, 0.62);
      expect(landings.length).to.be.within(3, 8);
      expect(run.rows.at(-1)!.support).to.equal('ground');
      const jump = simulate(
        on({ bounce: 0.5 }),
        {},
        presses(`jump@${(landings[0]!.time - 0.05).toFixed(6)}`),
        rate,
        1,
        { at: [3.5, -3] },
      );
      expect(names(jump).slice(0, 3)).to.include('takeoff');
      expect(the(jump, 'takeoff').buffered).to.equal(true);
    }
    expect(
      names(simulate(on({ bounce: { share: 0.9, from: 30 } }), {}, [], 60, 2, { at: [3.5, -3] })).filter(
        (name) => name === 'touchdown',
      ).length,
    ).to.equal(1);
  });
});

describe('Zones', () => {
  it('are entered and left at their moment, by boxes of every rate', () => {
    const level: Level = { rows: FLOOR, zones: [{ name: 'race', box: [6, 0, 3, 2], tags: ['water', 'hazard'] }] };
    const run = { upIn: 0 };
    for (const rate of RATES) {
      const played = simulate(level, { run }, presses('right@0'), rate, 1.6);
      const enter = the(played, 'enter');
      expect([enter.zone, enter.tags]).to.deep.equal(['race', ['water', 'hazard']]);
      expect(enter.time).to.be.closeTo((6 - 1.5 - 0.35) / 7.5, 1e-6);
      expect(the(played, 'exit').time).to.be.closeTo((9 - 1.5 + 0.35) / 7.5, 1e-6);
      expect(names(played)).to.deep.equal(['enter', 'exit']);
    }
  });

  it('may have any number of corners, and none that points inward', () => {
    const round = Array.from({ length: 60 }, (_, i): [number, number] => {
      const turn = (i * Math.PI) / 30;
      return [8 + 2 * Math.cos(turn), 1.2 + 2 * Math.sin(turn)];
    });
    for (const piece of [round, round.slice().reverse(), [...round.slice(23), ...round.slice(0, 23)]]) {
      const played = simulate({ rows: FLOOR, zones: [{ pieces: [piece] }] }, { run: { upIn: 0 } }, presses('right@0'), 60, 1.6); // prettier-ignore
      expect(names(played)).to.deep.equal(['enter', 'exit']);
      expect(the(played, 'enter').time).to.be.closeTo((6 - 1.5 - 0.35) / 7.5, 1e-6);
      expect(the(played, 'exit').time).to.be.closeTo((10 - 1.5 + 0.35) / 7.5, 1e-6);
    }
    for (const sign of ['up', 'down'] as const) {
      const arrow: Level = { rows: FLOOR, yPoints: sign, zones: [{ pieces: [[[0, 0], [4, 2], [0, 4], [1, 2]]] }] }; // prettier-ignore
      expect(() => openStage(arrow)).to.throw(LevelError, /corner at 1, 2 points inward/);
    }
  });

  it('scale gravity and pace, carry a current, and give air jumps back', () => {
    const within = (zone: object): Level => ({ rows: ['.'], zones: [{ box: [-50, -50, 100, 100], ...zone }] });
    const tuning: Tuning = { run: { air: { upIn: 0 } } };
    for (const rate of [15, 60, 240]) {
      const { motion } = openStage(within({})).add({}, { at: [0, 0] });
      const slow = simulate(within({ gravity: 0.25, pace: 0.5 }), tuning, presses('right@0'), rate, 0.4, {
        at: [0, 0],
      });
      expect(slow.rows.at(-1)!.y).to.be.closeTo((motion.falling * 0.25 * 0.4 ** 2) / 2, 1e-9);
      expect(slow.rows.at(-1)!.vx).to.equal(3.75);
      // In a medium that rises at 30, the terminal speed of 24 is one of 6 upwards.
      const draught = simulate(within({ current: [2, -30] }), tuning, [], rate, 2, { at: [0, 0] });
      expect(draught.rows.at(-1)).to.include({ vy: -6, vx: 2 });
      const jumps = simulate(
        { rows: ['.'], zones: [{ box: [-1, 3, 20, 5], tags: ['restore'] }] },
        { airJumps: { restoredBy: ['ground', 'zone'] } },
        presses('jump@0.05 jump@0.2-0.21'),
        rate,
        1.5,
        { at: [0, 0] },
      );
      expect(jumps.rows.find(({ time }) => time > 0.2)!.jumpsLeft).to.equal(0);
      expect(jumps.rows.at(-1)!.jumpsLeft).to.equal(1);
    }
  });
});

describe('Borders of a level', () => {
  it('that wrap do not begin the count of wall jumps anew: it is the same wall', () => {
    const shaft: Level = { rows: Array.from({ length: 10 }, () => '#.....'), bounds: { top: 'wrap', bottom: 'wrap' } };
    const tuning: Tuning = { wall: { sameWall: 2, jump: { lock: 0.1 } }, grace: { lip: 0, coyote: 0 } };
    // Off the wall twice, across the border in between and after: the third press is for nothing.
    const keys = 'left@0 jump@0.5-0.6 jump@3-3.1 jump@7-7.1';
    for (const rate of [15, 60, 240]) {
      const run = simulate(shaft, tuning, presses(keys), rate, 8, { at: [1.4, 5] });
      const told = run.events.filter(({ event }) => event === 'takeoff' || event === 'wrapped');
      expect(told.filter(({ event }) => event === 'takeoff').map(({ by }) => by)).to.deep.equal(['wall', 'wall']);
      expect(told.map(({ event }) => event).join(' ')).to.match(/takeoff( wrapped)+ takeoff( wrapped)+$/);
    }
  });

  it('that wrap bring a body out at the other side, standing, jumping and against walls there', () => {
    const level: Level = { rows: ['..........', '.@........', '####..####'], bounds: { left: 'wrap', right: 'wrap' } };
    for (const rate of RATES) {
      const run = simulate(level, { run: { upIn: 0 }, slope: { step: 0 } }, presses('left@0'), rate, 0.5);
      expect(the(run, 'wrapped')).to.include({ side: 'left' });
      expect(the(run, 'wrapped').x).to.be.closeTo(0, 1e-9);
      expect(the(run, 'wrapped').time).to.be.closeTo(1.5 / 7.5, 1e-9);
      expect(run.rows.at(-1)!.x).to.be.closeTo(10 - (run.rows.at(-1)!.time - 0.2) * 7.5, 1e-9);
      expect(names(run).filter((name) => name === 'leave' || name === 'touchdown')).to.deep.equal([]);
    }
    // A wall beyond the border is met by the half that is out already.
    const walled: Level = { ...level, rows: ['#.........', '#.@.......', '##########'] };
    const stopped = simulate(walled, {}, presses('right@0'), 60, 3);
    expect(stopped.rows.at(-1)!.x).to.be.closeTo(10 - 0.35, 1e-6);
    const falls = simulate({ rows: ['.@.', '...'], bounds: { top: 'wrap', bottom: 'wrap' } }, {}, [], 60, 1);
    expect(names(falls).filter((name) => name === 'wrapped').length).to.be.greaterThan(2);
    expect(Math.max(...falls.rows.map(({ y }) => y))).to.be.at.most(2 + 1e-9);
    expect(() => openStage({ rows: ['@'], bounds: { left: 'wrap' } })).to.throw('must both be wrap');
  });

  it('that are out tell of it once the whole body is beyond them', () => {
    const level: Level = { rows: ['...', '.@.', '...'], bounds: { bottom: 'out' } };
    for (const rate of [15, 60, 240]) {
      const run = simulate(level, {}, [], rate, 1);
      const out = the(run, 'out');
      expect([out.side, names(run).length]).to.deep.equal(['bottom', 1]);
      expect(out.y).to.be.closeTo(3 + run.who.motion.height, 1e-5);
    }
  });
});

describe('Layers and shapes with a name', () => {
  const level: Level = {
    rows: ['.......', '.@.g...', '.@.g...', 'ppp####'],
    marks: { g: { solid: 'full', name: 'gate', layer: 'iron' }, p: { solid: 'full', name: 'plank' } },
  };

  it('can be ignored, switched off and on, with what stands on them and in them', () => {
    const run = (options: object): number =>
      simulate(level, {}, presses('right@0'), 60, 0.6, { at: [1.5, 3], ...options }).rows.at(-1)!.x;
    expect(run({})).to.be.closeTo(3 - 0.35, 1e-6);
    expect(run({ ignores: ['iron'] })).to.be.greaterThan(4);
    expect(() => run({ ignores: ['wood'] })).to.throw('there is no layer wood; the level has iron');
    const stage = openStage(level);
    const hero = stage.add({}, { at: [1.5, 3], driver: script(presses('right@0')) });
    const events: Readonly<StageEvent>[] = [];
    stage.listen((event) => events.push({ ...event }));
    for (let i = 0; i < 60; i++) stage.tick(1 / 60);
    const before = stage.snapshot();
    stage.setShape('gate', false);
    for (let i = 0; i < 6; i++) stage.tick(1 / 60);
    expect(hero.x).to.be.within(2.8, 3.2);
    // It comes down on the body, which is pushed out of it.
    stage.setShape('gate', true);
    for (let i = 0; i < 60; i++) stage.tick(1 / 60);
    expect(events.map(({ event }) => event)).to.include('freed');
    expect([stage.hasShape('gate'), hero.x < 3 - 0.34 || hero.x > 4.34]).to.deep.equal([true, true]);
    stage.restore(before);
    stage.setShape('plank', false);
    for (let i = 0; i < 30; i++) stage.tick(1 / 60);
    expect(hero.y).to.be.greaterThan(4);
    stage.restore(before);
    expect([stage.hasShape('plank'), hero.y]).to.deep.equal([true, 3]);
    for (let i = 0; i < 30; i++) stage.tick(1 / 60);
    expect(hero.y).to.equal(3);
    expect(() => stage.setShape('door', false)).to.throw('there is no shape door; the level has gate, plank');
    hero.ignore('iron');
    for (let i = 0; i < 30; i++) stage.tick(1 / 60);
    expect(hero.x).to.be.greaterThan(4);
  });
});

describe('Ground of one side, and lines', () => {
  it('a line stops a body at a thousand widths a tick, from either side, with its ends; it can be stood on', () => {
    const level = compileOutlines({ yPoints: 'up', outlines: [{ form: 'line', points: [[5, 0], [5, 6]] }, { form: 'line', points: [[8, 3], [12, 3]] }, { form: 'ground', points: [[-9, 0], [40, 0]] }] }); // prettier-ignore
    const fast: Tuning = { run: { speed: 42_000, upIn: 0, air: { upIn: 0 } } };
    for (const rate of [15, 60]) {
      expect(simulate(level, fast, presses('right@0'), rate, 0.5, { at: [0, 0] }).rows.at(-1)!.x).to.be.closeTo(
        5 - 0.35,
        1e-6,
      );
      expect(simulate(level, fast, presses('left@0'), rate, 0.5, { at: [20, 0] }).rows.at(-1)!.x).to.be.closeTo(
        5 + 0.35,
        1e-6,
      );
      const onTop = simulate(level, {}, [], rate, 1, { at: [5.1, 7] });
      expect(onTop.rows.at(-1)).to.include({ y: 6, support: 'ground' });
      const side = simulate(level, { grace: 'off' }, presses('right@0'), rate, 0.12, { at: [7.6, 2.6] });
      expect(side.rows.at(-1)!.x).to.be.closeTo(8 - 0.35, 1e-6);
      expect(the(simulate(level, {}, presses('jump@0'), rate, 0.5, { at: [10, 0] }), 'bump').side).to.equal('head');
    }
  });

  it('one-way slopes are passed from below and from the sides, stood on, run along and dropped through', () => {
    const level = compileOutlines({ yPoints: 'up', outlines: [{ form: 'ground', points: [[-9, 0], [40, 0]] }, { form: 'one-way', points: [[6, 2], [10, 4], [14, 4], [18, 2]] }] }); // prettier-ignore
    for (const rate of RATES) {
      const tuning: Tuning = { drop: {}, run: { speed: 4 } };
      const up = simulate(level, tuning, presses('jump@0-1 down@1.4 jump@1.5-1.6'), rate, 3, { at: [8, 0] });
      expect(names(up), `${rate}`).to.deep.equal(['takeoff', 'apex', 'touchdown', 'dropThrough', 'touchdown']);
      expect(up.events.find(({ event }) => event === 'touchdown')!.y).to.be.closeTo(3.175, 1e-3);
      expect(up.rows.at(-1)!.y).to.equal(0);
      const along = simulate(level, tuning, presses('right@0.5'), rate, 3.4, { at: [7, 3] });
      expect(names(along)).to.deep.equal(['touchdown']);
      expect(along.rows.at(-1)!.x).to.be.greaterThan(16);
      expect(names(simulate(level, tuning, presses('right@0'), rate, 4, { at: [2, 0] }))).to.deep.equal([]);
    }
  });
});
