import {
  openStage,
  placeIn,
  recordPieces,
  script,
  type Ability,
  type Character,
  type InputRow,
  type Level,
  type Motion,
  type Stage,
  type TracePiece,
} from '../core/index.js';
import { withoutMissing } from './own.js';
import { openGround, play } from './play.js';

/** A flight off the edge of a floor with one press of an action of the game's own, as it was played. Places from the edge, y up, units. */
export interface OwnFlight {
  ability: string;
  action: string;
  /** What else is pressed at that moment: directions besides the way it runs. */
  beside: readonly string[];
  /** Whether it jumps at the edge, or runs off it. */
  jumps: boolean;
  /** When it is pressed, s since the edge was left; held from then on. */
  at: number;
  /** All of it, to be played in the level of the envelope, from the spawn `edge`. */
  rows: readonly InputRow[];
  /** From the edge on, until it stands again or is far below. */
  pieces: readonly TracePiece[];
  highest: number;
  /** As far as it is where it comes down to the height of the edge; NaN where it never does. */
  farthest: number;
}

/** What a press of an action of the game's own does: on the ground at run speed, and at its best moment in a running jump. */
export interface OwnMove {
  ability: string;
  action: string;
  /** As far ahead as it brings one who runs, units; the fastest; the highest. */
  across: number;
  speed: number;
  rise: number;
  /** Of a running jump with one press at the best moment: as far as it gets at the height of the takeoff, and the highest, units. */
  reach: number;
  height: number;
}

const RUNS: readonly InputRow[] = [{ time: 0, action: 'right', value: 1 }];
/** Directions that are tried besides with a press, where they make a difference at one of some moments. */
const BESIDE: readonly (readonly string[])[] = [['up'], ['down']];
const LOOKED = [0, 12, 24] as const;
/** Moments of a flight at which it is tried, and how often the best is narrowed down to a third. */
const MOMENTS = 32;
const THIRDS = 12;
/** No flight is followed for longer, s; and on the ground. */
const LONGEST = 6;
const FOLLOWED = 2;
/** It has been at top speed for so long, s. */
const SETTLED = 0.25;
/** Ticks a second, since how many there are changes nothing but for abilities that look at each. */
const RATE = 64;
/** The run-up before the edge, tiles: enough to be at top speed. */
const LEFT = 40;
/** A press on the last moment on the floor, s before it. */
const BEFORE = 1e-6;

/** A floor that ends at 0, 0, and is run along from the spawn `edge`. @param below so deep it is, units */
export function edgeOf(motion: Motion, below: number): Level & { spawns: Record<string, { at: [number, number] }> } {
  const { tile } = motion.full;
  const deep = Math.ceil(below / tile) + Math.ceil(motion.height / tile) + 2;
  return {
    tile,
    rows: ['@', ...Array<string>(deep).fill('#'.repeat(LEFT))],
    yPoints: 'up',
    origin: [-LEFT * tile, -deep * tile],
    spawns: { edge: { at: [-LEFT * tile + motion.width, 0] } },
  };
}

/** Plays flights off an edge with presses of a game's own actions. */
export class OwnFlights {
  private readonly motion: Motion;
  private readonly stage: Stage;
  private readonly hero: Character;
  /** Right before the edge, on the run. */
  private readonly begin: Float64Array;
  /** Where the feet are when it is left. */
  private readonly start: number;
  /** Ticks a second of what is played. */
  readonly rate: number;
  /** When the floor is left on the run, s; NaN where nobody runs. */
  private leaves = NaN;

  constructor(
    motion: Motion,
    private readonly abilities: readonly Ability[],
    private readonly below: number,
    rate = 60,
  ) {
    this.motion = withoutMissing(motion, abilities);
    this.rate = abilities.some(({ spec }) => spec.every === 'tick') ? rate : RATE;
    this.stage = openStage(edgeOf(motion, below));
    this.hero = this.stage.add(this.motion, { at: 'edge', abilities });
    const first = this.stage.snapshot();
    const stop = this.hero.on('leave', ({ time }) => void (this.leaves = time));
    this.hero.drive(script(RUNS));
    for (let i = 0; Number.isNaN(this.leaves) && i < 100 * this.rate && (this.hero.vx > 0 || i < 10); i++) this.stage.tick(1 / this.rate);
    stop();
    this.hero.drive(script(RUNS));
    this.stage.restore(first);
    const soon = Number.isNaN(this.leaves) ? 0 : Math.max(0, Math.ceil(this.leaves * this.rate) - 3);
    while (this.stage.ticks < soon) this.stage.tick(1 / this.rate);
    this.begin = this.stage.snapshot();
    this.start = motion.half - motion.full.body.bevel;
  } // prettier-ignore

  /** The actions that abilities add, with whose they are. */
  get actions(): { ability: string; action: string }[] {
    return this.abilities.flatMap(({ name, spec }) =>
      (spec.actions ?? []).map((action) => ({ ability: name, action })),
    );
  }

  /** Flights with a press at every so-many-th moment. @param kinds whether they jump at the edge, or not */
  all({ ability, action }: { ability: string; action: string }, kinds: readonly boolean[] = [true, false]): OwnFlight[] {
    if (Number.isNaN(this.leaves)) return [];
    return kinds.filter((jumps) => !jumps || !this.motion.jumpOff).flatMap((jumps) => {
      const length = this.fly({ ability, action, beside: [], jumps, at: Infinity }).pieces.at(-1)!.until - this.leaves;
      const at = (k: number, beside: readonly string[]): OwnFlight => this.fly({ ability, action, beside, jumps, at: (k / MOMENTS) * length });
      const plain = Array.from({ length: MOMENTS }, (_, k) => at(k, []));
      // A direction that makes no difference is left out.
      const others = BESIDE.filter((beside) => LOOKED.some((k) => !isSame(at(k, beside), plain[k]!)));
      return [...plain, ...others.flatMap((beside) => plain.map((_, k) => at(k, beside)))];
    });
  } // prettier-ignore

