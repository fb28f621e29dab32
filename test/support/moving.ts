import type * as Core from 'apperin';
import type { Level, Mover, Outline, Route, StageEvent, Tuning } from 'apperin';
import { busyInput } from './everything.js';
import { tuningFor } from './harder-ground.js';
import { randomizer, type Random } from './random.js';
import { bodyAt, depthBetween, type Point } from './separate.js';

/** What runs among movers came across, and the rules that they broke. */
export interface MovingFound {
  ticks: number;
  runs: number;
  movers: number;
  events: Record<string, number>;
  /** Touches by what they were. */
  touches: Record<string, number>;
  /** The deepest that a body was in anything that had not crushed it, in tolerances. */
  deepest: number;
  broken: string[];
}

/** A mover with its solids as convex polygons, y up. */
export interface Moved {
  mover: Mover;
  solids: readonly (readonly Point[])[];
  /** What the solids cover: left, bottom, right, top. */
  box: readonly [number, number, number, number];
}

const grid = (value: number): number => Math.round(value * 67108864) / 67108864;

/** A random way: there and back, or round, with pauses and easing. */
export function routeFor(random: Random): Route {
  const lap = random.between(1.5, 7);
  const phase = random.between(0, lap);
  const reach = random.pick([1, 3, 6]);
  const kind = random.whole(0, 3);
  if (kind === 0) {
    // Round.
    const [rx, ry] = [random.between(0.3, reach), random.between(0.3, reach)];
    const k = 0.5522847498;
    const curve = [
      [rx, 0, rx, ry * k, rx * k, ry, 0, ry],
      [0, ry, -rx * k, ry, -rx, ry * k, -rx, 0],
      [-rx, 0, -rx, -ry * k, -rx * k, -ry, 0, -ry],
      [0, -ry, rx * k, -ry, rx, -ry * k, rx, 0],
    ];
    return { curve, lap, phase };
  }
  const points: [number, number][] = [[0, 0]];
  const corners = kind === 1 ? 1 : random.whole(2, 3);
  for (let i = 0; i < corners; i++) {
    const [x, y] = points[i]!;
    const straight = random.whole(0, 2);
    const d = random.between(0.5, reach) * (random.chance(0.5) ? 1 : -1);
    points.push([grid(x + (straight === 1 ? 0 : d)), grid(y + (straight === 0 ? 0 : random.between(-reach, reach)))]);
  }
  const curve: number[][] = [];
  for (let i = 0; i + 1 < points.length; i++)
    if (points[i]![0] !== points[i + 1]![0] || points[i]![1] !== points[i + 1]![1])
      curve.push([...points[i]!, ...points[i + 1]!]);
  const pause = random.chance(0.5) ? random.between(0.02, 0.2) : 0;
  const keyPoints = pause > 0 ? [0, 1, 1, 0, 0] : [0, 1, 0];
  const keyTimes = pause > 0 ? [0, 0.5 - pause, 0.5, 1 - pause, 1] : [0, 0.5, 1];
  const spline = random.pick([[0, 0, 1, 1], [0.42, 0, 0.58, 1], [1 / 3, 0, 2 / 3, 1]] as [number, number, number, number][]); // prettier-ignore
  const keySplines = keyPoints.slice(1).map(() => spline);
  return { curve, lap, phase, keyPoints, keyTimes, keySplines };
}

function shapeFor(random: Random, x: number, y: number): { outline: Outline; solid?: Point[] } {
  const [w, h] = [random.pick([0.4, 1, 2, 3]), random.pick([0.25, 0.5, 1.5, 2.5])];
  if (random.chance(0.2))
    return { outline: { form: 'one-way', points: [[x, y], [grid(x + w), grid(y + (random.chance(0.3) ? random.between(-0.5, 0.5) : 0))]] } }; // prettier-ignore
  const kind = random.whole(0, 4);
  let points: Point[] = [[x, y], [x + w, y], [x + w, y + h], [x, y + h]]; // prettier-ignore
  if (kind === 1) points = [[x, y], [x + w, y], [x + w, y + h]]; // prettier-ignore
  if (kind === 2) points = [[x, y], [x + w, y], [x, y + h]]; // prettier-ignore
  if (kind === 3) points = [[x, y], [x + w, y + h * 0.3], [x + w, y + h], [x, y + h]]; // prettier-ignore
  points = points.map(([px, py]) => [grid(px), grid(py)] as const);
  return { outline: { form: 'solid', points }, solid: points };
}

