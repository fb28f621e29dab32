import {
  ACTIONS,
  LevelError,
  TuningError,
  ability,
  actionNumber,
  fingerprint,
  merged,
  openStage,
  recordTrace,
  rewind,
  script,
  stepper,
  type Control,
  type Driver,
  type Intents,
  type Level,
  type Stage,
  type StageEvent,
} from 'apperin';
import { expect } from 'chai';
import { PLAIN } from '../support/make.js';
import { hallOf } from '../support/moving.js';
import { randomizer } from '../support/random.js';
import { names, presses } from '../support/simulate.js';

/** A yard with a gate that can be switched, a zone, and a lift that the game moves. */
const YARD: Level = {
  rows: ['...........', '...........', '.@......gg.', '###########'],
  marks: { g: { solid: 'full', name: 'gate' } },
  zones: [{ name: 'race', box: [4, 0, 1, 3], tags: ['wet'] }],
  movers: [{ name: 'bucket', shapes: [{ form: 'solid', points: [[6, -2], [7, -2], [7, -1], [6, -1]] }] }], // prettier-ignore
};

function on(level: Level = YARD, input = '', more = {}) {
  const stage = openStage(level);
  const hero = stage.add({ airJumps: {}, ledge: {} }, { driver: script(presses(input)), ...more });
  return { stage, hero };
}

function until(stage: Stage, time: number): void {
  while (stage.time < time - 1e-9) stage.tick(1 / 60);
}

/** What a call throws. */
function thrownBy(call: () => unknown): unknown {
  try {
    call();
  } catch (error) {
    return error;
  }
  throw new Error('nothing was thrown');
}

