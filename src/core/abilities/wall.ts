import { TORN_OFF } from '../tolerance.js';
import { JUMP } from '../input/intents.js';
import { type Motion, launchFor } from '../tuning/motion.js';
import { ability } from './ability.js';
import type { Control } from './control.js';

interface Own {
  slideSpeed: number;
  settle: number;
  /** units/s² */
  gravity: number;
  cling: number;
  touch: boolean;
  launch: number;
  out: number;
  lock: number;
}

type State = Record<'hold' | 'on' | 'clung' | 'rate' | 'torn' | 'tornAt', number>;

/** What the wall is still slid down with: everything that comes later but the run, which turns the body away from it. */
const BUT_RUN = { but: ['run'] } as const;

/** Slide down a wall, and jump off it. */
export const wall = /* @__PURE__ */ ability('wall', {
  own: numbers,
  timers: ['hold'],
  slots: ['on', 'clung', 'rate', 'torn', 'tornAt'],
  measures: { rate: 'acceleration' },
  places: ['on', 'torn', 'tornAt'],
  edges: ['clung'],
  pose: 'slide',
  events: ['cling', 'uncling'],
  act(c, own, s) {
    if (c.support === 'ground') s.clung = s.torn = 0;
    // Whatever took the body off the wall ended the slide.
    if (s.on === 1 && c.support !== 'wall') end(c, s);
    if (c.waiting(JUMP) >= 0) {
      const { source } = c;
      if ((source === 'wall' || source === 'wallCoyote') && c.take(JUMP)) {
        end(c, s);
        s.clung = 0;
        const way = -c.lastWall;
        c.launch(own.launch, source);
        c.vx = way * own.out + c.lent;
        c.facing = way;
        c.lock(own.lock);
        return;
      }
    }
    const side = c.wall;
    const pressed = c.wish * side;
    // Where the medium takes the body away, it is no more held than where the keys do.
    const drifts = c.current !== 0 && (c.wish * c.motion.air.speed + c.current) * side < 0;
    const away = drifts || (own.touch ? pressed < 0 : pressed <= 0);
    if (side === 0 || c.risesPastWall || c.support === 'ledge' || away) {
      end(c, s);
      return;
    }
    if (s.torn === 1) {
      if (Math.abs(c.y - s.tornAt) < c.motion.width * TORN_OFF * 0.999) return;
      s.torn = 0;
    }
    if (s.on === 0) begin(c, own, s);
    c.freshFall();
    if (s.hold > 0) c.vertical(0, 0);
    else if (c.vy < -own.slideSpeed) c.vertical(-own.slideSpeed, s.rate);
    else c.vertical(-own.slideSpeed, own.gravity);
    c.claim(BUT_RUN);
  },
  watch(c, _, s) {
    if (s.torn !== 1) return;
    c.cutAtY(s.tornAt - c.motion.width * TORN_OFF);
    c.cutAtY(s.tornAt + c.motion.width * TORN_OFF);
  },
  met(c, _, s, { side }) {
    if (s.on === 1 && side === 'head') {
      s.torn = 1;
      s.tornAt = c.y;
    }
    return false;
  },
  stopped: (c, _, s) => end(c, s),
  takesOff: (c, _, s) => end(c, s),
});

function numbers(motion: Motion): Own | undefined {
  const { wall: group } = motion.full;
  if (group === undefined) return undefined;
  return {
    slideSpeed: group.slideSpeed,
    settle: group.settle,
    gravity: motion.falling * group.gravity,
    cling: group.cling,
    touch: group.needs === 'touch',
    launch: launchFor(motion, group.jump.height),
    out: group.jump.out,
    lock: group.jump.lock,
  };
}

/**
 * A fall no faster than the slide is held still first, once per wall; a faster one is braked evenly to the slide's speed,
 * without a jolt.
 */
function begin(c: Control, own: Own, s: State): void {
  s.on = 1;
  c.tell('cling');
  c.holdWall();
  const speed = -c.vy;
  if (speed > own.slideSpeed) {
    if (own.settle > 0) s.rate = (speed - own.slideSpeed) / own.settle;
    else c.vy = -own.slideSpeed;
  } else if (own.cling > 0 && s.clung !== c.wallId + 1) {
    c.vy = 0;
    s.hold = own.cling;
  }
  s.clung = c.wallId + 1;
}

function end(c: Control, s: State): void {
  if (s.on === 0) return;
  s.on = 0;
  s.hold = 0;
  c.tell('uncling');
  if (c.support === 'wall') c.leave();
}
