import {
  apexOf,
  arcPieces,
  comingDown,
  compileTuning,
  exp,
  ln,
  stateAt,
  type Motion,
  type Tuning,
} from '../core/index.js';
import { airOf, easedTurnShare, loopRule, steer, type LoopRule } from './loop.js';
import type { FrameNumbers, FrameOrder, FrameSteering } from './frame-numbers.js';
import { playedByBoth, type Manoeuvre } from './manoeuvres.js';

/** A tuning made of numbers by frames. */
export interface FromFrames {
  tuning: Tuning;
  /** The farthest that a full jump's height is, at any frame of three seconds, from what the frames make of it, units. */
  bound: number;
  /** What each of seven manoeuvres comes to, played by the loop and by the tuning. */
  manoeuvres: readonly Manoeuvre[];
  /** What differs, and why. */
  notes: string[];
}

/** How long the two are compared, s. */
const COMPARED = 3;
/** A loop without a terminal speed: that of a fall of so long, s. */
const NO_CAP = 60;
/** A loop's cut is matched at this share of its launch speed: there the errors of all releases, early and late, are least. */
const CUT_AT = 2 * Math.SQRT2 - 2;

/**
 * A tuning in seconds from numbers by frames, which plays as the loop did.
 *
 * After n frames the speed-first loop has y = nV − g·n(n + 1)/2, the place-first one y = nV − g·n(n − 1)/2. At the time n/rate both are the parabola of gravity
 * g·rate² whose launch speed is (V ∓ g/2)·rate: so the arc is the same at every frame, as long as gravity is one number and below the cap. A cut c at the speed
 * v leaves the parabola of c·v ∓ g/2, not of c·(v ∓ g/2): the share of the tuning is the one that agrees at 0.83 of the launch speed.
 * @throws RangeError naming a number that is out of range; TuningError where they make no tuning
 * @example
 * ```ts
 * fromFrames({ rate: 60, order: 'velocity-first', launch: 0.3, gravity: 0.0137 }).tuning
 * ```
 */
export function fromFrames(f: FrameNumbers): FromFrames {
  check('rate', f.rate, 1, 10000);
  check('launch', f.launch, 0, 1e6);
  check('gravity', f.gravity, 0, 1e6);
  const { rate, gravity: g, tile = 1 } = f;
  const notes: string[] = [];
  const half = halfStep(f);
  const launchSpeed = (f.launch + half) * rate;
  if (!(launchSpeed > 0))
    throw new RangeError(`launch is ${f.launch}; with a gravity of ${g} a frame it must be above ${-half}`);
  if (f.tile === undefined && launchSpeed > 100)
    notes.push(`a launch of ${round(launchSpeed)} units/s: if these are pixels, say how many make a tile (tile: 16), so that what the file leaves out fits`);
  const run = runOf(f, notes);
  const falling = f.fallGravity === undefined ? 1 : f.fallGravity / g;
  if (falling !== 1) notes.push('coming down: a frame is wholly on one side of the apex, a second is not');
  if (f.fallSpeed === undefined) notes.push(`no terminal speed: it stands where a fall of ${NO_CAP} s would come to`);
  else notes.push('the terminal speed: it is reached within a frame');
  if (f.cut === undefined) notes.push('letting go does nothing, as in the loop (gravity.cutTo: 1)');
  else notes.push('letting go: it acts at its own moment, not at the next frame; the cut is that of the loop to within what half a frame of gravity makes');
  if (f.coyote === undefined || f.buffer === undefined) notes.push('windows that the file leaves out, and help over corners and lips, are off');
  const tuning = {
    ...(f.tile === undefined ? {} : { tile }),
    ...(f.body === undefined ? {} : { body: f.body }),
    ...(run === undefined ? {} : { run }),
    jump: { launchSpeed, baseGravity: g * rate * rate, minHold: (f.minHold ?? 0) / rate },
    gravity: {
      rising: 1,
      apex: 1,
      apexSpeed: 0,
      falling,
      fallSpeed: f.fallSpeed === undefined ? NO_CAP * falling * g * rate * rate : f.fallSpeed * rate,
      cutTo: f.cut === undefined ? 1 : cutOf(f),
    },
    grace: { coyote: (f.coyote ?? 0) / rate, buffer: (f.buffer ?? 0) / rate, corner: 0, lip: 0 },
  } as Tuning;
  const motion = compileTuning(tuning);
  return { tuning, bound: boundOf(f, motion), manoeuvres: playedByBoth(f, motion), notes };
} // prettier-ignore

/** By how much the parabola's speed differs from the loop's at a frame's end, units a frame. */
function halfStep({ order, gravity }: FrameNumbers): number {
  return order === 'velocity-first' ? -gravity / 2 : gravity / 2;
}

