import { withoutMissing } from './own.js';
import { actionNumber, compileTuning, openStage, type Character, type Driver, type Intents, type Level, type Motion, type Stage, type Tuning } from '../core/index.js'; // prettier-ignore

/** Ticks per second of the search. */
export const RATE = 60;
/** The most ticks between two decisions, and the most cells that are crossed between them; at first each tick is one, so that a tap is as short as can be. */
const HELD = 5;
const CROSSED = 3;
const AT_FIRST = 3;
/** The run-up before the edge, units: enough to be at top speed. */
const LEFT = 40;
/** No way is followed longer, s. */
export const LONGEST = 6;

/** What is held: a bit for each of these actions. */
export const ACTIONS = ['left', 'right', 'jump', 'glide', 'down'] as const;
export const RIGHT = 1 << 1;
export const JUMP = 1 << 2;
const GLIDE = 1 << 3;
const DOWN = 1 << 4;

/** What a search is about: the same in every thread that takes part. */
export interface Search {
  tuning: Tuning;
  /** Size of a cell and how far below the takeoff it is looked, units. */
  cell: number;
  below: number;
  /** Whether the jump key may go down and up at any tick, or only where all is decided anew. */
  anyTick: boolean;
  /** Whether what is between the extremes is gone on from too. */
  fills: boolean;
  /** Speeds up and across closer than this are one, units/s. */
  steep: number;
  fast: number;
}

/** States to go on from: what is held in each, and their snapshots one after the other. */
export interface Batch {
  depth: number;
  held: readonly number[];
  snapshots: Float64Array;
}

/**
 * Of all states at one moment, those at an extreme of their kind: of height, speed up and rights by steps those that are farthest and fastest either way; above each tile
 * across, those that may rise highest.
 */
export class Extremes<One extends { x: number; vx: number; rise: number }> {
  private readonly kinds = new Map<string, One[]>();
  /** Whether what was taken last is the first of its kind between the extremes: it stays, whatever is better. */
  fills = false;

  /** @param filled what has been kept of what is between the extremes, at any moment */
  constructor(
    private readonly search: Search,
    private readonly filled: Set<string>,
  ) {}

  /** Whether a state is at an extreme so far, or the first of its kind between them; then it is kept. */
  take(one: One, y: number, vy: number, rights: string): boolean {
    const { cell, steep, fast, fills } = this.search;
    const { kinds, filled } = this;
    const { x, vx, rise } = one;
    let kept = false;
    this.fills = false;
    if (fills) {
      const where = `${Math.floor(x / cell / 2)},${Math.floor(y / cell / 2)},${Math.floor(vx / fast / 32 + 0.5)},${rights}`;
      kept = this.fills = !filled.has(where);
      filled.add(where);
    }
    const kind = `${Math.floor(y / cell)},${Math.floor(vy / steep)},${rights}`;
    const known = kinds.get(kind);
    if (known === undefined) {
      kinds.set(kind, [one, one, one, one]);
      kept = true;
    } else {
      const close = cell / 4;
      const [right, left, faster, slower] = known as [One, One, One, One];
      const better = [
        x > right.x + close,
        x < left.x - close,
        vx > faster.vx + fast || (vx >= faster.vx && x > faster.x + close),
        vx < slower.vx - fast || (vx <= slower.vx && x < slower.x - close),
      ];
      for (let i = 0; i < 4; i++) if (better[i]) known[i] = one;
      kept ||= better.includes(true);
    }
    const over = `over ${Math.floor(x / cell / 4)},${rights}`;
    const highest = kinds.get(over);
    if (highest !== undefined && rise <= highest[0]!.rise + cell / 16) return kept;
    kinds.set(over, [one]);
    return true;
  }

  all(): Set<One> {
    return new Set([...this.kinds.values()].flat());
  }
}

/**
 * What a batch led to, one number after the other: states (`STATE` numbers each, their snapshots in the same order), and cells that were passed
 * (`PASSED` numbers each). Every thread finds the same for the same batch.
 */
