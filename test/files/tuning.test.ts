import { readFileSync } from 'node:fs';
import { KEYS, MEANINGS, compileTuning } from 'apperin';
import { FileError, jsonSchemas, mergeTuning, readLevel, readTuning } from 'apperin/files';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { expect } from 'chai';
import { randomizer } from '../support/random.js';
import { randomTuning } from '../support/make.js';

export function problemsOf(read: () => unknown): { line: number; column: number; message: string; source: string }[] {
  try {
    read();
  } catch (error) {
    if (error instanceof FileError) return [...error.problems];
    throw error;
  }
  throw new Error('this was accepted');
}

const first = (text: string): string => {
  const { line, column, message } = problemsOf(() => readTuning(text, { file: 'a.tuning.yaml' }))[0]!;
  return `${line}:${column} ${message}`;
};

describe('Reading a tuning', () => {
  it('gives what was written, in YAML and in JSON', () => {
    const text = 'run:\n  speed: 8 # quick\njump: { height: 3 }\n';
    expect(readTuning(text).tuning).to.deep.equal({ run: { speed: 8 }, jump: { height: 3 } });
    expect(readTuning('{"run":{"speed":8},"grace":"off"}').tuning).to.deep.equal({ run: { speed: 8 }, grace: 'off' });
    expect(readTuning('').tuning).to.deep.equal({});
    expect(readTuning('\uFEFFrun:\r\n  speed: 8\r\n').tuning).to.deep.equal({ run: { speed: 8 } });
  });

  for (const [title, text, expected] of [
    ['an unknown key, with the nearest', 'run:\n  sped: 8\n', '2:3 there is no key run.sped; did you mean run.speed?'],
    ['a key in the wrong place', 'coyote: 0.1\n', '1:1 there is no key coyote; did you mean grace.coyote?'],
    ['a key that nothing is near', 'zzz: 1\n', '1:1 there is no key zzz'],
    [
      'a word that is none of three',
      'mover:\n  lend: up\n',
      '2:9 mover.lend is "up"; it must be one of both, across, none',
    ],
    [
      'a bevel that leaves nothing of the feet',
      'body: { bevel: 0.4 }\n',
      '1:16 body.bevel is 0.4; it must be less than half of body.width, 0.7, and than the height',
    ],
    ['a text for a number', 'run: { speed: fast }\n', '1:15 run.speed is "fast"; it must be a number'],
    [
      'a number out of range',
      'jump:\n  height: -3\n',
      '2:11 jump.height is -3; it must be above 0 and at most 67108864',
    ],
    ['a NaN', 'run: { speed: .nan }\n', '1:15 run.speed is NaN; it must be at least 0 and at most 67108864'],
    ['an infinity', 'run: { speed: .inf }\n', '1:15 run.speed is Infinity; it must be at least 0 and at most 67108864'],
    [
      'a word that is no choice',
      'run: { feel: bouncy }\n',
      '1:14 run.feel is "bouncy"; it must be one of steady, eased',
    ],
    ['a number for a group', 'run: 8\n', '1:6 run is 8; it must be a group of keys'],
    [
      'a word for a group that takes another word',
      'grace: on\n',
      '1:8 grace is "on"; it must be a group of keys or the word off',
    ],
    [
      'a key inside a group that may be a word',
      'run:\n  air: { upInn: 1 }\n',
      '2:10 there is no key run.air.upInn; did you mean run.air.upIn?',
    ],
    ['a word where a group must be', 'run: off\n', '1:6 run is "off"; it must be a group of keys'],
    ['a list', '- 1\n', '1:1 a tuning is a list; it must be a group of keys'],
    ['a key given twice', 'run: {}\nrun: {}\n', '2:1 map keys must be unique'],
    [
      'goals that disagree',
      'jump:\n  height: 3\n  riseTime: 0.4\n  launchSpeed: 9\n',
      '4:16 jump.launchSpeed is 9, but jump.height and jump.riseTime make it 16.4582; leave one of them out',
    ],
    [
      'a band wider than the jump',
      'gravity:\n  apexSpeed: 40\n',
      '2:14 gravity.apexSpeed is 40, a band wider than the jump; it must be at least 0 and at most 16.25 (2·height/riseTime)',
    ],
    [
      'a hop too high',
      'jump: { lowestHop: 9 }\n',
      '1:20 jump.lowestHop is 9; it must be above 0.510094 (reached within jump.minHold) and at most 3.25 (the full jump)',
    ],
    [
      'a ramp with one end',
      'gravity:\n  fallRamp: { to: 2 }\n',
      '2:13 gravity.fallRamp.over is missing; a ramp needs both `to` and `over`',
    ],
    [
      'broken YAML',
      'run: { speed: 8\n',
      '2:1 flow map in block collection must be sufficiently indented and end with a }',
    ],
    [
      'a text for a number of an ability of the game',
      'own: { dash: { speed: fast } }\n',
      '1:23 own.dash.speed is "fast"; it must be a number',
    ],
    [
      'a broken count of wall jumps',
      'wall: { sameWall: 1.5 }\n',
      '1:19 wall.sameWall is 1.5; it must be a whole number from 0 to 1000, or the word any',
    ],
    [
      'a charge that sinks',
      'charge: { lowest: 3, highest: 2 }\n',
      '1:31 charge.highest is 2; it must be at least charge.lowest, 3',
    ],
    [
      'a reach with a run-up',
      'jump: { height: 3, reach: 6, runUp: 1 }\n',
      '1:27 jump.reach cannot be met together with jump.runUp, which changes it with the speed; give jump.height and jump.riseTime',
    ],
    ['a tab as indentation', 'run:\n\tspeed: 8\n', '2:1 tabs are not allowed as indentation'],
    [
      'two documents',
      'run: {}\n---\nrun: {}\n',
      '2:1 source contains multiple documents; please use YAML.parseAllDocuments()',
    ],
    ['a tag', 'run: !!js/function "x"\n', '1:6 unresolved tag: tag:yaml.org,2002:js/function'],
    ['a control character', 'run: \u0001\n', '1:6 this is not a text file: it holds a control character'],
    [
      '`from` without files',
      'from: ./other.tuning.yaml\n',
      '1:7 `from` cannot be followed here: the text was read without its file',
    ],
  ] as const) {
    it(`refuses ${title}, with its place`, () => {
      expect(first(text)).to.equal(expected);
    });
  }

  it('shows the line and points under the column', () => {
    try {
      readTuning('run:\n  sped: 8\n', { file: 'brindle.tuning.yaml' });
      expect.fail('accepted');
    } catch (error) {
      expect((error as Error).message).to.equal(
        'brindle.tuning.yaml:2:3: there is no key run.sped; did you mean run.speed?\n  2 |   sped: 8\n    |   ^',
      );
    }
  });

  it('reports every problem, not only the first', () => {
    expect(problemsOf(() => readTuning('run: { sped: 8, upIn: x }\njmp: {}\n'))).to.have.length(3);
  });

  it('refuses in bounded time what is deep, huge or multiplies itself', () => {
    expect(first('['.repeat(200_000))).to.match(/^1:\d+ nested more than 32 deep/);
    expect(first(`${'- '.repeat(500)}1`)).to.match(/nested more than 32 deep/);
    expect(first('a: 1\n'.repeat(100_000))).to.match(/the file has 500000 characters; at most 262144 are read/);
    const bomb = [
      'a: &a [1,1,1,1,1,1,1,1,1]',
      ...'bcdefghij'
        .split('')
        .map((name, i) => `${name}: &${name} [${Array(9).fill(`*${'abcdefghij'[i]}`).join(',')}]`),
    ].join('\n');
    expect(first(bomb)).to.match(/alias/i);
  });

  it('starts from another tuning, which goals replace as they should', () => {
    const files: Record<string, string> = {
      'base.tuning.yaml': 'run: { speed: 9 }\njump: { height: 4, riseTime: 0.5 }\n',
      'loop.tuning.yaml': 'from: a.tuning.yaml\n',
    };
    const open = (name: string) => ({ text: files[name]!, file: name });
    const read = (text: string) => readTuning(text, { file: 'a.tuning.yaml', open }).tuning;
    expect(read('from: base.tuning.yaml\nrun: { upIn: 0.2 }\n')).to.deep.equal({
      run: { speed: 9, upIn: 0.2 },
      jump: { height: 4, riseTime: 0.5 },
    });
    expect(read('from: base.tuning.yaml\njump: { height: 2 }\n').jump).to.deep.equal({ height: 2, riseTime: 0.5 });
    expect(read('from: base.tuning.yaml\njump: { baseGravity: 40, launchSpeed: 15 }\n').jump).to.deep.equal({
      baseGravity: 40,
      launchSpeed: 15,
    });
    expect(problemsOf(() => read('from: base.tuning.yaml\njump: { baseGravity: 40 }\n'))[0])
      .to.include({ line: 2, column: 9 })
      .and.have.property('message')
      .that.contains('replaces no goal');
    expect(problemsOf(() => read('from: loop.tuning.yaml\n'))[0]!.message).to.contain('starts from this file again');
    expect(mergeTuning({ jump: { height: 4, riseTime: 0.5 } }, { jump: { riseTime: 0.3 } }).jump).to.deep.equal({
      height: 4,
      riseTime: 0.3,
    });
    expect(mergeTuning({}, { jump: { height: 4 } }).jump).to.deep.equal({ height: 4 });
  });
});

