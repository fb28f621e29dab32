import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readTuning } from 'apperin/files';
import { sheet, type Measure } from 'apperin/lab';
import { expect } from 'chai';
import type { Browser, Page } from 'playwright-core';
import { openBrowser } from '../support/browser.js';
import { DATA, apperin } from '../support/cli.js';
import { fully } from '../support/share.js';

const require = createRequire(import.meta.url);
const brindle = join(DATA, 'brindle.tuning.yaml');

describe('The report', () => {
  let browser: Browser;
  before(async () => {
    browser = await openBrowser();
  });
  after(() => browser?.close());

  /** Opens a report from a file, with no network, and says what it asked for and what went wrong. */
  const opened = async (args: readonly string[], use: (page: Page, file: string) => Promise<void>): Promise<void> => {
    const asked: string[] = [];
    const errors: string[] = [];
    const folder = mkdtempSync(join(tmpdir(), 'apperin-'));
    const file = join(folder, 'who.report.html');
    expect((await apperin(['report', ...args, '--out', file])).status).to.equal(0);
    const context = await browser.newContext({ offline: true, viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    page.on('request', (request) => asked.push(request.url()));
    page.on('console', (message) => void (message.type() === 'error' && errors.push(message.text())));
    page.on('pageerror', (error) => void errors.push(String(error)));
    await page.goto(`file://${file}`);
    await use(page, file);
    expect(asked.filter((url) => !url.startsWith('data:'))).to.deep.equal([`file://${file}`]);
    expect(errors).to.deep.equal([]);
    await context.close();
    rmSync(folder, { recursive: true });
  };

  fully('is whole in itself, and a checker of accessibility finds nothing', async () => {
    await opened([brindle, join(DATA, 'nimble.tuning.yaml')], async (page) => {
      expect(await page.textContent('h1')).to.equal('brindle');
      expect(await page.locator('figure > svg').count()).to.equal(5);
      await page.addScriptTag({ content: readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8') });
      const found = await page.evaluate<{ id: string; impact: string }[]>('axe.run().then(({ violations }) => violations.map(({ id, impact }) => ({ id, impact })))'); // prettier-ignore
      expect(found).to.deep.equal([]);
    });
  });

  fully('has the same measures as the sheet, as JSON and in the library', async () => {
    const { measures } = JSON.parse((await apperin(['sheet', brindle, '--json'])).out) as { measures: Measure[] };
    const library = sheet(readTuning(readFileSync(brindle, 'utf8')).tuning);
    expect(measures).to.deep.equal(library);
    const said = (await apperin(['sheet', brindle])).out;
    await opened([brindle], async (page) => {
      const rows = await page.evaluate<string[][]>(
        `[...document.querySelectorAll('#measures tbody tr')].map((row) => [...row.children].map((cell) => cell.textContent))`,
      );
      expect(rows.map(([name, value, unit]) => [name, value, unit])).to.deep.equal(
        library.map(({ name, value, unit }) => [name, value.toFixed(3), unit]),
      );
      for (const { name, value } of library) expect(said).to.match(new RegExp(`${name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')} +${value.toFixed(3)}`)); // prettier-ignore
    });
  });

  fully('prints on pages of paper, with no figure cut in two', async () => {
    await opened([brindle], async (page) => {
      await page.emulateMedia({ media: 'print' });
      expect(await page.evaluate(`getComputedStyle(document.querySelector('figure')).breakInside`)).to.equal('avoid');
      expect(await page.isVisible('nav')).to.equal(false);
      const pdf = (await page.pdf({ preferCSSPageSize: true })).toString('latin1');
      expect(pdf.match(/\/Type\s*\/Page\b/g)!.length).to.be.within(3, 8);
    });
  });

  fully('refuses three tunings, and another kind of file', async () => {
    expect((await apperin(['report', brindle, brindle, brindle])).err).to.contain('not 3');
    expect((await apperin(['report', brindle, '--out', 'x.pdf'])).err).to.contain('must end in .html');
  });
});
