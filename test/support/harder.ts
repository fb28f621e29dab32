import type * as Core from 'apperin';
import type { Level, Mark, StageEvent, Tuning } from 'apperin';
import { busyInput, everything } from './everything.js';
import type { Random } from './random.js';
import { bodyAt, depthBetween, type Point } from './separate.js';

/** What runs over harder ground came across, and the rules that they broke. */
export interface Found {
  ticks: number;
  runs: number;
  /** Events by name; touches by what they were. */
  events: Record<string, number>;
  touches: Record<string, number>;
  /** The deepest that a body was in a solid, in tolerances. */
  deepest: number;
  broken: string[];
}

/** Further tiles, and the outlines of all solid ones in their cell, y up. */
export const MARKS: Record<string, Mark> = {
  a: { solid: [0, 0.5] },
  b: { solid: [0.5, 1] },
  c: { solid: [1, 0.5] },
  d: { solid: [0.5, 0] },
  h: { solid: 'lower' },
  u: { solid: 'upper' },
  q: { solid: 'lower-left' },
  p: { solid: 'upper-right' },
  v: { solid: { hanging: [0, 1] } },
  w: { solid: { hanging: [1, 0] } },
  x: { solid: { hanging: [0.3, 0.7] } },
  l: { solid: 'left' },
  r: { solid: 'right' },
  y: { 'one-way': [0, 1] },
  z: { 'one-way': [1, 0.5] },
};
const TILES: Record<string, readonly Point[]> = {
  '#': [[0, 0], [1, 0], [1, 1], [0, 1]],
  '/': [[0, 0], [1, 0], [1, 1]],
  '\\': [[0, 0], [1, 0], [0, 1]],
  a: [[0, 0], [1, 0], [1, 0.5]],
  b: [[0, 0], [1, 0], [1, 1], [0, 0.5]],
  c: [[0, 0], [1, 0], [1, 0.5], [0, 1]],
  d: [[0, 0], [1, 0], [0, 0.5]],
  h: [[0, 0], [1, 0], [1, 0.5], [0, 0.5]],
  u: [[0, 0.5], [1, 0.5], [1, 1], [0, 1]],
  q: [[0, 0], [0.5, 0], [0.5, 0.5], [0, 0.5]],
  p: [[0.5, 0.5], [1, 0.5], [1, 1], [0.5, 1]],
  v: [[0, 1], [1, 0], [1, 1]],
  w: [[0, 1], [0, 0], [1, 1]],
  x: [[0, 0.7], [1, 0.3], [1, 1], [0, 1]],
  l: [[0, 0], [0.5, 0], [0.5, 1], [0, 1]],
  r: [[0.5, 0], [1, 0], [1, 1], [0.5, 1]],
}; // prettier-ignore

/** A level to fuzz: the solids as convex polygons (y up), by how far they reach, and a place to start from. */
interface Ground {
  level: Level | Core.CompiledLevel;
  /** The solids near a box. */
  near: (left: number, bottom: number, right: number, top: number) => Iterable<readonly Point[]>;
  /** Lines of no thickness: nothing may get from one side to the other. */
  lines: readonly (readonly [Point, Point])[];
  at: readonly [number, number];
  yUp: 1 | -1;
}

