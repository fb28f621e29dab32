import { expect } from 'chai';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readTuning } from 'apperin/files';
import type { Fit } from 'apperin/lab';
import { DATA, apperin } from '../support/cli.js';
import { truthOf } from '../support/fitting.js';

const OLD = join(DATA, 'old-hand.capture.csv');
const NIGHT = join(DATA, 'night-shift.capture.csv');

describe('apperin fit', () => {
  let folder = '';
  before(() => (folder = mkdtempSync(join(tmpdir(), 'apperin-fit-'))));
  after(() => rmSync(folder, { recursive: true, force: true }));

  it('finds the numbers of an old controller, each with how sure it is, and writes them as a tuning', async () => {
    const file = join(folder, 'old.tuning.yaml');
    const { status, out, err } = await apperin(['fit', OLD, '--scale', '16', '--out', file]);
    expect([status, err]).to.deep.equal([0, `wrote ${file}\n`]);
    expect(out).to.match(/^jump\.height +2\.9\d+ +0\.0\d+ +8$/m).and.match(/^gravity\.cutTo +0\.3\d+/m);
    expect(out).to.include('y down').and.include('gravity.fallSpeed  never fell for long enough').and.include('a frame of 60 a second');
    expect(Math.max(...out.split('\n').map((line) => line.length))).to.be.at.most(110);
    const text = readFileSync(file, 'utf8');
    expect(text).to.match(/height: 2\.9\d+ # ± 0\.0\d+ from 8 stretches/).and.include('# Not told by them:');
    const { tuning, warnings } = readTuning(text);
    expect(warnings).to.deep.equal([]);
    expect(tuning.jump).to.have.keys('height', 'riseTime', 'minHold');
    // It stands where it was, and is not written over.
    expect((await apperin(['fit', OLD, '--scale', '16', '--out', OLD])).status).to.equal(2);
  }); // prettier-ignore

  it('says the same as JSON, with presses and segments', async () => {
    const { status, out } = await apperin(['fit', NIGHT, '--scale', '16', '--keys', 'jump=jump,right=right', '--json']);
    expect(status).to.equal(0);
    const { found, cannotTell, presses, segments, residual, stepped, unexplained } = JSON.parse(out) as Fit;
    expect(found['jump.height']).to.have.keys('value', 'within', 'stretches', 'loose');
    expect(cannotTell.map(({ key }) => key)).to.include('gravity.fallSpeed');
    expect(presses.some(({ action, value }) => action === 'left' && value === 1)).to.equal(true);
    expect(new Set(segments.map(({ kind }) => kind))).to.deep.equal(new Set(['rest', 'run', 'flight']));
    expect(residual.captured.rms).to.be.closeTo(0.5, 0.1);
    expect([stepped, unexplained]).to.deep.equal([{ rate: 30, order: 'either' }, []]);
  });

  for (const [input, level, name, keys] of [
    // Lands for a moment and hops at once; sets off late; lets go of every jump; goes up a shaft between two walls.
    [
      'leap',
      'yard.level.yaml',
      'brindle',
      ['jump.height', 'gravity.apex', 'gravity.released', 'run.upIn', 'run.stopIn', 'run.air.stopIn'],
    ],
    ['late', 'yard.level.yaml', 'brindle', ['jump.height', 'gravity.apex', 'run.upIn', 'run.stopIn']],
    [
      'double',
      'yard.level.yaml',
      'nimble',
      ['jump.height', 'airJumps.heights.0', 'gravity.released', 'gravity.fallSpeed'],
    ],
    ['ferry', 'lifts.level.svg', 'brindle', ['jump.height', 'jump.riseTime', 'gravity.falling', 'gravity.released']],
    [
      'hoist',
      'hoist.level.yaml',
      'brindle',
      ['jump.height', 'gravity.released', 'run.speed', 'run.upIn', 'run.stopIn'],
    ],
    [
      'shaft',
      'wheelhouse.level.yaml',
      'nimble',
      ['jump.height', 'wall.slideSpeed', 'wall.jump.height', 'wall.jump.out', 'run.upIn'],
    ],
    ['spring', 'yard.level.yaml', 'spring', ['jump.riseTime', 'gravity.falling', 'gravity.apex']],
  ] as const)
    it(`finds in a trace of ${input} what it was made with`, async () => {
      const [trace, tuning] = [join(folder, `${input}.csv`), join(DATA, `${name}.tuning.yaml`)];
      expect(
        (await apperin(['run', join(DATA, level), tuning, join(DATA, `${input}.input.csv`), '--trace', trace])).status,
      ).to.equal(0);
      const { found } = JSON.parse((await apperin(['fit', trace, tuning, '--json'])).out) as Fit;
      expect(Object.keys(found)).to.include.members(keys);
      const { tuning: truly } = readTuning(readFileSync(tuning, 'utf8'), {
        open: (file) => ({ text: readFileSync(join(DATA, file), 'utf8'), file }),
      });
      for (const [key, { value, loose }] of Object.entries(found)) {
        const truth = truthOf(truly, key)!;
        if (!loose) expect(value, key).to.be.closeTo(truth, 0.01 * truth);
      }
    });

  it('starts from a tuning, and leaves the rest of it as it is, to the comments', async () => {
    const start = join(folder, 'start.tuning.yaml');
    const found = join(folder, 'found.tuning.yaml');
    writeFileSync(start, '# Mine.\n\nrun:\n  speed: 4 # slow\ngrace:\n  coyote: 0.3 # forgiving\n');
    expect((await apperin(['fit', OLD, start, '--scale', '16', '--out', found, '--quiet'])).status).to.equal(0);
    const text = readFileSync(found, 'utf8');
    expect(text)
      .to.match(/^# Mine\.\n/)
      .and.include('coyote: 0.3 # forgiving')
      .and.match(/speed: 7\.\d+ # slow; ± 0\.\d+ from/);
    expect(readTuning(text).tuning.run!.speed).to.be.closeTo(7.5, 0.1);
    // Fitted again from there, nothing is said twice.
    const again = join(folder, 'again.tuning.yaml');
    expect((await apperin(['fit', OLD, found, '--scale', '16', '--out', again, '--quiet'])).status).to.equal(0);
    expect(readFileSync(again, 'utf8').match(/Found in captures/g)).to.have.length(1);
    expect(readFileSync(again, 'utf8')).to.match(/speed: 7\.\d+ # slow; ± [^±\n]*$/m);
  });

  it('draws the capture, the fitted motion and what is left', async () => {
    const file = join(folder, 'fit.svg');
    const { status, err } = await apperin(['draw', 'fit', OLD, '--scale', '16', '--out', file]);
    expect([status, err]).to.deep.equal([0, `wrote ${file}\n`]);
    const svg = readFileSync(file, 'utf8');
    for (const said of ['seconds from takeoff', 'turning round', 'letting go', 'what is left', '14 flights']) expect(svg).to.include(said);
  }); // prettier-ignore

  for (const [what, args, says] of [
    ['no capture', [join(DATA, 'brindle.tuning.yaml')], 'a capture is wanted'],
    ['a wrong column', [OLD, '--x', 'px'], 'there is no column "px"; did you mean x?'],
    ['a wrong way', [OLD, '--y-points', 'left'], 'it must be up or down'],
    ['keys without a column', [OLD, '--keys', 'jump'], 'it must be an action and the column'],
    ['two tunings', [OLD, 'a.tuning.yaml', 'b.tuning.yaml'], 'one tuning to start from'],
    ['a name that is no tuning', [OLD, '--out', 'found.yaml'], 'must end in .tuning.yaml'],
    ['a capture of nothing', [join(DATA, 'leap.input.csv'), '--x', 'value', '--y', 'value'], 'at least 12'],
  ] as const)
    it(`refuses ${what} with a sentence`, async () => {
      const { status, err, out } = await apperin(['fit', ...args]);
      expect([status, out]).to.deep.equal([2, '']);
      expect(err).to.include(says);
    });

  it('finds nothing wrong with the sample captures', async () => {
    expect((await apperin(['check', OLD, NIGHT])).status).to.equal(0);
  });
});
