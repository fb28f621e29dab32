import RBush from 'rbush';
import { linkAbove } from './above.js';
import { EdgeList, ONE_WAY, type Style, leftTurn, mergeStraight } from './edges.js';
import { Found, findEdges } from './find.js';
import { type Later, SLANTED, type Terrain, buildTerrain, direct, isPointed } from './terrain.js';

/** How far a corner that was left out of a straight run may lie from it, units: twice what makes a run straight. */
const NEAR_LINE = 2 / 67108864;

/** A box: left, bottom, right, top. */
export type Cut = readonly [number, number, number, number];

/** An edge in the index of what is there since the level was compiled. */
interface Item {
  minX: number;
  minY: number;
  maxX: number;
  maxY: number;
  readonly edge: number;
}

type Own = { -readonly [K in keyof Terrain]: Terrain[K] };

const NOTHING = new EdgeList();
const NOBODY: ReadonlyMap<string, number> = new Map();

/** Places, each once. */
class Places {
  readonly x: number[] = [];
  readonly y: number[] = [];

  add(x: number, y: number): void {
    for (let i = 0; i < this.x.length; i++) if (this.x[i] === x && this.y[i] === y) return;
    this.x.push(x);
    this.y.push(y);
  }
}

/** Columns of the terrain with a number for each edge. */
const COLUMNS = ['x1', 'y1', 'x2', 'y2', 'nx', 'ny', 'kind', 'form', 'oneWay', 'style', 'set', 'prev', 'next', 'before', 'after', 'piece', 'pointed'] as const; // prettier-ignore

/**
 * The terrain of one stage, whose edges can be cut anew around a place: what is there then is what a level compiled anew would have. An edge keeps its number as long as it
 * begins where it did, goes the same way and is of the same kind; those that come later are numbered on, each for good.
 */
export class Recut {
  readonly terrain: Own;
  /** How many edges there were when the level was compiled. */
  readonly base: number;
  /** How many numbers the columns have room for. */
  private room: number;
  /** What is there since: in an index of its own; and which of the first index are not where that has them. */
  private readonly tree = new RBush<Item>();
  private readonly items = new Map<number, Item>();
  private readonly hidden: Uint8Array;
  /** What every edge is that was ever taken away or came later, and its number. */
  private readonly known = new Map<string, number>();
  private readonly keys = new Map<number, string>();
  /** Edges that came later by numbers that do not depend on the order in which they came; made where it is asked for. */
  private readonly printed = new Map<number, number>();
  private printedTo: number;
  /** Edges that were added beside the others. */
  private readonly apart = new Set<number>();
  /** Which edges were touched by the last cut: those that bodies have to feel anew. */
  readonly changed = new Set<number>();
  private readonly found = new Found();
  private readonly box = new Float64Array(4);

  /** @param terrain an object of this stage alone, whose columns may be those of others still */
  constructor(
    terrain: Terrain,
    private readonly shapes: readonly string[],
  ) {
    this.terrain = terrain;
    this.base = this.room = this.printedTo = terrain.count;
    this.hidden = new Uint8Array(terrain.boundsFrom);
    // What is not used of that takes no memory.
    this.grow(terrain.count + Math.max(4096, terrain.count >> 2));
    this.terrain.gone = new Uint8Array(this.room);
    const later: Later = { hidden: this.hidden, tree: this.tree as unknown as Later['tree'] };
    this.terrain.later = later;
  }

  /** Gives all columns room for more edges: the first time these are copies of the level's. */
  private grow(room: number): void {
    const { terrain } = this;
    for (const name of COLUMNS) {
      const from = terrain[name];
      const to = new (from.constructor as new (length: number) => typeof from)(room);
      to.set(from as never);
      (terrain as unknown as Record<string, unknown>)[name] = to;
    }
    if (terrain.gone !== undefined) {
      const gone = new Uint8Array(room);
      gone.set(terrain.gone);
      terrain.gone = gone;
    }
    this.room = room;
  }

