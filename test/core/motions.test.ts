import {
  merged,
  openStage,
  rewind,
  script,
  type Driver,
  type InputRow,
  type Level,
  type Stage,
  type StageEvent,
  type Tuning,
} from 'apperin';
import { expect } from 'chai';
import { block, bothWays, open, playIn, told, type Drawing } from '../support/drawn.js';
import { busyInput } from '../support/everything.js';
import { livelyTuning } from '../support/make.js';
import { randomizer } from '../support/random.js';
import { shareOf, share } from '../support/share.js';

const floor = block(-40, -2, 120, 2);

/** The same list at all rates, both ways; given to `also` once. */
function alike(level: Drawing, tuning: Tuning, keys: string, seconds: number, also: (list: string[]) => void = () => undefined): void {
  let all: string[] | undefined;
  bothWays(level, tuning, keys, seconds, (played, what) => {
    const list = told(played);
    if (all === undefined) also(list);
    all ??= list;
    expect(list, `${keys}, ${what}`).to.deep.equal(all);
  });
} // prettier-ignore

const has = (list: readonly string[], event: string): string | undefined => list.find((line) => line.startsWith(event));

describe('Motion: what letting go makes possible', () => {
  it('begins at that moment: a glide, a wall, a dive, a lip', () => {
    for (const at of [0.231, 0.2873, 0.33]) {
      alike(
        { outlines: [floor], spawns: { start: { at: [0, 0] } } },
        { jump: { height: 4, riseTime: 0.5 }, gravity: { cutTo: 0 }, glide: {} },
        `jump@0.1-${at} glide@0.2`,
        2,
        (list) => expect(has(list, 'glideOn')).to.match(new RegExp(`^glideOn ${at.toFixed(6)}`)),
      );
      alike(
        { outlines: [floor, block(0.35, 0, 3, 20)], spawns: { start: { at: [0, 0] } } },
        { jump: { height: 4, riseTime: 0.5 }, gravity: { cutTo: 0 }, wall: { needs: 'toward' } },
        `right@0.05 jump@0.1-${at}`,
        2,
        (list) => expect(has(list, 'cling')).to.match(new RegExp(`^cling ${at.toFixed(6)}`)),
      );
      const up = playIn(
        { outlines: [floor], spawns: { start: { at: [0, 0] } } },
        { jump: { height: 4, riseTime: 0.5 } },
        'jump@0.1',
        1000,
        at,
      );
      alike(
        { outlines: [floor, block(0.35, -1, 3, 1 + up.hero.y + 0.1)], spawns: { start: { at: [0, 0] } } },
        { jump: { height: 4, riseTime: 0.5 }, gravity: { cutTo: 0.1 }, grace: { lip: 0.3, lipSpeed: 4 } },
        `right@0.05 jump@0.1-${at}`,
        2,
        (list) => expect(has(list, 'lip')).to.match(new RegExp(`^lip ${at.toFixed(6)}`)),
      );
    }
  });

  it('a shove away from a wall that is slid down does not cling to it again', () => {
    const shaft: Drawing = { outlines: [floor, block(2, 0, 3, 40)], spawns: { start: { at: [1.65, 20] } } };
    bothWays(shaft, { wall: {} }, 'right@0', 1.2, ({ names }, what) => {
      expect(names.filter((name) => name === 'cling').length, what).to.equal(1);
      expect(names.filter((name) => name === 'uncling').length, what).to.equal(1);
    }, { each: ({ hero, stage, side }) => { if (Math.abs(stage.time - 0.6) < 1e-9) hero.shove(-9 * side, -2, { lock: 0.6 }); } });
  }); // prettier-ignore

  it('a lip is taken on the way down, too, beside a wall that nobody can steer onto', () => {
    const level: Drawing = { outlines: [floor, block(0.35, -1, 3, 3.6)], spawns: { start: { at: [0, 0] } } };
    alike(
      level,
      { run: { air: 'locked' }, jump: { height: 2.7 }, grace: { lip: 0.2, lipSpeed: 5 } },
      'jump@0.1 right@0.5',
      2,
      (list) => {
        expect(has(list, 'lip')).to.not.equal(undefined);
      },
    );
  });
});

