import { FARTHEST } from '../tuning/keys.js';
import { showValue } from '../tuning/words.js';
import { checkBase, checkGroup, checkNumbers, checkText } from './checks.js';
import { CLOSED, EdgeList, ONE_WAY, type Style } from './edges.js';
import { type Carry, LevelError, type Mark, type WrittenLevel, type Zone } from './level.js';
import { Registry } from './registry.js';
import { onGrid } from './terrain.js';
import { BUILT_IN_MARKS, outlineOf } from './tiles.js';
import { type CompiledLevel, compileWorld } from './world.js';

/**
 * Compiles a level into edges: tiles that touch become one solid, and a run of faces becomes one edge.
 * @throws LevelError where a mark, a spawn, a zone, a surface or a size is wrong
 */
export function compileLevel(level: WrittenLevel): CompiledLevel {
  checkGroup(level, '', 'a group of keys with rows');
  checkBase(level);
  const tile = level.tile ?? 1;
  if (typeof tile !== 'number' || !(tile > 0 && tile <= FARTHEST))
    throw new LevelError('tile', `tile is ${String(tile)}; it must be above 0 and at most ${FARTHEST}`);
  if (level.origin !== undefined) checkNumbers(level.origin, 'origin', '[x, y]');
  const [ox, oy] = level.origin ?? [0, 0];
  const rows = rowsOf(level.rows);
  const height = rows.length;
  const width = rows.reduce((most, row) => Math.max(most, row.length), 0);
  const up = level.yPoints === 'up';
  const extent = { x: ox, y: oy, width: width * tile, height: height * tile };
  const registry = new Registry(level.surfaces);
  const tiles = readMarks(level, registry);
  const { cells, marked } = readRows(rows, width, tiles);
  const kinds = [...tiles.values()];
  // Places in internal coordinates: y up, row `height` is the line below the last row.
  const at = (column: number): number => onGrid(ox + column * tile);
  const levelAt = (row: number): number => onGrid(up ? oy + (height - row) * tile : -(oy + row * tile));
  const list = new EdgeList();
  const grid = { cells, width, height, at, level: levelAt, tiles: kinds, origin: [ox, oy] as const, tile, up };
  const alone = takeApart(cells, kinds);
  // A shape that can be switched off keeps its own faces, and so does what it touches.
  const groups = new Set(grid.tiles.map(({ style }) => registry.styles[style]!.shape));
  let partly = groups.size > 1;
  for (const group of groups) {
    const codes = codesOf(grid, registry.styles, group);
    addFaces(grid, codes, list);
    partly = addParts(grid, codes, list) || partly;
    addTops(grid, codes, list);
  }
  const apart = addApart(grid, registry, list, alone);
  const feet = marked ? (up ? oy + (height - marked.row - 1) * tile : oy + (marked.row + 1) * tile) : 0;
  const zones = [...(level.zones ?? []), ...zonesOf(grid, alone)];
  return compileWorld({ ...level, zones }, list, registry, extent, {
    // Runs of whole tiles are whole already.
    merge: partly || apart || grid.tiles.length > 3,
    ...(marked ? { start: [ox + (marked.column + 0.5) * tile, feet] as const } : {}),
  });
}

/**
 * Rows as a list: one text is cut into its lines.
 * @throws LevelError where they are neither
 */
export function rowsOf(rows: WrittenLevel['rows']): readonly string[] {
  if (typeof rows === 'string') return rows.replace(/\n$/, '').split(/\r?\n/);
  if (!Array.isArray(rows))
    throw new LevelError('rows', `rows is ${showValue(rows)}; it must be a list of texts or one block of lines`);
  (rows as readonly unknown[]).forEach((row, i) => checkText(row, `rows.${i}`));
  return rows;
}

/** What a cell can hold, besides nothing. */
interface Tile {
  oneWay: boolean;
  /** The whole cell. */
  full: boolean;
  /** Corners, in tiles from the cell's lower left corner, y up, clockwise; of a one-way tile its left and right end. */
  points: readonly (readonly [number, number])[];
  style: number;
  mark: Mark;
}

const NATURES = ['solid', 'one-way', 'zone'] as const;

/** Cells by number (0 is empty), and where their grid lines lie. */
interface Grid {
  cells: Uint16Array;
  width: number;
  height: number;
  at: (column: number) => number;
  level: (row: number) => number;
  /** Tile k is cell number k + 1. */
  tiles: readonly Tile[];
  /** The corner of the level, the side of a cell, and whether the level's y axis points up. */
  origin: readonly [number, number];
  tile: number;
  up: boolean;
}

