import { listOf } from '../nearest.js';
import { TIME } from '../stage/time.js';
import { SEEN_X, SEEN_Y, lookAt } from '../body/sight.js';
import { MX, MY } from '../movers/moving.js';
import type { Character } from '../stage/character.js';
import { HEIGHT } from '../state/layout.js';
import { CLOSED, LINE, ONE_WAY } from '../terrain/edges.js';
import { Found, findEdges } from '../terrain/find.js';
import type { Terrain } from '../terrain/terrain.js';
import { type Area, meetsPatch, meetsEdge, patch, readArea, setBox } from './area.js';
import { type Sight, counts, isSetThere, layerBits, offsetOf } from './sight.js';

/** What can be found: closed shapes; lines that block from above, and can be dropped through or not, or from both sides; zones; characters. */
export const FOUND_KINDS = ['solid', 'ground', 'one-way', 'line', 'zone', 'character'] as const;
/**
 * What can be found in an area.
 * @example
 * ```ts
 * mill.overlap({ x: 0, y: 0, width: 2, height: 2 }, { kinds: ['solid', 'zone'] });
 * ```
 */
export type FoundKind = (typeof FOUND_KINDS)[number];

/** Something that an area overlaps. */
export interface Overlap {
  kind: FoundKind;
  /** The name of a shape, a zone or a character; empty for a shape without one. */
  name: string;
  /** The mover that a shape belongs to; empty for what stands still. */
  mover: string;
  /** The layer of a shape; empty for that without a name. */
  layer: string;
  character: Character | undefined;
}

/** What is asked of an area. */
export interface OverlapOptions {
  /** Only shapes of these layers; an empty name is that of what has none. */
  layers?: readonly string[] | undefined;
  /** Only these; all unless given. */
  kinds?: readonly FoundKind[] | undefined;
  /** Only these characters; all who are there unless given, none for an empty list. */
  characters?: readonly Character[] | undefined;
}

/** An answer that is used again: of the list, so many entries count. */
export interface OverlapList {
  count: number;
  readonly found: Overlap[];
}

/**
 * What an area overlaps: to touch it is not enough. Each shape is listed once for each of its kinds and layers (all without a name count as one), then zones, then
 * characters by their hitbox.
 * @param into an answer to be used again: then nothing is allocated, and of the list that is returned the first `into.count` entries count
 * @throws RangeError naming an argument that is out of range
 */
export function overlap(
  sight: Sight,
  area: Area,
  options: OverlapOptions = NO_OPTIONS,
  into: OverlapList = { count: 0, found: [] },
): Overlap[] {
  const { level } = sight;
  readArea(area, level.yPoints === 'up' ? 1 : -1, asked);
  const { kinds } = options;
  if (kinds !== undefined) checkKinds(kinds);
  list = into.found;
  count = 0;
  if (kinds === undefined || kinds.some(isShape)) {
    const layers = layerBits(level, options.layers);
    for (let set = 0; set <= level.movers.length; set++)
      if (isSetThere(sight, set)) addShapes(sight, set, layers, kinds);
  }
  if (isWanted(kinds, 'zone')) addZones(sight);
  if (isWanted(kinds, 'character')) addCharacters(sight, options.characters);
  into.count = count;
  return list;
}

const NO_OPTIONS: OverlapOptions = {};

/** The area that is asked about, the list that the answer goes into, how many entries that has so far, and from where those of the present set are. */
const asked = patch();
let list: Overlap[] = [];
let count = 0;
let since = 0;

function isWanted(kinds: readonly FoundKind[] | undefined, kind: FoundKind): boolean {
  return kinds === undefined || kinds.includes(kind);
}

function isShape(kind: FoundKind): boolean {
  return kind !== 'zone' && kind !== 'character';
}

export function checkKinds(kinds: readonly string[]): void {
  for (let i = 0; i < kinds.length; i++)
    if (!(FOUND_KINDS as readonly string[]).includes(kinds[i]!))
      throw new RangeError(`there is no kind ${kinds[i]}; there are ${listOf(FOUND_KINDS, kinds[i]!)}`);
}

/** What a form of edge is called. */
export function kindOf(form: number): FoundKind {
  return form === CLOSED ? 'solid' : form === ONE_WAY ? 'one-way' : form === LINE ? 'line' : 'ground';
}

/** Adds what was found, unless it is there already. */
function add(kind: FoundKind, name: string, mover: string, layer: string, character: Character | undefined): void {
  for (let i = since; i < count; i++) {
    const one = list[i]!;
    if (one.kind === kind && one.name === name && one.layer === layer && one.character === character) return;
  }
  let one = list[count];
  if (one === undefined) {
    one = { kind, name, mover, layer, character };
    list.push(one);
  }
  count++;
  one.kind = kind;
  one.name = name;
  one.mover = mover;
  one.layer = layer;
  one.character = character;
}

const found = new Found();
const box = new Float64Array(4);

function addEdge({ level }: Sight, e: number, kinds: readonly FoundKind[] | undefined): void {
  const { terrain, movers } = level;
  const kind = kindOf(terrain.form[e]!);
  if (!isWanted(kinds, kind)) return;
  const { shape, layer } = terrain.styles[terrain.style[e]!]!;
  const set = terrain.set[e]!;
  add(
    kind,
    shape < 0 ? '' : level.shapes[shape]!,
    set > 0 ? movers[set - 1]!.name : '',
    level.layers[layer]!,
    undefined,
  );
}

