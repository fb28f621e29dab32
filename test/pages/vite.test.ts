import { apperin } from 'apperin/vite';
import { expect } from 'chai';
import { once } from 'node:events';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Browser, Page } from 'playwright-core';
import { build, createServer, type Rolldown, type ViteDevServer } from 'vite';
import { WebSocket } from 'ws';
import { openBrowser } from '../support/browser.js';
import { serveLoft } from '../support/cli.js';
import { fully } from '../support/share.js';

/** A level as a drawing: a floor, so far down. */
const drawn = (y: number): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 64 96"><rect class="solid" x="0" y="${y}" width="64" height="8"/></svg>`;

describe('A game with apperin/vite', function () {
  let browser: Browser;
  let page: Page;
  let server: ViteDevServer;
  let folder = '';
  let loft: { address: string; stop(): Promise<number | null> };
  let text = '';
  const tuning = (): string => join(folder, 'brindle.tuning.yaml');

  before(async function () {
    // A copy of the mill, within the package so that it finds what it imports.
    const out = fileURLToPath(new URL('../../out/', import.meta.url));
    mkdirSync(out, { recursive: true });
    folder = mkdtempSync(join(out, 'live-'));
    cpSync(fileURLToPath(new URL('../../examples/tide-mill/', import.meta.url)), folder, { recursive: true });
    rmSync(join(folder, 'dist'), { recursive: true, force: true });
    text = readFileSync(tuning(), 'utf8');
    loft = await serveLoft(['brindle.tuning.yaml'], folder);
    server = await createServer({
      configFile: false,
      root: folder,
      logLevel: 'silent',
      plugins: [apperin({ loft: loft.address })],
      server: { port: 0, host: '127.0.0.1', watch: { usePolling: true, interval: 50 } },
    });
    await server.listen();
    browser = await openBrowser();
    // Small, so that drawing it without a graphics card takes little time.
    page = await browser.newPage({ viewport: { width: 480, height: 300 } });
    await page.goto(server.resolvedUrls!.local[0]!);
    await page.waitForFunction("document.querySelector('output')?.dataset.support === 'ground'");
    await page.evaluate('window.began = 1');
  });
  after(async () => {
    await browser?.close();
    await server?.close();
    expect(await loft?.stop()).to.equal(0);
    rmSync(folder, { recursive: true });
  });

  /** How high a full jump goes, played with the real key. */
  async function jump(): Promise<number> {
    await page.evaluate(`window.peak = Infinity; window.floor = Number(document.querySelector('output').dataset.y); window.look = () => { const { y, support } = document.querySelector('output').dataset; window.peak = Math.min(window.peak, Number(y)); if (window.peak < window.floor - 0.5 && support === 'ground') return; requestAnimationFrame(window.look); }; window.look()`);
    await page.keyboard.down('Space');
    await page.waitForFunction("window.peak < window.floor - 0.5 && document.querySelector('output').dataset.support === 'ground'");
    await page.keyboard.up('Space');
    await page.waitForFunction("document.querySelector('output').dataset.pose === 'idle'");
    return page.evaluate<number>('window.floor - window.peak');
  } // prettier-ignore

  /** Jumps until it is that high: a file that was written reaches the game when its watcher has seen it. */
  async function jumpsTo(height: number): Promise<void> {
    while (Math.abs((await jump()) - height) > 0.05);
  }

  fully('changes the jump of the running game when the tuning is saved, without a reload', async function () {
    const first = await jump();
    expect(first).to.be.closeTo(3.25, 0.05);
    writeFileSync(tuning(), text.replace('height: 3.25', 'height: 1.75'));
    await jumpsTo(1.75);
    expect(await page.evaluate('window.began')).to.equal(1);
  });

  fully('shows file, line and column of what is wrong, and the last good tuning stays in force', async function () {
    writeFileSync(tuning(), text.replace('height: 3.25', 'hight: 3.25'));
    const overlay = page.locator('vite-error-overlay');
    await overlay.waitFor({ state: 'attached' });
    const said = await overlay.evaluate((element) => element.shadowRoot!.textContent ?? '');
    expect(said).to.match(/brindle\.tuning\.yaml:\d+:\d+: there is no key jump\.hight; did you mean jump\.height\?/);
    expect(await jump()).to.be.closeTo(1.75, 0.05);
    writeFileSync(tuning(), text);
    await jumpsTo(3.25);
    expect(await page.evaluate('window.began')).to.equal(1);
  });

  fully('follows what is dragged in a Loft that is connected', async function () {
    // As the page of the Loft does.
    const live = new WebSocket(`${loft.address.replace('http', 'ws')}live`);
    await once(live, 'open');
    const drag = (height: number): void =>
      live.send(JSON.stringify({ says: 'dragged', name: 'brindle.tuning.yaml', text: text.replace('height: 3.25', `height: ${height}`) })); // prettier-ignore
    drag(2.5);
    await jumpsTo(2.5);
    // What cannot be read changes nothing.
    live.send(JSON.stringify({ says: 'dragged', name: 'brindle.tuning.yaml', text: 'jump: { hight: 1 }' }));
    live.send('no message');
    drag(2);
    await jumpsTo(2);
    expect(await page.evaluate('window.began')).to.equal(1);
    expect(readFileSync(tuning(), 'utf8')).to.equal(text);
    live.terminate();
  });
});

