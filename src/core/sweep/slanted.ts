import { ALONG, LAST_PLACES, SAME_MOMENT, STRAIGHT, TIP } from '../tolerance.js';
import { SLANTED, type Terrain } from '../terrain/terrain.js';
import { type Hull, foremost, liesOn } from './hull.js';
import type { Near } from './near.js';
import { AT_X, AT_Y, D, DY, EAX, LINK, PAX, PAY, PJY, PX, PY, RATE, T, U, UY, vxAt, vyAt, wayX, wayY, xAt, yAt } from './path.js'; // prettier-ignore
import { roots, rootsOfGap, turnOfGap } from './roots.js';
import { WHEN, better } from './ties.js';

/**
 * A slanted edge against a body. Along the edge's normal n the body's foremost point is one of its corners, so the
 * gap is n·(o(t) + corner − a), and the touch is its first root with n·v < 0 at which that corner lies over the
 * edge; where a face of the body is parallel to the edge, some of that face must. Places are measured from the edge's upper end,
 * so that mirror images stay mirror images.
 */
export function slantedTouch(
  p: Float64Array,
  near: Near,
  e: number,
  best: number,
  hull: Hull,
  found: Float64Array,
): number {
  const { terrain } = near;
  const nx = terrain.nx[e]!;
  const ny = terrain.ny[e]!;
  const { corners, touch } = hull;
  const first = foremost(hull, nx, ny);
  const rises = terrain.y2[e]! > terrain.y1[e]!;
  // The place of the origin at which that corner is at the edge's upper end.
  const ax = (rises ? terrain.x2[e]! : terrain.x1[e]!) - corners[first]!;
  const ay = (rises ? terrain.y2[e]! : terrain.y1[e]!) - corners[first + 1]!;
  const gap = nx * (p[PX]! - ax) + ny * (p[PY]! - ay);
  // One-way ground stops only what is above it.
  if (terrain.oneWay[e] === 1 && (ny <= 0 || gap < -touch)) return best;
  const t = closing(p, nx, ny, gap, 2 * touch);
  if (!(t <= p[T]! && t <= found[WHEN]!)) return best;
  const dx = terrain.x2[e]! - terrain.x1[e]!;
  const dy = terrain.y2[e]! - terrain.y1[e]!;
  const length = ny * dx - nx * dy;
  // Down along the edge, from its upper end: where the foremost corner is, and how far a parallel face reaches beyond it.
  const down = rises ? -1 : 1;
  const place = down * (ny * (xAt(p, t) - ax) - nx * (yAt(p, t) - ay));
  let low = place;
  let high = place;
  for (let i = 0; i < corners.length; i += 2) {
    if (i === first || !liesOn(hull, first, i, nx, ny)) continue;
    const beyond = place + down * (ny * (corners[i]! - corners[first]!) - nx * (corners[i + 1]! - corners[first + 1]!));
    if (beyond < low) low = beyond;
    if (beyond > high) high = beyond;
  }
  const most = endsBelow(terrain, e) ? length - touch / TIP : length + touch;
  const start = endsThere(terrain, e, true) ? touch / TIP : -touch;
  if (/* rule: a touch lies over the edge */ high >= start && low <= most)
    return better(p, terrain, e, best, t, nx, ny, found);
  // Coming in over one of its ends, while hardly behind it yet.
  const tx = -down * ny;
  const ty = down * nx;
  const bound = high < start ? start - (high - place) : most - (low - place);
  const late = lateTouch(p, nx, ny, gap, tx, ty, tx * (p[PX]! - ax) + ty * (p[PY]! - ay) + bound, t, touch);
  return late < Infinity ? better(p, terrain, e, best, late, nx, ny, found) : best;
}

/** Whether a face that looks up is open, or a tip, at its lower end: a body that hardly overlaps that passes it. */
export function endsBelow(terrain: Terrain, e: number): boolean {
  return endsThere(terrain, e, false);
}

/**
 * Whether a face that looks up ends openly, or in a corner that stands out, above or below. What lies over such an end is met by the corner,
 * not by the edge. (Where it goes on in a hollow, what comes next stops the body; where it goes on level, both meet it.)
 */
function endsThere({ y1, y2, nx, ny, prev, next }: Terrain, e: number, above: boolean): boolean {
  if (ny[e]! <= 0) return false;
  const goesOn = y2[e]! > y1[e]! === above;
  const other = goesOn ? next[e]! : prev[e]!;
  if (other < 0) return true;
  if (above && ny[other] === 1) return false;
  const turn = nx[other]! * ny[e]! - ny[other]! * nx[e]!;
  // A line turns right back.
  if (nx[other]! * nx[e]! + ny[other]! * ny[e]! < 0 && Math.abs(turn) < STRAIGHT) return true;
  return goesOn ? turn > 0 : turn < 0;
}

