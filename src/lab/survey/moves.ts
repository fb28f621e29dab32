import type { Game, Node, Told } from './game.js';
import { TICK } from './game.js';
import type { Place } from './places.js';

/** Where a move is to lead: a stretch of feet positions in the frame of what it is on, y up. */
export interface Goal {
  set: number;
  left: number;
  right: number;
  y: number;
  /** How the body must be there, or what must be covered. */
  place: Place | undefined;
}

/** A way from one place to another, said by place, so that it can be played again from anywhere on it, with other numbers too. */
export interface Move {
  /** Where the feet stand still first, in the frame of the place; nowhere in particular unless given. */
  start?: number;
  /** And until when: so far into a lap, s, of stage time. */
  wait?: { at: number; lap: number };
  /** Which way it runs: −1, 0 or 1. */
  way: number;
  /** The jump: where the feet are, so long after the ground was left (s), or at once. */
  press?: { x: number } | { late: number } | { now: true };
  /** How long jump is held, s; and before that, to charge. */
  hold: number;
  charge?: number;
  /** Further presses: so long after the apex of the jump before, s. */
  air?: readonly number[];
  /** So many apexes before that. */
  apexes?: number;
  walls?: boolean;
  glide?: boolean;
  low?: boolean;
  drop?: boolean;
  /** From a ledge: up, jump, or let go. */
  ledge?: 'up' | 'jump' | 'down';
  /** It does not steer: the way is held throughout. */
  holds?: boolean;
}

export interface Played {
  /** What it was held up by, in order; the first time that each was. */
  landed: { place: Place; time: number }[];
  /** Where it came to rest, or the last that held it up. */
  end: Node | undefined;
  /** How the ground was left, and by which jumps. */
  by: string[];
  /** How far it was from the goal across when it last came down past it, units; Infinity where it did not. */
  miss: number;
  covered: Node | undefined;
  /** Zones that were entered. */
  entered: { zone: string; time: number; node: Node }[];
  /** Moment at which it began to do what is not waiting, s. */
  began: number;
}

/** What must not happen on the way. */
export type Spoils = (told: Told) => boolean;

const WALK = 8;
/** So many ticks at rest while it wants to go on. */
const STUCK = 8;
const RUN = 6;
const FLY = 6;
const CLIMB = 20;
const REST = 1;
/** A shade after a moment, s, so that the microsecond in which it is has begun. */
const JUST_AFTER = 2e-6;
/** So long before a moment, s. */
const EARLY = 3e-6;

/**
 * Walks along the place of a situation until the feet stand still at x.
 * @returns the situation then; undefined where that cannot be done
 */
export function approach(game: Game, from: Node, x: number, low: boolean, spoils: Spoils): Node | undefined {
  const playing = new Playing(game, from, { way: 0, hold: 0, ...(low ? { low } : {}) }, NOWHERE, spoils, undefined);
  return playing.approach(x) ? game.node(from) : undefined;
}

/** How long until a moment of a lap comes again, s. */
function untilAt({ at, lap }: { at: number; lap: number }, time: number): number {
  return (((at - time) % lap) + lap) % lap;
}

/** So many ticks at a time are waited. */
const PATIENCE = 8;

/**
 * Stays where it is until a moment of a lap comes, but for less than a tick.
 * @returns the situation then; undefined where something came between
 */
export function patience(game: Game, from: Node, wait: { at: number; lap: number }, spoils: Spoils): Node | undefined {
  game.from(from);
  for (let ticks = Math.floor(untilAt(wait, from.time) / TICK + 1e-9); ticks > 0;) {
    const step = Math.min(ticks, PATIENCE);
    game.tick(undefined, step);
    ticks -= step;
    if (game.told.some(spoils) || game.places.under(game.hero, from.place) !== from.place) return undefined;
  }
  return game.node(from);
}

const NOWHERE: Goal = { set: 0, left: 0, right: 0, y: 0, place: undefined };

/** Plays a move from a situation. */
export function playMove(game: Game, from: Node, move: Move, goal: Goal, spoils: Spoils, covers?: (x: number, y: number, height: number) => boolean): Played {
  return new Playing(game, from, move, goal, spoils, covers).play();
} // prettier-ignore

