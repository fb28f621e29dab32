/** Ten million ticks among random movers: `npm run fuzz:moving`, or fewer: `npm run fuzz:moving -- 500000 7` (ticks, first hall). */
import * as core from 'apperin';
import { report } from '../support/fuzz-report.js';
import { playMoving, rareAmong } from '../support/moving.js';

const [ticks = '10000000', first = '1'] = process.argv.slice(2);
const found = playMoving(core, Number(first), Number(ticks));
report(
  `${found.ticks} ticks in ${found.runs} halls with ${found.movers} movers, from hall ${first} on; deepest ${found.deepest.toFixed(4)} of the tolerance`,
  { touches: found.touches, events: found.events },
  [...found.broken, ...rareAmong(found).map((name) => `${name} is rare`)],
);
