import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { openStage } from 'apperin';
import { FileError, readLevel, type LevelFile } from 'apperin/files';
import { openBrowser } from '../support/browser.js';
import { apperin, withFolder } from '../support/cli.js';
import { fully } from '../support/share.js';

const LIFTS = 'data/tide-mill/lifts.level.svg';
const read = (text: string, file: string): LevelFile => readLevel(text, { file });
const problemsOf = (text: string, file: string): string => {
  try {
    read(text, file);
  } catch (error) {
    if (error instanceof FileError) return error.problems.map(({ line, column, message }) => `${line}:${column} ${message}`).join('; '); // prettier-ignore
    throw error;
  }
  throw new Error('this was accepted');
};

/** Where the movers of a level are after so many seconds. */
function placesOf({ compiled }: LevelFile, seconds: number): (readonly [number, number])[] {
  const stage = openStage(compiled);
  for (let i = 0; i < Math.round(seconds * 100); i++) stage.tick(0.01);
  return stage.movers.map(({ x, y }) => [x, y] as const);
}

const rows = (mover: string): string => `rows: ["@..", "###"]\nmovers:\n  - ${mover}\n`;
const drawn = (motion: string): string => `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9">\n<circle class="spawn" cx="1" cy="1"/>\n<g class="mover" id="m"><rect width="1" height="1"/>\n${motion}</g></svg>`; // prettier-ignore

