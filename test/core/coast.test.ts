import { openStage, script, type InputRow } from 'apperin';
import { readLevel } from 'apperin/files';
import { expect } from 'chai';
import Flatbush from 'flatbush';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { feature } from 'topojson-client';
import type { Point } from '../support/separate.js';
import { fully } from '../support/share.js';

type World = Parameters<typeof feature>[0];
type Polygons = { coordinates: [number, number][][][] };

/** The outlines of the three largest lands, 20 units for each degree, y down. */
function coasts(): Point[][] {
  const file = createRequire(import.meta.url).resolve('world-atlas/land-50m.json');
  const world = JSON.parse(readFileSync(file, 'utf8')) as World;
  const land = feature(world, world.objects.land!) as unknown as { features: { geometry: Polygons }[] };
  const rings = land.features.flatMap(({ geometry }) => geometry.coordinates.map(([outer]) => outer!));
  rings.sort((a, b) => b.length - a.length);
  return rings.slice(0, 3).map((ring) => ring.map(([x, y]) => [x * 20, -y * 20] as const));
}

/** A key held most of each second, to the right for seven seconds of ten, and a jump in each. */
function walk(seconds: number): InputRow[] {
  return Array.from({ length: seconds }, (_, i): InputRow[] => {
    const action = i % 10 < 7 ? 'right' : 'left';
    return [
      { time: i, action, value: 1 },
      { time: i + 0.3, action: 'jump', value: 1 },
      { time: i + 0.6, action: 'jump', value: 0 },
      { time: i + 0.9, action, value: 0 },
    ];
  }).flat();
}

/** Whether a box has any of a ring's edges in it, or lies within the ring. */
function insideOf(ring: readonly Point[]): (left: number, top: number, right: number, bottom: number) => boolean {
  const index = new Flatbush(ring.length);
  const end = (i: number): Point => ring[(i + 1) % ring.length]!;
  ring.forEach(([x, y], i) => index.add(Math.min(x, end(i)[0]), Math.min(y, end(i)[1]), Math.max(x, end(i)[0]), Math.max(y, end(i)[1]))); // prettier-ignore
  index.finish();
  return (left, top, right, bottom) => {
    for (const i of index.search(left, top, right, bottom)) {
      // The part of the edge within the box, clipped at each side in turn.
      const [[ax, ay], [bx, by]] = [ring[i]!, end(i)];
      let [from, until] = [0, 1];
      for (const [start, step, low, high] of [[ax, bx - ax, left, right], [ay, by - ay, top, bottom]] as const) {
        if (step === 0) {
          if (start <= low || start >= high) until = -1;
          continue;
        }
        const [one, other] = [(low - start) / step, (high - start) / step];
        from = Math.max(from, Math.min(one, other));
        until = Math.min(until, Math.max(one, other));
      } // prettier-ignore
      if (from < until) return true;
    }
    // To the left of its middle an odd number of edges.
    const y = (top + bottom) / 2;
    let odd = false;
    for (const i of index.search(-Infinity, y, left, y)) {
      const [[ax, ay], [bx, by]] = [ring[i]!, end(i)];
      if (ay > y !== by > y && ax + ((y - ay) / (by - ay)) * (bx - ax) < left) odd = !odd;
    }
    return odd;
  };
}

describe('Drawings that nobody made for this: coast lines of a map', () => {
  for (const [land, ring] of coasts().entries())
    fully(
      `${ring.length} points (land ${land + 1}): four minutes of walking and jumping, never inside, never stuck`,
      () => {
        const drawing = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="-3600 -1800 7200 3600"><path class="solid" d="M${ring.map((point) => point.join(',')).join('L')}Z"/></svg>`;
        const level = readLevel(drawing, { file: 'coast.level.svg' }).compiled;
        expect(level.terrain.count).to.be.greaterThan(ring.length * 0.95);
        const inside = insideOf(ring);
        let judged = 0;
        for (let k = 0; k < 4; k++) {
          const [x, y] = ring[Math.floor((k * ring.length) / 4)]!;
          const stage = openStage(level);
          const hero = stage.add({ airJumps: {} }, { at: [x, y - 4], driver: script(walk(60)) });
          const { half, touch } = hero.motion;
          // Vertices were put on a grid.
          const off = 2 * touch;
          const isIn = (): boolean => inside(hero.x - half + off, hero.y - hero.height + off, hero.x + half - off, hero.y - off); // prettier-ignore
          let free = !isIn();
          stage.listen(({ event }) => {
            expect(event).to.not.equal('stuck');
            if (event === 'freed') free = true;
          });
          for (let i = 0; i < 3600; i++) {
            stage.tick(1 / 60);
            expect(Number.isFinite(hero.x + hero.y + hero.vx + hero.vy)).to.equal(true);
            if (!free) continue;
            judged++;
            expect(isIn(), `at ${stage.time}: ${hero.x}, ${hero.y}`).to.equal(false);
          }
        }
        expect(judged).to.be.greaterThan(10_000);
      },
    );
});
