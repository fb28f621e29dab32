import { LevelError, compileLevel, curveOf, level, mover, openStage, shape, type CompiledLevel, type DrawnLevel, type Level } from 'apperin'; // prettier-ignore
import { readLevel } from 'apperin/files';
import { expect } from 'chai';
import { SVGPathData } from 'svg-pathdata';
import { type Random, randomizer } from '../support/random.js';
import { share } from '../support/share.js';

/** The same path, as a library reads it that others have written. */
function other(text: string): number[][] {
  const curve: number[][] = [];
  let [x, y, startX, startY] = [0, 0, 0, 0];
  for (const command of new SVGPathData(text).toAbs().normalizeHVZ(false, true, true).normalizeST().qtToC().aToC()
    .commands) {
    // prettier-ignore
    if (command.type === SVGPathData.MOVE_TO) [x, y] = [startX, startY] = [command.x, command.y];
    else if (command.type === SVGPathData.CLOSE_PATH) {
      if (x !== startX || y !== startY) curve.push([x, y, startX, startY]);
      [x, y] = [startX, startY];
    } else if (command.type === SVGPathData.LINE_TO) {
      if (x !== command.x || y !== command.y) curve.push([x, y, command.x, command.y]);
      [x, y] = [command.x, command.y];
    } else if (command.type === SVGPathData.CURVE_TO) {
      curve.push([x, y, command.x1, command.y1, command.x2, command.y2, command.x, command.y]);
      [x, y] = [command.x, command.y];
    }
  }
  return curve;
}

function pathOf(random: Random, withArcs: boolean): string {
  const n = (): string => random.pick([String(random.whole(-9, 9)), random.between(-9, 9).toFixed(2), random.between(-1, 1).toExponential(2), `.${random.whole(1, 9)}`]); // prettier-ignore
  const list = (count: number): string => Array.from({ length: count }, n).join(random.pick([' ', ',', ' , ']));
  const parts = [`M${list(2)}`];
  for (let i = random.whole(1, 8); i > 0; i--) {
    const command = random.pick(['L', 'l', 'H', 'h', 'V', 'v', 'C', 'c', 'S', 's', 'Q', 'q', 'T', 't']);
    const takes = { L: 2, H: 1, V: 1, C: 6, S: 4, Q: 4, T: 2 }[command.toUpperCase()]!;
    parts.push(command + Array.from({ length: random.whole(1, 2) }, () => list(takes)).join(' '));
    if (withArcs && random.chance(0.4)) parts.push(`${random.pick(['a', 'A'])}${random.between(0.5, 6).toFixed(2)} ${random.between(0.5, 6).toFixed(2)} ${random.whole(-400, 400)} ${random.pick(['0', '1'])}${random.pick([' ', ','])}${random.pick(['0', '1'])} ${list(2)}`); // prettier-ignore
  }
  return parts.join(random.pick(['', ' ', '\n'])) + random.pick(['', 'z', ' Z ']);
}

/** Places along a stretch. */
function along(stretch: readonly number[], t: number): [number, number] {
  const at = (i: number): number => {
    if (stretch.length === 4) return stretch[i]! + t * (stretch[i + 2]! - stretch[i]!);
    const u = 1 - t;
    return u * u * u * stretch[i]! + 3 * u * u * t * stretch[i + 2]! + 3 * u * t * t * stretch[i + 4]! + t * t * t * stretch[i + 6]!; // prettier-ignore
  };
  return [at(0), at(1)];
}

/** What decides how a level plays. */
function numbers({ terrain, zones, movers, spawns, bounds, surfaces }: CompiledLevel): unknown {
  const { x1, y1, x2, y2, form, next } = terrain;
  return JSON.stringify([[x1, y1, x2, y2, form, next].map((column) => [...column]), zones, movers, [...spawns], bounds, surfaces], (_, value: unknown) => (ArrayBuffer.isView(value) ? [...(value as Float64Array)] : value === Infinity ? 'Infinity' : value)); // prettier-ignore
}

