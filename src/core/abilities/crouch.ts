import { DOWN } from '../input/intents.js';
import { onBodyGrid } from '../tuning/motion.js';
import { ability } from './ability.js';

/** Down on the ground: a lower hitbox and a slower run. Standing up waits for room. */
export const crouch = /* @__PURE__ */ ability('crouch', {
  own: ({ full }) => full.crouch && { height: onBodyGrid(full.crouch.height), speed: full.crouch.speed },
  slots: ['on'],
  pose: 'crouch',
  act(c, own, s) {
    if (c.support === 'ground' && c.held(DOWN)) {
      if (s.on === 0 && c.resize(own.height)) s.on = 1;
    } else if (s.on === 1 && c.resize(c.motion.height)) s.on = 0;
    if (s.on === 0 || c.support !== 'ground') return;
    c.top = own.speed;
    c.show();
  },
  watch(c, _, s) {
    if (s.on === 1) c.cutWhereRoom(c.motion.height);
  },
});
