import { EASE_TIMES, easedTurn, manner } from '../../arc/across.js';
import { LN10 } from '../../elementary.js';
import { WALK } from '../../input/intents.js';
import { D, PAX, PVX, PX, RATE, U } from '../../sweep/path.js';
import { WALL_LEFT } from '../../terrain/terrain.js';
import { pressOnto } from '../lip.js';
import { NOW, X_ENDS, X_END_SPEED, type Body } from '../body.js';
import {
  EASE_END,
  EASE_RATE,
  EASE_TO,
  EASING,
  FACING,
  GROUND,
  HELD_ACTIONS,
  SUPPORT,
  VX,
  WALL,
  WISH,
  X,
} from '../state.js';

/** Left, right, stop: the motion across for as long as nothing changes. */
export function run(body: Body): void {
  const { s, path, clock, motion } = body;
  const wish = s[WISH]!;
  if (wish !== 0 && wish > 0 !== s[FACING]! > 0) {
    body.tell('turned').facing = wish > 0 ? 1 : -1;
    s[FACING] = wish > 0 ? 1 : -1;
  }
  if (s[VX] === 0) pressOnto(body);
  const grounded = s[SUPPORT] === GROUND;
  const rule = grounded ? motion.ground : motion.air;
  path[PX] = s[X]!;
  path[PAX] = 0;
  path[RATE] = 0;
  clock[X_ENDS] = Infinity;
  if (grounded || !motion.airLocked) {
    const target = wish * rule.speed * (s[HELD_ACTIONS + WALK]! > 0 ? motion.walk : 1);
    for (;;) {
      const how = manner(s[VX]!, target, rule.speed, rule.keep);
      if (how === 0 || blocked(body, target > 0)) {
        s[EASING] = 0;
        break;
      }
      const time = how === 1 ? rule.upIn : how === 2 ? rule.stopIn : rule.turnIn;
      const end = how === 3 ? 0 : target;
      if (time === 0) {
        // At once; after a turn the other way is still to come.
        s[VX] = end;
        continue;
      }
      if (rule.eased) ease(body, how, target, time);
      else {
        const rate = rule.speed / time;
        clock[X_ENDS] = Math.abs(end - s[VX]!) / rate;
        clock[X_END_SPEED] = end;
        path[PAX] = end > s[VX]! ? rate : -rate;
      }
      break;
    }
  }
  path[PVX] = s[VX]!;
  if (s[VX] !== 0 || path[PAX] !== 0 || path[RATE] !== 0) s[WALL] = -1;
}

/** At rest against the wall that stopped the body, and asked to go on that way. */
function blocked({ s, near }: Body, right: boolean): boolean {
  return s[VX] === 0 && s[WALL]! >= 0 && right === (near.terrain.kind[s[WALL]!] === WALL_LEFT);
}

/**
 * The difference to the target dies away; after three of its times it is nothing. The moment at which that will be is
 * kept from the start of the change, so that cutting it into pieces does not move it.
 */
function ease(body: Body, how: 0 | 1 | 2 | 3, target: number, time: number): void {
  const { s, path, clock } = body;
  const rate = LN10 / time;
  if (s[EASING] !== 1 || s[EASE_TO] !== target || s[EASE_RATE] !== rate) {
    s[EASING] = 1;
    s[EASE_TO] = target;
    s[EASE_RATE] = rate;
    s[EASE_END] = clock[NOW]! + EASE_TIMES * time;
  }
  path[U] = target;
  path[D] = s[VX]! - target;
  path[RATE] = rate;
  const done = s[EASE_END]! - clock[NOW]!;
  const rest = how === 3 ? easedTurn(s[VX]!, target, rate) : Infinity;
  clock[X_ENDS] = rest < done ? rest : done > 0 ? done : 0;
  clock[X_END_SPEED] = rest < done ? 0 : target;
}
