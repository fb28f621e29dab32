import type { Level } from 'apperin';
import { readInput, readLevel, writeEvents, writeInput, writeTrace } from 'apperin/files';
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
