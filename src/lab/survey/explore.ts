import type { Ability, CompiledLevel, InputRow, Motion, Opposed } from '../../core/index.js';
import { chanceFrom } from './chance.js';
import { Game, rowsTo, type Node, type Told } from './game.js';
import { approach, playMove, type Goal, type Move, type Played, type Spoils } from './moves.js';
import type { Answered, Situation, Task, Wanted } from './task.js';
import { movesFor } from './plans.js';
import type { Place, Places } from './places.js';

/** What has missed by less, in body widths, is tried again with its presses in the air at other moments: by such steps, s. */
const NEARLY = 3;
const FIRST_STEP = 0.1;
const LAST_STEP = 0.001;

export interface Explored {
  level: CompiledLevel;
  motion: Motion;
  at?: string | readonly [number, number];
  abilities?: readonly Ability[];
  opposed?: Opposed;
  /** Tags of zones that must not be entered. */
  avoid: readonly string[];
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

  situation({ state, time, x, y, place }: Node): Situation {
    return { state, time, x, y, place: place?.id ?? -1 };
  }

  nodeOf({ state, time, x, y, place }: Situation): Node {
    return { state, time, x, y, place: this.places.list[place], parent: undefined, rows: [] };
  }

  /** The very beginning, and where it has come to rest. */
  begin(): { first: Situation; rest: Situation; rows: InputRow[] } {
    const { game } = this;
    const first = game.node(undefined);
    game.from(first);
    const rests = (): boolean => game.places.under(game.hero) !== undefined && Math.abs(game.hero.vx) < 1e-9;
    for (let i = 0; i < 64 * 6 && !(i > 0 && rests()); i++) game.tick();
    return { first: this.situation(first), rest: this.situation(game.node(undefined)), rows: game.rows.slice() };
  }

  /** Looks for the goals of a task. */
  answer(task: Task): Answered {
    const { game, places, scene } = this;
    const before = game.spent;
    const answered: Answered = { outcomes: [], found: [], tried: [], spent: 0 };
    this.standing.clear();
    const from = this.nodeOf(task.from);
    const reached = new Set<number>();
    const found = new Set<number>();
    const take = (played: Played, at: Node, move: Move | undefined): void => {
      for (const { zone, node, time } of played.entered) {
        const i = scene.wanted.findIndex(({ kind, name }) => kind === 'zone' && name === zone);
        if (i < 0 || found.has(i)) continue;
        found.add(i);
        answered.found.push({ wanted: i, end: this.situation(node), rows: rowsTo(node), time });
      }
      const { end } = played;
      if (end?.place === undefined) return;
      for (const { place } of played.landed) reached.add(place.id);
      reached.add(end.place.id);
      const last = played.landed.find(({ place }) => place === end.place) ?? { time: end.time };
      answered.outcomes.push({
        end: this.situation(end),
        rows: rowsTo(end),
        landed: played.landed.map(({ place, time }) => ({ place: place.id, time })),
        how: howOf(played, move),
        move,
        took: last.time - played.began,
        start: { x: at.x, vx: 0 },
      });
    };
    if (task.chance) chanceFrom(this, from, task.goals, task.chance, take, reached);
    else if (from.place) {
      for (const i of task.wanted) {
        const wanted = scene.wanted[i]!;
        for (const move of movesFor(game, from, goalOfWanted(wanted))) {
          if (found.has(i)) break;
          const at = this.ready(from, move);
          if (!at) continue;
          const played = playMove(game, at, move, goalOfWanted(wanted), this.spoils, wanted.kind === 'zone' ? undefined : coversOf(wanted, scene.motion));
          if (played.covered && !found.has(i)) {
            found.add(i);
            answered.found.push({ wanted: i, end: this.situation(played.covered), rows: rowsTo(played.covered), time: played.covered.time });
          }
          take(played, at, move);
        }
      }
      for (const id of task.goals) {
        if (reached.has(id)) continue;
        let tries = 0;
        let best: { move: Move; miss: number } | undefined;
        const goal = goalOf(places.list[id]!);
        const miss = (move: Move): number => {
          tries++;
          return this.try(from, move, goal, take);
        };
        for (const move of movesFor(game, from, goal)) {
          const by = miss(move);
          if (reached.has(id)) break;
          if (move.air && by < (best?.miss ?? NEARLY * scene.motion.width)) best = { move, miss: by };
        }
        // What has nearly come there may with its presses in the air at other moments.
        for (let step = FIRST_STEP; best && !reached.has(id) && step > LAST_STEP; step /= 2)
          for (const by of [-step, step]) {
            const move: Move = { ...best.move, air: best.move.air!.map((after) => after + by) };
            const less = miss(move);
            if (reached.has(id)) break;
            if (less < best.miss) best = { move, miss: less };
          }
        answered.tried.push([id, tries]);
        if (task.any && task.goals.some((one) => reached.has(one))) break;
      }
    }
    answered.spent = game.spent - before;
    return answered;
  } // prettier-ignore

  /** Where a move begins: the feet stand still there. */
  private ready(from: Node, { start, low }: Move): Node | undefined {
    if (start === undefined) return from;
    const id = `${Math.floor(start * 64 + 0.5)} ${low === true}`;
    if (!this.standing.has(id)) this.standing.set(id, approach(this.game, from, start, low === true, this.spoils));
    return this.standing.get(id);
  }

  /** @returns by how much it has missed */
  private try(from: Node, move: Move, goal: Goal, take: (played: Played, at: Node, move: Move) => void): number {
    const at = this.ready(from, move);
    if (!at) return Infinity;
    const played = playMove(this.game, at, move, goal, this.spoils);
    take(played, at, move);
    return played.miss;
  }
}

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
