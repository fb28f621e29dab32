import { compileOutlines, openStage, type Area, type Level, type OverlapList, type Stage } from 'apperin';
import { expect } from 'chai';
import { memoryOf } from '../support/memory-of.js';
import { randomizer, type Random } from '../support/random.js';
import { fully, share } from '../support/share.js';

type Point = readonly [number, number];

const ROOM: Level = {
  rows: ['........', '........', '..==....', '@......#', '########'],
  marks: { G: { solid: 'full', name: 'gate', layer: 'iron', surface: 'ice' } },
  surfaces: { ice: { grip: 0.1 } },
  zones: [
    { name: 'coin', box: [4, 3, 0.5, 0.5], tags: ['coin'] },
    { name: 'pool', pieces: [[[0, 2], [2, 2], [2, 4], [0, 4]]], current: [1, 0], tags: ['wet'] }, // prettier-ignore
  ],
  movers: [
    {
      name: 'lift',
      shapes: [{ form: 'solid', points: [[5, 2], [6, 2], [6, 2.5], [5, 2.5]] }], // prettier-ignore
      route: { curve: [[0, 0, 0, -2]], lap: 4, keyPoints: [0, 1, 0] },
    },
  ],
};

describe('What overlaps', () => {
  const stage = openStage(ROOM);
  const hero = stage.add({}, { at: [1, 4] });
  const namesIn = (area: Area, options?: Parameters<Stage['overlap']>[1]): string[] =>
    stage.overlap(area, options).map(({ kind, name, mover }) => [kind, name, mover].filter(Boolean).join(' '));

  it('an area is listed: shapes, movers, zones, characters', () => {
    expect(namesIn({ x: 0, y: 3.5, width: 8, height: 1 })).to.deep.equal(['solid', 'zone pool', 'character hero']);
    expect(namesIn({ x: 2.2, y: 1.9, width: 1, height: 0.2 })).to.deep.equal(['one-way']);
    expect(namesIn({ x: 5.2, y: 2.1, width: 0.1, height: 0.1 })).to.deep.equal(['solid lift']);
    expect(namesIn({ x: 4.25, y: 3.25, radius: 0.1 })).to.deep.equal(['zone coin']);
    expect(namesIn({ points: [[4, 1], [4.4, 1], [4.2, 3.2]] })).to.deep.equal(['zone coin']); // prettier-ignore
    expect(stage.overlap({ x: 0.5, y: 3, width: 1, height: 1 }).at(-1)!.character).to.equal(hero);
  });

  it('is what shares some area: to touch is not enough, to be within is', () => {
    expect(namesIn({ x: 2, y: 3, width: 1, height: 1 })).to.deep.equal([]);
    expect(namesIn({ x: 2, y: 3, width: 1, height: 1.000001 })).to.deep.equal(['solid']);
    expect(namesIn({ x: 3, y: 4.2, width: 0.1, height: 0.1 })).to.deep.equal(['solid']);
    expect(namesIn({ x: 3, y: 4.5, radius: 0.01 })).to.deep.equal(['solid']);
    // Just a tile.
    expect(namesIn({ x: 7, y: 3, width: 1, height: 1 })).to.deep.equal(['solid']);
    expect(namesIn({ x: 6, y: 3, width: 1, height: 1 })).to.deep.equal([]);
  });

  it('can be told apart by kind, layer and character', () => {
    const all = { x: -1, y: -1, width: 20, height: 20 };
    expect(namesIn(all)).to.have.members([
      'one-way',
      'solid',
      'solid lift',
      'zone coin',
      'zone pool',
      'character hero',
    ]);
    expect(namesIn(all, { kinds: ['zone'] })).to.deep.equal(['zone coin', 'zone pool']);
    expect(namesIn(all, { kinds: ['solid', 'character'], characters: [] })).to.deep.equal(['solid', 'solid lift']);
    const gate = openStage({ ...ROOM, rows: ['........', '........', '..==.G..', '@......#', '########'] });
    expect(
      gate.overlap(all, { layers: ['iron'], kinds: ['solid'] }).map(({ name, layer }) => [name, layer]),
    ).to.deep.equal([['gate', 'iron']]);
    expect(
      gate.overlap({ x: 5, y: 2, width: 1, height: 0.4 }, { layers: [''], kinds: ['solid'] }).map(({ mover }) => mover),
    ).to.deep.equal(['lift']);
    gate.setShape('gate', false);
    expect(gate.overlap(all, { layers: ['iron'] }).filter(({ kind }) => kind === 'solid')).to.deep.equal([]);
  });

  it('is what is there now: switched off is gone, movers are where they are, zones too', () => {
    for (let i = 0; i < 60; i++) stage.tick(1 / 60);
    expect(namesIn({ x: 5.2, y: 2.1, width: 0.1, height: 0.1 })).to.deep.equal([]);
    expect(namesIn({ x: 5.2, y: 1.1, width: 0.1, height: 0.1 })).to.deep.equal(['solid lift']);
    stage.setZone('coin', false);
    expect(namesIn({ x: 4.25, y: 3.25, radius: 0.1 })).to.deep.equal([]);
    stage.setZone('coin', true);
  });

  it('beyond a bound that is a wall is solid', () => {
    const walled = openStage({ ...ROOM, bounds: { left: 'wall', right: 'wall' } });
    expect(walled.overlap({ x: -5, y: 1, width: 1, height: 1 }).map(({ kind }) => kind)).to.deep.equal(['solid']);
    expect(stage.overlap({ x: -5, y: 1, width: 1, height: 1 })).to.deep.equal([]);
  });

  it('is refused where there is no such area, kind or layer', () => {
    for (const [area, message] of [
      [{ x: NaN, y: 0, width: 1, height: 1 }, 'x is NaN'],
      [{ x: 0, y: 0, width: 0, height: 1 }, 'width is 0; it must be above 0'],
      [{ x: 0, y: 0, radius: -1 }, 'radius is -1'],
      [{ points: [[0, 0], [1, 0]] }, 'at least three'], // prettier-ignore
      [{ points: [[0, 0], [1, 1], [2, 2]] }, 'without area'], // prettier-ignore
      [{ points: [[0, 0], [2, 0], [1, 0.5], [1, 2]] }, 'not convex'], // prettier-ignore
      [null, 'the area is empty'],
    ] as const)
      expect(() => stage.overlap(area as unknown as Area)).to.throw(RangeError, message);
    expect(() => stage.overlap({ x: 0, y: 0, radius: 1 }, { kinds: ['sold' as never] })).to.throw(
      RangeError,
      'there is no kind sold',
    );
    expect(() => stage.overlap({ x: 0, y: 0, radius: 1 }, { layers: ['mist'] })).to.throw(
      RangeError,
      'there is no layer mist',
    );
  });
});

