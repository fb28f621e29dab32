/** How anything goes up and down at best: whatever keys are pressed, it is never higher at any moment than this says. Accelerations are magnitudes, units/s². */
export interface Fastest {
  /** Least deceleration of a rise faster than the band, within the band up and down, and of a fall. */
  above: number;
  up: number;
  down: number;
  fall: number;
  /** The same without a jump: of a rise, and at the start of a fall. */
  rising: number;
  falling: number;
  /** Half-width of the band, and the least terminal speed, units/s. */
  band: number;
  cap: number;
  /** What can be glided: the speed of a glide's fall, for so long in all, and how long it takes to slow down to it. */
  glide: { speed: number; budget: number; settle: number } | undefined;
}

/** What starts a flight. */
export interface Takeoff {
  /** Speed up at which support ends without a jump, units/s. */
  rise: number;
  /** Whether what ends it without a jump may go on as a held jump does. */
  held: boolean;
  /** Launch speed of the first jump, 0 where there is none, and for how long after support has ended it may come, s. */
  launch: number;
  late: number;
  /** Launch speeds of the jumps in the air. */
  airs: readonly number[];
  /** A side is climbed over at no more than this speed up or down. */
  lipSpeed: number;
}

/** Steps of the tables, s, and how many: what is later goes on as it ends. */
const STEP = 1 / 500;
const STEPS = 1500;
/** What a table is off by between its moments, units, for each jump. */
const OFF = 2e-4;

/** Heights of the feet above where support ended, at best, at moments after that. */
export class Rise {
  private readonly heights: Float64Array;
  /** The same, the last part of it slow enough for a lip. */
  private readonly slow: Float64Array;
  /** The highest of all. */
  readonly most: number;
  /** How fast it falls at the end of the table, units/s. */
  private readonly end: number;
  private readonly off: number;

  constructor(fastest: Fastest, { rise, held, launch, late, airs, lipSpeed }: Takeoff) {
    const { rising, falling } = fastest;
    const plain = held ? fastest : { ...fastest, above: rising, up: rising, down: falling };
    const glided = (table: Float64Array): Float64Array => (fastest.glide ? best(table, glideOf(fastest)) : table);
    const fall = flight(plain, rise);
    let heights = glided(fall);
    let slow = slowly(plain, fall, rise, lipSpeed);
    const add = (speed: number, from: Float64Array, last?: number): void => {
      const jump = flight(fastest, speed);
      const late = last === undefined ? jump : flight(fastest, speed, last, heightAt(plain, rise, last));
      slow = higher(slow, best(from, slowly(fastest, jump, speed, lipSpeed)), last === undefined ? slow : slowly(fastest, late, speed, lipSpeed, last));
      heights = higher(heights, glided(higher(best(from, jump), late)));
    };
    // A glide before it would come to the same: there is no time to lose height in.
    if (launch > 0) add(launch, heights.map((height, i) => (i * STEP <= late ? height : -Infinity)), late);
    for (const speed of airs) add(speed, heights);
    if (fastest.glide && fastest.glide.speed <= lipSpeed) slow = heights;
    this.heights = latest(heights);
    this.slow = latest(slow);
    this.most = heights.reduce((one, other) => Math.max(one, other), 0);
    this.end = (this.heights[STEPS - 1]! - this.heights[STEPS]!) / STEP;
    this.off = OFF * (1 + airs.length);
  } // prettier-ignore

  /** The last moment at which the feet may still be so high, s; −1 where they never are. */
  last(height: number): number {
    return this.lastOf(this.heights, height);
  }

  /** The same, slow enough to be lifted over a lip. */
  lastSlow(height: number): number {
    return this.lastOf(this.slow, height);
  }

  /** How high the feet may be at a moment or later. */
  from(time: number): number {
    const i = Math.floor(time / STEP);
    if (i < STEPS) return this.heights[i]! + this.off;
    return this.heights[STEPS]! - this.end * (time - STEPS * STEP) * 0.999 + this.off;
  }

