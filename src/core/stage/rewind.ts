import type { BareStage } from './bare.js';

/** The last stretch of a stage's time, to go back in. */
export interface Rewind {
  /** Keeps the present: call it after each tick, or each few. */
  keep(): void;
  /** How far it can go back, s. */
  readonly seconds: number;
  /** What all of it takes once full, bytes. */
  readonly bytes: number;
  /**
   * Goes back so many seconds, to the nearest moment kept that is no later, or to the oldest. What came after is forgotten, and play goes on from
   * there. Keys that were held then are let go of where somebody plays live; scripts and bots find their place by themselves.
   * @returns how far it went, s
   * @throws RangeError where the number is below 0, or nothing has been kept
   */
  back(seconds: number): number;
  /** Forgets everything. */
  clear(): void;
}

/**
 * Keeps the last seconds of a stage as a ring of snapshots. It allocates all of its memory as it fills for the first time: one snapshot for each
 * `keep`, 8 bytes for each of its numbers (about 1.1 kB for one character).
 * @param options.seconds how far back, s; 60 unless given
 * @param options.rate how often `keep` is called, per second of stage time; 60 unless given
 * @throws RangeError where an option is not above 0, or both together are more than ten million snapshots
 */
export function rewind(
  stage: BareStage,
  { seconds = 60, rate = 60 }: { seconds?: number; rate?: number } = {},
): Rewind {
  if (!(seconds > 0)) throw new RangeError(`seconds is ${seconds}; it must be above 0`);
  if (!(rate > 0)) throw new RangeError(`rate is ${rate}; it must be above 0`);
  const most = Math.ceil(seconds * rate) + 1;
  if (!(most <= 1e7))
    throw new RangeError(`${seconds} seconds at ${rate} a second are ${most} snapshots; at most 10000000 are kept`);
  const ring: Float64Array[] = [];
  const times = new Float64Array(most);
  /** Of those kept, the oldest is at `first`. */
  let first = 0;
  let count = 0;
  const at = (k: number): number => (first + k) % most;
  return {
    keep() {
      const to = at(count);
      // Characters may have come since.
      const old = ring[to]?.length === stage.snapshotLength ? ring[to] : undefined;
      ring[to] = stage.snapshot(old);
      times[to] = stage.time;
      if (count < most) count++;
      else first = (first + 1) % most;
    },
    get seconds() {
      return count === 0 ? 0 : stage.time - times[first]!;
    },
    get bytes() {
      return most * (8 * stage.snapshotLength + 8);
    },
    back(wanted) {
      if (!(wanted >= 0)) throw new RangeError(`seconds is ${wanted}; it must be at least 0`);
      if (count === 0) throw new RangeError('nothing has been kept to go back to');
      const now = stage.time;
      let k = count - 1;
      while (k > 0 && times[at(k)]! > now - wanted + 1e-9) k--;
      stage.restore(ring[at(k)]!);
      count = k + 1;
      for (const character of stage.characters) if (character.driver?.isLive === true) character.letGo();
      return now - times[at(k)]!;
    },
    clear() {
      first = count = 0;
    },
  };
}
