import { readInput, readLevel, readTuning } from 'apperin/files';
import { play } from 'apperin/lab';
import { expect } from 'chai';
import { readFileSync, readdirSync } from 'node:fs';
import { missing, playEverything } from '../support/everything.js';
import { randomizer } from '../support/random.js';
import { LEVEL, share } from '../support/share.js';

const DATA = new URL('../../data/tide-mill/', import.meta.url);
const text = (name: string): string => readFileSync(new URL(name, DATA), 'utf8');

const TICKS = { quick: 15_000, test: 250_000, deep: 2_500_000 };

describe('Everything on, at random', () => {
  it('breaks no rule, and everything that has a cause comes up', function () {
    const found = playEverything(randomizer(801), share(TICKS));
    expect(found.broken).to.deep.equal([]);
    if (LEVEL !== 'quick') expect(missing(found)).to.deep.equal([]);
    this.test!.title += ` (${found.ticks} ticks; deepest ${found.deepest.toFixed(3)} of the tolerance; jumps ${JSON.stringify(found.jumps)})`;
  });
});

describe('The demo data', () => {
  /** Each input with its tuning and level, and what it is there to show. */
  const SCENES = {
    leap: ['brindle', 'yard', 'takeoff'],
    late: ['brindle', 'yard', 'leave'],
    double: ['nimble', 'wheelhouse', 'takeoff'],
    slab: ['nimble', 'wheelhouse', 'corner'],
    sill: ['nimble', 'wheelhouse', 'lip'],
    shaft: ['nimble', 'wheelhouse', 'cling'],
    ledge: ['nimble', 'wheelhouse', 'climbed'],
    grating: ['nimble', 'wheelhouse', 'dropThrough'],
    beam: ['nimble', 'wheelhouse', 'footfall'],
    loft: ['nimble', 'wheelhouse', 'glideOff'],
    spring: ['spring', 'wheelhouse', 'takeoff'],
    ramps: ['nimble', 'saltreave.level.svg', 'enter'],
    weir: ['brindle', 'weir', 'bump'],
    bucket: ['brindle', 'lifts.level.svg', 'board'],
    ferry: ['brindle', 'lifts.level.svg', 'alight'],
    sluice: ['brindle', 'lifts.level.svg', 'crushed'],
    hoist: ['brindle', 'hoist', 'crushed'],
  } as const;
  const tuningOf = (name: string) =>
    readTuning(text(`${name}.tuning.yaml`), { open: (other) => ({ text: text(other.replace('./', '')), file: other }) })
      .tuning;

  it('is played in full', () => {
    const inputs = readdirSync(DATA).filter((name) => name.endsWith('.input.csv'));
    expect(inputs.map((name) => name.replace('.input.csv', '')).sort()).to.deep.equal(Object.keys(SCENES).sort());
  });

  for (const [name, [who, where, shows]] of Object.entries(SCENES))
    it(`${name}: the same events at 30, 60, 144 and 240 ticks a second`, () => {
      const level = readLevel(text(where.includes('.') ? where : `${where}.level.yaml`)).compiled;
      const tuning = tuningOf(who);
      const input = readInput(text(`${name}.input.csv`)).rows;
      const seconds = input.at(-1)!.time + 2;
      const runs = [30, 60, 144, 240].map((rate) => play({ level, tuning, input, rate, seconds }));
      const [first] = runs;
      expect(first!.events.map(({ event }) => event)).to.include(shows);
      for (const run of runs) {
        expect(run.events.map(({ event, by, side }) => [event, by, side])).to.deep.equal(
          first!.events.map(({ event, by, side }) => [event, by, side]),
        );
        run.events.forEach((event, i) => {
          const same = first!.events[i]!;
          expect(event.time).to.be.closeTo(same.time!, 1e-7);
          expect(event.x).to.be.closeTo(same.x!, 1e-6 * 0.7);
          expect(event.y).to.be.closeTo(same.y!, 1e-6 * 0.7);
        });
      }
      const { poses, by } = {
        poses: new Set(first!.rows.map(({ pose }) => pose)),
        by: first!.events.map((event) => event.by),
      };
      if (name === 'beam') expect([...poses]).to.include('crouch');
      if (name === 'loft') expect([...poses]).to.include.members(['glide', 'dive']);
      if (name === 'shaft') expect(by.filter((source) => source === 'wall')).to.have.length(2);
      if (name === 'double') expect(by).to.include('air');
      if (name === 'late') expect(by).to.include('coyote');
    });
});
