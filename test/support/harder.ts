import type * as Core from 'apperin';
import type { StageEvent } from 'apperin';
import { busyInput } from './everything.js';
import { polygons, tiles, tuningFor, type Ground } from './harder-ground.js';
import type { Random } from './random.js';
import { neverFaster, neverStuck } from './harder-rules.js';
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
    const ground = random.chance(0.7) ? tiles(random) : polygons(core, random);
    const { level, near, lines, at, yUp } = ground;
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
    // A body that stood in between may be higher.
    let stood = 0;
    stage.listen(({ event }) => void (stood += event === 'takeoff' || event === 'touchdown' ? 1 : 0));
    let stepping = 0;
    const rules = [neverStuck(hero, input, ground), neverFaster(hero, (on) => stage.listen(on))];
    // One that begins inside something is judged once it is out.
    let judged = true;
    stage.listen(({ event }) => (judged ||= event === 'freed'));
    for (const solid of near(hero.x - 2, hero.y * yUp - 2, hero.x + 2, hero.y * yUp + 3))
      if (depthBetween(outline(), solid) > motion.touch) judged = false;
    for (let i = 0; i < seconds * rate && found.ticks < ticks && found.broken.length < 5; i++) {
      const before = { x: hero.x, y: hero.y, phase: hero.phase, slope: hero.slope, support: hero.support, stood };
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
      for (const rule of rules) {
        const what = judged ? rule(stage.time) : undefined;
        if (what) wrong(what);
      }
      if (before.phase === 'slip' && hero.phase === 'slip') {
        slip++;
        if ((hero.y - before.y) * yUp > motion.touch && stood === before.stood)
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