function tiles(random: Random): Ground {
  const [width, height] = [26, 16];
  const solid = random.between(0.05, 0.25);
  const odd = random.between(0.05, 0.25);
  const strange = Object.keys(TILES).slice(1);
  const rows = Array.from({ length: height }, () =>
    Array.from({ length: width }, () =>
      random.chance(solid) ? '#' : random.chance(odd) ? random.pick(strange) : random.chance(0.07) ? random.pick(['=', 'y', 'z']) : '.',
    ),
  ); // prettier-ignore
  const x = random.whole(2, width - 3);
  const y = random.whole(4, height - 2);
  for (let row = y - 3; row <= y; row++) for (let column = x - 1; column <= x + 1; column++) rows[row]![column] = '.';
  rows[y + 1]![x] = '#';
  const level: Level = {
    rows: rows.map((row) => row.join('')),
    marks: MARKS,
    bounds: { left: 'wall', right: 'wall', top: 'wall', bottom: 'wall' },
  };
  function* near(left: number, bottom: number, right: number, top: number): Iterable<readonly Point[]> {
    for (let row = Math.max(0, Math.floor(-top)); row <= Math.min(height - 1, Math.floor(-bottom)); row++)
      for (let column = Math.max(0, Math.floor(left)); column <= Math.min(width - 1, Math.floor(right)); column++) {
        const outline = TILES[rows[row]![column]!];
        if (outline) yield outline.map(([px, py]) => [column + px, -(row + 1) + py] as const);
      }
  }
  return { level, near, lines: [], at: [x + 0.5, y + 1], yUp: -1 };
}

/** Convex polygons of all sizes, none near another, and lines, in a box. */
function polygons(core: typeof Core, random: Random): Ground {
  const solids: Point[][] = [];
  const outlines: Core.Outline[] = [];
  const box = (left: number, bottom: number, right: number, top: number): Point[] => [[left, bottom], [right, bottom], [right, top], [left, top]]; // prettier-ignore
  for (const wall of [box(-2, -2, 32, 0), box(-2, 0, 0, 20), box(30, 0, 32, 20), box(-2, 20, 32, 22)])
    solids.push(wall);
  outlines.push({ form: 'solid', points: box(-2, -2, 32, 22) }, { form: 'hole', points: box(0, 0, 30, 20) });
  const cells: [number, number][] = [];
  for (let cx = 3; cx < 29; cx += 5) for (let cy = 1.6; cy < 18; cy += 4) cells.push([cx, cy]);
  const lines: (readonly [Point, Point])[] = [];
  for (const [cx, cy] of cells) {
    const grid = (value: number): number => Math.round(value * 67108864) / 67108864;
    if (random.chance(0.35)) continue;
    if (random.chance(0.2)) {
      const turn = random.between(0, 6.3);
      const [dx, dy] = [Math.cos(turn) * 2, Math.sin(turn) * 1.4];
      const ends = [[grid(cx - dx), grid(cy - dy)], [grid(cx + dx), grid(cy + dy)]] as const; // prettier-ignore
      outlines.push({ form: 'line', points: ends });
      lines.push(ends);
      continue;
    }
    const corners = random.whole(3, 8);
    const turns = Array.from({ length: corners }, () => random.between(0, 2 * Math.PI)).sort((p, q) => p - q);
    const [rx, ry] = [random.between(0.3, 2.3), random.between(0.2, 1.5)];
    const points = turns.map((turn) => [grid(cx + rx * Math.cos(turn)), grid(cy + ry * Math.sin(turn))] as const);
    const area = points.reduce(
      (sum, [x, y], i) => sum + x * points[(i + 1) % corners]![1] - points[(i + 1) % corners]![0] * y,
      0,
    );
    if (Math.abs(area) < 0.02) continue;
    solids.push([...points]);
    outlines.push({ form: 'solid', points });
  }
  const level = core.compileOutlines({ yPoints: 'up', outlines });
  const reach = solids.map((points) => ({
    points,
    left: Math.min(...points.map(([x]) => x)),
    right: Math.max(...points.map(([x]) => x)),
    bottom: Math.min(...points.map(([, y]) => y)),
    top: Math.max(...points.map(([, y]) => y)),
  }));
  function* near(left: number, bottom: number, right: number, top: number): Iterable<readonly Point[]> {
    for (const one of reach)
      if (one.left < right && one.right > left && one.bottom < top && one.top > bottom) yield one.points;
  }
  return { level, near, lines, at: [0.8, 0], yUp: 1 };
}

