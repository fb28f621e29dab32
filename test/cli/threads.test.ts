import { expect } from 'chai';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { apperin, interrupted, withFolder } from '../support/cli.js';
import { fully, share } from '../support/share.js';

const HEAVY = 'airJumps:\n  heights: [2.4, 2, 1]\nglide: {}\ndive: {}\n';

describe('Long work', () => {
  fully('is the same with 1, 2 and 8 threads, to the byte: many varied numbers', async () =>
    withFolder(async (folder) => {
      writeFileSync(join(folder, 'hero.tuning.yaml'), 'airJumps: {}\n');
      const made: string[] = [];
      for (const workers of share({ quick: ['1', '2'], test: ['1', '2', '8'], deep: ['1', '2', '8'] })) {
        const varied = await apperin(['vary', 'hero.tuning.yaml', 'jump.height=2..4/40', `run.speed=4..12/${share({ quick: 26, test: 30, deep: 30 })}`, '--json', '--workers', workers], folder); // prettier-ignore
        expect(varied.status, varied.err).to.equal(0);
        made.push(varied.out);
      }
      expect(made[1]).to.equal(made[0]);
      expect(made.at(-1)).to.equal(made[0]);
      expect(JSON.parse(made[0]!).points).to.have.length(40 * share({ quick: 26, test: 30, deep: 30 }));
    }),
  );

  for (const workers of ['1', '2'])
    fully(`ends early when it is interrupted, and keeps what it has found (threads: ${workers})`, () =>
      withFolder(async (folder) => {
        writeFileSync(join(folder, 'hero.tuning.yaml'), HEAVY);
        const varied = await interrupted(['vary', 'hero.tuning.yaml', 'jump.height=2..4/100', 'run.speed=4..12/100', '--workers', workers], 'still at it', folder); // prettier-ignore
        expect(varied.status, varied.err).to.equal(0);
        expect(varied.err).to.match(/interrupted: \d+ of 10000 points/);
        expect(varied.out).to.match(/^apex height .*units/m);
      }),
    );

  it('refuses a number of threads that cannot be', async () => {
    for (const workers of ['0', '65', 'many']) {
      const { status, err } = await apperin(['vary', '--workers', workers]);
      expect([status, err.includes('1 to 64 threads')], err).to.deep.equal([2, true]);
    }
  });
});
