import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { openExample, type OpenExample } from '../support/example.js';
import { FINISH } from '../support/finish.js';

const KEYS: Record<string, string> = { left: 'ArrowLeft', right: 'ArrowRight', up: 'ArrowUp', down: 'ArrowDown', jump: 'Space', glide: 'KeyE' }; // prettier-ignore

type Stepped = { stepUntil(condition: string, most: number): number; step(frames: number): void };

describe('The page tide-mill', () => {
  let example: OpenExample;
  let page: Page;
  const until = (condition: string, most = 1500): Promise<number> =>
    page.evaluate(([c, m]) => (window as unknown as Stepped).stepUntil(c, m), [condition, most] as const);
  const step = (frames: number): Promise<void> => page.evaluate((n) => (window as unknown as Stepped).step(n), frames);

  before(async () => {
    example = await openExample('tide-mill', 'stepped', { width: 400, height: 250 });
    ({ page } = example);
  });
  after(() => example?.close());

  it('is finished by keyboard, with every move', async () => {
    for (const { when, down = [], up = [] } of FINISH) {
      const state = await example.state();
      const frames = await until(when);
      expect(frames, `${when}, from ${JSON.stringify(state)}`).to.be.at.least(0);
      for (const action of up) await page.keyboard.up(KEYS[action]!);
      for (const action of down) await page.keyboard.down(KEYS[action]!);
      // What comes next sees what these have done.
      if (up.length + down.length > 0) await step(1);
    }
    expect(await until('finished === "true"')).to.be.at.least(0);
    expect((await example.state()).mishaps).to.equal('0');
  });

  it('said nothing on the console', () => {
    expect(example.errors).to.deep.equal([]);
  });
});