/** The share of the rising speed that a tuning leaves where the loop multiplies by its cut. */
function cutOf(f: FrameNumbers): number {
  const at = CUT_AT * f.launch;
  const half = halfStep(f);
  const share = (f.cut! * at + half) / (at + half);
  return f.cut === 0 || !(share > 0) ? 0 : share < 1 ? share : 1;
}

/** The loop's cut, where the tuning leaves a share: the other way round. */
function loopCut(f: FrameNumbers, share: number): number {
  const at = CUT_AT * f.launch;
  const half = halfStep(f);
  const cut = (share * (at + half) - half) / at;
  return share === 0 || !(cut > 0) ? 0 : cut < 1 ? cut : 1;
}

/** The cut with which early releases, whenever they come, are nearest to as high as the tuning's: the worst of them is as good as it can be. */
function nearestCut(f: FrameNumbers, m: Motion): number {
  const whole = arcPieces(m, m.launch);
  const half = halfStep(f);
  const heights: { y: number; v: number; height: number }[] = [];
  for (let n = Math.max(1, Math.ceil(m.minHold * f.rate)), v = f.launch - n * f.gravity; v > 0; n++, v -= f.gravity) {
    // Within the band, where letting go changes little, it decides nothing.
    if (!(stateAt(whole, n / f.rate).v > m.band)) break;
    const height = apexOf(arcPieces(m, m.launch, n / f.rate)).y;
    heights.push({ y: n * (f.launch + half) - (n * n * f.gravity) / 2, v, height });
  }
  const worst = (cut: number): number =>
    heights.reduce((most, { y, v, height }) => {
      const speed = Math.max(0, cut * v + half);
      return Math.max(most, Math.abs(y + (speed * speed) / (2 * f.gravity) - height));
    }, 0);
  let [low, high] = [0, 1];
  for (let i = 0; i < 100; i++) {
    const [a, b] = [low + (high - low) / 3, high - (high - low) / 3];
    if (worst(a) <= worst(b)) high = b;
    else low = a;
  }
  return (low + high) / 2;
} // prettier-ignore

/** A run in seconds, ground and air; undefined where the file says nothing about it. */
function runOf(f: FrameNumbers, notes: string[]): object | undefined {
  const ground = loopRule(f);
  if (ground === undefined) return undefined;
  const eased = ground.eased;
  if (f.approach !== undefined && f.acceleration !== undefined) notes.push('a run has one feel: beside a share (approach), what is added evenly (acceleration) is left aside');
  if (ground.both !== undefined)
    notes.push(`acceleration and friction, both every frame: an approach of ${round(1 - f.friction!)} a frame to ${round(ground.both)} units a frame${ground.both > ground.speed * (1 + 1e-9) ? `, cut off at ${round(ground.speed)}` : ''}`);
  notes.push(
    eased
      ? 'the run: what is left of a difference after n frames is the same; the distance differs by up to a frame of speed, and at three times its time an eased run is at its target'
      : 'the run: the speed is the same at every frame; the distance differs by up to half a frame of speed',
  );
  const inAir = airOf(f);
  const air = inAir && loopRule(inAir);
  return {
    speed: ground.speed * f.rate,
    feel: eased ? 'eased' : 'steady',
    ...timesOf(ground, eased, f.rate),
    air: air === undefined ? 'locked' : { speed: air.speed * f.rate, ...timesOf(air, eased, f.rate) },
  };
} // prettier-ignore

/**
 * The three times of a run. Where the loop's way is that of the run's feel they follow from the numbers; elsewhere (evenly beside a share, a top speed that
 * cuts an approach off) the time is the one in which the same distance is covered.
 */
function timesOf(rule: LoopRule, eased: boolean, rate: number): { upIn: number; stopIn: number; turnIn: number } {
  const { speed } = rule;
  const [up, stop, turn] = rule.shares;
  const even = rule.steps;
  const covered = (from: number, way: number): number => {
    // Speeds between two frames count as going evenly from one to the other.
    let [v, sum] = [from, 0];
    for (let n = 0; n < MOST_FRAMES; n++) {
      const next = steer(rule, v, way);
      if (way < 0 && next <= 0) return sum + (v * v) / (2 * (v - next));
      sum += way > 0 ? speed - (v + next) / 2 : (v + next) / 2;
      if (Math.abs(next - v) <= 1e-12 * speed) break;
      v = next;
    }
    return sum;
  };
  const time = (k: 0 | 1 | 2, share: number | undefined, step: number | undefined): number => {
    if (speed === 0) return 0;
    if (eased && share !== undefined) return tenthLeft(share) / rate;
    if (!eased && step !== undefined) return speed / step / rate;
    if (share === undefined && step === undefined) return 0;
    const distance = [covered(0, 1), covered(speed, 0), covered(speed, -1)][k]! / speed;
    return (eased ? (distance * LN10) / (k === 2 ? easedTurnShare : 1) : 2 * distance) / rate;
  };
  return { upIn: time(0, up, even[0]), stopIn: time(1, stop, even[1]), turnIn: time(2, turn, even[2]) };
}

