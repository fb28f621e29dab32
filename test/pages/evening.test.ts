import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import type { Loft } from '../../src/loft/model/loft.js';
import { DATA } from '../support/cli.js';
import { openLoft, takeHandle, type OpenLoft } from '../support/open-loft.js';

declare const window: { loft: Loft };

const data = (name: string): string => readFileSync(join(DATA, name), 'utf8');

describe("Somebody's first minutes in the Loft", function () {
  let loft: OpenLoft;
  let page: Page;
  const until = (what: string): Promise<void> => loft.until(what);
  const press = (name: string): Promise<void> => page.getByRole('button', { name, exact: true }).click();
  const label = (name: string): Promise<string | null> => page.locator(`[data-handle=${name}]`).getAttribute('aria-label'); // prettier-ignore
  async function drag(name: string, dx: number, up: number): Promise<void> {
    await takeHandle(page, name, dx, up);
    await page.mouse.up();
  }
  /** What the level says of the ground beyond the sluice. */
  const beyond = async (): Promise<string> => {
    await until('window.loft.asking.isFresh && window.loft.asking.isDone');
    return page.evaluate(() => window.loft.asking.places.find(({ points }) => points[0]![0] > 18)!.answer);
  };

  before(async () => {
    loft = await openLoft(
      Object.fromEntries(['wide-sluice.level.yaml', 'brindle.tuning.yaml'].map((name) => [name, data(name)])),
    );
    ({ page } = loft);
  });
  after(() => loft?.close());

  it('run, jump, take hold of the jump, ask the level, forgive a little more, and save: only those numbers have changed', async () => {
    // Run and jump.
    await page.locator('main canvas').focus();
    await page.keyboard.down('ArrowRight');
    await until('window.loft.session.hero.vx > 7');
    await page.keyboard.down('Space');
    await until('window.loft.session.hero.vy < -5');
    await page.keyboard.up('Space');
    await page.keyboard.up('ArrowRight');
    await press('Begin anew');
    await until('window.loft.session.hero.support === "ground" && window.loft.session.hero.vx === 0');
    // The sluice can be crossed as it is.
    await press('where it gets to');
    expect(await beyond()).to.equal('yes');
    // The apex to four tiles.
    await press('arc from here');
    await press('grace');
    await until('window.loft.ahead.handles.length === 7');
    const tap = await label('tap');
    await drag('apex', 0, 0.77);
    expect(await label('apex')).to.match(/4 high in 0\.4 s$/);
    // The landing to five; the tap stays what it was.
    const far = Number(/lands ([\d.]+) away/.exec((await label('landing'))!)![1]);
    await drag('landing', 5 - far, 0);
    expect(Number(/lands ([\d.]+) away/.exec((await label('landing'))!)![1])).to.be.closeTo(5, 0.1);
    expect(await label('tap')).to.equal(tap);
    // Now it is too wide, and some more time after the edge is what it wants.
    expect(await beyond()).to.equal('no');
    for (let step = 0; (await beyond()) !== 'yes'; step++) {
      expect(step, 'steps of the late jump').to.be.below(12);
      await drag('coyote', 0.16, 0);
    }
    await press('Save');
    await until("window.loft.say === 'brindle.tuning.yaml saved'");
    const [was, is] = [data('brindle.tuning.yaml').split('\n'), readFileSync(join(loft.folder, 'brindle.tuning.yaml'), 'utf8').split('\n')]; // prettier-ignore
    expect(is.length).to.equal(was.length);
    const changed = is.filter((line, i) => line !== was[i]).map((line) => line.replace(/\d[\d.]*/, 'N'));
    expect(changed).to.deep.equal(['  height: N      # clears three tiles with a little to spare', '  riseTime: N', '  coyote: N']); // prettier-ignore
  });
});
