import { say } from './what.js';
import { CEILING_ROLE, GROUND_ROLE, type Role, UPRIGHT_ROLE, isAtCorner, roleOf } from './roles.js';
import { ABOVE, BESIDE, HIGH, PLANE } from '../state/touches.js';
import { FAINT, SLACK, TIP } from '../tolerance.js';
import { JUMP } from '../input/intents.js';
import type { Body } from '../state/body.js';
import { NOW, UP_RATE, UP_SET } from '../state/clock.js';
import { intoFrame } from '../state/frame.js';
import { EASING, FOOTFALLS, FRAME, GROUND, HEIGHT, HIGHEST, LANDED, LANDING, LOCK_FOR, NONE, PRESSES, STRIDE, SUPPORT, VX, VY, X, Y } from '../state/layout.js'; // prettier-ignore
import { wayX } from '../sweep/path.js';
import { wallTop } from '../sweep/slanted.js';
import { CEILING, FLOOR, SLANTED, WALL_LEFT, WALL_RIGHT } from '../terrain/terrain.js';
import { bump } from './bump.js';
import { slipPast } from './corner.js';
import {
  BELOW,
  FEET,
  FOUND_EDGE,
  FOUND_END,
  FROM,
  SLOPE,
  UNTIL,
  describe,
  findGround,
  here,
  isGround,
  slopeHere,
  slopeOf,
  stretch,
  surfaceUnder,
} from './ground.js';
import { leaveAny } from './leave.js';
import { liftOnto } from './lip.js';
import { isBetween, pushOnGround } from './push.js';
import { blockOnGround, copySide, endAtTip, touchWall } from './sides.js';
import { slideAlong, wedge } from './slide-along.js';
import { goOnto, keepSpeed, stand } from './stance.js';
import { passRidge, stepUp } from './step.js';

/**
 * What a touch does: ground is landed on, or gone on along; an underside ends the rise unless its corner can be slipped past; a side ends
 * the motion across unless the body can be lifted onto it; along any other face the body slides. What moves does so relative to the body, or to what carries it.
 * @param nx, ny the normal of the touch: that of the edge, or of the body's own side where that met a corner at the edge's end
 */
export function arrive(body: Body, edge: number, nx: number, ny: number): void {
  const { s, terrain } = body;
  const set = terrain.set[edge]!;
  const role = roleOf(body, edge, nx, ny);
  if (s[SUPPORT] === GROUND) {
    if (role === GROUND_ROLE) goOnAlong(body, edge, isAtCorner(body, edge, nx, ny));
    else if (set === s[FRAME]) stopOnGround(body, edge, nx, ny);
    else pushOnGround(body, edge, nx, ny);
    return;
  }
  if (set === s[FRAME]) {
    arriveInTheAir(body, edge, nx, ny, role);
    return;
  }
  // What hangs or holds on is torn off by what moves.
  intoFrame(body, 0);
  leaveAny(body);
  intoFrame(body, set);
  arriveInTheAir(body, edge, nx, ny, role);
  if (s[SUPPORT] === NONE) intoFrame(body, 0);
}

function arriveInTheAir(body: Body, edge: number, nx: number, ny: number, role: Role): void {
  const { s } = body;
  const atCorner = isAtCorner(body, edge, nx, ny);
  if (ny > 0 && (role === GROUND_ROLE || s[VY]! < 0) && findsGround(body)) landHere(body);
  else if (role === GROUND_ROLE) land(body, edge, nx, ny, atCorner);
  else if (role === CEILING_ROLE) hitHead(body, edge, atCorner);
  else if (role === UPRIGHT_ROLE) hitSide(body, edge, nx < 0 ? 1 : -1, atCorner);
  else slideAlong(body, edge, nx, ny, atCorner);
}

/** Which end of an edge the underside rests on, of those that can hold it up: 1 its end, −1 its start. */
function endOf({ terrain }: Body, edge: number): number {
  return terrain.y2[edge]! > terrain.y1[edge]! ? 1 : -1;
}

/** Stands on what was touched; on a corner that two pieces of ground share, on the one that the middle of the feet is over. */
function standOn(body: Body, edge: number, atCorner: boolean): void {
  const { s, terrain } = body;
  const next = terrain.after[edge]!;
  const end = endOf(body, edge);
  if (atCorner && end > 0 && next >= 0 && isGround(body, next) && terrain.kind[next] !== FLOOR) {
    if (!isGround(body, edge) || s[X]! > terrain.x2[edge]!) return stand(body, next, -1);
  }
  stand(body, edge, atCorner ? end : 0);
}

