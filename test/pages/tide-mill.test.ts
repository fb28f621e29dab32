import { readFileSync } from 'node:fs';
import { readInput } from 'apperin/files';
import { play } from 'apperin/lab';
import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { openExample, type OpenExample } from '../support/example.js';
import { FINISH, KEYS } from '../support/finish.js';
import { mill } from '../support/mill.js';
import { fully } from '../support/share.js';

describe('The page tide-mill', () => {
  let example: OpenExample;
  let page: Page;
  const until = (condition: string, most = 1500): Promise<number> => page.evaluate(`stepUntil(${JSON.stringify(condition)}, ${most})`); // prettier-ignore
  const step = (frames: number): Promise<unknown> => page.evaluate(`step(${frames})`);
  const number = async (name: string): Promise<number> => Number((await example.state())[name]);
  const openMenu = async (): Promise<void> => {
    if (!(await page.isVisible('#menu'))) await page.keyboard.press('Escape');
  };
  /** Saves what was played, from the menu. */
  const save = async (): Promise<ReturnType<typeof readInput>['rows']> => {
    await openMenu();
    const [download] = await Promise.all([page.waitForEvent('download'), page.click('#save')]);
    expect(download.suggestedFilename()).to.equal('mill.input.csv');
    return readInput(readFileSync(await download.path(), 'utf8')).rows;
  };

  before(async () => {
    // Small, so that drawing it without a graphics card takes no time.
    example = await openExample('tide-mill', 'stepped', { width: 480, height: 300 });
    ({ page } = example);
  });
  after(() => example?.close());

  fully('is finished by keyboard', async () => {
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

  fully('saves what was played, and Node plays the same from the file, to the bit', async () => {
    const state = await example.state();
    const rows = await save();
    const { last, rate } = play({ ...mill, input: rows, seconds: Number(state.t) });
    expect(rate).to.equal(120);
    expect([last.time, last.x, last.y, last.vx, last.vy].map(String)).to.deep.equal(['t', 'x', 'y', 'vx', 'vy'].map((name) => state[name])); // prettier-ignore
    expect(last.support).to.equal(state.support);
  });

  fully('begins anew from the menu, and a bath in the quay leads back to the start', async () => {
    for (const key of Object.values(KEYS)) await page.keyboard.up(key);
    await openMenu();
    await page.click('#again');
    await step(2);
    expect(await number('x')).to.equal(2.5);
    expect((await example.state()).finished).to.equal('false');
    await page.keyboard.down('ArrowRight');
    expect(await until('mishaps === 1')).to.be.at.least(0);
    await page.keyboard.up('ArrowRight');
    expect(await page.textContent('#say')).to.equal('Cold water. Once more.');
    await step(120);
    expect(await number('x')).to.be.within(2.5, 3.5);
  });

  fully('goes back in time while Backspace is held, and plays on', async () => {
    await page.keyboard.down('ArrowRight');
    await until('x > 7');
    const [x, t] = [await number('x'), await number('t')];
    await page.keyboard.up('ArrowRight');
    await page.keyboard.down('Backspace');
    await step(20);
    await page.keyboard.up('Backspace');
    // Twice as fast as it went.
    expect(await number('t')).to.be.closeTo(t - 40 / 60, 0.03);
    expect(await number('x')).to.be.below(x - 3);
    await step(60);
    expect(await number('t')).to.be.closeTo(t + 1 - 40 / 60, 0.05);
  });

  fully('pauses, and binds a key anew for now and for the next time', async () => {
    const t = await number('t');
    await page.keyboard.press('KeyP');
    expect(await page.isVisible('#menu')).to.equal(true);
    await step(30);
    expect(await number('t')).to.equal(t);
    await page.click('[data-action="jump"]');
    await page.keyboard.press('KeyJ');
    expect(await page.textContent('[data-action="jump"]')).to.equal('KeyJ');
    await page.selectOption('#opposed', 'first');
    await page.fill('#speed', '0.5');
    await page.click('#resume');
    const before = await number('t');
    await step(60);
    expect((await number('t')) - before).to.be.closeTo(0.5, 0.05);
    await page.keyboard.press('Space');
    await step(5);
    expect((await example.state()).support).to.equal('ground');
    await page.keyboard.down('KeyJ');
    expect(await until('support === ""', 10)).to.be.at.least(0);
    await page.keyboard.up('KeyJ');
    await page.reload();
    await page.waitForFunction('(step(1), document.querySelector("output").dataset.x)', undefined, { polling: 50 });
    await page.keyboard.press('Escape');
    expect(await page.textContent('[data-action="jump"]')).to.equal('KeyJ');
    expect(await page.inputValue('#opposed')).to.equal('first');
    await page.keyboard.press('Escape');
    expect(await page.isVisible('#menu')).to.equal(false);
  });

  fully('shows what the controller sees, when asked to', async () => {
    /** How many pixels of a frame have the colour of the hitbox. */
    const outline = (): Promise<number> =>
      page.evaluate(`(() => {
        step(1);
        const from = document.querySelector('canvas'), to = new OffscreenCanvas(from.width, from.height).getContext('2d');
        to.drawImage(from, 0, 0);
        const { data } = to.getImageData(0, 0, from.width, from.height);
        let found = 0;
        for (let i = 0; i < data.length; i += 4) if (data[i] > 240 && Math.abs(data[i + 1] - 0x8a) < 12 && Math.abs(data[i + 2] - 0x5c) < 12) found++;
        return found;
      })()`);
    // Large enough for lines of more than one pixel.
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.waitForFunction('(step(1), document.querySelector("canvas").width === 1280)', undefined, {
      polling: 50,
    });
    expect(await outline()).to.equal(0);
    await openMenu();
    await page.check('#show');
    await page.click('#resume');
    expect(await outline()).to.be.above(20);
  });

  fully('said nothing on the console', () => {
    expect(example.errors).to.deep.equal([]);
  });
});

describe('The recording that finishes the mill', () => {
  fully('shows every ability, and ends at the bell', () => {
    const { events, rows } = play({ ...mill, input: mill.finish });
    const told = new Set(events.map(({ event, by }) => (event === 'takeoff' ? `takeoff ${by}` : event)));
    expect([...told]).to.include.members([
      'takeoff ground', 'takeoff air', 'takeoff wall', 'takeoff ledge', 'takeoff charge', 'cling', 'uncling', 'hang', 'unhang', 'climbed', 'glideOn', 'glideOff',
      'dropThrough', 'board', 'alight', 'enter', 'exit', 'footfall', 'touchdown', 'apex', 'turned', 'bump',
    ]); // prettier-ignore
    expect(rows.map(({ pose }) => pose)).to.include.members(['crouch', 'dive', 'charge', 'slide', 'hang', 'climb', 'glide', 'run', 'land']); // prettier-ignore
    expect(events.filter(({ event, zone }) => event === 'enter' && zone === 'bell')).to.have.length(1);
    expect(told.has('crushed')).to.equal(false);
  });
});
