import type { Driver } from '../input/intents.js';
import type { Motion } from '../tuning/motion.js';
import { jumpsLeft } from './rights.js';
import { NOW, type Body } from './body.js';
import {
  FACING,
  GROUND,
  PHASE,
  PHASES,
  POSE,
  POSE_SINCE,
  POSES,
  SUPPORT,
  VX,
  VY,
  WAS_X,
  WAS_Y,
  X,
  Y,
  type Phase,
  type PoseName,
} from './state.js';
import type { EventName, StageEvent } from '../trace/events.js';

export type Handler = (event: Readonly<StageEvent>) => void;

/** What to draw: a character between two ticks. The object is used again at the next call. */
export interface View {
  /** Middle of the feet, units, in the level's own axes. */
  x: number;
  y: number;
  width: number;
  height: number;
  /** −1 or 1. */
  facing: number;
  pose: PoseName;
  /** Seconds spent in the pose. */
  poseTime: number;
}

/** A character on a stage. Numbers are those after the last tick, in the level's own axes. */
export class Character {
  private readonly handlers = new Map<EventName, Handler[]>();
  private readonly seen: View;

  /** @internal */
  constructor(private readonly body: Body) {
    const { width, height } = body.motion;
    this.seen = { x: 0, y: 0, width, height, facing: 1, pose: 'idle', poseTime: 0 };
  }

  get name(): string {
    return this.body.name;
  }
  /** The constants its tuning was compiled to. */
  get motion(): Motion {
    return this.body.motion;
  }
  /** Middle of the feet, units. */
  get x(): number {
    return this.body.s[X]!;
  }
  get y(): number {
    return this.body.s[Y]! * this.body.ySign + 0;
  }
  /** Velocity, units/s. */
  get vx(): number {
    return this.body.s[VX]!;
  }
  get vy(): number {
    return this.body.s[VY]! * this.body.ySign + 0;
  }
  /** −1 or 1: the last way pressed. */
  get facing(): number {
    return this.body.s[FACING]!;
  }
  /** What holds it up: `ground`, or nothing. */
  get support(): 'ground' | '' {
    return this.body.s[SUPPORT] === GROUND ? 'ground' : '';
  }
  /** Which gravity acts. */
  get phase(): Phase {
    return PHASES[this.body.s[PHASE]!]!;
  }
  get pose(): PoseName {
    return POSES[this.body.s[POSE]!]!;
  }
  /** Seconds spent in the pose. */
  get poseTime(): number {
    return this.body.clock[NOW]! - this.body.s[POSE_SINCE]!;
  }
  /** Jumps that presses could start from here without touching the ground. */
  get jumpsLeft(): number {
    return jumpsLeft(this.body);
  }
  /** How many part-ticks the last tick took. */
  get parts(): number {
    return this.body.parts;
  }

  /**
   * Calls `handler` for every event of this name, when the tick in which it happened has ended.
   * @returns a function that ends it
   */
  on(event: EventName, handler: Handler): () => void {
    const list = this.handlers.get(event) ?? [];
    this.handlers.set(event, [...list, handler]);
    return () => {
      this.handlers.set(
        event,
        (this.handlers.get(event) ?? []).filter((kept) => kept !== handler),
      );
    };
  }

  /** Gives the character another driver, or none. */
  drive(driver: Driver | undefined): void {
    this.body.driver = driver;
  }

  /**
   * What to draw.
   * @param between how far into the next tick the picture is, 0 to 1 (a stepper's `between`); 1 for the last tick's end
   */
  view(between = 1): Readonly<View> {
    const { s, ySign } = this.body;
    const { seen } = this;
    seen.x = s[WAS_X]! + (s[X]! - s[WAS_X]!) * between;
    seen.y = (s[WAS_Y]! + (s[Y]! - s[WAS_Y]!) * between) * ySign + 0;
    seen.facing = s[FACING]!;
    seen.pose = this.pose;
    seen.poseTime = this.poseTime;
    return seen;
  }

  /** @internal */
  deliver(event: StageEvent): void {
    const list = this.handlers.get(event.event);
    if (list !== undefined) for (let i = 0; i < list.length; i++) list[i]!(event);
  }
}
