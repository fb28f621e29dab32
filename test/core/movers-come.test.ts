import { ability, fingerprint, openBare, openStage, recordTrace, script, type Level, type Mover, type Save, type Stage } from 'apperin'; // prettier-ignore
import { writeTrace } from 'apperin/files';
import { expect } from 'chai';
import { busyInput } from '../support/everything.js';
import { livelyTuning } from '../support/make.js';
import { type Random, randomizer } from '../support/random.js';
import { share, shareOf } from '../support/share.js';
import { presses } from '../support/simulate.js';

const YARD: Level = {
  rows: ['............', '............', '............', '............', '@...........', '############'],
};

const box = (x: number, y: number, w: number, h: number): Mover['shapes'] => [
  { form: 'solid', points: [[x, y], [x + w, y], [x + w, y + h], [x, y + h]] }, // prettier-ignore
];
const LIFT: Mover = { name: 'lift', shapes: box(4, 4.5, 2, 0.5), route: { curve: [[0, 0, 0, -3]], lap: 2, keyPoints: [0, 1, 0] } }; // prettier-ignore
const CART: Mover = { name: 'cart', shapes: box(0, 4.6, 2, 0.4) };

const run = (stage: Stage, ticks: number, rate = 60): void => {
  for (let i = 0; i < ticks; i++) stage.tick(1 / rate);
};

