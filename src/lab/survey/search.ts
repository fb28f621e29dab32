import { Bound } from './bound.js';
import type { Explorer } from './explore.js';
import type { Answered, KeptLink, Outcome, Situation, Task, Wanted } from './task.js';
import type { Move } from './moves.js';
import { farApart, type Place, type Places } from './places.js';
import type { InputRow } from '../../core/index.js';

/** A situation in the tree of all that were come to. */
export interface Point extends Situation {
  parent: Point | undefined;
  /** Since its parent. */
  rows: readonly InputRow[];
}

/** A situation by itself, without how it was come to: what a task is told. */
export const situationOf = ({ state, time, x, y, vx, place }: Point): Situation => ({ state, time, x, y, vx, place });

/** How a place was come to from another. */
export interface Link {
  from: number;
  to: number;
  how: string;
  /** The moment at which it begins, and from then until it is held up there, s. */
  began: number;
  time: number;
  start: { x: number; vx: number };
  move: Move | undefined;
  /** What it was played from, and where it led to. */
  before: Point;
  after: Point;
}

/**
 * Does the tasks of a round, in any order and anywhere; answers come back in the order of the tasks.
 * @param here what answers a task in this thread
 */
export type Doing = (tasks: readonly Task[], here: Explorer) => Promise<Answered[]> | Answered[];

export interface SearchOptions {
  /** Events of the core. */
  spend: number;
  seed: number;
  /** Links of an earlier survey, played again before anything is looked for. */
  kept?: readonly KeptLink[];
  /** It is enough to know of everything that is wanted whether it is come to. */
  enough?: boolean;
  /** Asked between rounds: whether to go on. */
  progress?: ((state: { reached: number; open: number; spent: number }) => boolean) | undefined;
}

/** Where it goes on from: a situation at rest on a place, what was aimed at from there, and what is near and was not. */
interface Spot {
  place: number;
  point: Point;
  aimed: Set<number>;
  near: number[] | undefined;
  /** The way in which the next spot on the same place lies: −1, 1, or 0 for both. */
  way: number;
}

type Again = NonNullable<Task['again']>[number];

/** Tasks in a round: the same for any number of threads. */
const ROUND = 8;
/** A task by chance spends so much; without anything new in so many rounds it is left at that. */
const CHANCE = 4000;
/** What a task that aims spends at most. */
const AIMED = 60_000;
const VAIN = 12;
/** By chance it begins at so many places near a goal. */
const NEARBY = 6;
/** So many are aimed at from one place in all, and in one task. */
const NEAREST = 24;
const FEW = 5;
/** On a long place it goes on from spots so far apart, in body widths; or as far as it runs in so long, s. */
const APART = 40;
const RUNS = 5;
/** Nothing farther away is aimed at, in body widths. */
const FARTHEST = 80;

/** Where somebody can get to: rounds of tasks, merged in their order. */
export class Search {
  readonly places: Places;
  readonly first: Point;
  readonly root: Point;
  /** What was come to, the first that was come to it; and when, s of stage time. */
  readonly reached = new Map<number, Point>();
  readonly times = new Map<number, number>();
  readonly links: Link[] = [];
  readonly tried = new Map<number, number>();
  readonly found = new Map<number, { point: Point; time: number }>();
  spent = 0;
  stopped = false;
  /** Where its answers to "no" come from. */
  readonly bound: Bound;
  /** Places from which there is no way back, for certain. */
  readonly never = new Set<number>();
  private readonly farthest: number;
  private readonly apart: number;
  private readonly linked = new Map<number, Link>();
  private readonly waiting: Spot[] = [];
  /** From where it goes on, by place; and where it still has to go on foot to be there. */
  private readonly spots = new Map<number, Spot[]>();
  private readonly walks: { from: Spot; x: number; way: number }[] = [];

