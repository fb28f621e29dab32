import type { CompiledLevel, Motion } from '../../core/index.js';
import { edgesOf } from './footing.js';

/** Cells are so large, in widths and heights of the least body: less than what any wall keeps it away by. */
const CELL = 0.45;
/** So many cells at most; in larger levels they are larger, and allow more. */
const MOST = 6_000_000;
/** What is closer than so many body widths touches. */
const NEAR = 2 ** -16;

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
  private readonly columns: number;
  private readonly rows: number;
  private readonly left: number;
  private readonly bottom: number;
  private readonly wide: number;
  private readonly high: number;
  private readonly parent: Int32Array;
  /** How low feet can go from each cell to the one on its right, y up; Infinity where they cannot. */
  private readonly across: Float32Array;
  /** 1 where they can go from each cell to the one above. */
  private readonly up: Uint8Array;

  /** @param height of the body at its lowest */
  constructor(level: CompiledLevel, motion: Motion, height: number) {
    const { extent, yPoints } = level;
    const half = motion.half - motion.full.body.bevel;
    const around = 2 * motion.width;
    this.left = extent.x - around;
    this.bottom = (yPoints === 'up' ? extent.y : -extent.y - extent.height) - around - motion.height;
    const [width, tall] = [extent.width + 2 * around, extent.height + 2 * around + motion.height + 4];
    let [wide, high] = [CELL * motion.width, CELL * height];
    const larger = Math.sqrt(((width / wide) * (tall / high)) / MOST);
    if (larger > 1) [wide, high] = [wide * larger, high * larger];
    this.columns = Math.ceil(width / wide) + 1;
    this.rows = Math.ceil(tall / high) + 1;
    [this.wide, this.high] = [wide, high];
    this.parent = new Int32Array(this.columns * this.rows).map((_, i) => i);
    this.across = new Float32Array(this.parent.length).fill(Infinity);
    this.up = new Uint8Array(this.parent.length);
    this.join(level, half, height, NEAR * motion.width);
  } // prettier-ignore

  private join(level: CompiledLevel, half: number, height: number, near: number): void {
    const { columns, rows, left, bottom, wide, high } = this;
    const { terrain } = level;
    const edges = [...edgesOf(level, 0)].filter((e) => terrain.oneWay[e] === 0);
    // Along each line between two columns, then between two rows: where an edge keeps the body away from.
    const upright: number[][] = Array.from({ length: columns + 1 }, () => []);
    const level_: number[][] = Array.from({ length: rows + 1 }, () => []);
    const clip = (n: number, of: number): number => Math.max(0, Math.min(of, n));
    for (const e of edges) {
      const [x1, y1, x2, y2] = [terrain.x1[e]!, terrain.y1[e]!, terrain.x2[e]!, terrain.y2[e]!];
      const [xa, xb, ya, yb] = [Math.min(x1, x2), Math.max(x1, x2), Math.min(y1, y2), Math.max(y1, y2)];
      for (let c = clip(Math.floor((xa - half - left) / wide), columns); c <= clip(Math.ceil((xb + half - left) / wide), columns); c++) {
        const x = left + c * wide;
        const part = between(x1, y1, x2, y2, x - half + near, x + half - near);
        if (part) upright[c]!.push(part[0] - height + near, part[1] - near);
      }
      for (let r = clip(Math.floor((ya - height - bottom) / high), rows); r <= clip(Math.ceil((yb - bottom) / high), rows); r++) {
        const y = bottom + r * high;
        const part = between(y1, x1, y2, x2, y + near, y + height - near);
        if (part) level_[r]!.push(part[0] - half + near, part[1] + half - near);
      }
    }
    for (let c = 1; c < columns; c++) {
      const lowest = lowestFree(upright[c]!, bottom, high, rows);
      for (let r = 0; r < rows; r++) {
        if (lowest[r] === Infinity) continue;
        this.unite(r * columns + c - 1, r * columns + c);
        // Rounded down, since it may only allow too much.
        this.across[r * columns + c - 1] = lowest[r]! - Math.abs(lowest[r]!) * 2 ** -23;
      }
    }
    for (let r = 1; r < rows; r++) {
      const lowest = lowestFree(level_[r]!, left, wide, columns);
      for (let c = 0; c < columns; c++) {
        if (lowest[c] === Infinity) continue;
        this.unite((r - 1) * columns + c, r * columns + c);
        this.up[(r - 1) * columns + c] = 1;
      }
    }
    for (const [one, other, lines] of [['left', 'right', rows], ['bottom', 'top', columns]] as const)
      if (level.bounds[one] === 'wrap' || level.bounds[other] === 'wrap') for (let i = 0; i < lines; i++) this.unite(0, one === 'left' ? i * columns : i);
  } // prettier-ignore

  /**
   * Where a flight can come to from a stretch of feet positions, in room that is free.
   * @param least lower than this nobody wants to know
   * @param latest after this moment nobody does
   */
  flood({ left, right, low, high, above, speed, shift, most, again, dips }: Flown, least: number, latest: number): Flood {
    const { columns, rows } = this;
    const come: Flood = new Map();
    const waiting = new Waiting();
    const column = (x: number): number => Math.max(0, Math.min(columns - 1, Math.floor((x - this.left) / this.wide)));
    const row = (y: number): number => Math.max(0, Math.min(rows - 1, Math.floor((y - this.bottom) / this.high)));
    const near = 1e-3;
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
    for (let r = row(low - near); r <= row(high + near); r++) {
      const top = Math.min(high, this.bottom + (r + 1) * this.high) + most;
      for (let c = column(left - near); c <= column(right + near); c++) add(r * columns + c, 0, top);
    }
    const bottom = row(least - near);
    while (waiting.length > 0) {
      const [cell, time, ceiling] = waiting.take();
      const labels = come.get(cell)!;
      let isLatest = false;
      for (let i = 0; i < labels.length && !isLatest; i += 2) isLatest = labels[i] === time && labels[i + 1] === ceiling;
      if (!isLatest) continue;
      const [c, r] = [cell % columns, Math.floor(cell / columns)];
      const borderRight = this.left + (c + 1) * this.wide;
      const borderLeft = borderRight - this.wide;
      if (c + 1 < columns && this.across[cell]! <= ceiling) {
        const then = Math.max(time, (borderRight - right - shift) / speed);
        if (this.across[cell]! <= above(then)) add(cell + 1, then, ceiling);
      }
      if (c > 0 && this.across[cell - 1]! <= ceiling) {
        const then = Math.max(time, (left - borderLeft - shift) / speed);
        if (this.across[cell - 1]! <= above(then)) add(cell - 1, then, ceiling);
      }
      const borderTop = this.bottom + (r + 1) * this.high;
      if (r + 1 < rows && this.up[cell] === 1 && borderTop <= ceiling && borderTop <= above(time)) add(cell + columns, time, ceiling);
      const border = borderTop - this.high;
      // What falls rises only by the jumps that are left; just below where it began, the first may still come.
      if (r > bottom && this.up[cell - columns] === 1) add(cell - columns, time, Math.min(ceiling, border + (border < high && border >= low - dips ? dips + most : again)));
    }
    return come;
  } // prettier-ignore

  /** Whether feet may be in a box in a flood, by a moment; so high that they could come to its lower side. */
  comesTo(come: Flood, left: number, bottom: number, right: number, top: number, latest: number): boolean {
    const { columns, rows } = this;
    const near = 1e-3;
    const clip = (n: number, of: number): number => Math.max(0, Math.min(of - 1, Math.floor(n)));
    for (let c = clip((left - this.left) / this.wide - near, columns); c <= clip((right - this.left) / this.wide + near, columns); c++)
      for (let r = clip((bottom - this.bottom) / this.high - near, rows); r <= clip((top - this.bottom) / this.high + near, rows); r++) {
        const labels = come.get(r * columns + c) ?? [];
        for (let i = 0; i < labels.length; i += 2) if (labels[i]! <= latest && labels[i + 1]! >= bottom) return true;
      }
    return false;
  } // prettier-ignore

  /** The highest that feet may be on an upright line in a flood. @param at how high they may be at a moment or later */
  highest(come: Flood, left: number, right: number, bottom: number, top: number, at: (time: number) => number): number {
    const { columns, rows } = this;
    const clip = (n: number, of: number): number => Math.max(0, Math.min(of - 1, Math.floor(n)));
    const near = 1e-3;
    let most = -Infinity;
    for (let r = clip((top - this.bottom) / this.high + near, rows); r >= clip((bottom - this.bottom) / this.high - near, rows); r--) {
      const end = Math.min(top, this.bottom + (r + 1) * this.high);
      if (end <= most) break;
      for (let c = clip((left - this.left) / this.wide - near, columns); c <= clip((right - this.left) / this.wide + near, columns); c++) {
        const labels = come.get(r * columns + c) ?? [];
        for (let i = 0; i < labels.length; i += 2) most = Math.max(most, Math.min(end, at(labels[i]!), labels[i + 1]!));
      }
    }
    return most;
  } // prettier-ignore

  private find(cell: number): number {
    const { parent } = this;
    let root = cell;
    while (parent[root] !== root) root = parent[root]!;
    for (let at = cell; at !== root;) [at, parent[at]] = [parent[at]!, root];
    return root;
  }

  private unite(one: number, other: number): void {
    this.parent[this.find(one)] = this.find(other);
  }

  /** The parts of the room that feet may be in near a point, y up: cells that touch it. */
  at(x: number, y: number): Set<number> {
    const { columns, rows, left, bottom, wide, high } = this;
    const found = new Set<number>();
    const near = 1e-3;
    for (const c of new Set([Math.floor((x - left) / wide - near), Math.floor((x - left) / wide + near)]))
      for (const r of new Set([Math.floor((y - bottom) / high - near), Math.floor((y - bottom) / high + near)])) found.add(this.find(Math.max(0, Math.min(rows - 1, r)) * columns + Math.max(0, Math.min(columns - 1, c))));
    return found;
  } // prettier-ignore
}

