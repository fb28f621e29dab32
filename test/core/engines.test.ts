import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { build, type Rolldown } from 'vite';
import { openBrowser } from '../support/browser.js';
import { longRun } from '../support/long-run.js';

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));

/** The long run and the core in one script. */
async function bundle(): Promise<string> {
  const built = (await build({
    configFile: false,
    logLevel: 'silent',
    resolve: { alias: { apperin: here('../../dist/core/index.js') } },
    build: {
      write: false,
      minify: false,
      target: 'es2022',
      lib: { entry: here('../support/long-run.ts'), formats: ['iife'], name: 'longRunModule' },
    },
  })) as Rolldown.RolldownOutput[];
  return built[0]!.output[0].code;
}

describe('Same calls, same bits', () => {
  const expected = longRun();
  let code: string;
  before(async () => {
    code = await bundle();
  });

  it('twice in Node', () => {
    expect(expected).to.match(/^\d{6,} numbers, [0-9a-f]{16}$/);
    expect(longRun()).to.equal(expected);
  });

  it('in Chromium as in Node', async () => {
    const browser = await openBrowser();
    try {
      const page = await browser.newPage();
      await page.addScriptTag({ content: code });
      expect(await page.evaluate('globalThis.longRunResult')).to.equal(expected);
    } finally {
      await browser.close();
    }
  });

  it('in a second engine (gjs) as in Node', function () {
    if (spawnSync('gjs', ['--version']).status !== 0) return this.skip();
    const folder = mkdtempSync(join(tmpdir(), 'apperin-'));
    try {
      const file = join(folder, 'long-run.js');
      writeFileSync(file, `${code}\nprint(globalThis.longRunResult);\n`);
      const { stdout, stderr, status } = spawnSync('gjs', [file], { encoding: 'utf8' });
      expect(status, stderr).to.equal(0);
      expect(stdout.trim()).to.equal(expected);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});
