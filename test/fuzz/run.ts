/** Ten million ticks of random input with everything on: `npm run fuzz`, or fewer: `npm run fuzz -- 500000 7` (ticks, seed). */
import { missing, playEverything } from '../support/everything.js';
import { randomizer } from '../support/random.js';

const [ticks = '10000000', seed = '1'] = process.argv.slice(2);
const found = playEverything(randomizer(Number(seed)), Number(ticks));
const list = (counts: Record<string, number>): string =>
  Object.entries(counts)
    .sort(([, a], [, b]) => b - a)
    .map(([name, count]) => `${name} ${count}`)
    .join(', ');
console.log(`${found.ticks} ticks, seed ${seed}; deepest ${found.deepest.toFixed(4)} of the tolerance`);
console.log(`touches: ${list(found.touches)}`);
console.log(`jumps:   ${list(found.jumps)}`);
console.log(`events:  ${list(found.events)}`);
console.log(`poses:   ${list(found.poses)}`);
const wrong = [...found.broken, ...missing(found).map((name) => `${name} never came up`)];
for (const line of wrong) console.log(`WRONG: ${line}`);
process.exitCode = wrong.length > 0 ? 1 : 0;