describe('What handlers ask', () => {
  it('of shapes waits until all are told: each event is told once, in order', () => {
    const { stage, hero } = on(YARD, 'right@0 jump@0.2');
    const told: string[] = [];
    hero.on('takeoff', () => stage.setShape('gate', false));
    hero.on('enter', () => stage.setShape('gate', !stage.hasShape('gate')));
    stage.listen(({ event }) => void (event !== 'footfall' && told.push(event)));
    const trace = recordTrace(stage, hero);
    let seen: boolean | undefined;
    hero.on('takeoff', () => (seen = stage.hasShape('gate')));
    until(stage, 1.2);
    expect(seen).to.equal(true);
    expect(told).to.deep.equal(names(trace as never));
    expect(told.filter((event) => event === 'takeoff')).to.have.length(1);
    expect(told.filter((event) => event === 'enter')).to.have.length(1);
    expect(stage.hasShape('gate')).to.equal(true);
  });

  it('of what they stand on tells what comes of it, once', () => {
    const level: Level = {
      rows: ['.....', '.@...', '.....', '.ppp.', '.....', '#####'],
      marks: { p: { solid: 'full', name: 'plank' } },
    };
    const { stage, hero } = on(level);
    const told: string[] = [];
    hero.on('touchdown', () => stage.setShape('plank', false));
    stage.listen(({ event }) => void told.push(event));
    until(stage, 1.5);
    expect(told).to.deep.equal(['touchdown', 'leave', 'touchdown']);
  });

  it('may not be the next tick: that is a RangeError, and nothing is told again', () => {
    const { stage, hero } = on(PLAIN, 'jump@0.1-0.12');
    let told = 0;
    let caught: unknown;
    hero.on('takeoff', () => {
      told++;
      caught = thrownBy(() => stage.tick(1 / 60));
    });
    until(stage, 1);
    expect(told).to.equal(1);
    expect(caught)
      .to.be.instanceOf(RangeError)
      .with.property('message', 'tick was called by an event handler; one tick ends before the next begins');
    // Uncaught, it reaches the caller of the tick, which has been played.
    stage.listen(() => stage.tick(1 / 60));
    const before = stage.ticks;
    expect(() => hero.hop(1)).to.throw(RangeError, 'tick was called by an event handler');
    expect(stage.ticks).to.equal(before);
    // Drivers and abilities may not either.
    hero.drive({ read: () => stage.tick(1 / 60) });
    expect(() => stage.tick(1 / 60)).to.throw(RangeError, 'tick was called by a driver');
    const greedy = ability('greedy', { act: () => stage2.tick(1 / 60) });
    const stage2 = openStage(PLAIN);
    stage2.add({}, { abilities: [greedy] });
    expect(() => stage2.tick(1 / 60)).to.throw(RangeError, 'tick was called by what is part of a tick');
  });

  it('is done though another handler throws, and everyone is told; the error reaches the caller', () => {
    const { stage, hero } = on(PLAIN, 'jump@0.1-0.12');
    const told: string[] = [];
    const wrong = new Error('a loose board');
    stage.listen(() => {
      throw wrong;
    });
    hero.on('takeoff', () => hero.shove(3, -4, { lock: 1 }));
    hero.on('takeoff', () => void told.push('second handler'));
    stage.listen(({ event }) => void told.push(event));
    let error: unknown;
    while (error === undefined)
      try {
        stage.tick(1 / 60);
      } catch (thrown) {
        error = thrown;
      }
    expect(error).to.equal(wrong);
    expect(told).to.deep.equal(['takeoff', 'second handler']);
    // Steering has begun to return in the rest of the tick.
    expect(hero.vx).to.be.within(0.5, 3);
    // The tick counts, and play goes on.
    const { ticks } = stage;
    expect(stage.time).to.be.closeTo(ticks / 60, 1e-12);
    // Several errors are one.
    hero.on('touchdown', () => {
      throw new TypeError('another');
    });
    while (!(error instanceof AggregateError) && stage.time < 5)
      try {
        stage.tick(1 / 60);
      } catch (thrown) {
        error = thrown;
      }
    expect((error as AggregateError).message).to.equal('2 errors of event handlers; the first: a loose board');
    expect((error as AggregateError).errors[0]).to.equal(wrong);
  });

  it('is counted anew each time: a chain that was too long once is no longer remembered', () => {
    const { stage, hero } = on(PLAIN);
    const end = hero.on('takeoff', () => hero.hop(1));
    for (let i = 0; i < 3; i++) expect(() => hero.hop(1)).to.throw(Error, '16 times in a row');
    end();
    // Nor are those that went wrong.
    const wrong = hero.on('takeoff', () => hero.place('nowhere'));
    for (let i = 0; i < 20; i++) expect(() => hero.hop(1)).to.throw(RangeError, 'there is no spawn nowhere');
    wrong();
    let hops = 0;
    hero.on('takeoff', () => {
      if (++hops % 10 !== 0) hero.hop(1);
    });
    for (let i = 0; i < 5; i++) {
      hero.hop(1);
      stage.tick(1 / 60);
    }
    expect(hops).to.equal(50);
  });

  it('wrongly is refused where it is asked, and nothing waits', () => {
    const { stage, hero } = on(PLAIN, 'jump@0.1-0.12');
    const refused: string[] = [];
    hero.on('takeoff', () => {
      for (const call of [
        () => hero.place('nowhere'),
        () => hero.place(NaN, 1),
        () => hero.hop(NaN),
        () => hero.allow('airJumps', 1.5),
        () => hero.retune({ own: { dash: { speed: 1 } } }),
        () => hero.retune(null as never),
        () => hero.ignore('mist'),
        () => hero.oppose('never' as never),
        () => hero.drive({} as never),
        () => stage.restore(new Float64Array(3)),
      ])
        refused.push((thrownBy(call) as Error).message);
    });
    until(stage, 0.3);
    expect(refused).to.deep.equal([
      'there is no spawn nowhere; the level has start',
      'at is NaN, 1; it must be two numbers within ±67108864',
      'height is NaN; it must be 0 to 67108864',
      'count is 1.5; it must be a whole number',
      'own.dash: the character has no ability of that name with numbers of its own',
      'a tuning is empty; it must be a group of keys',
      'there is no layer mist; the level has none',
      'opposed is never; it must be still, latest, first',
      'driver is object; it must have a function read',
      `a snapshot of this stage has ${stage.snapshotLength} numbers, not 3`,
    ]);
    expect(hero.y).to.be.lessThan(1);
  });

  it('to go back in time waits too, and the rest is done there', () => {
    const { stage, hero } = on(PLAIN, 'right@0 jump@0.5-0.52');
    const kept = rewind(stage, { seconds: 1 });
    const start = stage.snapshot();
    let told = 0;
    let went = NaN;
    hero.on('takeoff', () => {
      went = kept.back(0.25);
      hero.shove(-1, 0);
    });
    hero.on('takeoff', () => told++);
    while (told === 0) {
      kept.keep();
      stage.tick(1 / 60);
    }
    expect(went).to.be.closeTo(0.25, 1 / 60 + 1e-9);
    expect(stage.time).to.be.closeTo(0.5 - went, 1e-9);
    expect(hero.vx).to.equal(-1);
    stage.restore(start);
    expect(stage.ticks).to.equal(0);
  });

  it('may be another character, who is there at once, and is told of what comes', () => {
    const { stage, hero } = on(PLAIN, 'jump@0.1-0.12');
    const told: string[] = [];
    hero.on('takeoff', () => {
      const second = stage.add({}, { at: [3, -2], name: 'second' });
      second.on('touchdown', ({ who }) => void told.push(who));
      second.hop(0.1);
    });
    until(stage, 2);
    expect(stage.characters.map(({ name }) => name)).to.deep.equal(['hero', 'second']);
    expect(told).to.include('second');
  });

  it('of drivers is ignored while a recording plays, as all else that they ask', () => {
    const { stage, hero } = on(PLAIN, 'right@0 jump@0.1-0.12');
    const recording = stage.record(hero);
    hero.on('takeoff', () => hero.drive(script(presses('left@0.2'))));
    until(stage, 1);
    const again = openStage(PLAIN);
    const other = again.add({ airJumps: {}, ledge: {} }, { driver: script(recording.rows) });
    other.on('takeoff', () => other.drive(undefined));
    until(again, 1);
    expect(other.x).to.equal(hero.x);
    expect(hero.x).to.be.lessThan(0);
  });
});

