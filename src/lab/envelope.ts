import { Intents, actionNumber, compileTuning, openStage, type Character, type Driver, type InputRow, type Level, type Motion, type Tuning } from '../core/index.js'; // prettier-ignore

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
  /** Called now and then with the number of states so far; returning `false` ends the search. */
  progress?: (states: number) => boolean | void;
}

const RATE = 60;
/** Ticks between two decisions; at first each tick is one, so that a tap is as short as can be. */
const HELD = 5;
const AT_FIRST = 3;
/** The run-up before the edge, units: enough to be at top speed. */
const LEFT = 40;
/** No way is followed longer, s. */
const LONGEST = 6;

/** How finely states are told apart, and whether the jump key may go down and up at any tick: the finest that comes to an end is taken. */
const DETAILS = [
  { fast: 12, steep: 24, anyTick: true },
  { fast: 3, steep: 8, anyTick: false },
] as const;
type Detail = (typeof DETAILS)[number];

/** What is held: a bit for each of these actions. */
const ACTIONS = ['left', 'right', 'jump', 'glide', 'down'] as const;

/**
 * Everything that the feet can reach from one takeoff at run speed at the edge of a floor, by any use of the keys and all abilities that need no wall: a search over what
 * is held, decided anew every few ticks. Places are told apart by cells, states besides by speed and by what is left of the rights.
 */
export function envelope(tuning: Tuning | Motion, options: EnvelopeOptions = {}): Envelope {
  const motion = 'launch' in tuning ? tuning : compileTuning(tuning);
  const { tile } = motion.full;
  const { cell = tile / 4, below = 3 * tile, most = 200_000, progress } = options;
  if (!(cell > 0 && cell <= 1000 * tile))
    throw new RangeError(`cell is ${cell}; it must be above 0 and at most ${1000 * tile}`);
  if (!(below >= 0 && below <= 1000 * tile)) throw new RangeError(`below is ${below}; it must be 0 to ${1000 * tile}`);
  if (!(most >= 1 && most <= 1e7)) throw new RangeError(`most is ${most}; it must be 1 to 10000000`);
  let stopped = false;
  const told = (states: number): boolean => (stopped ||= progress?.(states) === false);
  let found = explore(motion, cell, below, most, told, DETAILS[0]);
  if (found.cut && !stopped) found = explore(motion, cell, below, most, told, DETAILS[1]);
  return found;
}

