import { ACTIONS, actionNumber } from '../input/actions.js';
import type { HostCall } from '../input/host.js';
import { type DriverOf, Intents } from '../input/intents.js';
import type { Recorder } from '../input/recording.js';
import { HOLDS, MOTION_LENGTH, MVX, MVY, MX, MY, type Moving } from '../movers/moving.js';
import { type Hull, hullOf } from '../sweep/hull.js';
import { Near } from '../sweep/near.js';
import { PATH_LENGTH } from '../sweep/path.js';
import type { Terrain } from '../terrain/terrain.js';
import type { CompiledLevel } from '../terrain/world.js';
import type { EventName, EventQueue, StageEvent } from '../trace/events.js';
import type { Motion } from '../tuning/motion.js';
import {
  ALONG_WITH,
  CLOCK_LENGTH,
  HIT,
  LOOK_AT,
  MANY_FROM,
  MET,
  METS,
  NOW,
  POSE_AT,
  STEP_AT,
  PRESSED_AT,
  SHOWING,
  TICK,
} from './clock.js';
import {
  DROPS,
  FIXED_LENGTH,
  HEIGHT,
  HELD_ACTIONS,
  MOVER_SLOTS,
  PHASES,
  POSES,
  PRESSES,
  SINCES,
  VX,
  VY,
  X,
  Y,
} from './layout.js';

/** A body pressed between two edges, and the mover that this is up to. */
export interface Crush {
  set: number;
  edge: number;
  /** −1 where it is not known. */
  other: number;
  /** Whether the mover goes back instead of waiting. */
  turns: boolean;
}

/** What a body has to know of an ability: the rest is for whoever lets it act. */
export interface BodyAbility {
  readonly name: string;
  readonly spec: { readonly actions?: readonly string[]; readonly events?: readonly string[] };
  readonly poses: readonly string[];
  readonly phase: string;
  /** Numbers of state that it needs: timers, then slots. How many timers there are, and which of the numbers are slots that hold a moment. */
  readonly size: number;
  readonly timerCount: number;
  readonly moments: readonly number[];
  /** Slots that hold what has to do with its own time, and what that measures. */
  readonly measures: readonly (readonly [number, 'time' | 'speed' | 'acceleration'])[];
  /** Slots that hold 1 + the number of an edge. */
  readonly edges: readonly number[];
  /** Gives a body's part of the state the names that the ability lists. */
  readonly view: new (s: Float64Array, clock: Float64Array, base: number) => Record<string, number>;
  /** Lets such a view be of another state. */
  move(view: Record<string, number>, s: Float64Array, clock: Float64Array): void;
}

/** An ability as one body has it. */
export interface Installed {
  readonly ability: BodyAbility;
  own: object;
  readonly state: Record<string, number>;
  /** Where its timers begin in the state, and how many there are. */
  readonly base: number;
  /** The numbers of its phase and its first pose among the body's. */
  readonly phase: number;
  readonly pose: number;
}

/** A piece that has ended, as the state was when it began. */
export interface PastPiece {
  readonly s: Float64Array;
  readonly path: Float64Array;
  readonly clock: Float64Array;
}

/** A box that a body carries, from the middle of its feet, y up, facing right. */
export interface BodyBox {
  readonly name: string;
  readonly left: number;
  readonly bottom: number;
  readonly right: number;
  readonly top: number;
}

const NO_ZONES = new Uint8Array(0);

/** A hull whose height follows the body's. */
type BodyHull = { -readonly [K in keyof Hull]: Hull[K] };

/**
 * A character as its motion sees it: its state, its constants, and scratch numbers for the piece that begins.
 */
