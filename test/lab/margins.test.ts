import { compileTuning, type InputRow, type Level, type Tuning } from 'apperin';
import { fullJump, margins, openGround, play, pressMap, survey, type PressMargin } from 'apperin/lab';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { DATA, apperin, withFolder } from '../support/cli.js';
import { randomizer } from '../support/random.js';
import { share } from '../support/share.js';

/** A floor, a gap, and a floor as high again or lower; y down. */
function gap(from: number, width: number, drop = 0): Level {
  const rows = Array.from({ length: 5 + drop }, () => '.'.repeat(from + width + 30));
  rows[4] = `@${'.'.repeat(from + width + 29)}`;
  rows.push('#'.repeat(from) + '.'.repeat(width) + (drop === 0 ? '#' : '.').repeat(30));
  for (let i = 0; i < drop; i++) rows.push('#'.repeat(from) + '.'.repeat(width) + (i === drop - 1 ? '#' : '.').repeat(30));
  return { rows, bounds: { bottom: 'out' } };
} // prettier-ignore
const TUNING = {
  run: { speed: 7.5 },
  jump: { height: 3.25, riseTime: 0.4 },
  grace: { coyote: 0, buffer: 0, lip: 0, corner: 0 },
} satisfies Tuning;
const jumps = (at: number, until = at + 0.6): InputRow[] => [
  { time: 0, action: 'right', value: 1 },
  { time: at, action: 'jump', value: 1 },
  { time: until, action: 'jump', value: 0 },
];
const jumpOf = (list: readonly PressMargin[]): PressMargin => list.find(({ action }) => action === 'jump')!;

