import { listOf } from '../nearest.js';
import { freeze } from '../body/freeze.js';
import { changeTempo, tempoOf } from '../body/tempo.js';
import { boxNumber } from '../meetings/boxes.js';
import { say } from '../contact/what.js';
import { BESIDE, IN_THE_AIR, NX, NY, SIDE, SLANT, forget } from '../state/touches.js';
import { letGoOfWall } from '../state/rights.js';
import { beforeTakeoff, leavesWith } from '../abilities/control.js';
import { checkOwnNumbers, installAbilities } from '../abilities/ability.js';
import { releaseAll, updateWish } from '../body/intents.js';
import { startFreeing } from '../body/push-out.js';
import { feelAnew } from '../contact/feel.js';
import { isInside } from '../contact/inside.js';
import { leaveAny, takeOff } from '../contact/leave.js';
import { tellAboard } from '../contact/riding.js';
import { standHere } from '../contact/stance.js';
import type { HostCall } from '../input/host.js';
import { OPPOSED, type Opposed } from '../input/opposed.js';
import { MVX, MVY } from '../movers/moving.js';
import { type Body, nearsFor } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { placeSets } from '../state/frame.js';
import { AIR_SPENT, BOXES_OFF, DEAF, EASING, EDGE, FREEING, GROUND, IGNORES, JUMPING, LOCK_FOR, LOCK_FROM, LOCK_SINCE, ON_LEDGE, ON_WALL, OPPOSED_BY, PIT, SUPPORT, TUNED, VX, VY, X, Y } from '../state/layout.js'; // prettier-ignore
import type { CompiledLevel } from '../terrain/world.js';
import { FARTHEST } from '../tuning/keys.js';
import { type Motion, compileTuning, launchFor } from '../tuning/motion.js';
import { FASTEST, SLOWEST, motionAt } from '../tuning/tempo.js';
import { isGroup } from '../tuning/words.js';
import { checkPair, putAt, spotOf } from './placing.js';

/** What puts a call into effect. */
export type Prepared = (() => void) & { isIdle?: () => boolean };

/**
 * A call of the game on a character, checked whole.
 * @returns what puts it into effect, at the body's moment then; and whether there is nothing to put into effect, where that can be
 * @throws RangeError naming an argument that is out of range; TuningError where a tuning is wrong
 */
