import {
  arcPieces,
  comingDown,
  openStage,
  recordPieces,
  script,
  type InputRow,
  type Level,
  type Tuning,
} from 'apperin';
import { expect } from 'chai';
import { RATES, names, presses, simulate, the } from '../support/simulate.js';

describe('Standing and running', () => {
  it('keeps the feet on the floor, bit for bit, for a million ticks', () => {
    const stage = openStage({ rows: ['....', '.@..', '####'], origin: [0.1, 0.3] });
    const hero = stage.add({}, { at: [1.7, 2.1] });
    for (let i = 0; i < 200; i++) stage.tick(1 / 60);
    const { x, y } = hero;
    expect(hero.support).to.equal('ground');
    const floor = Math.floor((0.3 + 2) * 2 ** 26 + 0.5) / 2 ** 26;
    expect(y).to.equal(floor);
    for (let i = 0; i < 1_000_000; i++) stage.tick(1 / 60);
    expect(Object.is(hero.x, x) && Object.is(hero.y, y)).to.equal(true);
    expect(hero.vy).to.equal(0);
    expect(hero.parts).to.equal(1);
  });

  it('lands on the floor exactly, without a bounce', () => {
    for (const rate of RATES) {
      const run = simulate({ rows: ['@', '.', '.', '.', '#'] }, {}, [], rate, 1.5);
      expect(names(run)).to.deep.equal(['touchdown']);
      expect(run.rows.at(-1)).to.include({ y: 4, vy: 0, support: 'ground' });
      expect(Math.max(...run.rows.map(({ y }) => y))).to.equal(4);
    }
  });

  it('runs over a floor of a hundred tiles as over one long tile', () => {
    const input = presses('right@0.1-3 jump@1-1.2 left@3.1');
    const hundred: Level = { rows: ['.@' + '.'.repeat(98), '#'.repeat(100)] };
    const one: Level = { rows: ['@', '#'], tile: 100, spawns: { start: { at: [1.5, 1] } }, origin: [0, -99] };
    for (const rate of [15, 60, 240]) {
      const a = simulate(hundred, {}, input, rate, 4);
      const b = simulate(one, {}, input, rate, 4);
      expect(a.rows.at(-1)!.x).to.be.greaterThan(15);
      expect(a.rows).to.deep.equal(b.rows);
      expect(a.events).to.deep.equal(b.events);
    }
  });

  it('lands a jump of three on a ledge three tiles up, at every rate', () => {
    const rows = [
      '............',
      '............',
      '............',
      '......######',
      '............',
      '.@..........',
      '############',
    ];
    for (const rate of RATES) {
      for (const approach of ['right@0 jump@0.35', 'right@0 jump@0.45', 'right@0 jump@0.9']) {
        const run = simulate(
          { rows: rows.map((row, i) => (i === 3 || i === 4 || i === 5 ? row.slice(0, 6) + '######' : row)) },
          { jump: { height: 3 }, grace: { lip: 0 } },
          presses(approach),
          rate,
          1.35,
        );
        expect(run.rows.at(-1)!, `${approach} at ${rate}`).to.include({ y: 3, support: 'ground' });
      }
    }
  });

  it('leaves the ground when no more of it is below than the tolerance, and not before', () => {
    const rows = ['.@....', '####..', '......', '......'];
    const { events, who } = simulate({ rows }, {}, presses('right@0'), 60, 1);
    const { half, touch } = who.motion;
    const { x } = events.find(({ event }) => event === 'leave')!;
    expect(x - half).to.be.closeTo(4 - touch, 1e-12);
  });

  it('walks from one floor piece to the next without noticing', () => {
    // The level's bottom continues the tiles at the same height.
    const run = simulate(
      { rows: ['.@..', '....'], bounds: { bottom: 'wall' }, spawns: { start: { at: [1.5, 2] } } },
      {},
      presses('right@0'),
      60,
      2,
    );
    expect(names(run)).to.deep.equal([]);
    const gap = simulate(
      { rows: ['@.....', '###.##'] },
      { body: { width: 1.4, height: 1 } },
      presses('right@0'),
      60,
      0.6,
    );
    expect(names(gap)).to.deep.equal([]);
    expect(gap.rows.at(-1)!.x).to.be.greaterThan(3.5);
  });

  it('moves through a corridor exactly as high or wide as the body', () => {
    const body = { width: 1, height: 1 };
    const low = simulate({ rows: ['######', '@.....', '######'] }, { body }, presses('right@0'), 60, 1.2);
    expect(low.rows.at(-1)!.x).to.be.greaterThan(6);
    expect(names(low).slice(0, 1)).to.deep.equal(['leave']);
    const narrow = simulate({ rows: ['#@#', ...Array<string>(12).fill('#.#')] }, { body }, presses('left@0'), 60, 0.6);
    expect(names(narrow)).to.deep.equal(['turned']);
    expect(narrow.rows.at(-1)!.y).to.be.greaterThan(4);
    expect(narrow.rows.at(-1)!.x).to.equal(1.5);
  });
});