describe('A ray', () => {
  const stage = openStage({ ...ROOM, rows: ['........', '........', '..==.G..', '@......#', '########'], movers: [] });
  const hero = stage.add({}, { at: [1, 4] });

  it('meets the first thing in its way', () => {
    const hit = stage.ray([3.5, 3.5], [20, 3.5])!;
    expect(hit).to.deep.include({
      kind: 'solid',
      x: 7,
      y: 3.5,
      normalX: -1,
      normalY: 0,
      distance: 3.5,
      inside: false,
      name: '',
      mover: '',
    });
    expect(stage.ray([5.5, 0], [5.5, 9])).to.deep.include({
      y: 2,
      name: 'gate',
      layer: 'iron',
      surface: 'ice',
      normalY: -1,
    });
    expect(stage.ray([5.5, 0], { direction: [0, 2], length: 1.5 })).to.equal(undefined);
    expect(stage.ray([5.5, 0], { direction: [0, 2], length: 2 })).to.deep.include({ distance: 2 });
    expect(stage.ray([3.5, 3.5], [6.9, 3.5])).to.equal(undefined);
  });

  it('meets what blocks from one side from that side only, and characters where that is asked', () => {
    expect(stage.ray([2.5, 1], [2.5, 3])).to.deep.include({ kind: 'one-way', y: 2 });
    expect(stage.ray([2.5, 3], [2.5, 1])).to.equal(undefined);
    expect(stage.ray([2.5, 1], [2.5, 3], { kinds: ['solid'] })).to.equal(undefined);
    expect(stage.ray([4, 3.5], [0.1, 3.5])).to.equal(undefined);
    const hit = stage.ray([4, 3.5], [0.1, 3.5], { characters: [hero] })!;
    expect([hit.kind, hit.character, hit.normalX]).to.deep.equal(['character', hero, 1]);
    expect(hit.x).to.be.closeTo(1 + hero.motion.width / 2, 1e-12);
  });

  it('that begins within something solid is inside; where a shape is switched off it goes through', () => {
    expect(stage.ray([5.5, 2.5], [5.5, 0])).to.deep.include({
      inside: true,
      distance: 0,
      name: 'gate',
      normalX: 0,
      normalY: 0,
    });
    stage.setShape('gate', false);
    expect(stage.ray([5.5, 2.5], [5.5, 0])).to.equal(undefined);
    expect(stage.ray([5.5, 0], [5.5, 9])).to.deep.include({ y: 4 });
    stage.setShape('gate', true);
  });

  it('is refused where it is none', () => {
    expect(() => stage.ray([0, 0], [NaN, 1])).to.throw(RangeError, 'to.x is NaN');
    expect(() => stage.ray([0, 0], { direction: [0, 0], length: 1 })).to.throw(RangeError, 'direction is 0, 0');
    expect(() => stage.ray([0, 0], { direction: [1, 0], length: -1 })).to.throw(RangeError, 'length is -1');
    expect(() => stage.ray([0] as never, [1, 1])).to.throw(RangeError, 'from is');
  });
});

