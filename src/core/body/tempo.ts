import { surfaceUnder } from '../contact/ground.js';
import type { Body } from '../state/body.js';
import { NOW } from '../state/clock.js';
import { BAND, EASE_RATE, EASE_TO, EDGE, GROUND, LOCK_FOR, LOCK_FROM, RAMP, RAN, SHOWS_FOR, SUPPORT, TEMPO, VX, VY } from '../state/layout.js'; // prettier-ignore
import { putMoments } from '../state/moments.js';
import { atTempo } from '../tuning/tempo.js';

/**
 * A body whose own time goes faster or slower than its stage's: all numbers of its tuning that have to do with time are others then (`tuning/tempo.ts`), and what is under way goes on at the
 * new tempo. What is the stage's stays: movers, belts and currents, and the numbers that the game gives.
 */

/** How fast a body's own time goes. */
export function tempoOf({ s }: Pick<Body, 's'>): number {
  return s[TEMPO] === 0 ? 1 : s[TEMPO]!;
}

/** What is under way goes on at another tempo: so many times as fast. */
export function changeTempo(body: Body, tempo: number): void {
  const { s, clock } = body;
  const faster = tempo / tempoOf(body);
  const now = clock[NOW]!;
  s[TEMPO] = tempo === 1 ? 0 : tempo;
  putMoments(body, (moment) => now - (now - moment) / faster);
  for (const at of [...body.pressAt, ...body.sinceAt])
    if (at >= 0 && s[at]! >= 0) s[at] = Math.max(0, now - (now - s[at]!) / faster);
  for (const { base, ability } of body.installed)
    for (const [i, unit] of ability.measures) s[base + i] = atTempo(s[base + i]!, unit, faster);
  for (const at of [RAMP, LOCK_FOR, SHOWS_FOR]) s[at] = s[at]! / faster;
  for (const at of [LOCK_FROM, EASE_TO, EASE_RATE, BAND, RAN]) s[at] = s[at]! * faster;
  // How fast it is carried by what flows is not its own.
  const { nx, ny } = body.terrain;
  const stands = s[SUPPORT] === GROUND;
  const flow = stands ? body.level.surfaces[surfaceUnder(body)]!.flow : 0;
  const across = stands ? flow * ny[s[EDGE]!]! : body.currentX;
  const up = stands ? -flow * nx[s[EDGE]!]! : body.currentY;
  s[VX] = across + (s[VX]! - across) * faster + 0;
  s[VY] = up + (s[VY]! - up) * faster + 0;
}
