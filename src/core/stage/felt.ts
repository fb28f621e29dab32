import { countEntangled } from '../contact/crush.js';
import type { CompiledMover } from '../movers/mover.js';
import { MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { HIT, MET, METS, NOW } from '../state/clock.js';
import { BUMPED, COUNTED_WALL, DROPPED, DROPS, EDGE, FRAME, GRIP, HEIGHT, HOLDS_UP, MEETS, MOVER_SLOTS, X, Y } from '../state/layout.js'; // prettier-ignore
import { ALL_TOUCHES } from '../state/touches.js';
import { PX, PY, T, xAt, yAt } from '../sweep/path.js';
import { Found, findEdges } from '../terrain/find.js';
import type { Cut } from '../terrain/recut.js';

/** Where in a body's numbers edges are, and how much more than its number stands there. */
export function slotsOf(
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
export function holdsAny(body: Body, isOne: (edge: number) => boolean): boolean {
  return slotsOf(body, body.s, 0).some(([slot, more]) => body.s[slot]! >= more && isOne(body.s[slot]! - more));
}

/** Whether a body touches a box. */
export function reaches(body: Body, [left, bottom, right, top]: Cut): boolean {
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
export function mayReach(body: Body, [left, bottom, right, top]: Cut): boolean {
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

/** What a mover may come to, wherever it is on its way: anything, where the game moves it. */
export function wayOf({ route, box }: CompiledMover): Cut {
  if (route === undefined) return [-Infinity, -Infinity, Infinity, Infinity];
  const way = route.box;
  return [box[0] + way[0], box[1] + way[1], box[2] + way[2], box[3] + way[3]];
}

/** A mover that waits because of an edge that is no longer what it was waits no more. */
export function freeMovers(body: Body, changed: ReadonlySet<number>): void {
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

const found = new Found();

/** Through which one-way ground a body drops: whatever it overlaps. */
export function dropAnew(body: Body): void {
  const { s, frame, terrain } = body;
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

/** A body has to do no more with edges that are gone. */
export function forgetGone(body: Body): void {
  const { gone } = body.terrain;
  for (const [slot, more] of slotsOf(body, body.s, 0)) {
    const edge = body.s[slot]! - more;
    if (edge >= 0 && gone![edge] === 1) body.s[slot] = more - 1;
  }
  for (let i = 0; i < DROPS; i++) body.dropped[i] = body.s[DROPPED + i]! - 1;
}
