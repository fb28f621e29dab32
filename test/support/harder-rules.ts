import type { Character, InputRow, StageEvent } from 'apperin';
import type { Ground } from './harder-ground.js';
import { bodyAt, depthBetween } from './separate.js';

/** A rule that is asked after every tick; it answers with what is wrong. */
type Rule = (time: number) => string | undefined;

/**
 * Nothing is stuck: a key held for a second without the body moving, while it could be moved twice the tolerance that way, level or along
 * what it stands on, without coming into anything.
 */
export function neverStuck(hero: Character, rows: readonly InputRow[], { near, mayBlock, yUp }: Ground): Rule {
  const input = [...rows].sort((a, b) => a.time - b.time);
  const held = { left: 0, right: 0 };
  const { motion } = hero;
  const bevel = motion.hull.side;
  let next = 0;
  let way = 0;
  let since = 0;
  let at = [hero.x, hero.y];
  return (time) => {
    for (; next < input.length && input[next]!.time <= time; next++) {
      const { action, value } = input[next]!;
      if (action === 'left') held.left = value;
      if (action === 'right') held.right = value;
      since = action === 'up' || action === 'glide' ? since : time;
    }
    const now = held.right - held.left;
    const moved = Math.abs(hero.x - at[0]!) + Math.abs(hero.y - at[1]!) > motion.touch;
    if (now !== way || moved || hero.support === 'ledge' || hero.pose === 'charge') {
      way = now;
      since = time;
      at = [hero.x, hero.y];
    }
    if (way === 0 || time - since < 1) return undefined;
    since = time;
    const { half, touch } = motion;
    const y = hero.y * yUp;
    const [left, bottom, right, top] = [hero.x - half - 0.1, y - 0.1, hero.x + half + 0.1, y + hero.height + 0.1];
    if (mayBlock(left, bottom, right, top)) return undefined;
    const here = bodyAt(hero.x, y, motion.width, hero.height, bevel);
    for (const slope of new Set([0, hero.slope])) {
      const there = bodyAt(hero.x + way * 2 * touch, y + way * 2 * touch * slope, motion.width, hero.height, bevel);
      let free = true;
      for (const solid of near(left, bottom, right, top))
        free &&= depthBetween(there, solid) <= Math.max(0, depthBetween(here, solid)) + touch / 100;
      if (free) return `stuck, with ${way > 0 ? 'right' : 'left'} held for a second`;
    }
    return undefined;
  };
}

/** No touch makes a body faster than it was, but for what gravity and the keys add until the tick's end. */
export function neverFaster(hero: Character, listen: (on: (event: Readonly<StageEvent>) => void) => void): Rule {
  const { motion } = hero;
  const { ground, air } = motion;
  const gravity = 3 * Math.max(motion.rising, motion.falling, motion.rampTo, motion.releasedAbove, motion.releasedBand);
  const steep = motion.along ? 1 : Math.sqrt(1 + motion.steepest * motion.steepest);
  const keys =
    steep *
    Math.max(
      ...[ground, air].flatMap(({ speed, eased, upIn, stopIn, turnIn }) =>
        [upIn, stopIn, turnIn].map((time) => (time === 0 ? Infinity : (eased ? 2 * Math.LN10 : 1) * (speed / time))),
      ),
    );
  let touched: { speed: number; time: number } | undefined;
  listen(({ event, vx, vy, time }) => {
    if (event === 'bump' || event === 'touchdown') touched = { speed: Math.hypot(vx, vy), time };
    else if (event === 'takeoff' || event === 'lip' || event === 'hang') touched = undefined;
  });
  return (time) => {
    if (!touched) return undefined;
    const { speed, time: then } = touched;
    touched = undefined;
    const now = Math.hypot(hero.vx, hero.vy);
    // Measured across, going on downhill is faster by the slope.
    const most = (steep * speed + (gravity + keys) * (time - then)) * (1 + 1e-9) + 1e-9;
    return now > most ? `from ${speed} to ${now} units/s by a touch` : undefined;
  };
}