export class Body {
  s: Float64Array;
  /** Of the state: the path of the present piece, and what else there is to it. */
  path: Float64Array;
  clock: Float64Array;
  /** Its number on its stage: what comes at the same moment comes in this order. */
  index = 0;
  /** Its entry of the stage's agenda, or −1 while it is not there; and whether it is to have one. */
  entry = -1;
  isSeated = false;
  /** The boxes that it carries besides its hitbox, and the groups that it belongs to: what others may meet. */
  boxes: readonly BodyBox[] = [];
  groups: readonly string[] = [];
  /** When it came, s of stage time, and before which tick. */
  came = 0;
  cameIn = 0;
  /** How often a piece was laid at the present moment. */
  laid = 0;
  readonly intents = new Intents();
  /** The next intent of this tick to act. */
  nextIntent = 0;
  readonly terrain: Terrain;
  /** Pieces of one-way ground that it drops through, then −1; see `contact/drop.ts`. */
  readonly dropped = new Int32Array(DROPS).fill(-1);
  /** What is near of all that stands still. */
  near: Near;
  /** The same for every set of edges, by number; and those that matter at present, that of what carries the body first. */
  nears: readonly Near[];
  sets: Near[];
  setCount = 1;
  /** The motion of what carries the body, see `moving.ts`: nothing where nothing does. */
  readonly frame = new Float64Array(MOTION_LENGTH);
  /** The set that it was last placed in, or −1: what stands still need not be placed anew. */
  placedIn = -1;
  /** What the body stays within in this piece, in the level: left, bottom, right, top. */
  readonly reach = new Float64Array(4);
  /** Movers that may be near, by set, and the box for which that was asked: left, bottom, right, top. */
  around: Int32Array;
  aroundCount = 0;
  readonly aroundBox = new Float64Array([1, 1, 0, 0]);
  /** What the last takeoff was lent by what moves, units/s across. */
  lentX = 0;
  /** The last edges met in a row, the last first; −1 for none. */
  met: Float64Array;
  hull: BodyHull;
  driver: DriverOf<unknown> | undefined;
  /** Keeps what is asked of the body, where somebody wants that. */
  recorder: Recorder | undefined = undefined;
  /** Pieces that began in a tick, and which tick that is. */
  parts = 0;
  partsTick = -1;
  /** Who is told of each piece that ends, before the state goes on. */
  readonly onPiece: ((body: Body) => void)[] = [];
  /** Pieces that ended within a tick, so many, and which tick that was: for drawing. */
  past: PastPiece[] = [];
  pasts = 0;
  pastTick = -1;
  /** Every ability, in order; those that the tuning has on; of these, those that watch the path and meet contacts. */
  readonly installed: readonly Installed[];
  readonly active: Installed[] = [];
  readonly watching: Installed[] = [];
  readonly meeting: Installed[] = [];
  /** Whether one of these has to look at every tick. */
  isEager = false;
  /** Where the timers of active abilities stand in the state. */
  timers = new Int32Array(0);
  /** Poses and phases by number: the built-in ones, then those of the abilities. */
  readonly poses: readonly string[];
  readonly phases: readonly string[];
  /** Where each action's value, waiting press and last press stand in the state, by the action's number; −1 for actions not known. */
  readonly heldAt: Int32Array;
  readonly pressAt: Int32Array;
  readonly sinceAt: Int32Array;
  /** Every tuning that the character has had. */
  readonly tunings: Motion[];
  /** They, by all of their numbers, as far as that has been needed. */
  readonly tuned = new Map<string, Motion>();
  /** What abilities get to see of this body; made when first needed. */
  control: object | undefined = undefined;
  /** What the abilities made of the present piece. */
  claims: (readonly string[])[] = [];
  claimed = 0;
  /** Whether this piece is to have no length. */
  again = false;
  /** Falling gravity in the zones that the body is in, units/s². */
  fallingNow = 0;
  /** Whether some side of the level is more than open or a wall. */
  readonly bordered: boolean;
  /** Where in the state it stands which zones the body is in, the path of its piece, and at the end what it is to movers: there may come more of these. */
  readonly zonesAt: number;
  readonly pathAt: number;
  readonly moversAt: number;
  /** 1 for each zone of the level that is switched off. */
  zonesOff: Uint8Array = NO_ZONES;
  /** What the zones that it is in make of its motion: scales of gravity and top speed, and the medium's velocity, y up. */
  zoneGravity = 1;
  zonePace = 1;
  currentX = 0;
  currentY = 0;
  /** Where calls of the game are put into effect; and where a mover is told to wait for the body, or to turn back. */
  onHost: (body: Body, call: HostCall) => void = () => undefined;
  onCrush: (body: Body, crush: Crush) => void = () => undefined;

