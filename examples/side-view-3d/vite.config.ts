import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';
import { alias } from '../built.js';

export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  base: './',
  build: { modulePreload: false, chunkSizeWarningLimit: 1000 },
  resolve: { alias },
});
