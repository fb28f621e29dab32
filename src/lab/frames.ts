import { arcPieces, compileTuning, exp, ln, stateAt, type Motion, type Tuning } from '../core/index.js';

/** The order of the steps inside a frame: speed and then place by the new speed, or place by the old speed and then speed. */
export type FrameOrder = 'velocity-first' | 'position-first';

/** Numbers of a character that is moved by frames: units and frames, all positive. */
export interface FrameNumbers {
  /** Frames per second. */
  rate: number;
  order: FrameOrder;
  /** Speed upwards set by a jump, units a frame. */
  launch: number;
  /** Taken from the speed upwards every frame, units a frame a frame. */
  gravity: number;
  /** The same while it comes down, where that is another. */
  fallGravity?: number;
  /** The speed downwards is cut off here, units a frame. */
  fallSpeed?: number;
  /** Top speed across, units a frame. */
  speed?: number;
  /** Added to the speed across every frame while a key is held, and taken from it while none is, units a frame a frame. */
  acceleration?: number;
  deceleration?: number;
  /** Or: the share of the difference to the top speed that is closed every frame while a key is held, 0 to 1. */
  approach?: number;
  /** Or: what the speed across is multiplied by every frame while none is, 0 to 1. */
  friction?: number;
  /** What the speed upwards is multiplied by once, when the key is let go. */
  cut?: number;
  /** Windows, frames. */
  coyote?: number;
  buffer?: number;
}

export interface FromFrames {
  tuning: Tuning;
  /** The farthest that a full jump's height is, at any frame of three seconds, from what the frames make of it, units. */
  bound: number;
  /** What differs, and why. */
  notes: string[];
}

/** How long the two are compared, s. */
const COMPARED = 3;

/**
 * A tuning in seconds from numbers by frames.
 *
 * After n frames the speed-first loop has y = nV − g·n(n + 1)/2, the place-first one y = nV − g·n(n − 1)/2. At the time n/rate both are the parabola of gravity
 * g·rate² whose launch speed is (V ∓ g/2)·rate: so the arc is the same at every frame, as long as gravity is one number and below the cap.
 * @throws RangeError naming a number that is out of range; TuningError where they make no tuning
 */
export function fromFrames(f: FrameNumbers): FromFrames {
  check('rate', f.rate, 1, 10000);
  check('launch', f.launch, 0, 1e6);
  check('gravity', f.gravity, 0, 1e6);
  const { rate, gravity: g } = f;
  const half = f.order === 'velocity-first' ? -g / 2 : g / 2;
  const notes: string[] = [];
  const launchSpeed = (f.launch + half) * rate;
  if (!(launchSpeed > 0)) throw new RangeError(`launch is ${f.launch}; with a gravity of ${g} a frame it must be above ${-half}`);
  const run: Record<string, unknown> = {};
  if (f.speed !== undefined) run.speed = f.speed * rate;
  const eased = f.approach !== undefined || f.friction !== undefined;
  if (eased) {
    run.feel = 'eased';
    if (f.approach !== undefined) run.upIn = run.turnIn = tenthLeft(1 - share('approach', f.approach)) / rate;
    if (f.friction !== undefined) run.stopIn = tenthLeft(share('friction', f.friction)) / rate;
    if (f.acceleration !== undefined || f.deceleration !== undefined) notes.push('a run has one feel: next to a share or a factor, what is added evenly is left aside');
    notes.push('the run: what is left of a difference after n frames is the same; the distance differs by up to a frame of speed, and at three times its time an eased run is at its target');
  } else {
    if (f.speed !== undefined && f.acceleration !== undefined) run.upIn = run.turnIn = f.speed / f.acceleration / rate;
    if (f.speed !== undefined && f.deceleration !== undefined) run.stopIn = f.speed / f.deceleration / rate;
    if (f.acceleration !== undefined || f.deceleration !== undefined) notes.push('the run: the speed is the same at every frame; the distance differs by up to half a frame of speed');
  }
  const falling = f.fallGravity === undefined ? 1 : f.fallGravity / g;
  if (falling !== 1) notes.push('coming down: a frame is wholly on one side of the apex, a second is not');
  if (f.fallSpeed !== undefined) notes.push('the terminal speed: it is reached within a frame');
  if (f.cut !== undefined) notes.push('letting go: it acts at its own moment, not at the next frame');
  const tuning = {
    ...(Object.keys(run).length > 0 ? { run } : {}),
    jump: { launchSpeed, baseGravity: g * rate * rate, minHold: 0 },
    gravity: { rising: 1, apex: 1, apexSpeed: 0, falling, ...(f.fallSpeed === undefined ? {} : { fallSpeed: f.fallSpeed * rate }), ...(f.cut === undefined ? {} : { cutTo: f.cut }) },
    grace: { ...(f.coyote === undefined ? {} : { coyote: f.coyote / rate }), ...(f.buffer === undefined ? {} : { buffer: f.buffer / rate }) },
  } as Tuning;
  return { tuning, bound: boundOf(f, compileTuning(tuning)), notes };
} // prettier-ignore

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
 * The numbers by frames that come nearest to a tuning: the other way round. What frames do not have (an apex band, a fall that gets steeper) is left out, and said.
 * @param rate frames per second
 */
