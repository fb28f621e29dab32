import type { CompiledLevel, Motion } from '../../core/index.js';
import { edgesOf } from './footing.js';

/** Cells are so large, in widths and heights of the least body: less than what any wall keeps it away by. */
const CELL = 0.45;
/** So many cells at most; in larger levels they are larger, and allow more. */
const MOST = 6_000_000;
/** What is closer than so many body widths touches. */
const NEAR = 2 ** -16;
/** What a coordinate of single precision may be off by, as a share of it. */
const ROUNDED = 2 ** -23;
/** Coordinates this close are one, units. */
const ALIKE = 1e-4;

/** For each cell that a flight comes to: the earliest moment, s after support has ended, and how high it may still rise; both again where a later one may rise higher. */
export type Flood = Map<number, number[]>;

/** A flight from a stretch of feet positions, at best. */
export interface Flown {
  left: number;
  right: number;
  low: number;
  high: number;
  /** How high feet may be at a moment or later. */
  above(time: number): number;
  /** Across, units/s; and how far aside it may be moved besides, units. */
  speed: number;
  shift: number;
  /** How far it rises from where it begins, and once more after it has fallen, units. */
  most: number;
  again: number;
  /** How far it falls before its first jump, units; less than 0 where there is no jump then. */
  dips: number;
}

/**
 * Free room for the least body, in cells: two that share a border on which it can be are one. Movers, and ground that lets through from below, are in nobody's way: it can only
 * allow too much.
 */
export class Room {
  private readonly across: Lines;
  private readonly rows: Lines;
  private readonly columns: number;
  private readonly parent: Int32Array;
  /** How low feet can go from each cell to the one on its right, y up; Infinity where they cannot. */
  private readonly sills: Float32Array;
  /** 1 where they can go from each cell to the one above, and from there down to it. */
  private readonly up: Uint8Array;
  private readonly down: Uint8Array;

  /**
   * @param height of the body at its lowest
   * @param drops whether somebody may drop through one-way ground
   */
  constructor(
    level: CompiledLevel,
    motion: Motion,
    height: number,
    private readonly drops: boolean,
  ) {
    const extent = extentOf(level);
    const half = motion.half - motion.full.body.bevel;
    const around = 2 * motion.width;
    const left = extent.left - around;
    const bottom = extent.bottom - around - motion.height;
    const [width, tall] = [extent.right - left + around, extent.top - bottom + around + motion.height];
    let [wide, high] = [CELL * motion.width, CELL * height];
    const larger = Math.sqrt(((width / wide) * (tall / high)) / MOST);
    if (larger > 1) [wide, high] = [wide * larger, high * larger];
    this.across = new Lines(evenly(left, wide, Math.ceil(width / wide) + 1));
    // Ground that nobody drops through lies on borders between rows.
    this.rows = new Lines([...evenly(bottom, high, Math.ceil(tall / high) + 1), ...(drops ? [] : planksOf(level).map(([, y]) => y))]);
    this.columns = this.across.count;
    const cells = this.columns * this.rows.count;
    this.parent = new Int32Array(cells);
    for (let i = 0; i < cells; i++) this.parent[i] = i;
    this.sills = new Float32Array(cells).fill(Infinity);
    this.up = new Uint8Array(cells);
    this.down = new Uint8Array(cells);
    this.join(level, half, height, NEAR * motion.width);
  } // prettier-ignore