function explore(motion: Motion, cell: number, below: number, most: number, told: (states: number) => boolean, detail: Detail): Envelope {
  const { tile } = motion.full;
  const level: Level = { tile, rows: ['@', '#'.repeat(LEFT)], yPoints: 'up', origin: [-LEFT * tile, -tile], spawns: { edge: { at: [-LEFT * tile + motion.width, 0] } } };
  const held = { now: 0, was: 0 };
  const stage = openStage(level);
  const hero = stage.add(motion, { at: 'edge', driver: driverOf(held) });
  // One takeoff: whatever touches down has ended, though a waiting press may send it up again at once.
  const touched = { down: false };
  hero.on('touchdown', () => (touched.down = true));
  // Run up to the edge.
  held.now = 1 << ACTIONS.indexOf('right');
  while (hero.x < 0 && stage.ticks < 100 * RATE && (hero.vx > 0 || stage.ticks < 10)) stage.tick(1 / RATE);
  const takeoff = stage.time;
  const choices = choicesFor(motion);
  const found = new Map<string, EnvelopeCell>();
  const nodes: Node[] = [];
  const whose = new Map<EnvelopeCell, { node: number; choice: number; turn: number }>();
  /** Of each kind of state, how high the best so far may still rise by itself. */
  const seen = new Map<string, number>();
  let frontier = [add({ parent: -1, held: held.now, turn: 0, snapshot: stage.snapshot(), time: takeoff })];
  let cut = false;
  let states = 0;
  const buffer = stage.snapshot();
  for (let depth = 0; frontier.length > 0 && !cut; depth++) {
    const ticks = depth < AT_FIRST ? 1 : HELD;
    const next: number[] = [];
    for (const at of frontier) {
      if (states >= most || (states % 256 === 0 && told(states))) {
        cut = true;
        break;
      }
      states++;
      const from = nodes[at]!;
      for (const choice of choices) {
        stage.restore(from.snapshot!);
        if (!matters(hero, from.held, choice)) continue;
        const turns = detail.anyTick && ((choice ^ from.held) & JUMP) !== 0 ? ticks : 1;
        for (let turn = 0; turn < turns; turn++) {
          if (turn > 0) stage.restore(from.snapshot!);
          held.was = from.held;
          held.now = turn > 0 ? choice ^ JUMP : choice;
          touched.down = false;
          let ended = false;
          for (let i = 0; i < ticks && !ended; i++) {
            if (i === turn) held.now = choice;
            stage.tick(1 / RATE);
            const [column, row] = [Math.floor(hero.x / cell), Math.floor(hero.y / cell)];
            const name = `${column},${row}`;
            if (hero.y >= -below && !found.has(name)) {
              const reached = { column, row, time: stage.time - takeoff };
              found.set(name, reached);
              whose.set(reached, { node: at, choice, turn });
            }
            ended = touched.down || hero.support === 'ground' || hero.y < -below;
          }
          if (ended || stage.time - takeoff > LONGEST) continue;
          const name = stateOf(hero, choice, cell, detail);
          const rise = hero.y + (hero.vy > 0 ? (hero.vy * hero.vy) / (2 * motion.rising) : 0);
          // As good as one that is known already: it need not be gone on from.
          if (rise <= (seen.get(name) ?? -Infinity) + cell / 8) continue;
          seen.set(name, rise);
          next.push(add({ parent: at, held: choice, turn, snapshot: stage.snapshot(buffer).slice(), time: stage.time }));
        }
      }
      delete from.snapshot;
    }
    frontier = next;
  }
  const cells = [...found.values()].sort((a, b) => a.row - b.row || a.column - b.column);
  return {
    cell, cells, level, rate: RATE, takeoff, cut, states,
    inputFor(wanted) {
      const last = whose.get(wanted);
      if (last === undefined) throw new RangeError('that cell is not one of this envelope');
      const steps: { time: number; held: number }[] = [];
      const step = (parent: number, choice: number, turn: number): void => {
        const { time } = nodes[parent]!;
        steps.unshift({ time: time + turn / RATE, held: choice });
        if (turn > 0) steps.unshift({ time, held: choice ^ JUMP });
      };
      step(last.node, last.choice, last.turn);
      for (let at = last.node; nodes[at]!.parent >= 0; at = nodes[at]!.parent) step(nodes[at]!.parent, nodes[at]!.held, nodes[at]!.turn);
      const start = { rate: RATE, spawn: 'edge', facing: 1, opposed: 'still' } as const;
      return [{ time: 0, action: 'host', value: 0, call: start }, ...rowsOf([{ time: 0, held: 1 << ACTIONS.indexOf('right') }, ...steps])];
    },
  };

  function add(node: Node): number {
    return nodes.push(node) - 1;
  }
} // prettier-ignore

interface Node {
  parent: number;
  /** What is held on the way to it, and from which tick on its jump key is. */
  held: number;
  turn: number;
  /** Until it has been gone on from. */
  snapshot?: Float64Array;
  time: number;
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
  const bits = (...names: (typeof ACTIONS)[number][]): number => names.reduce((sum, name) => sum | (1 << ACTIONS.indexOf(name)), 0); // prettier-ignore
  const found: number[] = [];
  for (const way of [['right'], [], ['left']] as const)
    for (const jump of [['jump'], []] as const)
      for (const extra of [[], ...(full.glide ? [['glide']] : []), ...(full.dive ? [['down']] : [])] as const)
        found.push(bits(...way, ...jump, ...(extra as 'glide'[])));
  return found;
}

const [JUMP, GLIDE, DOWN] = [1 << 2, 1 << 3, 1 << 4];

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

/** What tells two states apart: the cell, the speed by steps, and what is left of the rights. */
function stateOf(hero: Character, choice: number, cell: number, { fast: across, steep: up }: Detail): string {
  const { motion } = hero;
  const fast = Math.max(motion.ground.speed, motion.air.speed, 1e-9) / across;
  const steep = Math.max(motion.launch, 1e-9) / up;
  return [
    Math.floor(hero.x / cell),
    Math.floor(hero.y / cell),
    Math.floor(hero.vx / fast + 0.5),
    Math.floor(hero.vy / steep + 0.5),
    hero.jumpsLeft,
    hero.phase,
    // Which way is held makes no difference to what comes; what is no press any more does.
    choice & ~3,
  ].join();
}

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
