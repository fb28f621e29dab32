import { BESIDE, NX, NY, SIDE, SLANT } from '../state/touches.js';
import { senseDropped } from '../contact/drop.js';
import { surfaceUnder } from '../contact/ground.js';
import { besideWall, feelForWall, isGrippable, runOf } from '../contact/sides.js';
import type { Body } from '../state/body.js';
import { COYOTE, GRIP, GRIP_SIDE, GROUND, HEIGHT, ON_LEDGE, SUPPORT, SURFACE, VX, WALL_COYOTE } from '../state/layout.js'; // prettier-ignore
import { coyoteOpen, grip, letGoOfWall, wallCoyoteOpen } from '../state/rights.js';

/** Closes what has run out, and feels for walls. Supports are remembered, and end at moments that the path was cut for. */
export function sense(body: Body): void {
  const { s, motion } = body;
  if (body.level.surfaces.length > 1) senseSurface(body);
  senseDropped(body);
  if (s[COYOTE] === 1 && !coyoteOpen(body)) s[COYOTE] = 0;
  if (!motion.walls) return;
  if (s[WALL_COYOTE] === 1 && !wallCoyoteOpen(body)) s[WALL_COYOTE] = 0;
  if (s[SUPPORT] === GROUND || s[SUPPORT] === ON_LEDGE) {
    s[GRIP] = -1;
    return;
  }
  if (s[BESIDE]! < 0 && s[SLANT]! < 0 && (s[VX] === 0 || body.setCount > 1)) feelForWall(body);
  const wall =
    s[BESIDE]! >= 0 ? s[BESIDE]! : s[SLANT]! >= 0 && Math.abs(s[SLANT + NY]!) <= motion.lean ? s[SLANT]! : -1;
  if (wall >= 0 && isGrippable(body, wall) && besideWall(body, wall) >= s[HEIGHT]! / 2 - motion.touch / 2) {
    s[GRIP_SIDE] = s[BESIDE]! >= 0 ? s[BESIDE + SIDE]! : s[SLANT + NX]! < 0 ? 1 : -1;
    grip(body, runOf(body, wall));
  } else letGoOfWall(body);
}

/** Tells when the body comes to stand on another surface. In the air it keeps the last. */
function senseSurface(body: Body): void {
  const { s, level } = body;
  if (s[SUPPORT] !== GROUND) return;
  const surface = surfaceUnder(body);
  if (surface === s[SURFACE]) return;
  s[SURFACE] = surface;
  body.tell('surface').surface = level.surfaces[surface]!.name;
}
