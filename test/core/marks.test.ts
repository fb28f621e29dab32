import {
  ability,
  compileOutlines,
  fingerprint,
  openBare,
  openStage,
  script,
  type Level,
  type Save,
  type Stage,
  type Tuning,
} from 'apperin';
import { expect } from 'chai';
import { busyInput } from '../support/everything.js';
import { livelyTuning } from '../support/make.js';
import { type Random, randomizer } from '../support/random.js';
import { share, shareOf } from '../support/share.js';
import { presses } from '../support/simulate.js';

const run = (stage: Stage, ticks: number, rate = 60): void => {
  for (let i = 0; i < ticks; i++) stage.tick(1 / rate);
};
const names = (stage: Stage): string[] => {
  const list: string[] = [];
  stage.listen(({ event }) => list.push(event));
  return list;
};

const MARKS: Level['marks'] = {
  a: { solid: 'lower' },
  b: { solid: [0, 0.5] },
  c: { solid: [0.5, 1] },
  d: { solid: { hanging: [0.5, 0.25] } },
  e: { 'one-way': [0, 1] },
  f: { 'one-way': [1, 0] },
  g: { solid: 'full', surface: 'ice' },
  h: { solid: 'left' },
  i: { solid: 'full', name: 'door' },
  k: { solid: 'full', name: 'brick', each: true },
  l: { 'one-way': 'full', name: 'slat', each: true },
  m: { solid: [0.3333, 0.6667] },
  n: { solid: 'upper-right' },
  w: { zone: { gravity: 0.5 }, name: 'pool' },
};
const ALL = ['.', '.', '.', '#', '#', '#', '/', '\\', '=', '=', ...Object.keys(MARKS!)];

interface Ground {
  cells: string[][];
  width: number;
  height: number;
  level(): Level;
  /** A place in a cell, in the level's own axes. */
  at(column: number, row: number): [number, number];
}

function groundOf(random: Random, width: number, height: number, more: Partial<Level> = {}, marks = ALL): Ground {
  const cells = Array.from({ length: height }, () => Array.from({ length: width }, () => random.pick(marks)));
  const tile = more.tile ?? 1;
  const [x, y] = more.origin ?? [0, 0];
  const isUp = more.yPoints === 'up';
  return {
    cells,
    width,
    height,
    level: () => ({ rows: cells.map((row) => row.join('')), marks: MARKS!, surfaces: { ice: { grip: 0.1 } }, ...more }),
    at: (column, row) => [x + (column + 0.5) * tile, y + ((isUp ? height - 1 - row : row) + 0.5) * tile],
  };
}

/** Zones can only be where the level had them. */
function tryMark(stage: Stage, [x, y]: [number, number], mark: string): boolean {
  try {
    stage.setMark(x, y, mark);
    return true;
  } catch (error) {
    if (/zone/.test((error as Error).message)) return false;
    throw error;
  }
}

/** Outlines without where they begin, and in no order. */
function outlines(stage: Stage): string[] {
  return stage
    .shapes()
    .map(({ form, points, on }) => {
      const list = points.map((point) => point.join(' '));
      const least = form === 'solid' ? list.indexOf([...list].sort()[0]!) : 0;
      return [form, on, ...list.slice(least), ...list.slice(0, least)].join(' | ');
    })
    .sort();
}

