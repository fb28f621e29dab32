import { ABILITY_GROUPS, compileTuning } from 'apperin';
import { readTuning } from 'apperin/files';
import { expect } from 'chai';
import { copyFileSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Browser, Page } from 'playwright-core';
import type { Loft } from '../../src/loft/model/loft.js';
import { UNSEEN } from '../../src/loft/model/shown.js';
import { openBrowser } from '../support/browser.js';
import { DATA, apperin, serveLoft } from '../support/cli.js';
import { fully } from '../support/share.js';

const require = createRequire(import.meta.url);
declare const window: { loft: Loft; changes: number[] };

const TEXT = `# Brindle, for the Loft.
jump:
    height:   3.25   # three tiles, and a little
    riseTime: .40


run:   {speed: 7.5}   # units/s
`;

describe('The Loft', function () {
  let browser: Browser;
  let page: Page;
  let folder = '';
  let address = '';
  let stop: () => Promise<number | null>;
  const said: string[] = [];
  const file = (): string => readFileSync(join(folder, 'brindle.tuning.yaml'), 'utf8');
  /** Two frames on. */
  const frames = (): Promise<unknown> => page.evaluate('new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))'); // prettier-ignore
  const slider = (key: string) => page.locator(`[data-key="${key}"] input[type=range]`).first();
  const shown = (): Promise<string> => page.locator('main canvas').evaluate((canvas: HTMLElement) => canvas.dataset.shown ?? ''); // prettier-ignore
  /** Looks at each frame; the test's own time is the limit. */
  const until = async (what: string, where = page): Promise<void> => {
    while (!(await where.evaluate(what))) await where.evaluate('new Promise((done) => requestAnimationFrame(done))');
  };

  /** Drags the thumb of a slider with the pointer. */
  async function drag(key: string, by: number): Promise<void> {
    const thumb = page.locator(`[data-key="${key}"] .thumb`).first();
    await thumb.scrollIntoViewIfNeeded();
    const box = (await thumb.boundingBox())!;
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + by / 2, y);
    await page.mouse.move(x + by, y);
    await page.mouse.up();
  }

  /** Nothing serious is found by a checker of accessibility. */
  async function check(where: string): Promise<void> {
    await page.evaluate(readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8'));
    const found = await page.evaluate<{ id: string; impact: string; nodes: string[] }[]>('axe.run().then(({ violations }) => violations.map(({ id, impact, nodes }) => ({ id, impact, nodes: nodes.slice(0, 3).map(({ html }) => html.slice(0, 200)) })))'); // prettier-ignore
    expect(
      found.filter(({ impact }) => impact === 'serious' || impact === 'critical'),
      where,
    ).to.deep.equal([]);
  }

  /** Saves what a button writes. */
  async function save(name: string, to: string): Promise<void> {
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name, exact: true }).click(),
    ]);
    await download.saveAs(join(folder, to));
  }

  before(async function () {
    folder = mkdtempSync(join(tmpdir(), 'apperin-page-'));
    writeFileSync(join(folder, 'brindle.tuning.yaml'), TEXT);
    writeFileSync(join(folder, 'weir.tuning.yaml'), 'jump: { height: 2, riseTime: 0.3 }\n');
    copyFileSync(join(DATA, 'saltreave.level.svg'), join(folder, 'saltreave.level.svg'));
    ({ address, stop } = await serveLoft(['saltreave.level.svg', 'brindle.tuning.yaml'], folder));
    browser = await openBrowser();
    page = await browser.newPage({ viewport: { width: 1280, height: 800 }, acceptDownloads: true });
    page.setDefaultTimeout(60_000);
    page.on('console', (message) => {
      if (message.type() === 'error' || message.type() === 'warning') said.push(message.text());
    });
    page.on('pageerror', (error) => said.push(error.message));
    await page.goto(address);
    await page.waitForSelector('main canvas');
    await until('window.loft.drawn.frames > 2');
  });
  afterEach(async function () {
    if (this.currentTest?.state === 'failed' && process.env.SHOTS)
      await page.screenshot({ path: `${process.env.SHOTS}/${this.currentTest.title.slice(0, 12)}.png` });
  });
  after(async () => {
    await browser?.close();
    expect(await stop?.()).to.equal(0);
    rmSync(folder, { recursive: true });
  });

  fully('is played by keyboard, paused, stepped, slowed down and gone back in', async () => {
    await page.locator('main canvas').click();
    const x = (): Promise<number> => page.evaluate(() => window.loft.session.hero.x);
    const start = await x();
    await page.keyboard.down('ArrowRight');
    await until(`window.loft.session.hero.x > ${start} + 2`);
    await page.keyboard.up('ArrowRight');
    await page.keyboard.press('Space', { delay: 80 });
    await until("window.loft.session.samples.some(({ vy }) => vy < -5)");
    await until('window.loft.session.stage.time > 1.5');
    await page.getByRole('button', { name: 'Pause' }).click();
    const ticks = (): Promise<number> => page.evaluate(() => window.loft.session.stage.ticks);
    const before = await ticks();
    await frames();
    expect(await ticks()).to.equal(before);
    await page.getByRole('button', { name: 'Tick on' }).click();
    expect(await ticks()).to.equal(before + 1);
    await page.getByRole('button', { name: 'Tick back' }).click();
    expect(await ticks()).to.equal(before);
    await page.getByRole('button', { name: '1 s back' }).click();
    expect(before - (await ticks())).to.be.closeTo(120, 1);
    await page.getByRole('button', { name: '1×' }).click();
    await page.getByRole('option', { name: '1/4×' }).click();
    expect(await page.evaluate(() => window.loft.session.steps.speed)).to.equal(0.25);
    await page.getByRole('button', { name: '1/4×' }).click();
    await page.getByRole('option', { name: '1×', exact: true }).click();
    await page.getByRole('button', { name: '120' }).click();
    await page.getByRole('option', { name: '60', exact: true }).click();
    expect(await page.evaluate(() => [window.loft.session.rate, window.loft.session.stage.ticks])).to.deep.equal([60, 0]);
    await page.getByRole('button', { name: 'Go on' }).click();
    await until('window.loft.session.stage.ticks > 3');
  }); // prettier-ignore

  it('shows a dragged number in the level by the second frame, and moves the running character with it', async () => {
    await page.evaluate(() => {
      const canvas = document.querySelector<HTMLElement>('main canvas')!;
      window.changes = [];
      let asked = -1;
      // From the first movement with the button down that has not been shown yet.
      for (const kind of ['pointerdown', 'pointermove'] as const)
        addEventListener(kind, ({ buttons }) => buttons === 1 && asked < 0 && (asked = window.loft.drawn.frames), true);
      new MutationObserver(() => {
        if (asked >= 0) window.changes.push(window.loft.drawn.frames - asked);
        asked = -1;
      }).observe(canvas, { attributes: true, attributeFilter: ['data-shown'] });
    });
    const before = await shown();
    await drag('jump.height', 24);
    await frames();
    const after = await shown();
    expect(after).not.to.equal(before);
    expect(after).to.match(/^jump\.height\|/);
    const changes = await page.evaluate(() => window.changes);
    expect(changes.length).to.be.at.least(1);
    for (const waited of changes) expect(waited).to.be.at.most(2);
    const height = await page.evaluate(() => window.loft.document.motion.full.jump.height!);
    expect(height).to.be.above(3.25);
    // The running character has it at once, and a scene before and after is drawn.
    expect(await page.evaluate(() => window.loft.session.hero.motion.full.jump.height)).to.equal(height);
    expect(await page.evaluate(() => window.loft.shown!.ways.length)).to.equal(2);
    await page.getByRole('button', { name: 'Undo' }).click();
    expect(await page.evaluate(() => window.loft.document.text)).to.equal(TEXT);
    await page.getByRole('button', { name: 'Redo' }).click();
    expect(await page.evaluate(() => window.loft.document.motion.full.jump.height)).to.equal(height);
  });

  fully('saves with comments, order and style, follows the file, and shows both where both have changed', async () => {
    const height = await page.evaluate(() => window.loft.document.motion.full.jump.height);
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await until('!window.loft.document.dirty');
    expect(file()).to.equal(TEXT.replace('3.25', `${height}`));
    // A text editor writes: the page follows, the running character too.
    writeFileSync(join(folder, 'brindle.tuning.yaml'), TEXT.replace('7.5', '9'));
    await until('window.loft.session.hero.motion.ground.speed === 9');
    expect(await page.evaluate(() => window.loft.document.motion.full.jump.height)).to.equal(3.25);
    // Both have changed: nothing is overwritten, both values are shown.
    await slider('run.speed').focus();
    await page.keyboard.press('ArrowRight');
    const mine = await page.evaluate(() => window.loft.document.motion.ground.speed);
    writeFileSync(join(folder, 'brindle.tuning.yaml'), TEXT.replace('7.5', '5'));
    const dialog = page.getByRole('alertdialog');
    await dialog.waitFor();
    expect(await dialog.getByRole('row', { name: /run\.speed/ }).allInnerTexts()).to.deep.equal([
      `run.speed\t5\t${mine}`,
    ]);
    expect(file()).to.equal(TEXT.replace('7.5', '5'));
    await check('the decision');
    await dialog.getByRole('button', { name: 'Keep what is here' }).click();
    expect(await page.evaluate(() => window.loft.document.motion.ground.speed)).to.equal(mine);
    expect(file()).to.equal(TEXT.replace('7.5', '5'));
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await until('!window.loft.document.dirty');
    expect(file()).to.equal(TEXT.replace('7.5', String(mine)));
    // Again, and the other way.
    await page.keyboard.press('Escape');
    await slider('run.speed').focus();
    await page.keyboard.press('ArrowLeft');
    writeFileSync(join(folder, 'brindle.tuning.yaml'), TEXT);
    await dialog.waitFor();
    await dialog.getByRole('button', { name: 'Take what is on disk' }).click();
    expect(await page.evaluate(() => window.loft.document.text)).to.equal(TEXT);
  });

  fully('follows what a tuning comes from, and keeps what is edited here', async () => {
    writeFileSync(join(folder, 'child.tuning.yaml'), 'from: base.tuning.yaml\nrun: { speed: 5 }\n');
    writeFileSync(join(folder, 'base.tuning.yaml'), 'jump: { height: 2 }\n');
    const child = await serveLoft(['child.tuning.yaml'], folder);
    const other = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await other.goto(child.address);
    await until('window.loft?.session?.hero.motion.full.jump.height === 2', other);
    await other.locator('[data-key="run.speed"] input[type=range]').first().focus();
    await other.keyboard.press('ArrowRight');
    const mine = await other.evaluate(() => window.loft.document.motion.ground.speed);
    expect(mine).to.be.above(5);
    writeFileSync(join(folder, 'base.tuning.yaml'), 'jump: { height: 3 }\n');
    await until('window.loft.session.hero.motion.full.jump.height === 3', other);
    expect(await other.evaluate(() => window.loft.document.motion.ground.speed)).to.equal(mine);
    expect(await other.evaluate(() => window.loft.document.changes().map(({ key }) => key))).to.deep.equal(['run.speed', 'run.air.speed']); // prettier-ignore
    await other.close();
    expect(await child.stop()).to.equal(0);
  });

  fully(
    'opens what has numbers of a game\u2019s own abilities, says what it leaves out, and keeps them in the file',
    async () => {
      const text = 'jump: { height: 2.5, riseTime: 0.4 }\nown: { lunge: { speed: 20 } } # the game\u2019s\n';
      writeFileSync(join(folder, 'brisk.tuning.yaml'), text);
      const served = await serveLoft(['brisk.tuning.yaml'], folder);
      const other = await browser.newPage();
      await other.goto(served.address);
      await other.getByText('Played without lunge: abilities of a game are not known here.').waitFor();
      await until('window.loft.session.stage.time > 0.2', other);
      expect(await other.evaluate('window.loft.document.text')).to.equal(text);
      expect(await other.evaluate('window.loft.document.motion.full.own')).to.deep.equal({});
      await other.close();
      expect(await served.stop()).to.equal(0);
    },
  );

  fully('plays a game\u2019s own abilities from their module: numbers to drag, keys, takes, and what changes in it', async () => {
    const module = (speed: number): string => `import { ability } from 'apperin';
export const lunge = ability('lunge', {
  own: { speed: { value: ${speed}, unit: 'speed' }, lasts: { value: 0.15, least: 0.02, most: 1, unit: 'time' } },
  timers: ['active'],
  actions: ['lunge'],
  act(c, own, s) {
    if (c.take('lunge')) s.active = own.lasts;
    if (!s.active) return;
    c.claim();
    c.gravity = 0;
    c.vx = c.facing * own.speed;
    c.vy = 0;
  },
});
`;
    const own = join(folder, 'own');
    mkdirSync(join(own, 'node_modules'), { recursive: true });
    symlinkSync(fileURLToPath(new URL('../../packages/apperin', import.meta.url)), join(own, 'node_modules/apperin'));
    writeFileSync(join(own, 'package.json'), '{ "type": "module" }');
    writeFileSync(join(own, 'lunge.js'), module(18));
    writeFileSync(join(own, 'brisk.tuning.yaml'), 'jump: { height: 2.5, riseTime: 0.4 }\nown: { lunge: { lasts: 0.2 } } # ours\n');
    writeFileSync(join(own, 'flat.level.yaml'), `rows: ["@${'.'.repeat(60)}", "${'#'.repeat(61)}"]\n`);
    const served = await serveLoft(['brisk.tuning.yaml', 'flat.level.yaml', '--abilities', 'lunge.js'], own);
    const wrong: string[] = [];
    const other = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    other.on('pageerror', (error) => wrong.push(error.message));
    other.on('console', (message) => void (message.type() === 'error' && wrong.push(message.text())));
    await other.goto(served.address);
    await until('window.loft?.session && window.loft.drawn.frames > 2', other);
    expect(await other.evaluate('window.loft.document.motion.full.own')).to.deep.equal({ lunge: { speed: 18, lasts: 0.2 } });
    expect(await other.getByText('Played without').count()).to.equal(0);
    // Its key, shown in its group; with it the character goes at its speed.
    await other.getByText('lunge: K').waitFor();
    await other.locator('main canvas').click();
    await other.keyboard.down('KeyK');
    await until('window.loft.session.hero.vx === 18', other);
    await other.keyboard.up('KeyK');
    await until('window.loft.session.hero.vx === 0', other);
    // A number of it is dragged: the take that was played is played again with it, and the file has it when it is saved.
    await other.evaluate(() => {
      const { loft } = window;
      loft.session.takeRows([{ time: 0.1, action: 'lunge', value: 1 }], 120, 1.2);
      loft.tell();
    });
    const end = (): Promise<number> => other.evaluate(() => window.loft.session.live!.trail.at(-1)!.x);
    const before = await end();
    await other.locator('[data-key="own.lunge.speed"] input:not([type=range])').first().fill('30');
    await other.keyboard.press('Tab');
    await until('window.loft.document.motion.full.own.lunge.speed === 30', other);
    expect((await end()) - before).to.be.above(2);
    expect(await other.evaluate(() => window.loft.document.changes())).to.deep.equal([{ key: 'own.lunge.speed', was: 18, is: 30 }]);
    await other.getByRole('button', { name: 'Save', exact: true }).click();
    await until('!window.loft.document.dirty', other);
    expect(readFileSync(join(own, 'brisk.tuning.yaml'), 'utf8')).to.equal('jump: { height: 2.5, riseTime: 0.4 }\nown: { lunge: { lasts: 0.2, speed: 30 } } # ours\n');
    await other.evaluate(() => window.loft.edit([{ key: 'own.lunge.lasts', value: 4 }]));
    expect(await other.evaluate('window.loft.document.wrong')).to.deep.equal({ key: 'own.lunge.lasts', message: 'line 2: own.lunge.lasts is 4; it must be at least 0.02 and at most 1' });
    await other.evaluate(() => window.loft.undo());
    // The module is saved anew: begun anew with it, and the number of the file stays.
    writeFileSync(join(own, 'lunge.js'), module(18).replaceAll('own.speed', '(own.speed + 5)'));
    await until("/lunge\\.js has changed: begun anew/.test(document.body.innerText)", other);
    await other.keyboard.down('KeyK');
    await until('window.loft.session.hero.vx === 35', other);
    await other.keyboard.up('KeyK');
    expect(wrong).to.deep.equal([]);
    await other.close();
    expect(await served.stop()).to.equal(0);
  }); // prettier-ignore

  fully('plays in a level that has no start, where its first spawn is', async () => {
    writeFileSync(
      join(folder, 'attic.level.yaml'),
      'rows: ["........", "########"]\nspawns: { door: [5, 1], hatch: [2, 1] }\n',
    );
    const attic = await serveLoft(['attic.level.yaml'], folder);
    const other = await browser.newPage();
    await other.goto(attic.address);
    await until('window.loft?.session?.stage.time > 0.1', other);
    expect(await other.evaluate(() => [window.loft.session.hero.x, window.loft.session.hero.y])).to.deep.equal([5, 1]);
    await other.close();
    expect(await attic.stop()).to.equal(0);
  });

  fully('is played by fingers on a screen that is touched', async () => {
    const tablet = await browser.newContext({ viewport: { width: 1024, height: 768 }, hasTouch: true, isMobile: true });
    const other = await tablet.newPage();
    await other.goto(address);
    await until('window.loft?.session?.stage.time > 0.1', other);
    const place = async (name: string): Promise<{ x: number; y: number }> => {
      const box = (await other.locator(`[data-finger="${name}"]`).boundingBox())!;
      return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
    };
    const touches = await tablet.newCDPSession(other);
    const finger = (type: string, ...points: { x: number; y: number; id: number }[]): Promise<unknown> => touches.send('Input.dispatchTouchEvent', { type: type as 'touchStart', touchPoints: points });
    const [stick, jump] = [await place('stick'), await place('jump')];
    const { x } = await other.evaluate(() => ({ x: window.loft.session.hero.x }));
    await finger('touchStart', { ...stick, id: 1 });
    await finger('touchMove', { x: stick.x + 60, y: stick.y, id: 1 });
    await until(`window.loft.session.hero.x > ${x} + 1`, other);
    await finger('touchStart', { x: stick.x + 60, y: stick.y, id: 1 }, { ...jump, id: 2 });
    await until('window.loft.session.hero.vy < -3', other);
    await finger('touchEnd');
    await until('window.loft.session.hero.vx === 0', other);
    await tablet.close();
  }); // prettier-ignore

  fully('follows a level that changes on disk: a take from the start is played in it', async () => {
    const level = (rows: readonly string[]): void => writeFileSync(join(folder, 'lane.level.yaml'), `rows:\n${rows.map((row) => `  - "${row}"\n`).join('')}`);
    const open = ['................', '@...............', '################'];
    level(open);
    const lane = await serveLoft(['lane.level.yaml', 'brindle.tuning.yaml'], folder);
    const other = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await other.goto(lane.address);
    await until('window.loft?.session', other);
    const ends = (): Promise<number[]> => other.evaluate(() => [...window.loft.session.ghosts, window.loft.session.live!].map(({ trail }) => trail.at(-1)!.x));
    await other.evaluate(() => {
      const { loft } = window;
      loft.session.takeRows([{ time: 0.1, action: 'right', value: 1 }], 120, 1.2);
      loft.edit([{ key: 'run.speed', value: 4 }]);
    });
    const [before, slower] = await ends();
    expect([before! > 7, slower! < 6]).to.deep.equal([true, true]);
    // Something is wrong: the last good one stays, and it is said what is.
    writeFileSync(join(folder, 'lane.level.yaml'), 'rows: 5\n');
    await until('/lane\\.level\\.yaml:1:7: rows is 5/.test(document.body.innerText)', other);
    expect(await ends()).to.deep.equal([before, slower]);
    level([open[0]!, '@.....#.........', open[2]!]);
    await until('/has changed: begun anew/.test(document.body.innerText)', other);
    const after = await ends();
    expect(after[0]).to.be.closeTo(6 - 0.35, 1e-6);
    expect(after[1]).to.equal(slower);
    await other.close();
    expect(await lane.stop()).to.equal(0);
  }); // prettier-ignore

  fully('keeps the last good tuning while a file or a number is wrong, and says what is', async () => {
    writeFileSync(join(folder, 'brindle.tuning.yaml'), TEXT.replace('speed', 'sped'));
    await page.getByRole('alert').first().waitFor();
    expect(await page.getByRole('alert').first().innerText()).to.match(/line 7: .*run\.sped.*The last good tuning stays/s);
    expect(await page.evaluate(() => window.loft.session.hero.motion.ground.speed)).to.equal(7.5);
    writeFileSync(join(folder, 'brindle.tuning.yaml'), TEXT);
    await until('window.loft.document.wrong === undefined');
    // What is no YAML at all has no number to change.
    const broken = TEXT.replace('}', '');
    writeFileSync(join(folder, 'brindle.tuning.yaml'), broken);
    await page.getByText('The last good tuning stays').waitFor();
    await slider('run.speed').focus();
    await page.keyboard.press('ArrowRight');
    expect(await page.evaluate(() => window.loft.document.text)).to.equal(broken);
    expect(await page.getByRole('alert').first().innerText()).to.match(/line \d+: .*The last good tuning stays/s);
    writeFileSync(join(folder, 'brindle.tuning.yaml'), TEXT);
    await until('window.loft.document.wrong === undefined');
    // What is wrong at once stays to be mended or undone: the file is not taken for it.
    const wrong = await page.evaluate(() => {
      const { loft } = window;
      loft.edit([{ key: 'jump.lowestHop', value: 9 }]);
      const { text, dirty } = loft.document;
      const message = loft.document.wrong?.message ?? '';
      loft.undo();
      return [text.includes('lowestHop: 9'), dirty, message, loft.document.text, loft.document.wrong?.message ?? ''];
    });
    expect(wrong[2]).to.match(/jump\.lowestHop is 9/);
    expect(wrong).to.deep.equal([true, true, wrong[2], TEXT, '']);
    // A contradiction, where it arises, with its values.
    await page.getByRole('button', { name: 'Say it by: lowest hop' }).click();
    const field = page.locator('[data-key="jump.lowestHop"] input:not([type=range])');
    await field.fill('9');
    await field.press('Enter');
    const alert = page.locator('[data-key="jump.lowestHop"] [role=alert]');
    await alert.waitFor();
    expect(await alert.innerText()).to.match(/jump\.lowestHop is 9; it must be .* at most 3\.25/);
    expect(await page.evaluate(() => window.loft.session.hero.motion.full.jump.lowestHop)).to.equal(1.25);
    await page.getByRole('button', { name: 'Undo' }).click();
    await alert.waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Undo' }).click();
    expect(await page.evaluate(() => window.loft.document.text)).to.equal(TEXT);
  }); // prettier-ignore

  fully('says the jump as goals or as constants, each showing the other', async () => {
    const amounts = (): Promise<string> => page.getByLabel('What that amounts to').innerText();
    const before = await page.evaluate(() => [window.loft.document.motion.launch, window.loft.document.motion.riseTime]);
    expect(await amounts()).to.match(/gravity\s+[\d.]+/).and.to.match(/launch speed\s+[\d.]+/);
    for (const [from, to] of [['height and rise time', 'gravity and launch speed'], ['gravity and launch speed', 'height and time in the air'], ['height and time in the air', 'height and reach'], ['height and reach', 'height and rise time']]) {
      await page.getByRole('button', { name: new RegExp(from!) }).click();
      await page.getByRole('option', { name: to!, exact: true }).click();
      const now = await page.evaluate(() => [window.loft.document.motion.launch, window.loft.document.motion.riseTime]);
      now.forEach((value, i) => expect(value, `${to}`).to.be.closeTo(before[i]!, 1e-6 * before[i]!));
    }
    expect(await page.locator('[data-key="jump.baseGravity"]').count()).to.equal(0);
    // What did I change, and back.
    await slider('run.speed').focus();
    await page.keyboard.press('ArrowRight');
    await page.getByRole('tab', { name: 'What did I change' }).click();
    expect(await page.getByRole('row', { name: /^run\.speed/ }).innerText()).to.match(/^run\.speed\t7\.5\t7\.[0-9]+\t/);
    await page.getByRole('button', { name: 'All as in the file' }).click();
    expect(await page.evaluate(() => window.loft.document.changes())).to.deep.equal([]);
    expect(await page.evaluate(() => [window.loft.document.text, window.loft.document.dirty])).to.deep.equal([TEXT, false]);
  }); // prettier-ignore

  fully('shows every number: dragged, each changes the level or the curves', async function () {
    this.timeout(600_000);
    const keys = new Set<string>();
    const silent: string[] = [];
    const text = (): Promise<string> => page.evaluate(() => window.loft.document.text);
    const backTo = (wanted: string): Promise<void> =>
      page.evaluate((text) => {
        while (window.loft.document.text !== text && window.loft.document.canUndo) window.loft.undo();
      }, wanted);
    const tried = async (key: string): Promise<void> => {
      keys.add(key);
      const was = await text();
      await page.locator(`[data-key="${key}"] .thumb`).first().scrollIntoViewIfNeeded();
      await slider(key).focus();
      await frames();
      const before = await shown();
      // To the left where the right end is near, or something forbids more.
      for (const by of [26, -60]) {
        await drag(key, by);
        await frames();
        if ((await shown()) !== before) break;
      }
      expect(await text(), key).not.to.equal(was);
      if ((await shown()) === before) silent.push(key);
      await backTo(was);
      expect(await text()).to.equal(was);
    };
    const rows = (within: string): Promise<string[]> =>
      page
        .locator(`${within} [data-key]`)
        .evaluateAll((found) =>
          found
            .filter((one) => one.querySelector('input[type=range]'))
            .map((one) => (one as HTMLElement).dataset.key!),
        );
    const start = await text();
    await page.getByRole('button', { name: 'Give a number: fall grows to' }).click(); // prettier-ignore
    for (const key of await rows('.groups')) await tried(key);
    for (const [key, name] of [['jump.lowestHop', 'lowest hop'], ['gravity.released', 'let go, gravity'], ['gravity.cutTo', 'let go, speed left']] as const) {
      const without = await text();
      await page.getByRole('button', { name: `Say it by: ${name}` }).click();
      await tried(key);
      await backTo(without);
    }
    for (const [pair, names] of [['gravity and launch speed', ['baseGravity', 'launchSpeed']], ['height and time in the air', ['airTime']], ['height and reach', ['reach']]] as const) {
      const without = await text();
      await page.locator('.pair button').click();
      await page.getByRole('option', { name: pair, exact: true }).click();
      for (const name of names) await tried(`jump.${name}`);
      await backTo(without);
    }
    // Each ability by itself: some change what others do.
    for (const group of ABILITY_GROUPS) {
      const without = await text();
      await page.locator(`#group-${group} > .react-aria-Switch`).click();
      for (const key of await rows(`#group-${group}`)) await tried(key);
      await backTo(without);
    }
    await backTo(start);
    expect(silent.filter((key) => !(key in UNSEEN))).to.deep.equal([]);
    expect(keys.size).to.be.at.least(70);
    this.test!.title += ` (${keys.size} numbers; ${silent.length} show nothing by themselves, each with its reason)`;
    expect(await text()).to.equal(TEXT);
  }); // prettier-ignore

  fully('goes back ten seconds and plays the same keys with another gravity: both trails stay, and the table shows the difference', async () => {
    await page.getByRole('button', { name: 'Begin anew' }).click();
    await page.locator('main canvas').click();
    await page.keyboard.down('ArrowRight');
    await until('window.loft.session.stage.time > 0.8');
    await page.keyboard.down('Space');
    await until('window.loft.session.stage.time > 2');
    await page.keyboard.up('Space');
    await page.keyboard.up('ArrowRight');
    await page.getByRole('tab', { name: 'Take and ghosts' }).click();
    await page.getByRole('button', { name: 'Back 10 s, and take them' }).click();
    const ends = (): Promise<string[]> => page.locator('[data-ghost]').allInnerTexts();
    // Beside the strip of time, what differs is a table too.
    await page.getByRole('tab', { name: 'Time' }).click();
    expect(await page.getByRole('region', { name: 'What differs' }).locator('th[scope=row]').first().innerText()).to.equal('ends at, across');
    await page.getByRole('tab', { name: 'Take and ghosts' }).click();
    expect(await ends()).to.have.length(2);
    // The same keys, the same tuning: the very way that was played.
    const alike = await page.evaluate(() => {
      const { ghosts, live } = window.loft.session;
      return [ghosts[0]!.trail.length, live!.trail.length, JSON.stringify(ghosts[0]!.trail.at(-1)) === JSON.stringify(live!.trail.at(-1))];
    });
    expect(alike[0]).to.be.above(100);
    expect(alike).to.deep.equal([alike[0], alike[0], true]);
    // From the start of the level it is a recording like any other.
    await save('Input', 'back.input.csv');
    await save('Trace', 'back.trace.csv');
    const seconds = await page.evaluate(() => window.loft.session.take!.to);
    const again = await apperin(['run', 'saltreave.level.svg', 'brindle.tuning.yaml', 'back.input.csv', '--seconds', String(seconds), '--trace', 'again.trace.csv'], folder);
    expect(again.status, again.err).to.equal(0);
    const lines = (name: string): string[] => readFileSync(join(folder, name), 'utf8').trim().split(/\r?\n/);
    expect(lines('again.trace.csv')).to.deep.equal(lines('back.trace.csv'));
    const end = await page.evaluate(() => window.loft.session.ghosts[0]!.trail.at(-1)!);
    expect(lines('again.trace.csv').at(-1)!.split(',').slice(2, 4).map(Number)).to.deep.equal([end.x, end.y]);
    await slider('gravity.falling').focus();
    for (let i = 0; i < 20; i++) await page.keyboard.press('ArrowRight');
    const apart = await page.evaluate(() => {
      const { ghosts, live } = window.loft.session;
      return ghosts[0]!.trail.some(({ y }, i) => Math.abs(y - live!.trail[i]!.y) > 0.1);
    });
    expect(apart).to.equal(true);
    await page.getByRole('tab', { name: 'Differences' }).click();
    const row = page.getByRole('row', { name: /^gravity\.falling/ });
    expect((await row.innerText()).split('\t')).to.have.length(3);
    expect(await page.getByRole('row', { name: /^time in the air/ }).count()).to.equal(1);
    // Four ghosts and no more; the character plays the take itself, and pauses at its end.
    await page.getByRole('tab', { name: 'Take and ghosts' }).click();
    for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Keep this tuning as a ghost' }).click();
    expect(await page.getByRole('button', { name: 'Keep this tuning as a ghost' }).isDisabled()).to.equal(true);
    await page.getByRole('button', { name: 'Play the take' }).click();
    await until('window.loft.session.steps.paused && window.loft.session.stage.time >= window.loft.session.take.to - 1e-6');
    const same = await page.evaluate(() => {
      const { hero, live } = window.loft.session;
      const end = live!.trail.at(-1)!;
      return [hero.x === end.x, hero.y === end.y];
    });
    expect(same).to.deep.equal([true, true]);
    await page.getByRole('button', { name: 'Clear' }).click();
    await page.evaluate(() => {
      while (window.loft.document.dirty) window.loft.undo();
    });
  }); // prettier-ignore

  fully('takes a stretch from the middle of play, with what was held and tuned before it', async () => {
    await page.getByRole('button', { name: 'Begin anew' }).click();
    const goOn = page.getByRole('button', { name: 'Go on' });
    if (await goOn.isVisible()) await goOn.click();
    await slider('gravity.falling').focus();
    for (const key of ['ArrowRight', 'ArrowLeft', 'ArrowRight']) await page.keyboard.press(key);
    await page.locator('main canvas').click();
    await page.keyboard.down('ArrowRight');
    const time = await page.evaluate(() => window.loft.session.stage.time);
    await until(`window.loft.session.stage.time > ${time + 0.7}`);
    // In the page's own time: a press that comes to it late acts at a tick, and is noted to the microsecond.
    await page.evaluate(() => void document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { code: 'Space', bubbles: true })));
    await until(`window.loft.session.stage.time > ${time + 1.5}`);
    const taken = await page.evaluate(() => {
      const { session } = window.loft;
      const take = session.takeLast(1)!;
      window.loft.tell();
      const [ghost] = session.ghosts;
      return { whole: take.whole, keys: take.rows.map(({ action }) => action), ways: [ghost!.trail, session.live!.trail].map((trail) => trail.map(({ x, y }) => [x, y])) };
    });
    await page.evaluate(() => void document.activeElement!.dispatchEvent(new KeyboardEvent('keyup', { code: 'Space', bubbles: true })));
    await page.keyboard.up('ArrowRight');
    // To the right is held since before the stretch: only the jump is pressed in it.
    expect([taken.whole, taken.keys]).to.deep.equal([false, ['jump']]);
    expect(taken.ways[1]).to.deep.equal(taken.ways[0]);
    expect(Math.abs(taken.ways[0]!.at(-1)![0]! - taken.ways[0]![0]![0]!)).to.be.above(3);
    // The character goes the same way again, also after the level was begun anew.
    await page.getByRole('button', { name: 'Begin anew' }).click();
    await page.getByRole('tab', { name: 'Take and ghosts' }).click();
    await page.getByRole('button', { name: 'Play the take' }).click();
    await until('window.loft.session.steps.paused && window.loft.session.stage.time >= window.loft.session.take.to - 1e-6');
    expect(await page.evaluate(() => [window.loft.session.hero.x, window.loft.session.hero.y])).to.deep.equal(taken.ways[0]!.at(-1));
    await page.getByRole('button', { name: 'Clear' }).click();
    await page.evaluate(() => {
      while (window.loft.document.dirty) window.loft.undo();
    });
  }); // prettier-ignore

  fully('plays a long take on from frame to frame while a number is dragged, and ends where `apperin run` does', async () => {
    const seen = await page.evaluate(async () => {
      const { loft } = window;
      const { session } = loft;
      session.takeRows([0, 1, 2, 3, 4].flatMap((i) => [{ time: 12 * i, action: 'right', value: 1 }, { time: 12 * i + 0.8, action: 'jump', value: 1 }, { time: 12 * i + 5, action: 'jump', value: 0 }, { time: 12 * i + 5, action: 'right', value: 0 }, { time: 12 * i + 6, action: 'left', value: 1 }, { time: 12 * i + 9, action: 'left', value: 0 }]), 240, 60);
      const before = session.live!;
      const end = before.trail.at(-1)!.x;
      let changes = 0;
      let waited = 0;
      for (const value of [1.3, 1.9, 2.4, 3.1]) {
        const { live } = session;
        loft.edit([{ key: 'run.speed', value: value * 3 }], 'long');
        if (session.live === live) waited++;
        await new Promise((done) => requestAnimationFrame(done));
        if (session.live !== live) changes++;
      }
      const whole = session.live === before && before.trail.length === 14401 && before.trail.at(-1)!.x === end;
      while (session.live!.motion !== loft.document.motion) await new Promise((done) => requestAnimationFrame(done));
      const trace = session.traceOfTake()!;
      const { trail } = session.live!;
      return { waited, changes, whole, lengths: [trail.length, trace.rows.length], same: trail.every(({ x, y }, i) => x === trace.rows[i]!.x && y === trace.rows[i]!.y) };
    });
    expect(seen).to.deep.equal({ waited: 4, changes: 0, whole: true, lengths: [14401, 14401], same: true });
    await page.evaluate(() => {
      window.loft.session.clearGhosts();
      while (window.loft.document.dirty) window.loft.undo();
      window.loft.tell();
    });
  }); // prettier-ignore

  fully('records from the start: saved, `apperin run` gives the same trace to the bit', async () => {
    await page.getByRole('button', { name: 'Go on' }).click();
    await page.getByRole('button', { name: 'Record from the start' }).click();
    await page.locator('main canvas').click();
    await page.keyboard.down('ArrowRight');
    await until('window.loft.session.stage.time > 0.7');
    await page.keyboard.press('Space', { delay: 120 });
    await until('window.loft.session.stage.time > 2.2');
    await page.keyboard.up('ArrowRight');
    await page.getByRole('button', { name: 'End the recording' }).click();
    await save('Input', 'here.input.csv');
    await save('Trace', 'here.trace.csv');
    const played = await page.evaluate(() => {
      const { take, samples } = window.loft.session;
      return { seconds: take!.to, ways: samples.map(({ time, x, y }) => [Math.round(time * 1e6), x, y]) };
    });
    const { status, err } = await apperin(['run', 'saltreave.level.svg', 'brindle.tuning.yaml', 'here.input.csv', '--seconds', String(played.seconds), '--trace', 'run.trace.csv'], folder);
    expect(status, err).to.equal(0);
    expect(readFileSync(join(folder, 'run.trace.csv'), 'utf8')).to.equal(readFileSync(join(folder, 'here.trace.csv'), 'utf8'));
    // And it is what was played here.
    const rows = readFileSync(join(folder, 'run.trace.csv'), 'utf8').trim().split(/\r?\n/).slice(1).map((line) => line.split(','));
    expect(rows.length).to.be.at.least(100);
    const ways = new Map(played.ways.map(([time, x, y]) => [time, [x, y]]));
    for (const row of rows) expect([Number(row[2]), Number(row[3])], `at ${row[1]} s`).to.deep.equal(ways.get(Math.round(Number(row[1]) * 1e6)));
    await page.getByRole('button', { name: 'Clear' }).click();
  }); // prettier-ignore

  fully('opens files that are chosen, and says what is wrong with one', async () => {
    await page.getByRole('tab', { name: 'Files' }).click();
    const choose = page.locator('input[type=file]');
    await choose.setInputFiles(join(folder, 'weir.tuning.yaml'));
    await until("window.loft.document.name === 'weir.tuning.yaml'");
    const wanted = compileTuning(readTuning(readFileSync(join(folder, 'weir.tuning.yaml'), 'utf8')).tuning);
    expect(await page.evaluate(() => window.loft.session.hero.motion.launch)).to.equal(wanted.launch);
    writeFileSync(join(folder, 'bad.level.yaml'), 'rows:\n  - "@"\n  - 7\n');
    await choose.setInputFiles(join(folder, 'bad.level.yaml'));
    await until("window.loft.say.includes('bad.level.yaml:3')");
    expect(await page.locator('.say').innerText()).to.include('bad.level.yaml:3');
    // What is code is not run.
    writeFileSync(join(folder, 'dash.js'), 'document.title = "run"');
    await choose.setInputFiles(join(folder, 'dash.js'));
    await until("window.loft.say.endsWith('--abilities dash.js')");
    expect(await page.title()).not.to.equal('run');
    await choose.setInputFiles(join(DATA, 'leap.input.csv'));
    await until('window.loft.session.take !== undefined');
    await page.getByRole('tab', { name: 'Take and ghosts' }).click();
    await page.getByRole('button', { name: 'Clear' }).click();
    await page.evaluate(() => window.loft.choose('brindle.tuning.yaml'));
    await until("window.loft.document.name === 'brindle.tuning.yaml'");
  });

  fully('is found in order by a checker of accessibility: every panel, in both themes, and narrow', async function () {
    for (const theme of ['light', 'dark']) {
      await page.evaluate((next) => window.loft.setTheme(next as 'light'), theme);
      for (const tab of ['Time', 'Take and ghosts', 'Differences', 'What did I change', 'Files']) {
        await page.getByRole('tab', { name: tab }).click();
        await frames();
        await check(`${tab}, ${theme}`);
      }
    }
    await page.evaluate(() => window.loft.setTheme('light'));
    for (const [width, height] of [
      [1024, 768],
      [1920, 1080],
    ] as const) {
      await page.setViewportSize({ width, height });
      await frames();
      const over = await page.evaluate('document.documentElement.scrollWidth - innerWidth');
      expect(over, `${width} wide`).to.be.at.most(0);
      expect((await page.locator('main canvas').boundingBox())!.height).to.be.above(300);
    }
    await page.setViewportSize({ width: 1280, height: 800 });
  });

  fully('is used with the keyboard alone: a number is found, changed, undone and saved', async () => {
    await page.getByRole('tab', { name: 'Time' }).click();
    await page.locator('main canvas').focus();
    const focused = (): Promise<string> => page.evaluate("document.activeElement.getAttribute('aria-label') ?? document.activeElement.textContent ?? ''"); // prettier-ignore
    for (let i = 0; i < 120 && (await focused()) !== 'Top speed (run.speed)'; i++) await page.keyboard.press('Tab');
    expect(await focused()).to.equal('Top speed (run.speed)');
    const x = await page.evaluate(() => window.loft.session.hero.x);
    await page.keyboard.press('ArrowRight');
    expect(await page.evaluate(() => window.loft.document.motion.ground.speed)).to.be.above(7.5);
    // The arrow was for the slider, not for the character.
    await frames();
    expect(await page.evaluate(() => window.loft.session.hero.x)).to.equal(x);
    for (let i = 0; i < 120 && (await focused()) !== 'Undo'; i++) await page.keyboard.press('Shift+Tab');
    await page.keyboard.press('Enter');
    expect(await page.evaluate(() => window.loft.document.text)).to.equal(TEXT);
  });

  it('counts as saved what was sent, and not what is edited meanwhile', async () => {
    const edit = (value: number): Promise<unknown> => page.evaluate((to) => window.loft.edit([{ key: 'run.speed', value: to }]), value); // prettier-ignore
    await edit(6);
    // The save is held up on its way, and the number is changed again.
    let go = (): void => {};
    const held = new Promise<void>((done) => (go = done));
    let asked = (): void => {};
    const sent = new Promise<void>((done) => (asked = done));
    await page.route('**/files/brindle.tuning.yaml', async (route) => {
      asked();
      await held;
      await route.continue();
    });
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await sent;
    await edit(7);
    go();
    await page.waitForFunction(() => window.loft.say.includes('saved'));
    await page.unroute('**/files/brindle.tuning.yaml');
    expect(file()).to.contain('speed: 6').and.not.contain('speed: 7');
    expect(await page.evaluate(() => [window.loft.document.dirty, window.loft.document.theirs === undefined, window.loft.document.motion.ground.speed])).to.deep.equal([true, true, 7]); // prettier-ignore
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.waitForFunction(() => !window.loft.document.dirty);
    expect(file()).to.contain('speed: 7');
  });

  fully('says that what is on disk cannot be read, and does not write over it', async () => {
    const path = join(folder, 'brindle.tuning.yaml');
    const before = readFileSync(path);
    const bytes = Buffer.concat([before, Buffer.from('# caf\xe9\n', 'latin1')]);
    writeFileSync(path, bytes);
    await page.waitForFunction(() => window.loft.document.unread !== '');
    await page.evaluate(() => window.loft.edit([{ key: 'run.speed', value: 5 }]));
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.waitForFunction(() => window.loft.say.startsWith('not saved'));
    expect(await page.evaluate(() => window.loft.say)).to.match(/cannot be read, and is not replaced: .*UTF-8/);
    expect(readFileSync(path).equals(bytes)).to.equal(true);
    // The browser itself says that a save was refused.
    expect(said.splice(0).join()).to.match(/^Failed to load resource: .* 409 \(Conflict\)$/);
    writeFileSync(path, before);
    await page.waitForFunction(() => window.loft.document.unread === '');
    await page.evaluate(() => window.loft.undo());
  });

  fully('needs no server: the same page as files, with the demo data', async () => {
    const other = await browser.newPage();
    const { createServer } = await import('node:http');
    const { default: sirv } = await import('sirv');
    const serve = sirv(new URL('../../dist/loft/', import.meta.url).pathname);
    const server = createServer((request, response) =>
      serve(request, response, () => void response.writeHead(404).end()),
    );
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    const { port } = server.address() as { port: number };
    await other.goto(`http://127.0.0.1:${port}/`);
    await other.waitForSelector('main canvas');
    expect(await other.evaluate(() => [window.loft.levelName, ...window.loft.documents.map(({ name }) => name)])).to.deep.equal(['saltreave.level.svg', 'brindle.tuning.yaml', 'nimble.tuning.yaml']); // prettier-ignore
    // What others have written is in it, with their licences.
    expect(await other.evaluate("fetch('licences.md').then((found) => found.text())")).to.match(
      /^## react - .*\(MIT\)$/m,
    );
    const slide = other.locator('[data-key="run.speed"] input[type=range]');
    await slide.focus();
    await other.keyboard.press('ArrowRight');
    const speed = await other.evaluate(() => window.loft.document.motion.ground.speed);
    await other.reload();
    await other.waitForSelector('main canvas');
    // What was changed is kept in the browser.
    expect(await other.evaluate(() => window.loft.document.motion.ground.speed)).to.equal(speed);
    await other.close();
    server.closeAllConnections();
    server.close();
  });

  it('said nothing on the console', () => {
    expect(said).to.deep.equal([]);
  });
});
