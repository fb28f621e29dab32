import type { Ability, CompiledLevel, InputRow, Motion, Opposed } from '../../core/index.js';
import type { Host } from '../host.js';
import { chanceFrom } from './chance.js';
import { Game, rowsTo, type Node, type Told } from './game.js';
import { approach, patience, playMove, type Goal, type Move, type Played, type Spoils } from './moves.js';
import { Replay, leastOf } from './proof.js';
import type { Answered, Outcome, PressTask, Situation, Task, Wanted } from './task.js';
import { STEERING, pressMargins, type PressMargin } from '../margins.js';
import { movesFor } from './plans.js';
import type { Place, Places } from './places.js';

/** Presses are tried sooner and later by these shares of the care that is wanted; what leads there with the most is taken at once, with less after so many more ways. */
const CARES = [1.5, 0.5] as const;
const MORE = 3;
/** After so long, s, it does not count. */
const LATER = 0.5;
/** It falls to where it begins for so many ticks at most. */
const BEGINS = 384;
/** What has missed by less, in body widths, is tried again with its presses in the air at other moments: by such steps, s. */
const NEARLY = 3;
const FIRST_STEP = 0.1;
const LAST_STEP = 0.001;

/** What a level and a character are to a survey. */
export interface Explored {
  level: CompiledLevel;
  motion: Motion;
  at?: string | readonly [number, number];
  abilities?: readonly Ability[];
  opposed?: Opposed;
  /** What the game adds: whatever that may do, nothing is ruled out. */
  host?: Host;
  /** Tags of zones that must not be entered. */
  avoid: readonly string[];
  /** By so much, s, presses should be free to come sooner or later. */
  care: number;
  wanted: readonly Wanted[];
}

/** Plays moves from situations: what one thread does of a search. */
export class Explorer {
  readonly game: Game;
  readonly places: Places;
  readonly spoils: Spoils;
  /** Where it stands still before a move, from the situation of the present task. */
  private readonly standing = new Map<string, Node | undefined>();

  constructor(readonly scene: Explored) {
    const { level, motion, avoid } = scene;
    this.game = new Game(level, motion, scene);
    this.places = this.game.places;
    const bad = new Set(level.zones.filter(({ tags }) => tags.some((tag) => avoid.includes(tag))).map(({ name }) => name));
    this.spoils = ({ event, zone }: Told) => event === 'crushed' || event === 'out' || (event === 'enter' && bad.has(zone));
  } // prettier-ignore

  /** A node, as it is handed on between threads. */
  situation({ state, time, x, y, vx, place }: Node): Situation {
    return { state, time, x, y, vx, place: place?.id ?? -1 };
  }

  /** And back. */
  nodeOf({ state, time, x, y, vx, place }: Situation): Node {
    return { state, time, x, y, vx, place: this.places.list[place], parent: undefined, rows: [] };
  }

  /** The very beginning, and where it has come to rest. */
  begin(): { first: Situation; rest: Situation; rows: InputRow[] } {
    const { game } = this;
    const first = game.node(undefined);
    game.from(first);
    let before = NaN;
    for (let i = 0; i < BEGINS && !(i > 0 && game.rests(game.places.under(game.hero), before)); i++) {
      before = game.hero.vx;
      game.tick();
    }
    return { first: this.situation(first), rest: this.situation(game.node(undefined)), rows: game.rows.slice() };
  }

  /** Looks for the goals of a task. */
  answer(task: Task): Answered {
    const answering = this.answering(task);
    for (;;) {
      const { done, value } = answering.next();
      if (done) return value;
    }
  }

  /** The same, step by step: between two of them something else may be done, or it may be left at that. One task at a time. */
  *answering(task: Task): Generator<void, Answered> {
    const before = this.game.spent;
    this.standing.clear();
    const asked = new Asked(this, this.nodeOf(task.from), task);
    if (task.chance) yield* chanceFrom(this, asked.from, task, task.chance, asked.take, asked.reached);
    else if (task.walk !== undefined) asked.walk(task.walk);
    else if (task.again !== undefined) yield* asked.again(task.again);
    else if (asked.from.place) yield* asked.aim();
    return { ...asked.answered(), spent: this.game.spent - before };
  }

  /** The rows of a link of which none can be left out. */
  least({ rows, link }: PressTask): readonly InputRow[] {
    if (link === undefined) return rows;
    const replay = new Replay(this.game, this.nodeOf(link.from), { place: this.places.list[link.to]! }, this.spoils);
    return leastOf(replay, rows)?.rows ?? rows;
  }

  /** How tight presses are, directions aside. @param rows of a link those that are needed, where they are known */
  presses(task: PressTask, rows = this.least(task)): PressMargin[] {
    const { level, motion, ...scene } = this.scene;
    const { link } = task;
    const asked = { ...scene, level, tuning: motion };
    if (link === undefined) return pressMargins({ ...asked, input: rows });
    const { from, to, began, late } = link;
    return pressMargins({ ...asked, input: rows.map((row) => ({ ...row, time: row.time + late })) }, { state: from.state, time: from.time, to, since: began + late - 1e-9 });
  } // prettier-ignore

