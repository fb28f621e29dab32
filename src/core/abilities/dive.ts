import { DOWN } from '../input/intents.js';
import { ability } from './ability.js';

/** A fresh press of down in the air: coming down, a stronger gravity and another terminal speed while it is held. */
export const dive = /* @__PURE__ */ ability('dive', {
  own: ({ full, gravity }) => full.dive && { gravity: gravity * full.dive.gravity, fallSpeed: full.dive.fallSpeed },
  slots: ['on'],
  pose: 'dive',
  act(c, own, s) {
    if (c.support !== '' || !c.held(DOWN)) s.on = 0;
    else if (c.waiting(DOWN) >= c.airborneSince && c.take(DOWN, 0)) s.on = 1;
    if (s.on === 0 || c.vy > 0) return;
    c.show();
    c.fall(own.gravity, own.fallSpeed);
  },
});
