import { EVENTS, POSES, openStage, script, type Character, type Level, type StageEvent, type Tuning } from 'apperin';
import { dash } from '../../examples/dash/dash.js';
import type { Random } from './random.js';

/** What a long random run came across, and the first rule that it broke. */
export interface Findings {
  ticks: number;
  /** Events by name, touches by kind, jumps by what granted them, poses shown. */
  events: Record<string, number>;
  touches: Record<string, number>;
  jumps: Record<string, number>;
  poses: Record<string, number>;
  /** The deepest that a body was in a solid, in tolerances. */
  deepest: number;
  broken: string[];
}

/** Shafts, beams, blocks and gaps, walled all around; `start` has room. */
export function mill(random: Random): Level {
  const width = 26;
  const height = 18;
  const rows = Array.from({ length: height }, () => Array<string>(width).fill('.'));
  const fill = (left: number, top: number, wide: number, high: number): void => {
    for (let y = Math.max(0, top); y < Math.min(height, top + high); y++)
      for (let x = Math.max(0, left); x < Math.min(width, left + wide); x++) rows[y]![x] = '#';
  };
  // The ground, with gaps.
  fill(0, height - 1, width, 1);
  for (let i = random.whole(0, 2); i > 0; i--)
    for (let x = random.whole(3, width - 6), n = 3; n > 0; n--) rows[height - 1]![x + n] = '.';
  // Shafts: two walls some tiles apart; beams: slabs that leave one tile; blocks with ledges; planks to land on.
  const left = random.whole(1, 14);
  fill(left, random.whole(2, 6), 1, 12 - random.whole(0, 3));
  fill(left + random.whole(3, 6), random.whole(2, 6), 1, 12 - random.whole(0, 3));
  for (let i = 0; i < 3; i++) fill(random.whole(0, width - 5), height - 3, random.whole(1, 4), 1);
  for (let i = 0; i < 4; i++)
    fill(random.whole(0, width - 4), random.whole(8, height - 4), random.whole(1, 4), random.whole(1, 5));
  for (let i = 0; i < 5; i++) fill(random.whole(0, width - 6), random.whole(3, height - 4), random.whole(2, 6), 1);
  // Gratings to jump up through and drop down from.
  for (let i = 0; i < 5; i++) {
    const [y, left] = [random.whole(4, height - 4), random.whole(0, width - 6)];
    for (let n = random.whole(2, 5); n >= 0; n--) if (rows[y]![left + n] === '.') rows[y]![left + n] = '=';
  }
  const x = random.whole(2, width - 3);
  for (let y = height - 4; y < height - 1; y++) for (let c = x - 1; c <= x + 1; c++) rows[y]![c] = '.';
  fill(x - 1, height - 1, 3, 1);
  rows[height - 2]![x] = '@';
  return {
    rows: rows.map((row) => row.join('')),
    bounds: { left: 'wall', right: 'wall', top: 'wall', bottom: 'wall' },
  };
}

/** Every ability on, with numbers of its own each time; charging takes the place of the jump in one of eight. */
export function everything(random: Random): Tuning {
  return {
    body: { width: random.pick([0.5, 0.7, 0.9, 1]), height: random.pick([1, 1.3, 1.6, 1.9]) },
    run: {
      speed: random.between(4, 12),
      feel: random.pick(['steady', 'eased'] as const),
      air: { speed: random.between(4, 12) },
    },
    jump: {
      height: random.pick([2, 3, random.between(1.5, 4)]),
      riseTime: random.between(0.25, 0.5),
      runUp: random.pick([0, 0.5]),
    },
    gravity: random.chance(0.3) ? { fallRamp: { to: 3, over: 0.3 } } : {},
    grace: { corner: 0.25, lip: 0.25, coyote: 0.1, wallCoyote: 0.1 },
    airJumps: {
      heights: [random.between(0.5, 2.5), 1],
      endless: random.chance(0.2),
      restoredBy: ['ground', 'ledge', 'wall'],
    },
    ...(random.chance(0.125) ? { charge: { fullIn: 0.4, run: random.chance(0.5) } } : {}),
    wall: {
      cling: random.pick([0, 0.1]),
      needs: random.pick(['toward', 'touch'] as const),
      sameWall: random.whole(0, 3),
      jump: { height: random.between(1, 3), lock: random.pick([0, 0.2]) },
    },
    glide: { budget: random.between(0.2, 1) },
    dive: {},
    ledge: { reach: 0.3, hands: random.between(0.6, 1.5), auto: random.chance(0.4), climb: random.pick([0, 0.25]) },
    drop: {},
    crouch: { height: random.between(0.5, 0.9), speed: 3 },
    pose: { stride: 1.5, settle: 0.02 },
  };
}