export interface Expanded {
  states: Float64Array;
  snapshots: Float64Array;
  passed: Float64Array;
}

/** Of a state: which of the batch it came from, what is held and from which tick on, place, speed, time since the takeoff, jumps left, phase. */
export const [FROM, CHOICE, TURN, AT_X, AT_Y, AT_VX, AT_VY, AT_TIME, JUMPS, PHASE, STATE] = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10] as const; // prettier-ignore
/** Of a cell that was passed: which of the batch it was reached from, how, its column and row, when, and the state that it ended in, or −1. */
export const [P_FROM, P_CHOICE, P_TURN, P_COLUMN, P_ROW, P_TIME, P_STATE, PASSED] = [0, 1, 2, 3, 4, 5, 6, 7] as const;

/** What a state does next, told apart only as far as it matters for what it can still reach. */
const PHASES = { glide: 1, dive: 2 } as const;

/** How high a body is or may still rise to, units; less for one that falls. */
export function riseOf({ rising }: Motion, y: number, vy: number): number {
  return y + (vy * Math.abs(vy)) / (2 * rising);
}

/** What it may still do. */
export function rightsOf(jumps: number, phase: number, choice: number): string {
  return `${jumps},${phase},${choice & JUMP}`;
}

/** The level of a search: a floor that ends at 0, 0, with the takeoff at its edge. */
export function edgeLevel({ full, width }: Motion): Level {
  const { tile } = full;
  return {
    tile,
    rows: ['@', '#'.repeat(LEFT)],
    yPoints: 'up',
    origin: [-LEFT * tile, -tile],
    spawns: { edge: { at: [-LEFT * tile + width, 0] }, stand: { at: [-width / 4, 0] } },
  };
}

/** Charges that a takeoff is tried with, from a little to all of it; and how long a body may stay on the ground that it takes off from, s. */
const CHARGES = 8;
const LINGERS = 0.25;

/** A state at the takeoff, and what was held on the way to it: from the run-up, or where it stands and charges. */
export interface Start {
  spawn: 'edge' | 'stand';
  held: number;
  /** From the beginning, s. */
  lead: readonly { time: number; held: number }[];
  snapshot: Float64Array;
}

/** Goes on from states by every sensible use of the keys. */
export class Expander {
  readonly motion: Motion;
  readonly level: Level;
  private readonly stage: Stage;
  private readonly hero: Character;
  private readonly held = { now: 0, was: 0 };
  private readonly choices: readonly number[];
  private down = false;
  /** Moment of the takeoff, s, and the state at it. */
  readonly takeoff: number;
  readonly starts: readonly Start[];
  /** Whether what it does on the ground is part of the way: a charge, or a run over the edge. */
  private readonly lingers: boolean;

  constructor(private readonly search: Search) {
    this.motion = withoutMissing(compileTuning(search.tuning));
    this.level = edgeLevel(this.motion);
    this.stage = openStage(this.level);
    this.hero = this.stage.add(this.motion, { at: 'edge', driver: driverOf(this.held) });
    // One takeoff: whatever touches down has ended, though a waiting press may send it up again at once.
    this.hero.on('touchdown', () => (this.down = true));
    this.choices = choicesFor(this.motion);
    // Run up to the edge.
    const { stage, hero, held } = this;
    const begin = stage.snapshot();
    held.now = RIGHT;
    while (hero.x < 0 && stage.ticks < 100 * RATE && (hero.vx > 0 || stage.ticks < 10)) stage.tick(1 / RATE);
    // Who cannot run stands at the edge.
    const runs = hero.x >= 0;
    if (!runs) {
      hero.letGo();
      held.was = held.now = 0;
      hero.place('stand');
    }
    this.takeoff = stage.time;
    this.lingers = this.motion.charges || this.motion.jumpOff;
    const run: Start = {
      spawn: runs ? 'edge' : 'stand',
      held: held.now,
      lead: [{ time: 0, held: held.now }],
      snapshot: stage.snapshot(),
    };
    this.starts = [run, ...this.charged(begin)];
  }

