import { countEntangled } from '../contact/crush.js';
import { MX, MY } from '../movers/moving.js';
import { listOf } from '../nearest.js';
import type { Body } from '../state/body.js';
import { HIT, MET, METS, NOW } from '../state/clock.js';
import { BUMPED, COUNTED_WALL, DROPPED, DROPS, EDGE, FRAME, GRIP, HEIGHT, HOLDS_UP, MEETS, MOVER_SLOTS, X, Y } from '../state/layout.js'; // prettier-ignore
import { ALL_TOUCHES } from '../state/touches.js';
import { PX, PY, T, xAt, yAt } from '../sweep/path.js';
import { boxOfCell, edgesOfCell } from '../terrain/cells.js';
import { EdgeList } from '../terrain/edges.js';
import { boxOfRun, nameOf } from '../terrain/faces.js';
import { Found, findEdges } from '../terrain/find.js';
import { type Cut, Recut } from '../terrain/recut.js';
import type { CellRows, CompiledLevel } from '../terrain/world.js';
import { type ZonePiece, pieceOfBox } from '../terrain/zones.js';
import { showValue } from '../tuning/words.js';
import { changeGround } from './host.js';

/** A level that one stage has for itself. */
export type OwnLevel = { -readonly [K in keyof CompiledLevel]: CompiledLevel[K] };

/** A level of a stage's own: the same, as long as nothing of it is changed. */
export function ownLevel(level: CompiledLevel): OwnLevel {
  return { ...level, terrain: { ...level.terrain } };
}

/** How many numbers a snapshot has of each cell that is changed: which one, and what it holds. */
const CHANGE = 2;

/** Which of a cell's edges a copy of it has: those on its right or lower line too, not those, or those only. */
type Share = 'all' | 'none' | 'only';

interface Copy {
  readonly dx: number;
  readonly dy: number;
  readonly line: Share;
  readonly level: Share;
}

/** What the ground of a stage needs of it. */
export interface Grounded {
  /** Those who are there. */
  readonly bodies: readonly Body[];
  /** 1 for each named shape that the level was opened with and that is switched off; for each zone. */
  readonly off: Uint8Array;
  readonly zonesOff: Uint8Array;
  /** Ends a body's piece at the present moment. */
  bring(body: Body): void;
  /** What is drawn of the ground, and what is kept to ask about it, is that of before. */
  forget(): void;
}

/**
 * The ground of a stage whose cells have been changed: which they are and what they hold. The edges around them are cut anew, as those of a level would be that is
 * compiled with these cells; who is near them is told.
 */
export class ChangedGround {
  private readonly recut: Recut;
  private readonly rows: CellRows;
  /** What changed cells hold, by their number; and these in order. */
  private readonly held = new Map<number, number>();
  private order: number[] = [];
  /** The changes of the present tick, to be undone where it fails: cell and what that held before, in turn. */
  private readonly journal: number[] = [];
  private readonly found = new Found();

  constructor(
    private readonly level: OwnLevel,
    private readonly stage: Grounded,
  ) {
    const registry = level.rows!.registry.clone();
    this.rows = { ...level.rows!, registry };
    level.shapes = registry.shapes;
    level.layers = registry.layers;
    const { terrain } = level as {
      terrain: { -readonly [K in keyof CompiledLevel['terrain']]: CompiledLevel['terrain'][K] };
    };
    terrain.styles = registry.styles;
    level.zones = level.zones.map((zone) => ({ ...zone, pieces: zone.pieces.slice() }));
    this.recut = new Recut(terrain, registry.shapes);
  }

  /** How many numbers a snapshot has of it. */
  get size(): number {
    return 1 + CHANGE * this.order.length;
  }

