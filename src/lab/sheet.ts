import { OwnFlights } from './own-flights.js';
import { wallJump, wallReturn } from './walls.js';
import {
  acrossAt,
  acrossPieces,
  apexOf,
  chargedHeight,
  launchFor,
  arcPieces,
  comingDown,
  compileTuning,
  fallPieces,
  stateAt,
  timeAbove,
  type Ability,
  type Motion,
  type Tuning,
} from '../core/index.js';

/** One measure of a tuning. */
export interface Measure {
  /** Its name in JSON and in tests. */
  id: string;
  group: 'run' | 'jump' | 'air' | 'moves' | 'grace' | 'own';
  /** Its name for people. */
  name: string;
  value: number;
  unit: 'units' | 's' | 'units/s' | 'units/s²' | 'ticks' | 'ratio';
  /** The same in tiles, for lengths; null otherwise. */
  tiles: number | null;
  /** Where the number comes from. */
  how: 'closed form' | 'simulated';
}

/**
 * What the groups of measures are about.
 * @example
 * ```ts
 * MEASURE_GROUPS.run // 'Run'
 * ```
 */
export const MEASURE_GROUPS: Readonly<Record<Measure['group'], string>> = {
  run: 'Run',
  jump: 'Jump',
  air: 'In the air',
  moves: 'Walls and gliding',
  grace: 'Grace',
  own: 'Moves of the game',
};

/** The length of the short press in the sheet, s. */
const SHORT_PRESS = 0.06;

/**
 * What a tuning amounts to: every jump's height, time, reach and speed, the run-up, the stopping distance, the windows.
 * @param options settings, each of which may be left out
 * @param options.rate ticks per second, for the windows in ticks; 60 unless given
 * @param options.abilities abilities of the game's own: what a press of each of their actions does, as it is played
 * @example
 * ```ts
 * sheet(brindle).find(({ id }) => id === 'apexHeight')!.value
 * ```
 */
export function sheet(
  tuning: Tuning | Motion,
  { rate = 60, abilities = [] }: { rate?: number; abilities?: readonly Ability[] } = {},
): Measure[] {
  const m = 'launch' in tuning ? tuning : compileTuning(tuning);
  const rows: Measure[] = [];
  const add: Add = (group, id, name, value, unit, how = 'closed form') => {
    rows.push({
      id,
      group,
      name,
      value,
      unit,
      tiles: unit === 'units' ? value / m.full.tile : null,
      how,
    });
  };
  runMeasures(m, add);
  // Where the ground is charged from, or not jumped from at all, a plain jump has no measures.
  if (!m.jumpOff && !m.charges) {
    jumpMeasures(m, add);
    airMeasures(m, add);
  }
  chargeMeasures(m, add);
  airJumpMeasures(m, add);
  wallMeasures(m, add);
  glideMeasures(m, add);
  graceMeasures(m, rate, add);
  if (abilities.some(({ spec }) => (spec.actions ?? []).length > 0)) ownMeasures(m, abilities, rate, rows, add);
  return rows;
}

/** What presses of actions of the game's own do: across and up on the ground, and at the best moment of a running jump. */
function ownMeasures(m: Motion, abilities: readonly Ability[], rate: number, known: readonly Measure[], add: Add): void {
  const flights = new OwnFlights(m, abilities, m.full.tile, rate);
  for (const of of flights.actions) {
    const { action, across, speed, rise, reach, height } = flights.move(of);
    const put = (id: string, name: string, value: number, unit: Measure['unit']): void => {
      const full = `${action}${id}`;
      if (Number.isFinite(value)) add('own', known.some((one) => one.id === full) ? `${of.ability}${full[0]!.toUpperCase()}${full.slice(1)}` : full, `${action}: ${name}`, value, unit, 'simulated');
    };
    put('Across', 'farther on the run', across, 'units');
    put('Speed', 'fastest', speed, 'units/s');
    put('Rise', 'rise from the ground', rise, 'units');
    put('Reach', 'reach of a running jump, at the best moment', reach, 'units');
    put('Height', 'height of a running jump, at the best moment', height, 'units');
  }
} // prettier-ignore

type Add = (
  group: Measure['group'],
  id: string,
  name: string,
  value: number,
  unit: Measure['unit'],
  how?: Measure['how'],
) => void;

