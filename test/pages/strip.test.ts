import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import type { Loft } from '../../src/loft/model/loft.js';
import { DATA } from '../support/cli.js';
import { openLoft, type OpenLoft } from '../support/open-loft.js';

const require = createRequire(import.meta.url);
declare const window: { loft: Loft };

const fixed = (name: string): string => readFileSync(join(DATA, name), 'utf8');

describe('The strip of time in the Loft', function () {
  let loft: OpenLoft;
  let page: Page;
  const until = (what: string): Promise<void> => loft.until(what);
  const grip = (name: string) => page.locator(`[data-bar="${name}"]`);
  const rows = (): Promise<[string, number, number][]> =>
    page.evaluate(() => window.loft.session.take!.rows.map(({ action, time, value }) => [action, time, value]));
  const end = (): Promise<number[]> =>
    page.evaluate(() => [window.loft.session.live!.trail.at(-1)!.x, window.loft.session.live!.trail.at(-1)!.y]);
  /** Drags what of a bar is taken hold of by so many seconds, and does not let go. */
  async function take(name: string, by: number): Promise<void> {
    const box = (await grip(name).boundingBox())!;
    const perSecond = await page.evaluate(() => {
      const { strip } = window.loft;
      const { from, to } = strip.span(strip.seen());
      return (document.querySelector('.axis')!.clientWidth - 96 - 58) / (to - from);
    });
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + (by * perSecond) / 2, y);
    await page.mouse.move(x + by * perSecond, y);
  }

  before(async () => {
    loft = await openLoft({ 'yard.level.yaml': fixed('yard.level.yaml'), 'brindle.tuning.yaml': fixed('brindle.tuning.yaml'), 'leap.input.csv': fixed('leap.input.csv') }); // prettier-ignore
    ({ page } = loft);
    await page.getByRole('tab', { name: 'Take and ghosts' }).click();
    await page.getByRole('button', { name: 'Take leap.input.csv' }).click();
    await page.getByRole('tab', { name: 'Time' }).click();
  });
  after(() => loft?.close());

  it('has a bar for each press, the phases, and what happened, told in words too', async () => {
    await until("document.querySelectorAll('[data-bar]').length === 6");
    const said = async (name: string): Promise<(string | null)[]> => [await grip(name).getAttribute('aria-label'), await grip(name).getAttribute('aria-valuetext')]; // prettier-ignore
    expect(await said('1 press')).to.deep.equal(['jump, pressed', 'at 2.300 s, held for 600 ms']);
    expect(await said('1 release')).to.deep.equal(['jump, let go of', 'at 2.900 s, held for 600 ms']);
    const told = await page.locator('.axis canvas').getAttribute('aria-label');
    expect(told).to.match(/Presses: right from 0\.20 to 3\.25 s, jump from 2\.30 to 2\.90 s/);
    expect(told).to.match(/takeoff at 2\.30 s, apex at 2\.7\d s, touchdown at 3\.0\d s/);
  });

  it('shades how much sooner or later each press still lands on the same ground: what apperin says of the input', async () => {
    await until('window.loft.strip.margins.length === 2');
    const [first] = await page.evaluate(() => window.loft.strip.margins.map(({ at, press }) => [at, at - press.earliest!, press.latest! - at])); // prettier-ignore
    expect(first![0]).to.equal(2.3);
    // Leap runs for long enough before its edge, and the press may come 80 ms after it.
    expect(first![1]).to.be.closeTo(0.1063, 0.002);
    expect(first![2]).to.be.closeTo(0.2867, 0.002);
    expect(await page.locator('.hint').innerText()).to.match(/Tightest: jump at 2\.300 s, free from 106 ms sooner to 287 ms later/); // prettier-ignore
  });

  it('plays the flight and all after it anew while a press is dragged, and back again on Escape', async () => {
    const [keys, was] = [await rows(), await end()];
    await take('1 press', -0.2);
    const now = await rows();
    const jump = now.filter(([action]) => action === 'jump');
    expect(jump[0]![1]).to.be.closeTo(2.1, 0.01);
    // The release goes with the press, to whole milliseconds; nothing else has moved.
    expect(jump[1]![1] - jump[0]![1]).to.be.closeTo(0.6, 1e-9);
    expect(jump[0]![1] * 1000).to.be.closeTo(Math.round(jump[0]![1] * 1000), 1e-6);
    expect(now.filter(([action]) => action !== 'jump')).to.deep.equal(keys.filter(([action]) => action !== 'jump'));
    // So early it comes down short of the ground, and falls.
    expect((await end())[1]!).to.be.above(was[1]! + 20);
    await grip('1 press').focus();
    await page.keyboard.press('Escape');
    await page.mouse.up();
    expect(await rows()).to.deep.equal(keys);
    expect(await end()).to.deep.equal(was);
  });

  it('holds a press for less when its end is dragged; with the keyboard too; and gives all of it back', async () => {
    const [keys, was] = [await rows(), await end()];
    await take('1 release', -0.5);
    await page.mouse.up();
    const held = (all: [string, number, number][]): number => {
      const [on, off] = all.filter(([action]) => action === 'jump');
      return off![1] - on![1];
    };
    expect(held(await rows())).to.be.closeTo(0.1, 0.01);
    // The way as it was pressed stays to be seen beside the new one.
    expect(await page.evaluate(() => window.loft.strip.asPressed!.trail.at(-1)!.x)).to.equal(was[0]);
    expect(await page.locator('.axis canvas').getAttribute('data-lines')).to.equal('3');
    const before = held(await rows());
    await grip('1 release').focus();
    await page.keyboard.press('ArrowRight');
    expect(held(await rows())).to.be.closeTo(before + 0.005, 1e-9);
    await page.keyboard.press('Shift+ArrowLeft');
    expect(held(await rows())).to.be.closeTo(before + 0.004, 1e-9);
    await page.getByRole('button', { name: 'Keys as they were' }).click();
    expect(await rows()).to.deep.equal(keys);
    expect(await end()).to.deep.equal(was);
  });

  it('plays what is saved: the take with its moved press is what apperin plays, to the bit', async () => {
    await take('1 press', 0.1);
    await page.mouse.up();
    const trace = await page.evaluate(() => {
      const { rows: played } = window.loft.session.traceOfTake()!;
      return [played.at(-1)!.x, played.at(-1)!.y];
    });
    expect(await end()).to.deep.equal(trace);
    await page.getByRole('button', { name: 'Keys as they were' }).click();
  });

  it('comes nearer, and shows frames; another take is seen whole', async () => {
    await page.getByRole('button', { name: 'Nearer in time' }).click();
    await page.getByRole('button', { name: 'Nearer in time' }).click();
    const span = (): Promise<number> => page.evaluate(() => {
      const { strip } = window.loft;
      const { from, to } = strip.span(strip.seen());
      return to - from;
    }); // prettier-ignore
    expect(await span()).to.be.closeTo(5.25 * 0.36, 1e-6);
    await page.evaluate(() => window.loft.takes.playInput('leap.input.csv'));
    expect(await span()).to.be.closeTo(5.25, 1e-9);
  });

  it('makes a take of what was just played when a press of it is dragged', async () => {
    await page.evaluate(() => {
      window.loft.session.clearGhosts();
      window.loft.session.restart();
      window.loft.session.steps.paused = false;
      window.loft.look();
      window.loft.tell();
    });
    await page.locator('main canvas').focus();
    await page.keyboard.down('Space');
    await until('window.loft.session.hero.vy < 0');
    await page.keyboard.up('Space');
    await until('window.loft.session.hero.vy > 0');
    await until("window.loft.session.hero.support === 'ground'");
    await page.getByRole('button', { name: 'Pause' }).click();
    await until("document.querySelectorAll('[data-bar]').length === 2");
    const highest = (): Promise<number> =>
      page.evaluate(() => Math.min(...window.loft.session.samples.map(({ y }) => y)));
    const was = await highest();
    await take('0 release', 1);
    await page.mouse.up();
    // Held for longer it goes higher; as it was pressed it is the ghost.
    const [now, ghost] = await page.evaluate(() => {
      const { session, strip } = window.loft;
      return [session.live!, strip.asPressed!].map(({ trail }) => Math.min(...trail.map(({ y }) => y)));
    });
    expect(ghost).to.equal(was);
    expect(now).to.be.below(ghost!);
    await page.evaluate(readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8'));
    const found = await page.evaluate<{ id: string; impact: string }[]>('axe.run().then(({ violations }) => violations.map(({ id, impact }) => ({ id, impact })))'); // prettier-ignore
    expect(found.filter(({ impact }) => impact === 'serious' || impact === 'critical')).to.deep.equal([]);
  });
});