describe('A cell that is changed while the level runs', () => {
  const YARD: Level = {
    rows: ['........', '........', '..k.....', '........', '@....w..', '########'],
    marks: MARKS!,
    surfaces: { ice: { grip: 0.1 } },
  };

  it('is there for bodies and for questions, and says what it holds', () => {
    const stage = openStage(YARD);
    const hero = stage.add({});
    expect([stage.markAt(2.5, 2.5), stage.markAt(0.5, 4.5), stage.markAt(0.5, 5.5), stage.hasShape('brick 2,2')]).to.deep.equal(['k', '.', '#', true]); // prettier-ignore
    run(stage, 5);
    const told = names(stage);
    // Dug away under its feet: it falls.
    stage.setMark(0.5, 5.5, '.');
    expect([stage.markAt(0.5, 5.5), stage.ray([0.5, 4.5], [0.5, 9])]).to.deep.equal(['.', undefined]);
    run(stage, 10);
    expect(told).to.deep.equal(['leave']);
    expect(hero.y).to.be.above(5);
    // Built around it: it is pushed out.
    hero.place(3.5, 5);
    run(stage, 5);
    for (const row of [4, 3]) stage.setMark(3.5, row + 0.5, 'g');
    expect(stage.overlap({ x: 3.4, y: 4.4, width: 0.1, height: 0.1 }).map(({ kind }) => kind)).to.deep.equal(['solid', 'character']); // prettier-ignore
    expect(stage.sweep({ x: 0.5, y: 4.2, width: 0.5, height: 0.5 }, [5, 0])).to.deep.include({
      x: 2.5,
      surface: 'ice',
    });
    run(stage, 60);
    expect(told).to.include('freed');
    expect(Math.abs(hero.x - 3.5)).to.be.at.least(0.5 + 0.35 - 1e-6);
    // A brick is a shape of its own, wherever it is laid.
    stage.setMark(2.5, 2.5, '.');
    stage.setMark(6.5, 4.5, 'k');
    expect([stage.hasShape('brick 2,2'), stage.hasShape('brick 6,4')]).to.deep.equal([false, true]);
    expect(stage.ray([4.5, 4.5], [8, 4.5])).to.deep.include({ name: 'brick 6,4', x: 6 });
    stage.setMark(2.5, 2.5, 'k');
    expect(stage.hasShape('brick 2,2')).to.equal(true);
    // Water that is pumped out.
    expect(stage.overlap({ x: 5.4, y: 4.4, width: 0.1, height: 0.1 }).map(({ name }) => name)).to.deep.equal(['pool']);
    stage.setMark(5.5, 4.5, '.');
    expect(stage.overlap({ x: 5.4, y: 4.4, width: 0.1, height: 0.1 })).to.deep.equal([]);
  });

  it('breaks where a head meets it, at that moment and at every rate', () => {
    const events = [15, 60, 240].map((rate) => {
      const stage = openStage({
        ...YARD,
        rows: ['........', '########', '##kk####', '........', '@.......', '########'],
      });
      const hero = stage.add({ jump: { height: 1.6 } }, { driver: script(presses('right@0-0.25 jump@0.3-0.6 jump@1-1.5')) }); // prettier-ignore
      const told: string[] = [];
      stage.listen(({ event, time, x, y, shape }) => told.push([event, time, x, y, shape].join(' ')));
      hero.on('bump', ({ side, shape }) => {
        const [column, row] = shape.split(' ').at(-1)!.split(',').map(Number) as [number, number];
        if (side === 'head' && shape.startsWith('brick')) stage.setMark(column + 0.5, row + 0.5, '.');
      });
      run(stage, 2 * rate, rate);
      expect(told.filter((line) => line.startsWith('bump')).length).to.be.at.least(1);
      expect([stage.markAt(2.5, 2.5), stage.markAt(3.5, 2.5)]).to.include('.');
      return told;
    });
    expect(events[1]).to.deep.equal(events[0]);
    expect(events[2]).to.deep.equal(events[0]);
  });

  it('is refused by name where it cannot be', () => {
    const stage = openStage(YARD);
    for (const [call, message] of [
      [() => stage.setMark(8, 1, '#'), 'x is 8; the rows are from 0 up to 8 (and not at that)'],
      [() => stage.setMark(1, -0.1, '#'), 'y is -0.1; the rows are from 0 up to 6 (and not at that)'],
      [() => stage.setMark(NaN, 1, '#'), 'x is NaN; the rows are from 0 up to 8 (and not at that)'],
      [() => stage.setMark(1, 1, 'G'), /^the mark "G" means nothing; there are .*, and \. for nothing$/],
      [() => stage.setMark(1, 1, '@'), /^the mark "@" means nothing; there are/],
      [() => openStage({ ...YARD, rows: ['@'] }).setMark(0.5, 0.5, 'w'), /that zone is nowhere in the rows when the level was opened/], // prettier-ignore
      [() => stage.markAt(9, 0), 'x is 9; the rows are from 0 up to 8 (and not at that)'],
    ] as const)
      expect(call, String(message)).to.throw(RangeError, message);
    expect(stage.markAt(1, 1)).to.equal('.');
    // A bare stage has none of it, and says so.
    stage.add({});
    stage.setMark(4.5, 4.5, '#');
    const bare = openBare(YARD);
    bare.add({});
    expect(() => bare.restore(stage.snapshot())).to.throw(RangeError, 'no cell of this stage can be changed');
    const wrong = stage.snapshot();
    const at = wrong.indexOf(4 * 8 + 4);
    wrong[at] = 48;
    expect(() => stage.restore(wrong)).to.throw(RangeError, `number ${at} of the snapshot, of changed cells, is 48`);
  });

  it('is as before where the tick in which it changed has not happened', () => {
    const clumsy = ability('clumsy', {
      act(c) {
        if (c.now > 0.05) throw new Error('clumsy');
      },
      watch: (c) => c.lookAgain(0.06),
    });
    const stage = openStage(YARD);
    const hero = stage.add({}, { at: [0.5, 4.5], abilities: [clumsy] });
    hero.on('touchdown', () => stage.setMark(0.5, 5.5, '.'));
    stage.add({}, { name: 'second', at: [6.5, 4] });
    const before = stage.snapshot();
    expect(() => stage.tick(0.5)).to.throw('clumsy');
    expect([stage.markAt(0.5, 5.5), stage.ray([0.5, 4.6], [0.5, 9])?.y]).to.deep.equal(['#', 5]);
    // (The first numbers say how long ticks are.)
    expect(stage.snapshot().slice(7)).to.deep.equal(before.slice(7));
  });

  it('makes the edges and joints of a level that is opened with it, over random changes', function () {
    let changes = 0;
    for (let seed = 0; seed < share({ quick: 30, test: 150, deep: 3000 }); seed++) {
      const random = randomizer(7300 + seed);
      const plain = random.chance(0.3);
      const ground = groundOf(
        random,
        random.whole(3, 10),
        random.whole(2, 7),
        { tile: random.pick([1, 1, 0.5, 0.3]), origin: [random.pick([0, 0.1, -3]), random.pick([0, 1.7])], yPoints: random.pick(['up', 'down']) }, // prettier-ignore
        plain ? ['.', '#', '/', '\\', '='] : ALL,
      );
      const stage = openStage(ground.level());
      for (let k = 0; k < 12; k++) {
        const [column, row] = [random.whole(0, ground.width - 1), random.whole(0, ground.height - 1)];
        const mark = random.pick(plain ? ['.', '#', '/', '\\', '='] : ALL);
        if (!tryMark(stage, ground.at(column, row), mark)) continue;
        ground.cells[row]![column] = mark;
        changes++;
        expect(outlines(stage), `seed ${seed}, change ${k}`).to.deep.equal(outlines(openStage(ground.level())));
      }
    }
    this.test!.title += ` (${changes} of them)`;
  });

  interface Game {
    ground: Ground;
    level: Level;
    tuning: Tuning;
    at: [number, number];
    input: ReturnType<typeof busyInput>;
    changes: readonly (readonly [number, [number, number], string])[];
    cut: number;
  }

  function gameOf(seed: number): Game {
    const random = randomizer(99000 + seed);
    const walls = { left: 'wall', right: 'wall', top: 'wall', bottom: 'wall' } as const;
    const lift = { name: 'lift', shapes: [{ form: 'solid', points: [[3, 4], [5, 4], [5, 4.5], [3, 4.5]] }], route: { curve: [[0, 0, 4, -2]], lap: 3, keyPoints: [0, 1, 0] } } as const; // prettier-ignore
    const ground = groundOf(random, 16, 9, { bounds: walls, movers: seed % 3 === 0 ? [lift] : [] }, [...ALL, '.', '.', '.', '.']); // prettier-ignore
    const [column, row] = [random.whole(1, 14), random.whole(1, 7)];
    ground.cells[8]!.fill('#');
    ground.cells[row]![column] = ground.cells[row - 1]![column] = '.';
    const changes = Array.from({ length: random.whole(2, 14) }, () => [random.whole(0, 230), ground.at(random.whole(0, 15), random.whole(0, 8)), random.pick(ALL)] as const); // prettier-ignore
    return {
      ground,
      level: ground.level(),
      tuning: livelyTuning(random),
      at: [column + 0.5, row + 1],
      input: busyInput(random, 4).filter(({ action }) => action !== 'dash'),
      changes,
      cut: random.whole(20, 200),
    };
  }

  /** What is bumped into breaks. */
  function fragile(stage: Stage): Stage {
    const [hero] = stage.characters;
    hero!.on('bump', ({ side }) => {
      const x = side === 'head' ? hero!.x : hero!.x + (side === 'left' ? -0.9 : 0.9);
      const y = side === 'head' ? hero!.y - hero!.height - 0.3 : hero!.y - 0.4;
      if (x > 0 && x < 16 && y > 0 && y < 8) stage.setMark(x, y, '.');
    });
    return stage;
  }

  /** Plays from one tick to another, with the changes of these. */
  function play(stage: Stage, { changes }: Game, from: number, until: number): string[] {
    const told: string[] = [];
    const end = stage.listen((event) => told.push(JSON.stringify(event)));
    for (let tick = from; tick < until; tick++) {
      for (const [when, place, mark] of changes) if (when === tick) tryMark(stage, place, mark);
      stage.tick(1 / 60);
    }
    end();
    return told;
  }

  it(`has the same future for a restored, a forked and a loaded stage: ${shareOf({ quick: 25, test: 150, deep: 5000 }, 'games')}`, () => {
    for (let seed = 0; seed < share({ quick: 25, test: 150, deep: 5000 }); seed++) {
      const game = gameOf(seed);
      const open = (): Stage => {
        const stage = openStage(game.level);
        stage.add(game.tuning, { at: game.at, driver: script(game.input) });
        return fragile(stage);
      };
      const stage = open();
      play(stage, game, 0, game.cut);
      const snapshot = stage.snapshot();
      const save = JSON.parse(JSON.stringify(stage.save())) as Save;
      const others = [
        fragile(stage.fork({ hero: script(game.input) })),
        fragile(openStage(game.level).load(save, { hero: script(game.input) })),
      ];
      const told = play(stage, game, game.cut, 240);
      const end = fingerprint(stage.snapshot());
      for (const other of others) {
        expect(play(other, game, game.cut, 240), `seed ${seed}`).to.deep.equal(told);
        expect(fingerprint(other.snapshot()), `seed ${seed}`).to.equal(end);
      }
      stage.restore(snapshot);
      expect(play(stage, game, game.cut, 240), `seed ${seed}`).to.deep.equal(told);
      expect(fingerprint(stage.snapshot()), `seed ${seed}`).to.equal(end);
    }
  }); // prettier-ignore

  it('plays as in a level that is opened with it', () => {
    for (let seed = 0; seed < share({ quick: 15, test: 100, deep: 400 }); seed++) {
      const game = gameOf(seed);
      const { ground } = game;
      const [one, two] = [openStage(game.level), undefined];
      for (const [, [x, y], mark] of game.changes)
        if (tryMark(one, [x, y], mark)) ground.cells[Math.floor(y)]![Math.floor(x)] = mark;
      const anew = openStage(ground.level());
      const lists = [one, two ?? anew].map((stage) => {
        stage.add(game.tuning, { at: game.at, driver: script(game.input) });
        return play(stage, { ...game, changes: [] }, 0, 240);
      });
      expect(lists[1], `seed ${seed}`).to.deep.equal(lists[0]);
    }
  });

  it('counts in a level that comes out at its other side', () => {
    const stage = openStage({ rows: ['......', '@.....', '######'], bounds: { left: 'wrap', right: 'wrap' } });
    const hero = stage.add({}, { driver: script(presses('left@0')) });
    run(stage, 30);
    const told = names(stage);
    stage.setMark(5.5, 1.5, '#');
    run(stage, 120);
    expect(told).to.include('bump');
    expect(hero.x).to.be.closeTo(0.35, 1e-6);
    stage.setMark(5.5, 1.5, '.');
    run(stage, 60);
    expect(hero.x).to.not.be.closeTo(0.35, 1e-6);
  });
});

