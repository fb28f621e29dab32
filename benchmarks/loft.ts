/**
 * What a drag of a slider costs in the Loft, in the whole mill with four ghosts and everything shown over the level, as a share of a frame of 60 a second; and what the page holds on to over ten
 * minutes of play. Run by `npm run timings:loft`, in Chromium.
 */
import { fileURLToPath } from 'node:url';
import type { Loft } from '../src/loft/model/loft.js';
import { openBrowser } from '../test/support/browser.js';
import { serveLoft } from '../test/support/cli.js';

declare const window: { loft: Loft; gc?: () => void };

const data = fileURLToPath(new URL('../data/tide-mill/', import.meta.url));
const { address, stop } = await serveLoft(['saltreave.level.svg', 'brindle.tuning.yaml'], data);
const browser = await openBrowser();
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.goto(address);
await page.waitForSelector('main canvas');
// What the loader of this file names functions with.
await page.evaluate('globalThis.__name = (made) => made');
// Ten seconds of play, taken, with four ghosts and everything shown.
await page.evaluate(() => {
  const { loft } = window;
  const { session } = loft;
  for (const name of ['hitbox', 'support', 'edges', 'grace', 'arc', 'envelope', 'velocity', 'phases'] as const) session.overlays.add(name); // prettier-ignore
  session.takeRows([{ time: 0.2, action: 'right', value: 1 }, { time: 1, action: 'jump', value: 1 }, { time: 1.4, action: 'jump', value: 0 }, { time: 3, action: 'right', value: 0 }, { time: 4, action: 'left', value: 1 }, { time: 5, action: 'jump', value: 1 }, { time: 5.2, action: 'jump', value: 0 }], 120, 10); // prettier-ignore
  while (session.ghosts.length < 4) session.pin();
  loft.tell();
});
/** The whole of a change, as a drag makes it: text, tuning, character, ghost, scene, column, picture. */
const costs = await page.evaluate(async () => {
  const { loft } = window;
  const found: number[] = [];
  const frame = (): Promise<unknown> => new Promise((done) => requestAnimationFrame(done));
  loft.touch('gravity.falling');
  for (let i = 0; i < 320; i++) {
    await frame();
    const start = performance.now();
    loft.edit([{ key: 'gravity.falling', value: 1.5 + (i % 60) / 100 }], 'drag');
    // The column is made anew once this has ended.
    await Promise.resolve();
    await Promise.resolve();
    // What is drawn over the level and in the curves belongs to it; the curves are drawn once the frame's own work has ended.
    (loft as unknown as { frame(now: number): void }).frame(performance.now() / 1000);
    await Promise.resolve();
    await Promise.resolve();
    found.push(performance.now() - start);
  }
  loft.touch(undefined);
  return found.slice(20).sort((a, b) => a - b);
});
const share = (ms: number): string => `${((ms / (1000 / 60)) * 100).toFixed(0)} % of a frame`;
console.log('A slider drag in the whole mill, four ghosts, everything shown');
console.log(
  `  median ${share(costs[costs.length >> 1]!)}, nineteen of twenty below ${share(costs[Math.floor(costs.length * 0.95)]!)}, worst ${share(costs.at(-1)!)} (${costs.length} drags)`,
);

// The level is asked: how soon there are answers, and for how long the picture stood still meanwhile.
const answers = await page.evaluate(async () => {
  const { loft } = window;
  const blocked: number[] = [];
  new PerformanceObserver((list) => blocked.push(...list.getEntries().map(({ duration }) => duration))).observe({
    type: 'longtask',
  });
  await new Promise((done) => setTimeout(done, 3000));
  blocked.length = 0;
  const frame = (): Promise<unknown> => new Promise((done) => requestAnimationFrame(done));
  const answered = async (ask: () => void): Promise<number> => {
    const start = performance.now();
    ask();
    while (!loft.asking.isFresh) await frame();
    return performance.now() - start;
  };
  for (const name of [...loft.session.overlays]) loft.overlay(name, false);
  const first = await answered(() => loft.overlay('survey', true));
  while (!loft.asking.isDone) await frame();
  const again: number[] = [];
  for (let i = 0; i < 8; i++)
    again.push(await answered(() => loft.edit([{ key: 'gravity.falling', value: 1.5 + i / 20 }], 'drag')));
  loft.overlay('survey', false);
  return { first, again: again.sort((a, b) => a - b), blocked: Math.max(0, ...blocked) };
});
console.log('The survey over the level, as shares of half a second');
const half = (ms: number): string => `${((ms / 500) * 100).toFixed(0)} %`;
console.log(
  `  first answers ${half(answers.first)}, after a change ${half(answers.again[answers.again.length >> 1]!)}, at most ${half(answers.again.at(-1)!)}; the page stood still for ${half(answers.blocked)} at most`,
);

// Ten minutes of play, as fast as they go: what is held on to does not grow.
const client = await page.context().newCDPSession(page);
const held = async (): Promise<number> => {
  await client.send('HeapProfiler.collectGarbage');
  return ((await client.send('Runtime.getHeapUsage')) as { usedSize: number }).usedSize;
};
const minutes = async (count: number): Promise<void> =>
  page.evaluate((count) => {
    const { loft } = window;
    const session = loft.session as unknown as { step(ticks: number, now: number): void };
    for (let i = 0; i < count * 60; i++) {
      session.step(120, performance.now() / 1000);
      // Numbers are dragged to and fro meanwhile, by the steps of a slider.
      for (let k = 0; i % 5 === 0 && k < 20; k++) {
        loft.edit([{ key: 'run.speed', value: 6 + ((i + k) % 40) / 20 }], `drag ${i}`);
        loft.edit([{ key: 'gravity.falling', value: 1 + ((i * 3 + k) % 100) / 50 }], `drag ${i}`);
      }
    }
  }, count);
await page.evaluate(() => window.loft.session.clearGhosts());
await minutes(2);
const before = await held();
await minutes(10);
const after = await held();
console.log('What the page holds on to');
console.log(`  after two minutes ${(before / 1e6).toFixed(1)} MB, after ten more ${(after / 1e6).toFixed(1)} MB: ${(after / before).toFixed(3)} times`); // prettier-ignore
await browser.close();
await stop();
