import { compileLevel, compileOutlines, openStage, type CompiledLevel, type DrawnLevel, type Level } from 'apperin';
import { ConvertError, drawingOf, edgeKeys, edgesOf, readLevel, rowsOf } from 'apperin/files';
import { expect } from 'chai';
import { MARKS } from '../support/harder-ground.js';
import { randomLevel } from '../support/make.js';
import { randomizer } from '../support/random.js';
import { problemsOf } from './tuning.test.js';
import { fully, share } from '../support/share.js';

const svg = (body: string, more = ''): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 20 10"${more}>${body}</svg>`;
const SPAWN = '<circle class="spawn" id="start" cx="1" cy="1" r="0.1"/>';
const read = (body: string, more = ''): CompiledLevel => readLevel(svg(body + SPAWN, more)).compiled;

/** The edges of a level, whatever their order, to so many digits. */
function edges({ terrain }: CompiledLevel, digits = 9): string[] {
  const { x1, y1, x2, y2, form } = terrain;
  return [...Array(terrain.boundsFrom).keys()]
    .map((e) => [x1[e]!, y1[e]!, x2[e]!, y2[e]!].map((value) => (value + 0).toFixed(digits)).join(' ') + ` ${form[e]}`)
    .sort();
}
const BOX = edges(compileOutlines({ outlines: [{ form: 'solid', points: [[2, 4], [6, 4], [6, 7], [2, 7]] }] })); // prettier-ignore

