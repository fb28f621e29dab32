import { compileTuning, launchFor, openStage, script, type Level, type Tuning } from 'apperin';
import { expect } from 'chai';
import { PLAIN, randomTuning } from '../support/make.js';
import { randomizer } from '../support/random.js';
import { RATES, names, presses, simulate, the, type Run } from '../support/simulate.js';

/** A shaft four wide and twenty high, `start` beside its right wall. */
const SHAFT: Level = {
  rows: [...Array<string>(20).fill('#....#'), '######'],
  spawns: { start: { at: [4.65, 20] }, beside: { at: [4.65, 10] }, high: { at: [4.65, 2] } },
};
/** A block three high with a top to stand on. */
const LEDGE: Level = {
  rows: ['.........', '.........', '.........', '.....####', '.....####', '.....####', '.@...####', '#########'],
  spawns: { above: { at: [4.65, 3.6] } },
};
const FALL: Level = { rows: ['..', ...Array<string>(40).fill('..'), '##'], spawns: { start: { at: [1, 1] } } };
const calm: Tuning = { grace: { lip: 0 } };

/** How high a run rises from a takeoff to the apex after it. */
function rise(run: Run, nth = 0): number {
  const takeoff = the(run, 'takeoff', nth);
  return takeoff.y - run.events.find(({ event, time }) => event === 'apex' && time > takeoff.time)!.y;
}