/** The least and the most of the second coordinate of a segment where its first is between two values; nothing where it is not. */
function between(a1: number, b1: number, a2: number, b2: number, low: number, high: number): [number, number] | undefined {
  if (Math.max(a1, a2) <= low || Math.min(a1, a2) >= high) return undefined;
  if (a1 === a2) return [Math.min(b1, b2), Math.max(b1, b2)];
  const at = (a: number): number => b1 + ((b2 - b1) * (Math.min(Math.max(a, Math.min(a1, a2)), Math.max(a1, a2)) - a1)) / (a2 - a1);
  const [one, other] = [at(low), at(high)];
  return [Math.min(one, other), Math.max(one, other)];
} // prettier-ignore

/** For each cell along a line how low what is within none of the intervals (two numbers each) lies in it; Infinity where all is within. */
function lowestFree(intervals: readonly number[], from: number, step: number, count: number): Float64Array {
  const lowest = Float64Array.from({ length: count }, (_, i) => from + i * step);
  if (intervals.length === 0) return lowest;
  const order = Array.from({ length: intervals.length / 2 }, (_, i) => i).sort((one, other) => intervals[2 * one]! - intervals[2 * other]!);
  let [low, high] = [intervals[2 * order[0]!]!, intervals[2 * order[0]! + 1]!];
  const hide = (): void => {
    for (let i = Math.max(0, Math.floor((low - from) / step)); i < count && from + i * step < high; i++) if (lowest[i]! >= low) lowest[i] = from + (i + 1) * step <= high ? Infinity : high;
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
