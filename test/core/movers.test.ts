import * as core from 'apperin';
import { expect } from 'chai';
import { compileTuning, openStage, script, type Character, type InputRow, type Level, type Mover, type Route, type StageEvent } from 'apperin'; // prettier-ignore
import { hallOf, movingTuning, playMoving, rareAmong } from '../support/moving.js';
import { busyInput } from '../support/everything.js';
import { randomizer } from '../support/random.js';
import { LEVEL, fully, share, shareOf } from '../support/share.js';

const box = (x: number, y: number, width: number, height: number): Mover['shapes'][number] => ({
  form: 'solid',
  points: [[x, y], [x + width, y], [x + width, y + height], [x, y + height]],
}); // prettier-ignore
const deck = (x: number, y: number, width: number): Mover['shapes'][number] => ({ form: 'one-way', points: [[x, y], [x + width, y]] }); // prettier-ignore

/** There and back along a line. */
const line = (dx: number, dy: number, lap: number, more: Partial<Route> = {}): Route => ({
  curve: [[0, 0, dx, dy]],
  lap,
  keyPoints: [0, 1, 0],
  keyTimes: [0, 0.5, 1],
  ...more,
});

const OPEN = ['....................', '....................', '....................', '....................'];
/** A floor at y = 1, y up, and what moves over it. */
const room = (movers: readonly Mover[], rows: readonly string[] = OPEN): Level => ({
  rows: [...OPEN, ...rows, '####################'],
  yPoints: 'up',
  movers,
});

interface Played {
  hero: Character;
  stage: ReturnType<typeof openStage>;
  events: (Partial<StageEvent> & { event: string })[];
}

function play(
  level: Level,
  seconds: number,
  { at = [2, 1] as readonly [number, number], rate = 60, input = [] as readonly InputRow[], tuning = {}, each = (_: Played): void => undefined } = {}, // prettier-ignore
): Played {
  const stage = openStage(level);
  const hero = stage.add(tuning, { at, driver: script(input) });
  const events: Played['events'] = [];
  stage.listen((event) => events.push({ ...event }));
  const played = { hero, stage, events };
  for (let i = 0; i < Math.round(seconds * rate); i++) {
    stage.tick(1 / rate);
    each(played);
  }
  return played;
}

const names = ({ events }: Played): string[] => events.map(({ event }) => event);

/** A place on a lift with that route when the stage opens. */
function onLift(route: Route, x: number, y: number): readonly [number, number] {
  const [lift] = openStage(room([{ name: 'lift', shapes: [box(0, 9, 1, 1)], route }])).movers;
  return [x + lift!.x, y + lift!.y];
}

/** Ways that never accelerate downward faster than a body falls. */
const GENTLE: Record<string, Route> = {
  'up and down': line(0, 4, 4),
  'down and up, with pauses': line(0, -1.5, 5, { keyPoints: [0, 0, 1, 1, 0], keyTimes: [0, 0.1, 0.5, 0.6, 1] }),
  across: line(5, 0, 3),
  slanted: line(3, 2, 2.7, { phase: 0.4 }),
  eased: line(2, 3, 6, { keySplines: [[0.42, 0, 0.58, 1], [0.42, 0, 0.58, 1]] }), // prettier-ignore
  round: { curve: [[0, 0, 0, 1.1, 2, 1.1, 2, 0], [2, 0, 2, -1.1, 0, -1.1, 0, 0]], lap: 7 }, // prettier-ignore
};

/** Moments of a lap, or phases, that are tried each by itself. */
const MOMENTS = { quick: 4, test: 500, deep: 1000 };

