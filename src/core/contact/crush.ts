import { IN_THE_AIR, forget } from '../state/touches.js';
import { dropInto } from './drop.js';
import { MX, MY } from '../movers/moving.js';
import type { Body, Crush } from '../state/body.js';
import { ENTANGLED, NOW } from '../state/clock.js';
import { placeSets } from '../state/frame.js';
import { EASING, EDGE, FRAME, FREEING, GROUND, HOLDS_UP, MEETS, MOVER_SLOTS, PASSES, SUPPORT, TOLD, VX, VY, X, Y } from '../state/layout.js'; // prettier-ignore
import { cutAt } from '../sweep/path.js';
import { LEANS, ROOM, WAIT } from '../tolerance.js';
import { POLICIES } from '../terrain/level.js';
import { CEILING, FLOOR, SLANTED } from '../terrain/terrain.js';
import { isIn } from './clear.js';
import { cutWhereApart, cutWhereCornerApart, isHeld } from './ends.js';
import { isInsideSet } from './inside.js';
import { leaveAny } from './leave.js';

/**
 * A body pressed with no room left. One-way ground lets it through; else it is up to a mover: to wait until its way is free, to let it
 * through until it is clear, or only to tell. Of two movers, waiting comes before letting through before telling.
 * @param other the edge on the other side, or −1
 */
export function crush(body: Body, edge: number, other: number): void {
  const { s, terrain, clock, moving } = body;
  for (const e of [other, edge]) {
    if (e < 0 || terrain.oneWay[e] !== 1) continue;
    if (!dropInto(body, terrain.piece[e]!)) continue;
    if (s[SUPPORT] === GROUND && terrain.piece[s[EDGE]!] === terrain.piece[e]) leaveAny(body);
    for (const contact of IN_THE_AIR)
      if (s[contact]! >= 0 && terrain.piece[s[contact]!] === terrain.piece[e]) forget(s, contact);
    return;
  }
  let set = 0;
  let first = POLICIES.length as number;
  for (const e of [edge, other]) {
    const k = e < 0 ? 0 : terrain.set[e]!;
    // One that waits already does nothing.
    if (k === 0 || moving!.waitsAt(k, clock[NOW]!)) continue;
    const rank = rankOf(body, k);
    if (rank < first) [set, first] = [k, rank];
  }
  if (set === 0) return;
  const policy = POLICIES[first];
  if (policy === 'stop' || policy === 'turn') {
    body.onCrush(body, { set, edge, other, turns: policy === 'turn' });
    return;
  }
  tellCrushed(body, { set, edge, other });
  const sides = isSide(body, edge) && (other < 0 || isSide(body, other));
  letThrough(body, set, policy === 'through' ? PASSES : TOLD, sides);
}

/** Its policy, by how it comes before others. One that the game moves has no way back, and who goes back already, or has just done so, stops. */
function rankOf({ level, moving, clock }: Body, set: number): number {
  const { policy, route } = level.movers[set - 1]!;
  const now = clock[NOW]!;
  const stops =
    policy === 'turn' && (route === undefined || moving!.goesBackAt(set, now) || moving!.hasTurned(set, now, WAIT));
  return stops ? 0 : POLICIES.indexOf(policy);
}

/** Whether an edge is one of those that a body can fall along. */
function isSide({ terrain }: Body, e: number): boolean {
  return Math.abs(terrain.ny[e]!) < LEANS;
}

/** Whether the body is inside something that moves and still meets it, by more than `touch`. */
export function isCaught(body: Body): boolean {
  const { s, sets, setCount } = body;
  if (s[FREEING] !== 0) return false;
  for (let i = 0; i < setCount; i++) {
    const near = sets[i]!;
    if (near.set > 0 && reaches(body, near.set) && isInsideSet(body, near, s[X]!, s[Y]!)) return true;
  }
  return false;
}

/** Whether the body's box reaches into the box around a mover by more than `touch`. */
function reaches({ s, level, nears, hull }: Body, set: number): boolean {
  const { motion } = nears[set]!;
  const { box } = level.movers[set - 1]!;
  const x = s[X]! - motion[MX]!;
  const y = s[Y]! - motion[MY]!;
  const { half, height, touch } = hull;
  return (
    x + half > box[0]! + touch && x - half < box[2]! - touch && y + height > box[1]! + touch && y < box[3]! - touch
  );
}

/**
 * A mover touches the body no more until the two are clear of one another; a body that stays put follows nothing else either.
 * @param sides whether it is pressed from both sides: then the way up and down is as free as before
 */
function letThrough(body: Body, set: number, how: typeof PASSES | typeof TOLD, sides = false): void {
  const { s, terrain } = body;
  const at = body.moversAt + MOVER_SLOTS * (set - 1);
  s[at] = how;
  countEntangled(body);
  const falls = sides && s[SUPPORT] !== GROUND;
  s[at + 1] = falls ? 1 : 0;
  s[at + 2] = 0;
  for (const contact of IN_THE_AIR)
    if (s[contact]! >= 0 && (how === TOLD || terrain.set[s[contact]!] === set)) forget(s, contact);
  s[VX] = 0;
  if (!falls) s[VY] = 0;
  s[EASING] = 0;
  if (s[SUPPORT] !== GROUND || s[FRAME] === set) leaveAny(body);
  placeSets(body);
}

