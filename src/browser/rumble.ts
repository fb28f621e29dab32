import type { Character, EventName, StageEvent } from '../core/index.js';

/** How a pad shakes: its heavy motor and its light one, 0 to 1, and for how long, s. */
export interface Shake {
  readonly strong?: number;
  readonly weak?: number;
  readonly lasts: number;
}

/** What is felt of an event: always the same, or by what happened; nothing where that gives `undefined`. */
export type Feel = Shake | ((event: Readonly<StageEvent>) => Shake | undefined);

/**
 * Lets a gamepad shake by what happens to a character, where it can: `rumble(gamepad(window), hero, { touchdown: ({ speed }) => ({ strong: speed / 40, lasts: 0.1 }) })`.
 * @param pad a driver of a gamepad, or a pad of the page
 * @returns a function that ends it
 * @throws RangeError where there is no such event
 * @example
 * ```ts
 * const pad = gamepad(window);
 * rumble(pad, hero, { touchdown: { strong: 0.6, lasts: 0.1 } });
 * ```
 */
export function rumble(
  pad: { readonly pad: Gamepad | null } | Pick<Gamepad, 'vibrationActuator'>,
  who: Character,
  feels: Readonly<Partial<Record<EventName, Feel>>>,
): () => void {
  const ends = Object.entries(feels).map(([event, feel]) =>
    who.on(event as EventName, (told: Readonly<StageEvent>) => {
      const shake = typeof feel === 'function' ? feel(told) : feel;
      const actuator = 'pad' in pad ? pad.pad?.vibrationActuator : pad.vibrationActuator;
      // Old browsers have none, or pads that cannot.
      if (shake === undefined || !actuator) return;
      void actuator
        .playEffect('dual-rumble', {
          duration: 1000 * shake.lasts,
          strongMagnitude: share(shake.strong ?? 0),
          weakMagnitude: share(shake.weak ?? 0),
        })
        .catch(() => undefined);
    }),
  );
  return () => {
    for (const end of ends) end();
  };
}

function share(value: number): number {
  return value > 0 ? Math.min(1, value) : 0;
}