/** The marks that are in use, by character. */
function readMarks(level: WrittenLevel, registry: Registry): Map<string, Tile> {
  const tiles = new Map<string, Tile>();
  const add = (character: string, mark: Mark): void => {
    const where = `marks.${character}`;
    checkGroup(mark, where, 'a group of keys');
    if ([...character].length !== 1) throw new LevelError(where, `the mark ${character} must be one character`);
    if ('.@ '.includes(character)) throw new LevelError(where, `the mark ${character} has its own meaning`);
    if (NATURES.filter((nature) => mark[nature] !== undefined).length !== 1)
      throw new LevelError(where, `the mark ${character} must be either solid or one-way, or a zone`);
    if (mark.each === true && mark.name === undefined)
      throw new LevelError(
        `${where}.each`,
        `the mark ${character} needs a name: each of its cells gets it, with the cell after it`,
      );
    if (mark.zone !== undefined) checkGroup(mark.zone, `${where}.zone`, 'a group of keys');
    const apart = mark.each === true || mark.zone !== undefined;
    // What each cell is called is not known yet.
    const carry = apart ? { ...mark, name: undefined } : mark;
    tiles.set(character, { ...outlineOf(mark, where), style: registry.style(carry as Carry, where), mark });
  };
  const own = level.marks === undefined ? {} : level.marks;
  checkGroup(own, 'marks', 'a group of named entries');
  for (const [character, mark] of Object.entries(BUILT_IN_MARKS)) if (!(character in own)) add(character, mark);
  for (const [character, mark] of Object.entries(own)) add(character, mark);
  return tiles;
}

function readRows(
  rows: readonly string[],
  width: number,
  tiles: ReadonlyMap<string, Tile>,
): { cells: Uint16Array; marked?: { row: number; column: number } } {
  const numbers = new Map([...tiles.keys()].map((character, i) => [character, i + 1]));
  const cells = new Uint16Array(width * rows.length);
  let marked: { row: number; column: number } | undefined;
  for (let row = 0; row < rows.length; row++) {
    const text = rows[row]!;
    for (let column = 0; column < text.length; column++) {
      const mark = text[column]!;
      if (mark === '.' || mark === ' ') continue;
      if (mark === '@') {
        marked ??= { row, column };
        continue;
      }
      const number = numbers.get(mark);
      if (number === undefined)
        throw new LevelError(
          `rows.${row}`,
          `the mark ${JSON.stringify(mark)} means nothing; the marks are ${[...numbers.keys()].join(' ')} . empty, @ spawn`,
          column,
        );
      cells[row * width + column] = number;
    }
  }
  return marked ? { cells, marked } : { cells };
}

/** Takes out of the cells those that are shapes or zones of their own. @returns where they are, and which tile each is, in turn */
function takeApart(cells: Uint16Array, tiles: readonly Tile[]): number[] {
  const alone: number[] = [];
  if (!tiles.some(({ mark }) => mark.each === true || mark.zone !== undefined)) return alone;
  for (let i = 0; i < cells.length; i++) {
    const code = cells[i]!;
    if (code === 0) continue;
    const { mark } = tiles[code - 1]!;
    if (mark.each !== true && mark.zone === undefined) continue;
    alone.push(i, code - 1);
    cells[i] = 0;
  }
  return alone;
}

/** Adds each of the cells that are shapes of their own. @returns whether there are any */
function addApart(
  { width, at, level, tiles }: Grid,
  registry: Registry,
  list: EdgeList,
  alone: readonly number[],
): boolean {
  let any = false;
  for (let k = 0; k < alone.length; k += 2) {
    const { mark, points, oneWay } = tiles[alone[k + 1]!]!;
    if (mark.zone !== undefined) continue;
    any = true;
    const column = alone[k]! % width;
    const row = Math.floor(alone[k]! / width);
    const style = registry.style({ ...mark, name: nameOf(mark, column, row) }, 'marks');
    const [x0, x1, low, high] = [at(column), at(column + 1), level(row + 1), level(row)];
    const x = (share: number): number => (share === 0 ? x0 : share === 1 ? x1 : onGrid(x0 + (x1 - x0) * share));
    const y = (share: number): number => (share === 0 ? low : share === 1 ? high : onGrid(low + (high - low) * share));
    const count = oneWay ? 1 : points.length;
    for (let i = 0; i < count; i++) {
      const [ax, ay] = points[i]!;
      const [bx, by] = points[(i + 1) % points.length]!;
      list.add(x(ax), y(ay), x(bx), y(by), style, oneWay ? ONE_WAY : CLOSED);
    }
  }
  return any;
}

/** What a cell that is a shape or a zone of its own is called. */
function nameOf({ name }: Mark, column: number, row: number): string {
  return `${name} ${column},${row}`;
}

