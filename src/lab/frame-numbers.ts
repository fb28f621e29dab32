/** The order of the steps inside a frame: speed and then place by the new speed, or place by the old speed and then speed. */
export type FrameOrder = 'velocity-first' | 'position-first';

/** How a loop changes the speed across: units and frames, all positive. What is left out happens at once. */
export interface FrameSteering {
  /** Top speed, units a frame. */
  speed?: number;
  /** Added to the speed across every frame while a key is held, units a frame a frame. */
  acceleration?: number;
  /** The same while the key points against the motion, where that is another. */
  turning?: number;
  /** Taken from it every frame while no key is held, units a frame a frame. */
  deceleration?: number;
  /** Or: the share of the difference to the top speed that is closed every frame while a key is held, 0 to 1. */
  approach?: number;
  /**
   * Or: what the speed across is multiplied by every frame while no key is held, 0 to 1. Beside `acceleration` it acts every frame, key or no key, after the
   * acceleration was added.
   */
  friction?: number;
}

/** Numbers of a character that is moved by frames: units and frames, all positive. */
export interface FrameNumbers extends FrameSteering {
  /** Frames per second. */
  rate: number;
  order: FrameOrder;
  /** Units per tile, as in a tuning: 16 where the numbers are pixels; 1 unless given. It scales what the file does not say. */
  tile?: number;
  /** The hitbox, units. */
  body?: { width?: number; height?: number };
  /** Speed upwards set by a jump, units a frame. */
  launch: number;
  /** Taken from the speed upwards every frame, units a frame a frame. */
  gravity: number;
  /** The same while it comes down, where that is another. */
  fallGravity?: number;
  /** The speed downwards is cut off here, units a frame; without it there is no cap. */
  fallSpeed?: number;
  /** How it is steered in the air, as far as that is otherwise than on the ground; `none` where it is not. */
  air?: FrameSteering | 'none';
  /** What the speed upwards is multiplied by once, when the key is let go; without it letting go does nothing. */
  cut?: number;
  /** Letting go acts so many frames after the launch at the earliest. */
  minHold?: number;
  /** Windows, frames; 0 unless given. */
  coyote?: number;
  buffer?: number;
}
