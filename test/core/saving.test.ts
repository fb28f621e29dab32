import { fingerprint, openStage, script, type Level, type Save, type Stage, type StageEvent } from 'apperin';
import { expect } from 'chai';
import { dash } from '../../examples/dash/dash.js';
import { busyInput } from '../support/everything.js';
import { livelyTuning, randomLevel, EVERY_ABILITY } from '../support/make.js';
import { furnished, hallOf, lively, movingTuning } from '../support/moving.js';
import { randomizer } from '../support/random.js';
import { share } from '../support/share.js';
import { presses } from '../support/simulate.js';

const ROOM: Level = {
  rows: ['..........', '..........', '@.....G...', '##########'],
  marks: { G: { solid: 'full', name: 'gate' } },
  zones: [{ name: 'coin', box: [3, 2, 0.5, 0.5] }],
  spawns: { door: { at: [8.5, 3] } },
};
const run = (stage: Stage, ticks: number): void => {
  for (let i = 0; i < ticks; i++) stage.tick(1 / 60);
};
/** As a file has it. */
const kept = (stage: Stage): Save => JSON.parse(JSON.stringify(stage.save())) as Save;

describe('A save', () => {
  it('is plain JSON, and plays on to the bit', () => {
    const input = presses('right@0-0.4 jump@0.2-0.5 left@0.6 dash@0.7 jump@1');
    const open = (): Stage => openStage(ROOM);
    const stage = open();
    stage.add({ own: { dash: { speed: 9 } } }, { driver: script(input), abilities: [dash] });
    const two = stage.add(EVERY_ABILITY, { name: 'two', at: 'door', facing: -1, opposed: 'first' });
    stage.setShape('gate', false);
    stage.setZone('coin', false);
    run(stage, 20);
    two.retune({ run: { speed: 3 } });
    two.hop(2);
    stage.remove(stage.add({}, { name: 'gone', at: 'door' }));
    run(stage, 3);
    const save = kept(stage);
    const again = open().load(save, { hero: script(input) }, { abilities: [dash] });
    expect(fingerprint(again.snapshot())).to.equal(fingerprint(stage.snapshot()));
    expect(again.characters.map(({ name, id }) => [name, id])).to.deep.equal([['hero', 0], ['two', 1]]); // prettier-ignore
    run(stage, 100);
    run(again, 100);
    expect(fingerprint(again.snapshot())).to.equal(fingerprint(stage.snapshot()));
    // No number is used twice, there either.
    expect(again.add({}).id).to.equal(stage.add({}).id);
    expect(kept(again)).to.deep.equal(kept(stage));
  });

  it('of any moment of anything has the same future', () => {
    for (let seed = 0; seed < share({ quick: 6, test: 30, deep: 500 }); seed++) {
      const random = randomizer(8800 + seed);
      const hall = hallOf(random, random.pick([0, 3, 8]));
      const rich = random.chance(0.6);
      const level = rich ? furnished(random, hall.level) : random.chance(0.5) ? hall.level : randomLevel(random);
      const tuning = rich ? lively(random, movingTuning(random)) : livelyTuning(random);
      const place = 'movers' in level ? { at: hall.at } : {};
      const input = busyInput(random, 4).filter(({ action }) => action !== 'dash');
      const stage = openStage(level);
      const hero = stage.add(tuning, { ...place, driver: script(input) });
      const at = random.whole(1, 200);
      const other = { ...livelyTuning(random) };
      for (let tick = 0; tick < at; tick++) {
        if (tick === 30) hero.retune(other);
        stage.tick(1 / 60);
      }
      const again = openStage(level).load(kept(stage), { hero: script(input) });
      const lists = [stage, again].map((one) => {
        const list: string[] = [];
        one.listen((event: Readonly<StageEvent>) => list.push(Object.values(event).join(' ')));
        run(one, 240 - at);
        return list;
      });
      expect(lists[1], `seed ${seed}`).to.deep.equal(lists[0]);
      expect(fingerprint(again.snapshot()), `seed ${seed}`).to.equal(fingerprint(stage.snapshot()));
    }
  });

  it('lets go of what somebody held who plays live', () => {
    const stage = openStage(ROOM);
    stage.add({}, { driver: script(presses('right@0')) });
    run(stage, 10);
    const again = openStage(ROOM).load(kept(stage), { hero: { isLive: true, read: () => undefined } });
    expect(again.characters[0]!.held('right')).to.equal(0);
    const on = openStage(ROOM).load(kept(stage));
    expect(on.characters[0]!.held('right')).to.equal(1);
  });

  it('of another level is refused, or its characters are put where they were', () => {
    const stage = openStage(ROOM);
    const hero = stage.add({ run: { speed: 5 } }, { driver: script(presses('right@0')) });
    run(stage, 40);
    const save = kept(stage);
    const wider: Level = { ...ROOM, rows: ['..........#', '..........#', '@.....G...#', '###########'] };
    expect(() => openStage(wider).load(save)).to.throw(
      RangeError,
      /the save is of another level \([0-9a-f]{16}, this is [0-9a-f]{16}\); with \{ changed: 'place' \}/,
    );
    const placed = openStage(wider).load(save, {}, { changed: 'place' });
    const [there] = placed.characters;
    expect([there!.x, there!.y, there!.facing]).to.deep.equal([hero.x, hero.y, hero.facing]);
    expect([there!.vx, there!.motion.ground.speed, placed.time]).to.deep.equal([0, 5, 0]);
    // Inside something that was not there: it is pushed out.
    const filled: Level = { ...ROOM, rows: ['..........', '..........', '@.#####...', '##########'] };
    const out = openStage(filled).load(save, {}, { changed: 'place' });
    run(out, 60);
    expect(
      out
        .overlap({ x: out.characters[0]!.x - 0.1, y: out.characters[0]!.y - 0.5, width: 0.2, height: 0.4 })
        .map(({ kind }) => kind),
    ).to.deep.equal(['character']);
    const older = { ...save, version: save.version - 1 };
    expect(() => openStage(ROOM).load(older)).to.throw(RangeError, /the save has version \d+, this is \d+/);
    expect(openStage(ROOM).load(older, {}, { changed: 'place' }).characters).to.have.length(1);
    // What does not change how it plays is no other level.
    expect(openStage({ ...ROOM, title: 'The same' }).load(save).time).to.equal(stage.time);
  });

  it('with something wrong in it is refused whole, with what is wrong', () => {
    const stage = openStage(ROOM);
    stage.add({ own: { dash: { speed: 9 } } }, { abilities: [dash] });
    run(stage, 5);
    const save = kept(stage);
    const [one] = save.characters;
    const withOne = (change: object): unknown => ({ ...save, characters: [{ ...one, ...change }] });
    const state = (i: number, value: unknown): unknown =>
      withOne({ state: one!.state.map((number, k) => (k === i ? value : number)) });
    for (const [wrong, message] of [
      [null, 'the save is empty; it must be what `save` gave'],
      [{ some: 'thing' }, 'the save is a group of keys'],
      [{ ...save, characters: 3 }, 'characters of the save is 3'],
      [withOne({ name: 3 }), 'characters.0.name of the save is 3'],
      [withOne({ at: [0, null] }), 'characters.0.at of the save'],
      [withOne({ facing: 0 }), 'characters.0.facing of the save is 0'],
      [withOne({ tunings: [] }), 'characters.0.tunings of the save'],
      [withOne({ tuned: 4 }), 'characters.0.tuned of the save is 4; it must be a whole number below 1'],
      [withOne({ id: -1 }), 'characters.0.id of the save is -1'],
      [
        withOne({ abilities: ['dash', 'dive2'] }),
        'hero has the ability "dive2" in the save; give it in `abilities` (there are dash)',
      ],
      [withOne({ tunings: [{ ...one!.tunings[0], jump: { height: -3 } }] }), 'jump.height'],
      [{ ...save, characters: [one, one] }, 'the save has two characters named hero'],
      [state(3, null), 'characters.0.state.3 of the save is empty; it must be a number'],
      [state(3, 'NaN'), 'characters.0.state.3 of the save is "NaN"'],
      [state(0, 'Infinity'), 'of the snapshot, of hero, is Infinity'],
      [withOne({ state: one!.state.slice(1) }), 'of the snapshot, of hero, is'],
      [{ ...save, stage: save.stage.map(() => -5) }, 'number 0 of the snapshot, of the clock, is -5'],
    ] as const) {
      const fresh = openStage(ROOM);
      expect(() => fresh.load(wrong as Save, {}, { abilities: [dash] }), message).to.throw(message);
      expect(fresh.characters).to.deep.equal([]);
      // It can still be used.
      expect(fresh.load(save, {}, { abilities: [dash] }).characters).to.have.length(1);
    }
    expect(() => openStage(ROOM).load(save)).to.throw(
      RangeError,
      'hero has the ability "dash" in the save; give it in `abilities` (there are none)',
    );
    expect(() => openStage(ROOM).load(save, { foe: script([]) })).to.throw(
      RangeError,
      'there is no character foe in the save; there are hero',
    );
    expect(() => stage.load(save)).to.throw(RangeError, 'a save is loaded into a new stage');
    expect(() => openStage(ROOM).load(save, {}, { changed: 'yes' as never })).to.throw(RangeError, 'changed is "yes"');
  });
});