function land(body: Body, edge: number, nx: number, ny: number, atCorner: boolean): void {
  const { s, terrain } = body;
  const speed = -(nx * s[VX]! + ny * s[VY]!) + 0;
  const slope = atCorner || terrain.kind[edge] === FLOOR ? 0 : slopeOf(terrain, edge);
  const fallen = touchDown(body, edge, atCorner ? endOf(body, edge) : 0, slope, speed);
  standOn(body, edge, atCorner);
  bounce(body, speed, fallen);
}

/**
 * Stands on what holds the body where it met something: of several pieces of ground the one nearest to the middle of its feet, and rather than along
 * a face that does not hold it. Which of them the path came to first is rounding.
 */
function landHere(body: Body): void {
  const { s } = body;
  const edge = holding[FOUND_EDGE]!;
  const end = holding[FOUND_END]!;
  const slope = holding[SLOPE]!;
  const speed = (slope * s[VX]! - s[VY]!) / Math.sqrt(1 + slope * slope) + 0;
  const fallen = touchDown(body, edge, end, slope, speed);
  stand(body, edge, end);
  bounce(body, speed, fallen);
}

/** Whether ground holds the body where it is, and goes on the way it goes. */
function findsGround(body: Body): boolean {
  const { s } = body;
  beyond.way = s[VX]! > 0 ? 1 : s[VX]! < 0 ? -1 : 0;
  return findGround(body, s[X]!, s[Y]!, beyond, holding);
}

/** What holds the body where it met something; and what it stands on. */
const holding = stretch();
const ground = stretch();

/** @returns how far it has fallen, units */
function touchDown(body: Body, edge: number, end: number, slope: number, speed: number): number {
  const { s, motion } = body;
  // What is told is where it stands then: the ground's own height.
  intoFrame(body, body.terrain.set[edge]!);
  describe(body, edge, end, s[X]!, ground);
  const level = (s[Y] = ground[FEET]! + 0);
  const told = say(body, body.tell('touchdown'), edge);
  told.speed = speed;
  told.fallen = s[HIGHEST]! > level ? s[HIGHEST]! - level : 0;
  s[LOCK_FOR] = 0;
  s[LANDED] = body.clock[NOW]!;
  s[LANDING] = speed;
  const before = s[VX]! * s[VX]! + s[VY]! * s[VY]!;
  s[VY] = 0;
  if (slope === 0) return told.fallen;
  // Measured along the ground, the speed across becomes the speed along it. Measured across, a landing uphill would add some: it never does.
  keepSpeed(body, 0, slope);
  const after = s[VX]! * s[VX]! * (1 + slope * slope);
  if (!motion.along && after > before) s[VX] = s[VX]! * Math.sqrt(before / after);
  s[VY] = slope * s[VX]! + 0;
  return told.fallen;
}

/** Some surfaces give back a share of the landing speed; a press that waits comes first. */
function bounce(body: Body, speed: number, fallen: number): void {
  const { s, level, motion, clock } = body;
  const surface = level.surfaces[surfaceUnder(body)]!;
  if (surface.bounce === 0 || speed < surface.bounceFrom * body.motion.tempo) return;
  // What an ability has hurried down comes up no higher than it fell: else it would rise higher each time.
  const hurried = clock[UP_SET] !== 0 && clock[UP_RATE]! > body.fallingNow;
  const most = hurried ? Math.sqrt(2 * motion.rising * body.zoneGravity * fallen) : Infinity;
  const given = speed * surface.bounce;
  const up = given < most ? given : most;
  // What would hardly leave the ground stays on it.
  if (up * up < (2 * motion.falling * motion.width) / 64) return;
  const press = s[PRESSES + JUMP]!;
  if (press >= 0 && clock[NOW]! - press <= motion.buffer + SLACK) return;
  const slope = slopeHere(body);
  leaveAny(body);
  // Off the ground along its normal.
  const length = Math.sqrt(1 + slope * slope);
  s[VX] = s[VX]! - (up * slope) / length + 0;
  s[VY] = s[VX]! * slope + (up * slope * slope) / length + up / length;
}

/** From one piece of ground to the next that rises from it. */
function goOnAlong(body: Body, edge: number, atCorner: boolean): void {
  const before = slopeHere(body);
  const { s } = body;
  intoFrame(body, body.terrain.set[edge]!);
  const strides = s[STRIDE]!;
  const steps = s[FOOTFALLS]!;
  standOn(body, edge, atCorner);
  s[STRIDE] = strides;
  s[FOOTFALLS] = steps;
  keepSpeed(body, before, slopeHere(body));
}

