/**
 * The events that the core tells.
 * @example
 * ```ts
 * EVENTS[0] // 'takeoff'
 * ```
 */
export const EVENTS = [
  'takeoff', 'apex', 'touchdown', 'leave', 'bump', 'corner', 'lip', 'cling', 'uncling', 'hang', 'unhang', 'climbed', 'glideOn',
  'glideOff', 'dropThrough', 'footfall', 'turned', 'stuck', 'freed', 'board', 'alight', 'pushed', 'crushed', 'surface', 'enter', 'exit',
  'wrapped', 'out', 'meet', 'part',
] as const; // prettier-ignore
/** One of these, or one that an ability of the game declares. */
export type EventName = (typeof EVENTS)[number] | (string & {});

/** What happened, exactly when and where. Handlers get an object that is used again: copy what you keep. */
export interface StageEvent {
  /** Its name. */
  event: EventName;
  /** Stage time, s. */
  time: number;
  /** The tick in which it happened, from 0. */
  tick: number;
  /** The character's name. */
  who: string;
  /** Middle of the feet at that moment, units, in the level's own axes. */
  x: number;
  y: number;
  /** Velocity just before it, units/s; of `alight` the one with which the body goes on. */
  vx: number;
  vy: number;
  /** takeoff: which right the jump used. */
  by: 'ground' | 'coyote' | 'air' | 'wall' | 'ledge' | 'charge' | 'hop' | '';
  /** takeoff: whether the press had waited. */
  buffered: boolean;
  /** touchdown, bump: speed against what was touched, units/s; meet: how fast the two came together, units/s. */
  speed: number;
  /** touchdown: height lost since the highest point, units. */
  fallen: number;
  /** bump: what was hit; corner: the way it was moved; pushed: the side it is pushed from; lip: the side it was lifted onto; wrapped, out: the side of the level; meet, part: the side on which the other is. */
  side: 'head' | 'left' | 'right' | 'top' | 'bottom' | '';
  /** corner, lip: how far the body was moved, units. */
  moved: number;
  /** turned: the new facing, −1 or 1. */
  facing: number;
  /** board, alight, pushed, crushed: the mover's name; touchdown, leave, bump, freed, stuck, dropThrough: that of the mover it had to do with, or empty. */
  mover: string;
  /** touchdown, leave, bump: the name of the shape, empty where it has none. */
  shape: string;
  /** crushed: what the body is pressed against: the other mover's name, or `floor`, `ceiling`, `wall`, `slope`. */
  against: string;
  /** meet, part: the other character's name, and the boxes that it is about, empty for the hitbox: this one's and the other's. */
  other: string;
  box: string;
  otherBox: string;
  /** surface, touchdown, leave, bump: its name; empty where it is plain. */
  surface: string;
  /** enter, exit: the zone's name and tags. */
  zone: string;
  tags: readonly string[];
  /** @internal The character's number on its stage. */
  whose: number;
  /** @internal meet, part: the other character's number; −1 where there is none. */
  whom: number;
}

/**
 * The fields that an event carries besides those that all have.
 * @example
 * ```ts
 * EVENT_FIELDS.takeoff // ['by', 'buffered']
 * ```
 */
export const EVENT_FIELDS: Readonly<Record<string, readonly (keyof StageEvent)[]>> = {
  takeoff: ['by', 'buffered'],
  touchdown: ['speed', 'fallen', 'shape', 'surface', 'mover'],
  leave: ['shape', 'surface', 'mover'],
  bump: ['side', 'speed', 'shape', 'surface', 'mover'],
  corner: ['side', 'moved'],
  lip: ['side', 'moved'],
  turned: ['facing'],
  board: ['mover'],
  alight: ['mover'],
  pushed: ['mover', 'side'],
  crushed: ['mover', 'against'],
  freed: ['mover'],
  stuck: ['mover'],
  dropThrough: ['mover'],
  surface: ['surface'],
  enter: ['zone', 'tags'],
  exit: ['zone', 'tags'],
  wrapped: ['side'],
  out: ['side'],
  meet: ['other', 'side', 'speed', 'box', 'otherBox', 'zone', 'tags'],
  part: ['other', 'side', 'box', 'otherBox', 'zone', 'tags'],
};

const NO_TAGS: readonly string[] = [];
const SHARED = ['time', 'tick', 'event', 'who', 'x', 'y', 'vx', 'vy'] as const;

/**
 * A copy of an event with just the fields that its kind carries.
 * @example
 * ```ts
 * mill.listen((event) => console.log(JSON.stringify(plainEvent(event))));
 * ```
 */
export function plainEvent(event: StageEvent): Partial<StageEvent> {
  const plain: Record<string, unknown> = {};
  for (const field of [...SHARED, ...(EVENT_FIELDS[event.event] ?? [])]) plain[field] = event[field];
  return plain;
}

/** Events in the order in which they happened; the objects are pooled. */
export class EventQueue {
  count = 0;
  private readonly pool: StageEvent[] = [];

  clear(): void {
    this.count = 0;
  }

  at(i: number): StageEvent {
    return this.pool[i]!;
  }

  /** A cleared event, to be filled in by the caller. */
  add(event: EventName): StageEvent {
    const { pool } = this;
    if (this.count === pool.length) pool.push(blank());
    const added = pool[this.count++]!;
    added.event = event;
    added.by = '';
    added.buffered = false;
    added.speed = 0;
    added.fallen = 0;
    added.side = '';
    added.moved = 0;
    added.facing = 0;
    added.mover = '';
    added.shape = '';
    added.other = '';
    added.whom = -1;
    added.box = '';
    added.otherBox = '';
    added.against = '';
    added.surface = '';
    added.zone = '';
    added.tags = NO_TAGS;
    return added;
  }
}

function blank(): StageEvent {
  return {
    event: 'apex',
    time: 0.5,
    tick: 0,
    who: '',
    x: 0.5,
    y: 0.5,
    vx: 0.5,
    vy: 0.5,
    by: '',
    buffered: false,
    speed: 0.5,
    fallen: 0.5,
    side: '',
    moved: 0.5,
    facing: 0,
    mover: '',
    shape: '',
    other: '',
    box: '',
    otherBox: '',
    against: '',
    surface: '',
    zone: '',
    tags: NO_TAGS,
    whose: 0,
    whom: -1,
  };
}
