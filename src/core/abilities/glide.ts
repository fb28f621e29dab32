import { GLIDE } from '../input/intents.js';
import type { Glide } from '../tuning/tuning.js';
import { ability } from './ability.js';
import type { Control } from './control.js';

/** Hold to fall slowly, from whatever speed, for as long as the budget lasts. */
export const glide = /* @__PURE__ */ ability('glide', {
  own: ({ full }) => full.glide,
  timers: ['left'],
  slots: ['on', 'spent', 'rate', 'budget'],
  measures: { spent: 'time', rate: 'acceleration', budget: 'time' },
  pose: 'glide',
  events: ['glideOn', 'glideOff'],
  act(c, own, s) {
    // A press that made a jump is not one to glide with, where both are on one key.
    const may = c.support === '' && c.vy <= 0 && c.held(GLIDE) && c.pressedAt(GLIDE) !== c.usedPress;
    follow(own, s);
    const left = s.on === 0 ? s.spent < own.budget : s.left > 0;
    if (!may || !left) {
      end(c, own, s);
      if (c.support === 'ground') s.spent = 0;
      return;
    }
    if (s.on === 0) {
      s.on = 1;
      s.budget = own.budget;
      s.left = own.budget - s.spent;
      // Fixed when it starts, so that it takes `settle` seconds from any speed.
      if (own.settle > 0) s.rate = Math.abs(c.vy + own.fallSpeed) / own.settle;
      else c.vy = -own.fallSpeed;
      c.tell('glideOn');
    }
    c.freshFall();
    const lasts = own.budget - s.spent;
    c.show('glide', c.now + s.left - lasts, lasts);
    c.vertical(-own.fallSpeed, s.rate);
  },
  stopped: end,
  takesOff: end,
});

/** Another budget in mid-glide is that much more or less of what is left. */
function follow(own: Glide, s: Record<'left' | 'on' | 'budget', number>): void {
  if (s.on === 0 || s.budget === own.budget) return;
  s.left += own.budget - s.budget;
  s.budget = own.budget;
}

/** What is left of the budget is kept. */
function end(c: Control, own: Glide, s: Record<'left' | 'on' | 'spent' | 'budget', number>): void {
  if (s.on === 0) return;
  follow(own, s);
  s.on = 0;
  s.spent = own.budget - s.left;
  s.left = 0;
  c.tell('glideOff');
}