describe('Walls', () => {
  it('hold a slow fall still for `cling`, then let it slide at `slideSpeed`', () => {
    for (const rate of RATES) {
      const run = simulate(SHAFT, { wall: { cling: 0.25 } }, presses('right@0'), rate, 2, { at: 'beside' });
      expect(the(run, 'cling').time).to.equal(0);
      const still = run.rows.filter(({ y }) => y === 10);
      expect(still.at(-1)!.time).to.be.within(0.25 - 1 / rate - 1e-9, 0.25 + 1e-9);
      expect(run.rows.at(-1)).to.include({ vy: 3.5, phase: 'slide', pose: 'slide', support: 'wall' });
      const { falling } = run.who.motion;
      const speedUp = 3.5 / (falling * 0.7);
      const y = 10 + 3.5 * (run.rows.at(-1)!.time - 0.25 - speedUp / 2);
      expect(run.rows.at(-1)!.y).to.be.closeTo(y, 1e-9);
    }
  });

  it('brake a faster fall evenly within `settle`', () => {
    const tuning: Tuning = { wall: { settle: 0.3, slideSpeed: 2 }, run: { air: { upIn: 0.01 } } };
    const run = simulate(SHAFT, tuning, presses('right@0.3'), 1000, 2, { at: [3, 2] });
    const { time, vy } = the(run, 'cling');
    const at = (after: number) => run.rows.find((row) => row.time >= time + after)!;
    expect(vy).to.be.greaterThan(10);
    expect(at(0.15).vy).to.be.closeTo((vy + 2) / 2, 0.1);
    expect(at(0.29).vy).to.be.greaterThan(2);
    expect(at(0.302).vy).to.equal(2);
  });

  it('never slow a fall that does not ask for it', () => {
    const free = simulate(SHAFT, {}, presses('right@0'), 60, 0.6, { at: 'high' });
    const touching = simulate(SHAFT, { wall: {} }, [], 60, 0.6, { at: 'high' });
    touching.rows.forEach(({ y }, i) => expect(y).to.be.closeTo(free.rows[i]!.y, 1e-12));
    const clung = simulate(SHAFT, { wall: { needs: 'touch' } }, [], 60, 0.6, { at: 'high' });
    expect(clung.rows.at(-1)!.support).to.equal('wall');
  });

  it('are jumped off by exactly `height`, with `out` across, facing away', () => {
    const random = randomizer(301);
    for (let i = 0; i < 40; i++) {
      const height = random.between(0.3, 4);
      const tuning: Tuning = {
        ...randomTuning(random),
        body: {},
        wall: { jump: { height, out: random.between(0, 9) } },
      };
      const m = compileTuning(tuning);
      const run = simulate(SHAFT, m, presses('right@0 jump@0.2'), random.pick(RATES), 1.6, { at: [4.65, 14] });
      expect(the(run, 'takeoff').by).to.equal('wall');
      expect(rise(run)).to.be.closeTo(height, 1e-9 * height);
      expect(launchFor(m, height)).to.be.greaterThan(0);
      expect(the(run, 'turned')).to.include({ facing: -1, vx: -m.full.wall!.jump.out + 0 });
    }
  });

  it('give steering back evenly within `lock`, chased at the rate of the air', () => {
    const slow: Tuning = { wall: { jump: { height: 4, out: 6, lock: 0.4 } }, run: { speed: 6, air: { turnIn: 0.01 } } };
    const run = simulate(SHAFT, slow, presses('right@0 jump@0.1'), 1000, 0.6, { at: 'beside' });
    const speed = (after: number) => run.rows.find(({ time }) => time >= 0.1 + after - 1e-9)!.vx;
    for (const share of [0.25, 0.5, 0.75, 1]) expect(speed(0.4 * share)).to.be.closeTo(-6 + 12 * share, 0.04);
    const locked = simulate(SHAFT, { ...slow, run: { air: 'locked' } }, presses('right@0 jump@0.1'), 60, 0.4, {
      at: 'beside',
    });
    expect(locked.rows.at(-1)!.vx).to.equal(-6);
  });

  it('grant `sameWall` jumps until the ground or another wall is touched', () => {
    const climb = presses('right@0 jump@0.1-0.2 jump@0.6-0.7 jump@1.1-1.2 jump@1.6-1.7 jump@2.1-2.2');
    for (const [sameWall, expected] of [
      [1, 1],
      [2, 2],
      ['any', 5],
      [0, 0],
    ] as const) {
      const run = simulate(SHAFT, { wall: { sameWall, jump: { out: 3, lock: 0.1 } } }, climb, 60, 2.5, {
        at: 'beside',
      });
      expect(run.events.filter(({ by }) => by === 'wall')).to.have.length(expected);
    }
    // To and fro between two walls, and after the ground, they count anew.
    const zigzag = presses(
      'right@0 jump@0.1-0.3 right@0.2-0.2 left@0.2 jump@0.9-1.1 left@0.95-0.95 right@0.95 jump@1.6-1.7',
    );
    const both = simulate(SHAFT, { wall: {} }, zigzag, 60, 2.2, { at: 'beside' });
    expect(both.events.filter(({ by }) => by === 'wall').length).to.be.at.least(2);
  });

  it('restore air jumps only as often as they grant jumps', () => {
    const tuning: Tuning = { wall: {}, airJumps: { restoredBy: ['ground', 'wall'] } };
    const run = simulate(SHAFT, tuning, presses('right@0'), 60, 0.2, { at: 'beside' });
    expect(run.who.jumpsLeft).to.equal(2);
    // Away by an air jump after the window, and back, again and again: only the first return gives one.
    const away = [0, 1, 2, 3].map(
      (i) => `right@${i}-${i}.25 left@${i}.25-${i}.5 jump@${i}.45-${i}.55 right@${i}.55-${i}.99`,
    );
    const drift = simulate(SHAFT, { ...tuning, wall: { sameWall: 1 } }, presses(away.join(' ')), 60, 4, {
      at: [4.65, 6],
    });
    expect(drift.events.filter(({ by }) => by === 'air').length).to.be.at.most(2);
  });

  it('are held on to over at least half of the body', () => {
    const tall: Level = {
      rows: ['......', '....#.', '......', '......', '......', '######'],
      spawns: { start: { at: [3.65, 1] } },
    };
    const run = simulate(
      tall,
      { wall: { slideSpeed: 1 }, body: { height: 1.2 }, ...calm },
      presses('right@0'),
      240,
      1.5,
    );
    expect(the(run, 'cling').y).to.be.closeTo(1.6, 1e-7);
    expect(the(run, 'uncling').y).to.be.closeTo(2.6, 2e-6);
    const small = simulate(tall, { wall: {}, body: { height: 2.2 }, ...calm }, presses('right@0'), 60, 1);
    expect(names(small)).to.not.include('cling');
  });
});

