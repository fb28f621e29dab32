import { MX, MY } from '../movers/moving.js';
import { type Hull, hullOf } from '../sweep/hull.js';
import { Near } from '../sweep/near.js';
import { AT, PATH_LENGTH, PAX, PAY, PVX, PVY, PX, PY, T, locate } from '../sweep/path.js';
import { NORMAL_X, NORMAL_Y, TOUCH_LENGTH, WHEN } from '../sweep/ties.js';
import { firstTouch } from '../sweep/touch.js';
import { type Box, checkPair } from './area.js';
import { type OverlapList, overlap } from './overlap.js';
import { type Touch, describeEdge, touch } from './ray.js';
import { FLOOR, SLANTED, WALL_LEFT, WALL_RIGHT } from '../terrain/terrain.js';
import { isGroup } from '../tuning/words.js';
import { type Sight, isSetThere, layerBits, offsetOf } from './sight.js';

/** What is asked of a moving box. */
export interface SweepOptions {
  /** Only shapes of these layers; an empty name is that of what has none. */
  layers?: readonly string[] | undefined;
  /** How much of each lower corner is cut off, as of a body, units; 0 unless given. */
  bevel?: number | undefined;
}

/** How a box is thrown: all in the level's own axes. */
export interface Thrown {
  /** units/s */
  readonly velocity: readonly [number, number];
  /** units/s²; none unless given. */
  readonly acceleration?: readonly [number, number];
  /** How long, s. */
  readonly seconds: number;
}

/** What a stage keeps to sweep boxes: the edges around the last one, of each set. */
export interface Sweeper {
  nears: readonly Near[];
}

export function sweeperOf({ level }: Sight): Sweeper {
  return { nears: [undefined, ...level.movers].map((_, set) => new Near(level.terrain, 4, set)) };
}

const path = new Float64Array(PATH_LENGTH);
const met = new Float64Array(TOUCH_LENGTH);
const first = new Float64Array(TOUCH_LENGTH);
const within: OverlapList = { count: 0, found: [] };
const SOLID = { kinds: ['solid'] as const, layers: undefined as readonly string[] | undefined };

/**
 * The first thing that a box meets which is moved straight, or thrown; undefined where its way is free. What only touches it, and what it goes away from, is not in its way.
 * @param into an answer to be used again: then nothing is allocated
 * @throws RangeError naming an argument that is out of range
 */
export function sweep(
  sight: Sight,
  { nears }: Sweeper,
  box: Box,
  by: readonly [number, number] | Thrown,
  options: SweepOptions = NO_OPTIONS,
  into: Touch = touch(),
): Touch | undefined {
  const { level, off } = sight;
  const up = level.yPoints === 'up' ? 1 : -1;
  const isThrown = isGroup(by) && 'velocity' in by;
  if (isThrown) checkThrown(by);
  else checkPair('by', by);
  const layers = layerBits(level, options.layers);
  SOLID.layers = options.layers;
  overlap(sight, box, SOLID, within);
  into.inside = within.count > 0;
  const { x, y } = box;
  into.character = undefined;
  into.time = 0;
  if (into.inside) {
    const [solid] = within.found;
    into.kind = 'solid';
    into.x = x;
    into.y = y;
    into.normalX = into.normalY = into.distance = 0;
    into.name = solid!.name;
    into.mover = solid!.mover;
    into.layer = solid!.layer;
    into.surface = '';
    return into;
  }
  const { bevel = 0 } = options;
  if (bevel !== 0 && !(bevel > 0 && bevel < box.width / 2 && bevel < box.height))
    throw new RangeError(`bevel is ${bevel}; it must be at least 0, and less than half the width and the height`);
  for (let set = 0; set < nears.length; set++) {
    const near = nears[set]!;
    if (near.only !== layers || near.off !== off || near.bevelled !== bevel > 0) near.forget();
    near.only = layers;
    near.off = off;
    near.bevelled = bevel > 0;
  }
  const velocity = isThrown ? by.velocity : by;
  const acceleration = isThrown ? (by.acceleration ?? AT_REST) : AT_REST;
  const seconds = isThrown ? by.seconds : 1;
  whole[PX] = x + box.width / 2;
  whole[PY] = up > 0 ? y : -(y + box.height);
  whole[PVX] = velocity[0] + 0;
  whole[PVY] = velocity[1] * up + 0;
  whole[PAX] = acceleration[0] + 0;
  whole[PAY] = acceleration[1] * up + 0;
  // A part of the way may not turn round: it is parted where a speed is 0.
  const turnsX = turnOf(whole[PVX]!, whole[PAX]!, seconds);
  const turnsY = turnOf(whole[PVY]!, whole[PAY]!, seconds);
  const hull = boxHull(box, bevel);
  for (let start = 0; start < seconds;) {
    let end = seconds;
    if (turnsX > start && turnsX < end) end = turnsX;
    if (turnsY > start && turnsY < end) end = turnsY;
    part[T] = part[AT] = end - start;
    part[PX] = whole[PX]! + start * (whole[PVX]! + (start * whole[PAX]!) / 2);
    part[PY] = whole[PY]! + start * (whole[PVY]! + (start * whole[PAY]!) / 2);
    part[PVX] = start === turnsX ? 0 : whole[PVX]! + start * whole[PAX]!;
    part[PVY] = start === turnsY ? 0 : whole[PVY]! + start * whole[PAY]!;
    part[PAX] = whole[PAX]!;
    part[PAY] = whole[PAY]!;
    const edge = firstOnPart(sight, nears, hull);
    if (edge < 0) {
      start = end;
      continue;
    }
    const t = first[WHEN]!;
    describeEdge(sight, edge, into);
    if (isThrown) into.time = start + t;
    into.x = x + (part[PX]! - whole[PX]! + t * (part[PVX]! + (t * part[PAX]!) / 2)) + 0;
    into.y = y + (part[PY]! - whole[PY]! + t * (part[PVY]! + (t * part[PAY]!) / 2)) * up + 0;
    layAgainst(sight, edge, box, into);
    const dx = into.x - x;
    const dy = into.y - y;
    into.normalX = first[NORMAL_X]! + 0;
    into.normalY = first[NORMAL_Y]! * up + 0;
    into.distance = Math.sqrt(dx * dx + dy * dy);
    return into;
  }
  return undefined;
}

