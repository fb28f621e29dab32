import {
  compileLevel,
  valueOfKey,
  type CompiledLevel,
  type InputRow,
  type Level,
  type Motion,
  type TracePiece,
} from 'apperin';
import { play } from 'apperin/lab';
import { pathOf, stretchesOf } from '../../figures/path.js';
import { OFTEN, within, type Happened } from './watched.js';

/** What a number does: a short scene played with the tuning before and after, and lengths at the body. */
export interface Shown {
  /** The same scene with each tuning. */
  ways: ShownWay[];
  /** What stands in the scene, from its start, y up. */
  solids: [number, number, number, number][];
  /** Lengths to mark at the character: from and to, units from the middle of its feet, x the way that it faces, y up. */
  marks: { x1: number; y1: number; x2: number; y2: number; text: string; before: boolean }[];
  /** Whether ramps of the level change sides. */
  ramps: boolean;
  /** The height and the width of the body, before and after. */
  bodies: boolean;
  what: string;
}

/** A scene as it was played: places from its start, units, y up; its pieces, keys and events in the scene's own axes, y down. */
export interface ShownWay {
  motion: Motion;
  points: { time: number; x: number; y: number; vx: number; vy: number; height: number }[];
  /** Its way as a path, from its start, y up. */
  path: string;
  pieces: readonly TracePiece[];
  events: readonly Happened[];
  input: readonly InputRow[];
  /** s */
  from: number;
  to: number;
}

interface Scene {
  what: string;
  /** Rows of a level, one tile each, with `@` where it starts; and where the shown part begins. */
  rows?: readonly string[];
  /** Or built for the numbers of a tuning. */
  level?: (tile: number, motion: Motion) => Level;
  input: (motion: Motion) => InputRow[];
  seconds: (motion: Motion) => number;
  /** The moment from which places are measured, s. */
  from?: (motion: Motion) => number;
}

const on = (time: number, action: string): InputRow => ({ time: micro(time), action, value: 1 });
const off = (time: number, action: string): InputRow => ({ time: micro(time), action, value: 0 });
const micro = (time: number): number => Math.round(time * 1e6) / 1e6;

const FLAT = ['.'.repeat(80), `${'.'.repeat(4)}@${'.'.repeat(75)}`, '#'.repeat(80)];
/** A floor that ends, and a long way down. */
const EDGE = ['.'.repeat(60), `${'.'.repeat(20)}@${'.'.repeat(39)}`, `${'#'.repeat(26)}${'.'.repeat(34)}`, ...Array.from({ length: 16 }, () => `${'#'.repeat(26)}${'.'.repeat(34)}`), '#'.repeat(60)]; // prettier-ignore
const WALL = [...Array.from({ length: 14 }, () => `${'.'.repeat(30)}#${'.'.repeat(9)}`), `${'.'.repeat(26)}@...#${'.'.repeat(9)}`, '#'.repeat(40)]; // prettier-ignore
/** A ledge that the hands reach near the top of a jump, and a wall beside a high floor. */
function ledgeRows(motion: Motion): string[] {
  const { tile, jump, ledge } = motion.full;
  const high = Math.max(2, Math.min(12, Math.floor(((jump.height ?? 3.25) + (ledge?.hands ?? 1.15) - 0.25 * tile) / tile)));
  return [...Array.from({ length: 6 }, () => '.'.repeat(40)), ...Array.from({ length: high - 1 }, () => `${'.'.repeat(30)}${'#'.repeat(10)}`), `${'.'.repeat(26)}@...${'#'.repeat(10)}`, '#'.repeat(40)];
} // prettier-ignore
const BESIDE = ['.'.repeat(40), `${'.'.repeat(10)}@${'.'.repeat(29)}`, ...Array.from({ length: 14 }, () => `${'#'.repeat(13)}....${'#'.repeat(23)}`), '#'.repeat(40)]; // prettier-ignore
const RAMPS = ['.'.repeat(60), `${'.'.repeat(18)}/\\${'.'.repeat(40)}`, `${'.'.repeat(17)}/##\\${'.'.repeat(39)}`, `${'.'.repeat(8)}@${'.'.repeat(7)}/####\\${'.'.repeat(8)}##${'.'.repeat(29)}`, '#'.repeat(60)]; // prettier-ignore