  constructor(
    readonly explorer: Explorer,
    private readonly options: SearchOptions,
    private readonly todo: Doing = (tasks) => tasks.map((task) => explorer.answer(task)),
  ) {
    const { first, rest, rows } = explorer.begin();
    this.places = explorer.places;
    const { level, motion, abilities, wanted, host } = explorer.scene;
    this.farthest = FARTHEST * motion.width;
    this.apart = Math.min(APART * motion.width, Math.max(RUNS * motion.ground.speed, motion.width));
    this.first = { ...first, parent: undefined, rows: [] };
    this.root = { ...rest, parent: this.first, rows };
    if (rest.place >= 0) this.arrive(rest.place, this.root, rest.time);
    this.bound = new Bound(level, motion, this.places, wanted, abilities, host !== undefined);
  } // prettier-ignore

  private placesOf(ids: Iterable<number>): Place[] {
    return Array.from(ids, (id) => this.places.list[id]!);
  }

  private arrive(place: number, point: Point, time: number): void {
    if (this.reached.has(place)) return;
    this.reached.set(place, point);
    this.times.set(place, time);
    // It goes on from where it rests.
    if (point.place >= 0) this.goOnFrom(point.place, point);
  }

  /** Goes on from a situation on a place, if it does not from there already; and from others along it, where it is long. */
  private goOnFrom(place: number, point: Point, way = 0): void {
    const spots = this.spots.get(place) ?? [];
    if (way === 0 && spots.length > 0) return;
    const spot: Spot = { place, point, aimed: new Set(), near: undefined, way };
    this.spots.set(place, [...spots, spot]);
    this.waiting.push(spot);
    const { set, kind, xs } = this.places.list[place]!;
    if (set > 0 || kind === 'ledge') return;
    for (const to of way === 0 ? [-1, 1] : [way]) {
      const x = nearestTo(point.x + to * this.apart, xs[0]!, xs.at(-1)!);
      if (Math.abs(x - point.x) > this.apart / 2) this.walks.push({ from: spot, x, way: to });
    }
  }

  private link(before: Point, after: Point, { how, began, took, move, start }: Outcome): void {
    if (before.place < 0 || after.place < 0 || before.place === after.place) return;
    const id = before.place * this.places.list.length + after.place;
    const link: Link = { from: before.place, to: after.place, how, began, time: took, start, move, before, after };
    const known = this.linked.get(id);
    if (known === undefined) {
      this.linked.set(id, link);
      this.links.push(link);
    } else if (took < known.time) Object.assign(known, link);
  }

  private async round(tasks: readonly { task: Task; from: Point }[]): Promise<boolean> {
    const answers = await this.todo(tasks.map(({ task }) => task), this.explorer);
    const before = this.reached.size + this.found.size;
    answers.forEach(({ outcomes, found, tried, spent }, i) => {
      const { from } = tasks[i]!;
      this.spent += spent;
      for (const outcome of outcomes) {
        const point: Point = { ...outcome.end, parent: from, rows: outcome.rows };
        for (const { place, time } of outcome.landed) this.arrive(place, point, time);
        this.arrive(point.place, point, point.time);
        this.link(from, point, outcome);
      }
      for (const { wanted, end, rows, time } of found) if (!this.found.has(wanted)) this.found.set(wanted, { point: { ...end, parent: from, rows }, time });
      for (const [place, times] of tried) this.tried.set(place, (this.tried.get(place) ?? 0) + times);
    });
    return this.reached.size + this.found.size > before;
  } // prettier-ignore

  private get goesOn(): boolean {
    const { spend, progress } = this.options;
    if (this.stopped || this.spent >= spend || this.isEnough) return false;
    const open = this.places.list.length - this.reached.size;
    if (progress?.({ reached: this.reached.size, open, spent: this.spent }) === false) this.stopped = true;
    return !this.stopped;
  }

  /** Whether nothing is open of what is wanted, where that is enough: come to, or ruled out. */
  private get isEnough(): boolean {
    return this.open?.every((i) => this.found.has(i)) === true;
  }

