import { ability } from 'apperin';

/** Straight ahead, without gravity, then a rest. */
export const dash = ability('dash', {
  own: { speed: { value: 17, unit: 'speed' }, lasts: { value: 0.14, unit: 'time' }, rest: { value: 0.6, unit: 'time' } }, // prettier-ignore
  timers: ['active', 'wait'],
  slots: ['way'],
  actions: ['dash'],
  events: ['dashOn'],
  after: 'ledge',
  act(c, own, s) {
    if (s.wait === 0 && c.take('dash')) {
      s.active = own.lasts;
      s.wait = own.lasts + own.rest;
      s.way = c.facing;
      c.tell('dashOn');
    }
    if (s.active === 0) return;
    c.claim();
    c.gravity = 0;
    c.vx = s.way * own.speed;
    c.vy = 0;
  },
  met(_c, _own, s, { side }) {
    if (side === (s.way > 0 ? 'right' : 'left')) s.active = 0;
    return false;
  },
});

/** Up and down a ladder, which is a zone: up takes hold of it, jump lets go. */
export const climb = ability('climb', {
  own: { speed: { value: 4.5, unit: 'speed' } },
  slots: ['holds'],
  after: 'drop',
  pose: ['ladder'],
  act(c, own, s) {
    const way = (c.held('up') ? 1 : 0) - (c.held('down') ? 1 : 0);
    if (!c.inTag('ladder') || (c.support === 'ground' && way <= 0)) s.holds = 0;
    else if (way !== 0) s.holds = 1;
    if (s.holds === 0) return;
    if (c.take('jump')) {
      s.holds = 0;
      c.launch(c.speedFor(1.5), 'hop');
      return;
    }
    c.claim();
    c.leave();
    c.gravity = 0;
    c.vy = way * own.speed;
    c.across(c.wish * 2, 60);
  },
});

/** In water a press of jump is a stroke, and sinking is slow. */
export const swim = ability('swim', {
  own: { stroke: { value: 7, unit: 'speed' }, sinks: { value: 2.5, unit: 'speed' } },
  events: ['stroke'],
  after: 'climb',
  pose: ['swim'],
  act(c, own) {
    if (!c.inTag('water') || c.support !== '') return;
    if (c.take('jump')) {
      c.vy = own.stroke;
      c.tell('stroke');
    }
    c.show('swim');
    c.fall(c.falling, own.sinks);
  },
});

/** A pebble now and then: the game throws it where it is told so. */
export const sling = ability('sling', {
  own: { rest: { value: 0.3, unit: 'time' } },
  timers: ['wait'],
  actions: ['sling'],
  events: ['slung'],
  act(c, own, s) {
    if (s.wait > 0 || !c.take('sling')) return;
    s.wait = own.rest;
    c.tell('slung');
  },
});