  /** Takeoffs with a key that has been held for some time: on the run where that goes, else standing at the edge. */
  private charged(begin: Float64Array): Start[] {
    const { stage, hero, held, takeoff } = this;
    const { charge } = this.motion.full;
    if (charge === undefined) return [];
    const way = charge.run ? RIGHT : 0;
    const spawn = charge.run ? 'edge' : 'stand';
    return Array.from({ length: CHARGES }, (_, k) => {
      const ticks = Math.floor(Math.max(0, takeoff - (charge.fullIn * (k + 1)) / CHARGES) * RATE);
      const press = ticks / RATE;
      stage.restore(begin);
      hero.letGo();
      hero.place(spawn);
      [held.was, held.now] = [0, way];
      while (stage.time < takeoff - 1e-9) {
        if (stage.ticks >= ticks) held.now = way | JUMP;
        stage.tick(1 / RATE);
      }
      return { spawn, held: way | JUMP, lead: [{ time: 0, held: way }, { time: press, held: way | JUMP }], snapshot: stage.snapshot() };
    });
  } // prettier-ignore

  /** Whether a way has come to its end. */
  private hasEnded(): boolean {
    const { hero, stage, takeoff } = this;
    if (this.down || hero.y < -this.search.below) return true;
    return hero.support === 'ground' && !(this.lingers && stage.time - takeoff < LINGERS);
  }

  /**
   * Wanders from the takeoff with keys by chance, always the same for a number: what is passed there fills what a search at even steps leaves out.
   * @param pass called with each cell: column, row, when (s after the takeoff), and how many of the steps led there
   * @returns what was held from when on, s after the takeoff
   */
  wander(number: number, pass: (column: number, row: number, time: number, steps: number) => void): { time: number; held: number }[] {
    const { stage, hero, held, choices, search, takeoff } = this;
    const { cell, below } = search;
    const steps: { time: number; held: number }[] = [];
    let state = Math.imul(number + 1, 2654435761) >>> 0;
    const chance = (many: number): number => {
      state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
      return Math.floor((state / 4294967296) * many);
    };
    const start = this.starts[number % this.starts.length]!;
    stage.restore(start.snapshot);
    held.was = start.held;
    this.down = false;
    for (let next = 0; stage.time - takeoff < LONGEST; ) {
      if (stage.time - takeoff >= next - 1e-9) {
        held.now = choices[chance(choices.length)]!;
        // Pressing jump is what most begins with.
        if (steps.length < 2 && !this.motion.charges) held.now |= JUMP;
        steps.push({ time: stage.time - takeoff, held: held.now });
        next = stage.time - takeoff + (1 + chance(20)) / RATE;
      }
      stage.tick(1 / RATE);
      if (hero.y < -below) break;
      const [column, row] = [Math.floor(hero.x / cell), Math.floor(hero.y / cell)];
      if (isWell(hero.x / cell - column) && isWell(hero.y / cell - row)) pass(column, row, stage.time - takeoff, steps.length);
      if (this.hasEnded()) break;
    }
    return steps;
  } // prettier-ignore

