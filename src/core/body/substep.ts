import { isFrozen, layStill } from './freeze.js';
import { verticalMotion } from './gravity.js';
import { constrain } from '../contact/constrain.js';
import { BESIDE } from '../state/touches.js';
import { LOOKS, MOST_PIECES, ROW, ROW_TIME } from '../tolerance.js';
import { findsNoWayOut, goOut, layWayOut } from './push-out.js';
import { actAll, meet, watchAll } from '../abilities/acting.js';
import { arrive } from '../contact/arrive.js';
import { crush, staysPut } from '../contact/crush.js';
import { rank, followed, unfollowed } from '../contact/rank.js';
import { pressOnto } from '../contact/lip.js';
import { tellAboard } from '../contact/riding.js';
import type { Body } from '../state/body.js';
import { COMES_OUT, DUE, ENDS_AT, GOES, HIT, HIT_NX, HIT_NY, KIND, LOOK_AT, NOT_LAID, NOW, POSE_AT, ROW_COUNT, ROW_START, STANDS_STILL, STAYS, STEP_AT, STUCK, SUPPORT_ENDS, TICK } from '../state/clock.js'; // prettier-ignore
import { EDGE, FREEING, GROUND, SUPPORT, VX, VY } from '../state/layout.js';
import { AT, T, locate } from '../sweep/path.js';
import { NORMAL_X, NORMAL_Y, TOUCH_LENGTH, WHEN } from '../sweep/ties.js';
import {
  comesToNoEnd,
  carryOn,
  isPressedByMover,
  isPressedInto,
  meetMoving,
  senseMoving,
  stayPut,
} from './among-movers.js';
import { advance, layUntilItEnds, passTime } from './drive.js';
import { dropIdle, takeIntents } from './intents.js';
import { senseZones } from './zones.js';
import { letGo } from './let-go.js';
import { updatePose, waitedForPose } from './poses.js';
import { run } from './run.js';
import { sense } from './sense.js';
import { keepPast } from './sight.js';
import { footfall, layStrides } from './strides.js';

/**
 * The order in which a piece of motion begins, and in which it ends. It is written here and nowhere else.
 *
 * A piece ends at presses and releases, where an acceleration changes, where a window, a timer or a support ends, and at
 * touches. It is exact, and lives until one of these: how long a tick is makes no difference to it.
 */
export function beginPiece(body: Body): void {
  const { clock, path } = body;
  countPiece(body);
  clock[HIT] = -1;
  clock[LOOK_AT] = Infinity;
  if (isStuck(body)) return;
  clock[KIND] = GOES;
  let still: boolean;
  for (;;) {
    // What moves is where it is at this moment, and may have left the body behind, or hold it.
    if (body.moving !== undefined) senseMoving(body);
    // Which gravity acts decides whether what carries the body falls away faster than it does.
    if (body.level.zones.length > 0) senseZones(body);
    const stays = body.moving !== undefined && staysPut(body);
    // While its own time stands still no window closes; where that is over, all of them are as long as before.
    still = isFrozen(body);
    if (!stays && !still) {
      if (body.moving !== undefined) carryOn(body);
      // What holds the body up is known before anything asks for it: a jump depends on it.
      sense(body);
    }
    // Presses act at their own moment, so they come before whatever reads the keys. What the game does may change all of the above.
    if (takeIntents(body)) continue;
    if (!stays) break;
    clock[KIND] = STAYS;
    stayPut(body);
    return ends(body);
  }
  if (still) {
    clock[KIND] = STANDS_STILL;
    layStill(body);
    return ends(body);
  }
  // A body inside something solid comes out of it before it does anything else.
  if (body.s[FREEING] !== 0 && findsNoWayOut(body)) {
    clock[KIND] = COMES_OUT;
    layWayOut(body);
    body.showing = -1;
    updatePose(body);
    return ends(body);
  }
  // Help over a lip or a step comes before whatever else a wall is good for.
  if ((body.s[BESIDE]! >= 0 || body.motion.airLocked) && pressOnto(body)) sense(body);
  // Abilities come before the run: they decide whether the run is on the ground or in the air, and whether there is one.
  actAll(body);
  // Whatever launched the jump, letting go of the key shapes it.
  letGo(body);
  // What is wanted across; and up, where forces follow from the phase that the abilities left behind.
  run(body);
  verticalMotion(body);
  // What touches the body leaves of that what it does not hold back.
  constrain(body);
  if (body.moving !== undefined) tellAboard(body);
  // The piece lasts as long as all of this holds.
  layUntilItEnds(body);
  // What is shown follows from what begins here.
  updatePose(body);
  // Positions that abilities wait for are found on the path, as roots.
  watchAll(body);
  // The path is known, so the first thing in its way is too.
  followed(body);
  const edge = rank(body, found);
  unfollowed(body);
  if (edge >= 0) {
    keepHit(body, edge);
    path[AT] = found[WHEN]!;
    // What stops the body where its ground ends keeps it from leaving.
    clock[SUPPORT_ENDS] = Infinity;
    locate(path);
  }
  ends(body);
  layStrides(body);
}

const found = new Float64Array(TOUCH_LENGTH);

