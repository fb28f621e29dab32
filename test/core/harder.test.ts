import * as core from 'apperin';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { HARD_CASES, playCase } from '../support/hard-cases.js';
import { playHarder, rareIn, type Found } from '../support/harder.js';
import { randomizer } from '../support/random.js';

describe('Random harder ground: tiles of all shapes, polygons, lines, one-way slopes', () => {
  it('never lets a body in or through, never gets it stuck, and every kind of touch comes up', function () {
    const found = playHarder(core, randomizer(4), 250_000);
    this.test!.title += ` (${found.ticks} ticks in ${found.runs} levels; deepest ${found.deepest.toFixed(3)} of the tolerance; ${Object.entries(
      found.touches,
    )
      .map(([kind, count]) => `${kind} ${count}`)
      .join(', ')})`;
    expect(found.broken).to.deep.equal([]);
    expect(rareIn(found)).to.deep.equal([]);
  });
});

/** Rules of the sweep and of standing, each with what takes it away in the built core. */
const RULES: readonly [string, string | RegExp, string][] = [
  [
    'the moment of a touch is on the path',
    'const count = rootsOfGap(p, nx, ny, gap);\n\tfor',
    'const count = 0;\n\tfor',
  ],
  ['a touch needs n·v < 0', /if \(goesIn\(p, nx, ny, roots\[i\]\)\) return/, 'return'],
  ['slanted edges are swept', 'best = slantedTouch(p, near, e, best, hull, found);', ''],
  ['corners are swept', 'best = cornerTouch(p, near, e, best, hull, found);', ''],
  ['open ends can be stood on', 'best = openEndTouch(p, near, e, best, hull, found);', ''],
  ['floors are swept', 'const kind = goY < 0 ? 1 : 2;', 'const kind = 2;'],
  ['walls are swept', 'const kind = goX > 0 ? 3 : 4;', 'const kind = 3;'],
  ['ceilings are swept', 'const kind = goY < 0 ? 1 : 2;', 'const kind = 1;'],
  ['walls on the right are swept', 'const kind = goX > 0 ? 3 : 4;', 'const kind = 4;'],
  [
    'the body asks again when it leaves the box',
    /near\.ask\(left - touch, bottom - touch, right \+ touch, top \+ touch\)/,
    'void 0',
  ],
  ['a touch lies over the edge', /if \(high >= start && low <= most\) return better/, 'return better'],
  ['a cone of normals limits a corner', /if \(ex \* ny - ey \* nx >= 0 \|\| nx \* fy - ny \* fx >= 0\) continue;/, ''],
  ['what is followed is not run into', 'near.support = e;', ''],
  ['ground is left where it ends', 'if (t >= clock[8]) leaveSupport(body, way);', ''],
  ['two faces hold a body', /if \(!leaves\(nx, ny, ox, oy, way\) && !leaves\(ox, oy, nx, ny, way\)\)/, 'if (false)'],
  ['a slide ends with its face', 'if (t >= clock[24]) {', 'if (false) {'],
  [
    'steps need headroom',
    /if \(!hasRoom\(body, x, y, 0, up \+ room\) \|\| !hasRoom\(body, x, top \+ room, over, 0\)\) return false;/,
    '',
  ],
  ['steep ground is no ground', /Math\.abs\(slopeOf\(terrain, e\)\) <= motion\.steepest/, 'true'],
  [
    'a face takes the speed into it',
    /if \(into < 0 && \(flatRoof \|\| s\[3\] \* ny <= 0\)\) s\[3\] = s\[3\] - into \* ny \+ 0;/,
    '',
  ],
  ['a body slides along a face', 's[56] = edge;', 's[56] = -1;'],
  [
    'a wall that stops a body blocks it',
    /return s\[2\] === 0 && s\[7\] >= 0 && right === s\[53\] > 0 && .*;/,
    'return false;',
  ],
];

describe('Without one of its rules', () => {
  const file = fileURLToPath(import.meta.resolve('apperin'));
  const source = readFileSync(file, 'utf8');
  const folder = mkdtempSync(join(tmpdir(), 'rules-'));
  after(() => rmSync(folder, { recursive: true }));
  const flatbush = import.meta.resolve('flatbush');

  const counts: Record<number, Record<string, number>> = {};

  /** What the checks say of a core that was tampered with. */
  async function judge(text: string, name: string): Promise<string[]> {
    const path = join(folder, `${name}.mjs`);
    writeFileSync(path, text.replace(/(["'])flatbush\1/, JSON.stringify(flatbush)));
    const broken = (await import(pathToFileURL(path).href)) as typeof core;
    const wrong: string[] = [];
    for (const one of HARD_CASES) {
      const { y, events } = playCase(broken, one, 60);
      if (events !== one.events || Math.abs(y - one.ends[1]) > 1e-6) return [`not as it should be: ${one.name}`];
    }
    for (const seed of [4, 6, 8]) {
      let found: Found;
      try {
        found = playHarder(broken, randomizer(seed), 60_000);
      } catch (error) {
        return [...wrong, (error as Error).message];
      }
      wrong.push(...found.broken);
      // What should come up comes up as often as it did: a rule that keeps a body from standing shows in that.
      const usual = (counts[seed] ??= playHarder(core, randomizer(seed), 60_000).events);
      for (const event of ['touchdown', 'bump', 'leave', 'takeoff'])
        if (Math.abs((found.events[event] ?? 0) / usual[event]! - 1) > 0.05)
          wrong.push(`${event} ${found.events[event]}`);
      if (wrong.length > 0) return wrong;
    }
    return wrong;
  }

  it('the checks see nothing in the core as it is', async () => {
    expect(await judge(source, 'whole')).to.deep.equal([]);
  });

  RULES.forEach(([rule, find, replace], i) =>
    it(`(${rule}) they tell`, async () => {
      const text = source.replace(find, replace);
      expect(text, 'the rule is not in the core').to.not.equal(source);
      expect(await judge(text, `rule-${i}`)).to.not.deep.equal([]);
    }),
  );
});
