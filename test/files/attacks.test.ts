import {
  FileError,
  baseOf,
  decodeText,
  editTuning,
  readFrames,
  readInput,
  readKeys,
  readLevel,
  readPromises,
  readTuning,
} from 'apperin/files';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { DATA } from '../support/cli.js';
import { randomizer, type Random } from '../support/random.js';
import { share, shareOf } from '../support/share.js';
import { workOf } from '../support/work.js';

const drawn = (inner: string): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 400 400">\n${inner}\n<circle class="spawn" cx="1" cy="1" r="1"/></svg>`;
const draw = (inner: string) => readLevel(drawn(inner), { file: 'a.level.svg' });
const solid = (attributes: string): string => `<path class="solid" d="${attributes}"/>`;
const times = (count: number, make: (i: number) => string, between = ''): string => Array.from({ length: count }, (_, i) => make(i)).join(between); // prettier-ignore

/** What grows, in the small: twice as much must not be much more than twice the work. */
const GROWING: Readonly<Record<string, (n: number) => unknown>> = {
  'blanks in a transform': (n) => draw(`<rect class="solid" width="3" height="3" transform="${' '.repeat(n)}!"/>`),
  'steps of a transform': (n) => draw(`<rect class="solid" width="3" height="3" transform="${times(Math.min(n, 900), () => 'translate(1)', ' , ')}"/>`),
  'digits of a length': (n) => draw(`<rect class="solid" width="${'1'.repeat(n)}!" height="3"/>`),
  'blanks in a length': (n) => draw(`<rect class="solid" width="1${' '.repeat(n)}!" height="3"/>`),
  'blanks in a style': (n) => draw(`<rect class="solid" style="${times(n, () => 'fill-rule ')}" width="3" height="3"/>`),
  'blanks between points': (n) => draw(`<polygon class="solid" points="0,0 ${' '.repeat(n)} 1,1 0,1"/>`),
  'digits of a time': (n) => draw(`<g class="mover" id="m"><rect width="1" height="1"/><animateMotion path="M0,0h3" dur="${'1'.repeat(n)}!"/></g>`),
  'unknown keys': (n) => readTuning(times(n, (i) => `k${i}: 1`, '\n')),
  'unknown keys in a group': (n) => readTuning(`run: { ${times(n, (i) => `k${i}: 1`, ', ')} }`),
  'a wrong number in each of many spawns': (n) => readLevel(`rows: ["#@"]\nspawns:\n${times(n, (i) => `  s${i}: [1, x]`, '\n')}`),
  'spawns outside': (n) => readLevel(`rows: ["#@"]\nspawns:\n${times(n, (i) => `  s${i}: [99, 1]`, '\n')}`),
  'squares in one path, apart': (n) => draw(solid(times(n, (i) => `M${(i % 20) * 2},${Math.floor(i / 20) * 2}h1v1h-1z`))),
  'areas of a zone': (n) => draw(`<path class="zone" d="${times(n, (i) => `M${(i % 20) * 2},${Math.floor(i / 20) * 2}h1v1h-1z`)}"/>`),
  'shapes apart': (n) => draw(times(n, (i) => `<rect class="solid" x="${i * 2}" width="1" height="1"/>`)),
  'points of a jagged ring': (n) => draw(solid(`M0,200 ${times(n, (i) => `${i / 8},${i % 2 ? 10 + ((i * 7) % 5) : 100 + ((i * 3) % 7)}`, ' ')} ${n / 8},200z`)),
  'points of a jagged zone': (n) => draw(`<path class="zone" d="M0,200 ${times(n, (i) => `${i / 8},${i % 2 ? 10 : 100}`, ' ')} ${n / 8},200z"/>`),
  'keys of a tuning that is edited': (n) => editTuning(times(10 * n, (i) => `k${i}: 1`, '\n'), [{ key: 'run.speed', value: 5 }]),
  'what a tuning comes from': (n) => baseOf(`from: a.tuning.yaml\n${times(n, (i) => `k${i}: 1`, '\n')}`),
  'rows of an input': (n) => readInput(`time,action,value\n${times(n, (i) => `${i / 1000},jump,${i % 2}`, '\n')}`),
  'wrong rows of an input': (n) => readInput(`time,action,value\n${times(n, () => 'x,y,z', '\n')}`),
  'quoted rows of an input': (n) => readInput(`time,action,value\n${times(n, (i) => `${i / 1000},"jump","1"`, '\n')}`),
  'uses of one shape': (n) => draw(`<defs><rect id="r" class="solid" width="1" height="1"/></defs>${times(n, (i) => `<use href="#r" x="${i * 2}"/>`)}`),
}; // prettier-ignore

