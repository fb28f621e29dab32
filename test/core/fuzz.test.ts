import { openStage, script, type Character, type Level } from 'apperin';
import { expect } from 'chai';
import { depthInside } from '../support/everything.js';
import { randomInput, randomLevel, livelyTuning } from '../support/make.js';
import { randomizer } from '../support/random.js';
import { share } from '../support/share.js';

/** Cells that can be reached from the start by steps to a side, for a point: nothing gets out of them but through a wall. */
function reachable(level: Level, column: number, row: number): Set<number> {
  const width = level.rows[0]!.length;
  const seen = new Set<number>();
  const open = [[column, row] as const];
  while (open.length > 0) {
    const [c, r] = open.pop()!;
    if (c < 0 || r < 0 || c >= width || r >= level.rows.length || level.rows[r]![c] === '#' || seen.has(r * width + c))
      continue;
    seen.add(r * width + c);
    open.push([c + 1, r], [c - 1, r], [c, r + 1], [c, r - 1]);
  }
  return seen;
}

const LEVELS = { quick: 10, test: 250, deep: 2500 };

describe('Random levels, bodies, tunings and inputs', () => {
  it('never put a body inside a solid, through one, or into no number; nothing gets stuck', function () {
    const random = randomizer(71);
    const counts: Record<string, number> = {};
    let ticks = 0;
    let deepest = 0;
    for (let i = 0; i < share(LEVELS); i++) {
      const level = randomLevel(random);
      const tuning = livelyTuning(random);
      // A fifth of them are far too fast for their ticks.
      if (random.chance(0.2)) tuning.run = { ...tuning.run!, speed: random.between(100, 20_000) };
      // Half of them jump whole tiles, so that feet graze tops and heads graze undersides.
      if (random.chance(0.5)) tuning.jump = { ...tuning.jump!, height: random.whole(1, 4), lowestHop: 1 };
      if (random.chance(0.3)) tuning.body = { width: random.pick([0.5, 1]), height: random.pick([0.5, 1, 2]) };
      const rate = random.pick([15, 30, 60, 144, 240]);
      const stage = openStage(level);
      let hero: Character;
      try {
        hero = stage.add(tuning, { driver: script(randomInput(random, 4, 8)) });
      } catch (error) {
        // A goal that does not go with the rest, or a body too large for its start.
        expect((error as Error).name).to.match(/TuningError|RangeError/);
        continue;
      }
      stage.listen(({ event }) => (counts[event] = (counts[event] ?? 0) + 1));
      const middle = (): readonly [number, number] => [Math.floor(hero.x), Math.floor(hero.y - hero.height / 2)];
      const cells = reachable(level, ...middle());
      for (let tick = 0; tick < 4 * rate; tick++) {
        stage.tick(1 / rate);
        ticks++;
        for (const value of [hero.x, hero.y, hero.vx, hero.vy]) expect(value).to.satisfy(Number.isFinite);
        const depth = depthInside(level, hero);
        deepest = Math.max(deepest, depth / hero.motion.touch);
        expect(depth, `level ${i}, tick ${tick}`).to.be.at.most(hero.motion.touch * (1 + 1e-6));
        const [column, row] = middle();
        expect(cells.has(row * level.rows[0]!.length + column), `level ${i}, tick ${tick}: through a wall`).to.equal(
          true,
        );
      }
    }
    this.test!.title += ` (${ticks} ticks; deepest ${deepest.toFixed(3)} of the tolerance; ${Object.entries(counts)
      .map(([event, count]) => `${event} ${count}`)
      .join(', ')})`;
    for (const event of ['corner', 'lip'])
      expect(counts[event] ?? 0, event).to.be.at.least(share({ quick: 0, test: 4, deep: 40 }));
    for (const event of ['takeoff', 'apex', 'touchdown', 'leave', 'bump', 'turned'])
      expect(counts[event], event).to.be.greaterThan(0.4 * share(LEVELS));
    expect(counts.stuck).to.equal(undefined);
  });
});
