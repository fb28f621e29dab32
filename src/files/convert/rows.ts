import {
  BUILT_IN_MARKS,
  TILE_PARTS,
  compileLevel,
  outlineOf,
  type Carry,
  type CompiledLevel,
  type Level,
  type Mark,
  type Mover,
  type Surface,
  type Zone,
} from '../../core/index.js';
import { stringify } from 'yaml';
import { edgeKeys } from './edges.js';

type Point = readonly [number, number];

/**
 * A level that the other form cannot hold, and why.
 * @example
 * ```ts
 * try {
 *   drawingOf({ rows: ['@..', '###'] });
 * } catch (error) {
 *   if (error instanceof ConvertError) console.assert(error.message !== '');
 * }
 * ```
 */
export class ConvertError extends Error {
  override readonly name = 'ConvertError';
}

/** A place as people write it. */
const said = (value: number): string => String(Number(value.toFixed(6)) + 0);

/** A drawn level, as it is read. */
export interface Drawn {
  compiled: CompiledLevel;
  level: { zones?: readonly Zone[]; movers?: readonly Mover[]; surfaces?: Readonly<Record<string, Surface>> };
}

/**
 * A drawn level as rows of tiles, in YAML.
 * @param tile units a tile
 * @throws ConvertError naming the first place that tiles cannot hold
 * @example
 * ```ts
 * rowsOf(readLevel(drawingOf({ rows: ['@..', '###'] }), { file: 'a.level.svg' }), 1)
 * ```
 */
export function rowsOf(drawn: Drawn, tile: number): string {
  return stringify(rowsLevelOf(drawn, tile), { flowCollectionPadding: true, lineWidth: 0 });
}