/** What is refused as too much, before it takes long, and with its place. */
const TOO_MUCH: Readonly<Record<string, [() => unknown, RegExp]>> = {
  '100,000 spawns': [() => readLevel(`rows: ["#@"]\nspawns:\n${times(100_000, (i) => `  s${i}: [1, 1]`, '\n')}`), /level\.yaml:\d+:\d+: the file has more than 600000 words/],
  'a scribble of 1,000 points': [() => draw(solid(`M${scribble(randomizer(1), 1000, 400, 64)}z`)), /a\.level\.svg:2:1: outlines cross more than 4000 times/],
  '100,000 squares in one path': [
    () => draw(solid(times(100_000, (i) => `M${(i % 316) * 2},${Math.floor(i / 316) * 2}h1v1h-1z`))),
    /a\.level\.svg:2:1: it has more than 75000 lines and rings/,
  ],
  '20,000 squares that touch': [() => draw(solid(times(20_000, (i) => `M${i % 150},${Math.floor(i / 150)}h1v1h-1z`))), /a\.level\.svg:2:1: outlines cross .* or touch more than/],
  'a path of five million characters': [() => draw(solid(`M0,0${'h1'.repeat(2_500_000)}`)), /a\.level\.svg:2:1: the path is too long/],
  'elements nested too deep': [() => draw('<g>'.repeat(300)), /nested more than 256 deep/],
  'an alias bomb': [() => readTuning(`a: &a [1]\n${times(12, (i) => `${'bcdefghijklm'[i]}: &${'bcdefghijklm'[i]} [${times(9, () => `*${'abcdefghijkl'[i]}`, ', ')}]`, '\n')}`), /aliases/],
  'brackets without end': [() => readTuning('['.repeat(100_000)), /nested more than 32 deep/],
  'a file beyond the limit': [() => readTuning('#'.repeat(262_145)), /at most 262144 are read/],
  'entities that grow': [() => readLevel('<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg">&b;</svg>', { file: 'a.level.svg' }), /a\.level\.svg:1:\d+/],
  'an entity of the system': [() => readLevel('<!DOCTYPE svg [<!ENTITY a SYSTEM "file:///etc/passwd">]><svg xmlns="http://www.w3.org/2000/svg"><title>&a;</title></svg>', { file: 'a.level.svg' }), /a\.level\.svg:1:\d+/],
}; // prettier-ignore

function scribble(random: Random, points: number, size: number, fine: number): string {
  const at = (): number => Math.round(random.between(0, size) * fine) / fine;
  return times(points, () => `${at()},${at()}`, ' ');
}

/** How often a ring goes round a point, and whether an odd number of its edges lies to the right of it. */
function around(ring: readonly (readonly number[])[], x: number, y: number): { winds: number; odd: boolean } {
  let [winds, crossings] = [0, 0];
  ring.forEach(([ax, ay], i) => {
    const [bx, by] = ring[(i + 1) % ring.length]!;
    if (ay! > y === by! > y) return;
    const left = (bx! - ax!) * (y - ay!) - (x - ax!) * (by! - ay!);
    if (by! > ay! ? left > 0 : left < 0) {
      winds += by! > ay! ? 1 : -1;
      crossings++;
    }
  });
  return { winds, odd: crossings % 2 === 1 };
}