function runMeasures(m: Motion, add: Add): void {
  const { speed } = m.ground;
  const up = settled(acrossPieces(m.ground, 0, speed));
  const stop = settled(acrossPieces(m.ground, speed, 0));
  const turn = acrossPieces(m.ground, speed, -speed);
  const rest = turn.find(({ v }) => v <= 0) ?? turn[turn.length - 1]!;
  add('run', 'runUp', 'run-up to top speed', up.x, 'units');
  add('run', 'runUpTime', 'time to top speed', up.start, 's');
  add('run', 'stopping', 'stopping distance', stop.x, 'units');
  add('run', 'stoppingTime', 'time to stop', stop.start, 's');
  add('run', 'turnOvershoot', 'overshoot when turning', rest.x, 'units');
  add('run', 'turnTime', 'turn, top speed to top speed', settled(turn).start, 's');
}

/** The last stretch, in which nothing changes any more. */
function settled<P>(pieces: readonly P[]): P {
  return pieces[pieces.length - 1]!;
}

/**
 * The launch speed of a jump at run speed, its run-up included, units/s.
 * @example
 * ```ts
 * runningLaunch(motion)
 * ```
 */
export function runningLaunch(m: Motion): number {
  return m.runUp > 0 && m.ground.speed > 0 ? launchFor(m, m.jumpHeight + m.runUp) : m.launch;
}

/**
 * What a full jump at run speed does from its launch until it is back at launch height.
 * @example
 * ```ts
 * fullJump(motion).reach
 * ```
 */
export function fullJump(m: Motion): { time: number; reach: number; touchdown: number } {
  const down = comingDown(arcPieces(m, runningLaunch(m)), 0);
  return { time: down.time, reach: acrossInAir(m, down.time), touchdown: down.speed };
}

/**
 * Distance across in the air, launched at run speed with the key held.
 * @example
 * ```ts
 * acrossInAir(motion, 0.5) // from run speed, with the key held
 * ```
 */
export function acrossInAir(m: Motion, time: number): number {
  return acrossAt(
    acrossPieces(m.airLocked ? undefined : m.air, m.ground.speed, m.airLocked ? m.ground.speed : m.air.speed),
    time,
  ).x;
}

function jumpMeasures(m: Motion, add: Add): void {
  const arc = arcPieces(m, m.launch);
  const jump = fullJump(m);
  const apex = apexOf(arc);
  const running = apexOf(arcPieces(m, runningLaunch(m)));
  add('jump', 'apexHeight', 'apex height', apex.y, 'units');
  if (m.runUp > 0) add('jump', 'runUpHeight', 'apex height at run speed', running.y, 'units');
  add('jump', 'riseTime', 'rise time', apex.time, 's');
  add('jump', 'airTime', 'time in the air', jump.time, 's');
  add('jump', 'reach', 'reach at run speed', jump.reach, 'units');
  add('jump', 'widestGap', 'widest gap, no grace', jump.reach + m.width, 'units');
  add('jump', 'widestGapCoyote', 'widest gap, whole coyote window', gapWithCoyote(m), 'units');
  add('jump', 'highestStep', 'highest step-on, running', running.y, 'units');
  add('jump', 'highestStepLip', 'highest step-on, with lip assist', running.y + m.lip, 'units');
  if (m.full.ledge)
    add('jump', 'highestLedge', 'highest ledge caught, running', running.y + m.full.ledge.hands, 'units');
  add('jump', 'lowestHop', 'lowest hop', m.lowestHop, 'units');
  add(
    'jump',
    'shortPress',
    `hop of a ${SHORT_PRESS * 1000} ms press`,
    apexOf(arcPieces(m, m.launch, SHORT_PRESS)).y,
    'units',
  );
  add('jump', 'hangTime', 'hang time above 80 % of the apex', timeAbove(arc, 0.8 * apex.y), 's');
  add('jump', 'touchdownSpeed', 'touchdown speed', jump.touchdown, 'units/s');
  const cap = settled(fallPieces(m));
  add('jump', 'dropToCap', 'drop until terminal speed', -cap.y, 'units');
  add('jump', 'launchSpeed', 'launch speed', m.launch, 'units/s');
  add('jump', 'baseGravity', 'base gravity', m.gravity, 'units/s²');
}

/** Off the edge at run speed, falling until the window closes, then a full jump back up to the level of the edge. */
function gapWithCoyote(m: Motion): number {
  const lost = -stateAt(fallPieces(m), m.coyote).y;
  const back = comingDown(arcPieces(m, runningLaunch(m)), lost);
  const time = m.coyote + back.time;
  return Number.isNaN(time) ? fullJump(m).reach + m.width : acrossInAir(m, time) + m.width;
}

