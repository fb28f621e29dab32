import type { Hop } from '../flight.js';
import { isEven, pressOf, releaseAt, type SeenFlight } from '../seen.js';
import type { Search } from './search.js';

/** Whether keys were captured and act at the moments of samples: takeoffs follow them by always the same time. */
export function knowsKeys(search: Search, of: readonly SeenFlight[]): boolean {
  const late = search.best.flown.flatMap(({ part, flight }) => {
    const one = of.find((other) => other.flight === flight);
    const at = part.hops(part.own, search.values)[0]!.time;
    const key = one && (search.charged ? releaseAt(one.track, at) : pressOf(one.track, at));
    return key ? [at - key.time] : [];
  });
  return isEven(late);
}

/** How long a key was held, where it was captured, and acts at the moments of samples. */
export function heldOf(search: Search, { track }: SeenFlight, hop: Hop): Hop['held'] {
  const held = search.knowsKeys ? pressOf(track, hop.time)?.held : undefined;
  return held === undefined ? undefined : { known: held };
}