describe('A mover that is added while the level runs', () => {
  it('begins its way at that moment, is stood on, asked about and drawn, and gone again', () => {
    const stage = openStage(YARD);
    const hero = stage.add({}, { at: [5, 4] });
    run(stage, 30);
    hero.place(5, 4.5);
    stage.addMover(LIFT);
    const lift = stage.mover('lift');
    expect([lift.x, lift.y, lift.isHere, stage.movers.length]).to.deep.equal([0, 0, true, 1]);
    expect(stage.shapes().filter(({ mover }) => mover === 'lift')).to.have.lengthOf(1);
    const told: string[] = [];
    stage.listen(({ event, mover }) => told.push(`${event} ${mover}`.trim()));
    run(stage, 30);
    expect(lift.y).to.be.closeTo(-1.5, 1e-9);
    expect([hero.mover, hero.y]).to.deep.equal(['lift', 3]);
    expect(stage.ray([4.5, 0], [4.5, 9])).to.deep.include({ mover: 'lift', y: 3 });
    expect(stage.overlap({ x: 4.1, y: 3.1, width: 0.1, height: 0.1 }).map(({ mover }) => mover)).to.deep.equal(['lift']); // prettier-ignore
    expect(stage.sweep({ x: 4.25, y: 1, width: 0.25, height: 0.25 }, [0, 3])).to.deep.include({ mover: 'lift', distance: 1.75 }); // prettier-ignore
    stage.removeMover('lift');
    expect([lift.isHere, lift.x, lift.y, lift.waits, stage.movers.length]).to.deep.equal([false, 0, -1.5, false, 0]);
    expect([stage.ray([4.5, 0], [4.5, 4.9]), stage.shapes().length]).to.deep.equal([undefined, 1]);
    expect(stage.sweep({ x: 4.2, y: 1, width: 0.2, height: 0.2 }, [0, 3])).to.equal(undefined);
    run(stage, 20);
    expect(told).to.include.members(['board lift', 'leave lift', 'alight lift']);
    expect(told.indexOf('leave lift')).to.be.below(told.indexOf('alight lift'));
    // Thrown as high as the lift went, and not carried on.
    expect(hero.mover).to.equal('');
    run(stage, 60);
    expect([hero.y, hero.support]).to.deep.equal([5, 'ground']);
  });

  it('plays as one of the level does', () => {
    const tunings = [{}, { jump: { height: 2.2 } }];
    for (const tuning of tunings) {
      const input = presses('right@0.1-0.5 jump@0.8-1.1 left@1-1.4 jump@1.6-1.7 right@2-2.6');
      const lists = [true, false].map((isLater) => {
        const stage = openStage(isLater ? YARD : { ...YARD, movers: [LIFT] });
        if (isLater) stage.addMover(LIFT);
        stage.add(tuning, { at: [3, 5], driver: script(input) });
        const told: string[] = [];
        stage.listen((event) => told.push(JSON.stringify(event)));
        run(stage, 240);
        return told;
      });
      expect(lists[1]!.length).to.be.above(6);
      expect(lists[0]).to.deep.equal(lists[1]);
    }
  });

  it('pushes out who is within it, comes and goes at the moment of an event at every rate, and is moved by the game', () => {
    const lists = [15, 60, 240].map((rate) => {
      const stage = openStage({ ...YARD, movers: [{ ...CART, name: 'ram', shapes: box(9, 3, 1, 2) }] });
      const hero = stage.add({}, { driver: script(presses('right@0 jump@0.5-0.7 jump@1.4-1.6')) });
      const told: string[] = [];
      stage.listen(({ event, time, x, y, vx, mover }) => told.push([event, time, x, y, vx, mover].join(' ')));
      hero.on('takeoff', () => stage.addMover({ ...LIFT, shapes: box(hero.x - 1, 4.5, 3, 0.5) }));
      hero.on('touchdown', () => {
        if (stage.movers.some(({ name }) => name === 'lift')) stage.removeMover('lift');
      });
      hero.on('bump', ({ mover }) => {
        if (mover === 'ram') stage.removeMover('ram');
      });
      run(stage, 3 * rate, rate);
      return [...told, ...stage.movers.map(({ name }) => name)];
    });
    expect(lists[0]!.some((line) => line.startsWith('freed') || line.startsWith('bump'))).to.equal(true);
    expect(lists[1]).to.deep.equal(lists[0]);
    expect(lists[2]).to.deep.equal(lists[0]);
    const stage = openStage(YARD);
    stage.addMover(CART);
    const hero = stage.add({}, { at: [1, 4.6] });
    run(stage, 5);
    for (let i = 1; i <= 30; i++) {
      stage.mover('cart').moveTo(i / 10, 0);
      stage.tick(1 / 60);
    }
    expect(hero.x).to.be.closeTo(4, 1e-9);
    // It waits for nobody any more that is gone while it is held up.
    stage.removeMover('cart');
    expect(() => stage.mover('cart')).to.throw(RangeError, 'there is no mover cart; the level has none');
  });

  it('that held a body up, or pressed it, lets it go', () => {
    const press: Mover = { name: 'press', shapes: box(2, 0, 3, 1), route: { curve: [[0, 0, 0, 3.5]], lap: 4, keyPoints: [0, 1, 0] } }; // prettier-ignore
    const anvil: Mover = { name: 'anvil', shapes: box(1, 4.4, 5, 0.6) };
    for (const gone of ['press', 'anvil']) {
      const stage = openStage({ ...YARD, movers: [press] });
      stage.addMover(anvil);
      const hero = stage.add({}, { at: [3.5, 4.4], driver: script(presses('right@3')) });
      const told: string[] = [];
      stage.listen(({ event, mover }) => told.push(`${event} ${mover}`.trim()));
      run(stage, 150);
      expect([stage.mover('press').waits, told.includes('crushed press')]).to.deep.equal([true, true]);
      const { y } = stage.mover('press');
      stage.removeMover(gone);
      run(stage, 60);
      if (gone === 'anvil') expect(stage.mover('press').y).to.be.above(y);
      run(stage, 120);
      expect(hero.x).to.be.above(5);
    }
  });

  it('is refused by name where it cannot be', () => {
    const stage = openStage({ ...YARD, movers: [CART] });
    for (const [call, message] of [
      [() => stage.addMover(undefined as never), /^mover is empty; it must be a group of keys with name and shapes/], // prettier-ignore
      [() => stage.addMover({ name: '', shapes: box(0, 0, 1, 1) }), 'a mover needs a name'],
      [() => stage.addMover({ name: 'a', shapes: [] }), 'the mover a has no shapes'],
      [() => stage.addMover({ ...LIFT, policy: 'halt' as never }), 'policy is halt; it must be stop, turn, through, tell'], // prettier-ignore
      [() => stage.addMover({ ...LIFT, route: { curve: [], lap: 1 } }), /route/],
      [() => stage.addMover({ name: 'a', shapes: [{ ...LIFT.shapes[0]!, carry: { layer: 'mist' } }] }), 'there is no layer mist; the level has none'], // prettier-ignore
      [() => stage.addMover({ name: 'a', shapes: [{ ...LIFT.shapes[0]!, carry: { surface: 'ice' } }] }), 'there is no surface ice; the level has none'], // prettier-ignore
      [() => stage.addMover(CART), 'there is a mover named cart already'],
      [() => stage.addShape(CART.shapes[0]!, 'cart'), 'there is something named cart in the level already'],
      [() => stage.removeMover('carts'), 'there is no mover carts; the level has cart'],
    ] as const)
      expect(call, String(message)).to.throw(message);
    // Twice in one moment: the second is told of it.
    const hero = stage.add({}, { at: [8, 5] });
    hero.on('touchdown', () => {
      stage.addMover(LIFT);
      stage.addMover(LIFT);
    });
    hero.hop(1);
    expect(() => run(stage, 90)).to.throw('there is a mover named lift already');
    expect(stage.movers.map(({ name }) => name)).to.deep.equal(['cart', 'lift']);
    // Bare stages and other stages have none of it, and say so.
    const snapshot = stage.snapshot();
    const other = openStage({ ...YARD, movers: [CART] });
    other.add({});
    expect(() => other.restore(snapshot)).to.throw(RangeError, 'no such mover was ever added here');
    const bare = openBare({ ...YARD, movers: [CART] });
    bare.add({});
    expect(() => bare.restore(snapshot)).to.throw(RangeError, 'of movers that were added, is 1');
    stage.removeMover('lift');
    stage.removeMover('cart');
    expect(() => bare.restore(stage.snapshot())).to.throw(RangeError, 'of the movers, is 4');
    other.restore(stage.snapshot());
    expect(other.movers).to.deep.equal([]);
    // And what is of one that is gone is refused as that of one that never was.
    expect(() => other.mover('cart')).to.throw(RangeError, 'there is no mover cart; the level has none');
  });

  it('is as before where the tick in which it came or went has not happened', () => {
    const clumsy = ability('clumsy', {
      act(c) {
        if (c.now > 0.25) throw new Error('clumsy');
        c.lookAgain(0.3);
      },
    });
    for (const how of ['come', 'go', 'both'] as const) {
      const stage = openStage({ ...YARD, movers: how === 'come' ? [] : [CART] });
      if (how === 'both') stage.addMover(LIFT);
      const hero = stage.add({}, { at: [8.5, 4.8], abilities: [clumsy] });
      hero.on('touchdown', () => {
        if (how !== 'come') stage.removeMover('cart');
        if (how === 'both') stage.removeMover('lift');
        stage.addMover({ ...LIFT, name: 'other' });
      });
      stage.add({}, { name: 'second', at: [1, 4.6] });
      const before = stage.snapshot();
      const names = stage.movers.map(({ name }) => name);
      expect(() => stage.tick(0.5)).to.throw('clumsy');
      expect(stage.movers.map(({ name }) => name)).to.deep.equal(names);
      expect(stage.snapshot().slice(7)).to.deep.equal(before.slice(7));
      expect(stage.shapes().length).to.equal(1 + names.length);
    }
  });

  it('is in a trace from then on, and blank when it is gone', () => {
    const stage = openStage({ ...YARD, movers: [CART] });
    const trace = recordTrace(stage, stage.add({}));
    stage.tick(1 / 60);
    trace.row();
    stage.addMover(LIFT);
    stage.removeMover('cart');
    stage.tick(0.5);
    trace.row();
    expect(trace.movers).to.deep.equal(['cart', 'lift']);
    expect(trace.rows.map(({ moved }) => moved)).to.deep.equal([[0, 0], [0, 0], [NaN, NaN, 0, -1.5]]); // prettier-ignore
    const [head, first, , last] = writeTrace(trace).split('\r\n');
    expect(head).to.match(/,mover:cart:x,mover:cart:y,mover:lift:x,mover:lift:y$/);
    expect([first!.endsWith(',0,0,,'), last!.endsWith(',,,0,-1.5')]).to.deep.equal([true, true]);
  });

  it(`has the same future for a restored, a forked and a loaded stage, at every rate, with all else that can change: ${shareOf({ quick: 20, test: 120, deep: 3000 }, 'games')}`, () => {
    for (let seed = 0; seed < share({ quick: 20, test: 120, deep: 3000 }); seed++) {
      const game = gameOf(randomizer(51000 + seed));
      const open = (): Stage => {
        const stage = openStage(game.level);
        const carries = { groups: ['all'], boxes: { blade: [0.2, -1, 1, 0.5] as const } };
        stage.add(game.tuning, { at: [6, 4], driver: script(game.input), ...carries });
        stage.add({}, { name: 'second', at: [2, 4], ...carries });
        return reacting(stage, game);
      };
      const at = `seed ${seed}`;
      const stage = open();
      play(stage, game, 0, game.cut);
      const snapshot = stage.snapshot();
      const save = JSON.parse(JSON.stringify(stage.save())) as Save;
      const drivers = { hero: script(game.input) };
      const others = [stage.fork(drivers), openStage(game.level).load(save, { hero: script(game.input) })];
      const told = play(stage, game, game.cut, 16);
      const end = fingerprint(stage.snapshot());
      for (const other of others) {
        reacting(other, game);
        expect(play(other, game, game.cut, 16), at).to.deep.equal(told);
        expect(fingerprint(other.snapshot()), at).to.equal(end);
      }
      stage.restore(snapshot);
      expect(fingerprint(stage.snapshot()), at).to.equal(fingerprint(snapshot));
      expect(play(stage, game, game.cut, 16), at).to.deep.equal(told);
      expect(fingerprint(stage.snapshot()), at).to.equal(end);
      // Quarter seconds at which something is asked are shared moments of all rates.
      const lists = [16, 60, 240].map((rate) => play(open(), game, 0, 16, rate).map(withoutTicks));
      expect(lists[1], at).to.deep.equal(lists[0]);
      expect(lists[2], at).to.deep.equal(lists[0]);
    }
  });
});

