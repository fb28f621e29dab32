import { CLOSED, type EdgeList, ONE_WAY, type Style } from './edges.js';
import type { Mark } from './level.js';
import type { Registry } from './registry.js';
import { onGrid } from './terrain.js';

/** What a cell can hold, besides nothing. */
export interface Tile {
  oneWay: boolean;
  /** The whole cell. */
  full: boolean;
  /** Corners, in tiles from the cell's lower left corner, y up, clockwise; of a one-way tile its left and right end. */
  points: readonly (readonly [number, number])[];
  style: number;
  mark: Mark;
}

/** Cells by number (0 is empty), and where their grid lines lie, y up: row `height` is the line below the last row. */
export interface Grid {
  cells: Uint16Array;
  width: number;
  height: number;
  /** Tile k is cell number k + 1. */
  tiles: readonly Tile[];
  /** The corner of the level, the side of a cell, and whether the level's y axis points up. */
  origin: readonly [number, number];
  tile: number;
  up: boolean;
  /** Of a part of a larger grid: its first column and row there, and how many rows and columns that has. */
  column: number;
  row: number;
  rows: number;
  columns: number;
  /** Whether what is beyond its left is its right, and beyond its top its bottom. */
  wrapX: boolean;
  wrapY: boolean;
}

/** What a cell holds; 0 for one beyond the grid. */
export function codeAt(
  { width, height, wrapX, wrapY }: Pick<Grid, 'width' | 'height' | 'wrapX' | 'wrapY'>,
  cells: Uint16Array | Int32Array,
  row: number,
  column: number,
): number {
  const r = wrapY ? (row + height) % height : row;
  const c = wrapX ? (column + width) % width : column;
  return r < 0 || r >= height || c < 0 || c >= width ? 0 : cells[r * width + c]!;
}

/** Where the left side of a column is, in internal coordinates. */
export function columnAt({ origin, tile, column }: Grid, i: number): number {
  return onGrid(origin[0] + (column + i) * tile);
}

/** Where the upper side of a row is. */
export function rowAt({ origin, tile, row, rows, up }: Grid, i: number): number {
  return onGrid(up ? origin[1] + (rows - row - i) * tile : -(origin[1] + (row + i) * tile));
}

/**
 * Adds the edges of all cells, before straight runs are made one.
 * @param alone the cells that are shapes of their own, see `takeApart`
 * @returns whether there is anything besides runs of whole tiles
 */
export function addCells(grid: Grid, registry: Registry, alone: readonly number[], list: EdgeList): boolean {
  // A shape that can be switched off keeps its own faces, and so does what it touches.
  const groups = new Set(grid.tiles.map(({ style }) => registry.styles[style]!.shape));
  let partly = groups.size > 1;
  for (const group of groups) {
    const codes = codesOf(grid, registry.styles, group);
    addFaces(grid, codes, list);
    partly = addParts(grid, codes, list) || partly;
    addTops(grid, codes, list);
  }
  return addApart(grid, registry, list, alone) || partly;
}