describe('Motion: presses and rights', () => {
  it('a run-up goes by the speed along the ground, and not by being carried', () => {
    const height = (level: Drawing, keys: string): number => {
      const { events } = playIn(level, { jump: { height: 2, riseTime: 0.4, runUp: 2 } }, keys, 240, 2.5);
      const off = events.find(({ event }) => event === 'takeoff')!;
      return events.find(({ event }) => event === 'apex')!.y - off.y;
    };
    const start = { start: { at: [0, 0] as const } };
    const flat: Drawing = { outlines: [floor], spawns: start };
    expect(height(flat, 'jump@0.5')).to.be.closeTo(2, 1e-9);
    expect(height(flat, 'right@0 jump@0.5')).to.be.closeTo(4, 1e-9);
    const belt: Drawing = { outlines: [{ ...floor, carry: { surface: 'belt' } }], surfaces: { belt: { flow: 5 } }, spawns: start };
    expect(height(belt, 'jump@0.5')).to.be.closeTo(2, 1e-9);
    expect(height(belt, 'right@0 jump@0.5')).to.be.closeTo(4, 1e-9);
    expect(height(belt, 'left@0 jump@1')).to.be.closeTo(4, 1e-9);
    const lift: Drawing = { outlines: [], movers: [{ name: 'cart', shapes: [block(-9, -1, 18, 1)], route: { curve: [[0, 0, 40, 0]], lap: 8, laps: 1 } }], spawns: start };
    expect(height(lift, 'jump@0.5')).to.be.closeTo(2, 1e-9);
    const slope: Drawing = { outlines: [open('ground', -40, -20, 60, 30)], spawns: { start: { at: [0, 0.3] } } };
    expect(height(slope, 'right@0 jump@0.8')).to.be.closeTo(4, 1e-6);
    // A moment after leaving it, too.
    const edge: Drawing = { outlines: [block(-10, -2, 12, 2), block(-10, -30, 60, 2)], spawns: start };
    expect(height(edge, 'right@0 jump@0.42')).to.be.closeTo(4, 1e-6);
  }); // prettier-ignore

  it('endless jumps keep a press for as long as they are apart, however short the buffer is', () => {
    const tuning: Tuning = { airJumps: { heights: [1], endless: true, spacing: 0.5 }, grace: { buffer: 0.05 }, jump: { height: 6, riseTime: 0.6 } };
    alike({ outlines: [floor], spawns: { start: { at: [0, 60] } } }, tuning, 'jump@0.1-0.15 jump@0.3-0.35', 1.5, (list) => {
      const off = list.filter((line) => line.startsWith('takeoff'));
      expect(off.map((line) => line.split(' ')[1])).to.deep.equal(['0.100000', '0.600000']);
    });
  }); // prettier-ignore

  it('a dive that is held gains no height over bounces', () => {
    const level: Drawing = { outlines: [{ ...floor, carry: { surface: 'pad' } }], surfaces: { pad: { bounce: 0.9 } }, spawns: { start: { at: [0, 4] } } };
    bothWays(level, { dive: { gravity: 3 } }, 'down@0.1', 6, ({ events }, what) => {
      const tops = events.filter(({ event }) => event === 'apex').map(({ y }) => y);
      expect(tops.length, what).to.be.above(5);
      for (const [i, y] of tops.entries()) expect(y, what).to.be.at.most((i > 0 ? tops[i - 1]! : 4) + 1e-9);
    });
  }); // prettier-ignore
});

