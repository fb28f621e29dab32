import { expect } from 'chai';
import type { Browser, Page } from 'playwright-core';
import { openBrowser } from '../support/browser.js';
import { bundle } from '../support/bundle.js';

const PAGE = `<!doctype html><style>body { margin: 0 } div { position: absolute; width: 100px; height: 100px; top: 100px; background: #ccc }</style>
<div id="stick" style="left: 100px"></div><div id="jump" style="left: 400px"></div><div id="glide" style="left: 600px"></div>
<input>`;

interface Told {
  event: string;
  time: number;
  y: number;
}

describe('Drivers in a page', () => {
  let browser: Browser;
  let page: Page;
  let code: string;

  before(async () => {
    code = await bundle('drivers-page.ts');
    browser = await openBrowser();
  });
  after(() => browser?.close());
  beforeEach(async () => {
    page = await browser.newPage({ hasTouch: true });
    await page.setContent(PAGE);
    await page.addScriptTag({ content: code });
    await page.evaluate(`
      window.stamps = [];
      for (const name of ['keydown', 'keyup']) addEventListener(name, ({ code, type, timeStamp }) => stamps.push({ code, type, timeStamp }));
      const pads = [null, null, null, null];
      navigator.getGamepads = () => pads;
      window.pad = (given) => {
        const { buttons = [], axes = [] } = given ?? {};
        pads[1] = given && { connected: true, timestamp: performance.now(), axes: [0, 0, 0, 0].map((zero, i) => axes[i] ?? zero),
          buttons: Array.from({ length: 17 }, (_, i) => ({ pressed: buttons.includes(i), value: 0 })) };
      };
    `);
  });
  afterEach(() => page.close());

  const open = (driver: string, tuning = {}): Promise<unknown> =>
    page.evaluate(`void (window.game = open((drivers) => drivers.${driver}, ${JSON.stringify(tuning)}))`);
  /** Runs ticks until some time after now. */
  const run = (later = 0): Promise<number> => page.evaluate(`game.run(${later})`);
  const events = (): Promise<Told[]> => page.evaluate('game.trace.events');
  const count = async (event: string): Promise<number> =>
    (await events()).filter((told) => told.event === event).length;
  const held = (action: string): Promise<number> => page.evaluate(`game.hero.held('${action}')`);
  const opposed = (rule: string): Promise<unknown> => page.evaluate(`game.hero.oppose('${rule}')`);

  it('a key pressed and let go between two frames is a tap, at its own moment', async () => {
    await open('keyboard(window)');
    await page.keyboard.press('Space');
    await run(2);
    const { down, up } = await page.evaluate<{ down: number; up: number }>(
      `({ down: game.moment(stamps[0].timeStamp), up: game.moment(stamps[1].timeStamp) })`,
    );
    const [takeoff, apex] = await events();
    expect(takeoff).to.include({ event: 'takeoff' });
    // Stamps are whole microseconds on the stage's clock.
    expect(takeoff!.time).to.be.closeTo(down, 1e-6);
    expect(up - down).to.be.below(1);
    expect(apex!.event).to.equal('apex');
    expect(takeoff!.y - apex!.y).to.be.at.least(1.25 - 1e-9);
  });

  it('both ways held: still, the latest, or the first, and changed while held', async () => {
    await open('keyboard(window)');
    await page.keyboard.down('ArrowRight');
    await page.keyboard.down('KeyA');
    await run(1);
    const vx = (): Promise<number> => page.evaluate('game.hero.vx');
    expect(await vx()).to.equal(0);
    await opposed('latest');
    await run(2);
    expect(await vx()).to.equal(-7.5);
    await opposed('first');
    await run(3);
    expect(await vx()).to.equal(7.5);
    await page.keyboard.up('KeyA');
    await page.keyboard.up('ArrowRight');
    await run(4);
    expect(await vx()).to.equal(0);
  });

  it('two keys of one action are one press', async () => {
    await open('keyboard(window)');
    await page.keyboard.down('KeyD');
    await page.keyboard.down('ArrowRight');
    await page.keyboard.up('KeyD');
    await run(0.5);
    expect(await held('right')).to.equal(1);
    await page.keyboard.up('ArrowRight');
    await run(1);
    expect(await held('right')).to.equal(0);
  });

  for (const [what, leave] of [
    ['the window loses its focus', `dispatchEvent(new Event('blur'))`],
    ['the tab is hidden', `Object.defineProperty(document, 'visibilityState', { value: 'hidden', configurable: true }); document.dispatchEvent(new Event('visibilitychange'))`],
  ] as const)
    it(`lets go of everything when ${what}, and what is still held then is no new press`, async () => {
      await page.evaluate(`pad({ buttons: [0], axes: [0.9] })`);
      await open(`keyboard(window)`);
      await page.keyboard.down('ArrowRight');
      await page.keyboard.down('Space');
      await run(0.05);
      expect([await held('right'), await held('jump')]).to.deep.equal([1, 1]);
      await page.evaluate(leave);
      await run(0.1);
      expect([await held('right'), await held('jump')]).to.deep.equal([0, 0]);
      // Still down: a key that repeats is no press.
      await page.keyboard.down('Space');
      await run(3);
      expect(await count('takeoff')).to.equal(1);
      // Away for ten minutes: a few ticks, and nothing moves.
      await page.keyboard.up('Space');
      await page.keyboard.down('Space');
      expect(await run(600)).to.equal(600);
      expect(await count('takeoff')).to.equal(2);
    }); // prettier-ignore

  it('keys are bound anew while playing, and the old ones let go of', async () => {
    await open('keyboard(window)');
    await page.keyboard.down('ArrowRight');
    await run(0.1);
    await page.evaluate(`game.driver.keys = { right: ['KeyL'], jump: ['KeyK'] }`);
    await run(0.2);
    expect(await held('right')).to.equal(0);
    await page.keyboard.press('Space');
    await page.keyboard.down('KeyL');
    await page.keyboard.press('KeyK');
    await run(1);
    expect(await held('right')).to.equal(1);
    expect(await count('takeoff')).to.equal(1);
  });

  it('keys typed into a field, or with a modifier, are not for the game', async () => {
    await open('keyboard(window)');
    await page.click('input');
    await page.keyboard.press('KeyD');
    await page.keyboard.press('Space');
    await run(1);
    expect(await page.inputValue('input')).to.equal('d ');
    expect(await count('takeoff')).to.equal(0);
    await page.evaluate('document.activeElement.blur()');
    await page.keyboard.press('Control+ArrowRight');
    await run(2);
    expect(await page.evaluate('game.hero.x')).to.equal(30);
  });

  it('a pad: buttons, the stick without its dead zone, pulled out, and plugged in with a button held', async () => {
    await open('gamepad(window)');
    const show = (given: string): Promise<unknown> => page.evaluate(`pad(${given})`);
    await run(0.1);
    expect(await page.evaluate('game.driver.connected')).to.equal(false);
    await show('{ axes: [0.19] }');
    await run(0.2);
    expect([await page.evaluate('game.driver.connected'), await held('move')]).to.deep.equal([true, 0]);
    await show('{ axes: [-0.6] }');
    await run(0.3);
    expect(await held('move')).to.equal(-0.5);
    await show('{ axes: [-1, 0.7], buttons: [0] }');
    await run(1.5);
    expect([await held('move'), await held('down'), await held('jump')]).to.deep.equal([-1, 1, 1]);
    expect(await count('takeoff')).to.equal(1);
    await show('null');
    await run(2.5);
    expect([await held('move'), await held('down'), await held('jump')]).to.deep.equal([0, 0, 0]);
    expect(await page.evaluate('game.hero.vx')).to.equal(0);
    // Plugged in again: the button counts once it is pressed anew.
    await show('{ buttons: [0] }');
    await run(3);
    expect(await count('takeoff')).to.equal(1);
    await show('{}');
    await run(3.1);
    await show('{ buttons: [0] }');
    await run(4.5);
    expect(await count('takeoff')).to.equal(2);
    // Out of focus it plays nothing.
    await page.evaluate(`dispatchEvent(new Event('blur'))`);
    await run(5);
    expect(await held('jump')).to.equal(0);
    await page.evaluate(`dispatchEvent(new Event('focus'))`);
    await run(6);
    expect(await count('takeoff')).to.equal(2);
    await page.evaluate('game.driver.buttons = { jump: [3] }');
    await show('{ buttons: [3] }');
    await run(6.1);
    await show('{}');
    await run(6.2);
    await show('{ buttons: [3] }');
    await run(7);
    expect(await count('takeoff')).to.equal(3);
    for (const [options, what] of [['{ deadZone: 1 }', 'deadZone is 1'], ['{ pad: 4 }', 'pad is 4'], ['{ axis: -1 }', 'axis is -1']] as const)
      expect(await page.evaluate(`(() => { try { open((d) => d.gamepad(window, ${options})) } catch (e) { return e.message } })()`)).to.contain(what);
  }); // prettier-ignore

  it('touch: a stick and buttons at once, each finger on its own', async () => {
    await open(`touch({ stick: document.querySelector('#stick'), buttons: { jump: document.querySelector('#jump') } })`);
    const session = await page.context().newCDPSession(page);
    const fingers = (type: 'touchStart' | 'touchMove' | 'touchEnd', points: [number, number][]): Promise<unknown> =>
      session.send('Input.dispatchTouchEvent', { type, touchPoints: points.map(([x, y], id) => ({ x, y, id })) });
    await fingers('touchStart', [[190, 150]]);
    await run(0.1);
    // Four fifths of the way to the rim, less the dead zone.
    expect(await held('move')).to.be.closeTo((0.8 - 0.15) / 0.85, 1 / 64);
    await fingers('touchStart', [[190, 150], [450, 150]]);
    await run(0.2);
    expect([await held('jump'), await count('takeoff')]).to.deep.equal([1, 1]);
    // Far outside of it the stick is at its end.
    await fingers('touchMove', [[20, 290], [450, 150]]);
    await run(0.3);
    expect([await held('move'), await held('down'), await held('jump')]).to.deep.equal([-1, 1, 1]);
    expect(await page.evaluate('[...game.driver.stick]')).to.deep.equal([-1, 1]);
    await fingers('touchEnd', []);
    await run(0.4);
    expect([await held('move'), await held('down'), await held('jump')]).to.deep.equal([0, 0, 0]);
    // A finger that stays down when the window loses its focus counts once it comes down anew.
    await fingers('touchStart', [[450, 150]]);
    await page.evaluate(`dispatchEvent(new Event('blur'))`);
    await fingers('touchMove', [[455, 150]]);
    await run(3);
    expect(await held('jump')).to.equal(0);
    await fingers('touchEnd', []);
    await page.evaluate('game.driver.stop()');
  }); // prettier-ignore

  it('several at once, and swapped for another while a key is down', async () => {
    await page.evaluate(`pad({})`);
    await page.evaluate(
      `void (window.game = open((d) => { window.all = [d.keyboard(window), d.gamepad(window)]; return all[0]; }))`,
    );
    await page.keyboard.down('Space');
    await run(0.1);
    await page.evaluate('game.hero.drive(all[1])');
    await run(1.5);
    await page.evaluate('game.hero.drive(all[0])');
    await run(3);
    // The key was down all along: one press, one jump.
    expect(await count('takeoff')).to.equal(1);
    expect(await held('jump')).to.equal(0);
    await page.keyboard.up('Space');
    await page.keyboard.down('Space');
    await run(4);
    expect(await count('takeoff')).to.equal(2);
  });

  it('a driver that has been stopped listens no more', async () => {
    await open('keyboard(window)');
    await page.evaluate('game.driver.stop()');
    await page.keyboard.press('Space');
    await run(1);
    expect(await count('takeoff')).to.equal(0);
  });
});