const LN10 = ln(10);
/** A loop that has not come to its speed by then never does, frames. */
const MOST_FRAMES = 1e6;

/** The farthest that the closed form is from the frames. */
function boundOf(f: FrameNumbers, m: Motion): number {
  const pieces = arcPieces(m, m.launch);
  let [y, v, worst] = [0, f.launch, 0];
  for (let n = 1; n <= COMPARED * f.rate; n++) {
    const before = v;
    v -= v > 0 ? f.gravity : (f.fallGravity ?? f.gravity);
    if (f.fallSpeed !== undefined && v < -f.fallSpeed) v = -f.fallSpeed;
    y += f.order === 'velocity-first' ? v : before;
    worst = Math.max(worst, Math.abs(y - stateAt(pieces, n / f.rate).y));
  }
  return worst;
}

/**
 * The numbers by frames that come nearest to a tuning: the other way round. What frames do not have is met in what it comes to, and said: where there is an apex
 * band or a fall ramp, gravity is the one with which a full jump is as high and as long in the air; released gravity k is a cut to 1/√k, with which every early
 * release rises as high.
 * @param rate frames per second
 * @throws RangeError where the rate is out of range; TuningError where the tuning is wrong
 * @example
 * ```ts
 * toFrames(brindle, 60, 'position-first').frames
 * ```
 */
export function toFrames(tuning: Tuning | Motion, rate: number, order: FrameOrder): { frames: FrameNumbers; bound: number; manoeuvres: readonly Manoeuvre[]; notes: string[] } {
  check('rate', rate, 1, 10000);
  const m = 'launch' in tuning ? tuning : compileTuning(tuning);
  const notes: string[] = [];
  const { full } = m;
  const [launch, up, down] = plainArc(m, notes);
  const g = up / (rate * rate);
  const { tile } = full;
  const steering = steeringOf(m.ground, rate);
  const air = m.airLocked ? ('none' as const) : otherwise(steering, steeringOf(m.air, rate));
  const frames: FrameNumbers = {
    rate,
    order,
    ...(tile === 1 ? {} : { tile }),
    body: { width: full.body.width, height: full.body.height },
    launch: launch / rate + (order === 'velocity-first' ? g / 2 : -g / 2),
    gravity: g,
    ...(down === up ? {} : { fallGravity: down / (rate * rate) }),
    ...(m.cap < 0.99 * NO_CAP * m.falling ? { fallSpeed: m.cap / rate } : {}),
    ...steering,
    ...(air === undefined ? {} : { air }),
    ...(m.minHold > 0 ? { minHold: m.minHold * rate } : {}),
    coyote: full.grace.coyote * rate,
    buffer: full.grace.buffer * rate,
  };
  const share = m.cutTo / Math.sqrt(m.releasedAbove / m.rising);
  if (share < 1) frames.cut = m.band > 0 && m.apex !== m.rising ? nearestCut(frames, m) : loopCut(frames, share);
  if (m.releasedAbove > m.rising) notes.push('letting go early: released gravity is a cut with which the hop is as high; it takes longer');
  if (m.jumpOff) notes.push('jump: off: the loop’s launch is that of the goals');
  const left = ['airJumps', 'charge', 'wall', 'glide', 'dive', 'ledge', 'drop', 'crouch'].filter((name) => (full as unknown as Record<string, unknown>)[name] !== undefined);
  if (left.length > 0) notes.push(`left out: ${left.join(', ')}`);
  return { frames, bound: boundOf(frames, m), manoeuvres: playedByBoth(frames, m), notes };
} // prettier-ignore

/**
 * Launch speed and gravities, up and down, of an arc without band and ramp: launched as fast, so that early releases are as high, its full jump as high and
 * as long in the air.
 */