  /**
   * The number of the cell at a place in the level's own axes.
   * @throws RangeError where that is beyond the rows
   */
  static cellAt({ rows }: CompiledLevel, x: number, y: number): number {
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
  static markNumber({ rows }: CompiledLevel, mark: string): number {
    if (mark === '.' || mark === ' ') return 0;
    const number = rows!.numbers.get(mark);
    if (number === undefined)
      throw new RangeError(
        `the mark ${showValue(mark)} means nothing; there are ${listOf([...rows!.numbers.keys()], String(mark))}, and . for nothing`,
      );
    return number;
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

  /** Lets a cell hold something else, from this moment on. */
  set(cell: number, code: number): void {
    const was = this.codeOf(cell);
    if (was === code) return;
    this.journal.push(cell, was);
    const near = this.nearTo(this.cutsOf(cell));
    for (const body of near) this.stage.bring(body);
    const drops = this.stage.bodies.filter(({ s }) => s[DROPPED] !== 0);
    this.put(cell, code);
    const { changed } = this.recut;
    this.stage.forget();
    const cuts = this.cutsOf(cell);
    for (const body of this.stage.bodies) {
      for (const each of body.nears) each.forget();
      const isTouched = cuts.some((cut) => reaches(body, cut)) || holdsAny(body, (edge) => changed.has(edge));
      if (!isTouched) continue;
      if (!near.includes(body)) this.stage.bring(body);
      if (drops.includes(body)) this.dropAnew(body);
      freeMovers(body, changed);
      changeGround(body, changed);
    }
    for (const body of this.stage.bodies) this.forgetGone(body);
  }

  /** A body has to do no more with edges that are gone. */
  private forgetGone(body: Body): void {
    const { gone } = this.level.terrain;
    for (const [slot, more] of slotsOf(body, body.s, 0)) {
      const edge = body.s[slot]! - more;
      if (edge >= 0 && gone![edge] === 1) body.s[slot] = more - 1;
    }
    for (let i = 0; i < DROPS; i++) body.dropped[i] = body.s[DROPPED + i]! - 1;
  }

  /** The state is to be that of another moment: what cells hold is what numbers say; bodies are seen to by others. */
  goTo(numbers: Float64Array, at: number): void {
    const count = numbers[at]!;
    if (this.isAt(numbers, at)) return;
    const wanted = new Map<number, number>();
    for (let i = 0; i < count; i++) wanted.set(numbers[at + 1 + CHANGE * i]!, numbers[at + 2 + CHANGE * i]!);
    for (const cell of this.order.slice()) if (!wanted.has(cell)) this.put(cell, this.rows.grid.cells[cell]!);
    for (const [cell, code] of wanted) this.put(cell, code);
    this.stage.forget();
  }

  /** Whether cells hold what numbers say. */
  private isAt(numbers: Float64Array, at: number): boolean {
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

  /** A tick begins. */
  begin(): void {
    this.journal.length = 0;
  }

  /** The tick has not happened. */
  undo(): void {
    for (let i = this.journal.length - 2; i >= 0; i -= 2) this.put(this.journal[i]!, this.journal[i + 1]!);
    this.begin();
    this.stage.forget();
  }

  /** Lets a body's numbers for edges be those that do not depend on what came before, or back. */
  rename(body: Body, numbers: Float64Array, at: number, toPrints: boolean): void {
    const { recut } = this;
    const { base } = recut;
    for (const [slot, more] of slotsOf(body, numbers, at)) {
      const value = numbers[at + slot]! - more;
      if (value < base) continue;
      numbers[at + slot] = (toPrints ? recut.printOf(value) : recut.edgeOf(value)) + more;
    }
  }

  /** Lets a cell hold something, and nobody is told. */
  private put(cell: number, code: number): void {
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

  /** A shape of one cell that comes, or goes, is not switched off. */
  private putShape(cell: number, code: number): void {
    const { grid } = this.rows;
    if (code === 0 || grid.tiles[code - 1]!.mark.each !== true) return;
    const { mark } = grid.tiles[code - 1]!;
    const shape = this.level.shapes.indexOf(nameOf(mark, cell % grid.width, Math.floor(cell / grid.width)));
    if (shape >= 0 && shape < this.stage.off.length) this.stage.off[shape] = 0;
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

  private cutsOf(cell: number): Cut[] {
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

  private putZone(cell: number, code: number, isThere: boolean): void {
    const zone = this.zoneAt(cell, code);
    if (zone < 0) return;
    const { grid } = this.rows;
    const { mark } = grid.tiles[code - 1]!;
    if (mark.each === true) {
      this.stage.zonesOff[zone] = isThere ? 0 : 1;
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

  /** Those whose motion may have to do with what is in a box: they may come near it, or touch something that reaches it. */
  private nearTo(cuts: readonly Cut[]): Body[] {
    const { x1, y1, x2, y2, set } = this.level.terrain;
    const reachesCut = (e: number): boolean =>
      set[e] === 0 &&
      cuts.some(
        ([left, bottom, right, top]) =>
          Math.max(x1[e]!, x2[e]!) >= left &&
          Math.min(x1[e]!, x2[e]!) <= right &&
          Math.max(y1[e]!, y2[e]!) >= bottom &&
          Math.min(y1[e]!, y2[e]!) <= top,
      );
    return this.stage.bodies.filter((body) => cuts.some((cut) => mayReach(body, cut)) || holdsAny(body, reachesCut));
  }

  /** Through which one-way ground a body drops: whatever it overlaps. */
  private dropAnew(body: Body): void {
    const { s, frame } = body;
    const { terrain } = this.level;
    const { found } = this;
    const [x, y] = [s[X]! + frame[MX]!, s[Y]! + frame[MY]!];
    const box = Float64Array.of(x - body.hull.half, y, x + body.hull.half, y + s[HEIGHT]!);
    findEdges(terrain, 0, box, found);
    const pieces = new Set<number>();
    for (let i = 0; i < DROPS; i++) {
      const piece = s[DROPPED + i]! - 1;
      // Those of movers stay.
      if (piece >= 0 && terrain.set[piece]! > 0) pieces.add(piece);
    }
    for (let i = 0; i < found.count; i++)
      if (terrain.oneWay[found.ids[i]!] === 1) pieces.add(terrain.piece[found.ids[i]!]!);
    const list = [...pieces].slice(0, DROPS);
    for (let i = 0; i < DROPS; i++) {
      s[DROPPED + i] = 1 + (list[i] ?? -1);
      body.dropped[i] = list[i] ?? -1;
    }
  }
}

/** Where a number is in a list in order, or belongs. */
function placeIn(list: readonly number[], value: number): number {
  let low = 0;
  let high = list.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (list[middle]! < value) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Where in a body's numbers edges are, and how much more than its number stands there. */
function slotsOf(
  { pathAt, path, moversAt, level, installed }: Body,
  numbers: Float64Array,
  at: number,
): [number, number][] {
  const clockAt = pathAt + path.length;
  const slots: [number, number][] = [EDGE, GRIP, COUNTED_WALL, ...ALL_TOUCHES, clockAt + HIT].map((slot) => [slot, 0]);
  for (let i = 0; i < METS; i++) slots.push([clockAt + MET + i, 0]);
  slots.push([BUMPED, 1]);
  for (let i = 0; i < DROPS; i++) slots.push([DROPPED + i, 1]);
  for (const { base, ability } of installed) for (const i of ability.edges) slots.push([base + i, 1]);
  for (let i = 0; i < level.movers.length; i++) {
    const slot = moversAt + MOVER_SLOTS * i;
    if (numbers[at + slot] === HOLDS_UP) slots.push([slot + 1, 0], [slot + 2, 0]);
  }
  return slots;
}

/** Whether some edge that a body has to do with is one of these. */
function holdsAny(body: Body, isOne: (edge: number) => boolean): boolean {
  return slotsOf(body, body.s, 0).some(([slot, more]) => body.s[slot]! >= more && isOne(body.s[slot]! - more));
}

/** Whether a body touches a box. */
function reaches(body: Body, [left, bottom, right, top]: Cut): boolean {
  const { s, frame, hull, motion } = body;
  const [x, y] = [s[X]! + frame[MX]!, s[Y]! + frame[MY]!];
  const slack = 2 * motion.touch;
  return (
    x + hull.half >= left - slack &&
    x - hull.half <= right + slack &&
    y + s[HEIGHT]! >= bottom - slack &&
    y <= top + slack
  );
}

/** Whether a body may come to a box within its present piece, or look at what is in it; on what moves, always. */
function mayReach(body: Body, [left, bottom, right, top]: Cut): boolean {
  const { s, path, hull } = body;
  if (s[FRAME] !== 0) return true;
  const until = path[T]! < 1e6 ? path[T]! : 0;
  const around = 4 * (2 * hull.half + s[HEIGHT]!) + 2;
  let [low, high, from, to] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i <= 4; i++) {
    const t = (until * i) / 4;
    const [x, y] = [xAt(path, t), yAt(path, t)];
    low = Math.min(low, y, path[PY]!, s[Y]!);
    high = Math.max(high, y, path[PY]!, s[Y]!);
    from = Math.min(from, x, path[PX]!, s[X]!);
    to = Math.max(to, x, path[PX]!, s[X]!);
  }
  return to + around >= left && from - around <= right && high + around >= bottom && low - around <= top;
}

/** A mover that waits because of an edge that is no longer what it was waits no more. */
function freeMovers(body: Body, changed: ReadonlySet<number>): void {
  const { s, moversAt, level, clock } = body;
  for (let i = 0; i < level.movers.length; i++) {
    const at = moversAt + MOVER_SLOTS * i;
    if (s[at] !== HOLDS_UP || !(changed.has(s[at + 1]!) || changed.has(s[at + 2]!))) continue;
    s[at] = MEETS;
    s[at + 1] = clock[NOW]!;
    s[at + 2] = 0;
    countEntangled(body);
  }
}