describe('Margins', () => {
  it('over a gap are those of the closed form, with coyote time and without, at every rate and whichever way y points', () => {
    for (const [from, width, speed] of [[20, 5, 7.5], [17, 3, 6], [30, 6, 9]] as const)
      for (const coyote of [0, 0.05, 0.1]) {
        const tuning: Tuning = { ...TUNING, run: { speed }, grace: { ...TUNING.grace, coyote } };
        const { full, half } = compileTuning(tuning);
        const { reach } = fullJump(compileTuning(tuning));
        // It is at x at this moment: a ramp up to speed, then steady.
        const when = (x: number): number => full.run.upIn / 2 + (x - 0.5) / speed;
        const [earliest, latest] = [when(from + width - half - reach), when(from + half) + coyote];
        const at = when(from + half) - 0.03;
        const answers = [15, 60, 1000].map((rate) => jumpOf(margins({ level: gap(from, width), tuning, input: jumps(at, at + 1), rate })));
        expect(answers[1]).to.deep.equal(answers[0]);
        expect(answers[2]).to.deep.equal(answers[0]);
        const { press, adds } = answers[0]!;
        expect(press.earliest, `${width} ${speed} ${coyote}`).to.be.closeTo(earliest, 2e-4);
        expect(press.latest).to.be.closeTo(latest, 2e-4);
        expect(press.window).to.be.closeTo(latest - earliest, 3e-4);
        expect(adds.coyote).to.be.closeTo(coyote, 3e-4);
        expect([adds.buffer, adds.corner, adds.lip]).to.deep.equal([0, 0, 0]);
        const level = gap(from, width);
        const turned = { ...level, yPoints: 'up' } as const;
        expect(jumpOf(margins({ level: turned, tuning, input: jumps(at, at + 1) })).press.window).to.be.closeTo(press.window!, 1e-9);
      }
  }); // prettier-ignore

  it('of a press that only coyote time has made possible say what is left without it', () => {
    const tuning: Tuning = { ...TUNING, grace: { ...TUNING.grace, coyote: 0.1 } };
    const edge = 0.06 + (20.35 - 0.5) / 7.5;
    const { press, adds } = jumpOf(margins({ level: gap(20, 5), tuning, input: jumps(edge + 0.06, edge + 1) }));
    expect(press.latest).to.be.closeTo(edge + 0.1, 2e-4);
    expect(adds.coyote).to.be.closeTo(0.1, 3e-4);
    expect(press.window! - adds.coyote!).to.be.above(0.1);
  });

  it('of a press that is buffered begin as early as the buffer reaches', () => {
    // Down from a ledge, and on at once over the gap behind it: the press comes before the landing.
    const level: Level = {
      rows: ['....................', '@...................', '######..............', '....................', '######.###..########', '####################'].map((row, i) => (i === 5 ? '.'.repeat(20) : row)),
      bounds: { bottom: 'out' },
    };
    const tuning: Tuning = { ...TUNING, run: { speed: 6 }, grace: { ...TUNING.grace, buffer: 0.1 } };
    const landing = play({ level, tuning, input: [{ time: 0, action: 'right', value: 1 }] }).events.find(({ event }) => event === 'touchdown')!.time!;
    const { press, adds, lands } = jumpOf(margins({ level, tuning, input: jumps(landing - 0.04, landing + 0.6) }));
    expect(lands.x).to.be.above(11.6);
    expect(press.earliest).to.be.closeTo(landing - 0.1, 3e-4);
    expect(adds.buffer).to.be.closeTo(0.1, 3e-4);
  }); // prettier-ignore

  it('are those that a scan finds, of presses and of holds', () => {
    const random = randomizer(5);
    let looked = 0;
    for (let k = 0; k < share({ quick: 2, test: 6, deep: 200 }); k++) {
      const [from, width, drop] = [random.whole(8, 14), random.whole(3, 5), random.whole(0, 2)];
      const level = gap(from, width, drop);
      const tuning: Tuning = { ...TUNING, jump: { height: random.between(2.5, 4), riseTime: random.between(0.32, 0.45), lowestHop: 1 }, grace: { coyote: 0.08, buffer: 0.1 } };
      const at = 0.06 + (from - 0.3) / 7.5;
      const input = jumps(at, at + 0.3);
      const crosses = (rows: readonly InputRow[]): boolean => {
        const { events } = play({ level, tuning, input: rows, rate: 60, seconds: at + 2 });
        return events.some(({ event, time, x }) => event === 'touchdown' && time! > 0.1 && x! > from + width - 0.4);
      };
      if (!crosses(input)) continue;
      looked++;
      const { press, hold } = jumpOf(margins({ level, tuning, input }));
      const pressed = (by: number): InputRow[] => input.map((row) => (row.action === 'jump' ? { ...row, time: row.time + by } : row));
      const held = (seconds: number): InputRow[] => jumps(at, at + seconds);
      for (const [end, rows] of [[press.earliest! - at, pressed], [press.latest! - at, pressed], ...(hold.least === null ? [] : [[hold.least, held] as const])] as const) {
        // To a tenth of a millisecond: it is so on one side, and not on the other.
        const sides = [-2e-4, 2e-4].map((by) => crosses(rows(end + by)));
        expect(sides[0] !== sides[1], `${k}: ${end} ${sides.join()}`).to.equal(true);
      }
    }
    expect(looked).to.be.above(share({ quick: 0, test: 3, deep: 100 }));
  }).timeout(600_000); // prettier-ignore

  it('of press and hold together are those of each by itself, and say where both land', () => {
    const level = gap(20, 5);
    const input = jumps(2.62, 3.1);
    const map = pressMap({ level, tuning: { ...TUNING, jump: { height: 3.25, riseTime: 0.4, lowestHop: 1 } }, input, columns: 24 });
    expect([map.action, map.index, map.columns.length]).to.deep.equal(['jump', 1, 24]);
    const { press, hold } = map.margin;
    for (const { by, spans } of map.columns) {
      const held = spans.some(([from, to]) => from <= 0.48 && 0.48 <= to);
      expect(held, `${by}`).to.equal(by > press.earliest! - 2.62 && by < press.latest! - 2.62);
    }
    const [here] = map.columns.filter(({ by }) => Math.abs(by) < 0.01);
    expect(here!.spans).to.have.length(1);
    expect(here!.spans[0]![0]).to.be.closeTo(hold.least!, 0.02);
    // Cut before it: at each column and span the core lands on the far side just within, and not just without.
    for (const { by, spans } of map.columns.filter((_, i) => i % 6 === 0))
      for (const [from] of spans)
        for (const [held, wanted] of [[from + 2e-3, true], [from - 2e-3, false]] as const) {
          const { events } = play({ level, tuning: { ...TUNING, jump: { height: 3.25, riseTime: 0.4, lowestHop: 1 } }, input: jumps(2.62 + by, 2.62 + by + held), seconds: 4.5 });
          expect(events.some(({ event, x, time }) => event === 'touchdown' && time! > 0.1 && x! > 24), `${by} ${held}`).to.equal(wanted);
        }
    expect(() => pressMap({ level, tuning: TUNING, input, index: 7 })).to.throw(RangeError, 'index is 7; there are 2 presses');
    expect(() => pressMap({ level, tuning: TUNING, input, index: 0 })).to.throw(RangeError, 'the press of right at 0 s is never let go of');
    expect(() => pressMap({ level, tuning: TUNING, input, columns: 1 })).to.throw(RangeError, 'columns is 1');
  }); // prettier-ignore

  it('are found on ground that goes on for ever, and that is a place of a survey on each side of what stands on it', async () => {
    for (const [level, count] of [
      [openGround(), 1],
      [{ rows: ['@...', '..##'], bounds: { bottom: 'wall' } }, 2],
    ] as [Level, number][]) {
      const jump = jumpOf(margins({ level, tuning: TUNING, input: jumps(0.6) }));
      expect(jump.lands.time).to.be.above(1);
      const { survey: found } = await survey({ level, tuning: TUNING, spend: 2000 });
      expect(found.places.filter(({ x1, x2, answer }) => x2 - x1 > 1e7 && answer === 'yes')).to.have.length(count);
    }
  });

  it('have no end where a press leads nowhere else, and none where nothing is landed on', () => {
    const flat: Level = { rows: ['....................', '@...................', '######.###..########'] };
    const [jump] = margins({ level: flat, tuning: TUNING, input: [{ time: 0.5, action: 'jump', value: 1 }] });
    expect([jump!.press, jump!.hold, jump!.until, jump!.adds.coyote]).to.deep.equal([{ earliest: null, latest: null, window: null }, { least: null, most: null }, null, null]);
    expect(margins({ level: gap(3, 9), tuning: TUNING, input: [{ time: 0, action: 'right', value: 1 }] })).to.deep.equal([]);
    expect(margins({ level: flat, tuning: TUNING, input: [] })).to.deep.equal([]);
    expect(() => margins({ level: flat, tuning: TUNING, input: [], rate: 0 })).to.throw(RangeError, 'rate is 0');
  }); // prettier-ignore
});

