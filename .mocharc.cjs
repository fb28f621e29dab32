const { readdirSync } = require('node:fs');
const { availableParallelism } = require('node:os');

// The longest come first, so that none is left over at the end.
const FIRST = ['pages/loft', 'docs/', 'lab/', 'pages/', 'cli/', 'files/attacks', 'core/harder', 'core/movers', ''];
// Of these, nothing is quick.
const SLOW =
  /^(docs\/(docs|site|examples)|packed\/(release|upgrade|five-minutes)|pages\/(tide-mill|undercroft|minutes|dash|first-hop|report|figures|vite)|cli\/(threads|search-queue)|core\/(engines|coast|memory|kept|moving-images)|lint\/layers|lab\/envelope)\./;
const isQuick = process.env.APPERIN_TESTS === 'quick';
const files = readdirSync('test', { recursive: true, encoding: 'utf8' })
  .filter((name) => name.endsWith('.test.ts'))
  .map((name) => name.replaceAll('\\', '/'))
  .filter((name) => !(isQuick && SLOW.test(name)));
const turn = (name) => FIRST.findIndex((start) => name.startsWith(start));

// Each file in a process of its own. Files named on the command line are run instead.
module.exports = {
  spec: process.argv.some((word) => word.endsWith('.test.ts'))
    ? []
    : files.sort((a, b) => turn(a) - turn(b)).map((name) => `test/${name}`),
  'node-option': ['import=tsx', 'expose-gc'],
  timeout: 300000,
  parallel: true,
  jobs: Math.max(2, availableParallelism()),
  'forbid-only': true,
};