const speedUp = (motion: Motion): number => Math.max(motion.ground.upIn * 2, 0.35);
const PRESS = 0.05;

const SCENES: Readonly<Record<string, Scene>> = {
  run: {
    what: 'run, let go, turn; then the same in the air',
    rows: EDGE,
    input: (m) => [on(0, 'left'), off(0.5, 'left'), on(0.8, 'left'), off(0.9, 'left'), on(0.9, 'right'), ...(m.full.jump.off ? [] : [on(1.5, 'jump')]), off(1.6, 'right'), on(1.8, 'left'), off(2.2, 'left'), on(2.2, 'right'), on(2.5, 'walk')],
    seconds: () => 3,
  },
  walk: { what: 'walk', rows: FLAT, input: () => [on(0, 'walk'), on(0, 'right')], seconds: () => 1 },
  jump: {
    what: 'a full jump and a tap, at run speed',
    rows: FLAT,
    input: (m) => {
      const t = speedUp(m);
      const next = t + PRESS + 2 * m.riseTime + 0.35;
      return [on(0, 'right'), on(t, 'jump'), off(next - 0.1, 'jump'), on(next, 'jump'), off(next + 0.02, 'jump')];
    },
    seconds: (m) => speedUp(m) + 4 * m.riseTime + 0.8,
    from: speedUp,
  },
  release: {
    what: 'jumps let go of early, and at once',
    rows: FLAT,
    input: (m) => {
      const t = speedUp(m);
      const next = t + 2 * m.riseTime + 0.4;
      return [on(0, 'right'), on(t, 'jump'), off(t + m.riseTime / 3, 'jump'), on(next, 'jump'), off(next + 0.001, 'jump')];
    },
    seconds: (m) => speedUp(m) + 4 * m.riseTime + 0.8,
    from: speedUp,
  },
  fall: { what: 'off the edge of a high floor', rows: EDGE, input: () => [on(0, 'right')], seconds: () => 2.4, from: () => 0.4 },
  airJumps: {
    what: 'every jump in the air, as soon as it may be',
    rows: FLAT,
    input: (m) => {
      const t = speedUp(m);
      const rows = [on(0, 'right'), on(t, 'jump'), off(t + 0.06, 'jump')];
      for (let i = 0; i < 60; i++) rows.push(on(t + 0.08 + i * 0.02, 'jump'), off(t + 0.09 + i * 0.02, 'jump'));
      return rows;
    },
    seconds: (m) => speedUp(m) + 4 * m.riseTime + 0.4 * Math.min(m.airLaunch.length, 4) + 0.4,
    from: speedUp,
  },
  wall: {
    what: 'against a wall: slide, jump off it, and again',
    rows: WALL,
    input: (m) => {
      const first = 0.25 + m.riseTime + 0.35;
      return [on(0, 'right'), on(0.25, 'jump'), off(first - 0.1, 'jump'), on(first, 'jump'), off(first + 0.3, 'jump'), on(first + 0.9, 'jump'), off(first + 1.1, 'jump')];
    },
    seconds: (m) => 2.6 + m.riseTime,
  },
  ledge: {
    what: 'hang on a ledge, and climb it',
    level: (tile, motion) => ({ tile, rows: ledgeRows(motion), bounds: { left: 'wall', right: 'wall', bottom: 'wall' } }),
    input: (m) => [on(0, 'right'), on(0.3, 'jump'), on(0.3 + m.riseTime + 0.5, 'up')],
    seconds: (m) => 1.8 + m.riseTime,
  },
  besideWall: { what: 'down beside a wall, and slide', rows: BESIDE, input: () => [on(0, 'right')], seconds: () => 2.2, from: () => 0.3 },
  slip: {
    what: 'down a face that is too steep to stand on',
    level: (tile) => ({
      tile,
      rows: [...Array.from({ length: 13 }, () => '.'.repeat(20)), '#'.repeat(20)],
      movers: [{ name: 'chute', shapes: [{ form: 'solid', points: [[2 * tile, 2 * tile], [6 * tile, 12.9 * tile], [2 * tile, 12.9 * tile]] }] }],
      spawns: { start: { at: [3 * tile, 3 * tile] } },
    }),
    input: () => [],
    seconds: () => 1.4,
  },
  slope: { what: 'up a ramp, down, over steps, and a jump from a ramp', rows: RAMPS, input: () => [on(0, 'right'), on(1.75, 'jump'), off(1.8, 'jump')], seconds: () => 4.5 },
  crouch: { what: 'crouch and creep', rows: FLAT, input: () => [on(0, 'right'), on(0.5, 'down'), off(1.3, 'down')], seconds: () => 1.7 },
  charge: {
    what: 'charged for half the time, and in full',
    rows: FLAT,
    input: (m) => {
      const full = m.full.charge?.fullIn ?? 0.7;
      const second = full / 2 + 2 * m.riseTime + 0.9;
      return [on(0, 'right'), on(0.1, 'jump'), off(0.1 + full / 2, 'jump'), on(second, 'jump'), off(second + full + 0.05, 'jump')];
    },
    seconds: (m) => 1.5 * (m.full.charge?.fullIn ?? 0.7) + 4 * m.riseTime + 2,
  },
  glide: { what: 'jump off and glide for as long as it may be', rows: EDGE, input: () => [on(0, 'right'), on(0.5, 'jump'), off(0.9, 'jump'), on(1, 'glide')], seconds: (m) => Math.min(2.5 + (m.full.glide?.budget ?? 2), 7), from: () => 0.5 },
  dive: { what: 'jump off and dive', rows: EDGE, input: (m) => [on(0, 'right'), on(0.5, 'jump'), on(0.5 + m.riseTime, 'down')], seconds: (m) => 1.7 + m.riseTime, from: () => 0.5 },
  lift: {
    what: 'a jump after a lift has stopped, as late as it still lends its speed',
    level: (tile, motion) => ({
      tile,
      rows: [...Array.from({ length: 9 }, () => '.'.repeat(20)), `${'.'.repeat(5)}@${'.'.repeat(14)}`, '#'.repeat(20)],
      movers: [{ name: 'lift', shapes: [{ form: 'solid', points: [[3 * tile, 9.999 * tile], [8 * tile, 9.999 * tile], [8 * tile, 10.4 * tile], [3 * tile, 10.4 * tile]] }], route: { curve: [[0, 0, 2 * tile, -3 * tile]], lap: 1, laps: 1 } }],
      spawns: { start: { at: [5.5 * tile, 9.999 * tile - motion.height * 0] } },
    }),
    // As late as the tuning still lends anything.
    input: (m) => [on(1 + 0.98 * m.full.mover.linger, 'jump')],
    seconds: (m) => 1.3 + m.full.mover.linger + 2 * m.riseTime,
  },
}; // prettier-ignore

