import { ability, type Tuning } from 'apperin';

export const CRAB: Tuning = { body: { width: 0.9, height: 0.6 }, run: { speed: 1.6 } };

/** To and fro about where it began, and back from walls. */
export const patrol = ability('patrol', {
  own: { reach: 3 },
  slots: ['home', 'way'],
  places: ['home', 'way'],
  act(c, own, s) {
    if (s.way === 0) {
      s.home = c.x;
      s.way = c.facing;
    } else if ((c.x - s.home) * s.way >= own.reach - 1e-6) s.way = -s.way;
    c.ask = s.way;
  },
  watch: (c, own, s) => c.cutAtX(s.home + s.way * own.reach),
  met(_c, _own, s, { side }) {
    if (side === (s.way > 0 ? 'right' : 'left')) s.way = -s.way;
    return false;
  },
});
