import { fingerprint, openStage, script, type Level, type Stage, type StageEvent } from 'apperin';
import { expect } from 'chai';
import { busyInput } from '../support/everything.js';
import { livelyTuning } from '../support/make.js';
import { furnished, hallOf, lively, movingTuning } from '../support/moving.js';
import { randomizer } from '../support/random.js';
import { share } from '../support/share.js';
import { presses } from '../support/simulate.js';

const FLOOR: Level = {
  rows: ['....................', '@...................', '####################'],
  bounds: { left: 'wall', right: 'wall' },
};
const run = (stage: Stage, ticks: number, rate = 60): void => {
  for (let i = 0; i < ticks; i++) stage.tick(1 / rate);
};
/** What is told of meetings: the event, who, the other, the side and the boxes. */
function heard(stage: Stage): string[] {
  const list: string[] = [];
  stage.listen(({ event, who, other, side, box, otherBox }) => {
    if (event === 'meet' || event === 'part')
      list.push([event, who, other, side, box, otherBox].filter(Boolean).join(' '));
  });
  return list;
}

describe('Meetings', () => {
  it('are told to both, with the side and the speed, at the very moment', () => {
    const stage = openStage(FLOOR);
    const list = heard(stage);
    const hero = stage.add({ run: { speed: 4 } }, { driver: script(presses('right@0')) });
    const foe = stage.add({}, { name: 'foe', at: [8, 2] });
    stage.meet(hero, foe);
    let met: Partial<StageEvent> = {};
    hero.on('meet', (event) => (met = { ...event }));
    run(stage, 200);
    expect(list).to.deep.equal([
      'meet hero foe right',
      'meet foe hero left',
      'part hero foe left',
      'part foe hero right',
    ]);
    const apart = (hero.motion.width + foe.motion.width) / 2;
    expect(met.x).to.be.closeTo(8 - apart, 1e-5);
    expect(met.speed).to.be.closeTo(hero.motion.ground.speed, 1e-9);
    // They do not block each other.
    expect(hero.x).to.be.greaterThan(9);
  });

  it('make a stomp of ten lines, the same at every rate', () => {
    const lists = [15, 60, 240].map((rate) => {
      const stage = openStage(FLOOR);
      const list: string[] = [];
      const hero = stage.add({}, { driver: script(presses('right@0 jump@0.15-0.6')) });
      stage.add(
        { run: { speed: 1 } },
        { name: 'foe', at: [7.5, 2], groups: ['foes'], driver: script(presses('left@0')) },
      );
      stage.meet(hero, 'foes');
      hero.on('meet', ({ side, other, time, x, y, speed }) => {
        list.push(['hit', side, other, time, x, y, speed].join(' '));
        if (side !== 'bottom') return;
        hero.hop(1.5);
        stage.remove(stage.character(other));
      });
      stage.listen(({ event, time, who, x, y }) => list.push([event, time, who, x, y].join(' ')));
      run(stage, 2 * rate, rate);
      return list;
    });
    expect(lists[0]!.some((line) => line.startsWith('hit bottom foe'))).to.equal(true);
    expect(lists[0]!.some((line) => line.startsWith('part'))).to.equal(true);
    expect(lists[1]).to.deep.equal(lists[0]);
    expect(lists[2]).to.deep.equal(lists[0]);
  });

  it('of boxes turn with who carries them, and are switched on and off', () => {
    const stage = openStage(FLOOR);
    const list = heard(stage);
    const hero = stage.add({}, { at: [6, 2], boxes: { strike: { box: [0.3, -1, 1.2, 0.4], on: false } } });
    const foe = stage.add({}, { name: 'foe', at: [7.2, 2], boxes: { weak: [-0.3, -1.2, 0.6, 0.6] }, groups: ['foes'] });
    stage.meet(hero, 'foes', { boxes: ['strike', 'weak'] });
    run(stage, 5);
    expect(list).to.deep.equal([]);
    hero.setBox('strike', true);
    run(stage, 1);
    expect(list.splice(0)).to.deep.equal(['meet hero foe top strike weak', 'meet foe hero bottom weak strike']);
    run(stage, 5);
    hero.setBox('strike', false);
    run(stage, 1);
    expect(list.splice(0)).to.have.length(2);
    hero.setBox('strike', true);
    run(stage, 1);
    expect(list.splice(0)).to.have.length(2);
    // It turns away.
    hero.drive(script([{ time: stage.time + 0.01, action: 'left', value: 1 }, { time: stage.time + 0.02, action: 'left', value: 0 }])); // prettier-ignore
    run(stage, 5);
    expect(list.splice(0)).to.deep.equal(['part hero foe right strike weak', 'part foe hero left weak strike']);
    expect(() => hero.setBox('stroke', true)).to.throw(RangeError, 'hero carries no box stroke; it has strike');
    expect(() => stage.meet(hero, foe, { boxes: ['strike', 'weka'] })).to.throw(RangeError, 'foe carries no box weka');
    expect(() => stage.add({}, { name: 'x', boxes: { bad: [0, 0, 0, 1] } })).to.throw(
      RangeError,
      'the box bad is 0 × 1',
    );
    expect(() => stage.add({}, { name: 'x', boxes: { bad: [0, 0, 1] as never } })).to.throw(
      RangeError,
      'the box bad is a list',
    );
    expect(() => stage.character('nobody')).to.throw(RangeError, 'there is no character nobody; there are hero, foe');
  });

  it('end where they are no longer asked for, and with who goes', () => {
    const stage = openStage(FLOOR);
    const list = heard(stage);
    const hero = stage.add({}, { at: [6, 2] });
    const foe = stage.add({}, { name: 'foe', at: [6.2, 2] });
    const end = stage.meet(hero, foe);
    run(stage, 1);
    expect(list.splice(0)).to.have.length(2);
    stage.remove(foe);
    expect(list.splice(0).map((line) => line.slice(0, 4))).to.deep.equal(['part', 'part']);
    const next = stage.add({}, { name: 'next', at: [6.2, 2], groups: ['foes'] });
    run(stage, 1);
    expect(list).to.deep.equal([]);
    const endToo = stage.meet('foes', hero);
    run(stage, 1);
    expect(list.splice(0)).to.have.length(2);
    end();
    endToo();
    next.place(12, 2);
    run(stage, 5);
    expect(list).to.deep.equal([]);
  });

  it('are part of snapshots, and go on the same to the bit', () => {
    for (let seed = 0; seed < share({ quick: 8, test: 30, deep: 300 }); seed++) {
      const random = randomizer(6400 + seed);
      const hall = hallOf(random, random.pick([0, 4]));
      const rich = random.chance(0.5);
      const level = rich ? furnished(random, hall.level) : hall.level;
      const tunings = [0, 1, 2].map(() => (rich ? lively(random, movingTuning(random)) : livelyTuning(random)));
      const inputs = [0, 1, 2].map(() => busyInput(random, 4).filter(({ action }) => action !== 'dash'));
      const open = (rate: number): { stage: Stage; list: string[] } => {
        const stage = openStage(level);
        tunings.forEach((tuning, i) =>
          stage.add(tuning, {
            name: `n${i}`,
            at: hall.at,
            groups: ['all'],
            boxes: { reach: [0.2, -0.5, 0.8, 0.5] },
            driver: script(inputs[i]!),
          }),
        );
        stage.meet('all', 'all');
        stage.meet('all', 'all', { boxes: ['reach', ''] });
        const list: string[] = [];
        stage.listen((event) => event.event.match(/meet|part/) && list.push(Object.entries(event).filter(([field]) => field !== 'tick').map(([, value]) => String(value)).join(' '))); // prettier-ignore
        run(stage, 0, rate);
        return { stage, list };
      };
      const { stage, list } = open(60);
      const kept: Float64Array[] = [];
      for (let i = 0; i < 240; i++) {
        kept.push(stage.snapshot());
        stage.tick(1 / 60);
      }
      const end = fingerprint(stage.snapshot());
      const from = random.whole(1, 230);
      const { time } = stage;
      stage.restore(kept[from]!);
      const since = stage.time;
      const told = list.filter((line) => Number(line.split(' ')[1]) >= since);
      list.length = 0;
      while (stage.time < time - 1e-9) stage.tick(1 / 60);
      expect(list, `seed ${seed}, from ${from}`).to.deep.equal(told);
      expect(fingerprint(stage.snapshot()), `seed ${seed}, from ${from}`).to.equal(end);
      const other = open(15);
      run(other.stage, 60, 15);
      const again = open(60);
      run(again.stage, 240);
      expect(other.list, `seed ${seed} at 15 a second`).to.deep.equal(again.list);
    }
  });

  it('are those that a dense sampling finds: none is missed, and the moment is right', () => {
    let pairs = 0;
    let met = 0;
    for (let seed = 0; seed < share({ quick: 60, test: 250, deep: 3600 }); seed++) {
      const random = randomizer(5200 + seed);
      const stage = openStage({ rows: ['.'], yPoints: 'up' });
      const bodies = Array.from({ length: 8 }, (_, i) => {
        const body = stage.add({ body: { width: random.between(0.3, 1.5), height: random.between(0.3, 2) }, run: { speed: random.between(1, 9) } }, { name: `n${i}`, at: [random.between(-4, 4), random.between(0, 8)], groups: ['all'] }); // prettier-ignore
        body.shove(random.between(-9, 9), random.between(-4, 14));
        return body;
      });
      stage.meet('all', 'all');
      const told = new Map<string, number[]>();
      stage.listen(({ event, who, other, time }) => {
        const key = [who, other].sort().join();
        if (event === 'meet' && who < other) told.set(key, [...(told.get(key) ?? []), time]);
      });
      const apart = (i: number, k: number): number => {
        const [a, b] = [bodies[i]!, bodies[k]!];
        return Math.max(
          Math.abs(a.x - b.x) - (a.motion.width + b.motion.width) / 2,
          a.y - b.y - b.height,
          b.y - a.y - a.height,
        );
      };
      const was = new Map<string, boolean>();
      const seen = new Map<string, number[]>();
      const rate = 2000;
      for (let tick = 0; tick < rate * 0.8; tick++) {
        stage.tick(1 / rate);
        for (let i = 0; i < 8; i++)
          for (let k = i + 1; k < 8; k++) {
            const key = `n${i},n${k}`;
            const now = apart(i, k) < -1e-5;
            // Those who began within one another have met at the very first moment.
            if (now && was.get(key) !== true) seen.set(key, [...(seen.get(key) ?? []), stage.time]);
            was.set(key, now || (was.get(key) === true && apart(i, k) < -1e-7));
          }
      }
      for (let i = 0; i < 8; i++)
        for (let k = i + 1; k < 8; k++) {
          pairs++;
          const key = `n${i},n${k}`;
          for (const time of seen.get(key) ?? []) {
            met++;
            const near = (told.get(key) ?? []).some(
              (moment) => moment <= time + 1e-6 && moment >= time - 1 / rate - 2e-4,
            );
            expect(near, `seed ${seed}, ${key} at ${time}; told ${String(told.get(key))}`).to.equal(true);
          }
        }
    }
    expect(pairs).to.be.greaterThan(1500);
    expect(met).to.be.greaterThan(pairs / 20);
  }).timeout(900_000);
});