interface Game {
  level: Level;
  tuning: ReturnType<typeof livelyTuning>;
  input: ReturnType<typeof busyInput>;
  movers: readonly Mover[];
  /** At which quarter of a second which of them comes, or goes. */
  asked: readonly (readonly [number, number])[];
  /** And what else is asked then: what it is, at which place, and how much. */
  more: readonly (readonly [number, number, number, number, number])[];
  cut: number;
}

function gameOf(random: Random): Game {
  const rows = Array.from({ length: 8 }, (_, row) =>
    Array.from({ length: 14 }, () => (row === 7 || (row > 4 && random.chance(0.15)) ? '#' : '.')).join(''),
  );
  const movers = ['one', 'two', 'three', 'four'].map((name): Mover => {
    const [x, y, w, h] = [random.between(0, 11), random.between(1, 6), random.between(0.5, 4), random.between(0.3, 1.5)]; // prettier-ignore
    const shapes = random.chance(0.7) ? box(x, y, w, h) : [{ form: random.pick(['one-way', 'line'] as const), points: [[x, y], [x + w, y + random.between(-1, 1)]] as const }]; // prettier-ignore
    const curve = [[0, 0, random.between(-4, 4), random.between(-3, 3)]];
    return {
      name,
      shapes,
      policy: random.pick(['stop', 'turn', 'through', 'tell']),
      route: { curve, lap: random.between(1, 4), keyPoints: [0, 1, 0], phase: random.between(0, 1) },
    };
  });
  const walls = { left: 'wall', right: 'wall', top: 'wall', bottom: 'wall' } as const;
  return {
    level: {
      rows,
      bounds: walls,
      zones: [{ name: 'race', box: [3, 3, 3, 3], tags: ['wet'], current: [1, 0] }],
      movers: random.chance(0.5) ? [{ ...movers[0]!, name: 'own' }] : [],
    },
    tuning: livelyTuning(random),
    input: busyInput(random, 4).filter(({ action }) => action !== 'dash'),
    movers,
    asked: Array.from({ length: random.whole(3, 14) }, () => [random.whole(0, 15), random.whole(0, 4)] as const),
    more: Array.from({ length: random.whole(0, 16) }, () => [random.whole(0, 15), random.whole(0, 5), random.between(0, 13), random.between(0, 7.5), random.between(0, 1)] as const), // prettier-ignore
    cut: random.whole(2, 12),
  };
}

