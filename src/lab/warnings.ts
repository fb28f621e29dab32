import { arcPieces, comingDown, compileTuning, type Motion, type Tuning } from '../core/index.js';
import { wallReturn } from './walls.js';

/** Something in a tuning that works but will feel wrong. */
export interface Warning {
  /** The key at fault. */
  key: string;
  /** What will be felt, and why. */
  reason: string;
  /** What to try. */
  suggestion: string;
}

/** What a rule finds: the reason and a suggestion, or nothing. */
type Found = readonly [reason: string, suggestion: string] | false | undefined;

interface Rule {
  key: string;
  look(m: Motion, tick: number): Found;
}

/**
 * Rules by the key at fault; each compares two numbers of one tuning. The documentation lists them all.
 * @example
 * ```ts
 * RULES.map(({ key }) => key).includes('gravity.falling') // true
 * ```
 */
export const RULES: readonly Rule[] = [
  {
    key: 'gravity.fallSpeed',
    look(m) {
      const free = comingDown(arcPieces({ ...m, cap: 1e9 }, m.launch), 0).speed;
      return (
        m.cap < free && [
          `a plain jump would touch down at ${short(free)} units/s but is held at ${short(m.cap)}: the end of every jump floats`,
          `at least ${short(free)}`,
        ]
      );
    },
  },
  {
    key: 'gravity.falling',
    look: (m) =>
      m.falling < m.rising && ['coming down is slower than going up: jumps feel floaty', 'at least gravity.rising'],
  },
  {
    key: 'gravity.apexSpeed',
    look: (m) =>
      m.apex < m.rising &&
      m.band > 0.6 * m.launch && [
        `the apex band of ${short(m.band)} units/s covers most of a launch at ${short(m.launch)}: the jump hangs nearly all the way`,
        `at most ${short(0.4 * m.launch)}`,
      ],
  },
  {
    key: 'jump.lowestHop',
    look: (m) =>
      m.lowestHop > 0.95 * m.jumpHeight && [
        `a tap reaches ${short(m.lowestHop)} of ${short(m.jumpHeight)}: holding the key makes no difference`,
        'about 0.4 of the height',
      ],
  },
  {
    key: 'jump.minHold',
    look: (m) =>
      m.minHold > m.riseTime / 2 && [
        `letting go acts only after ${short(m.minHold)} s of a rise of ${short(m.riseTime)} s: short presses feel ignored`,
        `at most ${short(m.riseTime / 4)} s`,
      ],
  },
  { key: 'grace.buffer', look: (m, tick) => tooShort(m.buffer, tick) },
  { key: 'grace.coyote', look: (m, tick) => tooShort(m.coyote, tick) },
  {
    key: 'grace.coyote',
    look(m) {
      const far = m.coyote * m.ground.speed;
      return (
        far > 2 * m.width && [
          `at run speed it reaches ${short(far)} units past the edge, more than two body widths: jumps start visibly in the air`,
          `at most ${short((2 * m.width) / m.ground.speed)} s`,
        ]
      );
    },
  },
  {
    key: 'grace.wallCoyote',
    look: (m, tick) => m.walls && tooShort(m.wallCoyote, tick),
  },
  {
    key: 'grace.corner',
    look: (m) =>
      m.corner > m.width / 2 && [
        `a body ${short(m.width)} wide jumps sideways by up to ${short(m.corner)}, more than half of itself: that is seen`,
        `at most ${short(m.width / 3)}`,
      ],
  },
  {
    key: 'grace.lip',
    look: (m) =>
      m.lip > m.height / 3 && [
        `a body ${short(m.height)} high is lifted by up to ${short(m.lip)}, more than a third of itself: that is seen`,
        `at most ${short(m.height / 5)}`,
      ],
  },
  {
    key: 'grace.lipSpeed',
    look: (m) =>
      m.lip > 0 &&
      m.lipSpeed > 0.7 * m.launch && [
        `help is given at up to ${short(m.lipSpeed)} units/s of a launch at ${short(m.launch)}: nearly anywhere in the jump, not just at its top`,
        `at most ${short(0.3 * m.launch)}`,
      ],
  },
  {
    key: 'run.turnIn',
    look: (m) =>
      m.ground.turnIn > m.ground.stopIn + 1e-9 && [
        'stopping with no key is quicker than turning with one: letting go first turns faster',
        'at most run.stopIn',
      ],
  },
  {
    key: 'run.air.turnIn',
    look: (m) =>
      !m.airLocked &&
      m.air.turnIn > m.air.stopIn + 1e-9 && [
        'in the air, slowing with no key is quicker than turning with one: letting go first turns faster',
        'at most run.air.stopIn',
      ],
  },
  {
    key: 'airJumps.heights',
    look(m) {
      const highest = Math.max(0, ...(m.full.airJumps?.heights ?? []));
      return (
        highest > m.jumpHeight && [
          `an air jump rises ${short(highest)}, more than the ${short(m.jumpHeight)} of a jump from the ground: the ground is worth less than the air`,
          `at most ${short(m.jumpHeight)}`,
        ]
      );
    },
  },
  {
    key: 'airJumps.restoredBy',
    look: ({ full }) =>
      full.airJumps &&
      !full.airJumps.endless &&
      !full.airJumps.restoredBy.includes('ground') && [
        'the ground does not give air jumps back: after a landing they stay spent',
        'adding ground',
      ],
  },
  { key: 'airJumps.spacing', look: (m, tick) => m.airEndless && tooShort(m.airSpacing, tick) },
  {
    key: 'charge.highest',
    look: ({ full, jumpHeight }) =>
      full.charge &&
      full.charge.highest < jumpHeight * (1 - 1e-9) && [
        `a full charge rises ${short(full.charge.highest)}, less than the ${short(jumpHeight)} of the jump whose place it takes`,
        `at least ${short(jumpHeight)}`,
      ],
  },
  {
    key: 'wall.sameWall',
    look(m) {
      const gain = m.wallJumps > 1 ? (wallReturn(m)?.gain ?? 0) : 0;
      return (
        gain > 0 && [
          `each jump off a wall comes back to it ${short(gain)} units higher, ${m.wallJumps === Infinity ? 'for ever' : `${m.wallJumps} times`}: any wall can be climbed`,
          '1, or a lower wall.jump.height, or a longer wall.jump.lock',
        ]
      );
    },
  },
  {
    key: 'wall.jump.lock',
    look: ({ full }) =>
      full.wall &&
      full.wall.jump.lock === 0 &&
      full.wall.sameWall !== 0 && [
        'a key still held toward the wall takes the jump off it back at once',
        'about 0.2 s',
      ],
  },
  {
    key: 'wall.slideSpeed',
    look: (m) =>
      m.full.wall &&
      m.full.wall.slideSpeed > 0.7 * m.cap && [
        `a slide at ${short(m.full.wall.slideSpeed)} units/s is hardly slower than a fall at ${short(m.cap)}`,
        `at most ${short(m.cap / 3)}`,
      ],
  },
  {
    key: 'glide.fallSpeed',
    look: (m) =>
      m.full.glide &&
      m.full.glide.fallSpeed > 0.5 * m.cap && [
        `a glide at ${short(m.full.glide.fallSpeed)} units/s is hardly slower than a fall at ${short(m.cap)}`,
        `at most ${short(m.cap / 6)}`,
      ],
  },
  {
    key: 'dive.fallSpeed',
    look: (m) =>
      m.full.dive &&
      m.full.dive.fallSpeed <= m.cap && [
        `a dive ends no faster than a plain fall, ${short(m.cap)} units/s`,
        `above ${short(m.cap)}`,
      ],
  },
  {
    key: 'dive.gravity',
    look: (m) =>
      m.full.dive &&
      m.full.dive.gravity * m.gravity <= m.falling && [
        'a dive gains speed no faster than a plain fall: the key does nothing',
        'above gravity.falling',
      ],
  },
  {
    key: 'ledge.hands',
    look: (m) =>
      m.full.ledge &&
      (m.full.ledge.hands > 1.25 * m.height || m.full.ledge.hands < 0.5 * m.height) && [
        `hands ${short(m.full.ledge.hands)} above the feet do not fit a body ${short(m.height)} high: it hangs at nothing`,
        `about ${short(0.9 * m.height)}`,
      ],
  },
  {
    key: 'ledge.reach',
    look: (m) =>
      m.full.ledge &&
      m.full.ledge.reach > m.width && [
        `a body ${short(m.width)} wide is pulled sideways by up to ${short(m.full.ledge.reach)}: that is seen`,
        `at most ${short(m.width / 2)}`,
      ],
  },
  {
    key: 'crouch.height',
    look: (m) =>
      m.full.crouch &&
      m.full.crouch.height > 0.9 * m.height && [
        `crouched it is ${short(m.full.crouch.height)} high instead of ${short(m.height)}: nothing becomes passable`,
        `about ${short(0.6 * m.height)}`,
      ],
  },
  {
    key: 'crouch.speed',
    look: (m) =>
      m.full.crouch &&
      m.full.crouch.speed > m.ground.speed && [
        'crouching is faster than running',
        `at most run.speed, ${short(m.ground.speed)}`,
      ],
  },
  {
    key: 'slope.follow',
    look: (m) =>
      m.follow < m.steepest / 1.0001 && [
        `ground of up to ${short(m.full.slope.steepest)}° can be stood on, but going down only a drop of ${short(m.follow)} per unit across is followed: running down steeper ramps hops`,
        `at least ${short(m.steepest * 1.005)}`,
      ],
  },
  {
    key: 'pose.settle',
    look: (m) =>
      m.poseSettle > 0.12 && [
        `a new pose is shown ${short(m.poseSettle)} s late: the picture lags behind the motion`,
        'at most 0.08 s',
      ],
  },
];

/**
 * What in a tuning will feel wrong.
 * @param rate ticks per second that the game runs at
 * @example
 * ```ts
 * warnings({ gravity: { falling: 0.5 } })[0]?.reason
 * ```
 */
export function warnings(tuning: Tuning | Motion, { rate = 60 }: { rate?: number } = {}): Warning[] {
  const m = 'launch' in tuning ? tuning : compileTuning(tuning);
  return RULES.flatMap(({ key, look }): Warning[] => {
    const found = look(m, 1 / rate);
    return found ? [{ key, reason: found[0], suggestion: found[1] }] : [];
  });
}

function tooShort(window: number, tick: number): Found {
  return (
    window > 0 &&
    window < tick && [
      `shorter than a tick at ${short(1 / tick)} per second: a game that reads keys once a tick never sees it`,
      `at least ${short(tick)} s`,
    ]
  );
}

function short(value: number): string {
  return String(Number(value.toPrecision(3)));
}
