import { compileTuning, level, type DrawnLevel, type Tuning } from 'apperin';
import { fullJump } from 'apperin/lab';

/** A level with a place that is reached just so: with `by` below 0 it is easier by so much, above 0 harder, units. */
export interface Known {
  name: string;
  tuning: Tuning;
  level(by: number): DrawnLevel;
  /** Where the feet are to be. */
  goal(by: number): [number, number];
}

const WIDTH = 0.7;
const HEIGHT = 1.3;
type Box = [number, number, number, number];
type Shape = { solid: Box; surface?: string; 'no-wall'?: boolean } | { 'one-way': Box };
type More = { spawns?: object; movers?: readonly object[]; surfaces?: object; zones?: readonly object[] };

/** Nothing helps, and nothing is above the ground but what is said. */
export const PLAIN: Tuning = {
  run: { speed: 7.5 },
  jump: { height: 3.25, riseTime: 0.4 },
  grace: { coyote: 0, buffer: 0, lip: 0, corner: 0, wallCoyote: 0 },
  slope: { step: 0 },
};
const and = (more: Tuning): Tuning => ({
  ...PLAIN,
  ...more,
  ...(typeof more.grace === 'object' ? { grace: { ...(PLAIN.grace as object), ...more.grace } } : {}),
});

/** Solid from its top down. */
const floor = (left: number, width: number, top = 0, depth = 2): Shape => ({
  solid: [left, top - depth, width, depth],
});
const solid = (...box: Box): Shape => ({ solid: box });
const room = (shapes: readonly Shape[], more: More = {}): DrawnLevel =>
  level({
    yPoints: 'up',
    extent: { x: -12, y: -14, width: 60, height: 44 },
    shapes,
    spawns: { start: [-4, 0] },
    ...more,
  } as never) as DrawnLevel;

/** A platform with its top so high, on the right of the start. */
const platform = (name: string, tuning: Tuning, height: number): Known => ({
  name,
  tuning,
  level: (by) => room([floor(-10, 40), floor(4, 6, height + by, 1)]),
  goal: (by) => [7, height + by],
});
/** Ground that goes on so far away and so much lower. */
const gap = (name: string, tuning: Tuning, reach: number, drop = 0): Known => ({
  name,
  tuning,
  level: (by) => room([floor(-10, 12, 0, 14), floor(2 + reach + WIDTH + by, 14, -drop, 14 - drop)]),
  goal: (by) => [2 + reach + WIDTH + by + 4, -drop],
});
const enclosed = (...shapes: readonly Shape[]): Shape[] => [
  floor(-10, 40),
  solid(-10, 12, 40, 1),
  solid(-10, 0, 1, 13),
  solid(29, 0, 1, 13),
  ...shapes,
];

const reachOf = (tuning: Tuning): number => fullJump(compileTuning(tuning)).reach;

/** So far it comes while it falls so deep from the end of its ground, without a jump. */
const fallen = (tuning: Tuning, depth: number): number => {
  const { falling, ground } = compileTuning(tuning);
  return ground.speed * Math.sqrt((2 * depth) / falling);
};

/** The reach of a jump onto ground that is so much lower, less than what it takes to come to terminal speed. */
const reachDown = (tuning: Tuning, drop: number): number => {
  const { falling, ground } = compileTuning(tuning);
  const { time, touchdown } = fullJump(compileTuning(tuning));
  return ground.speed * (time + (Math.sqrt(touchdown * touchdown + 2 * falling * drop) - touchdown) / falling);
};

/** The reach of a jump as late as coyote time lets it be: what it has fallen until then is missing in the end. */
const reachLate = (tuning: Tuning, coyote: number): number => {
  const { falling, ground } = compileTuning(tuning);
  const { time, touchdown } = fullJump(compileTuning(tuning));
  const lost = (falling * coyote * coyote) / 2;
  return ground.speed * (coyote + time - (touchdown - Math.sqrt(touchdown * touchdown - 2 * falling * lost)) / falling);
};

/** It falls until it is as fast as it glides, and glides from there. */
const glided = (tuning: Tuning, speed: number, depth: number): number => {
  const { falling, ground } = compileTuning(tuning);
  const first = speed / falling;
  return ground.speed * (first + (depth - (speed * first) / 2) / speed);
};

