import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { PAGES, commandsOf, figuresOf, inFolderOf } from '../../test/support/pages.js';

const folder = fileURLToPath(new URL('../../docs/drawn/', import.meta.url));

/** Makes the figures of the pages anew, each by the commands that are printed on its page. */
export async function makeFigures(): Promise<void> {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder);
  for (const page of PAGES) {
    const figures = figuresOf(page);
    if (figures.length === 0) continue;
    await inFolderOf(page, async (here, path) => {
      for (const { text } of commandsOf(page)) {
        if (text.startsWith('apperin loft')) continue;
        const { status, stderr } = spawnSync('bash', ['-c', text], { cwd: here, env: { ...process.env, PATH: path }, encoding: 'utf8' }); // prettier-ignore
        if (status !== 0) throw new Error(`${page}: ${text}\n${stderr}`);
      }
      for (const name of figures) copyFileSync(join(here, name), join(folder, name));
    });
    console.log(`${page}: ${figures.join(', ')}`);
  }
}