describe('What abilities say', () => {
  const CALLS: readonly [string, (c: Control) => unknown][] = [
    ['vx is NaN', (c) => (c.vx = NaN)],
    ['vy is Infinity', (c) => (c.vy = Infinity)],
    ['facing is NaN', (c) => (c.facing = NaN)],
    ['facing is 0', (c) => (c.facing = 0)],
    ['ask is NaN', (c) => (c.ask = NaN)],
    ['ask is 2', (c) => (c.ask = 2)],
    ['top is NaN', (c) => (c.top = NaN)],
    ['gravity is NaN', (c) => (c.gravity = NaN)],
    ['to is NaN', (c) => c.vertical(NaN, 1)],
    ['rate is -1', (c) => c.vertical(0, -1)],
    ['gravity is NaN', (c) => c.fall(NaN, 1)],
    ['terminal is NaN', (c) => c.fall(1, NaN)],
    ['to is NaN', (c) => c.across(NaN, 1)],
    ['rate is NaN', (c) => c.across(1, NaN)],
    ['seconds is NaN', (c) => c.lock(NaN)],
    ['height is NaN', (c) => c.speedFor(NaN)],
    ['speed is NaN', (c) => c.launch(NaN, 'air')],
    ['speed is -3', (c) => c.launch(-3, 'air')],
    ['x is NaN', (c) => c.moveTo(NaN, 0)],
    ['y is Infinity', (c) => c.moveTo(0, Infinity)],
    ['dx is NaN', (c) => c.isFree(NaN, 0)],
    ['dy2 is NaN', (c) => c.isFree(0, 0, 0, NaN)],
    ['height is NaN', (c) => c.resize(NaN)],
    ['height is 0', (c) => c.resize(0)],
    ['height is NaN', (c) => c.cutWhereRoom(NaN)],
    ['x is NaN', (c) => c.cutAtX(NaN)],
    ['y is NaN', (c) => c.cutAtY(NaN)],
    ['side is 0', (c) => c.corner(0, 1, 1)],
    ['above is NaN', (c) => c.corner(1, NaN, 1)],
    ['corner is -1', (c) => c.cornerX(-1)],
    ['corner is 0.5', (c) => c.cornerY(0.5)],
    ['corner is 99999', (c) => c.hang(99999, 1, 1)],
    ['within is NaN', (c) => c.take('jump', NaN)],
    ['there is no action dahs', (c) => c.held('dahs')],
    ['there is no action 199', (c) => c.take(199)],
    ['there is no event bnag; list it under `events`', (c) => c.tell('bnag')],
    ['there is no pose bnag', (c) => c.show('bnag')],
  ];
  for (const [message, call] of CALLS)
    it(`wrongly is a RangeError that names it (${String(call).slice(7)}), and the tick has not happened`, () => {
      let at = 12;
      const odd = ability('odd', {
        every: 'tick',
        slots: ['count'],
        act: (c, _own, s) => {
          s.count++;
          if (--at === 0) call(c);
        },
      });
      const stage = openStage(YARD);
      const hero = stage.add(
        { wall: {}, ledge: {} },
        { driver: script(presses('right@0 jump@0.05-0.2')), abilities: [odd] },
      );
      const second = stage.add({}, { name: 'second', at: 'start' });
      const told: StageEvent[] = [];
      stage.listen((event) => void told.push({ ...event }));
      let before = stage.snapshot();
      let error: unknown;
      while (error === undefined) {
        before = stage.snapshot();
        told.length = 0;
        error = ((): unknown => {
          try {
            stage.tick(1 / 30);
          } catch (thrown) {
            return thrown;
          }
          return undefined;
        })();
      }
      expect(error).to.be.instanceOf(RangeError);
      expect((error as Error).message).to.include(message);
      expect(fingerprint(stage.snapshot())).to.equal(fingerprint(before));
      expect(told).to.deep.equal([]);
      // Asked again, it goes on from there: like one who never failed.
      until(stage, 1);
      const sane = openStage(YARD);
      const other = sane.add({ wall: {}, ledge: {} }, { driver: script(presses('right@0 jump@0.05-0.2')) });
      while (sane.ticks < stage.ticks) sane.tick(sane.ticks < 1 || sane.time < 0 ? 1 / 30 : 1 / 60);
      expect([hero.x, hero.y, second.x].every(Number.isFinite)).to.equal(true);
      expect(Math.abs(other.x - hero.x)).to.be.lessThan(1e-9);
    });

  it('of timers and slots must be numbers', () => {
    for (const name of ['wait', 'way']) {
      const odd = ability('odd', {
        timers: ['wait'],
        slots: ['way'],
        act: (_c, _own, s) => void (s[name as 'wait'] = NaN),
      });
      const stage = openStage(PLAIN);
      stage.add({}, { abilities: [odd] });
      expect(() => stage.tick(1 / 60)).to.throw(RangeError, `ability odd: ${name} is NaN; it must be a number`);
    }
  });

  it('is told where it is no ability at all', () => {
    expect(() => ability('odd', {} as never)).to.throw(RangeError, 'ability odd: act must be a function');
    expect(() => openStage(PLAIN).add({}, { abilities: [undefined as never] })).to.throw(
      RangeError,
      'abilities is a list with empty in it',
    );
  });
});

