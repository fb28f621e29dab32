import { D, LINK, PAX, PAY, PJY, PVX, PVY, RATE } from '../sweep/path.js';
import { FACE_ENDS, UP_SET, X_ENDS, X_END_SPEED, Y_ENDS, Y_END_SPEED, type Body } from './body.js';
import {
  EASING,
  FACE,
  FACE_NX,
  FACE_NY,
  FACED_X,
  FACED_Y,
  NONE,
  ON_WALL,
  PHASE,
  SLIP,
  SUPPORT,
  VX,
  VY,
  X,
  Y,
} from './state.js';

/** Speeds and accelerations off a face below this share of the whole are rounding. */
const ALONG = 1e-12;

/**
 * In the air along a slanted face: as long as what acts on the body presses it to the face, it moves along it.
 *
 * Rising, x follows the rise, as beside a wall: the face adds no height. Coming down a face that is too steep to stand on, the share
 * g·sin²·slip of gravity pulls the feet down (what acts along the face is g·sin·slip). Along an overhang the acceleration is projected.
 */
export function slideOnFace(body: Body): void {
  const { s, path, clock, motion } = body;
  clock[FACE_ENDS] = Infinity;
  if (s[FACE]! < 0) return;
  s[FACED_X] = s[X]!;
  s[FACED_Y] = s[Y]!;
  if (s[SUPPORT] !== NONE && s[SUPPORT] !== ON_WALL) {
    s[FACE] = -1;
    return;
  }
  const nx = s[FACE_NX]!;
  const ny = s[FACE_NY]!;
  const vx = path[PVX]!;
  const vy = path[PVY]!;
  if (nx * vx + ny * vy > ALONG * (Math.abs(vx) + Math.abs(vy))) {
    s[FACE] = -1;
    return;
  }
  const ax = path[RATE]! > 0 ? -path[D]! * path[RATE]! : path[PAX]!;
  const ay = path[PAY]!;
  if (nx * ax + ny * ay > ALONG * (Math.abs(ax) + Math.abs(ay))) {
    s[FACE] = -1;
    return;
  }
  // Across for each unit up.
  const lean = -ny / nx;
  path[RATE] = 0;
  path[LINK] = 0;
  s[EASING] = 0;
  const away = ax * nx > 0;
  const target = clock[X_END_SPEED]!;
  const steered = clock[X_ENDS]! < Infinity;
  clock[X_ENDS] = Infinity;
  if (clock[UP_SET] === 0 && vy <= 0 && ny > 0) {
    s[PHASE] = SLIP;
    path[PJY] = 0;
    const pull = body.fallingNow * nx * nx * motion.slip + (away ? Math.abs(ax * nx) * ny : 0);
    slipDown(body, vy, pull);
    if (away && steered) endAtSpeed(body, target, -pull * lean, lean * vy);
  } else if (clock[UP_SET] === 0 && ny < 0) {
    // Down along the face, as a unit.
    const dx = nx * ny < 0 ? -Math.abs(ny) : Math.abs(ny);
    const dy = -Math.abs(nx);
    const along = ax * dx + ay * dy;
    path[PJY] = 0;
    path[PAY] = along * dy;
    const change = clock[Y_END_SPEED]! - vy;
    clock[Y_ENDS] = path[PAY]! * change > 0 ? change / path[PAY]! : Infinity;
    if (steered) endAtSpeed(body, target, path[PAY]! * lean, lean * vy);
  }
  path[PVX] = s[VX] = lean * vy + 0;
  path[PAX] = lean * path[PAY]! + 0;
  s[VY] = vy;
}

/** Down a face: to the terminal speed at a rate; a faster fall is braked. */
function slipDown({ path, clock, motion, currentY, fallingNow }: Body, vy: number, pull: number): void {
  const cap = motion.cap - currentY > 0 ? motion.cap - currentY : 0;
  const falling = fallingNow;
  clock[Y_ENDS] = Infinity;
  path[PAY] = 0;
  if (vy === -cap) return;
  path[PAY] = vy < -cap ? falling : -pull;
  clock[Y_ENDS] = (-cap - vy) / path[PAY]!;
  clock[Y_END_SPEED] = -cap;
}

/** Steering ends where the speed across that is asked for is reached. */
function endAtSpeed({ clock }: Body, target: number, acceleration: number, vx: number): void {
  const time = (target - vx) / acceleration;
  if (!(time > 0)) return;
  clock[X_ENDS] = time;
  clock[X_END_SPEED] = target;
}
