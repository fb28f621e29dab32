import { CEILING, FLOOR, WALL_LEFT, WALL_RIGHT, type Terrain } from '../terrain/terrain.js';
import type { Near } from './near.js';
import { PX, PY, T, timeToX, timeToY, wayX, wayY, xAt, yAt } from './path.js';
import { slantedTouch } from './slanted.js';
import { better, type Hitbox } from './ties.js';

/**
 * The first edge that stops a body on its path, or −1.
 *
 * An edge stops motion into its front. The moment is the root at which the gap closes, on the path itself and not
 * on its chord. It counts only if the body's span overlaps the edge by more than `touch` at that moment; if the
 * overlap grows past `touch` while the body is still less than `touch` deep, the touch is at that moment.
 * Ties: the smaller time, then the most opposing normal, then floors and ceilings before walls, then the edge
 * nearest the middle of the feet. The order of the candidates never matters.
 *
 * @param p the path, see `path.ts`
 * @param at where the moment of the touch is stored: at[0], seconds from the path's start
 */
export function firstTouch(p: Float64Array, near: Near, box: Hitbox, at: Float64Array): number {
  const { half, height, touch } = box;
  const terrain = near.terrain;
  const { x1, y1, x2, y2, kind } = terrain;
  const x = p[PX]!;
  const y = p[PY]!;
  const endX = xAt(p, p[T]!);
  const endY = yAt(p, p[T]!);
  const left = (x < endX ? x : endX) - half;
  const right = (x > endX ? x : endX) + half;
  const bottom = y < endY ? y : endY;
  const top = (y > endY ? y : endY) + height;
  near.cover(left - touch, bottom - touch, right + touch, top + touch);
  const goX = wayX(p);
  const goY = wayY(p);
  // A body less than this far behind an edge still meets it. Twice `touch`, so that rounding at `touch` decides nothing.
  const behind = -2 * touch;
  const { ids, count } = near;
  let best = -1;
  at[0] = Infinity;
  for (let i = 0; i < count; i++) {
    const e = ids[i]!;
    switch (kind[e]) {
      case FLOOR: {
        const gap = y - y1[e]!;
        if (goY >= 0 || gap < behind || endY > y1[e]! || x2[e]! <= left || x1[e]! >= right) continue;
        const t = timeToY(p, gap, -1);
        if (t <= at[0]!) best = upright(p, terrain, e, best, t, x1[e]!, x2[e]!, half, goX, gap, y, touch, at);
        break;
      }
      case CEILING: {
        const gap = y1[e]! - (y + height);
        if (goY <= 0 || gap < behind || endY + height < y1[e]! || x1[e]! <= left || x2[e]! >= right) continue;
        const t = timeToY(p, gap, 1);
        if (t <= at[0]!) best = upright(p, terrain, e, best, t, x2[e]!, x1[e]!, half, goX, gap, y, touch, at);
        break;
      }
      case WALL_LEFT: {
        const gap = x1[e]! - (x + half);
        if (goX <= 0 || gap < behind || endX + half < x1[e]! || y1[e]! >= top || y2[e]! <= bottom) continue;
        const t = timeToX(p, gap, 1);
        if (t <= at[0]!) best = sideways(p, terrain, e, best, t, y1[e]!, y2[e]!, height, goY, gap, x, touch, at);
        break;
      }
      case WALL_RIGHT: {
        const gap = x - half - x1[e]!;
        if (goX >= 0 || gap < behind || endX - half > x1[e]! || y2[e]! >= top || y1[e]! <= bottom) continue;
        const t = timeToX(p, gap, -1);
        if (t <= at[0]!) best = sideways(p, terrain, e, best, t, y2[e]!, y1[e]!, height, goY, gap, x, touch, at);
        break;
      }
      default:
        best = slantedTouch(p, terrain, e, best, box, at);
    }
  }
  return best;
}

/** A floor or ceiling reached at `t`: does the body overlap it then, or soon enough after? */
function upright(
  p: Float64Array,
  terrain: Terrain,
  e: number,
  best: number,
  t: number,
  low: number,
  high: number,
  half: number,
  goX: number,
  gap: number,
  y: number,
  touch: number,
  at: Float64Array,
): number {
  const x = xAt(p, t);
  if (overlap(x - half, x + half, low, high) > touch) return better(p, terrain, e, best, t, at);
  // Coming in from the side: the moment at which the overlap has grown to `touch`.
  const need = goX > 0 ? low + touch - half - p[PX]! : goX < 0 ? p[PX]! - (high - touch + half) : NaN;
  if (!(need >= 0 && need <= Math.abs(xAt(p, p[T]!) - p[PX]!))) return best;
  const late = timeToX(p, need, goX);
  const depth = Math.abs(yAt(p, late) - y) - gap;
  return late >= t && late <= at[0]! && depth <= touch && high - low > touch
    ? better(p, terrain, e, best, late, at)
    : best;
}

/** The same for a wall. */
function sideways(
  p: Float64Array,
  terrain: Terrain,
  e: number,
  best: number,
  t: number,
  low: number,
  high: number,
  height: number,
  goY: number,
  gap: number,
  x: number,
  touch: number,
  at: Float64Array,
): number {
  const y = yAt(p, t);
  if (overlap(y, y + height, low, high) > touch) return better(p, terrain, e, best, t, at);
  const need = goY > 0 ? low + touch - height - p[PY]! : goY < 0 ? p[PY]! - (high - touch) : NaN;
  if (!(need >= 0 && need <= Math.abs(yAt(p, p[T]!) - p[PY]!))) return best;
  const late = timeToY(p, need, goY);
  const depth = Math.abs(xAt(p, late) - x) - gap;
  return late >= t && late <= at[0]! && depth <= touch && high - low > touch
    ? better(p, terrain, e, best, late, at)
    : best;
}

/** How much two spans share; negative for the distance between them. */
export function overlap(low: number, high: number, from: number, to: number): number {
  return (high < to ? high : to) - (low > from ? low : from);
}
