/**
 * Prints how long things take and what they allocate, as ratios measured in one run against a stated yardstick.
 * Run by `npm run timings`; absolute numbers are for orientation only.
 */
import { weights } from './weight.js';
import { spawnSync } from 'node:child_process';
import { brotliCompressSync, gzipSync } from 'node:zlib';
import { fileURLToPath } from 'node:url';
import { compileLevel } from 'apperin';
import { build, type Rolldown } from 'vite';
import { inLevel, rooms } from './large-level.js';
import { millFrames } from './mill.js';
import { allocated, asking, still } from './memory.js';
import { readers } from './readers.js';
import { scenes } from './scenes.js';
import { surveys } from './surveys.js';
import { abilityCases, cases, compared } from './ticks.js';

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));
const kilo = (bytes: number): string => `${(bytes / 1000).toFixed(1)} kB`;

const TICKS = 40_000;
console.log('Scenes, at 60 ticks a second');
scenes((line) => console.log(`  ${line}`));

console.log('A tick');
const [bare, ...ticks] = cases();
for (const one of ticks) {
  const { ratio, one: time, other } = compared(one, bare!, TICKS);
  const million = (seconds: number): string => (TICKS / seconds / 1e6).toFixed(2);
  console.log(
    `  ${one.name}: ${ratio.toFixed(2)} times the ${bare!.name} (${million(time)} against ${million(other)} million a second)`,
  );
}

const { all, none } = abilityCases();
console.log(`  every ability on: ${compared(all, none, TICKS).ratio.toFixed(2)} times none`);

console.log('What a tick allocates, once warm');
const rest = allocated(still(), 100_000);
console.log(`  at rest: ${(rest / 100_000).toFixed(3)} bytes`);
const fall = asking();
const bytes = allocated(fall, 100_000);
console.log(
  `  falling, with ${(fall.queries(100_000) / 100_000).toFixed(2)} queries of the index: ${(bytes / 100_000).toFixed(1)} bytes`,
);

console.log('A large level');
const small = inLevel('small', rooms(4, 4));
const large = inLevel('large', rooms(200, 50));
const { ratio } = compared(large, small, 20_000);
console.log(`  a tick among ${large.edges} edges: ${ratio.toFixed(2)} times one among ${small.edges}`);
const tiles = rooms(100, 100);
/** A bare pass over the tiles: how many are solid, and how many sides of them are open. */
const pass = (): number => {
  let open = 0;
  const { rows } = tiles;
  for (let row = 0; row < rows.length; row++)
    for (let column = 0; column < rows[row]!.length; column++) {
      if (rows[row]![column] !== '#') continue;
      for (const [r, c] of [[row - 1, column], [row + 1, column], [row, column - 1], [row, column + 1]] as const)
        if (rows[r]?.[c] !== '#') open++;
    } // prettier-ignore
  return open;
};
const times = Array.from({ length: 5 }, () => {
  const from = performance.now();
  const sides = pass();
  const between = performance.now();
  const edges = compileLevel(tiles).terrain.count;
  return { bare: between - from, compiled: performance.now() - between, sides, edges };
}).sort((one, other) => one.compiled / one.bare - other.compiled / other.bare);
const { bare: passing, compiled, edges } = times[2]!;
console.log(
  `  compiling a million tiles into ${edges} edges: ${(compiled / 1000).toFixed(2)} s, ${(compiled / passing).toFixed(1)} times a bare pass over them`,
);

console.log('A survey');
await surveys(9, (line) => console.log(`  ${line}`));

console.log('Reading what is meant to hold a reader up');
for (const line of readers()) console.log(`  ${line}`);

console.log('Starting');
const start = (args: string[]): number => {
  const times = Array.from({ length: 15 }, () => {
    const begin = performance.now();
    spawnSync(process.execPath, args);
    return performance.now() - begin;
  });
  return times.sort((a, b) => a - b)[7]!;
};
const node = start(['-e', '0']);
console.log(`  apperin --help: ${(start([here('../dist/cli/main.js'), '--help']) / node).toFixed(2)} times bare Node`);

console.log('The script of a game that imports stage, stepper and keyboard');
const built = (await build({
  configFile: here('../examples/first-hop/vite.config.ts'),
  logLevel: 'silent',
  build: { write: false, lib: { entry: here('./game.ts'), formats: ['iife'], name: 'game' }, minify: true },
})) as Rolldown.RolldownOutput[];
const code = built[0]!.output[0].code;
console.log(
  `  ${kilo(code.length)} minified, ${kilo(gzipSync(code, { level: 9 }).length)} with gzip, ${kilo(brotliCompressSync(code).length)} with brotli`,
);

console.log('What the core weighs in a game, with gzip, and by room of its sources (before it is minified)');
for (const line of await weights()) console.log(`  ${line}`);

console.log('The script of the example game, of a frame of 1/60 s');
for (const showing of [false, true]) {
  const { median, worst } = await millFrames(showing);
  const share = (value: number): string => `${(value * 100).toFixed(1)} %`;
  console.log(`  ${showing ? 'with everything shown' : 'plain'}: ${share(median)}, at worst ${share(worst)}`);
}
