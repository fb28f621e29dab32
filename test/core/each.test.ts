import { openStage, script, type Level } from 'apperin';
import { drawingOf, readLevel } from 'apperin/files';
import { expect } from 'chai';
import { presses } from '../support/simulate.js';

const COURT: Level = {
  rows: ['..........', '...bb.....', '...pp.....', '@.cc...ww.', '##########'],
  marks: {
    b: { solid: 'full', name: 'brick', each: true, surface: 'clay' },
    p: { 'one-way': 'full', name: 'slat', each: true },
    c: { zone: { tags: ['coin'] }, name: 'coin', each: true },
    w: { zone: { pace: 0.5 }, name: 'mud' },
  },
  surfaces: { clay: { grip: 0.5 } },
};

describe('Marks for each cell', () => {
  it('make shapes and zones of their own, called by their cells', () => {
    const stage = openStage(COURT);
    expect(stage.level.shapes).to.deep.equal(['brick 3,1', 'brick 4,1', 'slat 3,2', 'slat 4,2']);
    expect(stage.level.zones.map(({ name, tags }) => [name, ...tags])).to.deep.equal([['coin 2,3', 'coin'], ['coin 3,3', 'coin'], ['mud']]); // prettier-ignore
    stage.setShape('brick 3,1', false);
    const names = (x: number): string[] =>
      stage.overlap({ x, y: 1.4, width: 0.2, height: 0.2 }).map(({ name }) => name);
    expect(names(3.4)).to.deep.equal([]);
    expect(names(4.4)).to.deep.equal(['brick 4,1']);
    expect(stage.ray([3.5, 0], [3.5, 9])).to.deep.include({ name: 'slat 3,2', y: 2 });
  });

  it('are taken and broken one by one', () => {
    const stage = openStage({ ...COURT, rows: COURT.rows.slice(0, 2).concat(['..........'], COURT.rows.slice(3)) });
    const hero = stage.add({ jump: { height: 3 } }, { driver: script(presses('right@0-0.55 jump@0.6-1.2')) });
    const taken: string[] = [];
    hero.on('enter', ({ zone, tags }) => {
      if (!tags.includes('coin')) return;
      taken.push(zone);
      stage.setZone(zone, false);
    });
    hero.on('bump', ({ side, shape }) => {
      if (side !== 'head') return;
      taken.push(shape);
      stage.setShape(shape, false);
    });
    for (let i = 0; i < 120; i++) stage.tick(1 / 60);
    expect(taken.slice(0, 2)).to.deep.equal(['coin 2,3', 'coin 3,3']);
    expect(taken).to.have.length(3);
    expect(taken[2]).to.match(/^brick [34],1$/);
    expect(stage.hasShape(taken[2]!)).to.equal(false);
  });

  it('side by side are walked over like one floor, and stood on where one has gone', () => {
    const rows = ['............', '@...........', 'bbbbbbbbbbbb'];
    const stage = openStage({ rows, marks: { b: { solid: 'full', name: 'brick', each: true } } });
    const events: string[] = [];
    const hero = stage.add({}, { driver: script(presses('right@0')) });
    stage.listen(({ event, shape }) => event !== 'footfall' && events.push(`${event} ${shape}`));
    for (let i = 0; i < 60; i++) stage.tick(1 / 60);
    expect(events).to.deep.equal([]);
    expect(hero.support).to.equal('ground');
    stage.setShape(`brick ${Math.floor(hero.x) + 2},2`, false);
    for (let i = 0; i < 60; i++) stage.tick(1 / 60);
    expect(events[0]).to.match(/^leave brick \d+,2$/);
  });

  it('can be written in a file, and drawn', () => {
    const yaml = [
      'rows: |',
      '  ...b..',
      '  @.cc.w',
      '  ######',
      'marks:',
      '  b: { solid: full, name: brick, each: true }',
      '  c: { zone: { tags: [coin] }, name: coin, each: true }',
      '  w: { zone: { gravity: 0.5 }, name: pool }',
    ].join('\n');
    const { compiled: level } = readLevel(yaml);
    expect(level.shapes).to.deep.equal(['brick 3,0']);
    expect(level.zones.map(({ name, gravity }) => [name, gravity])).to.deep.equal([['coin 2,1', 1], ['coin 3,1', 1], ['pool', 0.5]]); // prettier-ignore
    expect(() => readLevel(yaml.replace('zone: { tags: [coin] }, ', ''))).to.throw(
      /the mark c must be either solid or one-way, or a zone/,
    );
    const svg = drawingOf({ rows: ['.b', '@c', '##'], marks: { b: { solid: 'full', name: 'brick', each: true }, c: { zone: { tags: ['coin'] }, name: 'coin', each: true } } }); // prettier-ignore
    expect(svg).to.contain('data-name="brick 1,0"');
    expect(svg).to.contain('coin 1,1');
  });

  it('say what is wrong with them', () => {
    const open =
      (mark: object): (() => unknown) =>
      () =>
        openStage({ rows: ['@x'], marks: { x: mark } });
    expect(open({ solid: 'full', each: true })).to.throw('the mark x needs a name');
    expect(open({ solid: 'full', zone: {} })).to.throw('the mark x must be either solid or one-way, or a zone');
    expect(open({ zone: { gravity: -1 }, name: 'w' })).to.throw(/gravity is -1/);
  });
});
