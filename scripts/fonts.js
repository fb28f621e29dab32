// The fonts of the figures: of each the letters of Latin, Greek and Cyrillic, marks, arrows, signs of mathematics and shapes; a twelfth of the whole.
import { mkdirSync, readFileSync, writeFileSync, cpSync } from 'node:fs';
import { createRequire } from 'node:module';
import subsetFont from 'subset-font';
import { tools } from './places.js';

const ranges = [[0x20, 0x24f], [0x2b0, 0x36f], [0x370, 0x52f], [0x1e00, 0x1fff], [0x2000, 0x22ff], [0x2500, 0x27bf]]; // prettier-ignore
const wanted = ranges
  .flatMap(([from, to]) => Array.from({ length: to - from + 1 }, (_, i) => String.fromCodePoint(from + i)))
  .join('');
const require = createRequire(import.meta.url);
const folder = `${tools}dist/fonts/`;
mkdirSync(folder, { recursive: true });
for (const name of ['DejaVuSans.ttf', 'DejaVuSans-Bold.ttf']) {
  const whole = readFileSync(require.resolve(`dejavu-fonts-ttf/ttf/${name}`));
  writeFileSync(folder + name, await subsetFont(whole, wanted, { targetFormat: 'sfnt' }));
}
cpSync(require.resolve('dejavu-fonts-ttf/LICENSE'), `${folder}LICENSE`);
