import { ability, fingerprint, openStage, script, type InputRow, type Level, type Stage, type StageEvent } from 'apperin'; // prettier-ignore
import { expect } from 'chai';
import { busyInput, everything, mill } from '../support/everything.js';
import { type Random, randomizer } from '../support/random.js';
import { share, shareOf } from '../support/share.js';
import { presses } from '../support/simulate.js';

const FLOOR: Level = { rows: ['@...................', '####################'] };
const run = (stage: Stage, ticks: number, rate = 60): void => {
  for (let i = 0; i < ticks; i++) stage.tick(1 / rate);
};

/** Lunges for a while, at a speed of its own; then it has to wait. Two of its numbers go with the tempo, one does not. */
const lunge = ability('lunge', {
  own: { speed: { value: 12, unit: 'speed' }, lasts: { value: 0.25, unit: 'time' }, rest: { value: 0.5, unit: 'time' }, share: 0.5 }, // prettier-ignore
  timers: ['active', 'wait'],
  actions: ['dash'],
  act(c, own, s) {
    if (!s.wait && c.take('dash')) [s.active, s.wait] = [own.lasts, own.rest];
    if (!s.active) return;
    c.claim();
    c.gravity = 0;
    c.vx = c.facing * own.speed;
    c.vy = 0;
  },
});