describe('Levels imported with apperin/vite', function () {
  const PAGE = `<!doctype html><output></output><script type="module" src="./game.js"></script>`;
  const GAME = `import { openStage } from 'apperin';
    import shaft, { follow } from './shaft.level.svg';
    import yard from './yard.level.yaml';
    const show = (level) => {
      const stage = openStage(level);
      const hero = stage.add({}, { at: [32, 10] });
      for (let i = 0; i < 240; i++) stage.tick(1 / 60);
      document.querySelector('output').textContent = [hero.y, openStage(yard).level.spawns.has('start')].join(' ');
    };
    show(shaft);
    if (location.hash) follow(show);`;
  let browser: Browser;
  let server: ViteDevServer;
  let folder = '';

  before(async function () {
    const out = fileURLToPath(new URL('../../out/', import.meta.url));
    mkdirSync(out, { recursive: true });
    folder = mkdtempSync(join(out, 'levels-'));
    writeFileSync(join(folder, 'index.html'), PAGE);
    writeFileSync(join(folder, 'game.js'), GAME);
    writeFileSync(join(folder, 'shaft.level.svg'), drawn(80));
    writeFileSync(join(folder, 'yard.level.yaml'), 'rows: ["@.", "##"]\n');
    server = await createServer({
      configFile: false,
      root: folder,
      logLevel: 'silent',
      plugins: [apperin()],
      // Watched as the system tells of changes, which leaves some out.
      server: { port: 0, host: '127.0.0.1' },
    });
    await server.listen();
    browser = await openBrowser();
  });
  after(async () => {
    await browser?.close();
    await server?.close();
    rmSync(folder, { recursive: true });
  });

  fully('are those of the last save, however soon that comes after another', async () => {
    const page = await browser.newPage();
    await page.goto(`${server.resolvedUrls!.local[0]!}#follow`);
    let y = 20;
    for (const gap of [0, 10, 20, 30, 40]) {
      writeFileSync(join(folder, 'shaft.level.svg'), drawn(++y));
      await page.evaluate(`new Promise((done) => setTimeout(done, ${gap}))`);
      writeFileSync(join(folder, 'shaft.level.svg'), drawn(++y));
      await page.waitForFunction(`document.querySelector('output').textContent === '${y} true'`);
    }
    writeFileSync(join(folder, 'shaft.level.svg'), drawn(80));
    await page.waitForFunction("document.querySelector('output').textContent === '80 true'");
    await page.close();
  });

  fully('open as they are, drawings too, and are given anew to who follows them', async function () {
    const page = await browser.newPage();
    const errors: string[] = [];
    page.on('pageerror', (error) => errors.push(error.message));
    await page.goto(`${server.resolvedUrls!.local[0]!}#follow`);
    const shows = (text: string): Promise<unknown> => page.waitForFunction(`document.querySelector('output').textContent === '${text}'`); // prettier-ignore
    await shows('80 true');
    await page.evaluate('window.began = 1');
    writeFileSync(join(folder, 'shaft.level.svg'), drawn(64));
    await shows('64 true');
    expect(await page.evaluate('window.began')).to.equal(1);
    // Where nobody follows the page is loaded anew.
    await page.goto('about:blank');
    await page.goto(server.resolvedUrls!.local[0]!);
    await shows('64 true');
    await page.evaluate('window.began = 1');
    writeFileSync(join(folder, 'shaft.level.svg'), drawn(72));
    await shows('72 true');
    expect(await page.evaluate('window.began')).to.equal(undefined);
    expect(errors).to.deep.equal([]);
  });
});