/** The same as data. @throws ConvertError */
export function rowsLevelOf(drawn: Drawn, tile: number): { rows: string[]; marks?: Readonly<Record<string, Mark>> } {
  const { compiled } = drawn;
  const { terrain, extent, yPoints } = compiled;
  const sign = yPoints === 'up' ? 1 : -1;
  const [columns, lines] = [extent.width / tile, extent.height / tile];
  if (!(Number.isInteger(columns) && Number.isInteger(lines) && columns * lines <= 4_000_000))
    throw new ConvertError(
      `the level is ${extent.width} by ${extent.height} units; it must be a whole number of tiles of ${tile} each way`,
    );
  const top = sign > 0 ? extent.y + extent.height : -extent.y;
  /** The pieces of edges within each cell, in tiles from its lower left corner. */
  const within = new Map<number, { e: number; a: Point; b: Point }[]>();
  const solidBelow = new Map<number, number[]>();
  const refuse = (e: number, why: string): never => {
    throw new ConvertError(
      `the edge from ${said(terrain.x1[e]!)}, ${said(terrain.y1[e]! * sign)} to ${said(terrain.x2[e]!)}, ${said(terrain.y2[e]! * sign)} ${why}`,
    );
  };
  for (let e = 0; e < terrain.boundsFrom; e++) {
    if (terrain.form[e] === 1 || terrain.form[e] === 2) refuse(e, 'is a line: rows hold only tiles');
    const ends = [terrain.x1[e]!, terrain.y1[e]!, terrain.x2[e]!, terrain.y2[e]!] as const;
    const [ax, ay, bx, by] = [
      (ends[0] - extent.x) / tile,
      (top - ends[1]) / tile,
      (ends[2] - extent.x) / tile,
      (top - ends[3]) / tile,
    ];
    const steps = [0, 1];
    const cross = (from: number, to: number): void => {
      for (let k = Math.ceil(Math.min(from, to)); k <= Math.max(from, to); k++)
        if (from !== to) steps.push((k - from) / (to - from));
    };
    cross(ax, bx);
    cross(ay, by);
    const cuts = [...new Set(steps.filter((t) => t >= 0 && t <= 1))].sort((p, q) => p - q);
    for (let i = 0; i + 1 < cuts.length; i++) {
      const [s, t] = [cuts[i]!, cuts[i + 1]!];
      if (t - s < 1e-9) continue;
      const at = (share: number): Point => [ax + (bx - ax) * share, ay + (by - ay) * share];
      const [p, q, m] = [at(s), at(t), at((s + t) / 2)];
      const level = ay === by && Number.isInteger(ay);
      const upright = ax === bx && Number.isInteger(ax);
      // An edge on a grid line belongs to the cell behind it.
      const column = Math.floor(m[0] - (upright ? terrain.nx[e]! / 2 : 0));
      const row = Math.floor(m[1] + (level ? terrain.ny[e]! / 2 : 0));
      if (column < 0 || row < 0 || column >= columns || row >= lines) refuse(e, 'lies outside the level');
      const cell = row * columns + column;
      const place = ([x, y]: Point): Point => [snap(x - column), snap(row + 1 - y)];
      within.set(cell, [...(within.get(cell) ?? []), { e, a: place(p), b: place(q) }]);
      if (terrain.form[e] === 0 && !upright) solidBelow.set(column, [...(solidBelow.get(column) ?? []), e]);
    }
  }
  const marks: Record<string, Mark> = {};
  const characters = new Map<string, string>();
  const free = [...'abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789'];
  const characterOf = (mark: Mark): string => {
    const key = JSON.stringify(mark);
    const known =
      characters.get(key) ?? Object.keys(BUILT_IN_MARKS).find((one) => JSON.stringify(BUILT_IN_MARKS[one]) === key);
    if (known) return known;
    const character = free.shift();
    if (!character) throw new ConvertError('the level has more kinds of tiles than there are characters');
    characters.set(key, character);
    marks[character] = mark;
    return character;
  };
  /** Whether the middle of a cell without an edge inside is in a solid. */
  const isSolid = (column: number, row: number): boolean => {
    // Not in the middle, where halves of tiles end.
    const x = extent.x + (column + 0.4142) * tile;
    const y = top - (row + 0.5) * tile;
    let best = Infinity;
    let solid = false;
    for (const e of solidBelow.get(column) ?? []) {
      const [x1, y1, x2, y2] = [terrain.x1[e]!, terrain.y1[e]!, terrain.x2[e]!, terrain.y2[e]!];
      if (!(x > Math.min(x1, x2) && x < Math.max(x1, x2))) continue;
      const at = y1 + ((x - x1) / (x2 - x1)) * (y2 - y1);
      if (at > y && at < best) [best, solid] = [at, terrain.ny[e]! > 0];
    }
    return solid;
  };
  const rows: string[] = [];
  for (let row = 0; row < lines; row++) {
    let text = '';
    for (let column = 0; column < columns; column++) {
      const pieces = within.get(row * columns + column) ?? [];
      const mark = tileOf(pieces, terrain, compiled) ?? (isSolid(column, row) ? { solid: 'full' as const } : undefined);
      text += mark ? characterOf(mark) : '.';
    }
    rows.push(text);
  }
  const spawns = Object.fromEntries([...compiled.spawns].map(([name, { x, y, facing }]) => [name, facing === 1 ? [x, y] : { at: [x, y], facing }])); // prettier-ignore
  const bounds = Object.fromEntries(Object.entries(compiled.bounds).filter(([, bound]) => bound !== 'open'));
  const zones = (drawn.level.zones ?? []).flatMap((zone) => zonesFor(zone));
  const has = (group: object): boolean => Object.keys(group).length > 0;
  const level = {
    ...(compiled.title ? { title: compiled.title } : {}),
    ...(tile !== 1 ? { tile } : {}),
    ...(yPoints === 'up' ? { yPoints } : {}),
    ...(extent.x !== 0 || extent.y !== 0 ? { origin: [extent.x, extent.y] } : {}),
    ...(has(marks) ? { marks } : {}),
    rows,
    ...(has(drawn.level.surfaces ?? {}) ? { surfaces: drawn.level.surfaces } : {}),
    ...(zones.length > 0 ? { zones } : {}),
    ...(has(spawns) ? { spawns } : {}),
    ...(drawn.level.movers?.length ? { movers: drawn.level.movers.map(moverRow) } : {}),
    ...(has(bounds) ? { bounds } : {}),
  };
  const again = compileLevel({ ...level, movers: [], zones: [], spawns: {} } as unknown as Level);
  const [mine, theirs] = [new Set(edgeKeys(again)), edgeKeys(compiled)];
  const lost = theirs.find((key) => !mine.has(key));
  if (lost !== undefined || mine.size !== theirs.length) {
    const [x, y] = (lost ?? [...mine].find((key) => !theirs.includes(key))!).split(' ').map(Number) as [number, number];
    throw new ConvertError(
      `what begins at ${said(x)}, ${said(y * sign)} is nothing that tiles of ${tile} can be; try another --tile`,
    );
  }
  return level;
}