class Playing {
  private readonly played: Played = {
    landed: [],
    end: undefined,
    by: [],
    miss: Infinity,
    covered: undefined,
    entered: [],
    began: 0,
  };
  private readonly start: Place | undefined;
  private readonly mayReact: boolean;
  /** So long after it begins to fall, s. */
  private readonly glidesAfter: number;
  private spoilt = false;
  /** How many apexes there have been; the way that a wall sends it. */
  private jumps = 0;
  private away = 0;
  private pressed = false;
  private above = false;

  constructor(
    private readonly game: Game,
    private readonly from: Node,
    private readonly move: Move,
    private readonly goal: Goal,
    private readonly spoils: Spoils,
    private readonly covers: ((x: number, y: number, height: number) => boolean) | undefined,
  ) {
    this.start = from.place;
    const { press, air, walls } = move;
    const { glide } = game.motion.full;
    this.glidesAfter = move.glide && glide?.settle === 0 ? glide.fallSpeed / game.motion.falling : 0;
    this.mayReact =
      this.glidesAfter > 0 || air !== undefined || walls === true || (press !== undefined && 'late' in press);
  }

  private begin(): void {
    const { game, move } = this;
    game.from(this.from);
    for (const action of ['left', 'right', 'down', 'up', 'jump', 'glide']) game.want(action, 0);
    if (move.low) game.want('down', 1);
  }

  approach(x: number): boolean {
    this.begin();
    return this.walkTo(x);
  }

  play(): Played {
    const { game, move, played } = this;
    this.begin();
    // Until the moment that is waited for it is less than a tick.
    const { time } = game.stage;
    const start = move.wait ? time + (untilAt(move.wait, time) % TICK) : time;
    if (this.spoilt || this.here() !== this.start) return played;
    if (move.charge !== undefined) {
      game.want('jump', 1);
      for (let until = game.stage.time + move.charge; game.stage.time < until && !this.spoilt;) this.tick();
    }
    played.began = game.stage.time;
    this.go(start);
    if (!this.spoilt && played.landed.length > 0 && played.covered === undefined)
      played.end = comeToRest(game, this.from, played.landed.at(-1)!.place, [], () => {
        this.tick();
        return this.spoilt;
      });
    return played;
  }

  private tick(again?: (told: Told) => boolean): void {
    const { game, played } = this;
    game.tick(again);
    for (const told of game.told) {
      if (this.spoils(told)) this.spoilt = true;
      if (this.spoilt) break;
      if (told.place !== undefined) this.land(told.place, told.time);
      if (told.event === 'enter') played.entered.push({ zone: told.zone, time: told.time, node: game.node(this.from) });
      if (told.event === 'takeoff') played.by.push(told.by);
    }
    const { hero } = game;
    if (hero.support === 'ground') {
      const place = this.here();
      if (place !== undefined && place !== this.start) this.land(place, game.stage.time);
    }
    if (this.covers?.(hero.x, game.y, hero.height) && played.covered === undefined)
      played.covered = game.node(this.from);
  }

  /** The feet, in the frame of where it started. */
  private get x(): number {
    return (this.start?.set ?? 0) === 0 ? this.game.hero.x : this.game.hero.aboard[0];
  }

  /** How fast it goes across what it started from. */
  private get across(): number {
    const { game, start } = this;
    return (start?.set ?? 0) === 0 ? game.hero.vx : game.hero.vx - game.speedOf(start!.set)[0];
  }

  private here(): Place | undefined {
    return this.game.places.under(this.game.hero, this.start);
  }

  private land(place: Place, time: number): void {
    const { landed } = this.played;
    if (!landed.some((one) => one.place === place)) landed.push({ place, time });
  }