  private join(level: CompiledLevel, half: number, height: number, near: number): void {
    const { across, rows, columns } = this;
    const { terrain } = level;
    // Along each line between two columns, then between two rows: where an edge keeps the body away from.
    const besides: number[][] = Array.from({ length: columns + 1 }, () => []);
    const over: number[][] = Array.from({ length: rows.count + 1 }, () => []);
    for (const e of edgesOf(level, 0)) {
      if (terrain.oneWay[e] === 1) continue;
      const [x1, y1, x2, y2] = [terrain.x1[e]!, terrain.y1[e]!, terrain.x2[e]!, terrain.y2[e]!];
      for (let c = across.cell(Math.min(x1, x2) - half); c <= across.cell(Math.max(x1, x2) + half) + 1; c++) {
        const x = across.border(c);
        const part = between(x1, y1, x2, y2, x - half + near, x + half - near);
        if (part) besides[c]!.push(part[0] - height + near, part[1] - near);
      }
      for (let r = rows.cell(Math.min(y1, y2) - height); r <= rows.cell(Math.max(y1, y2)) + 1; r++) {
        const y = rows.border(r);
        const part = between(y1, x1, y2, x2, y + near, y + height - near);
        if (part) over[r]!.push(part[0] - half + near, part[1] + half - near);
      }
    }
    const planks: number[][] = Array.from({ length: rows.count + 1 }, () => []);
    if (!this.drops) for (const [x1, y, x2] of planksOf(level)) planks[rows.cell(y)]!.push(x1 - half + near, x2 + half - near);
    for (let c = 1; c < columns; c++) this.joinColumns(c, lowestFree(besides[c]!, rows));
    for (let r = 1; r < rows.count; r++) {
      const lowest = lowestFree(over[r]!, across);
      this.joinRows(r, lowest, planks[r]!.length > 0 ? lowestFree([...over[r]!, ...planks[r]!], across) : lowest);
    }
    for (const [one, other, lines] of [['left', 'right', rows.count], ['bottom', 'top', columns]] as const)
      if (level.bounds[one] === 'wrap' || level.bounds[other] === 'wrap') for (let i = 0; i < lines; i++) this.unite(0, one === 'left' ? i * columns : i);
  } // prettier-ignore

  /** Joins the cells of a column with those before them. */
  private joinColumns(c: number, lowest: Float64Array): void {
    const { columns, sills } = this;
    for (let r = 0, cell = c - 1; r < lowest.length; r++, cell += columns) {
      const low = lowest[r]!;
      if (low === Infinity) continue;
      this.unite(cell, cell + 1);
      // Rounded down, since it may only allow too much.
      sills[cell] = low - Math.abs(low) * ROUNDED;
    }
  }

  /** Joins the cells of a row with those below them. */
  private joinRows(r: number, lowest: Float64Array, fallen: Float64Array): void {
    const { columns, up, down } = this;
    for (let c = 0, cell = (r - 1) * columns; c < columns; c++, cell++) {
      if (lowest[c] === Infinity) continue;
      this.unite(cell, cell + columns);
      up[cell] = 1;
      down[cell] = fallen[c] === Infinity ? 0 : 1;
    }
  }

  /**
   * Where a flight can come to from a stretch of feet positions, in room that is free.
   * @param least lower than this nobody wants to know
   * @param latest after this moment nobody does
   */
  flood({ left, right, low, high, above, speed, shift, most, again, dips }: Flown, least: number, latest: number): Flood {
    const { columns, across, rows } = this;
    const come: Flood = new Map();
    const waiting = new Waiting();
    const add = (cell: number, time: number, ceiling: number): void => {
      if (time > latest) return;
      const known = come.get(cell);
      if (known === undefined) come.set(cell, [time, ceiling]);
      else {
        for (let i = 0; i < known.length; i += 2) if (known[i]! <= time && known[i + 1]! >= ceiling) return;
        const kept: number[] = [];
        for (let i = 0; i < known.length; i += 2) if (known[i]! < time || known[i + 1]! > ceiling) kept.push(known[i]!, known[i + 1]!);
        kept.push(time, ceiling);
        come.set(cell, kept);
      }
      waiting.add(cell, time, ceiling);
    };
    // What stands on a border between rows is above it.
    const lowest = rows.cell(low + ALIKE);
    const bottom = rows.cell(low - ALIKE);
    const isOn = this.drops || lowest === bottom ? undefined : bottom;
    for (let r = isOn === undefined ? bottom : lowest; r <= rows.cell(high + ALIKE); r++) {
      const top = Math.min(high, rows.border(r + 1)) + most;
      for (let c = across.cell(left - ALIKE); c <= across.cell(right + ALIKE); c++) {
        add(r * columns + c, 0, top);
        // Beside what it stands on it may be lower at once.
        if (isOn !== undefined && r === lowest && this.down[isOn * columns + c] === 1) add(isOn * columns + c, 0, top);
      }
    }
    const floor = rows.cell(least - ALIKE);
    while (waiting.length > 0) {
      const [cell, time, ceiling] = waiting.take();
      const labels = come.get(cell)!;
      let isLatest = false;
      for (let i = 0; i < labels.length && !isLatest; i += 2) isLatest = labels[i] === time && labels[i + 1] === ceiling;
      if (!isLatest) continue;
      const [c, r] = [cell % columns, Math.floor(cell / columns)];
      if (c + 1 < columns && this.sills[cell]! <= ceiling) {
        const then = Math.max(time, (across.border(c + 1) - right - shift) / speed);
        if (this.sills[cell]! <= above(then)) add(cell + 1, then, ceiling);
      }
      if (c > 0 && this.sills[cell - 1]! <= ceiling) {
        const then = Math.max(time, (left - across.border(c) - shift) / speed);
        if (this.sills[cell - 1]! <= above(then)) add(cell - 1, then, ceiling);
      }
      const borderTop = rows.border(r + 1);
      if (r + 1 < rows.count && this.up[cell] === 1 && borderTop <= ceiling && borderTop <= above(time)) add(cell + columns, time, ceiling);
      const border = rows.border(r);
      // What falls rises only by the jumps that are left; just below where it began, the first may still come.
      if (r > floor && this.down[cell - columns] === 1) add(cell - columns, time, Math.min(ceiling, border + (border < high && border >= low - dips ? dips + most : again)));
    }
    return come;
  } // prettier-ignore

