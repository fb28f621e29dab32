import { LN10 } from '../elementary.js';
import { WALK } from '../input/intents.js';
import type { Body } from '../state/body.js';
import { ASK, TOP } from '../state/clock.js';
import { EDGE, GROUND, HELD_ACTIONS, PIT, SUPPORT, VX, X, Y } from '../state/layout.js';
import { TURNS_BACK } from '../tolerance.js';
import { FOUND_EDGE, FROM, SLOPE, UNTIL, findGround, here, isLevel, slopeHere, stretch, surfaceOf, surfaceUnder } from './ground.js'; // prettier-ignore

/** What the ground or the medium makes of steering: its own speed across, what it makes of top speed and of rates, and how it holds. */
export type Footing = Float64Array;
export const footing = (): Footing => new Float64Array(4);
export const DRIFT = 0;
export const GRIP_SHARE = 1;
export const SCALE = 2;
export const RATES = 3;

/** What it makes of it where the body is. */
export function footingHere(body: Body, into: Footing): void {
  const { s } = body;
  footingOn(body, 0, 0, into);
  if (s[SUPPORT] !== GROUND || s[PIT] !== 0) {
    into[DRIFT] = body.currentX;
    return;
  }
  const surface = body.level.surfaces.length > 1 ? surfaceUnder(body) : 0;
  if (surface !== 0 || !isLevel(body)) footingOn(body, surface, slopeHere(body), into);
}

/** What ground of a surface and a slope makes of it. Measured along a slope, the top speed across is scaled by the cosine of its angle. */
function footingOn({ clock, motion, level, zonePace }: Body, surface: number, slope: number, into: Footing): void {
  into[DRIFT] = 0;
  into[GRIP_SHARE] = 1;
  into[RATES] = 1;
  into[SCALE] = zonePace;
  if (slope !== 0) {
    const rises = slope * clock[ASK]!;
    const cosine = 1 / Math.sqrt(1 + slope * slope);
    if (motion.along) {
      into[SCALE]! *= cosine;
      into[RATES] = cosine;
    }
    into[SCALE]! *= rises > 0 ? motion.uphill : rises < 0 ? motion.downhill : 1;
  }
  if (surface === 0) return;
  const { grip, pace, flow } = level.surfaces[surface]!;
  into[SCALE]! *= pace;
  into[GRIP_SHARE] = grip;
  into[DRIFT] = slope === 0 ? flow : flow / Math.sqrt(1 + slope * slope);
}

/** How fast it is to go across, by what is asked and what is underfoot, relative to that. */
export function targetOn({ s, clock, motion }: Body, on: Footing): number {
  const top = clock[TOP]! >= 0 ? clock[TOP]! : motion.ground.speed;
  return clock[ASK]! * top * (s[HELD_ACTIONS + WALK]! > 0 ? motion.walk : 1) * on[SCALE]!;
}

const mine = footing();
const next = footing();
const found = stretch();
const onward = { way: 0, down: 0 };

/**
 * Whether the body stands at a joint that neither side lets it over: the ground that it stands on sends it onto the next, and that sends it back. Going over and back ever
 * less far it would come to no end.
 */
export function isSentBack(body: Body, way: number): boolean {
  const { s, motion } = body;
  if (way === 0 || body.level.surfaces.length < 2 || s[SUPPORT] !== GROUND || s[PIT] !== 0) return false;
  here(body, found);
  const end = way > 0 ? found[UNTIL]! : found[FROM]!;
  if ((end - s[X]!) * way > motion.touch) return false;
  onward.way = way;
  if (!findGround(body, s[X]! + way * motion.touch, s[Y]!, onward, found)) return false;
  return sendsBack(body, found[FOUND_EDGE]!, found[SLOPE]!, way);
}

/** Whether ground that comes next sends a body back before anybody would see that it was there. */
export function turnsBack(body: Body, edge: number, slope: number, way: number): boolean {
  const { s, motion } = body;
  if (body.level.surfaces.length < 2 || s[SUPPORT] !== GROUND || s[PIT] !== 0) return false;
  if (!sendsBack(body, edge, slope, way)) return false;
  const { speed, stopIn, turnIn, eased } = motion.ground;
  const v = s[VX]!;
  // How hard it is held back there at first, at least.
  const change = eased ? Math.abs(targetOn(body, next) + next[DRIFT]! - v) * LN10 : speed * next[RATES]!;
  const rate = (change * next[GRIP_SHARE]!) / (stopIn > turnIn ? stopIn : turnIn);
  return v * v <= 2 * rate * motion.width * TURNS_BACK;
}

function sendsBack(body: Body, edge: number, slope: number, way: number): boolean {
  const { s } = body;
  if (edge === s[EDGE] || surfaceOf(body, edge) === surfaceUnder(body)) return false;
  footingHere(body, mine);
  footingOn(body, surfaceOf(body, edge), slope, next);
  return (targetOn(body, mine) + mine[DRIFT]!) * way > 0 && (targetOn(body, next) + next[DRIFT]!) * way < 0;
}
