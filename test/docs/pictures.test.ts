import { expect } from 'chai';
import { cpSync, readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { MADE, shownBy, wordsOf } from '../../scripts/pictures/list.js';
import { DATA, apperin, withFolder } from '../support/cli.js';
import { EXAMPLES, LOFTS, SITE } from '../../scripts/pictures/pages.js';

const root = fileURLToPath(new URL('../../', import.meta.url));
const shots = join(root, 'docs/screenshots');

describe('The pictures of the docs', () => {
  const words = JSON.parse(readFileSync(join(root, 'scripts/pictures/words.json'), 'utf8')) as Record<string, string[]>;

  for (const made of MADE.filter(({ kind }) => kind !== 'page'))
    it(`${made.name}.png says what its command says today`, async () => {
      await withFolder(async (folder) => {
        cpSync(DATA, folder, { recursive: true });
        const printed: string[] = [];
        for (const command of made.commands) {
          const { status, out, err } = await apperin(command.split(' '), folder);
          expect(status, err).to.be.below(2);
          printed.push(out || err);
        }
        const said = made.kind === 'terminal' ? shownBy(made, printed) : wordsOf(readFileSync(join(folder, `${made.name}.svg`), 'utf8'));
        expect(said).to.deep.equal(words[made.name]);
      });
    }); // prettier-ignore

  it('are all made by the script, fewer than twenty, and each is shown in the README', () => {
    const files = readdirSync(shots).filter((name) => name.endsWith('.png'));
    const made = [...MADE, ...LOFTS, ...EXAMPLES, SITE].map(({ name }) => `${name}.png`);
    expect(files.sort()).to.deep.equal(made.sort());
    expect(files.length).to.be.below(20);
    const readme = readFileSync(join(root, 'README.md'), 'utf8');
    expect(files.filter((name) => !readme.includes(`docs/screenshots/${name}`))).to.deep.equal([]);
  });
});