  /** Whether feet may be in a box in a flood, by a moment; so high that they could come to its lower side. */
  comesTo(come: Flood, left: number, bottom: number, right: number, top: number, latest: number): boolean {
    const { columns, across, rows } = this;
    for (let c = across.cell(left - ALIKE); c <= across.cell(right + ALIKE); c++)
      for (let r = rows.cell(bottom - ALIKE); r <= rows.cell(top + ALIKE); r++) {
        const labels = come.get(r * columns + c) ?? [];
        for (let i = 0; i < labels.length; i += 2) if (labels[i]! <= latest && labels[i + 1]! >= bottom) return true;
      }
    return false;
  }

  /** The highest that feet may be on an upright line in a flood. @param at how high they may be at a moment or later */
  highest(come: Flood, left: number, right: number, bottom: number, top: number, at: (time: number) => number): number {
    const { columns, across, rows } = this;
    let most = -Infinity;
    for (let r = rows.cell(top + ALIKE); r >= rows.cell(bottom - ALIKE); r--) {
      const end = Math.min(top, rows.border(r + 1));
      if (end <= most) break;
      for (let c = across.cell(left - ALIKE); c <= across.cell(right + ALIKE); c++) {
        const labels = come.get(r * columns + c) ?? [];
        for (let i = 0; i < labels.length; i += 2) most = Math.max(most, Math.min(end, at(labels[i]!), labels[i + 1]!));
      }
    }
    return most;
  }

  private find(cell: number): number {
    const { parent } = this;
    let root = cell;
    while (parent[root] !== root) root = parent[root]!;
    while (cell !== root) {
      const next = parent[cell]!;
      parent[cell] = root;
      cell = next;
    }
    return root;
  }

  private unite(one: number, other: number): void {
    const first = this.find(one);
    const second = this.find(other);
    if (first !== second) this.parent[first] = second;
  }

  /** The parts of the room that feet may be in near a point, y up: cells that touch it. */
  at(x: number, y: number): Set<number> {
    const { columns, across, rows } = this;
    const found = new Set<number>();
    for (let c = across.cell(x - ALIKE); c <= across.cell(x + ALIKE); c++) for (let r = rows.cell(y - ALIKE); r <= rows.cell(y + ALIKE); r++) found.add(this.find(r * columns + c));
    return found;
  } // prettier-ignore
}

/** What a level covers, y up: what it says, and whatever is solid beyond that. */
export function extentOf(level: CompiledLevel): { left: number; bottom: number; right: number; top: number } {
  const { extent, yPoints, terrain } = level;
  const low = yPoints === 'up' ? extent.y : -extent.y - extent.height;
  const found = { left: extent.x, bottom: low, right: extent.x + extent.width, top: low + extent.height };
  for (let e = 0; e < terrain.boundsFrom; e++)
    for (const [x, y] of [[terrain.x1[e]!, terrain.y1[e]!], [terrain.x2[e]!, terrain.y2[e]!]] as const) {
      found.left = Math.min(found.left, x);
      found.right = Math.max(found.right, x);
      found.bottom = Math.min(found.bottom, y);
      found.top = Math.max(found.top, y);
    }
  return found;
} // prettier-ignore

/** Borders of cells along one axis. */
class Lines {
  private readonly borders: Float64Array;

  constructor(borders: readonly number[]) {
    this.borders = Float64Array.from(new Set(borders)).sort();
  }

  /** How many cells there are. */
  get count(): number {
    return this.borders.length - 1;
  }

  /** Where each begins. */
  starts(): Float64Array {
    return this.borders.slice(0, -1);
  }