  /** Of what is wanted, what nothing rules out from the start on; known where that is enough. */
  private open: number[] | undefined;

  /** Goes on from place to place, then by chance. */
  async run(): Promise<void> {
    if (this.options.enough) {
      this.closeBound();
      this.open = this.explorer.scene.wanted.map((_, i) => i).filter((i) => this.bound.mayCome(i));
    }
    await this.playAgain();
    do {
      while (this.waiting.length + this.walks.length > 0 && this.goesOn) {
        await this.walk();
        const tasks = this.aiming();
        if (tasks.length > 0) await this.round(tasks);
      }
    } while (this.goesOn && (await this.byChance()));
    this.keepBound();
  }

  /** Links that are kept, from each place as it is come to: first what is not come to yet, then other ways, which say from where to where there is one. */
  private async playAgain(): Promise<void> {
    const { kept = [] } = this.options;
    if (kept.length === 0) return;
    const ids = new Map(this.places.list.map(({ key, id }) => [key, id]));
    const from = new Map<number, Again[]>();
    for (const { from: before, to, move } of kept) {
      const [start, goal] = [ids.get(before), ids.get(to)];
      if (start !== undefined && goal !== undefined) from.set(start, [...(from.get(start) ?? []), { goal, move }]);
    }
    for (const anew of [true, false])
      for (let again = true; again && this.goesOn;) {
        const tasks: { task: Task; from: Point }[] = [];
        const aimed = new Set<number>();
        for (const [place, point] of this.reached) {
          const moves = (point.place === place && from.get(place)) || [];
          const next = anew ? moves.filter(({ goal }) => !this.reached.has(goal) && !aimed.has(goal)) : moves;
          if (next.length === 0 || tasks.length === ROUND) continue;
          from.set(place, moves.filter((move) => !next.includes(move)));
          for (const { goal } of next) aimed.add(goal);
          tasks.push({ task: { from: situationOf(point), goals: [], wanted: [], any: false, spend: this.mostPerTask, again: next }, from: point });
        }
        again = tasks.length > 0;
        if (again) await this.round(tasks);
      }
  } // prettier-ignore

  /** Along places that are long. */
  private async walk(): Promise<void> {
    const walks = this.walks.splice(0, ROUND);
    if (walks.length === 0) return;
    const answers = await this.todo(walks.map(({ from, x }) => ({ from: situationOf(from.point), goals: [], wanted: [], any: true, spend: this.mostPerTask, walk: x })), this.explorer);
    answers.forEach(({ outcomes, spent }, i) => {
      this.spent += spent;
      const { from, way } = walks[i]!;
      for (const { end, rows } of outcomes) this.goOnFrom(from.place, { ...end, parent: from.point, rows }, way);
    });
  } // prettier-ignore

  /** What may be reached from all that was, and why not what may not. */
  closeBound(): void {
    const { first, root } = this;
    this.closedFor = this.reached.size;
    const falls = first.y > root.y + 1e-6 ? { left: first.x, right: first.x, low: first.y, high: first.y } : undefined;
    this.bound.goOnFrom(this.placesOf(this.reached.keys()), [], falls);
  }

  /** The same, where only what is asked: that stays as it was while nothing is reached that was ruled out. */
  private keepBound(): void {
    const { reached, closedFor } = this;
    if (closedFor > 0 && this.bound.holdsFor(this.placesOf([...reached.keys()].slice(closedFor))))
      this.closedFor = reached.size;
    else this.closeBound();
  }
  /** How many were reached when it was closed last, the first of all that are; 0 where it has been asked for something else since. */
  private closedFor = 0;

  private get mostPerTask(): number {
    return Math.min(AIMED, Math.max(1, (this.options.spend - this.spent) / 2));
  }

