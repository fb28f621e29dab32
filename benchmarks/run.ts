/**
 * Prints how long things take, as ratios measured in one run against a stated yardstick.
 * Run by `npm run timings`; absolute numbers are for orientation only.
 */
import { cases, timed } from './ticks.js';

const TICKS = 400_000;
const [bare, ...ticks] = cases();
const yard = timed(bare!, TICKS);
console.log(`${bare!.name}: ${(TICKS / yard / 1e6).toFixed(1)} million ticks a second (the yardstick)`);
for (const one of ticks) {
  const time = timed(one, TICKS);
  console.log(
    `${one.name}: ${(time / yard).toFixed(2)} times the yardstick, ${(TICKS / time / 1e6).toFixed(2)} million ticks a second`,
  );
}