describe('Drawn levels', () => {
  for (const [title, body, more] of [
    ['a rect', '<rect class="solid" x="2" y="4" width="4" height="3"/>', ''],
    ['a polygon the other way round', '<polygon class="solid" points="2,4 2,7 6,7 6,4"/>', ''],
    ['a path with relative and short commands', '<path class="solid" d="m2 4h4v3H2z"/>', ''],
    [
      'a group that is turned and moved',
      '<g transform="translate(6,4) rotate(90)"><rect class="solid" width="3" height="4"/></g>',
      '',
    ],
    [
      'nested groups and a matrix',
      '<g transform="scale(2)"><g transform="matrix(1 0 0 1 1 2)" class="solid"><rect width="2" height="1.5"/></g></g>',
      '',
    ],
    [
      'what is used from elsewhere',
      '<defs><rect id="b" width="4" height="3"/></defs><use class="solid" href="#b" x="2" y="4"/>',
      '',
    ],
    [
      'a symbol, by the older link',
      '<symbol id="b"><rect width="4" height="3"/></symbol><use class="solid" xlink:href="#b" transform="translate(2 4)"/>',
      '',
    ],
    ['units of the drawing', '<rect class="solid" x="64" y="128" width="128" height="96"/>', ' data-units="32"'],
    [
      'lengths in px, and classes of an editor',
      '<style>.cls-1{fill:red}</style><rect class="cls-1 solid" x="2px" y="4px" width="4px" height="3px" style="fill:#f00"/>',
      '',
    ],
    [
      'two that touch, and one inside',
      '<rect class="solid" x="2" y="4" width="1" height="3"/><rect class="solid" x="3" y="4" width="3" height="3"/><rect class="solid" x="4" y="5" width="1" height="1"/>',
      '',
    ],
    [
      'others beside it that say nothing, or are hidden',
      '<rect class="solid" x="2" y="4" width="4" height="3"/><rect width="9" height="9"/><g display="none"><rect class="solid" width="9" height="9"/></g><ns:thing xmlns:ns="urn:other" class="solid"/>',
      '',
    ],
  ] as const)
    it(`read ${title}`, () => {
      expect(edges(read(body, more))).to.deep.equal(BOX);
    });

  it('keep holes, by either rule of filling, and pieces drawn over each other', () => {
    const ring = edges(read('<path class="solid" fill-rule="evenodd" d="M2 2H10V8H2Z M4 4H8V6H4Z"/>'));
    expect(ring.length).to.equal(8);
    expect(edges(read('<path class="solid" d="M2 2H10V8H2Z M4 4V6H8V4Z"/>'))).to.deep.equal(ring);
    const frame = '<rect class="solid" x="2" y="2" width="8" height="2"/><rect class="solid" x="2" y="6" width="8" height="2"/><rect class="solid" x="2" y="2" width="2" height="6"/><rect class="solid" x="8" y="2" width="2" height="6"/>'; // prettier-ignore
    expect(edges(read(frame))).to.deep.equal(ring);
  });

  it('follow curves to within the tolerance, the same in circles, arcs and béziers', () => {
    for (const [tolerance, least] of [
      [1 / 256, 40],
      [0.1, 8],
    ] as const) {
      const more = tolerance === 0.1 ? ' data-tolerance="0.1"' : '';
      const { terrain } = read('<circle class="solid" cx="10" cy="5" r="4"/>', more);
      expect(terrain.boundsFrom).to.be.within(least, 4 * least);
      for (let e = 0; e < terrain.boundsFrom; e++) {
        const middle = Math.hypot(
          (terrain.x1[e]! + terrain.x2[e]!) / 2 - 10,
          (terrain.y1[e]! + terrain.y2[e]!) / 2 + 5,
        );
        expect(Math.hypot(terrain.x1[e]! - 10, terrain.y1[e]! + 5)).to.be.closeTo(4, 1e-7);
        expect(4 - middle).to.be.within(-1e-7, tolerance);
      }
    }
    const arcs = read('<path class="solid" d="M6 5A4 4 0 0 1 14 5A4 4 0 0 1 6 5Z"/>').terrain;
    for (let e = 0; e < arcs.boundsFrom; e++)
      expect(Math.hypot(arcs.x1[e]! - 10, arcs.y1[e]! + 5)).to.be.closeTo(4, 1e-7);
    const bent = read('<path class="solid" d="M2 8Q10 -4 18 8Z"/>').terrain;
    for (let e = 0; e < bent.boundsFrom; e++) {
      // On the parabola, or its chord.
      const t = (bent.x1[e]! - 2) / 16;
      expect(-bent.y1[e]!).to.be.closeTo(8 * (1 - t) ** 2 - 8 * t * (1 - t) + 8 * t * t, 1e-7);
    }
  });

  it('hold lines, one-sided ground, one-way pieces, zones, spawns, surfaces, and where each was drawn', () => {
    const level = read(
      `<g class="surface" id="silt" data-grip="2" data-bounce="0.5" data-bounce-from="3"/>
       <line class="solid" x1="1" y1="2" x2="1" y2="6"/><polyline class="solid" id="walk" points="9,5 5,5 3,6" data-surface="silt"/>
       <rect class="one-way" x="10" y="4" width="4" height="1"/><polygon class="zone" id="race" points="4,8 8,8 8,9 6,8.5 4,9" data-tags="hazard, water" data-gravity="0.5" data-current="1 -2"/>
       <rect class="solid" data-name="gate" data-layer="iron" x="15" y="2" width="1" height="3" data-no-wall=""/>
       <rect class="spawn" id="door" x="2" y="3" width="1" height="1" data-facing="-1"/>`,
      ' data-left="wall" data-right="wall" data-bottom="out"',
    );
    const forms = [0, 1, 2, 3].map((form) => edges(level).filter((edge) => edge.endsWith(` ${form}`)));
    expect(forms.map(({ length }) => length)).to.deep.equal([4, 2, 2, 1]);
    // One-sided ground blocks from above, whichever way it was drawn.
    for (let e = 0; e < level.terrain.boundsFrom; e++)
      if (level.terrain.form[e] === 1) expect(level.terrain.ny[e]).to.be.above(0);
    expect(forms[3]).to.deep.equal(['10.000000000 -4.000000000 14.000000000 -4.000000000 3']);
    expect(level.surfaces[1]).to.include({ name: 'silt', grip: 2, bounce: 0.5, bounceFrom: 3 });
    expect(level.zones[0]).to.include({ name: 'race', gravity: 0.5, currentX: 1, currentY: 2 });
    expect(level.zones[0]!.tags).to.deep.equal(['hazard', 'water']);
    expect([level.shapes, level.layers, level.bounds.bottom]).to.deep.equal([['gate'], ['', 'iron'], 'out']);
    expect(level.spawns.get('door')).to.deep.equal({ x: 2.5, y: 4, facing: -1 });
    const told = (edgesOf(level) as { edges: { source?: { name: string; line: number }; surface?: string }[] }).edges;
    expect(told.filter(({ surface }) => surface === 'silt').map(({ source }) => [source!.name, source!.line])).to.deep.equal([['walk', 2], ['walk', 2]]); // prettier-ignore
  });

  it('give ground the surface of what was drawn last, where several lie under it', () => {
    const level = read('<g class="surface" id="a"/><g class="surface" id="b"/><rect class="solid" x="0" y="5" width="20" height="5" data-surface="a"/><rect class="solid" x="5" y="5" width="5" height="1" data-surface="b"/>'); // prettier-ignore
    const { terrain, surfaces } = level;
    const tops = [...Array(terrain.boundsFrom).keys()].filter((e) => terrain.ny[e] === 1).sort((e, f) => terrain.x1[e]! - terrain.x1[f]!); // prettier-ignore
    expect(tops.map((e) => [terrain.x1[e], terrain.x2[e], surfaces[terrain.styles[terrain.style[e]!]!.surface]!.name])).to.deep.equal([[0, 5, 'a'], [5, 10, 'b'], [10, 20, 'a']]); // prettier-ignore
  });

  const first = (text: string): string => {
    const { line, column, message } = problemsOf(() => readLevel(text, { file: 'x.level.svg' }))[0]!;
    return `${line}:${column} ${message}`;
  };
  for (const [title, text, expected] of [
    [
      'an unclosed tag',
      '<svg xmlns="http://www.w3.org/2000/svg">\n<rect class="solid">',
      /^2:\d+ this is not well-formed: unclosed tag/,
    ],
    [
      'an entity bomb',
      '<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]>\n<svg xmlns="http://www.w3.org/2000/svg">&b;</svg>',
      /^2:\d+ this is not well-formed: undefined entity/,
    ],
    ['something else than a drawing', '<html/>', /^1:1 the outermost element is html; it must be svg/],
    [
      'nesting without end',
      `<svg xmlns="http://www.w3.org/2000/svg">${'<g>'.repeat(300)}${'</g>'.repeat(300)}</svg>`,
      /nested more than 256 deep/,
    ],
    ['no class anywhere', svg('<rect width="1" height="1"/>'), /no shape has a class that says what it is/],
    ['NaN in a path', svg('<path class="solid" d="M0 0LNaN 3 4 5Z"/>'), /^1:\d+ the path cannot be read/],
    ['numbers beyond all', svg('<rect class="solid" x="1e300" width="1" height="1"/>'), /reaches beyond ±67108864/],
    ['points that are none', svg('<polygon class="solid" points="1,2 3"/>'), /points must be pairs of numbers/],
    ['a negative size', svg('<rect class="solid" width="-1" height="1"/>'), /cannot have a negative size/],
    [
      'a transform that is none',
      svg('<g transform="spin(4)"><rect class="solid" width="1" height="1"/></g>'),
      /the transform "spin\(4\)" cannot be read/,
    ],
    ['a use of itself', svg('<g id="a" class="solid"><use href="#a"/></g>'), /which it is itself a part of/],
    ['a use of nothing', svg('<use class="solid" href="#none"/>'), /points to "#none", which is not in this drawing/],
    [
      'a surface that is not there',
      svg('<rect class="solid" width="1" height="1" data-surface="ice"/>'),
      /^1:\d+ there is no surface ice; the level has none/,
    ],
    [
      'a bound that is none',
      svg('<rect class="solid" width="1" height="1"/>', ' data-left="soft"'),
      /data-left is "soft"; it must be open, wall, wrap or out/,
    ],
    ['a mover', svg('<rect class="mover" width="1" height="1"/>'), /1:\d+ a mover needs an id/],
    ['two spawns of one name', svg(SPAWN + SPAWN), /two spawns named start/],
    [
      'units of nothing',
      svg('<rect class="solid" width="1" height="1"/>', ' data-units="0"'),
      /data-units is "0"; it must be a number above 0/,
    ],
  ] as const)
    it(`refuse ${title}, with its place`, () => {
      expect(first(text)).to.match(expected);
    });

  fully('are read in bounded time and memory, however they are nested or long', () => {
    // Every level uses the one below twice: two to the sixteenth without a limit.
    const tower = [...Array(20).keys()]
      .map((i) => `<g id="g${i + 1}"><use href="#g${i}"/><use href="#g${i}"/></g>`)
      .join('');
    expect(
      first(svg(`<defs><rect id="g0" class="solid" width="1" height="1"/>${tower}</defs><use href="#g20"/>`)),
    ).to.match(/use is nested more than 16 deep|follows use more than 100000 times/);
    const jagged = [...Array(100_000).keys()].map((i) => `${i / 100},${5 + (i % 2)}`).join(' ');
    expect(read(`<polyline class="solid" points="${jagged}"/>`).terrain.boundsFrom).to.equal(99_999);
    expect(
      first(svg(`<path class="solid" d="M0 0${'A1e7 1e7 0 1 1 1e6 0Z'.repeat(4)}"/>`, ' data-tolerance="1e-12"')),
    ).to.match(/more than 1000000 points|beyond/);
  });

  it('are repaired with a warning where the meaning is plain', () => {
    const warned = (body: string): string[] => readLevel(svg(body + SPAWN)).warnings.map(({ message }) => message);
    expect(warned('<polygon class="solid" points="2,2 6,6 6,2 2,6"/>')[0]).to.contain('crosses itself');
    expect(
      warned('<rect class="solid" width="1" height="1"/><rect class="solid" width="0" height="3"/>')[0],
    ).to.contain('no area');
    expect(
      warned('<rect class="solid" width="1" height="1"/><rect class="solids" width="1" height="1"/>')[0],
    ).to.contain('did you mean solid');
    expect(warned('<rect class="solid" width="1" height="1" data-surfase="a"/>')[0]).to.contain(
      'did you mean data-surface',
    );
    expect(edges(read('<polygon class="solid" points="2,4 6,4 6,4 6,7 4,7 2,7 2,7"/>'))).to.deep.equal(BOX);
  });
});

