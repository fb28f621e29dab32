import type { InputRow, Level, Tuning } from 'apperin';
import { expect } from 'chai';
import { presses, simulate } from '../support/simulate.js';

/** A platform on the left (top 8), a block on the right (side 10, top 4), ground at 11. */
const YARD: Level = {
  rows: [
    ...Array<string>(4).fill('...............'),
    ...Array<string>(4).fill('..........####.'),
    ...Array<string>(3).fill('#####.....####.'),
    '###############',
  ],
  spawns: { start: { at: [2, 8] } },
};
/** A wall one tile from an edge. */
const GAP: Level = {
  rows: ['.....#', '@....#', '####.#', '####.#', '####.#', '####.#', '####.#', '######'],
  spawns: { start: { at: [3, 2] } },
};
/** Ground to drop through. */
const GRATING: Level = { rows: ['...', '.@.', '===', '...', '...', '...', '###'] };
/** Ground that ends at a wall. */
const NOOK: Level = { rows: ['...#', '@..#', '####'], spawns: { start: { at: [2.65, 2] } } };

const MOVES: Tuning = { wall: {}, ledge: {}, glide: {}, dive: {}, crouch: {}, drop: {} };
const TUNINGS: Readonly<Record<string, Tuning>> = {
  plain: MOVES,
  'air jumps': { ...MOVES, airJumps: {} },
  charge: { ...MOVES, charge: {} },
  'jump: off, air jumps': { ...MOVES, airJumps: {}, jump: 'off' },
  'endless flapping': { ...MOVES, airJumps: { endless: true } },
};

interface Situation {
  name: string;
  level?: Level;
  at?: readonly [number, number];
  before: InputRow[];
  /** What is pressed, and when. */
  press?: number;
  /** Which jump starts, for each of the tunings. */
  by: readonly string[];
}

const host = (call: InputRow['call'], time = 0): InputRow => ({ time, action: 'host', value: 0, call: call! });
const NONE = ['', '', '', '', ''];
const AIR = ['', 'air', '', 'air', 'air'];
const GROUND = ['ground', 'ground', 'charge', '', 'ground'];
const WALL = ['wall', 'wall', 'wall', 'wall', 'wall'];
const BESIDE = [9.65, 6] as const;
const ABOVE = [9.65, 4.5] as const;
const LEDGE = ['ledge', 'ledge', 'ledge', '', 'ledge'];
const EDGE = ['coyote', 'coyote', 'charge', 'air', 'coyote'];
const FLAPPING = ['', '', '', '', 'air'];

