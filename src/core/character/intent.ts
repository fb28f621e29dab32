import { JUMP, LEFT, MOVE, RIGHT } from '../input/intents.js';
import { NOW, OFFSET, type Body } from './body.js';
import { FIRST, HELD_ACTIONS, PRESS, PRESSED, WISH } from './state.js';

/** Takes every intent whose moment has come. A press of jump is latched until it is used or too old. */
export function takeIntents(body: Body): void {
  const { s, intents, clock } = body;
  while (body.nextIntent < intents.count && intents.time[body.nextIntent]! <= clock[OFFSET]!) {
    const action = intents.action[body.nextIntent]!;
    const value = intents.value[body.nextIntent]!;
    body.nextIntent++;
    const before = s[HELD_ACTIONS + action]!;
    s[HELD_ACTIONS + action] = value;
    if (action === JUMP) {
      if (before !== 0 || value <= 0) continue;
      s[PRESS] = 1;
      s[PRESSED] = clock[NOW]!;
    } else if (action === LEFT || action === RIGHT) {
      const other = action === LEFT ? RIGHT : LEFT;
      if (value > 0 && before === 0 && s[HELD_ACTIONS + other]! > 0) s[FIRST] = action === LEFT ? 1 : -1;
      updateWish(body);
    } else if (action === MOVE) updateWish(body);
  }
}

/** The way the keys ask for, both directions settled by the character's rule, at most 1 long. */
function updateWish({ s, opposed }: Body): void {
  const left = s[HELD_ACTIONS + LEFT]!;
  const right = s[HELD_ACTIONS + RIGHT]!;
  let way = right - left;
  if (left > 0 && right > 0) way = opposed === 'still' ? 0 : opposed === 'first' ? s[FIRST]! : -s[FIRST]!;
  way += s[HELD_ACTIONS + MOVE]!;
  s[WISH] = way > 1 ? 1 : way < -1 ? -1 : way + 0;
}
