import { actionNumber, type Driver } from '../core/index.js';
import { Waiting, whenLeft } from './waiting.js';

/** Buttons of the Web's standard gamepad by action. */
export type PadBindings = Readonly<Record<string, readonly number[]>>;

/**
 * The lower and right buttons jump and glide, the directional pad goes, a shoulder walks.
 * @example
 * ```ts
 * DEFAULT_PAD.left // [14]
 * ```
 */
export const DEFAULT_PAD: PadBindings = {
  left: [14],
  right: [15],
  up: [12],
  down: [13],
  jump: [0],
  glide: [1],
  walk: [4],
};

/** A driver that asks a gamepad. */
export interface GamepadDriver extends Driver {
  /** Which buttons count. Assigning others lets go of everything that is held. */
  buttons: PadBindings;
  /** Whether a pad is plugged in; and that pad, as the page has it. */
  readonly connected: boolean;
  readonly pad: Gamepad | null;
  /** Ends listening. */
  stop(): void;
}

/** How far the stick is pushed up or down before that counts as a press. */
const PRESSED = 0.5;
/** The stick's way across counts in steps of this size, so that its noise is no input. */
const STEP = 1 / 64;

/** Which gamepad, and what its buttons and sticks do. */
export interface GamepadOptions {
  /** Which pad, 0 to 3; the first that is plugged in unless given. */
  pad?: number;
  buttons?: PadBindings;
  /** The axis of the stick across, 0 to 15; the one after it is up and down. */
  axis?: number;
  /** How far from its middle the stick counts as in the middle, 0 to 0.9. */
  deadZone?: number;
}

/**
 * Plays a character by gamepad: buttons by their standard numbers, and a stick (the left one unless told otherwise), whose way across is the action
 * `move`, and far enough up and down `up` and `down`. The Web tells of no presses of a pad: it is asked once a tick, and what it shows acts at the
 * moment of its last change, or at the tick's start. Pulled out, or with the window out of focus, everything is let go. A button that is held when the
 * pad comes (back) into play counts once it is pressed anew; the stick counts where it is.
 * @throws RangeError where an option is out of range
 * @example
 * ```ts
 * hero.drive(gamepad(window, { deadZone: 0.25 }));
 * ```
 */
export function gamepad(
  target: Window,
  { pad, buttons = DEFAULT_PAD, axis = 0, deadZone = 0.2 }: GamepadOptions = {},
): GamepadDriver {
  if (pad !== undefined && !(Number.isInteger(pad) && pad >= 0 && pad <= 3))
    throw new RangeError(`pad is ${pad}; it must be 0, 1, 2 or 3`);
  if (!(Number.isInteger(axis) && axis >= 0 && axis <= 15))
    throw new RangeError(`axis is ${axis}; it must be a whole number from 0 to 15`);
  if (!(deadZone >= 0 && deadZone <= 0.9)) throw new RangeError(`deadZone is ${deadZone}; it must be 0 to 0.9`);
  let bindings = buttons;
  /** Actions that were held when the pad came into play, and have not been let go of since. */
  const before = new Set<number>();
  let anew = true;
  const move = actionNumber('move');
  /** What each action was told to be last. */
  const told = new Map<number, number>();
  const waiting = new Waiting();
  let away = !target.document.hasFocus();
  const found = (): Gamepad | null => {
    const pads = target.navigator.getGamepads();
    return (pad === undefined ? pads.find((one) => one?.connected) : pads[pad]) ?? null;
  };
  const tell = (ms: number, action: number, value: number): void => {
    if ((told.get(action) ?? 0) === value) return;
    told.set(action, value);
    waiting.push(ms, action, value);
  };
  const letGo = (ms: number): void => {
    for (const action of told.keys()) tell(ms, action, 0);
    anew = true;
  };
  const stopLeaving = whenLeft(target, (ms) => {
    away = true;
    letGo(ms);
  });
  const onFocus = (): void => void (away = false);
  target.addEventListener('focus', onFocus);
  const ask = (ms: number): void => {
    const now = found();
    if (!now?.connected || away) return letGo(ms);
    const when = now.timestamp > 0 && now.timestamp < ms ? now.timestamp : ms;
    const y = now.axes[axis + 1] ?? 0;
    for (const [name, numbers] of Object.entries(bindings)) {
      const action = actionNumber(name);
      const tilted = (name === 'down' && y > PRESSED) || (name === 'up' && y < -PRESSED);
      const isHeld = tilted || numbers.some((button) => now.buttons[button]?.pressed === true);
      if (!isHeld) before.delete(action);
      else if (anew) before.add(action);
      tell(when, action, isHeld && !before.has(action) ? 1 : 0);
    }
    anew = false;
    tell(when, move, pushed(now.axes[axis] ?? 0, deadZone));
  };
  return {
    isLive: true,
    get connected() {
      return found()?.connected === true;
    },
    get pad() {
      return found();
    },
    read(into, who) {
      ask(into.from * 1000);
      waiting.read(into, who);
    },
    fresh() {
      told.clear();
      waiting.clear();
      anew = true;
    },
    get buttons() {
      return bindings;
    },
    set buttons(others) {
      letGo(target.performance.now());
      bindings = others;
    },
    stop() {
      stopLeaving();
      target.removeEventListener('focus', onFocus);
    },
  };
}

/** A stick's way across without its dead zone: −1 to 1, in steps. */
export function pushed(axis: number, deadZone: number): number {
  const beyond = (Math.abs(axis) - deadZone) / (1 - deadZone);
  if (!(beyond > 0)) return 0;
  const value = Math.round(Math.min(1, beyond) / STEP) * STEP;
  return axis < 0 ? -value : value;
}
