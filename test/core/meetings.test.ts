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

/** How far a convex area is from a box at least along the ways that can part them; below 0 where they overlap. */
function apart(piece: readonly (readonly [number, number])[], x: number, y: number, w: number, h: number): number {
  const box = [[x, y], [x + w, y], [x + w, y + h], [x, y + h]] as const; // prettier-ignore
  let most = -Infinity;
  for (const outline of [piece, box])
    outline.forEach(([ax, ay], i) => {
      const [bx, by] = outline[(i + 1) % outline.length]!;
      const length = Math.hypot(bx - ax, by - ay);
      for (const turn of [1, -1]) {
        const [nx, ny] = [(turn * (by - ay)) / length, (-turn * (bx - ax)) / length];
        const along = (points: typeof piece): number[] => points.map(([px, py]) => nx * px + ny * py);
        most = Math.max(most, Math.min(...along(box)) - Math.max(...along(piece)));
      }
    });
  return most;
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

  it('are told with both characters, also of one that goes at that very moment, for good or not', () => {
    for (const keep of [true, false]) {
      const stage = openStage(FLOOR);
      const hero = stage.add({}, { at: [4, 1.9], name: 'hero', groups: ['mill hands'] });
      const foe = stage.add({}, { name: 'foe', at: [4, 2], groups: ['foes', 'crabs'] });
      stage.meet(hero, 'foes');
      const list: unknown[][] = [];
      stage.listen(
        ({ event }, who, other) => void (['meet', 'part'].includes(event) && list.push([event, who, other])),
      );
      hero.on('meet', (_event, who, other) => {
        expect([who, other?.groups]).to.deep.equal([hero, ['foes', 'crabs']]);
        stage.remove(other!, { keep });
      });
      run(stage, 3);
      expect(list).to.deep.equal([['meet', hero, foe], ['meet', foe, hero], ['part', hero, foe], ['part', foe, hero]]); // prettier-ignore
      expect(stage.characters).to.deep.equal([hero]);
      hero.on('takeoff', (_event, who, other) => list.push([who, other]));
      hero.hop(1);
      run(stage, 1);
      expect(list.at(-1)).to.deep.equal([hero, undefined]);
    }
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

  it('of a box and zones are told to who carries it, from every side, as long as both are there', () => {
    const stage = openStage({
      rows: ['..............', '..............', '@..r.rr.......', '##############'],
      marks: { r: { zone: { tags: ['reed'] }, name: 'reed', each: true } },
      zones: [{ name: 'veil', pieces: [[[9, 3], [11, 3], [11, 1]]], tags: ['cloth'] }], // prettier-ignore
    });
    const list: string[] = [];
    const hero = stage.add({}, { at: [1, 3], boxes: { scythe: { box: [0.3, -1, 1, 0.4], on: false } }, groups: ['all'] }); // prettier-ignore
    stage.listen(({ event, zone, box, side, tags, other }) => {
      if (event === 'meet' || event === 'part') list.push([event, zone, box, side, ...tags, other].filter(Boolean).join(' ')); // prettier-ignore
    });
    const end = stage.meet('all', { tag: 'reed' }, { boxes: ['scythe'] });
    stage.meet(hero, { zone: 'veil' });
    hero.on('meet', ({ zone }) => zone.startsWith('reed') && stage.setZone(zone, false));
    hero.drive(script(presses('right@0-0.25')));
    run(stage, 60);
    expect([list.splice(0), hero.x > 2.5]).to.deep.equal([[], true]);
    // Switched on at the place: cut at once, from where it is; the next one stands.
    hero.setBox('scythe', true);
    run(stage, 2);
    expect(list.splice(0)).to.deep.equal(['meet reed 3,2 scythe bottom reed', 'part reed 3,2 scythe bottom reed']);
    expect([stage.hasZone('reed 3,2'), stage.hasZone('reed 5,2')]).to.deep.equal([false, true]);
    hero.drive(script([{ time: stage.time + 0.01, action: 'right', value: 1 }]));
    run(stage, 30);
    expect(list.splice(0).filter((line) => line.startsWith('meet'))).to.deep.equal(['meet reed 5,2 scythe right reed', 'meet reed 6,2 scythe right reed']); // prettier-ignore
    // A slant is met where it is.
    let moment = 0;
    hero.on('meet', ({ x, time, zone }) => {
      if (zone !== 'veil') return;
      expect(x + 0.35 - 9).to.be.closeTo(0, 1e-6);
      moment = time;
    });
    hero.place(8, 2.999);
    run(stage, 60);
    expect(list.splice(0)).to.deep.equal(['meet veil right cloth', 'part veil left cloth']);
    expect(moment).to.be.above(0);
    // What is not asked for any more is not told, and what comes back where somebody is is met at once.
    end();
    stage.setZone('reed 5,2', true);
    hero.place(5.5, 3);
    run(stage, 5);
    expect(list).to.deep.equal([]);
    stage.meet(hero, { tag: 'reed' });
    run(stage, 1);
    expect(list.splice(0).map((line) => line.slice(0, 13))).to.deep.equal(['meet reed 5,2', 'part reed 5,2']);
    // A cell that is another thing now is no zone any more; the mark brings it back.
    stage.setZone('reed 5,2', true);
    run(stage, 1);
    list.length = 0;
    for (const mark of ['.', 'r']) stage.setMark(5.5, 2.5, mark);
    run(stage, 1);
    expect(list.splice(0).map((line) => line.slice(0, 13))).to.include('meet reed 5,2');
    for (const [call, message] of [
      [() => stage.meet(hero, { zone: 'veils' }), 'there is no zone veils; the level has veil, reed 3,2, reed 5,2, reed 6,2 (did you mean veil?)'], // prettier-ignore
      [() => stage.meet(hero, { tag: 'reeds' }), 'there is no zone with the tag reeds; the level has'],
      [() => stage.meet(hero, { tag: 'reed' }, { boxes: ['scythe', 'stem'] }), 'a zone has no box stem'],
      [() => stage.meet(hero, { tag: 'reed' }, { boxes: ['scyth'] }), 'hero carries no box scyth; it has scythe'],
      [() => stage.meet({ tag: 'reed' } as never, hero), 'those who meet are characters of this stage, or groups by their names; the second may be { zone } or { tag }'], // prettier-ignore
    ] as const)
      expect(call, message).to.throw(RangeError, message);
  });

  it('of boxes and zones are those that a dense sampling finds, aboard what moves as well', () => {
    let met = 0;
    for (let seed = 0; seed < share({ quick: 8, test: 40, deep: 1500 }); seed++) {
      const random = randomizer(8100 + seed);
      const corner = (): [number, number] => [random.between(0, 15), random.between(0, 8)];
      const zones = Array.from({ length: 6 }, (_, i) => {
        const [x, y] = corner();
        const points = random.chance(0.5) ? [[x, y], [x + 2, y + random.between(-1, 1)], [x + random.between(0, 2), y + 2]] as const : [[x, y], [x + 1, y], [x + 1, y + 1], [x, y + 1]] as const; // prettier-ignore
        return { name: `z${i}`, pieces: [points, ...(random.chance(0.3) ? [points.map(([px, py]) => [px + 1, py + 0.3] as const)] : [])], tags: ['all'] }; // prettier-ignore
      });
      const lift = { name: 'lift', shapes: [{ form: 'solid', points: [[4, 7], [10, 7], [10, 7.5], [4, 7.5]] }], route: { curve: [[0, 0, 3, -3]], lap: 2, keyPoints: [0, 1, 0] } } as const; // prettier-ignore
      const walls = { left: 'wall', right: 'wall' } as const;
      const rows = [...Array.from({ length: 9 }, () => '.'.repeat(16)), '/\\##/\\##/\\##/\\##'.slice(0, 16)];
      const stage = openStage({ rows, zones, movers: [lift], bounds: walls });
      const [x, y, w, h] = [random.between(-1, 1), random.between(-2, 0), random.between(0.2, 2), random.between(0.2, 2)]; // prettier-ignore
      const hero = stage.add(lively(random, livelyTuning(random)), { at: [7, 6.9], boxes: { own: [x, y, w, h] }, driver: script(busyInput(random, 3).filter(({ action }) => action !== 'dash')) }); // prettier-ignore
      stage.meet(hero, { tag: 'all' }, { boxes: ['own'] });
      const inside = new Set<string>();
      stage.listen(({ event, zone, box }) => {
        if (box !== 'own') return;
        if (event === 'meet') inside.add(zone);
        else inside.delete(zone);
        met++;
      });
      for (let tick = 0; tick < 720; tick++) {
        stage.tick(1 / 240);
        const left = hero.x + (hero.facing > 0 ? x : -x - w);
        for (const { name, pieces } of zones) {
          const [[px, py]] = pieces[0]!;
          if (Math.abs(px - left) + Math.abs(py - hero.y - y) > 10) continue;
          const gap = Math.min(...pieces.map((piece) => apart(piece, left, hero.y + y, w, h)));
          if (Math.abs(gap) > 1e-5) expect(inside.has(name), `seed ${seed}, ${name} at ${stage.time}`).to.equal(gap < 0); // prettier-ignore
        }
      }
    }
    expect(met).to.be.greaterThan(30);
  });

  it('go on in a fork and from a save: who overlaps already is not told again', () => {
    const level: Level = { ...FLOOR, zones: [{ name: 'pool', box: [5, 0, 3, 2], tags: ['wet'] }] };
    const input = presses('right@0-0.9 left@1.5');
    const ask = (stage: Stage): string[] => {
      const list = heard(stage);
      stage.meet('all', 'all');
      stage.meet('all', { tag: 'wet' });
      return list;
    };
    const stage = openStage(level);
    stage.add({}, { driver: script(input), groups: ['all'] });
    stage.add({}, { name: 'foe', at: [6.5, 2], groups: ['all'] });
    const list = ask(stage);
    run(stage, 56);
    expect(list.splice(0).map((line) => line.slice(0, 8))).to.deep.equal([
      'meet foe',
      'meet her',
      'meet her',
      'meet foe',
    ]);
    const save = stage.save();
    const others = [stage.fork({ hero: script(input) }), openStage(level).load(save, { hero: script(input) })];
    const lists = others.map(ask);
    const late = stage.fork({ hero: script(input) });
    for (const one of [stage, ...others]) run(one, 100);
    expect(list.length).to.be.above(2);
    for (const other of lists) expect(other).to.deep.equal(list);
    // Asked for later, whoever overlaps then is told so.
    run(late, 1);
    const told = ask(late);
    run(late, 1);
    expect(told.length).to.equal(4);
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
        if (stage.level.zones.length > 0) {
          stage.meet('all', { zone: stage.level.zones[0]!.name }, { boxes: ['reach'] });
          stage.meet('all', { zone: stage.level.zones.at(-1)!.name });
        }
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