export function prepareCall(level: CompiledLevel, body: Body, call: HostCall): Prepared {
  if ('hop' in call) {
    const { hop } = call;
    check('height', hop, 0, FARTHEST);
    return () => hopBy(body, hop);
  }
  if ('shove' in call) {
    const { shove, lock } = call;
    checkPair('shove', shove);
    check('vx', shove[0], -FARTHEST, FARTHEST);
    check('vy', shove[1], -FARTHEST, FARTHEST);
    check('lock', lock, 0, 60);
    return () => shoveBy(body, shove, lock);
  }
  if ('place' in call) {
    const spot = spotOf(level, call.place);
    return () => putAt(body, spot);
  }
  if ('allow' in call) {
    const { allow, count } = call;
    if (allow !== 'airJumps') throw new RangeError(`allow is ${String(allow)}; it must be airJumps`);
    check('count', count, 0, 1000);
    if (count !== Math.floor(count)) throw new RangeError(`count is ${count}; it must be a whole number`);
    return () => void (body.s[AIR_SPENT] = body.motion.airLaunch.length - count);
  }
  if ('retune' in call) {
    const motion = compileTuning(call.retune);
    checkOwnNumbers(body, motion);
    // The tuning that it has already changes nothing: its motion goes on as it was laid.
    return Object.assign(() => retune(body, knownOr(body, motion)), {
      isIdle: () => textOf(motion) === textOf(body.tunings[body.s[TUNED]!]!),
    });
  }
  if ('listen' in call) {
    const { listen } = call;
    return () => {
      if (!listen) releaseAll(body);
      body.s[DEAF] = listen ? 0 : 1;
    };
  }
  if ('ignore' in call) {
    const bit = layerBit(level, call.ignore);
    const { on } = call;
    return () => {
      body.s[IGNORES] = on ? body.s[IGNORES]! | bit : body.s[IGNORES]! & ~bit;
      for (const near of body.nears) near.ignores = body.s[IGNORES]!;
      changeGround(body);
    };
  }
  if ('freeze' in call) {
    const { freeze: seconds } = call;
    check('seconds', seconds, 0, 60);
    return () => freeze(body, seconds);
  }
  if ('tempo' in call) {
    const { tempo } = call;
    check('tempo', tempo, SLOWEST, FASTEST);
    return Object.assign(
      () => {
        changeTempo(body, tempo);
        use(body, motionOf(body));
      },
      { isIdle: () => tempo === tempoOf(body) },
    );
  }
  if ('box' in call) {
    const bit = 1 << boxNumber(body, call.box);
    const { on } = call;
    return () => void (body.s[BOXES_OFF] = on ? body.s[BOXES_OFF]! & ~bit : body.s[BOXES_OFF]! | bit);
  }
  if ('oppose' in call) {
    const rule = ruleOf(call.oppose);
    return () => {
      body.s[OPPOSED_BY] = rule;
      updateWish(body);
    };
  }
  if ('drive' in call) return () => releaseAll(body);
  // Of a mover, or of who is there: that is for the stage to do.
  if ('moveTo' in call || 'placeAt' in call || 'remove' in call) return () => undefined;
  throw new RangeError(
    `there is no call ${Object.keys(call).join(', ') || 'without a name'}; there are ${CALLS.join(', ')}`,
  );
}

const CALLS = [
  'hop',
  'shove',
  'place',
  'allow',
  'retune',
  'listen',
  'ignore',
  'oppose',
  'drive',
  'moveTo',
  'placeAt',
  'freeze',
  'tempo',
  'box',
  'remove',
];

function hopBy(body: Body, height: number): void {
  if (height === 0) return;
  const left = beforeTakeoff(body);
  const told = body.tell('takeoff');
  told.by = 'hop';
  takeOff(body, launchFor(body.motion, height), 'hop', true);
  leavesWith(body, left);
}

function shoveBy(body: Body, [vx, vy]: readonly [number, number], lock: number): void {
  const { s, ySign, clock } = body;
  const up = vy * ySign;
  if (up > 0 || s[SUPPORT] !== GROUND) leaveAny(body);
  s[VX] = vx - body.frame[MVX]! + 0;
  s[VY] = s[SUPPORT] === GROUND ? 0 : up - body.frame[MVY]! + 0;
  // Off what it is shoved away from: that is touched no more, until the body comes back to it.
  if (s[BESIDE]! >= 0 && s[VX]! * s[BESIDE + SIDE]! < 0) forget(s, BESIDE);
  if (s[SLANT]! >= 0 && s[VX]! * s[SLANT + NX]! + s[VY]! * s[SLANT + NY]! > 0) forget(s, SLANT);
  if (s[BESIDE]! < 0 && s[SLANT]! < 0) letGoOfWall(body);
  s[JUMPING] = 0;
  s[EASING] = 0;
  s[LOCK_SINCE] = clock[NOW]!;
  s[LOCK_FOR] = lock;
  s[LOCK_FROM] = s[VX]!;
}

/**
 * Which way to go with both directions held, as a number.
 * @throws RangeError where there is no such rule
 */
export function ruleOf(opposed: Opposed): number {
  const rule = OPPOSED.indexOf(opposed);
  if (rule < 0) throw new RangeError(`opposed is ${String(opposed)}; it must be ${OPPOSED.join(', ')}`);
  return rule;
}

/**
 * The bit of a layer among those that a body may ignore.
 * @throws RangeError where the level has no such layer
 */