/** Which scene shows a key. */
function sceneOf(key: string): Scene | undefined {
  if (key === 'run.walk') return SCENES.walk;
  if (key.startsWith('run.')) return SCENES.run;
  if (['jump.lowestHop', 'jump.minHold', 'gravity.released', 'gravity.cutTo'].includes(key)) return SCENES.release;
  if (/^gravity\.(fallSpeed|fallRamp)/.test(key)) return SCENES.fall;
  if (/^(jump|gravity)\.|^tile$/.test(key)) return SCENES.jump;
  if (key === 'mover.linger' || key === 'mover.lend') return SCENES.lift;
  if (key === 'slope.slip') return SCENES.slip;
  if (key === 'wall.settle' || key === 'wall.slideSpeed') return SCENES.besideWall;
  return SCENES[key.split('.')[0]!];
}

/** Whether what a number does is a jump: that is shown where the character is, as it will be. */
export function isJump(key: string): boolean {
  const scene = sceneOf(key);
  return scene === SCENES.jump || scene === SCENES.release || scene === SCENES.charge;
}

/** Why a number has no scene or length of its own. */
export const UNSEEN: Readonly<Record<string, string>> = {
  'body.freeBy': 'it counts only when a body was placed inside something solid',
  'grace.lipSpeed': 'it only limits at which speed the help over a lip is given; the lip itself is drawn',
  'run.overspeed': 'a choice: it counts only above top speed, after a shove or a launch',
  'wall.sameWall': 'a count of jumps off one wall in a row; the climb in the scene follows where it is reached',
  'wall.lean': 'it decides which leaning walls are walls at all; the scene has an upright one',
  'ledge.pause': 'it decides how soon a ledge that was let go of is caught again',
  'drop.by': 'a choice of keys',
  'slope.launch': 'a choice: it counts on ramps only',
  'pose.land': 'for pictures only: how long the landing pose is held; no motion follows',
  'pose.settle': 'for pictures only: how long a pose has to last; no motion follows',
};

