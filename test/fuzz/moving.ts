/** Ten million ticks among random movers: `npm run fuzz:moving`, or fewer: `npm run fuzz:moving -- 500000 7` (ticks, seed). */
import * as core from 'apperin';
import { playMoving, rareAmong } from '../support/moving.js';
import { randomizer } from '../support/random.js';

const [ticks = '10000000', seed = '1'] = process.argv.slice(2);
const found = playMoving(core, randomizer(Number(seed)), Number(ticks));
const list = (counts: Record<string, number>): string =>
  Object.entries(counts)
    .sort(([, a], [, b]) => b - a)
    .map(([name, count]) => `${name} ${count}`)
    .join(', ');
console.log(
  `${found.ticks} ticks in ${found.runs} halls with ${found.movers} movers, seed ${seed}; deepest ${found.deepest.toFixed(4)} of the tolerance`,
);
console.log(`touches: ${list(found.touches)}`);
console.log(`events:  ${list(found.events)}`);
const wrong = [...found.broken, ...rareAmong(found).map((name) => `${name} is rare`)];
for (const line of wrong) console.log(`WRONG: ${line}`);
process.exitCode = wrong.length > 0 ? 1 : 0;