export function layerBit(level: CompiledLevel, layer: string): number {
  const number = level.layers.indexOf(layer, 1);
  if (number < 0)
    throw new RangeError(`there is no layer ${layer}; the level has ${listOf(level.layers.slice(1), layer)}`);
  return 1 << number;
}

/**
 * What is there for a body has changed: what it stood on may be gone, and it may be inside something.
 * @param changed edges that are no longer what they were
 */
export function changeGround(body: Body, changed?: ReadonlySet<number>): void {
  const { s, near, nears } = body;
  for (const each of nears) each.forget();
  placeSets(body);
  const isGone = (edge: number): boolean => edge >= 0 && (changed?.has(edge) === true || !near.isThere(edge));
  for (const touch of IN_THE_AIR) if (isGone(s[touch]!)) forget(s, touch);
  if (s[SUPPORT] === GROUND && (isGone(s[EDGE]!) || s[PIT] === 1) && !standHere(body)) {
    say(body, body.tell('leave'), s[EDGE]!);
    leaveAny(body);
  }
  if (s[SUPPORT] === ON_LEDGE || s[SUPPORT] === ON_WALL) leaveAny(body);
  if (isInside(body, s[X]!, s[Y]!)) startFreeing(body);
  else s[FREEING] = 0;
  tellAboard(body);
}

/** A tuning that the body has had is that one again: a number that goes to and fro leaves nothing behind. */
function knownOr({ tunings, tuned }: Body, motion: Motion): Motion {
  for (const one of tunings.slice(tuned.size)) tuned.set(textOf(one), one);
  return tuned.get(textOf(motion)) ?? motion;
}

/** All numbers of a tuning, in whatever order they were written: two that are alike have the same. */
function textOf({ full }: Motion): string {
  return JSON.stringify(full, (_, value: unknown) =>
    isGroup(value) ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1))) : value,
  );
}

/**
 * Gives a body another tuning, wherever it is.
 * @throws RangeError where a number under `own` is wrong; the body then
 * stays as it was
 */
function retune(body: Body, motion: Motion): void {
  const before = body.motion;
  const height = body.hull.height;
  const low = height < before.height;
  try {
    use(body, motionAt(motion, tempoOf(body)));
    // A body that crouches goes on crouching; else it is as high as the new tuning says.
    body.setHeight(low && height < motion.height ? height : motion.height);
  } catch (error) {
    use(body, before);
    body.setHeight(height);
    throw error;
  }
  feelAnew(body);
  // A body that has grown into something is pushed out of it.
  if (isInside(body, body.s[X]!, body.s[Y]!)) startFreeing(body);
  let index = body.tunings.indexOf(motion);
  if (index < 0) index = body.tunings.push(motion) - 1;
  body.s[TUNED] = index;
}

/** What of the tunings that it has had applies to a body, at its tempo. */
export function motionOf(body: Body): Motion {
  return motionAt(body.tunings[body.s[TUNED]!]!, tempoOf(body));
}

/** Lets a tuning apply to a body. */
export function use(body: Body, motion: Motion): void {
  if (body.motion === motion) return;
  body.motion = motion;
  const { off, ignores } = body.near;
  body.nears = nearsFor(body.level, motion, body.dropped);
  body.near = body.nears[0]!;
  for (const near of body.nears) [near.off, near.ignores] = [off, ignores];
  body.sets = [body.near];
  body.setCount = 1;
  body.aroundBox.set([1, 1, 0, 0]);
  body.placedIn = -1;
  placeSets(body);
  const { height } = body.hull;
  body.setWidth(motion.width);
  body.setHeight(height);
  installAbilities(body);
}

function check(name: string, value: number, least: number, most: number): void {
  if (typeof value !== 'number' || !(value >= least && value <= most))
    throw new RangeError(`${name} is ${String(value)}; it must be ${least} to ${most}`);
}