/** A hall with some still ground and up to so many movers, y up. */
export function hallOf(
  random: Random,
  most: number,
): { level: Level; still: Point[][]; moved: Moved[]; at: readonly [number, number] } {
  const [width, height] = [24, 14];
  const density = random.between(0, 0.12);
  const rows = Array.from({ length: height }, (_, row) =>
    Array.from({ length: width }, () =>
      row === height - 1 ? '#' : random.chance(density) ? random.pick(['#', '#', '/', '\\']) : random.chance(0.03) ? '=' : '.',
    ),
  ); // prettier-ignore
  const column = random.whole(2, width - 3);
  for (let row = height - 4; row < height - 1; row++)
    for (const c of [column - 1, column, column + 1]) rows[row]![c] = '.';
  const still: Point[][] = [];
  rows.forEach((row, r) =>
    row.forEach((mark, c) => {
      const y = height - 1 - r;
      if (mark === '#') still.push([[c, y], [c + 1, y], [c + 1, y + 1], [c, y + 1]]); // prettier-ignore
      if (mark === '/') still.push([[c, y], [c + 1, y], [c + 1, y + 1]]); // prettier-ignore
      if (mark === '\\') still.push([[c, y], [c + 1, y], [c, y + 1]]); // prettier-ignore
    }),
  );
  still.push([[-2, -2], [width + 2, -2], [width + 2, 0], [-2, 0]], [[-2, 0], [0, 0], [0, height], [-2, height]], [[width, 0], [width + 2, 0], [width + 2, height], [width, height]], [[-2, height], [width + 2, height], [width + 2, height + 2], [-2, height + 2]]); // prettier-ignore
  const moved: Moved[] = [];
  const count = random.whole(1, most);
  for (let i = 0; i < count; i++) {
    const [x, y] = [grid(random.between(1, width - 3)), grid(random.chance(0.4) ? random.whole(1, height - 3) : random.between(0.5, height - 3))]; // prettier-ignore
    const { outline, solid } = shapeFor(random, x, y);
    moved.push({
      mover: { name: `m${i}`, shapes: [outline], route: routeFor(random), policy: random.pick(['stop', 'stop', 'through', 'tell'] as const) },
      solids: solid ? [solid] : [],
      box: [x, y, x + 3, y + 3],
    }); // prettier-ignore
  }
  const level: Level = {
    rows: rows.map((row) => row.join('')),
    yPoints: 'up',
    bounds: { left: 'wall', right: 'wall', top: 'wall', bottom: 'wall' },
    movers: moved.map(({ mover }) => mover),
  };
  return { level, still, moved, at: [column + 0.5, 1] };
}

/** What a hall may have besides: zones, slanted planks, belts; movers that turn back. */
export function furnished(random: Random, level: Level): Level {
  const zones = Array.from({ length: random.whole(1, 3) }, (_, i) => ({
    name: `z${i}`,
    box: [random.between(0, 18), random.between(0, 8), random.between(2, 8), random.between(2, 6)] as const,
    ...(random.chance(0.6) ? { gravity: random.pick([0.3, 0.7, 1.6]) } : {}),
    ...(random.chance(0.4) ? { pace: random.pick([0.5, 1.4]) } : {}),
    ...(random.chance(0.4) ? { current: [random.between(-2, 2), random.between(-1, 2)] as const } : {}),
    tags: random.chance(0.3) ? ['restore'] : [],
  }));
  const rows = level.rows.map((row, r) =>
    r === level.rows.length - 1
      ? row
      : [...row].map((mark) => (mark === '=' ? random.pick(['=', '=', '{', '}']) : mark === '#' && random.chance(0.2) ? 'b' : mark)).join(''),
  );
  return {
    ...level,
    rows,
    zones,
    marks: { '{': { 'one-way': [0, 1] }, '}': { 'one-way': [1, 0] }, b: { solid: 'full', surface: 'belt' } },
    surfaces: { belt: { flow: random.between(-4, 4), grip: random.pick([0.4, 1]) } },
    movers: level.movers!.map((mover) => ({ ...mover, policy: random.chance(0.25) ? ('turn' as const) : mover.policy! })),
  };
} // prettier-ignore

