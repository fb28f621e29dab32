import { DOWN, JUMP } from '../input/intents.js';
import { ability } from './ability.js';

/**
 * Down and jump drop through one-way ground; on solid ground they jump. It comes before every jump, so that the press is
 * taken here first.
 */
export const drop = /* @__PURE__ */ ability('drop', {
  own: ({ full }) => full.drop,
  pose: [],
  events: ['dropThrough'],
  act(c, own) {
    if (c.footing !== 'one-way') return;
    if (own.by === 'down' ? !c.take(DOWN, 0) : !c.held(DOWN) || !c.take(JUMP)) return;
    c.dropThrough();
  },
});
