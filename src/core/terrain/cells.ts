import { CLOSED, EdgeList } from './edges.js';
import { type Grid, addCells, columnAt, rowAt, takeApart } from './faces.js';
import type { Cut } from './recut.js';
import type { CellRows } from './world.js';

/** The box of a cell, y up. */
export function boxOfCell(grid: Grid, column: number, row: number): Cut {
  return [columnAt(grid, column), rowAt(grid, row + 1), columnAt(grid, column + 1), rowAt(grid, row)];
}

/**
 * The edges within a cell and on its borders, before straight runs are made one.
 * @param codeOf what a cell holds, by its number
 */
export function edgesOfCell(
  { grid, registry }: CellRows,
  codeOf: (cell: number) => number,
  column: number,
  row: number,
): EdgeList {
  const { width, height, wrapX, wrapY } = grid;
  const at = (i: number, size: number, wraps: boolean): number => (wraps ? (i + size) % size : i < size ? i : -1);
  const cells = new Uint16Array(9);
  for (let i = 0; i < 9; i++) {
    const c = at(column - 1 + (i % 3), width, wrapX);
    const r = at(row - 1 + Math.floor(i / 3), height, wrapY);
    if (c >= 0 && r >= 0) cells[i] = codeOf(r * width + c);
  }
  const around: Grid = {
    ...grid,
    cells,
    width: 3,
    height: 3,
    wrapX: false,
    wrapY: false,
    column: grid.column + column - 1,
    row: grid.row + row - 1,
  };
  const all = new EdgeList();
  addCells(around, registry, takeApart(cells, grid.tiles), all);
  const within = new EdgeList();
  addWithin(all, boxOfCell(grid, column, row), within);
  return within;
}

/** Adds what of edges lies in a box or on its border: of straight ones that go on beyond it a part, of others those that are wholly in it. */
function addWithin(list: EdgeList, [left, bottom, right, top]: Cut, into: EdgeList): void {
  const clip = (value: number, low: number, high: number): number => (value < low ? low : value > high ? high : value);
  for (let i = 0; i < list.count; i++) {
    const [x1, y1, x2, y2] = list.ends.slice(4 * i, 4 * i + 4) as [number, number, number, number];
    const isStraight = x1 === x2 || y1 === y2;
    const [ax, bx] = isStraight ? [clip(x1, left, right), clip(x2, left, right)] : [x1, x2];
    const [ay, by] = isStraight ? [clip(y1, bottom, top), clip(y2, bottom, top)] : [y1, y2];
    // What only comes to it is another's.
    if (ax === bx && ay === by) continue;
    if (y1 === y2 ? ay !== y1 : x1 === x2 && ax !== x1) continue;
    if (Math.min(ax, bx) < left || Math.max(ax, bx) > right || Math.min(ay, by) < bottom || Math.max(ay, by) > top)
      continue;
    into.add(ax, ay, bx, by, list.style[i] ?? 0, list.form[i] ?? CLOSED);
  }
}