describe('Motion: what is told and shown, at its own moment', () => {
  it('what a takeoff ends is told before it', () => {
    const shaft: Drawing = { outlines: [floor, block(2, 0, 3, 40)], spawns: { start: { at: [1.65, 20] } } };
    bothWays(shaft, { wall: {}, airJumps: {} }, 'right@0 jump@0.8', 1.2, ({ names }, what) =>
      expect(names.indexOf('uncling'), what).to.be.below(names.indexOf('takeoff')).and.above(0));
    bothWays({ outlines: [floor], spawns: { start: { at: [0, 30] } } }, { glide: {}, airJumps: {} }, 'glide@0.1 jump@0.8', 1.2, ({ names }, what) =>
      expect(names.indexOf('glideOff'), what).to.be.below(names.indexOf('takeoff')).and.above(0));
    for (const by of ['jump', 'hop'])
      bothWays({ outlines: [], movers: [{ name: 'lift', shapes: [block(-4, -1, 8, 1)] }], spawns: { start: { at: [0, 0] } } }, {}, by === 'jump' ? 'jump@0.8' : '', 1.2, ({ names }, what) =>
        expect(names.indexOf('alight'), what).to.be.below(names.indexOf('takeoff')).and.above(0), { each: ({ hero, stage }) => { if (by === 'hop' && Math.abs(stage.time - 0.8) < 1e-9) hero.hop(2); } });
  }); // prettier-ignore

  it('the surface after a lip is told with it, footfalls on belts are at their own moments', () => {
    const lip: Drawing = {
      outlines: [floor, { ...block(0.35, -1, 9, 3.4), carry: { surface: 'wet' } }],
      surfaces: { wet: { grip: 0.5 } },
      spawns: { start: { at: [0, 0] } },
    };
    alike(lip, { jump: { height: 2.3 }, grace: { lip: 0.3, lipSpeed: 5 } }, 'right@0.05 jump@0.1', 1.5, (list) => {
      const [at] = [has(list, 'lip')!.split(' ')[1]!];
      expect(has(list, 'surface')).to.match(new RegExp(`^surface ${at}`));
    });
    const belts: Drawing = {
      outlines: [{ ...block(-40, -2, 44, 2), carry: { surface: 'on' } }, { ...block(4, -2, 6, 2), carry: { surface: 'back' } }, block(10, -2, 60, 2)],
      surfaces: { on: { flow: 2.3 }, back: { flow: -3.1 } },
      spawns: { start: { at: [0, 0] } },
    };
    for (const feel of ['steady', 'eased'] as const) {
      let all: string[] | undefined;
      bothWays(belts, { run: { feel } }, 'right@0-1.3 left@1.5-2.2', 3, ({ events, side }, what) => {
        const list = events.filter(({ event }) => event === 'footfall').map(({ time, x }) => `${time.toFixed(6)} ${(x * side).toFixed(5)}`);
        all ??= list;
        expect(list, `${feel}, ${what}`).to.deep.equal(all);
      });
      expect(all!.length).to.be.above(8);
    }
  }); // prettier-ignore

  it('poses and the seconds spent in them are the same at every rate', () => {
    const level: Drawing = {
      outlines: [block(-40, -2, 46, 2), block(6, -2, 3, 3.2), open('ground', 9, 1.2, 14, 1.2, 20, 4), block(20, -2, 3, 14)],
      spawns: { start: { at: [0, 0] } },
    };
    for (const keys of ['right@0.03-0.31 left@0.31-0.42 right@0.47 jump@0.613-0.8 jump@1.21-1.7', 'right@0-0.2 down@0.35-0.6 jump@0.7-0.75 right@0.9 jump@1.31 down@1.7', 'jump@0.1-0.49 right@0.2-2 jump@1-1.02 glide@1.1-1.6'])
      for (const tuning of [{}, { crouch: {}, wall: {}, dive: {} }, { charge: {}, glide: {} }] as Tuning[]) {
        let all: string[] | undefined;
        for (const rate of [15, 60, 240, 960]) {
          const list: string[] = [];
          playIn(level, tuning, keys, rate, 2.4, { each: ({ hero, stage }) => {
            if (stage.ticks % (rate / 15) !== 0) return;
            const { pose, poseTime, posePhase, facing } = hero.view();
            // A phase goes round: at its turn rounding decides.
            const phase = pose === 'run' || pose === 'crouch' ? Math.round(Math.sin(2 * Math.PI * posePhase) * 1e4) : Math.round(posePhase * 1e5);
            list.push([stage.time.toFixed(3), pose, Math.round(poseTime * 1e6), phase + 0, facing].join(' '));
          } });
          all ??= list;
          expect(list, `${keys}, ${JSON.stringify(tuning)}, ${rate} a second`).to.deep.equal(all);
        }
      }
  }); // prettier-ignore

  it('how far through a pose is goes by what really lasts: a charge, a climb, a second glide', () => {
    const at = (level: Drawing, tuning: Tuning, keys: string, moment: number, pose: string): number => {
      const { hero } = playIn(level, tuning, keys, 1000, moment);
      expect(hero.view().pose).to.equal(pose);
      return hero.view().posePhase;
    };
    const flat: Drawing = { outlines: [floor], spawns: { start: { at: [0, 0] }, high: { at: [0, 60] } } };
    expect(at(flat, { charge: { fullIn: 0.8 } }, 'jump@0.2', 0.6, 'charge')).to.be.closeTo(0.5, 1e-6);
    const ledge: Drawing = { outlines: [floor, block(0.5, -1, 5, 4)], spawns: { start: { at: [0, 4] } } };
    const hangs = playIn(ledge, { ledge: { climb: 0.4, auto: true } }, '', 1000, 2).events.find(({ event }) => event === 'hang')!;
    expect(at(ledge, { ledge: { climb: 0.4, auto: true } }, `up@${(hangs.time + 0.2).toFixed(3)}`, Math.round((hangs.time + 0.2) * 1000) / 1000 + 0.3, 'climb')).to.be.closeTo(0.75, 2e-3);
    // The first glide spends 0.5 of 2 seconds: the second lasts 1.5.
    const second = playIn({ ...flat, spawns: { start: { at: [0, 60] } } }, { glide: { budget: 2 } }, 'glide@0.2-0.7 glide@1', 1000, 1.75);
    expect(second.hero.view().posePhase).to.be.closeTo(0.5, 1e-3);
  }); // prettier-ignore
});