// A situation a line.
// prettier-ignore
const SITUATIONS: readonly Situation[] = [
  { name: 'standing', before: [], by: GROUND },
  { name: 'running', before: presses('right@0'), by: GROUND },
  { name: 'braking', before: presses('right@0-0.08'), by: GROUND },
  { name: 'crouching', before: presses('down@0'), by: GROUND },
  { name: 'standing, down and jump at once', before: presses('down@0.1'), by: GROUND },
  { name: 'on a grating', level: GRATING, before: [], by: GROUND },
  { name: 'on a grating, down held', level: GRATING, before: presses('down@0'), by: NONE },
  { name: 'standing against a wall', level: NOOK, before: presses('right@0'), by: GROUND },
  { name: 'a moment after a short jump', before: presses('jump@0.02-0.05'), press: 0.06, by: ['', 'air', '', '', 'air'] },
  { name: 'just past an edge', at: [4.5, 8], before: presses('right@0'), press: 0.2, by: EDGE },
  { name: 'too long past an edge', at: [4.5, 8], before: presses('right@0'), press: 0.3, by: AIR },
  { name: 'just past an edge, already at a wall', level: GAP, before: presses('right@0'), press: 0.3, by: ['coyote', 'coyote', 'charge', 'wall', 'coyote'] },
  { name: 'shortly before landing', at: [4.5, 8], before: presses('right@0'), press: 0.4, by: ['ground', 'air', 'charge', 'air', 'air'] },
  { name: 'rising from a spring', before: [host({ hop: 4 })], by: AIR },
  { name: 'coming down from a spring', before: [host({ hop: 4 })], press: 0.5, by: AIR },
  { name: 'falling from the start', at: [7, 2], before: [], by: AIR },
  { name: 'after a shove', before: [host({ shove: [4, -9], lock: 0.1 })], by: AIR },
  { name: 'gliding', at: [7, 1], before: presses('glide@0'), press: 0.3, by: AIR },
  { name: 'diving', at: [7, 0.5], before: presses('down@0.02'), by: AIR },
  { name: 'sliding down a wall', at: BESIDE, before: presses('right@0'), by: WALL },
  { name: 'touching a wall, no key', at: BESIDE, before: [], by: WALL },
  { name: 'shortly after leaving a wall', at: BESIDE, before: presses('right@0-0.05 left@0.05'), press: 0.12, by: WALL },
  { name: 'too long after leaving a wall', at: BESIDE, before: presses('right@0-0.05 left@0.05'), press: 0.25, by: AIR },
  { name: 'half a tile from a wall', at: [9.1, 6], before: [], press: 0.02, by: AIR },
  { name: 'shortly before touching a wall', at: [9.1, 7], before: presses('right@0'), press: 0.1, by: ['wall', 'air', 'wall', 'air', 'air'] },
  { name: 'at a wall whose jumps are used', at: [9.65, 8.5], before: presses('right@0 jump@0.05-0.1'), press: 0.6, by: AIR },
  { name: 'hanging on a ledge', at: ABOVE, before: presses('right@0'), press: 0.5, by: LEDGE },
  { name: 'hanging, pressing away', at: ABOVE, before: presses('right@0-0.4 left@0.4'), press: 0.5, by: LEDGE },
  { name: 'let go of a ledge, at its wall', at: ABOVE, before: presses('right@0-0.39 down@0.4-0.45'), press: 0.5, by: WALL },
  { name: 'climbing', at: ABOVE, before: presses('right@0 up@0.4'), press: 0.45, by: NONE },
  { name: 'at the end of a climb', at: ABOVE, before: presses('right@0-0.39 up@0.4'), press: 0.6, by: GROUND },
  { name: 'deaf', before: [host({ listen: false })], by: NONE },
  { name: 'listening again', before: [host({ listen: false }), host({ listen: true }, 0.05)], by: GROUND },
  { name: 'put in the air', before: [host({ place: [7, 3] })], by: AIR },
  { name: 'in the air, two jumps allowed by the game, the first used', at: [7, 1], before: [host({ allow: 'airJumps', count: 2 }), ...presses('jump@0.02-0.04')], press: 0.2, by: AIR },
  { name: 'in the air, none allowed', at: [7, 4], before: [host({ allow: 'airJumps', count: 0 })], by: FLAPPING },
  { name: 'in the air, air jumps used', at: [7, 4], before: presses('jump@0.02-0.04'), press: 0.25, by: FLAPPING },
];

describe('Which jump: situation and press', () => {
  let rows = 0;
  for (const [column, [title, tuning]] of Object.entries(TUNINGS).entries()) {
    for (const { name, level = YARD, at, before, press = 0.1, by } of SITUATIONS) {
      rows++;
      it(`${name}, ${title}: ${by[column] || 'none'}`, () => {
        const input = [...before, ...presses(`jump@${press}-${(press + 0.03).toFixed(3)}`)];
        for (const rate of [60, 144]) {
          const run = simulate(level, tuning, input, rate, press + 0.2, at ? { at } : {});
          const started = run.events.find(({ event, time }) => event === 'takeoff' && time >= press - 1e-9);
          expect(started?.by ?? '', `at ${rate}`).to.equal(by[column]);
        }
      });
    }
  }
  it('is a table of at least sixty rows', () => expect(rows).to.be.at.least(60));
});
