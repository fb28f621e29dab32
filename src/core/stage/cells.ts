import { listOf } from '../nearest.js';
import { boxOfCell, edgesOfCell } from '../terrain/cells.js';
import { EdgeList } from '../terrain/edges.js';
import { boxOfRun, nameOf } from '../terrain/faces.js';
import type { Cut, Recut } from '../terrain/recut.js';
import type { CellRows, CompiledLevel } from '../terrain/world.js';
import { type ZonePiece, pieceOfBox } from '../terrain/zones.js';
import { showValue } from '../tuning/words.js';
import { placeIn } from './added.js';

/** Which of a cell's edges a copy of it has: those on its right or lower line too, not those, or those only. */
type Share = 'all' | 'none' | 'only';

interface Copy {
  readonly dx: number;
  readonly dy: number;
  readonly line: Share;
  readonly level: Share;
}

/**
 * The number of the cell at a place in the level's own axes.
 * @throws RangeError where that is beyond the rows
 */
export function cellAt({ rows }: CompiledLevel, x: number, y: number): number {
  if (rows === undefined) throw new RangeError('the level is drawn; only a level in rows has marks');
  const { width, height, origin, tile, up } = rows.grid;
  for (const [name, value, from, size] of [
    ['x', x, origin[0], width],
    ['y', y, origin[1], height],
  ] as const)
    if (typeof value !== 'number' || !(value >= from && value < from + size * tile))
      throw new RangeError(
        `${name} is ${showValue(value)}; the rows are from ${from} up to ${from + size * tile} (and not at that)`,
      );
  const column = Math.min(Math.floor((x - origin[0]) / tile), width - 1);
  const along = Math.min(Math.floor((y - origin[1]) / tile), height - 1);
  return (up ? height - 1 - along : along) * width + column;
}

/**
 * The number that a mark has in the cells.
 * @throws RangeError where the level has no such mark
 */
export function markNumber({ rows }: CompiledLevel, mark: string): number {
  if (mark === '.' || mark === ' ') return 0;
  const number = rows!.numbers.get(mark);
  if (number === undefined)
    throw new RangeError(
      `the mark ${showValue(mark)} means nothing; there are ${listOf([...rows!.numbers.keys()], String(mark))}, and . for nothing`,
    );
  return number;
}

/** How many numbers a snapshot has of each cell that is changed: which one, and what it holds. */
const CHANGE = 2;

/** Which cells of a stage have been changed, and what they hold. */
export class ChangedCells {
  /** What changed cells hold, by their number; and these in order. */
  private readonly held = new Map<number, number>();
  private readonly order: number[] = [];

  /**
   * @param level the stage's own
   * @param off, zonesOff 1 for each named shape and each zone that is switched off
   */
  constructor(
    private readonly level: CompiledLevel,
    private readonly rows: CellRows,
    private readonly recut: Recut,
    private readonly off: Uint8Array,
    private readonly zonesOff: Uint8Array,
  ) {}

  /** How many numbers a snapshot has of them. */
  get size(): number {
    return 1 + CHANGE * this.order.length;
  }

  /** What a cell holds. */
  codeOf(cell: number): number {
    return this.held.get(cell) ?? this.rows.grid.cells[cell]!;
  }

  /** Whether the cell that a shape or a zone is named after still holds it; undefined where the name is not that of a cell. */
  holds(name: string): boolean | undefined {
    const cell = this.cellNamed(name);
    if (cell === undefined) return undefined;
    const { width, tiles } = this.rows.grid;
    const code = this.codeOf(cell[1] * width + cell[0]);
    return code > 0 && tiles[code - 1]!.mark.each === true && nameOf(tiles[code - 1]!.mark, ...cell) === name;
  }

  /**
   * Refuses what cannot be.
   * @throws RangeError where a mark makes zones that the level does not have
   */
  check(cell: number, code: number): void {
    if (code === 0) return;
    const { mark } = this.rows.grid.tiles[code - 1]!;
    if (mark.zone !== undefined && this.zoneAt(cell, code) < 0)
      throw new RangeError(
        `the mark of ${mark.each === true ? `a zone of its own (${mark.name}) was not in that cell` : 'that zone is nowhere in the rows'} when the level was opened; zones are switched with setZone`,
      );
  }