describe('A box that is moved', () => {
  const stage = openStage(ROOM);

  it('meets what its front comes to, and nothing that it only touches', () => {
    const hit = stage.sweep({ x: 3, y: 3, width: 0.5, height: 1 }, [6, 0])!;
    expect(hit.x).to.be.closeTo(6.5, 1e-9);
    expect(hit).to.deep.include({ kind: 'solid', normalX: -1, normalY: 0, inside: false });
    expect(hit.distance).to.be.closeTo(3.5, 1e-9);
    expect(stage.sweep({ x: 3, y: 3, width: 0.5, height: 1 }, [3, 0])).to.equal(undefined);
    expect(stage.sweep({ x: 5.2, y: 0, width: 0.2, height: 0.5 }, [0, 3])).to.deep.include({
      mover: 'lift',
      y: 1.5,
      normalY: -1,
    });
    expect(stage.sweep({ x: 2, y: 1, width: 0.5, height: 0.5 }, [0, 1])).to.deep.include({ kind: 'one-way', y: 1.5 });
    expect(stage.sweep({ x: 2, y: 2.5, width: 0.5, height: 0.5 }, [0, -2])).to.equal(undefined);
    expect(stage.sweep({ x: 7.2, y: 3.2, width: 0.1, height: 0.1 }, [0, -1])).to.deep.include({
      inside: true,
      distance: 0,
    });
    // Thrown, it meets what moves as well, and says when.
    const falls = { velocity: [0, 0], acceleration: [0, 6], seconds: 3 } as const;
    const lands = stage.sweep({ x: 5.2, y: 0, width: 0.2, height: 0.5 }, falls)!;
    expect([lands.mover, lands.y, lands.distance]).to.deep.equal(['lift', 1.5, 1.5]);
    expect(lands.time).to.be.closeTo(Math.sqrt(0.5), 1e-12);
    expect(stage.sweep({ x: 5.2, y: 0, width: 0.2, height: 0.5 }, { ...falls, seconds: 0.7 })).to.equal(undefined);
    expect(() => stage.sweep({ x: 0, y: 0, width: 1, height: 1 }, { ...falls, seconds: 0 })).to.throw(RangeError, 'seconds is 0; it must be above 0 and at most 3600'); // prettier-ignore
    expect(() => stage.sweep({ x: 0, y: 0, width: 1, height: 1 }, undefined as never)).to.throw(RangeError, 'by is empty; it must be [dx, dy]'); // prettier-ignore
    expect(() => stage.sweep({ x: 0, y: 0, width: 0, height: 1 }, [1, 0])).to.throw(RangeError, 'width is 0');
    expect(() => stage.sweep({ x: 0, y: 0, width: 1, height: 1 }, [1, NaN])).to.throw(RangeError, 'by.y is NaN');
  });
});

