import { MX, MY } from '../movers/moving.js';
import { hullOf } from '../sweep/hull.js';
import { Near } from '../sweep/near.js';
import { AT, PATH_LENGTH, PVX, PVY, PX, PY, T, locate } from '../sweep/path.js';
import { NORMAL_X, NORMAL_Y, TOUCH_LENGTH, WHEN } from '../sweep/ties.js';
import { firstTouch } from '../sweep/touch.js';
import { type Box, checkPair } from './area.js';
import { type OverlapList, overlap } from './overlap.js';
import { type Touch, describeEdge, touch } from './ray.js';
import { type Sight, isSetThere, layerBits, offsetOf } from './sight.js';

export interface SweepOptions {
  /** Only shapes of these layers; an empty name is that of what has none. */
  layers?: readonly string[] | undefined;
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
 * The first thing that a box meets which is moved straight; undefined where its way is free. What only touches it, and what it goes away from, is not in its way.
 * @param into an answer to be used again: then nothing is allocated
 * @throws RangeError naming an argument that is out of range
 */
export function sweep(
  sight: Sight,
  { nears }: Sweeper,
  box: Box,
  by: readonly [number, number],
  options: SweepOptions = NO_OPTIONS,
  into: Touch = touch(),
): Touch | undefined {
  const { level, off } = sight;
  const up = level.yPoints === 'up' ? 1 : -1;
  checkPair('by', by);
  const layers = layerBits(level, options.layers);
  SOLID.layers = options.layers;
  overlap(sight, box, SOLID, within);
  into.inside = within.count > 0;
  const { x, y } = box;
  into.character = undefined;
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
  const hull = boxHull(box);
  const low = up > 0 ? y : -(y + box.height);
  let edge = -1;
  for (let set = 0; set < nears.length; set++) {
    if (!isSetThere(sight, set)) continue;
    const near = nears[set]!;
    if (near.only !== layers || near.off !== off) near.forget();
    near.only = layers;
    near.off = off;
    let dx = 0;
    let dy = 0;
    if (set > 0) {
      const offset = offsetOf(sight, set);
      dx = offset[MX]!;
      dy = offset[MY]!;
    }
    path[PX] = x + box.width / 2 - dx;
    path[PY] = low - dy;
    path[PVX] = by[0] + 0;
    path[PVY] = by[1] * up + 0;
    path[T] = path[AT] = 1;
    locate(path);
    const other = firstTouch(path, near, hull, met);
    if (other < 0 || (edge >= 0 && met[WHEN]! >= first[WHEN]!)) continue;
    edge = other;
    first.set(met);
  }
  if (edge < 0) return undefined;
  const share = first[WHEN]!;
  describeEdge(sight, edge, into);
  into.x = x + share * by[0] + 0;
  into.y = y + share * by[1] + 0;
  into.normalX = first[NORMAL_X]! + 0;
  into.normalY = first[NORMAL_Y]! * up + 0;
  into.distance = share * Math.sqrt(by[0] * by[0] + by[1] * by[1]);
  return into;
}

const NO_OPTIONS: SweepOptions = {};

let lastHull = hullOf(1, 1, 0);

/** The hull of a box: the last one again where that has the same size. */
function boxHull({ width, height }: Box): typeof lastHull {
  if (2 * lastHull.half !== width || lastHull.height !== height) lastHull = hullOf(width, height, 0);
  return lastHull;
}
