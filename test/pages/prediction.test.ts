import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import type { Loft } from '../../src/loft/model/loft.js';
import { DATA } from '../support/cli.js';
import { openLoft, type OpenLoft } from '../support/open-loft.js';
import { share, shareOf } from '../support/share.js';

declare const window: { loft: Loft };

const LEVELS = ['yard.level.yaml', 'weir.level.yaml', 'wheelhouse.level.yaml', 'saltreave.level.svg'];
const MOMENTS = { quick: 20, test: 50, deep: 500 };

describe('What the Loft predicts', function () {
  let loft: OpenLoft;
  let page: Page;
  before(async () => {
    loft = await openLoft({ 'yard.level.yaml': readFileSync(join(DATA, 'yard.level.yaml'), 'utf8'), 'brindle.tuning.yaml': readFileSync(join(DATA, 'brindle.tuning.yaml'), 'utf8') }); // prettier-ignore
    ({ page } = loft);
    await page.getByRole('button', { name: 'arc from here' }).click();
    // Functions that go to the page are given names by what reads this file.
    await page.evaluate('globalThis.__name = (one) => one');
  });
  after(() => loft?.close());

  for (const name of LEVELS)
    it(`is what is then played, to the bit, from any moment in ${name} (${shareOf(MOMENTS, 'moments')})`, async () => {
      const text = readFileSync(join(DATA, name), 'utf8');
      await page.evaluate(
        ([called, content]) => window.loft.files.openFile(new File([content!], called!)),
        [name, text],
      );
      const seen = await page.evaluate(
        ([moments, seed]) => {
          const { loft: app } = window;
          const { session } = app;
          const { stage, rate } = session;
          let state = seed!;
          const random = (): number => (state = (state * 16807) % 2147483647) / 2147483647;
          const told: { taken: unknown[]; played: unknown[]; air: boolean; landed: boolean }[] = [];
          session.steps.paused = true;
          let held = '';
          session.hero.drive({
            read(into) {
              const time = stage.time;
              if (random() < 0.06) {
                if (held !== '') into.push(time, held, 0);
                held = ['left', 'right', 'right', ''][Math.floor(random() * 4)]!;
                if (held !== '') into.push(time, held, 1);
              }
              if (random() < 0.05) into.push(time, 'jump', 1);
              else if (random() < 0.08) into.push(time, 'jump', 0);
            },
          });
          while (told.length < moments!) {
            const ticks = 1 + Math.floor(random() * 40);
            for (let i = 0; i < ticks; i++) stage.tick(1 / rate);
            // Who has fallen out comes back.
            const { extent } = session.level;
            if (session.hero.y > extent.y + extent.height + 4) session.hero.place('start');
            app.ahead.lookAhead();
            const predicted = app.ahead.predicted?.after;
            // Who rests is not looked ahead for anew: that was the moment before.
            if (!predicted || predicted.full.from.time !== stage.time) continue;
            for (const way of [predicted.full, predicted.tap]) {
              if (!way) continue;
              // The stage goes on with these keys, as if somebody pressed them; and back again.
              const now = stage.fork({ hero: { read: (into) => { for (const { time, action, value } of way.rows) if (time >= now.time && time < into.until) into.push(time, action, value); } } });
              const hero = now.characters[0]!;
              hero.retune(predicted.motion.full);
              const played: unknown[] = [];
              const isAir = hero.support !== 'ground';
              hero.on('takeoff', ({ time, x, y }) => void (played[0] ??= [time, x, y]));
              hero.on('apex', ({ time, x, y }) => void (played[1] ??= [time, x, y]));
              const leaves = way.rows.find(({ action, value }) => action === 'jump' && value === 1)?.time ?? now.time;
              hero.on('touchdown', ({ time, x, y }) => void (time > leaves - 3e-6 && (played[2] ??= [time, x, y])));
              for (let i = 0; i < 4 * rate && !played[2]; i++) now.tick(1 / rate);
              const spot = (at: { time: number; x: number; y: number } | undefined): unknown => at && [at.time, at.x, at.y];
              told.push({ taken: [spot(way.takeoff), spot(way.apex), spot(way.landing)], played: [played[0], played[1], played[2]], air: isAir, landed: way.landing !== undefined });
            }
          }
          return told;
        },
        [share(MOMENTS), LEVELS.indexOf(name) + 11],
      ); // prettier-ignore
      for (const { taken, played } of seen) expect(taken).to.deep.equal(played);
      // Of every kind there were some.
      expect(seen.filter(({ landed }) => landed).length).to.be.above(seen.length / 2);
      expect(new Set(seen.map(({ air }) => air)).size).to.equal(2);
    });
});
