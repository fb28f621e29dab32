import type { Page } from 'playwright-core';
import { takeHandle } from '../../test/support/open-loft.js';
import { FINISH, KEYS, stepGame } from '../../test/support/undercroft.js';

/** A picture of the Loft: the files that it is opened on, and what is done in it. */
interface LoftPicture {
  name: string;
  files: readonly string[];
  show: (page: Page) => Promise<void>;
}

const press = (page: Page, name: string): Promise<void> => page.getByRole('button', { name, exact: true }).click();

/** Frames that something may take. */
const MOST = 3600;

/** Waits, frame by frame, until something is true of the page. */
export async function until(page: Page, what: string): Promise<void> {
  for (let frame = 0; !(await page.evaluate(what)); frame++) {
    if (frame > MOST) throw new Error(`it does not come to ${what}`);
    await page.evaluate('new Promise((done) => requestAnimationFrame(done))');
  }
}

export const LOFTS: readonly LoftPicture[] = [
  {
    name: 'loft',
    files: ['brindle.tuning.yaml', 'yard.level.yaml'],
    async show(page) {
      await press(page, 'arc from here');
      await until(page, 'window.loft.ahead.handles.length === 5');
      await takeHandle(page, 'apex', 0, 0.77);
      await until(page, 'document.querySelector(".effects")?.textContent !== ""');
    },
  },
  {
    name: 'loft-survey',
    files: ['brindle.tuning.yaml', 'yard.level.yaml'],
    async show(page) {
      await press(page, 'all');
      await press(page, 'where it gets to');
      await until(page, 'window.loft.asking.isFresh && window.loft.asking.isDone');
      await page.evaluate("window.loft.asking.point(window.loft.asking.places.findIndex(({ points }) => points[0][1] === 2))"); // prettier-ignore
      await until(page, 'window.loft.asking.way !== undefined');
      await press(page, 'how tight is the way?');
      await until(page, 'typeof window.loft.asking.tight === "object"');
    },
  },
  {
    name: 'loft-time',
    files: ['brindle.tuning.yaml', 'yard.level.yaml', 'leap.input.csv'],
    async show(page) {
      await page.evaluate("window.loft.takes.playInput('leap.input.csv')");
      await until(page, 'window.loft.strip.margins.length > 0');
      await page.evaluate("(() => { const { strip } = window.loft; strip.hold(1, 'press'); strip.drag(-0.08); strip.letGo(); window.loft.session.looking = 2.75; })()"); // prettier-ignore
      await until(page, 'window.loft.strip.margins.length > 0');
    },
  },
];

/** A picture of an example. */
interface ExamplePicture {
  name: string;
  example: string;
  show: (page: Page) => Promise<void>;
}

const step = (page: Page, frames: number): Promise<unknown> => page.evaluate(`step(${frames})`);

export const EXAMPLES: readonly ExamplePicture[] = [
  {
    name: 'tide-mill',
    example: 'tide-mill',
    async show(page) {
      await page.evaluate("document.querySelector('#show').click()");
      await page.keyboard.down('ArrowRight');
      await step(page, 70);
      await page.keyboard.down('Space');
      await step(page, 20);
    },
  },
  {
    name: 'undercroft',
    example: 'undercroft',
    async show(page) {
      // What the loader of this file names functions with.
      await page.evaluate('globalThis.__name = (one) => one');
      const inWater = FINISH.findIndex(({ when }) => when.includes('y > 15.5'));
      for (const { when, down = [], up = [] } of FINISH.slice(0, inWater)) {
        await page.evaluate(stepGame, { when, most: 1200, rate: 60 });
        for (const action of up) await page.keyboard.up(KEYS[action]!);
        for (const action of down) await page.keyboard.down(KEYS[action]!);
      }
      await step(page, 12);
    },
  },
];

/** The picture of the site of the docs: a page of it, and what is done there. */
export const SITE = {
  name: 'site',
  path: '/guides/shape',
  async show(page: Page): Promise<void> {
    const slider = page.getByLabel(/^gravity.falling/);
    await slider.scrollIntoViewIfNeeded();
    await page.evaluate('scrollBy(0, 560)');
    await slider.fill('2.6');
    await page.getByLabel(/^jump.riseTime/).fill('0.5');
  },
};