describe('Movers', () => {
  for (const [title, route] of Object.entries(GENTLE))
    fully(`carry what stands on them to the last bit: ${title}`, () => {
      for (const rate of [15, 60, 1000]) {
        let kept: string | undefined;
        const seconds = rate === 1000 ? 60 : 600;
        const played = play(room([{ name: 'lift', shapes: [box(6, 3, 3, 0.5)], route }]), seconds, {
          at: onLift(route, 7.3, 3.5),
          rate,
          each: ({ hero, stage }) => {
            if (hero.support !== 'ground' || hero.mover !== 'lift') throw new Error(`${hero.support} at ${stage.time}`);
            kept ??= hero.aboard.join();
            if (hero.aboard.join() !== kept) throw new Error(`${hero.aboard.join()} at ${stage.time}, not ${kept}`);
          },
        });
        const [lift] = played.stage.movers;
        expect(played.hero.y - lift!.y).to.be.closeTo(3.5, 1e-9);
        expect(names(played)).to.deep.equal(['board']);
      }
    });

  fully('carry for an hour of route time', () => {
    const level = room([{ name: 'lift', shapes: [deck(6, 3, 3)], route: GENTLE.slanted! }]);
    const { hero, stage } = play(level, 3600, { at: onLift(GENTLE.slanted!, 7.3, 3), rate: 15 });
    expect(hero.aboard[0]).to.be.closeTo(7.3, 1e-12);
    expect(hero.aboard[1]).to.equal(3);
    expect(hero.mover).to.equal('lift');
    expect(stage.time).to.equal(3600);
  });

  it(`let a press on them be a jump at every moment of a lap, with what \`lend\` says (${shareOf(MOMENTS, 'moments')})`, () => {
    const route = line(1, 3, 4, { keyPoints: [0, 0, 1, 1, 0], keyTimes: [0, 0.1, 0.5, 0.6, 1] });
    for (const lend of ['both', 'across', 'none'] as const)
      for (const rate of [15, 60, 240]) {
        const tuning = compileTuning({ mover: { lend, linger: 0 }, gravity: { apexSpeed: 0 } });
        for (let i = 0; i < share(MOMENTS); i++) {
          const press = 0.0005 + (i * 4) / share(MOMENTS);
          const level = room([{ name: 'lift', shapes: [box(6, 3, 3, 0.5)], route: { ...route, phase: press - 0.1 } }]);
          const stage = openStage(level);
          const hero = stage.add(tuning, { at: [7.3, 3.5], driver: script([{ time: 0.1, action: 'jump', value: 1 }]) });
          const { x, y } = stage.movers[0]!;
          hero.place(7.3 + x, 3.5 + y);
          const events: StageEvent[] = [];
          stage.listen((event) => events.push({ ...event }));
          while (!events.some(({ event }) => event === 'apex') && stage.time < 2) stage.tick(1 / rate);
          const [takeoff, alight, apex] = ['takeoff', 'alight', 'apex'].map((name) => events.find(({ event }) => event === name)!); // prettier-ignore
          expect(takeoff!.by, `pressed at ${press}`).to.equal('ground');
          // The lift's own velocity at that moment.
          const [vx, vy] = [takeoff!.vx, takeoff!.vy];
          const up = lend === 'both' && vy > 0 ? vy : 0;
          expect(alight!.vy).to.be.closeTo(tuning.launch + up, 1e-9);
          expect(alight!.vx).to.be.closeTo(lend === 'none' ? 0 : vx, 1e-9);
          const rise = ((tuning.launch + up) * (tuning.launch + up)) / (2 * tuning.rising);
          expect(apex!.y - takeoff!.y).to.be.closeTo(rise, 1e-9 * rise);
        }
      }
  });

  it('that stop or turn at once still lend what they had, for `linger` seconds', () => {
    const route = line(0, 3, 4, { keyPoints: [0, 1, 1, 0], keyTimes: [0, 0.25, 0.5, 1] });
    for (const [after, lent] of [
      [0.05, 3],
      [0.099, 3],
      [0.11, 0],
    ] as const)
      // prettier-ignore
      for (const rate of [15, 60, 144]) {
        const level = room([{ name: 'lift', shapes: [box(6, 3, 3, 0.5)], route }]);
        const input = [{ time: 1 + after, action: 'jump', value: 1 }] as const;
        const { events } = play(level, 1.3, { at: [7, 3.5], rate, input, tuning: { mover: { linger: 0.1 } } });
        const alight = events.find(({ event }) => event === 'alight')!;
        expect(alight.vy).to.be.closeTo(compileTuning({}).launch + lent, 1e-9);
      }
  });

  it('that fall away faster than the body lose it, those that do not never do', () => {
    const { falling } = compileTuning({});
    for (const share of [0.5, 0.99, 0.999999, 1.000001, 1.01, 2])
      for (const rate of [15, 60, 240]) {
        // Down from rest, evenly faster: half the acceleration times the square of the time.
        const depth = (share * falling) / 2 / 16;
        const route = line(0, -depth, 0.5, { keySplines: [[1 / 3, 0, 2 / 3, 1 / 3], [1 / 3, 2 / 3, 2 / 3, 1]] }); // prettier-ignore
        let gap = 0;
        const level = room([{ name: 'lift', shapes: [box(6, 7, 3, 0.5)], route: { ...route, laps: 0.5 } }]);
        const played = play(level, 0.25, {
          at: [7, 7.5],
          rate: rate,
          each: ({ hero, stage }) => (gap = Math.max(gap, hero.y - stage.movers[0]!.y - 7.5)),
        });
        if (share > 1) expect(names(played)).to.include('leave');
        else {
          expect(names(played)).to.deep.equal(['board']);
          expect(gap).to.be.at.most(1e-12);
        }
      }
  });

  it('push along a floor without its joints, and a jump is possible throughout', () => {
    for (const rate of [15, 60, 240]) {
      const level = room([{ name: 'gate', shapes: [box(0, 1, 1, 3)], route: line(14, 0, 7) }]);
      const pushed = play(level, 3.4, {
        rate,
        each: ({ hero }) => {
          if (hero.support !== 'ground' || hero.y !== 1) throw new Error(`${hero.support} at ${hero.x}, ${hero.y}`);
        },
      });
      expect(names(pushed).filter((name) => name !== 'footfall')).to.deep.equal(['pushed']);
      expect(pushed.events[0]!.side).to.equal('left');
      expect(pushed.hero.x).to.be.closeTo(1 + pushed.stage.movers[0]!.x + pushed.hero.motion.half, 1e-12);
      const input = [{ time: 2, action: 'jump', value: 1 }] as const;
      expect(names(play(level, 2.1, { rate, input }))).to.include('takeoff');
    }
  });

  fully('crush by their policy: against floor, wall, ceiling, slope and another mover', () => {
    const ceiling = ['####################', '....................', '....................', '....................'];
    const wall = ['.........#..........', '.........#..........', '.........#..........', '.........#..........'];
    const slope = ['....................', '....................', '....................', '../#................'];
    type Make = (policy: Mover['policy'], by: number, lap: number) => Level;
    const against: Record<string, [Make, readonly [number, number], string]> = {
      floor: [(policy, by, lap) => room([{ name: 'm', shapes: [box(1, 5 + by, 3, 1)], route: line(0, -4, lap), policy: policy! }]), [2, 1], 'floor'],
      ceiling: [(policy, by, lap) => room([{ name: 'm', shapes: [box(1, 1, 3, 0.5)], route: line(0, 3 + by, lap), policy: policy! }], ceiling), [2, 1.5], 'ceiling'],
      wall: [(policy, by, lap) => room([{ name: 'm', shapes: [box(0, 1, 1, 3)], route: line(9 - by, 0, lap), policy: policy! }], wall), [2, 1], 'wall'],
      slope: [(policy, by, lap) => room([{ name: 'm', shapes: [box(-5, 6 + by, 20, 0.5)], route: line(0, -4.2 - by, lap), policy: policy! }], slope), [2.2, 1.6], 'slope'],
      mover: [(policy, by, lap) => room([{ name: 'm', shapes: [box(1, 4 + by, 3, 1)], route: line(0, -3, lap), policy: policy! }, { name: 'other', shapes: [box(1, 1, 3, 0.2)], route: line(0, 2, lap), policy: 'tell' }]), [2, 1.2], 'other'],
    }; // prettier-ignore
    for (const [title, [make, at, what]] of Object.entries(against))
      for (const policy of ['stop', 'through', 'tell'] as const)
        for (const [rate, by, lap] of [
          [15, 0, 4],
          [60, 0, 4],
          [240, 0, 4],
          [60, 0.013, 2.3],
          [60, 0.17, 5.9],
          [60, 0.31, 1.1],
        ] as const) {
          const level = make(policy, by, lap);
          let lowest = Infinity;
          const played = play(level, 12, { at, rate, each: ({ hero }) => (lowest = Math.min(lowest, hero.y)) });
          const crushed = played.events.filter(({ event }) => event === 'crushed');
          const where = `${title} ${by}, ${policy}, ${rate} a second: ${names(played).join(' ')}`;
          // (Of two movers the one that crushes may be either.)
          if (policy === 'tell' && title === 'mover') expect(crushed.length, where).to.be.at.least(1);
          else {
            expect(crushed[0]?.mover, where).to.equal('m');
            if (title !== 'slope') expect(crushed[0]!.against, where).to.equal(what);
          }
          expect(lowest, where).to.be.at.least(1 - played.hero.motion.touch);
          expect(names(played), where).not.to.include('stuck');
          if (policy === 'stop' && title !== 'mover') expect(played.stage.movers[0]!.waits, where).to.equal(true);
          if (policy === 'through' && title !== 'mover') expect(crushed.length, where).to.be.at.least(2);
        }
  });

  it('of which one waits: it waits for as long as the other holds the body there, and each is told', () => {
    for (const rate of [15, 60, 240]) {
      const level = room([
        { name: 'press', shapes: [box(1, 4, 3, 1)], route: line(0, -3, 4), policy: 'stop' },
        { name: 'lift', shapes: [box(1, 1, 3, 0.2)], route: line(0, 2, 4), policy: 'tell' },
      ]);
      const { stage, hero, events } = play(level, 1.5, { at: [2, 1.2], rate });
      // They close in on it at 2.5 units a second.
      const met = (2.8 - hero.motion.height) / 2.5;
      const told = events.filter(({ event }) => event === 'crushed');
      expect(told.slice(0, 2).map(({ mover, against }) => [mover, against])).to.deep.equal([['press', 'lift'], ['lift', 'press']]); // prettier-ignore
      for (const { time } of told.slice(0, 2)) expect(time).to.be.closeTo(met, 1e-7);
      expect(stage.movers[0]!.waits).to.equal(true);
      expect(hero.y + hero.height).to.be.at.most(4 + stage.movers[0]!.y + hero.motion.touch);
    }
  });

  it('never crush against one-way ground: a pressed body goes through it', () => {
    for (const rate of [15, 60, 240])
      for (const x of [1.4, 2, 2.61]) {
        const rows = [...OPEN, '====................', ...OPEN.slice(1)];
        const press: Mover = { name: 'press', shapes: [box(0, 8, 4, 1)], route: line(0, -4, 4) };
        const { hero, events } = play(room([press], rows), 1.9, { at: [x, 5], rate });
        const what = events.map(({ event }) => event);
        expect(what, `at ${x}, ${rate} a second`).not.to.include.members(['crushed']);
        expect(what).not.to.include('stuck');
        expect(hero.y).to.equal(1);
      }
  });

  it('that wait go on at the moment at which their way is free', () => {
    for (const rate of [15, 60, 144, 1000]) {
      const level = room([{ name: 'press', shapes: [box(1, 5, 3, 1)], route: line(0, -4, 4) }]);
      const input = [{ time: 3, action: 'right', value: 1 }] as const;
      const { stage, hero } = play(level, 5, { at: [2, 1], rate, input });
      const { motion } = hero;
      // It meets the head after (4 − height)/2 s; the body is out once its left side is past x = 4.
      const met = (4 - motion.height) / 2;
      const { speed, upIn } = motion.ground;
      const run = 4 - (2 - motion.half) - motion.touch;
      const left = 3 + upIn + (run - (speed * upIn) / 2) / speed;
      const own = 5 - (left - met);
      expect(stage.movers[0]!.y).to.be.closeTo(own < 2 ? -2 * own : -4 + 2 * (own - 2), 2e-6);
    }
  });

  it('wait for all that are in their way, whoever was added first', () => {
    const level = room([{ name: 'press', shapes: [box(1, 5, 6, 1)], route: line(0, -4, 4) }]);
    const walk = [{ time: 3, action: 'right', value: 1 }] as const;
    const stay: InputRow[] = [{ time: 4, action: 'right', value: 1 }];
    const tall = { body: { width: 0.7, height: 1.6 } };
    const runs = [0, 1].map((turned) => {
      const stage = openStage(level);
      const cast = [
        { name: 'short', tuning: {}, input: stay, at: [3, 1] as const },
        { name: 'tall', tuning: tall, input: walk, at: [2, 1] as const },
      ];
      if (turned) cast.reverse();
      for (const { name, tuning, input, at } of cast) stage.add(tuning, { name, at, driver: script(input) });
      const told: string[] = [];
      stage.listen(({ event, who, time, mover }) => {
        if (event === 'crushed') told.push(`${who} ${mover} ${time.toFixed(9)}`);
      });
      const rows: number[] = [];
      for (let i = 0; i < 400; i++) {
        stage.tick(1 / 60);
        rows.push(stage.movers[0]!.y, ...['short', 'tall'].flatMap((name) => {
          const { x, y } = stage.characters.find((one) => one.name === name)!;
          return [x, y];
        })); // prettier-ignore
      }
      return { told: told.sort(), rows: rows.join() };
    });
    expect(runs[0]).to.deep.equal(runs[1]);
    expect(runs[0]!.told).to.have.length(2);
  });

  it('pass the floor without catching a runner', () => {
    // A deck that passes floor level, at any speed and phase: still ground of that height would do the same.
    let phases = 0;
    for (const speed of [0.2, 1, 4])
      for (let i = 0; i < share(MOMENTS); i++, phases++) {
        const rows = ['########.....#######'];
        const lap = 8 / speed;
        const level: Level = {
          rows: [...OPEN, ...OPEN, ...rows, ...rows],
          yPoints: 'up',
          movers: [{ name: 'lift', shapes: [box(8, 0, 5, 2)], route: line(0, 4, lap, { curve: [[0, -2, 0, 2]], phase: (i / share(MOMENTS)) * lap }) }], // prettier-ignore
        };
        const input = [{ time: 0, action: 'right', value: 1 }] as const;
        let before: number | undefined;
        play(level, 1, {
          at: [5, 2],
          input,
          each: ({ hero, stage }) => {
            const height = stage.movers[0]!.y;
            if (hero.mover === 'lift' && before !== undefined && hero.vx !== before)
              throw new Error(`${hero.vx} at ${hero.x}, with the deck at ${height}, speed ${speed}, phase ${i}`);
            // Up to speed, and not yet at the other side.
            before = stage.time > 0.2 && hero.x < 12.5 && hero.vx > 7 ? hero.vx : undefined;
          },
        });
      }
    expect(phases).to.equal(3 * share(MOMENTS));
  });

  it('moved by the game carry, push, and put', () => {
    const level = room([{ name: 'float', shapes: [box(6, 3, 3, 0.5)] }]);
    const stage = openStage(level);
    const hero = stage.add({}, { at: [7, 3.5] });
    const float = stage.mover('float');
    const told: string[] = [];
    stage.listen(({ event, mover }) => told.push(`${event} ${mover}`));
    for (let i = 1; i <= 60; i++) {
      float.moveTo(i / 30, Math.sin(i / 20) / 2);
      stage.tick(1 / 60);
      expect(hero.aboard.join()).to.equal('7,3.5');
    }
    expect(float.x).to.equal(2);
    expect(float.vx).to.be.closeTo(2, 1e-9);
    expect(hero.x).to.equal(9);
    float.placeAt(-3, 0);
    expect(hero.mover).to.equal('');
    expect(told).to.deep.equal(['board float', 'leave float', 'alight float']);
    stage.tick(1 / 60);
    // Put where the body is: it is pushed out.
    float.placeAt(hero.x - 7.5, hero.y - 3.2);
    for (let i = 0; i < 30; i++) stage.tick(1 / 60);
    expect(told).to.include('freed ');
    expect(() => stage.mover('raft')).to.throw(RangeError, 'no mover raft; the level has float');
    expect(() => float.moveTo(NaN, 0)).to.throw(RangeError, 'NaN');
  });

  it('are drawn where they are, between two ticks too, with what stands still', () => {
    const level = room([{ name: 'lift', shapes: [box(6, 3, 3, 0.5), deck(10, 3, 2)], route: line(0, 4, 4) }]);
    const stage = openStage({ ...level, bounds: { left: 'wall' } });
    stage.tick(0.5);
    const [still, lift, grate] = [stage.shapes().find(({ mover }) => mover === ''), ...stage.shapes().filter(({ mover }) => mover === 'lift').sort((a, b) => b.points.length - a.points.length)]; // prettier-ignore
    expect([still!.form, still!.x, still!.y, still!.on]).to.deep.equal(['solid', 0, 0, true]);
    expect(still!.points).to.have.length(4);
    expect([lift!.form, lift!.points.length, lift!.x, lift!.y]).to.deep.equal(['solid', 4, 0, 1]);
    expect([grate!.form, grate!.points]).to.deep.equal(['one-way', [[10, 3], [12, 3]]]); // prettier-ignore
    expect(stage.shapes(0.25).find(({ mover }) => mover === 'lift')!.y).to.be.closeTo(0.25, 1e-12);
    const wire = core.compileOutlines({ yPoints: 'up', outlines: [{ form: 'line', points: [[0, 0], [2, 0], [2, 2]] }] }); // prettier-ignore
    expect(openStage(wire).shapes().map(({ form, points }) => [form, points.length])).to.deep.equal([['line', 2], ['line', 2]]); // prettier-ignore
  });

  fully('are part of snapshots: the same bits again from any moment', () => {
    const random = randomizer(5);
    for (let run = 0; run < 12; run++) {
      const { level, at } = hallOf(random, 12);
      const tuning = movingTuning(random);
      const input = busyInput(random, 6).filter(({ action }) => action !== 'dash');
      const stage = openStage(level);
      const hero = stage.add(tuning, { at, driver: script(input) });
      const row = (): string => [hero.x, hero.y, hero.vx, hero.vy, hero.support, ...stage.movers.flatMap(({ x, y }) => [x, y])].join(); // prettier-ignore
      const shots: Float64Array[] = [];
      const rows: string[] = [];
      for (let i = 0; i < 300; i++) {
        shots.push(stage.snapshot());
        stage.tick(1 / 60);
        rows.push(row());
      }
      for (const from of [0, 37, 111, 200, 283]) {
        stage.restore(shots[from]!);
        for (let i = from; i < 300; i++) {
          stage.tick(1 / 60);
          expect(row(), `run ${run}, from ${from}, tick ${i}`).to.equal(rows[i]);
        }
      }
    }
  });

  it('and bodies at random: never inside, never stuck', function () {
    const found = playMoving(core, 21, share({ quick: 800, test: 40_000, deep: 400_000 }));
    expect(found.broken).to.deep.equal([]);
    if (LEVEL !== 'quick') expect(rareAmong(found)).to.deep.equal([]);
    this.test!.title += ` (${found.ticks} ticks, ${found.movers} movers; deepest ${found.deepest.toFixed(3)} of the tolerance; ${JSON.stringify(found.touches)})`;
  });
});