  private lastOf(table: Float64Array, wanted: number): number {
    const height = wanted - this.off;
    if (!(table[0]! >= height)) return -1;
    if (table[STEPS]! >= height) return this.end > 0 ? STEPS * STEP + (table[STEPS]! - height) / this.end : Infinity;
    let [low, high] = [0, STEPS];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (table[middle]! >= height) low = middle;
      else high = middle;
    }
    const [one, other] = [table[low]!, table[high]!];
    return (low + (other > -Infinity ? (one - height) / (one - other) : 1)) * STEP;
  }
}

/** How high it is at a moment after support has ended without a jump. */
function heightAt(fastest: Fastest, rise: number, time: number): number {
  const table = flight(fastest, rise);
  const i = Math.min(Math.floor(time / STEP), STEPS - 1);
  return Math.max(table[i]!, table[i]! + (table[i + 1]! - table[i]!) * (time / STEP - i)) + OFF / 4;
}

/** A flight by itself, from a speed up; where it begins later, at a height. */
function flight({ above, up, down, fall, band, cap }: Fastest, rise: number, from = 0, height = 0): Float64Array {
  const table = new Float64Array(STEPS + 1).fill(-Infinity);
  let [y, v, t, i] = [height, rise, from, Math.ceil(from / STEP)];
  // Stretches of constant deceleration, each until a speed.
  const stretches: [number, number][] = [[band, above], [0, up], [-band, down], [-cap, fall], [-Infinity, 0]];
  for (const [until, a] of stretches) {
    if (v <= until) continue;
    const lasts = a > 0 ? (v - until) / a : Infinity;
    for (; i <= STEPS && i * STEP <= t + lasts; i++) {
      const s = i * STEP - t;
      table[i] = y + v * s - (a * s * s) / 2;
    }
    if (lasts === Infinity) break;
    y += v * lasts - (a * lasts * lasts) / 2;
    v = until;
    t += lasts;
  }
  return table;
} // prettier-ignore

/** As long as it is no faster than so. */
function slowly({ above, up, down, fall, band, cap }: Fastest, table: Float64Array, rise: number, least: number, from = 0): Float64Array {
  if (cap <= least) return table;
  let [v, t] = [rise, from];
  for (const [until, a] of [[band, above], [0, up], [Math.max(-band, -least), down], [-least, fall]] as const) {
    if (v <= until) continue;
    t += a > 0 ? (v - until) / a : Infinity;
    v = until;
  }
  return table.map((height, i) => (i * STEP <= t + STEP ? height : -Infinity));
} // prettier-ignore

/**
 * Gliding, however often it is let go of. From rest it comes to its speed evenly within `settle` seconds, or, pressed anew over and over, as slowly as what dies away does. After a fall
 * it takes as long to slow down to its speed, out of the budget: there are only so many falls between, and they fall the least when they are alike.
 */
function glideOf({ glide, fall }: Fastest): Float64Array {
  const { speed, budget, settle } = glide!;
  const parts = settle > 0 ? Math.ceil(budget / settle) + 1 : Infinity;
  return Float64Array.from({ length: STEPS + 1 }, (_, i) => {
    const t = i * STEP;
    const free = Math.max(0, t - budget);
    return Math.min(0, speed * (settle - t)) - (fall * free * free) / 2 / parts;
  });
}

/** One after the other, changing over at the best moment: the higher of both at every moment. */
function best(first: Float64Array, then: Float64Array): Float64Array {
  const table = new Float64Array(STEPS + 1).fill(-Infinity);
  for (let i = 0; i <= STEPS; i++) {
    const from = first[i]!;
    if (from === -Infinity) continue;
    for (let k = 0; i + k <= STEPS; k++) {
      const height = from + then[k]!;
      if (height > table[i + k]!) table[i + k] = height;
    }
  }
  return table;
}

function higher(...tables: Float64Array[]): Float64Array {
  return tables[0]!.map((_, i) => Math.max(...tables.map((table) => table[i]!)));
}

/** At a moment or later. */
function latest(table: Float64Array): Float64Array {
  const found = table.slice();
  for (let i = STEPS - 1; i >= 0; i--) found[i] = Math.max(found[i]!, found[i + 1]!);
  return found;
}