/**
 * How much further up a wall is met than where its edge ends, less `touch`: below the tip of a slope, what hardly overlaps it already. Else a
 * body in the air that comes down over the tip would be behind both before it meets either.
 */
export function wallTop({ terrain, inAir }: Near, wall: number, { side, touch }: Hull): number {
  if (!inAir || side > 0) return 0;
  const { nx, prev, next, kind } = terrain;
  const above = nx[wall]! < 0 ? next[wall]! : prev[wall]!;
  return above >= 0 && kind[above] === SLANTED && endsBelow(terrain, above) ? touch - touch / TIP : 0;
}

/**
 * When a body that has come behind the line of a surface beside it comes to lie over it: if it is then no deeper than `touch`, and still
 * going in. Infinity where it does not.
 * @param tx, ty the way along the surface, and how far it is until the body lies over it
 */
function lateTouch(
  p: Float64Array,
  nx: number,
  ny: number,
  gap: number,
  tx: number,
  ty: number,
  off: number,
  from: number,
  touch: number,
): number {
  const count = rootsOfGap(p, tx, ty, off);
  for (let i = 0; i < count; i++) {
    const t = roots[i]!;
    if (t < from - SAME_MOMENT) continue;
    const depth = -(gap + nx * (xAt(p, t) - p[PX]!) + ny * (yAt(p, t) - p[PY]!));
    if (depth <= touch && depth >= -touch && nx * vxAt(p, t) + ny * vyAt(p, t) < 0) return t > from ? t : from;
  }
  return Infinity;
}

/**
 * The corner at an edge's end against the faces of a body. A face can meet it only if its direction lies inside the
 * cone of normals of the joint: between those of the two edges.
 */
export function cornerTouch(
  p: Float64Array,
  near: Near,
  e: number,
  best: number,
  hull: Hull,
  found: Float64Array,
): number {
  const { terrain } = near;
  const next = terrain.next[e]!;
  if (next < 0) return best;
  const ex = terrain.nx[e]!;
  const ey = terrain.ny[e]!;
  const fx = terrain.nx[next]!;
  const fy = terrain.ny[next]!;
  // With the open side on the left, a solid corner turns right; a line turns right back.
  const cross = ex * fy - ey * fx;
  if (cross > 0 || (cross === 0 && ex * fx + ey * fy > 0)) return best;
  const { corners } = hull;
  for (let i = 0; i < corners.length; i += 2) {
    const k = (i + 2) % corners.length;
    const sx = corners[k]! - corners[i]!;
    const sy = corners[k + 1]! - corners[i + 1]!;
    const length = Math.sqrt(sx * sx + sy * sy);
    // The normal of the touch is the face's own, turned round.
    const nx = -sy / length + 0;
    const ny = sx / length + 0;
    if (/* rule: a cone of normals limits a corner */ ex * ny - ey * nx >= 0 || nx * fy - ny * fx >= 0) continue;
    best = pointTouch(p, near, e, best, hull, i, nx, ny, terrain.x2[e]!, terrain.y2[e]!, found);
  }
  return best;
}

/** The upper end of one-sided ground that is joined to nothing: it can be stood on, never hit from the side. */
export function openEndTouch(
  p: Float64Array,
  near: Near,
  e: number,
  best: number,
  hull: Hull,
  found: Float64Array,
): number {
  const { x1, y1, x2, y2, prev, next, ny, oneWay } = near.terrain;
  if (ny[e]! <= 0) return best;
  const rises = y2[e]! > y1[e]!;
  if (/* rule: an end that is open can be stood on */ (rises ? next[e]! : prev[e]!) >= 0) return best;
  const x = rises ? x2[e]! : x1[e]!;
  const y = rises ? y2[e]! : y1[e]!;
  if (oneWay[e] === 1 && y > p[PY]! + hull.touch) return best;
  return pointTouch(p, near, e, best, hull, 0, 0, 1, x, y, found);
}

/**
 * A point against one face of a body: from the corner at `i` to the next, with the touch's normal (nx, ny). Gaps are measured from the face's
 * lower corner and places from either, so that mirror images stay mirror images.
 */