/** Abilities, some of them on one key. */
export function lively(random: Random, tuning: Tuning): Tuning {
  return {
    ...tuning,
    ...(random.chance(0.6) ? { wall: {} } : {}),
    ...(random.chance(0.5) ? { glide: { budget: random.between(0.3, 2) } } : {}),
    ...(random.chance(0.3) ? { charge: { run: random.chance(0.5) } } : {}),
    ...(random.chance(0.5) ? { airJumps: { heights: [random.between(0.5, 3)], restoredBy: ['ground', 'zone'] as const } } : {}),
    ...(random.chance(0.4) ? { ledge: { auto: random.chance(0.3) } } : {}),
    ...(random.chance(0.4) ? { drop: {} } : {}),
    ...(random.chance(0.3) ? { dive: {} } : {}),
  } as Tuning;
} // prettier-ignore

export function movingTuning(random: Random): Tuning {
  const tuning = tuningFor(random);
  tuning.mover = { lend: random.pick(['both', 'across', 'none'] as const), linger: random.pick([0, 0.1, 0.3]) };
  return tuning;
}

/** What a body touches with something that moves. */
function touchOf({ event, mover }: Readonly<StageEvent>): string | undefined {
  if (event === 'pushed') return 'push';
  if (event === 'crushed') return 'crush';
  if (event === 'board' || event === 'alight') return event;
  return event === 'dropThrough' && mover !== '' ? 'drop' : undefined;
}

/**
 * Plays random bodies among random movers, hall after hall until so many ticks are done, checking each tick without the
 * library's own sweep. Each hall has a seed of its own, so that one that went wrong can be played alone.
 */
export function playMoving(
  core: typeof Core,
  first: number,
  ticks: number,
  most = 40,
  seconds = 10,
  rich = false,
): MovingFound {
  const found: MovingFound = { ticks: 0, runs: 0, movers: 0, events: {}, touches: {}, deepest: 0, broken: [] };
  const count = (where: Record<string, number>, what: string): void => void (where[what] = (where[what] ?? 0) + 1);
  for (; found.ticks < ticks && found.broken.length < 50; found.runs++) {
    const random = randomizer(first + found.runs);
    const { level: plain, still, moved, at } = hallOf(random, random.pick([2, 8, most]));
    const level = rich ? furnished(random, plain) : plain;
    found.movers += moved.length;
    const tuning = rich ? lively(random, movingTuning(random)) : movingTuning(random);
    const rate = random.pick([15, 30, 60, 240]);
    const keys = busyInput(random, seconds).filter(({ action }) => action !== 'dash');
    // What glides is on the jump key.
    const input = rich
      ? keys.flatMap((row) => (row.action === 'jump' ? [row, { ...row, action: 'glide' as const }] : [row]))
      : keys;
    const restoredAt = rich ? random.whole(1, seconds * rate - 1) : -1;
    const stage = core.openStage(level);
    const hero = stage.add(tuning, { at, driver: core.script(input) });
    const { motion } = hero;
    const { touch } = motion;
    const wrong = (what: string): void =>
      void found.broken.push(`hall ${first + found.runs}, ${rate} a second, at ${stage.time.toFixed(4)} s, ${hero.x}, ${hero.y}: ${what}`); // prettier-ignore
    /** Movers that the body may be in: those that have crushed it, until it is out of them. */
    const mayBeIn = new Set<string>();
    let events = 0;
    const before = found.broken.length;
    stage.listen((event) => {
      events++;
      count(found.events, event.event);
      const what = touchOf(event);
      if (what) count(found.touches, what);
      if (event.event === 'crushed') mayBeIn.add(event.mover);
      if (event.event === 'stuck') wrong('stuck');
    });
    const outline = (): Point[] => bodyAt(hero.x, hero.y, motion.width, hero.height, motion.hull.side);
    const depthIn = (solids: readonly (readonly Point[])[], dx: number, dy: number): number => {
      let depth = -Infinity;
      const body = outline();
      for (const solid of solids)
        depth = Math.max(depth, depthBetween(body, dx === 0 && dy === 0 ? solid : solid.map(([x, y]) => [x + dx, y + dy] as const)));
      return depth;
    }; // prettier-ignore
    moved.forEach(({ solids, mover }, i) => {
      const { x, y } = stage.movers[i]!;
      if (depthIn(solids, x, y) > touch) mayBeIn.add(mover.name);
    });
    let wentOn = '';
    let judged = mayBeIn.size === 0;
    stage.listen(({ event }) => (judged ||= event === 'freed'));
    for (let i = 0; i < seconds * rate && found.broken.length === before; i++) {
      stage.tick(1 / rate);
      found.ticks++;
      // What has been restored goes on as it would have.
      if (i === restoredAt) wentOn = future(stage, hero, rate);
      if (!Number.isFinite(hero.x + hero.y + hero.vx + hero.vy)) {
        wrong('no number');
        break;
      }
      if (!judged) continue;
      const inStill = depthIn(
        still.filter((solid) => mayTouch(solid, hero.x, hero.y)),
        0,
        0,
      );
      found.deepest = Math.max(found.deepest, inStill / touch);
      if (inStill > touch * 1.000001) wrong(`${inStill / touch} tolerances deep in what stands still`);
      moved.forEach(({ solids, mover, box }, k) => {
        const { x, y } = stage.movers[k]!;
        const far =
          box[0] + x > hero.x + 1 || box[2] + x < hero.x - 1 || box[1] + y > hero.y + 2.5 || box[3] + y < hero.y - 0.5;
        if (far) {
          mayBeIn.delete(mover.name);
          return;
        }
        const depth = depthIn(solids, x, y);
        if (depth > touch * 1.001) {
          if (!mayBeIn.has(mover.name)) wrong(`${depth / touch} tolerances deep in ${mover.name} (${mover.policy})`);
        } else {
          if (!mayBeIn.has(mover.name)) found.deepest = Math.max(found.deepest, depth / touch);
          if (depth < -16 * touch) mayBeIn.delete(mover.name);
        }
      });
    }
    if (wentOn !== '') wrong(`restored it goes another way: ${wentOn}`);
    // On and off at the foot of what moves: as often as it can change its speed.
    const often = Math.max(1, motion.ground.speed / motion.ground.upIn / 62.5);
    if (events > seconds * 200 * often) wrong(`${events} events: it shakes`);
  }
  return found;
}

