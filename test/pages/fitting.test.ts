import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { arcs } from 'apperin/lab';
import type { Loft } from '../../src/loft/model/loft.js';
import { DATA, apperin } from '../support/cli.js';
import { openLoft, type OpenLoft } from '../support/open-loft.js';

const require = createRequire(import.meta.url);
declare const window: { loft: Loft };

const TEXT = `# Brindle, for the Loft.
jump: { height: 3.25, airTime: 0.75 }   # by its time in the air
gravity: { falling: 1.5 }
run: { speed: 7.5 }
`;
const FLOOR = `rows:\n${Array.from({ length: 8 }, () => `  - '${'.'.repeat(40)}'\n`).join('')}  - '..@${'.'.repeat(37)}'\n  - '${'#'.repeat(40)}'\n`;

describe('A motion whose numbers are looked for in the Loft', function () {
  let loft: OpenLoft;
  let page: Page;
  const until = (what: string): Promise<void> => loft.until(what);
  const found = (key: string): Promise<string> => page.locator(`[data-found="${key}"]`).innerText();
  const press = (name: string): Promise<void> => page.getByRole('button', { name, exact: true }).click();

  before(async () => {
    loft = await openLoft({ 'shed.level.yaml': FLOOR, 'brindle.tuning.yaml': TEXT });
    ({ page } = loft);
    await page.getByRole('tab', { name: 'Fit' }).click();
  });
  after(() => loft?.close());

  it('is a jump that is drawn over the level: the numbers of the arc that it was drawn along', async () => {
    await press('Draw a jump over the level');
    const box = (await page.locator('main canvas').boundingBox())!;
    const [x, y, scale] = await page.evaluate(
      () => [...window.loft.camera.at(3, 9), window.loft.camera.scale] as const,
    );
    const wanted = arcs('', { jump: { height: 4, riseTime: 0.45 }, gravity: { falling: 2 }, run: { speed: 7.5 } });
    const points = wanted.full.stretches.flatMap((stretch) => stretch.points);
    await page.mouse.move(box.x + x, box.y + y);
    await page.mouse.down();
    for (const point of points.filter((_, i) => i % 3 === 0)) await page.mouse.move(box.x + x + point.x * scale, box.y + y - point.y * scale); // prettier-ignore
    await page.mouse.up();
    await until('window.loft.fitting.numbers.length === 3');
    const numbers = await page.evaluate(() => window.loft.fitting.numbers.map(({ value }) => Number(value)));
    expect(numbers[0]).to.be.closeTo(4, 0.05);
    expect(numbers[1]).to.be.closeTo(0.45, 0.01);
    expect(numbers[2]).to.be.closeTo(2, 0.1);
    expect(await page.getByRole('tabpanel').innerText()).to.match(/the jump that you drew: met to 0(\.0\d*)? units/);
    expect(await found('jump.height')).to.match(/^Jump height\s+3\.25\s+(4|3\.9\d*|4\.0\d*)\s/);
    expect(await found('jump.riseTime')).to.match(/^Rise time\s+0\.3\d+\s/);
    // Nothing has been taken yet.
    expect(await loft.text()).to.equal(TEXT);
  });

  it('is taken number by number, by the pair that the file says the jump with, and undone in one step', async () => {
    await press('Take Falling');
    expect(await loft.text()).to.match(/falling: (2|1\.9\d*|2\.0\d*) \}/);
    expect(await loft.text()).to.include('height: 3.25, airTime: 0.75 }   # by its time in the air');
    await press('Take all');
    const { height, rise, text } = await page.evaluate(() => ({ height: window.loft.document.motion.jumpHeight, rise: window.loft.document.motion.riseTime, text: window.loft.document.text })); // prettier-ignore
    expect(height).to.be.closeTo(4, 0.05);
    expect(rise).to.be.closeTo(0.45, 0.01);
    expect(text).to.match(/jump: \{ height: \d\S*, airTime: 0\.\d+ \} {3}# by its time in the air/);
    await press('Undo');
    expect(await loft.text()).to.include('height: 3.25, airTime: 0.75 }');
    await press('Undo');
    expect(await loft.text()).to.equal(TEXT);
    await press('Draw a jump over the level');
    await press('Forget it');
    expect(await page.getByRole('tabpanel').innerText()).to.include('Drop a capture onto the level');
  });

  it('is a capture that is dropped on the level: the numbers that apperin fit finds, each with its interval', async () => {
    const name = 'night-shift.capture.csv';
    const text = readFileSync(join(DATA, name), 'utf8');
    const data = await page.evaluateHandle(([content, called]) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([content!], called!, { type: 'text/csv' }));
      return transfer;
    }, [text, name]); // prettier-ignore
    await page.locator('main canvas').dispatchEvent('drop', { dataTransfer: data });
    await until('window.loft.fitting.numbers.length > 5');
    const { out } = await apperin([
      'fit',
      join(DATA, name),
      '--scale',
      '16',
      '--tuning',
      join(loft.folder, 'brindle.tuning.yaml'),
      '--json',
    ]);
    const said = JSON.parse(out) as { found: Record<string, { value: number; within: number }> }; // prettier-ignore
    const numbers = await page.evaluate(() => window.loft.fitting.numbers.map(({ key, value, within }) => [key, Number(value), within] as const)); // prettier-ignore
    for (const key of ['jump.height', 'jump.riseTime', 'run.speed', 'gravity.falling']) {
      const [, value, within] = numbers.find(([other]) => other === key)!;
      // As it is written into the tuning.
      expect(value, key).to.be.closeTo(said.found[key]!.value, within! / 5);
      expect(within, key).to.be.closeTo(said.found[key]!.within, 1e-9);
    }
    // It lies over the level from where the character stands.
    const [first, hero] = await page.evaluate(() => [window.loft.fitting.capture!.laid.points[0]!, [window.loft.session.hero.x, window.loft.session.hero.y]]); // prettier-ignore
    expect(first).to.deep.equal(hero);
    expect(await found('jump.height')).to.match(/^Jump height\s+3\.25\s+2\.8\d*\s+0\.01\d*\s/);
    await page.evaluate(readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8'));
    const wrong = await page.evaluate<{ id: string; impact: string }[]>('axe.run().then(({ violations }) => violations.map(({ id, impact }) => ({ id, impact })))'); // prettier-ignore
    expect(wrong.filter(({ impact }) => impact === 'serious' || impact === 'critical')).to.deep.equal([]);
  });

  it('says what is no capture, and what is no jump', async () => {
    await page.evaluate(() => window.loft.files.openFile(new File(['a,b\n1,2\n'], 'notes.csv')));
    expect(await page.evaluate(() => window.loft.say)).to.match(/^notes\.csv: .*no column is named time or t/);
    await press('Forget it');
    await press('Draw a jump over the level');
    const box = (await page.locator('main canvas').boundingBox())!;
    await page.mouse.move(box.x + 300, box.y + 200);
    await page.mouse.down();
    for (let i = 1; i < 20; i++) await page.mouse.move(box.x + 300 + i * 6, box.y + 200 + i * 4);
    await page.mouse.up();
    await until("window.loft.fitting.wrong !== ''");
    expect(await page.getByRole('tabpanel').innerText()).to.include('the curve is no jump: it has to go up first');
  });
});
