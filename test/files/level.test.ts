import { LevelError, levelFromGrid, openStage, type CellMeaning, type Level } from 'apperin';
import { readGrid, readInput, readLevel, writeEvents, writeInput, writeTrace } from 'apperin/files';
import { play } from 'apperin/lab';
import { parse } from 'csv-parse/sync';
import { expect } from 'chai';
import { randomInput, randomLevel } from '../support/make.js';
import { randomizer } from '../support/random.js';
import { problemsOf } from './tuning.test.js';

const first = (text: string): string => {
  const { line, column, message } = problemsOf(() => readLevel(text))[0]!;
  return `${line}:${column} ${message}`;
};

describe('Reading a level', () => {
  it('takes rows as a list or as a block of lines', () => {
    const list = readLevel('rows:\n  - ".@."\n  - "###"\n').level;
    const block = readLevel('rows: |\n  .@.\n  ###\n').level;
    expect((block as Level).rows).to.deep.equal((list as Level).rows);
    expect((readLevel('rows: |\r\n  .@.\r\n  ###\r\n').level as Level).rows).to.deep.equal((list as Level).rows);
  });

  it('places spawns by mark and by name, the first mark being the start', () => {
    const { compiled } = readLevel(
      'tile: 2\nrows: [".@..", "####"]\nspawns: { gate: { at: [7, 2], facing: -1 }, roof: [1, 0] }\n',
    );
    expect(Object.fromEntries(compiled.spawns)).to.deep.equal({
      start: { x: 3, y: 2, facing: 1 },
      gate: { x: 7, y: 2, facing: -1 },
      roof: { x: 1, y: 0, facing: 1 },
    });
    const up = readLevel('yPoints: up\nrows: [".@..", "####"]\n').compiled;
    expect(up.spawns.get('start')).to.deep.equal({ x: 1.5, y: 1, facing: 1 });
  });

  for (const [title, text, expected] of [
    [
      'an unknown mark in a list',
      'rows:\n  - "..@."\n  - "##%#"\n',
      '3:8 the mark "%" means nothing; the marks are # = / \\ . empty, @ spawn',
    ],
    [
      'an unknown mark in a plain text',
      'rows:\n  - ..@.\n  - .x..\n',
      '3:6 the mark "x" means nothing; the marks are # = / \\ . empty, @ spawn',
    ],
    [
      'an unknown mark in a block',
      'title: a\nrows: |\n  ..@.\n  ###?\n',
      '4:6 the mark "?" means nothing; the marks are # = / \\ . empty, @ spawn',
    ],
    ['no rows', 'title: a\n', '1:1 the level has no rows'],
    ['an empty file', '', '1:1 the level has no rows'],
    ['empty rows', 'rows: []\n', '1:7 the level has no rows'],
    ['an unknown key', 'rows: ["@"]\nbound: {}\n', '2:1 there is no key bound; did you mean bounds?'],
    [
      'an unknown side',
      'rows: ["@"]\nbounds: { lef: wall }\n',
      '2:11 there is no key bounds.lef; did you mean bounds.left?',
    ],
    [
      'a side that comes out nowhere',
      'rows: ["@"]\nbounds: { left: wrap }\n',
      '2:17 left and right must both be wrap, or neither',
    ],
    ['movers that are no list', 'rows: ["@"]\nmovers: 3\n', '2:9 movers is 3; it must be a list of movers'],
    [
      'a spawn that is no place',
      'rows: ["@"]\nspawns: { a: here }\n',
      '2:14 spawns.a is "here"; it must be [x, y], or a group of at and facing',
    ],
    [
      'a spawn with half a place',
      'rows: ["@"]\nspawns: { a: [1] }\n',
      '2:14 spawns.a is a list; it must be [x, y], or a group of at and facing',
    ],
    [
      'a spawn that faces nowhere',
      'rows: ["@"]\nspawns: { a: { at: [1, 1], facing: 3 } }\n',
      '2:36 spawns.a.facing is 3; it must be 1 or -1',
    ],
    ['a size of 0', 'rows: ["@"]\ntile: 0\n', '2:7 tile is 0; it must be a number above 0 and at most 1048576'],
    [
      'a level beyond the grid',
      'rows: ["@@@@"]\ntile: 1e6\norigin: [6.6e7, 0]\n',
      '1:7 the level reaches 70000000 units in x; it must stay within 67108864',
    ],
    ['a scalar', 'hello\n', '1:1 a level is "hello"; it must be a group of keys with rows'],
    ['neither rows nor shapes', 'title: x\n', '1:1 the level has no rows'],
    ['rows and shapes', 'rows: ["@"]\nshapes: [{ solid: [0, 0, 1, 1] }]\n', '1:1 the level has rows and shapes: it must be one of them'], // prettier-ignore
    ['marks of shapes', 'shapes: [{ solid: [0, 0, 1, 1] }]\nmarks: {}\n', '2:1 marks is about rows, and the level has shapes'], // prettier-ignore
    ['a shape of two natures', 'shapes:\n  - { solid: [0, 0, 1, 1], hole: [0, 0, 1, 1] }\n', '2:5 a shape must be one of solid, one-way, ground, hole, line'], // prettier-ignore
    ['an unknown key of a shape', 'shapes: [{ sold: [0, 0, 1, 1] }]\n', '1:12 there is no key shapes.0.sold; did you mean shapes.0.solid?'], // prettier-ignore
    ['a line without points', 'shapes: [{ line: [0, 0, 1, 1] }]\n', '1:19 shapes.0.line.0 is 0; it must be a list of [x, y]'], // prettier-ignore
    ['a cell that is no number', 'cells: |\n  1,1\n  1,x\nmarks: { 1: "#" }\n', '3:5 the cell is "x"; it must be a whole number'], // prettier-ignore
    ['a cell that means nothing', 'cells: |\n  1, 12,1\nmarks: { 1: "#" }\n', '2:5 the cell 12 means nothing; there are 1, and 0 and -1 for nothing'], // prettier-ignore
    ['a cell of a list that means nothing', 'cells: [[1, 1], [1, 7]]\nmarks: { 1: "#" }\n', '1:21 the cell 7 means nothing; there are 1, and 0 and -1 for nothing'], // prettier-ignore
    ['a mark of cells that is wrong', 'cells: [[1]]\nmarks:\n  1: { solid: full, surface: ice }\n', '3:6 there is no surface ice; the level has none'], // prettier-ignore
    [
      'a character as a mark of rows',
      'rows: ["@"]\nmarks: { x: "#" }\n',
      '2:13 marks.x is "#"; it must be a group of keys',
    ],
  ] as const) {
    it(`refuses ${title}, with its place`, () => {
      expect(first(text)).to.equal(expected);
    });
  }

  it('warns of rows of different lengths, of no spawn, and of one outside', () => {
    const { warnings } = readLevel('rows:\n  - "...."\n  - "##"\nspawns: { far: [90, 1] }\n');
    expect(warnings.map(({ line, column, message }) => `${line}:${column} ${message}`)).to.deep.equal([
      '3:8 this row has 2 characters, the longest 4; what is missing counts as empty',
      '4:16 spawn far lies outside the rows',
    ]);
    expect(readLevel('rows: ["..", "##"]\n').warnings[0]!.message).to.contain('no spawn');
  });

  it('may be of free shapes, in the words of movers', () => {
    const { level, compiled, warnings } = readLevel(`
shapes:
  - { solid: [0, 4, 10, 2] }
  - { solid: [10, 3, 4, 3], surface: silt }
  - { hole: [2, 4.5, 1, 1] }
  - { one-way: [3, 2, 3, 0.3], name: grating }
  - { ground: [[0, 0], [2, 0]] }
  - { line: [[8, 1], [8, 3]] }
surfaces: { silt: { grip: 2 } }
spawns: { start: [1, 4] }
`);
    expect([warnings, 'outlines' in level]).to.deep.equal([[], true]);
    const stage = openStage(compiled);
    // Areas that touch are one: from 9 to 11 the ground goes on.
    expect(stage.ray([9, 4.5], [13, 4.5])).to.deep.include({ inside: true });
    expect(stage.overlap({ x: 2.2, y: 4.7, width: 0.5, height: 0.5 })).to.deep.equal([]);
    expect(stage.ray([4, 0], [4, 3])).to.deep.include({ kind: 'one-way', name: 'grating', y: 2 });
    expect(stage.ray([1, -1], [1, 3])).to.deep.include({ kind: 'ground', y: 0 });
    expect(stage.ray([9, 2], [7, 2])).to.deep.include({ kind: 'line', x: 8 });
    expect(stage.ray([12, 0], [12, 9])).to.deep.include({ surface: 'silt', y: 3 });
  });

  it('may be numbers in a grid, in the file, as CSV or in memory: the same level', () => {
    const csv = '0,0,0,0,0\r\n0,0,3,0,-1\r\n7,0,0,0,2\r\n1,1,1,1,1\r\n';
    const marks = { 1: '#', 2: { solid: [0, 1], surface: 'silt' }, 3: { 'one-way': 'full', name: 'grating' }, 7: '@' } as const; // prettier-ignore
    const more = { surfaces: { silt: { grip: 2 } } };
    const yaml = `
cells: |
  ${csv.replaceAll('\r\n', '\n  ')}
marks: { 1: "#", 2: { solid: [0, 1], surface: silt }, 3: { one-way: full, name: grating }, 7: "@" }
surfaces: { silt: { grip: 2 } }
`;
    const cells = csv.trim().split('\r\n').map((line) => line.split(',').map(Number)); // prettier-ignore
    const grid = levelFromGrid(cells, (cell) => (marks as Record<number, CellMeaning>)[cell], more);
    const flat = levelFromGrid({ width: 5, cells: Int16Array.from(cells.flat()) }, (cell) => (marks as Record<number, CellMeaning>)[cell], more); // prettier-ignore
    const written = ['.....', '..g..', '@...s', '#####'];
    const plain = openStage({ rows: written, marks: { g: marks[3], s: marks[2] }, ...more }).level.terrain;
    const lists = [readLevel(yaml), readGrid(csv, { marks, level: more }), grid, flat].map((one) => openStage(one));
    for (const { level } of lists) {
      expect([level.terrain.x1, level.terrain.y1, level.terrain.x2, level.terrain.form]).to.deep.equal([plain.x1, plain.y1, plain.x2, plain.form]); // prettier-ignore
      expect(level.spawns.get('start')).to.deep.equal({ x: 0.5, y: 3, facing: 1 });
    }
    // What a number is called where cells are changed.
    const stage = openStage(grid);
    expect(stage.markAt(0.5, 3.5)).to.equal('#');
    stage.setMark(0.5, 1.5, grid.markOf(3));
    expect(stage.ray([0.5, 0], [0.5, 2])).to.deep.include({ kind: 'one-way', y: 1 });
    expect(Object.keys(grid)).to.not.include('markOf');
    const wrong = (text: string): string => problemsOf(() => readGrid(text, { marks: { 1: '#' } })).map(({ line, column, message }) => `${line}:${column} ${message}`).join(); // prettier-ignore
    expect(wrong('')).to.equal('1:1 the file has no cells');
    expect(wrong('1,1\n1,2.5')).to.equal('2:3 the cell is "2.5"; it must be a whole number');
    expect(wrong('1,1\n"1",5')).to.equal('2:5 the cell 5 means nothing; there are 1, and 0 and -1 for nothing');
    expect(readGrid('1,1\n1', { marks: { 1: '#' } }).warnings[0]!.message).to.equal('this row has 1 cells, the longest 2; what is missing counts as empty'); // prettier-ignore
    for (const [given, message] of [
      [[[1], 2], 'row 1 of the cells is 2; it must be a list of numbers'],
      [[[1.5]], 'a cell is 1.5; it must be a whole number'],
      [{ width: 2, cells: [1, 1, 1] }, '3 cells are no rows of 2'],
    ] as const)
      expect(() => levelFromGrid(given as never, () => '#'), message).to.throw(LevelError, message);
  });

  it('merges tiles into one solid: faces become few long edges, joined all round', () => {
    const { terrain } = readLevel('rows:\n  - "......"\n  - ".####."\n  - ".####."\n').compiled;
    expect(terrain.count).to.equal(4);
    for (let e = 0; e < 4; e++) {
      const next = terrain.next[e]!;
      expect([terrain.x1[next], terrain.y1[next]]).to.deep.equal([terrain.x2[e], terrain.y2[e]]);
      expect(terrain.prev[next]).to.equal(e);
      // The open side is on the left of every edge.
      const nx = -(terrain.y2[e]! - terrain.y1[e]!);
      const ny = terrain.x2[e]! - terrain.x1[e]!;
      expect(Math.sign(nx) + 0).to.equal(terrain.nx[e]);
      expect(Math.sign(ny) + 0).to.equal(terrain.ny[e]);
    }
  });

  it('joins solids that touch at a corner only, and keeps the open spaces apart', () => {
    const { terrain } = readLevel('rows:\n  - "#."\n  - ".#"\n').compiled;
    expect(terrain.count).to.equal(8);
    let e = 0;
    for (let i = 0; i < 8; i++) e = terrain.next[e]!;
    expect(e).to.equal(0);
  });
});