describe('What drivers push', () => {
  const PUSHES: readonly [string, (into: Intents) => void][] = [
    ['action is -1; it must be one of left, right', (into) => into.push(into.from, -1, 1)],
    ['action is NaN', (into) => into.push(into.from, NaN, 1)],
    ['action is 255', (into) => into.push(into.from, 255, 1)],
    ['action is 0.5', (into) => into.push(into.from, 0.5, 1)],
    ['action is jmup; it must be one of left, right', (into) => into.push(into.from, 'jmup', 1)],
    ['action is undefined', (into) => into.push(into.from, undefined as never, 1)],
    ['time is NaN', (into) => into.push(NaN, 0, 1)],
    ['value is NaN; of move it must be -1 to 1', (into) => into.push(into.from, ACTIONS.indexOf('move'), NaN)],
    ['value is 2; of jump it must be 0 to 1', (into) => into.push(into.from, 'jump', 2)],
    ['value is -1; of left it must be 0 to 1', (into) => into.push(into.from, 'left', -1)],
    ['time is undefined', (into) => into.pushCall(undefined as never, { hop: 1 })],
    ['height is NaN', (into) => into.pushCall(into.from, { hop: NaN })],
    ['there is no call leap; there are hop, shove', (into) => into.pushCall(into.from, { leap: 1 } as never)],
    ['a call is empty', (into) => into.pushCall(into.from, null as never)],
    ['shove is 3; it must be two numbers', (into) => into.pushCall(into.from, { shove: 3, lock: 0 } as never)],
    ['there is no mover cart', (into) => into.pushCall(into.from, { moveTo: ['cart', 1, 1] })],
  ];
  for (const [message, push] of PUSHES)
    it(`wrongly is a RangeError that names it: ${message}; nobody moves`, () => {
      const { stage, hero } = on(YARD, 'right@0');
      const second = stage.add({}, { driver: { read: push } });
      const before = fingerprint(stage.snapshot().subarray(6));
      expect(() => stage.tick(1 / 60)).to.throw(RangeError, message);
      expect([stage.ticks, fingerprint(stage.snapshot().subarray(6))]).to.deep.equal([0, before]);
      second.drive(undefined);
      until(stage, 0.5);
      expect(hero.vx).to.be.greaterThan(1);
    });

  it('may name actions as well as number them', () => {
    const runs = ['jump', actionNumber('jump')].map((action) => {
      const { stage, hero } = on(PLAIN, '', {
        driver: { read: (into: Intents) => into.start === 0 && into.push(into.from, action, 1) },
      });
      until(stage, 0.3);
      return hero.y;
    });
    expect(runs[0]).to.be.lessThan(0);
    expect(runs[0]).to.equal(runs[1]);
  });

  it('comes from drivers only', () => {
    for (const driver of [{}, null, 'keys', 5] as unknown as Driver[]) {
      const message = 'it must have a function read';
      expect(() => openStage(PLAIN).add({}, { driver })).to.throw(RangeError, message);
      expect(() => merged(driver)).to.throw(RangeError, message);
    }
    expect(() => script(null as never)).to.throw(RangeError, 'rows is empty; it must be a list of rows of input');
  });
});