function airMeasures(m: Motion, add: Add): void {
  const { time } = fullJump(m);
  const rule = m.airLocked ? undefined : m.air;
  add(
    'air',
    'airSteer',
    'air steer in a standing jump',
    acrossAt(acrossPieces(rule, 0, rule ? rule.speed : 0), time).x,
    'units',
  );
  add(
    'air',
    'airRecall',
    'air recall of a running jump',
    acrossAt(acrossPieces(rule, m.ground.speed, rule ? -rule.speed : m.ground.speed), time).x,
    'units',
  );
}

/** Air jumps, each started at the top of the jump before it. */
function airJumpMeasures(m: Motion, add: Add): void {
  const first = m.full.charge ? launchFor(m, m.full.charge.highest) : runningLaunch(m);
  const { y, time: apexTime } = m.jumpOff && !m.charges ? { y: 0, time: 0 } : apexOf(arcPieces(m, first));
  let height = y;
  let time = apexTime;
  m.airLaunch.forEach((launch, i) => {
    const arc = arcPieces(m, launch);
    const rise = apexOf(arc);
    add('air', `airJump${i + 1}Rise`, `air jump ${i + 1}: rise`, rise.y, 'units');
    const before = height;
    height += rise.y;
    add('air', `airJump${i + 1}Height`, `air jump ${i + 1}: stacked height`, height, 'units');
    const reach = acrossInAir(m, time + comingDown(arc, -before).time);
    add('air', `airJump${i + 1}Reach`, `air jump ${i + 1}: stacked reach`, reach, 'units');
    time += rise.time;
  });
}

/** What a charge held for a share of its time jumps. */
function chargeMeasures(m: Motion, add: Add): void {
  const { charge } = m.full;
  if (charge === undefined) return;
  for (const share of [25, 50, 75, 100])
    add(
      'jump',
      `charge${share}`,
      `charge of ${share} %`,
      chargedHeight(charge, (charge.fullIn * share) / 100),
      'units',
    );
}

/** Jumps off a wall: with the key held away from it, and back toward it. */
function wallMeasures(m: Motion, add: Add): void {
  const jump = wallJump(m);
  if (jump === undefined) return;
  add('moves', 'wallJumpRise', 'wall jump: rise', jump.rise, 'units');
  add('moves', 'wallJumpOut', 'wall jump: distance out at the apex', jump.outAtApex, 'units', 'simulated');
  const back = wallReturn(m);
  if (back !== undefined) {
    add('moves', 'wallReturnTime', 'wall jump: back at the same wall after', back.time, 's', 'simulated');
    add('moves', 'wallGain', 'wall jump: gain on the same wall', back.gain, 'units', 'simulated');
  }
  add('moves', 'widestShaft', 'widest shaft that can be climbed', jump.widestShaft, 'units', 'simulated');
}

function glideMeasures(m: Motion, add: Add): void {
  const { glide } = m.full;
  if (glide === undefined) return;
  const across = m.airLocked ? m.ground.speed : m.air.speed;
  if (glide.fallSpeed > 0)
    add('moves', 'glideRatio', 'glide: across for each unit down', across / glide.fallSpeed, 'ratio');
  add('moves', 'glideRange', 'glide: range of the whole budget', across * glide.budget, 'units');
  add('moves', 'glideDrop', 'glide: height lost on the way', glide.fallSpeed * glide.budget, 'units');
}

function graceMeasures(m: Motion, rate: number, add: Add): void {
  add('grace', 'coyoteAcross', 'coyote, across at run speed', acrossInAir(m, m.coyote), 'units');
  add('grace', 'coyoteTicks', `coyote at ${rate} ticks/s`, m.coyote * rate, 'ticks');
  add('grace', 'bufferAbove', 'buffer, above ground at touchdown speed', fullJump(m).touchdown * m.buffer, 'units');
  add('grace', 'bufferTicks', `buffer at ${rate} ticks/s`, m.buffer * rate, 'ticks');
  add('grace', 'minHoldTicks', `least hold at ${rate} ticks/s`, m.minHold * rate, 'ticks');
  if (m.airEndless)
    add('grace', 'spacingTicks', `spacing of air jumps at ${rate} ticks/s`, m.airSpacing * rate, 'ticks');
  if (m.full.ledge)
    add('grace', 'pauseTicks', `pause of a ledge at ${rate} ticks/s`, m.full.ledge.pause * rate, 'ticks');
  if (!m.walls) return;
  add('grace', 'clingTicks', `cling at ${rate} ticks/s`, m.full.wall!.cling * rate, 'ticks');
  add('grace', 'wallCoyoteTicks', `wall coyote at ${rate} ticks/s`, m.wallCoyote * rate, 'ticks');
  add('grace', 'wallLockTicks', `wall jump's lock at ${rate} ticks/s`, m.full.wall!.jump.lock * rate, 'ticks');
}