describe('Reading an input', () => {
  const firstOf = (text: string): string => {
    const { line, column, message } = problemsOf(() => readInput(text))[0]!;
    return `${line}:${column} ${message}`;
  };

  it('gives the rows, whatever the ends of the lines', () => {
    const rows = [
      { time: 0, action: 'right', value: 1 },
      { time: 0.5, action: 'move', value: -0.25 },
    ];
    expect(readInput('time,action,value\n0,right,1\n0.5,move,-0.25\n').rows).to.deep.equal(rows);
    expect(readInput('\uFEFFtime,action,value\r\n0,right,1\r\n\r\n"0.5","move","-0.25"').rows).to.deep.equal(rows);
    expect(readInput('time,action,value\n').rows).to.deep.equal([]);
  });

  it('reads back what it writes', () => {
    const rows = randomInput(randomizer(95), 20);
    expect(readInput(writeInput(rows)).rows).to.deep.equal(rows);
  });

  for (const [title, text, expected] of [
    ['an empty file', '', '1:1 the file is empty; its first line must be time,action,value'],
    ['another header', 'when,what\n', '1:1 the first line must be time,action,value'],
    [
      'a row that is too short',
      'time,action,value\n0,right\n',
      '2:1 this row has 2 fields; it must have 3: time,action,value',
    ],
    [
      'a time that is no number',
      'time,action,value\n0,right,1\nsoon,jump,1\n',
      '3:1 time is "soon"; it must be a number of seconds, at least 0 and at most 1000000',
    ],
    [
      'a hexadecimal time',
      'time,action,value\n0x10,jump,1\n',
      '2:1 time is "0x10"; it must be a number of seconds, at least 0 and at most 1000000',
    ],
    [
      'a negative time',
      'time,action,value\n-1,jump,1\n',
      '2:1 time is "-1"; it must be a number of seconds, at least 0 and at most 1000000',
    ],
    ['an unknown action', 'time,action,value\n0,jmp,1\n', '2:3 there is no action "jmp"; did you mean jump?'],
    ['a value out of range', 'time,action,value\n0.25,jump,2\n', '2:11 value is "2"; it must be a number from 0 to 1'],
    [
      'an empty host row',
      'time,action,value\n0,host,"{}"\n',
      '2:8 the call of this host row is not right: it must be an object with one of hop, shove, place, allow, retune, listen, oppose, ignore, moveTo, placeAt, drive, freeze, tempo, box, remove, rate',
    ],
    [
      'a host row that is no JSON',
      'time,action,value\n0,host,hop\n',
      '2:8 the call of this host row is not right: it must be JSON',
    ],
    [
      'a host row with a text for a number',
      'time,action,value\n0,host,"{""hop"":""high""}"\n',
      '2:8 the call of this host row is not right: hop: Invalid input: expected number, received string',
    ],
    ['a quote that is never closed', 'time,action,value\n0,"jump,1\n', '2:3 a quote is never closed'],
    ['a quote in the middle', 'time,action,value\n0,ju"mp,1\n', '2:5 a quote stands where none can'],
  ] as const) {
    it(`refuses ${title}, with its place`, () => {
      expect(firstOf(text)).to.equal(expected);
    });
  }

  it('warns of rows out of order, and plays them in order', () => {
    const { rows, warnings } = readInput('time,action,value\n1,right,0\n0,right,1\n');
    expect(warnings[0]).to.include({ line: 3, column: 1 });
    const { last } = play({ level: { rows: ['@...........', '############'] }, tuning: {}, input: rows, seconds: 1.5 });
    expect(last.x).to.be.greaterThan(6);
  });
});