describe('A build with apperin/vite', () => {
  const ABILITY = `import { ability } from 'apperin';
import { SPEED } from './numbers';
interface Numbers { speed: number }
export const lunge = ability('lunge', { own: { speed: { value: SPEED, most: 40 } }, actions: ['lunge'], act(c, own: Numbers) { if (c.take('lunge')) c.vx = own.speed; } });
`;
  const GAME = `import { openStage } from 'apperin';
import tuning from './brisk.tuning.yaml';
import yard from './yard.level.yaml';
import shaft from './shaft.level.svg';
import { lunge } from './lunge';
document.title = [openStage(yard).add(tuning, { abilities: [lunge] }).x, openStage(shaft).time].join();
`;

  /** What comes of a project with this tuning: the text of its scripts, or what is wrong. */
  async function built(tuning: string, abilities: string | readonly string[] = './lunge.ts'): Promise<string> {
    const out = fileURLToPath(new URL('../../out/', import.meta.url));
    mkdirSync(out, { recursive: true });
    const folder = mkdtempSync(join(out, 'built-'));
    try {
      const files = { 'index.html': '<script type="module" src="./game.ts"></script>', 'game.ts': GAME, 'lunge.ts': ABILITY, 'numbers.ts': 'export const SPEED: number = 18;\n', 'brisk.tuning.yaml': tuning, 'yard.level.yaml': 'rows: ["@.", "##"]\n', 'shaft.level.svg': drawn(80) };
      for (const [name, text] of Object.entries(files)) writeFileSync(join(folder, name), text);
      const { output } = (await build({ configFile: false, root: folder, logLevel: 'silent', plugins: [apperin({ abilities })], build: { write: false, minify: false } })) as Rolldown.RolldownOutput;
      return output.map((one) => ('code' in one ? one.code : '')).join();
    } catch (error) {
      return (error as Error).message.replaceAll(folder, '');
    } finally {
      rmSync(folder, { recursive: true });
    }
  }

  fully('holds tunings and levels as data, and checks the numbers of a game\u2019s own abilities', async () => {
    const good = await built('own: { lunge: { speed: 25 } }\n');
    expect(good).to.match(/"?lunge"?: \{ "?speed"?: 25 \}/);
    expect(good).not.to.contain('image/svg');
    expect(await built('own:\n  lunge: { sped: 25 }\n')).to.contain('/brisk.tuning.yaml:2:18: own.lunge.sped: the ability lunge has no such number; did you mean speed?');
    expect(await built('own: { lunge: { speed: 41 } }\n')).to.contain('own.lunge.speed is 41; it must be at least 0 and at most 40');
    expect(await built('own: { other: { speed: 41 } }\n')).to.match(/"?other"?: \{ "?speed"?: 41 \}/);
    expect(await built('', './numbers.ts')).to.contain('abilities: ./numbers.ts: it exports no ability');
    expect(await built('', ['./lunge.ts', './none.ts'])).to.contain('abilities: ./none.ts: ');
  });
}); // prettier-ignore