describe('Converting levels', () => {
  const again = (level: Level): void => {
    const drawn = readLevel(drawingOf(level), { file: 'x.level.svg' });
    const compiled = compileLevel(level);
    expect(edgeKeys(drawn.compiled)).to.deep.equal(edgeKeys(compiled));
    const back = readLevel(rowsOf({ compiled: drawn.compiled, level: drawn.level }, level.tile ?? 1));
    expect(edgeKeys(back.compiled)).to.deep.equal(edgeKeys(compiled));
    expect([...back.compiled.spawns]).to.deep.equal([...compiled.spawns]);
  };

  it('from free shapes to a drawing changes no compiled edge: areas, holes, ground, planks and lines', () => {
    for (const up of [false, true]) {
      const text = `yPoints: ${up ? 'up' : 'down'}
shapes:
  - { solid: [0, 4, 10, 2], surface: silt }
  - { solid: [[12, 0], [18, 0], [18, 6], [12, 6]] }
  - { one-way: [[3, 2], [6, 2]], name: grating }
  - { ground: [[20, 4], [22, 3], [25, 3]] }
  - { line: [[8, 1], [8, 3], [9, 3]], layer: iron }
surfaces: { silt: { grip: 2 } }
zones: [{ name: race, points: [[4, 0], [6, 0], [6, 3]], current: [1, 0] }]
movers: [{ name: bucket, shapes: [{ solid: [4, 2, 2, 0.5] }], route: 'M 0 0 V 2', lap: 4, there-and-back: true }]
spawns: { start: [1, 4], far: { at: [13, 0], facing: -1 } }
bounds: { left: wall, bottom: out }
`;
      const { level, compiled } = readLevel(text, { file: 'x.level.yaml' });
      const drawn = readLevel(drawingOf(level), { file: 'x.level.svg' });
      expect(drawn.warnings).to.deep.equal([]);
      expect(edgeKeys(drawn.compiled)).to.deep.equal(edgeKeys(compiled));
      expect([...drawn.compiled.spawns]).to.deep.equal([...compiled.spawns]);
      expect(drawn.compiled.extent).to.deep.equal(compiled.extent);
      expect(drawn.compiled.zones.map(({ name }) => name)).to.deep.equal(['race']);
      expect(drawn.compiled.movers.map(({ name }) => name)).to.deep.equal(['bucket']);
    }
    // What is solid all around is some units thick; what one area carries on one side only, no drawing can say.
    const cave = readLevel('shapes: [{ hole: [0, 0, 8, 4] }]\n').level;
    expect(edgeKeys(readLevel(drawingOf(cave), { file: 'x.level.svg' }).compiled)).to.include.members(edgeKeys(compileOutlines(cave as DrawnLevel)));
    const both = readLevel('shapes: [{ solid: [0, 0, 2, 2], surface: silt }, { solid: [2, 0, 2, 2] }]\nsurfaces: { silt: { grip: 2 } }\n').level;
    expect(() => drawingOf(both)).to.throw(ConvertError, 'areas that touch carry different things');
  }); // prettier-ignore

  it('from rows to a drawing and back changes no compiled edge: random tiles of all shapes', () => {
    const random = randomizer(91);
    for (let i = 0; i < share({ quick: 3, test: 25, deep: 250 }); i++) {
      const level = randomLevel(random);
      const strange = Object.keys(MARKS);
      const rows = level.rows.map((row) =>
        row.replace(/#/g, (tile) => (random.chance(0.3) ? random.pick([...strange, '/', '\\']) : tile)),
      );
      again({
        ...level,
        rows,
        marks: MARKS,
        tile: random.pick([1, 0.5, 16]),
        yPoints: random.pick(['down', 'up'] as const),
        origin: [0, random.whole(-3, 3)],
      });
    }
  });

  it('says what rows cannot hold', () => {
    for (const body of [
      '<line class="solid" x1="1" y1="1" x2="4" y2="1"/>',
      '<rect class="solid" x="1.3" y="2" width="1" height="1"/>',
      '<circle class="solid" cx="5" cy="5" r="2"/>',
    ]) {
      const { compiled, level } = readLevel(svg(body + SPAWN));
      expect(() => rowsOf({ compiled, level }, 1), body).to.throw(ConvertError);
    }
  });

  it('opens on a stage like any other', () => {
    const stage = openStage(read('<rect class="solid" x="0" y="8" width="20" height="2"/>'));
    const hero = stage.add({});
    for (let i = 0; i < 120; i++) stage.tick(1 / 60);
    expect([hero.y, hero.support]).to.deep.equal([8, 'ground']);
  });
});