describe('Another room', () => {
  it('is gone into with what is held, the motion, the tuning, the rights and the handlers', () => {
    const hall = openStage(ROOM);
    const attic = openStage({ rows: ['..........', '@.........', '##########'], spawns: { door: { at: [2, 2] } } });
    run(attic, 100);
    const held = {
      read: (into: { start: number; push: (at: number, action: string, value: number) => void }) =>
        void (into.start === 0 && into.push(0, 'right', 1)),
    };
    const hero = hall.add({ run: { speed: 5 }, airJumps: {} }, { driver: held, name: 'brindle' });
    const heard: string[] = [];
    hero.on('footfall', ({ time }) => heard.push(time < hall.time + 1e-9 ? 'there' : 'here'));
    run(hall, 30);
    const { vx } = hero;
    hero.transfer(attic, { at: 'door' });
    expect(hall.characters).to.deep.equal([]);
    expect(attic.characters).to.deep.equal([hero]);
    expect([
      hero.x,
      hero.y,
      hero.vx,
      hero.held('right'),
      hero.motion.ground.speed,
      hero.name,
      hero.onStage,
    ]).to.deep.equal([2, 2, vx, 1, 5, 'brindle', true]);
    const before = heard.length;
    run(attic, 60);
    expect(hero.x).to.be.greaterThan(6);
    expect(heard.length).to.be.greaterThan(before);
    // Nothing of it is left where it came from.
    run(hall, 60);
    expect(hall.overlap({ x: -9, y: -9, width: 40, height: 40 }, { kinds: ['character'] })).to.deep.equal([]);
  });

  it('is gone into in the middle of a jump: a release still shapes it, a window goes on', () => {
    const rooms = [0, 1].map(() =>
      openStage({ rows: ['@.........', '..........', '..........', '..........', '##########'] }),
    );
    run(rooms[1]!, 333);
    const heights = [false, true].map((through) => {
      const [one, two] = through ? rooms : [openStage(rooms[0]!.level), undefined];
      let highest = Infinity;
      const events: string[] = [];
      let held = true;
      const hero = one!.add(
        { jump: { minHold: 0.05 } },
        { at: [3, 4], driver: { read: (into) => into.push(into.from, 'jump', held ? 1 : 0) } },
      );
      hero.on('apex', () => events.push('apex'));
      run(one!, 5);
      if (through) hero.transfer(two!, { at: [hero.x, hero.y] });
      const now = through ? two! : one!;
      for (let i = 0; i < 40; i++) {
        if (i === 3) held = false;
        now.tick(1 / 60);
        highest = Math.min(highest, hero.y);
      }
      expect(events).to.deep.equal(['apex']);
      return highest;
    });
    // To a microsecond, which is what live presses are stamped in.
    expect(heights[1]).to.be.closeTo(heights[0]!, 2e-5);
  });

  it('is gone into at the moment of an event, with the timers of abilities', () => {
    const hall = openStage(ROOM);
    const attic = openStage(ROOM);
    run(attic, 77);
    const hero = hall.add({}, { abilities: [dash], driver: script(presses('right@0 dash@0.1')) });
    hall.listen(({ event }) => {
      if (event !== 'dashOn') return;
      expect(hall.time).to.be.closeTo(0.1, 1e-9);
      hero.transfer(attic);
    });
    run(hall, 12);
    expect(hero.ability('dash').active).to.be.closeTo(0.15, 1e-9);
    attic.tick(1 / 60);
    const left = hero.ability('dash').active!;
    expect(left).to.be.closeTo(0.15 - 1 / 60, 1e-9);
    const ended: string[] = [];
    hero.on('dashOff', () => ended.push('dashOff'));
    run(attic, 20);
    expect(ended).to.deep.equal(['dashOff']);
    expect(hero.ability('dash').active).to.equal(0);
    expect(() => hero.ability('dahs')).to.throw(RangeError, 'hero has no ability dahs; it has drop, charge');
  });

  it('is refused where there is none', () => {
    const hall = openStage(ROOM);
    const attic = openStage(ROOM);
    const hero = hall.add({});
    attic.add({});
    expect(() => hero.transfer(hall)).to.throw(RangeError, 'hero is on that stage already');
    expect(() => hero.transfer(attic)).to.throw(RangeError, 'there is a character named hero in that room already');
    expect(() => hero.transfer(openStage(ROOM), { at: 'nowhere' })).to.throw(RangeError, 'there is no spawn nowhere');
    expect(() => hero.transfer({} as never)).to.throw(RangeError, 'the room is a group of keys; it must be a stage');
    expect(hall.characters).to.deep.equal([hero]);
  });
});