/** Whether it is told that something presses the body from both sides: it falls on, and goes nowhere else. */
export function isPinched({ s, moversAt, level, clock }: Body): boolean {
  if (clock[ENTANGLED] === 0) return false;
  for (let i = 0; i < level.movers.length; i++) if (fallsIn(s, moversAt + MOVER_SLOTS * i)) return true;
  return false;
}

function fallsIn(s: Float64Array, at: number): boolean {
  return s[at] === TOLD && s[at + 1] === 1 && s[SUPPORT] !== GROUND;
}

/** A mover has just stopped for the body, or turned back. */
export function beginStop(body: Body, crush: Crush): void {
  const { s, clock, moversAt, moving } = body;
  const at = moversAt + MOVER_SLOTS * (crush.set - 1);
  placeSets(body);
  if (s[at] !== MEETS && s[at] !== HOLDS_UP) return;
  if (crush.turns) {
    if (moving!.goesBackAt(crush.set, clock[NOW]!)) tellCrushed(body, crush);
    return;
  }
  if (!moving!.waitsAt(crush.set, clock[NOW]!)) return;
  if (s[at] !== HOLDS_UP) tellCrushed(body, crush);
  s[at] = HOLDS_UP;
  countEntangled(body);
  s[at + 1] = crush.edge;
  s[at + 2] = crush.other;
}

function tellCrushed(body: Body, { set, edge, other }: { set: number; edge: number; other: number }): void {
  const { terrain, level } = body;
  const told = body.tell('crushed');
  told.mover = level.movers[set - 1]!.name;
  const against = edge >= 0 && terrain.set[edge] !== set ? edge : other;
  told.against = against < 0 ? '' : whatIs(body, against);
}

function whatIs({ terrain, level }: Body, e: number): string {
  const set = terrain.set[e]!;
  if (set > 0) return level.movers[set - 1]!.name;
  const kind = terrain.kind[e]!;
  return kind === FLOOR ? 'floor' : kind === CEILING ? 'ceiling' : kind === SLANTED ? 'slope' : 'wall';
}

/** Counts the movers that it does not simply meet. */
export function countEntangled({ s, moversAt, level, clock }: Body): void {
  clock[ENTANGLED] = 0;
  for (let i = 0; i < level.movers.length; i++) if (s[moversAt + MOVER_SLOTS * i] !== MEETS) clock[ENTANGLED]! += 1;
}

/** Lets go on what need not wait any more, and meets again what the body is clear of. */
export function senseMovers(body: Body): void {
  const { s, moversAt, level, clock } = body;
  if (clock[ENTANGLED] === 0) return;
  for (let i = 0; i < level.movers.length; i++) {
    const at = moversAt + MOVER_SLOTS * i;
    if (s[at] === MEETS) continue;
    if (s[at] === HOLDS_UP) {
      const room = ROOM * body.motion.width;
      if (body.moving!.waitsSince(i + 1, clock[NOW]!) + WAIT > clock[NOW]!) continue;
      if (isHeld(body, s[at + 1]!, room) && isHeld(body, s[at + 2]!, room)) continue;
      s[at + 1] = clock[NOW]!;
      s[at + 2] = 0;
    } else if (isIn(body, i + 1)) continue;
    else s[at + 1] = 0;
    s[at] = MEETS;
    countEntangled(body);
    placeSets(body);
  }
}

/** Cuts the path where something that waits for the body may go on. */
export function cutWhereFree(body: Body): void {
  const { s, moversAt, level, path, clock } = body;
  if (clock[ENTANGLED] === 0) return;
  for (let i = 0; i < level.movers.length; i++) {
    const at = moversAt + MOVER_SLOTS * i;
    if (s[at] !== HOLDS_UP) continue;
    const waitsUntil = body.moving!.waitsSince(i + 1, clock[NOW]!) + WAIT;
    if (waitsUntil > clock[NOW]!) {
      cutAt(path, waitsUntil - clock[NOW]!);
      continue;
    }
    const room = ROOM * body.motion.width;
    for (const e of [s[at + 1]!, s[at + 2]!]) {
      cutWhereApart(body, e, room);
      if (e >= 0) cutWhereCornerApart(body, e, room);
    }
  }
}

/** Whether the body stays put, told that it is crushed, until it is clear. */
export function staysPut({ s, moversAt, level, clock }: Body): boolean {
  if (clock[ENTANGLED] === 0) return false;
  for (let i = 0; i < level.movers.length; i++) {
    const at = moversAt + MOVER_SLOTS * i;
    if (s[at] === TOLD && !fallsIn(s, at)) return true;
  }
  return false;
}
