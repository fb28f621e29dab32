import { TIME } from '../stage/time.js';
import { SEEN_X, SEEN_Y, lookAt } from '../body/sight.js';
import { MX, MY } from '../movers/moving.js';
import type { Character } from '../stage/character.js';
import { HEIGHT } from '../state/layout.js';
import { Found, findAlong } from '../terrain/find.js';
import { showValue } from '../tuning/words.js';
import { checkPair } from './area.js';
import { type FoundKind, type OverlapList, checkKinds, kindOf, overlap } from './overlap.js';
import { type Sight, counts, isSetThere, layerBits, offsetOf } from './sight.js';

/** The first thing in the way. */
export interface Touch {
  kind: FoundKind;
  /** Where it is met, in the level's own axes, units; of a box that is moved the corner nearest the origin. */
  x: number;
  y: number;
  /** Unit normal of what is met, pointing back; both are 0 where it is met from within. */
  normalX: number;
  normalY: number;
  /** How far that is from the start, units. */
  distance: number;
  /** Of a box that is thrown: when, s from the start; else 0. */
  time: number;
  /** Whether it starts within something solid. */
  inside: boolean;
  /** The name of a shape or a character; empty for a shape without one. */
  name: string;
  /** The mover that it belongs to; empty for what stands still. */
  mover: string;
  surface: string;
  layer: string;
  character: Character | undefined;
}

export const touch = (): Touch => ({
  kind: 'solid',
  // No whole numbers, so that they are kept as what they will be.
  x: 0.5,
  y: 0.5,
  normalX: 0.5,
  normalY: 0.5,
  distance: 0.5,
  time: 0.5,
  inside: false,
  name: '',
  mover: '',
  surface: '',
  layer: '',
  character: undefined,
});

/** What is asked along a line. */
export interface RayOptions {
  /** Only shapes of these layers; an empty name is that of what has none. */
  layers?: readonly string[] | undefined;
  /** Only these; all solid things unless given. Zones are in nobody's way. */
  kinds?: readonly FoundKind[] | undefined;
  /** Characters that are in the way too; none unless given. */
  characters?: readonly Character[] | undefined;
}

/** Where a ray ends: at a point, or so far in a direction. */
export type RayEnd =
  readonly [number, number] | { readonly direction: readonly [number, number]; readonly length: number };

const found = new Found();
const within: OverlapList = { count: 0, found: [] };
const POINT = { x: 0.5, y: 0.5, radius: 1e-9 };
const SOLID = { kinds: ['solid'] as const, layers: undefined as readonly string[] | undefined };

/**
 * The first thing that a straight line meets; undefined where its way is free. What blocks from one side only is met from that side only.
 * @param into an answer to be used again: then nothing is allocated
 * @throws RangeError naming an argument that is out of range
 */
export function ray(
  sight: Sight,
  from: readonly [number, number],
  to: RayEnd,
  options: RayOptions = NO_OPTIONS,
  into: Touch = touch(),
): Touch | undefined {
  const { level } = sight;
  const up = level.yPoints === 'up' ? 1 : -1;
  checkPair('from', from);
  const x = from[0];
  const y = from[1] * up;
  let bx: number;
  let by: number;
  if (isPoint(to)) {
    checkPair('to', to);
    bx = to[0];
    by = to[1] * up;
  } else {
    const { direction, length } = to;
    checkPair('direction', direction);
    const size = Math.sqrt(direction[0] * direction[0] + direction[1] * direction[1]);
    if (!(size > 0)) throw new RangeError('direction is 0, 0; it must point somewhere');
    if (!(length >= 0 && length < Infinity))
      throw new RangeError(`length is ${showValue(length)}; it must be at least 0`);
    bx = x + (direction[0] / size) * length;
    by = y + (direction[1] / size) * length * up;
  }
  if (options.kinds !== undefined) checkKinds(options.kinds);
  const layers = layerBits(level, options.layers);
  POINT.x = x;
  POINT.y = from[1];
  SOLID.layers = options.layers;
  into.inside = false;
  into.time = 0;
  const mayBeInside = options.kinds === undefined || options.kinds.includes('solid');
  if (mayBeInside) overlap(sight, POINT, SOLID, within);
  if (mayBeInside && within.count > 0) {
    const [solid] = within.found;
    into.kind = 'solid';
    into.inside = true;
    into.x = from[0] + 0;
    into.y = from[1] + 0;
    into.normalX = into.normalY = into.distance = 0;
    into.name = solid!.name;
    into.mover = solid!.mover;
    into.layer = solid!.layer;
    into.surface = '';
    into.character = undefined;
    return into;
  }
  line[0] = x;
  line[1] = y;
  line[2] = bx;
  line[3] = by;
  first[0] = Infinity;
  for (let set = 0; set <= level.movers.length; set++)
    if (isSetThere(sight, set)) alongSet(sight, set, layers, options.kinds, into);
  if (options.characters !== undefined) alongCharacters(sight, options.characters, into);
  const share = first[0]!;
  if (share === Infinity) return undefined;
  const dx = bx - x;
  const dy = by - y;
  into.x = x + share * dx + 0;
  into.y = (y + share * dy) * up + 0;
  into.normalY = into.normalY * up + 0;
  into.distance = share * Math.sqrt(dx * dx + dy * dy);
  return into;
}

