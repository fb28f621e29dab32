import type { CompiledLevel, Motion } from '../../core/index.js';
import type { Game, Node } from './game.js';
import type { Goal, Move } from './moves.js';
import { heightOn } from './footing.js';
import type { Place, Wall } from './places.js';

/** So many phases of a mover's lap are waited for. */
const PHASES = 16;
/** So much after a stop, s, that it has come to it. */
const SOON = 1e-3;
/** So far before an end is the last moment on it, in body widths. */
const LAST = 2 ** -12;
/** The longest lap that is waited for, s. */
const LONG = 60;

/** Ways that may lead from a situation to a goal, the likeliest first. */
export function* movesFor(game: Game, from: Node, goal: Goal): Generator<Move> {
  const place = from.place!;
  const { movers } = game.level;
  const rides = [place.set, goal.set].filter((set) => set > 0);
  const lap = Math.min(LONG, Math.max(0, ...rides.map((set) => movers[set - 1]!.route?.lap ?? 0)));
  if (lap === 0) {
    yield* stillMoves(game, place, goal);
    return;
  }
  // On what moves, and to it, few ways but at every phase, and when it comes to a stop and goes on.
  const waits: { at: number; lap: number }[] = [];
  for (const set of rides) {
    const { route } = movers[set - 1]!;
    for (const stop of route?.stops ?? []) waits.push({ at: (((stop - route!.phase + SOON) % route!.lap) + route!.lap) % route!.lap, lap: route!.lap });
  }
  const simple = [...simpleMoves(game.motion, place)];
  for (let k = 0; k < PHASES; k++) waits.push({ at: (lap * k) / PHASES, lap });
  for (const wait of waits) for (const move of simple) yield { ...move, wait };
} // prettier-ignore

function* simpleMoves(motion: Motion, place: Place): Generator<Move> {
  const long = holdOf(motion);
  if (place.kind === 'ledge') {
    yield* ledgeMoves(place, long);
    return;
  }
  const [left, right] = [place.xs[0]!, place.xs.at(-1)!];
  const inset = Math.min(motion.width / 2, (right - left) / 2);
  const runUp = (motion.ground.speed * motion.ground.upIn) / 2 + motion.width / 2;
  for (const way of [1, -1]) {
    const end = way > 0 ? right - inset : left + inset;
    yield { start: end, way, hold: long };
    yield { start: end, way, press: { now: true }, hold: long };
    const last = way > 0 ? right : left;
    const start = Math.min(Math.max(last - way * runUp, left), right);
    for (const holds of [true, false])
      yield { start, way, press: { x: last - way * motion.width * LAST }, hold: long, ...(holds ? { holds } : {}) };
  }
}

function* ledgeMoves(place: Place, long: number): Generator<Move> {
  yield { way: place.side, hold: long, ledge: 'up' };
  yield { way: place.side, hold: long, ledge: 'jump' };
  yield { way: -place.side, hold: long, ledge: 'jump', walls: true };
  yield { way: 0, hold: long, ledge: 'down' };
}

/** For how long jump is held for a full jump. */
function holdOf({ riseTime, full }: Motion): number {
  return riseTime + (full.gravity.apex < 1 ? 0.6 : 0.3);
}

