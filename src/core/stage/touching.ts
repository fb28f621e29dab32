import { SEEN_X, SEEN_Y, lookAt } from '../body/sight.js';
import { MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { EDGE, GRIP, GROUND, HEIGHT, ON_WALL, SUPPORT } from '../state/layout.js';
import { IN_THE_AIR } from '../state/touches.js';

/** Where something touches a character: in the level's own axes, units. */
export interface Touching {
  /** On which side of it. */
  side: 'feet' | 'head' | 'left' | 'right';
  /** The middle of where they touch. */
  x: number;
  y: number;
  /** Unit normal of what touches, pointing at the character. */
  normalX: number;
  normalY: number;
  /** Names, empty where there are none. */
  shape: string;
  surface: string;
  mover: string;
}

/** How far around the hitbox an edge still touches it, in `touch`. */
const AROUND = 8;

/** What a body touches at a moment, what holds it up first. */
export function touching(body: Body, time: number): Touching[] {
  const { s, terrain, level, moving, ySign, hull, motion } = body;
  const edges = new Set<number>();
  if (s[SUPPORT] === GROUND) edges.add(s[EDGE]!);
  if (s[SUPPORT] === ON_WALL) edges.add(s[GRIP]!);
  for (const touch of IN_THE_AIR) edges.add(s[touch]!);
  edges.delete(-1);
  const seen = lookAt(body, time);
  const [x, y] = [seen[SEEN_X]!, seen[SEEN_Y]!];
  const slack = AROUND * motion.touch;
  const list: Touching[] = [];
  for (const e of edges) {
    const set = terrain.set[e]!;
    let [dx, dy] = [0, 0];
    if (set > 0) {
      moving!.locate(set, time);
      [dx, dy] = [moving!.at[MX]!, moving!.at[MY]!];
    }
    const [ax, ay, bx, by] = [terrain.x1[e]! + dx, terrain.y1[e]! + dy, terrain.x2[e]! + dx, terrain.y2[e]! + dy];
    const [from, to] = within(ax, ay, bx, by, x - hull.half - slack, y - slack, x + hull.half + slack, y + s[HEIGHT]! + slack); // prettier-ignore
    if (!(from <= to)) continue;
    const middle = (from + to) / 2;
    const { shape, surface } = terrain.styles[terrain.style[e]!]!;
    const [nx, ny] = [terrain.nx[e]!, terrain.ny[e]!];
    list.push({
      side: Math.abs(nx) > Math.abs(ny) ? (nx > 0 ? 'left' : 'right') : ny > 0 ? 'feet' : 'head',
      x: ax + middle * (bx - ax) + 0,
      y: (ay + middle * (by - ay)) * ySign + 0,
      normalX: nx + 0,
      normalY: ny * ySign + 0,
      shape: shape < 0 ? '' : level.shapes[shape]!,
      surface: level.surfaces[surface]!.name,
      mover: set > 0 ? level.movers[set - 1]!.name : '',
    });
  }
  return list;
}

/** Which part of a stretch lies within a box, as shares of its length: from more than to where none does. */
function within(ax: number, ay: number, bx: number, by: number, left: number, bottom: number, right: number, top: number): [number, number] {
  let [from, to] = [0, 1];
  for (const [a, b, low, high] of [[ax, bx, left, right], [ay, by, bottom, top]] as const) {
    if (a === b) {
      if (a < low || a > high) return [1, 0];
      continue;
    }
    const [one, two] = [(low - a) / (b - a), (high - a) / (b - a)];
    from = Math.max(from, Math.min(one, two));
    to = Math.min(to, Math.max(one, two));
  }
  return [from, to];
} // prettier-ignore
