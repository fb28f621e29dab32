import { expect } from 'chai';
import type { InputRow, Level, StageEvent, Tuning } from 'apperin';
import { busyInput } from '../support/everything.js';
import { mirrored } from '../support/harder-ground.js';
import { hallOf, mirroredMovers, movingTuning } from '../support/moving.js';
import { randomizer } from '../support/random.js';
import { simulate, type Run } from '../support/simulate.js';
import { share } from '../support/share.js';

const SECONDS = 4;
const HALLS = { quick: 4, test: 100, deep: 1000 };
const RATES = [15, 60, 144, 240];
const SWAP: Record<string, InputRow['action']> = { left: 'right', right: 'left' };

interface Hall {
  level: Level;
  tuning: Tuning;
  input: InputRow[];
  at: readonly [number, number];
}

function halls(seed: number, count: number): Hall[] {
  return Array.from({ length: count }, (_, i) => {
    const random = randomizer(seed + i);
    const { level, at } = hallOf(random, random.pick([2, 8, 20]));
    const tuning = movingTuning(random);
    const input = busyInput(random, SECONDS).filter(({ action }) => action !== 'dash') as InputRow[];
    return { level, tuning, input, at };
  });
}

/** Until when a run is compared: what happens to a body that two moving things press, or that was placed inside one, may be a tie. */
function until({ events }: Run): number {
  return events.find(({ event }) => ['crushed', 'freed', 'stuck'].includes(event))?.time ?? SECONDS - 1e-6;
}

const motion = ({ rows }: Run, before: number, sx: number, sy: number): string =>
  rows
    .filter(({ time }) => time < before)
    .map(({ x, y, vx, vy, support }) => [sx * x + 0, sy * y + 0, sx * vx + 0, sy * vy + 0, support].join())
    .join('\n');

describe('Movers, seen otherwise', () => {
  it('in a mirror across, give the negated motion bit for bit, until something is crushed', function () {
    let compared = 0;
    halls(1, share(HALLS)).forEach(({ level, tuning, input, at }, i) => {
      const run = simulate(level, tuning, input, 60, SECONDS, { at, facing: 1 });
      const image = simulate(
        { ...mirrored(level), movers: mirroredMovers(level, -1, 1) },
        tuning,
        input.map((row) => ({ ...row, action: SWAP[row.action] ?? row.action })),
        60,
        SECONDS,
        { at: [-at[0], at[1]], facing: -1 },
      );
      const end = until(run);
      compared += end;
      expect(until(image), `hall ${1 + i}`).to.equal(end);
      expect(motion(image, end, -1, 1), `hall ${1 + i}`).to.equal(motion(run, end, 1, 1));
    });
    expect(compared).to.be.above(share(HALLS));
    this.test!.title += ` (${compared.toFixed(0)} s of motion)`;
  });

  it('in a mirror up, with yPoints turned, give the negated motion bit for bit', () => {
    halls(200, share(HALLS)).forEach(({ level, tuning, input, at }, i) => {
      const run = simulate(level, tuning, input, 60, SECONDS, { at });
      const turned: Level = {
        ...level,
        yPoints: 'down',
        origin: [0, -level.rows.length],
        movers: mirroredMovers(level, 1, -1),
      };
      const image = simulate(turned, tuning, input, 60, SECONDS, { at: [at[0], -at[1]] });
      expect(motion(image, SECONDS, 1, -1), `hall ${200 + i}`).to.equal(motion(run, SECONDS, 1, 1));
    });
  });

  it('at any rate, give the same events at the same moments and places, until something is crushed', function () {
    let [worstTime, worstPlace, events] = [0, 0, 0];
    halls(1, share(HALLS)).forEach(({ level, tuning, input, at }, i) => {
      const runs = RATES.map((rate) => simulate(level, tuning, input, rate, SECONDS, { at }));
      const end = Math.min(...runs.map(until)) - 1e-6;
      const told = (run: Run): StageEvent[] =>
        run.events.filter(({ event, time }) => time < end && event !== 'footfall');
      const first = told(runs[0]!);
      events += first.length;
      for (const [k, run] of runs.entries()) {
        const title = `hall ${1 + i}, ${RATES[k]} against ${RATES[0]} a second`;
        expect(told(run).map(({ event }) => event), title).to.deep.equal(first.map(({ event }) => event)); // prettier-ignore
        told(run).forEach(({ time, x, y }, n) => {
          worstTime = Math.max(worstTime, Math.abs(time - first[n]!.time));
          worstPlace = Math.max(worstPlace, Math.abs(x - first[n]!.x), Math.abs(y - first[n]!.y));
        });
      }
    });
    expect(worstTime).to.be.below(1e-7);
    expect(worstPlace).to.be.below(1e-6);
    expect(events).to.be.above(5 * share(HALLS));
    this.test!.title += ` (${events} events; worst ${worstTime.toExponential(1)} s, ${worstPlace.toExponential(1)} units)`;
  });
});
