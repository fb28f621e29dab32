import { NX, SLANT } from '../state/touches.js';
import { HOLDS } from '../movers/moving.js';
import type { Body } from '../state/body.js';
import { keepReach, mayMeet, motionIn } from '../state/frame.js';
import { EDGE, END, GROUND, SUPPORT } from '../state/layout.js';
import type { Near } from '../sweep/near.js';
import { T } from '../sweep/path.js';
import { firstTouchTurning, seenFrom } from '../sweep/relative.js';
import { NORMAL_Y, TOUCH_LENGTH, WHEN } from '../sweep/ties.js';
import { firstTouch } from '../sweep/touch.js';

const touched = new Float64Array(TOUCH_LENGTH);

/** The first touch of all sets that may be near; each sees the path from where it is itself. */
export function rank(body: Body, into: Float64Array): number {
  const { path, hull, sets, moving } = body;
  let edge = firstTouch(path, sets[0]!, hull, into);
  if (moving === undefined || body.setCount === 1) return edge;
  // What may come near in this piece, in the level's own axes.
  keepReach(body);
  for (let k = 1; k < body.setCount; k++) {
    const near = sets[k]!;
    if (near.set > 0 && !mayMeet(body, near.set, 0)) continue;
    const before = edge < 0 ? path[T]! : into[WHEN]!;
    for (let from = 0; from <= before;) {
      // How it goes on from its next knot.
      const m = motionIn(body, near, from);
      const time = m[HOLDS]! < path[T]! - from ? m[HOLDS]! : path[T]! - from;
      seenFrom(m, path, from, time, near.path);
      const other = firstTouchTurning(near.path, near, hull, before - from, touched);
      if (other >= 0) {
        const when = from + touched[WHEN]!;
        if (edge < 0 || when < into[WHEN]! || (when === into[WHEN]! && opposes(touched, into))) {
          edge = other;
          into.set(touched);
          into[WHEN] = when;
        }
        break;
      }
      from += time;
      if (from >= path[T]!) break;
    }
  }
  return edge;
}

/** Of two touches at one moment, what holds the body up or down comes before what is beside it. */
function opposes(a: Float64Array, b: Float64Array): boolean {
  return Math.abs(a[NORMAL_Y]!) > Math.abs(b[NORMAL_Y]!);
}

/** What the path follows cannot be run into. */
export function followed(body: Body): void {
  for (let i = 0; i < body.setCount; i++) follows(body, body.sets[i]!);
}

export function unfollowed({ sets, setCount }: Body): void {
  for (let i = 0; i < setCount; i++) {
    const near = sets[i]!;
    near.support = near.support2 = near.joint = near.pusher = near.pusherJoint = -1;
  }
}

function follows({ s, terrain }: Body, near: Near): void {
  near.inAir = s[SUPPORT] !== GROUND;
  if (/* rule: what is followed is not run into */ s[SUPPORT] === GROUND) {
    const e = s[EDGE]!;
    near.support = e;
    if (s[END] !== 0) near.support2 = s[END]! > 0 ? terrain.next[e]! : terrain.prev[e]!;
  } else if (s[SLANT]! >= 0) {
    near.support = s[SLANT]!;
    if (terrain.nx[s[SLANT]!] !== s[SLANT + NX]) near.joint = s[SLANT]!;
  }
}