describe('A shape that is added while the level runs', () => {
  const BRIDGE = { form: 'one-way', points: [[3, 3], [7, 3]] } as const; // prettier-ignore
  const PIT: Level = { rows: ['..........', '..........', '@.........', '###....###'] };

  it('is stood on, named, asked about and drawn, and gone again', () => {
    const stage = openStage(PIT);
    const hero = stage.add({}, { driver: script(presses('right@0-1')) });
    stage.addShape(BRIDGE, 'bridge');
    expect([stage.hasShape('bridge'), stage.shapes().map(({ form }) => form)]).to.deep.equal([true, ['one-way', 'solid', 'solid']]); // prettier-ignore
    const told: string[] = [];
    stage.listen(({ event, shape }) => told.push(`${event} ${shape}`.trim()));
    while (hero.x < 5) stage.tick(1 / 60);
    // From floor to bridge it simply goes on.
    expect([hero.y, hero.support]).to.deep.equal([3, 'ground']);
    expect(told.some((line) => line.startsWith('leave') || line.startsWith('bump'))).to.equal(false);
    expect(stage.ray([5, 1], [5, 9])).to.deep.include({ kind: 'one-way', name: 'bridge', y: 3 });
    stage.removeShape('bridge');
    expect([stage.hasShape('bridge'), stage.ray([5, 1], [5, 9])]).to.deep.equal([false, undefined]);
    for (let i = 0; i < 20; i++) stage.tick(1 / 60);
    expect(told).to.include('leave bridge');
    expect(hero.y).to.be.above(3.2);
  });

  it('pushes out who is within it, in a drawing as well', () => {
    const stage = openStage(compileOutlines({ outlines: [{ form: 'ground', points: [[0, 5], [20, 5]] }] })); // prettier-ignore
    const hero = stage.add({}, { at: [10, 5] });
    run(stage, 5);
    stage.addShape({ form: 'solid', points: [[9.8, 3], [13, 3], [13, 5], [9.8, 5]] }, 'block'); // prettier-ignore
    run(stage, 60);
    expect(hero.x).to.be.closeTo(9.8 - 0.35, 1e-3);
    expect(() => stage.setMark(1, 1, '#')).to.throw(RangeError, 'the level is drawn; only a level in rows has marks');
  });

  it('is there in snapshots, forks and saves, together with changed cells', () => {
    for (let seed = 0; seed < share({ quick: 15, test: 80, deep: 1500 }); seed++) {
      const random = randomizer(4400 + seed);
      const ground = groundOf(random, 12, 7, { bounds: { left: 'wall', right: 'wall', bottom: 'wall' } }, ['.', '.', '.', '#', '=', '/']); // prettier-ignore
      ground.cells[2]![6] = ground.cells[1]![6] = '.';
      const tuning = livelyTuning(random);
      const input = busyInput(random, 4).filter(({ action }) => action !== 'dash');
      const asked = Array.from({ length: 10 }, () => {
        const [x, y, w, h] = [
          random.between(0, 9),
          random.between(0, 6),
          random.between(0.2, 4),
          random.between(0.2, 2),
        ];
        const solid = { form: 'solid', points: [[x, y], [x + w, y + h / 2], [x + w, y + h], [x, y + h]] } as const; // prettier-ignore
        const shape = random.chance(0.6) ? solid : ({ form: random.pick(['one-way', 'line', 'ground'] as const), points: [[x, y], [x + w, y + h]] } as const); // prettier-ignore
        return { when: random.whole(0, 230), name: random.pick(['one', 'two', 'three']), shape, place: ground.at(random.whole(0, 11), random.whole(0, 6)), mark: random.pick(['.', '#', '/']) }; // prettier-ignore
      });
      const go = (stage: Stage, from: number, until: number): string[] => {
        const told: string[] = [];
        const end = stage.listen((event) => told.push(JSON.stringify(event)));
        for (let tick = from; tick < until; tick++) {
          for (const { when, name, shape, place, mark } of asked) {
            if (when !== tick) continue;
            if (stage.hasShape(name)) stage.removeShape(name);
            else stage.addShape(shape, name);
            stage.setMark(...place, mark);
          }
          stage.tick(1 / 60);
        }
        end();
        return told;
      };
      const stage = openStage(ground.level());
      stage.add(tuning, { at: [6.5, 3], driver: script(input) });
      const cut = random.whole(20, 200);
      go(stage, 0, cut);
      const snapshot = stage.snapshot();
      const save = JSON.parse(JSON.stringify(stage.save())) as Save;
      const others = [
        stage.fork({ hero: script(input) }),
        openStage(ground.level()).load(save, { hero: script(input) }),
      ];
      const told = go(stage, cut, 240);
      const end = fingerprint(stage.snapshot());
      for (const other of others) {
        expect(go(other, cut, 240), `seed ${seed}`).to.deep.equal(told);
        expect(fingerprint(other.snapshot()), `seed ${seed}`).to.equal(end);
      }
      stage.restore(snapshot);
      expect(go(stage, cut, 240), `seed ${seed}`).to.deep.equal(told);
      expect(fingerprint(stage.snapshot()), `seed ${seed}`).to.equal(end);
    }
  });

  it('is refused by name where it cannot be', () => {
    const stage = openStage({ ...PIT, marks: { G: { solid: 'full', name: 'gate' } }, rows: ['@G', '##'] });
    stage.addShape(BRIDGE, 'bridge');
    for (const [call, message] of [
      [() => stage.addShape(BRIDGE, 'bridge'), 'there is a shape named bridge already'],
      [() => stage.addShape(BRIDGE, 'gate'), 'there is something named gate in the level already'],
      [() => stage.addShape(BRIDGE, ''), 'name is ""; a shape that is added needs one'],
      [() => stage.addShape({ form: 'solid', points: [[0, 0], [1, 0]] }, 'thin'), 'the shape has fewer than three corners'], // prettier-ignore
      [() => stage.addShape({ form: 'plank' as 'line', points: [[0, 0], [1, 0]] }, 'odd'), 'shape.form is "plank"'], // prettier-ignore
      [() => stage.addShape({ ...BRIDGE, carry: { layer: 'mist' } }, 'odd'), 'there is no layer mist'],
      [() => stage.addShape({ ...BRIDGE, carry: { surface: 'ice' } }, 'odd'), 'there is no surface ice'],
      [() => stage.removeShape('brigde'), 'no shape named brigde was added; there are bridge'],
    ] as const)
      expect(call, message).to.throw(message);
    expect(stage.hasShape('odd')).to.equal(false);
    const other = openStage({ ...PIT, marks: { G: { solid: 'full', name: 'gate' } }, rows: ['@G', '##'] });
    expect(() => other.restore(stage.snapshot())).to.throw(RangeError, 'no such shape was ever added here');
  });
});
