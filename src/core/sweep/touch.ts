import { CEILING, FLOOR, SLANTED, WALL_LEFT, WALL_RIGHT } from '../terrain/terrain.js';
import type { Hull } from './hull.js';
import type { Near } from './near.js';
import { AT_X, AT_Y, PX, PY, T, timeToX, timeToY, wayX, wayY, xAt, yAt } from './path.js';
import { cornerTouch, openEndTouch, slantedTouch, wallTop } from './slanted.js';
import { WHEN, better } from './ties.js';

/**
 * The first edge that stops a body on its path, or −1.
 *
 * An edge stops motion into its front. The moment is the root at which the gap closes, on the path itself and not
 * on its chord. It counts only if the body's span overlaps the edge by more than `touch` at that moment; if the
 * overlap grows past `touch` while the body is still less than `touch` deep, the touch is at that moment.
 * Ties: the smaller time, then the most opposing normal, then floors and ceilings before walls, then the edge
 * nearest the middle of the feet. The order of the candidates never matters.
 *
 * @param p the path, see `path.ts`, located at its end
 * @param found where the moment and the normal of the touch are stored, see `ties.ts`
 */
export function firstTouch(p: Float64Array, near: Near, hull: Hull, found: Float64Array): number {
  found[WHEN] = Infinity;
  const goX = wayX(p);
  const goY = wayY(p);
  if (goX === 0 && goY === 0) return -1;
  const { half, height, touch } = hull;
  const x = p[PX]!;
  const y = p[PY]!;
  const endX = p[AT_X]!;
  const endY = p[AT_Y]!;
  const left = (x < endX ? x : endX) - half;
  const right = (x > endX ? x : endX) + half;
  const bottom = y < endY ? y : endY;
  const top = (y > endY ? y : endY) + height;
  const asked = near.box;
  if (
    /* rule: the body asks again when it leaves its box */ left - touch < asked[0]! ||
    bottom - touch < asked[1]! ||
    right + touch > asked[2]! ||
    top + touch > asked[3]!
  ) {
    near.ask(left - touch, bottom - touch, right + touch, top + touch);
  }
  // A body less than this far behind an edge still meets it. Twice `touch`, so that rounding at `touch` decides nothing.
  const behind = 2 * touch;
  const { starts, ids, fixed, low, high } = near;
  let best = -1;
  if (goY !== 0) {
    const kind = /* rule: floors stop what goes down */ goY < 0 ? FLOOR : CEILING;
    // The level that the body's front edge sweeps: from where it is to where the piece ends.
    const from = goY < 0 ? y + behind : -(y + height) + behind;
    const to = goY < 0 ? endY : -(endY + height);
    for (let i = starts[kind]!; i < starts[kind + 1]!; i++) {
      const level = goY < 0 ? fixed[i]! : -fixed[i]!;
      if (
        /* rule: a level is met where it is swept */ level < to ||
        level > from ||
        low[i]! >= right ||
        high[i]! <= left ||
        ids[i] === near.pusher
      )
        continue;
      // One-way ground stops only what is above it; a body that is deeper came from below.
      if (
        goY < 0 &&
        (near.isDropped(near.terrain.piece[ids[i]!]!) || (level > y + touch && near.terrain.oneWay[ids[i]!] === 1))
      )
        continue;
      best = consider(p, near, i, kind, hull, best, found);
    }
  }
  if (goX !== 0) {
    const kind = /* rule: walls stop what goes right */ goX > 0 ? WALL_LEFT : WALL_RIGHT;
    const from = goX > 0 ? -(x + half) + behind : x - half + behind;
    const to = goX > 0 ? -(endX + half) : endX - half;
    for (let i = starts[kind]!; i < starts[kind + 1]!; i++) {
      const level = goX > 0 ? -fixed[i]! : fixed[i]!;
      if (level < to || level > from || low[i]! >= top || high[i]! <= bottom || ids[i] === near.pusher) continue;
      best = consider(p, near, i, kind, hull, best, found);
    }
  }
  const { y1, x2, y2, piece } = near.terrain;
  for (let i = starts[SLANTED]!; i < starts[SLANTED + 1]!; i++) {
    const e = ids[i]!;
    if (
      /* rule: slanted edges are swept where they are */ low[i]! > right + touch ||
      high[i]! < left - touch ||
      e === near.support ||
      e === near.support2
    )
      continue;
    if (near.isDropped(piece[e]!) || e === near.pusher) continue;
    const up = y2[e]! > y1[e]!;
    if ((up ? y1[e]! : y2[e]!) > top + touch || (up ? y2[e]! : y1[e]!) < bottom - touch) continue;
    best = slantedTouch(p, near, e, best, hull, found);
    best = openEndTouch(p, near, e, best, hull, found);
  }
  for (let i = 0; i < near.jointCount; i++) {
    const e = near.joints[i]!;
    const x = x2[e]!;
    const y = y2[e]!;
    if (
      /* rule: corners are swept where they are */ x > right + touch ||
      x < left - touch ||
      y > top + touch ||
      y < bottom - touch
    )
      continue;
    if (near.isDropped(piece[e]!) || e === near.joint || e === near.pusherJoint) continue;
    best = cornerTouch(p, near, e, best, hull, found);
  }
  return best;
}