describe('A snapshot with a wrong number', () => {
  /** Two characters among movers, zones, shapes; busy. */
  function busy(): Stage {
    const { stage } = on(YARD, 'right@0 jump@0.2-0.4');
    stage.add({ wall: {}, glide: {} }, { at: [3, 1], name: 'second', driver: script(presses('left@0.1')) });
    stage.mover('bucket').moveTo(1, 1);
    until(stage, 0.6);
    return stage;
  }

  it('that is none is refused whole, wherever it stands, and nothing changes', () => {
    const stage = busy();
    const good = stage.snapshot();
    for (let i = 0; i < good.length; i++) {
      const bad = stage.snapshot();
      bad[i] = NaN;
      // What stands before it is another moment's, so that a half-done restore would show.
      bad[0] = i === 0 ? NaN : 0.1;
      expect(() => stage.restore(bad), `number ${i}`).to.throw(RangeError, `number ${i} of the snapshot, of `);
      expect(fingerprint(stage.snapshot()), `number ${i}`).to.equal(fingerprint(good));
    }
  });

  it('that no stage can have there is refused whole, or harms nothing', () => {
    const stage = busy();
    const good = stage.snapshot();
    let refused = 0;
    for (const value of [-2, 0.5, 1e9, -1e300, Infinity])
      for (let i = 0; i < good.length; i++) {
        const bad = good.slice();
        bad[i] = value;
        try {
          stage.restore(bad);
        } catch (error) {
          expect(error).to.be.instanceOf(RangeError);
          expect(fingerprint(stage.snapshot())).to.equal(fingerprint(good));
          refused++;
        }
        stage.restore(good);
      }
    expect(refused).to.be.greaterThan(good.length);
    expect(() => stage.restore([...good] as never)).to.throw(RangeError, 'a snapshot is a Float64Array');
    expect(() => stage.restore(null as never)).to.throw(RangeError, 'a snapshot is a Float64Array');
  });

  it('is never one that a stage gave', () => {
    const random = randomizer(77);
    for (let i = 0; i < 8; i++) {
      const hall = hallOf(random, 4);
      const stage = openStage(hall.level);
      stage.add(
        { wall: {}, ledge: {}, airJumps: {}, crouch: {} },
        { at: hall.at, driver: script(presses('right@0 jump@0.3 down@0.6-0.9 left@1 jump@1.2-1.3')) },
      );
      for (let tick = 0; tick < 240; tick++) {
        stage.tick(1 / 120);
        stage.restore(stage.snapshot());
      }
    }
  });
});

