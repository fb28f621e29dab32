import { recordPieces, script, type InputRow, type Motion, type Stage, type TracePiece } from 'apperin';
import { pathOf, stretchesOf } from '../../figures/path.js';

/** A place that it comes to. */
export interface Spot {
  /** s of stage time */
  time: number;
  x: number;
  y: number;
}

/** A flight that will be: a fork of the stage that is played, with the keys of a plan. */
export interface Predicted {
  /** The keys that it is played with, from now on. */
  rows: readonly InputRow[];
  pieces: readonly TracePiece[];
  /** Its way as a path, from its first place, in units and the level's own axes. */
  path: string;
  from: Spot;
  /** Whether it runs up first, and which way: −1 or 1. */
  runsUp: boolean;
  facing: number;
  /** Where it leaves the ground, is highest, and lands; undefined where it does not. */
  takeoff: Spot | undefined;
  apex: Spot | undefined;
  landing: Spot | undefined;
  /** Where it comes to rest, of a run that is let go of. */
  rest: Spot | undefined;
}

/** What a tuning will do from here: the full jump, and a tap, where it stands or runs; in the air the flight that it is in. */
export interface Prediction {
  motion: Motion;
  full: Predicted;
  tap: Predicted | undefined;
  /** The run, let go of where it would jump. */
  stop: Predicted | undefined;
  /** The full jump, gliding down from its apex on; undefined where it does not glide. */
  glide: Predicted | undefined;
  /** Whether the full jump is one off a wall. */
  isOffWall: boolean;
}

/** So slow is standing, of the run; nothing is followed for longer, s. */
const STANDS = 0.05;
const LONGEST = 4;
/** Whoever lets go comes to rest within so long, or is not waited for, s. */
const AT_REST = 1.5;
/** A key is let go of at once, s. */
const AT_ONCE = 2e-6;

/**
 * What will happen, in the level as it is: what is held stays held. From standing it runs the way that it faces, up to its top speed, and jumps.
 * @param stage with the character that is played as its first; it is not moved on
 * @param rate ticks per second that it is played at
 * @returns undefined where it does not jump
 */
export function predict(stage: Stage, rate: number, motion: Motion): Prediction | undefined {
  const hero = stage.characters[0]!;
  const now = stage.time;
  const { support } = hero;
  const key = (time: number, action: string, value: number): InputRow => ({ time: micro(time), action, value });
  const isOffWall = support === 'wall' && motion.full.wall?.jump !== undefined;
  // Off a wall it jumps now; in the air the flight goes on.
  const off = isOffWall ? [key(now, 'jump', 0), key(now + AT_ONCE, 'jump', 1)] : [];
  if (support !== 'ground') return { motion, full: played(stage, rate, motion, off, now, false), tap: undefined, stop: undefined, glide: undefined, isOffWall };
  if (motion.jumpOff) return undefined;
  const speed = Math.abs(hero.vx);
  const runsUp = speed < STANDS * motion.ground.speed;
  const way = hero.view(1).facing > 0 ? 'right' : 'left';
  const leaves = now + (runsUp ? motion.ground.upIn + 1 / rate : 0);
  const begins = [...(runsUp ? [key(now, way, 1)] : []), key(leaves, 'jump', 0), key(leaves + AT_ONCE, 'jump', 1)];
  const { charge } = motion.full;
  const held = charge ? charge.fullIn + AT_ONCE : Infinity;
  const full = played(stage, rate, motion, [...begins, ...(held < Infinity ? [key(leaves + AT_ONCE + held, 'jump', 0)] : [])], leaves, runsUp);
  const tap = played(stage, rate, motion, [...begins, key(leaves + 2 * AT_ONCE, 'jump', 0)], leaves, runsUp);
  const stop = played(stage, rate, motion, [...(runsUp ? [key(now, way, 1)] : []), key(leaves, 'left', 0), key(leaves, 'right', 0)], leaves, runsUp, true);
  // Held from the takeoff on it begins with the fall.
  const glide = motion.full.glide && full.apex ? played(stage, rate, motion, [...begins, key(leaves + 2 * AT_ONCE, 'glide', 1)], leaves, runsUp) : undefined;
  return { motion, full, tap, stop, glide, isOffWall: false };
} // prettier-ignore

/** Keys change at whole microseconds, and none in the past. */
const micro = (time: number): number => (Math.floor(time * 1e6) + 1) / 1e6;

function played(stage: Stage, rate: number, motion: Motion, rows: readonly InputRow[], leaves: number, runsUp: boolean, rests = false): Predicted {
  const fork = stage.fork({ hero: script(rows) });
  const hero = fork.characters[0]!;
  hero.retune(motion.full);
  const recorded = recordPieces(fork, hero);
  const at = (time = fork.time): Spot => ({ time, x: hero.x, y: hero.y });
  const from = at();
  const spots: Pick<Predicted, 'takeoff' | 'apex' | 'landing'> = { takeoff: undefined, apex: undefined, landing: undefined };
  hero.on('takeoff', ({ time, x, y }) => (spots.takeoff ??= { time, x, y }));
  hero.on('apex', ({ time, x, y }) => (spots.apex ??= { time, x, y }));
  hero.on('touchdown', ({ time, x, y }) => {
    if (time > leaves) spots.landing ??= { time, x, y };
  });
  const isDone = (): boolean => (rests ? fork.time > leaves && hero.vx === 0 : spots.landing !== undefined);
  for (let i = 0; i < (rests ? AT_REST : LONGEST) * rate && !isDone(); i++) fork.tick(1 / rate);
  recorded.end();
  const rest = rests && hero.vx === 0 && hero.support === 'ground' ? at() : undefined;
  const until = rests ? Infinity : (spots.landing?.time ?? Infinity);
  const pieces = recorded.pieces.filter((piece) => piece.from < until).map((piece) => (piece.until > until ? { ...piece, until } : piece));
  const path = pathOf(stretchesOf(pieces), (x, y) => `${Number((x - from.x).toFixed(5))},${Number((y - from.y).toFixed(5))}`);
  return { rows, pieces, path, from, runsUp, facing: stage.characters[0]!.view(1).facing, ...spots, rest };
} // prettier-ignore
