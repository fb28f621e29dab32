import { JUMP } from '../input/intents.js';
import { type Motion, launchFor } from '../tuning/motion.js';
import { ability } from './ability.js';

/** One press, one jump: from the ground, a moment after leaving it, or in the air. */
export const jump = /* @__PURE__ */ ability('jump', {
  own: (motion) => motion,
  pose: [],
  act(c, m) {
    if (c.waiting(JUMP) < 0) return;
    const { source } = c;
    if (source !== 'ground' && source !== 'coyote' && source !== 'air') return;
    // Endless ones wait for their distance from the jump before, however short the buffer is.
    const spaced = source === 'air' && m.airEndless && c.airSpent > 0 && m.airSpacing > m.buffer;
    if (!(spaced ? c.take(JUMP, m.airSpacing) : c.take(JUMP))) return;
    c.launch(source === 'air' ? airSpeed(m, c.airSpent) : groundSpeed(m, c.groundSpeed, c.jumpShare), source);
  },
});

/** Launch speed from the ground: with a run-up, speed becomes height; some surfaces scale it. */
function groundSpeed(m: Motion, speed: number, jumpShare: number): number {
  if (m.runUp === 0 || m.ground.speed === 0) return jumpShare === 1 ? m.launch : launchFor(m, m.jumpHeight * jumpShare);
  const share = speed / m.ground.speed;
  return launchFor(m, (m.jumpHeight + m.runUp * (share < 1 ? share : 1)) * jumpShare);
}

/** Launch speed of the next air jump; endless ones repeat the last height. */
function airSpeed({ airLaunch }: Motion, spent: number): number {
  const next = spent < 0 ? 0 : spent;
  return airLaunch[next < airLaunch.length ? next : airLaunch.length - 1]!;
}
