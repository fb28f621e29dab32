// Builds the site of the docs into out/site: npm run docs. With --serve it is served then.
import { execFileSync, spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { LinkChecker } from 'linkinator';
import { build } from 'vite';
import { here } from './places.js';

const site = here('out/site/');
const step = (what) => console.log(`${what} …`);
const node = (...words) => {
  const { status, stdout, stderr } = spawnSync(process.execPath, words, { cwd: here(''), encoding: 'utf8' });
  // A page that throws while it is rendered is only said.
  if (status !== 0 || /^\w*Error: /m.test(stdout + stderr)) {
    console.error(stdout + stderr);
    process.exit(status || 1);
  }
  return { stdout, stderr };
};

if (!process.argv.includes('--built')) {
  step('The packages');
  execFileSync('npm', ['run', '--silent', 'build'], { cwd: here(''), stdio: ['ignore', 'ignore', 'inherit'] });
}
step('What the entries export');
const { stderr: warned } = node('node_modules/typedoc/bin/typedoc', '--logLevel', 'Warn');
// (What hangs on a function's result has the function's own words.)
const bare = warned
  .split('\n')
  .filter((line) => line.includes('[warning]') && !/__type|^Found|Found \d+ errors/.test(line));
if (bare.length > 0) {
  console.error(bare.join('\n'));
  process.exit(1);
}
// Modules are called by what is imported.
const entries = { core: 'apperin', browser: 'apperin/browser', files: 'apperin/files', 'files/text': 'apperin/text', lab: 'apperin/lab', vite: 'apperin/vite', figures: 'apperin-tools/figures' }; // prettier-ignore
for (const [name, entry] of Object.entries(entries)) {
  const file = here(`docs/reference/api/${name}.md`);
  writeFileSync(file, readFileSync(file, 'utf8').replace(/^# .*$/m, `# ${entry}`));
}
step('The pages');
rmSync(site, { recursive: true, force: true });
node('node_modules/vitepress/bin/vitepress.js', 'build', 'docs');

step('The examples');
for (const name of readdirSync(here('examples'))) {
  const folder = here(`examples/${name}/`);
  const outDir = `${site}examples/${name}`;
  const configFile = `${folder}vite.config.ts`;
  if (existsSync(configFile)) await build({ configFile, logLevel: 'silent', build: { outDir, emptyOutDir: true } });
  else {
    mkdirSync(outDir, { recursive: true });
    writeFileSync(`${outDir}/index.html`, sourcesPage(name, folder));
  }
  for (const file of readdirSync(folder))
    if (/\.(ts|yaml|svg|md|csv)$/.test(file)) cpSync(folder + file, `${outDir}/${file}`);
}
for (const name of ['data', 'schema']) cpSync(here(name), site + name, { recursive: true });

/** A page of what is in a folder that has none of its own. */
function sourcesPage(name, folder) {
  const escaped = (text) => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;');
  const files = readdirSync(folder).filter((file) => /\.(ts|yaml|csv)$/.test(file));
  const parts = files.map(
    (file) => `<h2>${file}</h2>\n<pre>${escaped(readFileSync(folder + file, 'utf8'))}</pre>`,
  );
  return `<!doctype html>\n<html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${name}</title>\n<style>body { margin: 2rem; font: 16px/1.5 sans-serif; color-scheme: light dark } pre { overflow: auto }</style>\n<h1>${name}</h1>\n${parts.join('\n')}\n</html>\n`;
} // prettier-ignore

step('Every link');
const { links } = await new LinkChecker().check({
  path: site,
  recurse: true,
  checkFragments: true,
  // What lies elsewhere is not asked for: the site is built without a network.
  linksToSkip: [/^https?:\/\/(?!localhost)/],
});
const broken = links.filter(({ state }) => state === 'BROKEN').map(({ url, parent }) => `${parent}: ${url}`);
if (broken.length > 0) {
  console.error(`links that lead nowhere:\n${[...new Set(broken)].join('\n')}`);
  process.exit(1);
}
console.log(`${links.length} links, none broken: out/site`);
if (process.argv.includes('--serve'))
  spawnSync(process.execPath, ['node_modules/vitepress/bin/vitepress.js', 'serve', 'docs'], {
    cwd: here(''),
    stdio: 'inherit',
  });