describe('Ledges', () => {
  it('are caught where the hands pass them, at a fixed offset, whatever the rate', () => {
    for (const rate of RATES) {
      const run = simulate(LEDGE, { ledge: {}, ...calm }, presses('right@0'), rate, 1, { at: 'above' });
      const hang = the(run, 'hang');
      expect(hang.y).to.be.closeTo(3 + 1.15, 1e-12);
      expect(run.rows.at(-1)!.x).to.be.closeTo(4.65, 1e-7);
      expect(run.rows.at(-1)).to.include({
        vx: 0,
        vy: 0,
        support: 'ledge',
        phase: 'hang',
        pose: 'hang',
        facing: 1,
      });
      expect(hang.time).to.be.closeTo(
        the(simulate(LEDGE, { ledge: {}, ...calm }, presses('right@0'), 60, 1, { at: 'above' }), 'hang').time,
        1e-9,
      );
    }
  });

  it('are out of reach beyond `reach`, and need pressing toward them unless `auto`', () => {
    const hangs = (ledge: Tuning['ledge'], x: number, input: string): boolean =>
      names(
        simulate(LEDGE, { ledge: ledge!, ...calm, run: { air: { speed: 0 } } }, presses(input), 60, 0.6, {
          at: [x, 3.6],
        }),
      ).includes('hang');
    expect(hangs({ reach: 0.3 }, 4.36, 'right@0')).to.equal(true);
    expect(hangs({ reach: 0.3 }, 4.34, 'right@0')).to.equal(false);
    expect(hangs({}, 4.6, 'left@0.9')).to.equal(false);
    expect(hangs({ auto: true }, 4.6, 'left@0.9')).to.equal(true);
    expect(hangs({ auto: true }, 4.6, 'left@0')).to.equal(false);
  });

  it('are climbed in `climb` seconds, standing on top at the end', () => {
    for (const rate of RATES) {
      const run = simulate(LEDGE, { ledge: { climb: 0.31 }, ...calm }, presses('right@0-0.5 up@0.7'), rate, 1.5, {
        at: 'above',
      });
      expect(the(run, 'climbed').time).to.be.closeTo(0.7 + 0.31, 1e-9);
      expect(run.rows.at(-1)).to.include({ y: 3, support: 'ground' });
      expect(run.rows.at(-1)!.x).to.be.closeTo(5.35, 1e-7);
      const halfway = run.rows.find(({ time }) => time > 0.85)!;
      expect(halfway).to.include({ support: 'ledge' });
    }
    const beam: Level = { ...LEDGE, rows: ['.........', '.....####', ...LEDGE.rows.slice(2)] };
    const low = simulate(beam, { ledge: {}, ...calm }, presses('right@0 up@0.7'), 60, 1.5, { at: 'above' });
    expect(names(low)).to.include('hang').and.not.include('climbed');
  });

  it('are let go of by down, and not taken again for `pause`', () => {
    const jumped = simulate(
      LEDGE,
      { ledge: { pause: 0.1 }, airJumps: { heights: [1] }, ...calm },
      presses('right@0 down@1-1.1 jump@1.05'),
      60,
      3,
      { at: 'above' },
    );
    expect(names(jumped).filter((name) => name === 'hang')).to.have.length(2);
    const paused = simulate(
      LEDGE,
      { ledge: { pause: 5 }, airJumps: { heights: [1] }, ...calm },
      presses('right@0 down@1-1.1 jump@1.05'),
      60,
      3,
      { at: 'above' },
    );
    expect(names(paused).filter((name) => name === 'hang')).to.have.length(1);
  });

  it('are jumped off as high as from the ground, and give air jumps back once per ground', () => {
    const run = simulate(LEDGE, { ledge: {}, ...calm }, presses('right@0-0.5 jump@0.7'), 60, 1.5, { at: 'above' });
    expect(rise(run)).to.be.closeTo(3.25, 1e-9);
    const twice = presses('right@0 jump@0.01-0.05 down@1-1.05 jump@1.1-1.15 down@2-2.05 jump@2.1-2.15');
    const spent = simulate(LEDGE, { ledge: { pause: 0.05 }, airJumps: {}, ...calm }, twice, 60, 3, { at: 'above' });
    expect(spent.events.filter(({ by }) => by === 'air')).to.have.length(2);
  });
});

