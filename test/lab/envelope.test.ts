import { ACTIONS, compileTuning, openStage, type Tuning } from 'apperin';
import { arcs, envelope, play } from 'apperin/lab';
import { expect } from 'chai';
import { randomizer } from '../support/random.js';
import { fully, share, shareOf } from '../support/share.js';

const ACTED = ['left', 'right', 'jump', 'glide', 'down'] as const;

/** Random keys from the takeoff on: how often the feet come farther than a neighbour of any cell. */
function beyond(tuning: Tuning, found: ReturnType<typeof envelope>, runs: number): number {
  const random = randomizer(731);
  const cells = new Set(found.cells.map(({ column, row }) => `${column},${row}`));
  const pressed = new Map<string, number>();
  const stage = openStage(found.level);
  const hero = stage.add(tuning, {
    at: 'edge',
    driver: {
      read(into) {
        for (const [action, value] of pressed) into.push(into.from, (ACTIONS as readonly string[]).indexOf(action), value);
        pressed.clear();
      },
    },
  });
  const touched = { down: false };
  hero.on('touchdown', () => (touched.down = true));
  pressed.set('right', 1);
  while (hero.x < 0) stage.tick(1 / found.rate);
  const start = stage.snapshot();
  let out = 0;
  for (let run = 0; run < runs; run++) {
    stage.restore(start);
    touched.down = false;
    const held = new Set<string>(['right']);
    let next = 0;
    for (let i = 0; i < 360 && !touched.down; i++) {
      if (i >= next) {
        for (const action of ACTED)
          if (random.chance(0.5) !== held.has(action)) {
            pressed.set(action, held.has(action) ? 0 : 1);
            if (!held.delete(action)) held.add(action);
          }
        next = i + random.whole(1, 15);
      }
      stage.tick(1 / found.rate);
      if (hero.y < -3 || hero.support === 'ground') break;
      const [column, row] = [Math.floor(hero.x / found.cell), Math.floor(hero.y / found.cell)];
      const near = [-1, 0, 1].some((dx) => [-1, 0, 1].some((dy) => cells.has(`${column + dx},${row + dy}`)));
      if (near || touched.down) continue;
      out++;
      break;
    }
  }
  return out;
} // prettier-ignore

describe('The envelope', () => {
  const TUNINGS: Record<string, Tuning> = {
    'a jump': {},
    'a jump and one in the air': { airJumps: { heights: [2.25] } },
    'a jump with the run locked in the air': { run: { air: 'locked' } },
    'a fast steady run': { run: { feel: 'steady', speed: 14 } },
    'two in the air': { airJumps: { heights: [2.4, 1] } },
    'a jump and a glide': { glide: {} },
    'a jump, one in the air and a dive': { dive: {}, airJumps: { heights: [2] } },
  };

  const INPUTS = { quick: 1000, test: 25_000, deep: 100_000 };
  for (const [what, tuning] of Object.entries(TUNINGS).slice(0, share({ quick: 0, test: 7, deep: 7 })))
    it(`of ${what}: every cell has an input that leads into it, and no random input leads out of it`, function () {
      const found = envelope(tuning);
      expect(found.cut).to.equal(false);
      for (const one of found.cells) {
        const seconds = found.takeoff + one.time;
        const { last } = play({ level: found.level, tuning, input: found.inputFor(one), seconds });
        expect([Math.floor(last.x / found.cell), Math.floor(last.y / found.cell)], `${one.column},${one.row}`).to.deep.equal([one.column, one.row]); // prettier-ignore
      }
      const runs = share(INPUTS);
      expect(beyond(tuning, found, runs)).to.equal(0);
      this.test!.title += ` (${found.cells.length} cells, ${found.states} states, ${shareOf(INPUTS, 'random inputs')})`;
    });

  it('of a plain jump ends where the closed form says: at the apex, and as far as the full jump reaches', () => {
    for (const tuning of [
      {},
      { run: { air: 'locked' } },
      { jump: { height: 0.5, riseTime: 0.2 }, gravity: { apexSpeed: 0.5 } },
      { jump: { height: 9, riseTime: 0.9 }, run: { speed: 14 } },
    ].slice(0, share({ quick: 1, test: 4, deep: 4 })) as Tuning[]) {
      const { cells, cell } = envelope(tuning);
      const { full } = arcs('it', compileTuning(tuning));
      expect(Math.max(...cells.map(({ row }) => row))).to.equal(Math.floor(full.apex.y / cell - 1e-9));
      // (With coyote time it may jump a little after the edge.)
      const far = Math.max(...cells.filter(({ row }) => row === 0).map(({ column }) => column));
      expect(far).to.be.within(
        Math.floor(full.landing.x / cell) - 1,
        Math.floor((full.landing.x + compileTuning(tuning).coyote * compileTuning(tuning).ground.speed) / cell) + 1,
      );
    }
  });

  fully('is the same each time, coarser with larger cells, and says when it was cut short', () => {
    const [one, two] = [envelope({}), envelope({})];
    expect(two.cells).to.deep.equal(one.cells);
    expect(envelope({}, { cell: 0.5 }).cells.length).to.be.within(one.cells.length / 6, one.cells.length / 2);
    const cut = envelope({ airJumps: {} }, { most: 500 });
    expect([cut.cut, cut.states]).to.deep.equal([true, 500]);
    const told: number[] = [];
    const stopped = envelope({}, { progress: (states) => (told.push(states), states < 200) });
    expect([stopped.cut, stopped.states]).to.deep.equal([true, told[told.length - 1]]);
    expect(told.filter((states) => states >= 200)).to.have.length(1);
    expect(stopped.states).to.be.below(one.states);
    expect(() => envelope({}, { cell: 0 })).to.throw(RangeError, /cell is 0/);
    expect(() => envelope({}, { below: -1 })).to.throw(RangeError, /below is -1/);
    expect(() => one.inputFor({ column: 999, row: 0, time: 0 })).to.throw(RangeError, /not one of this envelope/);
  });
});
