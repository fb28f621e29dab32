import { MOMENTS } from '../state/moments.js';
import { specOf } from '../abilities/ability.js';
import { setAction, updateWish } from '../body/intents.js';
import { HOST } from '../input/intents.js';
import type { Body } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { AIR_SPENT, BAND, BOXES_OFF, COYOTE, DEAF, FALL, FIRST, FOOTFALLS, FRAME, FROZEN, FROZEN_SINCE, GROUND, HIGHEST, IGNORES, JUMPING, KEY, LANDING, LEDGE_GAVE, LOCK_FOR, LOCK_FROM, OPPOSED_BY, PHASE, POSE, POSE_WAS, RAMP, RAN, SHOWS_FOR, STRIDE, SUPPORT, TEMPO, TUNED, VX, VY, WANT, WISH, Y } from '../state/layout.js'; // prettier-ignore
import { MVX, MVY } from '../movers/moving.js';

/** What goes with a body into another room: how it goes, its rights, what it shows; places and what it touches stay behind. */
const GOES: readonly number[] = [BOXES_OFF, TEMPO, FIRST, WISH, DEAF, TUNED, OPPOSED_BY, RAMP, BAND, JUMPING, KEY, LOCK_FOR, LOCK_FROM, COYOTE, AIR_SPENT, LEDGE_GAVE, RAN, POSE, WANT, SHOWS_FOR, LANDING, STRIDE, FOOTFALLS, POSE_WAS]; // prettier-ignore
/**
 * Gives a body that has just been put into another room what it had in this one: its motion, rights and timers, and what is held.
 */
export function carryOver(from: Body, to: Body): void {
  const { s } = to;
  const later = to.clock[NOW]! - from.clock[NOW]!;
  for (const at of GOES) s[at] = from.s[at]!;
  for (const at of MOMENTS) s[at] = from.s[at]! + later;
  for (const at of [FROZEN, FROZEN_SINCE]) s[at] = from.s[FROZEN] === 0 ? 0 : from.s[at]! + later;
  for (let action = 0; action < to.heldAt.length; action++) {
    const at = to.heldAt[action]!;
    if (at < 0) continue;
    s[at] = from.s[from.heldAt[action]!]!;
    s[to.pressAt[action]!] = momentOf(from.s[from.pressAt[action]!]!, later);
    s[to.sinceAt[action]!] = momentOf(from.s[from.sinceAt[action]!]!, later);
  }
  to.installed.forEach((one, i) => {
    const { timers = [], slots = [], moments = [], places = [], edges = [] } = specOf(one);
    const base = from.installed[i]!.base;
    timers.forEach((_, k) => {
      const until = from.s[base + k]!;
      s[one.base + k] = until > 0 ? until + later : 0;
    });
    slots.forEach((slot, k) => {
      const at = timers.length + k;
      const value = from.s[base + at]!;
      s[one.base + at] =
        places.includes(slot) || edges.includes(slot)
          ? 0
          : moments.includes(slot) && value !== 0
            ? value + later
            : value;
    });
  });
  const { layers } = from.level;
  s[IGNORES] = 0;
  for (let i = 1; i < layers.length; i++) {
    const known = to.level.layers.indexOf(layers[i]!, 1);
    if ((from.s[IGNORES]! & (1 << i)) !== 0 && known > 0) s[IGNORES]! |= 1 << known;
  }
  for (const near of to.nears) near.ignores = s[IGNORES]!;
  if (from.hull.height < from.motion.height) to.setHeight(from.hull.height);
  s[VX] = from.s[VX]! + from.frame[MVX]! - to.frame[MVX]! + 0;
  if (s[SUPPORT] === GROUND) {
    s[JUMPING] = 0;
    s[VY] = 0;
  } else {
    s[VY] = from.s[VY]! + from.frame[MVY]! + 0;
    s[PHASE] = FALL;
    s[HIGHEST] = s[Y]!;
    if (s[FRAME] !== 0) s[VY] = s[VY]! - to.frame[MVY]!;
  }
  // What was to happen to its keys within the tick that it leaves in the middle of is done at once: nothing stays held.
  const { intents } = from;
  for (let i = from.nextIntent; i < intents.count; i++)
    if (intents.action[i] !== HOST) setAction(to, intents.action[i]!, intents.value[i]!);
  updateWish(to);
}

function momentOf(moment: number, later: number): number {
  return moment >= 0 && moment + later >= 0 ? moment + later : -1;
}
