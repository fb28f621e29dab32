import { levelFromGrid, type CellMeaning, type Level, type Mark } from '../core/index.js';

/** What the numbers of a grid mean: a mark as in rows, or one of the characters that rows have without saying so. */
export type GridMarks = Readonly<Record<number, Mark | string>>;

/**
 * A level of what cells mean by their numbers. 0 and -1 are nothing unless they are among the marks.
 * @param refuse told of a cell that means nothing; row and column from 0
 */
export function levelOfCells(
  cells: readonly (readonly number[])[],
  marks: GridMarks,
  more: Omit<Level, 'rows' | 'marks'>,
  refuse: (row: number, column: number, message: string) => void,
): Level {
  const known = Object.keys(marks);
  const width = cells.reduce((most, row) => Math.max(most, row.length), 0);
  const meaning = (cell: number): CellMeaning => marks[cell];
  for (const [i, row] of cells.entries())
    for (const [k, cell] of row.entries())
      if (cell !== 0 && cell !== -1 && !(cell in marks)) {
        refuse(i, k, `the cell ${cell} means nothing; there are ${known.join(', ') || 'no marks'}, and 0 and -1 for nothing`); // prettier-ignore
        return levelFromGrid([[]], meaning, more);
      }
  return levelFromGrid(
    cells.map((row) => [...row, ...Array<number>(width - row.length).fill(0)]),
    meaning,
    more,
  );
}