// ——— Against a plain test over all shapes, written for this file ———

interface Plain {
  kind: string;
  name: string;
  points: Point[];
}

/** Convex outlines, each in a cell of its own, lines between them, all in a level whose y axis points up. */
function scene(random: Random): { stage: Stage; shapes: Plain[] } {
  const shapes: Plain[] = [];
  for (let column = 0; column < 4; column++)
    for (let row = 0; row < 4; row++) {
      const [cx, cy] = [column * 3, row * 3];
      if (random.chance(0.3)) {
        const [a, b]: Point[] = [
          [cx + random.between(-1.2, 0), cy + random.between(-1.2, 1.2)],
          [cx + random.between(0.1, 1.2), cy + random.between(-1.2, 1.2)],
        ];
        shapes.push({ kind: random.pick(['one-way', 'line']), name: '', points: [a!, b!] });
        continue;
      }
      const angles = Array.from({ length: random.whole(3, 7) }, () => random.between(0, 2 * Math.PI)).sort(
        (a, b) => a - b,
      );
      const radius = random.between(0.3, 1.4);
      const points = angles.map((angle): Point => [cx + radius * Math.cos(angle), cy + radius * Math.sin(angle)]);
      if (areaOf(points) < 0.02) continue;
      shapes.push({ kind: 'solid', name: random.chance(0.4) ? `s${column}${row}` : '', points });
    }
  const stage = openStage(
    compileOutlines({
      yPoints: 'up',
      outlines: shapes.map(({ kind, name, points }) => ({
        form: kind as 'solid',
        points,
        ...(name ? { carry: { name } } : {}),
      })),
    }),
  );
  for (const shape of [...shapes])
    if (shape.name && random.chance(0.3)) {
      stage.setShape(shape.name, false);
      shapes.splice(shapes.indexOf(shape), 1);
    }
  return { stage, shapes };
}

const areaOf = (points: readonly Point[]): number =>
  Math.abs(
    points.reduce(
      (sum, [x, y], i) => sum + x * points[(i + 1) % points.length]![1] - y * points[(i + 1) % points.length]![0],
      0,
    ),
  ) / 2;

/** How far two convex outlines (or a stretch) are apart; below 0 where they overlap. A circle is a point with a radius. */
function apart(a: readonly Point[], b: readonly Point[]): number {
  let most = -Infinity;
  for (const shape of [a, b])
    shape.forEach(([x, y], i) => {
      const [px, py] = shape[(i + 1) % shape.length]!;
      const length = Math.hypot(px - x, py - y);
      if (length === 0) return;
      const [nx, ny] = [(py - y) / length, (x - px) / length];
      const along = (points: readonly Point[]): number[] => points.map(([qx, qy]) => qx * nx + qy * ny);
      const [one, two] = [along(a), along(b)];
      most = Math.max(most, Math.min(...one) - Math.max(...two), Math.min(...two) - Math.max(...one));
    });
  return most;
}

