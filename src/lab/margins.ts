import { compileTuning, type Motion } from '../core/index.js';
import { trialOf, type Aim, type Grace, type Leg, type MarginOptions, type Press, type Trial } from './trial.js';

/** How tight a press is. Moments of stage time, s. */
export interface PressMargin {
  action: string;
  /** When it is pressed, and let go of; null where it is not. */
  at: number;
  until: number | null;
  /** Where it leads: the next ground that is landed on after it, and when. */
  lands: { x: number; y: number; time: number };
  /** Within which the press may be moved, its release with it, so that the same ground is landed on; null where there is no end. */
  press: { earliest: number | null; latest: number | null; window: number | null };
  /** How long it may be held. */
  hold: { least: number | null; most: number | null };
  /** What each grace window adds to the press window, s; null where the window has no end. */
  adds: Readonly<Record<Grace, number | null>>;
}

/** Outward in steps of so much, s, to the first failure; then halved to so little; and no farther than that. */
const STEP = 0.002;
const FINE = 0.0001;
const FARTHEST = 1;

/**
 * How tight the presses of an input are: by how much each may come earlier or later, be held shorter or longer, and still lead to the same ground, without any other being
 * stood on in between. Each is moved by itself and played by the core; the window is the connected one around it.
 *
 * A press that leads to no other ground than that from which it was made has no ends. Directions and what is held through are presses like any other.
 * @returns those that lead to a landing, in their order
 * @throws TuningError, LevelError; RangeError where the input is none
 * @example
 * ```ts
 * margins({ level: yard, tuning: brindle, input: rows })[0]?.press.window
 * ```
 */
export function margins(options: MarginOptions): PressMargin[] {
  const trial = trialOf(options);
  return marginsOf(trial, trial.presses);
}

/**
 * The same without directions. @param leg where rows begin that are played on from somewhere
 * @example
 * ```ts
 * pressMargins({ level: yard, tuning: brindle, input: rows })
 * ```
 */
export function pressMargins(options: MarginOptions, leg?: Leg): PressMargin[] {
  const trial = trialOf(options, leg);
  const since = leg?.since ?? -Infinity;
  return marginsOf(trial, trial.presses.filter(({ action, at }) => at >= since && !STEERING.includes(action)));
} // prettier-ignore

function marginsOf(trial: Trial, presses: readonly Press[]): PressMargin[] {
  return presses.flatMap((press) => {
    const aim = trial.aimOf(press);
    return aim ? [marginOf(trial, press, aim)] : [];
  });
}

/** Held through on a way: no presses by themselves. */
export const STEERING: readonly string[] = ['left', 'right', 'up', 'down', 'walk', 'move'];

/**
 * The tightest press of an input, directions aside; undefined where none has an end.
 * @throws what `margins` throws
 * @example
 * ```ts
 * tightestPress({ level: yard, tuning: brindle, input: rows })
 * ```
 */
export function tightestPress(options: MarginOptions): PressMargin | undefined {
  return tightestOf(pressMargins(options));
}

/**
 * The press with the narrowest window, directions aside; undefined where none has an end.
 * @example
 * ```ts
 * tightestOf(margins({ level: yard, tuning: brindle, input: rows }))
 * ```
 */
export function tightestOf(presses: readonly PressMargin[]): PressMargin | undefined {
  let tightest: PressMargin | undefined;
  for (const press of presses) {
    const { window } = press.press;
    if (!STEERING.includes(press.action) && window !== null && window < (tightest?.press.window ?? Infinity))
      tightest = press;
  }
  return tightest;
}

/** How tight one of the presses is. */
export function marginOf({ motion }: Trial, { action }: Press, { at, until, lands, reaches, helped }: Aim): PressMargin {
  const ends = (with_: Motion): [number | null, number | null] => [
    edge((by) => reaches(with_, -by, 0), at),
    edge((by) => reaches(with_, by, 0)),
  ];
  const [earlier, later] = ends(motion);
  const window = earlier === null || later === null ? null : earlier + later;
  const help = (['coyote', 'buffer', 'corner', 'lip'] as const).filter(helped);
  const shorter = until === undefined ? null : edge((by) => reaches(motion, 0, -by), until - at - 1e-6);
  const longer = until === undefined ? null : edge((by) => reaches(motion, 0, by));
  const adds = (grace: Grace): number | null => {
    if (window === null) return null;
    // Where it never helped, all of the window is there without it.
    if (motion.full.grace[grace] === 0 || !help.includes(grace)) return 0;
    const without = compileTuning({ ...motion.full, grace: { ...motion.full.grace, [grace]: 0 } });
    if (reaches(without, 0, 0)) {
      const [left, right] = ends(without);
      return left === null || right === null ? null : Math.max(0, window - left - right);
    }
    // What is left of the window need not hold the press itself: from both ends to where it begins.
    const left = edge((by) => !reaches(without, by - earlier!, 0), window);
    const right = edge((by) => !reaches(without, later! - by, 0), window);
    return left === null || right === null ? window : Math.min(window, left + right);
  };
  return {
    action,
    at,
    until: until ?? null,
    lands: { x: lands.x, y: lands.y, time: lands.time },
    press: { earliest: earlier === null ? null : at - earlier, latest: later === null ? null : at + later, window },
    hold: { least: shorter === null ? null : until! - at - shorter, most: longer === null ? null : until! - at + longer },
    adds: { coyote: adds('coyote'), buffer: adds('buffer'), corner: adds('corner'), lip: adds('lip') },
  };
} // prettier-ignore

/** How far something may go until it fails, s; null where it does not within what there is. */
function edge(holds: (by: number) => boolean, most = FARTHEST): number | null {
  const end = Math.min(most, FARTHEST);
  let by = 0;
  while (by + STEP <= end && holds(by + STEP)) by += STEP;
  if (by + STEP > end) return null;
  let [low, high] = [by, by + STEP];
  while (high - low > FINE) {
    const middle = (low + high) / 2;
    if (holds(middle)) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
