import { ACTIONS, bot, fingerprint, merged, openStage, recordTrace, rowNumbers, script, type Character, type Driver, type InputRow, type Level } from 'apperin'; // prettier-ignore
import { readInput, writeInput } from 'apperin/files';
import { play } from 'apperin/lab';
import { expect } from 'chai';
import { PLAIN } from '../support/make.js';
import { randomizer } from '../support/random.js';
import { presses, simulate, the } from '../support/simulate.js';

/** A driver worked by hand: what is pressed acts at the start of the next tick. */
function hand(): Driver & { press(action: string, value: number): void; held: Set<string> } {
  const waiting: [string, number][] = [];
  const held = new Set<string>();
  return {
    isLive: true,
    held,
    press(action, value) {
      if (value > 0) held.add(action);
      else held.delete(action);
      waiting.push([action, value]);
    },
    read(into) {
      for (const [action, value] of waiting.splice(0)) into.push(into.from, (ACTIONS as readonly string[]).indexOf(action), value);
    },
    fresh: () => void waiting.splice(0),
  };
} // prettier-ignore

const WIDE: Level = { rows: [...Array.from({ length: 7 }, () => '.'.repeat(60)), `..@${'.'.repeat(57)}`, '#'.repeat(60)], bounds: { left: 'wall', right: 'wall' } }; // prettier-ignore

