// Packs both packages into out/release, each with its list of what is in it (CycloneDX): npm run release. The same checkout gives the same bytes.
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { here, tools } from './places.js';

const out = here('out/release/');
const read = (path) => readFileSync(here(path), 'utf8');
const { version } = JSON.parse(read('packages/apperin/package.json'));

// What is released is what the changelog speaks of.
const [, newest] = /^## (\S+)/m.exec(read('CHANGELOG.md')) ?? [];
if (newest !== version) {
  console.error(`CHANGELOG.md begins with ${newest}; the packages are ${version}`);
  process.exit(1);
}

if (!process.argv.includes('--built'))
  execFileSync('npm', ['run', '--silent', 'build'], { cwd: here(''), stdio: ['ignore', 'ignore', 'inherit'] });
rmSync(out, { recursive: true, force: true });
mkdirSync(out, { recursive: true });
execFileSync('npm', ['pack', '--workspaces', '--ignore-scripts', '--silent', '--pack-destination', out], {
  cwd: here(''),
  stdio: ['ignore', 'ignore', 'inherit'],
});

/** What a package brings, as CycloneDX: what it depends on, and what is within it. */
function listOf(name, omitted) {
  const words = ['--workspace', name, '--no-include-workspace-root', '--output-reproducible', '--output-format', 'JSON'];
  const script = here('node_modules/@cyclonedx/cyclonedx-npm/bin/cyclonedx-npm-cli.js');
  const options = { cwd: here(''), encoding: 'utf8', maxBuffer: 1e8, stdio: ['ignore', 'pipe', 'ignore'] };
  return JSON.parse(execFileSync(process.execPath, [script, ...omitted.flatMap((kind) => ['--omit', kind]), ...words], options));
} // prettier-ignore

const nameOf = ({ group, name }) => (group ? `${group}/${name}` : name);
for (const name of ['apperin', 'apperin-tools']) {
  const list = listOf(name, ['dev', 'peer', 'optional']);
  const own = list.components.find((one) => nameOf(one) === name);
  list.components = list.components.filter((one) => one !== own);
  list.metadata.component = own;
  if (name === 'apperin-tools') {
    // The page of the Loft has more within it: what its licences name.
    const within = [...readFileSync(`${tools}dist/loft/licences.md`, 'utf8').matchAll(/^## (\S+) - (\S+) /gm)];
    const known = new Set(list.components.map((one) => `${nameOf(one)}@${one.version}`));
    for (const [, of, at] of within)
      if (!known.has(`${of}@${at}`)) {
        const [group, short] = of.startsWith('@') ? of.split('/') : [undefined, of];
        list.components.push({ type: 'library', name: short, ...(group ? { group } : {}), version: at, purl: `pkg:npm/${of.replace('@', '%40')}@${at}`, scope: 'required' });
      }
    list.components.sort((one, other) => (nameOf(one) < nameOf(other) ? -1 : 1));
  }
  writeFileSync(`${out}${name}-${version}.cdx.json`, `${JSON.stringify(list, null, 2)}\n`);
} // prettier-ignore

const sums = readdirSync(out).sort().map((name) => {
  const bytes = readFileSync(out + name);
  console.log(`${name}  ${(bytes.length / 1e6).toFixed(2)} MB`);
  return `${createHash('sha256').update(bytes).digest('hex')}  ${name}\n`;
}); // prettier-ignore
writeFileSync(`${out}SHA256SUMS`, sums.join(''));
console.log('out/release');