/** Takes out of the cells those that are shapes or zones of their own. @returns where they are, and which tile each is, in turn */
export function takeApart(cells: Uint16Array, tiles: readonly Tile[]): number[] {
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
function addApart(grid: Grid, registry: Registry, list: EdgeList, alone: readonly number[]): boolean {
  const { width, tiles } = grid;
  let any = false;
  for (let k = 0; k < alone.length; k += 2) {
    const { mark, points, oneWay } = tiles[alone[k + 1]!]!;
    if (mark.zone !== undefined) continue;
    any = true;
    const column = alone[k]! % width;
    const row = Math.floor(alone[k]! / width);
    const style = registry.style(
      { ...mark, name: nameOf(mark, within(grid.column + column, grid.columns), within(grid.row + row, grid.rows)) },
      'marks',
    );
    const [x0, x1, low, high] = [
      columnAt(grid, column),
      columnAt(grid, column + 1),
      rowAt(grid, row + 1),
      rowAt(grid, row),
    ];
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

function within(i: number, size: number): number {
  return (i + size) % size;
}

/** What a cell that is a shape or a zone of its own is called. */
export function nameOf({ name }: Mark, column: number, row: number): string {
  return `${name} ${column},${row}`;
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
function addFaces(grid: Grid, cells: Uint16Array, list: EdgeList): void {
  const { width, height, tiles } = grid;
  // What each cell is to its neighbours: the number of a whole solid, 0 for nothing, −1 for a part of a cell.
  const whole = new Int32Array(cells.length);
  for (let i = 0; i < cells.length; i++) {
    const tile = cells[i] === 0 ? undefined : tiles[cells[i]! - 1]!;
    whole[i] = !tile || tile.oneWay ? 0 : tile.full ? cells[i]! : -1;
  }
  const holds = (row: number, column: number): number => codeAt(grid, whole, row, column);
  const face = (a: number, b: number): number =>
    a === -1 || b === -1 || (a > 0 && b > 0) ? 0 : a > 0 ? a : b > 0 ? -b : 0;
  const styleOf = (code: number): number => tiles[Math.abs(code) - 1]!.style;
  // Lines of the far sides are those of the near ones where these are the same.
  const [lines, columns] = linesOf(grid);
  for (let row = 0; row < lines; row++) {
    const y = rowAt(grid, row);
    runs(
      width,
      (i) => face(holds(row, i), holds(row - 1, i)),
      (code, from, to) => {
        // One with its solid below is a floor, from left to right.
        const [a, b] = code > 0 ? [from, to] : [to, from];
        list.add(columnAt(grid, a), y, columnAt(grid, b), y, styleOf(code));
      },
    );
  }
  for (let column = 0; column < columns; column++) {
    const x = columnAt(grid, column);
    runs(
      height,
      (i) => face(holds(i, column), holds(i, column - 1)),
      (code, from, to) => {
        // One with its solid to the right faces left and runs upwards.
        const [a, b] = code > 0 ? [to, from] : [from, to];
        list.add(x, rowAt(grid, a), x, rowAt(grid, b), styleOf(code));
      },
    );
  }
}

/** How many level lines and how many upright ones there are between cells. */
function linesOf({ width, height, wrapX, wrapY }: Grid): [number, number] {
  return [wrapY ? height : height + 1, wrapX ? width : width + 1];
}

/** Faces of and towards cells that are only partly solid. @returns whether there are any */
function addParts(grid: Grid, cells: Uint16Array, list: EdgeList): boolean {
  const { tiles } = grid;
  const tileAt = (row: number, column: number): Tile | undefined => {
    const code = codeAt(grid, cells, row, column);
    const tile = code === 0 ? undefined : tiles[code - 1]!;
    return tile?.oneWay ? undefined : tile;
  };
  let any = false;
  const partly = (tile: Tile | undefined): boolean => tile !== undefined && !tile.full;
  const [lines, columns] = linesOf(grid);
  for (let row = 0; row < lines; row++)
    for (let column = 0; column < columns; column++) {
      const here = tileAt(row, column);
      const left = tileAt(row, column - 1);
      const above = tileAt(row - 1, column);
      const [x0, x1] = [columnAt(grid, column), columnAt(grid, column + 1)];
      const [low, high] = [rowAt(grid, row + 1), rowAt(grid, row)];
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
function addTops(grid: Grid, cells: Uint16Array, list: EdgeList): void {
  const { width, height, tiles } = grid;
  const tileAt = (row: number, column: number): Tile | undefined => {
    const code = codeAt(grid, cells, row, column);
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
        const y = rowAt(grid, row);
        if (tile.full) list.add(columnAt(grid, from), y, columnAt(grid, to), y, tile.style, ONE_WAY);
        else {
          const low = rowAt(grid, row + 1);
          const [[, l], [, r]] = tile.points as [[number, number], [number, number]];
          for (let i = from; i < to; i++)
            list.add(
              columnAt(grid, i),
              onGrid(low + (y - low) * l),
              columnAt(grid, i + 1),
              onGrid(low + (y - low) * r),
              tile.style,
              ONE_WAY,
            );
        }
      },
    );
}

/** The box of a run of cells in the level's own axes: x, y, width, height. */
export function boxOfRun(grid: Grid, column: number, row: number, count: number): [number, number, number, number] {
  const { origin, tile, up } = grid;
  return [
    origin[0] + (grid.column + column) * tile,
    up ? origin[1] + (grid.rows - grid.row - row - 1) * tile : origin[1] + (grid.row + row) * tile,
    count * tile,
    tile,
  ];
}