function* stillMoves({ motion, level, places: { walls } }: Game, place: Place, goal: Goal): Generator<Move> {
  const { full, width, riseTime, ground } = motion;
  const long = holdOf(motion);
  if (place.kind === 'ledge') {
    for (const move of ledgeMoves(place, long)) {
      yield move;
      if (move.ledge !== 'jump') continue;
      if (full.airJumps) for (const after of [0, riseTime / 2]) yield { ...move, air: full.airJumps.heights.map(() => after) };
      if (full.glide) yield { ...move, glide: true };
    }
    return;
  }
  const [left, right] = [place.xs[0]!, place.xs.at(-1)!];
  const within = (x: number): number => Math.min(Math.max(x, left), right);
  const low = place.kind === 'low' || goal.place?.kind === 'low' ? { low: true } : {};
  const apart = goal.left > right ? 1 : goal.right < left ? -1 : 0;
  const ways = apart !== 0 ? [apart] : [1, -1];
  const up = goal.y - heightOn(place, within((goal.left + goal.right) / 2));
  // A point may be covered from where it stands.
  if (goal.place === undefined) yield { start: within((goal.left + goal.right) / 2), way: 0, hold: 0 };
  const drops = full.drop !== undefined && apart === 0 && up < 0;
  const airs: (readonly number[] | undefined)[] = [undefined];
  const heights = full.airJumps?.heights ?? [];
  if (heights.length > 0) for (const after of [0, riseTime * 0.35, riseTime * 0.7, riseTime]) airs.push(heights.map(() => after));
  const quick = level.surfaces.reduce((most, { pace }) => Math.max(most, pace), 1);
  const runUp = (quick * ground.speed * ground.upIn) / 2 + width / 2;
  const stepsUp = up > -0.5 * width;
  if (drops) for (const x of [goal.left, (goal.left + goal.right) / 2, goal.right]) yield { ...low, start: within(x), way: 0, drop: true, hold: long };
  // On a belt nobody stands still: from where it is.
  const drifts = [...place.edges].some((e) => level.surfaces[level.terrain.styles[level.terrain.style[e]!]!.surface]!.flow !== 0);
  if (drifts)
    for (const way of ways) {
      const end = way > 0 ? right : left;
      yield { ...low, way, hold: long };
      for (const holds of [true, false]) yield { ...low, way, press: { x: end - way * motion.width * LAST }, hold: long, ...(holds ? { holds } : {}) };
      yield { ...low, way, press: { now: true }, hold: long };
    }
  // Over the end, and on.
  for (const way of ways) {
    const end = way > 0 ? right : left;
    const start = within(end - way * runUp);
    yield { ...low, start, way, hold: long };
    if (!stepsUp) yield { ...low, start, way, hold: long, holds: true };
    if (full.crouch && !low.low) yield { low: true, start, way, hold: long };
    if (full.glide) yield { ...low, start, way, hold: long, glide: true };
    // From a standing start, over the end by a little.
    if (!stepsUp) yield { ...low, start: end, way, hold: long };
  }
  const charges = motion.charges ? [1, 0.6, 0.3, 0].map((share) => share * full.charge!.fullIn) : [undefined];
  const extras = (move: Move): Move[] => {
    const list: Move[] = [];
    for (const charge of charges)
      for (const air of airs) list.push({ ...low, ...move, ...(air ? { air } : {}), ...(charge === undefined ? {} : { charge }) });
    if (full.glide) for (const air of airs.slice(-2)) list.push({ ...low, ...move, ...(air ? { air } : {}), glide: true, ...(charges[0] === undefined ? {} : { charge: charges[0] }) });
    return list;
  };
  const shade = width / 32;
  // Beside the goal, straight up and in; from beneath it, where it lets through.
  if (up > 0) {
    const beside = [goal.left - shade, goal.right + shade].filter((x) => x >= left - shade && x <= right + shade).map(within);
    const beneath = apart === 0 ? [within((goal.left + goal.right) / 2)] : [];
    for (const x of [...beside, ...beneath, ...(apart !== 0 ? [apart > 0 ? right : left] : [])])
      for (const move of extras({ start: x, way: 0, press: { now: true }, hold: long })) yield move;
  }
  // From a run, pressed at the end or before it, where it comes down on it.
  for (const way of ways) {
    const end = way > 0 ? right : left;
    const target = way > 0 ? goal.left : goal.right;
    const speed = ground.speed;
    const points = new Set<number>();
    for (const back of [shade, 0.3 * riseTime * speed]) points.add(within(end - way * back));
    for (const time of [1, 0.6, 1.5]) points.add(within(target - way * speed * riseTime * time));
    for (const x of surfacesOf(level, place)) points.add(within(x));
    for (const x of points) {
      const start = within(x - way * runUp);
      for (const move of extras({ start, way, press: { x }, hold: long })) yield move;
      for (const hold of [0.01, riseTime / 3, (2 * riseTime) / 3]) yield { ...low, start, way, press: { x }, hold, ...(charges[0] === undefined ? {} : { charge: charges.at(-2)! }) };
    }
    const start = within(end - way * runUp);
    if (motion.coyote > 0) for (const share of [1, 0.5]) for (const move of extras({ start, way, press: { late: motion.coyote * share }, hold: long })) yield move;
    for (const move of extras({ start, way, press: { x: end - way * motion.width * LAST }, hold: long, holds: true })) yield move;
    if (motion.coyote > 0) for (const share of [1, 0.5]) for (const move of extras({ start, way, press: { late: motion.coyote * share }, hold: long, holds: true })) yield move;
  }
  // Off walls: those that are near, from beside them.
  if (full.wall)
    for (const { x: face, faces } of wallsNear(walls, motion, place, goal)) {
      const way = -faces;
      const beside = face + faces * (motion.half + shade);
      for (const back of [0, riseTime * ground.speed * 0.6]) {
        const x = within(beside + faces * back);
        for (const air of airs.slice(0, 2)) yield { ...low, start: x, way, press: { now: true }, hold: long, walls: true, ...(air ? { air } : {}) };
        // In the air only after so many jumps off walls.
        if (airs.length > 1) for (const apexes of [1, 2, 3]) yield { ...low, start: x, way, press: { now: true }, hold: long, walls: true, air: airs[1]!, apexes };
      }
    }
} // prettier-ignore

/** Where on a place there is a surface of its own: here and there on it. */
function surfacesOf({ terrain }: CompiledLevel, { edges }: Place): number[] {
  return [...edges].flatMap((e) => {
    if (terrain.styles[terrain.style[e]!]!.surface === 0) return [];
    const [one, other] = [terrain.x1[e]!, terrain.x2[e]!];
    return [0.01, 0.25, 0.5, 0.75, 0.99].map((share) => one + (other - one) * share);
  });
}

/** So many walls are tried. */
const WALLS = 6;

/** Walls that can be jumped to from a place, those nearest to the goal first. */
function wallsNear(walls: readonly Wall[], motion: Motion, place: Place, goal: Goal): Wall[] {
  const [left, right] = [place.xs[0]!, place.xs.at(-1)!];
  const [low, high] = [Math.min(...place.ys), Math.max(...place.ys) + motion.jumpHeight];
  const far = 3 * motion.width + motion.half;
  const off = (x: number): number => Math.max(goal.left - x, x - goal.right, 0);
  return walls
    .filter(({ x, bottom, top, faces }) => top > low + motion.touch && bottom < high && x + faces * motion.half >= left - far && x + faces * motion.half <= right + far)
    .sort((one, other) => off(one.x) - off(other.x))
    .slice(0, WALLS);
} // prettier-ignore