describe('A level or a tuning that is none', () => {
  it('is refused in a sentence', () => {
    for (const [level, message] of [
      [null, 'a level is empty; it must be a group of keys with rows'],
      [undefined, 'a level is empty; it must be'],
      ['####', 'a level is "####"; it must be'],
      [[], 'a level is a list; it must be'],
      [{}, 'rows is empty; it must be a list of texts or one block of lines'],
      [{ rows: [1] }, 'rows.0 is 1; it must be a text'],
      [{ rows: ['@'], tile: '16' }, 'tile is 16; it must be above 0'],
      [{ rows: ['@'], origin: 3 }, 'origin is 3; it must be [x, y]'],
      [{ rows: ['@'], yPoints: 'left' }, 'yPoints is "left"; it must be one of down, up'],
      [{ rows: ['@'], bounds: { left: 'lava' } }, 'bounds.left is "lava"; it must be one of open, wall, wrap, out'],
      [{ rows: ['@'], bounds: { south: 'wall' } }, 'there is no side south; there are left, right, top, bottom'],
      [{ rows: ['@'], marks: null }, 'marks is empty; it must be a group of named entries'],
      [{ rows: ['@'], marks: { x: 'solid' } }, 'marks.x is "solid"; it must be a group of keys'],
      [{ rows: ['@'], marks: { x: { solid: 5 } } }, 'marks.x.solid is 5; it must be two heights of 0 to 1'],
      [{ rows: ['@'], surfaces: { silt: { grip: '2' } } }, 'grip is "2"; it must be 0.001 to 1000'],
      [{ rows: ['@'], surfaces: { silt: { bounce: null } } }, 'bounce is empty; it must be 0 to 1'],
      [{ rows: ['@'], surfaces: { silt: 2 } }, 'surfaces.silt is 2; it must be a group of keys'],
      [{ rows: ['@'], spawns: { door: 3 } }, 'spawns.door is 3; it must be [x, y], or a group of at and facing'],
      [{ rows: ['@'], spawns: { door: [3] } }, 'spawns.door is [3]; it must be [x, y]'],
      [{ rows: ['@'], spawns: { door: { at: 'here' } } }, 'spawns.door.at is "here"; it must be [x, y]'],
      [{ rows: ['@'], spawns: { door: { at: [NaN, 1] } } }, 'spawn door is at NaN'],
      [{ rows: ['@'], zones: {} }, 'zones is a group of keys; it must be a list of zones'],
      [{ rows: ['@'], zones: [null] }, 'zones.0 is empty; it must be a group of keys'],
      [{ rows: ['@'], zones: [{ box: [0, 0, 1] }] }, 'zones.0.box is [0, 0, 1]; it must be [x, y, width, height]'],
      [
        { rows: ['@'], zones: [{ box: [0, 0, 1, 1], tags: 'wet' }] },
        'zones.0.tags is "wet"; it must be a list of texts',
      ],
      [
        { rows: ['@'], zones: [{ pieces: [[1, 2]] }] },
        'zones.0.pieces.0 is 1; it must be a list of at least three [x, y]',
      ],
      [{ rows: ['@'], movers: {} }, 'movers is a group of keys; it must be a list of movers'],
      [{ rows: ['@'], movers: [{ name: 'cart' }] }, 'movers.0.shapes is empty; it must be a list of shapes'],
      [
        { rows: ['@'], movers: [{ name: 'cart', shapes: [null] }] },
        'movers.0.shapes.0 is empty; it must be a group of keys',
      ],
      [
        { rows: ['@'], movers: [{ name: 'cart', shapes: [{ form: 'box', points: [] }] }] },
        'form is "box"; it must be one of solid, hole, ground, one-way, line',
      ],
      [{ rows: ['@'], spwans: {} }, 'there is no key spwans; there are tile, origin, marks, rows, title, yPoints, surfaces, zones, movers, spawns, bounds (did you mean spawns?)'], // prettier-ignore
      [{ rows: ['@'], marks: { x: { solid: 'full', nam: 'x' } } }, 'there is no key marks.x.nam'],
      [{ rows: ['@'], marks: { x: { zone: { tag: [] }, name: 'x' } } }, 'there is no key marks.x.zone.tag'],
      [{ rows: ['@'], surfaces: { silt: { gripp: 2 } } }, 'there is no key surfaces.silt.gripp'],
      [{ rows: ['@'], spawns: { door: { at: [1, 1], face: 1 } } }, 'there is no key spawns.door.face'],
      [{ rows: ['@'], zones: [{ box: [0, 0, 1, 1], tag: [] }] }, 'there is no key zones.0.tag'],
      [{ outlines: [], shapes: [] }, 'there is no key shapes; there are extent, outlines'],
      [{ outlines: [{ form: 'line', points: [[0, 0], [1, 1]], name: 'x' }] }, 'there is no key outlines.0.name'], // prettier-ignore
      [{ outlines: [{ form: 'line', points: [[0, 0], [1, 1]], carry: { nam: 'x' } }] }, 'there is no key outlines.0.carry.nam'], // prettier-ignore
      [
        { rows: ['@'], movers: [{ name: 'cart', shapes: [], route: 'M 0 0' }] },
        'movers.0.route is "M 0 0"; it must be a group of keys with curve and lap',
      ],
    ] as const)
      expect(() => openStage(level as never), JSON.stringify(level)).to.throw(LevelError, message);
    for (const tuning of [null, undefined, 'fast', [], 3])
      expect(() => openStage(PLAIN).add(tuning as never), String(tuning)).to.throw(
        TuningError,
        /^a tuning is .*; it must be a group of keys$/,
      );
  });

  it('works where it can be understood: rows as a text, spawns as their places', () => {
    const listed = openStage({ rows: ['....', '.@..', '####'], spawns: { door: { at: [2.5, 2] } } });
    const block = openStage({ rows: '....\n.@..\n####\n', spawns: { door: [2.5, 2] } });
    const windows = openStage({ rows: '....\r\n.@..\r\n####', spawns: { door: [2.5, 2] } });
    for (const { level } of [block, windows]) {
      expect([...level.spawns]).to.deep.equal([...listed.level.spawns]);
      expect(level.terrain.x1).to.deep.equal(listed.level.terrain.x1);
    }
  });

  it('nor is a character put where there is no place, or a picture drawn at no moment', () => {
    for (const [at, message] of [
      [null, "at is empty; it must be a spawn's name, or two numbers"],
      [[1], "at is [1]; it must be a spawn's name, or two numbers"],
      [['1', 2], 'it must be a spawn'],
      [[NaN, 2], 'at is NaN, 2'],
      ['attic', 'there is no spawn attic'],
    ] as const)
      expect(() => openStage(YARD).add({}, { at: at as never })).to.throw(RangeError, message);
    const { stage, hero } = on();
    for (const between of [NaN, -0.1, 1.1]) {
      expect(() => hero.view(between)).to.throw(RangeError, `between is ${between}; it must be 0 to 1`);
      expect(() => stage.shapes(between)).to.throw(RangeError, `between is ${between}`);
    }
    expect(() => stage.tick(1 / 60, NaN)).to.throw(RangeError, 'at is NaN');
    expect(() => stepper({ rate: 60 }).run(NaN, () => {})).to.throw(RangeError, 'now is NaN');
    expect(() => hero.on('tuchdown', () => {})).to.throw(
      RangeError,
      'there is no event tuchdown; there are takeoff, apex, touchdown',
    );
    expect(() => hero.on('touchdown', null as never)).to.throw(RangeError, 'the handler of touchdown is object');
    expect(() => stage.listen(null as never)).to.throw(RangeError, 'a listener is object; it must be a function');
  });
});

