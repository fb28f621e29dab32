import type { Character, Driver } from '../stage/character.js';
import { type Action, actionCount, actionName, actionNumber } from './actions.js';

/** What a bot wants held from now on: 0 or `false` for let go, up to 1 or `true` for held, −1 to 1 for `move`. What it does not name is let go. */
export type Wants = Readonly<Partial<Record<Action | (string & {}), number | boolean>>>;

/**
 * A driver that decides anew at the start of every tick. It keeps nothing of its own: what it decides follows from what it sees, so it may
 * take over at any tick, and a stage that has gone back in time plays on as it did.
 * @param decide is given the character, and whatever the game lets it see besides
 * @example
 * ```ts
 * hero.drive(bot((who) => ({ right: who.x < 10, jump: who.slope > 0 })));
 * ```
 */
export function bot(decide: (who: Character) => Wants): Driver {
  return {
    read(into, who) {
      const wants = decide(who);
      for (const name of Object.keys(wants)) actionNumber(name);
      for (let action = 0; action < actionCount(); action++) {
        const name = actionName(action);
        const value = Number(wants[name] ?? 0);
        const least = name === 'move' ? -1 : 0;
        if (!(value >= least && value <= 1))
          throw new RangeError(`a bot wants ${name} to be ${value}; it must be ${least} to 1`);
        if (value !== who.held(name)) into.push(into.from, action, value);
      }
    },
  };
}
