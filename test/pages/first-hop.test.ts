import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { openExample, type OpenExample } from '../support/example.js';
import { fully } from '../support/share.js';

interface Frame {
  ms: number;
  x: number;
}

describe('The page first-hop', () => {
  let example: OpenExample;
  let page: Page;

  before(async () => {
    example = await openExample('first-hop');
    ({ page } = example);
  });
  after(() => example?.close());

  const state = () => example.state() as Promise<{ pose: string; x: string; y: string }>;
  const until = (pose: string) => example.until('pose', pose);

  fully('stands on the floor at first', async () => {
    expect(await state()).to.include({ pose: 'idle', x: '1.5', y: '15' });
  });

  fully('runs while a key is held, drawn evenly at a rate that does not divide the ticks', async () => {
    await page.keyboard.down('ArrowRight');
    await until('run');
    await page.waitForFunction(() => Number(document.querySelector('output')!.dataset.x) > 6);
    await page.keyboard.up('ArrowRight');
    await until('idle');
    const frames = await page.evaluate(() => (window as unknown as { drawn: Frame[] }).drawn);
    // From top speed on: positions over time lie on one line, so their second differences vanish.
    const steady = frames.filter(({ x }) => x > 2.5 && x < 5.9);
    expect(steady.length).to.be.greaterThan(10);
    let worst = 0;
    for (let i = 2; i < steady.length; i++) {
      const [a, b, c] = [steady[i - 2]!, steady[i - 1]!, steady[i]!];
      const slope = (b.x - a.x) / (b.ms - a.ms);
      worst = Math.max(worst, Math.abs(c.x - b.x - slope * (c.ms - b.ms)));
    }
    expect(worst).to.be.below(1e-6);
  });

  fully('jumps once for one press, as high as the tuning says, and shows it', async () => {
    const before = Number((await state()).y);
    await page.evaluate(() => {
      const seen = { least: Infinity, poses: ['idle'] };
      Object.assign(window, { seen });
      new MutationObserver(() => {
        const { y, pose } = document.querySelector('output')!.dataset as { y: string; pose: string };
        seen.least = Math.min(seen.least, Number(y));
        if (seen.poses.at(-1) !== pose) seen.poses.push(pose);
      }).observe(document.querySelector('output')!, { attributes: true });
    });
    await page.keyboard.down('Space');
    await until('fall');
    await until('land');
    await until('idle');
    await page.keyboard.up('Space');
    const seen = await page.evaluate(() => (window as unknown as { seen: { least: number; poses: string[] } }).seen);
    expect(before - seen.least).to.be.within(3.2, 3.25 + 1e-9);
    expect(seen.poses).to.deep.equal(['idle', 'rise', 'apex', 'fall', 'land', 'idle']);
  });

  fully('draws the character where it says it is', async () => {
    const { x, y } = await state();
    const colour = await page.evaluate(
      ([px, py]) => [...document.querySelector('canvas')!.getContext('2d')!.getImageData(px!, py!, 1, 1).data],
      [Number(x) * 32, (Number(y) - 0.5) * 32],
    );
    expect(colour).to.deep.equal([0xa5, 0x76, 0x2b, 255]);
    const picture = await page.screenshot();
    expect(picture.readUInt32BE(16)).to.equal(1280);
  });

  fully('lets go of every key when the window loses its focus, and leaves other keys alone', async () => {
    await page.keyboard.down('ArrowLeft');
    await until('run');
    await page.evaluate(() => window.dispatchEvent(new Event('blur')));
    await until('idle');
    await page.keyboard.up('ArrowLeft');
    const before = await state();
    await page.keyboard.press('KeyQ');
    await page.keyboard.press('Control+ArrowRight');
    expect((await state()).x).to.equal(before.x);
  });

  fully('said nothing on the console', () => {
    expect(example.errors).to.deep.equal([]);
  });
});