/** On the ground whatever is not ground stops the body, unless it is a step. */
function stopOnGround(body: Body, edge: number, nx: number, ny: number): void {
  const { s, terrain } = body;
  const kind = terrain.kind[edge]!;
  const upright = kind === WALL_LEFT || kind === WALL_RIGHT;
  // The way that it went: on a slope, what is overhead may lean either way.
  const side = wayX(body.path) || (nx < 0 ? 1 : -1);
  if (passEnd(body, side) && nx * s[VX]! + ny * s[VY]! >= 0) return;
  if (upright && ny === 0 && stepUp(body, edge, side)) return;
  if (isBetween(body, edge, 0, side, slopeHere(body))) return;
  if (s[VX] !== 0) bump(body, edge, side > 0 ? 'right' : 'left', Math.abs(s[VX]!));
  if (!upright || ny !== 0) return blockOnGround(body, edge, side);
  copySide(body, edge, side, terrain.x2[edge]!);
  s[VX] = 0;
  s[VY] = 0;
  s[EASING] = 0;
  s[LOCK_FOR] = 0;
  touchWall(body, edge, side);
}

/**
 * Where a stretch of ground ends just as the body meets something, it goes on to the next one first: rounding alone would decide which comes first,
 * and what is overhead at the end of a slope may not be in the way beyond it.
 */
function passEnd(body: Body, side: number): boolean {
  const { s, motion } = body;
  here(body, ground);
  const before = ground[SLOPE]!;
  if ((side > 0 ? ground[UNTIL]! - s[X]! : s[X]! - ground[FROM]!) > motion.touch) return false;
  beyond.way = side;
  if (!findGround(body, s[X]!, s[Y]!, beyond, ground) || Math.abs(ground[BELOW]!) > motion.touch) return false;
  goOnto(body, ground, before);
  return true;
}

const beyond = { way: 0, down: 0 };

function hitHead(body: Body, edge: number, atCorner: boolean): void {
  const { s, terrain, motion } = body;
  s[Y] = (atCorner ? terrain.y2[edge]! : terrain.y1[edge]!) - s[HEIGHT]!;
  if (s[VY]! > 0 && terrain.kind[edge] === CEILING && slipPast(body, edge)) return;
  // What the top of the rise only just comes to does not end it: that has had its apex.
  if (s[VY]! > 0 && s[VY]! < FAINT * motion.cap && s[FRAME] === 0) body.tell('apex');
  else if (s[VY]! > 0) bump(body, edge, 'head', s[VY]!);
  s[VY] = 0;
  s[ABOVE] = s[FRAME]! > 0 ? edge : -1;
}

function hitSide(body: Body, edge: number, side: number, atCorner: boolean): void {
  const { s, terrain, motion } = body;
  if (isBetween(body, edge, 0, side, 0) || wedge(body, edge, -side, 0)) return;
  const { kind } = terrain;
  const upright = kind[edge] === WALL_LEFT || kind[edge] === WALL_RIGHT;
  if (!atCorner && s[VX] !== 0 && ((upright && passRidge(body, edge, side)) || liftOnto(body, edge))) return;
  if (s[VX] !== 0) bump(body, edge, side > 0 ? 'right' : 'left', Math.abs(s[VX]!));
  copySide(body, edge, side, terrain.x2[edge]!);
  s[VX] = 0;
  s[EASING] = 0;
  s[LOCK_FOR] = 0;
  touchWall(body, atCorner ? besideCorner(body, edge) : edge, side);
  if (!atCorner && terrain.kind[edge] !== SLANTED) {
    const further = wallTop(body.near, edge, body.hull);
    if (further > 0) s[BESIDE + HIGH] = s[BESIDE + HIGH]! + further + motion.touch / (2 * TIP);
    return;
  }
  endAtTip(body, edge);
  if (!atCorner) s[BESIDE + PLANE] = Infinity;
}

/** Of the two edges that end in the corner at an edge's end, the one that is nearest to upright, or of two alike the lower. */
function besideCorner({ terrain }: Body, edge: number): number {
  const { ny, next } = terrain;
  const other = next[edge]!;
  const less = Math.abs(ny[other]!) - Math.abs(ny[edge]!);
  return less < 0 || (less === 0 && ny[other]! < ny[edge]!) ? other : edge;
}
