import { expect } from 'chai';
import { readFileSync, readdirSync } from 'node:fs';
import { JOBS } from '../deep/jobs.js';
import { share } from '../support/share.js';

const FOLDER = new URL('../kept/', import.meta.url);

/** What long random runs once found wrong: each file names a job and a seed. */
describe('What was once found wrong', () => {
  const files = readdirSync(FOLDER).filter((name) => name.endsWith('.json'));
  for (const file of files.slice(0, share({ quick: 1, test: files.length, deep: files.length })))
    it(`stays right: ${file}`, () => {
      const { job, seed } = JSON.parse(readFileSync(new URL(file, FOLDER), 'utf8')) as { job: string; seed: number };
      expect(JOBS[job]!.play(seed).broken).to.deep.equal([]);
    });
});