  /** What is aimed at from the places that are next: a few of the nearest from each, each from one place in a round. */
  private aiming(): { task: Task; from: Point }[] {
    const { explorer, found, waiting } = this;
    const tasks: { task: Task; from: Point }[] = [];
    const taken = new Set<number>();
    for (let left = waiting.length; left > 0 && tasks.length < ROUND; left--) {
      const spot = waiting.shift()!;
      const { place, point: from, aimed } = spot;
      const isFirst = aimed.size === 0 && spot.near === undefined;
      const near = this.near(spot);
      const goals = near.filter((id) => !taken.has(id)).slice(0, FEW);
      for (const id of goals) {
        taken.add(id);
        aimed.add(id);
      }
      const wanted = isFirst ? explorer.scene.wanted.map((_, i) => i).filter((i) => !found.has(i) && this.isNear(explorer.scene.wanted[i]!, place, from.x)) : [];
      if (goals.length + wanted.length > 0) tasks.push({ task: { from: situationOf(from), goals, wanted, any: false, spend: this.mostPerTask }, from });
      if (near.length > goals.length && aimed.size < NEAREST) waiting.push(spot);
    }
    return tasks;
  } // prettier-ignore

  /** Places that may be reached from a spot and are not, nor were aimed at, the nearest first. */
  private near(spot: Spot): number[] {
    const { place, point, aimed } = spot;
    const from = this.places.list[place]!;
    if (spot.near === undefined) {
      const far = new Map<Place, number>();
      for (const to of this.places.beside(from, this.farthest)) {
        if (to === from || this.reached.has(to.id) || !this.isAlong(from, point.x, to.xs[0]!, to.xs.at(-1)!)) continue;
        const away = farApart(from, to);
        if (away < this.farthest && this.bound.mayReach(from, to)) far.set(to, away + Math.abs(nearestTo(point.x, to.xs[0]!, to.xs.at(-1)!) - point.x) / this.farthest);
      }
      spot.near = [...far.keys()].sort((one, other) => far.get(one)! - far.get(other)! || one.id - other.id).map(({ id }) => id);
    }
    // What is reached by now stays so.
    spot.near = spot.near.filter((id) => !this.reached.has(id) && !aimed.has(id));
    return spot.near;
  } // prettier-ignore

  /** Whether something that spans so much is to be aimed at from this part of a place: others have spots of their own. */
  private isAlong({ xs }: Place, x: number, left: number, right: number): boolean {
    const [first, last] = [xs[0]!, xs.at(-1)!];
    // Where on the place it is nearest to.
    const [from, to] = [nearestTo(left, first, last), nearestTo(right, first, last)];
    return from - x <= this.apart && x - to <= this.apart;
  }

  private isNear({ left, right, y }: Wanted, place: number, x: number): boolean {
    const from = this.places.list[place]!;
    return this.isAlong(from, x, left, right) && this.bound.mayCover(from, left, right, y);
  }

  /** The spot on a place from which a goal is nearest; where it was first come to, if there is none. */
  private spotFor(place: number, goal: Place): Point {
    const away = ({ point }: Spot): number => Math.abs(nearestTo(point.x, goal.xs[0]!, goal.xs.at(-1)!) - point.x);
    return (this.spots.get(place) ?? []).reduce<Spot | undefined>((best, one) => (best === undefined || away(one) < away(best) ? one : best), undefined)?.point ?? this.reached.get(place)!;
  } // prettier-ignore

  /** Presses keys by chance near what may be reached and is not. @returns whether that came to anything */
  private async byChance(): Promise<boolean> {
    for (let vain = 0, turn = 0; vain < VAIN && this.goesOn; vain++) {
      this.keepBound();
      const open = this.places.list.filter((place) => !this.reached.has(place.id) && this.bound.allowed.has(place));
      if (open.length === 0) return false;
      const tasks: { task: Task; from: Point }[] = [];
      for (let k = 0; k < ROUND; k++, turn++) {
        const goal = open[turn % open.length]!;
        const near = this.nearestTo(goal);
        // Where it begins in the air it may steer on its way down.
        const falls = this.first.y > this.root.y + 1e-6 && turn % 4 === 3;
        const place = near[Math.floor(turn / open.length) % near.length];
        const from = falls || place === undefined ? this.first : this.spotFor(place.id, goal);
        tasks.push({ task: { from: situationOf(from), goals: [goal.id], wanted: [], any: true, spend: CHANCE, chance: { seed: this.options.seed * 7919 + this.chances++ } }, from });
      }
      if (await this.round(tasks)) return true;
    }
    return false;
  } // prettier-ignore
  private chances = 0;

