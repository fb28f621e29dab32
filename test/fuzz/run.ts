/** Ten million ticks of random input with everything on: `npm run fuzz`, or fewer: `npm run fuzz -- 500000 7` (ticks, seed). */
import { missing, playEverything } from '../support/everything.js';
import { report } from '../support/fuzz-report.js';
import { randomizer } from '../support/random.js';

const [ticks = '10000000', seed = '1'] = process.argv.slice(2);
const found = playEverything(randomizer(Number(seed)), Number(ticks));
report(
  `${found.ticks} ticks, seed ${seed}; deepest ${found.deepest.toFixed(4)} of the tolerance`,
  { touches: found.touches, jumps: found.jumps, events: found.events, poses: found.poses },
  [...found.broken, ...missing(found).map((name) => `${name} never came up`)],
);