  /** Lets cells hold what numbers say. */
  goTo(numbers: Float64Array, at: number): void {
    const wanted = new Map<number, number>();
    for (let i = 0; i < numbers[at]!; i++) wanted.set(numbers[at + 1 + CHANGE * i]!, numbers[at + 2 + CHANGE * i]!);
    for (const cell of this.order.slice()) if (!wanted.has(cell)) this.put(cell, this.rows.grid.cells[cell]!);
    for (const [cell, code] of wanted) this.put(cell, code);
  }

  /** Whether they hold what numbers say. */
  isAt(numbers: Float64Array, at: number): boolean {
    if (numbers[at] !== this.order.length) return false;
    for (let i = 0; i < this.order.length; i++) {
      if (numbers[at + 1 + CHANGE * i] !== this.order[i]) return false;
      if (numbers[at + 2 + CHANGE * i] !== this.held.get(this.order[i]!)) return false;
    }
    return true;
  }

  save(into: Float64Array, at: number): void {
    into[at++] = this.order.length;
    for (let i = 0; i < this.order.length; i++) {
      into[at++] = this.order[i]!;
      into[at++] = this.held.get(this.order[i]!)!;
    }
  }

  /** Lets a cell hold something, and nobody is told. */
  put(cell: number, code: number): void {
    const { grid } = this.rows;
    const was = this.codeOf(cell);
    if (was === code) return;
    const [column, row] = [cell % grid.width, Math.floor(cell / grid.width)];
    const isBack = grid.cells[cell] === code;
    if (isBack) this.held.delete(cell);
    else this.held.set(cell, code);
    const place = placeIn(this.order, cell);
    if (isBack) this.order.splice(place, 1);
    else if (this.order[place] !== cell) this.order.splice(place, 0, cell);
    const before = (): EdgeList => this.edgesOf(column, row, (other) => (other === cell ? was : this.codeOf(other)));
    this.recut.replace(this.cutsOf(cell), before, this.edgesOf(column, row));
    for (const one of [was, code]) {
      this.putShape(cell, one);
      this.putZone(cell, one, one === code);
    }
  }

  cutsOf(cell: number): Cut[] {
    const { grid } = this.rows;
    const [column, row] = [cell % grid.width, Math.floor(cell / grid.width)];
    const [left, bottom, right, top] = boxOfCell(grid, column, row);
    return this.copiesOf(column, row).map(({ dx, dy, line, level }) => [
      (line === 'only' ? right : left) + dx,
      bottom + dy,
      right + dx,
      (level === 'only' ? bottom : top) + dy,
    ]);
  }

  /** Which zone a cell is, or is part of; −1 for none. */
  private zoneAt(cell: number, code: number): number {
    const { grid, zoneOf } = this.rows;
    if (code === 0) return -1;
    const { mark } = grid.tiles[code - 1]!;
    if (mark.zone === undefined) return -1;
    if (mark.each !== true) return zoneOf.get(code) ?? -1;
    const name = nameOf(mark, cell % grid.width, Math.floor(cell / grid.width));
    return this.level.zones.findIndex((zone) => zone.name === name);
  }

  /** A shape of one cell that comes, or goes, is not switched off. */
  private putShape(cell: number, code: number): void {
    const { grid } = this.rows;
    if (code === 0 || grid.tiles[code - 1]!.mark.each !== true) return;
    const { mark } = grid.tiles[code - 1]!;
    const shape = this.level.shapes.indexOf(nameOf(mark, cell % grid.width, Math.floor(cell / grid.width)));
    if (shape >= 0 && shape < this.off.length) this.off[shape] = 0;
  }

  private putZone(cell: number, code: number, isThere: boolean): void {
    const zone = this.zoneAt(cell, code);
    if (zone < 0) return;
    const { grid } = this.rows;
    const { mark } = grid.tiles[code - 1]!;
    if (mark.each === true) {
      this.zonesOff[zone] = isThere ? 0 : 1;
      return;
    }
    // The run that it is part of, or was: a piece for each.
    const row = Math.floor(cell / grid.width);
    const column = cell % grid.width;
    const same = (i: number): boolean => i >= 0 && i < grid.width && this.codeOf(row * grid.width + i) === code;
    let from = column;
    while (same(from - 1)) from--;
    let until = column + 1;
    while (same(until)) until++;
    const sign = grid.up ? 1 : -1;
    const runs = isThere ? [[from, until]] : [[from, column], [column + 1, until]]; // prettier-ignore
    const pieces = this.level.zones[zone]!.pieces as ZonePiece[];
    const old = pieceOfBox(boxOfRun(grid, from, row, until - from), sign);
    const kept = pieces.filter(
      ({ left, right, bottom, top }) =>
        !(left >= old.left && right <= old.right && bottom === old.bottom && top === old.top),
    );
    for (const [a, b] of runs as [number, number][])
      if (b > a) kept.push(pieceOfBox(boxOfRun(grid, a, row, b - a), sign));
    // In the order of the rows.
    kept.sort((a, b) => b.top - a.top || a.left - b.left);
    pieces.splice(0, pieces.length, ...kept);
  }

