import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import type { Loft } from '../../src/loft/model/loft.js';
import { DATA } from '../support/cli.js';
import { openLoft, takeHandle, type OpenLoft } from '../support/open-loft.js';

const require = createRequire(import.meta.url);
declare const window: { loft: Loft };

const TEXT = `# Brindle, for the Loft.
jump:
  height: 3.25   # three tiles, and a little
  riseTime: 0.4  # brisk
  lowestHop: 1.25
run: { speed: 7.5 }
`;

/** A floor, and a roof over its right half, three tiles above it. */
const LEVEL = `rows:
${Array.from({ length: 6 }, () => `  - '${'.'.repeat(40)}'`).join('\n')}
  - '${'.'.repeat(24)}${'#'.repeat(16)}'
  - '${'.'.repeat(40)}'
  - '${'.'.repeat(40)}'
  - '..@${'.'.repeat(37)}'
  - '${'#'.repeat(40)}'
`;

describe('What is predicted in the Loft', function () {
  let loft: OpenLoft;
  let page: Page;
  const until = (what: string): Promise<void> => loft.until(what);
  const text = (): Promise<string> => loft.text();
  const label = (name: string): Promise<string | null> => page.locator(`[data-handle=${name}]`).getAttribute('aria-label'); // prettier-ignore
  const take = (name: string, dx: number, up: number): Promise<void> => takeHandle(page, name, dx, up);

  before(async () => {
    loft = await openLoft({ 'shed.level.yaml': LEVEL, 'brindle.tuning.yaml': TEXT });
    ({ page } = loft);
    await page.getByRole('button', { name: 'arc from here' }).click();
    await until('window.loft.ahead.handles.length === 5');
  });
  after(() => loft?.close());

  it('is what will happen: the flight that is drawn and the one that is played are the same to the bit', async () => {
    // Running to the right: what is held stays held.
    await page.locator('main canvas').focus();
    await page.keyboard.down('ArrowRight');
    await until('window.loft.session.hero.vx > 3');
    await page.evaluate(() => {
      window.loft.session.steps.paused = true;
      window.loft.tell();
    });
    await page.keyboard.up('ArrowRight');
    const [predicted, played] = await page.evaluate(() => {
      const { loft } = window;
      const { stage, rate } = loft.session;
      loft.ahead.lookAhead();
      const { full } = loft.ahead.predicted!.after;
      // The same keys on another fork, as somebody would press them.
      const rows = [{ time: full.takeoff!.time, action: 'jump', value: 1 }];
      const seen: [number, number, number][] = [];
      let next = 0;
      const fork = stage.fork({
        hero: {
          read(into) {
            while (next < rows.length && rows[next]!.time < into.until) {
              const { time, action, value } = rows[next++]!;
              into.push(time, action, value);
            }
          },
        },
      });
      for (const event of ['apex', 'touchdown'])
        fork.characters[0]!.on(event, ({ time, x, y }) => void (time > full.takeoff!.time && seen.push([time, x, y])));
      while (seen.length < 2) fork.tick(1 / rate);
      return [[full.apex!, full.landing!].map(({ time, x, y }) => [time, x, y]), seen];
    });
    expect(predicted).to.deep.equal(played);
    await page.getByRole('button', { name: 'Begin anew' }).click();
    await page.getByRole('button', { name: 'Go on' }).click();
    await until('window.loft.session.hero.support === "ground" && window.loft.session.hero.vx === 0');
  });

  it('has handles that are the numbers: the apex dragged to four tiles is a height of four, and nothing else of the file changes', async () => {
    expect(await label('apex')).to.match(/^Apex: jump height.*3\.25 high in 0\.4 s$/);
    await take('apex', 0, 0.77);
    // While it is dragged it stands at the pointer, and both flights are drawn.
    expect(await page.locator('[data-handle=apex] .at').innerText()).to.equal('4 high in 0.4 s');
    await until('window.loft.ahead.predicted.before !== undefined');
    await page.mouse.up();
    expect(await text()).to.equal(TEXT.replace('3.25', '4'));
    // Sideways it is the rise time, snapped to hundredths.
    await take('apex', 0.75, 0);
    await page.mouse.up();
    expect(await text()).to.match(/height: 4 {3}# three tiles, and a little\n {2}riseTime: 0\.(49|5) {2}# brisk/);
    await page.getByRole('button', { name: 'Undo' }).click();
    expect(await text()).to.equal(TEXT.replace('3.25', '4'));
  });

  it('is dragged at the landing for how long it takes, with Alt for how fast it runs, and at the top of a tap for the lowest hop', async () => {
    const far = (): Promise<number> =>
      page.evaluate(() => {
        window.loft.ahead.lookAhead();
        const { takeoff, landing } = window.loft.ahead.predicted!.after.full;
        return landing!.x - takeoff!.x;
      });
    const before = await far();
    await take('landing', 1, 0);
    await page.mouse.up();
    expect(await far()).to.be.closeTo(before + 1, 0.12);
    expect(await text())
      .to.include('height: 4 ')
      .and.match(/riseTime: 0\.4[5-9]/);
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.keyboard.down('Alt');
    await take('landing', 1, 0);
    await page.mouse.up();
    await page.keyboard.up('Alt');
    expect(await text()).to.match(/run: \{ speed: 8\.[5-9]\d* \}/);
    await page.getByRole('button', { name: 'Undo' }).click();
    await take('tap', 0, 0.5);
    await page.mouse.up();
    expect(await text()).to.match(/lowestHop: 1\.[78]/);
    await page.getByRole('button', { name: 'Undo' }).click();
    expect(await text()).to.equal(TEXT.replace('3.25', '4'));
  });

  it('gives everything back on Escape, and is moved by keys alone', async () => {
    const was = await text();
    await take('apex', 0.4, -1);
    expect(await text()).not.to.equal(was);
    await page.locator('[data-handle=apex]').focus();
    await page.keyboard.press('Escape');
    await page.mouse.up();
    expect(await text()).to.equal(was);
    await page.locator('[data-handle=apex]').focus();
    await page.keyboard.press('ArrowUp');
    expect(await text()).to.equal(was.replace('height: 4', 'height: 4.1'));
    await page.keyboard.press('ArrowDown');
    expect(await text()).to.equal(was);
    await page.evaluate(readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8'));
    const found = await page.evaluate<{ id: string; impact: string }[]>('axe.run().then(({ violations }) => violations.map(({ id, impact }) => ({ id, impact })))'); // prettier-ignore
    expect(found.filter(({ impact }) => impact === 'serious' || impact === 'critical')).to.deep.equal([]);
  });

  it('has the run-up, and with what is forgiven how late and how early a press may be', async () => {
    const was = await text();
    await take('runUp', 0.3, 0);
    await page.mouse.up();
    expect(await text()).to.match(/upIn: 0\.(19|2)\b/);
    await page.getByRole('button', { name: 'Undo' }).click();
    expect(await label('stop')).to.match(/^End of the stop.*stops in 0\.09 s$/);
    await take('stop', 0.3, 0);
    await page.mouse.up();
    expect(await text()).to.match(/stopIn: 0\.17\b/);
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.getByRole('button', { name: 'grace', exact: true }).click();
    await until('window.loft.ahead.handles.length === 7');
    expect(await label('coyote')).to.match(/off an edge.*80 ms late$/);
    await take('coyote', 0.3, 0);
    await page.mouse.up();
    expect(await text()).to.match(/coyote: 0\.12\b/);
    await page.getByRole('button', { name: 'Undo' }).click();
    expect(await label('buffer')).to.match(/before landing.*120 ms early$/);
    await take('buffer', 0, 0.5);
    await page.mouse.up();
    expect(await text()).to.match(/buffer: 0\.1[45]\b/);
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.getByRole('button', { name: 'grace', exact: true }).click();
    expect(await text()).to.equal(was);
  });

  it('stands in the real level: under a roof it goes no higher', async () => {
    const highest = await page.evaluate(() => {
      const { loft } = window;
      loft.session.hero.place(26, 10);
      loft.session.step(2, performance.now() / 1000);
      loft.ahead.lookAhead();
      return Math.min(...loft.ahead.predicted!.after.full.pieces.map(({ y }) => y[0]!));
    });
    expect(highest).to.be.closeTo(7 + 1.3, 1e-6);
  });

  it('is taken hold of by a finger on a tablet: the apex goes with it', async () => {
    const tablet = await loft.browser.newContext({ viewport: { width: 1024, height: 768 }, hasTouch: true, isMobile: true });
    const other = await tablet.newPage();
    await other.goto(page.url());
    const there = async (what: string): Promise<void> => {
      while (!(await other.evaluate(what))) await other.evaluate('new Promise((done) => requestAnimationFrame(done))');
    };
    await there('window.loft?.drawn.frames > 2 && window.loft.session.hero.support === "ground"');
    await other.evaluate(() => window.loft.overlay('arc', true));
    await there('window.loft.ahead.handles.some(({ name }) => name === "apex")');
    const box = (await other.locator('[data-handle=apex]').boundingBox())!;
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    const { scale, before } = await other.evaluate(() => ({ scale: window.loft.camera.scale, before: window.loft.document.motion.jumpHeight }));
    const touches = await tablet.newCDPSession(other);
    const finger = (type: 'touchStart' | 'touchMove' | 'touchEnd', up = 0): Promise<unknown> => touches.send('Input.dispatchTouchEvent', { type, touchPoints: type === 'touchEnd' ? [] : [{ x, y: y + up * scale, id: 1 }] });
    await finger('touchStart');
    await finger('touchMove', 0.4);
    await finger('touchMove', 1);
    await there(`window.loft.document.motion.jumpHeight < ${before} - 0.8`);
    await finger('touchEnd');
    expect(await other.evaluate(() => window.loft.ahead.isDragged)).to.equal(false);
    expect(await other.evaluate(() => window.loft.document.motion.jumpHeight)).to.be.closeTo(before - 1, 0.11);
    // All of it is within the screen, and nothing is scrolled aside.
    expect(await other.evaluate(() => [document.documentElement.scrollWidth <= innerWidth, scrollX, scrollY])).to.deep.equal([true, 0, 0]);
    await tablet.close();
  }); // prettier-ignore
});

/** A shaft to jump off its wall in. */
const SHAFT = `rows:
${Array.from({ length: 14 }, () => `  - '${'.'.repeat(12)}#${'.'.repeat(7)}'`).join('\n')}
  - '${'.'.repeat(9)}@..#${'.'.repeat(7)}'
  - '${'#'.repeat(20)}'
`;

describe('A wall jump that is predicted in the Loft', function () {
  let loft: OpenLoft;
  let page: Page;
  before(async () => {
    loft = await openLoft({
      'shaft.level.yaml': SHAFT,
      'brindle.tuning.yaml': `${TEXT}wall:\n  jump: { height: 2.5, out: 7.5 }   # off it\n`,
    });
    ({ page } = loft);
    await page.getByRole('button', { name: 'arc from here' }).click();
  });
  after(() => loft?.close());

  it('has its apex as a handle: its height, and sideways its speed out', async () => {
    await page.locator('main canvas').focus();
    await page.keyboard.down('ArrowRight');
    await page.keyboard.down('Space');
    await loft.until("window.loft.session.hero.support === 'wall'");
    await page.evaluate(() => {
      window.loft.session.steps.paused = true;
      window.loft.tell();
    });
    await page.keyboard.up('Space');
    await loft.until("window.loft.ahead.handles.some(({ name }) => name === 'offWall')");
    const handle = page.locator('[data-handle=offWall]');
    expect(await handle.getAttribute('aria-label')).to.match(/2\.5 high, out at 7\.5$/);
    await handle.focus();
    for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowUp');
    expect(await loft.text()).to.include('jump: { height: 3, out: 7.5 }   # off it');
    for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowLeft');
    const now = await loft.text();
    expect(now, now).to.match(/height: 3, out: (7\.[6-9]|8[.\d]*) \} {3}# off it/);
    await page.keyboard.up('ArrowRight');
  });
});

describe('A glide that is predicted in the Loft', function () {
  let loft: OpenLoft;
  before(async () => {
    loft = await openLoft({
      'shed.level.yaml': LEVEL,
      'brindle.tuning.yaml': `${TEXT}glide: { fallSpeed: 2.2, budget: 2 }   # slowly\n`,
    });
    await loft.page.getByRole('button', { name: 'arc from here' }).click();
  });
  after(() => loft?.close());

  it('has its way down as a handle: how fast it falls, by pointer and by keys, and it comes down so', async () => {
    const { page } = loft;
    await loft.until("window.loft.ahead.handles.some(({ name }) => name === 'glide')");
    const handle = page.locator('[data-handle=glide]');
    expect(await handle.getAttribute('aria-label')).to.equal('On the glide: how fast it goes down. glides down at 2.2');
    const landsAt = (): Promise<number> => page.evaluate(() => window.loft.ahead.predicted!.after.glide!.landing!.time - window.loft.ahead.predicted!.after.glide!.apex!.time);
    const before = await landsAt();
    await takeHandle(page, 'glide', 0, -0.5);
    await page.mouse.up();
    const faster = Number(/fallSpeed: ([\d.]+), budget: 2 \} {3}# slowly/.exec(await loft.text())![1]);
    expect(faster).to.be.within(2.5, 3.5);
    await loft.until('window.loft.ahead.predicted.after.glide.landing');
    expect(await landsAt()).to.be.below(before - 0.1);
    await handle.focus();
    for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowUp');
    expect(Number(/fallSpeed: ([\d.]+)/.exec(await loft.text())![1])).to.be.below(faster);
  });
}).timeout(60_000); // prettier-ignore

describe('The panel of the Loft', function () {
  let loft: OpenLoft;
  let page: Page;
  before(async () => {
    loft = await openLoft({
      'yard.level.yaml': readFileSync(join(DATA, 'yard.level.yaml'), 'utf8'),
      'brindle.tuning.yaml': readFileSync(join(DATA, 'brindle.tuning.yaml'), 'utf8'),
    });
    ({ page } = loft);
  });
  after(() => loft?.close());

  it('has fourteen numbers in sight, named in words, none cut off', async () => {
    const [sliders, names] = await page.evaluate(() => {
      const box = document.querySelector('.groups')!.getBoundingClientRect();
      const rows = [...document.querySelectorAll<HTMLElement>('.row[data-key]')].filter((row) => {
        const { top, bottom } = row.getBoundingClientRect();
        return top >= box.top && bottom <= box.bottom;
      });
      const all = [...document.querySelectorAll('.row .name')];
      return [
        rows.filter((row) => row.querySelector('input[type=range]')).length,
        all
          .filter((name) => name.scrollWidth > name.clientWidth + 1 || /^[a-z]+[A-Z.]/.test(name.textContent!))
          .map((name) => name.textContent),
      ];
    });
    expect(sliders).to.be.at.least(14);
    expect(names).to.deep.equal([]);
  });

  it('finds a number by any word, and tells what the touched one means and does', async () => {
    await page.getByRole('searchbox', { name: 'Find a number' }).fill('apex band');
    expect(await page.locator('.row[data-key]').evaluateAll((rows) => rows.map((row) => (row as HTMLElement).dataset.key))).to.deep.equal(['gravity.apexSpeed']); // prettier-ignore
    await page.getByRole('searchbox', { name: 'Find a number' }).fill('nothing of the kind');
    expect(await page.locator('.groups').innerText()).to.include('No number is called that');
    await page.getByRole('searchbox', { name: 'Find a number' }).fill('');
    await page.locator('[data-key="run.speed"] input[type=range]').focus();
    await page.keyboard.press('PageUp');
    const told = page.locator('.told');
    await told.getByText(/reach at run speed 5\.6\d? → /).waitFor();
    expect(await told.innerText()).to.include('Top speed').and.to.include('run.speed').and.to.include('top speed on the ground'); // prettier-ignore
  });
});

/** A step that a jump of 3.25 takes and one that it does not, each with its height in tiles. */
const STEPS = `rows:
${Array.from({ length: 4 }, () => `  - '${'.'.repeat(30)}'`).join('\n')}
  - '${'.'.repeat(24)}######'
  - '${'.'.repeat(24)}######'
  - '${'.'.repeat(24)}######'
  - '${'.'.repeat(14)}####......######'
  - '${'.'.repeat(14)}####......######'
  - '..@${'.'.repeat(11)}####......######'
  - '${'#'.repeat(30)}'
`;

describe('A level that is asked in the Loft', function () {
  let loft: OpenLoft;
  let page: Page;
  const until = (what: string): Promise<void> => loft.until(what);
  const words = (): Promise<string> => page.locator('p.what').innerText();
  /** Clicks on the place that holds a point, and says what is told of it. */
  async function click(x: number, y: number): Promise<void> {
    const [px, py] = await page.evaluate(([ax, ay]) => window.loft.camera.at(ax!, ay!), [x, y]);
    const box = (await page.locator('main canvas').boundingBox())!;
    await page.mouse.click(box.x + px, box.y + py);
  }

  before(async () => {
    loft = await openLoft({ 'steps.level.yaml': STEPS, 'brindle.tuning.yaml': TEXT });
    ({ page } = loft);
    await page.getByRole('button', { name: 'all', exact: true }).click();
    await page.getByRole('button', { name: 'where it gets to' }).click();
    await until('window.loft.asking.isFresh && window.loft.asking.isDone');
  });
  after(() => loft?.close());

  it('says of a place whether it is reached, with the way there, or by how much it is out of reach', async () => {
    expect(await words()).to.match(/^\d places reached from there, 1 out of reach, 0 not found/);
    await click(16, 7);
    await until('window.loft.asking.way !== undefined');
    expect(await words()).to.match(/^reached after \d\.\d+ s, each press [\d.]+ ms sooner or later/);
    expect(await page.evaluate(() => window.loft.asking.way!.path.length)).to.be.above(50);
    await click(27, 4);
    await until("document.querySelector('p.what').textContent.startsWith('out of reach')");
    expect(await words()).to.match(/^out of reach: \d+(\.\d+)? units short of/);
    expect(await page.evaluate(() => window.loft.asking.way)).to.equal(undefined);
  });

  it('shows how tight a jump of the way is that is clicked: its press against its hold, as the lab has it, anew with every number', async () => {
    await click(16, 7);
    await until('window.loft.asking.way !== undefined');
    // On the flight, away from every place: in the middle of its highest stretch.
    const [px, py] = await page.evaluate(() => {
      const { asking, camera } = window.loft;
      const path = document.createElementNS('http://www.w3.org/2000/svg', 'path');
      path.setAttribute('d', asking.way!.path);
      const points = Array.from({ length: 400 }, (_, i) => path.getPointAtLength((path.getTotalLength() * i) / 400)).map(({ x, y }) => [x + asking.way!.from[0], y + asking.way!.from[1]] as const);
      const top = points.reduce((best, point) => (asking.nearest(point[0], point[1], 0.6) === undefined && point[1] < best[1] ? point : best), [0, Infinity] as readonly [number, number]);
      return camera.at(top[0], top[1]);
    });
    const box = (await page.locator('main canvas').boundingBox())!;
    await page.mouse.click(box.x + px, box.y + py);
    const panel = page.getByRole('region', { name: 'Press against hold' });
    await until("typeof window.loft.asking.tight === 'object'");
    const said = await panel.getByRole('status').innerText();
    expect(said).to.match(/^jump after \d+\.\d\d s, held for \d+ ms: the press has (no end|\d+ ms, \d+\.\d frames at 60).*; held for \d+ ms at least$/);
    expect(await panel.locator('.lands').getAttribute('d')).to.have.length.above(100);
    await page.evaluate(() => window.loft.edit([{ key: 'jump.height', value: 4 }]));
    await until('window.loft.asking.isDone');
    await until(`document.querySelector('.tight p')?.textContent !== ${JSON.stringify(said)}`);
    await page.evaluate(() => window.loft.edit([{ key: 'jump.height', value: 3.25 }]));
    await until('window.loft.asking.isDone');
    await panel.getByRole('button', { name: 'Close' }).click();
    // And without a pointer: the tightest of the way.
    await page.getByRole('button', { name: 'how tight is the way?' }).press('Enter');
    await until("typeof window.loft.asking.tight === 'object'");
    await panel.getByRole('button', { name: 'Close' }).click();
  }); // prettier-ignore

  it('keeps itself true while a number moves: what was out of reach is reached by a higher jump', async () => {
    const isFresh = await page.evaluate(() => {
      window.loft.edit([{ key: 'jump.height', value: 6.5 }]);
      return window.loft.asking.isFresh;
    });
    expect(isFresh).to.equal(false);
    await until('window.loft.asking.isFresh && window.loft.asking.isDone');
    expect(await words()).to.match(/^reached after .*, 0 out of reach, 0 not found/);
    await page.evaluate(() => window.loft.edit([{ key: 'jump.height', value: 2 }]));
    await until('window.loft.asking.isFresh && window.loft.asking.isDone');
    expect(await words()).to.match(/^out of reach.*, 3 out of reach/);
    await page.getByRole('button', { name: 'where it gets to' }).click();
    expect(await page.locator('p.what').count()).to.equal(0);
  });
});
