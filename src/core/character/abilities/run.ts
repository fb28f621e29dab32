import { EASE_TIMES, easedTurn, manner } from '../../arc/across.js';
import { LN10 } from '../../elementary.js';
import { D, PAX, PVX, PX, RATE, U } from '../../sweep/path.js';
import { WALL_LEFT } from '../../terrain/terrain.js';
import { X_ENDS, X_END_SPEED, type Body } from '../body.js';
import { EASE_END, EASE_RATE, EASE_TO, EASING, FACING, GROUND, SUPPORT, VX, WALL, X } from '../state.js';

/** Left, right, stop: the motion across for as long as nothing changes. */
export function run(body: Body): void {
  const { s, path, clock, motion } = body;
  const wish = body.wish;
  if (wish !== 0 && wish > 0 !== s[FACING]! > 0) {
    body.tell('turned').facing = wish > 0 ? 1 : -1;
    s[FACING] = wish > 0 ? 1 : -1;
  }
  const grounded = s[SUPPORT] === GROUND;
  const rule = grounded ? motion.ground : motion.air;
  path[PX] = s[X]!;
  path[PAX] = 0;
  path[RATE] = 0;
  clock[X_ENDS] = Infinity;
  if (grounded || !motion.airLocked) {
    const target = wish * rule.speed * (body.walking ? motion.walk : 1);
    let how = manner(s[VX]!, target, rule.speed, rule.keep);
    // A time of 0 means at once, unless a wall is in the way.
    while (how !== 0 && !blocked(body, target)) {
      if ((how === 1 ? rule.upIn : how === 2 ? rule.stopIn : rule.turnIn) > 0) break;
      s[VX] = how === 3 ? 0 : target;
      how = manner(s[VX]!, target, rule.speed, rule.keep);
    }
    if (how === 0) s[EASING] = 0;
    else if (blocked(body, target)) {
      path[PVX] = 0;
      s[EASING] = 0;
      return;
    } else {
      const time = how === 1 ? rule.upIn : how === 2 ? rule.stopIn : rule.turnIn;
      if (rule.eased) ease(body, how, target, time);
      else {
        const end = how === 3 ? 0 : target;
        const rate = rule.speed / time;
        clock[X_ENDS] = Math.abs(end - s[VX]!) / rate;
        clock[X_END_SPEED] = end;
        path[PAX] = end > s[VX]! ? rate : -rate;
      }
    }
  }
  path[PVX] = s[VX]!;
  if (s[VX] !== 0 || path[PAX] !== 0 || path[RATE] !== 0) s[WALL] = -1;
}

/** At rest against the wall that stopped the body, with the target beyond it. */
function blocked({ s, near }: Body, target: number): boolean {
  return s[VX] === 0 && s[WALL]! >= 0 && target > 0 === (near.terrain.kind[s[WALL]!] === WALL_LEFT);
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
    s[EASE_END] = body.now + EASE_TIMES * time;
  }
  path[U] = target;
  path[D] = s[VX]! - target;
  path[RATE] = rate;
  const done = s[EASE_END]! - body.now;
  const rest = how === 3 ? easedTurn(s[VX]!, target, rate) : Infinity;
  clock[X_ENDS] = rest < done ? rest : done > 0 ? done : 0;
  clock[X_END_SPEED] = rest < done ? 0 : target;
}