  constructor(
    readonly name: string,
    public motion: Motion,
    readonly level: CompiledLevel,
    /** −1 where the level's y axis points down, else 1. */
    readonly ySign: number,
    private readonly events: EventQueue,
    abilities: readonly BodyAbility[],
    public moving: Moving | undefined = undefined,
  ) {
    this.tunings = [motion];
    this.around = new Int32Array(level.movers.length);
    this.terrain = level.terrain;
    this.bordered = Object.values(level.bounds).some((bound) => bound === 'wrap' || bound === 'out');
    this.nears = nearsFor(level, motion, this.dropped);
    this.near = this.nears[0]!;
    this.sets = [this.near];
    this.hull = hullOf(motion.width, motion.height, motion.hull.side);
    const poses: string[] = [...POSES];
    const phases: string[] = [...PHASES];
    const numberOf = (list: string[], name: string): number => {
      if (!list.includes(name)) list.push(name);
      return list.indexOf(name);
    };
    const extra = [...new Set(abilities.flatMap(({ spec }) => spec.actions ?? []))];
    const further = extra.filter((action) => !(ACTIONS as readonly string[]).includes(action)).map(actionNumber);
    const actions = Math.max(ACTIONS.length - 1, ...further) + 1;
    this.heldAt = new Int32Array(actions).fill(-1);
    this.pressAt = new Int32Array(actions).fill(-1);
    this.sinceAt = new Int32Array(actions).fill(-1);
    for (let i = 0; i < ACTIONS.length; i++) {
      this.heldAt[i] = HELD_ACTIONS + i;
      this.pressAt[i] = PRESSES + i;
      this.sinceAt[i] = SINCES + i;
    }
    let length = FIXED_LENGTH;
    for (const action of further) {
      this.heldAt[action] = length++;
      this.pressAt[action] = length++;
      this.sinceAt[action] = length++;
    }
    const bases = abilities.map(({ size }) => (length += size) - size);
    this.zonesAt = length;
    length += level.zones.length;
    this.pathAt = length;
    length += PATH_LENGTH + CLOCK_LENGTH;
    this.moversAt = length;
    this.s = new Float64Array(length + MOVER_SLOTS * level.movers.length);
    this.path = this.s.subarray(this.pathAt, this.pathAt + PATH_LENGTH);
    this.clock = this.s.subarray(this.pathAt + PATH_LENGTH, length);
    this.met = this.clock.subarray(MET, MET + METS);
    this.met.fill(-1);
    this.clock[HIT] = this.clock[SHOWING] = -1;
    this.clock[STEP_AT] = this.clock[POSE_AT] = this.clock[LOOK_AT] = Infinity;
    this.clock[MANY_FROM] = this.clock[PRESSED_AT] = -Infinity;
    for (const list of [this.pressAt, this.sinceAt]) for (const at of list) if (at >= 0) this.s[at] = -1;
    this.s[HEIGHT] = motion.height;
    this.installed = abilities.map((ability, i) => {
      // The first of its poses stands before the others.
      const [pose] = ability.poses.map((name) => numberOf(poses, name));
      return {
        ability,
        own: {},
        state: new ability.view(this.s, this.clock, bases[i]!),
        base: bases[i]!,
        phase: numberOf(phases, ability.phase),
        pose: pose ?? -1,
      };
    });
    this.poses = poses;
    this.phases = phases;
  }

