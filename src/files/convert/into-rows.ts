import { isScalar, isSeq, parseDocument, type Scalar } from 'yaml';
import { BUILT_IN_MARKS, type Level, type Mark } from '../../core/index.js';
import { readLevel } from '../level.js';
import { spliced, type Splice } from '../splice.js';
import { drawingOf } from './drawing.js';
import { ConvertError, rowsLevelOf } from './rows.js';

/**
 * The text of a level in rows with what its drawing has become: characters of its rows change, and nothing else in the file.
 * @param text the level in rows, in YAML
 * @param drawing what `drawingOf` made of it, changed since
 * @throws ConvertError where tiles cannot hold it, where something else than tiles was changed, or where its rows are written in a way that has no place for single characters; FileError
 * @example
 * ```ts
 * intoRows('rows: ["@..", "###"]', drawingOf({ rows: ['@..', '###'] }))
 * ```
 */
export function intoRows(text: string, drawing: string, file = 'level.yaml'): string {
  const { level } = readLevel(text, { file });
  if (!('rows' in level)) throw new ConvertError('the level is not in rows');
  const drawn = readLevel(drawing, { file: 'level.svg' });
  const before = readLevel(drawingOf(level), { file: 'level.svg' });
  for (const part of ['movers', 'zones', 'spawns', 'extent', 'bounds', 'surfaces'] as const)
    if (JSON.stringify((drawn.level as never)[part]) !== JSON.stringify((before.level as never)[part]))
      throw new ConvertError(`${part} were changed, which do not stand in the rows`);
  const { rows, marks = {} } = rowsLevelOf(drawn, level.tile ?? 1);
  const meanings = { ...BUILT_IN_MARKS, ...level.marks };
  const made = { ...BUILT_IN_MARKS, ...marks };
  const wanted = level.rows.map((row, r) => rowWith(row, rows[r]!, made, meanings));
  const edited = spliced(text, splicesOf(text, level.rows, wanted));
  const again = readLevel(edited, { file }).level as Level;
  if (JSON.stringify(again.rows) !== JSON.stringify(wanted)) throw new ConvertError(NO_PLACE); // prettier-ignore
  return edited;
}

const NO_PLACE = 'the rows are written in a way that has no place for single characters';

/** A row with other tiles; where a character means what is wanted, or nothing solid where nothing is, it stays. */
function rowWith(row: string, tiles: string, made: Readonly<Record<string, Mark>>, meanings: Readonly<Record<string, Mark>>): string {
  return [...tiles].map((tile, column) => {
    const was = row[column] ?? '';
    const now = made[tile];
    const mark = meanings[was];
    if (sameTile(mark, now)) return was === '' ? '.' : was;
    if (!now) return '.';
    const known = Object.keys(meanings).find((character) => sameTile(meanings[character], now));
    if (known === undefined) throw new ConvertError('no mark of the level means such a tile');
    return known;
  }).join('').slice(0, Math.max(row.length, tiles.replace(/\.+$/, '').length));
} // prettier-ignore

/** Whether two marks stand for the same tile: a zone, a spawn and nothing are none. */
function sameTile(one: Mark | undefined, other: Mark | undefined): boolean {
  const isTile = (mark: Mark | undefined): boolean => mark?.solid !== undefined || mark?.['one-way'] !== undefined;
  if (!isTile(one) || !isTile(other)) return isTile(one) === isTile(other);
  const [a, b] = [Object.entries(one!), Object.entries(other!)];
  return a.length === b.length && a.every(([key, value]) => JSON.stringify(value) === JSON.stringify(other![key as keyof Mark])); // prettier-ignore
}

/** Where the rows stand in the text, each in a line of a block or an entry of a list. */
function splicesOf(text: string, rows: readonly string[], wanted: readonly string[]): Splice[] {
  const node = parseDocument(text, { prettyErrors: false }).getIn(['rows'], true);
  const scalars = isSeq(node) ? node.items.filter((item) => isScalar(item)) : isScalar(node) ? rows.map(() => node) : [];
  let from = 0;
  return rows.flatMap((row, i): Splice[] => {
    const range = (scalars[i] as Scalar | undefined)?.range;
    if (!range) throw new ConvertError(NO_PLACE);
    const at = text.indexOf(row, Math.max(from, range[0]));
    if (at < 0 || at >= range[1]) throw new ConvertError(NO_PLACE); // prettier-ignore
    from = at + row.length;
    return row === wanted[i] ? [] : [{ from: at, to: from, by: wanted[i]! }];
  });
} // prettier-ignore
