import { LevelError, compileOutlines, openStage, type CompiledLevel, type Level, type Thrown } from 'apperin';
import { expect } from 'chai';
import { randomizer, type Random } from '../support/random.js';
import { share } from '../support/share.js';

type Point = readonly [number, number];

/** A convex outline around a point: points on a circle in order of their angles. */
function convex(random: Random, x: number, y: number, radius: number): Point[] {
  const angles = Array.from({ length: random.whole(3, 7) }, () => random.between(0, 2 * Math.PI)).sort((a, b) => a - b);
  return angles.map((angle) => [x + radius * Math.cos(angle), y + radius * Math.sin(angle)]);
}

/** A box that is thrown, by the middle of its lower side; what it meets, in the same way. */
interface Asked extends Thrown {
  width: number;
  height: number;
  bevel?: number;
  at: Point;
}
interface Met {
  time: number;
  x: number;
  y: number;
  normal: Point;
}

function meets(level: Level | CompiledLevel, { width, height, bevel, at, ...thrown }: Asked): Met | undefined {
  const stage = openStage(level);
  const isUp = stage.level.yPoints === 'up';
  const box = { x: at[0] - width / 2, y: at[1] - (isUp ? 0 : height), width, height };
  const touch = stage.sweep(box, thrown, bevel === undefined ? {} : { bevel });
  if (!touch) return undefined;
  return { time: touch.time, x: touch.x + width / 2, y: touch.y + (isUp ? 0 : height), normal: [touch.normalX, touch.normalY] }; // prettier-ignore
}

function bodyAt({ width, height, bevel = 0 }: Asked, x: number, y: number): Point[] {
  const half = width / 2;
  if (bevel === 0)
    return [
      [x - half, y],
      [x + half, y],
      [x + half, y + height],
      [x - half, y + height],
    ];
  return [
    [x - half + bevel, y],
    [x + half - bevel, y],
    [x + half, y + bevel],
    [x + half, y + height],
    [x - half, y + height],
    [x - half, y + bevel],
  ];
}

/** Separating-axis test, written for this file: the gap between two convex shapes, negative for how deep they overlap. */
function gapBetween(a: readonly Point[], b: readonly Point[]): number {
  let most = -Infinity;
  for (const shape of [a, b]) {
    shape.forEach(([x, y], i) => {
      const [px, py] = shape[(i + 1) % shape.length]!;
      const length = Math.hypot(px - x, py - y);
      const [nx, ny] = [(py - y) / length, (x - px) / length];
      const project = (points: readonly Point[]) => points.map(([qx, qy]) => nx * qx + ny * qy);
      const [pa, pb] = [project(a), project(b)];
      most = Math.max(most, Math.min(...pb) - Math.max(...pa), Math.min(...pa) - Math.max(...pb));
    });
  }
  return most;
}

const placeAt = ({ at, velocity, acceleration = [0, 0] }: Asked, t: number): Point => [
  at[0] + velocity[0] * t + (acceleration[0] * t * t) / 2,
  at[1] + velocity[1] * t + (acceleration[1] * t * t) / 2,
];

const CASES = { quick: 150, test: 1500, deep: 15_000 };

