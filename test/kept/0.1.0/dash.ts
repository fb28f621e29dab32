import { ability } from 'apperin';

/**
 * A dash: straight ahead at one speed, without gravity, for a short time; then a rest. Its numbers are set in a tuning under
 * `own: { dash: { … } }`. A jump or a wall ends it.
 */
export const dash = ability('dash', {
  own: {
    /** units/s */
    speed: 18,
    /** s */
    lasts: { value: 0.15, least: 0.02, most: 1 },
    /** From its end to the next one, s. */
    rest: 0.35,
  },
  timers: ['active', 'wait'],
  slots: ['way', 'began'],
  after: 'ledge',
  actions: ['dash'],
  events: ['dashOn', 'dashOff'],
  act(c, own, s) {
    if (s.wait === 0 && c.take('dash')) {
      s.active = own.lasts;
      s.wait = own.lasts + own.rest;
      s.way = c.facing;
      s.began = c.now;
      c.tell('dashOn');
    } else if (s.way !== 0 && (s.active === 0 || c.launched > s.began)) {
      s.active = 0;
      s.way = 0;
      c.tell('dashOff');
    }
    if (s.way === 0) return;
    c.claim({ but: ['jump'] });
    c.gravity = 0;
    c.vx = s.way * own.speed;
    c.vy = 0;
  },
  met(_c, _own, s, { side }) {
    if (side === (s.way > 0 ? 'right' : 'left')) s.active = 0;
    return false;
  },
});