/** At a level or upright edge a box lies against just that. */
function layAgainst(sight: Sight, edge: number, { width, height }: Box, into: Touch): void {
  const { terrain, yPoints } = sight.level;
  const { x1, y1, kind, set } = terrain;
  const what = kind[edge]!;
  if (what === SLANTED) return;
  let x = x1[edge]!;
  let y = y1[edge]!;
  if (set[edge]! > 0) {
    const offset = offsetOf(sight, set[edge]!);
    x += offset[MX]!;
    y += offset[MY]!;
  }
  if (what === WALL_LEFT || what === WALL_RIGHT) into.x = (what === WALL_LEFT ? x - width : x) + 0;
  else {
    const low = what === FLOOR ? y : y - height;
    into.y = (yPoints === 'up' ? low : -(low + height)) + 0;
  }
}

const AT_REST = [0, 0] as const;
/** The way from its start on, and one part of it. */
const whole = new Float64Array(PATH_LENGTH);
const part = new Float64Array(PATH_LENGTH);

function checkThrown({ velocity, acceleration, seconds }: Thrown): void {
  checkPair('velocity', velocity);
  if (acceleration !== undefined) checkPair('acceleration', acceleration);
  if (!(seconds > 0 && seconds <= 3600))
    throw new RangeError(`seconds is ${seconds}; it must be above 0 and at most 3600`);
}

/** When something turns round; Infinity where it does not. */
function turnOf(speed: number, acceleration: number, before: number): number {
  const t = -speed / acceleration;
  return t > 0 && t < before ? t : Infinity;
}

/** The first edge of all sets that is met on a part of the way, with `first`; −1 for none. */
function firstOnPart(sight: Sight, nears: readonly Near[], hull: Hull): number {
  let edge = -1;
  for (let set = 0; set < nears.length; set++) {
    if (!isSetThere(sight, set)) continue;
    for (let i = 0; i < PATH_LENGTH; i++) path[i] = part[i]!;
    if (set > 0) {
      const offset = offsetOf(sight, set);
      path[PX] = part[PX]! - offset[MX]!;
      path[PY] = part[PY]! - offset[MY]!;
    }
    locate(path);
    const other = firstTouch(path, nears[set]!, hull, met);
    if (other < 0 || (edge >= 0 && met[WHEN]! >= first[WHEN]!)) continue;
    edge = other;
    first.set(met);
  }
  return edge;
}

const NO_OPTIONS: SweepOptions = {};

let lastHull = hullOf(1, 1, 0);
let lastBevel = 0;

/** The hull of a box: the last one again where that is alike. */
function boxHull({ width, height }: Box, bevel: number): Hull {
  if (2 * lastHull.half !== width || lastHull.height !== height || lastBevel !== bevel)
    lastHull = hullOf(width, height, (lastBevel = bevel));
  return lastHull;
}
