import { CEILING, FLOOR, WALL_LEFT } from '../terrain/terrain.js';
import { NOW, type Body } from './body.js';
import { slipPast } from './corner.js';
import { liftOnto } from './lip.js';
import { stand } from './sense.js';
import { EASING, HEIGHT, HIGHEST, LANDED, LOCK_FOR, VX, VY, WALL, X, Y } from './state.js';

/** A few units in the last place. */
const ROUNDING = 8.881784197001252e-16;

/** What a touch does: a floor is landed on, a ceiling ends the rise unless its corner can be slipped past, a wall
 * ends the motion across unless the body can be lifted onto it. */
export function settle(body: Body, edge: number): void {
  const { s, motion, terrain } = body;
  const kind = terrain.kind[edge]!;
  if (kind === FLOOR) {
    const told = body.tell('touchdown');
    told.speed = -s[VY]! + 0;
    told.fallen = s[HIGHEST]! > terrain.y1[edge]! ? s[HIGHEST]! - terrain.y1[edge]! : 0;
    s[VY] = 0;
    s[LOCK_FOR] = 0;
    s[LANDED] = body.clock[NOW]!;
    stand(body, edge);
  } else if (kind === CEILING) {
    s[Y] = terrain.y1[edge]! - s[HEIGHT]!;
    if (s[VY]! > 0 && slipPast(body, edge)) return;
    if (s[VY]! > 0) bump(body, 'head', s[VY]!);
    s[VY] = 0;
  } else {
    const side = kind === WALL_LEFT ? 1 : -1;
    if (s[VX] !== 0 && liftOnto(body, edge)) return;
    if (s[VX] !== 0) bump(body, side > 0 ? 'right' : 'left', Math.abs(s[VX]!));
    // Copied, unless the body overlaps the wall already: it is never moved sideways to correct that.
    const beside = terrain.x1[edge]! - side * motion.half;
    if ((beside - s[X]!) * side > -(motion.touch / 1024 + Math.abs(beside) * ROUNDING)) s[X] = beside;
    s[VX] = 0;
    s[WALL] = edge;
    s[EASING] = 0;
    s[LOCK_FOR] = 0;
  }
}

function bump(body: Body, side: 'head' | 'left' | 'right', speed: number): void {
  const told = body.tell('bump');
  told.side = side;
  told.speed = speed;
}
