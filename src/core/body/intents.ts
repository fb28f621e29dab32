import { MOST_LAID } from '../input/host.js';
import { HOST, LEFT, MOVE, RIGHT } from '../input/intents.js';
import { LATEST, STILL } from '../input/opposed.js';
import type { Body } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { turn } from '../state/facing.js';
import { DEAF, FIRST, HELD_ACTIONS, ON_LEDGE, OPPOSED_BY, SUPPORT, WISH } from '../state/layout.js';

/**
 * Takes every intent whose moment has come. A press is latched until it is taken, or too old for whoever would take it. A call that was made after a piece had
 * been laid at that moment is made after it again.
 * @returns whether the game has called, so that what holds the body up may be another thing now
 */
export function takeIntents(body: Body): boolean {
  const { s, intents, clock } = body;
  let called = false;
  while (body.nextIntent < intents.count && intents.time[body.nextIntent]! <= clock[NOW]!) {
    const i = body.nextIntent;
    if (intents.action[i] === HOST) {
      const call = intents.calls[i]!;
      if (Math.min(call.after ?? 0, MOST_LAID) >= body.laid) break;
      body.nextIntent++;
      body.onHost(body, call);
      called = true;
      continue;
    }
    body.nextIntent++;
    if (s[DEAF] === 0) setAction(body, intents.action[i]!, intents.value[i]!);
  }
  return called;
}

/** Drops what leaves everything as it is, of the intents whose moment has come. @returns whether any is left */
export function dropIdle(body: Body, at: Float64Array): boolean {
  const { s, intents } = body;
  const now = at[0]!;
  for (; body.nextIntent < intents.count && intents.time[body.nextIntent]! <= now; body.nextIntent++) {
    const i = body.nextIntent;
    if (intents.action[i] === HOST) return true;
    const held = body.heldAt[intents.action[i]!] ?? -1;
    if (s[DEAF] === 0 && held >= 0 && s[held] !== intents.value[i]) return true;
  }
  return false;
}

/** Gives an action a value. */
export function setAction(body: Body, action: number, value: number): void {
  const { s, clock } = body;
  const at = body.heldAt[action] ?? -1;
  if (at < 0) return;
  const before = s[at]!;
  s[at] = value;
  if (before === 0 && value > 0) s[body.pressAt[action]!] = s[body.sinceAt[action]!] = clock[NOW]!;
  if (action === LEFT || action === RIGHT) {
    const other = action === LEFT ? RIGHT : LEFT;
    if (value > 0 && before === 0 && s[HELD_ACTIONS + other]! > 0) s[FIRST] = action === LEFT ? 1 : -1;
    updateWish(body);
  } else if (action === MOVE) updateWish(body);
}

/** Lets go of everything: what was held by a driver that is gone, or before going deaf. Presses that wait are taken back, and none has been. */
export function releaseAll(body: Body): void {
  const { s, heldAt, pressAt, sinceAt } = body;
  heldAt.forEach((at, action) => {
    if (at >= 0 && s[at] !== 0) setAction(body, action, 0);
  });
  for (const list of [pressAt, sinceAt]) for (const at of list) if (at >= 0) s[at] = -1;
}

/** The way the keys ask for, both directions settled by the character's rule, at most 1 long. */
export function updateWish(body: Body): void {
  const { s } = body;
  const left = s[HELD_ACTIONS + LEFT]!;
  const right = s[HELD_ACTIONS + RIGHT]!;
  let way = right - left;
  if (left > 0 && right > 0) way = s[OPPOSED_BY] === STILL ? 0 : s[OPPOSED_BY] === LATEST ? -s[FIRST]! : s[FIRST]!;
  way += s[HELD_ACTIONS + MOVE]!;
  const before = s[WISH]!;
  s[WISH] = way > 1 ? 1 : way < -1 ? -1 : way + 0;
  // Another way is pressed: face it. A body that hangs faces its ledge.
  const another = s[WISH]! > 0 ? before <= 0 : s[WISH]! < 0 && before >= 0;
  if (another) faceWish(body);
}

/** Turns the body the way that the keys ask for. */
export function faceWish(body: Body): void {
  const { s } = body;
  if (s[WISH] !== 0 && s[SUPPORT] !== ON_LEDGE) turn(body, s[WISH]! > 0 ? 1 : -1);
}