/** Presses that do something: mostly held a while, toward a side, with jumps again and again. */
export function busyInput(random: Random, seconds: number): { time: number; action: string; value: number }[] {
  const rows: { time: number; action: string; value: number }[] = [];
  const press = (action: string, every: number, hold: number): void => {
    for (let time = random.between(0, every); time < seconds; time += random.between(0.05, every) + hold) {
      const stamp = (at: number): number => Math.round(at * 1e6) / 1e6;
      rows.push(
        { time: stamp(time), action, value: 1 },
        { time: stamp(time + random.between(0.02, hold)), action, value: 0 },
      );
    }
  };
  press('left', 1.2, 1.4);
  press('right', 1.2, 1.4);
  press('jump', 0.6, 0.5);
  press('down', 2.5, 0.6);
  press('up', 1.5, 0.1);
  press('glide', 2, 1);
  press('dash', 4, 0.1);
  return rows;
}

/** How deep a body is inside solid cells, units: counted from the rows of the level. */
export function depthInside({ rows }: Level, hero: Character): number {
  const { half } = hero.motion;
  const [left, right, top, bottom] = [hero.x - half, hero.x + half, hero.y - hero.height, hero.y];
  let deepest = 0;
  for (let row = Math.floor(top); row <= Math.floor(bottom); row++)
    for (let column = Math.floor(left); column <= Math.floor(right); column++) {
      if (rows[row] !== undefined && rows[row]![column] !== undefined && rows[row]![column] !== '#') continue;
      const across = Math.min(right, column + 1) - Math.max(left, column);
      const up = Math.min(bottom, row + 1) - Math.max(top, row);
      deepest = Math.max(deepest, Math.min(across, up));
    }
  return deepest;
}

/** Whether a body that was above a grating is now deeper than `touch` in it, over it before and after. */
function fellThrough({ rows }: Level, hero: Character, [x, y]: readonly [number, number]): boolean {
  const { half, touch } = hero.motion;
  for (let row = Math.ceil(y - touch); row + touch < hero.y; row++)
    for (let column = Math.floor(hero.x - half); column <= Math.floor(hero.x + half); column++) {
      if (rows[row]?.[column] !== '=' || rows[row - 1]?.[column] === '#') continue;
      const over = (at: number): number => Math.min(at + half, column + 1) - Math.max(at - half, column);
      if (over(x) > 2 * touch && over(hero.x) > 2 * touch) return true;
    }
  return false;
}

/** The wall beside a body on one side, found in the rows: its column, and the top and bottom of its run. */
function wallBeside({ rows }: Level, side: number, { x, y }: StageEvent, half: number, height: number): string {
  const face = Math.round(x + side * half);
  if (Math.abs(face - (x + side * half)) > 1e-4) return 'none NaN';
  const column = side > 0 ? face : face - 1;
  const isWall = (row: number): boolean =>
    (rows[row]?.[column] ?? '#') === '#' &&
    (rows[row]?.[column - side] ?? '#') !== '#' &&
    row >= 0 &&
    row < rows.length;
  const touched = [...rows.keys()].filter((row) => isWall(row) && row + 1 > y - height && row < y);
  let top = touched[0] ?? NaN;
  while (isWall(top - 1)) top--;
  return `${side} ${column} ${top}`;
}