  /**
   * Cuts everything anew that touches a box.
   * @param cuts the box; several where the level comes out at its other side
   * @param before the edges that were within them, before straight runs are made one: asked for where it matters
   * @param after those that shall be
   */
  replace(cuts: readonly Cut[], before: () => EdgeList, after: EdgeList): void {
    const { terrain, changed } = this;
    changed.clear();
    const touched = this.touching(cuts);
    const list = new EdgeList();
    const old = touched.some((e) => terrain.kind[e] === SLANTED) ? before() : NOTHING;
    for (const e of touched) this.addOutside(e, cuts, old, list);
    for (let i = 0; i < after.count; i++) {
      const at = 4 * i;
      list.add(after.ends[at]!, after.ends[at + 1]!, after.ends[at + 2]!, after.ends[at + 3]!, after.style[i], after.form[i]); // prettier-ignore
    }
    const merged = mergeStraight(mergeTops(list, cuts), terrain.styles);
    const was = new Map(touched.map((e) => [this.keyOf(e), e]));
    // Joints are made anew within the boxes, and where an edge from farther away has another number.
    const places = new Places();
    for (const e of touched) this.note(e, cuts, places);
    const there = new Set<number>();
    const renumbered: number[] = [];
    for (let i = 0; i < merged.count; i++) {
      const known = this.terrain.count;
      const e = this.set(merged, i, was);
      if (e >= known || !touched.includes(e)) renumbered.push(e);
      there.add(e);
      this.note(e, cuts, places);
    }
    const here = [...there].sort((a, b) => a - b);
    for (const e of touched) {
      if (there.has(e)) continue;
      this.noteBoth(e, places);
      this.take(e);
    }
    for (const e of renumbered) this.noteBoth(e, places);
    for (let i = 0; i < places.x.length; i++) {
      const [x, y] = [places.x[i]!, places.y[i]!];
      // All that comes to a place within the boxes touches these.
      this.joinAt(
        x,
        y,
        this.apart.size === 0 && cuts.some((cut) => isWithin(x, y, cut))
          ? here
          : this.within([x, y, x, y]).sort((a, b) => a - b),
      );
    }
    for (const e of changed) this.renumberPiece(e);
  }

  /** Takes note of where an edge ends, where that is in a box. */
  private note(e: number, cuts: readonly Cut[], places: Places): void {
    const { x1, y1, x2, y2 } = this.terrain;
    for (const cut of cuts) {
      if (isWithin(x1[e]!, y1[e]!, cut)) places.add(x1[e]!, y1[e]!);
      if (isWithin(x2[e]!, y2[e]!, cut)) places.add(x2[e]!, y2[e]!);
    }
  }

  private noteBoth(e: number, places: Places): void {
    const { x1, y1, x2, y2 } = this.terrain;
    places.add(x1[e]!, y1[e]!);
    places.add(x2[e]!, y2[e]!);
  }

  /**
   * Adds edges beside all others: joined to one another alone, and never cut.
   * @returns their numbers
   */
  add(list: EdgeList): number[] {
    this.changed.clear();
    const merged = mergeStraight(list, this.terrain.styles);
    const places = new Places();
    const added: number[] = [];
    for (let i = 0; i < merged.count; i++) {
      const e = this.set(merged, i, NOBODY);
      this.apart.add(e);
      added.push(e);
      this.noteBoth(e, places);
    }
    this.joinAll(places);
    return added;
  }

  /** Takes away edges that were added. */
  remove(edges: readonly number[]): void {
    this.changed.clear();
    const places = new Places();
    for (const e of edges) {
      this.noteBoth(e, places);
      this.take(e);
      this.apart.delete(e);
    }
    this.joinAll(places);
  }