describe('apperin survey, of an input', () => {
  const YARD = ['yard.level.yaml', 'brindle.tuning.yaml'].map((name) => join(DATA, name));

  it('says how tight each press is, in milliseconds and frames, and what helps', async () => {
    const { status, out } = await apperin(['survey', ...YARD, join(DATA, 'late.input.csv')]);
    expect(status).to.equal(0);
    expect(out).to.match(/jump +2\.460 +3\.208 +366\.3 +26\.7 +392\.9 +23\.6 +0\.092 … any +coyote 80\.0/);
    expect(out).to.contain('The tightest:');
    const told = JSON.parse((await apperin(['survey', ...YARD, join(DATA, 'late.input.csv'), '--json'])).out) as { presses: PressMargin[] };
    expect(jumpOf(told.presses).press.window).to.be.closeTo(0.3929, 1e-4);
    // With no coyote time the jump of this input does not land there at all.
    const without = await apperin(['survey', ...YARD, join(DATA, 'leap.input.csv'), '--set', 'grace.coyote=0', '--json']);
    expect(jumpOf((JSON.parse(without.out) as { presses: PressMargin[] }).presses).press.window).to.be.closeTo(0.3129, 2e-4);
  }); // prettier-ignore

  it('is drawn: press against hold, with its windows', () =>
    withFolder(async (folder) => {
      const drawn = await apperin(['draw', 'margins', ...YARD, join(DATA, 'leap.input.csv'), '--json'], folder);
      expect([drawn.status, JSON.parse(drawn.out).figure, JSON.parse(drawn.out).press]).to.deep.equal([0, 'margins', 2]); // prettier-ignore
      const svg = readFileSync(join(folder, 'margins.svg'), 'utf8');
      for (const text of [
        'jump at 2.3 s: press against hold',
        '393 ms, 23.6 frames at 60',
        'coyote adds 80 ms',
        '+287 ms',
        '−106 ms',
        'the input',
      ])
        expect(svg).to.contain(text);
      const none = await apperin(['draw', 'margins', ...YARD, join(DATA, 'leap.input.csv'), '--press', '9'], folder);
      expect([none.status, none.err]).to.deep.equal([2, '--press 9; there are 3 presses that lead to a landing\n']);
    }));

  it('wants a level and an input with a landing', async () => {
    expect(await apperin(['survey', YARD[1]!])).to.include({ status: 2 });
    await withFolder(async (folder) => {
      const nothing = await apperin(
        ['survey', ...YARD, join(DATA, 'leap.input.csv'), '--set', 'run.speed=0.1', '--set', 'jump.off=true'],
        folder,
      );
      expect([nothing.status, nothing.err]).to.deep.equal([2, 'no press of this input leads to a landing\n']);
    });
  });
});
