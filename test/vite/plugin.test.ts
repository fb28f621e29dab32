import { apperin } from 'apperin/vite';
import { expect } from 'chai';
import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdirSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { build, type Rolldown } from 'vite';
import { DATA, withFolder } from '../support/cli.js';

/** A game's script, built with the plugin. */
async function built(folder: string, script: string): Promise<string> {
  writeFileSync(join(folder, 'game.js'), script);
  const [output] = (await build({
    configFile: false,
    logLevel: 'silent',
    root: folder,
    plugins: [apperin()],
    build: { write: false, minify: false, lib: { entry: join(folder, 'game.js'), formats: ['es'], fileName: () => 'game.js' } },
  })) as Rolldown.RolldownOutput[]; // prettier-ignore
  return output!.output[0].code;
}

/** How building a game ends that imports a file. */
async function refused(folder: string, file: string): Promise<string> {
  return built(folder, `import it from './${file}'; console.log(it);`).then(
    () => 'built',
    (error: Error) => error.message,
  );
}

describe('The Vite plugin', () => {
  it('makes tunings, with what they come from, and levels importable', () =>
    withFolder(async (folder) => {
      for (const name of ['brindle.tuning.yaml', 'nimble.tuning.yaml', 'yard.level.yaml', 'lifts.level.svg'])
        copyFileSync(join(DATA, name), join(folder, name));
      const code = await built(
        folder,
        `import nimble, { follow } from './nimble.tuning.yaml'; import yard from './yard.level.yaml'; import lifts from './lifts.level.svg'; console.log(nimble, follow, yard, lifts);`,
      );
      // (A drawing is a level, and no picture.)
      expect(code).to.contain('"airJumps"').and.to.contain('"rows"').and.to.contain('retune').and.to.contain('"outlines"'); // prettier-ignore
    }));

  it('says what is wrong with a file, with its place, and reads nothing but files', () =>
    withFolder(async (folder) => {
      writeFileSync(join(folder, 'odd.tuning.yaml'), 'run:\n  sped: 1\n');
      expect(await refused(folder, 'odd.tuning.yaml')).to.contain('odd.tuning.yaml:2:3: there is no key run.sped');
      writeFileSync(join(folder, 'latin.tuning.yaml'), Buffer.from('# caf\xe9\n', 'latin1'));
      expect(await refused(folder, 'latin.tuning.yaml')).to.contain('latin.tuning.yaml:1:6: this is not a text file in UTF-8'); // prettier-ignore
      // What would hold the server up for ever.
      execFileSync('mkfifo', [join(folder, 'pipe.tuning.yaml'), join(folder, 'pipe.level.svg')]);
      symlinkSync('/dev/zero', join(folder, 'zero.level.yaml'));
      mkdirSync(join(folder, 'dir.tuning.yaml'));
      writeFileSync(join(folder, 'from.tuning.yaml'), 'from: pipe.tuning.yaml\n');
      writeFileSync(join(folder, 'spy.tuning.yaml'), 'from: /etc/passwd\n');
      for (const file of ['pipe.tuning.yaml', 'pipe.level.svg', 'zero.level.yaml', 'dir.tuning.yaml', 'from.tuning.yaml'])
        // (A pipe is not even found.)
        expect(await refused(folder, file), file).to.match(/only files are read|resolve/i);
      expect(await refused(folder, 'spy.tuning.yaml')).to.contain('is no tuning').and.not.to.contain('root:');
    })); // prettier-ignore
});