  /**
   * Adds the edges of something that moves, joined to one another alone: beside all others, and in no index.
   * @param name what these edges are, each with its place among them: said by no others
   * @returns the number of the first; the others follow
   */
  addMoving({ ends, style, form, count }: EdgeList, name: string): number {
    const { terrain } = this;
    const first = terrain.count;
    if (first + count > this.room) this.grow(2 * (first + count));
    const list = new EdgeList();
    for (let i = 0; i < count; i++) list.add(ends[4 * i]!, ends[4 * i + 1]!, ends[4 * i + 2]!, ends[4 * i + 3]!, style[i], form[i]); // prettier-ignore
    const alone = buildTerrain(new EdgeList(), terrain.styles, new EdgeList(), [list]);
    for (const column of COLUMNS) terrain[column].set(alone[column] as never, first);
    for (const column of ['prev', 'next', 'before', 'after', 'piece'] as const)
      for (let e = first; e < first + count; e++) if (terrain[column][e]! >= 0) terrain[column][e]! += first;
    for (let i = 0; i < count; i++) this.keys.set(first + i, `${name} ${i}`);
    terrain.count += count;
    return first;
  }

  /** Says to which set edges in a row belong, or that they are there no more. */
  giveTo(set: number, from: number, until: number, isThere: boolean): void {
    const { terrain } = this;
    if (set >= terrain.setUntil.length) {
      const room = 2 * (set + 1);
      const [setFrom, setUntil] = [new Int32Array(room), new Int32Array(room)];
      setFrom.set(terrain.setFrom);
      setUntil.set(terrain.setUntil);
      [terrain.setFrom, terrain.setUntil] = [setFrom, setUntil];
      this.ownSets = true;
    } else if (!this.ownSets) {
      // So far they are the level's.
      [terrain.setFrom, terrain.setUntil] = [terrain.setFrom.slice(), terrain.setUntil.slice()];
      this.ownSets = true;
    }
    terrain.setFrom[set] = from;
    terrain.setUntil[set] = until;
    terrain.set.fill(set, from, until);
    terrain.gone!.fill(isThere ? 0 : 1, from, until);
  }
  private ownSets = false;

  private joinAll({ x, y }: Places): void {
    for (let i = 0; i < x.length; i++)
      this.joinAt(
        x[i]!,
        y[i]!,
        this.within([x[i]!, y[i]!, x[i]!, y[i]!]).sort((a, b) => a - b),
      );
    for (const e of this.changed) this.renumberPiece(e);
  }

  /** A number for an edge that is the same whatever came before it. */
  printOf(e: number): number {
    return e < this.base ? e : this.base + 1 + hash(this.keys.get(e)!);
  }

  /** The edge with such a number; −1 where there is none. */
  edgeOf(print: number): number {
    if (print < this.base) return print;
    for (; this.printedTo < this.terrain.count; this.printedTo++)
      this.printed.set(this.printOf(this.printedTo), this.printedTo);
    const e = this.printed.get(print);
    return e === undefined || this.terrain.gone![e] === 1 ? -1 : e;
  }

  /** The edges of the level that touch boxes, in the order of their numbers. */
  private touching(cuts: readonly Cut[]): number[] {
    const all = new Set<number>();
    for (const cut of cuts) for (const e of this.within(cut)) if (!this.apart.has(e)) all.add(e);
    return [...all].sort((a, b) => a - b);
  }

  private within(cut: Cut): number[] {
    const { found, box, terrain, base } = this;
    box.set(cut);
    findEdges(terrain, 0, box, found);
    const list: number[] = [];
    for (let i = 0; i < found.count; i++) {
      const e = found.ids[i]!;
      if ((e < terrain.boundsFrom || e >= base) && terrain.gone![e] === 0) list.push(e);
    }
    return list;
  }

  /** Adds what of an edge lies outside of boxes: whole where it only ends at them. */
  private addOutside(e: number, cuts: readonly Cut[], before: EdgeList, list: EdgeList): void {
    const { x1, y1, x2, y2, style, form, kind } = this.terrain;
    let parts: number[] = [x1[e]!, y1[e]!, x2[e]!, y2[e]!];
    for (const cut of cuts) {
      const left: number[] = [];
      for (let i = 0; i < parts.length; i += 4) {
        const part = parts.slice(i, i + 4) as [number, number, number, number];
        left.push(...(kind[e] === SLANTED ? this.slantedOutside(e, part, cut, before) : straightOutside(part, cut)));
      }
      parts = left;
    }
    for (let i = 0; i < parts.length; i += 4)
      list.add(parts[i]!, parts[i + 1]!, parts[i + 2]!, parts[i + 3]!, style[e], form[e]);
  }