function tuningFor(random: Random): Tuning {
  const tuning = everything(random);
  tuning.slope = {
    steepest: random.pick([30, 46, 50, 70]),
    slip: random.pick([1, 0.5]),
    step: random.pick([0, 0.3, 0.6]),
    pace: random.pick(['along', 'across'] as const),
    launch: random.pick(['up', 'normal'] as const),
    jump: random.chance(0.3),
  };
  if (random.chance(0.4)) tuning.body!.bevel = random.pick([0.05, 0.1, 0.2]);
  if (random.chance(0.2)) tuning.run!.speed = random.between(30, 700);
  return tuning;
}

/** On which side of a line a body is, wholly: −1, 1, or 0 where the line is beside it or through it. */
function sideOf([[ax, ay], [bx, by]]: readonly [Point, Point], body: readonly Point[], slack: number): number {
  const length = Math.hypot(bx - ax, by - ay);
  const across = body.map(([x, y]) => ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / length);
  const along = body.map(([x, y]) => ((bx - ax) * (x - ax) + (by - ay) * (y - ay)) / length);
  if (Math.max(...along) < slack || Math.min(...along) > length - slack) return 0;
  return Math.min(...across) >= -slack ? 1 : Math.max(...across) <= slack ? -1 : 0;
}

/**
 * What holds a body up, found in the solids: nothing level or sloping under its feet is one-way ground; nothing but a corner is a tip; sides
 * that lean on both are a pit.
 */
function standsOn(near: Ground['near'], body: readonly Point[], touch: number): string | undefined {
  const [left, right, bottom] = [Math.min(...body.map(([x]) => x)), Math.max(...body.map(([x]) => x)), body[0]![1]];
  let sides = 0;
  let corners = 0;
  let flat = 0;
  for (const solid of near(left - touch, bottom - 0.01, right + touch, bottom + 0.5)) {
    if (depthBetween(body, solid) < -4 * touch) continue;
    const top = solid.filter(([x, y]) => Math.abs(y - bottom) < 4 * touch && x > left - touch && x < right + touch);
    if (
      solid.some(
        ([x, y], i) =>
          Math.abs(y - bottom) < 4 * touch &&
          Math.abs(solid[(i + 1) % solid.length]![1] - y) < 1e-12 &&
          Math.max(x, solid[(i + 1) % solid.length]![0]) > left &&
          Math.min(x, solid[(i + 1) % solid.length]![0]) < right,
      )
    )
      flat++; // prettier-ignore
    else if (top.length > 0) corners++;
    else sides++;
  }
  if (flat > 0) return undefined;
  return corners + sides === 0 ? 'oneWay' : sides >= 2 ? 'pit' : corners > 0 && sides === 0 ? 'tip' : undefined;
}

/** What a touch was. */
function touchOf(event: Readonly<StageEvent>, slope: number): string | undefined {
  if (event.event === 'touchdown') return slope === 0 ? 'floor' : slope > 0 === event.vx > 0 ? 'uphill' : 'downhill';
  if (event.event === 'bump') return event.side === 'head' ? 'head' : 'side';
  return undefined;
}