describe('The JSON Schemas', () => {
  const ajv = new Ajv2020({ allErrors: true, strict: true });
  const schemas = jsonSchemas();
  const tuning = ajv.compile(schemas['tuning.schema.json']!);
  const level = ajv.compile(schemas['level.schema.json']!);

  it('are those in the schema folder', () => {
    for (const [name, schema] of Object.entries(schemas))
      expect(JSON.parse(readFileSync(new URL(`../../schema/${name}`, import.meta.url), 'utf8'))).to.deep.equal(schema);
  });

  it('accept what the reader accepts and refuse what it refuses, key by key', () => {
    const random = randomizer(91);
    const agree = (data: object): void => {
      let read = true;
      try {
        readTuning(JSON.stringify(data));
      } catch (error) {
        // What the schema cannot say: goals that contradict each other.
        if (
          /they|but|wider|must be above .* \(|leave|start|missing|no rise time|a tap reaches|least charge|most body|together/.test(
            (error as Error).message,
          )
        )
          return;
        read = false;
      }
      expect(tuning(data), JSON.stringify(data)).to.equal(read);
    };
    for (let i = 0; i < 60; i++) agree(randomTuning(random));
    for (const key of KEYS) {
      // How large it may be depends on the width, which a schema cannot say.
      if (key.key === 'body.bevel') continue;
      const values: unknown[] =
        'unit' in key
          ? [key.default ?? 1, key.least, key.most, key.least - 1, key.most * 2, '1', null, [], true]
          : 'choices' in key
            ? [...key.choices, 'other', 1]
            : 'switch' in key
              ? [true, false, 'yes', 1]
              : [key.default, [], Array(17).fill(key.default[0]), [null], [...key.default, 'other'], 1];
      for (const value of values)
        agree(key.key.split('.').reduceRight<unknown>((inner, name) => ({ [name]: inner }), value) as object);
    }
    agree({ nonsense: 1 });
    agree({ run: { nonsense: 1 } });
    agree({ grace: 'off' });
    agree({ run: { air: 'locked' } });
    agree({ run: { air: 'off' } });
  });

  it('do the same for levels', () => {
    const agree = (data: object): void => {
      let read = true;
      try {
        readLevel(JSON.stringify(data));
      } catch {
        read = false;
      }
      expect(level(data), JSON.stringify(data)).to.equal(read);
    };
    const rows = ['.@.', '###'];
    for (const data of [
      { rows },
      { rows: '.@.\n###\n' },
      { rows, tile: 2 },
      { rows, tile: 0 },
      { rows, yPoints: 'up' },
      { rows, yPoints: 'sideways' },
      { rows, bounds: { left: 'wall' } },
      { rows, bounds: { left: 'wrap', right: 'wrap' } },
      { rows, bounds: { left: 'over' } },
      {
        rows,
        marks: { a: { solid: [0, 0.5], surface: 's' } },
        surfaces: { s: { grip: 2, bounce: { share: 0.5, from: 3 } } },
      },
      { rows, marks: { a: { solid: [0, 2] } } },
      { rows, marks: { a: { solid: 'some' } } },
      { rows, surfaces: { s: { grip: -1 } } },
      { rows, zones: [{ box: [0, 0, 1, 1], tags: ['a'], gravity: 0.5, current: [1, 0] }] },
      { rows, zones: [{ box: [0, 0, 1] }] },
      { rows, zones: [{ box: [0, 0, 1, 1], pull: 1 }] },
      { rows, bounds: { middle: 'wall' } },
      { rows, spawns: { a: [1, 2] } },
      { rows, spawns: { a: [1] } },
      { rows, spawns: { a: { at: [1, 2], facing: -1 } } },
      { rows, spawns: { a: { at: [1, 2], facing: 0 } } },
      { rows, origin: [1, 2] },
      { rows, origin: 1 },
      {},
      { rows: 3 },
      { rows, movers: [] },
      { rows, shapes: [{ solid: [0, 0, 1, 1] }] },
      { shapes: [{ solid: [0, 0, 1, 1], name: 'a' }, { line: [[0, 0], [1, 1]] }] }, // prettier-ignore
      { shapes: [{ solid: [0, 0, 1, 1] }], tile: 2 },
      { shapes: [] },
      { rows, marks: { a: '#' } },
      { cells: [[1, 0], [1, 1]], marks: { 1: '#' } }, // prettier-ignore
      { cells: '1,0\n1,1\n', marks: { 1: { solid: 'full' } }, tile: 2 },
      { cells: [[0.5]] },
      { cells: [] },
      { rows, nonsense: 1 },
    ])
      agree(data);
  });

  it('and the reference page name every key with its default', () => {
    const page = readFileSync(new URL('../../docs/tunings.md', import.meta.url), 'utf8');
    for (const key of KEYS) {
      const usual =
        'unit' in key
          ? (key.default ?? '')
          : 'choices' in key
            ? key.choices[0]!
            : 'switch' in key
              ? String(key.switch)
              : key.default.join(', ');
      expect(page).to.match(
        new RegExp(
          `^\\| \`${key.key.replace(/\./g, '\\.')}\` \\| [^|]+ \\| ${String(usual).replace(/\+/g, '\\+')} \\|.*${MEANINGS[key.key]!.slice(-20).replace(/[.*+?()]/g, '.')}`,
          'm',
        ),
      );
    }
  });

  it('explain every key, with its unit and default', () => {
    const text = JSON.stringify(schemas['tuning.schema.json']);
    for (const key of KEYS) expect(text).to.contain(MEANINGS[key.key]!);
    expect(compileTuning({}).full.run.speed).to.equal(7.5);
  });
});