describe('Drivers', () => {
  it('a bot decides by what it sees, once a tick, and goes on from any moment alike', () => {
    // Back and forth between two places, with a hop on the way.
    const walker = bot((who) => ({
      right: who.facing > 0 ? who.x < 20 : who.x < 5,
      left: who.facing < 0 ? who.x > 5 : who.x > 20,
      jump: who.support === 'ground' && who.x > 11 && who.x < 12,
    }));
    const stage = openStage(WIDE);
    const hero = stage.add({}, { driver: walker });
    const seen: number[] = [];
    let jumps = 0;
    hero.on('takeoff', () => jumps++);
    let middle: Float64Array | undefined;
    for (let i = 0; i < 1200; i++) {
      stage.tick(1 / 60);
      seen.push(hero.x);
      if (i === 600) middle = stage.snapshot();
    }
    expect(Math.max(...seen)).to.be.within(20, 21.5);
    expect(Math.min(...seen.slice(300))).to.be.within(3.5, 5);
    expect(jumps).to.be.at.least(3);
    stage.restore(middle!);
    for (let i = 601; i < 1200; i++) {
      stage.tick(1 / 60);
      expect(hero.x).to.equal(seen[i]);
    }
  });

  it('a bot may want half of a way, and is told of what cannot be', () => {
    const stage = openStage(WIDE);
    const hero = stage.add({}, { driver: bot(({ name }) => ({ move: name === 'hero' ? 0.5 : 0 })) });
    for (let i = 0; i < 120; i++) stage.tick(1 / 60);
    expect(hero.vx).to.equal(3.75);
    expect(hero.held('move')).to.equal(0.5);
    hero.drive(bot(() => ({ jump: 2 })));
    expect(() => stage.tick(1 / 60)).to.throw(RangeError, /a bot wants jump to be 2; it must be 0 to 1/);
  });

  it('several as one: an action is held as long as one of them holds it', () => {
    const both = simulate(WIDE, {}, [], 60, 2, {
      driver: merged(script(presses('right@0-1 jump@0.5-0.7')), script(presses('right@0.5-1.5 jump@0.6-0.65'))),
    });
    const one = simulate(WIDE, {}, presses('right@0-1.5 jump@0.5-0.7'), 60, 2);
    expect(both.rows.map(rowNumbers)).to.deep.equal(one.rows.map(rowNumbers));
    // Of two axes the one that is pushed farther.
    const axes = simulate(WIDE, {}, [], 60, 1, {
      at: [30, 8],
      driver: merged(script([{ time: 0, action: 'move', value: 0.25 }]), script([{ time: 0, action: 'move', value: -0.5 }])), // prettier-ignore
    });
    expect(axes.rows.at(-1)!.vx).to.equal(-3.75);
  });

  it('swapped at any tick: no key stays held, and no press makes a second jump', () => {
    const random = randomizer(411);
    let [swaps, jumps] = [0, 0];
    for (let run = 0; run < 60; run++) {
      const stage = openStage(WIDE);
      const keys = hand();
      const drivers: Driver[] = [
        keys,
        script(presses('right@0.2 jump@0.3-0.6 left@1 jump@1.5-1.9 jump@2.5')),
        bot((who) => ({ left: who.x > 20, jump: who.vy < 0 })),
        merged(keys, script(presses('jump@0.7-2'))),
      ];
      const hero = stage.add({}, { driver: keys });
      /** Presses of the jump key that reached the character. */
      let pressed = 0;
      let takeoffs = 0;
      hero.on('takeoff', () => takeoffs++);
      let before = 0;
      for (let tick = 0; tick < 240; tick++) {
        if (random.chance(0.1)) {
          const action = random.pick(['jump', 'left', 'right']);
          keys.press(action, keys.held.has(action) ? 0 : 1);
        }
        if (random.chance(0.05)) {
          hero.drive(random.pick(drivers));
          swaps++;
          for (const action of ACTIONS) expect(hero.held(action), action).to.equal(0);
          before = 0;
        }
        stage.tick(1 / 60);
        if (hero.held('jump') > 0 && before === 0) pressed++;
        before = hero.held('jump');
      }
      expect(takeoffs).to.be.at.most(pressed);
      jumps += takeoffs;
      // Nobody plays: it comes to rest.
      hero.drive(undefined);
      for (let tick = 0; tick < 120; tick++) stage.tick(1 / 60);
      expect([hero.vx, hero.support]).to.deep.equal([0, 'ground']);
    }
    expect(swaps).to.be.above(300);
    expect(jumps).to.be.above(100);
  });

  it('a key held while the character is placed stays held, and is no new press', () => {
    const stage = openStage(WIDE);
    const hero = stage.add({}, { driver: script(presses('right@0 jump@0.5')) });
    const takeoffs: number[] = [];
    hero.on('takeoff', ({ time }) => takeoffs.push(time));
    hero.on('apex', () => hero.place(4.5, 8));
    for (let i = 0; i < 120; i++) stage.tick(1 / 60);
    expect(takeoffs).to.deep.equal([0.5]);
    expect(hero.vx).to.equal(7.5);
    expect(hero.support).to.equal('ground');
  });

  it('which way to go with both held can change while they are, and a recording knows', () => {
    const stage = openStage(WIDE);
    const hero = stage.add({}, { at: [30, 8], driver: script(presses('right@0 left@0.2')) });
    const recording = stage.record(hero);
    const trace = recordTrace(stage, hero);
    const speeds: number[] = [];
    for (let i = 0; i < 180; i++) {
      if (i === 60) hero.oppose('latest');
      if (i === 120) hero.oppose('first');
      stage.tick(1 / 60);
      trace.row();
      if (i % 60 === 59) speeds.push(hero.vx);
    }
    expect(speeds).to.deep.equal([0, -7.5, 7.5]);
    expect(hero.opposed).to.equal('first');
    const rows = readInput(writeInput(recording.rows)).rows;
    const again = play({ level: stage.level, tuning: {}, input: rows, seconds: 3 });
    expect(again.rows.map(rowNumbers)).to.deep.equal(trace.rows.map(rowNumbers));
    expect(() => hero.oppose('last' as never)).to.throw(RangeError, /opposed is last; it must be still, latest, first/);
  });

  it('see the character that they play', () => {
    const seen: Character[] = [];
    const stage = openStage(WIDE);
    const driver: Driver = { read: (_, who) => void seen.push(who) };
    const one = stage.add({}, { driver });
    const two = stage.add({}, { driver });
    stage.tick(0.1);
    expect(seen).to.deep.equal([one, two]);
    expect(one.driver).to.equal(driver);
    one.letGo();
    expect(one.held('right')).to.equal(0);
    expect(one.held('no such action')).to.equal(0);
  });
});