  /** Where a move begins: the feet stand still there. */
  ready(from: Node, { start, low, wait }: Move): Node | undefined {
    let id = '';
    let at: Node | undefined = from;
    if (start !== undefined) {
      id = `${Math.floor(start * 64 + 0.5)} ${low === true}`;
      if (!this.standing.has(id)) this.standing.set(id, approach(this.game, from, start, low === true, this.spoils));
      at = this.standing.get(id);
    }
    if (wait === undefined || at === undefined) return at;
    const waits = `${id} until ${wait.at} of ${wait.lap}`;
    if (!this.standing.has(waits)) this.standing.set(waits, patience(this.game, at, wait, this.spoils));
    return this.standing.get(waits);
  }

  /** By how much, s, each press of a move may come sooner or later, its release with it, and lead to the same place; of a few amounts. */
  careOf(at: Node, { end }: Played, place: Place): number {
    const { rows, time } = end!;
    const presses = rows.flatMap((row, i) => (row.value > 0 && !STEERING.includes(row.action) ? [i] : []));
    const holds = (by: number): boolean =>
      presses.every((press) => {
        const off = rows.findIndex((row, k) => k > press && row.action === rows[press]!.action);
        return [-by, by].every((way) => this.leads(at, rows.map((row, k) => (k === press || k === off ? { ...row, time: Math.max(at.time, row.time + way) } : row)), time, place));
      });
    return CARES.map((share) => share * this.scene.care).find(holds) ?? 0;
  } // prettier-ignore

  private leads(at: Node, rows: InputRow[], until: number, place: Place): boolean {
    const { game, spoils } = this;
    game.from(at);
    game.play(rows.sort((one, other) => one.time - other.time));
    while (game.stage.time < until + LATER) {
      game.tick();
      if (game.told.some(spoils)) return false;
      if (game.places.under(game.hero, place) === place) return true;
    }
    return false;
  }
}

/** The answer to one task, as it grows. */
class Asked {
  readonly reached = new Set<number>();
  /** What was aimed at and come to, with care; and what was come to besides. */
  private readonly aimed: Outcome[] = [];
  private readonly besides: Outcome[] = [];
  private readonly found = new Map<number, Answered['found'][number]>();
  private readonly tried: [number, number][] = [];
  private readonly before: number;

  constructor(
    private readonly explorer: Explorer,
    readonly from: Node,
    private readonly task: Task,
  ) {
    this.before = explorer.game.spent;
  }

  answered(): Omit<Answered, 'spent'> {
    return { outcomes: [...this.aimed, ...telling(this.besides)], found: [...this.found.values()], tried: this.tried };
  }

  /** Keeps what a move has come to. */
  readonly take = (played: Played, at: Node, move: Move | undefined): Outcome | undefined => {
    const { explorer } = this;
    for (const { zone, node, time } of played.entered) this.find(explorer.scene.wanted.findIndex(({ kind, name }) => kind === 'zone' && name === zone), node, time);
    const { end } = played;
    if (end?.place === undefined) return undefined;
    for (const { place } of played.landed) this.reached.add(place.id);
    this.reached.add(end.place.id);
    const last = played.landed.find(({ place }) => place === end.place) ?? { time: end.time };
    const outcome = {
      end: explorer.situation(end),
      rows: rowsTo(end),
      landed: played.landed.map(({ place, time }) => ({ place: place.id, time })),
      how: howOf(played, move),
      move,
      began: played.began,
      took: last.time - played.began,
      start: { x: at.x, vx: at.vx },
    };
    this.besides.push(outcome);
    return outcome;
  }; // prettier-ignore

  /** Goes on foot to a place's other parts. */
  walk(x: number): void {
    const { explorer, from } = this;
    const end = approach(explorer.game, from, x, from.place?.kind === 'low', explorer.spoils);
    if (end?.place === undefined || end.place !== from.place) return;
    this.besides.push({ end: explorer.situation(end), rows: rowsTo(end), landed: [], how: 'run', move: undefined, began: from.time, took: end.time - from.time, start: { x: from.x, vx: from.vx } });
  } // prettier-ignore

  /** Plays again what has led somewhere before: it counts where it leads there still, with the care that was asked for or half of it. */
  *again(moves: NonNullable<Task['again']>): Generator<void, void> {
    const { explorer, from } = this;
    for (const { goal, move } of moves) {
      if (this.isSpent) return;
      yield;
      const place = explorer.places.list[goal]!;
      const at = explorer.ready(from, move);
      if (!at) continue;
      const played = playMove(explorer.game, at, move, goalOf(place), explorer.spoils);
      if (played.end?.place !== place) continue;
      if (explorer.scene.care === 0 || explorer.careOf(at, played, place) > 0) this.take(played, at, move);
    }
  }

  private get isSpent(): boolean {
    return this.explorer.game.spent - this.before > this.task.spend;
  }

  private find(wanted: number, node: Node, time: number): void {
    if (wanted < 0 || this.found.has(wanted)) return;
    this.found.set(wanted, { wanted, end: this.explorer.situation(node), rows: rowsTo(node), time });
  }

