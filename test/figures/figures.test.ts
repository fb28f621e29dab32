import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { compileTuning, level, openStage, type Level, type Tuning } from 'apperin';
import { arcsFigure, levelFigure, pngOf, speedFigure, timeFigure, traceFigure } from 'apperin-tools/figures';
import { arcs, play, sheet, speedCurves, timeCurves, wallJump, wallReturn } from 'apperin/lab';
import { expect } from 'chai';
import { parseHTML } from 'linkedom';

const require = createRequire(import.meta.url);
const parts = {
  wasm: readFileSync(require.resolve('@resvg/resvg-wasm/index_bg.wasm')),
  fonts: [readFileSync(require.resolve('dejavu-fonts-ttf/ttf/DejaVuSans.ttf'))],
};

/** Everything that a figure says, as text. */
function texts(svg: string): string[] {
  const { document } = parseHTML(svg) as unknown as { document: Document };
  return [...document.querySelectorAll('text')].map((node) => node.textContent ?? '');
}

const AWKWARD: Record<string, Tuning> = {
  tiny: { tile: 0.05, body: { width: 0.07, height: 0.0625 } },
  huge: { tile: 1000 },
  pixels: { tile: 16, gravity: { fallRamp: { to: 3, over: 0.2 } } },
  eased: { run: { feel: 'eased' }, gravity: { apexSpeed: 0 } },
  standing: { run: { speed: 0 } },
};

