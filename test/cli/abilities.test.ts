import { expect } from 'chai';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { DATA, apperin, startApperin, withFolder } from '../support/cli.js';

const CORE = fileURLToPath(new URL('../../dist/core/index.js', import.meta.url));

const MODULE = `import { ability } from ${JSON.stringify(CORE)};
export const lunge = ability('lunge', {
  own: { speed: { value: 18, unit: 'speed' }, lasts: { value: 0.15, least: 0.02, most: 1, unit: 'time' } },
  timers: ['active'],
  actions: ['lunge'],
  events: ['lungeOn'],
  act(c, own, s) {
    if (c.take('lunge')) {
      s.active = own.lasts;
      c.tell('lungeOn');
    }
    if (!s.active) return;
    c.claim();
    c.gravity = 0;
    c.vx = c.facing * own.speed;
    c.vy = 0;
  },
});
export const more = [lunge];
export const version = 3;
`;

const FILES = {
  'lunge.js': MODULE,
  'package.json': '{ "type": "module" }',
  'brisk.tuning.yaml': 'jump: { height: 3, riseTime: 0.4 }\nown: { lunge: { speed: 20 } }\n',
  'odd.tuning.yaml': 'own: { lunge: { sped: 20, lasts: 2 } }\n',
  'lunge.input.csv': 'time,action,value\n0,right,1\n0.2,lunge,1\n0.3,lunge,0\n',
  'nothing.js': 'export const x = 1;\n',
  'broken.js': 'export const x = ;\n',
};
const YARD = join(DATA, 'yard.level.yaml');

