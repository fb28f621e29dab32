import * as core from 'apperin';
import { expect } from 'chai';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { buildBroken, buildCore, markedRules } from '../support/broken-rules.js';
import { HARD_CASES, playCase } from '../support/hard-cases.js';
import { playHarder, rareIn, type Found } from '../support/harder.js';
import { randomizer } from '../support/random.js';
import { LEVEL, fully, share } from '../support/share.js';

const TICKS = { quick: 8000, test: 250_000, deep: 2_500_000 };

describe('Random harder ground: tiles of all shapes, polygons, lines, one-way slopes', () => {
  it('never lets a body in or through, never gets it stuck, and every kind of touch comes up', function () {
    const found = playHarder(core, randomizer(4), share(TICKS));
    this.test!.title += ` (${found.ticks} ticks in ${found.runs} levels; deepest ${found.deepest.toFixed(3)} of the tolerance; ${Object.entries(
      found.touches,
    )
      .map(([kind, count]) => `${kind} ${count}`)
      .join(', ')})`;
    expect(found.broken).to.deep.equal([]);
    if (LEVEL !== 'quick') expect(rareIn(found)).to.deep.equal([]);
  });
});

/** Rules of the sweep and of standing, each with what its condition is held at; where they stand is marked in the sources. */
const RULES: readonly [rule: string, held: boolean, why: string][] = [
  ['the moment of a touch is on the path', false, 'no moment is found'],
  ['a touch goes in', true, 'what goes out touches too'],
  ['slanted edges are swept where they are', true, 'none is'],
  ['corners are swept where they are', true, 'none is'],
  ['an end that is open can be stood on', true, 'no end is open'],
  ['floors stop what goes down', false, 'none does'],
  ['floors stop what goes down', true, 'they stop what goes up as well, and ceilings nothing'],
  ['walls stop what goes right', false, 'none does'],
  ['walls stop what goes right', true, 'they stop what goes left as well, and walls on the left nothing'],
  ['a level is met where it is swept', true, 'none is'],
  ['the body asks again when it leaves its box', false, 'it goes by what it knew'],
  ['a touch lies over the edge', true, 'edges have no end'],
  ['a cone of normals limits a corner', false, 'corners are met from everywhere'],
  ['what is followed is not run into', false, 'the ground underfoot is'],
  ['ground is left where it ends', false, 'it is stood on beyond its end'],
  ['two faces hold a body', false, 'it slides between them'],
  ['a slide ends with its face', false, 'it goes on in the air'],
  ['steps need headroom', false, 'they are taken into what hangs above'],
  ['steep ground is no ground', true, 'everything is stood on'],
  ['a face takes the speed into it', false, 'it is kept'],
  ['a wall that stops a body blocks it', false, 'it runs on into it'],
];

describe('Without one of its rules', () => {
  const folder = mkdtempSync(join(tmpdir(), 'rules-'));
  after(() => rmSync(folder, { recursive: true }));
  const marked = markedRules();
  const counts: Record<number, Record<string, number>> = {};

  /** The checks that notice something in a core: hard cases each by itself, then random ground where none of them does. */
  async function noticed(file: string): Promise<string[]> {
    const broken = (await import(pathToFileURL(file).href)) as typeof core;
    const cases = HARD_CASES.filter((one) => {
      const { y, events } = playCase(broken, one, 60);
      return events !== one.events || Math.abs(y - one.ends[1]) > 1e-6;
    });
    if (cases.length > 0) return cases.map(({ name }) => name);
    for (const seed of [4, 6, 8]) {
      let found: Found;
      try {
        found = playHarder(broken, randomizer(seed), 60_000);
      } catch (error) {
        return [(error as Error).message];
      }
      // What should come up comes up as often as it did: a rule that keeps a body from standing shows in that.
      const usual = (counts[seed] ??= playHarder(core, randomizer(seed), 60_000).events);
      const odd = ['touchdown', 'bump', 'leave', 'takeoff'].filter(
        (event) => Math.abs((found.events[event] ?? 0) / usual[event]! - 1) > 0.05,
      );
      if (found.broken.length + odd.length > 0) return [`random ground ${seed}: ${[...found.broken, ...odd][0]}`];
    }
    return [];
  }

  fully('the checks see nothing in the core as it is', async () => {
    const file = join(folder, 'whole.mjs');
    await buildCore(file);
    expect(await noticed(file)).to.deep.equal([]);
  });

  it('every rule that is marked is one of these, and the other way round', () => {
    expect([...marked.keys()].sort()).to.deep.equal([...new Set(RULES.map(([rule]) => rule))].sort());
    expect(RULES.length).to.be.at.least(20);
  });

  share({ quick: RULES.slice(2, 3), test: RULES, deep: RULES }).forEach(([rule, held, why], i) =>
    it(`(${rule}: ${why}) under ten checks tell`, async function () {
      const file = join(folder, `rule-${i}.mjs`);
      await buildBroken(marked.get(rule)!, held, file);
      const checks = await noticed(file);
      this.test!.title += ` (${checks.length}: ${checks[0]})`;
      expect(checks.length).to.be.within(1, 9);
    }),
  );
});
