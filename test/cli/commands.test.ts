import { existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { openStage, recordPieces, recordTrace, script } from 'apperin';
import { readInput, readLevel, readTuning, writePieces, writeTrace } from 'apperin/files';
import { sheet, type Envelope, type Measure } from 'apperin/lab';
import { expect } from 'chai';
import { SaxesParser } from 'saxes';
import { DATA, apperin, withFolder } from '../support/cli.js';
import { fully } from '../support/share.js';

const brindle = join(DATA, 'brindle.tuning.yaml');
const yard = join(DATA, 'yard.level.yaml');
const leap = join(DATA, 'leap.input.csv');
const late = join(DATA, 'late.input.csv');

describe('apperin', () => {
  it('explains itself, and every command', async () => {
    const { status, out } = await apperin(['--help']);
    expect(status).to.equal(0);
    for (const command of [
      'new',
      'check',
      'sheet',
      'design',
      'convert',
      'run',
      'draw',
      'compare',
      'vary',
      'verify',
      'demo',
    ]) {
      expect(out).to.match(new RegExp(`^  ${command} `, 'm'));
      const help = await apperin([command, '--help']);
      expect(help.status).to.equal(0);
      expect(help.out).to.contain(`Usage: apperin ${command}`);
    }
    expect((await apperin(['--version'])).out).to.equal('0.2.0\n');
    for (const kind of ['arcs', 'time'])
      expect((await apperin(['draw', kind, '--help'])).out).to.contain('apperin draw');
    for (const line of (await apperin(['run', '--help'])).out
      .split('\n')
      .filter((text) => !text.startsWith('  apperin')))
      expect(line.length).to.be.at.most(100);
  });

  for (const [title, args, message] of [
    ['no command', [], ''],
    ['an unknown command', ['jump'], /unknown command 'jump'/],
    ['an unknown option', ['sheet', '--sped', '8'], /unknown option '--sped'/],
    ['a rate out of range', ['sheet', '--rate', '0'], /It must be 1 to 10000 ticks per second/],
    ['a rate that is no number', ['sheet', '--rate', 'fast'], /It must be 1 to 10000/],
    [
      'a key that does not exist',
      ['sheet', '--set', 'run.sped=8'],
      /--set run\.sped=8: there is no key run\.sped; did you mean run\.speed\?/,
    ],
    ['a value out of range', ['sheet', '--set', 'jump.height=-1'], /--set: jump\.height is -1; it must be above 0/],
    ['a setting without a value', ['sheet', '--set', 'run.speed'], /it must be key=value/],
    ['a number out of range', ['sheet', '--set', 'mover.linger=-1'], /mover\.linger is -1; it must be at least 0/],
    ['a file that is not there', ['sheet', 'nowhere.tuning.yaml'], /nowhere\.tuning\.yaml: there is no such file/],
    ['a file of no known kind', ['sheet', 'README.md'], /cannot be told from its name/],
    ['two tunings', ['sheet', brindle, brindle], /one tuning is wanted, not 2/],
    ['a level for a sheet', ['sheet', yard], /a level is of no use here/],
    ['no level', ['run', brindle], /a level is wanted/],
    [
      'a spawn that is not there',
      ['run', yard, brindle, '--at', 'cellar'],
      /no spawn cellar; the level has start, quay, loft/,
    ],
    ['a format that is not written', ['draw', 'arcs', brindle, '--out', 'arcs.gif'], /must end in \.svg or \.png/],
    ['a format against the name', ['draw', 'arcs', brindle, '--out', 'arcs.svg', '--format', 'png'], /disagree/],
    ['seven tunings', ['draw', 'arcs', ...Array<string>(7).fill(brindle)], /one to six tunings, not 7/],
  ] as const) {
    it(`refuses ${title}: exit 2, a message, no stack trace, nothing on standard output`, async () => {
      await withFolder(async (folder) => {
        const { status, out, err } = await apperin(args, folder);
        expect(status).to.equal(2);
        if (message) {
          expect(err).to.match(message);
          expect(out).to.equal('');
        }
        expect(err).to.not.match(/^\s+at /m);
        expect(readdirSync(folder)).to.deep.equal([]);
      });
    });
  }
});

describe('apperin new', () => {
  it('writes starter files that check and play at once, and never over others', async () => {
    await withFolder(async (folder) => {
      const { status, out } = await apperin(['new', 'game'], folder);
      expect(status).to.equal(0);
      const next = /Next: apperin (.*)$/m.exec(out)![1]!.split(' ');
      expect((await apperin(next, folder)).out).to.contain('takeoff');
      expect(
        (
          await apperin(
            [
              'check',
              ...['hero.tuning.yaml', 'first.level.yaml', 'hero.keys.yaml', 'first.input.csv'].map(
                (name) => `game/${name}`,
              ),
            ],
            folder,
          )
        ).status,
      ).to.equal(0);
      const again = await apperin(['new', 'game'], folder);
      expect(again.status).to.equal(2);
      expect(again.err).to.contain('nothing was written');
      expect(JSON.parse((await apperin(['new', 'other', '--json'], folder)).out)).to.deep.equal({
        files: ['other/hero.tuning.yaml', 'other/first.level.yaml', 'other/hero.keys.yaml', 'other/first.input.csv'],
      });
    });
  });
});

describe('apperin check', () => {
  it('says nothing against the demo data', async () => {
    const { status, out } = await apperin(['check', brindle, yard, leap, late]);
    expect(status).to.equal(0);
    expect(out.match(/nothing to say against it/g)).to.have.length(4);
  });

  it('says what will feel wrong, with place, reason and suggestion: exit 1', async () => {
    await withFolder(async (folder) => {
      writeFileSync(
        join(folder, 'slow.tuning.yaml'),
        'gravity:\n  fallSpeed: 12\n  falling: 0.8\ngrace: { buffer: 0.01, coyote: 0.4 }\njump: { lowestHop: 3.2 }\n',
      );
      const { status, out } = await apperin(['check', 'slow.tuning.yaml'], folder);
      expect(status).to.equal(1);
      for (const key of ['gravity.fallSpeed', 'gravity.falling', 'grace.buffer', 'grace.coyote', 'jump.lowestHop'])
        expect(out).to.contain(`warning: ${key}`);
      expect(out).to.contain('slow.tuning.yaml:2:14: warning: gravity.fallSpeed');
      expect((await apperin(['check', 'slow.tuning.yaml', '--json'], folder)).status).to.equal(1);
      // At a high rate the short buffer is longer than a tick.
      expect((await apperin(['check', 'slow.tuning.yaml', '--rate', '240'], folder)).out).to.not.contain(
        'grace.buffer',
      );
    });
  });

  const broken: readonly (readonly [string, string, string | Buffer, RegExp])[] = [
    [
      'binary',
      'a.tuning.yaml',
      Buffer.from([0x7f, 0x45, 0, 1, 2]),
      /a\.tuning\.yaml:1:1: this is not a text file: it holds a NUL byte/,
    ],
    [
      'not UTF-8',
      'a.tuning.yaml',
      Buffer.from([0x72, 0xff, 0xfe]),
      /a\.tuning\.yaml:1:2: this is not a text file in UTF-8/,
    ],
    ['huge', 'a.tuning.yaml', '#'.repeat(300_000), /a\.tuning\.yaml:1:1: the file has 300000 bytes/],
    ['truncated', 'a.tuning.yaml', 'run: { speed: 8, upIn: ', /a\.tuning\.yaml:1:\d+: /],
    ['deeply nested', 'a.tuning.yaml', '{a: '.repeat(50_000), /a\.tuning\.yaml:1:\d+: nested more than 32 deep/],
    [
      'an alias bomb',
      'a.tuning.yaml',
      `a: &a [x]\n${Array.from({ length: 200 }, (_, i) => `k${i}: *a`).join('\n')}`,
      /a\.tuning\.yaml:\d+:\d+: more than 100 aliases/,
    ],
    ['a NaN', 'a.tuning.yaml', 'run: { speed: .NaN }', /a\.tuning\.yaml:1:15: run\.speed is NaN/],
    [
      'a name given twice',
      'a.level.yaml',
      'rows: ["@"]\nspawns: { a: [1, 1], a: [2, 2] }\n',
      /a\.level\.yaml:2:22: map keys must be unique/,
    ],
    ['an empty level', 'a.level.yaml', '', /a\.level\.yaml:1:1: the level has no rows/],
    ['a level with a wrong mark', 'a.level.yaml', 'rows: |\n  @..\n  #!#\n', /a\.level\.yaml:3:4: the mark "!"/],
    ['an empty input', 'a.input.csv', '', /a\.input\.csv:1:1: the file is empty/],
    [
      'an input with a wrong row',
      'a.input.csv',
      'time,action,value\r\n0,right,1\r\n1,jumb,1\r\n',
      /a\.input\.csv:3:3: there is no action "jumb"; did you mean jump\?/,
    ],
  ];
  for (const [title, name, content, message] of broken) {
    it(`refuses a file that is wrong (${title}): place, exit 2, no stack trace`, async () => {
      await withFolder(async (folder) => {
        writeFileSync(join(folder, name), content);
        const other = name.endsWith('level.yaml') ? [name] : [yard, name];
        for (const args of [
          ['check', name],
          ['run', ...other, '--trace', 't.trace.csv', '--events', 'e.events.jsonl'],
        ]) {
          const { status, out, err } = await apperin(args, folder);
          expect(status, args[0]).to.equal(2);
          expect(err).to.match(message);
          expect(err).to.not.match(/^\s+at /m);
          expect(out).to.equal('');
        }
        expect(readdirSync(folder)).to.deep.equal([name]);
      });
    });
  }

  it('checks the other files when one is wrong', async () => {
    await withFolder(async (folder) => {
      writeFileSync(join(folder, 'bad.tuning.yaml'), 'run: 3\n');
      const { status, out, err } = await apperin(['check', 'bad.tuning.yaml', yard, 'gone.input.csv'], folder);
      expect(status).to.equal(2);
      expect(err).to.contain('bad.tuning.yaml:1:6').and.to.contain('gone.input.csv: there is no such file');
      expect(out).to.contain('yard.level.yaml: nothing to say');
      mkdirSync(join(folder, 'folder.tuning.yaml'));
      expect((await apperin(['check', 'folder.tuning.yaml'], folder)).err).to.contain('this is a folder');
      const set = await apperin(
        ['check', brindle, yard, '--set', 'jump.launchSpeed=9', '--set', 'jump.height=0.1'],
        folder,
      );
      expect(set.status).to.equal(2);
      expect(set.err).to.contain('--set:');
      expect(set.out).to.contain('yard.level.yaml: nothing to say');
    });
  });
});

describe('apperin sheet', () => {
  it('prints within a hundred columns what the library measures', async () => {
    const { status, out } = await apperin(['sheet', brindle]);
    expect(status).to.equal(0);
    for (const line of out.split('\n')) expect(line.length).to.be.at.most(100);
    const measures = sheet(readTuning(readFileSync(brindle, 'utf8')).tuning);
    for (const { name, value } of measures) expect(out).to.contain(name).and.to.contain(value.toFixed(3));
    const { measures: json } = JSON.parse((await apperin(['sheet', brindle, '--json'])).out) as { measures: Measure[] };
    expect(json).to.deep.equal(measures);
  });

  it('follows --set and --rate', async () => {
    const read = async (...args: string[]): Promise<Map<string, number>> =>
      new Map(
        (JSON.parse((await apperin(['sheet', ...args, '--json'])).out) as { measures: Measure[] }).measures.map(
          ({ id, value }) => [id, value],
        ),
      );
    expect((await read(brindle, '--set', 'jump.height=4', '--set', 'run.speed=10')).get('apexHeight')).to.be.closeTo(
      4,
      1e-9,
    );
    expect((await read('--set', 'jump.baseGravity=40', '--set', 'jump.launchSpeed=20')).get('baseGravity')).to.equal(
      40,
    );
    expect((await read('--rate', '120')).get('bufferTicks')).to.be.closeTo(14.4, 1e-9);
    expect((await read('--set', 'grace=off')).get('coyoteTicks')).to.equal(0);
    expect((await apperin(['sheet'])).err).to.contain('these are the defaults');
    expect((await apperin(['sheet', '--quiet'])).err).to.equal('');
  });
});

describe('apperin run', () => {
  it('tells the story, and writes the same trace as the library', async () => {
    await withFolder(async (folder) => {
      const { status, out, err } = await apperin(
        [
          'run',
          yard,
          '--tuning',
          brindle,
          '--input',
          leap,
          '--seconds',
          '3',
          '--rate',
          '50',
          '--trace',
          'a/leap.trace.csv',
          '--events',
          'leap.events.jsonl',
          '--pieces',
          'leap.pieces.jsonl',
        ],
        folder,
      );
      expect(status, err).to.equal(0);
      expect(out).to.contain('takeoff').and.to.contain('by ground').and.to.contain('At the end:');
      const stage = openStage(readLevel(readFileSync(yard, 'utf8')).compiled);
      const hero = stage.add(readTuning(readFileSync(brindle, 'utf8')).tuning, {
        driver: script(readInput(readFileSync(leap, 'utf8')).rows),
      });
      const trace = recordTrace(stage, hero);
      const kept = recordPieces(stage, hero);
      for (let i = 0; i < 150; i++) {
        stage.tick(1 / 50);
        trace.row();
      }
      expect(readFileSync(join(folder, 'a/leap.trace.csv'), 'utf8')).to.equal(writeTrace(trace));
      const events = readFileSync(join(folder, 'leap.events.jsonl'), 'utf8')
        .trimEnd()
        .split('\n')
        .map((line) => JSON.parse(line) as object);
      expect(events).to.deep.equal(trace.events);
      expect(readFileSync(join(folder, 'leap.pieces.jsonl'), 'utf8')).to.equal(writePieces(kept.pieces));
    });
  });

  it('gives the last state, the events and the flights as one JSON document', async () => {
    const { out, err } = await apperin(['run', yard, brindle, late, '--json']);
    const told = JSON.parse(out) as {
      last: { support: string };
      events: { event: string; by?: string }[];
      flights: { by: string; rise: number }[];
    };
    expect(err).to.equal('');
    expect(told.events.find(({ event }) => event === 'takeoff')!.by).to.equal('coyote');
    expect(told.flights.find(({ by }) => by === 'coyote')!.rise).to.be.closeTo(3.25, 1e-9);
    expect(told.last.support).to.equal('ground');
  });

  it('meets the goal height to 1e-9 at eight rates', async () => {
    await withFolder(async (folder) => {
      writeFileSync(join(folder, 'flat.level.yaml'), 'rows: ["@", "."]\nbounds: { bottom: wall }\n');
      writeFileSync(join(folder, 'held.input.csv'), 'time,action,value\n0.3,jump,1\n');
      for (const rate of [15, 30, 50, 60, 120, 144, 240, 1000]) {
        const { out } = await apperin(
          ['run', 'flat.level.yaml', 'held.input.csv', '--set', 'jump.height=3', '--rate', String(rate), '--json'],
          folder,
        );
        const { events } = JSON.parse(out) as { events: { event: string; time: number; y: number }[] };
        const at = (name: string) => events.find(({ event }) => event === name)!;
        expect(at('takeoff').y - at('apex').y).to.be.closeTo(3, 3e-9);
        expect(at('apex').time - at('takeoff').time).to.be.closeTo(0.4, 1e-9);
      }
    });
  });
});

describe('apperin draw level and trace', () => {
  const data = (name: string): string => brindle.replace('brindle.tuning.yaml', name);
  const mill = data('wheelhouse.level.yaml');

  fully('draw a level with its places, and the way through it with what happened', async () => {
    await withFolder(async (folder) => {
      expect((await apperin(['draw', 'level', mill, '--out', 'level.svg'], folder)).err).to.equal('wrote level.svg\n');
      const level = readFileSync(join(folder, 'level.svg'), 'utf8');
      for (const name of ['The wheelhouse', 'start', 'loft', 'grating', '48 by 18 units'])
        expect(level).to.contain(name);
      const call = [
        'draw',
        'trace',
        mill,
        data('nimble.tuning.yaml'),
        data('grating.input.csv'),
        '--out',
        'trace.png',
        '--json',
      ];
      expect(JSON.parse((await apperin(call, folder)).out)).to.deep.equal({
        figure: 'trace',
        file: 'trace.png',
        format: 'png',
        tuning: 'nimble',
      });
      await apperin([...call.slice(0, 5), '--out', 'trace.svg'], folder);
      const trace = readFileSync(join(folder, 'trace.svg'), 'utf8');
      for (const name of ['takeoff, ground', 'dropThrough', 'touchdown', 'presses (jump, down)'])
        expect(trace).to.contain(name);
      expect(trace).to.not.match(/NaN|Infinity|undefined/);
    });
  });

  it('refuse what they have no use for', async () => {
    expect((await apperin(['draw', 'level', mill, brindle])).err).to.contain('draw level shows a level only');
    expect((await apperin(['draw', 'trace', brindle])).status).to.equal(2);
    expect((await apperin(['draw', 'trace', mill, '--at', 'roof'])).err).to.contain('there is no spawn roof');
  });
});

describe('apperin run on a recording', () => {
  it('starts where, how and at the rate that it began, unless told otherwise', async () => {
    const data = (name: string): string => brindle.replace('brindle.tuning.yaml', name);
    const files = [data('wheelhouse.level.yaml'), data('nimble.tuning.yaml'), data('ledge.input.csv')];
    const told = JSON.parse((await apperin(['run', ...files, '--json'])).out) as {
      rate: number;
      last: { pose: string; y: number };
    };
    expect(told).to.include({ rate: 60 });
    expect(told.last).to.include({ y: 12, pose: 'idle' });
    const slow = JSON.parse(
      (await apperin(['run', ...files, '--json', '--rate', '30', '--at', 'loft'])).out,
    ) as typeof told;
    expect(slow.rate).to.equal(30);
    expect(slow.last.y).to.not.equal(12);
    const { out } = await apperin(['run', ...files]);
    expect(out).to.contain('climbed').and.to.not.contain('footfall');
  });
});

describe('apperin draw and demo', () => {
  it('write the figure asked for', async () => {
    await withFolder(async (folder) => {
      expect((await apperin(['draw', 'arcs', brindle], folder)).err).to.equal('wrote arcs.svg\n');
      expect(readFileSync(join(folder, 'arcs.svg'), 'utf8')).to.match(
        /^<svg xmlns[^]*<title>Jump arc: brindle<\/title>/,
      );
      const png = await apperin(['draw', 'time', brindle, '--out', 'sub/time.png', '--width', '640', '--json'], folder);
      expect(JSON.parse(png.out)).to.deep.equal({
        figure: 'time',
        file: 'sub/time.png',
        format: 'png',
        tunings: ['brindle'],
      });
      const bytes = readFileSync(join(folder, 'sub/time.png'));
      expect([bytes.toString('latin1', 1, 4), bytes.readUInt32BE(16)]).to.deep.equal(['PNG', 640]);
    });
  });

  fully('show everything on the demo data, and only below the folder they name', async () => {
    await withFolder(async (folder) => {
      const { status, out } = await apperin(['demo'], folder);
      expect(status).to.equal(0);
      expect(out).to.contain('Brindle').and.to.contain('coyote').and.to.contain('Look at out/demo/arcs.png');
      expect(readdirSync(folder)).to.deep.equal(['out']);
      const scenes = [
        'beam',
        'bucket',
        'double',
        'ferry',
        'grating',
        'hoist',
        'late',
        'leap',
        'ledge',
        'loft',
        'ramps',
        'shaft',
        'sill',
        'slab',
        'sluice',
        'spring',
        'weir',
      ];
      expect(readdirSync(join(folder, 'out/demo')).sort()).to.deep.equal(
        [
          ...['arcs', 'compare', 'moves', 'search', 'speed', 'survey', 'time', 'vary', 'yard-survey'].flatMap(
            (name) => [`${name}.png`, `${name}.svg`],
          ),
          ...scenes.flatMap((name) => [`${name}.events.jsonl`, `${name}.svg`, `${name}.trace.csv`]),
          'brindle.report.html',
          'sheet.txt',
        ].sort(),
      );
      for (const word of [
        'corner',
        'lip',
        'takeoff (wall)',
        'climbed',
        'crouched to 0.8',
        'glideOn',
        'takeoff (charge)',
      ])
        expect(out).to.contain(word);
      for (const line of out.split('\n')) expect(line.length).to.be.at.most(100);
      const { files } = JSON.parse((await apperin(['demo', '--json', '--out', 'elsewhere'], folder)).out) as {
        files: string[];
      };
      for (const file of files) expect(existsSync(join(folder, file))).to.equal(true);
    });
  });
});

describe('apperin compare', () => {
  it('says which keys differ and what of it, and draws the ways over each other', async () => {
    await withFolder(async (folder) => {
      const files = [brindle, `${DATA}nimble.tuning.yaml`];
      const { status, out } = await apperin(['compare', ...files]);
      expect(status).to.equal(0);
      expect(out).to.match(/^brindle · nimble\n/);
      expect(out).to.match(/airJumps.heights +– +\[2.25\]/);
      expect(out.split('\n').every((line) => [...line].length <= 100)).to.equal(true);
      const figure = join(folder, 'ways.svg');
      const json = JSON.parse((await apperin(['compare', brindle, '--set', 'gravity.falling=2', yard, leap, '--out', figure, '--json'])).out) as { names: string[]; keys: unknown[]; press: number; figure: string };
      expect(json.names).to.deep.equal(['brindle', 'gravity.falling=2']);
      expect(json.keys).to.deep.equal([{ key: 'gravity.falling', values: [1.5, 2] }]);
      expect(json.figure).to.equal(figure);
      expect(readFileSync(figure, 'utf8')).to.contain('gravity.falling=2');
    });
  }); // prettier-ignore

  it('at several tick rates, and refuses what it cannot compare', async () => {
    const { status, out } = await apperin(['compare', brindle, yard, leap, '--rates', '15,30,144']);
    expect(status).to.equal(0);
    expect(out.match(/ yes /g)).to.have.length(3);
    expect(out).to.contain('The same at all of them, bit for bit.');
    expect(out).to.contain('The closest decision');
    expect((await apperin(['compare', brindle])).err).to.contain('two to six tunings, or one with --set');
    expect((await apperin(['compare', brindle, yard, leap, '--rates', '60,fast'])).err).to.contain('--rates 60,fast');
    expect((await apperin(['compare', brindle, yard, leap, '--rates', '60'])).err).to.contain('at least two rates');
    expect((await apperin(['compare', ...Array.from({ length: 7 }, () => brindle)])).err).to.contain(
      'at most 6 tunings',
    );
  });
});

describe('apperin vary', () => {
  it('says how each measure follows, and draws small multiples', async () => {
    await withFolder(async (folder) => {
      const figure = join(folder, 'vary.svg');
      const { status, out } = await apperin(['vary', brindle, 'jump.height=2..4/3', 'gravity.falling=1,2', '--out', figure]);
      expect(status).to.equal(0);
      expect(out).to.match(/reach at run speed +units/);
      expect(readFileSync(figure, 'utf8')).to.contain('Varied: jump.height and gravity.falling');
      const json = JSON.parse((await apperin(['vary', brindle, 'jump.height=2..4/3', '--json'])).out) as { points: { values: number[] }[] };
      expect(json.points.map(({ values }) => values[0])).to.deep.equal([2, 3, 4]);
    });
    expect((await apperin(['vary', brindle, 'jump.heigt=2..4'])).err).to.contain('there is no key jump.heigt');
    expect((await apperin(['vary', brindle, 'jump.height=a..b'])).err).to.contain('key=from..to/count');
    expect((await apperin(['vary', brindle])).err).to.contain('one or two keys');
    expect((await apperin(['vary', brindle, 'jump.height=2..4/100000'])).err).to.contain('it must be 1 to 10000');
  }); // prettier-ignore
});

describe('apperin design', () => {
  it('writes a tuning that meets the goals, with the comments of the one it starts from', async () => {
    await withFolder(async (folder) => {
      const file = join(folder, 'hop.tuning.yaml');
      const { status, out } = await apperin(['design', brindle, 'height=3', 'riseTime=0.35', 'reach=6', '--out', file]);
      expect(status).to.equal(0);
      expect(out.match(/ met$/gm)).to.have.length(3);
      expect(readFileSync(file, 'utf8')).to.contain('# Brindle, a brass mill-hand');
      const sheet = JSON.parse((await apperin(['sheet', file, '--json'])).out) as { measures: { id: string; value: number }[] };
      expect(sheet.measures.find(({ id }) => id === 'reach')!.value).to.be.closeTo(6, 1e-6);
      expect((await apperin(['design', 'height=3', '--out', file])).err).to.contain('is there already');
    });
  }); // prettier-ignore

  it('says which goals contradict each other, and writes nothing then', async () => {
    await withFolder(async (folder) => {
      const file = join(folder, 'no.tuning.yaml');
      const { status, out } = await apperin(['design', 'height=3', 'launchSpeed=10', 'baseGravity=20', '--out', file]);
      expect(status).to.equal(1);
      expect(out).to.contain('baseGravity comes to 17.6667, not 20');
      expect(existsSync(file)).to.equal(false);
    });
    expect((await apperin(['design', 'heigth=3'])).err).to.contain('there is no measure heigth');
    expect((await apperin(['design', brindle])).err).to.contain('design wants goals');
    expect((await apperin(['design', 'height=x'])).err).to.contain('a goal and a number');
    expect((await apperin(['design', 'stopping=1', '--free', 'run.stopIn=2..1'])).err).to.contain(
      '--free run.stopIn=2..1',
    );
  });
});

describe('apperin verify', () => {
  const promises = `${DATA}brindle.promises.yaml`;

  it('keeps the promises of the demo data; one that is broken is status 1, and a failure in the XML', async () => {
    await withFolder(async (folder) => {
      const xml = join(folder, 'verify.xml');
      expect((await apperin(['verify', promises, '--junit', xml])).status).to.equal(0);
      expect(readFileSync(xml, 'utf8')).to.contain('failures="0"');
      const { status, out } = await apperin(['verify', promises, '--set', 'jump.height=2', '--junit', xml]);
      expect(status).to.equal(1);
      expect(out).to.match(/^BROKEN +a full jump clears three tiles +3.000 +2.000 +units +too little$/m);
      expect(readFileSync(xml, 'utf8')).to.match(/<failure message="it is 2(\.\d+)? units; promised at least 3"\/>/);
      const json = JSON.parse((await apperin(['verify', promises, '--json'])).out) as { kept: boolean };
      expect(json.kept).to.equal(true);
    });
  });

  it('writes XML that is read as it was meant, whatever a promise is called', async () => {
    await withFolder(async (folder) => {
      const [file, xml] = [join(folder, 'odd.promises.yaml'), join(folder, 'odd.xml')];
      const name = 'a <b> & "c"\n\td \u0001]]>';
      writeFileSync(file, `promises: [{ name: ${JSON.stringify(name)}, measure: apexHeight, least: 9 }]\n`);
      const { status, err } = await apperin(['verify', file, join(DATA, 'brindle.tuning.yaml'), '--junit', xml]);
      expect(status, err).to.equal(1);
      const found: Record<string, string> = {};
      const parser = new SaxesParser();
      parser.on('opentag', ({ name: tag, attributes }) => Object.assign(found, { [tag]: tag === 'failure' ? attributes.message : attributes.name }));
      parser.on('error', (error) => expect.fail(String(error)));
      parser.write(readFileSync(xml, 'utf8')).close();
      expect(found.testcase).to.equal(name.replace('\u0001', '\uFFFD'));
      expect(found.failure).to.match(/^it is 3\.25/);
    });
  }); // prettier-ignore

  it('refuses what is no promise, with its place', async () => {
    await withFolder(async (folder) => {
      const file = join(folder, 'odd.promises.yaml');
      const wrong = async (text: string): Promise<string> => {
        writeFileSync(file, text);
        const { status, err } = await apperin(['verify', file]);
        expect(status).to.equal(2);
        return err.replaceAll(folder, '');
      };
      expect(await wrong('promises:\n  - { mesure: apexHeight, least: 3 }\n')).to.contain('odd.promises.yaml:2:7: there is no key promises.0.mesure; did you mean measure?');
      expect(await wrong('promises:\n  - { measure: apexHeight }\n')).to.contain('2:5: promises.0 must have least, most, or both');
      expect(await wrong('promises:\n  - { gap: 5, measure: reach, least: 1 }\n')).to.contain('must have one of measure, gap, same-at, survey and dead-ends');
      expect(await wrong('promises:\n  - { gap: 5, least: 2, most: 1 }\n')).to.contain('cannot be kept');
      expect(await wrong('promises:\n  - { same-at: [30, 60] }\n')).to.contain('must name the level and the input');
      expect(await wrong('promises: []\n')).to.contain('a list of at least one promise');
      expect(await wrong('')).to.contain('there are no promises');
      expect(await wrong('promises:\n  - { measure: endX, least: 3, level: no.level.yaml, input: no.input.csv }\n')).to.contain('there is no such file');
    });
    expect((await apperin(['verify', brindle])).err).to.contain('promises are wanted');
  }); // prettier-ignore
});

describe('apperin convert, of numbers by frames', () => {
  it('makes a tuning in seconds of them, and back', async () => {
    await withFolder(async (folder) => {
      const file = join(folder, 'clock.tuning.yaml');
      const { status, err } = await apperin(['convert', `${DATA}clockwork.frames.yaml`, '--out', file]);
      expect(status).to.equal(0);
      expect(err).to.match(/at most 0\.0\d+ units apart at any frame/);
      const { out } = await apperin(['convert', file, '--frames', '60', '--quiet']);
      expect(out).to.match(/^launch: 0\.3$/m);
      expect(out).to.match(/^gravity: 0\.0137$/m);
      expect(out).to.match(/^coyote: 5$/m);
    });
    expect((await apperin(['convert', brindle])).err).to.contain('--frames 60');
    expect((await apperin(['convert', brindle, '--frames', '60', '--order', 'last'])).err).to.contain('velocity-first or position-first'); // prettier-ignore
  });

  it('refuses a file with mistakes in it, with their places', async () => {
    await withFolder(async (folder) => {
      const file = join(folder, 'odd.frames.yaml');
      writeFileSync(file, 'rate: 60\norder: speed-first\nlaunch: -1\ngravty: 2\n');
      const { status, err } = await apperin(['convert', file]);
      expect(status).to.equal(2);
      for (const said of ['2:8: order is "speed-first"', '3:9: launch is -1', 'gravity is missing', '4:1: there is no key gravty; did you mean gravity?']) expect(err).to.contain(said); // prettier-ignore
    });
  });
});

describe('apperin draw envelope', () => {
  it('draws what the feet can reach, and writes the keys that reach a place', async () => {
    await withFolder(async (folder) => {
      const figure = join(folder, 'reach.svg');
      const { status, out } = await apperin(['draw', 'envelope', brindle, '--out', figure, '--reach', '4.1,2.1']);
      expect(status).to.equal(0);
      expect(readFileSync(figure, 'utf8')).to.contain('Envelope: brindle');
      const next = /: apperin (run .*)$/m.exec(out)![1]!.replace('TUNING', brindle).split(' ');
      const { last } = JSON.parse((await apperin([...next, '--json'])).out) as { last: { x: number; y: number } };
      expect(last.x).to.be.closeTo(4.1, 2e-4);
      expect(last.y).to.be.closeTo(2.1, 2e-4);
      const told = JSON.parse((await apperin(['draw', 'envelope', brindle, '--out', figure, '--below', '1', '--json'])).out) as Pick<Envelope, 'start' | 'highest' | 'exact' | 'bands'>;
      expect(told.exact).to.equal(true);
      for (const [is, should] of [[told.start, 0.35], [told.highest, 3.25], [told.bands[0]!.low, -1], [told.bands.at(-1)!.high, 3.25]] as const) expect(is).to.be.closeTo(should, 1e-6);
      const far = await apperin(['draw', 'envelope', brindle, '--out', figure, '--reach', '40,2']);
      expect([far.status, far.out.includes('40,2 is not reached.')]).to.deep.equal([1, true]);
      expect((await apperin(['draw', 'envelope', brindle, '--out', figure, '--reach', 'there'])).err).to.contain('--reach there');
    });
  }); // prettier-ignore
});