  private slantedOutside(
    e: number,
    [ax, ay, bx, by]: readonly [number, number, number, number],
    cut: Cut,
    { ends, style, form, count }: EdgeList,
  ): number[] {
    const { styles, style: styleOf, form: formOf } = this.terrain;
    const length = Math.sqrt((bx - ax) * (bx - ax) + (by - ay) * (by - ay));
    /** How far along the edge a place lies, where it is on it. */
    const along = (x: number, y: number): number => {
      if (Math.abs((bx - ax) * (y - ay) - (by - ay) * (x - ax)) > NEAR_LINE * length) return NaN;
      const share = ((bx - ax) * (x - ax) + (by - ay) * (y - ay)) / length;
      return share >= -NEAR_LINE && share <= length + NEAR_LINE ? share : NaN;
    };
    let first = -1;
    let last = -1;
    let from = Infinity;
    let until = -Infinity;
    for (let i = 0; i < count; i++) {
      const at = 4 * i;
      if (form[i] !== formOf[e] || styles[style[i]!]!.shape !== styles[styleOf[e]!]!.shape) continue;
      if (!isWithin(ends[at]!, ends[at + 1]!, cut) || !isWithin(ends[at + 2]!, ends[at + 3]!, cut)) continue;
      const a = along(ends[at]!, ends[at + 1]!);
      const b = along(ends[at + 2]!, ends[at + 3]!);
      if (!(b > a)) continue;
      if (a < from) [first, from] = [at, a];
      if (b > until) [last, until] = [at, b];
    }
    if (first >= 0) {
      const [sx, sy] = [ends[first]!, ends[first + 1]!];
      const [tx, ty] = [ends[last + 2]!, ends[last + 3]!];
      return [...(sx === ax && sy === ay ? [] : [ax, ay, sx, sy]), ...(tx === bx && ty === by ? [] : [tx, ty, bx, by])];
    }
    // It may go by at a corner.
    for (const x of [cut[0], cut[2]])
      for (const y of [cut[1], cut[3]])
        if (!Number.isNaN(along(x, y)) && !(x === ax && y === ay) && !(x === bx && y === by)) return [ax, ay, x, y, x, y, bx, by]; // prettier-ignore
    return [ax, ay, bx, by];
  }

  private keyOf(e: number): string {
    const known = this.keys.get(e);
    if (known !== undefined) return known;
    const { x1, y1, nx, ny, kind, form, style, styles } = this.terrain;
    const way = kind[e] === SLANTED ? `${nx[e]!.toFixed(6)} ${ny[e]!.toFixed(6)}` : String(kind[e]);
    return this.keyFor(x1[e]!, y1[e]!, way, form[e]!, styles[style[e]!]!);
  }

  private keyFor(x: number, y: number, way: string, form: number, style: Style): string {
    const { surface, layer, shape, noWall, noLedge } = style;
    return `${x} ${y} ${way} ${form} ${surface} ${layer} ${noWall ? 1 : 0}${noLedge ? 1 : 0} ${shape < 0 ? '' : this.shapes[shape]}`;
  }

  /** Puts an edge where it shall be. @returns its number */
  private set({ ends, style, form }: EdgeList, i: number, was: ReadonlyMap<string, number>): number {
    const [ax, ay, bx, by] = [ends[4 * i]!, ends[4 * i + 1]!, ends[4 * i + 2]!, ends[4 * i + 3]!];
    direct(ax, ay, bx, by, way);
    const slant = way.kind === SLANTED ? `${way.nx.toFixed(6)} ${way.ny.toFixed(6)}` : String(way.kind);
    const key = this.keyFor(ax, ay, slant, form[i]!, this.terrain.styles[style[i]!]!);
    const e = was.get(key) ?? this.known.get(key) ?? this.number(key);
    const { terrain } = this;
    const { x1, y1, x2, y2 } = terrain;
    if (was.get(key) === e && x2[e] === bx && y2[e] === by) return e;
    x1[e] = ax;
    y1[e] = ay;
    x2[e] = bx;
    y2[e] = by;
    terrain.nx[e] = way.nx;
    terrain.ny[e] = way.ny;
    terrain.kind[e] = way.kind;
    terrain.form[e] = form[i]!;
    terrain.oneWay[e] = form[i] === ONE_WAY ? 1 : 0;
    terrain.style[e] = style[i]!;
    terrain.gone![e] = 0;
    terrain.piece[e] = form[i] === ONE_WAY ? e : -2;
    this.changed.add(e);
    this.reindex(e, {
      minX: Math.min(ax, bx),
      minY: Math.min(ay, by),
      maxX: Math.max(ax, bx),
      maxY: Math.max(ay, by),
      edge: e,
    });
    return e;
  }

