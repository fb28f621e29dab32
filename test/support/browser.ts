import { execFileSync } from 'node:child_process';
import { chromium, type Browser } from 'playwright-core';

/** Chromium from the PATH, without a window. */
export async function openBrowser(): Promise<Browser> {
  const executablePath = execFileSync('sh', ['-c', 'command -v chromium'], { encoding: 'utf8' }).trim();
  return chromium.launch({
    executablePath,
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--no-first-run',
    ],
  });
}
