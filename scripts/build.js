// Builds both packages: the library first, since the tools are built on it as it is published.
import { spawnSync } from 'node:child_process';
import { copy, empty, here } from './places.js';

const node = (...words) => {
  const { status } = spawnSync(process.execPath, words, { cwd: here(''), stdio: 'inherit' });
  if (status !== 0) process.exit(status ?? 1);
};
const types = (project) => node('node_modules/typescript/bin/tsc', '-p', project);

empty();
types('tsconfig.build.json');
node('scripts/bundle.js');
node('scripts/schema.js');
types('tsconfig.tools.json');
node('scripts/fonts.js');
node('scripts/loft.js');
copy();
