import type { Body, Installed } from '../state/body.js';
import { isClaimed } from '../state/claims.js';
import { ACROSS_SET, ASK, TOP, UP_SET, WAITED } from '../state/clock.js';
import { SHOWS_FOR, VX, VY, WISH } from '../state/layout.js';
import { specOf } from './ability.js';
import { type Contact, controlOf } from './control.js';

/** Lets every ability act, in order; those that an earlier one's claim stops are told so instead. */
export function actAll(body: Body): void {
  const { clock, active } = body;
  clock[ASK] = body.s[WISH]!;
  clock[TOP] = -1;
  clock[ACROSS_SET] = 0;
  clock[UP_SET] = 0;
  clock[WAITED] = 0;
  body.claimed = 0;
  body.showing = -1;
  body.s[SHOWS_FOR] = 0;
  body.again = false;
  const control = controlOf(body);
  for (let i = 0; i < active.length; i++) {
    const one = active[i]!;
    const spec = specOf(one);
    control.turnOf(one);
    if (body.claimed === 0 || !isClaimed(body, one.ability.name)) spec.act(control, one.own, one.state);
    else if (spec.stopped !== undefined) spec.stopped(control, one.own, one.state);
  }
}

/** Lets abilities cut the path where it passes the positions that they wait for. */
export function watchAll(body: Body): void {
  const { watching } = body;
  if (watching.length === 0) return;
  const control = controlOf(body);
  for (let i = 0; i < watching.length; i++) {
    const one = watching[i]!;
    control.turnOf(one);
    specOf(one).watch!(control, one.own, one.state);
  }
}

const contact: Contact = { side: 'feet', speed: 0 };

/**
 * Asks the abilities whether one deals with a contact. One that leaves the body moving into it has not.
 * @param against the speed of what is met, along its normal
 */
export function meet(body: Body, nx: number, ny: number, against = 0): boolean {
  const { meeting, s } = body;
  if (meeting.length === 0) return false;
  // Of slanted faces the greater part counts.
  const upright = Math.abs(nx) > Math.abs(ny);
  contact.side = upright ? (nx < 0 ? 'right' : 'left') : ny > 0 ? 'feet' : 'head';
  contact.speed = against - (nx * s[VX]! + ny * s[VY]!);
  const control = controlOf(body);
  for (let i = 0; i < meeting.length; i++) {
    const one: Installed = meeting[i]!;
    control.turnOf(one);
    if (specOf(one).met!(control, one.own, one.state, contact)) return nx * s[VX]! + ny * s[VY]! >= against;
  }
  return false;
}
