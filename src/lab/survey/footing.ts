import type { CompiledLevel, Motion } from '../../core/index.js';

/** A way that feet can take on the ground: corners, from left to right, y up. */
export interface Run {
  xs: number[];
  ys: number[];
  /** The edges that it lies on. */
  edges: Set<number>;
}

/** Of what a body is: half its width, the half that is flat underneath, and how high it is, units. */
export interface BodySize {
  half: number;
  flat: number;
  height: number;
}

/** A straight piece of a way. */
interface Piece {
  x1: number;
  y1: number;
  x2: number;
  y2: number;
}

/** What is closer than so many body widths touches. */
const NEAR = 2 ** -18;

/** Units within which things touch. */
export const nearOf = ({ width }: Motion): number => NEAR * width;

/** Whether an edge is ground on which a body can stand. */
export function stands({ terrain }: CompiledLevel, motion: Motion, e: number): boolean {
  return terrain.ny[e]! > 0 && Math.abs(terrain.nx[e]!) <= motion.steepest * terrain.ny[e]!;
}

/**
 * The longest runs of feet positions on which a body of a size is held up by the ground of one set of edges (the level's, or a mover's as it lies at the start), with room for it among the
 * edges of that set; from left to right.
 */
export function footing(level: CompiledLevel, motion: Motion, set: number, size: BodySize): Run[] {
  const near = nearOf(motion);
  const runs = chains(level, motion, set).flatMap((chain) => withRoom(level, set, feetOn(level, chain, size), chain, size, near));
  return joined(runs, near);
} // prettier-ignore

/** Edges of ground that go on into one another, split where a belt outruns the run. */
function chains(level: CompiledLevel, motion: Motion, set: number): number[][] {
  const { terrain, surfaces } = level;
  const outruns = (e: number): boolean => {
    const { flow, pace } = surfaces[terrain.styles[terrain.style[e]!]!.surface]!;
    return Math.abs(flow) >= motion.ground.speed * pace;
  };
  const seen = new Set<number>();
  const found: number[][] = [];
  for (const first of edgesOf(level, set)) {
    if (seen.has(first) || !stands(level, motion, first)) continue;
    const chain = [first];
    seen.add(first);
    for (let i = 0; i < chain.length; i++)
      for (const other of [terrain.before[chain[i]!]!, terrain.after[chain[i]!]!])
        if (other >= 0 && !seen.has(other) && stands(level, motion, other) && outruns(other) === outruns(first)) {
          seen.add(other);
          chain.push(other);
        }
    found.push(chain);
  }
  return found;
}

/** The edges of a set; of the level's own, with its bounds. */
export function* edgesOf({ terrain }: CompiledLevel, set: number): Generator<number> {
  for (let e = terrain.setFrom[set]!; e < terrain.setUntil[set]!; e++) yield e;
}

/** How high the feet are on a chain of edges: the highest ground under the flat of the underside. */
function feetOn({ terrain }: CompiledLevel, chain: readonly number[], { flat }: BodySize): Piece[] {
  const pieces: Piece[] = [];
  const add = (x1: number, y1: number, x2: number, y2: number): void => void (x2 > x1 && pieces.push({ x1, y1, x2, y2 }));
  for (const e of chain) {
    const [x1, y1, x2, y2] = [terrain.x1[e]!, terrain.y1[e]!, terrain.x2[e]!, terrain.y2[e]!];
    if (y1 === y2) add(x1 - flat, y1, x2 + flat, y1);
    else if (y2 > y1) {
      add(x1 - flat, y1, x2 - flat, y2);
      add(x2 - flat, y2, x2 + flat, y2);
    } else {
      add(x1 - flat, y1, x1 + flat, y1);
      add(x1 + flat, y1, x2 + flat, y2);
    }
  }
  return highest(pieces);
} // prettier-ignore

const at = ({ x1, y1, x2, y2 }: Piece, x: number): number => (y1 === y2 ? y1 : y1 + ((y2 - y1) * (x - x1)) / (x2 - x1));

