import { JUMP } from '../input/intents.js';
import type { Charge } from '../tuning/tuning.js';
import { ability } from './ability.js';

const BUT_RUN = { but: ['run'] } as const;

/** Hold to charge, let go to jump: the height grows evenly with the time held, up to its limit. */
export const charge = /* @__PURE__ */ ability('charge', {
  own: ({ full }) => full.charge,
  slots: ['on', 'since', 'press'],
  moments: ['since', 'press'],
  pose: 'charge',
  act(c, own, s) {
    if (s.on === 0) {
      const { source } = c;
      if ((source !== 'ground' && source !== 'coyote') || !c.take(JUMP)) return;
      s.on = 1;
      s.since = c.now;
      s.press = c.taken;
    }
    // Sent off by a spring or a blow, or with the press taken back: what was wound up is lost.
    if ((c.support !== 'ground' && c.source !== 'coyote') || c.pressedAt(JUMP) < 0) {
      s.on = 0;
      return;
    }
    // Let go, or over an edge: off with what is there.
    if (!c.held(JUMP) || c.support !== 'ground') {
      s.on = 0;
      c.taken = s.press;
      c.launch(c.speedFor(chargedHeight(own, c.now - s.since) * c.jumpShare), 'charge', true);
      return;
    }
    c.show('charge', s.since, own.fullIn);
    c.claim(BUT_RUN);
    if (!own.run) c.ask = 0;
  },
});

/**
 * How high a charge held for so long jumps, units.
 * @example
 * ```ts
 * chargedHeight({ lowest: 1.25, highest: 4.5, fullIn: 0.7, run: true }, 0.35) // 2.875
 * ```
 */
export function chargedHeight({ lowest, highest, fullIn }: Charge, seconds: number): number {
  return seconds < fullIn ? lowest + (highest - lowest) * (seconds / fullIn) : highest;
}