/** The zones that marks make: one for each cell, or one for all cells of a mark, in runs. */
function zonesOf({ width, height, tiles, origin, tile, up }: Grid, alone: readonly number[]): Zone[] {
  const zones: Zone[] = [];
  const runs = new Map<number, [number, number, number][]>();
  const boxOf = (column: number, row: number, count: number): [number, number, number, number] => [
    origin[0] + column * tile,
    up ? origin[1] + (height - row - 1) * tile : origin[1] + row * tile,
    count * tile,
    tile,
  ];
  for (let k = 0; k < alone.length; k += 2) {
    const kind = alone[k + 1]!;
    const { mark } = tiles[kind]!;
    if (mark.zone === undefined) continue;
    const column = alone[k]! % width;
    const row = Math.floor(alone[k]! / width);
    if (mark.each === true) {
      zones.push({ ...mark.zone, name: nameOf(mark, column, row), box: boxOf(column, row, 1) });
      continue;
    }
    const list = runs.get(kind) ?? [];
    const last = list.at(-1);
    if (last !== undefined && last[1] === row && last[0] + last[2] === column) last[2]++;
    else list.push([column, row, 1]);
    runs.set(kind, list);
  }
  for (const [kind, list] of runs) {
    const { mark } = tiles[kind]!;
    const pieces = list.map(([column, row, count]) => {
      const [x, y, w, h] = boxOf(column, row, count);
      return [[x, y], [x + w, y], [x + w, y + h], [x, y + h]] as const; // prettier-ignore
    });
    zones.push({ ...mark.zone, ...(mark.name === undefined ? {} : { name: mark.name }), pieces });
  }
  return zones;
}

/** The cells of one named shape, or of all that have no name: others count as empty. */
function codesOf({ cells, tiles }: Grid, styles: readonly Style[], group: number): Uint16Array {
  if (tiles.every(({ style }) => styles[style]!.shape === group)) return cells;
  return cells.map((code) => (code > 0 && styles[tiles[code - 1]!.style]!.shape === group ? code : 0));
}

/** Walks along one grid line and adds an edge for each run of the same face. */
function runs(
  length: number,
  faceAt: (i: number) => number,
  add: (face: number, from: number, to: number) => void,
): void {
  let from = 0;
  let face = 0;
  for (let i = 0; i <= length; i++) {
    const now = i < length ? faceAt(i) : 0;
    if (now === face) continue;
    if (face !== 0) add(face, from, i);
    face = now;
    from = i;
  }
}

/**
 * The faces between whole solid cells and cells with nothing solid, runs of them merged, with open space on the left of each edge. A face
 * is the number of its cell: negative where the solid is above it, or to its left.
 */
function addFaces({ width, height, at, level, tiles }: Grid, cells: Uint16Array, list: EdgeList): void {
  // What each cell is to its neighbours: the number of a whole solid, 0 for nothing, −1 for a part of a cell.
  const whole = new Int32Array(cells.length);
  for (let i = 0; i < cells.length; i++) {
    const tile = cells[i] === 0 ? undefined : tiles[cells[i]! - 1]!;
    whole[i] = !tile || tile.oneWay ? 0 : tile.full ? cells[i]! : -1;
  }
  const holds = (row: number, column: number): number =>
    row < 0 || row >= height || column < 0 || column >= width ? 0 : whole[row * width + column]!;
  const face = (a: number, b: number): number =>
    a === -1 || b === -1 || (a > 0 && b > 0) ? 0 : a > 0 ? a : b > 0 ? -b : 0;
  const styleOf = (code: number): number => tiles[Math.abs(code) - 1]!.style;
  for (let row = 0; row <= height; row++) {
    const y = level(row);
    runs(
      width,
      (i) => face(holds(row, i), holds(row - 1, i)),
      (code, from, to) => {
        // One with its solid below is a floor, from left to right.
        const [a, b] = code > 0 ? [from, to] : [to, from];
        list.add(at(a), y, at(b), y, styleOf(code));
      },
    );
  }
  for (let column = 0; column <= width; column++) {
    const x = at(column);
    runs(
      height,
      (i) => face(holds(i, column), holds(i, column - 1)),
      (code, from, to) => {
        // One with its solid to the right faces left and runs upwards.
        const [a, b] = code > 0 ? [to, from] : [from, to];
        list.add(x, level(a), x, level(b), styleOf(code));
      },
    );
  }
}

