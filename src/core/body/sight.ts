import { MVX, MVY, MX, MY } from '../movers/moving.js';
import type { Body, PastPiece } from '../state/body.js';
import { COMES_OUT, GOES, KIND, NOW, TICK, ENDS_AT } from '../state/clock.js';
import { EDGE, END, FRAME, GROUND, PIT, SUPPORT, VX, VY, X, Y } from '../state/layout.js';
import { FEET, SLOPE, describe, stretch } from '../contact/ground.js';
import { PVY, vxAt, vyAt, xAt, yAt } from '../sweep/path.js';

/**
 * Where a body is at any moment of its present piece, or of those that it had in the last tick: a motion is known ahead, and evaluated when somebody looks.
 */

/** What was seen last: place and velocity measured from what carries the body, then in the level, y up. */
export const seen = new Float64Array(8);
const ground = stretch();
export const OWN_X = 0;
export const OWN_Y = 1;
export const SEEN_X = 4;
export const SEEN_Y = 5;
export const SEEN_VX = 6;
export const SEEN_VY = 7;

/** Looks at a body at a moment, s of stage time; left in `seen`. */
export function lookAt(body: Body, time: number): Float64Array {
  return lookIn(body, body, time);
}

/** The same in a piece that it has had. */
export function lookIn(body: Body, { s, path, clock }: Pick<Body, 's' | 'path' | 'clock'>, time: number): Float64Array {
  const { moving } = body;
  const kind = clock[KIND]!;
  const t = time - clock[NOW]!;
  if (t > 0 && (kind === GOES || kind === COMES_OUT)) {
    seen[0] = xAt(path, t) + 0;
    seen[1] = yAt(path, t) + 0;
    seen[2] = vxAt(path, t) + 0;
    seen[3] = vyAt(path, t) + 0;
    if (s[SUPPORT] === GROUND && s[PIT] === 0 && path[PVY] !== 0) {
      // On a slope the feet are on the ground, as they are where the piece ends.
      describe(body, s[EDGE]!, s[END]!, seen[0], ground);
      seen[1] = ground[FEET]! + 0;
      seen[3] = ground[SLOPE]! * seen[2] + 0;
    }
  } else {
    seen[0] = s[X]!;
    seen[1] = s[Y]!;
    seen[2] = s[VX]!;
    seen[3] = s[VY]!;
  }
  const carrier = s[FRAME]!;
  if (carrier > 0) {
    moving!.locateThen(carrier, time);
    const { at: offset } = moving!;
    seen[4] = seen[0]! + offset[MX]!;
    seen[5] = seen[1]! + offset[MY]!;
    seen[6] = seen[2]! + offset[MVX]!;
    seen[7] = seen[3]! + offset[MVY]!;
  } else {
    seen[4] = seen[0]!;
    seen[5] = seen[1]!;
    seen[6] = seen[2]!;
    seen[7] = seen[3]!;
  }
  return seen;
}

/** Keeps the present piece, which ends, for drawing between ticks. */
export function keepPast(body: Body): void {
  const { clock, past, s } = body;
  if (body.pastTick !== clock[TICK]) {
    body.pastTick = clock[TICK]!;
    body.pasts = 0;
  }
  if (!(clock[ENDS_AT]! > clock[NOW]!)) return;
  for (let i = 0; i < body.onPiece.length; i++) body.onPiece[i]!(body);
  let one = past[body.pasts];
  if (one === undefined) {
    const copy = new Float64Array(s.length);
    const clockAt = body.pathAt + body.path.length;
    one = { s: copy, path: copy.subarray(body.pathAt, clockAt), clock: copy.subarray(clockAt, body.moversAt) };
    past.push(one);
  }
  one.s.set(s);
  body.pasts++;
}

/** The piece in which a body was at a moment of the last tick. */
export function pieceAt(body: Body, time: number, tick: number): Pick<Body, 's' | 'path' | 'clock'> {
  if (body.pastTick === tick)
    for (let i = 0; i < body.pasts; i++) {
      const one: PastPiece = body.past[i]!;
      if (time < one.clock[ENDS_AT]!) return one;
    }
  return body;
}
