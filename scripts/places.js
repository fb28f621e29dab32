// Where the build puts things: two packages out of one `src`; in `dist` the layers of both are found side by side.
import { cpSync, mkdirSync, readFileSync, readdirSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';

export const here = (path) => fileURLToPath(new URL(`../${path}`, import.meta.url));
export const library = here('packages/apperin/');
export const tools = here('packages/apperin-tools/');

/** Empties what an earlier build has left. */
export function empty() {
  for (const one of [library, tools])
    for (const name of ['dist', 'schema', 'docs', 'data', 'CHANGELOG.md', 'LICENSE'])
      rmSync(one + name, { recursive: true, force: true });
  const dist = here('dist/');
  rmSync(dist, { recursive: true, force: true });
  mkdirSync(dist);
  for (const layer of ['core', 'lab', 'files', 'browser', 'disk', 'vite'])
    symlinkSync(`${library}dist/${layer}`, dist + layer, 'junction');
  for (const layer of ['figures', 'cli', 'loft', 'fonts'])
    symlinkSync(`${tools}dist/${layer}`, dist + layer, 'junction');
}

/** What is shipped as it stands: of the pictures only those that a page of the docs shows. */
export function copy() {
  for (const one of [library, tools]) for (const name of ['CHANGELOG.md', 'LICENSE']) cpSync(here(name), one + name);
  cpSync(here('schema'), `${library}schema`, { recursive: true });
  cpSync(here('data'), `${tools}data`, { recursive: true });
  // (What is made of the sources is on the site alone, and so is its front.)
  const pages = readdirSync(here('docs'), { recursive: true }).filter(
    (name) => name.endsWith('.md') && !/^(reference\/api|\.vitepress)\/|^home\.md$/.test(name),
  );
  const shown = pages.flatMap(
    (name) => readFileSync(here(`docs/${name}`), 'utf8').match(/(?:screenshots|drawn)\/[a-z0-9-]+\.(?:png|svg)/g) ?? [],
  );
  for (const name of new Set(shown)) cpSync(here(`docs/${name}`), `${library}docs/${name}`);
  for (const name of pages) {
    // What lies only in a checkout is named, and not linked.
    const text = readFileSync(here(`docs/${name}`), 'utf8').replace(
      /\[([^\]]+)\]\((?:\.\.\/)+(?:examples|data)\/[^)]*\)/g,
      '$1',
    );
    mkdirSync(dirname(`${library}docs/${name}`), { recursive: true });
    writeFileSync(`${library}docs/${name}`, text);
  }
}
