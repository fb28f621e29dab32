import { compileTuning, placeIn, type Motion, type Tuning } from 'apperin';
import type { Edit } from 'apperin/files';
import type { Predicted, Prediction, Spot } from './prediction.js';
import { RELEASES, numbersOf } from './ranges.js';

/** Where the prediction can be taken hold of: what is dragged there are numbers of the tuning. */
export type HandleName = 'apex' | 'landing' | 'tap' | 'runUp' | 'stop' | 'coyote' | 'buffer' | 'offWall' | 'glide';

/** In the order in which they are gone through with the keyboard. */
export const HANDLES: readonly HandleName[] = [
  'runUp',
  'stop',
  'coyote',
  'apex',
  'offWall',
  'landing',
  'glide',
  'buffer',
  'tap',
];

export interface Handle {
  name: HandleName;
  at: Spot;
  /** The number that it shows while it is touched. */
  key: string;
  /** What it is called, and what it stands at. */
  label: string;
  value: string;
}

/** Dragged values snap to tenths of a tile, and to whole tiles from so near; times to hundredths of a second. */
const TENTH = 0.1;
const NEAR = 0.04;
const MOMENT = 0.01;
/** No jump is lower, units of a tile, or quicker, s. */
const LEAST = 0.05;
const QUICKEST = 0.02;

const say = (value: number): string => String(Number(value.toPrecision(4)));

/** A length that people would write. @param free whether it may be anything */
export function snapped(value: number, tile: number, free: boolean): number {
  if (free) return Number(value.toPrecision(5));
  const whole = Math.round(value / tile);
  const tiles = Math.abs(value / tile - whole) < NEAR ? whole : Math.round(value / tile / TENTH) * TENTH;
  return Number((tiles * tile).toPrecision(8));
}

/**
 * What of a prediction can be dragged.
 * @param withGrace whether what is forgiven is shown: how late a jump may be off an edge, and how early a press before landing
 */
export function handlesOf({ full, tap, stop, glide, motion, isOffWall }: Prediction, pair: string, withGrace: boolean): Handle[] {
  const found: Handle[] = [];
  const rest = stop?.rest;
  if (rest && motion.full.run.feel === 'steady') found.push({ name: 'stop', at: rest, key: 'run.stopIn', label: 'End of the stop: how soon it stands', value: `stops in ${say(motion.ground.stopIn)} s` });
  if (!full.takeoff || motion.charges) return found;
  if (isOffWall) {
    const { height, out } = motion.full.wall!.jump;
    if (full.apex) found.push({ name: 'offWall', at: full.apex, key: 'wall.jump.height', label: 'Apex of the wall jump: its height, and sideways its speed out', value: `${say(height)} high, out at ${say(out)}` });
    return found;
  }
  const { jumpHeight, riseTime, full: tuning } = motion;
  if (full.apex) found.push({ name: 'apex', at: full.apex, key: 'jump.height', label: 'Apex: jump height, and sideways its rise time', value: `${say(jumpHeight)} high in ${say(riseTime)} s` });
  if (full.landing) found.push({ name: 'landing', at: full.landing, key: goalOf(pair), label: 'Landing: how long the jump takes', value: landingValue(motion, pair, full.landing.x - full.takeoff.x) });
  // A tap that goes as high as a full jump has no end of its own.
  if (tap?.apex && full.apex && tap.apex.y !== full.apex.y) found.push({ name: 'tap', at: tap.apex, key: 'jump.lowestHop', label: 'Top of a tap: lowest hop', value: `lowest hop ${say(tuning.jump.lowestHop ?? motion.lowestHop)}` });
  const gliding = glide && motion.full.glide && glidesAt(glide);
  if (gliding) found.push({ name: 'glide', at: gliding, key: 'glide.fallSpeed', label: 'On the glide: how fast it goes down', value: `glides down at ${say(motion.full.glide!.fallSpeed)}` });
  const { takeoff, from, landing } = full;
  const { upIn, speed } = motion.ground;
  // From standing it takes off at the end of its run-up.
  if (Math.abs(takeoff.x - from.x) > 1e-3 && full.runsUp) found.push({ name: 'runUp', at: takeoff, key: 'run.upIn', label: 'End of the run-up: how soon it is at top speed', value: `top speed in ${say(upIn)} s` });
  if (!withGrace) return found;
  const { coyote, buffer } = tuning.grace;
  found.push({ name: 'coyote', at: { ...takeoff, x: takeoff.x + full.facing * speed * coyote }, key: 'grace.coyote', label: 'So late off an edge a jump is still given', value: `${say(coyote * 1000)} ms late` });
  if (landing) found.push({ name: 'buffer', at: spotAt(full, landing.time - buffer), key: 'grace.buffer', label: 'So early before landing a press counts', value: `${say(buffer * 1000)} ms early` });
  return found;
} // prettier-ignore