function fromPoint(points: readonly Point[], [x, y]: Point, closed: boolean): number {
  let inside = closed;
  let least = Infinity;
  const orient =
    points.reduce(
      (sum, [ax, ay], i) => sum + ax * points[(i + 1) % points.length]![1] - ay * points[(i + 1) % points.length]![0],
      0,
    ) > 0
      ? 1
      : -1;
  points.forEach(([ax, ay], i) => {
    const [bx, by] = points[(i + 1) % points.length]!;
    const [dx, dy] = [bx - ax, by - ay];
    const t = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy)));
    least = Math.min(least, Math.hypot(ax + t * dx - x, ay + t * dy - y));
    if ((dx * (y - ay) - dy * (x - ax)) * orient < 0) inside = false;
  });
  return inside ? -least : least;
}

describe('Questions to the level', () => {
  it('have the answers of a plain test over all shapes', () => {
    const random = randomizer(9100);
    const overlaps: OverlapList = { count: 0, found: [] };
    let near = 0;
    let asked = 0;
    const hits = { overlap: 0, ray: 0 };
    const scenes = share({ quick: 12, test: 60, deep: 2000 });
    for (let k = 0; k < scenes; k++) {
      const { stage, shapes } = scene(random);
      for (let i = 0; i < 500; i++) {
        asked++;
        const [x, y] = [random.between(-2, 11), random.between(-2, 11)];
        const kind = random.whole(0, 2);
        const size = random.between(0.05, 2);
        const area: Area =
          kind === 0
            ? { x, y, width: size, height: random.between(0.05, 2) }
            : kind === 1
              ? { x, y, radius: size }
              : { points: [[x, y], [x + size, y + random.between(-0.5, 0.5)], [x + size / 2, y + size]] }; // prettier-ignore
        const corners: Point[] =
          'points' in area ? [...area.points] : 'width' in area ? [[x, y], [x + area.width, y], [x + area.width, y + area.height], [x, y + area.height]] : []; // prettier-ignore
        const gaps = shapes.map(({ points, kind: what }) =>
          corners.length > 0 ? apart(points, corners) : fromPoint(points, [x, y], what === 'solid') - size,
        );
        if (gaps.some((gap) => Math.abs(gap) < 1e-7)) {
          near++;
          continue;
        }
        const wanted = new Set(shapes.filter((_, n) => gaps[n]! < 0).map(({ kind: what, name }) => `${what} ${name}`));
        const given = stage
          .overlap(area, {}, overlaps)
          .slice(0, overlaps.count)
          .map(({ kind: what, name }) => `${what} ${name}`);
        expect([...given].sort(), `scene ${k}, question ${i}: ${JSON.stringify(area)}`).to.deep.equal(
          [...wanted].sort(),
        );
        hits.overlap += given.length;
        // A ray from there.
        const to: Point = [x + random.between(-8, 8), y + random.between(-8, 8)];
        const [dx, dy] = [to[0] - x, to[1] - y];
        let first = Infinity;
        let unsure = false;
        for (const { kind: what, points } of shapes) {
          const inside = what === 'solid' ? fromPoint(points, [x, y], true) : Infinity;
          if (Math.abs(inside) < 1e-6) unsure = true;
          if (inside < 0) first = 0;
          for (let n = 0; n < (what === 'solid' ? points.length : 1); n++) {
            const [ax, ay] = points[n]!;
            const [bx, by] = points[(n + 1) % points.length]!;
            const cross = dx * (by - ay) - dy * (bx - ax);
            const t = ((ax - x) * (by - ay) - (ay - y) * (bx - ax)) / cross;
            const u = ((ax - x) * dy - (ay - y) * dx) / cross;
            if (Math.abs(u) < 1e-6 || Math.abs(u - 1) < 1e-6 || Math.abs(t) < 1e-6 || Math.abs(t - 1) < 1e-6)
              unsure = true;
            // From above only: against the upward normal of a line from left to right.
            if (what === 'one-way' && dx * -(by - ay) + dy * (bx - ax) >= 0) continue;
            if (t >= 0 && t <= 1 && u >= 0 && u <= 1) first = Math.min(first, t);
          }
        }
        if (unsure) {
          near++;
          continue;
        }
        const met = stage.ray([x, y], to);
        expect(met === undefined, `scene ${k}, ray ${i} from ${x}, ${y} to ${to.join()}`).to.equal(first === Infinity);
        if (met === undefined) continue;
        hits.ray++;
        expect(met.distance).to.be.closeTo(first * Math.hypot(dx, dy), 1e-5);
      }
    }
    expect(near).to.be.below(asked / 20);
    expect(hits.overlap).to.be.greaterThan(scenes * 50);
    expect(hits.ray).to.be.greaterThan(scenes * 50);
  });

  fully('take no memory when they are given where to write', function () {
    const grown = memoryOf('questions');
    this.test!.title += ` (${grown.toFixed(2)} B a question)`;
    // Less than one number each: nothing is kept, and nothing goes by the size of the answer.
    expect(grown).to.be.below(8);
  });
});

