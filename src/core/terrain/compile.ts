import { FARTHEST } from '../tuning/keys.js';
import { showValue } from '../tuning/words.js';
import { BASE_KEYS, checkBase, checkGroup, checkKeys, checkMark, checkNumbers, checkText } from './checks.js';
import { EdgeList } from './edges.js';
import { type Grid, type Tile, addCells, boxOfRun, nameOf, takeApart } from './faces.js';
import { type Carry, LevelError, type Mark, type WrittenLevel, type Zone } from './level.js';
import { Registry } from './registry.js';
import { BUILT_IN_MARKS, outlineOf } from './tiles.js';
import { type CompiledLevel, compileWorld } from './world.js';

/**
 * Compiles a level into edges: tiles that touch become one solid, and a run of faces becomes one edge.
 * @throws LevelError where a mark, a spawn, a zone, a surface or a size is wrong
 * @example
 * ```ts
 * const compiled = compileLevel({ rows: ['@...', '####'] });
 * openStage(compiled);
 * ```
 */
export function compileLevel(level: WrittenLevel): CompiledLevel {
  checkGroup(level, '', 'a group of keys with rows');
  checkKeys(level, '', ['tile', 'origin', 'marks', 'rows', ...BASE_KEYS]);
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
  const list = new EdgeList();
  const all = cells.slice();
  const grid = {
    cells,
    width,
    height,
    tiles: kinds,
    origin: [ox, oy] as const,
    tile,
    up,
    column: 0,
    row: 0,
    rows: height,
    columns: width,
    wrapX: level.bounds?.left === 'wrap',
    wrapY: level.bounds?.top === 'wrap',
  };
  const alone = takeApart(cells, kinds);
  const partly = addCells(grid, registry, alone, list);
  const feet = marked ? (up ? oy + (height - marked.row - 1) * tile : oy + (marked.row + 1) * tile) : 0;
  const zoneOf = new Map<number, number>();
  const zones = [...(level.zones ?? []), ...zonesOf(grid, alone, zoneOf)];
  for (const [kind, i] of zoneOf) zoneOf.set(kind, i + (level.zones?.length ?? 0));
  return compileWorld({ ...level, zones }, list, registry, extent, {
    // Runs of whole tiles are whole already.
    merge: partly || grid.tiles.length > 3,
    rows: {
      grid: { ...grid, cells: all },
      registry,
      numbers: new Map([...tiles.keys()].map((character, i) => [character, i + 1])),
      zoneOf,
    },
    ...(marked ? { start: [ox + (marked.column + 0.5) * tile, feet] as const } : {}),
  });
}

/**
 * Rows as a list: one text is cut into its lines.
 * @throws LevelError where they are neither
 * @example
 * ```ts
 * rowsOf('@..\n###') // ['@..', '###']
 * ```
 */
export function rowsOf(rows: WrittenLevel['rows']): readonly string[] {
  if (typeof rows === 'string') return rows.replace(/\n$/, '').split(/\r?\n/);
  if (!Array.isArray(rows))
    throw new LevelError('rows', `rows is ${showValue(rows)}; it must be a list of texts or one block of lines`);
  (rows as readonly unknown[]).forEach((row, i) => checkText(row, `rows.${i}`));
  return rows;
}

const NATURES = ['solid', 'one-way', 'zone'] as const;

/** The marks that are in use, by character. */
function readMarks(level: WrittenLevel, registry: Registry): Map<string, Tile> {
  const tiles = new Map<string, Tile>();
  const add = (character: string, mark: Mark): void => {
    const where = `marks.${character}`;
    checkGroup(mark, where, 'a group of keys');
    checkMark(mark, where);
    if ([...character].length !== 1) throw new LevelError(where, `the mark ${character} must be one character`);
    if ('.@ '.includes(character)) throw new LevelError(where, `the mark ${character} has its own meaning`);
    if (NATURES.filter((nature) => mark[nature] !== undefined).length !== 1)
      throw new LevelError(where, `the mark ${character} must be either solid or one-way, or a zone`);
    if (mark.each === true && mark.name === undefined)
      throw new LevelError(
        `${where}.each`,
        `the mark ${character} needs a name: each of its cells gets it, with the cell after it`,
      );
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

/**
 * The zones that marks make: one for each cell, or one for all cells of a mark, in runs.
 * @param kinds of the latter the number in the cells, and which of the zones it is
 */
function zonesOf(grid: Grid, alone: readonly number[], kinds: Map<number, number>): Zone[] {
  const { width, tiles } = grid;
  const zones: Zone[] = [];
  const runs = new Map<number, [number, number, number][]>();
  for (let k = 0; k < alone.length; k += 2) {
    const kind = alone[k + 1]!;
    const { mark } = tiles[kind]!;
    if (mark.zone === undefined) continue;
    const column = alone[k]! % width;
    const row = Math.floor(alone[k]! / width);
    if (mark.each === true) {
      zones.push({ ...mark.zone, name: nameOf(mark, column, row), box: boxOfRun(grid, column, row, 1) });
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
      const [x, y, w, h] = boxOfRun(grid, column, row, count);
      return [[x, y], [x + w, y], [x + w, y + h], [x, y + h]] as const; // prettier-ignore
    });
    kinds.set(kind + 1, zones.length);
    zones.push({ ...mark.zone, ...(mark.name === undefined ? {} : { name: mark.name }), pieces });
  }
  return zones;
}