  *aim(): Generator<void, void> {
    const { goals, wanted, any } = this.task;
    for (const i of wanted) yield* this.aimAtWanted(i);
    for (const id of goals) {
      if (this.isSpent) return;
      yield* this.aimAt(id);
      if (any && goals.some((one) => this.reached.has(one))) return;
    }
  }

  private *aimAtWanted(i: number): Generator<void, void> {
    const { explorer, from } = this;
    const wanted = explorer.scene.wanted[i]!;
    const covers = wanted.kind === 'zone' ? undefined : coversOf(wanted, explorer.scene.motion);
    for (const move of movesFor(explorer.game, from, goalOfWanted(wanted))) {
      if (this.found.has(i) || this.isSpent) return;
      yield;
      const at = explorer.ready(from, move);
      if (!at) continue;
      const played = playMove(explorer.game, at, move, goalOfWanted(wanted), explorer.spoils, covers);
      if (played.covered) this.find(i, played.covered, played.covered.time);
      this.take(played, at, move);
    }
  }

  /** Tries ways to a place until one leads there with care; of those that lead there with less the best is taken. */
  private *aimAt(id: number): Generator<void, void> {
    const { explorer, from } = this;
    const place = explorer.places.list[id]!;
    const goal = goalOf(place);
    let tries = 0;
    let nearest: { move: Move; miss: number } | undefined;
    let best: { outcome: Outcome; care: number } | undefined;
    let more = MORE;
    /** @returns by how much it has missed */
    const attempt = (move: Move): number => {
      tries++;
      const at = explorer.ready(from, move);
      if (!at) return Infinity;
      const played = playMove(explorer.game, at, move, goal, explorer.spoils);
      const outcome = this.take(played, at, move);
      if (outcome === undefined || played.end!.place !== place) return played.landed.some((one) => one.place === place) ? 0 : played.miss;
      const care = explorer.careOf(at, played, place);
      if (best === undefined || care > best.care) best = { outcome, care };
      return 0;
    };
    for (const move of movesFor(explorer.game, from, goal)) {
      const miss = attempt(move);
      yield;
      if (this.isSpent) break;
      if (best !== undefined && (move.wait !== undefined || best.care >= CARES[0] * explorer.scene.care || --more < 0)) break;
      if (move.air && miss > 0 && miss < (nearest?.miss ?? NEARLY * explorer.scene.motion.width)) nearest = { move, miss };
    }
    // What has nearly come there may with its presses in the air at other moments.
    for (let step = FIRST_STEP; nearest && !this.reached.has(id) && step > LAST_STEP; step /= 2)
      for (const by of [-step, step]) {
        const move: Move = { ...nearest.move, air: nearest.move.air!.map((after) => after + by) };
        const miss = attempt(move);
        yield;
        if (this.reached.has(id)) break;
        if (miss < nearest.miss) nearest = { move, miss };
      }
    this.tried.push([id, tries]);
    if (best === undefined) return;
    this.besides.splice(this.besides.indexOf(best.outcome), 1);
    this.aimed.push(best.outcome);
  } // prettier-ignore
}

/** Of several outcomes those that say something that none before does: what is held up by, or a shorter way between two places. */
function telling(outcomes: readonly Outcome[]): Outcome[] {
  const known = new Set<number>();
  const shortest = new Map<number, Outcome>();
  for (const outcome of outcomes) if (outcome.took < (shortest.get(outcome.end.place)?.took ?? Infinity)) shortest.set(outcome.end.place, outcome);
  return outcomes.filter((outcome) => {
    const isNew = outcome.landed.some(({ place }) => !known.has(place));
    for (const { place } of outcome.landed) known.add(place);
    return isNew || shortest.get(outcome.end.place) === outcome;
  });
} // prettier-ignore

/** What a move amounts to. */
function howOf({ by }: Played, move: Move | undefined): string {
  if (move?.wait !== undefined) return 'ride';
  if (by.includes('wall')) return 'wall jump';
  if (by.includes('air')) return 'air jump';
  if (by.includes('coyote')) return 'late jump';
  if (by.includes('charge')) return 'charge';
  if (by.includes('ledge')) return 'ledge jump';
  if (by.length > 0) return 'jump';
  if (move?.ledge === 'up') return 'climb';
  if (move?.ledge === 'down') return 'fall';
  if (move?.drop) return 'drop';
  return move?.glide ? 'glide' : 'run';
}

export function goalOf(place: Place): Goal {
  const { set, xs, ys } = place;
  return { set, left: xs[0]!, right: xs.at(-1)!, y: Math.max(...ys), place };
}

function goalOfWanted({ left, right, y }: Wanted): Goal {
  return { set: 0, left, right, y, place: undefined };
}

/** Whether a hitbox covers a point. */
export function coversOf({ left: x, y }: Wanted, { half }: Motion): (feetX: number, feetY: number, height: number) => boolean {
  return (feetX, feetY, height) => Math.abs(x - feetX) <= half && y >= feetY - 1e-9 && y <= feetY + height;
} // prettier-ignore