/** A level or upright edge whose line the body's front reaches: does the body overlap it then, or soon enough after? */
function consider(
  p: Float64Array,
  near: Near,
  i: number,
  kind: number,
  hull: Hull,
  best: number,
  found: Float64Array,
): number {
  const line = near.fixed[i]!;
  const { half, height, flat, side, touch } = hull;
  const level = kind === FLOOR || kind === CEILING;
  const low = near.low[i]!;
  const high = level ? near.high[i]! : near.high[i]! + wallTop(near, near.ids[i]!, hull);
  const gap =
    kind === FLOOR
      ? p[PY]! - line
      : kind === CEILING
        ? line - (p[PY]! + height)
        : kind === WALL_LEFT
          ? line - (p[PX]! + half)
          : p[PX]! - half - line;
  const t = level ? timeToY(p, gap, kind === FLOOR ? -1 : 1) : timeToX(p, gap, kind === WALL_LEFT ? 1 : -1);
  if (t > found[WHEN]!) return best;
  const nx = level ? 0 : kind === WALL_LEFT ? -1 : 1;
  const ny = level ? (kind === FLOOR ? 1 : -1) : 0;
  // The span that must overlap the edge: the face of the body that meets it, from either end of it, so that mirror images stay mirror images.
  const reachLow = kind === FLOOR ? -flat : level ? -half : side;
  const reachHigh = kind === FLOOR ? flat : level ? half : height;
  const place = level ? xAt(p, t) : yAt(p, t);
  if (overlap(place + reachLow, place + reachHigh, low, high) > touch)
    return better(p, near.terrain, near.ids[i]!, best, t, nx, ny, found);
  // Coming in from the side: the moment at which the overlap has grown to `touch`.
  if (high - low <= touch) return best;
  const way = level ? wayX(p) : wayY(p);
  const start = level ? p[PX]! : p[PY]!;
  const need = way > 0 ? low + touch - (start + reachHigh) : start + reachLow - (high - touch);
  const most = Math.abs(level ? xAt(p, p[T]!) - p[PX]! : yAt(p, p[T]!) - p[PY]!);
  if (way === 0 || !(need >= 0 && need <= most)) return best;
  const late = level ? timeToX(p, need, way) : timeToY(p, need, way);
  const depth = Math.abs(level ? yAt(p, late) - p[PY]! : xAt(p, late) - p[PX]!) - gap;
  // A little more than `touch` is put right where it stops: a body that got past here would get through.
  if (late < t || depth > 2 * touch) return best;
  return better(p, near.terrain, near.ids[i]!, best, late, nx, ny, found);
}

/** How much two spans share; negative for the distance between them. */
export function overlap(low: number, high: number, from: number, to: number): number {
  return (high < to ? high : to) - (low > from ? low : from);
}