function addShapes(sight: Sight, set: number, layers: number, kinds: readonly FoundKind[] | undefined): void {
  const { level, off } = sight;
  const { terrain } = level;
  if (set > 0) shift(offsetOf(sight, set), -1);
  since = count;
  const { x1, y1, nx, ny, style, styles } = terrain;
  box[0] = asked.left;
  box[1] = asked.bottom;
  box[2] = asked.right;
  box[3] = asked.top;
  findEdges(terrain, set, box, found);
  for (let i = 0; i < found.count; i++) {
    const e = found.ids[i]!;
    if (!counts(styles[style[e]!]!, off, layers)) continue;
    // Beyond a bound everything is solid.
    const isBeyond = isBound(terrain, e) && nx[e]! * (asked.x - x1[e]!) + ny[e]! * (asked.y - y1[e]!) < 0;
    if (isBeyond || meetsEdge(asked, terrain, e)) addEdge(sight, e, kinds);
  }
  if (isWanted(kinds, 'solid')) addAround(sight, set, layers, kinds);
  if (set > 0) shift(sight.moving!.at, 1);
}

/** How many solids of each named shape, and of all without a name, are around a point. */
let around = new Int32Array(16);

/** Adds the solids that the area's middle is in: no border of theirs need pass through it. */
function addAround(sight: Sight, set: number, layers: number, kinds: readonly FoundKind[] | undefined): void {
  const { level, off } = sight;
  const { terrain } = level;
  const { ny, style, styles } = terrain;
  if (around.length <= level.shapes.length) around = new Int32Array(2 * level.shapes.length + 2);
  around.fill(0, 0, level.shapes.length + 1);
  box[0] = box[2] = asked.x;
  box[1] = asked.y;
  box[3] = Infinity;
  findEdges(terrain, set, box, found);
  for (let i = 0; i < found.count; i++) {
    const e = found.ids[i]!;
    if (isOver(terrain, e)) around[styles[style[e]!]!.shape + 1]! += ny[e]! > 0 ? 1 : -1;
  }
  for (let i = 0; i < found.count; i++) {
    const e = found.ids[i]!;
    const { shape } = styles[style[e]!]!;
    // The nearest border above says what it is within.
    if (!(ny[e]! > 0) || around[shape + 1]! <= 0 || !counts(styles[style[e]!]!, off, layers)) continue;
    if (isOver(terrain, e) && isLowest(terrain, e)) addEdge(sight, e, kinds);
  }
}

/** Whether an edge is one of the level's bounds. */
function isBound({ boundsFrom, setUntil }: Terrain, e: number): boolean {
  return e >= boundsFrom && e < setUntil[0]!;
}

/** Whether the border of a solid passes straight over the area's middle: its left end belongs to it, its right end does not. */
function isOver(terrain: Terrain, e: number): boolean {
  const { form, x1, x2, y1, y2 } = terrain;
  if (form[e] !== CLOSED || isBound(terrain, e)) return false;
  const left = x1[e]! < x2[e]! ? x1[e]! : x2[e]!;
  const right = x1[e]! < x2[e]! ? x2[e]! : x1[e]!;
  const { x, y } = asked;
  return x >= left && x < right && y1[e]! + ((x - x1[e]!) / (x2[e]! - x1[e]!)) * (y2[e]! - y1[e]!) > y;
}

/** Whether nothing else of its shape that passes over the area's middle is lower. */
function isLowest(terrain: Terrain, e: number): boolean {
  const { x1, y1, x2, y2, style, styles } = terrain;
  const { x } = asked;
  const height = y1[e]! + ((x - x1[e]!) / (x2[e]! - x1[e]!)) * (y2[e]! - y1[e]!);
  for (let i = 0; i < found.count; i++) {
    const f = found.ids[i]!;
    if (f === e || styles[style[f]!]!.shape !== styles[style[e]!]!.shape || !isOver(terrain, f)) continue;
    if (y1[f]! + ((x - x1[f]!) / (x2[f]! - x1[f]!)) * (y2[f]! - y1[f]!) < height) return false;
  }
  return true;
}

/** Moves the area by an offset, there or back. */
function shift(by: Float64Array, way: number): void {
  const dx = way * by[MX]!;
  const dy = way * by[MY]!;
  for (let i = 0; i < asked.length; i += 2) {
    asked.corners[i]! += dx;
    asked.corners[i + 1]! += dy;
  }
  asked.x += dx;
  asked.y += dy;
  asked.left += dx;
  asked.right += dx;
  asked.bottom += dy;
  asked.top += dy;
}

function addZones({ level, zonesOff }: Sight): void {
  since = count;
  for (let i = 0; i < level.zones.length; i++) {
    if (zonesOff[i] === 1) continue;
    const { pieces, name } = level.zones[i]!;
    for (let k = 0; k < pieces.length; k++) {
      const { corners, left, bottom, right, top } = pieces[k]!;
      if (left >= asked.right || right <= asked.left || bottom >= asked.top || top <= asked.bottom) continue;
      if (meetsPatch(asked, corners, corners.length)) add('zone', name, '', '', undefined);
    }
  }
}

const hitbox = patch();

function addCharacters({ cast, clock }: Sight, only: readonly Character[] | undefined): void {
  since = count;
  for (let i = 0; i < cast.bodies.length; i++) {
    const who = cast.characters[i]!;
    if (only !== undefined && !only.includes(who)) continue;
    const body = cast.bodies[i]!;
    const place = lookAt(body, clock[TIME]!);
    const { half } = body.hull;
    hitbox.left = place[SEEN_X]! - half;
    hitbox.right = place[SEEN_X]! + half;
    hitbox.bottom = place[SEEN_Y]!;
    hitbox.top = place[SEEN_Y]! + body.s[HEIGHT]!;
    setBox(hitbox);
    if (meetsPatch(asked, hitbox.corners, hitbox.length)) add('character', body.name, '', '', who);
  }
}
