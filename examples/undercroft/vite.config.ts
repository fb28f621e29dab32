import { fileURLToPath } from 'node:url';
import { apperin } from 'apperin/vite';
import { defineConfig } from 'vite';

export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  base: './',
  plugins: [apperin({ abilities: './abilities.ts' })],
  build: { modulePreload: false, target: 'es2022' },
});