  /** The next number, for an edge that never was. */
  private number(key: string): number {
    const e = this.terrain.count++;
    if (e === this.room) this.grow(2 * this.room);
    this.known.set(key, e);
    this.keys.set(e, key);
    return e;
  }

  private reindex(e: number, item: Item | undefined): void {
    const old = this.items.get(e);
    if (old) this.tree.remove(old);
    else if (e < this.hidden.length) this.hidden[e] = 1;
    if (item) {
      this.tree.insert(item);
      this.items.set(e, item);
    } else this.items.delete(e);
  }

  /** Takes an edge away. */
  private take(e: number): void {
    const { terrain } = this;
    const key = this.keyOf(e);
    this.known.set(key, e);
    this.keys.set(e, key);
    this.changed.add(e);
    terrain.gone![e] = 1;
    terrain.prev[e] = terrain.next[e] = terrain.before[e] = terrain.after[e] = -1;
    terrain.pointed[e] = 0;
    this.reindex(e, undefined);
  }

  /**
   * Joins what begins and ends at a place.
   * @param near edges by their numbers: all that come to it, and perhaps others
   */
  private joinAt(x: number, y: number, near: readonly number[]): void {
    const { terrain } = this;
    const { x1, y1, x2, y2, ny, form, style, styles, oneWay, prev, next, before, after } = terrain;
    const here = near.filter((e) => (x1[e] === x && y1[e] === y) || (x2[e] === x && y2[e] === y));
    const ins = here.filter((e) => x2[e] === x && y2[e] === y);
    const outs = here.filter((e) => x1[e] === x && y1[e] === y);
    const joints = new Map<number, number>();
    const back = new Map<number, number>();
    const turns = new Map<number, number>();
    for (const e of ins) {
      let best = -1;
      let most = -Infinity;
      for (const s of outs) {
        if (form[s] !== form[e] || styles[style[s]!]!.shape !== styles[style[e]!]!.shape) continue;
        const turn = leftTurn(x - x1[e]!, y - y1[e]!, x2[s]! - x, y2[s]! - y);
        if (turn > most) [most, best] = [turn, s];
      }
      joints.set(e, best);
      // Two ends may want one start: that which turns furthest has it.
      if (best < 0 || most <= (turns.get(best) ?? -Infinity)) continue;
      back.set(best, e);
      turns.set(best, most);
    }
    for (const e of ins) {
      const to = joints.get(e)!;
      const goesTo = to >= 0 && back.get(to) === e ? to : -1;
      if (next[e] !== goesTo) this.changed.add(e);
      next[e] = after[e] = goesTo;
    }
    for (const s of outs) {
      const from = back.get(s) ?? -1;
      const comesFrom = from >= 0 && next[from] === s ? from : -1;
      if (prev[s] !== comesFrom) this.changed.add(s);
      prev[s] = before[s] = comesFrom;
    }
    // Seen from above, ground goes on where other ground begins.
    const isApart = (e: number): boolean => oneWay[e] === 1 || styles[style[e]!]!.shape >= 0;
    for (const e of here) {
      if (ny[e]! <= 0 || !isApart(e)) continue;
      if (x1[e] === x && y1[e] === y) for (const f of ins) if (f !== e && ny[f]! > 0) linkAbove(terrain, f, e);
      if (x2[e] === x && y2[e] === y) for (const f of outs) if (f !== e && ny[f]! > 0) linkAbove(terrain, e, f);
    }
    for (const e of ins) this.point(e);
  }