  /** There are more movers than before, or fewer: the state has room for just these. */
  fit(): void {
    const { level, past, pathAt, moversAt, s } = this;
    const { movers } = level;
    const length = moversAt + MOVER_SLOTS * movers.length;
    if (s.length === length) return;
    this.around = new Int32Array(movers.length);
    this.aroundCount = 0;
    this.aroundBox.set([1, 1, 0, 0]);
    // Where nothing moves any more, it is at rest in the level.
    this.placedIn = -1;
    for (const motion of [this.frame, this.near.motion]) {
      motion.fill(0);
      motion[HOLDS] = Infinity;
    }
    this.sets = [this.near];
    this.setCount = 1;
    const all = nearsFor(level, this.motion, this.dropped, this.nears);
    for (const near of all) [near.off, near.ignores] = [this.near.off, this.near.ignores];
    this.nears = all;
    const cut = (from: Float64Array): PastPiece => {
      const numbers = new Float64Array(length);
      numbers.set(from.subarray(0, length));
      const clockAt = pathAt + PATH_LENGTH;
      return { s: numbers, path: numbers.subarray(pathAt, clockAt), clock: numbers.subarray(clockAt, moversAt) };
    };
    this.past = past.slice(0, this.pasts).map((one) => cut(one.s));
    ({ s: this.s, path: this.path, clock: this.clock } = cut(s));
    this.met = this.clock.subarray(MET, MET + METS);
    for (const { ability, state } of this.installed) ability.move(state, this.s, this.clock);
  }

  /** Whether something pushes it along in this piece. */
  get pushedAlong(): boolean {
    return this.clock[ALONG_WITH] === 1;
  }
  set pushedAlong(is: boolean) {
    this.clock[ALONG_WITH] = is ? 1 : 0;
  }

  /** The pose that an ability shows, or −1. */
  get showing(): number {
    return this.clock[SHOWING]!;
  }
  set showing(pose: number) {
    this.clock[SHOWING] = pose;
  }

  /** Sets the width of the hitbox, after a change of tuning. */
  setWidth(width: number): void {
    this.hull = hullOf(width, this.s[HEIGHT]!, this.motion.hull.side);
  }

  /** Sets the height of the hitbox. */
  setHeight(height: number): void {
    this.s[HEIGHT] = height;
    this.hull.height = height;
    const { corners, side } = this.hull;
    const top = side > 0 ? 7 : 5;
    corners[top] = corners[top + 2] = height;
  }

  /**
   * Adds an event with the present place, velocity and moment, in the level's own axes.
   */
  tell(event: EventName): StageEvent {
    const { s, ySign } = this;
    const told = this.events.add(event);
    told.time = this.clock[NOW]!;
    told.tick = this.clock[TICK]!;
    told.who = this.name;
    told.whose = this.index;
    const { frame } = this;
    told.x = s[X]! + frame[MX]!;
    told.y = (s[Y]! + frame[MY]!) * ySign + 0;
    this.goesWith(told);
    return told;
  }

  /** Gives an event the present velocity. */
  goesWith(told: StageEvent): void {
    const { s, ySign, frame } = this;
    told.vx = s[VX]! + frame[MVX]!;
    told.vy = (s[VY]! + frame[MVY]!) * ySign + 0;
  }
}

/** How far around a body what stands still is asked for, in body sizes: so far that a second's way in a room needs no further answer. */
const AROUND = 4;

/**
 * What is near a body, asked for with room around it: what stands still, then each mover.
 * @param known of the same, as far as there are some
 */
export function nearsFor(
  { terrain, movers }: CompiledLevel,
  motion: Motion,
  dropped: Int32Array,
  known: readonly Near[] = [],
): Near[] {
  return [undefined, ...movers].map((_, set) => {
    if (known[set]) return known[set];
    const near = new Near(terrain, AROUND * (motion.width + motion.height), set, dropped);
    near.bevelled = motion.hull.side > 0;
    return near;
  });
}