describe('Gliding and diving', () => {
  it('glide brings the fall to `fallSpeed` within `settle`, from either side', () => {
    for (const [from, time] of [
      [0, 0],
      [0.25, 0.25],
    ] as const) {
      const run = simulate(FALL, { glide: { settle: 0.2 } }, presses(`glide@${time}`), 1000, 1);
      const start = the(run, 'glideOn');
      expect(start.time).to.be.closeTo(from, 1e-9);
      const at = (after: number) => run.rows.find((row) => row.time >= start.time + after - 1e-9)!;
      expect(at(0.1).vy).to.be.closeTo((start.vy + 2.2) / 2, 0.1);
      expect(at(0.2).vy).to.be.closeTo(2.2, 1e-9);
      expect(at(0.5)).to.include({ vy: 2.2, phase: 'glide', pose: 'glide' });
    }
  });

  it('glide lasts as long as its budget between two contacts with the ground', () => {
    for (const rate of RATES) {
      const run = simulate(FALL, { glide: { budget: 0.7 } }, presses('glide@0-0.4 glide@0.6'), rate, 1.5);
      expect(the(run, 'glideOff').time).to.be.closeTo(0.4, 1e-9);
      expect(the(run, 'glideOff', 1).time).to.be.closeTo(0.6 + 0.3, 1e-9);
      expect(run.events.filter(({ event }) => event === 'glideOn')).to.have.length(2);
    }
    const again = simulate(PLAIN, { glide: { budget: 0.2 } }, presses('jump@0.1-0.6 glide@0.3 jump@1.2'), 60, 2.2);
    expect(again.events.filter(({ event }) => event === 'glideOn')).to.have.length(2);
  });

  it('glide does not begin by the press that made a jump', () => {
    const both = presses('jump@0.1-1.5 glide@0.1-1.5');
    expect(names(simulate(PLAIN, { glide: {} }, both, 60, 1.2))).to.not.include('glideOn');
    const fresh = presses('jump@0.1-0.4 glide@0.1-0.4 jump@0.55 glide@0.55');
    expect(names(simulate(PLAIN, { glide: {}, grace: { buffer: 0 } }, fresh, 60, 1.2))).to.include('glideOn');
  });

  it('start the fall ramp again, as a slide and every jump do', () => {
    const ramp: Tuning = { gravity: { fallRamp: { to: 4, over: 0.3 }, fallSpeed: 200 } };
    const { gravity } = compileTuning(ramp);
    /** Falling gravity right after a moment, as a multiplier. */
    const after = (run: Run, time: number): number => {
      const [one, two] = [0.002, 0.003].map((more) => run.rows.find((row) => row.time >= time + more - 1e-9)!);
      return (two!.vy - one!.vy) / 0.001 / gravity;
    };
    const plain = simulate(FALL, ramp, [], 1000, 1);
    expect(after(plain, 0.5)).to.be.closeTo(4, 1e-6);
    const glided = simulate(FALL, { ...ramp, glide: {} }, presses('glide@0.4-0.5'), 1000, 1);
    expect(after(glided, 0.5)).to.be.closeTo(1.5, 0.05);
    expect(after(glided, 0.65)).to.be.closeTo(2.75, 0.05);
    const jumped = simulate(FALL, { ...ramp, airJumps: {} }, presses('jump@0.4'), 1000, 1.4);
    expect(after(jumped, jumped.events.find(({ event }) => event === 'apex')!.time + 0.09)).to.be.below(2.2);
    const slid = simulate(SHAFT, { ...ramp, wall: {} }, presses('right@0-0.5'), 1000, 1, { at: 'high' });
    expect(after(slid, 0.5)).to.be.closeTo(1.5, 0.05);
  });

  it('dive falls with its own gravity and terminal speed, and brakes after it', () => {
    const { gravity, falling } = compileTuning({});
    const run = simulate(FALL, { dive: { gravity: 3, fallSpeed: 30 } }, presses('down@0.1-0.5'), 1000, 0.8);
    const row = (time: number) => run.rows[Math.round(time * 1000)]!;
    expect(row(0.15).vy).to.be.closeTo(0.1 * falling + 0.05 * 3 * gravity, 1e-9);
    expect(row(0.45)).to.include({ vy: 30, phase: 'dive', pose: 'dive' });
    expect(row(0.55).vy).to.be.closeTo(30 - 0.05 * falling, 1e-9);
    expect(row(0.7).vy).to.equal(24);
  });

  it('dive needs a fresh press in the air, and waits for coming down', () => {
    expect(
      simulate(PLAIN, { dive: {} }, presses('down@0 jump@0.1'), 60, 0.8).rows.some(({ phase }) => phase === 'dive'),
    ).to.equal(false);
    const early = simulate(PLAIN, { dive: {} }, presses('jump@0.1 down@0.2'), 240, 0.8);
    expect(early.rows.find(({ phase }) => phase === 'dive')!.time).to.be.closeTo(the(early, 'apex').time, 1.1 / 240);
  });
});