/** Ends of two runs, to the last bit: the events from a moment on, and the state at the end. */
function future(stage: Stage, until: number, rate: number, meanwhile: (stage: Stage) => void = () => undefined): string {
  const list: string[] = [];
  const end = stage.listen((event: Readonly<StageEvent>) => list.push([event.event, event.who, event.time, event.x, event.y, event.vx, event.vy].join(' ')));
  while (stage.time < until - 1e-9) {
    stage.tick(1 / rate);
    meanwhile(stage);
  }
  end();
  return [...list, ...stage.characters.map((who) => [who.x, who.y, who.vx, who.vy, who.pose, who.poseTime, who.phase, who.jumpsLeft].join(' '))].join('\n');
} // prettier-ignore

describe('Motion: restored, forked and rewound', () => {
  const PART = { quick: 24, test: 200, deep: 2000 };
  const level: Level = {
    yPoints: 'up',
    rows: ['............................', '.......====.......#.........', '..................#....//...', '....#.......==....#...//....', '...................../......', '##########..################'],
    zones: [{ name: 'well', box: [2, 1, 5, 4], gravity: 0.4, tags: ['restore'] }, { name: 'wind', box: [12, 1, 6, 6], current: [1.3, 0.8], pace: 0.7 }],
    movers: [
      { name: 'lift', shapes: [block(10, 0, 2, 1)], policy: 'turn', route: { curve: [[0, 0, 0, 4], [0, 4, 0, 0]], lap: 3 } },
      { name: 'press', shapes: [block(14, 4, 2, 1)], policy: 'stop', route: { curve: [[0, 0, 0, -2.6], [0, -2.6, 0, 0]], lap: 2.2 } },
      { name: 'cart', shapes: [open('one-way', 3, 3, 6, 3)], policy: 'through', route: { curve: [[0, 0, 9, 0], [9, 0, 0, 0]], lap: 5 } },
    ],
    spawns: { start: { at: [4, 1] } },
  }; // prettier-ignore
  it(`play on bit for bit, with charge and glide on the jump key, zones, movers, retunes and merged drivers (${shareOf(PART, 'runs')})`, () => {
    const random = randomizer(2718);
    for (let i = 0; i < share(PART); i++) {
      const tuning: Tuning = {
        ...livelyTuning(random),
        body: { width: 0.7, height: random.pick([1.3, 1.6]) },
        ...(random.chance(0.5) ? { charge: { run: random.chance(0.5) } } : {}),
        ...(random.chance(0.5) ? { glide: { budget: random.between(0.3, 2) } } : {}),
        ...(random.chance(0.5) ? { crouch: { height: 0.8 } } : {}),
        ...(random.chance(0.5) ? { wall: {} } : {}),
      };
      const other: Tuning = { ...tuning, body: { width: 0.7, height: random.pick([1, 1.8]) } };
      const rate = random.pick([15, 60, 144]);
      const keys = busyInput(random, 5);
      // Glide is on the jump key.
      const rows: InputRow[] = keys.flatMap((row): InputRow[] => (row.action === 'jump' ? [row, { ...row, action: 'glide' }] : [row]));
      const half = Math.floor(rows.length / 2);
      const driver = (): Driver => (i % 2 === 0 ? script(rows) : merged(script(rows.slice(0, half)), script(rows.slice(half))));
      const stage = openStage(level);
      const hero = stage.add(tuning, { driver: driver() });
      const retunedAt = random.between(0.5, 3);
      let retuned = false;
      const meanwhile = (on: Stage): void => {
        const [who] = on.characters;
        if (!retuned && on === stage && on.time >= retunedAt) {
          retuned = true;
          who!.retune(other);
        }
      };
      const back = rewind(stage, { seconds: 6, rate });
      const at = random.between(0.2, 4.5);
      while (stage.time < at) {
        back.keep();
        stage.tick(1 / rate);
        meanwhile(stage);
      }
      back.keep();
      retuned = true;
      const kept = stage.snapshot();
      const fork = stage.fork({ [hero.name]: driver() });
      const forked = future(fork, 5.2, rate);
      const first = future(stage, 5.2, rate);
      expect(forked, `run ${i}: forked at ${at}`).to.equal(first);
      stage.restore(kept);
      expect(future(stage, 5.2, rate), `run ${i}: restored at ${at}`).to.equal(first);
      back.back(stage.time - at > 0 ? stage.time - kept[0]! : 0);
      expect(future(stage, 5.2, rate), `run ${i}: rewound to ${at}`).to.equal(first);
    }
  }); // prettier-ignore
});