/** Where on its way down a glide is held by: a while after it has begun, before it lands. */
function glidesAt({ apex, landing, pieces, from }: Predicted): Spot | undefined {
  const end = landing?.time ?? pieces.at(-1)?.until;
  if (!apex || end === undefined || end - apex.time < LEAST_GLIDE) return undefined;
  return spotAt({ pieces, from }, apex.time + GLIDE_SHARE * (end - apex.time));
}

/** So far along its way down is what is held, as a share of its time; a shorter way is no glide, s. */
const GLIDE_SHARE = 0.6;
const LEAST_GLIDE = 0.1;

/** Where it is at a moment. */
function spotAt({ pieces, from }: Pick<Predicted, 'pieces' | 'from'>, time: number): Spot {
  const piece = pieces.findLast((one) => one.from <= time) ?? pieces[0];
  if (!piece) return from;
  const { x, y } = placeIn(piece, Math.max(time, piece.from));
  return { time, x, y };
}

/** The goal of time that the file itself has; a jump that is said by constants has its rise time. */
function goalOf(pair: string): string {
  const [, second] = pair.split(' ');
  return second === 'airTime' || second === 'reach' ? `jump.${second}` : 'jump.riseTime';
}

function landingValue(motion: Motion, pair: string, across: number): string {
  const { airTime, reach } = numbersOf(motion);
  const key = goalOf(pair);
  const goal = key === 'jump.reach' ? `reach ${say(reach!)}` : key === 'jump.airTime' ? `${say(airTime!)} s in the air` : `rises in ${say(motion.riseTime)} s`;
  return `lands ${say(Math.abs(across))} away, ${goal}`;
} // prettier-ignore

/** What is dragged: the tuning and the prediction at the moment that it was taken hold of. */
export interface Hold {
  tuning: Tuning;
  prediction: Prediction;
  pair: string;
}

/**
 * The numbers that bring a handle to where it was dragged.
 * @param dx how far from where it was, units across in the level's own axes
 * @param up how far up, units
 * @param how `free` from tenths and tiles; `speed` to find the landing's run speed instead of its time
 */