describe('Abilities of a game in the tools', () => {
  const within = (use: (folder: string) => Promise<void>): Promise<void> =>
    withFolder((folder) => {
      for (const [name, text] of Object.entries(FILES)) writeFileSync(join(folder, name), text);
      return use(folder);
    });

  it('play with their numbers, actions and events where a call names their module', () =>
    within(async (folder) => {
      const args = ['run', YARD, 'brisk.tuning.yaml', 'lunge.input.csv', '--seconds', '1', '--abilities', 'lunge.js'];
      const played = startApperin([...args, '--json', '--events', 'out.jsonl'], folder);
      expect([played.status, played.err]).to.deep.equal([0, '']);
      const { last } = JSON.parse(played.out) as { last: { x: number } };
      const { status, out } = await apperin([...args, '--set', 'own.lunge.speed=30'], folder);
      expect([status, out.includes('lungeOn')]).to.deep.equal([0, true]);
      const faster = await apperin([...args, '--set', 'own.lunge.speed=30', '--json'], folder);
      expect((JSON.parse(faster.out) as { last: { x: number } }).last.x - last.x).to.be.above(1);
      for (const command of [
        ['check', 'brisk.tuning.yaml', 'lunge.input.csv'],
        ['sheet', 'brisk.tuning.yaml', '--set', 'own.lunge.lasts=0.5'],
        ['draw', 'trace', YARD, 'brisk.tuning.yaml', 'lunge.input.csv', '--out', 'trace.svg'],
        ['compare', 'brisk.tuning.yaml', '--set', 'own.lunge.speed=10', YARD, 'lunge.input.csv'],
      ]) {
        const answer = await apperin([...command, '--abilities', './lunge.js'], folder);
        expect([answer.status, answer.err.includes('lunge:')], command.join(' ') + answer.err).to.deep.equal([
          0,
          false,
        ]);
      }
      const compared = await apperin(['compare', 'brisk.tuning.yaml', '--set', 'own.lunge.speed=10', YARD, 'lunge.input.csv', '--abilities', 'lunge.js', '--json'], folder); // prettier-ignore
      expect(compared.out).to.contain('own.lunge.speed');
      // What their moves do is measured, and drawn.
      const json = async (...words: string[]): Promise<{ measures: { id: string; value: number }[] }> => JSON.parse((await apperin([...words, '--abilities', 'lunge.js', '--json'], folder)).out) as { measures: { id: string; value: number }[] }; // prettier-ignore
      const { measures } = await json('sheet', 'brisk.tuning.yaml');
      expect(measures.find(({ id }) => id === 'lungeSpeed')!.value).to.be.closeTo(20, 1e-9);
      expect((await json('compare', 'brisk.tuning.yaml', '--set', 'own.lunge.speed=10')).measures.map(({ id }) => id)).to.include('lungeReach'); // prettier-ignore
      writeFileSync(join(folder, 'brisk.promises.yaml'), 'promises: [{ measure: lungeSpeed, least: 19, most: 21 }]\n');
      expect((await apperin(['verify', 'brisk.promises.yaml', 'brisk.tuning.yaml', '--abilities', 'lunge.js'], folder)).out).to.contain('All 1 promises are kept'); // prettier-ignore
      const drawn = await apperin(['draw', 'envelope', 'brisk.tuning.yaml', '--abilities', 'lunge.js', '--out', 'far.svg', '--reach', '9,0.5'], folder); // prettier-ignore
      expect([drawn.status, drawn.err], drawn.err).to.satisfy(([status, err]: [number, string]) => status === 0 && err.includes('with one press of lunge, as played')); // prettier-ignore
      const there = await apperin(['run', 'far.level.yaml', 'brisk.tuning.yaml', 'far.input.csv', '--abilities', 'lunge.js', '--seconds', /--seconds ([\d.]+)/.exec(drawn.out)![1]!, '--json'], folder); // prettier-ignore
      const { last: at } = JSON.parse(there.out) as { last: { x: number; y: number } };
      expect(Math.abs(at.x - 9) + Math.abs(at.y - 0.5)).to.be.below(1e-3);
    }));

  it('are said to be missing where it does not, and what does not need them goes on', () =>
    within(async (folder) => {
      for (const [command, done] of [
        [['run', YARD, 'brisk.tuning.yaml'], 'played'],
        [['draw', 'trace', YARD, 'brisk.tuning.yaml', '--out', 'trace.svg'], 'played'],
        [['sheet', 'brisk.tuning.yaml'], 'reckoned'],
        [['check', 'brisk.tuning.yaml'], 'brisk.tuning.yaml: looked at'],
        [['draw', 'envelope', 'brisk.tuning.yaml', '--out', 'reach.svg'], 'reckoned'],
        [['report', 'brisk.tuning.yaml', '--out', 'page.html'], 'brisk: reckoned'],
      ] as const) {
        const { status, err } = await apperin(command, folder);
        expect(status, `${command.join(' ')}: ${err}`).to.equal(0);
        expect(err).to.contain(`${done} without lunge: abilities of a game are not known here; --abilities names their module`); // prettier-ignore
      }
      const { status, err } = await apperin(['run', YARD, 'brisk.tuning.yaml', 'lunge.input.csv'], folder);
      expect(status).to.equal(2);
      expect(err).to.contain('there is no action "lunge"').and.to.contain('--abilities names their module');
    }));

  it('have numbers that are checked, with their places', () =>
    within(async (folder) => {
      const { status, err } = await apperin(['check', 'odd.tuning.yaml', '--abilities', 'lunge.js'], folder);
      expect(status).to.equal(2);
      expect(err).to.contain('odd.tuning.yaml:1:23: own.lunge.sped: the ability lunge has no such number; did you mean speed?'); // prettier-ignore
      expect(err).to.contain('odd.tuning.yaml:1:34: own.lunge.lasts is 2; it must be at least 0.02 and at most 1');
      for (const [args, message] of [
        [['--set', 'own.lunge.sped=3', '--abilities', 'lunge.js'], '--set own.lunge.sped=3: own.lunge.sped: the ability lunge has no such number; did you mean speed?'], // prettier-ignore
        [['--set', 'own.lunge.lasts=3', '--abilities', 'lunge.js'], 'own.lunge.lasts is 3; it must be at least 0.02 and at most 1'], // prettier-ignore
        [['--set', 'own.lunge.lasts=long'], 'own.lunge.lasts is long; it must be a number'],
        [['--abilities', 'none.js'], '--abilities none.js: there is no such file'],
        [['--abilities', 'nothing.js'], '--abilities nothing.js: it exports no ability'],
        [['--abilities', 'broken.js'], '--abilities broken.js: it cannot be loaded: Unexpected token'],
      ] as const) {
        const answer = await apperin(['sheet', 'brisk.tuning.yaml', ...args], folder);
        expect([answer.status, answer.err.includes(message)], answer.err).to.deep.equal([2, true]);
      }
    }));
});
