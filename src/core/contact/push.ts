import { MAX, MAY, MVX, MVY, MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { NOW, X_ENDS, X_END_SPEED, Y_ENDS, Y_END_SPEED } from '../state/clock.js';
import { EASING, EDGE, FACE, FACE_NX, FACE_NY, FRAME, GROUND, HEAD, LOCK_FOR, LOCK_SINCE, PIT, PUSHED, SUPPORT, VX, VY, WALL, WALL_HIGH, WALL_LOW, WALL_NX, WALL_NY, WALL_SIDE, X, Y } from '../state/layout.js'; // prettier-ignore
import { D, LINK, PAX, PAY, PJY, PVX, PVY, PX, PY, RATE, U } from '../sweep/path.js';
import { CEILING, WALL_LEFT, WALL_RIGHT } from '../terrain/terrain.js';
import { bump } from './bump.js';
import { crush } from './crush.js';
import { isOnCorner, isPressed } from './ends.js';
import { AT_ONCE, CLEAR, LEANS, RESTS, SAME_SPEED } from '../tolerance.js';
import { SLOPE, at, here, isLevel } from './ground.js';
import { besideWall, endAtTip, touchWall } from './sides.js';
import { stepUp } from './step.js';

/** The ground's slope where the body stands; 0 in the air, and between two faces. */
export function slopeHere(body: Body): number {
  const { s } = body;
  if (s[SUPPORT] !== GROUND || s[PIT] === 1 || isLevel(body)) return 0;
  here(body);
  return at[SLOPE]!;
}

const need = new Float64Array(2);

/** The speed and the acceleration across with which the body keeps in touch with a surface that moves; left in `need`. */
function following({ nears, terrain }: Body, edge: number, nx: number, ny: number, slope: number): void {
  const { motion } = nears[terrain.set[edge]!]!;
  if (ny === 0) {
    need[0] = motion[MVX]!;
    need[1] = motion[MAX]!;
    return;
  }
  const along = nx + ny * slope;
  need[0] = (nx * motion[MVX]! + ny * motion[MVY]!) / along + 0;
  need[1] = (nx * motion[MAX]! + ny * motion[MAY]!) / along + 0;
}

/**
 * On the ground, something that moves relative to it has met the body: it pushes it along, if it leans that way and there is room, or crushes it.
 * A body that runs into it is stopped by it, and goes as it goes.
 */
export function pushOnGround(body: Body, edge: number, nx: number, ny: number): void {
  const { s, terrain } = body;
  const slope = slopeHere(body);
  const along = nx + ny * slope;
  const { motion } = body.nears[terrain.set[edge]!]!;
  const comes = nx * motion[MVX]! + ny * motion[MVY]!;
  // What only stands in the way, or goes out of it, presses nobody.
  const corner = s[PIT] === 1 || (nx !== 0 && ny !== 0) ? -1 : atCorner(body, edge, slope);
  if (corner >= 0) {
    if (terrain.kind[corner] !== CEILING) comeOut(body, corner, slope);
    pushOnGround(body, corner, terrain.nx[corner]!, terrain.ny[corner]!);
    return;
  }
  if (s[PIT] === 1 || along === 0 || (Math.abs(along) < LEANS && comes > 0)) {
    crush(body, edge, s[EDGE]!);
    return;
  }
  const side = along < 0 ? 1 : -1;
  following(body, edge, nx, ny, slope);
  const speed = need[0]!;
  const kind = terrain.kind[edge]!;
  const upright = (kind === WALL_LEFT || kind === WALL_RIGHT) && ny === 0;
  if (upright && stepUp(body, edge, side)) return;
  if (isBetween(body, edge, speed, side, slope)) return;
  if (s[VX]! * side > 0) bump(body, edge, side > 0 ? 'right' : 'left', Math.abs(s[VX]! - speed));
  tellPushed(body, edge, side, speed);
  s[VX] = speed;
  s[VY] = slope * speed + 0;
  s[EASING] = 0;
  s[LOCK_FOR] = 0;
  touchWall(body, edge, side);
  s[WALL_NX] = nx;
  s[WALL_NY] = ny;
  if (upright) return;
  if (ny === 0) endAtTip(body, edge);
  else {
    s[WALL_LOW] = -Infinity;
    s[WALL_HIGH] = Infinity;
  }
}

/**
 * At the corner between a level underside and a side, on ground that rises past it, which of the two is in the way follows from how they move on: beside
 * what goes up faster than its side would take the body, the body goes under it. Else it would be let go of by the one and stopped by the other, ever anew.
 * @returns the other of the two, where that is in the way instead; else −1
 */
function atCorner({ terrain, s, hull, nears }: Body, edge: number, slope: number): number {
  if (slope === 0) return -1;
  const { motion } = nears[terrain.set[edge]!]!;
  const under = slope * motion[MVX]! < motion[MVY]!;
  const near = 2 * hull.touch;
  if (terrain.kind[edge] === CEILING) {
    const x = s[X]! - motion[MX]!;
    const over = slope > 0 ? x + hull.half - terrain.x2[edge]! : terrain.x1[edge]! - (x - hull.half);
    const side = slope > 0 ? terrain.next[edge]! : terrain.prev[edge]!;
    const upright = side >= 0 && terrain.kind[side] === (slope > 0 ? WALL_LEFT : WALL_RIGHT);
    return upright && !under && over <= near ? side : -1;
  }
  if (terrain.kind[edge] !== (slope > 0 ? WALL_LEFT : WALL_RIGHT)) return -1;
  const roof = slope > 0 ? terrain.prev[edge]! : terrain.next[edge]!;
  if (!under || roof < 0 || terrain.kind[roof] !== CEILING) return -1;
  return s[Y]! + hull.height - motion[MY]! - terrain.y1[roof]! <= near ? roof : -1;
}

/** Comes out from under the end of an underside by the little that it is over it: right beside the side there. */
function comeOut({ s, terrain, hull, nears }: Body, side: number, slope: number): void {
  const x = terrain.x2[side]! + nears[terrain.set[side]!]!.motion[MX]! + (slope > 0 ? -hull.half : hull.half);
  s[Y] = s[Y]! + (x - s[X]!) * slope;
  s[X] = x;
}

/** Whether the body is pressed between what it has met on one side, and what it touches on the other, which come closer: then it is crushed. */
export function isBetween(body: Body, edge: number, speed: number, side: number, slope: number): boolean {
  const { s, terrain } = body;
  const wall = s[WALL]!;
  if (wall < 0 || s[WALL_SIDE] !== -side || wall === edge) return false;
  const set = terrain.set[wall]!;
  if (set === terrain.set[edge] || (s[SUPPORT] !== GROUND && besideWall(body, wall) <= 0)) return false;
  if (Math.abs(s[WALL_NX]! + s[WALL_NY]! * slope) < LEANS) return false;
  following(body, wall, s[WALL_NX]!, s[WALL_NY]!, slope);
  if ((need[0]! - speed) * -side >= -RESTS * (Math.abs(speed) + Math.abs(need[0]!))) return false;
  crush(body, edge, wall);
  return true;
}

/** Told once, as long as it pushes. */
export function tellPushed(body: Body, edge: number, side: number, speed: number): void {
  const { s, terrain, level } = body;
  const set = terrain.set[edge]!;
  if (set === 0 || set === s[FRAME] || speed * side >= 0 || s[PUSHED] === 1 + set) return;
  s[PUSHED] = 1 + set;
  const told = body.tell('pushed');
  told.mover = level.movers[set - 1]!.name;
  told.side = side > 0 ? 'right' : 'left';
}

/**
 * Beside something that moves relative to the body: as long as what the body does on its own would take it into that, it goes along with it. The path
 * across of the run has been laid.
 * @returns whether it stays beside it
 */
export function goesAlong(body: Body): boolean {
  const { s, path, clock, nears, terrain } = body;
  body.pushedAlong = false;
  const wall = s[WALL]!;
  const near = nears[terrain.set[wall]!]!;
  const slope = slopeHere(body);
  const side = s[WALL_SIDE]!;
  // On other ground it may only press, and no more push.
  const along = s[WALL_NX]! + s[WALL_NY]! * slope;
  const comes = s[WALL_NX]! * near.motion[MVX]! + s[WALL_NY]! * near.motion[MVY]!;
  const presses = along === 0 || (Math.abs(along) < LEANS && comes > 0);
  const corner = s[WALL_NX] !== terrain.nx[wall] || s[WALL_NY] !== terrain.ny[wall];
  const touches = corner
    ? isOnCorner(body, wall, s[WALL_NX]!, s[WALL_NY]!)
    : isPressed(body, wall, CLEAR * body.motion.touch, 0);
  if (s[WALL_NY] !== 0 && (presses || !touches)) return leave(body);
  following(body, wall, s[WALL_NX]!, s[WALL_NY]!, slope);
  const gain = need[1]!;
  const speed = Math.abs(need[0]!) <= Math.abs(gain) * AT_ONCE ? 0 : need[0]!;
  const v = s[VX]!;
  const into = (v - speed) * side;
  const rounding = RESTS * (Math.abs(speed) + Math.abs(near.motion[MVX]!) + Math.abs(v)) + SAME_SPEED * body.motion.cap;
  if (into < -rounding) return leave(body);
  if (into <= rounding) {
    // As fast as that: what counts is which of them speeds up more.
    const own = path[RATE]! > 0 ? path[RATE]! * (path[U]! - v) : path[PAX]!;
    if ((own - gain) * side <= SAME_SPEED * (Math.abs(own) + Math.abs(gain))) {
      if (own === gain || (own - gain) * side >= -SAME_SPEED * (Math.abs(own) + Math.abs(gain))) {
        // Side by side, without a push.
        if (own === 0 && gain === 0) return true;
      }
      return leave(body);
    }
  }
  body.pushedAlong = true;
  tellPushed(body, wall, side, speed === 0 ? gain : speed);
  // Where it would be fast enough on its own, or would turn, that is looked at again.
  let ends = Infinity;
  const soonest = (t: number): void => {
    if (t > 1e-12 && t < ends) ends = t;
  };
  if (gain !== 0) {
    const { [X_END_SPEED]: end } = clock;
    if (clock[X_ENDS]! < Infinity) soonest((end! - speed) / gain);
    soonest(-speed / gain);
    if (path[RATE]! > 0) soonest((path[U]! - speed - gain / path[RATE]!) / gain);
  }
  if (s[LOCK_FOR]! > 0) soonest(s[LOCK_SINCE]! + s[LOCK_FOR]! - clock[NOW]!);
  path[PVX] = s[VX] = speed;
  path[PAX] = gain;
  path[RATE] = path[U] = path[D] = 0;
  s[EASING] = 0;
  clock[X_ENDS] = ends;
  clock[X_END_SPEED] = ends < Infinity ? speed + ends * gain : speed;
  if (s[WALL_NY] !== 0) {
    if (corner) near.pusherJoint = wall;
    else near.pusher = wall;
  }
  return true;
}

function leave({ s }: Body): boolean {
  s[WALL] = -1;
  s[PUSHED] = 0;
  return false;
}

/** In the air under something that comes down: as long as the body would not fall away from it on its own, it goes down with it. */
export function goDownWith(body: Body): void {
  const { s, path, clock, nears, terrain } = body;
  const head = s[HEAD]!;
  if (head < 0) return;
  const { motion } = nears[terrain.set[head]!]!;
  if (terrain.set[head] === s[FRAME] || (terrain.kind[head] === CEILING && isOutFrom(body, head))) {
    s[HEAD] = -1;
    return;
  }
  const gain = motion[MAY]!;
  const speed = Math.abs(motion[MVY]!) <= Math.abs(gain) * AT_ONCE ? 0 : motion[MVY]!;
  const away = speed - s[VY]!;
  const rounding = RESTS * (Math.abs(speed) + Math.abs(s[VY]!)) + SAME_SPEED * body.motion.cap;
  if (
    away > rounding ||
    (away >= -rounding && path[PAY]! - gain <= SAME_SPEED * (Math.abs(path[PAY]!) + Math.abs(gain)))
  ) {
    s[HEAD] = -1;
    return;
  }
  // Its own fall may become steeper with time, or reach a speed at which another gravity acts.
  let ends = path[PJY] === 0 ? Infinity : clock[Y_ENDS]!;
  const soonest = (t: number): void => {
    if (t > 1e-12 && t < ends) ends = t;
  };
  if (gain !== 0) {
    if (clock[Y_ENDS]! < Infinity) soonest((clock[Y_END_SPEED]! - speed) / gain);
    soonest(-speed / gain);
  }
  path[PVY] = s[VY] = speed;
  path[PAY] = gain;
  path[PJY] = 0;
  clock[Y_ENDS] = ends;
  clock[Y_END_SPEED] = ends < Infinity ? speed + ends * gain : speed;
  const face = s[FACE]!;
  if (face < 0) return;
  // Down along a face: across it goes as far as that takes it.
  const m = nears[terrain.set[face]!]!.motion;
  const [nx, ny] = [s[FACE_NX]!, s[FACE_NY]!];
  const across = m[MVX]! - (ny * (speed - m[MVY]!)) / nx + 0;
  const wall = s[WALL]!;
  const beside = wall < 0 ? 0 : nears[terrain.set[wall]!]!.motion[MVX]!;
  if (wall >= 0 && (across - beside) * s[WALL_SIDE]! > RESTS * (Math.abs(across) + Math.abs(beside))) {
    // Where a wall does not let it out of the way, it is pressed between the two.
    crush(body, head, face);
    path.fill(0, PVX, PJY + 1);
    path[PX] = s[X]!;
    path[PY] = s[Y]!;
    body.again = true;
    return;
  }
  path[RATE] = path[LINK] = 0;
  path[PVX] = s[VX] = across;
  path[PAX] = m[MAX]! - (ny * (gain - m[MAY]!)) / nx + 0;
  clock[X_ENDS] = ends;
  clock[X_END_SPEED] = ends < Infinity ? path[PVX]! + ends * path[PAX]! : path[PVX]!;
}

/** Whether the body has come out from under a level underside, but for `touch`. */
function isOutFrom({ s, terrain, hull, nears }: Body, head: number): boolean {
  const x = s[X]! - nears[terrain.set[head]!]!.motion[MX]!;
  const margin = hull.half - hull.touch - hull.touch / 64;
  return x >= terrain.x1[head]! + margin || x <= terrain.x2[head]! - margin;
}
