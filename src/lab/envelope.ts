import { compileTuning, type InputRow, type Level, type Motion, type Tuning } from '../core/index.js';
import { ACTIONS, AT_TIME, AT_VX, AT_VY, AT_X, AT_Y, CHOICE, Expander, Extremes, FROM, JUMP, JUMPS, PASSED, PHASE, P_CHOICE, P_COLUMN, P_FROM, P_ROW, P_STATE, P_TIME, P_TURN, RATE, STATE, TURN, rightsOf, riseOf, type Batch, type Expanded, type Search } from './expand.js'; // prettier-ignore

/** A cell that the feet can be brought into. */
export interface EnvelopeCell {
  /** Its column and row: the feet are at x, y of cell · (column … column + 1), cell · (row … row + 1) from the takeoff, y up. */
  column: number;
  row: number;
  /** When they are in it on the way that was found, s after the takeoff. */
  time: number;
}

export interface Envelope {
  /** The size of a cell, units. */
  cell: number;
  cells: EnvelopeCell[];
  /** The level that it was found in (y up, the edge at 0), where the character starts, and ticks per second. */
  level: Level;
  rate: number;
  /** Moment of the takeoff, s. */
  takeoff: number;
  /** Whether the search ended before it had tried everything. */
  cut: boolean;
  /** How many states were gone on from. */
  states: number;
  /** The keys that bring the feet into a cell: played by `play` or `apperin run` in that level. */
  inputFor(cell: EnvelopeCell): InputRow[];
}

export interface EnvelopeOptions {
  /** Size of a cell, units; a quarter of a tile unless given. */
  cell?: number;
  /** How far below the takeoff it is looked, units; three tiles unless given. */
  below?: number;
  /** The most states that are gone on from; 200000 unless given. */
  most?: number;
  /** Called now and then with the number of states so far; returning `false` ends the search, which keeps what it has found. */
  progress?: (states: number) => boolean | void;
}

/** How finely states are told apart: the finest that comes to an end is taken, the last in any case. */
const DETAILS = [
  // `steep`: steps of the launch speed; `fast`: steps of the top speed; `share`: of the states that may be gone on from.
  { steep: 6, fast: 64, anyTick: true, share: 0.3 },
  { steep: 3, fast: 16, anyTick: false, share: 1 },
] as const;

/** So many ways by chance in a row that pass nothing new end the search for what even steps leave out. */
const IDLE = 300;

/** States in a batch, and batches that are asked for at once. */
const BATCH = 32;
const WAVE = 16;

/**
 * Everything that the feet can reach from one takeoff at run speed at the edge of a floor, by any use of the keys and all abilities that need no wall: a search over what
 * is held, decided anew every few ticks. Of all states at one moment those are gone on from that are at an extreme of their kind (height, speed up, rights) or
 * reach a cell that none has reached before. What is found is reached for certain, and there may be more: a lower bound.
 * @throws RangeError for sizes out of range
 */
export function envelope(tuning: Tuning | Motion, options: EnvelopeOptions = {}): Envelope {
  let found: Envelope | undefined;
  for (const { search, ways } of passes(tuning, options)) {
    const expander = new Expander(search);
    let step = ways.next();
    while (!step.done) step = ways.next(step.value.map((batch) => expander.expand(batch)));
    found = step.value;
    if (!found.cut || found.states < limitOf(search, options)) break;
  }
  return found!;
}

/**
 * The same, with the batches gone on from elsewhere, several at once: in other threads. Whoever does it, and in how many places, the result is the same.
 * @param expand goes on from a batch, as an `Expander` of that search does
 */
export async function envelopeBy(
  tuning: Tuning | Motion,
  options: EnvelopeOptions,
  expand: (search: Search, batch: Batch) => Promise<Expanded>,
): Promise<Envelope> {
  let found: Envelope | undefined;
  for (const { search, ways } of passes(tuning, options)) {
    let step = ways.next();
    while (!step.done) step = ways.next(await Promise.all(step.value.map((batch) => expand(search, batch))));
    found = step.value;
    if (!found.cut || found.states < limitOf(search, options)) break;
  }
  return found!;
}