describe('Charging', () => {
  const charge = { lowest: 1, highest: 5, fullIn: 0.8 };

  it('grows evenly from `lowest` to `highest` over `fullIn`, and never beyond', () => {
    for (const rate of RATES)
      for (const [held, height] of [
        [0.2, 2],
        [0.4, 3],
        [0.8, 5],
        [2, 5],
      ] as const) {
        const run = simulate(PLAIN, { charge }, presses(`jump@0.1-${(0.1 + held).toFixed(3)}`), rate, 3.2);
        expect(the(run, 'takeoff')).to.include({ by: 'charge' });
        expect(the(run, 'takeoff').time).to.be.closeTo(0.1 + held, 1e-9);
        expect(rise(run)).to.be.closeTo(height, 1e-9 * height);
      }
  });

  it('launches with what is there where the ground ends, and starts on landing by a buffered press', () => {
    const edge: Level = { rows: ['@....', '##...', '##...', '##...', '##...', '#####'] };
    const run = simulate(edge, { charge }, presses('right@0 jump@0.05'), 60, 2);
    const leave = the(run, 'leave');
    expect(the(run, 'takeoff').time).to.equal(leave.time);
    expect(rise(run)).to.be.closeTo(1 + 4 * ((leave.time - 0.05) / 0.8), 1e-9);
    const drop = simulate(
      { rows: ['@', '.', '.', '#'], spawns: { start: { at: [0.5, 1] } } },
      { charge },
      presses('jump@0.18-0.4'),
      60,
      1,
    );
    const landing = the(drop, 'touchdown').time;
    expect(rise(drop)).to.be.closeTo(1 + 4 * ((0.4 - landing) / 0.8), 1e-9);
  });

  it('stops the run meanwhile where `run` is false, and shows its pose', () => {
    const halted = simulate(PLAIN, { charge: { run: false } }, presses('right@0 jump@0.3'), 60, 1);
    expect(halted.rows.at(-1)).to.include({ vx: 0, pose: 'charge' });
    expect(simulate(PLAIN, { charge: {} }, presses('right@0 jump@0.3'), 60, 1).rows.at(-1)!.vx).to.equal(7.5);
  });
});