  /** The edges in a cell, and in its copies where the level comes out at its other side. */
  private edgesOf(column: number, row: number, codeOf = (cell: number): number => this.codeOf(cell)): EdgeList {
    const one = edgesOfCell(this.rows, codeOf, column, row);
    const copies = this.copiesOf(column, row);
    if (copies.length === 1) return one;
    const [, bottom, right] = boxOfCell(this.rows.grid, column, row);
    const all = new EdgeList();
    for (const { dx, dy, line, level } of copies)
      for (let i = 0; i < one.count; i++) {
        const [ax, ay, bx, by] = one.ends.slice(4 * i, 4 * i + 4) as [number, number, number, number];
        const [onLine, onLevel] = [ax === bx && ax === right, ay === by && ay === bottom];
        if ((line === 'only' && !onLine) || (level === 'only' && !onLevel)) continue;
        // A shape of one cell has its sides wherever that has a copy.
        const whose = this.cellOfStyle(one.style[i]!);
        if (whose === undefined ? (line === 'none' && onLine) || (level === 'none' && onLevel) : !this.hasCopy(whose, column, row, dx, dy)) continue; // prettier-ignore
        all.add(ax + dx, ay + dy, bx + dx, by + dy, one.style[i], one.form[i]);
      }
    return all;
  }

  /**
   * By how much the copies of a cell lie elsewhere. The line at its right, and the one below it, may belong to the copy next to it: then the outermost copy has none, and before the first
   * there is one of the line alone.
   */
  private copiesOf(column: number, row: number): Copy[] {
    const { sides } = this.level;
    const { wrapX, wrapY, width, height } = this.rows.grid;
    const ways = (wraps: boolean, size: number, isLast: boolean): [number, Share][] => {
      if (!wraps) return [[0, 'all']];
      const own: [number, Share][] = [
        [-size, 'all'],
        [0, 'all'],
        [size, isLast ? 'none' : 'all'],
      ];
      return isLast ? [[-2 * size, 'only'], ...own] : own;
    };
    const across = ways(wrapX, sides.right - sides.left, column === width - 1);
    // Rows go down, y goes up.
    const up = ways(wrapY, -(sides.top - sides.bottom), row === height - 1);
    return across.flatMap(([dx, line]) => up.map(([dy, level]): Copy => ({ dx, dy, line, level })));
  }

  /** The cell that a style is of alone: column and row. */
  private cellOfStyle(style: number): readonly [number, number] | undefined {
    const { shape } = this.rows.registry.styles[style]!;
    return shape < 0 ? undefined : this.cellNamed(this.rows.registry.shapes[shape]!);
  }

  /** The cell that a name is of alone, in whatever state that is. */
  private cellNamed(name: string): readonly [number, number] | undefined {
    const found = / (\d+),(\d+)$/.exec(name);
    const { width, height, tiles } = this.rows.grid;
    const [column, row] = [Number(found?.[1]), Number(found?.[2])];
    if (!(column < width && row < height)) return undefined;
    return tiles.some(({ mark }) => mark.each === true && nameOf(mark, column, row) === name)
      ? [column, row]
      : undefined;
  }

  /** Whether a cell next to another one is there where the other has a copy. */
  private hasCopy([c, r]: readonly [number, number], column: number, row: number, dx: number, dy: number): boolean {
    const { sides } = this.level;
    const { wrapX, wrapY } = this.rows.grid;
    const across = wrapX ? sides.right - sides.left : 0;
    const up = wrapY ? sides.top - sides.bottom : 0;
    const x = dx + (c - column > 1 ? -across : c - column < -1 ? across : 0);
    const y = dy + (r - row > 1 ? up : r - row < -1 ? -up : 0);
    return Math.abs(x) <= across && Math.abs(y) <= up;
  }
}
