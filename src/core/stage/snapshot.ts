import type { Body } from '../state/body.js';
import { rememberZones } from '../body/zones.js';
import { placeSets } from '../state/frame.js';
import { DROPPED, DROPS, GROUND, HEIGHT, IGNORES, SUPPORT } from '../state/layout.js';
import { motionOf, use } from './host.js';

/**
 * Gives a body back the state that it had.
 * @param from numbers of a snapshot, and where the body's begin
 */
export function takeBack(body: Body, from: Float64Array, at: number): void {
  const { s } = body;
  const ignored = s[IGNORES]!;
  const height = from[at + HEIGHT]!;
  for (let k = 0; k < s.length; k++) s[k] = from[at + k]!;
  body.intents.count = body.nextIntent = 0;
  body.laid = 0;
  body.pastTick = -1;
  for (let i = 0; i < DROPS; i++) body.dropped[i] = s[DROPPED + i]! - 1;
  for (let i = 0; i < body.nears.length; i++) {
    body.nears[i]!.ignores = s[IGNORES]!;
    if (ignored !== s[IGNORES]) body.nears[i]!.forget();
  }
  if (motionOf(body) !== body.motion) use(body, motionOf(body));
  for (let i = 0; i < body.nears.length; i++) body.nears[i]!.inAir = s[SUPPORT] !== GROUND;
  rememberZones(body);
  body.fallingNow = body.motion.falling * body.zoneGravity;
  // Another tuning has given it the height that it had just now.
  body.setHeight(height);
  placeSets(body);
}