function pointTouch(
  p: Float64Array,
  near: Near,
  e: number,
  best: number,
  { corners, touch }: Hull,
  i: number,
  nx: number,
  ny: number,
  x: number,
  y: number,
  found: Float64Array,
): number {
  const k = (i + 2) % corners.length;
  const low = corners[k + 1]! < corners[i + 1]! ? k : i;
  const ax = x - corners[low]!;
  const ay = y - corners[low + 1]!;
  const gap = nx * (p[PX]! - ax) + ny * (p[PY]! - ay);
  if (near.terrain.oneWay[e] === 1 && (ny <= 0 || gap < -touch)) return best;
  const t = closing(p, nx, ny, gap, 2 * touch);
  if (!(t <= p[T]! && t <= found[WHEN]!)) return best;
  // How far the point lies from either end of the face, along it; and how far it has to: (ny, −nx) is the way from the first.
  const fromX = x - corners[i]!;
  const fromY = y - corners[i + 1]!;
  const toX = x - corners[k]!;
  const toY = y - corners[k + 1]!;
  const after = (fromX - xAt(p, t)) * ny - (fromY - yAt(p, t)) * nx;
  const before = (xAt(p, t) - toX) * ny - (yAt(p, t) - toY) * nx;
  let least = touch / TIP;
  let most = touch / TIP;
  if (nx !== 0 && ny !== 0) {
    // A cut corner meets also what comes to lie just at its ends: neither the underside nor the upright side would.
    const under = wayY(p) < 0 ? -2 * touch : least;
    const beside = wayX(p) * nx < 0 ? -2 * touch : most;
    // The face of a left corner begins at the upright side, that of a right one at the underside.
    [least, most] = nx > 0 ? [beside, under] : [under, beside];
  }
  if (after >= least && before >= most) return better(p, near.terrain, e, best, t, nx, ny, found);
  const short = after < least;
  // The way that the body goes relative to the point, until that lies over the face.
  const [tx, ty] = short ? [-ny, nx] : [ny, -nx];
  const off = short ? (fromX - p[PX]!) * ny - (fromY - p[PY]!) * nx - least : (p[PX]! - toX) * ny - (p[PY]! - toY) * nx - most; // prettier-ignore
  const late = lateTouch(p, nx, ny, gap, tx, ty, off, t, touch);
  return late < Infinity ? better(p, near.terrain, e, best, late, nx, ny, found) : best;
}

/**
 * When a gap closes; Infinity where it does not. Behind the surface at first by more than `behind`, the body has to come out in
 * front of it before.
 */
export function closing(p: Float64Array, nx: number, ny: number, gap: number, behind: number): number {
  if (gap <= 0 && gap >= -behind) {
    if (goesIn(p, nx, ny, 0)) return 0;
    // Hardly behind it, moving out, and then in again without ever having been out.
    const turn = turnOfGap(p, nx, ny);
    if (turn < Infinity && gap + nx * (xAt(p, turn) - p[PX]!) + ny * (yAt(p, turn) - p[PY]!) <= 0) return turn;
  }
  const count = rootsOfGap(p, nx, ny, gap);
  for (let i = 0; /* rule: the moment of a touch is on the path */ i < count; i++)
    if (/* rule: a touch goes in */ goesIn(p, nx, ny, roots[i]!)) return roots[i]!;
  // At it but for rounding, and moving out at first: what ends behind it has gone in all the same.
  const ends = gap + nx * (p[AT_X]! - p[PX]!) + ny * (p[AT_Y]! - p[PY]!);
  if (gap >= -behind && ends < (gap < 0 ? gap : 0) - behind / 1048576) return turnOfGap(p, nx, ny);
  return Infinity;
}

/** Whether the body goes into a surface at a moment: with its speed, or where that is rounding only, soon. */
function goesIn(p: Float64Array, nx: number, ny: number, t: number): boolean {
  const vx = vxAt(p, t);
  const vy = vyAt(p, t);
  const v = nx * vx + ny * vy;
  // A speed that dies away is a difference of two: it is as exact as those.
  const size =
    ALONG * (Math.abs(vx) + Math.abs(vy)) + (p[RATE]! > 0 ? LAST_PLACES * (Math.abs(p[U]!) + Math.abs(p[D]!)) : 0);
  if (v < -size || v > size) return v < 0;
  const ax = p[RATE]! > 0 ? p[EAX]! + p[RATE]! * (p[U]! + t * p[EAX]! - vx) : p[PAX]!;
  const ay =
    p[DY] !== 0
      ? p[PAY]! + p[RATE]! * (p[UY]! + t * p[PAY]! - vy)
      : p[RATE]! > 0 && p[LINK] !== 0
        ? p[LINK]! * ax
        : p[PAY]! + t * p[PJY]!;
  return nx * ax + ny * ay < -ALONG * (Math.abs(ax) + Math.abs(ay));
}