describe('Figures', () => {
  it('of arcs say what the sheet measures', () => {
    const svg = arcsFigure([arcs('brindle', {})]);
    const said = texts(svg).join('\n');
    const value = (id: string): string =>
      String(
        Number(
          sheet({})
            .find((measure) => measure.id === id)!
            .value.toPrecision(3),
        ),
      );
    expect(said).to.contain(`apex ${value('apexHeight')} after ${value('riseTime')} s`);
    expect(said).to.contain(`reach ${value('reach')} in ${value('airTime')} s`);
    expect(said).to.contain(`tap ${value('lowestHop')}`);
    for (const phase of ['rising', 'apex band', 'falling']) expect(said).to.contain(phase);
    expect(svg).to.match(/<title>Jump arc: brindle<\/title>\s*<desc>Full jump at run speed/);
  });

  it('of arcs show each air jump from the apex of the one before', () => {
    const air = { airJumps: { heights: [2, 1] } };
    const said = texts(arcsFigure([arcs('brindle', air)])).join('\n');
    expect(said).to.contain('air jump 1: up to 5.25').and.to.contain('air jump 2: up to 6.25');
    const reach = sheet(air).find(({ id }) => id === 'airJump2Reach')!.value;
    expect(arcs('brindle', air).air[1]!.landing.x).to.be.closeTo(reach, 1e-9);
  });

  it('of arcs show the two extremes of a wall jump, as the sheet says them', () => {
    const m = compileTuning({ wall: {} });
    const said = texts(arcsFigure([arcs('brindle', m)])).join('\n');
    const short = (value: number): string => String(Number(value.toPrecision(3)));
    const { rise, outAtApex } = wallJump(m)!;
    const { time, gain } = wallReturn(m)!;
    expect(said).to.contain(`wall jump: up ${short(rise)}, out ${short(outAtApex)} at the apex`);
    expect(said).to.contain(`at the wall after ${short(time)} s, ${short(gain)} higher`);
    expect(sheet(m).find(({ id }) => id === 'wallJumpOut')!.value).to.equal(outAtApex);
    expect(arcs('brindle', m).wall!.back.at(-1)!.y).to.be.closeTo(gain, 1e-6);
    expect(texts(arcsFigure([arcs('brindle', {})])).join('\n')).to.not.contain('wall');
  });

  it('are drawn from the pieces of the motion: wall jumps, eased ones too, and the routes of movers have no sampled corners', () => {
    for (const run of [{}, { feel: 'eased' }] as const) {
      const svg = arcsFigure([arcs('brindle', { run, wall: {} })]) + speedFigure([speedCurves('brindle', { run })]);
      // Straight lines only where something is straight: axes, marks, outlines.
      const longest = Math.max(...[...svg.matchAll(/ d="([^"]*)"/g)].map(([, path]) => (path!.match(/L/g) ?? []).length));
      expect(longest).to.be.below(8);
      expect(svg.match(/ d="M[^"]*C[^"]*"/g)!.length).to.be.at.least(4);
    }
    const round = { rows: ['@.....', '######'], movers: [{ name: 'ring', shapes: [{ solid: [3, -4, 1, 0.5] }], route: 'M0 0A2 2 0 0 1 0 4A2 2 0 0 1 0 0Z', lap: 4, easing: 'smooth' }] } as const;
    const drawn = levelFigure(openStage(level(round)).level, {});
    const route = [...drawn.matchAll(/ d="([^"]*)"/g)].map(([, path]) => path!).find((path) => path.includes('Q'))!;
    expect(route.match(/Q/g)!.length).to.be.above(8);
    expect(route).not.to.match(/L[^Q]*L[^Q]*L/);
  }); // prettier-ignore

  it('of speed say how long run-up, stop and turn take, and how far they go', () => {
    const said = texts(speedFigure([speedCurves('brindle', {})])).join('\n');
    for (const words of [
      'ground: 0.12 s, 0.45 units',
      'air: 0.35 s, 1.31 units',
      'ground: 0.2 s, over by 0.3 units',
      'Run-up: rest to top speed',
    ])
      expect(said).to.contain(words);
    const locked = texts(speedFigure([speedCurves('brindle', { run: { air: 'locked' } })])).join('\n');
    expect(locked).to.contain('no steering in the air').and.to.not.contain('air: ');
    const six = Array.from({ length: 6 }, (_, i) => speedCurves(`tuning-${i}`, { run: { speed: 3 + i } }));
    for (let i = 0; i < 6; i++) expect(texts(speedFigure(six)).join('\n')).to.contain(`tuning-${i}, ground`);
    expect(() => speedFigure([])).to.throw(RangeError, /one to six/);
  });

  it('of a level are where its cells are, whichever way y points', () => {
    for (const yPoints of ['down', 'up'] as const) {
      const level: Level = { rows: ['....', '.@..', '#==#'], tile: 2, yPoints, origin: [10, 20], title: 'Corner' };
      const { document } = parseHTML(levelFigure(level)) as unknown as { document: Document };
      const numbers = (path: Element): number[][] =>
        path
          .getAttribute('d')!
          .split('M')
          .slice(1)
          .map((part) => (part.match(/-?[\d.]+/g) ?? []).map(Number));
      const paths = [...document.querySelectorAll('path[clip-path]')];
      const boxes = numbers(paths.find((path) => path.getAttribute('fill-rule') === 'evenodd')!).map((ring) => {
        const [xs, ys] = [ring.filter((_, i) => i % 2 === 0), ring.filter((_, i) => i % 2 === 1)];
        return [Math.min(...xs), Math.min(...ys), Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)];
      });
      const [left, right] = boxes.sort((p, q) => p[0]! - q[0]!) as [number[], number[]];
      expect(left[2]).to.be.closeTo(left[3]!, 0.02);
      expect(right[0]! - left[0]!).to.be.closeTo(3 * left[2]!, 0.05);
      // The grating is as long as two tiles, and level with the upper sides.
      const [x1, y1, x2] = numbers(paths.find((path) => path.getAttribute('stroke-width') === '5')!)[0]!;
      expect(Math.abs(x2! - x1!)).to.be.closeTo(2 * left[2]!, 0.05);
      expect(y1).to.be.closeTo(left[1]!, 0.02);
      expect(texts(levelFigure(level))).to.include('start');
    }
  });

  it('of arcs are to scale: a unit is as long up as across', () => {
    const svg = arcsFigure([arcs('brindle', {})]);
    const { document } = parseHTML(svg) as unknown as { document: Document };
    const rects = [...document.querySelectorAll('rect')].filter((rect) => rect.hasAttribute('x'));
    const [width, height] = ['width', 'height'].map((name) => Number(rects[0]!.getAttribute(name)));
    expect(height! / width!).to.be.closeTo(1.3 / 0.7, 1e-3);
  });

  it('over time show the phases and the events of a running jump', () => {
    const said = texts(timeFigure([timeCurves('brindle', {})])).join('\n');
    for (const word of ['rising', 'apex band', 'falling', 'takeoff 0 s', 'apex 0.4 s', 'touchdown 0.753 s'])
      expect(said).to.contain(word);
  });

  it('name every one of six tunings, however long their names', () => {
    const names = [1, 2, 3, 4, 5, 6].map((i) => `a-tuning-with-a-rather-long-name-alike-${i}`);
    const tunings = names.map((name, i) => ({ name, tuning: { jump: { height: 2 + i * 0.02, riseTime: 0.35 } } }));
    for (const svg of [
      arcsFigure(tunings.map(({ name, tuning }) => arcs(name, tuning))),
      timeFigure(tunings.map(({ name, tuning }) => timeCurves(name, tuning))),
    ]) {
      const { document } = parseHTML(svg) as unknown as { document: Document };
      for (const panel of document.querySelectorAll('svg > svg')) {
        const labels = [...panel.querySelectorAll('text')].filter((node) =>
          /^a-.*alike-\d/.test(node.textContent ?? ''),
        );
        expect(labels).to.have.length(6);
        // What tells them apart can be read.
        expect(new Set(labels.map((node) => /alike-\d/.exec(node.textContent ?? '')![0])).size).to.equal(6);
        // No label touches the next.
        const placed = (label: Element) =>
          label.getAttribute('transform') ?? label.parentElement!.getAttribute('transform') ?? '';
        const ys = labels
          .map((label) => Number(/translate\([\d.]+,([\d.]+)\)/.exec(placed(label))![1]))
          .sort((a, b) => a - b);
        ys.slice(1).forEach((y, k) => expect(y - ys[k]!).to.be.at.least(14));
      }
    }
    expect(() => arcsFigure([])).to.throw(RangeError, /one to six/);
    expect(() => timeFigure([])).to.throw(RangeError, /one to six/);
  });

  for (const [name, tuning] of Object.entries(AWKWARD)) {
    it(`hold no broken number for ${name}`, () => {
      for (const svg of [arcsFigure([arcs(name, tuning)]), timeFigure([timeCurves(name, tuning)])]) {
        expect(svg).to.not.match(/NaN|Infinity|undefined/);
        expect(texts(svg).length).to.be.greaterThan(10);
      }
    });
  }

  it('of a way are curves: each piece of motion is one, whatever the tick rate', () => {
    const level: Level = { rows: ['@'.padEnd(30, '.'), '#'.repeat(30)] };
    const input = [{ time: 0.2, action: 'right', value: 1 }, { time: 0.6, action: 'jump', value: 1 }]; // prettier-ignore
    const curvesAt = (rate: number): string[] => {
      const svg = traceFigure(level, play({ level, tuning: {}, input, rate, seconds: 1.5 }), input, 'brindle');
      return [...svg.matchAll(/ d="(M[^"]*C[^"]*)"/g)].map(([, d]) => d!);
    };
    const [curve, ...others] = curvesAt(15);
    expect(others).to.deep.equal([]);
    // Rising, the apex band twice, falling, running: no more than that.
    const count = curve!.match(/C/g)!.length;
    expect(count).to.be.within(5, 12);
    expect(curvesAt(240)[0]!.match(/C/g)!.length).to.equal(count);
    const eased = play({ level, tuning: { run: { feel: 'eased' } }, input, seconds: 1.5 });
    expect(traceFigure(level, eased, input, 'brindle')).to.match(/ d="M[^"]*C/);
  });

  it('of a part of a large level become PNG, whatever lies far outside', async () => {
    const level: Level = {
      rows: ['@'.padEnd(400, '.'), '#'.repeat(390) + 'ssssssssss'],
      surfaces: { silt: { grip: 0.5 } },
      marks: { s: { solid: 'full', surface: 'silt' } },
      zones: [{ name: 'pool', box: [300, 0, 4, 1] }],
    };
    const svg = traceFigure(level, play({ level, tuning: {}, seconds: 0.5 }), [], 'brindle');
    expect(Buffer.from(await pngOf(svg, parts, 320)).readUInt32BE(16)).to.equal(320);
  });

  it('are escaped where a name is not', () => {
    expect(arcsFigure([arcs('<b>&', {})])).to.contain('<title>Jump arc: &lt;b&gt;&amp;</title>');
  });

  it('become PNG of any width, the same bytes each time', async () => {
    const svg = arcsFigure([arcs('brindle', {})]);
    const png = Buffer.from(await pngOf(svg, parts, 320));
    expect(png.readUInt32BE(16)).to.equal(320);
    expect(png.readUInt32BE(20)).to.equal(200);
    expect(png.equals(Buffer.from(await pngOf(svg, parts, 320)))).to.equal(true);
    let refused: unknown;
    await pngOf(svg, parts, 5).catch((error: unknown) => (refused = error));
    expect(refused).to.be.instanceOf(RangeError);
  });
});