  /** The few places nearest to a goal that were come to. */
  private nearestTo(goal: Place): Place[] {
    const near: { place: Place; far: number }[] = [];
    for (const id of this.reached.keys()) {
      const place = this.places.list[id]!;
      const far = farApart(place, goal);
      let at = near.length;
      while (at > 0 && (far < near[at - 1]!.far || (far === near[at - 1]!.far && id < near[at - 1]!.place.id))) at--;
      if (at < NEARBY) near.splice(at, 0, { place, far });
      if (near.length > NEARBY) near.pop();
    }
    return near.map(({ place }) => place);
  }

  /** Looks for ways back to places, from those from which none is known. @returns for each reached place whether there is one */
  async backTo(homes: readonly number[]): Promise<Set<number>> {
    // Without a home nobody is lost.
    if (homes.length === 0) return new Set(this.reached.keys());
    const back = this.leadTo(homes);
    const ends = this.placesOf(homes);
    const asked = new Set<number>();
    const tried = new Map<number, Set<number>>();
    while (this.goesOn) {
      const tasks: { task: Task; from: Point }[] = [];
      for (const [id, from] of this.reached) {
        if (back.has(id) || from.place !== id || tasks.length === ROUND) continue;
        const place = this.places.list[id]!;
        const before = tried.get(id) ?? new Set<number>();
        if (before.size >= NEAREST || this.never.has(id)) continue;
        if (!asked.has(id)) {
          asked.add(id);
          this.closedFor = 0;
          this.bound.goOnFrom([place], ends);
          // From wherever it might get to from here there is no way back either.
          if (!ends.some((end) => this.bound.allowed.has(end))) {
            for (const other of this.bound.allowed) this.never.add(other.id);
            continue;
          }
        }
        const far = (to: number): number => farApart(place, this.places.list[to]!);
        const goals = [...back].filter((to) => !before.has(to) && this.bound.mayReach(place, this.places.list[to]!)).sort((one, other) => far(one) - far(other) || one - other).slice(0, NEAREST - before.size);
        if (goals.length === 0) continue;
        // On a long place from where the nearest is nearest, and from there what else is.
        const nearest = this.places.list[goals[0]!]!;
        const spot = this.spotFor(id, nearest);
        const along = goals.filter((to) => this.isAlong(place, spot.x, this.places.list[to]!.xs[0]!, this.places.list[to]!.xs.at(-1)!));
        const aims = along.length > 0 ? along : goals;
        for (const to of aims) before.add(to);
        tried.set(id, before);
        tasks.push({ task: { from: situationOf(spot), goals: aims, wanted: [], any: true, spend: this.mostPerTask }, from: spot });
      }
      if (tasks.length === 0) break;
      await this.round(tasks);
      for (const id of this.leadTo(homes)) back.add(id);
    }
    // What was only touched leads where it went on to.
    for (const [id, { place }] of this.reached) if (back.has(place)) back.add(id);
    return back;
  } // prettier-ignore

  /** The places from which links lead to some. */
  private leadTo(homes: readonly number[]): Set<number> {
    const before = new Map<number, number[]>();
    for (const { from, to } of this.links) before.set(to, [...(before.get(to) ?? []), from]);
    const found = new Set(homes);
    for (const id of found) for (const from of before.get(id) ?? []) found.add(from);
    return found;
  }
}

/** The point of a stretch that is nearest. */
function nearestTo(x: number, left: number, right: number): number {
  return Math.min(Math.max(x, left), right);
}
