import type { Body } from '../state/body.js';
import { rememberZones } from '../body/zones.js';
import { NOW } from '../state/clock.js';
import { placeSets } from '../state/frame.js';
import { HEIGHT, IGNORES, TUNED } from '../state/layout.js';
import { use } from './host.js';

/**
 * Gives a body back the state that it had.
 * @param from numbers of a snapshot, and where the body's begin
 * @param time stage time then, s
 */
export function takeBack(body: Body, from: Float64Array, at: number, time: number): void {
  const { s } = body;
  const ignored = s[IGNORES]!;
  for (let k = 0; k < s.length; k++) s[k] = from[at + k]!;
  body.clock[NOW] = time;
  for (let i = 0; i < body.nears.length; i++) {
    body.nears[i]!.ignores = s[IGNORES]!;
    if (ignored !== s[IGNORES]) body.nears[i]!.forget();
  }
  if (body.tunings[s[TUNED]!] !== body.motion) use(body, body.tunings[s[TUNED]!]!);
  rememberZones(body);
  body.setHeight(s[HEIGHT]!);
  placeSets(body);
}