describe('Attacks on the readers', () => {
  for (const [what, read] of Object.entries(GROWING).slice(0, share({ quick: 2, test: 99, deep: 99 })))
    it(`take work in proportion: ${what}`, async () => {
      const size = share({ quick: 100, test: 300, deep: 600 });
      // What is made on the first call is not counted. The engine may throw a count away with the code that it belongs to: then it is counted again.
      let ratio = Infinity;
      for (let tries = 0; tries < 4 && ratio > 2.6; tries++) {
        const [once, twice] = [await workOf(() => read(size)), await workOf(() => read(2 * size))];
        if (tries > 0 && once > 0) ratio = twice / once;
      }
      expect(ratio).to.be.below(2.6);
    });

  for (const [what, [read, says]] of Object.entries(TOO_MUCH).slice(share({ quick: 3, test: 0, deep: 0 })))
    it(`refuse with a place: ${what}`, () => {
      expect(read).to.throw(FileError, says);
    });

  const scribbles = { quick: 1, test: 200, deep: 2000 };
  it(`unite outlines that cross themselves, by either rule of filling (${shareOf(scribbles, 'scribbles')})`, () => {
    const random = randomizer(11);
    let looked = 0;
    for (let i = 0; i < share(scribbles); i++) {
      const size = random.pick([1, 10, 400]);
      const points = scribble(random, random.whole(4, 40), size, random.pick([1, 4, 64]));
      const ring = points.split(' ').map((point) => point.split(',').map(Number));
      const rule = random.pick(['nonzero', 'evenodd']);
      const text = `<path class="solid" fill-rule="${rule}" d="M${points}z"/>`;
      const { level } = draw(text);
      const outlines = 'outlines' in level ? level.outlines : [];
      for (let k = 0; k < 40; k++) {
        const [x, y] = [random.between(0, size), random.between(0, size)];
        const { winds, odd } = around(ring, x, y);
        const inside = outlines.reduce((is, outline) => is !== around(outline.points, x, y).odd, false);
        expect(inside, `${text} at ${x}, ${y}`).to.equal(rule === 'evenodd' ? odd : winds !== 0);
        looked++;
      }
    }
    expect(looked).to.equal(40 * share(scribbles));
  });

  const demo = (name: string): string => readFileSync(join(DATA, name), 'utf8');
  const READERS: readonly [string, string, (text: string) => unknown][] = [
    ['tuning', demo('brindle.tuning.yaml'), (text) => readTuning(text)],
    ['level in rows', demo('hoist.level.yaml'), (text) => readLevel(text)],
    ['drawn level', demo('lifts.level.svg'), (text) => readLevel(text, { file: 'a.level.svg' })],
    ['input', demo('leap.input.csv'), (text) => readInput(text)],
    ['keys', 'opposed: latest\nactions:\n  jump: { keys: [Space], buttons: [0] }\n  move: { axis: 0 }\n', (text) => readKeys(text)],
    ['promises', demo('brindle.promises.yaml'), (text) => readPromises(text)],
    ['numbers by frames', 'rate: 60\norder: velocity-first\nlaunch: 0.3\ngravity: 0.012\n', (text) => readFrames(text)],
  ]; // prettier-ignore
  const jobs = { quick: 20, test: 1000, deep: 20_000 };
  for (const [what, text, read] of READERS)
    it(`answer every text with what it says, or with a place: ${what} (${shareOf(jobs, 'texts')})`, () => {
      const random = randomizer(23);
      let refused = 0;
      for (let i = 0; i < share(jobs); i++) {
        const broken = mangled(text, random);
        try {
          read(broken);
        } catch (error) {
          if (!(error instanceof FileError)) throw new Error(`${JSON.stringify(broken)}: ${String(error)}`, { cause: error });
          expect(error.message).to.match(/^[^\n]+:\d+:\d+: /);
          refused++;
        }
      }
      expect(refused).to.be.above(share(jobs) / 20);
    }); // prettier-ignore

  it('shows no control characters: neither of values, names nor lines', () => {
    const evil = '\u001b[31m\u0007\u202e\u009b';
    for (const read of [
      () => readTuning(`run: { speed: "${'\\e[31m\\a'}" }`),
      () => readTuning(`"\\e[31mkey": 1`),
      () => readTuning(`run: {\nspeed: fast${'\u009b\u202e'} }`, { file: `${evil}.tuning.yaml` }),
      () => readInput(`time,action,value\n0,ju${evil}mp,1\n`),
      () => draw(`<rect class="solid" width="${'\u009b\u202e'}3x" height="1"/>`),
      () => readPromises(`promises: [{ mesure${'\u202e'}: 1 }]`),
    ])
      expect(read)
        .to.throw(FileError)
        .with.property('message')
        .that.matches(/^[^\p{Cc}\u202e]*(\n[^\p{Cc}\u202e]*)*$/u);
  });

  it('names UTF-16, and the first byte that is not UTF-8, alike for every kind of file', () => {
    const bytes = (text: string, how: 'utf16le' | 'latin1'): Buffer => Buffer.from(text, how);
    for (const [data, says] of [
      [bytes('\ufeffrun: {}\n', 'utf16le'), 'a:1:1: this is a text in UTF-16 (little-endian); save it as UTF-8'],
      [bytes('run: {}\n', 'utf16le'), 'a:1:1: this is a text in UTF-16 (little-endian)'],
      [bytes('\ufeffrun: {}\n', 'utf16le').swap16(), 'a:1:1: this is a text in UTF-16 (big-endian)'],
      [bytes('# one\n# caf\xe9\n', 'latin1'), 'a:2:6: this is not a text file in UTF-8: here is the byte E9'],
      [Buffer.concat([Buffer.from('# \ufffd\u00e9\n#'), bytes('\xfc', 'latin1')]), 'a:2:2: this is not a text file in UTF-8: here is the byte FC'],
      [Buffer.from([0x23, 0xe2, 0x82]), 'a:1:2: this is not a text file in UTF-8: here is the byte E2'],
    ] as const)
      expect(() => decodeText(data, 'a', 1000)).to.throw(FileError, says);
    expect(decodeText(Buffer.from('\ufeff# \ufffd'), 'a', 1000)).to.equal('# \ufffd');
  }); // prettier-ignore

  it('shows no line of what a tuning comes from where that is no tuning', () => {
    const passwords = 'root:x:0:0:secret:/root:/bin/sh\n';
    for (const [from, text] of [
      ['/etc/passwd', passwords],
      ['passwd.tuning.yaml', passwords],
      ['key.tuning.yaml', '-----BEGIN KEY-----\nsecret\n'],
      ['a.tuning.yaml', '{"secret": [\n'],
    ] as const)
      expect(() => readTuning(`from: ${from}\n`, { open: () => ({ text, file: `/elsewhere/${from}` }) }))
        .to.throw(FileError, /tuning\.yaml:1:7: .* is no tuning/)
        .with.property('message')
        .that.does.not.match(/secret|root/);
    // What is one shows its faults.
    expect(() => readTuning('from: b.tuning.yaml\n', { open: () => ({ text: 'run: { sped: 1 }\n', file: 'b.tuning.yaml' }) })).to.throw(FileError, 'b.tuning.yaml:1:8: there is no key run.sped');
  }); // prettier-ignore

  it('refuse names that every object has, by name', () => {
    for (const name of ['__proto__', 'constructor', 'toString', 'hasOwnProperty']) {
      const says = `nothing can be called ${name}`;
      expect(() => readLevel(`rows: ["#@"]\nspawns: { ${name}: [1, 1] }\n`)).to.throw(FileError, `level.yaml:2:11: ${says}`);
      expect(() => readLevel(`rows: ["#@"]\nsurfaces: { ${name}: { grip: 1 } }\n`)).to.throw(FileError, says);
      expect(() => readTuning(`own: { ${name}: { a: 1 } }\n`)).to.throw(FileError, `tuning.yaml:1:8: ${says}`);
      expect(() => readTuning(`own: { dash: { ${name}: 1 } }\n`)).to.throw(FileError, says);
      expect(() => readKeys(`actions: { ${name}: { keys: [KeyA] } }\n`)).to.throw(FileError, says);
      expect(() => draw(`<circle class="spawn" id="${name}" r="1"/>`)).to.throw(FileError, says);
      expect(() => draw(`<g class="surface" id="${name}" data-grip="2"/>`)).to.throw(FileError, says);
    }
    expect(({} as Record<string, unknown>).a).to.equal(undefined);
  }); // prettier-ignore
});

/** A text with something wrong in it: cut off, doubled, with marks from elsewhere. */
function mangled(text: string, random: Random): string {
  let now = text;
  for (let n = random.whole(1, 3); n > 0; n--) {
    const [at, length] = [random.whole(0, now.length), random.whole(0, 20)];
    const piece = now.slice(random.whole(0, now.length)).slice(0, random.whole(1, 30));
    const odd = random.pick(['\u0000', '\u001b', '"', "'", '{', ']', '&', '*', ':', '-', '<', '>', '\r', '\t', '1e999', '-1', '99999999999', 'NaN', '.inf', '~', '\ud800', '\u202e', ' ', '\n', '%', '!!js', '<<: *a', '/>', '<g>', 'M', 'z', ',', '__proto__']); // prettier-ignore
    now = random.pick([
      () => now.slice(0, at),
      () => now.slice(0, at) + now.slice(at + length),
      () => now.slice(0, at) + odd + now.slice(at),
      () => now.slice(0, at) + odd + now.slice(at + odd.length),
      () => now.slice(0, at) + piece + now.slice(at),
    ])();
  }
  return now;
}