describe('Reading movers', () => {
  it('in rows: stops, easing, there and back, round', () => {
    const file = read(
      rows('{ name: lift, shapes: [{ solid: [0, 0, 1, 1] }], route: "M 0 0 V -4", lap: 10, there-and-back: true, stops: [{ at: 0, for: 1 }, { at: 0.5, for: 0.5 }] }') +
        '  - { name: wheel, shapes: [{ one-way: [0, 0, 2, 0.2] }], route: "M 0 0 A 2 2 0 1 1 0 0.0001 Z", lap: 8 }\n' +
        '  - { name: cart, shapes: [{ solid: [[0, 0], [2, 0], [1, 1]] }], route: "M 0 0 h 3", lap: 4, there-and-back: true, easing: smooth }\n',
      'a.level.yaml',
    ); // prettier-ignore
    // Ten seconds less two of pauses for eight units, so one unit a second.
    expect(placesOf(file, 0.9)[0]).to.deep.equal([0, 0]);
    expect(placesOf(file, 2)[0]![1]).to.be.closeTo(-1, 1e-9);
    expect(placesOf(file, 3.2)[0]![1]).to.be.closeTo(-2, 1e-9);
    expect(placesOf(file, 5.5)[0]![1]).to.be.closeTo(-4, 1e-9);
    // Round: the far side of a circle after half a lap, and back.
    const [x, y] = placesOf(file, 4)[1]!;
    expect(Math.hypot(x, y)).to.be.closeTo(4, 0.01);
    expect(placesOf(file, 8)[1]![0]).to.be.closeTo(0, 1e-6);
    // Smooth: a quarter of the lap is half the way, a half of the time to speed up an eighth.
    expect(placesOf(file, 1)[2]![0]).to.be.closeTo(1.5, 1e-9);
    expect(placesOf(file, 0.5)[2]![0]).to.be.closeTo(0.375, 1e-9);
  });

  for (const [title, text, message] of [
    [
      'a route without a lap',
      rows('{ name: m, shapes: [{ solid: [0, 0, 1, 1] }], route: "M 0 0 H 1" }'),
      '3:5 the mover m has a route and needs a lap',
    ],
    [
      'a path that is none',
      rows('{ name: m, lap: 1, shapes: [{ solid: [0, 0, 1, 1] }], route: "north" }'),
      'the route cannot be read',
    ],
    [
      'a route that jumps back',
      rows('{ name: m, lap: 1, shapes: [{ solid: [0, 0, 1, 1] }], route: "M 0 0 H 1" }'),
      'the route does not end where it begins',
    ],
    [
      'a route that jumps',
      rows('{ name: m, lap: 1, shapes: [{ solid: [0, 0, 1, 1] }], route: "M 0 0 H 1 M 5 5 H 2" }'),
      'the route jumps',
    ],
    [
      'stops that take the lap',
      rows(
        '{ name: m, lap: 2, there-and-back: true, stops: [{ at: 0, for: 3 }], shapes: [{ solid: [0, 0, 1, 1] }], route: "M 0 0 H 1" }',
      ),
      'the stops take 3 of the lap',
    ],
    [
      'a shape that is nothing',
      rows('{ name: m, shapes: [{ surface: silt }] }'),
      'a shape must be one of solid, one-way, ground, hole, line',
    ],
    [
      'two of one name',
      rows('{ name: m, shapes: [{ solid: [0, 0, 1, 1] }] }') + '  - { name: m, shapes: [{ solid: [0, 0, 1, 1] }] }\n',
      'there are two movers named m',
    ],
    [
      'a key that is none',
      rows('{ name: m, shapes: [{ solid: [0, 0, 1, 1] }], speed: 3 }'),
      'there is no key movers.0.speed',
    ],
    [
      'a policy that is none',
      rows('{ name: m, shapes: [{ solid: [0, 0, 1, 1] }], policy: squash }'),
      'movers.0.policy is "squash"; it must be stop, turn, through or tell',
    ],
  ] as const)
    // prettier-ignore
    it(`refuses in rows ${title}, with its place`, () => {
      expect(problemsOf(text, 'a.level.yaml')).to.contain(message).and.to.match(/^\d+:\d+ /);
    });

  for (const [title, motion, message] of [
    ['a motion without a path', '<animateMotion dur="1s"/>', '4:1 a mover’s animateMotion needs a path'],
    ['a motion without a duration', '<animateMotion path="M0,0 H3"/>', 'dur is ""'],
    [
      'jumps from place to place',
      '<animateMotion path="M0,0 H3" dur="1s" calcMode="discrete"/>',
      'a mover cannot jump',
    ],
    ['a motion that turns', '<animateMotion path="M0,0 H3 Z" dur="1s" rotate="auto"/>', 'movers do not turn'],
    ['a late beginning', '<animateMotion path="M0,0 H3 Z" dur="1s" begin="2s"/>', 'begin is "2s"'],
    [
      'keyTimes that go back',
      '<animateMotion path="M0,0 H3" dur="1s" keyPoints="0;1;0;1" keyTimes="0;0.6;0.5;1" calcMode="linear" repeatCount="indefinite"/>',
      'keyTimes go back from 0.6 to 0.5',
    ],
    [
      'keyPoints without a mode that heeds them',
      '<animateMotion path="M0,0 H3" dur="1s" keyPoints="0;1;0" keyTimes="0;0.5;1" repeatCount="indefinite"/>',
      'calcMode="linear" or "spline" only',
    ],
    [
      'a zone that moves',
      '<rect class="zone" width="1" height="1"/>',
      'a mover holds solid and one-way shapes, and no zone',
    ],
  ] as const)
    // prettier-ignore
    it(`refuses in a drawing ${title}, with its place`, () => {
      expect(problemsOf(drawn(motion), 'a.level.svg')).to.contain(message).and.to.match(/^\d+:\d+ /);
    });

  fully('a browser shows them where they are', async function () {
    const text = readFileSync(LIFTS, 'utf8');
    const file = read(text, LIFTS);
    const names = file.compiled.movers.map(({ name }) => name);
    const browser = await openBrowser();
    try {
      const page = await browser.newPage({ viewport: { width: 1280, height: 512 } });
      await page.setContent(
        `<body style="margin:0">${text.replace('<svg ', '<svg width="1280" height="512" ')}</body>`,
      );
      let worst = 0;
      const stage = openStage(file.compiled);
      for (const moment of [0.05, 0.4, 0.9, 1.7, 2.6, 3.45, 4.8, 6.1, 8.3, 13.7]) {
        while (stage.time < moment - 1e-9) stage.tick(0.05);
        const seen = await page.evaluate(
          ([ids, time]) => {
            const svg = document.querySelector('svg')!;
            svg.pauseAnimations();
            svg.setCurrentTime(time as number);
            return (ids as string[]).map((id) => {
              const { e, f } = (document.getElementById(id) as unknown as SVGGraphicsElement).getScreenCTM()!;
              return [e, f];
            });
          },
          [names, moment] as const,
        );
        stage.movers.forEach(({ x, y }, i) => {
          worst = Math.max(worst, Math.abs(seen[i]![0]! - x * 32), Math.abs(seen[i]![1]! - y * 32));
        });
      }
      this.test!.title += ` (worst ${worst.toFixed(3)} pixels)`;
      expect(worst).to.be.at.most(1);
    } finally {
      await browser.close();
    }
  });

  it('come back from rows as a drawing, and from a drawing as rows, going the same way', async () => {
    await withFolder(async (folder) => {
      const from = `${process.cwd()}/data/tide-mill/hoist.level.yaml`;
      expect((await apperin(['convert', from, '--to', 'drawing', '--out', 'hoist.level.svg'], folder)).status).to.equal(
        0,
      );
      expect(
        (await apperin(['convert', 'hoist.level.svg', '--to', 'rows', '--out', 'back.level.yaml'], folder)).status,
      ).to.equal(0);
      const [first, ...others] = [from, `${folder}/hoist.level.svg`, `${folder}/back.level.yaml`].map((name) => read(readFileSync(name, 'utf8'), name)); // prettier-ignore
      for (const other of others)
        for (const time of [0, 0.7, 1.9, 3.3, 5.1])
          placesOf(first!, time).forEach(([x, y], i) => {
            const [ox, oy] = placesOf(other, time)[i]!;
            expect(ox).to.be.closeTo(x, 1e-9);
            expect(oy).to.be.closeTo(y, 1e-9);
          });
    });
  });
});