/** Plays random bodies over random ground until so many ticks are done, checking each of them without the library's own sweep. */
export function playHarder(core: typeof Core, random: Random, ticks: number, seconds = 12): Found {
  const found: Found = { ticks: 0, runs: 0, events: {}, touches: {}, deepest: 0, broken: [] };
  const count = (where: Record<string, number>, what: string): void => void (where[what] = (where[what] ?? 0) + 1);
  for (; found.ticks < ticks && found.broken.length < 5; found.runs++) {
    const { level, near, lines, at, yUp } = random.chance(0.7) ? tiles(random) : polygons(core, random);
    const tuning = tuningFor(random);
    const rate = random.pick([15, 30, 60, 240]);
    const input = busyInput(random, seconds).filter(({ action }) => action !== 'dash');
    const stage = core.openStage(level);
    const hero = stage.add(tuning, { at, driver: core.script(input) });
    const { motion } = hero;
    const bevel = motion.hull.side;
    const wrong = (what: string): void =>
      void found.broken.push(`run ${found.runs}, ${rate} a second, at ${stage.time.toFixed(4)} s, ${hero.x}, ${hero.y}: ${what}`); // prettier-ignore
    let events = 0;
    stage.listen((event) => {
      events++;
      count(found.events, event.event);
      const touch = touchOf(event, hero.slope);
      if (touch) count(found.touches, touch);
      if (event.event === 'stuck') wrong('stuck');
    });
    const outline = (): Point[] => bodyAt(hero.x, hero.y * yUp, motion.width, hero.height, bevel);
    const sides = lines.map((line) => sideOf(line, outline(), motion.touch));
    let slip = 0;
    let takeoffs = 0;
    stage.listen(({ event }) => void (takeoffs += event === 'takeoff' ? 1 : 0));
    let stepping = 0;
    // One that begins inside something is judged once it is out.
    let judged = true;
    stage.listen(({ event }) => (judged ||= event === 'freed'));
    for (const solid of near(hero.x - 2, hero.y * yUp - 2, hero.x + 2, hero.y * yUp + 3))
      if (depthBetween(outline(), solid) > motion.touch) judged = false;
    for (let i = 0; i < seconds * rate && found.ticks < ticks && found.broken.length < 5; i++) {
      const before = { x: hero.x, y: hero.y, phase: hero.phase, slope: hero.slope, support: hero.support, takeoffs };
      stage.tick(1 / rate);
      found.ticks++;
      const body = outline();
      if (!Number.isFinite(hero.x + hero.y + hero.vx + hero.vy)) {
        wrong('no number');
        break;
      }
      const y = hero.y * yUp;
      let depth = 0;
      for (const solid of near(hero.x - motion.half, y, hero.x + motion.half, y + hero.height))
        depth = Math.max(depth, depthBetween(body, solid));
      if (judged) found.deepest = Math.max(found.deepest, depth / motion.touch);
      if (judged && depth > motion.touch * 1.000001) wrong(`${depth / motion.touch} tolerances deep`);
      if (yUp > 0 ? y < -1 || y > 21 || hero.x < -1 || hero.x > 31 : hero.y > 17 || hero.x < -1 || hero.x > 27)
        wrong('out of the level');
      lines.forEach((line, k) => {
        const side = sideOf(line, body, motion.touch);
        if (side !== 0 && sides[k] !== 0 && side !== sides[k]) {
          // From one side to the other within a tick, and over the same stretch: it went through, unless it went around an end.
          const length = Math.hypot(line[1][0] - line[0][0], line[1][1] - line[0][1]);
          const moved = Math.hypot(hero.x - before.x, hero.y - before.y);
          if (moved < Math.min(length, motion.width) / 4) wrong('through a line');
        }
        sides[k] = side;
      });
      const offset = hero.view().stepLag;
      if (offset !== 0 && Math.sign(offset) !== stepping) count(found.touches, 'step');
      stepping = Math.sign(offset);
      if (hero.support === 'ground') {
        if (before.support === 'ground' && before.slope !== 0 && hero.slope === 0) count(found.touches, 'crest');
        if (before.support !== 'ground') {
          const about = standsOn(near, body, motion.touch);
          if (about) count(found.touches, about);
        }
      }
      if (before.phase === 'slip' && hero.phase === 'slip') {
        slip++;
        if ((hero.y - before.y) * yUp > motion.touch && takeoffs === before.takeoffs)
          wrong('up a face that is too steep, sliding');
      }
    }
    if (slip > 0) count(found.touches, 'steep');
    if (events > seconds * 100) wrong(`${events} events: it shakes`);
  }
  return found;
}

/** Touches and events that should have come up more than once in ten thousand ticks, and did not. */
export function rareIn({ touches, events, ticks }: Found): string[] {
  const least = Math.max(1, ticks / 50_000);
  return [
    ...['floor', 'side', 'head', 'uphill', 'downhill', 'steep', 'step', 'tip', 'pit', 'oneWay', 'crest'].filter((kind) => (touches[kind] ?? 0) < least), // prettier-ignore
    ...['takeoff', 'touchdown', 'bump', 'leave', 'apex'].filter((name) => (events[name] ?? 0) < least),
  ];
}
