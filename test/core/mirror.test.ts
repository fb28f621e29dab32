import { fingerprint, rowNumbers, type InputRow, type Level, type StageEvent, type Tuning } from 'apperin';
import { expect } from 'chai';
import { randomInput, randomLevel, livelyTuning } from '../support/make.js';
import { mirrored, tiles, tuningFor } from '../support/harder-ground.js';
import { randomizer, type Random } from '../support/random.js';
import { simulate, type Run } from '../support/simulate.js';
import { dash } from '../../examples/dash/dash.js';
import { busyInput, everything, mill } from '../support/everything.js';
import { share } from '../support/share.js';

const SWAP: Record<string, InputRow['action']> = { left: 'right', right: 'left' };

function bits(run: Run): string {
  return fingerprint(Float64Array.from(run.rows.flatMap(rowNumbers)));
}

/** A negated number without a −0, as a trace stores it. */
const negated = (value: number): number => -value + 0;

interface Case {
  level: Level;
  tuning: Tuning;
  input: InputRow[];
  at: readonly [number, number] | undefined;
}

/** Of three cases one has every ability on, the dash too, and one has tiles of all shapes. */
function randomCase(random: Random, i: number): Case {
  if (i % 3 === 0)
    return { level: randomLevel(random), tuning: livelyTuning(random), input: randomInput(random, 4), at: undefined };
  if (i % 3 === 1)
    return { level: mill(random), tuning: everything(random), input: busyInput(random, 4), at: undefined };
  const { level, at } = tiles(random);
  return { level, tuning: tuningFor(random), input: busyInput(random, 4), at };
}
/** A place moved with the level, and seen in a mirror. */
const moved = (at: Case['at'], x: number, y: number, scaleX = 1, scaleY = 1) =>
  at && { at: [scaleX * (at[0] + x), scaleY * (at[1] + y)] as const };
const abilities = [dash];

const IMAGES = { quick: 6, test: 120, deep: 1200 };

describe('Mirror images', () => {
  it('in x give the negated trace bit for bit', () => {
    const random = randomizer(51);
    for (let i = 0; i < share(IMAGES); i++) {
      const { tuning, input, at, ...other } = randomCase(random, i);
      const level = { ...other.level, origin: [0.25, 0] as const };
      const opposite = input.map((row) => ({ ...row, action: SWAP[row.action] ?? row.action }));
      const opposed = random.pick(['still', 'latest', 'first'] as const);
      const run = simulate(level, tuning, input, 60, 4, { opposed, facing: 1, abilities, ...moved(at, 0.25, 0) });
      const there = moved(at, 0.25, 0, -1);
      const image = simulate(mirrored(level), tuning, opposite, 60, 4, { opposed, facing: -1, abilities, ...there });
      const back = image.rows.map((row) => ({ ...row, x: negated(row.x), vx: negated(row.vx), facing: -row.facing }));
      expect(bits({ ...image, rows: back }), `case ${i}`).to.equal(bits(run));
      const flipped = (event: StageEvent) => ({
        ...event,
        x: negated(event.x),
        vx: negated(event.vx),
        ...(event.side === 'left' ? { side: 'right' } : event.side === 'right' ? { side: 'left' } : {}),
        ...(event.event === 'turned' ? { facing: -event.facing } : {}),
      });
      expect(image.events.map(flipped)).to.deep.equal(run.events);
    }
  });

  it('in y, with yPoints turned, give the negated trace bit for bit', () => {
    const random = randomizer(52);
    for (let i = 0; i < share(IMAGES); i++) {
      const { tuning, input, at, ...other } = randomCase(random, i);
      const level: Level = { ...other.level, origin: [0, 0.5] };
      const up: Level = { ...level, yPoints: 'up', origin: [0, -0.5 - level.rows.length] };
      const run = simulate(level, tuning, input, 60, 4, { abilities, ...moved(at, 0, 0.5) });
      const image = simulate(up, tuning, input, 60, 4, { abilities, ...moved(at, 0, 0.5, 1, -1) });
      const back = image.rows.map((row) => ({ ...row, y: negated(row.y), vy: negated(row.vy) }));
      expect(bits({ ...image, rows: back }), `case ${i}`).to.equal(bits(run));
      expect(image.events.map((event) => ({ ...event, y: negated(event.y), vy: negated(event.vy) }))).to.deep.equal(
        run.events,
      );
    }
  });

  it('never store a negative zero', () => {
    const random = randomizer(53);
    for (let i = 0; i < 30; i++) {
      const run = simulate(randomLevel(random), livelyTuning(random), randomInput(random, 3), 60, 3);
      for (const row of run.rows)
        for (const value of [row.x, row.y, row.vx, row.vy]) expect(Object.is(value, -0)).to.equal(false);
    }
  });
});
