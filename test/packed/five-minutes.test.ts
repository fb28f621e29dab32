import { expect } from 'chai';
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Browser, Page } from 'playwright-core';
import { openBrowser } from '../support/browser.js';
import { packed, type Packed } from '../support/packed.js';

const page = readFileSync(fileURLToPath(new URL('../../docs/five-minutes.md', import.meta.url)), 'utf8');

/** The files that the page says to write, and the commands that it says to type, in their order. */
const files = [...page.matchAll(/^```\w+ (\S+)\n([^]*?)^```$/gm)].map(([, name, text]) => ({
  name: name!,
  text: text!,
}));
const commands = [...page.matchAll(/^```sh\n([^]*?)^```$/gm)].flatMap(([, text]) => text!.trim().split('\n')); // prettier-ignore

describe('Five minutes, from an empty folder with the packages as they are published', function () {
  let made: Packed;
  let folder = '';
  let browser: Browser | undefined;
  let going: ChildProcess[] = [];
  const env = (): NodeJS.ProcessEnv => ({ ...process.env, PATH: `${join(made.folder, 'bin')}:${process.env.PATH}`, NODE_OPTIONS: '', NO_COLOR: '1' }); // prettier-ignore

  before(() => {
    made = packed();
    folder = join(made.folder, 'first-mill');
    // What opens an address, as a desktop has it: it writes down which.
    mkdirSync(join(made.folder, 'bin'));
    writeFileSync(join(made.folder, 'bin/xdg-open'), `#!/bin/sh\necho "$1" > '${join(made.folder, 'opened')}'\n`);
    chmodSync(join(made.folder, 'bin/xdg-open'), 0o755);
  });
  after(async () => {
    await browser?.close();
    for (const one of going) process.kill(-one.pid!, 'SIGKILL');
    rmSync(made.folder, { recursive: true, force: true });
  });

  /** A command that goes on, until it has said something. */
  async function begin(command: string, until: RegExp): Promise<string> {
    const child = spawn('sh', ['-c', `exec ${command}`], { cwd: folder, env: env(), detached: true });
    going.push(child);
    let said = '';
    return new Promise((done, fail) => {
      const hear = (text: Buffer): void => {
        said += text.toString();
        const found = until.exec(said);
        if (found) done(found[1]!);
      };
      child.stdout.on('data', hear);
      child.stderr.on('data', hear);
      child.on('exit', (status) => {
        going = going.filter((one) => one !== child);
        fail(new Error(`${command} ended with ${status}: ${said}`));
      });
    });
  }

  function type(command: string, cwd = folder): void {
    const { status, stdout, stderr } = spawnSync('sh', ['-c', command], { cwd, env: env(), encoding: 'utf8' });
    expect(status, `${command}\n${stdout}${stderr}`).to.equal(0);
  }

  /** The row of the canvas that the top of the body is on, as its outline is seen. */
  const top = (of: Page): Promise<number> =>
    of.evaluate(() => {
      const canvas = document.querySelector('canvas')!;
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      for (let i = 0; i < data.length; i += 4)
        if (data[i + 3]! > 150 && Math.abs(data[i]! - 0xb3) < 12 && Math.abs(data[i + 1]! - 0x54) < 12 && Math.abs(data[i + 2]! - 0x1e) < 12) return i / 4 / canvas.width;
      return Infinity;
    }); // prettier-ignore

  /** How high it jumps while the key is held, in tiles of 40 pixels. */
  async function jump(of: Page): Promise<number> {
    const floor = await top(of);
    let peak = floor;
    await of.keyboard.down('Space');
    while (peak > floor - 20 || (await top(of)) < floor - 2) peak = Math.min(peak, await top(of));
    await of.keyboard.up('Space');
    return (floor - peak) / 40;
  }

  it('the page can be followed: what it says to write and to type, and nothing else', async () => {
    const [make, into, init, install, installTools, serve, ...tune] = commands;
    // What stands in for the registry: both packages are there as they would be installed.
    expect([install, installTools]).to.deep.equal(['npm install apperin', 'npm install --save-dev apperin-tools vite typescript']); // prettier-ignore
    type(make!, made.folder);
    expect(into).to.equal('cd first-mill');
    type(init!);
    renameSync(made.modules, join(folder, 'node_modules'));
    for (const { name, text } of files) writeFileSync(join(folder, name), text);
    expect(files.map(({ name }) => name)).to.deep.equal(['index.html', 'hero.tuning.yaml', 'first.level.yaml', 'main.ts', 'vite.config.ts', 'tsconfig.json']); // prettier-ignore
    // An editor would see nothing wrong in it.
    type('npx tsc --noEmit -p .');

    const address = await begin(serve!, /(http:\/\/localhost:\d+\/)/);
    browser = await openBrowser();
    const game = await browser.newPage();
    const errors: string[] = [];
    game.on('pageerror', (error) => void errors.push(String(error)));
    game.on('console', (message) => void (message.type() === 'error' && errors.push(message.text())));
    await game.goto(address);
    while (!Number.isFinite(await top(game)));
    expect(await jump(game)).to.be.closeTo(3.25, 0.15);

    // The tuning is changed as the page says, in the running game.
    expect(page).to.contain('change `height` to `4.5`');
    await game.evaluate(() => Object.assign(window, { began: true }));
    const tuning = join(folder, 'hero.tuning.yaml');
    writeFileSync(tuning, readFileSync(tuning, 'utf8').replace('3.25', '4.5'));
    while ((await jump(game)) < 4.2);
    expect(await game.evaluate(() => 'began' in window)).to.equal(true);

    const [sheet, arcs, loft] = tune;
    type(sheet!);
    type(arcs!);
    expect(statSync(join(folder, 'arcs.png')).size).to.be.greaterThan(20_000);
    const shown = await begin(loft!, /the Loft: (\S+)/);
    while (
      !existsSync(join(made.folder, 'opened')) ||
      readFileSync(join(made.folder, 'opened'), 'utf8').trim() !== shown
    );
    const tuned = await browser.newPage();
    await tuned.goto(shown);
    await tuned.getByRole('button', { name: 'arc from here' }).waitFor();
    expect(tune).to.have.length(3);
    expect(errors).to.deep.equal([]);
  });
});
