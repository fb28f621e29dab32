import Flatbush from 'flatbush';
import { fingerprint, type Character, type CompiledLevel, type Motion } from '../../core/index.js';
import { edgesOf, footing, hasRoom, heightOn, nearOf, part, type BodySize, type Run } from './footing.js';

const KINDS = ['ground', 'low', 'ledge'] as const;
export type PlaceKind = (typeof KINDS)[number];

/** Where a body can be held up: a longest run of feet positions at one body height, in one mover's frame; or a ledge to hang from. */
export interface Place {
  id: number;
  /** The same after the tuning has changed, as long as the run is the same. */
  key: string;
  /** 0 for what stands still, else the number of its mover plus 1. */
  set: number;
  /** `low`: only a crouched body has room. */
  kind: PlaceKind;
  /** Feet positions, from left to right, y up; on a mover as it lies when its offset is nothing. */
  xs: readonly number[];
  ys: readonly number[];
  /** The edges that hold up: ground, or the wall below the ledge. */
  edges: ReadonlySet<number>;
  /** Of a ledge: on which side of the body its wall is. */
  side: number;
}

/** An upright face: which way it faces (−1 or 1), and from where to where it reaches, y up. */
export interface Wall {
  x: number;
  bottom: number;
  top: number;
  faces: number;
}

/** So wide is a column in which places are looked up, in body widths; and how far off a place may be. */
const COLUMN = 4;
const OFF = 0.02;
/** A place over more columns than this is looked at wherever one asks: the side of a level that goes on for ever has millions. */
const MOST_COLUMNS = 4096;
/** Keys are made of positions on a grid so fine. */
const KEY = 1024;

/** Where in a level a character can be held up. */
export class Places {
  readonly list: Place[] = [];
  /** Upright faces that stand still, by x. */
  readonly walls: readonly Wall[];
  private readonly columns: Map<number, Place[]>[] = [];
  private readonly everywhere: Place[][] = [];
  /** Movers by name: the number of their set. */
  private readonly sets = new Map<string, number>([['', 0]]);
  private readonly wide: number;

  constructor(
    readonly level: CompiledLevel,
    readonly motion: Motion,
  ) {
    const { half, full } = motion;
    this.walls = wallsOf(level);
    this.wide = COLUMN * motion.width;
    level.movers.forEach(({ name }, i) => this.sets.set(name, i + 1));
    const flat = half - full.body.bevel;
    const standing: BodySize = { half: half - full.body.bevel, flat, height: motion.height };
    const crouch = full.crouch === undefined ? undefined : { ...standing, height: Math.min(full.crouch.height, motion.height) };
    for (let set = 0; set <= level.movers.length; set++) {
      const tall = footing(level, motion, set, standing);
      for (const run of tall) this.add(set, 'ground', run, 0);
      if (crouch !== undefined) for (const run of footing(level, motion, set, crouch)) for (const part of besides(run, tall)) this.add(set, 'low', part, 0);
      if (full.ledge !== undefined) this.addLedges(set, full.ledge.hands, standing);
    }
  } // prettier-ignore

  private add(set: number, kind: PlaceKind, { xs, ys, edges }: Run, side: number): void {
    const { list, columns, everywhere, wide } = this;
    const key = fingerprint(Float64Array.from([set, KINDS.indexOf(kind), side, xs[0]! * KEY, ys[0]! * KEY, xs.at(-1)! * KEY, ys.at(-1)! * KEY], (part) => Math.floor(part + 0.5)));
    const place: Place = { id: list.length, key, set, kind, xs, ys, edges, side };
    list.push(place);
    const [from, to] = [Math.floor(xs[0]! / wide - 0.1), Math.floor(xs.at(-1)! / wide + 0.1)];
    if (to - from > MOST_COLUMNS) return void (everywhere[set] ??= []).push(place);
    for (let c = from; c <= to; c++) {
      const there = (columns[set] ??= new Map<number, Place[]>()).get(c);
      if (there) there.push(place);
      else columns[set].set(c, [place]);
    }
  } // prettier-ignore

  /** A body hangs with its side at the wall, and its hands as high as the corner. */
  private addLedges(set: number, hands: number, size: BodySize): void {
    const near = nearOf(this.motion);
    const { terrain } = this.level;
    for (const e of edgesOf(this.level, set)) {
      const side = terrain.nx[e] === -1 ? 1 : terrain.nx[e] === 1 ? -1 : 0;
      if (side === 0 || terrain.styles[terrain.style[e]!]!.noLedge) continue;
      const floor = side > 0 ? terrain.next[e]! : terrain.prev[e]!;
      if (floor < 0 || terrain.ny[floor] !== 1) continue;
      const x = terrain.x1[e]! - side * this.motion.half;
      const y = Math.max(terrain.y1[e]!, terrain.y2[e]!) - hands;
      if (!hasRoom(this.level, set, x, y, size, near)) continue;
      this.add(set, 'ledge', { xs: [x], ys: [y], edges: new Set([e]) }, side);
    }
  }

