/**
 * Makes the pictures of the docs anew, `npm run pictures`: figures and terminals from what the commands print today, the Loft, the examples and the site from their pages in Chromium. Beside them
 * `words.json` keeps what those say that commands made, for the test that compares it.
 * With names, only those: `npm run pictures -- run loft`.
 */
import { execFileSync } from 'node:child_process';
import { once } from 'node:events';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import type { Page } from 'playwright-core';
import sirv from 'sirv';
import { openBrowser } from '../../test/support/browser.js';
import { DATA, apperin, serveLoft } from '../../test/support/cli.js';
import { openExample } from '../../test/support/example.js';
import { MADE, shownBy, wordsOf, type Made } from './list.js';
import { EXAMPLES, LOFTS, SITE, until } from './pages.js';

const shots = fileURLToPath(new URL('../../docs/screenshots/', import.meta.url));
const wordsFile = fileURLToPath(new URL('words.json', import.meta.url));
const wanted = process.argv.slice(2);
const isWanted = ({ name }: { name: string }): boolean => wanted.length === 0 || wanted.includes(name);
const SIZE = { width: 1280, height: 800 };

const folder = mkdtempSync(join(tmpdir(), 'apperin-pictures-'));
cpSync(DATA, folder, { recursive: true });
const browser = await openBrowser();
const words = JSON.parse(readFileSync(wordsFile, { encoding: 'utf8', flag: 'a+' }) || '{}') as Record<string, string[]>; // prettier-ignore

async function printedBy({ commands }: Made): Promise<string[]> {
  const printed: string[] = [];
  for (const command of commands) {
    const { status, out, err } = await apperin(command.split(' '), folder);
    if (status === 2) throw new Error(`apperin ${command}: ${err}`);
    printed.push(out || err);
  }
  return printed;
}

async function shoot(name: string, show: (page: Page) => Promise<void>, size = SIZE): Promise<void> {
  const page = await browser.newPage({ viewport: size });
  await show(page);
  await page.screenshot({ path: `${shots}${name}.png` });
  await page.close();
  console.log(`${name}.png`);
}

const TERMINAL =
  'margin:0;padding:10px 14px;background:#fbf8f1;color:#1d2b2a;font:15px/19px "DejaVu Sans Mono",monospace;white-space:pre';
const escaped = (text: string): string => text.replace(/[&<]/g, (one) => (one === '&' ? '&amp;' : '&lt;'));

for (const made of MADE.filter(isWanted)) {
  const printed = await printedBy(made);
  const { name, kind } = made;
  if (kind === 'terminal') {
    const lines = shownBy(made, printed);
    words[name] = lines;
    const width = Math.min(1280, 28 + Math.ceil(9.04 * Math.max(...lines.map((line) => line.length))));
    await shoot(name, (page) => page.setContent(`<body style='${TERMINAL}'>${escaped(lines.join('\n'))}</body>`), { width, height: 20 + 19 * lines.length });
  } else if (kind === 'figure') {
    const svg = readFileSync(join(folder, `${name}.svg`), 'utf8');
    words[name] = wordsOf(svg);
    const last = made.commands.at(-1)!.replace(/\.svg$/, '.png');
    await printedBy({ ...made, commands: [last] });
    cpSync(join(folder, `${name}.png`), `${shots}${name}.png`);
    console.log(`${name}.png`);
  } else await shoot(name, async (page) => void (await page.goto(pathToFileURL(join(folder, `${name}.html`)).href)));
} // prettier-ignore

for (const { name, files, show } of LOFTS.filter(isWanted)) {
  const { address, stop } = await serveLoft(files, folder);
  await shoot(name, async (page) => {
    await page.goto(address);
    await until(page, 'window.loft?.drawn.frames > 5 && window.loft.session.hero.support === "ground"');
    await show(page);
  });
  await stop();
}

for (const { name, example, show } of EXAMPLES.filter(isWanted)) {
  const { page, close } = await openExample(example, 'stepped', SIZE);
  await show(page);
  await page.screenshot({ path: `${shots}${name}.png` });
  console.log(`${name}.png`);
  await close();
}

if (isWanted(SITE)) {
  const root = fileURLToPath(new URL('../../', import.meta.url));
  execFileSync(process.execPath, ['scripts/docs.js', '--built'], { cwd: root, stdio: 'inherit' });
  const files = sirv(`${root}out/site`, { extensions: ['html'] });
  const server = createServer((request, response) => files(request, response)).listen(0, '127.0.0.1');
  await once(server, 'listening');
  await shoot(SITE.name, async (page) => {
    await page.goto(`http://127.0.0.1:${(server.address() as AddressInfo).port}${SITE.path}`, { waitUntil: 'networkidle' });
    await SITE.show(page);
  });
  server.close();
} // prettier-ignore

writeFileSync(wordsFile, `${JSON.stringify(Object.fromEntries(Object.entries(words).sort(([a], [b]) => (a < b ? -1 : 1))), null, 2)}\n`); // prettier-ignore
await browser.close();
rmSync(folder, { recursive: true });
