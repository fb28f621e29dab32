import { expect } from 'chai';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { apperin, interrupted, withFolder } from '../support/cli.js';
import { fully, share } from '../support/share.js';

const HEAVY = 'airJumps:\n  heights: [2.4, 2, 1]\nglide: {}\ndive: {}\n';

describe('Long work', () => {
  fully('is the same with 1, 2 and 8 threads, to the byte: an envelope, and many varied numbers', async () =>
    withFolder(async (folder) => {
      writeFileSync(join(folder, 'hero.tuning.yaml'), 'airJumps: {}\n');
      const made: string[][] = [];
      for (const workers of share({ quick: ['1', '2'], test: ['1', '2', '8'], deep: ['1', '2', '8'] })) {
        const drawn = await apperin(['draw', 'envelope', 'hero.tuning.yaml', '--workers', workers, '--reach', '3,2', '--out', `${workers}.svg`], folder); // prettier-ignore
        expect(drawn.status, drawn.err).to.equal(0);
        const varied = await apperin(['vary', 'hero.tuning.yaml', 'jump.height=2..4/40', `run.speed=4..12/${share({ quick: 26, test: 30, deep: 30 })}`, '--json', '--workers', workers], folder); // prettier-ignore
        expect(varied.status, varied.err).to.equal(0);
        const text = (name: string): string => readFileSync(join(folder, `${workers}.${name}`), 'utf8');
        made.push([text('svg'), text('input.csv'), varied.out]);
      }
      expect(made[1]).to.deep.equal(made[0]);
      expect(made.at(-1)).to.deep.equal(made[0]);
      expect(JSON.parse(made[0]![2]!).points).to.have.length(40 * share({ quick: 26, test: 30, deep: 30 }));
    }),
  );

  for (const workers of ['1', '2'])
    fully(`ends early when it is interrupted, and keeps what it has found (threads: ${workers})`, () =>
      withFolder(async (folder) => {
        writeFileSync(join(folder, 'hero.tuning.yaml'), HEAVY);
        const drawn = await interrupted(['draw', 'envelope', 'hero.tuning.yaml', '--states', '10000000', '--workers', workers, '--out', 'e.svg'], 'still at it', folder); // prettier-ignore
        expect(drawn.status, drawn.err).to.equal(0);
        expect(drawn.err).to.include('what has been found so far is kept');
        expect(drawn.err).to.match(/\d+ cells of 0.25 units, from \d+ states; interrupted/);
        expect(readFileSync(join(folder, 'e.svg'), 'utf8')).to.include('cut short');
        const varied = await interrupted(['vary', 'hero.tuning.yaml', 'jump.height=2..4/100', 'run.speed=4..12/100', '--workers', workers], 'still at it', folder); // prettier-ignore
        expect(varied.status, varied.err).to.equal(0);
        expect(varied.err).to.match(/interrupted: \d+ of 10000 points/);
        expect(varied.out).to.match(/^apex height .*units/m);
      }),
    );

  it('refuses a number of threads that cannot be', async () => {
    for (const workers of ['0', '65', 'many']) {
      const { status, err } = await apperin(['draw', 'envelope', '--workers', workers]);
      expect([status, err.includes('1 to 64 threads')], err).to.deep.equal([2, true]);
    }
  });
});
