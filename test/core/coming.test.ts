import { ability, fingerprint, openStage, rewind, script, type Character, type Stage } from 'apperin';
import { expect } from 'chai';
import { busyInput } from '../support/everything.js';
import { livelyTuning, randomInput, randomLevel } from '../support/make.js';
import { furnished, hallOf } from '../support/moving.js';
import { randomizer, type Random } from '../support/random.js';
import { share } from '../support/share.js';
import { presses } from '../support/simulate.js';

const HALL = { rows: ['@.........', '##########'], spawns: { far: [8, 1] } } as const;
const namesOf = (stage: Stage): string[] => stage.characters.map(({ name }) => name);
const run = (stage: Stage, ticks: number): void => {
  for (let i = 0; i < ticks; i++) stage.tick(1 / 60);
};

describe('Who is on a stage', () => {
  it('goes when it is removed, stays readable, and tells nothing more', () => {
    const stage = openStage(HALL);
    const hero = stage.add({}, { driver: script(presses('right@0')) });
    const foe = stage.add({}, { name: 'foe', at: 'far' });
    const told: string[] = [];
    stage.listen(({ event, who }) => told.push(`${who} ${event}`));
    run(stage, 30);
    const { x } = hero;
    stage.remove(hero);
    expect(namesOf(stage)).to.deep.equal(['foe']);
    expect([hero.onStage, foe.onStage]).to.deep.equal([false, true]);
    told.length = 0;
    run(stage, 30);
    expect(hero.x).to.equal(x);
    expect(hero.view(0.5).x).to.equal(x);
    expect(told).to.deep.equal([]);
    expect(() => hero.hop(1)).to.throw(RangeError, 'hero is not on the stage any more');
    expect(() => stage.remove(hero)).to.throw(RangeError, 'that character is not on this stage; there are foe');
    expect(() => stage.remove(openStage(HALL).add({}))).to.throw(RangeError, /not on this stage/);
    stage.remove(foe);
    run(stage, 10);
    expect(stage.time).to.be.closeTo(70 / 60, 1e-12);
    // Its name is free again, its number is not.
    const next = stage.add({}, { name: 'foe' });
    expect(next.id).to.equal(2);
    expect(stage.add({}).name).to.equal('hero4');
  });

  it('comes and goes at the moment of an event, the same at every rate', () => {
    const lists = [15, 60, 240].map((rate) => {
      const stage = openStage(HALL);
      const list: string[] = [];
      stage.listen(({ event, time, who, x, y }) => list.push([event, time, who, x, y].join(' ')));
      const hero = stage.add({}, { driver: script(presses('right@0 jump@0.1')) });
      const foe = stage.add({}, { name: 'foe', at: 'far' });
      hero.on('apex', () => stage.add({}, { name: 'shot', at: [hero.x, hero.y + 0.2] }).shove(9, 3));
      hero.on('touchdown', () => stage.remove(foe));
      hero.on('footfall', () => foe.onStage && foe.hop(0.5));
      while (stage.time < 2 - 1e-9) stage.tick(1 / rate);
      for (const { name, x, y } of stage.characters) list.push(`${name} ${x} ${y}`);
      return list;
    });
    expect(lists[0]!.some((line) => line.includes('shot'))).to.equal(true);
    expect(lists[1]).to.deep.equal(lists[0]);
    expect(lists[2]).to.deep.equal(lists[0]);
  });

  it('lets a mover go on that waited for it', () => {
    const stage = openStage({
      rows: ['.....', '.....', '@....', '#####'],
      movers: [
        {
          name: 'press',
          shapes: [{ form: 'solid', points: [[0, 0], [1, 0], [1, 1], [0, 1]] }], // prettier-ignore
          route: { curve: [[0, 0, 0, 2]], lap: 2, keyPoints: [0, 1, 0] },
        },
      ],
    });
    const hero = stage.add({});
    run(stage, 50);
    const press = stage.mover('press');
    expect(press.waits).to.equal(true);
    stage.remove(hero);
    run(stage, 2);
    expect(press.waits).to.equal(false);
  });

  it('is there again when time goes back to before it went, and not there before it came', () => {
    const stage = openStage(HALL);
    const past = rewind(stage, { seconds: 10 });
    const hero = stage.add({}, { driver: script(presses('right@0 jump@0.3-0.5 jump@1.2')) });
    let heard = 0;
    hero.on('takeoff', () => heard++);
    const on = (ticks: number): void => {
      for (let i = 0; i < ticks; i++) {
        stage.tick(1 / 60);
        past.keep();
      }
    };
    on(60);
    const foe = stage.add({}, { name: 'foe', at: 'far' });
    on(60);
    const both = fingerprint(stage.snapshot());
    stage.remove(hero);
    on(30);
    expect(namesOf(stage)).to.deep.equal(['foe']);
    const without = stage.snapshot();
    past.back(0.5);
    expect(namesOf(stage)).to.deep.equal(['hero', 'foe']);
    expect(fingerprint(stage.snapshot())).to.equal(both);
    expect([hero.onStage, foe.onStage]).to.deep.equal([true, true]);
    past.back(1.2);
    expect(namesOf(stage)).to.deep.equal(['hero']);
    expect(foe.onStage).to.equal(false);
    const before = heard;
    run(stage, 40);
    expect(heard).to.be.greaterThan(before);
    // Forward again.
    stage.restore(without);
    expect(namesOf(stage)).to.deep.equal(['foe']);
    expect(stage.add({}, { name: 'third' }).id).to.equal(2);
  });

  it('is there as before where it was removed for good within a tick that failed', () => {
    let fails = true;
    const frail = ability('frail', {
      act(c) {
        if (fails && c.now > 0.25) throw new Error('it fails');
        c.lookAgain(0.1);
      },
    });
    const stage = openStage(HALL);
    const hero = stage.add({}, { driver: script(presses('jump@0.1')), abilities: [frail] });
    const foe = stage.add({}, { name: 'foe', at: 'far' });
    hero.on('takeoff', () => stage.remove(foe, { keep: false }));
    const before = stage.snapshot();
    expect(() => stage.tick(0.5)).to.throw('it fails');
    expect([namesOf(stage), foe.onStage, stage.time]).to.deep.equal([['hero', 'foe'], true, 0]);
    expect([hero.x, hero.y, foe.x]).to.deep.equal([0.5, 1, 8]);
    fails = false;
    stage.tick(0.5);
    expect([namesOf(stage), foe.onStage]).to.deep.equal([['hero'], false]);
    expect(() => stage.restore(before)).to.throw(RangeError, 'or it was removed for good');
  });

  it('does not come back once it was removed for good', () => {
    const stage = openStage(HALL);
    stage.add({});
    const shot = stage.add({}, { name: 'shot', at: 'far' });
    const kept = stage.snapshot();
    stage.remove(shot, { keep: false });
    run(stage, 3);
    expect(() => stage.restore(kept)).to.throw(
      RangeError,
      /is 1: there is none of that number on this stage, or it was removed for good/,
    );
    expect(namesOf(stage)).to.deep.equal(['hero']);
  });

  it('has no end of numbers: a thousand come and go, each for good, in no more memory', () => {
    const stage = openStage(HALL);
    stage.add({});
    const length = stage.snapshotLength;
    for (let i = 0; i < 1000; i++) {
      const shot = stage.add({}, { name: 'shot', at: 'far' });
      shot.shove(1, 4);
      run(stage, 2);
      stage.remove(shot, { keep: false });
    }
    expect(stage.snapshotLength).to.equal(length);
    expect(stage.add({}).id).to.equal(1001);
  });

  it('is recorded from when it came until it is removed, and plays again to the bit', () => {
    const play = (rows?: Parameters<typeof script>[0]): [string[], ReturnType<Stage['record']>['rows']] => {
      const stage = openStage(HALL);
      const list: string[] = [];
      stage.listen(({ event, time, who, x }) => list.push([event, time, who, x].join(' ')));
      stage.add({}, { driver: script(presses('jump@0.2')) });
      run(stage, 30);
      const late = stage.add(
        {},
        { name: 'late', at: 'far', facing: -1, driver: script(rows ?? presses('left@0.6 jump@0.8')) },
      );
      const record = rows ? undefined : stage.record(late);
      if (!rows) late.on('touchdown', () => stage.remove(late));
      run(stage, 90);
      return [list, record?.rows ?? []];
    };
    const [list, rows] = play();
    expect(rows[0]!.time).to.equal(0.5);
    expect(rows.at(-1)!.call).to.deep.include({ remove: true });
    expect(play(rows)[0]).to.deep.equal(list);
    const stage = openStage(HALL);
    const hero = stage.add({});
    run(stage, 1);
    expect(() => stage.record(hero)).to.throw(
      RangeError,
      /the stage has ticked 1 times; a recording begins before the first/,
    );
  });

  it('follows a fork with its number', () => {
    const stage = openStage(HALL);
    const first = stage.add({});
    stage.add({}, { name: 'two', driver: script(presses('left@0')), at: 'far' });
    stage.remove(first);
    run(stage, 5);
    const other = stage.fork({ two: script(presses('left@0')) });
    expect(other.characters.map(({ name, id }) => [name, id])).to.deep.equal([['two', 1]]);
    run(stage, 30);
    run(other, 30);
    expect(fingerprint(other.snapshot())).to.equal(fingerprint(stage.snapshot()));
    expect(other.add({}).id).to.equal(2);
  });

  /** What a game does on a stage, by a list that is the same each time: some come, some go, shapes are switched, tunings change. */
  function busyStage(random: Random): { stage: Stage; act: (tick: number) => void } {
    const hall = hallOf(random, random.pick([0, 4]));
    const level = random.chance(0.5) ? furnished(random, hall.level) : randomLevel(random);
    const place = level === hall.level || 'movers' in level ? { at: hall.at } : {};
    const stage = openStage(level);
    const tunings = Array.from({ length: 3 }, () => livelyTuning(random));
    const inputs = Array.from({ length: 40 }, () => busyInput(random, 4).filter(({ action }) => action !== 'dash'));
    const plan = Array.from({ length: 40 }, (_, i) => ({
      tick: random.whole(1, 230),
      kind: random.pick(['come', 'come', 'go', 'retune', 'hop']),
      which: random.whole(0, 5),
      name: `n${i}`,
      driver: i,
    }));
    stage.add(tunings[0]!, { ...place, driver: script(randomInput(random, 4)) });
    return {
      stage,
      act(tick) {
        for (const { tick: when, kind, which, name, driver } of plan) {
          if (when !== tick) continue;
          const someone: Character | undefined = stage.characters[which % Math.max(1, stage.characters.length)];
          if (kind === 'come') stage.add(tunings[which % 3]!, { ...place, name, driver: script(inputs[driver]!) });
          else if (someone === undefined) continue;
          else if (kind === 'go') stage.remove(someone);
          else if (kind === 'retune') someone.retune(tunings[which % 3]!);
          else someone.hop(1);
        }
      },
    };
  }

  it('is restored at any tick, with the same future bit for bit', () => {
    for (let seed = 0; seed < share({ quick: 6, test: 25, deep: 400 }); seed++) {
      const random = randomizer(7100 + seed);
      const { stage, act } = busyStage(random);
      const kept: Float64Array[] = [];
      for (let tick = 0; tick < 240; tick++) {
        kept.push(stage.snapshot());
        act(tick);
        stage.tick(1 / 60);
      }
      // Those who come after going back have other numbers: so it is told by what is there, by name.
      const told = (): string =>
        JSON.stringify(
          stage.characters.map(({ name, x, y, vx, vy, pose, jumpsLeft }) => [name, x, y, vx, vy, pose, jumpsLeft]),
        );
      const end = told();
      for (const from of [random.whole(1, 80), random.whole(80, 160), random.whole(160, 239)]) {
        stage.restore(kept[from]!);
        expect(fingerprint(stage.snapshot())).to.equal(fingerprint(kept[from]!));
        for (let tick = from; tick < 240; tick++) {
          act(tick);
          stage.tick(1 / 60);
        }
        expect(told(), `seed ${seed}, from ${from}`).to.equal(end);
      }
    }
  });
});