/** The line that is asked about, y up: x1, y1, x2, y2; the same as a set sees it; and the share of it up to the first touch. */
const line = new Float64Array(4);
const seen = new Float64Array(4);
const first = new Float64Array(1);

const NO_OPTIONS: RayOptions = {};

function isPoint(to: RayEnd): to is readonly [number, number] {
  return Array.isArray(to);
}

/** Describes an edge in an answer. */
export function describeEdge({ level }: Sight, e: number, into: Touch): void {
  const { terrain } = level;
  const { shape, layer, surface } = terrain.styles[terrain.style[e]!]!;
  const set = terrain.set[e]!;
  into.kind = kindOf(terrain.form[e]!);
  into.name = shape < 0 ? '' : level.shapes[shape]!;
  into.mover = set > 0 ? level.movers[set - 1]!.name : '';
  into.layer = level.layers[layer]!;
  into.surface = level.surfaces[surface]!.name;
  into.character = undefined;
}

function alongSet(
  sight: Sight,
  set: number,
  layers: number,
  kinds: readonly FoundKind[] | undefined,
  into: Touch,
): void {
  const { level, off } = sight;
  const { terrain } = level;
  seen.set(line);
  if (set > 0) {
    const by = offsetOf(sight, set);
    seen[0]! -= by[MX]!;
    seen[1]! -= by[MY]!;
    seen[2]! -= by[MX]!;
    seen[3]! -= by[MY]!;
  }
  findAlong(terrain, set, seen, found);
  const ax = seen[0]!;
  const ay = seen[1]!;
  const dx = seen[2]! - ax;
  const dy = seen[3]! - ay;
  const { x1, y1, x2, y2, nx, ny, form, style, styles } = terrain;
  for (let i = 0; i < found.count; i++) {
    const e = found.ids[i]!;
    const against = nx[e]! * dx + ny[e]! * dy;
    if (!(against < 0) || !counts(styles[style[e]!]!, off, layers)) continue;
    if (kinds !== undefined && !kinds.includes(kindOf(form[e]!))) continue;
    const t = (nx[e]! * (x1[e]! - ax) + ny[e]! * (y1[e]! - ay)) / against;
    if (!(t >= 0 && t <= 1 && t < first[0]!)) continue;
    // Where along the edge: both ends belong to it, so that nothing passes through a joint.
    const ex = x2[e]! - x1[e]!;
    const ey = y2[e]! - y1[e]!;
    const along = (ax + t * dx - x1[e]!) * ex + (ay + t * dy - y1[e]!) * ey;
    const slack = 1e-12 * (ex * ex + ey * ey);
    if (along < -slack || along > ex * ex + ey * ey + slack) continue;
    first[0] = t;
    describeEdge(sight, e, into);
    into.normalX = nx[e]! + 0;
    into.normalY = ny[e]! + 0;
  }
}

/** A character's hitbox: left, bottom, right, top. And the normal of the side that was come in by. */
const hitbox = new Float64Array(4);
const entered = new Float64Array(2);

function alongCharacters({ cast, clock }: Sight, only: readonly Character[], into: Touch): void {
  for (let i = 0; i < cast.bodies.length; i++) {
    const who = cast.characters[i]!;
    if (!only.includes(who)) continue;
    const body = cast.bodies[i]!;
    const place = lookAt(body, clock[TIME]!);
    hitbox[0] = place[SEEN_X]! - body.hull.half;
    hitbox[1] = place[SEEN_Y]!;
    hitbox[2] = place[SEEN_X]! + body.hull.half;
    hitbox[3] = place[SEEN_Y]! + body.s[HEIGHT]!;
    const inside = line[0]! > hitbox[0] && line[0]! < hitbox[2] && line[1]! > hitbox[1] && line[1]! < hitbox[3];
    if (inside) {
      first[0] = 0;
      entered.fill(0);
    } else if (!comesIn()) continue;
    into.kind = 'character';
    into.inside = inside;
    into.name = body.name;
    into.mover = into.layer = into.surface = '';
    into.character = who;
    into.normalX = entered[0]!;
    into.normalY = entered[1]!;
  }
}

/** Whether the line comes into the hitbox before anything else: then `first` says where. */
function comesIn(): boolean {
  const dx = line[2]! - line[0]!;
  const dy = line[3]! - line[1]!;
  let from = -Infinity;
  let until = 1;
  let side = 0;
  for (let i = 0; i < 4; i++) {
    // Left, bottom, right, top: how far outside of each the line begins, and how fast it goes out.
    const out = i < 2 ? -1 : 1;
    const gap = (i % 2 === 0 ? hitbox[i]! - line[0]! : hitbox[i]! - line[1]!) * -out;
    const gain = (i % 2 === 0 ? dx : dy) * out;
    if (gain === 0) {
      if (gap >= 0) return false;
    } else if (gain < 0) {
      if (gap / -gain > from) {
        from = gap / -gain;
        side = i;
      }
    } else if (-gap / gain < until) until = -gap / gain;
  }
  if (!(from >= 0 && from < until && from < first[0]!)) return false;
  first[0] = from;
  entered[0] = side % 2 === 0 ? side - 1 : 0;
  entered[1] = side % 2 === 1 ? side - 2 : 0;
  return true;
}
