import { ln } from '../core/index.js';
import type { FrameNumbers, FrameSteering } from './frame-numbers.js';

/** What a loop makes of the speed across in one frame, with nothing left open. */
export interface LoopRule {
  /** The speed that it comes to, units a frame. */
  speed: number;
  /** Whether the run is one of shares, as a whole. */
  eased: boolean;
  /** Speeding up, stopping, turning: the share of the difference that a frame leaves, where it goes by shares. */
  shares: readonly [number | undefined, number | undefined, number | undefined];
  /** The same: what a frame adds or takes, where it goes evenly. Neither: at once. */
  steps: readonly [number | undefined, number | undefined, number | undefined];
  /** Acceleration and friction, both every frame: the speed that these alone would come to. */
  both: number | undefined;
  /** And whether friction comes before the acceleration. */
  frictionFirst: boolean;
}

/** Of the distance in which an eased speed dies away, the part that an eased turn needs until rest: ∫(2e⁻ᵗ − 1) from 0 to ln 2. */
export const easedTurnShare = 1 - ln(2);

/** Two speeds are one when they differ by less than this share. */
const CLOSE = 0.01;

/**
 * @returns undefined where nothing is said of a speed
 * @throws RangeError naming a share that is none
 */
export function loopRule({
  speed,
  acceleration,
  turning,
  deceleration,
  approach,
  friction,
}: FrameSteering): LoopRule | undefined {
  const kept = friction === undefined ? undefined : share('friction', friction);
  if (approach === undefined && acceleration !== undefined && kept !== undefined) {
    const after = (acceleration * kept) / (1 - kept);
    const before = acceleration / (1 - kept);
    // The top speed says which of the two comes first.
    const frictionFirst = speed !== undefined && Math.abs(speed - before) <= CLOSE * before;
    const both = frictionFirst ? before : after;
    const top = speed === undefined || speed > both ? both : speed;
    // Cut off well before what it would come to, it is no approach to the top.
    const near = top >= both * (1 - CLOSE);
    return {
      speed: top,
      eased: true,
      shares: [near ? kept : undefined, kept, near ? kept : undefined],
      steps: near ? [undefined, undefined, undefined] : [acceleration, undefined, acceleration],
      both,
      frictionFirst,
    };
  }
  if (speed === undefined) return undefined;
  const closed = approach === undefined ? undefined : 1 - share('approach', approach);
  const even = approach === undefined ? acceleration : undefined;
  return {
    speed,
    eased: closed !== undefined || kept !== undefined,
    shares: [closed, kept, turning === undefined ? closed : undefined],
    steps: [even, kept === undefined ? deceleration : undefined, turning ?? even],
    both: undefined,
    frictionFirst: false,
  };
}

/** The speed across after a frame in which a key asks for a way: −1, 0 (none) or 1. */
export function steer(rule: LoopRule, v: number, way: number): number {
  const { speed, shares, steps, both, frictionFirst } = rule;
  if (both !== undefined) {
    const kept = shares[1]!;
    const added = way * both * (frictionFirst ? 1 - kept : (1 - kept) / kept);
    const next = frictionFirst ? v * kept + added : (v + added) * kept;
    return next > speed ? speed : next < -speed ? -speed : next;
  }
  const target = way * speed;
  const which = way === 0 ? 1 : v * way < 0 ? 2 : 0;
  const kept = shares[which];
  if (kept !== undefined) return target + (v - target) * kept;
  const step = steps[which];
  if (step === undefined || Math.abs(target - v) <= step) return target;
  return v + (target > v ? step : -step);
}

/** How a loop steers in the air: as on the ground, but for what it says otherwise; undefined where it does not. */
export function airOf({ air = {}, ...f }: FrameNumbers): FrameSteering | undefined {
  if (air === 'none') return undefined;
  const { speed, acceleration, turning, deceleration, approach, friction } = f;
  const says = (...keys: (keyof FrameSteering)[]): boolean => keys.some((key) => air[key] !== undefined);
  const all = {
    speed,
    ...(says('approach', 'acceleration') ? {} : { acceleration, approach, turning }),
    ...(says('friction', 'deceleration') ? {} : { deceleration, friction }),
    ...air,
  };
  return Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined));
}

/** Which keys are down in a frame. */
export interface FrameKeys {
  /** −1, 0 or 1. */
  way: number;
  jump: boolean;
}

/** Where a loop's character is after each frame, from rest on level ground; units, y up. */
export interface FramePlaces {
  x: number[];
  y: number[];
  /** When it first comes down again, frames; NaN where it does not. */
  lands: number;
}

/**
 * Plays keys as the loop does that such numbers come from. In a frame the keys are read first; a press on the ground sets the speed upwards, a release while it
 * rises cuts it, once. Then speed and place follow in their order. Not higher than the ground and not rising, it stands.
 * @example
 * ```ts
 * playFrames({ rate: 60, order: 'velocity-first', launch: 0.3, gravity: 0.0137 }, [])
 * ```
 */
export function playFrames(f: FrameNumbers, keys: readonly FrameKeys[]): FramePlaces {
  const ground = loopRule(f) ?? STILL;
  const inAir = airOf(f);
  const air = inAir === undefined ? undefined : (loopRule(inAir) ?? STILL);
  const places: FramePlaces = { x: [0], y: [0], lands: NaN };
  let [x, y, vx, vy] = [0, 0, 0, 0];
  let [stands, held, wasCut, since] = [true, false, false, 0];
  for (const { way, jump } of keys) {
    if (jump && !held && stands) [vy, stands, wasCut, since] = [f.launch, false, false, 0];
    if (!jump && !stands && !wasCut && vy > 0 && since >= (f.minHold ?? 0) - 1e-9) {
      vy *= f.cut ?? 1;
      wasCut = true;
    }
    held = jump;
    since++;
    const [fromX, fromY] = [vx, vy];
    const rule = stands ? ground : air;
    if (rule) vx = steer(rule, vx, way);
    if (!stands) {
      vy -= vy > 0 ? f.gravity : (f.fallGravity ?? f.gravity);
      if (f.fallSpeed !== undefined && vy < -f.fallSpeed) vy = -f.fallSpeed;
    }
    const first = f.order === 'velocity-first';
    x += first ? vx : fromX;
    y += first ? vy : fromY;
    if (!stands && y <= 0 && vy <= 0) {
      const before = places.y.at(-1)!;
      if (Number.isNaN(places.lands)) places.lands = places.y.length - 1 + (before > y ? before / (before - y) : 0);
      [y, vy, stands] = [0, 0, true];
    }
    places.x.push(x);
    places.y.push(y);
  }
  return places;
}

const STILL: LoopRule = {
  speed: 0,
  eased: false,
  shares: [undefined, undefined, undefined],
  steps: [undefined, undefined, undefined],
  both: undefined,
  frictionFirst: false,
};

function share(name: string, value: number): number {
  if (!(value > 0 && value < 1)) throw new RangeError(`${name} is ${value}; it must be between 0 and 1`);
  return value;
}
