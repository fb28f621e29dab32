import { CLEARS } from '../tolerance.js';
import type { StageEvent } from '../trace/events.js';
import { MVX, MVY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { intoFrame } from '../state/frame.js';
import { ABOARD, FRAME, NONE, SUPPORT, VX, VY, WISH } from '../state/layout.js';
import { LEND_BOTH, LEND_NONE } from '../tuning/lend.js';

/**
 * Leaves what carries the body, with as much of its velocity as it lends. A moment after a stop or a turn the better velocity counts: more upward,
 * then more along the held key.
 * @param jump whether it jumps: downward velocity is not lent then
 * @param way the way off an edge, −1 or 1, or 0: there it is at least as fast as what it leaves, and a little faster than what comes behind it: that else
 * would be under it again at once
 */
export function leaveFrame(body: Body, jump: boolean, way = 0): void {
  const { s, moving, clock, frame } = body;
  body.lentX = 0;
  const carrier = s[FRAME]!;
  if (carrier === 0 || moving === undefined) return;
  const wx = frame[MVX]!;
  const wy = frame[MVY]!;
  intoFrame(body, 0);
  lent(body, carrier, wx, wy, clock[NOW]!, jump);
  s[VX] = s[VX]! + (given[0]! - wx) + 0;
  s[VY] = s[VY]! + (given[1]! - wy) + 0;
  body.lentX = given[0]!;
  const least = wx * way > 0 ? body.motion.cap * CLEARS : 0;
  if (way !== 0 && (s[VX]! - wx) * way < least) s[VX] = wx + least * way;
}

const given = new Float64Array(2);

/** What a mover of that velocity lends; left in `given`. */
function lent({ s, moving, motion }: Body, set: number, wx: number, wy: number, now: number, jump: boolean): void {
  let vx = wx;
  let vy = wy;
  if (moving!.beforeTurn(set, now, motion.linger)) {
    const px = moving!.at[MVX]!;
    const py = moving!.at[MVY]!;
    const more = motion.lend === LEND_BOTH ? py - vy : 0;
    if (more > 0 || (more === 0 && (px - vx) * s[WISH]! > 0)) [vx, vy] = [px, py];
  }
  given[0] = motion.lend === LEND_NONE ? 0 : vx;
  given[1] = motion.lend !== LEND_BOTH || (jump && vy < 0) ? 0 : vy;
}

/** A takeoff from something that only touched the body, as a wall does: it lends its velocity too. */
export function borrow(body: Body, set: number): void {
  const { s, moving, clock, nears } = body;
  if (set === 0 || set === s[FRAME] || moving === undefined) return;
  const m = nears[set]!.motion;
  lent(body, set, m[MVX]!, m[MVY]!, clock[NOW]!, true);
  s[VY] = s[VY]! + given[1]!;
  body.lentX = given[0]!;
}

/** Tells that it leaves what carries it. @returns the event, to be given the velocity that it leaves with */
export function tellAlight(body: Body): StageEvent | undefined {
  const { s, level } = body;
  const before = s[ABOARD]!;
  if (before === 0) return undefined;
  s[ABOARD] = 0;
  const told = body.tell('alight');
  told.mover = level.movers[before - 1]!.name;
  return told;
}

/** Tells what carries the body now, if that is another thing than before. */
export function tellAboard(body: Body): void {
  const { s, level } = body;
  const carrier = s[SUPPORT] === NONE ? 0 : s[FRAME]!;
  if (carrier === s[ABOARD]) return;
  tellAlight(body);
  s[ABOARD] = carrier;
  if (carrier > 0) body.tell('board').mover = level.movers[carrier - 1]!.name;
}