  /** Where a cell begins. */
  border(cell: number): number {
    return this.borders[cell]!;
  }

  /** The cell that a coordinate is in; of what lies beyond all of them the outermost. */
  cell(at: number): number {
    const { borders } = this;
    let [low, high] = [0, borders.length - 1];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (borders[middle]! <= at) low = middle;
      else high = middle;
    }
    return low;
  }
}

function evenly(from: number, step: number, count: number): number[] {
  return Array.from({ length: count + 1 }, (_, i) => from + i * step);
}

/** Level one-way ground: from where, how high, and to where. */
function planksOf(level: CompiledLevel): [number, number, number][] {
  const { terrain } = level;
  const found: [number, number, number][] = [];
  for (const e of edgesOf(level, 0)) if (terrain.oneWay[e] === 1 && terrain.y1[e] === terrain.y2[e]) found.push([Math.min(terrain.x1[e]!, terrain.x2[e]!), terrain.y1[e]!, Math.max(terrain.x1[e]!, terrain.x2[e]!)]);
  return found;
} // prettier-ignore

/** The least and the most of the second coordinate of a segment where its first is between two values; nothing where it is not. */
function between(a1: number, b1: number, a2: number, b2: number, low: number, high: number): [number, number] | undefined {
  if (Math.max(a1, a2) <= low || Math.min(a1, a2) >= high) return undefined;
  if (a1 === a2) return [Math.min(b1, b2), Math.max(b1, b2)];
  const at = (a: number): number => b1 + ((b2 - b1) * (Math.min(Math.max(a, Math.min(a1, a2)), Math.max(a1, a2)) - a1)) / (a2 - a1);
  const [one, other] = [at(low), at(high)];
  return [Math.min(one, other), Math.max(one, other)];
} // prettier-ignore

/** For each cell along a line how low what is within none of the intervals (two numbers each) lies in it; Infinity where all is within. */
function lowestFree(intervals: readonly number[], lines: Lines): Float64Array {
  const lowest = lines.starts();
  if (intervals.length === 0) return lowest;
  const order = Array.from({ length: intervals.length / 2 }, (_, i) => i).sort((one, other) => intervals[2 * one]! - intervals[2 * other]!);
  let [low, high] = [intervals[2 * order[0]!]!, intervals[2 * order[0]! + 1]!];
  const hide = (): void => {
    for (let i = lines.cell(low); i < lines.count && lines.border(i) < high; i++) if (lowest[i]! >= low) lowest[i] = lines.border(i + 1) <= high ? Infinity : high;
  };
  for (const i of order.slice(1)) {
    if (intervals[2 * i]! > high) {
      hide();
      [low, high] = [intervals[2 * i]!, intervals[2 * i + 1]!];
    } else high = Math.max(high, intervals[2 * i + 1]!);
  }
  hide();
  return lowest;
} // prettier-ignore

/** Cells of one flood that are waiting, those that are come to first at the front. */
class Waiting {
  private readonly cells: number[] = [];
  private readonly times: number[] = [];
  private readonly ceilings: number[] = [];

  get length(): number {
    return this.cells.length;
  }

  add(cell: number, time: number, ceiling: number): void {
    const { cells, times, ceilings } = this;
    let i = cells.length;
    cells.push(cell);
    times.push(time);
    ceilings.push(ceiling);
    while (i > 0) {
      const above = (i - 1) >> 1;
      if (times[above]! <= time) break;
      this.move(above, i);
      i = above;
    }
    cells[i] = cell;
    times[i] = time;
    ceilings[i] = ceiling;
  }

  private move(from: number, to: number): void {
    this.cells[to] = this.cells[from]!;
    this.times[to] = this.times[from]!;
    this.ceilings[to] = this.ceilings[from]!;
  }

  take(): [number, number, number] {
    const { cells, times, ceilings } = this;
    const first: [number, number, number] = [cells[0]!, times[0]!, ceilings[0]!];
    const [cell, time, ceiling] = [cells.pop()!, times.pop()!, ceilings.pop()!];
    const { length } = cells;
    for (let i = 0; length > 0;) {
      let below = 2 * i + 1;
      if (below + 1 < length && times[below + 1]! < times[below]!) below++;
      if (below >= length || times[below]! >= time) {
        cells[i] = cell;
        times[i] = time;
        ceilings[i] = ceiling;
        break;
      }
      this.move(below, i);
      i = below;
    }
    return first;
  }
}