  /** One flight. */
  fly({ ability, action, beside, jumps, at }: Pick<OwnFlight, 'ability' | 'action' | 'beside' | 'jumps' | 'at'>): OwnFlight {
    const { stage, hero, leaves, rate } = this;
    const stamped = (time: number): number => Math.floor(time * 1e6) / 1e6;
    const rows: InputRow[] = [...RUNS];
    if (jumps) rows.push({ time: stamped(leaves - BEFORE), action: 'jump', value: 1 });
    // On the very moment of the takeoff, too.
    if (at < Infinity) for (const one of [...beside, action]) rows.push({ time: Math.max(stamped(leaves + at), stamped(leaves - BEFORE)), action: one, value: 1 });
    // Given first: what is held then is that of the moment that is gone back to.
    hero.drive(script(rows));
    stage.restore(this.begin);
    while (stage.time + 1 / rate < leaves) stage.tick(1 / rate);
    const played = recordPieces(stage, hero);
    const until = leaves + LONGEST;
    let stands = false;
    const stop = hero.on('touchdown', () => (stands = true));
    while (!stands && stage.time < until && hero.y > -this.below) stage.tick(1 / rate);
    stop();
    played.end();
    const pieces = within(played.pieces.filter((piece) => piece.until > leaves - BEFORE && piece.support !== 'ground'), -this.below);
    const ends = pieces.flatMap((piece) => [placeIn(piece, piece.from), placeIn(piece, piece.until)]);
    return { ability, action, beside, jumps, at, rows, pieces, highest: ends.reduce((most, { y }) => Math.max(most, y), 0), farthest: crossing(pieces) };
  } // prettier-ignore

  /** What a press of an action amounts to. */
  move(of: { ability: string; action: string }): OwnMove {
    const flights = this.all(of, [true]);
    const best = (value: (flight: OwnFlight) => number): number => {
      const known = flights.filter((flight) => !Number.isNaN(value(flight)));
      if (known.length === 0) return NaN;
      const top = known.reduce((most, flight) => (value(flight) > value(most) ? flight : most));
      const step = (known.find(({ at }) => at > 0)?.at ?? 0) + 1e-9;
      let [low, high] = [Math.max(0, top.at - step), top.at + step];
      let most = value(top);
      for (let i = 0; i < THIRDS; i++) {
        const [one, other] = [low + (high - low) / 3, high - (high - low) / 3];
        const [first, second] = [value(this.fly({ ...top, at: one })), value(this.fly({ ...top, at: other }))];
        most = Math.max(most, first || 0, second || 0);
        if (first >= second) high = other;
        else low = one;
      }
      return most;
    };
    return { ...of, ...this.onGround(of.action), reach: best(({ farthest }) => farthest) - this.start, height: best(({ highest }) => highest) };
  } // prettier-ignore

  private onGround(action: string): Pick<OwnMove, 'across' | 'speed' | 'rise'> {
    const { motion: tuning, abilities, rate } = this;
    const { upIn, speed } = tuning.ground;
    const begin = Math.ceil((upIn + SETTLED) * 16) / 16;
    const input = [{ time: 0, action: 'right', value: 1 }, { time: begin, action, value: 1 }];
    const { pieces } = play({ level: openGround(), tuning, abilities, input, rate, seconds: begin + FOLLOWED });
    const after = pieces.filter(({ until }) => until > begin);
    const [first] = after;
    if (first === undefined) return { across: 0, speed: 0, rise: 0 };
    const start = placeIn(first, Math.max(first.from, begin));
    const ends = after.flatMap((piece) => [Math.max(piece.from, begin), piece.until].map((time) => ({ time, ...placeIn(piece, time) })));
    return {
      across: ends.reduce((most, { x, time }) => Math.max(most, x - start.x - speed * (time - begin)), 0),
      speed: ends.reduce((most, { vx }) => Math.max(most, Math.abs(vx)), 0),
      rise: ends.reduce((most, { y }) => Math.max(most, Math.abs(y - start.y)), 0),
    };
  } // prettier-ignore
}

/** Whether two flights go the same way. */
function isSame(one: OwnFlight, other: OwnFlight): boolean {
  return JSON.stringify(one.pieces) === JSON.stringify(other.pieces);
}

/** Where a flight comes down to the height of the edge for the last time. */
function crossing(pieces: readonly TracePiece[]): number {
  const piece = pieces.findLast((one) => placeIn(one, one.from).y > 0 && placeIn(one, one.until).y <= 0);
  if (piece === undefined) return NaN;
  return placeIn(piece, meets(piece, 0)).x;
}

/** When a piece that goes down comes to a height, s. */
function meets(piece: TracePiece, y: number): number {
  let [low, high] = [piece.from, piece.until];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (placeIn(piece, middle).y > y) low = middle;
    else high = middle;
  }
  return high;
}

/** Pieces as far as they are above a height. */
function within(pieces: readonly TracePiece[], y: number): TracePiece[] {
  return pieces.filter((piece) => placeIn(piece, piece.from).y >= y).map((piece) => (placeIn(piece, piece.until).y < y ? { ...piece, until: meets(piece, y) } : piece));
} // prettier-ignore