  expand({ depth, held: before, snapshots }: Batch): Expanded {
    const { stage, hero, held, choices, search, takeoff } = this;
    const { cell, below, anyTick } = search;
    const most = Math.max(this.motion.ground.speed, this.motion.air.speed, 1e-9) / RATE;
    const ticks = depth < AT_FIRST ? 1 : Math.max(1, Math.min(HELD, Math.floor((CROSSED * cell) / most)));
    const size = this.starts[0]!.snapshot.length;
    const extremes = new Extremes<{ x: number; vx: number; rise: number }>(search, new Set());
    const seen = new Set<string>();
    const states: number[] = [];
    const passed: number[] = [];
    const kept: Float64Array[] = [];
    for (let i = 0; i < before.length; i++) {
      const snapshot = snapshots.subarray(i * size, (i + 1) * size);
      const was = before[i]!;
      for (const choice of choices) {
        stage.restore(snapshot);
        if (!matters(hero, was, choice)) continue;
        const turns = anyTick && ((choice ^ was) & JUMP) !== 0 ? ticks : 1;
        for (let turn = 0; turn < turns; turn++) {
          if (turn > 0) stage.restore(snapshot);
          held.was = was;
          held.now = turn > 0 ? choice ^ JUMP : choice;
          this.down = false;
          let ended = false;
          const first = passed.length;
          let [column, row] = [NaN, NaN];
          for (let tick = 0; tick < ticks && !ended; tick++) {
            if (tick === turn) held.now = choice;
            stage.tick(1 / RATE);
            const [c, r] = [Math.floor(hero.x / cell), Math.floor(hero.y / cell)];
            if (hero.y >= -below && isWell(hero.x / cell - c) && isWell(hero.y / cell - r) && (c !== column || r !== row) && !seen.has(`${c},${r}`)) {
              seen.add(`${c},${r}`);
              passed.push(i, choice, turn, c, r, stage.time - takeoff, -1);
            }
            [column, row] = [c, r];
            ended = this.hasEnded();
          }
          if (ended || stage.time - takeoff > LONGEST) continue;
          const phase = PHASES[hero.phase as keyof typeof PHASES] ?? 0;
          // What the others of the batch are better than in every way is none of the best of all.
          const { x, y, vx, vy } = hero;
          const best = extremes.take({ x, vx, rise: riseOf(this.motion, y, vy) }, y, vy, rightsOf(hero.jumpsLeft, phase, choice));
          if (!best && passed.length === first) continue;
          for (let k = first; k < passed.length; k += PASSED) passed[k + P_STATE] = kept.length;
          states.push(i, choice, turn, hero.x, hero.y, hero.vx, hero.vy, stage.time - takeoff, hero.jumpsLeft, phase);
          kept.push(stage.snapshot());
        }
      }
    }
    const all = new Float64Array(kept.length * size);
    kept.forEach((one, i) => all.set(one, i * size));
    return { states: Float64Array.from(states), snapshots: all, passed: Float64Array.from(passed) };
  } // prettier-ignore
}

/** Whether a place in a cell is well inside it: keys are written down to the microsecond, which may move it by a little. */
function isWell(part: number): boolean {
  return part > 1e-3 && part < 1 - 1e-3;
}

/** Holds what it is told to; presses are what changes. */
function driverOf(held: { now: number; was: number }): Driver {
  const numbers = ACTIONS.map((action) => actionNumber(action));
  return {
    read(into: Intents) {
      for (let i = 0; i < ACTIONS.length; i++) {
        const bit = 1 << i;
        if ((held.now & bit) !== (held.was & bit)) into.push(into.from, numbers[i]!, held.now & bit ? 1 : 0);
      }
      held.was = held.now;
    },
  };
}

/** Every sensible thing to hold: a way or none, the jump key or not, and what the abilities want. */
function choicesFor({ full }: Motion): number[] {
  const found: number[] = [];
  for (const way of [RIGHT, 0, 1])
    for (const jump of [JUMP, 0])
      for (const extra of [0, ...(full.glide ? [GLIDE] : []), ...(full.dive ? [DOWN] : [])])
        found.push(way | jump | extra);
  return found;
}

/** Whether holding this can lead anywhere that holding less does not. */
function matters(hero: Character, before: number, choice: number): boolean {
  const rises = hero.vy > 0;
  // Gliding and diving are for coming down.
  if (rises && (choice & (GLIDE | DOWN)) !== 0) return false;
  if ((choice & JUMP) === 0) return true;
  // A press is for a jump that there is, or for a glide; holding on is for as long as it shapes the jump.
  if ((before & JUMP) === 0) return hero.jumpsLeft > 0 || hero.motion.full.glide !== undefined;
  return hero.vy > -hero.motion.band || hero.phase === 'glide';
}