/** Of pieces that lie over one another the highest, from left to right. */
function highest(pieces: readonly Piece[]): Piece[] {
  const sorted = pieces.slice().sort((one, other) => one.x1 - other.x1 || one.x2 - other.x2);
  const cuts = new Set<number>();
  for (let i = 0; i < sorted.length; i++) {
    const one = sorted[i]!;
    cuts.add(one.x1).add(one.x2);
    for (let k = i + 1; k < sorted.length && sorted[k]!.x1 < one.x2; k++) {
      const other = sorted[k]!;
      const until = Math.min(one.x2, other.x2);
      const [from, to] = [at(one, other.x1) - other.y1, at(one, until) - at(other, until)];
      if (from * to < 0) cuts.add(other.x1 + ((until - other.x1) * from) / (from - to));
    }
  }
  const xs = [...cuts].sort((one, other) => one - other);
  const found: Piece[] = [];
  let first = 0;
  for (let i = 0; i + 1 < xs.length; i++) {
    const [x1, x2] = [xs[i]!, xs[i + 1]!];
    const middle = (x1 + x2) / 2;
    while (first < sorted.length && sorted[first]!.x2 <= x1) first++;
    let best: Piece | undefined;
    for (let k = first; k < sorted.length && sorted[k]!.x1 < x2; k++) {
      const one = sorted[k]!;
      if (one.x1 <= x1 && one.x2 >= x2 && (best === undefined || at(one, middle) > at(best, middle))) best = one;
    }
    if (best === undefined) continue;
    const last = found.at(-1);
    const [y1, y2] = [at(best, x1), at(best, x2)];
    if (last !== undefined && last.x2 === x1 && y1 === y2 && last.y1 === y1 && last.y2 === y1) last.x2 = x2;
    else found.push({ x1, y1, x2, y2 });
  }
  return found;
}

/** The parts of a way on which there is room. */
function withRoom(level: CompiledLevel, set: number, pieces: readonly Piece[], chain: readonly number[], size: BodySize, near: number): Run[] {
  const edges = new Set(chain);
  const runs: Run[] = [];
  let open: Run | undefined;
  // A body that only touches what is beside it at the very end of its ground is in it.
  const ends = new Set<Run>();
  for (const piece of pieces) {
    const { x1, y1, x2, y2 } = piece;
    const blocked: [number, number][] = [];
    for (const f of blockersNear(level, set, Math.min(x1, x2) - size.half, Math.min(y1, y2), Math.max(x1, x2) + size.half, Math.max(y1, y2) + size.height))
      if (!edges.has(f)) {
        const part = hidden(level, f, piece, size, near);
        if (part) blocked.push(part);
      }
    blocked.sort((one, other) => one[0] - other[0]);
    if (open !== undefined && (open.xs.at(-1)! < x1 - near || Math.abs(open.ys.at(-1)! - y1) > near)) open = undefined;
    let from = 0;
    const free = (until: number): void => {
      const [left, right] = [x1 + (x2 - x1) * from, x1 + (x2 - x1) * until];
      if (open === undefined || from > 0) {
        runs.push((open = { xs: [left], ys: [at(piece, left)], edges: new Set() }));
        if (from === 0) ends.add(open);
      }
      if (right > open.xs.at(-1)!) {
        open.xs.push(right);
        open.ys.push(at(piece, right));
      }
      if (until === 1) ends.add(open);
      if (until < 1) open = undefined;
    };
    for (const [begin, end] of blocked) {
      if (begin >= from && (begin > 0 || from > 0)) free(begin);
      else open = undefined;
      from = Math.max(from, end);
    }
    if (from <= 1 && (from < 1 || blocked.length === 0)) free(1);
    else open = undefined;
  }
  for (const run of runs) for (const e of chain) if (level.terrain.x1[e]! - size.half <= run.xs.at(-1)! && level.terrain.x2[e]! + size.half >= run.xs[0]!) run.edges.add(e);
  const [low, high] = [wallAt(level, 'left') + size.half - near, wallAt(level, 'right') - size.half + near];
  return runs.flatMap((run) => {
    const [left, right] = [Math.max(run.xs[0]!, low), Math.min(run.xs.at(-1)!, high)];
    if (right - left < (ends.has(run) || left > run.xs[0]! || right < run.xs.at(-1)! ? 8 * near : 0)) return [];
    return left === run.xs[0] && right === run.xs.at(-1) ? [run] : [part(run, left, right)];
  });
} // prettier-ignore

/** Where a side of the level is a wall; Infinity, or less, where it is none. */
export function wallAt({ bounds, sides }: CompiledLevel, side: 'left' | 'right'): number {
  return bounds[side] === 'wall' ? sides[side] : side === 'left' ? -Infinity : Infinity;
}

/** A part of a run. */
export function part(run: Run, left: number, right: number): Run {
  const inner = run.xs.map((x, i) => [x, run.ys[i]!] as const).filter(([x]) => x > left && x < right);
  const points = [[left, heightOn(run, left)] as const, ...inner, [right, heightOn(run, right)] as const];
  return { xs: points.map(([x]) => x), ys: points.map(([, y]) => y), edges: run.edges };
}

