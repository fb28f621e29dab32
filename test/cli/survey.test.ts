import { expect } from 'chai';
import { copyFileSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { PressMargin, Survey, SurveyedLink, SurveyedTarget } from 'apperin/lab';
import { DATA, apperin, interrupted, withFolder } from '../support/cli.js';

const YARD = [join(DATA, 'yard.level.yaml'), join(DATA, 'brindle.tuning.yaml')];
const WHEEL = [join(DATA, 'wheelhouse.level.yaml'), join(DATA, 'brindle.tuning.yaml')];

/** What a survey prints: with how tight presses are. */
type Pressed<One> = One & { presses: PressMargin[] | null };
type Told = Omit<Survey, 'targets' | 'links'> & { targets: Pressed<SurveyedTarget>[]; links: Pressed<SurveyedLink>[] };

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
    expect(out).to.match(/^ +6 +8 +jump +jump +0\.\d{3} +\d+\.\d +\d+\.\d +coyote 80\.\d/m);
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
      const ways = readdirSync(join(folder, '1')).filter((name) => name.startsWith('link-'));
      expect(ways.length).to.be.at.least(10);
      expect(readFileSync(join(folder, '1', 'survey.svg'), 'utf8')).to.match(/>\d+(\.\d+)? ms</);
      expect(readFileSync(join(folder, '1', 'survey.svg'), 'utf8')).to.include('Where brindle gets to in The mill yard');
    })); // prettier-ignore

  it('takes what is to be got to, avoided and come home to, and numbers of its own', () =>
    withFolder(async (folder) => {
      const json = async (...words: string[]): Promise<Told> => JSON.parse((await apperin(['survey', ...words, '--json'], folder)).out) as Told;
      const one = await json(...YARD, '--to', '23,9', '--to', 'loft', '--at', 'quay', '--home', 'quay');
      expect(one.targets.map(({ name, kind, answer }) => `${name} ${kind} ${answer}`)).to.deep.equal(['23,9 point yes', 'loft spawn yes']);
      expect(one.deadEnds.every(({ home }) => home === 'quay')).to.equal(true);
      // How tight presses are: of the ways to what was asked for, of links that have some, and of all where that is asked.
      const tight = one.targets.flatMap(({ presses }) => presses!.map(({ press }) => press.window));
      expect(tight.length).to.be.at.least(2);
      expect(one.links.some(({ presses }) => presses === null)).to.equal(true);
      const all = await json(...YARD, '--margins', 'all');
      expect(all.links.every(({ presses }) => presses !== null)).to.equal(true);
      expect(all.links.every(({ how, presses }) => how !== 'run' || presses!.length === 0)).to.equal(true);
      const soon = await json(...WHEEL, '--within', '0');
      expect([soon.stopped, soon.spent, soon.total.yes]).to.deep.equal([true, 0, 1]);
      const lower = await json(...YARD, '--set', 'jump.height=1.5');
      expect(lower.total.no).to.be.greaterThan(3);
    })); // prettier-ignore

  it('does without shapes that are switched off, and so does a run', () =>
    withFolder(async (folder) => {
      writeFileSync(join(folder, 'gate.level.yaml'), 'rows:\n  - "#########"\n  - "#...G...#"\n  - "#...G...#"\n  - "#.@.G...#"\n  - "#########"\nmarks: { G: { solid: full, name: gate } }\nspawns: { door: [6.5, 4] }\n'); // prettier-ignore
      const ask = async (...words: string[]): Promise<Told> => JSON.parse((await apperin(['survey', 'gate.level.yaml', YARD[1]!, '--workers', '1', '--json', ...words], folder)).out) as Told;
      const [shut, open] = [await ask(), await ask('--shapes', 'gate=off', '--out', 'open', '--care', '0.05')];
      expect([shut.targets[0]!.answer, shut.shapes]).to.deep.equal(['no', null]);
      expect([open.targets[0]!.answer, open.shapes]).to.deep.equal(['yes', { gate: 'off' }]);
      expect(open.hashes).to.have.keys('level', 'tuning', 'build');
      for (const [words, x] of [[[], 3.65], [['--shapes', 'gate=off'], 6]] as const) {
        const { last } = JSON.parse((await apperin(['run', 'gate.level.yaml', YARD[1]!, join('open', 'door.input.csv'), ...words, '--seconds', '3', '--json'], folder)).out) as { last: { x: number } };
        if (x === 6) expect(last.x).to.be.above(x);
        else expect(last.x).to.be.closeTo(x, 1e-6);
      }
      const wrong = await apperin(['survey', 'gate.level.yaml', YARD[1]!, '--shapes', 'gatt=off'], folder);
      expect([wrong.status, wrong.err]).to.deep.equal([2, 'there is no shape gatt; the level has gate\n']);
      expect((await apperin(['run', 'gate.level.yaml', YARD[1]!, '--shapes', 'gate'], folder)).err).to.include('gate=off');
      // The same is promised, and searched.
      writeFileSync(join(folder, 'gate.promises.yaml'), 'promises:\n  - { name: shut, level: gate.level.yaml, survey: door, answer: no }\n  - { name: open, level: gate.level.yaml, survey: door, answer: yes, shapes: { gate: off } }\n  - { name: easy, level: gate.level.yaml, survey: door, tightest: 0.05, shapes: { gate: off } }\n');
      const kept = await apperin(['verify', 'gate.promises.yaml', YARD[1]!, '--workers', '1'], folder);
      expect([kept.status, kept.out.includes('All 3 promises are kept.')], kept.err).to.deep.equal([0, true]);
      const found = await apperin(['search', YARD[1]!, 'jump.height=2,3', '--promises', 'gate.promises.yaml', '--out', 'found.jsonl', '--workers', '1'], folder);
      expect(found.out, found.err).to.include('2 tunings, 3 promises: 2 keep all of them');
      writeFileSync(join(folder, 'gate.promises.yaml'), 'promises: [{ level: gate.level.yaml, survey: door, answer: yes, shapes: { gate: shut } }]\n');
      expect((await apperin(['verify', 'gate.promises.yaml', YARD[1]!], folder)).err).to.match(/shapes\.gate is .?shut.?; it must be on or off/);
    })); // prettier-ignore

  it('goes by what a game adds, and rules out nothing then', () =>
    withFolder(async (folder) => {
      writeFileSync(join(folder, 'well.level.yaml'), 'rows:\n  - "#.........#"\n  - "#.....####"\n  - "#........#"\n  - "#........#"\n  - "#........#"\n  - "#........#"\n  - "#........#"\n  - "#.@......#"\n  - "###~~#####"\nmarks: { "~": { solid: full, surface: spring } }\nsurfaces: { spring: {} }\nspawns: { top: [7.5, 1] }\n'); // prettier-ignore
      writeFileSync(join(folder, 'springs.mjs'), "export function host(stage, hero) {\n  hero.on('touchdown', ({ surface }) => void (surface === 'spring' && hero.hop(8)));\n}\n"); // prettier-ignore
      const ask = async (...words: string[]): Promise<Told> => JSON.parse((await apperin(['survey', 'well.level.yaml', YARD[1]!, '--json', ...words], folder)).out) as Told; // prettier-ignore
      const plain = await ask('--workers', '1');
      expect([plain.targets[0]!.answer, plain.host]).to.deep.equal(['no', null]);
      const [one, two] = [
        await ask('--workers', '1', '--host', 'springs.mjs', '--out', 'found'),
        await ask('--workers', '2', '--host', 'springs.mjs'),
      ];
      expect([one.targets[0]!.answer, one.host, one.total.no]).to.deep.equal(['yes', 'springs.mjs', 0]);
      expect(two.targets[0]!.presses).to.deep.equal(one.targets[0]!.presses);
      const run = async (...words: string[]) => JSON.parse((await apperin(['run', 'well.level.yaml', YARD[1]!, join('found', 'top.input.csv'), '--seconds', '8', '--json', ...words], folder)).out) as { last: { x: number; y: number } }; // prettier-ignore
      expect((await run('--host', 'springs.mjs')).last.y).to.equal(1);
      expect((await run()).last.y).to.equal(8);
      writeFileSync(join(folder, 'none.mjs'), 'export const springs = 3;\n');
      for (const [module, message] of [['none.mjs', 'it must export a function host'], ['gone.mjs', 'there is no such file']] as const) expect((await apperin(['survey', 'well.level.yaml', YARD[1]!, '--host', module], folder)).err).to.include(message); // prettier-ignore
    }));

  it('is promised: what can be reached, what cannot, how tight it is, and that nobody gets stuck', () =>
    withFolder(async (folder) => {
      for (const name of ['yard.level.yaml', 'brindle.tuning.yaml']) copyFileSync(join(DATA, name), join(folder, name));
      const verified = async (lines: readonly string[]) => {
        writeFileSync(join(folder, 'yard.promises.yaml'), `tuning: ./brindle.tuning.yaml\npromises:\n${lines.map((line) => `  - { level: yard.level.yaml, ${line} }\n`).join('')}`);
        const { status, out, err } = await apperin(['verify', 'yard.promises.yaml', '--json'], folder);
        return { status, err, answers: status === 2 ? [] : (JSON.parse(out) as { files: { promises: { name: string; kept: boolean; value: number; remark: string }[] }[] }).files[0]!.promises };
      };
      const kept = await verified(['survey: loft, answer: yes', 'survey: quay, tightest: 0.03', 'dead-ends: 0', 'survey: quay, answer: yes, at: loft']);
      expect(kept.status).to.equal(0);
      expect(kept.answers.map(({ name }) => name)).to.deep.equal(['loft can be reached', 'nothing tighter than 0.03 s on the way to quay', 'nobody gets stuck', 'quay can be reached']);
      expect(kept.answers[1]!.value).to.be.within(0.03, 1);
      expect(kept.answers[2]!.value).to.equal(0);
      const lost = await verified(['survey: loft, answer: no', 'survey: quay, tightest: 2', 'survey: loft, answer: yes, spend: 1']);
      expect([lost.status, ...lost.answers.map(({ kept: is }) => is)]).to.deep.equal([1, false, false, false]);
      expect(lost.answers[2]!.remark).to.equal('not found: neither yes nor no');
      for (const [line, message] of [
        ['survey: loft', 'must have answer or tightest'],
        ['survey: lift, answer: yes', 'there is no spawn or zone lift to get to; there are quay, loft'],
        ['measure: reach, least: 1, answer: yes', 'which is said of a survey'],
        ['survey: loft, answer: maybe', 'it must be yes or no'],
        ['dead-ends: 0, input: x.input.csv', 'it has no input'],
      ] as const) {
        const refused = await verified([line]);
        expect([refused.status, refused.err.includes(message)], refused.err).to.deep.equal([2, true]);
      }
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

  it('is part of a report', () =>
    withFolder(async (folder) => {
      const { status, err } = await apperin(['report', YARD[1]!, ...[YARD[0]!, WHEEL[0]!], '--out', 'b.report.html'], folder);
      expect(status, err).to.equal(0);
      const page = readFileSync(join(folder, 'b.report.html'), 'utf8');
      expect(page).to.match(/<h2[^>]*>Where it gets to: The mill yard<[^]*Of 9 places 9 are reached[^]*<th scope="row">quay<[^]*The tightest presses between places/);
      expect(page).to.match(/<h2[^>]*>Where it gets to: The wheelhouse<[^]*Of 12 places 8 are reached, 4 are out of reach/);
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