function plainArc(m: Motion, notes: string[]): readonly [launch: number, up: number, down: number] {
  const banded = m.band > 0 && m.apex !== m.rising;
  if (!banded && m.rampOver === 0) return [m.launch, m.rising, m.falling];
  const { jumpHeight: height, launch, cap } = m;
  const up = banded ? (launch * launch) / (2 * height) : m.rising;
  if (banded) notes.push('the apex band: frames have one gravity while rising; with it every jump is as high, and is at its top a little earlier');
  if (m.rampOver > 0) notes.push('the fall ramp: frames have one gravity while falling; with it a full jump lands as late');
  const lands = comingDown(arcPieces(m, launch), 0).time - launch / up;
  const fallTime = (gravity: number): number => {
    const fast = cap / gravity;
    const dropped = (cap * fast) / 2;
    return dropped >= height ? Math.sqrt((2 * height) / gravity) : fast + (height - dropped) / cap;
  };
  return [launch, up, least(0, 1e6 * m.falling, (gravity) => fallTime(gravity) <= lands)];
} // prettier-ignore

/** The least number within that something holds of, which then holds of all above. */
function least(low: number, high: number, holds: (value: number) => boolean): number {
  for (let i = 0; i < 100; i++) {
    const middle = low + (high - low) / 2;
    if (holds(middle)) high = middle;
    else low = middle;
  }
  return high;
}

/** Two times this close, frames, are one: at most two frames of speed come of it. */
const NEAR = 2.5;

/** How a loop steers as a rule does. */
function steeringOf({ eased, upIn, stopIn, turnIn, speed: perSecond }: Motion['ground'], rate: number): FrameSteering {
  const speed = perSecond / rate;
  if (!eased) {
    // One acceleration for both, where that is near enough: a turn shows what is amiss twice.
    const one = upIn > 0 && Math.abs(upIn - turnIn) * rate <= NEAR;
    const up = one ? turnIn + (upIn - turnIn) / 4 : upIn;
    return {
      speed,
      ...(up > 0 ? { acceleration: speed / (up * rate) } : {}),
      ...(up > 0 && !one ? { turning: turnIn > 0 ? speed / (turnIn * rate) : speed } : {}),
      ...(stopIn > 0 ? { deceleration: speed / (stopIn * rate) } : {}),
    };
  }
  const differs = (Math.abs(turnIn - upIn) * rate * easedTurnShare) / LN10;
  const friction = left(stopIn * rate);
  if (differs > 0.05 && stopIn > 0 && upIn > 0) {
    const cutOff = cutOffApproach({ upIn, turnIn }, speed, friction, rate);
    if (cutOff !== undefined) return cutOff;
  }
  return {
    speed,
    ...(upIn > 0 ? { approach: 1 - left(upIn * rate) } : {}),
    // The even turn that needs as much room, where that is another by more than a frame of speed.
    ...(upIn > 0 && differs > 1
      ? { turning: turnIn > 0 ? (speed * LN10) / (2 * easedTurnShare * turnIn * rate) : speed }
      : {}),
    ...(stopIn > 0 ? { friction } : {}),
  };
}

/** Acceleration and friction, both every frame, cut off at the top speed, where both its times are those wanted. */
function cutOffApproach(
  times: { upIn: number; turnIn: number },
  speed: number,
  friction: number,
  rate: number,
): FrameSteering | undefined {
  const made = (acceleration: number): { upIn: number; turnIn: number } =>
    timesOf(loopRule({ speed, acceleration, friction })!, true, rate);
  const plain = (speed * (1 - friction)) / friction;
  const acceleration = least(plain * 1.02, plain + speed, (value) => made(value).upIn <= times.upIn);
  const { upIn, turnIn } = made(acceleration);
  const close = Math.abs(upIn - times.upIn) + Math.abs(turnIn - times.turnIn) <= 1e-3 * (times.upIn + times.turnIn);
  return close ? { speed, acceleration, friction } : undefined;
}

/** What of the steering in the air is otherwise than on the ground; undefined where nothing is. */
function otherwise(ground: FrameSteering, air: FrameSteering): FrameSteering | undefined {
  const keys = Object.keys(air) as (keyof FrameSteering)[];
  const differs = keys.some((key) => !(Math.abs(air[key]! - (ground[key] ?? NaN)) <= 1e-12 * air[key]!));
  return differs || Object.keys(ground).length !== keys.length ? air : undefined;
}

/** Frames until a tenth of a difference is left, where each frame leaves such a share of it. */
function tenthLeft(share: number): number {
  return share <= 0 ? 0 : ln(0.1) / ln(share);
}

/** The share that each frame leaves, where after so many a tenth is left. */
function left(frames: number): number {
  return frames <= 0 ? 0 : exp(ln(0.1) / frames);
}

function round(value: number): string {
  return String(Number(value.toPrecision(4)));
}

function check(name: string, value: number, least: number, most: number): void {
  if (!(value > least || (value === least && name === 'rate')) || !(value <= most))
    throw new RangeError(`${name} is ${value}; it must be above ${least} and at most ${most}`);
}
