import { actionNumber, type Driver } from '../core/index.js';
import { pushed } from './gamepad.js';
import { Waiting, whenLeft } from './waiting.js';

/** What is touched: elements that the page draws. */
export interface TouchControls {
  /** Pushed left and right it is the action `move`, far enough up and down `up` and `down`. */
  stick?: HTMLElement;
  /** Elements by the action that they hold down. */
  buttons?: Readonly<Record<string, HTMLElement>>;
}

/** A driver that listens to touches, pens and mouse buttons. */
export interface TouchDriver extends Driver {
  /** Where the stick is, −1 to 1 across and down: for drawing it. */
  readonly stick: readonly [number, number];
  /** Ends listening. */
  stop(): void;
}

/** How far the stick is pushed up or down before that counts as a press. */
const PRESSED = 0.6;

/**
 * Plays a character by touch. Each finger is followed on its own, from where it comes down until it is lifted, also outside of what it
 * came down on. When the window loses its focus or is hidden, everything is let go; so it is for fingers that are down when the driver comes (back)
 * into play.
 * @param controls what the fingers come down on
 * @param options settings, each of which may be left out
 * @param options.deadZone how far from its middle the stick counts as in the middle, 0 to 0.9
 * @throws RangeError where it is out of range
 * @example
 * ```ts
 * const [stick, jump] = [...document.querySelectorAll('button')];
 * hero.drive(touch({ stick: stick!, buttons: { jump: jump! } }));
 * ```
 */
export function touch(
  { stick, buttons = {} }: TouchControls,
  { deadZone = 0.15 }: { deadZone?: number } = {},
): TouchDriver {
  if (!(deadZone >= 0 && deadZone <= 0.9)) throw new RangeError(`deadZone is ${deadZone}; it must be 0 to 0.9`);
  const waiting = new Waiting();
  const told = new Map<number, number>();
  const at: [number, number] = [0, 0];
  const ends: (() => void)[] = [];
  const hands: Set<number>[] = [];
  const tell = (ms: number, action: string, value: number): void => {
    const number = actionNumber(action);
    if ((told.get(number) ?? 0) === value) return;
    told.set(number, value);
    waiting.push(ms, number, value);
  };
  const push = (ms: number, x: number, y: number): void => {
    at[0] = x;
    at[1] = y;
    tell(ms, 'move', pushed(x, deadZone));
    tell(ms, 'up', y < -PRESSED ? 1 : 0);
    tell(ms, 'down', y > PRESSED ? 1 : 0);
  };
  /** Fingers on an element: told when the first comes down, moves, and the last is lifted. */
  const follow = (element: HTMLElement, changed: (event: PointerEvent, down: boolean) => void): void => {
    const fingers = new Set<number>();
    hands.push(fingers);
    const onDown = (event: PointerEvent): void => {
      event.preventDefault();
      element.setPointerCapture(event.pointerId);
      fingers.add(event.pointerId);
      changed(event, true);
    };
    const onMove = (event: PointerEvent): void => {
      if (fingers.has(event.pointerId)) changed(event, true);
    };
    const onUp = (event: PointerEvent): void => {
      if (fingers.delete(event.pointerId) && fingers.size === 0) changed(event, false);
    };
    const list = [['pointerdown', onDown], ['pointermove', onMove], ['pointerup', onUp], ['pointercancel', onUp]] as const; // prettier-ignore
    for (const [name, on] of list) element.addEventListener(name, on);
    // Else the page would scroll under the finger.
    element.style.touchAction = 'none';
    ends.push(() => {
      for (const [name, on] of list) element.removeEventListener(name, on);
    });
  };
  for (const [action, element] of Object.entries(buttons))
    follow(element, ({ timeStamp }, down) => tell(timeStamp, action, down ? 1 : 0));
  if (stick)
    follow(stick, ({ timeStamp, clientX, clientY }, down) => {
      const { left, top, width, height } = stick.getBoundingClientRect();
      const within = (value: number): number => Math.max(-1, Math.min(1, value));
      if (down) push(timeStamp, within((2 * (clientX - left)) / width - 1), within((2 * (clientY - top)) / height - 1));
      else push(timeStamp, 0, 0);
    });
  /** Fingers that are down count no more. */
  const lift = (): void => {
    for (const fingers of hands) fingers.clear();
    at[0] = at[1] = 0;
    told.clear();
  };
  const page = (stick ?? Object.values(buttons)[0])?.ownerDocument.defaultView;
  if (page)
    ends.push(
      whenLeft(page, (ms) => {
        const held = [...told].filter(([, value]) => value !== 0);
        lift();
        for (const [action] of held) waiting.push(ms, action, 0);
      }),
    );
  return {
    isLive: true,
    stick: at,
    read: waiting.read,
    fresh() {
      lift();
      waiting.clear();
    },
    stop() {
      for (const end of ends) end();
    },
  };
}
