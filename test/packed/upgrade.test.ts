import { cpSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { build, preview } from 'vite';
import { apperin } from '../support/cli.js';
import { openBrowser } from '../support/browser.js';
import { packed, type Packed } from '../support/packed.js';

/** What 0.1.0 came with, as it was, and what its `apperin run` told of it. */
const OLD = fileURLToPath(new URL('../kept/0.1.0/', import.meta.url));

describe('Who comes from 0.1.0', () => {
  for (const [input, tuning, level] of [
    ['leap', 'brindle', 'yard'],
    ['late', 'brindle', 'yard'],
    ['shaft', 'nimble', 'wheelhouse'],
  ] as const)
    it(`plays the same: ${input}, with all of its files as they were`, async () => {
      const { status, out, err } = await apperin(['run', `${level}.level.yaml`, `${tuning}.tuning.yaml`, `${input}.input.csv`, '--events', '-'], OLD);
      expect(status, err).to.equal(0);
      const lines = (text: string): Record<string, number | string>[] => text.trim().split('\n').map((line) => JSON.parse(line) as Record<string, number | string>);
      const [then, now] = [lines(readFileSync(join(OLD, `${input}.events.jsonl`), 'utf8')), lines(out)];
      expect(now.map(({ event }) => event)).to.deep.equal(then.map(({ event }) => event));
      then.forEach((event, i) => {
        for (const [field, value] of Object.entries(event)) {
          if (field === 'tick') continue; // one that falls on the end of a tick belongs to the next one now
          if (typeof value === 'number') expect(now[i]![field], `${field} of ${String(event.event)}`).to.be.closeTo(value, 1e-12);
          else expect(now[i]![field]).to.deep.equal(value);
        }
      });
    }); // prettier-ignore

  describe('with the packages as they are published', () => {
    let made: Packed;
    before(() => {
      made = packed();
      for (const name of ['first-hop.ts', 'dash.ts', 'index.html']) cpSync(join(OLD, name), join(made.folder, name));
    });
    after(() => rmSync(made.folder, { recursive: true, force: true }));

    it('has examples that are of the right types, unchanged', () => {
      const compilerOptions = { strict: true, noEmit: true, skipLibCheck: true, target: 'ES2022', module: 'ESNext', moduleResolution: 'Bundler', lib: ['ES2023', 'DOM', 'DOM.Iterable'], types: [] };
      writeFileSync(join(made.folder, 'tsconfig.json'), JSON.stringify({ compilerOptions, files: ['first-hop.ts', 'dash.ts'] }));
      execFileSync(process.execPath, [join(made.folder, 'node_modules/.bin/tsc'), '-p', made.folder], { stdio: 'inherit' });
    }).timeout(60_000); // prettier-ignore

    it('has an example that is built, and jumps as high, unchanged', async () => {
      const outDir = join(made.folder, 'dist');
      await build({ configFile: false, root: made.folder, base: './', logLevel: 'silent', build: { outDir } });
      const server = await preview({ configFile: false, root: made.folder, logLevel: 'silent', build: { outDir }, preview: { host: '127.0.0.1', port: 0 } }); // prettier-ignore
      const browser = await openBrowser();
      try {
        const page = await browser.newPage();
        const errors: string[] = [];
        page.on('pageerror', (error) => void errors.push(String(error)));
        await page.goto(server.resolvedUrls!.local[0]!);
        const shown = (): Promise<{ pose: string; y: number }> => page.evaluate(() => ({ pose: document.querySelector('output')!.dataset.pose!, y: Number(document.querySelector('output')!.dataset.y) })); // prettier-ignore
        while ((await shown()).pose !== 'idle');
        const floor = (await shown()).y;
        let peak = floor;
        await page.keyboard.down('Space');
        while (peak > floor - 0.5 || (await shown()).pose !== 'idle') peak = Math.min(peak, (await shown()).y);
        await page.keyboard.up('Space');
        expect(floor - peak).to.be.closeTo(3.25, 0.05);
        expect(errors).to.deep.equal([]);
      } finally {
        await browser.close();
        await server.close();
      }
    });
  });
});
