import type { BareStage } from './bare.js';

/** The last stretch of a stage's time, or of several rooms', to go back in. */
export interface Rewind {
  /** Keeps the present: call it after each tick, or each few. */
  keep(): void;
  /** How far it can go back, s: of rooms, the time that was played in any of them. */
  readonly seconds: number;
  /** What all of it takes once full, bytes: of rooms, if all of them went on all the time. */
  readonly bytes: number;
  /**
   * Goes back so many seconds, to the nearest moment kept that is no later, or to the oldest. What came after is forgotten, and play goes on from
   * there. Who went from one of the rooms to another since is back where it was. Keys that were held then are let go of where somebody plays live; scripts and
   * bots find their place by themselves.
   * @returns how far it went, s
   * @throws RangeError where the number is below 0, or nothing has been kept
   */
  back(seconds: number): number;
  /** Forgets everything. */
  clear(): void;
}

/** How much is kept to go back to. */
export interface RewindOptions<T = unknown> {
  /** How far back, s; 60 unless given. */
  seconds?: number;
  /** How often `keep` is called, per second of stage time; 60 unless given. */
  rate?: number;
  /**
   * Who was removed before the oldest moment kept is forgotten for good: nothing is left of shots that come and go by the thousand. Older snapshots of one's own in
   * which they are cannot be restored then.
   */
  forget?: boolean;
  /** What a game has besides its stages, as a score: what `keep` gives is kept with each moment, and handed to `back` when time goes back to it. */
  also?: { keep(): T; back(kept: T): void };
}

/** A stage's own part: its snapshots, as a ring. */
class Past {
  private readonly ring: (Float64Array | undefined)[] = [];
  /** 1 where nothing had happened since the moment before: that one's snapshot holds. */
  private readonly same: Uint8Array;
  private spare: Float64Array | undefined;

  constructor(
    readonly stage: BareStage,
    most: number,
  ) {
    this.same = new Uint8Array(most);
  }

  /** Keeps the present. @param before where the moment before is kept; −1 where there is none */
  keep(to: number, before: number): void {
    const { stage, ring, same } = this;
    const { length } = this.held(before) ?? NOTHING;
    // Characters may have come since.
    const old = ring[to] ?? this.spare;
    const kept = stage.snapshot(old?.length === stage.snapshotLength ? old : undefined);
    same[to] = before >= 0 && kept.length === length && isSame(kept, this.held(before)!) ? 1 : 0;
    this.spare = same[to] === 1 ? kept : undefined;
    ring[to] = same[to] === 1 ? undefined : kept;
  }

  /** The oldest moment is given up: what the next one holds by it is its own then. */
  giveUp(first: number, next: number): void {
    if (this.same[next] !== 1) return;
    this.ring[next] = this.ring[first];
    this.ring[first] = undefined;
    this.same[next] = 0;
  }

  /** The snapshot that holds at a moment. */
  held(at: number): Float64Array | undefined {
    if (at < 0) return undefined;
    let k = at;
    while (this.same[k] === 1) k = k === 0 ? this.same.length - 1 : k - 1;
    return this.ring[k];
  }
}

const NOTHING = new Float64Array(0);

function isSame(one: Float64Array, other: Float64Array): boolean {
  for (let i = 0; i < one.length; i++) if (one[i] !== other[i]) return false;
  return true;
}

/**
 * Keeps the last seconds of a stage as a ring of snapshots. It allocates all of its memory as it fills for the first time: one snapshot for each
 * `keep`, 8 bytes for each of its numbers (about 1.1 kB for one character). Of several rooms each keeps what has changed.
 * @param rooms a stage, or all those that characters go to and fro between
 * @throws RangeError where there is no stage, an option is not above 0, or both together are more than ten million snapshots
 * @example
 * ```ts
 * const past = rewind(mill, { seconds: 10 });
 * past.keep(); // after each tick
 * past.back(2); // two seconds ago
 * ```
 */
export function rewind<T = unknown>(
  rooms: BareStage | readonly BareStage[],
  { seconds = 60, rate = 60, forget = false, also }: RewindOptions<T> = {},
): Rewind {
  if (!(seconds > 0)) throw new RangeError(`seconds is ${seconds}; it must be above 0`);
  if (!(rate > 0)) throw new RangeError(`rate is ${rate}; it must be above 0`);
  const most = Math.ceil(seconds * rate) + 1;
  if (!(most <= 1e7))
    throw new RangeError(`${seconds} seconds at ${rate} a second are ${most} snapshots; at most 10000000 are kept`);
  const stages = 'tick' in rooms ? [rooms] : rooms;
  if (stages.length === 0) throw new RangeError('rooms is an empty list; there must be a stage to go back in');
  const pasts = stages.map((stage) => new Past(stage, most));
  /** What was played until each moment, s; and the stages' own time then. */
  const played = new Float64Array(most);
  const times = stages.map(() => new Float64Array(most));
  const others: T[] = [];
  /** Of those kept, the oldest is at `first`. */
  let first = 0;
  let count = 0;
  const at = (k: number): number => (first + k) % most;
  /** What has been played by now, s. */
  const playedNow = (): number => {
    const last = at(count - 1);
    let since = 0;
    for (let i = 0; i < stages.length; i++) since = Math.max(since, stages[i]!.time - times[i]![last]!);
    return played[last]! + since;
  };
  return {
    keep() {
      const now = count === 0 ? 0 : playedNow();
      const before = count === 0 ? -1 : at(count - 1);
      if (count === most) {
        for (const past of pasts) past.giveUp(first, at(1));
        first = at(1);
        count--;
      }
      const to = at(count);
      for (let i = 0; i < pasts.length; i++) {
        pasts[i]!.keep(to, count === 0 ? -1 : before);
        times[i]![to] = stages[i]!.time;
        if (forget) stages[i]!.forgetBefore(times[i]![first]!);
      }
      played[to] = now;
      if (also) others[to] = also.keep();
      count++;
    },
    get seconds() {
      return count === 0 ? 0 : playedNow() - played[first]!;
    },
    get bytes() {
      return stages.reduce((sum, { snapshotLength }) => sum + most * (8 * snapshotLength + 8), 0);
    },
    back(wanted) {
      if (!(wanted >= 0)) throw new RangeError(`seconds is ${wanted}; it must be at least 0`);
      if (count === 0) throw new RangeError('nothing has been kept to go back to');
      const now = playedNow();
      let k = count - 1;
      while (k > 0 && played[at(k)]! > now - wanted + 1e-9) k--;
      for (const past of pasts) past.stage.restore(past.held(at(k))!);
      count = k + 1;
      also?.back(others[at(k)]!);
      for (const stage of stages)
        for (const character of stage.characters) if (character.driver?.isLive === true) character.letGo();
      return now - played[at(k)]!;
    },
    clear() {
      first = count = 0;
    },
  };
}