/** Faces of and towards cells that are only partly solid. @returns whether there are any */
function addParts(grid: Grid, cells: Uint16Array, list: EdgeList): boolean {
  const { width, height, at, level, tiles } = grid;
  const tileAt = (row: number, column: number): Tile | undefined => {
    const code = row < 0 || row >= height || column < 0 || column >= width ? 0 : cells[row * width + column]!;
    const tile = code === 0 ? undefined : tiles[code - 1]!;
    return tile?.oneWay ? undefined : tile;
  };
  let any = false;
  const partly = (tile: Tile | undefined): boolean => tile !== undefined && !tile.full;
  for (let row = 0; row <= height; row++)
    for (let column = 0; column <= width; column++) {
      const here = tileAt(row, column);
      const left = tileAt(row, column - 1);
      const above = tileAt(row - 1, column);
      const [x0, x1] = [at(column), at(column + 1)];
      const [low, high] = [level(row + 1), level(row)];
      // Parts of a cell are shares between its grid lines, so that neighbours agree on every bit.
      const acrossAt = (share: number): number =>
        share === 0 ? x0 : share === 1 ? x1 : onGrid(x0 + (x1 - x0) * share);
      const upAt = (share: number): number =>
        share === 0 ? low : share === 1 ? high : onGrid(low + (high - low) * share);
      if (partly(here) || partly(left)) {
        any = true;
        // The line at the cell's left: what is solid to its right faces left, and runs upwards.
        for (const [a, b] of without(sideOf(here, 0, 0), sideOf(left, 0, 1)))
          list.add(x0, upAt(a), x0, upAt(b), here!.style);
        for (const [a, b] of without(sideOf(left, 0, 1), sideOf(here, 0, 0)))
          list.add(x0, upAt(b), x0, upAt(a), left!.style);
      }
      if (partly(here) || partly(above)) {
        any = true;
        for (const [a, b] of without(sideOf(here, 1, 1), sideOf(above, 1, 0)))
          list.add(acrossAt(a), high, acrossAt(b), high, here!.style);
        for (const [a, b] of without(sideOf(above, 1, 0), sideOf(here, 1, 1)))
          list.add(acrossAt(b), high, acrossAt(a), high, above!.style);
      }
      if (!partly(here)) continue;
      // What lies within the cell.
      const { points, style } = here!;
      points.forEach(([x, y], i) => {
        const [nx, ny] = points[(i + 1) % points.length]!;
        const onBorder = (x === nx && (x === 0 || x === 1)) || (y === ny && (y === 0 || y === 1));
        if (!onBorder) list.add(acrossAt(x), upAt(y), acrossAt(nx), upAt(ny), style);
      });
    }
  return any;
}

/** The solid stretch of a tile's side, along the other axis: `axis` 0 for x = line, 1 for y = line. */
function sideOf(tile: Tile | undefined, axis: 0 | 1, line: 0 | 1): readonly [number, number] | undefined {
  if (!tile) return undefined;
  const { points } = tile;
  for (let i = 0; i < points.length; i++) {
    const a = points[i]!;
    const b = points[(i + 1) % points.length]!;
    if (a[axis] !== line || b[axis] !== line) continue;
    const [from, to] = [a[1 - axis]!, b[1 - axis]!];
    return from < to ? [from, to] : [to, from];
  }
  return undefined;
}

/** What is left of one stretch where another covers it. */
function without(
  one: readonly [number, number] | undefined,
  other: readonly [number, number] | undefined,
): [number, number][] {
  if (!one) return [];
  const [from, to] = one;
  if (!other || other[1] <= from || other[0] >= to) return [[from, to]];
  const left: [number, number][] = [];
  if (other[0] > from) left.push([from, other[0]]);
  if (other[1] < to) left.push([other[1], to]);
  return left;
}

/** The upper sides of one-way cells. A level one with a whole solid on it has none: nothing can stand there. */
function addTops({ width, height, at, level, tiles }: Grid, cells: Uint16Array, list: EdgeList): void {
  const tileAt = (row: number, column: number): Tile | undefined => {
    const code = row < 0 ? 0 : cells[row * width + column]!;
    return code === 0 ? undefined : tiles[code - 1]!;
  };
  for (let row = 0; row < height; row++)
    runs(
      width,
      (i) => {
        const tile = tileAt(row, i);
        if (!tile?.oneWay) return 0;
        const over = tileAt(row - 1, i);
        return tile.full && over && !over.oneWay && over.full ? 0 : cells[row * width + i]!;
      },
      (code, from, to) => {
        const tile = tiles[code - 1]!;
        const y = level(row);
        if (tile.full) list.add(at(from), y, at(to), y, tile.style, ONE_WAY);
        else {
          const low = level(row + 1);
          const [[, l], [, r]] = tile.points as [[number, number], [number, number]];
          for (let i = from; i < to; i++)
            list.add(at(i), onGrid(low + (y - low) * l), at(i + 1), onGrid(low + (y - low) * r), tile.style, ONE_WAY);
        }
      },
    );
}
