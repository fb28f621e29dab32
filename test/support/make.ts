import { compileTuning, TuningError, type InputRow, type Level, type Tuning } from 'apperin';
import type { Random } from './random.js';

/** A tuning whose jump is on. */
export type PlainTuning = Omit<Tuning, 'jump'> & { jump: Exclude<NonNullable<Tuning['jump']>, 'off'> };

/** A tuning with many keys set at random, that compiles. */
export function randomTuning(random: Random): PlainTuning {
  for (;;) {
    const tuning: PlainTuning = {
      body: { width: random.between(0.3, 1.6), height: random.between(0.4, 2.4) },
      run: {
        speed: random.between(1, 14),
        feel: random.chance(0.4) ? 'eased' : 'steady',
        upIn: random.pick([0, random.between(0.02, 0.5)]),
        stopIn: random.pick([0, random.between(0.02, 0.5)]),
        turnIn: random.between(0.02, 0.4),
        overspeed: random.chance(0.3) ? 'keep' : 'bleed',
        ...(random.chance(0.15)
          ? { air: 'locked' as const }
          : random.chance(0.5)
            ? { air: { speed: random.between(1, 16), upIn: random.between(0.05, 0.6) } }
            : {}),
      },
      jump: { height: random.between(0.6, 6), riseTime: random.between(0.15, 0.9), minHold: random.between(0, 0.05) },
      gravity: {
        rising: random.between(0.5, 2),
        apex: random.between(0.3, 1.5),
        falling: random.between(0.6, 3),
        apexSpeed: random.pick([0, random.between(0, 6)]),
        fallSpeed: random.between(4, 60),
        ...(random.chance(0.3) ? { fallRamp: { to: random.between(0.5, 5), over: random.between(0.05, 0.6) } } : {}),
        ...(random.chance(0.2)
          ? { cutTo: random.between(0.1, 1) }
          : random.chance(0.2)
            ? { released: random.between(1, 6) }
            : {}),
      },
      ...(random.chance(0.4)
        ? { airJumps: { heights: [random.between(0.3, 3), random.between(0.3, 3)], endless: random.chance(0.3) } }
        : {}),
      grace: {
        coyote: random.between(0, 0.2),
        buffer: random.between(0, 0.2),
        corner: random.between(0, 0.5),
        lip: random.between(0, 0.4),
        wallCoyote: random.between(0, 0.2),
      },
    };
    try {
      compileTuning(tuning);
      return tuning;
    } catch (error) {
      if (!(error instanceof TuningError)) throw error;
    }
  }
}

/** The same with each ability on or off. */
export function livelyTuning(random: Random): PlainTuning {
  return { ...randomTuning(random), ...randomAbilities(random) };
}

/** Each ability on or off, with numbers of its own. */
function randomAbilities(random: Random): Omit<Tuning, 'jump'> {
  const maybe = <V extends object>(values: V): V | undefined => (random.chance(0.5) ? values : undefined);
  const all = {
    charge: random.chance(0.2) ? { lowest: random.between(0.3, 1), highest: random.between(1, 5) } : undefined,
    wall: maybe({
      slideSpeed: random.between(0, 6),
      settle: random.pick([0, random.between(0.02, 0.3)]),
      cling: random.pick([0, random.between(0.02, 0.3)]),
      needs: random.pick(['toward', 'touch'] as const),
      sameWall: random.pick([0, 1, 2, 'any'] as const),
      jump: {
        height: random.between(0.5, 3),
        out: random.between(0, 10),
        lock: random.pick([0, random.between(0.05, 0.4)]),
      },
    }),
    glide: maybe({
      fallSpeed: random.between(0, 4),
      settle: random.pick([0, random.between(0.05, 0.4)]),
      budget: random.between(0, 1),
    }),
    dive: maybe({ gravity: random.between(1, 4), fallSpeed: random.between(10, 60) }),
    ledge: maybe({
      reach: random.between(0, 0.4),
      hands: random.between(0.3, 2),
      auto: random.chance(0.5),
      climb: random.pick([0, random.between(0.05, 0.4)]),
    }),
    drop: maybe({}),
    crouch: maybe({ height: random.between(0.2, 0.39), speed: random.between(0, 5) }),
  };
  return Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined));
}

/** Tiles at random with room around the spawn, walled on all sides. */
export function randomLevel(random: Random, width = 24, height = 14): Level {
  const solid = random.between(0.08, 0.35);
  const rows: string[][] = Array.from({ length: height }, () =>
    Array.from({ length: width }, () => (random.chance(solid) ? '#' : random.chance(0.08) ? '=' : '.')),
  );
  const x = random.whole(2, width - 3);
  const y = random.whole(4, height - 1);
  for (let row = Math.max(0, y - 4); row <= y; row++)
    for (let column = x - 2; column <= x + 2; column++) rows[row]![column] = '.';
  rows[y]![x] = '@';
  return {
    rows: rows.map((row) => row.join('')),
    bounds: { left: 'wall', right: 'wall', top: 'wall', bottom: 'wall' },
  };
}

/** Presses and releases at random moments, whole microseconds. */
export function randomInput(random: Random, seconds: number, perSecond = 5): InputRow[] {
  const rows: InputRow[] = [];
  for (let time = 0; time < seconds; time += random.between(0, 2 / perSecond)) {
    const action = random.pick(['left', 'right', 'jump', 'jump', 'walk', 'down', 'up', 'glide'] as const);
    rows.push({ time: Math.round(time * 1e6) / 1e6, action, value: random.chance(0.55) ? 1 : 0 });
  }
  return rows;
}

/** Wide open ground with the spawn `start` on it. */
export const PLAIN: Level = { rows: ['@'], bounds: { bottom: 'wall' } };

/** Every ability on with its defaults; charging, which takes the jump's place, apart. */
export const EVERY_ABILITY = { airJumps: {}, wall: {}, glide: {}, dive: {}, ledge: {}, drop: {}, crouch: {} } as const;