const GLIDE = and({ jump: 'off', glide: { fallSpeed: 2, settle: 0, budget: 10 } });
const FAST = and({ run: { speed: 10 } });
const FLOATY = and({ jump: { height: 4, riseTime: 0.6 } });
const HEAVY = and({ jump: { height: 2.5, riseTime: 0.3 }, gravity: { falling: 2, apex: 1 } });
const COYOTE = and({ grace: { coyote: 0.1 } });
const LATER = and({ run: { speed: 6 }, grace: { coyote: 0.16 } });
const NO_JUMP = and({ jump: 'off' });
const CROUCH = and({ crouch: { height: 0.8, speed: 3 } });
const WALLS = and({ wall: {} });
const TWICE = and({ airJumps: { heights: [2.25] } });

/** A shaft of two walls with the goal on top of the right one, which cannot be jumped off; between them there is so much room for the middle of the body. */
const shaft = (name: string, tuning: Tuning, across: number, height: number): Known => ({
  name,
  tuning,
  level: (by) =>
    room(
      [
        floor(-10, 14),
        solid(-10, 0, 10 - across - WIDTH, 18),
        { ...floor(0, 14, height + by, height + by + 1), 'no-wall': true },
      ],
      {
        spawns: { start: [-WIDTH / 2 - across / 2, 0] },
      },
    ),
  goal: (by) => [6, height + by],
});

const lift = (top: number): object => ({
  name: 'lift',
  shapes: [{ solid: [2, -1, 3, 1] }],
  route: `M 0 0 V ${top} V 0`,
  lap: 8,
  stops: [{ at: 0.5, for: 1 }],
});

