import { LEAST_PAUSE } from '../tolerance.js';
import { DOWN, JUMP, UP } from '../input/intents.js';
import type { Ledge } from '../tuning/tuning.js';
import { ability } from './ability.js';
import type { Control } from './control.js';

type State = Record<'pause' | 'leg' | 'side' | 'corner' | 'last' | 'climbing' | 'hung' | 'began', number>;

/**
 * The hands fall past a corner and hold it. Then jump, climb, or let go. The climb goes straight up until the feet are level with the
 * top, then straight across until the whole body is over it, at one speed.
 */
export const ledge = /* @__PURE__ */ ability('ledge', {
  own: ({ full }) => full.ledge,
  timers: ['pause', 'leg'],
  slots: ['side', 'corner', 'last', 'climbing', 'hung', 'began'],
  moments: ['hung', 'began'],
  places: ['side', 'climbing'],
  edges: ['corner', 'last'],
  pose: ['hang', 'climb'],
  events: ['hang', 'unhang', 'climbed'],
  act(c, own, s) {
    if (c.support !== 'ledge') {
      s.climbing = 0;
      // Something has torn it off.
      if (s.hung === 1) letGo(c, own, s);
      if (!fallsPast(c) || !catches(c, own, s)) return;
    }
    if (s.climbing !== 0 && climb(c, own, s)) return;
    if (s.climbing === 0) {
      if (c.waiting(JUMP) >= 0 && c.source === 'ledge' && c.take(JUMP)) {
        letGo(c, own, s);
        c.launch(c.motion.launch, 'ledge');
        return;
      }
      if (c.take(DOWN)) {
        letGo(c, own, s);
        c.leave();
        return;
      }
      if (c.take(UP) && c.isFree(0, own.hands, s.side * c.motion.width, 0)) {
        s.climbing = 1;
        s.began = c.now;
        s.leg = (own.climb * own.hands) / (own.hands + c.motion.width);
        if (s.leg > 0) c.vy = own.hands / s.leg;
        if (climb(c, own, s)) return;
      }
    }
    if (s.climbing === 0) c.show('hang');
    else c.show('climb', s.began, own.climb);
    c.claim();
    c.vertical(c.vy, 0);
    c.across(c.vx, 0);
  },
  watch(c, own, s) {
    if (c.support === 'ground' || c.support === 'ledge') return;
    for (let side = -1; side <= 1; side += 2) {
      if (wants(c, own, side)) c.cutAtCorner(side, own.hands, own.reach, s.pause > 0 ? s.last - 1 : -1);
    }
  },
});

function fallsPast(c: Control): boolean {
  return c.support !== 'ground' && c.vy <= 0;
}

/** Pressing toward it, or by itself. */
function wants(c: Control, { auto }: Ledge, side: number): boolean {
  return c.wish * side > 0 || (auto && c.wish === 0);
}

/** Takes hold of a corner that the hands are at; the way faced first. */
function catches(c: Control, own: Ledge, s: State): boolean {
  for (let turn = 1; turn >= -1; turn -= 2) {
    const side = c.facing * turn;
    if (!wants(c, own, side)) continue;
    const corner = c.corner(side, own.hands, own.reach);
    if (corner < 0 || (s.pause > 0 && corner === s.last - 1)) continue;
    if (!c.hang(corner, side, own.hands)) continue;
    c.tell('hang');
    s.side = side;
    s.corner = corner + 1;
    s.hung = 1;
    return true;
  }
  return false;
}

function letGo(c: Control, own: Ledge, s: State): void {
  s.hung = 0;
  c.tell('unhang');
  s.last = s.corner;
  // The hands are still at the corner: it takes a moment until they are past it.
  s.pause = own.pause > LEAST_PAUSE ? own.pause : LEAST_PAUSE;
}

/** Goes on climbing, from one leg to the next. @returns whether it is over */
function climb(c: Control, own: Ledge, s: State): boolean {
  const across = c.motion.width;
  const whole = own.hands + across;
  const top = c.cornerY(s.corner - 1);
  if (s.climbing === 1 && s.leg === 0) {
    if (!c.moveTo(c.x, top)) return fallsOff(c, own, s);
    s.climbing = 2;
    s.leg = (own.climb * across) / whole;
    c.vy = 0;
    c.vx = s.leg > 0 ? (s.side * whole) / own.climb : 0;
  }
  if (s.climbing === 2 && s.leg === 0) {
    c.vx = 0;
    if (!c.moveTo(c.cornerX(s.corner - 1) + (s.side * across) / 2, top) || !c.stand()) return fallsOff(c, own, s);
    s.climbing = 0;
    s.hung = 0;
    c.tell('climbed');
    // A press that waits is for whoever comes first on the ground.
    c.again();
    return true;
  }
  return false;
}

/** Something came into the way. */
function fallsOff(c: Control, own: Ledge, s: State): boolean {
  s.climbing = 0;
  letGo(c, own, s);
  c.leave();
  return true;
}