export function toFrames(tuning: Tuning | Motion, rate: number, order: FrameOrder): { frames: FrameNumbers; bound: number; notes: string[] } {
  check('rate', rate, 1, 10000);
  const m = 'launch' in tuning ? tuning : compileTuning(tuning);
  const notes: string[] = [];
  const g = m.rising / (rate * rate);
  const { run, grace } = m.full;
  const steady = run.feel === 'steady';
  const times = run as { speed: number; upIn: number; stopIn: number };
  const speed = times.speed / rate;
  const finite = (value: number): number | undefined => (Number.isFinite(value) ? value : undefined);
  const given: Partial<FrameNumbers> = steady
    ? { acceleration: finite(speed / (times.upIn * rate))!, deceleration: finite(speed / (times.stopIn * rate))! }
    : { approach: 1 - left(times.upIn * rate), friction: left(times.stopIn * rate) };
  const frames: FrameNumbers = {
    rate,
    order,
    launch: m.launch / rate + (order === 'velocity-first' ? g / 2 : -g / 2),
    gravity: g,
    ...(m.falling === m.rising ? {} : { fallGravity: m.falling / (rate * rate) }),
    fallSpeed: m.cap / rate,
    speed,
    ...(Object.fromEntries(Object.entries(given).filter(([, value]) => value !== undefined)) as Partial<FrameNumbers>),
    ...(m.full.gravity.cutTo === undefined ? {} : { cut: m.full.gravity.cutTo }),
    coyote: grace.coyote * rate,
    buffer: grace.buffer * rate,
  };
  if (m.band > 0 && m.apex !== m.rising) notes.push('the apex band is left out: frames have one gravity while rising');
  if (m.rampOver > 0) notes.push('the fall ramp is left out');
  if (m.full.gravity.cutTo === undefined) notes.push('letting go early is left out: released gravity has no number by frames here');
  return { frames, bound: boundOf(frames, m), notes };
} // prettier-ignore

/** Frames until a tenth of a difference is left, where each frame leaves such a share of it. */
function tenthLeft(share: number): number {
  return share <= 0 ? 0 : ln(0.1) / ln(share);
}

/** The share that each frame leaves, where after so many a tenth is left. */
function left(frames: number): number {
  return frames <= 0 ? 0 : exp(ln(0.1) / frames);
}

function share(name: string, value: number): number {
  if (!(value > 0 && value < 1)) throw new RangeError(`${name} is ${value}; it must be between 0 and 1`);
  return value;
}

function check(name: string, value: number, least: number, most: number): void {
  if (!(value > least || (value === least && name === 'rate')) || !(value <= most))
    throw new RangeError(`${name} is ${value}; it must be above ${least} and at most ${most}`);
}
