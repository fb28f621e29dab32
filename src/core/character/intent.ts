import { JUMP, LEFT, RIGHT } from '../input/intents.js';
import { OFFSET, type Body } from './body.js';
import { FIRST, HELD_ACTIONS, PRESS, PRESSED } from './state.js';

/** Takes every intent whose moment has come. A press of jump is latched until it is used or too old. */
export function takeIntents(body: Body): void {
  const { s, intents, clock } = body;
  for (; body.nextIntent < intents.count; body.nextIntent++) {
    const i = body.nextIntent;
    if (intents.time[i]! > clock[OFFSET]!) return;
    const action = intents.action[i]!;
    const before = s[HELD_ACTIONS + action]!;
    const value = intents.value[i]!;
    s[HELD_ACTIONS + action] = value;
    if (action === JUMP && before === 0 && value > 0) {
      s[PRESS] = 1;
      s[PRESSED] = body.now;
    } else if (action === LEFT || action === RIGHT) {
      const other = action === LEFT ? RIGHT : LEFT;
      if (value > 0 && before === 0 && s[HELD_ACTIONS + other]! > 0) s[FIRST] = action === LEFT ? 1 : -1;
    }
  }
}
