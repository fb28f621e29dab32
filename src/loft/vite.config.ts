import react from '@vitejs/plugin-react';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));

export default defineConfig({
  root: here('.'),
  base: './',
  plugins: [react()],
  worker: { format: 'es' },
  build: {
    outDir: here('../../packages/apperin-tools/dist/loft'),
    emptyOutDir: true,
    target: 'es2022',
    modulePreload: false,
    chunkSizeWarningLimit: 2000,
    // What others have written is in it, with their licences.
    license: { fileName: 'licences.md' },
    rolldownOptions: {
      input: { index: here('index.html'), apperin: here('apperin.ts') },
      output: {
        entryFileNames: ({ name }) => (name === 'apperin' ? 'apperin.js' : 'assets/[name]-[hash].js'),
      },
      preserveEntrySignatures: 'allow-extension',
    },
  },
});
