import { expect } from 'chai';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import type { Loft } from '../../src/loft/model/loft.js';
import { DATA } from '../support/cli.js';
import { openLoft, type OpenLoft } from '../support/open-loft.js';

const require = createRequire(import.meta.url);
declare const window: { loft: Loft };

const YARD = readFileSync(join(DATA, 'yard.level.yaml'), 'utf8');
const MILL = readFileSync(join(DATA, 'saltreave.level.svg'), 'utf8');
const BRINDLE = readFileSync(join(DATA, 'brindle.tuning.yaml'), 'utf8');

/** Which lines of a text are others now. */
const changed = (before: string, after: string): string[] => {
  const [was, is] = [before.split('\n'), after.split('\n')];
  expect(is.length).to.equal(was.length);
  return is.filter((line, i) => line !== was[i]).map((line) => line.trim());
};

describe('A level that is moved in the Loft', function () {
  let loft: OpenLoft;
  let page: Page;
  const until = (what: string): Promise<void> => loft.until(what);
  const file = (name: string): string => readFileSync(join(loft.folder, name), 'utf8');
  const press = (name: string): Promise<void> => page.getByRole('button', { name, exact: true }).click();
  const said = (): Promise<string> => page.locator('.what-piece').innerText();
  /** Drags from a place of the level by so many units, and does not let go. */
  async function take(x: number, y: number, dx: number, dy: number): Promise<void> {
    const [[px, py], scale] = await page.evaluate(([ax, ay]) => [window.loft.camera.at(ax!, ay!), window.loft.camera.scale] as const, [x, y]); // prettier-ignore
    const box = (await page.locator('main canvas').boundingBox())!;
    await page.mouse.move(box.x + px, box.y + py);
    await page.mouse.down();
    await page.mouse.move(box.x + px + (dx * scale) / 2, box.y + py + (dy * scale) / 2);
    await page.mouse.move(box.x + px + dx * scale, box.y + py + dy * scale);
  }

  before(async () => {
    loft = await openLoft({ 'yard.level.yaml': YARD, 'brindle.tuning.yaml': BRINDLE });
    ({ page } = loft);
    await press('all');
    await press('move the level');
  });
  after(() => loft?.close());

  it('drags a piece by whole tiles: the rows keep all but its characters, and what is played goes on in it', async () => {
    const hero = (): Promise<number[]> => page.evaluate(() => [window.loft.session.hero.x, window.loft.session.hero.y]);
    const was = await hero();
    await take(44, 2.5, -1, 1);
    await page.mouse.up();
    expect(await said()).to.equal('solid 4 by 1 at 41, 3');
    expect(await hero()).to.deep.equal(was);
    expect(await page.evaluate(() => [window.loft.level.dirty, window.loft.session.level === window.loft.level.compiled])).to.deep.equal([true, true]); // prettier-ignore
    expect(file('yard.level.yaml')).to.equal(YARD);
    await press('Save the level');
    await until("window.loft.say === 'yard.level.yaml saved'");
    expect(changed(YARD, file('yard.level.yaml'))).to.deep.equal(['- "................................................"', '- ".........................................####..."']); // prettier-ignore
    expect(await page.evaluate(() => window.loft.level.dirty)).to.equal(false);
  });

  it('gives a drag back on Escape, undoes each, and is moved by keys alone', async () => {
    const at = (): Promise<string> => page.evaluate(() => JSON.stringify(window.loft.moving.pieces.map(({ corners }) => corners))); // prettier-ignore
    const was = await at();
    await take(36, 4.5, 2, 0);
    expect(await at()).not.to.equal(was);
    await page.keyboard.press('Escape');
    await page.mouse.up();
    expect(await at()).to.equal(was);
    const piece = page.locator('[data-piece="1"]');
    expect(await piece.getAttribute('aria-label')).to.match(/^solid 4 by 1 at 34, 4\. Arrow keys move it/);
    await piece.focus();
    for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Shift+ArrowUp');
    expect(await said()).to.equal('solid 4 by 1 at 34.5, 3.99');
    await page.keyboard.press('Alt+ArrowRight');
    expect(await said()).to.equal('solid 4.1 by 1 at 34.5, 3.99');
    await page.keyboard.press('Alt+ArrowUp');
    expect(await said()).to.equal('solid 4.1 by 1.1 at 34.5, 3.89');
    for (let i = 0; i < 8; i++) await press('Undo in the level');
    expect(await at()).to.equal(was);
    expect(await page.evaluate(() => window.loft.level.dirty)).to.equal(false);
    await page.evaluate(readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8'));
    const found = await page.evaluate<{ id: string; impact: string }[]>('axe.run().then(({ violations }) => violations.map(({ id, impact }) => ({ id, impact })))'); // prettier-ignore
    expect(found.filter(({ impact }) => impact === 'serious' || impact === 'critical')).to.deep.equal([]);
  });

  it('moves a piece until it is just reached: a hundredth farther it is not', async () => {
    await take(27.5, 6.5, 0, 0);
    await page.mouse.up();
    expect(await said()).to.equal('solid 3 by 1 at 26, 6');
    await press('Higher, until just reached');
    await until('!window.loft.moving.isLooking');
    expect(await page.evaluate(() => window.loft.say)).to.match(/^just reached: moved by/);
    // What the survey itself says of it, there and two hundredths higher.
    const answer = async (): Promise<string> => {
      await until('window.loft.asking.isFresh && window.loft.asking.isDone');
      return page.evaluate(() => {
        const { asking, moving } = window.loft;
        const [left, top] = moving.touched!.corners[0] as [number, number];
        return asking.places.find(({ points }) => Math.abs(points[0]![0] - left) < 0.5 && Math.abs(points[0]![1] - top) < 0.001)!.answer; // prettier-ignore
      });
    };
    await press('where it gets to');
    expect(await answer()).to.equal('yes');
    await page.locator('[data-piece="2"]').focus();
    await page.keyboard.press('Shift+ArrowUp');
    await page.keyboard.press('Shift+ArrowUp');
    expect(await answer()).not.to.equal('yes');
    await press('where it gets to');
    for (let i = 0; i < 3; i++) await press('Undo in the level');
    expect(await said()).to.equal('solid 3 by 1 at 26, 6');
  });

  it('asks before a level in rows becomes a drawing, which is saved beside it and goes on from there', async () => {
    const rows = file('yard.level.yaml');
    // An edge of it, half a tile.
    await take(44, 6.02, 0, -0.5);
    await page.mouse.up();
    expect(await said()).to.equal('solid 8 by 1.5 at 40, 5.5');
    await press('Save the level');
    const asked = page.getByRole('alertdialog');
    await asked.waitFor();
    expect(await asked.innerText()).to.include('yard.level.yaml cannot hold this in its rows').and.to.include('yard.level.svg'); // prettier-ignore
    await press('Not now');
    expect(existsSync(join(loft.folder, 'yard.level.svg'))).to.equal(false);
    await press('Save the level');
    await press('Save yard.level.svg');
    await until("window.loft.say === 'yard.level.svg saved'");
    expect(file('yard.level.yaml')).to.equal(rows);
    expect(file('yard.level.svg')).to.include('points="40,5.5 48,5.5 48,7 40,7"');
    expect(await page.evaluate(() => [window.loft.level.name, window.loft.level.dirty])).to.deep.equal(['yard.level.svg', false]); // prettier-ignore
    // From now on it is the drawing that is edited, and watched.
    await press('Add a plank');
    expect(await said()).to.match(/^one-way 3 by 0 at/);
    await press('Save the level');
    await until('window.loft.level.dirty === false');
    expect(file('yard.level.svg')).to.match(/<polyline class="one-way" points="[-\d., ]+"\/>\n<\/svg>\n$/);
    await page.keyboard.press('Tab');
    writeFileSync(
      join(loft.folder, 'yard.level.svg'),
      file('yard.level.svg').replace('The mill yard', 'The lower yard'),
    );
    await until("window.loft.session.level.title === 'The lower yard'");
  });

  it('writes over nothing that has changed on disk meanwhile: it is decided whose counts', async () => {
    await press('Add a box');
    const theirs = file('yard.level.svg').replace('The lower yard', 'Their yard');
    writeFileSync(join(loft.folder, 'yard.level.svg'), theirs);
    await until('window.loft.level.theirs !== undefined');
    await press('Save the level');
    expect(file('yard.level.svg')).to.equal(theirs);
    await press('Take the level on disk');
    expect(await page.evaluate(() => [window.loft.session.level.title, window.loft.level.dirty])).to.deep.equal(['Their yard', false]); // prettier-ignore
  });

  it('serves no other new file than the drawing of its level, and that once', async () => {
    const put = (name: string): Promise<number> => page.evaluate(async (to) => (await fetch(`./files/${encodeURIComponent(to)}`, { method: 'PUT', body: '<svg/>', headers: { 'if-match': '"gone"' } })).status, name); // prettier-ignore
    for (const name of ['other.level.svg', '../yard.level.svg', 'brindle.tuning.svg', '.level.svg']) expect(await put(name), name).to.equal(409); // prettier-ignore
    expect(await put('yard.level.svg')).to.equal(412);
  });
});

describe('A drawing that is moved in the Loft', function () {
  let loft: OpenLoft;
  let page: Page;
  before(async () => {
    loft = await openLoft({ 'mill.level.svg': MILL, 'brindle.tuning.yaml': BRINDLE });
    ({ page } = loft);
    await page.getByRole('button', { name: 'move the level' }).click();
  });
  after(() => loft?.close());

  it('keeps its file but for the piece that moved, by key or with a take that is played anew', async () => {
    await page.evaluate(() => {
      window.loft.session.takeRows([{ time: 0.1, action: 'right', value: 1 }], 120, 2);
      window.loft.tell();
    });
    const end = (): Promise<number> => page.evaluate(() => window.loft.session.live!.trail.at(-1)!.x);
    const was = await end();
    const ground = await page.evaluate(() => window.loft.moving.pieces.findIndex(({ name }) => name === 'weir'));
    await page.locator(`[data-piece="${ground}"]`).focus();
    await page.keyboard.press('ArrowUp');
    await page.getByRole('button', { name: 'Save the level' }).click();
    await loft.until("window.loft.say === 'mill.level.svg saved'");
    const text = readFileSync(join(loft.folder, 'mill.level.svg'), 'utf8');
    const lines = changed(MILL, text);
    expect(lines.length).to.equal(1);
    expect(lines[0]).to.include('id="weir"');
    // A box in the way, and the take ends at it.
    await page.evaluate((x) => {
      const { loft: app } = window;
      app.camera.x = x - 3;
      app.camera.y = app.session.hero.y;
    }, was);
    await page.getByRole('button', { name: 'Add a box' }).click();
    expect(await end()).to.be.below(was - 0.5);
  });
});
