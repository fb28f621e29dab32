import { actionNumber, type Driver } from '../core/index.js';
import { Waiting, whenLeft } from './waiting.js';

/** Keys (`KeyboardEvent.code`) by action, those of a game's own abilities included. One key may serve several actions. */
export type KeyBindings = Readonly<Record<string, readonly string[]>>;

/**
 * The usual keys: arrows and letters to go, the space bar to jump.
 * @example
 * ```ts
 * DEFAULT_KEYS.left // ['ArrowLeft', 'KeyA']
 * ```
 */
export const DEFAULT_KEYS: KeyBindings = {
  left: ['ArrowLeft', 'KeyA'],
  right: ['ArrowRight', 'KeyD'],
  up: ['ArrowUp', 'KeyW'],
  down: ['ArrowDown', 'KeyS'],
  jump: ['Space'],
  glide: ['KeyE'],
  walk: ['ShiftLeft', 'ShiftRight'],
};

/** A driver that listens to a keyboard. */
export interface KeyboardDriver extends Driver {
  /** Which keys count. Assigning others lets go of everything that is held. */
  keys: KeyBindings;
  /** Ends listening. */
  stop(): void;
}

/**
 * Plays a character by keyboard. Presses carry the browser's own time stamps, so that they act at their moment inside
 * a tick: tell `tick` when it starts on the page's clock (`requestAnimationFrame`'s, in seconds; a stepper does).
 * Several keys of one action count as one; when the window loses its focus or is hidden, everything is let go. A key that is held when the keyboard
 * comes (back) into play counts once it is pressed anew.
 * @param target where to listen, usually `window`
 * @example
 * ```ts
 * hero.drive(keyboard(window));
 * ```
 */
export function keyboard(target: Window, keys: KeyBindings = DEFAULT_KEYS): KeyboardDriver {
  let bindings = keys;
  let actionsOf = byKey(keys);
  const held = new Set<string>();
  const waiting = new Waiting();
  const isHeld = (action: number): boolean => [...held].some((code) => actionsOf.get(code)!.includes(action));

  const onDown = (event: KeyboardEvent): void => {
    const actions = actionsOf.get(event.code);
    if (actions === undefined || event.ctrlKey || event.altKey || event.metaKey || typing(event.target)) return;
    event.preventDefault();
    if (event.repeat || held.has(event.code)) return;
    for (const action of actions) if (!isHeld(action)) waiting.push(event.timeStamp, action, 1);
    held.add(event.code);
  };
  const onUp = (event: KeyboardEvent): void => {
    const actions = actionsOf.get(event.code);
    if (actions === undefined || !held.delete(event.code)) return;
    for (const action of actions) if (!isHeld(action)) waiting.push(event.timeStamp, action, 0);
  };
  const letGo = (ms: number): void => {
    const actions = new Set([...held].flatMap((code) => actionsOf.get(code)!));
    held.clear();
    for (const action of actions) waiting.push(ms, action, 0);
  };
  target.addEventListener('keydown', onDown);
  target.addEventListener('keyup', onUp);
  const stopLeaving = whenLeft(target, letGo);
  return {
    isLive: true,
    read: waiting.read,
    fresh() {
      held.clear();
      waiting.clear();
    },
    get keys() {
      return bindings;
    },
    set keys(others) {
      letGo(target.performance.now());
      bindings = others;
      actionsOf = byKey(others);
    },
    stop() {
      target.removeEventListener('keydown', onDown);
      target.removeEventListener('keyup', onUp);
      stopLeaving();
    },
  };
}

function byKey(keys: KeyBindings): Map<string, number[]> {
  const actionsOf = new Map<string, number[]>();
  for (const [action, codes] of Object.entries(keys))
    for (const code of codes) actionsOf.set(code, [...(actionsOf.get(code) ?? []), actionNumber(action)]);
  return actionsOf;
}

/** Whether a key press is meant for a field of the page. */
function typing(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
  );
}
