import { LevelError, type Level, type Mark } from './level.js';
import { showValue } from '../tuning/words.js';

/** Cells of a map: lists of rows from the top, or all in one list with the number of cells in a row. */
export type Cells = readonly (readonly number[])[] | { readonly width: number; readonly cells: ArrayLike<number> };

/** What a cell is: a character as rows have it (`#`, `=`, `/`, `\`, `@`), a mark, or nothing. */
export type CellMeaning = string | Mark | undefined;

/** The first of the characters that stand for marks: so many of the private use area that a text may hold any. */
const FIRST = 0xe000;
const MOST = 6400;

/**
 * A level of a map that a game has in memory, or that another program has written: numbers in a grid.
 * @param cells rows from the top
 * @param describe what a number is; asked once for each
 * @param more what else the level has
 * @returns the level; `markOf(number)` is the character that stands for a number in its rows, as `stage.setMark` takes it
 * @throws LevelError where a cell is no whole number, the cells are no grid, or there are more than 6400 kinds of cells
 * @example
 * ```ts
 * openStage(levelFromGrid([[0, 2], [1, 1]], (cell) => (cell === 1 ? '#' : cell === 2 ? '@' : '.')));
 * ```
 */
export function levelFromGrid(
  cells: Cells,
  describe: (cell: number) => CellMeaning,
  more: Omit<Level, 'rows'> = {},
): Level & { markOf(cell: number): string } {
  const marks: Record<string, Mark> = { ...more.marks };
  const characters = new Map<number, string>();
  const markOf = (cell: number): string => {
    const known = characters.get(cell);
    if (known !== undefined) return known;
    if (!Number.isSafeInteger(cell)) throw new LevelError('cells', `a cell is ${showValue(cell)}; it must be a whole number`); // prettier-ignore
    const meaning = describe(cell);
    let character = '.';
    if (typeof meaning === 'string') character = meaning;
    else if (meaning !== undefined) {
      const count = Object.keys(marks).length;
      if (count >= MOST) throw new LevelError('cells', `there are more than ${MOST} kinds of cells`);
      character = String.fromCharCode(FIRST + count);
      marks[character] = meaning;
    }
    characters.set(cell, character);
    return character;
  };
  const rows = rowsOfCells(cells).map((row) => Array.from(row, markOf).join(''));
  // Not one of the level's own keys: whoever lists these does not come across it.
  const level: Level = { ...more, marks, rows };
  return Object.defineProperty(level, 'markOf', { value: markOf }) as Level & { markOf(cell: number): string }; // prettier-ignore
}

function rowsOfCells(cells: Cells): readonly ArrayLike<number>[] {
  if (Array.isArray(cells)) {
    (cells as readonly unknown[]).forEach((row, i) => {
      if (!Array.isArray(row) && !ArrayBuffer.isView(row)) throw new LevelError('cells', `row ${i} of the cells is ${showValue(row)}; it must be a list of numbers`); // prettier-ignore
    });
    return cells as readonly (readonly number[])[];
  }
  const { width, cells: all } = cells as { width: number; cells: ArrayLike<number> };
  if (!(Number.isSafeInteger(width) && width > 0) || all.length % width !== 0)
    throw new LevelError('cells', `${all.length} cells are no rows of ${width}`);
  return Array.from({ length: all.length / width }, (_, i) => Array.prototype.slice.call(all, i * width, (i + 1) * width) as number[]); // prettier-ignore
}