describe('A character whose own time goes at another tempo', () => {
  it('goes the same way, slower or faster, and so does everything of its own', () => {
    for (const tempo of [0.5, 0.3, 2]) {
      const play = (at: number): [string[], number[]] => {
        const stage = openStage(FLOOR);
        const rows = presses('right@0 dash@0.3 jump@0.8-1 left@1.1-1.6').map((row) => ({
          ...row,
          time: row.time / at,
        }));
        const hero = stage.add({}, { driver: script(rows), abilities: [lunge] });
        if (at !== 1) hero.setTempo(at);
        const told: string[] = [];
        stage.listen(({ event, time, x, y }) => told.push([event, (time * at).toFixed(5), x.toFixed(4), y.toFixed(4)].join(' '))); // prettier-ignore
        const seen: number[] = [];
        for (let i = 0; i < 20; i++) {
          stage.tick(0.097 / at);
          const { poseTime, posePhase } = hero.view();
          seen.push(hero.x, hero.y, hero.vx / at, poseTime, posePhase, hero.poseTime, hero.ability('lunge').wait!);
        }
        expect(hero.tempo).to.equal(at);
        return [told, seen];
      };
      const [told, seen] = play(tempo);
      const [wanted, numbers] = play(1);
      expect(told).to.deep.equal(wanted);
      expect(wanted.length).to.be.above(6);
      seen.forEach((value, i) => expect(value, `number ${i} at ${tempo}`).to.be.closeTo(numbers[i]!, 1e-4));
    }
  });

  it(`at any moment, with every ability and in any terrain: ${shareOf({ quick: 30, test: 200, deep: 5000 }, 'games')}`, () => {
    let changed = 0;
    for (let seed = 0; seed < share({ quick: 30, test: 200, deep: 5000 }); seed++) {
      const random = randomizer(61000 + seed);
      const { level, tuning, input, when, tempo } = gameOf(random);
      // The same keys, those after the change at the new tempo.
      const later = (time: number): number => (time <= when ? time : when + (time - when) / tempo);
      const sooner = (time: number): number => (time <= when ? time : when + (time - when) * tempo);
      const play = (isOther: boolean): [Map<string, number[]>, number[]] => {
        const stage = openStage(level);
        const rows = isOther ? input.map((row) => ({ ...row, time: later(row.time) })) : input;
        const hero = stage.add(tuning, { driver: script(rows) });
        const told = new Map<string, number[]>();
        stage.listen(({ event, time }) => {
          told.set(event, [...(told.get(event) ?? []), isOther ? sooner(time) : time]);
        });
        const places: number[] = [];
        for (let i = 0; i < 24; i++) {
          if (i === 8 && isOther) hero.setTempo(tempo);
          stage.tick(isOther && i >= 8 ? 0.125 / tempo : 0.125);
          places.push(hero.x, hero.y);
        }
        return [told, places];
      };
      const [[told, places], [wanted, there]] = [play(true), play(false)];
      expect([...told.keys()].sort(), `seed ${seed}`).to.deep.equal([...wanted.keys()].sort());
      for (const [event, times] of told) {
        expect(times.length, `seed ${seed}, ${event}`).to.equal(wanted.get(event)!.length);
        times.forEach((time, i) => expect(time, `seed ${seed}, ${event} ${i}`).to.be.closeTo(wanted.get(event)![i]!, 2e-6)); // prettier-ignore
        changed += times.filter((time) => time > when).length;
      }
      places.forEach((place, i) => expect(place, `seed ${seed}, place ${i}`).to.be.closeTo(there[i]!, 1e-4));
    }
    expect(changed).to.be.above(300);
  });

  it('leaves to the stage what is the stage’s: belts, movers, what the game gives', () => {
    const stage = openStage({
      rows: ['@.........', 'bbbbbbbbbb'],
      marks: { b: { solid: 'full', surface: 'belt' } },
      surfaces: { belt: { flow: 2, bounce: { share: 0.5, from: 6 } } },
      movers: [{ name: 'cart', shapes: [{ form: 'solid', points: [[6, 0], [9, 0], [9, 0.5], [6, 0.5]] }], route: { curve: [[0, 0, 0, -4]], lap: 4, keyPoints: [0, 1, 0] } }], // prettier-ignore
    });
    const hero = stage.add({});
    run(stage, 30);
    expect(hero.vx).to.be.closeTo(2, 1e-9);
    hero.setTempo(0.25);
    run(stage, 1);
    expect(hero.vx).to.be.closeTo(2, 1e-9);
    hero.place(7.5, stage.mover('cart').y);
    run(stage, 60);
    expect([hero.mover, hero.vy]).to.deep.equal(['cart', stage.mover('cart').vy]);
    hero.shove(3, 0);
    expect(hero.vx).to.equal(3);
    // A bounce is one where it would be one at its own tempo.
    const heights = [1, 0.25].map((tempo) => {
      const other = openStage({ ...stage.level, movers: [] });
      const faller = other.add({}, { at: [2, -2] });
      faller.setTempo(tempo);
      let least = Infinity;
      let landed = false;
      faller.on('touchdown', () => (landed = true));
      for (let i = 0; i < 600; i++) {
        other.tick(1 / 120);
        if (landed) least = Math.min(least, faller.y);
      }
      return least;
    });
    expect(heights[1]).to.be.closeTo(heights[0]!, 0.02);
  });

  it('is the same at every rate, in snapshots, forks, saves, rooms, recordings and after a change of tuning', () => {
    const lists = [16, 64, 256].map((rate) => {
      const stage = openStage(FLOOR);
      const hero = stage.add({}, { driver: script(presses('right@0 jump@0.2-0.4 jump@0.9-1.2 left@1.5-2')), abilities: [lunge] }); // prettier-ignore
      const list: string[] = [];
      stage.listen(({ event, time, x, y, vx }: StageEvent) => list.push([event, time, x, y, vx].join(' ')));
      hero.on('apex', () => hero.setTempo(0.37));
      hero.on('touchdown', () => hero.setTempo(1.9));
      const record = stage.record(hero);
      run(stage, 2.5 * rate, rate);
      const again = openStage(FLOOR);
      const same = again.add({}, { driver: script(record.rows), abilities: [lunge] });
      run(again, 150);
      expect([same.x, same.tempo]).to.deep.equal([hero.x, hero.tempo]);
      return list;
    });
    expect(lists[0]!.filter((line) => line.startsWith('touchdown'))).to.have.lengthOf.above(1);
    expect(lists[1]).to.deep.equal(lists[0]);
    expect(lists[2]).to.deep.equal(lists[0]);
    const input = presses('right@0 jump@0.2-0.4 jump@0.9-1.2');
    const stage = openStage(FLOOR);
    const hero = stage.add({}, { driver: script(input) });
    run(stage, 20);
    hero.setTempo(0.4);
    hero.retune({ run: { speed: 5 } });
    expect(hero.motion.ground.speed).to.be.closeTo(2, 1e-12);
    run(stage, 5);
    const kept = stage.snapshot();
    const save = JSON.parse(JSON.stringify(stage.save())) as ReturnType<Stage['save']>;
    const others = [stage.fork({ hero: script(input) }), openStage(FLOOR).load(save, { hero: script(input) })];
    hero.setTempo(1);
    run(stage, 10);
    stage.restore(kept);
    expect(hero.tempo).to.equal(0.4);
    for (const one of [stage, ...others]) run(one, 60);
    for (const other of others) expect(fingerprint(other.snapshot())).to.equal(fingerprint(stage.snapshot()));
    const room = openStage(FLOOR);
    hero.transfer(room);
    expect([hero.tempo, hero.motion.ground.speed]).to.deep.equal([0.4, others[0]!.characters[0]!.motion.ground.speed]);
    hero.setTempo(1);
    expect(hero.motion.ground.speed).to.equal(5);
    for (const wrong of [0, -1, 17, NaN])
      expect(() => hero.setTempo(wrong)).to.throw(RangeError, `tempo is ${wrong}; it must be 0.0625 to 16`);
  });
});

function gameOf(random: Random): {
  level: Level;
  tuning: ReturnType<typeof everything>;
  input: InputRow[];
  when: number;
  tempo: number;
} {
  const level = mill(random);
  const tuning = everything(random);
  delete tuning.own;
  const input = busyInput(random, 3)
    .filter(({ action }) => action !== 'dash')
    .map((row) => ({ ...row, time: Math.round(row.time * 15625) / 15625 }));
  return { level, tuning, input, when: 1, tempo: random.pick([0.25, 0.5, 2]) };
}
