import { expect } from 'chai';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from 'playwright-core';
import type { Loft } from '../../src/loft/model/loft.js';
import { openBrowser } from './browser.js';
import { serveLoft } from './cli.js';

declare const window: { loft: Loft };

/** The Loft on files of a folder of its own, in a page. */
export interface OpenLoft {
  browser: Browser;
  folder: string;
  page: Page;
  said: string[];
  text: () => Promise<string>;
  until: (what: string) => Promise<void>;
  close: () => Promise<void>;
}

export async function openLoft(files: Readonly<Record<string, string>>): Promise<OpenLoft> {
  const folder = mkdtempSync(join(tmpdir(), 'apperin-loft-'));
  for (const [name, content] of Object.entries(files)) writeFileSync(join(folder, name), content);
  const { address, stop } = await serveLoft(Object.keys(files), folder);
  const browser = await openBrowser();
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  page.setDefaultTimeout(60_000);
  const said: string[] = [];
  page.on('pageerror', (error) => said.push(error.message));
  const until = async (what: string): Promise<void> => {
    while (!(await page.evaluate(what))) await page.evaluate('new Promise((done) => requestAnimationFrame(done))');
  };
  await page.goto(address);
  await page.waitForSelector('main canvas');
  await until('window.loft.drawn.frames > 2 && window.loft.session.hero.support === "ground"');
  return {
    browser,
    folder,
    page,
    said,
    until,
    text: () => page.evaluate(() => window.loft.document.text),
    async close() {
      await browser.close();
      expect(await stop()).to.equal(0);
      rmSync(folder, { recursive: true });
      expect(said).to.deep.equal([]);
    },
  };
}

/** Drags a handle of the jump by so many units, and does not let go. */
export async function takeHandle(page: Page, name: string, dx: number, up: number): Promise<void> {
  const box = (await page.locator(`[data-handle=${name}]`).boundingBox())!;
  const scale = await page.evaluate(() => window.loft.camera.scale);
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + (dx * scale) / 2, y - (up * scale) / 2);
  await page.mouse.move(x + dx * scale, y - up * scale);
}