describe('Jumps from the ground', () => {
  it('gain `runUp` in proportion to the speed', () => {
    for (const [walk, gain] of [
      [1, 0.8],
      [0.5, 0.4],
      [0, 0],
    ] as const) {
      const input = presses(walk === 0 ? 'jump@0.5' : `right@0 walk@0 jump@0.5`);
      const run = simulate(PLAIN, { jump: { runUp: 0.8 }, run: { walk } }, input, 60, 1.2);
      expect(rise(run)).to.be.closeTo(3.25 + gain, 1e-9);
    }
  });

  it('do not start where the jump is off, and the gravity stays that of its goals', () => {
    const off = simulate(PLAIN, { jump: 'off' }, presses('jump@0.1'), 60, 1);
    expect(names(off)).to.deep.equal([]);
    expect(off.who.motion.gravity).to.equal(compileTuning({}).gravity);
    expect(compileTuning({ jump: { height: 5, riseTime: 0.5, off: true } }).gravity).to.equal(
      compileTuning({ jump: { height: 5, riseTime: 0.5 } }).gravity,
    );
  });
});

describe('Crouching', () => {
  /** A beam one tile above the floor: less than the body's height. */
  const BEAM: Level = { rows: ['............', '....###.....', '@...........', '############'] };

  it('lowers the hitbox and the speed, and stands up as soon as there is room, at every rate', () => {
    let moment = NaN;
    for (const rate of RATES) {
      const run = simulate(BEAM, { crouch: {} }, presses('right@0 down@0.1-1.4'), rate, 3);
      expect(run.rows.find(({ time }) => time > 0.3)!.height).to.be.closeTo(0.8, 1e-7);
      expect(names(run)).to.not.include('bump');
      const up = run.rows.find(({ time, height }) => time > 1 && height > 1)!;
      expect(up.x).to.be.within(7.35 - 1e-6, 7.35 + 7.5 / rate);
      // It runs at the crouch's speed until the moment at which its back is clear of the beam.
      const stride = run.rows.find(({ time }) => time > 0.7)!;
      expect(stride.vx).to.equal(3);
      const after = run.rows.at(-1)!;
      moment = Number.isNaN(moment) ? after.x : moment;
      expect(after.x).to.be.closeTo(moment, 1e-6);
    }
  });

  it('is refused where it would be higher than the body', () => {
    expect(() => compileTuning({ crouch: { height: 2 } })).to.throw(
      'crouch.height is 2; it must be at most body.height, 1.3',
    );
  });
});

describe('Footfalls', () => {
  it('come at each half stride of ground covered, and not in the air', () => {
    for (const rate of RATES) {
      const run = simulate(PLAIN, { pose: { stride: 2 } }, presses('right@0 jump@1-1.05'), rate, 1.3);
      const steps = run.events.filter(({ event }) => event === 'footfall');
      const takeoff = the(run, 'takeoff');
      steps.forEach(({ x }, i) => expect(x - run.rows[0]!.x).to.be.closeTo(i + 1, 1e-6));
      expect(steps).to.have.length(Math.floor(takeoff.x - run.rows[0]!.x));
    }
    expect(names(simulate(PLAIN, { pose: { stride: 0 } }, presses('right@0'), 60, 2), true)).to.deep.equal([]);
  });

  it('show in the view as strides since standing still', () => {
    const stage = openStage(PLAIN);
    const hero = stage.add({ pose: { stride: 2 } }, { driver: script(presses('right@0-1')) });
    while (stage.time < 0.8) stage.tick(1 / 60);
    expect(hero.view().strides).to.be.closeTo((hero.x - 0.5) / 2, 1e-9);
    while (stage.time < 2) stage.tick(1 / 60);
    expect(hero.view().strides).to.equal(0);
  });
});