describe('What a thrown box would meet', () => {
  for (const bevelled of [false, true]) {
    it(`agrees with a separating-axis test, edges and corners of any direction, ${bevelled ? 'bevelled bodies' : 'boxes'}`, function () {
      const random = randomizer(bevelled ? 112 : 111);
      let [hits, misses, corners] = [0, 0, 0];
      for (let i = 0; i < share(CASES); i++) {
        const shapes = [convex(random, 6, 0, random.between(0.3, 3)), convex(random, -6, 2, random.between(0.3, 3))];
        // Slivers thinner than the tolerance are no solids.
        if (
          shapes.some((shape) =>
            shape.some(
              ([x, y], k) =>
                Math.hypot(x - shape[(k + 1) % shape.length]![0], y - shape[(k + 1) % shape.length]![1]) < 0.02,
            ),
          )
        )
          continue;
        const width = random.between(0.3, 2);
        const height = random.between(0.3, 2);
        const asked: Asked = {
          width,
          height,
          ...(bevelled ? { bevel: random.between(0.05, 0.45) * Math.min(width, height) } : {}),
          at: [random.between(-1.5, 1.5), random.between(-3, 3)],
          velocity: [random.between(-9, 9), random.between(-6, 6)],
          acceleration: random.chance(0.5) ? [random.between(-6, 6), random.between(-20, 5)] : [0, 0],
          seconds: 1.5,
        };
        const level = compileOutlines(shapes);
        const met = meets(level, asked);
        const end = met ? met.time : asked.seconds;
        const tolerance = (2 * width) / 2 ** 20;
        const gap = (t: number) =>
          Math.min(...shapes.map((shape) => gapBetween(shape, bodyAt(asked, ...placeAt(asked, t)))));
        // Started inside, it is behind the edges around it.
        if (gap(0) < tolerance) continue;
        // Free all the way to the touch …
        let least = Infinity;
        for (let k = 0; k < 80; k++) least = Math.min(least, gap((end * k) / 80));
        expect(least, `case ${i}`).to.be.at.least(-tolerance);
        if (!met) {
          misses++;
          continue;
        }
        // … touching there, moving in, and the normal is a direction in which the two are apart.
        hits++;
        expect(Math.abs(gap(met.time)), `case ${i}`).to.be.below(tolerance);
        const [vx, vy] = [0, 1].map((axis) => asked.velocity[axis]! + asked.acceleration![axis]! * met.time) as [
          number,
          number,
        ];
        expect(met.normal[0] * vx + met.normal[1] * vy).to.be.below(1e-9);
        expect(Math.hypot(...met.normal)).to.be.closeTo(1, 1e-12);
        expect(
          [met.x, met.y].map((value, axis) => Math.abs(value - placeAt(asked, met.time)[axis]!) < 1e-9),
        ).to.deep.equal([true, true]);
        if (met.normal[0] === 0 || met.normal[1] === 0) corners++;
      }
      this.test!.title += ` (${hits} hits, ${misses} misses, ${corners} by a corner against a level or upright face)`;
      expect(hits).to.be.greaterThan(share(CASES) / 5);
      expect(misses).to.be.greaterThan(share(CASES) / 5);
      expect(corners).to.be.greaterThan(share(CASES) / 30);
    });
  }

  it('is exact against tiles, in the level’s own axes', () => {
    const level = { rows: ['......', '.....#', '######'] };
    const down = meets(level, {
      width: 1,
      height: 1,
      at: [2.5, 1],
      velocity: [0, 0],
      acceleration: [0, 8],
      seconds: 2,
    });
    expect(down).to.deep.equal({ time: 0.5, x: 2.5, y: 2, normal: [0, -1] });
    const right = meets(level, { width: 1, height: 1, at: [2.5, 2], velocity: [2, 0], seconds: 2 });
    expect(right).to.deep.equal({ time: 1, x: 4.5, y: 2, normal: [-1, 0] });
    expect(meets(level, { width: 1, height: 1, at: [2.5, 2], velocity: [-2, 0], seconds: 2 })).to.equal(undefined);
    // Up and down again: the way turns round on the path.
    const thrown = meets(level, {
      width: 1,
      height: 1,
      at: [2.5, 1.5],
      velocity: [0, -4],
      acceleration: [0, 8],
      seconds: 3,
    })!;
    expect(thrown.time).to.be.closeTo(0.5 + Math.sqrt(0.375), 1e-12);
    expect(thrown.y).to.equal(2);
  });

  it('lets a bevelled corner meet the corner of a tile where a box would land on it', () => {
    const level = { rows: ['......', '...###'] };
    const asked = { width: 1, height: 1, at: [2.75, 0.5] as const, velocity: [0, 1] as const, seconds: 3 };
    expect(meets(level, asked)!.y).to.equal(1);
    const bevelled = meets(level, { ...asked, bevel: 0.3 })!;
    // The cut begins at 2.95 and rises at 45 degrees: at 3.0 it is 0.05 above the feet.
    expect(bevelled.y).to.be.closeTo(1.05, 1e-12);
    expect(bevelled.normal[0]).to.be.closeTo(-Math.SQRT1_2, 1e-12);
    expect(bevelled.normal[1]).to.be.closeTo(-Math.SQRT1_2, 1e-12);
  });

  it('meets the same in outlines of tiles as in the tiles', () => {
    const square = compileOutlines([
      [
        [2, -2],
        [4, -2],
        [4, -1],
        [2, -1],
      ],
    ]);
    const tiles = { rows: ['......', '..##..'] };
    const asked: Asked = { width: 0.7, height: 1.3, at: [0, 0], velocity: [3, 2], acceleration: [0, -9], seconds: 3 };
    const met = meets(square, asked)!;
    expect(meets(tiles, { ...asked, velocity: [3, -2], acceleration: [0, 9] })).to.deep.equal({
      ...met,
      y: -met.y + 0,
      normal: [met.normal[0], -met.normal[1] + 0],
    });
    const stage = openStage(square);
    const hero = stage.add({}, { at: [3, 0] });
    for (let i = 0; i < 60; i++) stage.tick(1 / 60);
    expect([hero.support, hero.y]).to.deep.equal(['ground', -1]);
  });

  it('refuses what is out of range, and outlines that enclose nothing', () => {
    const level = compileOutlines([]);
    const asked: Asked = { width: 1, height: 1, at: [0, 0], velocity: [1, 0], seconds: 1 };
    expect(meets(level, asked)).to.equal(undefined);
    expect(() => meets(level, { ...asked, width: 0 })).to.throw(RangeError, /width is 0/);
    expect(() => meets(level, { ...asked, bevel: 0.6 })).to.throw(RangeError, /bevel is 0\.6/);
    expect(() => meets(level, { ...asked, velocity: [NaN, 0] })).to.throw(RangeError, /velocity\.x is NaN/);
    expect(() =>
      compileOutlines([
        [
          [0, 0],
          [1, 0],
        ],
      ]),
    ).to.throw(LevelError, /fewer than three corners/);
    expect(() =>
      compileOutlines([
        [
          [0, 0],
          [1, 1],
          [2, 2],
        ],
      ]),
    ).to.throw(LevelError, /encloses nothing/);
  });
});