/** Plays on for a second twice from the same snapshot, and goes back to it. @returns where the two differ; empty where they do not */
function future(stage: Core.Stage, hero: Core.Character, rate: number): string {
  const kept = stage.snapshot();
  const play = (): string => {
    const list: string[] = [];
    for (let i = 0; i < rate; i++) {
      stage.tick(1 / rate);
      list.push([hero.x, hero.y, hero.vx, hero.vy, hero.phase, hero.pose, hero.poseTime].join(' '));
    }
    stage.restore(kept);
    return list.join('\n');
  };
  const [one, other] = [play(), play()];
  return one === other ? '' : one.split('\n').find((line, i) => line !== other.split('\n')[i])!;
}

/** What should have come up more than once in ten thousand ticks, and did not. */
export function rareAmong({ touches, events, ticks }: MovingFound): string[] {
  const least = Math.max(1, ticks / 50_000);
  return [
    ...['push', 'crush', 'board', 'alight'].filter((kind) => (touches[kind] ?? 0) < least),
    ...['takeoff', 'touchdown', 'bump', 'leave'].filter((name) => (events[name] ?? 0) < least),
  ];
}

function mayTouch(solid: readonly Point[], x: number, y: number): boolean {
  return solid.some(([px]) => px > x - 1) && solid.some(([px]) => px < x + 1) && solid.some(([, py]) => py > y - 1) && solid.some(([, py]) => py < y + 3); // prettier-ignore
}

/** The movers of a level in a mirror: across where sx is −1, up where sy is. */
export function mirroredMovers({ movers = [] }: Level, sx: number, sy: number): readonly Mover[] {
  return movers.map((mover) => ({
    ...mover,
    shapes: mover.shapes.map((shape) => ({
      ...shape,
      points: (shape as { points: readonly Point[] }).points.map(([x, y]) => [sx * x + 0, sy * y + 0] as const),
    })),
    route: {
      ...mover.route!,
      curve: (mover.route as { curve: readonly (readonly number[])[] }).curve.map((piece) =>
        piece.map((value, i) => (i % 2 === 0 ? sx : sy) * value + 0),
      ),
    },
  })) as unknown as readonly Mover[];
}