/** Something else of all that can change while a stage runs. */
function change(stage: Stage, what: number, x: number, y: number, much: number): void {
  const hero = stage.characters[0]!;
  if (what === 0) stage.setMark(x, y, much < 0.4 ? '#' : much < 0.6 ? '=' : '.');
  else if (what === 1 && stage.hasShape('crate')) stage.removeShape('crate');
  else if (what === 1)
    stage.addShape({ form: 'solid', points: [[x, y], [x + 1, y], [x + 1, y + 1]] }, 'crate'); // prettier-ignore
  else if (what === 2) hero.setTempo(much < 0.3 ? 1 : much < 0.6 ? 0.4 : 1.7);
  else if (what === 3) hero.freeze(much / 4);
  else if (what === 4) stage.setZone('race', much < 0.5);
  else hero.setBox('blade', much < 0.5);
}

function turn(stage: Stage, { movers }: Game, which: number): void {
  const name = movers[which]?.name ?? 'own';
  if (stage.movers.some((mover) => mover.name === name)) stage.removeMover(name);
  else if (which < movers.length) stage.addMover(movers[which]!);
}

/** A bump brings something; some of what is landed on goes. */
function reacting(stage: Stage, game: Game): Stage {
  const hero = stage.characters[0]!;
  stage.meet(hero, { tag: 'wet' }, { boxes: ['blade'] });
  stage.meet('all', 'all', { boxes: ['blade', ''] });
  const isThere = (name: string): boolean => stage.movers.some((mover) => mover.name === name);
  hero.on('bump', ({ side }) => {
    const mover = game.movers[side === 'head' ? 1 : 2]!;
    if (!isThere(mover.name)) stage.addMover(mover);
  });
  hero.on('touchdown', ({ mover }) => {
    if (mover === 'one' || mover === 'own') stage.removeMover(mover);
  });
  return stage;
}

/** Plays from one quarter of a second to another. */
function play(stage: Stage, game: Game, from: number, until: number, rate = 60): string[] {
  const told: string[] = [];
  const end = stage.listen((event) => told.push(JSON.stringify(event)));
  for (let quarter = from; quarter < until; quarter++) {
    for (const [when, which] of game.asked) if (when === quarter) turn(stage, game, which);
    for (const [when, ...what] of game.more) if (when === quarter) change(stage, ...what);
    for (let i = 0; i < rate / 4; i++) stage.tick(1 / rate);
  }
  end();
  return told;
}

function withoutTicks(line: string): string {
  return line.replace(/"tick":\d+,?/, '');
}