const MOST = 200_000;

function limitOf({ anyTick }: Search, { most = MOST }: EnvelopeOptions): number {
  return Math.ceil(most * DETAILS.find((detail) => detail.anyTick === anyTick)!.share);
}

type Ways = Generator<Batch[], Envelope, Expanded[]>;

function* passes(tuning: Tuning | Motion, options: EnvelopeOptions): Generator<{ search: Search; ways: Ways }> {
  const motion = 'launch' in tuning ? tuning : compileTuning(tuning);
  const { tile } = motion.full;
  const { cell = tile / 4, below = 3 * tile, most = MOST } = options;
  if (!(cell > 0 && cell <= 1000 * tile))
    throw new RangeError(`cell is ${cell}; it must be above 0 and at most ${1000 * tile}`);
  if (!(below >= 0 && below <= 1000 * tile)) throw new RangeError(`below is ${below}; it must be 0 to ${1000 * tile}`);
  if (!(most >= 1 && most <= 1e7)) throw new RangeError(`most is ${most}; it must be 1 to 10000000`);
  for (const detail of DETAILS) {
    const fast = Math.max(motion.ground.speed, motion.air.speed, 1e-9) / detail.fast;
    const steep = Math.max(motion.launch, 1e-9) / detail.steep;
    const search = { tuning: motion.full, cell, below, anyTick: detail.anyTick, fills: detail.anyTick, fast, steep };
    yield { search, ways: searchBy(search, limitOf(search, options), options.progress) };
  }
}

/** A state that was reached, and how. */
interface Reached {
  parent: number;
  choice: number;
  turn: number;
  time: number;
  x: number;
  vx: number;
  /** The height that it has or may still rise to, less for one that falls. */
  rise: number;
  snapshot: Float64Array;
}