/**
 * What a number does, with the tuning before and after it was touched.
 * @param facing −1 or 1
 */
export function show(key: string, before: Motion, after: Motion): Shown {
  const shown: Shown = { ways: [], solids: [], marks: [], ramps: false, bodies: key.startsWith('body.') || key.startsWith('crouch.'), what: '' };
  const scene = sceneOf(key);
  if (scene) {
    shown.what = scene.what;
    for (const motion of before === after ? [after] : [before, after]) {
      // What it was stays while it is dragged.
      const known = motion === before && kept?.motion === before && kept.key === key ? kept : undefined;
      const solids = known ? known.solids : [];
      const way = known ? known.way : playScene(scene, motion, solids);
      if (motion === before && way) kept = { key, motion, way, solids };
      if (shown.solids.length === 0) shown.solids = solids;
      if (way) shown.ways.push(way);
    }
  }
  for (const [motion, isBefore] of [[before, true], [after, false]] as const) {
    if (isBefore && before === after) continue;
    shown.marks.push(...marksOf(key, motion).map((mark) => ({ ...mark, before: isBefore })));
  }
  shown.ramps = key === 'slope.steepest' || key === 'slope.follow';
  return shown;
} // prettier-ignore

let kept: { key: string; motion: Motion; way: ShownWay; solids: Shown['solids'] } | undefined;

function playScene(scene: Scene, motion: Motion, solids: Shown['solids']): ShownWay | undefined {
  const { tile } = motion.full;
  const { level, compiled } = scene.rows ? laidOut(scene.rows, tile) : { level: scene.level!(tile, motion) };
  try {
    const input = scene.input(motion).sort((a, b) => a.time - b.time);
    const { rows, pieces: all, events, last } = play({ level: compiled ?? level, tuning: motion, input, seconds: scene.seconds(motion), rate: 120 });
    const from = scene.from?.(motion) ?? 0;
    const first = rows.find(({ time }) => time >= from - 1e-9) ?? rows[0]!;
    if (scene.rows !== FLAT) solids.push(...solidsOf(level, first.x, first.y));
    const points = rows.filter(({ time }) => time >= from - 1e-9).map(({ time, x, y, vx, vy, height }) => ({ time: time - from, x: x - first.x, y: first.y - y, vx, vy: -vy, height }));
    const pieces = within(all, from, last.time);
    const path = pathOf(stretchesOf(pieces, from), (x, y) => `${x - first.x},${first.y - y}`);
    return { motion, points, path, pieces, events: (events as Happened[]).filter(({ time, event }) => time >= from && !OFTEN.includes(event)), input, from, to: last.time };
  } catch {
    // A body that does not fit into the scene has nothing to show in it.
    return undefined;
  }
} // prettier-ignore

let laid: { of: readonly string[]; tile: number; level: Level; compiled: CompiledLevel } | undefined;

/** A level of rows, which is the same all through a drag. */
function laidOut(of: readonly string[], tile: number): { level: Level; compiled: CompiledLevel } {
  if (laid?.of !== of || laid.tile !== tile) {
    const level: Level = { tile, rows: [...of], bounds: { left: 'wall', right: 'wall', bottom: 'wall' } };
    laid = { of, tile, level, compiled: compileLevel(level) };
  }
  return laid;
}

