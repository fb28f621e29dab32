import type { CompiledMover } from '../movers/mover.js';
import { FARTHEST } from '../tuning/keys.js';
import { EdgeList, mergeStraight } from './edges.js';
import type { Grid } from './faces.js';
import {
  type Bound,
  LevelError,
  type Point,
  SIDES,
  type Side,
  type Spawn,
  type WrittenBase,
  spawnOf,
} from './level.js';
import { compileMovers } from './movers.js';
import type { FullSurface, Registry } from './registry.js';
import { type Terrain, buildTerrain, onGrid } from './terrain.js';
import { type CompiledZone, compileZones } from './zones.js';

/** A box in the level's own axes, units. */
export interface Extent {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Where a shape was drawn. */
export interface Source {
  /** Its name or id, or what it is. */
  readonly name: string;
  readonly line: number;
  readonly column: number;
}

/** A level ready to run in: its edges (y up) and its spawns (in the level's own axes). */
export interface CompiledLevel {
  readonly title: string;
  readonly yPoints: 'down' | 'up';
  readonly terrain: Terrain;
  readonly spawns: ReadonlyMap<string, { x: number; y: number; facing: number }>;
  /** The extent of the level in its own axes, units. */
  readonly extent: Extent;
  readonly bounds: Readonly<Record<Side, Bound>>;
  /** The sides in internal coordinates (y up). */
  readonly sides: Readonly<Record<Side, number>>;
  /** Surfaces by number; 0 is plain, without a name. */
  readonly surfaces: readonly FullSurface[];
  /** Layers by number; 0 has no name. */
  readonly layers: readonly string[];
  /** Named shapes by number. */
  readonly shapes: readonly string[];
  readonly zones: readonly CompiledZone[];
  readonly movers: readonly CompiledMover[];
  readonly sources: readonly Source[];
  /** Of a level in rows: its cells, with which they can be changed. */
  readonly rows?: CellRows | undefined;
}

/** What the cells of a level in rows hold, and what its marks mean. */
export interface CellRows {
  readonly grid: Grid;
  readonly registry: Registry;
  /** The number in the cells of each mark, by its character. */
  readonly numbers: ReadonlyMap<string, number>;
  /** Which of the level's zones all cells with such a number are, where they are one together. */
  readonly zoneOf: ReadonlyMap<number, number>;
}

/**
 * Makes a level of its edges and what else was written.
 * @param merge whether straight runs may still be in several pieces
 */
export function compileWorld(
  level: WrittenBase,
  list: EdgeList,
  registry: Registry,
  extent: Extent,
  more: { merge: boolean; start?: readonly [number, number]; sources?: readonly Source[]; rows?: CellRows },
): CompiledLevel {
  const yPoints = level.yPoints ?? 'down';
  const up = yPoints === 'up';
  for (const [name, value] of [
    ['x', Math.max(Math.abs(extent.x), Math.abs(extent.x + extent.width))],
    ['y', Math.max(Math.abs(extent.y), Math.abs(extent.y + extent.height))],
  ] as const) {
    if (!(value <= FARTHEST))
      throw new LevelError('rows', `the level reaches ${value} units in ${name}; it must stay within ${FARTHEST}`);
  }
  const sides = {
    left: onGrid(extent.x),
    right: onGrid(extent.x + extent.width),
    top: onGrid(up ? extent.y + extent.height : -extent.y),
    bottom: onGrid(up ? extent.y : -(extent.y + extent.height)),
  };
  const bounds = { left: 'open', right: 'open', top: 'open', bottom: 'open', ...level.bounds } as Record<Side, Bound>;
  for (const [one, other] of [
    ['left', 'right'],
    ['top', 'bottom'],
  ] as const) {
    if ((bounds[one] === 'wrap') !== (bounds[other] === 'wrap'))
      throw new LevelError(
        `bounds.${bounds[one] === 'wrap' ? one : other}`,
        `${one} and ${other} must both be wrap, or neither`,
      );
    if (bounds[one] === 'wrap' && (one === 'left' ? extent.width : extent.height) === 0)
      throw new LevelError(`bounds.${one}`, 'a level without extent has nowhere to come out');
  }
  let edges = more.merge ? mergeStraight(list, registry.styles) : list;
  const wrapX = bounds.left === 'wrap';
  const wrapY = bounds.top === 'wrap';
  if (wrapX || wrapY) {
    edges = mergeStraight(
      repeated(edges, wrapX ? sides.right - sides.left : 0, wrapY ? sides.top - sides.bottom : 0),
      registry.styles,
    );
  }
  const moving = compileMovers(level.movers ?? [], up ? 1 : -1, registry);
  const spawns = new Map<string, { x: number; y: number; facing: number }>();
  if (more.start) spawns.set('start', { x: more.start[0] + 0, y: more.start[1] + 0, facing: 1 });
  for (const [name, spawn] of Object.entries(level.spawns ?? {})) spawns.set(name, checkSpawn(name, spawn));
  return {
    title: level.title ?? '',
    yPoints,
    terrain: buildTerrain(edges, registry.styles, boundEdges(bounds, sides), moving.edges),
    spawns,
    extent,
    bounds,
    sides,
    surfaces: registry.surfaces,
    layers: registry.layers,
    shapes: registry.shapes,
    movers: moving.movers,
    zones: compileZones(level.zones ?? [], up ? 1 : -1),
    sources: more.sources ?? [],
    rows: more.rows,
  };
}

/** The edges of a level that comes out at the other side, with their copies beyond each border. */
export function repeated({ ends, style, form, count }: EdgeList, across: number, up: number): EdgeList {
  const all = new EdgeList();
  for (const dx of across > 0 ? [-across, 0, across] : [0])
    for (const dy of up > 0 ? [-up, 0, up] : [0])
      for (let e = 0; e < count; e++)
        all.add(
          ends[4 * e]! + dx,
          ends[4 * e + 1]! + dy,
          ends[4 * e + 2]! + dx,
          ends[4 * e + 3]! + dy,
          style[e],
          form[e],
        );
  return all;
}

/** Walled bounds as endless edges facing inwards. */
function boundEdges(bounds: Readonly<Record<Side, Bound>>, at: Readonly<Record<Side, number>>): EdgeList {
  const far = FARTHEST;
  const list = new EdgeList();
  for (const side of SIDES) {
    if (bounds[side] !== 'wall') continue;
    if (side === 'left') list.add(at.left, far, at.left, -far);
    else if (side === 'right') list.add(at.right, -far, at.right, far);
    else if (side === 'top') list.add(far, at.top, -far, at.top);
    else list.add(-far, at.bottom, far, at.bottom);
  }
  return list;
}

function checkSpawn(name: string, spawn: Spawn | Point): { x: number; y: number; facing: number } {
  const { at, facing = 1 } = spawnOf(spawn);
  const [x, y] = at;
  for (const value of [x, y]) {
    if (!(Math.abs(value) <= FARTHEST))
      throw new LevelError(
        `spawns.${name}.at`,
        `spawn ${name} is at ${value}; it must be a number within ±${FARTHEST}`,
      );
  }
  if (facing !== 1 && facing !== -1)
    throw new LevelError(`spawns.${name}.facing`, `spawn ${name} faces ${String(facing)}; it must be 1 or -1`);
  return { x: x + 0, y: y + 0, facing };
}
