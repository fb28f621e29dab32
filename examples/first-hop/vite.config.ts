import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

const built = (entry: string) => fileURLToPath(new URL(`../../dist/${entry}/index.js`, import.meta.url));

export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  base: './',
  build: { modulePreload: false },
  // Only here, inside the package itself; a game that installed apperin needs no alias.
  resolve: {
    alias: [
      { find: /^apperin\/browser$/, replacement: built('browser') },
      { find: /^apperin$/, replacement: built('core') },
    ],
  },
});