/** What ends the piece is being met. */
function keepHit({ clock }: Body, edge: number): void {
  clock[HIT] = edge;
  clock[HIT_NX] = found[NORMAL_X]!;
  clock[HIT_NY] = found[NORMAL_Y]!;
}

/** The piece ends where its path was located. */
function ends({ clock, path }: Body): void {
  clock[ENDS_AT] = clock[NOW]! + path[AT]!;
}

/** Ends the present piece where it was to end. Nothing moves before its path is known to be free: contact is found, never undone. */
export function endPiece(body: Body): void {
  const { clock, s } = body;
  const kind = clock[KIND]!;
  const edge = clock[HIT]!;
  const from = clock[NOW]!;
  goOn(body, kind);
  // An ability may deal with what was met; else it stops the body.
  if (edge >= 0) {
    if (kind === STAYS) crush(body, edge, s[SUPPORT] === GROUND ? s[EDGE]! : -1);
    else if (body.moving !== undefined) meetMoving(body, edge, clock[HIT_NX]!, clock[HIT_NY]!);
    else if (!meet(body, clock[HIT_NX]!, clock[HIT_NY]!)) arrive(body, edge, clock[HIT_NX]!, clock[HIT_NY]!);
  }
  if (kind === GOES && body.moving !== undefined) tellAboard(body);
  if (kind === STUCK) clock[ROW_START] = -Infinity;
  if (clock[NOW] !== from) body.laid = 0;
  countRow(body);
  if (body.moving !== undefined && !isPressedInto(body)) comesToNoEnd(body);
}

/**
 * Ends the present piece before its end: something has come that it was not laid for.
 * @param now an array that begins with the moment, s of stage time: handed over like that, it is not boxed
 */
export function cutPiece(body: Body, now: Float64Array): void {
  const { clock, path } = body;
  const moment = now[0]!;
  if (clock[KIND] === NOT_LAID) return;
  if (!(moment < clock[ENDS_AT]!)) {
    endPiece(body);
    return;
  }
  const from = clock[NOW]!;
  clock[ENDS_AT] = moment;
  path[AT] = moment > from ? moment - from : 0;
  locate(path);
  goOn(body, clock[KIND]!);
  clock[HIT] = -1;
  if (moment !== from) body.laid = 0;
}

/** Goes to where the present piece has come to, and leaves it there. */
function goOn(body: Body, kind: number): void {
  const { clock } = body;
  keepPast(body);
  clock[KIND] = NOT_LAID;
  clock[STEP_AT] = Infinity;
  if (kind === GOES) advance(body);
  else if (kind === COMES_OUT) goOut(body);
  else passTime(body);
}

/** Finds the next moment at which something is to be done about a body, s of stage time; left in its clock. */
export function findDue({ clock, intents, nextIntent }: Body): void {
  let due = clock[KIND] === NOT_LAID ? clock[NOW]! : clock[ENDS_AT]!;
  if (clock[STEP_AT]! < due) due = clock[STEP_AT]!;
  if (clock[POSE_AT]! < due) due = clock[POSE_AT]!;
  if (nextIntent < intents.count && intents.time[nextIntent]! < due) due = intents.time[nextIntent]!;
  clock[DUE] = due;
}

/**
 * Does what is due: tells what is only told, and ends the piece where its time has come or something is asked.
 * @param at an array that begins with the present moment, s of stage time
 * @returns whether a new piece is to be laid
 */
export function doDue(body: Body, at: Float64Array): boolean {
  const { clock } = body;
  const now = at[0]!;
  while (clock[STEP_AT]! <= now) footfall(body);
  if (clock[POSE_AT]! <= now) waitedForPose(body);
  if (clock[KIND] !== NOT_LAID) {
    if (clock[ENDS_AT]! <= now) endPiece(body);
    else if (body.nextIntent < body.intents.count && dropIdle(body, at)) cutPiece(body, at);
  }
  return clock[KIND] === NOT_LAID;
}

/** How many pieces have begun in this tick, and at this moment. */
function countPiece(body: Body): void {
  const { clock } = body;
  body.laid++;
  if (body.partsTick !== clock[TICK]) {
    body.partsTick = clock[TICK]!;
    body.parts = 0;
  }
  body.parts++;
}

/** Pieces without a length, one after the other. */
function countRow(body: Body): void {
  const { clock } = body;
  if (clock[NOW]! - clock[ROW_START]! > ROW_TIME) {
    clock[ROW_START] = clock[NOW]!;
    clock[ROW_COUNT] = 0;
    if (body.moving !== undefined) body.met.fill(-1);
  } else clock[ROW_COUNT]!++;
}

/** A row of them that has no end: the body stops for a moment, and says so. */
function isStuck(body: Body): boolean {
  const { clock, path, s } = body;
  if (clock[ROW_COUNT]! < ROW && body.laid <= MOST_PIECES) return false;
  if (isPressedByMover(body)) return false;
  body.tell('stuck');
  s[VX] = s[VY] = 0;
  clock[ROW_COUNT] = 0;
  clock[KIND] = STUCK;
  path[AT] = path[T] = LOOKS;
  ends(body);
  return true;
}