function* searchBy(search: Search, most: number, progress: EnvelopeOptions['progress']): Ways {
  const expander = new Expander(search);
  const { motion, level, takeoff, starts } = expander;
  const { cell } = search;
  const size = starts[0]!.snapshot.length;
  const found = new Map<string, EnvelopeCell>();
  const whose = new Map<EnvelopeCell, { node: number; choice: number; turn: number }>();
  const nodes: Reached[] = [];
  const filled = new Set<string>();
  // The starts are the first nodes.
  let frontier = starts.map(({ held, snapshot }) => nodes.push({ parent: -1, choice: held, turn: 0, time: 0, x: 0, vx: 0, rise: 0, snapshot }) - 1);
  let states = 0;
  let cut = false;
  const nothing = new Float64Array(0);
  for (let depth = 0; frontier.length > 0 && !cut; depth++) {
    const extremes = new Extremes<Reached>(search, filled);
    const fresh = new Set<Reached>();
    for (let from = 0; from < frontier.length && !cut; from += BATCH * WAVE) {
      const room = Math.max(most - states, 0);
      const wave = frontier.slice(from, from + Math.min(BATCH * WAVE, room));
      cut = wave.length < Math.min(BATCH * WAVE, frontier.length - from);
      if (wave.length === 0) break;
      const batches: Batch[] = [];
      for (let i = 0; i < wave.length; i += BATCH) {
        const some = wave.slice(i, i + BATCH);
        const snapshots = new Float64Array(some.length * size);
        some.forEach((node, k) => snapshots.set(nodes[node]!.snapshot, k * size));
        batches.push({ depth, held: some.map((node) => nodes[node]!.choice), snapshots });
      }
      const results = yield batches;
      states += wave.length;
      results.forEach((result, i) => take(result, wave.slice(i * BATCH, (i + 1) * BATCH), extremes, fresh));
      for (const node of wave) nodes[node]!.snapshot = nothing;
      if (progress?.(states) === false) cut = true;
    }
    for (const one of extremes.all()) fresh.add(one);
    frontier = [...fresh].map((one) => nodes.push(one) - 1);
  }
  const wandered = new Map<EnvelopeCell, { steps: readonly { time: number; held: number }[]; count: number; start: number }>();
  for (let run = 0, idle = 0; !cut && idle < IDLE; run++, idle++) {
    const news: { one: EnvelopeCell; count: number }[] = [];
    const steps = expander.wander(run, (column, row, time, count) => {
      const name = `${column},${row}`;
      if (found.has(name)) return;
      const one = { column, row, time };
      found.set(name, one);
      news.push({ one, count });
    });
    for (const { one, count } of news) wandered.set(one, { steps, count, start: run % starts.length });
    if (news.length > 0) idle = 0;
  }
  const cells = [...found.values()].sort((a, b) => a.row - b.row || a.column - b.column);
  return {
    cell, cells, level, rate: RATE, takeoff, cut, states,
    inputFor(wanted) {
      const by = wandered.get(wanted);
      const inputOf = (start: number, steps: readonly { time: number; held: number }[]): InputRow[] => {
        const { spawn, lead } = starts[start]!;
        return [{ time: 0, action: 'host', value: 0, call: { rate: RATE, spawn, facing: 1, opposed: 'still' } }, ...rowsOf([...lead, ...steps])];
      };
      if (by) return inputOf(by.start, by.steps.slice(0, by.count).map(({ time, held }) => ({ time: takeoff + time, held })));
      const last = whose.get(wanted);
      if (last === undefined) throw new RangeError('that cell is not one of this envelope');
      const steps: { time: number; held: number }[] = [];
      const step = (parent: number, choice: number, turn: number): void => {
        const time = takeoff + nodes[parent]!.time;
        steps.unshift({ time: time + turn / RATE, held: choice });
        if (turn > 0) steps.unshift({ time, held: choice ^ JUMP });
      };
      step(last.node, last.choice, last.turn);
      let at = last.node;
      for (; nodes[at]!.parent >= 0; at = nodes[at]!.parent) step(nodes[at]!.parent, nodes[at]!.choice, nodes[at]!.turn);
      return inputOf(at, steps);
    },
  };

  /** Takes what a batch has led to, in the order of the batch. */
  function take({ states: s, snapshots, passed: p }: Expanded, batch: readonly number[], extremes: Extremes<Reached>, fresh: Set<Reached>): void {
    const news = new Set<number>();
    for (let i = 0; i < p.length; i += PASSED) {
      const [column, row] = [p[i + P_COLUMN]!, p[i + P_ROW]!];
      const name = `${column},${row}`;
      if (found.has(name)) continue;
      const one = { column, row, time: p[i + P_TIME]! };
      found.set(name, one);
      whose.set(one, { node: batch[p[i + P_FROM]!]!, choice: p[i + P_CHOICE]!, turn: p[i + P_TURN]! });
      news.add(p[i + P_STATE]!);
    }
    for (let i = 0, k = 0; i < s.length; i += STATE, k++) {
      const [x, y, vx, vy] = [s[i + AT_X]!, s[i + AT_Y]!, s[i + AT_VX]!, s[i + AT_VY]!];
      const rise = riseOf(motion, y, vy);
      const one: Reached = { parent: batch[s[i + FROM]!]!, choice: s[i + CHOICE]!, turn: s[i + TURN]!, time: s[i + AT_TIME]!, x, vx, rise, snapshot: nothing };
      let kept = news.has(k);
      if (kept) fresh.add(one);
      if (extremes.take(one, y, vy, rightsOf(s[i + JUMPS]!, s[i + PHASE]!, one.choice))) kept = true;
      if (extremes.fills) fresh.add(one);
      if (kept) one.snapshot = snapshots.slice(k * size, (k + 1) * size);
    }
  }
} // prettier-ignore

/** Held keys over time as rows of input. */
function rowsOf(steps: readonly { time: number; held: number }[]): InputRow[] {
  const rows: InputRow[] = [];
  let before = 0;
  for (const { time, held } of steps) {
    ACTIONS.forEach((action, i) => {
      const bit = 1 << i;
      if ((held & bit) !== (before & bit))
        rows.push({ time: Math.floor(time * 1e6 + 0.5) / 1e6, action, value: held & bit ? 1 : 0 });
    });
    before = held;
  }
  return rows;
}