  /** Walks along the place until the feet stand still at x. */
  private walkTo(x: number): boolean {
    const { game, start } = this;
    const { hero } = game;
    const { speed, stopIn } = hero.motion.ground;
    const stopping = stopIn > 0 ? speed / stopIn : Infinity;
    const near = Math.max(hero.motion.width / 40, 0.01 * speed * TICK * 8);
    let stuck = 0;
    for (let until = game.stage.time + WALK; game.stage.time < until && stuck < STUCK; ) {
      const off = x - this.x;
      const v = this.across;
      if (Math.abs(off) < near && Math.abs(v) < speed / 64) break;
      const brakes = (v * v) / (2 * stopping);
      const ahead = off * v > 0 ? brakes + Math.abs(v) * TICK : 0;
      this.head(Math.abs(off) > near / 2 && ahead < Math.abs(off) ? Math.sign(off) : 0, Math.abs(off) < speed / 8);
      this.tick();
      if (this.spoilt || this.here() !== start) return false;
      // As far as it gets.
      stuck = this.across === 0 ? stuck + 1 : 0;
    }
    this.head(0);
    for (let i = 0; i < 64 && Math.abs(this.across) > 1e-9; i++) {
      this.tick();
      if (this.spoilt || this.here() !== start) return false;
    }
    return stuck >= STUCK || Math.abs(x - this.x) < 4 * near;
  } // prettier-ignore

  /** Presses toward a side, or neither; slowly for a short way. */
  private head(way: number, slow = false): void {
    const { game } = this;
    game.want('left', way < 0 ? 1 : 0);
    game.want('right', way > 0 ? 1 : 0);
    game.want('walk', slow && way !== 0 ? 1 : 0);
  }

  private go(start: number): void {
    const { game, move, played } = this;
    const { hero, stage } = game;
    let airborne = 0;
    const began = stage.time;
    // It begins to glide as soon as it may; where it is at its speed at once, when it falls as fast.
    if (move.glide && this.glidesAfter === 0) game.want('glide', 1);
    if (move.drop) {
      game.want('down', 1);
      if (hero.motion.full.drop?.by !== 'down') game.hold('jump', 1);
    }
    if (move.ledge !== undefined) game.hold(move.ledge === 'jump' ? 'jump' : move.ledge, 1);
    if (move.press !== undefined && 'now' in move.press) this.jump(Math.max(start, stage.time));
    while (!this.spoilt) {
      const grounded = hero.support === 'ground' || hero.support === 'ledge';
      if (grounded && airborne === 0) {
        if (stage.time - began > RUN) return;
        this.head(move.ledge === undefined ? move.way : 0);
        this.pressAt();
      } else {
        if (++airborne * TICK > (move.walls ? CLIMB : FLY)) return;
        if (move.drop && airborne > 6) {
          game.want('down', 0);
          game.want('jump', 0);
        }
        if (move.low && !grounded) game.want('down', 1);
        this.steer();
      }
      const before = played.landed.length;
      this.tick(this.mayReact ? this.reacts : undefined);
      this.look();
      if (played.covered !== undefined) return;
      if (played.landed.length > before || (airborne > 0 && hero.support === 'ground')) return;
      // It may have walked to its end against something.
      if (move.press === undefined && airborne === 0 && move.way !== 0 && stage.time - began > 0.5 && Math.abs(hero.vx) < 1e-9) return;
      if (move.way === 0 && airborne === 0 && move.press === undefined && !move.drop && stage.time - began > 1) return;
    }
  } // prettier-ignore

  /** Presses jump when the feet come to where it is to be pressed. */
  private pressAt(): void {
    const { game, move } = this;
    if (this.pressed || move.press === undefined || !('x' in move.press)) return;
    const v = this.across;
    const off = (move.press.x - this.x) * (move.way || 1);
    const speed = v * (move.way || 1);
    if (off <= 0) this.jump(game.stage.time);
    else if (off < speed * TICK) this.jump(game.stage.time + off / speed);
  }

  private jump(time: number): void {
    const { game, move } = this;
    this.pressed = true;
    if (move.charge !== undefined) {
      game.hold('jump', 0, time);
      return;
    }
    game.hold('jump', 1, time);
    game.hold('jump', 0, time + move.hold);
  }

  /** What is done at the very moment of something. */
  private readonly reacts = (told: Told): boolean => {
    const { game, move } = this;
    if (this.glidesAfter > 0 && (told.event === 'leave' || told.event === 'apex')) {
      game.forget('glide');
      game.hold('glide', 1, Math.ceil((told.time + this.glidesAfter) * 1e6) / 1e6);
    }
    if (told.event === 'leave' && move.press !== undefined && 'late' in move.press && !this.pressed) {
      const late = move.press.late;
      this.jump(Math.ceil((told.time + Math.max(late - EARLY, JUST_AFTER)) * 1e6) / 1e6);
      return true;
    }
    if (told.event === 'apex' && move.air !== undefined && this.jumps - (move.apexes ?? 0) < move.air.length) {
      const after = move.air[this.jumps++ - (move.apexes ?? 0)];
      if (after === undefined) return false;
      this.again(told.time + after);
      return true;
    }
    if (move.walls && told.event === 'bump' && (told.side === 'left' || told.side === 'right') && game.vy <= 0) {
      this.again(told.time + JUST_AFTER);
      this.away = told.side === 'left' ? 1 : -1;
      return true;
    }
    return this.glidesAfter > 0 && (told.event === 'leave' || told.event === 'apex');
  };

