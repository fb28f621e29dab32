import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Page } from 'playwright-core';
import { build, preview } from 'vite';
import { openBrowser } from './browser.js';

/** An example, built and opened in a browser whose frames are even. */
export interface OpenExample {
  page: Page;
  /** What went wrong on the page. */
  errors: readonly string[];
  close(): Promise<void>;
  /** Opens the page anew, in the same browser. */
  again(): Promise<void>;
  /** What the page's readout says about the character. */
  state(): Promise<Record<string, string>>;
  /** Waits until the readout has this value, or has had it since the one waited for last: what is shown for a moment only is not missed. */
  until(name: string, value: string): Promise<unknown>;
}

/** @param frames `even`: they come by themselves; `stepped`: the test asks for each, on a clock of their own, of so many a second */
export async function openExample(
  name: string,
  frames: 'even' | 'stepped' = 'even',
  viewport = { width: 1280, height: 800 },
  perSecond = 60,
): Promise<OpenExample> {
  const configFile = fileURLToPath(new URL(`../../examples/${name}/vite.config.ts`, import.meta.url));
  const folder = mkdtempSync(join(tmpdir(), 'apperin-'));
  const outDir = { outDir: folder };
  await build({ configFile, logLevel: 'silent', build: { ...outDir, emptyOutDir: true } });
  const server = await preview({
    configFile,
    logLevel: 'silent',
    build: outDir,
    preview: { host: '127.0.0.1', port: 0 },
  });
  const browser = await openBrowser();
  const page = await browser.newPage({ viewport });
  const errors: string[] = [];
  page.on('console', (message) => void (message.type() === 'error' && errors.push(message.text())));
  page.on('pageerror', (error) => void errors.push(String(error)));
  await page.addInitScript(`window.perSecond = ${perSecond}`);
  await page.addInitScript({ path: fileURLToPath(new URL(`${frames}-frames.js`, import.meta.url)) });
  const shown = (): boolean => {
    (window as { step?: (frames: number) => void }).step?.(1);
    return document.querySelector('output')!.dataset.x !== undefined;
  };
  const again = async (): Promise<void> => {
    await page.goto(server.resolvedUrls!.local[0]!);
    await page.waitForFunction(shown, undefined, { polling: 50, timeout: 60_000 });
    await page.addScriptTag({ path: fileURLToPath(new URL('shown.js', import.meta.url)) });
  };
  await again();
  const since: Record<string, number> = {};
  return {
    page,
    errors,
    again,
    close: async () => {
      await browser.close();
      await server.close();
      rmSync(folder, { recursive: true, force: true });
    },
    state: () =>
      page.evaluate(() => ({ ...document.querySelector('output')!.dataset }) as unknown as Record<string, string>),
    until: async (key, value) => {
      const found = await page.waitForFunction(
        ([name, wanted, from]) => {
          const { shown } = window as unknown as { shown: Record<string, string[]> };
          const at = (shown[name] ?? []).indexOf(wanted, from);
          return at < 0 ? undefined : { at };
        },
        [key, value, since[key] ?? 0] as const,
      );
      since[key] = (await found.jsonValue())!.at;
    },
  };
}
