import { expect } from 'chai';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Survey } from 'apperin/lab';
import { DATA, apperin, interrupted, withFolder } from '../support/cli.js';

const YARD = [join(DATA, 'yard.level.yaml'), join(DATA, 'brindle.tuning.yaml')];
const WHEEL = [join(DATA, 'wheelhouse.level.yaml'), join(DATA, 'brindle.tuning.yaml')];

describe('apperin survey, of a level', () => {
  it('says where a character gets to, and why not where it does not', async () => {
    const { status, out } = await apperin(['survey', ...WHEEL, '--workers', '1']);
    expect(status).to.equal(0);
    expect(out).to.match(/^brindle in The wheelhouse, from start\n/);
    expect(out).to.match(/^loft +spawn +no\b/m);
    expect(out).to.match(/^slab +spawn +yes +\d\.\d{3}/m);
    expect(out).to.match(/Of 12 places 8 are reached, 4 are out of reach, 0 were not found\./);
    expect(out).to.match(/^ +2 +ground +8\.650 +11\.350 +12\.000 +no +0\.550 too high, from 1$/m);
    expect(out).to.match(/No way back is known from 1 of them: 7 \(no\)\./);
    for (const line of out.split('\n')) expect(line.length).to.be.at.most(100);
  });

  it('writes ways that apperin run plays, at any rate, and the same bytes with any number of threads', () =>
    withFolder(async (folder) => {
      const told: string[] = [];
      for (const workers of ['1', '2', '4']) {
        const { status, err } = await apperin(['survey', ...YARD, '--workers', workers, '--out', workers, '--quiet'], folder);
        expect(status, err).to.equal(0);
        expect(err).to.equal('');
        told.push(readdirSync(join(folder, workers)).sort().map((name) => `${name}\n${readFileSync(join(folder, workers, name), 'utf8')}`).join('\n'));
      }
      expect(told[1]).to.equal(told[0]);
      expect(told[2]).to.equal(told[0]);
      const { places, targets } = JSON.parse(readFileSync(join(folder, '1', 'survey.json'), 'utf8')) as Survey;
      expect(targets.map(({ answer }) => answer)).to.deep.equal(['yes', 'yes']);
      for (const { id, points } of places) {
        const file = `place-${id}.input.csv`;
        for (const rate of ['15', '1000']) {
          const played = await apperin(['run', ...YARD, join('1', file), '--rate', rate, '--seconds', '20', '--json'], folder);
          const { events } = JSON.parse(played.out) as { events: { event: string; x: number; y: number }[] };
          // Where it starts it has not landed.
          if (id > 0) expect(events.some(({ event, x, y }) => event === 'touchdown' && y === points[0]![1] && x >= points[0]![0] && x <= points.at(-1)![0]), file).to.equal(true);
        }
      }
      expect(readFileSync(join(folder, '1', 'survey.svg'), 'utf8')).to.include('Where brindle gets to in The mill yard');
    })); // prettier-ignore

  it('takes what is to be got to, avoided and come home to, and numbers of its own', () =>
    withFolder(async (folder) => {
      const json = async (...words: string[]): Promise<Survey> => JSON.parse((await apperin(['survey', ...words, '--json'], folder)).out) as Survey;
      const one = await json(...YARD, '--to', '23,9', '--to', 'loft', '--at', 'quay', '--home', 'quay');
      expect(one.targets.map(({ name, kind, answer }) => `${name} ${kind} ${answer}`)).to.deep.equal(['23,9 point yes', 'loft spawn yes']);
      expect(one.deadEnds.every(({ home }) => home === 'quay')).to.equal(true);
      const lower = await json(...YARD, '--set', 'jump.height=1.5');
      expect(lower.total.no).to.be.greaterThan(3);
    })); // prettier-ignore

  it('draws it', () =>
    withFolder(async (folder) => {
      const { status, err } = await apperin(['draw', 'survey', ...WHEEL, '--out', 'wheel.svg', '--quiet'], folder);
      expect([status, err], err).to.deep.equal([0, '']);
      const svg = readFileSync(join(folder, 'wheel.svg'), 'utf8');
      for (const text of ['Of 12 places 8 are reached', '0.55 short', 'no way back', 'loft: no', 'slab: yes']) expect(svg).to.include(text); // prettier-ignore
    }));

  it('ends early when it is interrupted, and keeps what it has found', () =>
    withFolder(async (folder) => {
      const words = ['survey', join(DATA, 'saltreave.level.svg'), join(DATA, 'nimble.tuning.yaml'), '--spend', '1000000000'];
      const { status, out, err } = await interrupted(words, 'still at it', folder);
      expect(status, err).to.equal(0);
      expect(err).to.include('what has been found so far is kept');
      expect(out).to.match(/Of \d+ places \d+ are reached, .*\(ended early\)\./);
    })); // prettier-ignore

  it('refuses what it cannot take, with a sentence', async () => {
    for (const [words, message] of [
      [['--to', 'quai'], /there is no spawn quai; the level has start, quay, loft \(did you mean quay\?\)/],
      [['--avoid', 'hazard'], /no zone of the level has the tag hazard/],
      [['--spend', '0'], /1 to 1000000000000 events/],
    ] as const) {
      const { status, err } = await apperin(['survey', ...YARD, ...words]);
      expect([status, message.test(err)], err).to.deep.equal([2, true]);
    }
    const given = await apperin(['survey', ...YARD, join(DATA, 'leap.input.csv'), '--out', 'folder']);
    expect([given.status, given.err.includes('without an input')]).to.deep.equal([2, true]);
  });
});