export const KNOWN: readonly Known[] = [
  platform('a platform', PLAIN, 3.25),
  platform('a platform for a floaty jump', FLOATY, 4),
  platform('a platform for a heavy jump', HEAVY, 2.5),
  platform('a platform with a lip', and({ grace: { lip: 0.2 } }), 3.45),
  platform('a platform two jumps up', TWICE, 5.5),
  platform('a platform three jumps up', and({ airJumps: { heights: [2.25, 1.5] } }), 7),
  platform('a platform for a charged jump', and({ charge: {} }), 4.5),
  platform('a platform to climb onto from its ledge', and({ ledge: {} }), 3.25 + 1.15),
  platform('a platform for two jumps and a ledge', and({ ledge: {}, airJumps: { heights: [2.25] } }), 5.5 + 1.15),
  {
    name: 'one-way ground above',
    tuning: PLAIN,
    level: (by) => room([floor(-10, 40), { 'one-way': [4, 2.25 + by, 6, 1] }]),
    goal: (by) => [7, 3.25 + by],
  },
  {
    name: 'one-way ground above, for a run-up',
    tuning: and({ jump: { height: 3.25, riseTime: 0.4, runUp: 1 } }),
    level: (by) => room([floor(-10, 40), { 'one-way': [4, 3.25 + by, 16, 1] }]),
    goal: (by) => [7, 4.25 + by],
  },
  {
    name: 'a step',
    tuning: and({ slope: { step: 0.3 }, jump: 'off' }),
    level: (by) => room([floor(-10, 12), floor(2, 12, 0.3 + by, 3)]),
    goal: (by) => [7, 0.3 + by],
  },
  {
    name: 'a platform for a surface that jumps higher',
    tuning: PLAIN,
    level: (by) =>
      room([floor(-10, 12), { solid: [2, -2, 3, 2], surface: 'board' }, floor(5, 20), floor(9, 6, 4.875 + by, 1)], {
        surfaces: { board: { jump: 1.5 } },
      }),
    goal: (by) => [11, 4.875 + by],
  },
  gap('a gap', PLAIN, reachOf(PLAIN)),
  gap('a gap for a fast run', FAST, reachOf(FAST)),
  gap('a gap for a floaty jump', FLOATY, reachOf(FLOATY)),
  gap('a gap for a heavy jump', HEAVY, reachOf(HEAVY)),
  gap('a gap down', PLAIN, reachDown(PLAIN, 0.5), 0.5),
  gap('a gap down for a floaty jump', FLOATY, reachDown(FLOATY, 2), 2),
  gap('a gap for coyote time', COYOTE, reachLate(COYOTE, 0.1)),
  gap('a gap for more coyote time', LATER, reachLate(LATER, 0.16)),
  gap('a gap without a jump', NO_JUMP, fallen(NO_JUMP, 3), 3),
  gap('a short gap without a jump', NO_JUMP, fallen(NO_JUMP, 1), 1),
  gap('a gap for a glide', GLIDE, glided(GLIDE, 2, 4), 4),
  {
    name: 'a wall on the way',
    tuning: PLAIN,
    level: (by) => room([floor(-10, 40), floor(3, 1, 3.25 + by, 3.25 + by)]),
    goal: () => [8, 0],
  },
  {
    name: 'a wall on the way, for two jumps',
    tuning: TWICE,
    level: (by) => room([floor(-10, 40), floor(3, 1, 5.5 + by, 5.5 + by)]),
    goal: () => [8, 0],
  },
  {
    name: 'a pit',
    tuning: PLAIN,
    level: (by) => room([floor(-6, 12, 0, 1), floor(-12, 6, 3.25 + by, 6), floor(6, 10, 3.25 + by, 6)]),
    goal: (by) => [10, 3.25 + by],
  },
  {
    name: 'a pit for two jumps',
    tuning: TWICE,
    level: (by) => room([floor(-6, 12, 0, 1), floor(-12, 6, 5.5 + by, 8), floor(6, 10, 5.5 + by, 8)]),
    goal: (by) => [10, 5.5 + by],
  },
  { name: 'a door', tuning: PLAIN, level: (by) => room(enclosed(solid(3, HEIGHT - by, 1, 12))), goal: () => [8, 0] },
  {
    name: 'a door to crouch under',
    tuning: CROUCH,
    level: (by) => room(enclosed(solid(3, 0.8 - by, 1, 12))),
    goal: () => [8, 0],
  },
  {
    name: 'a long low way',
    tuning: CROUCH,
    level: (by) => room(enclosed(solid(3, 0.8 - by, 8, 12))),
    goal: () => [14, 0],
  },
  {
    name: 'a window',
    tuning: PLAIN,
    level: (by) => room(enclosed(solid(3, 0, 1, 2), solid(3, 2 + HEIGHT - by, 1, 12))),
    goal: () => [8, 0],
  },
  {
    name: 'a chimney down',
    tuning: PLAIN,
    level: (by) =>
      room([
        floor(-10, 12, 0, 1),
        floor(2 + WIDTH - by, 16, 0, 1),
        floor(-10, 30, -4, 1),
        solid(-10, -4, 1, 10),
        solid(17, -4, 1, 10),
      ]),
    goal: () => [8, -4],
  },
  {
    name: 'a vault with a way in',
    tuning: PLAIN,
    level: (by) =>
      room([
        floor(-10, 40),
        solid(3, 0, 1, 2),
        solid(3, 2, 4, 1),
        solid(7 + WIDTH - by, 0, 1, 3),
        solid(12, 0, 1, 12),
      ]),
    goal: () => [5, 0],
  },
  {
    name: 'a vault behind a plank',
    tuning: and({ drop: {} }),
    level: (by) =>
      room([
        floor(-10, 40),
        solid(3, 0, 1, 3),
        solid(8, 0, 1, 3),
        by > 0 ? solid(4, 2.5, 4, 0.5) : { 'one-way': [4, 2.5, 4, 0.5] },
      ]),
    goal: () => [6, 0],
  },
  {
    name: 'a lift',
    tuning: and({ mover: { lend: 'none' } }),
    level: (by) => room([floor(-10, 12), floor(5, 1, -1, 1), floor(5, 20, 8, 8)], { movers: [lift(4.75 - by)] }),
    goal: () => [12, 8],
  },
  {
    name: 'a raft',
    tuning: and({ mover: { lend: 'none' } }),
    level: (by) =>
      room([floor(-10, 12, 0, 14), floor(15 + reachOf(PLAIN) + WIDTH + by, 14, 0, 14)], {
        movers: [
          {
            name: 'raft',
            shapes: [{ solid: [4, -1, 3, 1] }],
            route: 'M 0 0 H 8 H 0',
            lap: 8,
            stops: [{ at: 0.5, for: 1 }],
          },
        ],
      }),
    goal: () => [15 + reachOf(PLAIN) + WIDTH + 5, 0],
  },
  shaft('a shaft for one jump off its wall', WALLS, 1.5, 3.25 + 2.5),
  shaft('a shaft for one jump off its wall, for two jumps', and({ wall: {}, airJumps: { heights: [2.25] } }), 1.5, 3.25 + 2.5 + 2.25),
  shaft('a shaft for jumps off walls and a lip', and({ wall: {}, grace: { lip: 0.2 } }), 1.5, 3.25 + 2.5 + 0.2),
  shaft('a narrow shaft', WALLS, 0.8, 3.25 + 2.5),
]; // prettier-ignore
