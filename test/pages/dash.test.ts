import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import type { Browser, Page } from 'playwright-core';
import { createServer, type ViteDevServer } from 'vite';
import { openBrowser } from '../support/browser.js';

describe('The page dash', () => {
  let server: ViteDevServer;
  let browser: Browser;
  let page: Page;
  const errors: string[] = [];

  before(async () => {
    const configFile = fileURLToPath(new URL('../../examples/dash/vite.config.ts', import.meta.url));
    server = await createServer({ configFile, logLevel: 'silent', server: { host: '127.0.0.1', port: 0 } });
    await server.listen();
    browser = await openBrowser();
    page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    page.on('console', (message) => void (message.type() === 'error' && errors.push(message.text())));
    page.on('pageerror', (error) => void errors.push(String(error)));
    await page.addInitScript({ path: fileURLToPath(new URL('../support/even-frames.js', import.meta.url)) });
    await page.goto(server.resolvedUrls!.local[0]!);
    await page.waitForFunction(() => document.querySelector('output')!.dataset.x !== undefined);
  });

  after(async () => {
    await browser?.close();
    await server?.close();
  });

  const until = (what: (data: DOMStringMap, value: string) => boolean, value: string) =>
    page.waitForFunction(
      ([test, wanted]) =>
        new Function('data', 'value', `return (${test})(data, value)`)(
          document.querySelector('output')!.dataset,
          wanted,
        ) as boolean,
      [what.toString(), value] as const,
    );
  const pose = (wanted: string) => until((data, value) => data.pose === value, wanted);

  it('dashes by its key, as far as its numbers say', async () => {
    await pose('idle');
    const from = Number(await page.evaluate(() => document.querySelector('output')!.dataset.x));
    await page.keyboard.press('KeyX');
    await until((data, value) => data.dashes === value, '1');
    await pose('dash');
    await pose('idle');
    const to = Number(await page.evaluate(() => document.querySelector('output')!.dataset.x));
    // At its speed for its time; then it is faster than the run, and brakes to a stop.
    const brakes = (18 * 18) / (2 * (7.5 / 0.09));
    expect(to - from).to.be.closeTo(18 * 0.15 + brakes, 1e-6);
  });

  it('crouches by holding down', async () => {
    await page.keyboard.down('ArrowDown');
    await pose('crouch');
    await page.keyboard.up('ArrowDown');
    await pose('idle');
  });

  it('glides by a press of the jump key that starts no jump', async () => {
    for (let i = 0; i < 2; i++) {
      await page.keyboard.down('Space');
      await pose('rise');
      await page.keyboard.up('Space');
      await pose('fall');
    }
    await page.keyboard.down('Space');
    await pose('glide');
    await page.keyboard.up('Space');
    await pose('idle');
  });

  it('said nothing on the console', () => expect(errors).to.deep.equal([]));
});
