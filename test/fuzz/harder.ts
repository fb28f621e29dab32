/** Twenty million ticks over random harder ground: `npm run fuzz:harder`, or fewer: `npm run fuzz:harder -- 500000 7` (ticks, seed). */
import * as core from 'apperin';
import { playHarder, rareIn } from '../support/harder.js';
import { randomizer } from '../support/random.js';

const [ticks = '20000000', seed = '1'] = process.argv.slice(2);
const found = playHarder(core, randomizer(Number(seed)), Number(ticks));
const list = (counts: Record<string, number>): string =>
  Object.entries(counts)
    .sort(([, a], [, b]) => b - a)
    .map(([name, count]) => `${name} ${count}`)
    .join(', ');
console.log(
  `${found.ticks} ticks in ${found.runs} levels, seed ${seed}; deepest ${found.deepest.toFixed(4)} of the tolerance`,
);
console.log(`touches: ${list(found.touches)}`);
console.log(`events:  ${list(found.events)}`);
const wrong = [...found.broken, ...rareIn(found).map((name) => `${name} is rare`)];
for (const line of wrong) console.log(`WRONG: ${line}`);
process.exitCode = wrong.length > 0 ? 1 : 0;
