import { arcPieces, comingDown, compileTuning, type Motion, type Tuning } from '../core/index.js';

/** Something in a tuning that works but will feel wrong. */
export interface Warning {
  /** The key at fault. */
  key: string;
  /** What will be felt, and why. */
  reason: string;
  /** What to try. */
  suggestion: string;
}

/**
 * What in a tuning will feel wrong.
 * @param rate ticks per second that the game runs at
 */
export function warnings(tuning: Tuning | Motion, { rate = 60 }: { rate?: number } = {}): Warning[] {
  const m = 'launch' in tuning ? tuning : compileTuning(tuning);
  const found: Warning[] = [];
  const add = (when: boolean, key: string, reason: string, suggestion: string): void => {
    if (when) found.push({ key, reason, suggestion });
  };
  const free = comingDown(arcPieces({ ...m, cap: 1e9 }, m.launch), 0).speed;
  const tick = 1 / rate;
  add(
    m.cap < free,
    'gravity.fallSpeed',
    `a plain jump would touch down at ${short(free)} units/s but is held at ${short(m.cap)}: the end of every jump floats`,
    `at least ${short(free)}`,
  );
  add(
    m.buffer > 0 && m.buffer < tick,
    'grace.buffer',
    `shorter than a tick at ${rate} per second: a game that reads keys once a tick never sees it`,
    `at least ${short(tick)} s`,
  );
  add(
    m.coyote > 0 && m.coyote < tick,
    'grace.coyote',
    `shorter than a tick at ${rate} per second: a game that reads keys once a tick never sees it`,
    `at least ${short(tick)} s`,
  );
  const far = m.coyote * m.ground.speed;
  add(
    far > 2 * m.width,
    'grace.coyote',
    `at run speed it reaches ${short(far)} units past the edge, more than two body widths: jumps start visibly in the air`,
    `at most ${short((2 * m.width) / m.ground.speed)} s`,
  );
  add(
    m.lowestHop > 0.95 * m.jumpHeight,
    'jump.lowestHop',
    `a tap reaches ${short(m.lowestHop)} of ${short(m.jumpHeight)}: holding the key makes no difference`,
    'about 0.4 of the height',
  );
  const highest = Math.max(0, ...(m.full.airJumps?.heights ?? []));
  add(
    highest > m.jumpHeight,
    'airJumps.heights',
    `an air jump rises ${short(highest)}, more than the ${short(m.jumpHeight)} of a jump from the ground: the ground is worth less than the air`,
    `at most ${short(m.jumpHeight)}`,
  );
  add(
    m.falling < m.rising,
    'gravity.falling',
    'coming down is slower than going up: jumps feel floaty',
    'at least gravity.rising',
  );
  return found;
}

function short(value: number): string {
  return String(Number(value.toPrecision(3)));
}