/** How high the feet are on a run. */
export function heightOn({ xs, ys }: { xs: readonly number[]; ys: readonly number[] }, x: number): number {
  let i = 1;
  while (i < xs.length - 1 && xs[i]! < x) i++;
  if (xs.length === 1 || x <= xs[0]!) return ys[0]!;
  if (x >= xs.at(-1)!) return ys.at(-1)!;
  return ys[i - 1]! + ((ys[i]! - ys[i - 1]!) * (x - xs[i - 1]!)) / (xs[i]! - xs[i - 1]!);
}

/** Whether feet at a point have room for a body of a size among the edges of a set. */
export function hasRoom(
  level: CompiledLevel,
  set: number,
  x: number,
  y: number,
  size: BodySize,
  near: number,
): boolean {
  if (x < wallAt(level, 'left') + size.half - near || x > wallAt(level, 'right') - size.half + near) return false;
  const point = { x1: x, y1: y, x2: x, y2: y };
  return blockersNear(level, set, x - size.half, y, x + size.half, y + size.height).every(
    (f) => hidden(level, f, point, size, near) === undefined,
  );
}

/** Edges that block a body, near a box; those that block from above only do not. */
export function blockersNear({ terrain }: CompiledLevel, set: number, left: number, bottom: number, right: number, top: number): number[] {
  const found = set === 0 ? (terrain.index?.search(left, bottom, right, top) ?? []) : [];
  const [from, until] = set === 0 ? [terrain.boundsFrom, terrain.setUntil[0]!] : [terrain.setFrom[set]!, terrain.setUntil[set]!];
  for (let e = from; e < until; e++) found.push(e);
  return found.filter((e) => terrain.oneWay[e] === 0).sort((one, other) => one - other);
} // prettier-ignore

/** Which part of a way an edge hides from a body, as shares of its length. */
function hidden({ terrain }: CompiledLevel, f: number, { x1, y1, x2, y2 }: Piece, { half, height }: BodySize, near: number): [number, number] | undefined {
  const [ax, ay, bx, by] = [terrain.x1[f]!, terrain.y1[f]!, terrain.x2[f]!, terrain.y2[f]!];
  let [from, to] = [0, 1];
  // The sum of the edge and the body is convex: between two parallels each across, up, and along the edge.
  const cut = (nx: number, ny: number, least: number, most: number): void => {
    const [one, other] = [nx * x1 + ny * y1, nx * x2 + ny * y2];
    const [low, high] = [least + near, most - near];
    if (Math.abs(one - other) < 1e-12) {
      if (one <= low || one >= high) to = -1;
      return;
    }
    const [p, q] = [(low - one) / (other - one), (high - one) / (other - one)];
    from = Math.max(from, Math.min(p, q));
    to = Math.min(to, Math.max(p, q));
  };
  cut(1, 0, Math.min(ax, bx) - half, Math.max(ax, bx) + half);
  cut(0, 1, Math.min(ay, by) - height, Math.max(ay, by));
  const [nx, ny] = [terrain.nx[f]!, terrain.ny[f]!];
  const level = nx * ax + ny * ay;
  cut(nx, ny, level - Math.abs(nx) * half + Math.min(-height * ny, 0), level + Math.abs(nx) * half + Math.max(-height * ny, 0));
  return to > from ? [from, to] : undefined;
} // prettier-ignore

/** Runs that go on from one another at one height are one: a gap in the ground that is narrower than a body. */
function joined(runs: readonly Run[], near: number): Run[] {
  const sorted = runs.slice().sort((one, other) => one.xs[0]! - other.xs[0]!);
  const found: Run[] = [];
  // Ends that a run may go on from, by height.
  const open = new Map<number, Run[]>();
  const key = (y: number): number => Math.floor(y / near / 4 + 0.5);
  const end = (run: Run): void => {
    const level = key(run.ys.at(-1)!);
    open.set(level, [...(open.get(level) ?? []), run]);
  };
  for (const run of sorted) {
    const [x, y] = [run.xs[0]!, run.ys[0]!];
    const before = open.get(key(y))?.find((one) => {
      const [last, until] = [one.xs.at(-1)!, Math.min(one.xs.at(-1)!, run.xs.at(-1)!)];
      const isAlike = (at: number): boolean => Math.abs(heightOn(one, at) - heightOn(run, at)) <= near;
      return last >= x - near && isAlike(x) && isAlike(until);
    });
    if (before === undefined) {
      found.push(run);
      end(run);
      continue;
    }
    const level = key(before.ys.at(-1)!);
    open.set(level, open.get(level)!.filter((one) => one !== before));
    run.xs.forEach((at, i) => {
      if (at <= before.xs.at(-1)!) return;
      before.xs.push(at);
      before.ys.push(run.ys[i]!);
    });
    for (const e of run.edges) before.edges.add(e);
    end(before);
  }
  return found;
} // prettier-ignore
