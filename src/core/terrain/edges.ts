/** What an edge belongs to. */
export const CLOSED = 0;
/** One-sided ground: it blocks what comes onto its front, and is nothing from behind. */
export const SIDED = 1;
/** A line of no thickness: two opposed edges. */
export const LINE = 2;
/** Ground that blocks from above only, and can be dropped through. */
export const ONE_WAY = 3;

/** What an edge carries, shared by all edges that carry the same. */
export interface Style {
  /** Its surface: an index into the level's surfaces; 0 is plain. */
  surface: number;
  /** Its layer: an index into the level's layers; 0 is the one without a name. */
  layer: number;
  /** Its named shape, which can be switched off: an index, or −1. */
  shape: number;
  noWall: boolean;
  noLedge: boolean;
  /** The element it came from: an index into the level's sources, or −1. */
  source: number;
}

export const PLAIN_STYLE: Style = { surface: 0, layer: 0, shape: -1, noWall: false, noLedge: false, source: -1 };

/** Edges being gathered: x1, y1, x2, y2 of each in turn, on the grid, none of length 0; their styles and forms. */
export class EdgeList {
  readonly ends: number[] = [];
  readonly style: number[] = [];
  readonly form: number[] = [];

  get count(): number {
    return this.style.length;
  }

  add(x1: number, y1: number, x2: number, y2: number, style = 0, form = CLOSED): void {
    this.ends.push(x1, y1, x2, y2);
    this.style.push(style);
    this.form.push(form);
  }
}

/** Where each edge's end is joined to the start of another, or −1. */
export interface Joints {
  readonly prev: Int32Array;
  readonly next: Int32Array;
}

/**
 * Joins every edge's end to the edge that starts there, of the same form and named shape. Where corners meet in one point, the
 * pair that turns furthest left is joined: the solids count as connected, the open spaces as apart.
 */
export function join({ ends, form, style, count }: EdgeList, styles: readonly Style[], only = count): Joints {
  const prev = new Int32Array(count).fill(-1);
  const next = new Int32Array(count).fill(-1);
  const x1 = (e: number): number => ends[4 * e]!;
  const y1 = (e: number): number => ends[4 * e + 1]!;
  const turnAt = (e: number, s: number): number =>
    leftTurn(x1(s) - x1(e), y1(s) - y1(e), ends[4 * s + 2]! - x1(s), ends[4 * s + 3]! - y1(s));
  // Starts sorted by place; an end finds its starts by bisection.
  const starts = new Uint32Array(only).map((_, i) => i).sort((a, b) => x1(a) - x1(b) || y1(a) - y1(b));
  for (let e = 0; e < only; e++) {
    const x = ends[4 * e + 2]!;
    const y = ends[4 * e + 3]!;
    let low = 0;
    let high = only;
    while (low < high) {
      const middle = (low + high) >> 1;
      const s = starts[middle]!;
      if (x1(s) < x || (x1(s) === x && y1(s) < y)) low = middle + 1;
      else high = middle;
    }
    let best = -1;
    let most = -Infinity;
    for (; low < only && x1(starts[low]!) === x && y1(starts[low]!) === y; low++) {
      const s = starts[low]!;
      if (form[s] !== form[e] || styles[style[s]!]!.shape !== styles[style[e]!]!.shape) continue;
      const turn = leftTurn(x - x1(e), y - y1(e), ends[4 * s + 2]! - x, ends[4 * s + 3]! - y);
      if (turn > most) {
        most = turn;
        best = s;
      }
    }
    if (best < 0) continue;
    next[e] = best;
    const other = prev[best]!;
    // Two ends may want one start: that which turns furthest has it.
    if (other < 0 || most > turnAt(other, best)) prev[best] = e;
  }
  for (let e = 0; e < only; e++) if (next[e]! >= 0 && prev[next[e]!] !== e) next[e] = -1;
  return { prev, next };
}

/** Grows with the angle from one direction to another, from −2 (half a turn right) to 2 (half a turn left). */
export function leftTurn(ax: number, ay: number, bx: number, by: number): number {
  const lengths = Math.sqrt((ax * ax + ay * ay) * (bx * bx + by * by));
  const cross = (ax * by - ay * bx) / lengths;
  const dot = (ax * bx + ay * by) / lengths;
  return dot >= 0 ? cross : cross >= 0 ? 2 - cross : -2 - cross;
}

/** How far a vertex that is left out may lie from the line that takes its place, units: one step of the grid. */
const OFF = 1.4901161193847656e-8;

/** Makes one edge of each straight run of joined edges that carry the same. */
export function mergeStraight(list: EdgeList, styles: readonly Style[]): EdgeList {
  const { prev, next } = join(list, styles);
  const { ends, style, form, count } = list;
  const alike = (a: number, b: number): boolean => {
    const [s, t] = [styles[style[a]!]!, styles[style[b]!]!];
    return (
      s === t || (s.surface === t.surface && s.layer === t.layer && s.noWall === t.noWall && s.noLedge === t.noLedge)
    );
  };
  /** Whether the vertices from the start of `first` to the end of `last` lie on one line, and run one way. */
  const straight = (run: readonly number[], last: number): boolean => {
    const [ax, ay] = [ends[4 * run[0]!]!, ends[4 * run[0]! + 1]!];
    const [dx, dy] = [ends[4 * last + 2]! - ax, ends[4 * last + 3]! - ay];
    const length = Math.sqrt(dx * dx + dy * dy);
    if (length === 0) return false;
    // All of a short run; of a long one as many, evenly spread, and always the last.
    const step = Math.max(1, Math.floor(run.length / 64));
    for (let i = run.length - 1; i >= 0; i -= step) {
      const [x, y] = [ends[4 * run[i]! + 2]! - ax, ends[4 * run[i]! + 3]! - ay];
      if (Math.abs(dx * y - dy * x) > OFF * length || dx * x + dy * y <= 0) return false;
      const [ex, ey] = [ends[4 * last + 2]! - ends[4 * last]!, ends[4 * last + 3]! - ends[4 * last + 1]!];
      if (dx * ex + dy * ey <= 0) return false;
    }
    return true;
  };
  const done = new Uint8Array(count);
  const merged = new EdgeList();
  const grow = (head: number): void => {
    const run = [head];
    done[head] = 1;
    for (let e = next[head]!; e >= 0 && done[e] === 0 && alike(head, e) && straight(run, e); e = next[e]!) {
      run.push(e);
      done[e] = 1;
    }
    const last = run[run.length - 1]!;
    merged.add(ends[4 * head]!, ends[4 * head + 1]!, ends[4 * last + 2]!, ends[4 * last + 3]!, style[head], form[head]);
  };
  // Runs begin where what comes before does not go on straight.
  for (let e = 0; e < count; e++) {
    const before = prev[e]!;
    if (before < 0 || !alike(before, e) || !straight([before], e)) grow(e);
  }
  for (let e = 0; e < count; e++) if (done[e] === 0) grow(e);
  return merged;
}