export function dragged(name: HandleName, { prediction, pair }: Hold, dx: number, up: number, { free = false, speed = false } = {}): Edit[] {
  const { motion, full } = prediction;
  const { tile } = motion.full;
  const moment = (time: number, least = QUICKEST): number => Math.max(least, free ? Number(time.toPrecision(5)) : Math.round(time / MOMENT) * MOMENT);
  const { takeoff, apex, landing } = full;
  if (name === 'tap') {
    const now = prediction.motion.lowestHop;
    const most = motion.jumpHeight;
    const lowestHop = Math.min(most, Math.max(LEAST * tile, snapped(now + up, tile, free)));
    return [{ key: 'jump.lowestHop', value: lowestHop }, ...RELEASES.filter((key) => key !== 'jump.lowestHop').map((key): Edit => ({ key, value: undefined }))];
  }
  const { speed: fast } = motion.ground;
  const { grace } = motion.full;
  // From top speed evenly to rest the way is half as long as at it.
  if (name === 'stop') return [{ key: 'run.stopIn', value: Math.max(0, moment(motion.ground.stopIn + (full.facing * dx * 2) / fast, 0)) }];
  if (!takeoff) return [];
  // From standing evenly to top speed the way is half as long as at it.
  if (name === 'offWall') return offWallDragged(prediction, dx, up, free);
  if (name === 'runUp') return [{ key: 'run.upIn', value: Math.max(0, moment(motion.ground.upIn + (full.facing * dx * 2) / fast)) }];
  if (name === 'coyote') return [{ key: 'grace.coyote', value: Math.max(0, moment(grace.coyote + (full.facing * dx) / fast, 0)) }];
  if (name === 'buffer') return landing ? [{ key: 'grace.buffer', value: moment(landing.time - fallenTo(full, landing, grace.buffer, up), 0) }] : [];
  if (!apex) return [];
  if (name === 'glide') {
    const { glide } = prediction;
    const held = glide && glidesAt(glide);
    const now = motion.full.glide?.fallSpeed;
    if (!held || now === undefined) return [];
    // So much higher by then, it has gone down so much slower.
    const fallSpeed = snapped(now - up / (held.time - glide.apex!.time), tile, free);
    return [{ key: 'glide.fallSpeed', value: Math.max(LEAST * tile, fallSpeed) }];
  }
  if (name === 'apex') {
    const across = apex.x - takeoff.x;
    const height = Math.max(LEAST * tile, snapped(motion.jumpHeight + up, tile, free));
    // At the same speed across, time goes as the way does.
    const riseTime = Math.abs(across) < 0.2 * tile || Math.abs(dx) < 1e-9 ? motion.riseTime : moment(motion.riseTime * Math.max(0.1, (across + dx) / across));
    return saidBy(motion, pair, height, riseTime);
  }
  if (!landing) return [];
  const share = Math.max(0.1, (landing.x - takeoff.x + dx) / (landing.x - takeoff.x || 1));
  if (speed) return [{ key: 'run.speed', value: snapped(motion.ground.speed * share, tile, free) }];
  const [, goal] = pair.split(' ');
  const { airTime, reach } = numbersOf(motion);
  if (goal === 'airTime') return [{ key: 'jump.height', value: motion.jumpHeight }, { key: 'jump.airTime', value: moment(airTime! * share) }];
  if (goal === 'reach') return [{ key: 'jump.height', value: motion.jumpHeight }, { key: 'jump.reach', value: Math.max(LEAST * tile, snapped(reach! * share, tile, free)) }];
  return saidBy(motion, pair, motion.jumpHeight, moment(motion.riseTime * share));
} // prettier-ignore

/** The wall jump that has its apex there: so much farther out it is faster, for as long as it rises; it may be steered back to its wall meanwhile. */
function offWallDragged({ full, motion }: Prediction, dx: number, up: number, free: boolean): Edit[] {
  const { takeoff, apex, pieces } = full;
  const jump = motion.full.wall?.jump;
  const first = takeoff && pieces.find(({ until }) => until > takeoff.time + 1e-9);
  if (!jump || !takeoff || !apex || !first) return [];
  const { tile } = motion.full;
  const away = Math.sign(placeIn(first, Math.max(first.from, takeoff.time)).vx) || 1;
  const height = Math.max(LEAST * tile, snapped(jump.height + up, tile, free));
  const out = Math.abs(dx) < 1e-9 ? jump.out : Math.max(0, snapped(jump.out + (away * dx) / (apex.time - takeoff.time), tile, free));
  return [{ key: 'wall.jump.height', value: height }, { key: 'wall.jump.out', value: out }];
} // prettier-ignore

/** When it comes down past a point of its flight that is so much higher than where it was so long before landing. */
function fallenTo(full: Predicted, landing: Spot, before: number, up: number): number {
  const top = full.apex?.time ?? full.from.time;
  const down = Math.sign(landing.y - (full.apex?.y ?? landing.y - 1)) || 1;
  const wanted = spotAt(full, landing.time - before).y - down * up;
  let [low, high] = [top, landing.time];
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2;
    if ((spotAt(full, middle).y - wanted) * down < 0) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** A height and a rise time, by the pair that the file says the jump with. */
export function saidBy(motion: Motion, pair: string, height: number, riseTime: number): Edit[] {
  const [first, second] = pair.split(' ') as [string, string];
  if (pair === 'height riseTime') return [{ key: 'jump.height', value: height }, { key: 'jump.riseTime', value: riseTime }];
  const kept = Object.fromEntries(Object.entries(motion.full.jump).filter(([name]) => !(name in numbersOf(motion))));
  try {
    // The other numbers of the jump follow.
    const all = numbersOf(compileTuning({ ...motion.full, jump: { ...kept, height, riseTime } }));
    return [first, second].map((name) => ({ key: `jump.${name}`, value: Number(all[name]!.toPrecision(6)) }));
  } catch {
    return [];
  }
} // prettier-ignore
