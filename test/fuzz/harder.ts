/** Twenty million ticks over random harder ground: `npm run fuzz:harder`, or fewer: `npm run fuzz:harder -- 500000 7` (ticks, seed). */
import * as core from 'apperin';
import { report } from '../support/fuzz-report.js';
import { playHarder, rareIn } from '../support/harder.js';
import { randomizer } from '../support/random.js';

const [ticks = '20000000', seed = '1'] = process.argv.slice(2);
const found = playHarder(core, randomizer(Number(seed)), Number(ticks));
report(
  `${found.ticks} ticks in ${found.runs} levels, seed ${seed}; deepest ${found.deepest.toFixed(4)} of the tolerance`,
  { touches: found.touches, events: found.events },
  [...found.broken, ...rareIn(found).map((name) => `${name} is rare`)],
);
