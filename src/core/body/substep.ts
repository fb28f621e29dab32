import { MOST_PARTS, ROW, ROW_TIME } from '../tolerance.js';
import { findsNoWayOut, goOut, layWayOut } from './push-out.js';
import { actAll, meet, watchAll } from '../abilities/acting.js';
import { settle } from '../contact/arrive.js';
import { firstOf, followed, unfollowed } from '../contact/first-touch.js';
import { pressOnto } from '../contact/lip.js';
import { tellAboard } from '../contact/riding.js';
import { stepLag } from '../contact/stance.js';
import { MX, MY } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { NOW, OFFSET, ROW_COUNT, ROW_START, SUPPORT_ENDS, TICK_LENGTH, TICK_START } from '../state/clock.js';
import { placeSets } from '../state/frame.js';
import { FREEING, HEIGHT, STEP, VX, VY, WALL, WAS_LAG, WAS_X, WAS_Y, X, Y } from '../state/layout.js';
import { AT, locate } from '../sweep/path.js';
import { NORMAL_X, NORMAL_Y, TOUCH_LENGTH, WHEN } from '../sweep/ties.js';
import { comesToNoEnd, isCarriedOn, isPressedByMover, isPressedInto, meetMoving, senseMoving } from './among-movers.js';
import { advance, layPath } from './drive.js';
import { takeIntents } from './intents.js';
import { senseZones } from './zones.js';
import { letGo } from './let-go.js';
import { keepStrides, updatePose, waitForPose } from './poses.js';
import { run } from './run.js';
import { sense } from './sense.js';

/**
 * The order of one part-tick. It is written here and nowhere else.
 *
 * A tick is cut at presses and releases, where an acceleration changes, where a window, a timer or a support ends, and at
 * touches. Pieces and touches are exact, so it does not matter how many part-ticks a stretch of time is cut into.
 */
function partTick(body: Body): void {
  // What moves is where it is at this moment, and may have left the body behind, or hold it.
  if (body.moving !== undefined) senseMoving(body);
  // Which gravity acts decides whether what carries the body falls away faster than it does.
  if (body.level.zones.length > 0) senseZones(body);
  if (body.moving !== undefined && !isCarriedOn(body)) return;
  // What holds the body up is known before anything asks for it: a jump depends on it.
  sense(body);
  // Presses act at their own moment, so they come before whatever reads the keys.
  if (takeIntents(body)) {
    if (body.level.zones.length > 0) senseZones(body);
    sense(body);
  }
  // A body inside something solid comes out of it before it does anything else.
  if (body.s[FREEING] !== 0 && findsNoWayOut(body)) {
    layWayOut(body);
    body.showing = -1;
    updatePose(body);
    goOut(body);
    return;
  }
  // Help over a lip or a step comes before whatever else a wall is good for.
  if ((body.s[WALL]! >= 0 || body.motion.airLocked) && pressOnto(body)) sense(body);
  // Abilities come before the run: they decide whether the run is on the ground or in the air, and whether there is one.
  actAll(body);
  // Whatever launched the jump, letting go of the key shapes it.
  letGo(body);
  run(body);
  if (body.moving !== undefined) tellAboard(body);
  // Forces follow from the phase that the abilities left behind; the piece lasts as long as they hold.
  layPath(body);
  // What is shown follows from what begins here.
  updatePose(body);
  // Positions that abilities wait for are found on the path, as roots.
  watchAll(body);
  // The path is known, so the first thing in its way is too.
  followed(body);
  const edge = firstOf(body, found);
  unfollowed(body);
  if (edge >= 0) {
    body.path[AT] = found[WHEN]!;
    // What stops the body where its ground ends keeps it from leaving.
    body.clock[SUPPORT_ENDS] = Infinity;
    locate(body.path);
  }
  // Nothing moves before its path is known to be free: contact is found, never undone.
  advance(body);
  // An ability may deal with what was met; else it stops the body.
  if (edge >= 0) {
    const nx = found[NORMAL_X]!;
    const ny = found[NORMAL_Y]!;
    if (body.moving === undefined) {
      if (!meet(body, nx, ny)) settle(body, edge, nx, ny);
    } else meetMoving(body, edge, nx, ny);
  }
  if (body.moving !== undefined) tellAboard(body);
}

const found = new Float64Array(TOUCH_LENGTH);

/** Moves a body through one tick, whose start and length its clock has been given. */
export function playTick(body: Body): void {
  const { s, clock, intents } = body;
  const length = clock[TICK_LENGTH]!;
  clock[OFFSET] = 0;
  clock[NOW] = clock[TICK_START]!;
  clock[ROW_START] = 0;
  clock[ROW_COUNT] = 0;
  placeSets(body);
  s[WAS_X] = s[X]! + body.frame[MX]!;
  s[WAS_Y] = s[Y]! + body.frame[MY]!;
  keepStrides(s, body.motion.halfStride);
  s[WAS_LAG] = s[STEP] === 0 ? 0 : stepLag(s, clock[NOW]!, body.motion.ground.speed);
  body.stop = undefined;
  if (body.moving !== undefined) {
    body.pressed = body.many = 0;
    body.pressedAt = body.manyFrom = -Infinity;
    body.met.fill(-1);
  }
  if (body.hull.height !== s[HEIGHT]) body.setHeight(s[HEIGHT]!);
  body.parts = 0;
  body.nextIntent = 0;
  while (clock[OFFSET]! < length) {
    partTick(body);
    body.parts++;
    if (clock[OFFSET]! - clock[ROW_START]! > ROW_TIME) {
      clock[ROW_START] = clock[OFFSET]!;
      clock[ROW_COUNT] = 0;
      if (body.moving !== undefined) body.met.fill(-1);
    } else clock[ROW_COUNT]!++;
    if (body.stop !== undefined) break;
    if (body.moving !== undefined && (isPressedInto(body) || comesToNoEnd(body))) continue;
    if (clock[ROW_COUNT]! >= ROW || body.parts > MOST_PARTS) {
      if (isPressedByMover(body)) continue;
      body.tell('stuck');
      s[VX] = 0;
      s[VY] = 0;
      break;
    }
  }
  if (body.stop !== undefined) return;
  clock[OFFSET] = length;
  clock[NOW] = clock[TICK_START]! + length;
  placeSets(body);
  // What was pressed in a tick that ended early still counts.
  if (body.nextIntent < intents.count) takeIntents(body);
  waitForPose(body);
}