  /** Lets go of jump and presses it anew. */
  private again(time: number): void {
    const { game, move } = this;
    game.forget('jump');
    const moment = Math.max(time, game.stage.time - TICK + JUST_AFTER);
    game.hold('jump', 0, moment - JUST_AFTER);
    game.hold('jump', 1, moment);
    game.hold('jump', 0, moment + move.hold);
  }

  /** Where the goal is at this moment: left, right, y. */
  private aim(): [number, number, number] {
    const { game, goal } = this;
    const [dx, dy] = game.offset(goal.set);
    return [goal.left + dx, goal.right + dx, goal.y + dy];
  }

  private steer(): void {
    const { game, move } = this;
    const { hero, stage } = game;
    const [left, right, y] = this.aim();
    const { x, motion } = hero;
    if (move.walls && game.y < y + motion.touch) {
      const held = hero.support === 'wall';
      if (held && game.vy <= 0.25 && this.away === 0) this.away = hero.facing;
      if (held && game.vy <= 0.25) {
        const side = touchesSide(game);
        this.again(stage.time);
        this.away = side !== 0 ? -side : -hero.facing;
      }
      this.head(this.away !== 0 ? this.away : move.way);
      return;
    }
    if (move.holds) return this.head(move.way);
    // Half a body in from the ends, where it is so wide.
    const inset = Math.min(motion.width / 2, (right - left) / 2);
    const to = Math.min(Math.max(x, left + inset), right - inset);
    const off = to - x;
    const v = hero.vx - game.speedOf(this.goal.set)[0];
    const { speed, turnIn } = motion.air;
    const brakes = (v * v * turnIn) / (2 * speed);
    const hangs = this.goal.place?.kind === 'ledge' ? this.goal.place.side : 0;
    if (Math.abs(off) < motion.width / 20) this.head(hangs !== 0 ? hangs : Math.abs(v) > motion.air.speed / 8 ? -Math.sign(v) : 0);
    else if (off * v > 0 && brakes + Math.abs(v) * TICK > Math.abs(off)) this.head(-Math.sign(off));
    else this.head(Math.sign(off));
  } // prettier-ignore

  /** By how much it has missed the goal so far. */
  private look(): void {
    const [left, right, y] = this.aim();
    const { game } = this;
    const { x } = game.hero;
    if (game.y >= y) this.above = true;
    else if (this.above) {
      this.above = false;
      this.played.miss = Math.max(left - x, x - right, 0);
    }
  }
}

/**
 * Lets go of everything and comes to rest.
 * @param landed what holds it up at present
 * @param tick plays one tick; whether something has spoilt it
 * @returns the situation at rest, or the last in which something held it up
 */
export function comeToRest(game: Game, from: Node, landed: Place, also: readonly string[], tick: () => boolean): Node {
  const { hero, stage } = game;
  let end = game.node(from);
  game.forget();
  for (const action of ['left', 'right', 'up', 'jump', 'glide', 'walk', ...also]) game.want(action, 0);
  game.want('down', landed.kind === 'low' ? 1 : 0);
  for (let until = stage.time + REST; stage.time < until; ) {
    const before = hero.vx;
    if (tick()) break;
    const here = game.places.under(hero);
    if (here === undefined) continue;
    const rests = game.rests(here, before);
    if (rests || end.place === undefined) end = game.node(from);
    if (rests) break;
    game.want('down', here.kind === 'low' ? 1 : 0);
  }
  return end;
} // prettier-ignore

/** On which side something upright touches it: −1, 1, or 0. */
function touchesSide(game: Game): number {
  for (const { side } of game.hero.touching()) if (side === 'left' || side === 'right') return side === 'left' ? -1 : 1;
  return 0;
}