/** A mover as rows have it. */
function moverRow({ name, shapes, route, policy }: Mover): object {
  const list = shapes.map(({ form, points, carry }) => {
    if (form !== 'solid' && form !== 'one-way')
      throw new ConvertError(`the mover ${name} has a ${form}: movers in rows hold areas and one-way ground`);
    return { [form]: points, ...((Array.isArray(carry) ? carry[0] : carry) as object | undefined) };
  });
  if (!route) return { name, shapes: list, ...(policy ? { policy } : {}) };
  const { curve, lap, phase, laps, keyPoints, keyTimes, keySplines } = route;
  const [first] = curve;
  const way = curve.map((n) => `${n.length === 4 ? 'L' : 'C'} ${n.slice(2).join(' ')}`);
  return {
    name,
    shapes: list,
    route: `M ${first![0]} ${first![1]} ${way.join(' ')}`,
    lap,
    ...(phase === undefined ? {} : { phase }),
    ...(laps === undefined ? {} : { laps }),
    ...(keyPoints ? { 'key-points': keyPoints } : {}),
    ...(keyTimes ? { 'key-times': keyTimes } : {}),
    ...(keySplines ? { 'key-splines': keySplines } : {}),
    ...(policy ? { policy } : {}),
  };
}

/** Shares of a tile as they were meant. */
function snap(value: number): number {
  const whole = Math.round(value * 4096) / 4096;
  return Math.abs(whole - value) < 1e-6 ? whole + 0 : value;
}

/** What tile has these edges; undefined where they say nothing of what is in it. */
function tileOf(
  pieces: readonly { e: number; a: Point; b: Point }[],
  terrain: CompiledLevel['terrain'],
  level: CompiledLevel,
): Mark | undefined {
  if (pieces.length === 0) return undefined;
  const style = terrain.styles[terrain.style[pieces[0]!.e]!]!;
  const carry: Carry = {
    ...(style.surface > 0 ? { surface: level.surfaces[style.surface]!.name } : {}),
    ...(style.layer > 0 ? { layer: level.layers[style.layer]! } : {}),
    ...(style.shape >= 0 ? { name: level.shapes[style.shape]! } : {}),
    ...(style.noWall ? { 'no-wall': true } : {}),
    ...(style.noLedge ? { 'no-ledge': true } : {}),
  };
  const oneWay = pieces.find(({ e }) => terrain.form[e] === 3);
  if (oneWay) {
    const [l, r] = [oneWay.a[1], oneWay.b[1]];
    return { 'one-way': l === 1 && r === 1 ? 'full' : [l, r], ...carry };
  }
  const inside = pieces.filter(({ a, b }) => !(a[0] === b[0] && (a[0] === 0 || a[0] === 1)) && !(a[1] === b[1] && (a[1] === 0 || a[1] === 1))); // prettier-ignore
  if (inside.length === 0) return { solid: 'full', ...carry };
  const key = (list: readonly { a: Point; b: Point }[]): string =>
    list.map(({ a, b }) => [...a, ...b].join(' ')).sort().join(';'); // prettier-ignore
  const wanted = key(inside);
  for (const part of TILE_PARTS) {
    const { points } = outlineOf({ solid: part }, 'marks');
    const edges = points.map((a, i) => ({ a, b: points[(i + 1) % points.length]! }));
    const inner = edges.filter(({ a, b }) => !(a[0] === b[0] && (a[0] === 0 || a[0] === 1)) && !(a[1] === b[1] && (a[1] === 0 || a[1] === 1))); // prettier-ignore
    if (part !== 'full' && key(inner) === wanted) return { solid: part, ...carry };
  }
  const { a, b } = inside[0]!;
  return a[0] < b[0] ? { solid: [a[1], b[1]], ...carry } : { solid: { hanging: [1 - b[1], 1 - a[1]] }, ...carry };
}

/** A zone of convex pieces, as zones with corners. */
function zonesFor({ pieces, ...zone }: Zone): object[] {
  return pieces ? pieces.map((points) => ({ ...zone, points })) : [zone];
}