describe('A zone', () => {
  it('that is taken is left, is nowhere until it is back, and is part of snapshots', () => {
    const stage = openStage(ROOM);
    const hero = stage.add({}, { at: [4.25, 4] });
    const told: string[] = [];
    hero.on('enter', ({ zone, tags }) => {
      told.push(`enter ${zone}`);
      if (tags.includes('coin')) stage.setZone(zone, false);
    });
    hero.on('exit', ({ zone }) => told.push(`exit ${zone}`));
    const before = stage.snapshot();
    stage.tick(1 / 60);
    expect(told).to.deep.equal(['enter coin', 'exit coin']);
    expect(stage.hasZone('coin')).to.equal(false);
    expect(hero.zones).to.deep.equal([]);
    const taken = stage.snapshot();
    stage.restore(before);
    expect(stage.hasZone('coin')).to.equal(true);
    stage.restore(taken);
    expect(stage.hasZone('coin')).to.equal(false);
    expect(() => stage.setZone('con', true)).to.throw(RangeError, 'there is no zone con; the level has coin, pool');
  });

  it('can be seen by a character', () => {
    const stage = openStage(ROOM);
    const hero = stage.add({}, { at: [1, 4] });
    stage.tick(1 / 60);
    expect(hero.zones).to.deep.equal(['pool']);
  });
});

describe('What an event met', () => {
  it('is said: shape, surface and mover', () => {
    const stage = openStage({
      rows: ['........', '@.......', '........', '.....G.#', '##.#####'],
      marks: { G: { solid: 'full', name: 'gate', surface: 'ice' } },
      surfaces: { ice: { grip: 0.1 } },
      movers: [{ name: 'raft', shapes: [{ form: 'solid', points: [[0, 3], [2, 3], [2, 3.5], [0, 3.5]] }] }], // prettier-ignore
    });
    const list: string[] = [];
    stage.listen(({ event, shape, surface, mover }) => {
      if (['touchdown', 'leave', 'bump'].includes(event)) list.push([event, shape, surface, mover].join(':'));
    });
    const hero = stage.add(
      { slope: { step: 0 } },
      { driver: { read: (into) => into.start === 0 && into.push(0, 'right', 1) } },
    );
    for (let i = 0; i < 240; i++) stage.tick(1 / 60);
    expect(list).to.include('touchdown:::raft');
    expect(list).to.include('leave:::raft');
    expect(list).to.include('bump:gate:ice:');
    hero.place(5.5, 1);
    hero.letGo();
    for (let i = 0; i < 120; i++) stage.tick(1 / 60);
    stage.setShape('gate', false);
    expect(list).to.include('touchdown:gate:ice:');
    expect(list).to.include('leave:gate:ice:');
  });
});