describe('Walls, ceilings and speed', () => {
  it('stops at a wall and copies its edge', () => {
    for (const rate of RATES) {
      const run = simulate({ rows: ['.@...#', '######'] }, {}, presses('right@0'), rate, 1);
      const bump = the(run, 'bump');
      expect(bump.side).to.equal('right');
      expect(bump.speed).to.equal(7.5);
      expect(run.rows.at(-1)!.x).to.equal(5 - run.who.motion.half);
      expect(names(run)).to.deep.equal(['bump']);
    }
  });

  it('falls at a thousand widths a tick and stops at a floor of one tile', () => {
    const rate = 60;
    const width = 0.7;
    const speed = 1000 * width * rate;
    const rows = ['@', ...Array<string>(2000).fill('.'), '#', '.', '.'];
    const run = simulate(
      { rows },
      { gravity: { fallSpeed: speed }, jump: { baseGravity: 1e6, launchSpeed: 1000, minHold: 0 } },
      [],
      rate,
      0.5,
    );
    const landing = the(run, 'touchdown');
    expect(landing.speed).to.be.greaterThan(0.99 * speed);
    expect(run.rows.at(-1)!.y).to.equal(2001);
    const across = simulate(
      { rows: ['@' + '.'.repeat(2000) + '#....', '#'.repeat(2006)] },
      { run: { speed, upIn: 0 } },
      presses('right@0'),
      rate,
      0.2,
    );
    expect(across.rows.at(-1)!.x).to.equal(2001 - across.who.motion.half);
  });

  it('does not slow a fall by pressing into a wall', () => {
    const rows = ['#@.', '#..', '#..', '#..', '#..', '#..'];
    for (const rate of RATES) {
      const free = simulate({ rows: ['@'] }, {}, [], rate, 0.3);
      const pressed = simulate({ rows }, {}, presses('left@0'), rate, 0.3);
      pressed.rows.forEach(({ y }, i) => expect(y).to.be.closeTo(free.rows[i]!.y, 1e-13));
    }
  });

  it('ends the rise at a ceiling at that moment, with the speed in the event', () => {
    for (const rate of RATES) {
      const run = simulate(
        { rows: ['####', '....', '.@..', '####'] },
        { body: { width: 0.7, height: 1.3 } },
        presses('jump@0.1'),
        rate,
        0.6,
      );
      const bump = the(run, 'bump');
      const { launch, rising } = run.who.motion;
      expect(bump.side).to.equal('head');
      expect(bump.y).to.be.closeTo(1 + run.who.motion.height, 1e-12);
      expect(bump.speed).to.be.closeTo(Math.sqrt(launch * launch - 2 * rising * (3 - bump.y)), 1e-9);
      expect(names(run)).to.deep.equal(['takeoff', 'bump', 'touchdown']);
      // Down again under gravity from rest at that moment, in the apex band first.
      const m = run.who.motion;
      const drop = comingDown(arcPieces(m, m.launch), m.jumpHeight - (3 - bump.y)).time - m.riseTime;
      expect(the(run, 'touchdown').time - bump.time).to.be.closeTo(drop, 1e-9);
    }
  });

  it('is stopped by no corner that it has room to pass', () => {
    // Down a shaft one tolerance wider than the body, past the ends of every tile.
    const run = simulate(
      { rows: ['#@#', '...', '#.#', '...', '#.#', '...'] },
      { body: { width: 1, height: 0.8 } },
      [],
      60,
      0.7,
    );
    expect(names(run)).to.deep.equal([]);
  });

  it('stands in bounds that are walls, and falls out of those that are open', () => {
    const walled = simulate(
      { rows: ['...', '.@.', '###'], bounds: { left: 'wall', right: 'wall', top: 'wall' } },
      {},
      presses('left@0-0.5 right@0.5 jump@0.2'),
      60,
      1.5,
    );
    const { half } = walled.who.motion;
    expect(walled.rows.at(-1)!.x).to.equal(3 - half);
    expect(Math.min(...walled.rows.map(({ x }) => x))).to.equal(half);
    expect(walled.events.find(({ side }) => side === 'head')!.y).to.be.closeTo(walled.who.motion.height, 1e-12);
    const open = simulate({ rows: ['.@.', '###'] }, {}, presses('right@0'), 60, 3);
    expect(open.rows.at(-1)!.y).to.be.greaterThan(20);
  });

  it('pushes a body that starts inside a solid out of it, by the shortest way', () => {
    const rows = ['......', '.####.', '.####.', '.####.'];
    for (const [at, out] of [
      [
        [3, 1.5],
        [3, 1],
      ],
      [
        [1.2, 3],
        [0.65, 3],
      ],
      [
        [4.9, 2.9],
        [5.35, 2.9],
      ],
      [
        [3, 4.6],
        [3, 5.3],
      ],
    ] as const) {
      const stage = openStage({ rows });
      const hero = stage.add({ body: { freeBy: 6 } }, { at });
      const events: string[] = [];
      let freed = NaN;
      stage.listen(({ event, time }) => {
        events.push(event);
        if (event === 'freed') freed = time;
      });
      const way = Math.hypot(out[0] - at[0], out[1] - at[1]);
      for (let i = 0; i < 30; i++) stage.tick(1 / 60);
      expect(events[0], String(at)).to.equal('freed');
      expect(freed).to.be.closeTo(way / 6, 1e-5);
      // From there on it falls, or stands.
      expect(hero.x).to.be.closeTo(out[0], 1e-5);
    }
    const shut = openStage({ rows: Array(200).fill('#'.repeat(200)) as string[] });
    const told: string[] = [];
    shut.listen(({ event }) => told.push(event));
    const stuck = shut.add({}, { at: [100, 100] });
    for (let i = 0; i < 60; i++) shut.tick(1 / 60);
    expect([told, stuck.x, stuck.y]).to.deep.equal([['stuck'], 100, 100]);
  });

  it('refuses a spawn that is not there, and arguments out of range', () => {
    const stage = openStage({ rows: ['####', '.@..', '####'] });
    const block = openStage({ rows: ['......', '.####.', '.####.', '.####.'] });
    for (const at of [
      [3, 1],
      [0.4, 3],
      [5.5, 4],
      [3, 6],
    ] as const)
      expect(block.add({}, { at, name: String(at) }).y, String(at)).to.equal(at[1]);
    expect(() => block.add({}, { at: [3, 1], name: '3,1' })).to.throw(RangeError, /named 3,1 already/);
    expect(() => stage.add({}, { at: 'cellar' })).to.throw(RangeError, /no spawn cellar; the level has start/);
    expect(() => stage.add({}, { at: [NaN, 0] })).to.throw(RangeError, /at is NaN, 0/);
    expect(() => stage.add({ body: { height: 0.9 } }, { facing: 2 })).to.throw(RangeError, /facing is 2/);
    expect(() => stage.add({}, { opposed: 'last' as never })).to.throw(RangeError, /opposed is last/);
    expect(() => stage.tick(0)).to.throw(RangeError, /dt is 0/);
    expect(() => stage.tick(NaN)).to.throw(RangeError, /dt is NaN/);
    expect(() => script([{ time: -1, action: 'jump', value: 1 }])).to.throw(RangeError, /row 1: time is -1/);
  });
});

