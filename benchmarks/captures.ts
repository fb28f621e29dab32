/**
 * How sure a fit is, and how often it is right: `npm run captures -- [SET…] [--count 100]`. Each set is so many captures by a seed each: ten full and ten short jumps, thirty
 * stops and thirty turns, half a pixel of noise, sixteen pixels a unit. Half-widths are medians, percent of the value, and beside them stands how often the truth lies
 * within.
 */
import { parseArgs } from 'node:util';
import type { InputRow, Tuning } from 'apperin';
import { fit, type Fitted } from 'apperin/lab';
import { noisy, randomOf, record, seen, session, type Captured } from '../test/support/captures.js';
import { truthOf, wrongOf } from '../test/support/fitting.js';
import type { Random } from '../test/support/random.js';

const TAPS = (random: Random): number => random.between(0.02, 0.12);

/** Sets of captures: at which rate, and whether keys were captured too. */
const SETS: Readonly<Record<string, { rate: number; keys: boolean }>> = {
  '60': { rate: 60, keys: false },
  '60-keys': { rate: 60, keys: true },
  '30': { rate: 30, keys: false },
  '30-keys': { rate: 30, keys: true },
};

const { positionals, values } = parseArgs({ allowPositionals: true, options: { count: { type: 'string', default: '100' } } }); // prettier-ignore
const count = Number(values.count);
const named = positionals.length > 0 ? positionals : [...Object.keys(SETS), 'bands'];

/** A capture by its seed. */
function captured(tuning: Tuning, seed: number, rate: number, keys: boolean, what: Parameters<typeof session>[1] = {}): Captured {
  const random = randomOf(seed);
  const rows: InputRow[] = session(random, keys ? { rate, held: TAPS, ...what } : what);
  const film = noisy(record(tuning, rows, rate), random);
  return keys ? film : ({ ...seen(film) } as Captured);
} // prettier-ignore

const median = (list: readonly number[]): number => [...list].sort((one, other) => one - other)[Math.floor(list.length / 2)]!; // prettier-ignore

for (const name of named) {
  if (name === 'bands') {
    bands();
    continue;
  }
  const { rate, keys } = SETS[name]!;
  const widths = new Map<string, number[]>();
  const held = new Map<string, number>();
  const times: number[] = [];
  let together = 0;
  const invented: string[] = [];
  for (let seed = 1; seed <= count; seed++) {
    const film = captured({}, seed, rate, keys);
    const began = performance.now();
    const fitted: Fitted = fit(film);
    times.push((performance.now() - began) / 1000 / ((film.time.at(-1)! - film.time[0]!) / 60));
    const wrong = wrongOf(fitted, {});
    if (wrong.length === 0) together++;
    for (const [key, { value, within }] of Object.entries(fitted.found)) {
      const truth = truthOf({}, key);
      if (truth === undefined) invented.push(`${seed}: ${key}`);
      else {
        widths.set(key, [...(widths.get(key) ?? []), (100 * within) / Math.abs(value)]);
        if (Math.abs(value - truth) <= within) held.set(key, (held.get(key) ?? 0) + 1);
      }
    }
    if (wrong.length > 0) console.log(`  seed ${seed}: ${wrong.join('; ')}`);
  }
  console.log(`\n${name} a second: in ${together} of ${count} captures all keys together; ${median(times).toFixed(1)} s for a minute of capture`);
  for (const [key, list] of widths) console.log(`  ${key.padEnd(22)} ± ${median(list).toFixed(2).padStart(6)} %  within ${held.get(key) ?? 0} of ${list.length}`);
  if (invented.length > 0) console.log(`  keys that the motion has not: ${invented.join(', ')}`);
} // prettier-ignore

/** Bands near the apex: none is made up, and those that there are are found. */
function bands(): void {
  const half = Math.ceil(count / 2);
  let [made, found] = [0, 0];
  for (let seed = 1; seed <= half; seed++) {
    if ('gravity.apex' in fit(captured({ gravity: { apexSpeed: 0 } }, seed, 60, false, { runs: 0 })).found) made++;
    const random = randomOf(10_000 + seed);
    const gravity = { apexSpeed: random.between(1, 4), apex: random.between(0.4, 0.8) };
    if ('gravity.apex' in fit(captured({ gravity }, seed, 60, false, { runs: 0 })).found) found++;
  }
  console.log(`\nbands: made up in ${made} of ${half} captures without, found in ${found} of ${half} with one of 1 to 4 units/s and 0.4 to 0.8`);
} // prettier-ignore