describe('Ten mistakes of a newcomer', () => {
  const level = {
    rows: ['@...', '####'],
    zones: [{ name: 'coin', box: [2, 0, 1, 1] as const }],
    spawns: { door: { at: [3, 1] as const } },
  };

  for (const [mistake, make, said] of [
    [
      'an event that there is not',
      (stage: Stage) => stage.add({}).on('tuchdown', () => undefined),
      'did you mean touchdown?',
    ],
    ['milliseconds for seconds', (stage: Stage) => stage.tick(16.6), 'milliseconds? that is tick(0.0166)'],
    [
      'a spawn that there is not',
      (stage: Stage) => stage.add({}, { at: 'dor' }),
      'the level has start, door (did you mean door?)',
    ],
    [
      'rows that are none',
      () => openStage({ rows: 3 } as never),
      'rows is 3; it must be a list of texts or one block of lines',
    ],
    ['a number that is none', (stage: Stage) => stage.add({ jump: { height: NaN } }), 'jump.height is NaN'],
    ['no level', () => openStage(undefined as never), 'a group of keys with rows'],
    [
      'two characters of a name',
      (stage: Stage) => [stage.add({}, { name: 'foe' }), stage.add({}, { name: 'foe' })],
      'there is a character named foe already',
    ],
    [
      'an action that there is not',
      (stage: Stage) => stage.add({}, { driver: script([{ time: 0, action: 'jmp', value: 1 }]) }),
      'did you mean jump?',
    ],
    [
      'a key that there is not',
      (stage: Stage) => stage.add({ jump: { hight: 3 } } as never),
      'there is no key jump.hight',
    ],
    ['a zone that there is not', (stage: Stage) => stage.setZone('con', false), 'did you mean coin?'],
  ] as const)
    it(`${mistake}: a sentence says what to do`, () => {
      expect(() => make(openStage(level))).to.throw(said);
    });

  it('a tick in a listener: a sentence says what to do', () => {
    const stage = openStage(level);
    const hero = stage.add({});
    hero.on('takeoff', () => stage.tick(1 / 60));
    expect(() => hero.hop(1)).to.throw('tick was called by an event handler; one tick ends before the next begins');
  });
});