describe('Ground that sends back whoever comes onto it', () => {
  const belts = (left: number, right: number): Level => ({
    rows: ['..........', '..@.......', 'aaaaabbbbb'],
    marks: { a: { solid: 'full', surface: 'left' }, b: { solid: 'full', surface: 'right' } },
    surfaces: { left: { flow: left }, right: { flow: right } },
  });
  const played = (
    of: Level,
    tuning: Tuning,
    rows: readonly InputRow[],
    rate: number,
  ): { places: number[]; pieces: number } => {
    const stage = openStage(of);
    const hero = stage.add(tuning, { driver: script(rows) });
    const recorded = recordPieces(stage, hero);
    const places: number[] = [];
    for (let i = 0; i < 3 * rate; i++) {
      stage.tick(1 / rate);
      if ((i + 1) % (rate / 5) === 0) places.push(hero.x);
    }
    recorded.end();
    return { places, pieces: recorded.pieces.length };
  };
  const right = [{ time: 0.1, action: 'right', value: 1 }];
  for (const feel of ['steady', 'eased'] as const)
    it(`holds it at the joint where it runs slower than the belt, and ${feel === 'eased' ? 'eases up to that' : 'runs evenly'}: after few pieces it stands there, at every rate`, () => {
      const tuning = { run: { speed: 5, feel } };
      const [first, ...others] = [15, 60, 240].map((rate) => played(belts(0, -6), tuning, right, rate));
      for (const other of others) expect(other).to.deep.equal(first);
      const [last] = first!.places.slice(-1);
      expect(first!.places.slice(-4)).to.deep.equal([last, last, last, last]);
      expect(last).to.be.closeTo(5, 1e-5);
      expect(first!.pieces).to.be.below(20);
      // Let go, it stands on what does not move; the other way, it is carried back off the belt.
      const released = played(belts(0, -6), tuning, [...right, { time: 2, action: 'right', value: 0 }], 60);
      expect(released.places.at(-1)).to.be.within(4.5, 5.001);
    }); // prettier-ignore
  it('holds what is carried to where two belts meet', () => {
    const { places, pieces } = played(belts(3, -4), {}, [], 60);
    expect(places.at(-1)).to.be.closeTo(5, 1e-5);
    expect(pieces).to.be.below(20);
    // Faster than both, it goes over.
    expect(played(belts(3, -4), {}, right, 60).places.at(-1)).to.be.above(6);
  });
});