describe('A route as an SVG path', () => {
  it('is the curve that another reader of such paths has', () => {
    for (let seed = 0; seed < share({ quick: 300, test: 2000, deep: 40_000 }); seed++) {
      const random = randomizer(300 + seed);
      const text = pathOf(random, false);
      const [mine, theirs] = [curveOf(text), other(text)];
      if (theirs.length === 0) {
        expect(mine, text).to.equal('has no length');
        continue;
      }
      expect(mine, text).to.have.lengthOf(theirs.length);
      // (That reader makes a line of a curve whose control point is its start.)
      theirs.forEach((stretch, k) => {
        const own = (mine as number[][])[k]!;
        const same = own.length === stretch.length ? own : [...own.slice(0, 2), ...own.slice(-2)];
        same.forEach((value, i) => expect(value, text).to.be.closeTo(stretch[i]!, 1e-9));
      });
    }
  });

  it('has arcs of ellipses, turned by any angle, to within a hundredth of their size', () => {
    for (let seed = 0; seed < share({ quick: 200, test: 500, deep: 10_000 }); seed++) {
      const random = randomizer(7300 + seed);
      const [rx, ry, turn] = [random.between(0.5, 5), random.between(0.5, 5), random.whole(-720, 720)];
      const [large, sweep] = [random.pick([0, 1]), random.pick([0, 1])];
      const [x, y] = [random.between(-6, 6), random.between(-6, 6)];
      const text = `M0 0A${rx} ${ry} ${turn} ${large}${sweep}${x} ${y}`;
      const [mine, theirs] = [curveOf(text) as number[][], other(text)];
      const places = (curve: readonly number[][], count: number): [number, number][] => curve.flatMap((stretch) => Array.from({ length: count + 1 }, (_, i) => along(stretch, i / count))); // prettier-ignore
      const theirPlaces = places(theirs, 400);
      const size = Math.max(...theirPlaces.map(([px, py]) => Math.hypot(px, py)));
      for (const [px, py] of places(mine, 16)) {
        const nearest = Math.min(...theirPlaces.map(([qx, qy]) => Math.hypot(px - qx, py - qy)));
        expect(nearest, text).to.be.below(0.01 * size);
      }
      expect(mine.at(-1)!.slice(-2), text).to.deep.equal([x, y]);
      const lengths = [mine, theirs].map((curve) => places(curve, 64).reduce((sum, [px, py], i, all) => (i === 0 ? 0 : sum + Math.hypot(px - all[i - 1]![0], py - all[i - 1]![1])), 0)); // prettier-ignore
      expect(lengths[0]! / lengths[1]!, text).to.be.closeTo(1, 2e-3);
    }
    // A quarter of a circle is one to within 0.03 %.
    for (const stretch of curveOf('M1 0A1 1 0 0 1 0 1') as number[][])
      for (let i = 0; i <= 32; i++) expect(Math.hypot(...along(stretch, i / 32))).to.be.closeTo(1, 3e-4);
  });

  it('says what is wrong with one that is none', () => {
    for (const [text, message] of [
      ['', 'has no length'],
      ['M 1 1', 'has no length'],
      ['L 1 1', 'must begin with M'],
      ['M 0 0 X 1 1', 'cannot be read at "X 1 1": L takes 2 numbers'],
      ['M 0 0 L 1', 'cannot be read at "": L takes 2 numbers'],
      ['M 0 0 L 1 1 Z 3', 'cannot be read at "3"'],
      ['M 0 0 L 1 1 M 5 5 L 6 6', 'jumps: a mover has to go all of its way'],
      ['M 0 0 L 1e999 1', 'has a number beyond what can be drawn'],
      ['M0 0'.padEnd(100_001), 'has 100001 characters; at most 100000 are read'],
    ] as const)
      expect(curveOf(text), text.slice(0, 20)).to.equal(message);
  });
});

