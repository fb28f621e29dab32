import { fileURLToPath } from 'node:url';
import { apperin } from 'apperin/vite';
import { defineConfig } from 'vite';

export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  base: './',
  // LOFT=http://127.0.0.1:…/…/ connects to a running Loft.
  plugins: [apperin(process.env.LOFT ? { loft: process.env.LOFT } : {})],
  build: { modulePreload: false, target: 'es2022', chunkSizeWarningLimit: 1000 },
});