  /** Whether the corner at an edge's end can meet a face of a body on its own. */
  private point(e: number): void {
    const { next, pointed } = this.terrain;
    const f = next[e]!;
    pointed[e] = f >= 0 && isPointed(this.terrain, e, f) ? 1 : 0;
  }

  /** Gives all edges of a joined piece of one-way ground the number of its first one. */
  private renumberPiece(e: number): void {
    const { oneWay, gone, prev, next, piece } = this.terrain;
    if (oneWay[e] !== 1 || gone![e] === 1) return;
    let first = e;
    while (prev[first]! >= 0 && prev[first] !== e) first = prev[first]!;
    if (prev[first] === e) for (let f = next[e]!; f !== e; f = next[f]!) if (f < first) first = f;
    let f = first;
    do {
      piece[f] = first;
      f = next[f]!;
    } while (f >= 0 && f !== first);
  }
}

const way = { nx: 0.5, ny: 0.5, kind: SLANTED };

function isWithin(x: number, y: number, [left, bottom, right, top]: Cut): boolean {
  return x >= left && x <= right && y >= bottom && y <= top;
}

/** What of a level or upright stretch lies outside of a box. */
function straightOutside(
  part: readonly [number, number, number, number],
  [left, bottom, right, top]: Cut,
): readonly number[] {
  const [ax, ay, bx, by] = part;
  const isLevel = ay === by;
  const [from, until, low, high] = isLevel ? [ax, bx, left, right] : [ay, by, bottom, top];
  // Beside it, or only up to it.
  if (isLevel ? ay < bottom || ay > top : ax < left || ax > right) return part;
  if (Math.max(from, until) <= low || Math.min(from, until) >= high) return part;
  const stretch = (a: number, b: number): number[] => (a === b ? [] : isLevel ? [a, ay, b, ay] : [ax, a, ax, b]);
  return from < until
    ? [...(from < low ? stretch(from, low) : []), ...(until > high ? stretch(high, until) : [])]
    : [...(from > high ? stretch(from, high) : []), ...(until < low ? stretch(low, until) : [])];
}

/** Makes one of level one-way pieces along the lines of boxes that carry the same and go on from one another, whatever else begins where they meet: as rows make them in one piece. */
function mergeTops({ ends, style, form, count }: EdgeList, cuts: readonly Cut[]): EdgeList {
  const starts = new Map<string, number>();
  const isTop = (i: number): boolean => {
    const y = ends[4 * i + 1]!;
    return form[i] === ONE_WAY && y === ends[4 * i + 3] && cuts.some((cut) => y === cut[1] || y === cut[3]);
  };
  const keyOf = (i: number, x: number): string => `${x} ${ends[4 * i + 1]} ${style[i]}`;
  for (let i = 0; i < count; i++) if (isTop(i)) starts.set(keyOf(i, ends[4 * i]!), i);
  const isNext = new Set<number>();
  const next = new Map<number, number>();
  for (let i = 0; i < count; i++) {
    const following = isTop(i) ? starts.get(keyOf(i, ends[4 * i + 2]!)) : undefined;
    if (following === undefined) continue;
    next.set(i, following);
    isNext.add(following);
  }
  const merged = new EdgeList();
  for (let i = 0; i < count; i++) {
    if (isNext.has(i)) continue;
    let last = i;
    while (next.has(last)) last = next.get(last)!;
    merged.add(ends[4 * i]!, ends[4 * i + 1]!, ends[4 * last + 2]!, ends[4 * last + 3]!, style[i], form[i]);
  }
  return merged;
}

/** A whole number below 2⁵¹ for a text. */
export function hash(text: string): number {
  let a = 0x811c9dc5;
  let b = 0x9e3779b9;
  for (let i = 0; i < text.length; i++) {
    a = Math.imul(a ^ text.charCodeAt(i), 0x01000193);
    b = Math.imul(b ^ text.charCodeAt(i), 0x85ebca6b) + a;
  }
  return ((a >>> 0) & 0x7ffff) * 4294967296 + ((b ^ (b >>> 15)) >>> 0);
}