describe('A level in the words of level files', () => {
  it('is the level that the file is', () => {
    const made = level({
      title: 'The sluice',
      tile: 1,
      rows: ['..........', '..........', '@.........', '####..####'],
      marks: { g: { solid: 'full', name: 'gate' } },
      surfaces: { silt: { grip: 2 } },
      spawns: { quay: [8, 3], loft: { at: [1, 1], facing: -1 } },
      bounds: { left: 'wall' },
      zones: [
        { name: 'race', points: [[4, 1], [6, 1], [6, 3], [4, 3]], tags: ['wet'], current: [1, 0] }, // prettier-ignore
        { name: 'arch', points: [[0, 0], [3, 0], [3, 2], [2, 2], [1.5, 1], [1, 2], [0, 2]] }, // prettier-ignore
        { box: [7, 0, 2, 1] },
      ],
      movers: [
        { name: 'bucket', shapes: [{ solid: [4, 3, 2, 0.5], surface: 'silt' }], route: 'M 0 0 V -2', lap: 4, 'there-and-back': true, stops: [{ at: 0, for: 0.5 }], easing: 'smooth', policy: 'turn' }, // prettier-ignore
        { name: 'plank', shapes: [{ 'one-way': [0, 0, 2, 0.2] }], route: 'M0 0h4v1h-4z', lap: 6, phase: 1 },
        { name: 'float', shapes: [{ 'one-way': [[0, 0], [1, 0]], 'no-ledge': true }] }, // prettier-ignore
      ],
    });
    const yaml = `
title: The sluice
rows: ["..........", "..........", "@.........", "####..####"]
marks: { g: { solid: full, name: gate } }
surfaces: { silt: { grip: 2 } }
spawns: { quay: [8, 3], loft: { at: [1, 1], facing: -1 } }
bounds: { left: wall }
zones:
  - { name: race, points: [[4, 1], [6, 1], [6, 3], [4, 3]], tags: [wet], current: [1, 0] }
  - { name: arch, points: [[0, 0], [3, 0], [3, 2], [2, 2], [1.5, 1], [1, 2], [0, 2]] }
  - { box: [7, 0, 2, 1] }
movers:
  - { name: bucket, shapes: [{ solid: [4, 3, 2, 0.5], surface: silt }], route: M 0 0 V -2, lap: 4, there-and-back: true, stops: [{ at: 0, for: 0.5 }], easing: smooth, policy: turn }
  - { name: plank, shapes: [{ one-way: [0, 0, 2, 0.2] }], route: M0 0h4v1h-4z, lap: 6, phase: 1 }
  - { name: float, shapes: [{ one-way: [[0, 0], [1, 0]], no-ledge: true }] }
`;
    const read = readLevel(yaml);
    const plain = compileLevel(made);
    // Zones may be cut into other pieces: they cover the same.
    const withoutZones = (one: CompiledLevel): CompiledLevel => ({ ...one, zones: [] });
    expect(numbers(withoutZones(plain))).to.equal(numbers(withoutZones(read.compiled)));
    const [mine, theirs] = [openStage(made), openStage(read)];
    for (let x = 0.1; x < 10; x += 0.23)
      for (let y = 0.05; y < 3; y += 0.19) {
        const at = (stage: typeof mine): string[] => stage.overlap({ x, y, width: 1e-6, height: 1e-6 }, { kinds: ['zone'] }).map(({ name }) => name); // prettier-ignore
        expect(at(mine), `${x}, ${y}`).to.deep.equal(at(theirs));
      }
    expect(mine.level.spawns.get('quay')).to.deep.equal({ x: 8, y: 3, facing: 1 });
    // And literals are of the right types as they stand.
    const typed: Level = made;
    expect(typed.rows).to.have.length(4);
  });

  it('may be of free shapes, with boxes, and holes, and lines, in either direction of y', () => {
    for (const yPoints of ['down', 'up'] as const) {
      const up = yPoints === 'up';
      const drawn: DrawnLevel = level({
        yPoints,
        shapes: [
          { solid: [0, up ? -1 : 0, 10, 1] },
          { 'one-way': [2, up ? 1 : -2, 3, 1], name: 'grating' },
          { line: [[8, 0], [8, up ? 3 : -3]] }, // prettier-ignore
          { form: 'solid', points: [[12, 0], [13, 0], [13, 1]] }, // prettier-ignore
        ],
        spawns: { start: [3, 0] },
      });
      const stage = openStage(drawn);
      const hero = stage.add({});
      for (let i = 0; i < 20; i++) stage.tick(1 / 60);
      expect([hero.support, hero.y]).to.deep.equal(['ground', 0]);
      // Of a box that blocks from above the upper side counts.
      const from: [number, number] = [4, up ? 5 : -5];
      expect(stage.ray(from, [4, up ? 0.5 : -0.5])).to.deep.include({
        name: 'grating',
        y: up ? 2 : -2,
        kind: 'one-way',
      });
      expect(stage.hasShape('grating')).to.equal(true);
    }
  });

  it('has shapes and movers for a running stage', () => {
    const stage = openStage({ rows: ['@.....', '######'] });
    stage.addShape(shape({ solid: [3, 0, 1, 1] }), 'crate');
    stage.addMover(mover({ name: 'raft', shapes: [{ 'one-way': [0, 0, 2, 1] }], route: 'M0 0H3', lap: 3, 'there-and-back': true })); // prettier-ignore
    expect(stage.ray([0.2, 0.5], [6, 0.5])).to.deep.include({ name: 'crate', x: 3 });
    for (let i = 0; i < 45; i++) stage.tick(1 / 60);
    expect(stage.mover('raft').x).to.be.closeTo(1.5, 1e-9);
  });

  it('is refused by name where it is none', () => {
    const base = { rows: ['@'] };
    for (const [words, message] of [
      [null, 'a level is empty; it must be a group of keys with rows or shapes'],
      [{ ...base, spwans: {} }, 'there is no key spwans; there are rows'],
      [
        { ...base, movers: [{ name: 'a', shapes: [{ solid: [0, 0, 1, 1] }], lapp: 3 }] },
        'there is no key movers.0.lapp',
      ],
      [{ ...base, movers: [{ name: 'a', shapes: [{}] }] }, 'movers.0.shapes.0 must be one of solid, hole, ground, one-way, line'], // prettier-ignore
      [{ ...base, movers: [{ name: 'a', shapes: [{ solid: [0, 0, 1, 1], 'one-way': [0, 0, 1, 1] }] }] }, 'movers.0.shapes.0 must be one of'], // prettier-ignore
      [{ ...base, movers: [{ name: 'a', shapes: [{ solid: [0, 0, 0, 1] }] }] }, 'movers.0.shapes.0.solid is 0 × 1; both must be above 0'], // prettier-ignore
      [{ ...base, movers: [{ name: 'a', shapes: [{ solid: [0, 0, 1] }] }] }, 'movers.0.shapes.0.solid is [0, 0, 1]; it must be [x, y, width, height]'], // prettier-ignore
      [{ ...base, movers: [{ name: 'a', shapes: [{ solid: [0, 0, 1, 1] }], route: 'M0 0H1' }] }, 'the mover a has a route and needs a lap'], // prettier-ignore
      [{ ...base, movers: [{ name: 'a', shapes: [{ solid: [0, 0, 1, 1] }], route: 'M0 0', lap: 1 }] }, 'the route has no length'], // prettier-ignore
      [{ ...base, movers: [{ name: 'a', shapes: [{ solid: [0, 0, 1, 1] }], lap: 1 }] }, 'lap needs a route'],
      [{ ...base, zones: [null] }, 'zones.0 is empty; it must be a group of keys'],
      [{ ...base, zones: [{ box: [0, 0, 1, 1], points: [] }] }, 'zones.0 must have one of box, points and pieces'],
      [{ shapes: [{ line: [0, 0, 1, 1] }] }, 'shapes.0.line is a box; a line has points'],
      [{ shapes: 3 }, 'shapes is 3; it must be a list of shapes'],
    ] as const)
      expect(() => level(words as never), JSON.stringify(words)).to.throw(LevelError, message);
    // Words that need `level` say so where they are given without it.
    expect(() => openStage({ ...base, movers: [{ name: 'a', shapes: [], route: 'M0 0' as never }] })).to.throw(LevelError, 'an SVG path is read by `level` and `mover`'); // prettier-ignore
  });
});