/** Plays random levels with everything on until so many ticks are done, and checks every one of them. */
export function playEverything(random: Random, ticks: number): Findings {
  const found: Findings = { ticks: 0, events: {}, touches: {}, jumps: {}, poses: {}, deepest: 0, broken: [] };
  const count = (where: Record<string, number>, what: string): void => void (where[what] = (where[what] ?? 0) + 1);
  const SECONDS = 20;
  for (let run = 0; found.ticks < ticks && found.broken.length === 0; run++) {
    const level = mill(random);
    const tuning = everything(random);
    const rate = random.pick([30, 60, 120, 240]);
    const stage = openStage(level);
    const hero = stage.add(tuning, { driver: script(busyInput(random, SECONDS)), abilities: [dash] });
    const limit = (tuning.wall as { sameWall: number }).sameWall;
    let wall = '';
    let jumps = 0;
    // Moment of the last drop: it may be a while until the body is any deeper, at a wall that it clings to.
    let dropped = -Infinity;
    stage.listen((event) => {
      // Dropped, or run off its end and come back.
      if (event.event === 'dropThrough' || event.event === 'leave') dropped = event.time;
      count(found.events, event.event);
      if (event.event === 'bump') count(found.touches, event.side);
      else if (event.event === 'touchdown') count(found.touches, 'floor');
      if (['touchdown', 'climbed', 'hang'].includes(event.event)) wall = '';
      // Another wall on the way: its jumps are counted from none.
      if (event.event === 'bump' && event.side !== 'head') {
        const side = event.side === 'right' ? 1 : -1;
        if (wallBeside(level, side, event, hero.motion.half, hero.height) !== wall) wall = '';
      }
      if (event.event !== 'takeoff') return;
      count(found.jumps, event.by);
      if (event.by === 'ground' || event.by === 'coyote' || event.by === 'charge') wall = '';
      if (event.by !== 'wall') return;
      // It was turned away from the wall only after this event.
      const sides = [1, -1].map((side) => wallBeside(level, side, event, hero.motion.half, hero.height));
      const walls = sides.filter((one) => !one.endsWith('NaN'));
      // In a shaft as wide as the body it may be either: such a jump begins the count anew.
      if (walls.length === 2) wall = '';
      const which = walls.length === 1 ? walls[0]! : '';
      // A moment after leaving it, the wall cannot be told from the place: such a jump is not counted.
      if (which === '') return;
      jumps = which === wall ? jumps + 1 : 1;
      wall = which;
      if (jumps > limit)
        found.broken.push(`run ${run}: ${jumps} jumps off one wall, ${limit} granted, at ${event.time}`);
    });
    for (let i = 0; i < SECONDS * rate && found.ticks < ticks; i++) {
      const before = [hero.x, hero.y] as const;
      stage.tick(1 / rate);
      found.ticks++;
      if (stage.time - dropped > 0.5 && fellThrough(level, hero, before))
        found.broken.push(`run ${run}, tick ${i} at ${rate}: through a grating at ${hero.x}, ${hero.y}`);
      const { x, y, vx, vy } = hero;
      const depth = depthInside(level, hero) / hero.motion.touch;
      found.deepest = Math.max(found.deepest, depth);
      count(found.poses, hero.pose);
      if (!(Number.isFinite(x + y + vx + vy) && depth <= 1 + 1e-6 && hero.jumpsLeft >= 0))
        found.broken.push(
          `run ${run}, tick ${i} at ${rate}: at ${x}, ${y}, ${vx}, ${vy}, ${depth} deep, ${hero.jumpsLeft} jumps left`,
        );
      if (found.broken.length > 0) break;
    }
  }
  if (found.events.stuck) found.broken.push(`stuck ${found.events.stuck} times`);
  return found;
}

/** Events and poses that such runs have no cause for. */
const WITHOUT_CAUSE: readonly string[] = [
  'meet',
  'part',
  'stuck',
  'freed',
  'board',
  'alight',
  'pushed',
  'crushed',
  'surface',
  'enter',
  'exit',
  'wrapped',
  'out',
];

/** Events, poses, jumps and touches that should have come up, and did not so often. */
export function missing({ events, poses, jumps, touches }: Findings, least = 1): string[] {
  const rare = (names: readonly string[], counts: Record<string, number>): string[] =>
    names.filter((name) => (counts[name] ?? 0) < least);
  return [
    ...rare(
      [...EVENTS, 'dashOn', 'dashOff'].filter((name) => !WITHOUT_CAUSE.includes(name)),
      events,
    ),
    ...rare([...POSES, 'dash'], poses),
    ...rare(['ground', 'coyote', 'wall', 'air', 'ledge', 'charge'], jumps),
    ...rare(['floor', 'head', 'left', 'right'], touches),
  ];
}
