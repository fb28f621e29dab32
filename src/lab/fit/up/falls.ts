import type { UpKey } from '../flight.js';
import { BETTER, type Search } from './search.js';

/** A fall that comes within this share of its fastest shows how fast a fall becomes. */
const FASTER = 1.05;

/** Falls off edges, and jumps in the course of them. */
export function falls(search: Search): void {
  const off = search.all.filter(
    (one) =>
      one.flight.hops[0]!.by === 'fall' &&
      !search.used.includes(one) &&
      one.flight.hops.every(({ by }) => by !== 'air'),
  );
  if (off.length > 0) search.again([...search.used, ...off]);
}

/** How fast a fall becomes, where it does not become faster. */
export function fastestFall(search: Search): void {
  if (search.keys.includes('gravity.fallSpeed')) return;
  const { fastest } = search;
  const keys: UpKey[] = [...search.keys, 'gravity.fallSpeed'];
  const alone = search.alone(search.used, ['gravity.fallSpeed'], [0.97 * fastest]);
  if (search.best.squares.badness - alone.badness < search.variance) return;
  const capped = search.solve(search.used, keys, [...search.values, ...alone.shared]);
  if (search.best.squares.badness - capped.squares.badness > BETTER * search.variance && capped.squares.shared.at(-1)! < fastest * FASTER) search.take(search.used, keys, capped);
} // prettier-ignore