/** Solid tiles as boxes, as few as rows of one width make, from a place, y up. */
function solidsOf({ rows, tile = 1 }: Level, x: number, y: number): Shown['solids'] {
  const found: Shown['solids'] = [];
  /** Those that go down to the row before, by where they begin and end. */
  let above = new Map<string, Shown['solids'][number]>();
  rows.forEach((row, r) => {
    const here: typeof above = new Map();
    for (const run of row.matchAll(/#+/g)) {
      const [from, to] = [run.index * tile - x, (run.index + run[0].length) * tile - x];
      const name = `${from} ${to}`;
      let box = above.get(name);
      if (!box) found.push((box = [from, 0, to, y - r * tile]));
      box[1] = y - (r + 1) * tile;
      here.set(name, box);
    }
    above = here;
  });
  return found;
}

/** Lengths that a number amounts to at the body. */
function marksOf(key: string, motion: Motion): Omit<Shown['marks'][number], 'before'>[] {
  const { half, height, ground, touchdownSpeed } = motion as Motion & { touchdownSpeed?: number };
  const { grace, ledge, slope } = motion.full;
  const say = (value: number): string => `${Number(value.toPrecision(3))}`;
  const across = (text: string, length: number, x: number, y: number): Omit<Shown['marks'][number], 'before'> => ({ x1: x, y1: y, x2: x + length, y2: y, text: `${text} ${say(length)}` });
  const up = (text: string, length: number, x: number, y: number): Omit<Shown['marks'][number], 'before'> => ({ x1: x, y1: y, x2: x, y2: y + length, text: `${text} ${say(length)}` });
  const falls = touchdownSpeed ?? Math.min(Math.sqrt(2 * motion.falling * motion.height), motion.cap);
  switch (key) {
    case 'grace.coyote': return [across('coyote', ground.speed * grace.coyote, half, 0)];
    case 'grace.wallCoyote': return [across('wall coyote', motion.air.speed * grace.wallCoyote, half, height / 2)];
    case 'grace.buffer': return [up('buffer', falls * grace.buffer, 0, 0)];
    case 'grace.corner': return [across('corner', grace.corner, half, height), across('corner', -grace.corner, -half, height)];
    case 'grace.lip': return [up('lip', grace.lip, half, 0)];
    case 'ledge.reach': return ledge ? [across('reach', ledge.reach, half, ledge.hands)] : [];
    case 'ledge.hands': return ledge ? [up('hands', ledge.hands, half, 0)] : [];
    case 'slope.step': return [up('step', slope.step, half, 0)];
    case 'slope.follow': return [up('followed down', -slope.follow * motion.full.tile * 0.25, half, 0)];
    case 'airJumps.spacing': return motion.full.airJumps ? [across('no sooner than', motion.air.speed * motion.full.airJumps.spacing, half, height)] : [];
    case 'pose.stride': return [across('stride', motion.full.pose.stride, 0, -0.1 * height)];
    case 'body.bevel': return [up('bevel', motion.full.body.bevel, half, 0)];
    default: return [];
  }
} // prettier-ignore

/** A text that is the same exactly where what is shown is: for checks that a number shows itself. */
export function printOf(shown: Shown, after: Motion, key: string): string {
  const way = shown.ways.at(-1)?.points ?? [];
  const sum = way.reduce((total, { x, y, vx, vy, height }, i) => total + (x + 2 * y + 3 * vx + 5 * vy + 7 * height) * ((i % 97) + 1), 0);
  const marks = shown.marks.filter(({ before }) => !before).map(({ x1, y1, x2, y2 }) => [x1, y1, x2, y2].map((value) => value.toFixed(9)).join());
  const body = shown.bodies ? `${after.width},${after.height},${String(valueOfKey(after.full, 'body.bevel'))}` : '';
  return `${key}|${sum.toFixed(6)}|${marks.join(';')}|${body}|${shown.ramps ? after.full.slope.steepest : ''}`;
} // prettier-ignore