  /** Those that are at most so far away across, in their order. */
  beside(place: Place, far: number): Place[] {
    if (this.index === undefined) {
      this.index = new Flatbush(Math.max(1, this.list.length));
      for (const { xs } of this.list) this.index.add(xs[0]!, 0, xs.at(-1)!, 0);
      if (this.list.length === 0) this.index.add(0, 0, 0, 0);
      this.index.finish();
    }
    const found = this.index.search(place.xs[0]! - far, 0, place.xs.at(-1)! + far, 0);
    return found.sort((one, other) => one - other).flatMap((id) => this.list[id] ?? []);
  }
  private index: Flatbush | undefined;

  /**
   * The place at which a character is held up at this moment; undefined where it is held up by none.
   * @param before where it was just now: likely still there
   */
  under(who: Character, before?: Place): Place | undefined {
    const { support } = who;
    if (support !== 'ground' && support !== 'ledge') return undefined;
    const { level, motion, sets } = this;
    const { mover } = who;
    const sign = level.yPoints === 'up' ? 1 : -1;
    const isLow = who.height < motion.height;
    if (
      mover === '' &&
      before?.set === 0 &&
      before.kind === 'ground' &&
      before.ys.length === 2 &&
      before.ys[0] === before.ys[1] &&
      support === 'ground'
    ) {
      const { x } = who;
      if (who.y * sign === before.ys[0] && x >= before.xs[0]! && x <= before.xs[1]!) return before;
    }
    let { x, y } = who;
    if (mover !== '') [x, y] = who.aboard;
    return this.at(sets.get(mover)!, x, y * sign, support === 'ledge', isLow);
  }

  /** The place at feet that are held up, y up. */
  at(set: number, x: number, y: number, hangs: boolean, isLow: boolean): Place | undefined {
    const { columns, everywhere, wide, motion } = this;
    let best: Place | undefined;
    let nearest = OFF * motion.width + 1e-9;
    const look = (place: Place): void => {
      if ((place.kind === 'ledge') !== hangs || (place.kind === 'low' && !isLow)) return;
      const { xs } = place;
      const inside = Math.min(Math.max(x, xs[0]!), xs.at(-1)!);
      const off = Math.abs(y - heightOn(place, inside)) + Math.abs(x - inside);
      if (off < nearest) [best, nearest] = [place, off];
    };
    columns[set]?.get(Math.floor(x / wide))?.forEach(look);
    everywhere[set]?.forEach(look);
    return best;
  }
}

/** Places that are known already: of the same level and motion they are the same. */
const known = new WeakMap<CompiledLevel, WeakMap<Motion, Places>>();

/** The places of a level. */
export function placesOf(level: CompiledLevel, motion: Motion): Places {
  let by = known.get(level);
  if (by === undefined) known.set(level, (by = new WeakMap()));
  let places = by.get(motion);
  if (places === undefined) by.set(motion, (places = new Places(level, motion)));
  return places;
}

/** The parts of a run that are in none of the others: where a body must stay low. */
function besides({ xs, ys, edges }: Run, tall: readonly Run[]): Run[] {
  const run = { xs, ys, edges };
  const hides = tall
    .filter((other) => Math.max(xs[0]!, other.xs[0]!) <= Math.min(xs.at(-1)!, other.xs.at(-1)!))
    .filter((other) => {
      const x = Math.max(xs[0]!, other.xs[0]!);
      return Math.abs(heightOn(run, x) - heightOn(other, x)) < 1e-6;
    })
    .sort((one, other) => one.xs[0]! - other.xs[0]!);
  const parts: Run[] = [];
  let from = xs[0]!;
  const add = (left: number, right: number): void => void (right - left > 1e-9 && parts.push(part(run, left, right)));
  for (const other of hides) {
    add(from, other.xs[0]!);
    from = Math.max(from, other.xs.at(-1)!);
  }
  add(from, xs.at(-1)!);
  return parts;
}

function wallsOf(level: CompiledLevel): Wall[] {
  const { terrain } = level;
  const walls: Wall[] = [];
  for (const e of edgesOf(level, 0)) {
    const { [e]: faces } = terrain.nx;
    if (Math.abs(faces!) < 1 || terrain.oneWay[e] === 1 || terrain.styles[terrain.style[e]!]!.noWall) continue;
    const [one, other] = [terrain.y1[e]!, terrain.y2[e]!];
    walls.push({ x: terrain.x1[e]!, bottom: Math.min(one, other), top: Math.max(one, other), faces: faces! });
  }
  return walls.sort((one, other) => one.x - other.x);
}

/** How far apart two places are, across and up. */
export function farApart(one: Place, other: Place): number {
  const gap = Math.max(other.xs[0]! - one.xs.at(-1)!, one.xs[0]! - other.xs.at(-1)!, 0);
  return gap + Math.abs(other.ys[0]! - one.ys[0]!);
}