describe('A script', () => {
  it('goes by the stage’s clock, whatever clock the ticks go by', () => {
    const input = presses('right@0.1-0.7 jump@0.33334-0.5');
    const plain = simulate(WIDE, {}, input, 60, 2);
    for (const origin of [1e3, 12345.678901]) {
      const stage = openStage(WIDE);
      const hero = stage.add({}, { driver: merged(script(input), hand()) });
      const trace = recordTrace(stage, hero);
      for (let i = 0; i < 120; i++) {
        stage.tick(1 / 60, origin + i / 60);
        trace.row();
      }
      expect(trace.rows.map(rowNumbers)).to.deep.equal(plain.rows.map(rowNumbers));
    }
  });

  it('is told what the stage makes of its moments, and that plays the same bits again at every rate', () => {
    const { next } = randomizer(77);
    for (let game = 0; game < 20; game++) {
      // A clock of its own that has no whole microseconds, presses that come late, and one of a pause.
      const origin = 1000 * next();
      const waiting: [number, string, number][] = [];
      const taken: InputRow[] = [];
      const live: Driver = {
        isLive: true,
        read(into) {
          for (const [time, action, value] of waiting.splice(0)) into.push(time, action, value);
        },
        taken({ count, time, action, value }) {
          for (let i = 0; i < count; i++)
            taken.push({ time: time[i]!, action: ACTIONS[action[i]!]!, value: value[i]! });
        },
      };
      const stage = openStage(WIDE);
      const hero = stage.add({}, { driver: live });
      const ways = [];
      for (let i = 0; i < 200; i++) {
        const start = origin + i / 120;
        if (i % 25 === 3) waiting.push([start + next() / 120, 'right', i % 50 === 3 ? 1 : 0]);
        // Later by up to three ticks, or by a whole second and let go of again.
        if (i % 40 === 7) waiting.push([start - next() / 40, 'jump', 1]);
        if (i % 40 === 17) waiting.push([start + next() / 240, 'jump', 0]);
        if (i === 150) waiting.push([start - 1, 'jump', 1], [start - 0.9, 'jump', 0]);
        stage.tick(1 / 120, start);
        if (i % 8 === 7) ways.push([hero.x, hero.y, hero.vx, hero.vy]);
      }
      expect(taken.filter(({ action, value }) => action === 'jump' && value > 0)).to.have.length(5);
      for (const rate of [15, 120]) {
        const again = openStage(WIDE);
        const other = again.add({}, { driver: script(taken) });
        const way = [];
        for (let i = 1; i <= (200 * rate) / 120; i++) {
          again.tick(1 / rate);
          if (rate === 15 || i % 8 === 0) way.push([other.x, other.y, other.vx, other.vy]);
        }
        expect(way, `game ${game} at ${rate}`).to.deep.equal(ways);
      }
    }
  });

  it('finds its place at the moment of a snapshot, back and forward', () => {
    const open = () => {
      const stage = openStage(WIDE);
      const hero = stage.add({}, { driver: script(presses('right@0 jump@0.5-0.6 jump@1-1.2')) });
      return { stage, hero };
    };
    const [one, two] = [open(), open()];
    for (let i = 0; i < 85; i++) one.stage.tick(1 / 60);
    two.stage.restore(one.stage.snapshot());
    for (let i = 0; i < 85; i++) for (const { stage } of [one, two]) stage.tick(1 / 60);
    expect(fingerprint(two.stage.snapshot())).to.equal(fingerprint(one.stage.snapshot()));
  });
});

describe('A press', () => {
  it('in the middle of a tick acts at its own moment', () => {
    for (const rate of [15, 30, 60]) {
      const run = simulate(PLAIN, {}, presses('jump@0.1234-0.1236'), rate, 1);
      expect(the(run, 'takeoff').time).to.be.closeTo(0.1234, 1e-12);
    }
  });
});
