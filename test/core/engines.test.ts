import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { openBrowser } from '../support/browser.js';
import { bundle } from '../support/bundle.js';
import { longRun, playedAgain } from '../support/long-run.js';
import { mill } from '../support/mill.js';
import { fully } from '../support/share.js';

describe('Same calls, same bits', () => {
  const recording = { level: mill.level, tuning: mill.tuning, input: mill.finish };
  const expected = `${longRun()}; ${playedAgain(recording)}`;
  let code: string;
  before(async () => {
    code = `globalThis.recording = ${JSON.stringify(recording)};\n${await bundle('long-run.ts')}`;
  });

  fully('twice in Node', () => {
    expect(expected).to.match(/^\d{6,} numbers, [0-9a-f]{16}; \d{4,} ticks, [0-9a-f]{16}, [0-9a-f]{16}$/);
    expect(`${longRun()}; ${playedAgain(recording)}`).to.equal(expected);
  });

  fully('in Chromium as in Node', async () => {
    const browser = await openBrowser();
    try {
      const page = await browser.newPage();
      await page.addScriptTag({ content: code });
      expect(await page.evaluate('globalThis.longRunResult')).to.equal(expected);
    } finally {
      await browser.close();
    }
  });

  fully('in a second engine (gjs) as in Node', function () {
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