describe('Writing a trace', () => {
  const random = randomizer(96);
  const trace = play({ level: randomLevel(random), tuning: {}, input: randomInput(random, 4), rate: 30 });

  it('gives CSV that reads back to the same bits', () => {
    const text = writeTrace(trace);
    const records = parse(text, { columns: true }) as Record<string, string>[];
    expect(text.split('\r\n')[0]).to.equal(
      'tick,time,x,y,vx,vy,support,phase,pose,facing,surface,mover,jumpsLeft,height,width',
    );
    expect(records).to.have.length(trace.rows.length);
    records.forEach((record, i) => {
      const row = trace.rows[i]!;
      for (const column of ['tick', 'time', 'x', 'y', 'vx', 'vy', 'facing', 'jumpsLeft', 'height', 'width'] as const)
        expect(Object.is(Number(record[column]), row[column]), column).to.equal(true);
      expect([record.support, record.phase, record.pose]).to.deep.equal([row.support, row.phase, row.pose]);
    });
  });

  it('gives events one a line', () => {
    const lines = writeEvents(trace.events).trimEnd().split('\n');
    expect(lines.map((line) => JSON.parse(line) as object)).to.deep.equal(trace.events);
    expect(Object.keys(JSON.parse(lines[0]!) as object).slice(0, 8)).to.deep.equal([
      'time',
      'tick',
      'event',
      'who',
      'x',
      'y',
      'vx',
      'vy',
    ]);
  });
});
