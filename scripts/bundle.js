// Makes one module of the core, with its constants written in where they are used: engines look an imported constant up at every use, which adds about half to the
// cost of a tick. The stepper is a module of its own, so that who needs that alone ships that alone. The types stay as they are, a file for each source.
import { readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'vite';

const core = fileURLToPath(new URL('../packages/apperin/dist/core/', import.meta.url));

for (const file of readdirSync(core, { recursive: true, encoding: 'utf8' })) {
  if (/\.js(\.map)?$/.test(file)) rmSync(join(core, file));
}

const source = (file) => fileURLToPath(new URL(`../src/core/${file}`, import.meta.url));

await build({
  configFile: false,
  logLevel: 'error',
  build: {
    target: 'es2022',
    minify: false,
    sourcemap: true,
    outDir: core,
    emptyOutDir: false,
    lib: {
      entry: { index: source('index.ts'), stepper: source('stepper/stepper.ts') },
      formats: ['es'],
      fileName: (_, name) => `${name}.js`,
    },
    rolldownOptions: { external: ['flatbush', 'rbush'], optimization: { inlineConst: { mode: 'all', pass: 2 } } },
  },
});
