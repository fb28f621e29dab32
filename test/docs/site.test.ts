import { execFileSync } from 'node:child_process';
import { once } from 'node:events';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import type { Browser, Page } from 'playwright-core';
import sirv from 'sirv';
import { openBrowser } from '../support/browser.js';
import { fully } from '../support/share.js';

const root = fileURLToPath(new URL('../../', import.meta.url));
const axe = readFileSync(fileURLToPath(import.meta.resolve('axe-core/axe.min.js')), 'utf8');

describe('The site of the docs', function () {
  let browser: Browser;
  let server: Server;
  let address = '';
  const errors: string[] = [];
  const outside: string[] = [];

  before(async () => {
    // Refused where a link leads nowhere, an export has no prose, or a page throws.
    execFileSync(process.execPath, ['scripts/docs.js', '--built'], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] });
    const files = sirv(`${root}out/site`, { extensions: ['html'] });
    server = createServer((request, response) => files(request, response)).listen(0, '127.0.0.1');
    await once(server, 'listening');
    address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    browser = await openBrowser();
  }); // prettier-ignore
  after(async () => {
    await browser?.close();
    server?.close();
  });

  async function open(path: string, { width = 1280, dark = false } = {}): Promise<Page> {
    const page = await browser.newPage({ viewport: { width, height: 800 }, colorScheme: dark ? 'dark' : 'light' });
    page.on('pageerror', (error) => void errors.push(String(error)));
    page.on('console', (message) => void (message.type() === 'error' && errors.push(message.text())));
    page.on('request', (request) => void (!/^(data|blob):/.test(request.url()) && !request.url().startsWith(address) && outside.push(request.url())));
    await page.goto(`${address}${path}`);
    return page;
  } // prettier-ignore

  fully('has numbers that are dragged, each with its arc by the real core', async () => {
    const page = await open('/guides/jump');
    const figure = page.locator('.live').first();
    const said = figure.locator('figcaption');
    expect(await said.textContent()).to.equal('3.25 tiles high after 0.4 s, back after 0.75 s and 5.65 tiles; a tap 1.25');
    const curve = await figure.locator('.live-curve').first().getAttribute('d');
    const slider = figure.getByLabel(/^jump.height/);
    await slider.focus();
    // It may be drawn before it listens.
    while ((await said.textContent())!.startsWith('3.25')) await page.keyboard.press('End');
    expect(await said.textContent()).to.match(/^5 tiles high after 0.4 s/);
    expect(await figure.locator('.live-curve').first().getAttribute('d')).not.to.equal(curve);
    // What cannot be is said, in the place of the picture.
    await figure.getByLabel(/^jump.lowestHop/).focus();
    await page.keyboard.press('End');
    await slider.focus();
    await page.keyboard.press('Home');
    expect(await said.textContent()).to.match(/^jump.lowestHop is 3; it must be above/);
    await page.close();
  }); // prettier-ignore

  fully('has rooms to play in', async () => {
    const page = await open('/');
    const canvas = page.locator('.live canvas');
    const pixels = (): Promise<string> => canvas.evaluate((of: HTMLCanvasElement) => of.toDataURL());
    await canvas.focus();
    const before = await pixels();
    await page.keyboard.down('ArrowRight');
    while ((await pixels()) === before);
    await page.keyboard.up('ArrowRight');
    await page.close();
  });

  fully('is searched, in itself', async () => {
    const page = await open('/');
    await page.getByRole('button', { name: 'Search' }).first().click();
    const input = page.locator('.VPLocalSearchBox input');
    await input.fill('coyote');
    await page.locator('.VPLocalSearchBox .result').first().waitFor();
    expect((await page.locator('.VPLocalSearchBox .result').allTextContents()).join(' ')).to.match(/Forgive/);
    await page.close();
  });

  fully('is read on a phone and on a desk, light and dark', async () => {
    const wrong: string[] = [];
    for (const path of ['/', '/guides/shape', '/reference/keys', '/feel', '/reference/api/core'])
      for (const width of [390, 1280])
        for (const dark of [false, true]) {
          const page = await open(path, { width, dark });
          expect(await page.evaluate(() => document.documentElement.scrollWidth - innerWidth), `${path} at ${width}`).to.be.at.most(0);
          await page.evaluate(axe);
          const { violations } = await page.evaluate<{ violations: { id: string; nodes: { html: string }[] }[] }>(`axe.run(document.querySelector('#VPContent'), { runOnly: ['color-contrast', 'label', 'image-alt', 'link-name', 'button-name'] })`);
          wrong.push(...violations.map(({ id, nodes }) => `${path}: ${id}: ${nodes[0]!.html}`));
          await page.close();
        }
    expect(wrong).to.deep.equal([]);
  }); // prettier-ignore

  fully('shows no error, and asks nobody else for anything', () => {
    expect(errors).to.deep.equal([]);
    expect(outside).to.deep.equal([]);
  });
});
